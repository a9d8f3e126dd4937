"""Revisions, undo, stale writes, and changes that spread."""

from pathlib import Path

import pytest
from sqlalchemy import text

from dravel.core.model import Preferences
from dravel.store import Stale, Store, Unknown
from tests.conftest import a_camera, a_rig, a_telescope


def renamed(rig, name):
    return rig.model_copy(update={"name": name})


def test_a_saved_change_is_a_revision(store):
    made = store.rigs.create(a_rig(a_telescope(), name="One"))
    saved = store.rigs.save(made.id, renamed(made.rig, "Two"), made.revision, "renamed")
    assert (saved.revision, saved.rig.name, saved.can_undo, saved.can_redo) == (2, "Two", True, False)
    assert [row.note for row in store.rigs.revisions(made.id)] == ["renamed", "made"]
    assert store.rigs.revision(made.id, 1).rig.name == "One"


def test_an_unchanged_document_makes_no_revision(store):
    made = store.rigs.create(a_rig(a_telescope()))
    assert store.rigs.save(made.id, made.rig, made.revision).revision == 1


def test_a_stale_write_is_refused_and_loses_nothing(store):
    made = store.rigs.create(a_rig(name="One"))
    store.rigs.save(made.id, renamed(made.rig, "Theirs"), 1)
    with pytest.raises(Stale) as caught:
        store.rigs.save(made.id, renamed(made.rig, "Mine"), 1)
    assert caught.value.current == 2
    assert store.rigs.get(made.id).rig.name == "Theirs"
    assert len(store.rigs.revisions(made.id)) == 2


def test_undo_and_redo_walk_the_changes_and_survive_reopening(tmp_path: Path):
    path = tmp_path / "a.sqlite"
    store = Store(path)
    rig_id = store.rigs.create(a_rig(name="1")).id
    for name in ("2", "3"):
        head = store.rigs.get(rig_id)
        store.rigs.save(rig_id, renamed(head.rig, name), head.revision)
    store.close()
    store = Store(path)

    def step(move):
        return move(rig_id, store.rigs.get(rig_id).revision).rig.name

    assert [step(store.rigs.undo), step(store.rigs.undo)] == ["2", "1"]
    with pytest.raises(ValueError, match="nothing to undo"):
        step(store.rigs.undo)
    assert [step(store.rigs.redo), step(store.rigs.redo)] == ["2", "3"]
    with pytest.raises(ValueError, match="nothing to redo"):
        step(store.rigs.redo)
    assert [step(store.rigs.undo), step(store.rigs.undo), step(store.rigs.redo)] == ["2", "1", "2"]
    head = store.rigs.get(rig_id)
    changed = store.rigs.save(rig_id, renamed(head.rig, "other"), head.revision)
    assert not changed.can_redo
    assert step(store.rigs.undo) == "2"
    # Nothing was ever dropped: every state is still there by its number.
    names = {store.rigs.revision(rig_id, row.number).rig.name for row in store.rigs.revisions(rig_id)}
    assert names == {"1", "2", "3", "other"}
    store.close()


def test_unknown_ids(store):
    for call in (
        lambda: store.rigs.get("none"),
        lambda: store.rigs.save("none", a_rig(), 1),
        lambda: store.rigs.undo("none", 1),
        lambda: store.parts.get("none"),
        lambda: store.parts.archive("none"),
        lambda: store.sites.replace("none", None.__class__ and _site(), 1),
    ):
        with pytest.raises(Unknown):
            call()


def _site():
    from dravel.core.model import Site

    return Site(name="Ridge", latitude_deg=40.9, longitude_deg=-2.6)


def test_a_changed_part_is_seen_in_every_rig_that_uses_it(store):
    (entry,) = store.parts.add(a_telescope(id="scope"))
    with_it = store.rigs.create(a_rig(entry.body, a_camera(), name="With"))
    without = store.rigs.create(a_rig(a_camera(), name="Without"))
    longer = entry.body.model_copy(update={"focal_length_mm": 470.0})
    assert store.parts.replace("scope", longer, 1).version == 2
    seen = store.rigs.get(with_it.id)
    assert seen.rig.path[0].part.focal_length_mm == 470
    assert (seen.revision, seen.note) == (2, "86 mm triplet was changed")
    assert store.rigs.get(without.id).revision == 1
    assert store.rigs.undo(with_it.id, 2).rig.path[0].part.focal_length_mm == 464
    with pytest.raises(Stale):
        store.parts.replace("scope", longer.model_copy(update={"focal_length_mm": 480.0}), 1)


def test_a_changed_site_is_seen_too(store):
    (entry,) = store.sites.add(_site())
    made = store.rigs.create(a_rig().model_copy(update={"site": entry.body}))
    store.sites.replace(entry.id, entry.body.model_copy(update={"seeing_arcsec": 1.5}), 1)
    assert store.rigs.get(made.id).rig.site.seeing_arcsec == 1.5


def test_what_is_put_away_comes_back(store):
    (entry,) = store.parts.add(a_telescope())
    store.parts.archive(entry.id)
    assert store.parts.all() == []
    store.parts.archive(entry.id, archived=False)
    assert [e.body for e in store.parts.all()] == [entry.body]
    made = store.rigs.create(a_rig())
    store.rigs.archive(made.id)
    assert store.rigs.all() == []
    store.rigs.archive(made.id, archived=False)
    assert len(store.rigs.all()) == 1


def test_taken_ids_are_never_overwritten(store):
    first, second = store.parts.add(a_telescope(id="scope"), a_telescope(id="scope", focal_length_mm=100))
    assert first.id == "scope" and second.id != "scope"
    assert store.parts.get("scope").body.focal_length_mm == 464


def test_preferences(store):
    assert store.preferences() == (Preferences(), 0)
    assert store.save_preferences(Preferences(units="imperial"), 0) == 1
    assert store.preferences()[0].units == "imperial"
    with pytest.raises(Stale):
        store.save_preferences(Preferences(), 0)


def test_the_file_is_set_up_for_safety(store):
    with store.database.read() as session:
        pragma = lambda name: session.execute(text(f"PRAGMA {name}")).scalar()  # noqa: E731
        assert (pragma("journal_mode"), pragma("foreign_keys"), pragma("synchronous")) == ("wal", 1, 2)


def test_a_database_of_a_newer_layout_is_left_alone(tmp_path):
    path = tmp_path / "new.sqlite"
    store = Store(path)
    with store.database.write() as session:
        session.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    store.close()
    before = path.read_bytes()
    with pytest.raises(RuntimeError, match="newer layout"):
        Store(path)
    assert path.read_bytes() == before


def test_the_migrations_make_what_the_tables_say(store):
    from alembic.autogenerate import compare_metadata
    from alembic.runtime.migration import MigrationContext

    from dravel.store.tables import Base

    def ours(_: object, name: str | None, *rest: object) -> bool:
        return not (name or "").startswith("found")  # the index of words and what it is made of

    with store.database._engine.connect() as link:
        context = MigrationContext.configure(link, opts={"include_object": ours})
        assert compare_metadata(context, Base.metadata) == []


def test_a_long_note_is_kept_as_far_as_it_goes(demo_store):
    kept = demo_store.rigs.get("heron")
    changed = kept.rig.model_copy(update={"summary": "other"})
    saved = demo_store.rigs.save("heron", changed, kept.revision, "Lay the guider; " * 40)
    assert len(saved.note) == 200 and saved.note.endswith("…")
