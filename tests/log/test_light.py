"""Totals over nights, against sums by hand; what to finish next; a month of nights."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dravel.core.log.finish import to_finish
from dravel.core.log.light import LightRow, by_target, totals, wishes, wishes_of
from dravel.core.log.month import MonthEntry, month_of
from dravel.core.model import Practice
from dravel.core.model.rig import Exposure
from dravel.core.sky.night import night_of
from dravel.core.steps import STEPS

DAY = date(2026, 11, 25)


def row(night="2026-11-20", kept=10, sub_s=120.0, rig="heron", target="ic-1805", behind="", taken=None):
    return LightRow(night, rig, target, "", behind, sub_s, kept if taken is None else taken, kept)


def test_a_worked_sum_over_two_nights():
    """57 and 55 subs of 120 s are 3 h 44 min."""
    found = totals([row(kept=57), row("2026-11-21", 55)], {"heron": "Heron"}, {}, {"ic-1805": "IC 1805"})
    assert [(one.kept_s, one.words, one.nights, one.last) for one in found] == [
        (112 * 120, "57 + 55 × 120 s", 2, "2026-11-21")
    ]
    assert found[0].kept_s == 3 * 3600 + 44 * 60 and found[0].open_s is None and found[0].name == "IC 1805"


def test_filters_and_lengths_stay_apart_and_light_beyond_one_wish_fills_no_other():
    wish = {"heron": {("ic-1805", "red"): 3600.0, ("ic-1805", "blue"): 3600.0}}
    rows = [row(kept=60, behind="red"), row(kept=15, behind="blue"), row(kept=2, sub_s=300, behind="blue")]
    lights = totals(rows, {}, wish, {})
    assert {one.filter: (one.kept_s, one.open_s) for one in lights} == {"red": (7200, 0), "blue": (2400, 1200)}
    assert next(one for one in lights if one.filter == "blue").words == "2 × 300 s, 15 × 120 s"
    (target,) = by_target(lights, rows)
    assert target.share == pytest.approx(1 - 1200 / 7200) and target.open_s == 1200


def test_a_night_that_kept_nothing_is_no_night():
    (one,) = totals([row(kept=0, taken=30)], {}, {}, {})
    assert (one.nights, one.last, one.words, one.taken) == (0, "", "", 30)


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
    found = totals(rows, {}, {}, {})
    assert sum(one.kept_s for one in found) == pytest.approx(sum(one.kept * one.sub_s for one in rows))
    assert sum(one.kept_s for one in by_target(found, rows)) == pytest.approx(sum(one.kept_s for one in found))


def test_a_plan_is_wished_panel_by_panel_and_without_one_the_hours_of_the_wish(rigs):
    heron = rigs["heron"]
    framing = heron.framings[0].model_copy(update={"plan": (Exposure(sub_s=100, count=30),), "columns": 2})
    planned = wishes_of(heron.model_copy(update={"framings": (framing,)}), Practice())
    assert sum(planned.values()) == 100 * 30 * 2
    open_ended = wishes(
        STEPS.context(heron.model_copy(update={"framings": (framing.model_copy(update={"plan": ()}),)}), Practice())
    )
    assert open_ended and all(600 < one < 1e6 for one in open_ended.values())


def test_what_is_done_is_not_to_finish_and_what_a_night_serves_goes_first(rigs):
    heron = rigs["heron"]
    context = STEPS.context(heron, Practice())
    wish = {"heron": wishes(context)}
    nothing = by_target(totals([], {"heron": "Heron"}, wish, {}), [])
    found = to_finish(nothing, [("heron", context)], DAY)
    assert {one.target for one in found} == {target for target, _ in wish["heron"]}
    served = [one.night is not None for one in found]
    assert served == sorted(served, reverse=True)
    for one in found:
        assert (one.night is None) == (one.night_h == 0) and one.open_s > 0 and one.words
    key, seconds = next(iter(wish["heron"].items()))
    rows = [row(kept=int(seconds / 60) + 1, sub_s=60, target=key[0], behind=key[1])]
    left = to_finish(by_target(totals(rows, {}, wish, {}), rows), [("heron", context)], DAY)
    assert key[0] not in {one.target for one in left if wish["heron"].get((one.target, key[1])) == seconds}


def test_without_a_site_nothing_is_pressing(rigs):
    context = STEPS.context(rigs["heron"].model_copy(update={"site": None}), Practice())
    lights = by_target(totals([], {}, {"heron": wishes(context)}, {}), [])
    assert to_finish(lights, [("heron", context)], DAY) == ()


def test_a_season_that_ends_sooner_presses_more(rigs):
    """NGC 7380 sets early in November's evenings, IC 1805 stands high for months more: common practice."""
    heron = rigs["heron"]
    context = STEPS.context(heron, Practice())
    wish = {"heron": {(one.target.key, ""): 36_000.0 for one in heron.framings}}
    found = {one.name: one for one in to_finish(by_target(totals([], {}, wish, {}), []), [("heron", context)], DAY)}
    for early in found.values():
        for late in found.values():
            if early.ends and late.ends and early.night and late.night and early.season_h < late.season_h:
                names = list(found)
                assert names.index(early.name) < names.index(late.name)


def test_a_month_has_its_nights_the_moon_and_what_was_shot(rigs):
    site = rigs["heron"].site
    entries = [
        MonthEntry("2026-11-20", "Heron", "IC 1805", light_s=9900), MonthEntry("2026-11-30", "Wren", "Veil", planned=True)
    ]  # fmt: skip
    month = month_of(date(2026, 11, 25), site, "astronomical", entries)
    assert len(month.nights) == 30 and month.words == "November 2026"
    assert (month.before, month.after) == (date(2026, 10, 1), date(2026, 12, 1))
    by_day = {one.day: one for one in month.nights}
    assert by_day[date(2026, 11, 20)].things[0].light_s == 9900 and by_day[date(2026, 11, 30)].things[0].planned
    # Full moon 24 November 2026, new moon 9 November 2026: any almanac.
    assert max(month.nights, key=lambda one: one.lit).day in (date(2026, 11, 23), date(2026, 11, 24))
    assert min(month.nights, key=lambda one: one.lit).day in (date(2026, 11, 8), date(2026, 11, 9))
    night = night_of(site, date(2026, 11, 9))
    assert by_day[date(2026, 11, 9)].dark_h == pytest.approx(night.hours(night.dark("astronomical")))
    assert by_day[date(2026, 11, 24)].moonless_h < 2 < 8 < by_day[date(2026, 11, 9)].moonless_h


def test_a_month_outside_of_what_can_be_computed_is_refused(rigs):
    with pytest.raises(ValueError, match="month"):
        month_of(date(1900, 1, 1), rigs["heron"].site, "astronomical", [])


def test_a_wish_out_of_reach_is_no_plan_and_where_it_is_begun_it_is_said(rigs):
    """No practitioner plans nine thousand nights: of a rig that cannot reach its wish another word is wanted."""
    context = STEPS.context(rigs["heron"], Practice())
    framing = context.rig.framings[0]
    key = framing.target.key
    wish = {"heron": {(key, ""): 28_000 * 3600.0}}
    assert to_finish(by_target(totals([], {}, wish, {}), []), [("heron", context)], DAY) == ()
    begun = [row(target=key)]
    (one,) = to_finish(by_target(totals(begun, {}, wish, {}), begun), [("heron", context)], DAY)
    assert "out of reach" in one.words and "such nights" not in one.words
