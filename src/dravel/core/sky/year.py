"""The year of a target: dark hours above the limit, week by week, and how many of them are moonless."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from dravel.core.model import Preferences, Site, Target
from dravel.core.model.cancellation import check_cancelled
from dravel.core.sky.altaz import Array, Mask, frame_of, julian, sin_altitude
from dravel.core.sky.bodies import moon_place, sun_roughly, vectors_of
from dravel.core.sky.night import DARK_SUN, along, horizon_at, up_along

STEP_MIN = 15
WEEKS = 53


@dataclass(frozen=True)
class Week:
    """One week: its first night, dark hours above the floor per night on average, and the moonless share of them."""

    first: date
    hours: float
    moonless: float


@dataclass(frozen=True)
class _Darkness:
    days: NDArray[np.int64]
    jd: Array
    moon_up: Mask


@lru_cache(maxsize=16)
def _darkness(site: Site, first: date, darkness: str) -> _Darkness:
    """Every dark step of a year from a first day, the night it belongs to, and whether the moon is up."""
    noon = julian(datetime.combine(first, time(12), ZoneInfo(site.timezone)))
    jd = noon + np.arange(0, WEEKS * 7 * 1440, STEP_MIN) / 1440
    lat, lon = site.latitude_deg, site.longitude_deg
    dark = up_along(sun_roughly(jd), jd, lat, lon, frame_of(jd)) < np.sin(np.radians(DARK_SUN[darkness]))
    up = np.zeros(len(jd), dtype=bool)
    # Month by month, so that precession and nutation are those of the month.
    per = 31 * 1440 // STEP_MIN
    for start in range(0, len(jd), per):
        part = np.flatnonzero(dark[start : start + per]) + start
        if len(part) > 0:
            lunar, _ = moon_place(jd[part], lat, lon, site.elevation_m, 1 / 2)
            up[part] = up_along(lunar, jd[part], lat, lon, frame_of(jd[part])) > np.sin(np.radians(-0.25))
    days = np.floor(jd - noon).astype(int)
    return _Darkness(days[dark], jd[dark], up[dark])


def year_of(target: Target, site: Site, first: date, preferences: Preferences) -> tuple[Week, ...]:
    """Fifty-three weeks from a first day: hours above the preferences' floor, in darkness, over the real horizon."""
    check_cancelled()
    dark = _darkness(site, first, preferences.darkness)
    if len(dark.jd) == 0:
        return tuple(Week(first + timedelta(days=7 * i), 0.0, 0.0) for i in range(WEEKS))
    frame = frame_of(dark.jd)
    lat, lon = site.latitude_deg, site.longitude_deg
    if target.body is None:
        vectors = frame.of_date(target.ra_deg, target.dec_deg)
        high = sin_altitude(vectors, dark.jd, lat, lon, frame)[0]
    else:
        vectors = vectors_of(target.body, dark.jd, lat, lon, site.elevation_m, 3.0)
        high = up_along(vectors, dark.jd, lat, lon, frame)
    usable = high >= np.sin(np.radians(preferences.altitude_floor_deg))
    if site.horizon and usable.any():
        jd = dark.jd[usable]
        there = np.repeat(vectors, len(jd), axis=0) if target.body is None else vectors[usable]
        altitude, azimuth = along(there, jd, lat, lon, frame)
        usable[usable] = altitude > horizon_at(site, azimuth)
    week = dark.days[usable] // 7
    hours = np.bincount(week, minlength=WEEKS)[:WEEKS] * STEP_MIN / 60 / 7
    moonless = np.bincount(week[~dark.moon_up[usable]], minlength=WEEKS)[:WEEKS] * STEP_MIN / 60 / 7
    return tuple(
        Week(first + timedelta(days=7 * i), float(hours[i]), float(moonless[i] / hours[i]) if hours[i] else 0.0)
        for i in range(WEEKS)
    )


def best_weeks(weeks: tuple[Week, ...], most: int = 3) -> tuple[Week, ...]:
    """The weeks with most hours, best first; none when there is no hour at all."""
    return tuple(sorted((week for week in weeks if week.hours > 0), key=lambda week: -week.hours)[:most])
