"""A night planned: runs in their windows, never over the flip's pause, one pair of hands, what fits, odd nights."""

import json
from datetime import date, timedelta
from itertools import combinations, pairwise

import jsonschema
import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from dravel.catalogue.demo import RIDGE, scenario
from dravel.core.model import Accessory, Rig, Site
from dravel.core.overview.cues import cues
from dravel.core.overview.night_hands import Hours
from dravel.core.overview.record import record
from dravel.core.overview.tonight import MOST_TOLD, TonightPlan, Underway, tonight
from dravel.core.sky.night import night_of
from dravel.core.steps import STEPS
from dravel.formats import night_sheet, run_file
from dravel.stand_ins.rehearsal import facts_of, rehearse
from tests.core.test_odd_rigs import odd_rig

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
    result = plan("heron", "bittern", "wren", day=day)
    for rig in result.rigs:
        free = 0
        for run in sorted(rig.runs, key=lambda item: item.start):
            curve = next(item for item in rig.curves if item.target == run.target)
            assert all(curve.usable[run.start : run.end]) and run.start >= free
            assert any(start <= run.start and run.end <= end for start, end in result.dark)
            free = run.end


def test_one_pair_of_hands_sets_up_one_rig_after_the_other():
    result = plan("heron", "bittern", free_from_h=18.5, free_until_h=2.5)
    first = {
        (rig.name, kind): min(step.start_s for step in rig.steps if step.kind == kind)
        for rig in result.rigs
        for kind in ("set_up", "align")
    }
    in_turn = [("Heron", "set_up"), ("Heron", "align"), ("Bittern", "set_up"), ("Bittern", "align")]
    assert sorted(first, key=lambda item: first[item]) == in_turn
    assert {str(job.what.parts["rig"]) for job in result.jobs} == {"Heron", "Bittern"}
    hands = [step for rig in result.rigs for step in rig.steps if step.kind in ("set_up", "align", "pack_up")]
    for item, other in combinations(sorted(hands, key=lambda step: step.start_s), 2):
        assert item.end_s <= other.start_s + 1
    begin, last = result.free
    assert all(begin <= run.start and run.end <= last for rig in result.rigs for run in rig.runs)


def test_a_plan_that_does_not_fit_goes_to_another_night():
    result = plan("heron", free_from_h=21, free_until_h=23.5)
    lines = {str(line.words).split(":")[0]: line for line in result.rigs[0].fits}
    assert any(line.verdict == "warning" and line.day is not None for line in lines.values())
    whole = plan("heron").rigs[0]
    assert any(line.verdict == "ok" and line.day is None for line in whole.fits)


def test_a_run_that_is_pinned_stays_where_it_was_put():
    free = plan("heron").rigs[0].runs[0]
    slot = free.start + 12
    moved = next(
        run for run in plan("heron", pins={"heron": {free.target: slot}}).rigs[0].runs if run.target == free.target
    )
    assert (moved.start, moved.pinned) == (slot, True)
    nowhere = plan("heron", pins={"heron": {free.target: 1}}).rigs[0]
    assert free.target not in {run.target for run in nowhere.runs}
    assert any("cannot start at 12:05" in line.words for line in nowhere.mind)


def test_the_flip_lies_between_subs_and_only_where_a_mount_turns_over():
    bittern = plan("bittern").rigs[0]
    flips = [event for event in bittern.events if str(event.what).startswith("flip")]
    assert flips and any("meridian flip" in line.words for line in bittern.mind)
    wren = plan("wren").rigs[0]
    assert not [event for event in wren.events if str(event.what).startswith("flip")]


def test_a_mount_s_own_pauses_lengthen_the_flip():
    """A mount that stops 20 min before the meridian and turns 10 min after it waits between; its owner is told."""
    rig = RIGS["bittern"]
    mount = rig.mount.model_copy(update={"past_meridian_min": -20.0, "flips_after_min": 10.0})
    slow = plan("slow", rigs={"slow": rig.model_copy(update={"mount": mount})}).rigs[0]
    at = next(step for step in slow.steps if step.kind == "flip")
    last = max(step.end_s for step in slow.steps if step.kind == "subs" and step.end_s <= at.start_s)
    assert at.start_s - last >= 30 * 60
    assert any("wait for the meridian" in line.words for line in slow.mind)
    quick = plan("bittern").rigs[0]
    assert sum(s.count for s in slow.steps if s.target == at.target) <= sum(
        s.count for s in quick.steps if s.target == at.target
    )


@pytest.mark.parametrize("day", [NIGHT, date(2026, 6, 21), date(2026, 10, 24)])
def test_all_a_rig_does_is_in_order_and_never_two_things_at_once(day):
    for rig in plan("heron", "bittern", "wren", day=day).rigs:
        for before, after in pairwise(rig.steps):
            assert before.end_s <= after.start_s + 1e-6 and before.end_s > before.start_s
        assert len({step.key for step in rig.steps}) == len(rig.steps)


@settings(max_examples=20)
@given(
    st.lists(st.sampled_from(["heron", "bittern", "wren", "magpie"]), min_size=2, max_size=4, unique=True),
    st.integers(0, 364),
    st.one_of(st.none(), st.floats(14, 24)),
    st.one_of(st.none(), st.floats(0, 9)),
)
@example(["wren", "heron", "bittern"], 72, None, 0.0)  # hands came to a target when it was over
def test_one_pair_of_hands_is_never_in_two_places(names, after, start, end):
    day = date(2026, 1, 1) + timedelta(days=after)
    result = plan(*names, day=day, free_from_h=start, free_until_h=end)
    hands = sorted((step.start_s, step.end_s) for rig in result.rigs for step in rig.steps if step.hands)
    assert all(item[1] <= other[0] + 1 for item, other in pairwise(hands))


def test_a_tracker_led_by_hand_is_led_before_the_next_rig_is_set_up():
    result = plan("wren", "heron", "bittern", day=date(2026, 3, 14), free_until_h=0.0)
    wren, heron, _ = result.rigs
    slew = next(step for step in wren.steps if step.kind == "slew")
    assert slew.hands and wren.runs[0].start * 300 <= slew.end_s
    assert slew.end_s <= min(step.start_s for step in heron.steps)
    assert any(step.kind == "subs" for step in wren.steps)


@pytest.mark.parametrize("end", range(24))
def test_a_run_that_is_shown_begins_where_it_says(end):
    for rig in plan("wren", "heron", "bittern", "magpie", day=date(2026, 3, 14), free_until_h=end).rigs:
        assert {step.target for step in rig.steps if step.target} == {run.target for run in rig.runs}
        assert rig.runs or rig.because
        for run in rig.runs:
            begins = [step.start_s for step in rig.steps if step.target == run.target and step.kind != "slew"]
            assert not begins or run.start * 300 <= min(begins) < run.end * 300


@pytest.mark.parametrize("seed", range(30))
def test_no_rig_that_can_be_owned_upsets_the_night_nor_its_rehearsal(seed):
    rig = odd_rig(seed)
    context = STEPS.context(rig.model_copy(update={"site": RIDGE}), tonight=NIGHT)
    result = tonight([("odd", context)], RIDGE, NIGHT)
    only = result.rigs[0]
    assert only.steps or only.because
    assert all(before.end_s <= after.start_s + 1e-3 for before, after in pairwise(only.steps))
    shown = cues(result, only)
    assert shown[0].start_s == 0 and shown[-1].end_s >= 86_000
    played = rehearse(result, {"odd": facts_of(context)}, seed, "much")
    record(result, "odd", 1, played.rigs[0].frames, [(e.at_s, e.what) for e in played.rigs[0].events], seed=seed)
    assert night_sheet.as_pdf(result).startswith(b"%PDF")
    written = json.loads(run_file.write(result, {"odd": context.rig}, {"odd": None}))
    jsonschema.validate(written, run_file.schema())


def test_flats_are_taken_at_dusk_at_dawn_or_under_a_panel():
    whole = plan("heron").rigs[0]
    flats = [step.kind for step in whole.steps]
    assert flats.index("flats") < flats.index("align")
    late = plan("heron", free_from_h=20).rigs[0]
    assert [step.kind for step in late.steps][-2:] == ["flats", "pack_up"]  # at dawn
    neither = plan("heron", free_from_h=20, free_until_h=2).rigs[0]
    assert "flats" not in {step.kind for step in neither.steps}
    assert any("flats" in line.words for line in neither.mind)
    panel = Accessory(id="panel", name="light panel", function="flat_panel")
    lit = RIGS["heron"].model_copy(update={"extras": (*RIGS["heron"].extras, panel)})
    under = plan("lit", rigs={"lit": lit}, free_from_h=20, free_until_h=2).rigs[0]
    assert any(step.what == "panel flats" for step in under.steps)


def test_what_is_left_runs_down_over_the_night():
    for rig in plan("heron", "wren").rigs:
        assert {item.name for item in rig.reserves} == {"battery", "optics above dew point"}
        for reserve in rig.reserves:
            assert list(reserve.shares) == sorted(reserve.shares, reverse=True) and reserve.shares[0] == 1


def test_a_night_under_way_is_planned_from_now_on():
    contexts = [("heron", STEPS.context(RIGS["heron"].model_copy(update={"site": RIDGE}), tonight=NIGHT))]
    before = tonight(contexts, RIDGE, NIGHT).rigs[0]
    later = tonight(contexts, RIDGE, NIGHT, underway={"heron": Underway(140)}).rigs[0]
    assert before.steps[0].kind == "set_up" and later.steps[0].kind != "set_up"
    assert all(run.start >= 140 for run in later.runs)
    had = Underway(140, {curve.target: 1e6 for curve in before.curves})
    goals = {run.target for run in tonight(contexts, RIDGE, NIGHT, underway={"heron": had}).rigs[0].runs}
    planned = {f.target.key for f in RIGS["heron"].framings if f.plan}
    assert goals <= planned


def test_the_order_follows_the_sky():
    """What sets first is shot first: common practice, and here an outcome."""
    runs = plan("heron", day=date(2026, 10, 10)).rigs[0].runs
    names = [run.name for run in runs]
    assert "Veil complex" in names and names.index("Veil complex") == 0


def test_nights_without_darkness_and_rigs_without_targets_answer_in_words():
    north = RIDGE.model_copy(update={"latitude_deg": 69.0, "horizon": ()})
    white = plan("heron", site=north, day=date(2026, 6, 21))
    assert white.words == "no darkness" and "dark hours" in white.rigs[0].because and white.dark == ()
    polar = plan("heron", site=north, day=date(2026, 12, 21))
    assert polar.rigs[0].runs
    bare = RIGS["heron"].model_copy(update={"framings": ()})
    assert "no target framed" in plan("bare", rigs={"bare": bare}).rigs[0].because
    blind = RIGS["heron"].model_copy(update={"path": RIGS["heron"].path[:-1]})
    assert "telescope and camera" in plan("blind", rigs={"blind": blind}).rigs[0].because
    assert plan("heron", free_from_h=13, free_until_h=14).rigs[0].because


def test_free_hours_are_read_from_the_clock():
    night = night_of(RIDGE, NIGHT)
    assert (Hours.of(night, 18.5, 2.5).start, Hours.of(night, 18.5, 2.5).end) == (78, 174)
    assert Hours.of(night, None, None).mask.sum() == len(night.jd) - 1
    changed = night_of(RIDGE, date(2026, 10, 24))  # the clocks go back
    assert len(changed.jd) == 301 and np.isfinite(changed.sun_altitude).all()


def test_without_a_drive_nothing_flips_and_the_sky_is_followed_by_hand():
    wren, bittern = RIGS["wren"], RIGS["bittern"]
    still = {
        "tripod": wren.model_copy(update={"mount": None}),
        "undriven": bittern.model_copy(update={"mount": bittern.mount.model_copy(update={"driven_axes": 0})}),
    }
    for rig in plan("tripod", "undriven", rigs=still).rigs:
        assert not any(step.kind == "flip" for step in rig.steps)
        assert any(str(line.words).startswith("Untracked: reframe by hand every") for line in rig.mind)
    assert not any("Nothing tracks" in line.words for line in plan("wren").rigs[0].mind)


def test_of_very_many_targets_the_best_are_told_and_how_many_more_there_are():
    heron, more = RIGS["heron"], 15
    framing = heron.framings[0]
    many = tuple(
        framing.model_copy(
            update={
                "target": framing.target.model_copy(
                    update={"id": f"t-{k}", "name": f"T {k}", "ra_deg": (k * 7.3) % 360, "dec_deg": k % 60}
                ),
                "centre_ra_deg": (k * 7.3) % 360,
                "centre_dec_deg": k % 60,
            }
        )
        for k in range(MOST_TOLD + more)
    )
    (rig,) = plan("many", rigs={"many": heron.model_copy(update={"framings": many})}).rigs
    assert len(rig.curves) == MOST_TOLD
    assert {run.target for run in rig.runs} <= {curve.target for curve in rig.curves}
    assert str(more) in rig.fits[-1].words and str(len(many)) in rig.fits[-1].words
    assert len(plan("heron").rigs[0].curves) == len(heron.framings)
