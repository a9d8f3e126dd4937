"""Many rigs and targets: copies renewed as text are those renewed as rigs; pages; what is asked of each is asked once."""

import pytest

from dravel.core.model import Preferences, Rig, Target
from dravel.core.model.inventory import parts_of
from dravel.core.overview.readiness import as_other, other_rigs
from dravel.core.train.assembly import with_entry
from dravel.store import Store
from dravel.store.renewal import Renewal
from dravel.store.rigs import _parsed


def changed(body):
    return body.model_copy(update={"name": f'{body.name} "é" \\ anew'})


def unread(_: str) -> Rig:
    raise AssertionError("read although it was not needed")


def test_a_document_renewed_as_text_is_the_rig_renewed(demo_store: Store):
    """Every part, target and site of every demo rig; most of them without reading the rig."""
    quick = 0
    for record in demo_store.rigs.all():
        text = record.rig.model_dump_json()
        held = [*parts_of(record.rig), *(framing.target for framing in record.rig.framings), record.rig.site]
        for body in held:
            if body is None or not body.id:
                continue
            renew = Renewal(body.id, body.model_dump_json(), changed(body))
            assert renew.mention in text
            expected = with_entry(record.rig, body.id, changed(body)).model_dump_json()
            assert renew(text, _parsed) == expected != text, body.name
            try:
                quick += renew(text, unread) == expected
            except AssertionError:
                assert body.kind == "camera"
    assert quick > 60


def test_a_copy_that_differs_from_what_was_kept_is_renewed_too(demo_store: Store):
    """As after an undo; and an id that a target shares with a part is no part."""
    heron = demo_store.rigs.get("heron").rig
    ring = demo_store.parts.get("drawer-21").body
    other = with_entry(heron, "drawer-21", ring.model_copy(update={"mass_g": 99}))
    renew = Renewal("drawer-21", ring.model_dump_json(), changed(ring))
    assert renew(other.model_dump_json(), _parsed) == with_entry(heron, "drawer-21", changed(ring)).model_dump_json()
    named = Target(name="Namesake", id="drawer-21", ra_deg=1, dec_deg=1)
    framing = heron.framings[0].model_copy(update={"target": named})
    both = heron.model_copy(update={"framings": (framing,)})
    after = Rig.model_validate_json(renew(both.model_dump_json(), _parsed))
    assert after.framings[0].target == named and after == with_entry(both, "drawer-21", changed(ring))


def test_pages_of_rigs_and_targets_are_the_whole_in_its_order(demo_store: Store):
    rigs, targets = demo_store.rigs, demo_store.targets
    assert [*rigs.all(0, 3), *rigs.all(3, 3)] == rigs.all() and rigs.count() == len(rigs.all())
    assert [*targets.all(0, 5), *targets.all(5, 5)] == targets.all() and targets.count() == 8
    assert [(rig.id, rig.revision, rig.rig.name) for rig in rigs.all()] == rigs.names()
    rigs.archive("heron")
    assert "heron" not in [name for name, _, _ in rigs.names()] and rigs.count() == len(rigs.names())
    first = targets.all()[0]
    assert targets.some([first.id, "nothing"]) == [first]


def test_what_is_asked_of_each_rig_is_asked_once_of_each_document(demo_store: Store):
    asked = []

    def name(rig: Rig, ending: str) -> str:
        asked.append(rig.name)
        return rig.name + ending

    first = demo_store.rigs.each(name, "!")
    assert demo_store.rigs.each(name, "!") == first and len(asked) == len(first)
    heron = demo_store.rigs.get("heron")
    demo_store.rigs.save("heron", heron.rig.model_copy(update={"name": "Egret"}), heron.revision)
    assert dict(demo_store.rigs.each(name, "!"))["heron"] == "Egret!" and asked[len(first) :] == ["Egret"]
    wider = Preferences(small_target_share=0.2)
    assert len(other_rigs(demo_store.rigs.each(as_other, wider))) == len(first)


@pytest.mark.parametrize("name", ["rigs", "targets"])
def test_damage_is_found_again_after_sound_texts_were_remembered(demo_store: Store, name):
    assert demo_store.damaged() == [] == demo_store.damaged()
    table = {"rigs": "revisions", "targets": "entries"}[name]
    with demo_store.database.write() as session:
        session.connection().exec_driver_sql(
            f"UPDATE {table} SET body = 'x' WHERE rowid = (SELECT max(rowid) FROM {table})"
        )
    assert len(demo_store.damaged()) == 1
