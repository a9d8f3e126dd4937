"""The sky against astropy, skyfield with its packaged ephemeris, published tables and worked examples."""

from datetime import UTC, date, datetime, timedelta

import numpy as np
import pytest
from astropy import units as u
from astropy.coordinates import AltAz, EarthLocation, SkyCoord, get_body
from astropy.time import Time
from astropy.utils import iers
from skyfield.api import load as skyfield_load
from skyfield.api import load_file, wgs84
from skyfield.named_stars import named_star_dict
from skyfield_data import get_skyfield_data_path

from dravel.catalogue.demo import RIDGE
from dravel.catalogue.objects import catalogue
from dravel.catalogue.star_names import star_names
from dravel.catalogue.stars import stars
from dravel.core.physics.photometry import extinction_above_sea, sky_away_from_zenith
from dravel.core.sky.altaz import airmass, alt_az, frame_of, julian, moment_of, refraction, separation
from dravel.core.sky.bodies import (
    PLANETS,
    moon,
    moonlight,
    planet,
    planet_diameter_arcsec,
    sun,
    sun_roughly,
    vectors_of,
)
from dravel.core.sky.moving import body_at
from dravel.core.sky.night import along, night_of

iers.conf.auto_download = False
iers.conf.auto_max_age = None
LAT, LON, HEIGHT = 40.9, -2.6, 1240.0
PLACE = EarthLocation(lat=LAT * u.deg, lon=LON * u.deg, height=HEIGHT * u.m)
RNG = np.random.default_rng(20261125)


@pytest.fixture(scope="module")
def ephemeris():
    return load_file(f"{get_skyfield_data_path()}/de421.bsp")


@pytest.fixture(scope="module")
def clock():
    return skyfield_load.timescale(builtin=True)


def spans(count: int) -> list[np.ndarray]:
    """Stretches of a night each, spread over a few years, with instants in them."""
    first = julian(datetime(2025, 1, 1, 18, tzinfo=UTC))
    return [first + 97.3 * k + np.sort(RNG.uniform(0, 1, count)) for k in range(10)]


def test_200_objects_at_50_instants_against_astropy():
    everything = catalogue().everything()
    chosen = [everything[i] for i in RNG.choice(len(everything), 200, replace=False)]
    ra, dec = np.array([t.ra_deg for t in chosen]), np.array([t.dec_deg for t in chosen])
    worst_altitude = worst = 0.0
    for jd in spans(5):
        frame = frame_of(jd)
        altitude, azimuth = alt_az(frame.of_date(ra, dec), jd, LAT, LON, frame)
        transform = SkyCoord(ra[:, None] * u.deg, dec[:, None] * u.deg).transform_to(
            AltAz(obstime=Time(jd, format="jd")[None, :], location=PLACE)
        )
        worst_altitude = max(worst_altitude, float(np.abs(transform.alt.deg - altitude).max()))
        apart = np.cos(np.radians(altitude)) * np.abs((transform.az.deg - azimuth + 180) % 360 - 180)
        worst = max(worst, float(apart.max()))
    assert worst_altitude <= 0.02 and worst <= 0.02


def test_stars_against_skyfield(ephemeris, clock):
    from skyfield.api import Star

    place = ephemeris["earth"] + wgs84.latlon(LAT, LON, HEIGHT)
    for ra, dec in ((35.6, 42.3), (312.7, 30.9), (148.9, 69.4), (10.0, -25.0)):
        jd = spans(4)[3]
        frame = frame_of(jd)
        altitude, azimuth = alt_az(frame.of_date(ra, dec), jd, LAT, LON, frame)
        for k, at in enumerate(jd):
            seen = place.at(clock.from_datetime(moment_of(float(at)))).observe(Star(ra_hours=ra / 15, dec_degrees=dec))
            up, round_about, _ = seen.apparent().altaz()
            assert up.degrees == pytest.approx(altitude[0, k], abs=0.02)
            assert (round_about.degrees - azimuth[0, k] + 180) % 360 - 180 == pytest.approx(0, abs=0.05)


def test_sun_and_moon_against_astropy_and_skyfield(ephemeris, clock):
    place = ephemeris["earth"] + wgs84.latlon(LAT, LON, HEIGHT)
    for jd in spans(6):
        frame = frame_of(jd)
        lunar = moon(jd, LAT, LON, HEIGHT)
        mine = {"sun": along(sun(jd), jd, LAT, LON, frame)[0], "moon": along(lunar.vectors, jd, LAT, LON, frame)[0]}
        times = Time(jd, format="jd")
        for name, altitude in mine.items():
            transform = get_body(name, times, PLACE).transform_to(AltAz(obstime=times, location=PLACE))
            assert np.abs(transform.alt.deg - altitude).max() <= 0.02, name
            at = clock.from_datetime(moment_of(float(jd[0])))
            up = place.at(at).observe(ephemeris[name]).apparent().altaz()[0].degrees
            assert up == pytest.approx(altitude[0], abs=0.02)


def test_moon_illumination_within_a_percent(ephemeris, clock):
    from skyfield import almanac

    for jd in spans(1):
        at = clock.from_datetime(moment_of(float(jd[0])))
        assert moon(jd, LAT, LON, HEIGHT).illuminated[0] == pytest.approx(
            almanac.fraction_illuminated(ephemeris, "moon", at), abs=0.01
        )


@pytest.mark.parametrize("day", [date(2026, 11, 25), date(2026, 6, 21), date(2025, 3, 20), date(2026, 2, 14)])
def test_sunset_dusk_and_moonrise_within_a_minute(ephemeris, clock, day):
    from skyfield import almanac

    night = night_of(RIDGE, day)
    place = wgs84.latlon(RIDGE.latitude_deg, RIDGE.longitude_deg, RIDGE.elevation_m)
    start, end = (clock.from_datetime(moment_of(float(at))) for at in (night.jd[0], night.jd[-1]))
    observer = ephemeris["earth"] + wgs84.latlon(RIDGE.latitude_deg, RIDGE.longitude_deg)

    def minutes(found, told) -> float:
        return abs(found - julian(told.utc_datetime())) * 1440

    down, _ = almanac.find_settings(observer, ephemeris["sun"], start, end)
    assert minutes(night.sunset, down[0]) < 1
    up, _ = almanac.find_risings(observer, ephemeris["sun"], start, end)
    assert minutes(night.sunrise, up[0]) < 1
    times, states = almanac.find_discrete(start, end, almanac.dark_twilight_day(ephemeris, place))
    dark = [t for t, state in zip(times, states, strict=True) if state == 0]
    assert minutes(night.dusk(), dark[0]) < 1
    rises, certain = almanac.find_risings(observer, ephemeris["moon"], start, end)
    mine = [at for at, rising in night.moon_events if rising]
    assert len(mine) == int(np.count_nonzero(certain))
    for result, answer in zip(mine, rises, strict=False):
        assert minutes(result, answer) < 1


def test_venus_over_washington():
    # Meeus, Astronomical Algorithms, example 13.b (from memory): Venus, 1987 April 10, 19:21 UT, apparent place
    # 347.3193°, −6.7199°: azimuth 68.0337° from the south, altitude 15.1249°.
    jd = np.array([julian(datetime(1987, 4, 10, 19, 21, tzinfo=UTC))])
    frame = frame_of(jd)
    ra, dec = np.radians(347.3193375), np.radians(-6.719892)
    of_date = np.array([[np.cos(dec) * np.cos(ra), np.cos(dec) * np.sin(ra), np.sin(dec)]])
    altitude, azimuth = alt_az(of_date, jd, 38.921389, -77.065556, frame)
    assert altitude[0, 0] == pytest.approx(15.1249, abs=0.01)
    assert azimuth[0, 0] - 180 == pytest.approx(68.0337, abs=0.01)
    # The same planet from its own theory.
    altitude, _ = alt_az(vectors_of("Venus", jd, 38.921389, -77.065556), jd, 38.921389, -77.065556, frame)
    assert altitude[0, 0] == pytest.approx(15.1249, abs=0.02)
    assert 9 < float(planet_diameter_arcsec("Venus", planet("Venus", jd)[1])[0]) < 15


@pytest.mark.parametrize("name", PLANETS)
def test_planets_against_astropy(name):
    at = julian(datetime(2026, 11, 25, 22, tzinfo=UTC))
    seen = body_at(name, at)
    answer = get_body(name.lower(), Time(at, format="jd"))
    apart = SkyCoord(seen.ra_deg * u.deg, seen.dec_deg * u.deg).separation(SkyCoord(answer.ra, answer.dec)).arcsec
    assert apart < 60  # SOFA's plan94 is good to about half a minute of arc
    distance = planet(name, np.array([at]))[1][0]
    assert distance == pytest.approx(answer.distance.to_value(u.au), rel=1e-3)


def test_the_moon_from_a_site_against_astropy():
    at = julian(datetime(2026, 11, 27, 1, tzinfo=UTC))
    place = EarthLocation(lon=RIDGE.longitude_deg, lat=RIDGE.latitude_deg, height=RIDGE.elevation_m)
    answer = get_body("moon", Time(at, format="jd"), location=place)
    seen = body_at("Moon", at, RIDGE)
    # astropy gives the topocentric place in GCRS: as seen from there, aberration of the Earth's course left in.
    apart = SkyCoord(seen.ra_deg * u.deg, seen.dec_deg * u.deg).separation(SkyCoord(answer.ra, answer.dec)).arcsec
    assert apart < 60
    assert seen.major_arcmin == pytest.approx(
        2 * 60 * np.degrees(np.arcsin(1737.4 / answer.distance.to_value(u.km))), rel=1e-3
    )


@pytest.mark.parametrize("year", [1950, 2000, 2026, 2050, 2099])
def test_the_cheap_sun_against_the_full_theory(year):
    # The Astronomical Almanac says 0.01° for 1950 to 2050 (from memory); against SOFA's epv00 here.
    jd = julian(datetime(year, 1, 1, tzinfo=UTC)) + np.arange(0, 365, 7.0)
    full = np.vstack([sun(np.array([at, at + 1e-3]))[:1] for at in jd])
    assert separation(full, sun_roughly(jd)).max() < 0.02


def test_star_names_against_the_hipparcos_numbers():
    # skyfield's table of named stars gives Hipparcos numbers; rows of the star list that have one must agree.
    listed = stars()
    agreed = 0
    for row, name in star_names().items():
        number = named_star_dict.get(name)
        if listed.number[row] < 0 and number is not None and name != "Gienah":  # two stars bore that name
            assert -listed.number[row] == number, name
            agreed += 1
    assert agreed > 25


@pytest.mark.parametrize(
    ("altitude", "expected"),
    # Kasten & Young 1989, their table II (from memory): airmass by altitude.
    [(90, 1.0), (60, 1.154), (30, 1.994), (20, 2.904), (10, 5.585), (5, 10.31), (0, 37.9)],
)
def test_airmass_table(altitude, expected):
    assert airmass(altitude) == pytest.approx(expected, rel=0.01)
    assert airmass(-1) == np.inf


@pytest.mark.parametrize(
    ("altitude", "minutes"),
    # Bennett 1982 and the Nautical Almanac's refraction table (from memory), arcminutes.
    [(0, 34.5), (5, 9.9), (10, 5.3), (20, 2.6), (45, 1.0), (90, 0.0)],
)
def test_refraction_table(altitude, minutes):
    assert refraction(altitude) == pytest.approx(minutes, abs=0.15)


def test_moonlight_behaves_as_its_paper_says():
    # Krisciunas & Schaefer 1991 (from memory): full moon, 60° away, both high: the V sky of 21.6 brightens by 3 to 4 mag.
    full = moonlight(np.array([5.0]), np.array([60.0]), np.array([60.0]), np.array([60.0]), 21.587, 0.172)[0]
    assert 2.8 < full < 4.2
    quarter = moonlight(np.array([90.0]), np.array([60.0]), np.array([60.0]), np.array([60.0]), 21.587, 0.172)[0]
    assert 0.5 < quarter < full - 1.5
    near = moonlight(np.array([5.0]), np.array([10.0]), np.array([60.0]), np.array([60.0]), 21.587, 0.172)[0]
    assert near > full
    assert moonlight(np.array([5.0]), np.array([60.0]), np.array([-1.0]), np.array([60.0]), 21.587, 0.172)[0] == 0
    town = moonlight(np.array([5.0]), np.array([60.0]), np.array([60.0]), np.array([60.0]), 18.0, 0.172)[0]
    assert town < full


@pytest.mark.parametrize(("altitude", "darker"), [(60, 0.10), (45, 0.24), (30, 0.50)])
def test_moonlight_low_in_the_sky_stands_beside_the_sky_that_is_there(altitude, darker):
    # Krisciunas & Schaefer 1991, eqs. 2 and 22: the dark sky at that altitude, brighter than the zenith's, is what it adds to.
    at = np.array([30.0]), np.array([60.0]), np.array([40.0]), np.array([float(altitude)])
    gain, zenith = moonlight(*at, 21.5, 0.172)[0], 21.5
    there = sky_away_from_zenith(zenith, altitude, 0.172)
    light = 10 ** (-0.4 * (there - gain)) - 10 ** (-0.4 * there)
    # The same light told against the zenith's sky, as it must not be.
    wrong = 2.5 * np.log10(1 + light / 10 ** (-0.4 * zenith))
    assert zenith - there == pytest.approx(darker, abs=0.08)
    assert gain < wrong
    assert there - gain == pytest.approx(-2.5 * np.log10(10 ** (-0.4 * there) + light))


def test_thinner_air_takes_less_light():
    # Common practice: about 0.25 mag an airmass by the sea, 0.12 on high mountains.
    assert extinction_above_sea(0.25, 0) == pytest.approx(0.25)
    assert 0.1 < extinction_above_sea(0.25, 3000) < 0.15
    assert extinction_above_sea(0.25, -50) == extinction_above_sea(0.25, 0)


def test_separation_and_times():
    item, other = np.array([1.0, 0, 0]), np.array([0, 1.0, 0])
    assert separation(item, other) == pytest.approx(90)
    now = datetime(2046, 11, 25, 3, 4, 5, tzinfo=UTC)
    assert abs(moment_of(julian(now)) - now) < timedelta(milliseconds=1)
    with pytest.raises(ValueError, match="needs a time zone"):
        julian(datetime(2026, 1, 1))


def test_twenty_years_ahead_without_a_network():
    # Astropy with its packaged tables is off by a few seconds of clock that far out; so are we, by no more than 0.03°.
    jd = julian(datetime(2046, 11, 25, 20, tzinfo=UTC)) + np.arange(5) / 10
    frame = frame_of(jd)
    altitude, _ = alt_az(frame.of_date(35.6, 42.3), jd, LAT, LON, frame)
    with iers.conf.set_temp("iers_degraded_accuracy", "ignore"):
        transform = SkyCoord(35.6 * u.deg, 42.3 * u.deg).transform_to(
            AltAz(obstime=Time(jd, format="jd"), location=PLACE)
        )
    assert np.abs(transform.alt.deg - altitude[0]).max() < 0.03
