"""What the Aim step and the Board draw of a night and a year."""

from collections.abc import Iterator
from datetime import date, timedelta
from itertools import pairwise
from typing import Literal

import numpy as np

from dravel.core.model import Preferences, Site, Target
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, clock, joined, month, text
from dravel.core.sky.night import DARK_SUN, SUN_LIMB, Night, Pass, crossings, night_of, passing
from dravel.core.sky.year import best_weeks, year_of

CURVE_STEPS = 3  # every third step of five minutes is drawn


class NightMoment(Model):
    """Something that happens in a night: `hour` counts from local noon, `clock` is what the site's clocks say."""

    name: str
    hour: float
    clock: str


class NightFacts(Model):
    """Darkness and moon of a night at a site."""

    site: str
    day: date
    length_h: float
    dark_h: float
    moments: tuple[NightMoment, ...]
    moon_illuminated: float
    words: Text


class NightBand(Model):
    """A stretch of day, twilight or darkness, in hours from local noon."""

    kind: Literal["day", "twilight", "dark"]
    start: float
    end: float


class NightCurve(Model):
    """A target over a night; hours from local noon and what the site's clocks show then, altitudes in degrees."""

    facts: NightFacts
    hours: tuple[float, ...]
    clocks: tuple[str, ...]
    altitude: tuple[float, ...]
    azimuth: tuple[float, ...]
    horizon: tuple[float, ...]
    moon: tuple[float, ...]
    bands: tuple[NightBand, ...]
    ticks: tuple[tuple[float, str], ...]
    windows: tuple[tuple[float, float], ...]
    floor_deg: float
    limit_deg: float
    usable_h: float
    good_h: float
    best: NightMoment | None
    best_altitude: float | None
    transit: NightMoment
    transit_altitude: float
    flip: str
    up: Literal["north", "south"]
    moon_separation: float | None
    rises: str


class YearWeek(Model):
    """One week of the year strip."""

    first: date
    hours: float
    moonless: float


class YearStrip(Model):
    """Dark hours above the floor, per night, week by week, and the best weeks."""

    weeks: tuple[YearWeek, ...]
    best: tuple[YearWeek, ...]
    words: Text


def night_facts(night: Night, preferences: Preferences) -> NightFacts:
    """Darkness and moon of a night in numbers and words."""
    dark = night.dark(preferences.darkness)
    results = [
        ("sunset", night.sunset),
        ("dark", night.dusk(preferences.darkness)),
        ("light", night.dawn(preferences.darkness)),
        ("sunrise", night.sunrise),
        *(("moonrise" if rising else "moonset", at) for at, rising in night.moon_events),
    ]
    moments = tuple(sorted((_moment(night, name, at) for name, at in results if at is not None), key=lambda m: m.hour))
    clock = {moment.name: moment.clock for moment in moments}
    if not dark.any():
        words = text("no darkness")
    elif "dark" in clock and "light" in clock:
        words = text("dark {clock} – {clock_2}", clock=clock["dark"], clock_2=clock["light"])
    else:
        words = text("dark all night")
    return NightFacts(
        site=night.site.name,
        day=night.day,
        length_h=(float(night.jd[-1]) - float(night.jd[0])) * 24,
        dark_h=night.hours(dark),
        moments=moments,
        moon_illuminated=night.lit,
        words=joined(" · ", (words, moon_words(night, preferences))),
    )


def moon_words(night: Night, preferences: Preferences) -> Text:
    """The moon of a night in words: how much is lit, rise and set, and what that leaves of the dark hours."""
    lit = night.lit
    events = [
        text("{which} {at}", which="rises" if rising else "sets", at=clock(night.local(at)))
        for at, rising in night.moon_events
    ]
    sentence = joined(", ", [text("moon {lit}", lit=Value(lit, form="share")), *events])
    dark, up = night.dark(preferences.darkness), night.moon_is_up
    if not dark.any():
        return sentence
    moonless = night.hours(dark & ~up)
    if moonless == 0:
        return text("{told}: up all night", told=sentence)
    if not (dark & up).any():
        before = [at for at, rising in night.moon_events if not rising]
        dusk = night.dusk(preferences.darkness)
        gone = bool(before) and dusk is not None and before[0] <= dusk
        return text("{told}: sets before darkness", told=sentence) if gone else text("{told}: moonless", told=sentence)
    spans = joined(
        " and ",
        (text("{a} – {b}", a=clock(night.local(a)), b=clock(night.local(b))) for a, b in night.spans(dark & ~up)),
    )
    return text(
        "{told}: moonless {spans}, {moonless}", told=sentence, spans=spans, moonless=Value(moonless, form="long")
    )


def night_curve(target: Target, site: Site, day: date, preferences: Preferences) -> NightCurve:
    """A target over a night, as it is drawn."""
    night = night_of(site, day)
    seen = passing(target, night, preferences)
    step = slice(None, None, CURVE_STEPS)
    at, altitude = seen.transit
    flips = any(start < at < end for start, end in seen.windows)
    use = seen.usable
    low = float(seen.altitude.min())
    return NightCurve(
        facts=night_facts(night, preferences),
        hours=_rounded((night.jd[step] - night.jd[0]) * 24, 3),
        clocks=tuple(clock(night.local(float(jd) + 1e-07)) for jd in night.jd[step]),
        altitude=_rounded(seen.altitude[step], 2),
        azimuth=_rounded(seen.azimuth[step], 1),
        horizon=_rounded(seen.horizon[step], 1),
        moon=_rounded(night.moon_altitude[step], 2),
        bands=tuple(_bands(night, preferences)),
        ticks=_ticks(night),
        windows=tuple((_hour(night, a), _hour(night, b)) for a, b in seen.windows),
        floor_deg=preferences.altitude_floor_deg,
        limit_deg=preferences.altitude_limit_deg,
        usable_h=seen.hours,
        good_h=seen.good_hours,
        best=_moment(night, "highest in darkness", seen.best[0]) if seen.best is not None else None,
        best_altitude=seen.best_altitude,
        transit=_moment(night, "meridian", at),
        transit_altitude=altitude,
        flip="meridian flip during the session" if flips else "",
        up=_up(seen),
        moon_separation=float(seen.moon_separation[use].min()) if use.any() and target.body != "Moon" else None,
        rises="never sets" if low > 0 else "never rises" if float(seen.altitude.max()) < 0 else "",
    )


def _up(seen: Pass) -> Literal["north", "south"]:
    """Which way on the sky points to the zenith at the meridian: north for what culminates south of the zenith."""
    at = int(np.argmax(seen.altitude))
    return "north" if 90 < seen.azimuth[at] < 270 else "south"


def year_strip(target: Target, site: Site, first: date, preferences: Preferences) -> YearStrip:
    """The year from a day on, as it is drawn."""
    weeks = year_of(target, site, first, preferences)
    best = best_weeks(weeks)
    words = text("never above minimum altitude in darkness")
    if best:
        middle = best[0].first + timedelta(days=3)
        third = "early" if middle.day <= 10 else "mid" if middle.day <= 20 else "late"
        words = text(
            "best in {third} {middle}: {hours} a night",
            third=third,
            middle=month(middle),
            hours=Value(best[0].hours, form="long"),
        )
    made = {week: YearWeek(first=week.first, hours=week.hours, moonless=week.moonless) for week in weeks}
    return YearStrip(weeks=tuple(made.values()), best=tuple(made[week] for week in best), words=words)


def _hour(night: Night, jd: float) -> float:
    return (jd - float(night.jd[0])) * 24


def _moment(night: Night, name: str, jd: float) -> NightMoment:
    return NightMoment(name=name, hour=_hour(night, jd), clock=clock(night.local(jd)))


def _bands(night: Night, preferences: Preferences) -> Iterator[NightBand]:
    """Day, twilight and darkness one after another, as the sun's altitude makes them."""
    levels = DARK_SUN[preferences.darkness], SUN_LIMB
    kinds: tuple[Literal["dark", "twilight", "day"], ...] = ("dark", "twilight", "day")
    edges = sorted(at for level in levels for at, _ in crossings(night.jd, night.sun_altitude, level))
    times = [float(night.jd[0]), *edges, float(night.jd[-1])]
    for start, end in pairwise(times):
        sun = float(np.interp((start + end) / 2, night.jd, night.sun_altitude))
        yield NightBand(
            kind=kinds[sum(sun > level for level in levels)], start=_hour(night, start), end=_hour(night, end)
        )


def _ticks(night: Night) -> tuple[tuple[float, str], ...]:
    """Whole hours on the site's clocks, every other one."""
    results = []
    for jd in night.jd:
        answer = night.local(float(jd) + 1e-7)
        if answer.minute == 0 and answer.hour % 2 == 0:
            results.append((_hour(night, float(jd)), clock(answer)))
    return tuple(results)


def _rounded(values: object, digits: int) -> tuple[float, ...]:
    return tuple(round(float(v), digits) for v in values)  # type: ignore[attr-defined]
