"""The Night step: a plan against the time its target stands free, and subs against the meridian."""

from datetime import date

import jsonpatch
import pytest

from dravel.catalogue.demo import RIDGE, TERRACE, scenario
from dravel.core.model import Exposure, HorizonPoint, Rig
from dravel.core.steps import STEPS
from tests.says import parts, says

NIGHT = date(2026, 11, 25)
RIGS = dict(scenario().rigs)
SHELF = tuple(scenario().parts)


def judged(rig: Rig, code: str, night: date = NIGHT):
    return [finding for finding in STEPS.evaluate(rig, shelf=SHELF, tonight=night).findings if finding.code == code]


def planned(name: str, target: str, count: int, sub: float = 300.0, **changes: object) -> Rig:
    rig = RIGS[name]
    framings = tuple(
        f.model_copy(update={"plan": (Exposure(sub_s=sub, count=count, filter=None),), **changes})
        for f in rig.framings if f.target.id == target or f.target.name == target
    )  # fmt: skip
    assert framings
    return rig.model_copy(update={"framings": framings, "site": RIDGE})


def test_a_plan_that_fits_says_by_when_to_begin():
    (result,) = judged(planned("heron", "NGC 281", 40), "N1")
    assert result.verdict == "ok" and any(str(value).startswith("00:") for value in parts(result.reason, "start_by"))


def walled() -> tuple[HorizonPoint, ...]:
    """A roof in the west, 60° high."""
    points = [(0, 5), (190, 5), (191, 60), (350, 60), (351, 5)]
    return tuple(HorizonPoint(azimuth_deg=a, altitude_deg=h) for a, h in points)


def test_a_roof_that_takes_the_target_is_told_with_what_fits_and_another_night():
    rig = planned("heron", "NGC 281", 70)
    behind = rig.model_copy(update={"site": RIDGE.model_copy(update={"horizon": walled()})})
    (result,) = judged(behind, "N1")
    assert result.verdict == "warning" and says(result.title, "ends_plan_early")
    labels = [fix.label for fix in result.fixes]
    assert any(says(label, "set_sub_count") for label in labels)
    (free,) = judged(rig, "N1")
    assert free.verdict == "ok"


@pytest.mark.parametrize("fix_kind", ["Plan", "Shoot it on"])
def test_its_fixes_hold(fix_kind):
    late = planned("bittern", "M101", 25)
    (result,) = judged(late, "N1")
    fixes = [fix for fix in result.fixes if str(fix.label).startswith(fix_kind)]
    for fix in fixes:
        document = jsonpatch.apply_patch(late.model_dump(mode="json"), [item.model_dump() for item in fix.change])
        after = judged(Rig.model_validate(document), "N1")
        assert [item.verdict for item in after] == ["ok"]


def test_a_plan_no_night_can_hold_takes_several_unless_it_is_bound_to_one():
    (result,) = judged(planned("heron", "NGC 281", 200), "N1")
    assert result.verdict == "ok" and says(result.reason, "plan_takes_elapsed_nights")
    (bound,) = judged(planned("heron", "NGC 281", 200, night=NIGHT), "N1")
    assert bound.verdict == "warning"


def test_targets_without_a_plan_and_rigs_without_a_site_are_left_alone():
    assert judged(RIGS["wren"], "N1") == []
    assert judged(RIGS["heron"].model_copy(update={"site": None}), "N1") == []
    assert judged(RIGS["heron"].model_copy(update={"site": None}), "N2") == []


def with_mount(rig: Rig, **changes: object) -> Rig:
    return rig.model_copy(update={"mount": rig.mount.model_copy(update=changes)})


def test_long_subs_before_the_flip_strain_and_a_mount_that_tracks_on_fixes_it():
    """By hand: subs of 1200 s, a mount that stops at the meridian: 20 min idle; one that tracks 15 min past it: 5."""
    rig = planned("bittern", "NGC 891", 12, 1200.0)
    (result,) = judged(rig, "N2")
    assert result.verdict == "warning" and result.measure == "20 min" and result.fixes
    (able,) = judged(with_mount(rig, past_meridian_min=15), "N2")
    assert able.verdict == "ok" and able.measure == "5 min"
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
    (result,) = judged(rig, "N1", date(2026, 6, 21))
    assert result.verdict == "warning" and says(result.reason, "target_below_horizon")
