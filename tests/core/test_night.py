"""The Night step: a plan against the time its target stands free, and subs against the meridian."""

from datetime import date

import jsonpatch
import pytest

from dravel.catalogue.demo import RIDGE, TERRACE, scenario
from dravel.core.model import Exposure, HorizonPoint, Rig
from dravel.core.steps import STEPS

NIGHT = date(2026, 11, 25)
RIGS = dict(scenario().rigs)
SHELF = tuple(scenario().parts)


def judged(rig: Rig, code: str, night: date = NIGHT):
    return [one for one in STEPS.evaluate(rig, shelf=SHELF, tonight=night).findings if one.code == code]


def planned(name: str, target: str, count: int, sub: float = 300.0, **changes: object) -> Rig:
    rig = RIGS[name]
    framings = tuple(
        f.model_copy(update={"plan": (Exposure(sub_s=sub, count=count, filter=None),), **changes})
        for f in rig.framings if f.target.id == target or f.target.name == target
    )  # fmt: skip
    assert framings
    return rig.model_copy(update={"framings": framings, "site": RIDGE})


def test_a_plan_that_fits_says_by_when_to_begin():
    (found,) = judged(planned("heron", "NGC 281", 40), "N1")
    assert found.verdict == "holds" and "start by 00:" in found.reason


def walled() -> tuple[HorizonPoint, ...]:
    """A roof in the west, 60° high."""
    points = [(0, 5), (190, 5), (191, 60), (350, 60), (351, 5)]
    return tuple(HorizonPoint(azimuth_deg=a, altitude_deg=h) for a, h in points)


def test_a_roof_that_takes_the_target_is_told_with_what_fits_and_another_night():
    rig = planned("heron", "NGC 281", 70)
    behind = rig.model_copy(update={"site": RIDGE.model_copy(update={"horizon": walled()})})
    (found,) = judged(behind, "N1")
    assert found.verdict == "strains" and found.title == "Local horizon ends the plan early"
    labels = [mend.label for mend in found.mends]
    assert any(str(label).startswith("Set sub count to ") for label in labels)
    (free,) = judged(rig, "N1")
    assert free.verdict == "holds"


@pytest.mark.parametrize("mend_kind", ["Plan", "Shoot it on"])
def test_its_mends_hold(mend_kind):
    late = planned("bittern", "M101", 25)
    (found,) = judged(late, "N1")
    mends = [mend for mend in found.mends if str(mend.label).startswith(mend_kind)]
    for mend in mends:
        document = jsonpatch.apply_patch(late.model_dump(mode="json"), [one.model_dump() for one in mend.change])
        after = judged(Rig.model_validate(document), "N1")
        assert [one.verdict for one in after] == ["holds"]


def test_a_plan_no_night_can_hold_takes_several_unless_it_is_bound_to_one():
    (found,) = judged(planned("heron", "NGC 281", 200), "N1")
    assert found.verdict == "holds" and "nights like this" in found.reason
    (bound,) = judged(planned("heron", "NGC 281", 200, night=NIGHT), "N1")
    assert bound.verdict == "strains"


def test_targets_without_a_plan_and_rigs_without_a_site_are_left_alone():
    assert judged(RIGS["wren"], "N1") == []
    assert judged(RIGS["heron"].model_copy(update={"site": None}), "N1") == []
    assert judged(RIGS["heron"].model_copy(update={"site": None}), "N2") == []


def with_mount(rig: Rig, **changes: object) -> Rig:
    return rig.model_copy(update={"mount": rig.mount.model_copy(update=changes)})


def test_long_subs_before_the_flip_strain_and_a_mount_that_tracks_on_mends_it():
    """By hand: subs of 1200 s, a mount that stops at the meridian: 20 min idle; one that tracks 15 min past it: 5."""
    rig = planned("bittern", "NGC 891", 12, 1200.0)
    (found,) = judged(rig, "N2")
    assert found.verdict == "strains" and found.measure == "20 min" and found.mends
    (able,) = judged(with_mount(rig, past_meridian_min=15), "N2")
    assert able.verdict == "holds" and able.measure == "5 min"
    (slow,) = judged(with_mount(rig, past_meridian_min=-10, flips_after_min=5), "N2")
    assert slow.measure == "35 min"


def test_a_better_mount_never_idles_longer():
    rig = planned("bittern", "NGC 891", 12, 600.0)
    idle = [
        float(str(judged(with_mount(rig, past_meridian_min=past), "N2")[0].measure).split()[0])
        for past in (-20, 0, 5, 30)
    ]
    assert idle == sorted(idle, reverse=True)


@pytest.mark.parametrize("style", ["strain_wave", "tracker", "alt_azimuth"])
def test_heads_that_do_not_turn_over_have_no_flip(style):
    assert judged(with_mount(planned("bittern", "NGC 891", 12), style=style), "N2") == []


def test_the_headline_counts_the_hours():
    assert str(STEPS.evaluate(RIGS["heron"], tonight=NIGHT).headlines["night"]).endswith(" usable")
    assert STEPS.evaluate(RIGS["heron"].model_copy(update={"site": None})).headlines["night"] == "no site yet"


def test_a_night_without_darkness_finds_no_dark_hour():
    north = TERRACE.model_copy(update={"latitude_deg": 69.0, "horizon": ()})
    rig = planned("heron", "NGC 281", 10).model_copy(update={"site": north})
    (found,) = judged(rig, "N1", date(2026, 6, 21))
    assert found.verdict == "strains" and "not above the local horizon" in found.reason
