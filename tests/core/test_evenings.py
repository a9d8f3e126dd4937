"""Evenings by name, and their moons against new moons of an almanac."""

from datetime import date

import pytest

from dravel.core.sky.evenings import evening_choice, named

TONIGHT = date(2026, 11, 25)


@pytest.mark.parametrize(
    ("day", "words"),
    [
        (date(2026, 11, 25), "25–26 Nov"),
        (date(2026, 11, 30), "30 Nov – 1 Dec"),
        (date(2026, 12, 31), "31 Dec – 1 Jan"),
        (date(2027, 3, 4), "4–5 Mar"),
        (date(2027, 6, 21), "21–22 Jun 2027"),
        (date(2026, 5, 21), "21–22 May 2026"),
    ],
)
def test_a_night_is_named_by_its_two_days(day, words):
    assert named(day, TONIGHT) == words


def test_tonight_is_said_and_its_neighbours_lead_on():
    answer = evening_choice(TONIGHT, TONIGHT)
    assert answer.is_tonight and answer.words == "tonight, 25–26 Nov"
    assert (answer.earlier, answer.later) == (date(2026, 11, 24), date(2026, 11, 26))
    assert (answer.month, answer.month_before, answer.month_after) == (
        "November 2026",
        date(2026, 10, 25),
        date(2026, 12, 25),
    )
    assert len(answer.evenings) == 42 and answer.evenings[0].day == date(2026, 10, 26)
    assert sum(evening.month for evening in answer.evenings) == 30
    assert not evening_choice(date(2026, 11, 26), TONIGHT).is_tonight


# New moons of 2026 in UTC, from memory of the almanac: 9 November 07:02, 9 December 00:52; 12 August 17:37 (a solar eclipse).
@pytest.mark.parametrize(
    ("day", "before", "after"),
    [
        (date(2026, 11, 25), date(2026, 11, 8), date(2026, 12, 8)),
        (date(2026, 8, 1), date(2026, 7, 14), date(2026, 8, 12)),
    ],
)
def test_new_moons_are_the_nights_nearest_to_conjunction(day, before, after):
    answer = evening_choice(day, TONIGHT)
    assert answer.new_moon_before is not None and answer.new_moon_after is not None
    assert abs((answer.new_moon_before - before).days) <= 1
    assert answer.new_moon_after == after


def test_full_moons_are_lit_and_wane_after():
    """24 November 2026, 14:53 UTC, from memory of the almanac."""
    lit = {evening.day: evening for evening in evening_choice(TONIGHT, TONIGHT).evenings}
    assert lit[date(2026, 11, 24)].lit > 0.99 and not lit[date(2026, 11, 26)].waxing and lit[date(2026, 11, 15)].waxing


@pytest.mark.parametrize("day", [date(1950, 1, 1), date(2099, 12, 31)])
def test_the_ends_of_what_can_be_computed_are_ends(day):
    answer = evening_choice(day, TONIGHT)
    assert (answer.earlier is None) == (day.year == 1950) and (answer.later is None) == (day.year == 2099)
    assert all(1950 <= evening.day.year <= 2099 for evening in answer.evenings)
    assert evening_choice(date(2027, 1, 31), TONIGHT).month_after == date(2027, 2, 28)
