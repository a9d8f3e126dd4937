"""Two changes made apart: together where they touch different fields, asked about where they do not."""

import pytest

from dravel.core.model import Rig
from dravel.store import Stale, Store
from dravel.store.merging import merged


def weights_at(rig: Rig, *positions: float) -> Rig:
    hung = tuple(h.model_copy(update={"position_mm": p}) for h, p in zip(rig.counterweights, positions, strict=True))
    return rig.model_copy(update={"counterweights": hung})


def riders_at(rig: Rig, **places: float) -> Rig:
    moved = tuple(
        placed.model_copy(update={"along_mm": places.get(f"r{i}", placed.along_mm)})
        for i, placed in enumerate(rig.riders)
    )
    return rig.model_copy(update={"riders": moved})


def test_changes_of_different_fields_are_kept_together(rigs):
    heron = rigs["heron"]
    mine = riders_at(heron, r0=12).model_copy(update={"name": "Heron at home"})
    theirs = riders_at(heron, r1=-40).model_copy(update={"saddle_mm": 141})
    both, answer = merged(heron, mine, theirs)
    assert both == riders_at(heron, r0=12, r1=-40).model_copy(update={"name": "Heron at home", "saddle_mm": 141})
    rider = heron.riders[1].part.name
    assert answer == (f"Riders ({rider})", "Saddle centre ahead of the rear shoulder")


def test_the_same_field_is_asked_about_and_named(rigs):
    heron = rigs["heron"]
    here = [h.position_mm for h in heron.counterweights]
    both, answer = merged(heron, weights_at(heron, here[0] + 5), weights_at(heron, here[0] + 9))
    assert both is None
    assert answer == (f"Counterweights ({heron.counterweights[0].part.name}), Position on the shaft",)


def test_the_same_change_made_twice_is_no_conflict(rigs):
    heron = rigs["heron"]
    moved = heron.model_copy(update={"saddle_mm": 150})
    assert merged(heron, moved, moved) == (moved, ())


def test_a_list_that_both_changed_in_kind_is_one_field(rigs):
    heron = rigs["heron"]
    longer = heron.model_copy(update={"riders": (*heron.riders, heron.riders[0])})
    both, answer = merged(heron, longer, riders_at(heron, r0=3))
    assert both is None and answer == ("Riders",)
    # The other way round is asked about too: a place in a list may mean another thing after an insertion.
    assert merged(heron, riders_at(heron, r0=3), longer)[0] is None


def test_another_part_in_the_same_place_is_never_mixed_with_a_setting_of_the_first(rigs):
    heron = rigs["heron"]
    last = len(heron.path) - 1
    other = heron.path[0].part.model_copy(update={"id": "other", "name": "Another"})
    swapped = heron.model_copy(update={"path": (heron.path[0].model_copy(update={"part": other}), *heron.path[1:])})
    turned = heron.model_copy(update={"path": (heron.path[0].model_copy(update={"faces_deg": 90.0}), *heron.path[1:])})
    assert merged(heron, turned, swapped)[0] is None
    camera = heron.model_copy(
        update={"path": (*heron.path[:last], heron.path[last].model_copy(update={"faces_deg": 90.0}))}
    )
    both, _ = merged(heron, camera, swapped)
    assert both is not None and (both.path[0].part.name, both.path[last].faces_deg) == ("Another", 90.0)


def test_two_valid_changes_that_make_no_valid_rig_are_asked_about(rigs):
    heron = rigs["heron"]
    index, item = next((i, item) for i, item in enumerate(heron.path) if len(item.filters) > 1)

    def with_item(**change):
        path = (*heron.path[:index], item.model_copy(update=change), *heron.path[index + 1 :])
        return heron.model_copy(update={"path": path})

    last = len(item.filters) - 1
    origin = with_item(in_use=0)
    fewer = origin.model_copy(update={"path": with_item(in_use=0, filters=item.filters[:last]).path})
    assert merged(origin, with_item(in_use=last), fewer)[0] is None


def test_a_late_save_is_merged_by_the_store_and_the_same_field_is_refused(demo_store: Store):
    kept = demo_store.rigs.get("heron")
    demo_store.rigs.save("heron", riders_at(kept.rig, r0=141), kept.revision)
    demo_store.rigs.save("heron", riders_at(kept.rig, r0=141, r1=198), kept.revision + 1)
    late = demo_store.rigs.save("heron", weights_at(kept.rig, 190), kept.revision)
    assert late.revision == kept.revision + 3 and late.merged == ("Riders",)
    assert (late.rig.riders[0].along_mm, late.rig.riders[1].along_mm) == (141, 198)
    assert late.rig.counterweights[0].position_mm == 190
    with pytest.raises(Stale) as caught:
        demo_store.rigs.save("heron", riders_at(kept.rig, r0=150), kept.revision)
    assert caught.value.current == late.revision and caught.value.fields
    with pytest.raises(Stale):
        demo_store.rigs.save("heron", kept.rig, late.revision + 7)
    assert demo_store.rigs.get("heron").rig == late.rig
