"""A night planned: runs in their windows, never over the flip's pause, one pair of hands, what fits, odd nights."""

from datetime import date

import numpy as np
import pytest

from dravel.catalogue.demo import RIDGE, scenario
from dravel.core.model import Rig, Site
from dravel.core.overview.tonight import Hours, TonightPlan, tonight
from dravel.core.sky.night import night_of
from dravel.core.steps import STEPS

RIGS = dict(scenario().rigs)
NIGHT = date(2026, 12, 9)


def plan(
    *names: str, site: Site = RIDGE, day: date = NIGHT, rigs: dict[str, Rig] | None = None, **more: object
) -> TonightPlan:
    known = RIGS | (rigs or {})
    contexts = [(name, STEPS.context(known[name].model_copy(update={"site": site}), tonight=day)) for name in names]
    return tonight(contexts, site, day, **more)


@pytest.mark.parametrize("day", [NIGHT, date(2026, 11, 25), date(2026, 6, 21), date(2026, 10, 24)])
def test_runs_lie_in_their_windows_and_one_after_another(day):
    found = plan("heron", "bittern", "wren", day=day)
    for rig in found.rigs:
        free = 0
        for run in sorted(rig.runs, key=lambda one: one.start):
            curve = next(one for one in rig.curves if one.target == run.target)
            assert all(curve.usable[run.start : run.end]) and run.start >= free
            assert any(start <= run.start and run.end <= end for start, end in found.dark)
            free = run.end


def test_one_pair_of_hands_sets_up_one_rig_after_the_other():
    found = plan("heron", "bittern", free_from_h=18.5, free_until_h=2.5)
    set_up = [job for job in found.jobs if "set up" in job.what]
    aligned = [job for job in found.jobs if "polar" in job.what]
    assert [job.what.split(":")[0] for job in set_up] == ["Heron", "Bittern"]
    assert set_up[0].slot < aligned[0].slot < set_up[1].slot < aligned[1].slot
    packed = [job.slot for job in found.jobs if "pack up" in job.what]
    assert packed[1] - packed[0] >= 5
    first, last = found.free
    assert all(first <= run.start and run.end <= last for rig in found.rigs for run in rig.runs)


def test_a_plan_that_does_not_fit_goes_to_another_night():
    found = plan("heron", free_from_h=21, free_until_h=23.5)
    lines = {line.words.split(":")[0]: line for line in found.rigs[0].fits}
    assert any(line.verdict == "strains" and line.day is not None for line in lines.values())
    whole = plan("heron").rigs[0]
    assert any(line.verdict == "holds" and "to its" in line.words for line in whole.fits)


def test_a_run_that_is_pinned_stays_where_it_was_put():
    free = plan("heron").rigs[0].runs[0]
    slot = free.start + 12
    moved = next(
        run for run in plan("heron", pins={"heron": {free.target: slot}}).rigs[0].runs if run.target == free.target
    )
    assert (moved.start, moved.pinned) == (slot, True)
    nowhere = plan("heron", pins={"heron": {free.target: 1}}).rigs[0]
    assert free.target not in {run.target for run in nowhere.runs}
    assert any("cannot begin at 12:05, where it was put" in line.words for line in nowhere.mind)


def test_the_flip_lies_between_subs_and_only_where_a_mount_turns_over():
    heron = plan("heron").rigs[0]
    flips = [event for event in heron.events if event.what.startswith("flip")]
    assert flips and any("between two subs" in line.words for line in heron.mind)
    wren = plan("wren").rigs[0]
    assert not [event for event in wren.events if event.what.startswith("flip")]


def test_the_order_follows_the_sky():
    """What sets first is shot first: common practice, and here an outcome."""
    runs = plan("heron", day=date(2026, 10, 10)).rigs[0].runs
    names = [run.name for run in runs]
    assert "Veil complex" in names and names.index("Veil complex") == 0


def test_nights_without_darkness_and_rigs_without_targets_answer_in_words():
    north = RIDGE.model_copy(update={"latitude_deg": 69.0, "horizon": ()})
    white = plan("heron", site=north, day=date(2026, 6, 21))
    assert white.words == "it does not get dark" and "dark hours" in white.rigs[0].because and white.dark == ()
    polar = plan("heron", site=north, day=date(2026, 12, 21))
    assert polar.rigs[0].runs
    bare = RIGS["heron"].model_copy(update={"framings": ()})
    assert "frames no target" in plan("bare", rigs={"bare": bare}).rigs[0].because
    blind = RIGS["heron"].model_copy(update={"path": RIGS["heron"].path[:-1]})
    assert "telescope and a camera" in plan("blind", rigs={"blind": blind}).rigs[0].because
    assert plan("heron", free_from_h=13, free_until_h=14).rigs[0].because


def test_free_hours_are_read_from_the_clock():
    night = night_of(RIDGE, NIGHT)
    assert (Hours.of(night, 18.5, 2.5).start, Hours.of(night, 18.5, 2.5).end) == (78, 174)
    assert Hours.of(night, None, None).mask.sum() == len(night.jd) - 1
    changed = night_of(RIDGE, date(2026, 10, 24))  # the clocks go back
    assert len(changed.jd) == 301 and np.isfinite(changed.sun_altitude).all()
