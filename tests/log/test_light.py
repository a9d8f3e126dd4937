"""Totals over nights, against sums by hand; what to finish next; a month of nights."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dravel.core.log.finish import to_finish
from dravel.core.log.light import LightRow, by_target, goals, goals_of, totals
from dravel.core.log.month import MonthEntry, month_of
from dravel.core.model import Preferences
from dravel.core.model.rig import Exposure
from dravel.core.sky.night import night_of
from dravel.core.steps import STEPS

DAY = date(2026, 11, 25)


def row(night="2026-11-20", kept=10, sub_s=120.0, rig="heron", target="ic-1805", behind="", taken=None):
    return LightRow(night, rig, target, "", behind, sub_s, kept if taken is None else taken, kept)


def test_a_worked_sum_over_two_nights():
    """57 and 55 subs of 120 s are 3 h 44 min."""
    result = totals([row(kept=57), row("2026-11-21", 55)], {"heron": "Heron"}, {}, {"ic-1805": "IC 1805"})
    assert [(item.kept_s, item.words, item.nights, item.last) for item in result] == [
        (112 * 120, "57 + 55 × 120 s", 2, "2026-11-21")
    ]
    assert result[0].kept_s == 3 * 3600 + 44 * 60 and result[0].open_s is None and result[0].name == "IC 1805"


def test_filters_and_lengths_stay_apart_and_light_beyond_one_wish_fills_no_other():
    goal = {"heron": {("ic-1805", "red"): 3600.0, ("ic-1805", "blue"): 3600.0}}
    rows = [row(kept=60, behind="red"), row(kept=15, behind="blue"), row(kept=2, sub_s=300, behind="blue")]
    lights = totals(rows, {}, goal, {})
    assert {light.filter: (light.kept_s, light.open_s) for light in lights} == {"red": (7200, 0), "blue": (2400, 1200)}
    assert next(light for light in lights if light.filter == "blue").words == "2 × 300 s, 15 × 120 s"
    (target,) = by_target(lights, rows)
    assert target.share == pytest.approx(1 - 1200 / 7200) and target.open_s == 1200


def test_a_night_that_kept_nothing_is_no_night():
    (item,) = totals([row(kept=0, taken=30)], {}, {}, {})
    assert (item.nights, item.last, item.words, item.taken) == (0, "", "", 30)


@given(
    st.lists(
        st.tuples(
            st.sampled_from(["a", "b"]), st.sampled_from(["m81", "m13"]), st.sampled_from(["", "red"]),
            st.integers(0, 90), st.sampled_from([60.0, 120.0, 300.0]), st.integers(0, 40),
        ), max_size=60,
    )
)  # fmt: skip
def test_totals_neither_lose_nor_invent_light(given_rows):
    rows = [
        row((DAY + timedelta(days=d)).isoformat(), kept, sub, rig, target, behind)
        for rig, target, behind, kept, sub, d in given_rows
    ]
    result = totals(rows, {}, {}, {})
    assert sum(item.kept_s for item in result) == pytest.approx(sum(item.kept * item.sub_s for item in rows))
    assert sum(item.kept_s for item in by_target(result, rows)) == pytest.approx(sum(item.kept_s for item in result))


def test_a_plan_is_wished_panel_by_panel_and_without_one_the_hours_of_the_goal(rigs):
    heron = rigs["heron"]
    framing = heron.framings[0].model_copy(update={"plan": (Exposure(sub_s=100, count=30),), "columns": 2})
    planned = goals_of(heron.model_copy(update={"framings": (framing,)}), Preferences())
    assert sum(planned.values()) == 100 * 30 * 2
    open_ended = goals(
        STEPS.context(heron.model_copy(update={"framings": (framing.model_copy(update={"plan": ()}),)}), Preferences())
    )
    assert open_ended and all(600 < item < 1e6 for item in open_ended.values())


def test_what_is_done_is_not_to_finish_and_what_a_night_serves_goes_first(rigs):
    heron = rigs["heron"]
    context = STEPS.context(heron, Preferences())
    goal = {"heron": goals(context)}
    nothing = by_target(totals([], {"heron": "Heron"}, goal, {}), [])
    result = to_finish(nothing, [("heron", context)], DAY)
    assert {entry.target for entry in result} == {target for target, _ in goal["heron"]}
    served = [entry.night is not None for entry in result]
    assert served == sorted(served, reverse=True)
    for item in result:
        assert (item.night is None) == (item.night_h == 0) and item.open_s > 0 and item.words
    key, seconds = next(iter(goal["heron"].items()))
    rows = [row(kept=int(seconds / 60) + 1, sub_s=60, target=key[0], behind=key[1])]
    left = to_finish(by_target(totals(rows, {}, goal, {}), rows), [("heron", context)], DAY)
    assert key[0] not in {entry.target for entry in left if goal["heron"].get((entry.target, key[1])) == seconds}


def test_without_a_site_nothing_is_pressing(rigs):
    context = STEPS.context(rigs["heron"].model_copy(update={"site": None}), Preferences())
    lights = by_target(totals([], {}, {"heron": goals(context)}, {}), [])
    assert to_finish(lights, [("heron", context)], DAY) == ()


def test_a_season_that_ends_sooner_presses_more(rigs):
    """NGC 7380 sets early in November's evenings, IC 1805 stands high for months more: common practice."""
    heron = rigs["heron"]
    context = STEPS.context(heron, Preferences())
    goal = {"heron": {(framing.target.key, ""): 36_000.0 for framing in heron.framings}}
    result = {item.name: item for item in to_finish(by_target(totals([], {}, goal, {}), []), [("heron", context)], DAY)}
    for early in result.values():
        for late in result.values():
            if early.ends and late.ends and early.night and late.night and early.season_h < late.season_h:
                names = list(result)
                assert names.index(early.name) < names.index(late.name)


def test_a_month_has_its_nights_the_moon_and_what_was_shot(rigs):
    site = rigs["heron"].site
    entries = [
        MonthEntry("2026-11-20", "Heron", "IC 1805", light_s=9900), MonthEntry("2026-11-30", "Wren", "Veil", planned=True)
    ]  # fmt: skip
    month = month_of(date(2026, 11, 25), site, "astronomical", entries)
    assert len(month.nights) == 30 and month.words == "November 2026"
    assert (month.before, month.after) == (date(2026, 10, 1), date(2026, 12, 1))
    by_day = {item.day: item for item in month.nights}
    assert by_day[date(2026, 11, 20)].things[0].light_s == 9900 and by_day[date(2026, 11, 30)].things[0].planned
    # Full moon 24 November 2026, new moon 9 November 2026: any almanac.
    assert max(month.nights, key=lambda item: item.lit).day in (date(2026, 11, 23), date(2026, 11, 24))
    assert min(month.nights, key=lambda item: item.lit).day in (date(2026, 11, 8), date(2026, 11, 9))
    night = night_of(site, date(2026, 11, 9))
    assert by_day[date(2026, 11, 9)].dark_h == pytest.approx(night.hours(night.dark("astronomical")))
    assert by_day[date(2026, 11, 24)].moonless_h < 2 < 8 < by_day[date(2026, 11, 9)].moonless_h


def test_a_month_outside_of_what_can_be_computed_is_refused(rigs):
    with pytest.raises(ValueError, match="month"):
        month_of(date(1900, 1, 1), rigs["heron"].site, "astronomical", [])


def test_a_wish_out_of_reach_is_no_plan_and_where_it_is_begun_it_is_said(rigs):
    """No practitioner plans nine thousand nights: of a rig that cannot reach its goal another word is wanted."""
    context = STEPS.context(rigs["heron"], Preferences())
    framing = context.rig.framings[0]
    key = framing.target.key
    goal = {"heron": {(key, ""): 28_000 * 3600.0}}
    assert to_finish(by_target(totals([], {}, goal, {}), []), [("heron", context)], DAY) == ()
    begun = [row(target=key)]
    (item,) = to_finish(by_target(totals(begun, {}, goal, {}), begun), [("heron", context)], DAY)
    assert "out of reach" in item.words and "such nights" not in item.words
