"""Nights, years, rankings and the rules that ask them; with the edge cases of the globe."""

from dataclasses import replace
from datetime import date
from itertools import pairwise

import jsonpatch
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from dravel.catalogue.demo import RIDGE, TERRACE, targets
from dravel.core.model import Filter, HorizonPoint, Passband, Preferences, Rig, Site, Target
from dravel.core.model.edit import Edit, apply
from dravel.core.overview.board import board
from dravel.core.overview.readiness import rig_for_night
from dravel.core.sky.curves import night_curve, night_facts, year_strip
from dravel.core.sky.glow import glow_of
from dravel.core.sky.night import crossings, horizon_at, night_of, passing
from dravel.core.sky.ranking import RigForNight, rank
from dravel.core.sky.year import best_weeks, year_of
from dravel.core.steps import STEPS
from dravel.core.steps.exposure.facts import Exposing
from tests.numbers import numbers
from tests.says import says

AUTUMN = date(2026, 11, 25)
P = Preferences()
BY_NAME = {target.name: target for target in targets()}
WIDE = RigForNight((2.8, 2.1), 3.5, True, 0.25)


def site(latitude: float, longitude: float = 0.0, **more: object) -> Site:
    return Site.model_validate({"name": "Somewhere", "latitude_deg": latitude, "longitude_deg": longitude, **more})


def star(ra: float, dec: float, **more: object) -> Target:
    return Target.model_validate({"name": "Star", "ra_deg": ra, "dec_deg": dec, **more})


def test_no_astronomical_night_at_sixty_north_in_june():
    north = site(60, 25, timezone="Europe/Helsinki")
    night = night_of(north, date(2026, 6, 21))
    assert night.sunset is not None and night.dusk() is None
    assert night.dusk("nautical") is None
    assert str(night_facts(night, P).words).startswith("no darkness")
    assert passing(BY_NAME["M13"], night, P).best_altitude is None
    # Nautical darkness comes back a few weeks later, astronomical darkness later still.
    assert night_of(north, date(2026, 8, 5)).dusk("nautical") is not None
    assert night_of(north, date(2026, 8, 5)).dusk() is None


def test_polar_night_is_dark_all_along_or_nearly():
    pole = site(78.2, 15.6, timezone="Arctic/Longyearbyen")
    night = night_of(pole, date(2026, 12, 21))
    assert night.sunset is None and night.sunrise is None
    assert night.hours(night.dark("nautical")) > 20
    summer = night_of(pole, date(2026, 6, 21))
    assert summer.sunset is None and not summer.dark().any()
    assert rank(tuple(BY_NAME.values()), WIDE, summer, P) == ()
    assert sum(week.hours for week in year_of(BY_NAME["M81 / M82"], pole, date(2026, 5, 1), P)) > 0


def test_targets_that_never_rise_or_never_set():
    night = night_of(RIDGE, AUTUMN)
    assert night_curve(star(100, -60), RIDGE, AUTUMN, P).rises == "never rises"
    assert night_curve(star(100, 80), RIDGE, AUTUMN, P).rises == "never sets"
    assert passing(star(100, -60), night, P).hours == 0
    assert year_strip(star(100, -60), RIDGE, AUTUMN, P).words == "never above minimum altitude in darkness"


def test_a_southern_site_has_the_sun_and_the_meridian_in_the_north():
    south = site(-30, -70.8, timezone="America/Santiago")
    night = night_of(south, date(2026, 6, 21))
    seen = passing(star(200, -10), night, P)
    at = int(np.argmax(seen.altitude))
    assert min(seen.azimuth[at], 360 - seen.azimuth[at]) < 3
    noon = night_of(south, date(2026, 12, 21))
    assert noon.sun_altitude.max() > 80


@pytest.mark.parametrize(("day", "hours"), [(date(2026, 10, 24), 25), (date(2026, 3, 28), 23), (AUTUMN, 24)])
def test_a_change_of_the_clocks_makes_a_longer_or_shorter_night(day, hours):
    night = night_of(RIDGE, day)
    assert (night.jd[-1] - night.jd[0]) * 24 == pytest.approx(hours)
    clocks = [clock for _, clock in night_curve(BY_NAME["M81 / M82"], RIDGE, day, P).ticks]
    assert clocks[0] == "12:00" and clocks[-1] == "12:00"


def test_a_horizon_with_one_point_is_a_wall_all_round():
    assert horizon_at(site(40), np.array([0.0, 180.0])).tolist() == [0, 0]
    wall = site(40, horizon=[{"azimuth_deg": 90, "altitude_deg": 20}])
    assert horizon_at(wall, np.array([0.0, 180.0, 359.0])).tolist() == [20, 20, 20]


def test_the_horizon_runs_round_the_compass():
    hills = site(40, horizon=[{"azimuth_deg": 350, "altitude_deg": 10}, {"azimuth_deg": 10, "altitude_deg": 30}])
    assert horizon_at(hills, np.array([0.0, 180.0])) == pytest.approx([20, 20])


def test_horizon_points_are_sorted_and_twice_is_refused():
    made = site(40, horizon=[{"azimuth_deg": 200, "altitude_deg": 5}, {"azimuth_deg": 20, "altitude_deg": 9}])
    assert [point.azimuth_deg for point in made.horizon] == [20, 200]
    with pytest.raises(ValidationError, match="two altitudes at azimuth 20°"):
        site(40, horizon=[{"azimuth_deg": 20, "altitude_deg": 5}, {"azimuth_deg": 20, "altitude_deg": 9}])


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("latitude_deg", 95, "Latitude cannot be 95 °; allowed -90 to 90 °"),
        ("longitude_deg", 400, "allowed -180 to 180 °"),
        ("timezone", "Europe/Atlantis", "not a known time zone"),
        ("sky_class", 10, "allowed 1 to 9"),
    ],
)
def test_bad_sites_are_refused(field, value, words):
    with pytest.raises(ValidationError, match=words):
        site(**{"latitude": 40, field: value}) if field != "latitude_deg" else site(value)


def test_sky_brightness_by_measure_by_class_and_typical():
    assert site(40, sky_brightness_mag_arcsec2=21.1, sky_class=7).sky_brightness == 21.1
    assert site(40, sky_class=4).sky_brightness == 20.9
    assert site(40).sky_brightness == 20.5


def test_a_drawn_horizon_takes_hours_away():
    open_sky = passing(BY_NAME["IC 1805"], night_of(TERRACE.model_copy(update={"horizon": ()}), AUTUMN), P)
    roofs = passing(BY_NAME["IC 1805"], night_of(TERRACE, AUTUMN), P)
    assert roofs.hours <= open_sky.hours
    veil = passing(BY_NAME["Veil complex"], night_of(TERRACE, AUTUMN), P)
    free = passing(BY_NAME["Veil complex"], night_of(TERRACE.model_copy(update={"horizon": ()}), AUTUMN), P)
    assert veil.hours < free.hours


def test_windows_are_what_is_usable():
    seen = passing(BY_NAME["NGC 891"], night_of(RIDGE, AUTUMN), P)
    total = sum((end - start) * 24 + 5 / 60 for start, end in seen.windows)
    assert total == pytest.approx(seen.hours, abs=0.02)
    assert seen.good_hours <= seen.hours
    assert seen.moon_up_hours <= seen.hours


def test_crossings_find_both_ways():
    jd = np.arange(5.0)
    assert crossings(jd, np.array([-1.0, 1, 1, -1, -1]), 0) == [(0.5, True), (2.5, False)]
    assert crossings(jd, np.ones(5), 0) == []


def test_the_best_month_of_ngc_891_is_in_autumn():
    weeks = year_of(BY_NAME["NGC 891"], RIDGE, date(2026, 1, 1), P)
    assert best_weeks(weeks)[0].first.month in (10, 11)
    assert len(weeks) == 53 and all(0 <= week.moonless <= 1 for week in weeks)
    assert str(year_strip(BY_NAME["NGC 891"], RIDGE, date(2026, 1, 1), P).words).startswith("best in ")


def test_the_year_agrees_with_its_nights():
    weeks = year_of(BY_NAME["IC 1805"], RIDGE, AUTUMN, P)
    for week in (weeks[0], weeks[10], weeks[25]):
        nights = [
            passing(BY_NAME["IC 1805"], night_of(RIDGE, date.fromordinal(week.first.toordinal() + k)), P).hours
            for k in range(7)
        ]
        assert week.hours == pytest.approx(sum(nights) / 7, abs=0.2)


@settings(deadline=None, max_examples=20)
@given(st.floats(0, 359), st.floats(-89, 89), st.floats(-65, 65), st.integers(0, 364))
def test_a_higher_floor_never_gives_more_hours(ra, dec, latitude, day):
    night = night_of(site(latitude), date.fromordinal(date(2026, 1, 1).toordinal() + day))
    low = passing(star(ra, dec), night, Preferences(altitude_floor_deg=20))
    high = passing(star(ra, dec), night, Preferences(altitude_floor_deg=40))
    assert high.hours <= low.hours


def test_ranking_explains_itself_and_orders():
    night = night_of(RIDGE, AUTUMN)
    result = rank(tuple(BY_NAME.values()), WIDE, night, P)
    assert [worth.score for worth in result] == sorted((worth.score for worth in result), reverse=True)
    assert "M13" not in {worth.target.name for worth in result}
    for worth in result:
        assert 0 < worth.score <= 100
        assert {term.name for term in worth.terms} >= {"size", "hours", "moon", "sky"}
        assert all(0 <= term.value <= 1 and term.words for term in worth.terms)
    assert rank((), WIDE, night, P) == ()


def test_a_line_filter_bears_the_moon_better():
    night = night_of(RIDGE, AUTUMN)
    through = rank((BY_NAME["NGC 281"],), WIDE, night, P)[0]
    bare = rank((BY_NAME["NGC 281"],), RigForNight((2.8, 2.1), 3.5, False, 0.25), night, P)[0]
    assert through.score > bare.score


def test_beginners_are_shown_what_is_bright_large_and_high():
    night = night_of(RIDGE, AUTUMN)
    for worth in rank(tuple(BY_NAME.values()), WIDE, night, P, beginner=True):
        glow = glow_of(worth.target)
        assert (glow.of_lines and glow.lines[0][2] >= 100) or worth.target.magnitude <= 9
        assert worth.target.major_arcmin >= 10
        assert worth.best_altitude_deg >= 45


def test_what_the_ranking_needs_of_a_rig(rigs):
    heron, because = rig_for_night(STEPS.context(rigs["heron"], P))
    assert heron.line_filter and heron.field[0] == pytest.approx(2.81, abs=0.01) and because == ""
    assert rig_for_night(STEPS.context(Rig(name="Empty"), P)) == (None, "no camera in the light path")


def finding(rig: Rig, code: str, subject: str, **more: object):
    given = {"tonight": AUTUMN, "shelf": (), "sites": (RIDGE, TERRACE), **more}
    return next(f for f in STEPS.evaluate(rig, **given).findings if f.code == code and f.subject == subject)


def test_a_target_out_of_season_is_planned_for_another_date(rigs):
    low = finding(rigs["bittern"], "A1", "M13")
    assert low.verdict == "warning"  # nobody planned it for tonight
    planned = apply(rigs["bittern"], (Edit("replace", ("framings", 1, "night"), AUTUMN),))
    assert finding(planned, "A1", "M13").verdict == "problem"
    assert says(low.fixes[0].label, "set_night")
    document = jsonpatch.apply_patch(
        rigs["bittern"].model_dump(mode="json"), [o.model_dump() for o in low.fixes[0].change]
    )
    assert finding(Rig.model_validate(document), "A1", "M13").verdict == "ok"


def test_rules_of_the_night_are_silent_without_a_date_or_a_site(rigs):
    assert not [f for f in STEPS.evaluate(rigs["heron"]).findings if f.code in ("A1", "A2", "A3")]
    nowhere = rigs["heron"].model_copy(update={"site": None})
    assert not [f for f in STEPS.evaluate(nowhere, tonight=AUTUMN).findings if f.code in ("A1", "A2", "A3")]


def test_the_moon_costs_what_exposure_says(rigs):
    """One model: the cost told beside the moon is that of the hours, and that of the night's worth and of the ranking."""
    full, none = (STEPS.context(rigs["heron"], P, tonight=day).of(Exposing) for day in (AUTUMN, date(2026, 12, 9)))
    for shot in full.shots:
        sky = full.conditions(shot.framing)
        dark = full.collector.pixels(shot.glow, replace(sky, sky=sky.dark), shot.filter)
        assert full.moon_cost(shot) == pytest.approx(
            full.hours(shot.pixels, shot.sub_s) / full.hours(dark, shot.sub_s), rel=0.12
        )
        answer = finding(rigs["heron"], "A3", shot.framing.target.name)
        assert f"{full.moon_cost(shot):.1f}" in numbers(answer.reason)
    assert max(map(none.moon_cost, none.shots)) < 1.2


def test_the_moon_hurts_broadband_most_and_hydrogen_least(rigs):
    """Common practice: hydrogen goes on under a moon that stops oxygen, and oxygen under one that stops galaxies."""
    own = STEPS.context(rigs["bittern"], P, tonight=AUTUMN).of(Exposing)
    framing, glow = next((framing, glow_of(BY_NAME["NGC 281"])) for _, framing, _ in own.framings)
    sky = own.conditions(framing)
    hydrogen, oxygen = (
        Filter(name=use, size="any", use=use, passbands=(Passband(centre_nm=nm, width_nm=3),))
        for use, nm in (("h_alpha", 656.3), ("oiii", 500.7))
    )
    cost = [own.collector.moon_colour(glow, sky, item, 300) for item in (hydrogen, oxygen)]
    broad = own.collector.moon_colour(glow_of(BY_NAME["NGC 891"]), sky, None, 300)
    assert cost[0] < 0.6 * cost[1] and cost[0] < broad
    assert finding(rigs["bittern"], "A3", "NGC 891").verdict == "warning"
    dark = finding(rigs["bittern"], "A3", "NGC 891", tonight=date(2026, 12, 10))
    assert dark.verdict == "ok"


def test_the_horizon_is_told_where_there_is_one(rigs):
    walls = TERRACE.model_copy(update={"horizon": (HorizonPoint(azimuth_deg=0, altitude_deg=80),)})
    blocked = rigs["heron"].model_copy(update={"site": walls})
    assert finding(blocked, "A2", "IC 1805").verdict == "warning"
    assert finding(rigs["heron"], "A2", "IC 1805").verdict == "ok"  # the ridge's own is low where it climbs
    bare = rigs["heron"].model_copy(update={"site": RIDGE.model_copy(update={"horizon": ()})})
    assert not [f for f in STEPS.evaluate(bare, tonight=AUTUMN).findings if f.code == "A2"]


def test_no_darkness_is_said(rigs):
    north = site(60, 25, timezone="Europe/Helsinki")
    rig = rigs["heron"].model_copy(update={"site": north})
    answer = finding(rig, "A1", "IC 1805", tonight=date(2026, 6, 21), sites=())
    assert answer.verdict == "warning" and says(answer.title, "no_darkness")


def test_the_board_with_a_night(demo):
    rigs = [(name, 1, rig) for name, rig in demo.rigs]
    made = board(rigs, demo.targets, P, RIDGE, AUTUMN)
    assert made.night is not None and "dark 19:22" in made.night.words
    assert len(made.hours) == len(demo.targets) and made.hours[-1] == 0
    heron = next(row for row in made.rows if row.rig_id == "heron")
    # All fill its field and shine in lines: nebulae lead under a full moon.
    assert max(heron.cells, key=lambda cell: cell.score or 0).target_id in ("ngc-281", "ngc-7380", "ic-1805")
    plain = board(rigs, demo.targets, P)
    assert plain.night is None and plain.rows[0].cells[0].score is None and plain.hours == ()


def test_bands_cover_the_night_without_gaps():
    for day in (AUTUMN, date(2026, 6, 21)):
        bands = night_curve(BY_NAME["M13"], RIDGE, day, P).bands
        assert bands[0].start == 0 and bands[0].kind == "day" and bands[-1].kind == "day"
        assert all(item.end == other.start for item, other in pairwise(bands))
        assert sum(band.kind == "dark" for band in bands) == 1


def test_floor_and_limit_of_the_preferences_are_ordered():
    with pytest.raises(ValidationError, match="altitude_floor_deg"):
        Preferences(altitude_floor_deg=50, altitude_limit_deg=40)
