"""A night at a site: darkness, the moon, and when a target stands above the real horizon.

A night runs from local noon to the next, in steps of five minutes; crossings are found between the steps.
"""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from functools import cached_property, lru_cache
from zoneinfo import ZoneInfo

import numpy as np

from dravel.core.model import Preferences, Site, Target
from dravel.core.physics.photometry import extinction_above_sea
from dravel.core.sky.altaz import Array, Frame, Mask, alt_az, frame_of, julian, moment_of, separation
from dravel.core.sky.bodies import Moon, moon, moonlight, sun, vectors_of

STEP_MIN = 5
SUN_LIMB = -0.8333  # upper limb at a flat horizon: 34′ of refraction and 16′ of radius. Common practice of almanacs.
REFRACTION_AT_HORIZON = 34 / 60
TWILIGHT_SUN = -6.0  # civil dusk: from here on the moon and planets are worth a frame. Common practice.
DARK_SUN = {"astronomical": -18.0, "nautical": -12.0}


@dataclass(frozen=True)
class Night:
    """The sky over a site from noon to noon. Arrays of shape (m,), altitudes in degrees, geometric."""

    site: Site
    day: date
    jd: Array
    frame: Frame
    sun_altitude: Array
    moon: Moon
    moon_altitude: Array
    moon_azimuth: Array

    def dark(self, darkness: str = "astronomical") -> Mask:
        """Where the sun is far enough below the horizon."""
        return np.asarray(self.sun_altitude < DARK_SUN[darkness])

    @cached_property
    def lit(self) -> float:
        """How much of the moon is lit, in the middle of the night: the one share that is told of a night."""
        return float(self.moon.illuminated[len(self.jd) // 2])

    @cached_property
    def sunset(self) -> float | None:
        """UTC Julian date; None when the sun does not set (or never rose)."""
        return next((at for at, rising in crossings(self.jd, self.sun_altitude, SUN_LIMB) if not rising), None)

    @cached_property
    def sunrise(self) -> float | None:
        """UTC Julian date of the morning's sunrise."""
        return next((at for at, rising in crossings(self.jd, self.sun_altitude, SUN_LIMB) if rising), None)

    def dusk(self, darkness: str = "astronomical") -> float | None:
        """When darkness begins; None when it does not."""
        result = crossings(self.jd, self.sun_altitude, DARK_SUN[darkness])
        return next((at for at, rising in result if not rising), None)

    def dawn(self, darkness: str = "astronomical") -> float | None:
        """When darkness ends; None when it does not."""
        result = crossings(self.jd, self.sun_altitude, DARK_SUN[darkness])
        return next((at for at, rising in result if rising), None)

    @cached_property
    def moon_events(self) -> list[tuple[float, bool]]:
        """Times of moonrise (True) and moonset (False): upper limb, refracted."""
        limb = self.moon_altitude + self.moon.diameter_deg / 2 + REFRACTION_AT_HORIZON
        return crossings(self.jd, limb, 0.0)

    @cached_property
    def moon_is_up(self) -> Mask:
        """Where the moon's upper limb stands above a flat horizon, refracted."""
        return np.asarray(self.moon_altitude + self.moon.diameter_deg / 2 + REFRACTION_AT_HORIZON > 0)

    def spans(self, mask: Mask) -> list[tuple[float, float]]:
        """Stretches of a mask of steps, as pairs of UTC Julian dates."""
        edges = np.diff(np.concatenate([[False], mask, [False]]).astype(int))
        starts, ends = np.flatnonzero(edges == 1), np.flatnonzero(edges == -1) - 1
        return [(float(self.jd[a]), float(self.jd[b])) for a, b in zip(starts, ends, strict=True)]

    def local(self, jd: float) -> datetime:
        """A time of the night on the site's clocks."""
        return moment_of(jd).astimezone(ZoneInfo(self.site.timezone))

    def hours(self, mask: Mask) -> float:
        """How long a mask of steps lasts."""
        return float(np.count_nonzero(mask)) * STEP_MIN / 60


@lru_cache(maxsize=256)
def night_of(site: Site, day: date) -> Night:
    """The night that begins on the evening of `day` on the site's clocks."""
    noon = julian(datetime.combine(day, time(12), ZoneInfo(site.timezone)))
    following = julian(datetime.combine(day + timedelta(days=1), time(12), ZoneInfo(site.timezone)))
    # A change of the clocks makes a night of 23 or 25 hours.
    jd = noon + np.arange(0, round((following - noon) * 1440) + 1, STEP_MIN) / 1440
    frame = frame_of(jd)
    lat, lon = site.latitude_deg, site.longitude_deg
    sun_altitude, _ = along(sun(jd), jd, lat, lon, frame)
    lunar = moon(jd, lat, lon, site.elevation_m)
    moon_altitude, moon_azimuth = along(lunar.vectors, jd, lat, lon, frame)
    return Night(site, day, jd, frame, sun_altitude, lunar, moon_altitude, moon_azimuth)


def extinction_at(preferences: Preferences, site: Site | None) -> float:
    """Extinction at a site, mag per airmass: the preferences' at sea level, less with height."""
    return extinction_above_sea(preferences.extinction_mag, site.elevation_m if site else 0.0)


def along(vectors: Array, jd: Array, latitude_deg: float, longitude_deg: float, frame: Frame) -> tuple[Array, Array]:
    """Altitude and azimuth of a moving body, its vector (m, 3) at each time (m,)."""
    theta = frame.sidereal(jd) + np.radians(longitude_deg)
    phi = np.radians(latitude_deg)
    x, y, z = vectors.T
    meridian = x * np.cos(theta) + y * np.sin(theta)
    east = y * np.cos(theta) - x * np.sin(theta)
    up = np.cos(phi) * meridian + np.sin(phi) * z
    north = np.cos(phi) * z - np.sin(phi) * meridian
    return np.degrees(np.arcsin(np.clip(up, -1, 1))), np.mod(np.degrees(np.arctan2(east, north)), 360)


def up_along(vectors: Array, jd: Array, latitude_deg: float, longitude_deg: float, frame: Frame) -> Array:
    """Sine of the altitude of a moving body, its vector (m, 3) at each time (m,)."""
    theta = frame.sidereal(jd) + np.radians(longitude_deg)
    phi = np.radians(latitude_deg)
    meridian = vectors[:, 0] * np.cos(theta) + vectors[:, 1] * np.sin(theta)
    return np.asarray(np.cos(phi) * meridian + np.sin(phi) * vectors[:, 2])


def crossings(jd: Array, values: Array, level: float) -> list[tuple[float, bool]]:
    """Times at which values pass a level, and whether upwards; straight between the steps."""
    off = values - level
    at = np.flatnonzero(np.sign(off[:-1]) * np.sign(off[1:]) < 0)
    times = jd[at] + (jd[at + 1] - jd[at]) * off[at] / (off[at] - off[at + 1])
    return [(float(t), bool(off[i] < 0)) for t, i in zip(times, at, strict=True)]


def horizon_at(site: Site, azimuth_deg: Array) -> Array:
    """Altitude of the site's own horizon in given directions: straight between its points, round the compass."""
    if not site.horizon:
        return np.zeros_like(azimuth_deg)
    at = [point.azimuth_deg for point in site.horizon]
    up = [point.altitude_deg for point in site.horizon]
    return np.interp(azimuth_deg, at, up, period=360)


@dataclass(frozen=True)
class Pass:
    """A target over one night. Masks of shape (m,): dark, above the floor, above the limit, free of the horizon."""

    night: Night
    altitude: Array
    azimuth: Array
    horizon: Array
    dark: Mask
    above_floor: Mask
    above_limit: Mask
    free: Mask
    moon_separation: Array
    extinction: float  # of the site, mag per airmass

    @cached_property
    def usable(self) -> Mask:
        """Dark, above the floor and clear of the horizon."""
        return np.asarray(self.dark & self.above_floor & self.free)

    @cached_property
    def hours(self) -> float:
        """Usable hours."""
        return self.night.hours(self.usable)

    @cached_property
    def good_hours(self) -> float:
        """Hours above the altitude the preferences wants, dark and clear of the horizon."""
        return self.night.hours(self.dark & self.above_limit & self.free)

    @cached_property
    def best_altitude(self) -> float | None:
        """Highest altitude in darkness; None when it never gets dark."""
        return self.best[1] if self.best is not None else None

    @cached_property
    def best(self) -> tuple[float, float] | None:
        """Time and altitude of the highest point in darkness; None when it never gets dark."""
        if not self.dark.any():
            return None
        at = int(np.argmax(np.where(self.dark, self.altitude, -np.inf)))
        return float(self.night.jd[at]), float(self.altitude[at])

    @cached_property
    def transit(self) -> tuple[float, float]:
        """Time and altitude of the highest point of the night (the meridian, unless noon cuts the arc)."""
        best = int(np.argmax(self.altitude))
        return float(self.night.jd[best]), float(self.altitude[best])

    @cached_property
    def windows(self) -> list[tuple[float, float]]:
        """Stretches of usable time, as pairs of UTC Julian dates."""
        return self.night.spans(self.usable)

    @cached_property
    def moon_up_hours(self) -> float:
        """Usable hours with the moon above the horizon."""
        return self.night.hours(self.usable & (self.night.moon_altitude > 0))

    @cached_property
    def mean_altitude(self) -> float | None:
        """Mean altitude over the usable hours, degrees; None without any."""
        return float(self.altitude[self.usable].mean()) if self.usable.any() else None

    @cached_property
    def mean_airmass(self) -> float | None:
        """Mean airmass over the usable hours, 1 / sin h from 5° on; None without any."""
        if not self.usable.any():
            return None
        return float((1 / np.sin(np.radians(np.maximum(self.altitude[self.usable], 5.0)))).mean())

    @cached_property
    def moonlight_mag(self) -> float:
        """How much brighter the moon makes the sky at the target over the usable hours, mean; 0 without any."""
        use, night = self.usable, self.night
        if not use.any():
            return 0.0
        apart, moon, altitude = self.moon_separation[use], night.moon_altitude[use], np.maximum(self.altitude[use], 5)
        phase = night.moon.phase_angle_deg[use]
        return float(moonlight(phase, apart, moon, altitude, night.site.sky_brightness, self.extinction).mean())


@lru_cache(maxsize=256)
def passing_on(target: Target, site: Site, day: date, preferences: Preferences) -> Pass:
    """How a target passes over the night of `day`; kept, since several rules and every fix tried ask for the same."""
    return passing(target, night_of(site, day), preferences)


def passing(target: Target, night: Night, preferences: Preferences) -> Pass:
    """How a target passes over a night. The moon and planets count from dusk to dawn, the rest in darkness."""
    site = night.site
    where = site.latitude_deg, site.longitude_deg, night.frame
    if target.body is None:
        vectors = night.frame.of_date(target.ra_deg, target.dec_deg)
        altitude, azimuth = (values[0] for values in alt_az(vectors, night.jd, *where))
        dark = night.dark(preferences.darkness)
    else:
        vectors = vectors_of(target.body, night.jd, site.latitude_deg, site.longitude_deg, site.elevation_m)
        altitude, azimuth = along(vectors, night.jd, *where)
        dark = night.sun_altitude < TWILIGHT_SUN
    horizon = horizon_at(site, azimuth)
    return Pass(
        night=night,
        altitude=altitude,
        azimuth=azimuth,
        horizon=horizon,
        dark=dark,
        above_floor=altitude >= preferences.altitude_floor_deg,
        above_limit=altitude >= preferences.altitude_limit_deg,
        free=altitude > horizon,
        moon_separation=separation(vectors, night.moon.vectors),
        extinction=extinction_at(preferences, site),
    )
