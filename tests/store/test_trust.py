"""Nothing is lost: failed commits, damage, copies, the log written back, repeated saves."""

import sqlite3
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from sqlalchemy import event, text

from dravel.core.model import Preferences, Rig
from dravel.store import Damaged, InUse, Stale, Store, copy_database, hold, put_aside
from tests.conftest import a_camera, a_rig, a_telescope


def test_what_could_not_be_committed_is_never_shown(demo_store: Store):
    """A full disk fails the commit: the next answer is what the file holds, and a second attempt starts from there."""
    before = demo_store.parts.get("drawer-21")
    lighter = before.body.model_copy(update={"mass_g": 111})

    @event.listens_for(demo_store.database._writer, "commit")
    def full(_):
        raise sqlite3.OperationalError("database or disk is full")

    with pytest.raises(sqlite3.OperationalError):
        demo_store.parts.replace("drawer-21", lighter, before.version)
    event.remove(demo_store.database._writer, "commit", full)
    assert demo_store.parts.get("drawer-21").body == before.body
    assert next(part.body for part in demo_store.parts.all() if part.id == "drawer-21") == before.body
    heavier = before.body.model_copy(update={"mass_g": 222})
    assert demo_store.parts.replace("drawer-21", heavier, before.version).body.mass_g == 222
    assert demo_store.parts.get("drawer-21").body.mass_g == 222


def test_everything_in_one_write_is_kept_or_nothing(store: Store):
    with pytest.raises(RuntimeError, match="in the middle"), store.database.write():
        store.parts.add(a_camera())
        store.rigs.create(a_rig(a_telescope()))
        assert len(store.parts.all()) == 1  # what is read inside sees it
        raise RuntimeError("in the middle")
    assert store.parts.all() == [] and store.rigs.all() == [] and store.is_empty()


def test_the_one_file_holds_everything_once_the_log_is_written_back(tmp_path: Path):
    store = Store(tmp_path / "one.sqlite")
    for n in range(20):
        store.rigs.create(Rig(name=f"rig {n}"))
    assert not store.database.at_rest  # just written
    store.database.checkpoint()
    (tmp_path / "alone.sqlite").write_bytes((tmp_path / "one.sqlite").read_bytes())
    assert len(Store(tmp_path / "alone.sqlite").rigs.all()) == 20
    store.close()
    assert not (tmp_path / "one.sqlite-wal").exists()


def test_a_copy_is_consistent_while_it_is_written_to(tmp_path: Path):
    store = Store(tmp_path / "one.sqlite")
    store.rigs.create(Rig(name="in the log only"))
    copy_database(tmp_path / "one.sqlite", tmp_path / "copy.sqlite")
    store.rigs.create(Rig(name="later"))
    assert [record.rig.name for record in Store(tmp_path / "copy.sqlite").rigs.all()] == ["in the log only"]
    with pytest.raises(FileExistsError, match="nothing is written over"):
        store.database.copy(tmp_path / "copy.sqlite")
    assert (tmp_path / "copy.sqlite").stat().st_mode & 0o777 == 0o600
    assert (tmp_path / "one.sqlite").stat().st_mode & 0o777 == 0o600


def test_a_database_is_put_aside_whole_and_only_when_nobody_has_it_open(tmp_path: Path):
    path = tmp_path / "demo.sqlite"
    assert put_aside(path) is None
    store, held = Store(path), hold(path)
    store.rigs.create(Rig(name="kept"))
    with pytest.raises(InUse, match="stop it first"):
        put_aside(path)
    assert [record.rig.name for record in store.rigs.all()] == ["kept"]
    held.close()
    first = put_aside(path)
    assert not path.exists() and [r.rig.name for r in Store(first).rigs.all()] == ["kept"]
    Store(path).rigs.create(Rig(name="another"))
    second = put_aside(path)
    assert second != first and [r.rig.name for r in Store(first).rigs.all()] == ["kept"]


def spoil(store: Store, statement: str) -> None:
    with store.database.write() as session:
        session.execute(text(statement))


def test_damage_is_told_and_in_nobodys_way(demo_store: Store):
    sound = len(demo_store.parts.all()), len(demo_store.rigs.all()), len(demo_store.targets.all())
    spoil(demo_store, "UPDATE entries SET body = substr(body, 1, 40) WHERE id = 'drawer-21'")
    spoil(demo_store, "UPDATE revisions SET body = replace(body, '\"path\":[', '\"path\":[7,') WHERE rig_id = 'heron'")
    spoil(demo_store, "UPDATE entries SET body = 'not json at all' WHERE kind = 'target' AND position = 1")
    assert len(demo_store.parts.all()) == sound[0] - 1
    assert len(demo_store.rigs.all()) == sound[1] - 1
    assert len(demo_store.targets.all()) == sound[2] - 1
    answer = {(entry.kind, entry.id): entry for entry in demo_store.damaged()}
    assert len(answer) == 3
    rig = answer["rig", "heron"]
    assert rig.name == "Heron" and rig.because.startswith("path.0") and "86 mm" in rig.raw and rig.revision == 1
    assert answer["part", "drawer-21"].raw.startswith('{"')
    with pytest.raises(Damaged, match="can be exported"):
        demo_store.rigs.get("heron")
    with pytest.raises(Damaged):
        demo_store.parts.get("drawer-21")
    # A change that reaches all rigs passes by the damaged one, and what is sound goes on.
    wheel = demo_store.parts.get("wheel-7")
    demo_store.parts.replace("wheel-7", wheel.body.model_copy(update={"mass_g": 999}), wheel.version)
    assert any(item.part.mass_g == 999 for item in demo_store.rigs.get("bittern").rig.path)


def test_a_damaged_revision_is_left_by_undo(store: Store):
    made = store.rigs.create(Rig(name="sound"))
    store.rigs.save(made.id, Rig(name="spoilt"), 1)
    spoil(store, "UPDATE revisions SET body = '{' WHERE number = 2")
    assert store.rigs.undo(made.id, 2).rig.name == "sound"
    assert store.damaged() == [] and [record.rig.name for record in store.rigs.all()] == ["sound"]


def test_a_damaged_preferences_is_the_default_one_and_told(store: Store):
    store.save_preferences(Preferences(wind_m_s=7), 0)
    spoil(store, "UPDATE entries SET body = '[]' WHERE kind = 'practice'")
    assert store.preferences() == (Preferences(), 1)
    assert [item.kind for item in store.damaged()] == ["practice"]
    assert store.save_preferences(Preferences(wind_m_s=6), 1) == 2 and store.damaged() == []


def test_a_save_whose_answer_was_lost_may_be_repeated(demo_store: Store):
    part = demo_store.parts.get("drawer-21")
    lighter = part.body.model_copy(update={"mass_g": 111})
    assert demo_store.parts.replace("drawer-21", lighter, 1).version == 2
    assert demo_store.parts.replace("drawer-21", lighter, 1).version == 2
    with pytest.raises(Stale):
        demo_store.parts.replace("drawer-21", part.body.model_copy(update={"mass_g": 5}), 1)
    heron = demo_store.rigs.get("heron")
    renamed = heron.rig.model_copy(update={"name": "Heron two"})
    first = demo_store.rigs.save("heron", renamed, heron.revision)
    again = demo_store.rigs.save("heron", renamed, heron.revision)
    assert again.revision == first.revision and again.merged == ()
    assert (
        demo_store.save_preferences(Preferences(wind_m_s=7), 0)
        == demo_store.save_preferences(Preferences(wind_m_s=7), 0)
        == 1
    )


def test_as_many_read_and_wait_at_once_as_ask(store: Store):
    """Nobody waits for somebody else's link to the file, and is cut for it."""
    many = 40
    together = threading.Barrier(many)

    def read(_: int) -> int:
        with store.database.read() as session:
            result = session.scalar(text("SELECT 1"))
            together.wait(timeout=600)  # all hold theirs
            return int(result or 0)

    with ThreadPoolExecutor(many) as threads:
        assert sum(threads.map(read, range(many))) == many
