"""What is drawn and said of nights and years."""

from datetime import date

import pytest
from pydantic import ValidationError

from dravel.catalogue.demo import RIDGE, targets
from dravel.core.model import Framing, Preferences, Site, Target
from dravel.core.sky.curves import night_curve, night_facts, year_strip
from dravel.core.sky.night import night_of
from tests.conftest import a_framing

P = Preferences()
BY_NAME = {target.name: target for target in targets()}


def at(latitude: float, longitude: float = 0.0, zone: str = "UTC") -> Site:
    return Site(name="Somewhere", latitude_deg=latitude, longitude_deg=longitude, timezone=zone)


def test_a_night_in_words_on_the_sites_own_clocks():
    facts = night_facts(night_of(RIDGE, date(2026, 11, 25)), P)
    assert facts.words == "dark 19:22 – 06:33 · moon 97%, rises 18:15, sets 10:31: up all night"
    assert [moment.name for moment in facts.moments][:4] == ["sunset", "moonrise", "dark", "light"]
    hours = [moment.hour for moment in facts.moments]
    assert hours == sorted(hours) and all(0 <= hour <= 25 for hour in hours)
    assert facts.dark_h == pytest.approx(11.2, abs=0.1)


def test_nautical_darkness_is_longer():
    night = night_of(RIDGE, date(2026, 11, 25))
    nautical = night_facts(night, Preferences(darkness="nautical"))
    assert nautical.dark_h > night_facts(night, P).dark_h + 0.9


@pytest.mark.parametrize(
    ("day", "words"),
    [
        (date(2026, 11, 11), "moon 7%, sets 19:00, rises 11:09: sets before darkness"),
        (date(2026, 11, 14), "moon 26%, rises 12:37, sets 21:48: moonless 21:49 – 06:20, 8 h 35 min"),
        (date(2026, 11, 27), "rises 20:41: moonless 19:25 – 20:40, 1 h 20 min"),
    ],
)
def test_the_moon_in_words_tells_rise_set_and_what_is_left_of_the_dark(day, words):
    assert words in night_facts(night_of(RIDGE, day), P).words


@pytest.mark.parametrize(
    ("site", "day", "words"),
    [
        (at(65, 25, "Europe/Helsinki"), date(2026, 6, 21), "no darkness"),
        (at(89.9), date(2026, 12, 21), "dark all night"),
        (at(-34, 18, "Africa/Johannesburg"), date(2026, 6, 21), "dark 19:"),
    ],
)
def test_darkness_in_words_over_the_globe(site, day, words):
    assert str(night_facts(night_of(site, day), P).words).startswith(words)


def test_a_curve_is_one_thing_at_one_time():
    curve = night_curve(BY_NAME["IC 1805"], RIDGE, date(2026, 11, 25), P)
    sizes = {len(curve.hours), len(curve.altitude), len(curve.azimuth), len(curve.horizon), len(curve.moon)}
    assert len(sizes) == 1
    assert curve.hours[0] == 0 and curve.hours[-1] == pytest.approx(24)
    assert all(-90 <= altitude <= 90 for altitude in curve.altitude)
    assert all(0 <= azimuth <= 360 for azimuth in curve.azimuth)
    assert max(curve.altitude) == pytest.approx(curve.transit_altitude, abs=0.1)
    assert curve.usable_h == pytest.approx(sum(b - a for a, b in curve.windows) + 5 / 60, abs=0.01)
    assert curve.flip and curve.rises == "never sets"


def test_clocks_stand_at_even_hours():
    for zone, longitude in (("Europe/Madrid", -2.6), ("Asia/Kathmandu", 85.3), ("Pacific/Auckland", 174.7)):
        curve = night_curve(BY_NAME["M13"], at(28, longitude, zone), date(2026, 11, 25), P)
        clocks = [clock for _, clock in curve.ticks]
        assert all(int(clock[:2]) % 2 == 0 and clock.endswith(":00") for clock in clocks)
        assert len(clocks) == 13


def test_a_polar_target_has_no_window_in_a_bright_summer():
    curve = night_curve(BY_NAME["M81 / M82"], at(70, 25, "Europe/Oslo"), date(2026, 6, 21), P)
    assert curve.windows == () and curve.usable_h == 0 and curve.moon_separation is None
    assert {band.kind for band in curve.bands} == {"day"}


def test_a_year_names_its_best_third_of_a_month():
    strip = year_strip(BY_NAME["M13"], RIDGE, date(2026, 1, 1), P)
    assert str(strip.words).startswith("best in ") and str(strip.words).endswith(" a night")
    assert strip.best[0].hours == max(week.hours for week in strip.weeks)
    assert [week.first for week in strip.weeks] == sorted(week.first for week in strip.weeks)
    assert (strip.weeks[1].first - strip.weeks[0].first).days == 7


def test_a_year_on_a_site_that_is_never_dark_for_it():
    summer_only = year_strip(Target(name="South", ra_deg=270, dec_deg=-50), at(55), date(2026, 1, 1), P)
    assert all(week.hours == 0 for week in summer_only.weeks) and summer_only.best == ()


@pytest.mark.parametrize("night", [date(1949, 12, 31), date(2100, 1, 1)])
def test_a_plan_beyond_the_theories_is_refused(night):
    with pytest.raises(ValidationError):
        Framing.model_validate({**a_framing().model_dump(), "night": night})
    assert a_framing(night=date(2099, 12, 31)).night == date(2099, 12, 31)
