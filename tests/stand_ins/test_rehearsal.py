"""A rehearsal: the same seed gives the same night, trouble costs what it costs, and the record tells the truth."""

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dravel.catalogue.demo import RIDGE, scenario
from dravel.core.overview.record import record
from dravel.core.overview.tonight import tonight
from dravel.core.steps import STEPS
from dravel.stand_ins.instruments import RigFacts, StandInFocuser, StandInPower, StandInWeather
from dravel.stand_ins.player import CLOSED, LOST, Instruments, Player
from dravel.stand_ins.ports import Sky
from dravel.stand_ins.rehearsal import facts_of, rehearse

NIGHT = date(2026, 12, 9)
RIGS = dict(scenario().rigs)
NAMES = ("heron", "bittern")
CONTEXTS = {
    name: STEPS.context(RIGS[name].model_copy(update={"site": RIDGE}), tonight=NIGHT) for name in (*NAMES, "wren")
}
PLAN = tonight([(name, CONTEXTS[name]) for name in NAMES], RIDGE, NIGHT)
FACTS = {name: facts_of(CONTEXTS[name]) for name in NAMES}
PLAIN = RigFacts(2.0, 1.9, 0.8, 4.0, None, None, 5.0, 3.0, 2.2)


def planned(name):
    return sum(step.count for rig in PLAN.rigs if rig.rig_id == name for step in rig.steps)


def test_facts_are_the_rig_s_own():
    heron = FACTS["heron"]
    assert heron.fwhm_px == CONTEXTS["heron"].known.get("star_px")
    assert heron.rms_arcsec == CONTEXTS["heron"].known.get("guide_rms")
    assert heron.hours_of_power == CONTEXTS["heron"].known.get("power.hours_left_h")


def test_the_same_seed_is_the_same_night_and_another_is_not():
    item, same, other = (rehearse(PLAN, FACTS, seed, "some") for seed in (4, 4, 5))
    assert item == same and item != other


def test_a_rig_s_night_does_not_hang_on_which_other_rigs_are_played_in_the_same_hours():
    both = rehearse(PLAN, FACTS, 4, "some")
    assert both.rigs[0].frames == rehearse(PLAN, FACTS, 4, "some").rigs[0].frames
    assert both.sky.cloud == rehearse(PLAN, {**FACTS}, 4, "some").sky.cloud


def test_a_plan_made_anew_leaves_what_has_happened_as_it_was():
    at = 11 * 3600
    before = rehearse(PLAN, FACTS, 7, "much", until_s=at)
    fewer = PLAN.model_copy(update={"rigs": tuple(
        rig.model_copy(update={"steps": tuple(step for step in rig.steps if step.start_s < at)}) for rig in PLAN.rigs
    )})  # fmt: skip
    after = rehearse(fewer, FACTS, 7, "much", until_s=at)
    assert [rig.frames for rig in before.rigs] == [rig.frames for rig in after.rigs]
    assert before.sky == after.sky


def test_without_trouble_every_sub_is_taken_and_the_plan_is_kept():
    played = rehearse(
        PLAN, {"heron": replace(FACTS["heron"], hours_of_power=None), "bittern": FACTS["bittern"]}, 4, "none"
    )
    for rig in played.rigs:
        assert len(rig.frames) == planned(rig.rig_id) and all(frame.kept for frame in rig.frames)


@pytest.mark.parametrize("seed", range(6))
def test_every_sub_is_accounted_for_and_more_trouble_never_helps_on_the_whole(seed):
    kept = {}
    for trouble in ("none", "some", "much"):
        played = rehearse(PLAN, FACTS, seed, trouble)
        for rig in played.rigs:
            assert len(rig.frames) == planned(rig.rig_id)
            assert all(frame.taken or frame.why for frame in rig.frames) and all(
                frame.kept == (frame.taken and not frame.why) for frame in rig.frames
            )
            assert [e.at_s for e in rig.events] == sorted(e.at_s for e in rig.events)
        kept[trouble] = sum(frame.kept for rig in played.rigs for frame in rig.frames)
    assert kept["none"] >= kept["some"] and kept["none"] > kept["much"]


def test_nothing_is_kept_under_cloud():
    played = rehearse(PLAN, FACTS, 2, "much")
    start, every = played.sky.start_s, played.sky.every_s
    closed = {start + i * every for i, cloud in enumerate(played.sky.cloud) if cloud > CLOSED}
    assert closed
    for rig in played.rigs:
        for frame in rig.frames:
            if frame.kept:
                assert not any(frame.start_s <= at <= frame.start_s + frame.sub_s for at in closed)


def test_the_record_adds_up_and_says_that_it_was_played():
    played = rehearse(PLAN, FACTS, 7, "much", until_s=12 * 3600)
    for rig in played.rigs:
        made = record(
            PLAN,
            rig.rig_id,
            3,
            rig.frames,
            [(event.at_s, event.what) for event in rig.events],
            seed=7,
            until_s=12 * 3600,
        )
        assert made.simulated and made.seed == 7 and made.rig_revision == 3
        assert sum(sub.planned for sub in made.subs) == planned(rig.rig_id)
        kept = sum(sub.kept for sub in made.subs)
        assert kept == sum(frame.kept for frame in rig.frames)
        assert kept + sum(loss.count for loss in made.losses) == planned(rig.rig_id)
        assert made.kept_s <= sum(sub.planned * sub.sub_s for sub in made.subs)
        assert (made.ended - PLAN.noon).total_seconds() <= 12 * 3600


def test_the_air_falls_and_cloud_lies_between_clear_and_closed():
    weather = StandInWeather(3, "much", 20_000, 60_000, PLAIN)
    looks = [weather.at(second) for second in range(20_000, 60_000, 60)]
    assert looks[0].air_c > looks[-1].air_c and looks[0].air_c - looks[-1].air_c == pytest.approx(6, abs=0.1)
    assert all(0 <= look.cloud <= 1 and look.wind_m_s > 0 and look.seeing_arcsec > 0 for look in looks)
    assert {look.cloud > CLOSED for look in looks} == {True, False}


def test_focus_drifts_with_the_air_and_comes_back_with_a_focus():
    focuser = StandInFocuser(1, "heron", "none", 0, 10_000, PLAIN)
    focuser.focus(0, 10.0)
    assert focuser.off_k(100, 10.0) == 0 and focuser.off_k(200, 6.0) == 4
    focuser.focus(300, 6.0)
    assert focuser.off_k(400, 6.0) == 0


def test_power_runs_down_to_nothing_and_mains_never():
    power = StandInPower(1000, replace(PLAIN, hours_of_power=2.0))
    assert [power.share_left(1000 + 3600 * h) for h in (0, 1, 3)] == [1, 0.5, 0]
    assert StandInPower(0, PLAIN).share_left(1e6) == 1


def test_a_short_battery_ends_the_night_and_is_told_before():
    short = {**FACTS, "heron": replace(FACTS["heron"], hours_of_power=5.0)}
    heron = rehearse(PLAN, short, 1, "none").rigs[0]
    assert any(frame.why == "battery empty" for frame in heron.frames)
    lines = [event.what for event in heron.events if event.kind == "power"]
    assert len(lines) == 2 and "of the battery left" in lines[0] and lines[1] == "The battery is empty"


def test_glass_below_the_dew_point_costs_subs_until_the_bands_are_up():
    wet = {**FACTS, "heron": replace(FACTS["heron"], dew_margin_k=-4.0)}
    heron = rehearse(PLAN, wet, 1, "none").rigs[0]
    lost = [frame for frame in heron.frames if frame.why == "dew on the glass"]
    assert lost and max(item.start_s for item in lost) - min(item.start_s for item in lost) <= 900


class Still:
    """A clear sky that stays."""

    def at(self, second: float) -> Sky:
        return Sky(0.0, 3.0, 2.2, 5.0)


class Slipping:
    """A focuser that is off until it is told to focus again."""

    def __init__(self):
        self.off, self.focused = 12.0, []

    def focus(self, second, air_c):
        self.off = 0.0
        self.focused.append(second)

    def off_k(self, second, air_c):
        return self.off


def test_stars_that_have_grown_are_thrown_away_and_focused_on_at_once():
    """The player knows the ports alone: any instrument that fulfils them will do."""
    from dravel.stand_ins.instruments import StandInCamera, StandInGuider, StandInMount

    focuser = Slipping()
    on = Instruments(
        StandInMount(), StandInCamera(1, "r", PLAIN), focuser, StandInGuider(1, "r", "none", 0, 9e4, PLAIN), Still(),
        StandInPower(0, PLAIN),
    )  # fmt: skip
    player = Player(on, PLAIN)
    steps = [step for step in PLAN.rigs[0].steps if step.kind == "subs"][:1]
    player.play(steps, 9e4)
    first, *rest = player.frames
    assert first.why == "out of focus" and len(focuser.focused) == 1
    assert {item.why for item in rest} == {"focusing", ""} and rest[-1].kept
    assert LOST > 1


@settings(max_examples=25)
@given(st.integers(0, 2**31 - 1), st.sampled_from(["none", "some", "much"]), st.floats(0, 90_000))
def test_any_seed_plays_and_no_frame_ends_after_the_moment_asked_for(seed, trouble, until):
    played = rehearse(PLAN, FACTS, seed, trouble, until_s=until)
    assert all(frame.start_s + frame.sub_s <= until + 0.1 for rig in played.rigs for frame in rig.frames)


def test_a_plan_in_which_nothing_is_done_plays_to_nothing():
    empty = tonight([("wren", CONTEXTS["wren"])], RIDGE, NIGHT, free_from_h=13, free_until_h=14)
    played = rehearse(empty, {"wren": facts_of(CONTEXTS["wren"])}, 1, "some")
    assert played.rigs[0].frames == () and played.rigs[0].events == ()
