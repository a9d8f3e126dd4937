"""The year of a target: dark hours above the limit, week by week, and how many of them are moonless."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from dravel.core.model import Practice, Site, Target
from dravel.core.sky.altaz import Array, Mask, frame_of, julian, sin_altitude
from dravel.core.sky.bodies import moon_place, sun
from dravel.core.sky.night import DARK_SUN, along, horizon_at

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
    dark = np.zeros(len(jd), dtype=bool)
    up = np.zeros(len(jd), dtype=bool)
    # Month by month, so that precession and nutation are those of the month.
    per = 31 * 1440 // STEP_MIN
    for start in range(0, len(jd), per):
        part = slice(start, min(start + per, len(jd)))
        frame = frame_of(jd[part])
        low = along(sun(jd[part], 3.0), jd[part], lat, lon, frame)[0] < DARK_SUN[darkness]
        dark[part] = low
        if low.any():
            lunar, _ = moon_place(jd[part], lat, lon, site.elevation_m, 1 / 4)
            up[part] = along(lunar, jd[part], lat, lon, frame)[0] > -0.25
    days = np.floor(jd - noon).astype(int)
    return _Darkness(days[dark], jd[dark], up[dark])


def year_of(target: Target, site: Site, first: date, practice: Practice) -> tuple[Week, ...]:
    """Fifty-three weeks from a first day: hours above the practice's floor, in darkness, over the real horizon."""
    dark = _darkness(site, first, practice.darkness)
    if len(dark.jd) == 0:
        return tuple(Week(first + timedelta(days=7 * i), 0.0, 0.0) for i in range(WEEKS))
    frame = frame_of(dark.jd)
    vector = frame.of_date(target.ra_deg, target.dec_deg)
    high = sin_altitude(vector, dark.jd, site.latitude_deg, site.longitude_deg, frame)[0]
    usable = high >= np.sin(np.radians(practice.altitude_floor_deg))
    if site.horizon and usable.any():
        jd = dark.jd[usable]
        altitude, azimuth = along(np.repeat(vector, len(jd), axis=0), jd, site.latitude_deg, site.longitude_deg, frame)
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
