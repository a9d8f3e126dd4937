"""Altitude and azimuth, for one object or thousands, over a whole night at once.

Precession, nutation, aberration and sidereal time come from the IAU routines in `erfa` (SOFA); all needs no table from
the network. UT1 is taken as UTC (they differ by less than 0.9 s, 0.004°), polar motion as nothing. Altitudes are
geometric; `refraction` lifts them. Angles in degrees, times as UTC Julian dates; azimuth from north through east.
"""

import warnings
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

UNIX_JD = 2_440_587.5
SIDEREAL_DAYS = 1.00273781191135448
LIGHT_AU_PER_DAY = 173.144632674


def sofa() -> Any:
    """The IAU's routines. Loaded when first asked for: every start of the server would pay a fifth of a second."""
    import erfa

    return erfa


def julian(moment: datetime) -> float:
    """UTC Julian date of an aware moment. Raises `ValueError` when it has no time zone."""
    if moment.tzinfo is None:
        raise ValueError("moment: needs a time zone")
    return UNIX_JD + moment.timestamp() / 86_400


def moment_of(jd_utc: float) -> datetime:
    """The moment of a UTC Julian date."""
    return datetime.fromtimestamp((jd_utc - UNIX_JD) * 86_400, UTC)


@lru_cache(maxsize=512)
def leap_seconds(year: int, month: int) -> float:
    """TAI − UTC, s: from the packaged list, and its last entry for dates beyond it."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # a date far ahead is only said to be dubious
        return float(sofa().dat(year, month, 1, 0.0))


def terrestrial(jd_utc: ArrayLike) -> Array:
    """Terrestrial Time as a Julian date. Leap seconds are those of the middle of the span."""
    given = np.asarray(jd_utc, dtype=float)
    middle = moment_of(float(given.mean()))
    return given + (leap_seconds(middle.year, middle.month) + 32.184) / 86_400


def directions(ra_deg: ArrayLike, dec_deg: ArrayLike) -> Array:
    """Unit vectors towards places on a sphere, shape (n, 3)."""
    ra, dec = np.radians(np.atleast_1d(ra_deg)), np.radians(np.atleast_1d(dec_deg))
    return np.column_stack([np.cos(dec) * np.cos(ra), np.cos(dec) * np.sin(ra), np.sin(dec)])


@dataclass(frozen=True)
class Frame:
    """How the sky stands on a date: matrix from ICRS to the true equator of date, sidereal time, velocity of light."""

    matrix: Array
    jd: float
    sidereal_rad: float
    velocity: Array

    def of_date(self, ra_deg: ArrayLike, dec_deg: ArrayLike) -> Array:
        """Apparent unit vectors of ICRS places on the true equator of date, shape (n, 3)."""
        return self.turned(directions(ra_deg, dec_deg))

    def turned(self, vectors: Array) -> Array:
        """Apparent unit vectors on the true equator of date of ICRS unit vectors (n, 3)."""
        vectors = vectors + self.velocity
        vectors /= np.linalg.norm(vectors, axis=1, keepdims=True)
        return np.asarray(vectors @ self.matrix.T)

    def icrs(self, vectors: Array) -> tuple[Array, Array]:
        """ICRS right ascension and declination, degrees, of apparent vectors of date (n, 3): `of_date` backwards."""
        x, y, z = (vectors @ self.matrix - self.velocity).T
        return np.degrees(np.arctan2(y, x)) % 360, np.degrees(np.arctan2(z, np.hypot(x, y)))

    def sidereal(self, jd_utc: ArrayLike) -> Array:
        """Apparent sidereal time at Greenwich, radians."""
        return self.sidereal_rad + 2 * np.pi * SIDEREAL_DAYS * (np.asarray(jd_utc, dtype=float) - self.jd)


@lru_cache(maxsize=1024)
def _frame(half_day: int) -> Frame:
    jd = half_day / 2
    tt = float(terrestrial(jd))
    earth = sofa().epv00(tt, 0.0)[1]["v"] / LIGHT_AU_PER_DAY
    return Frame(sofa().pnm06a(tt, 0.0), jd, float(sofa().gst06a(jd, 0.0, tt, 0.0)), earth)


def frame_of(jd_utc: ArrayLike) -> Frame:
    """The frame for a stretch of time: that of its middle, to half a day."""
    return _frame(round(2 * float(np.mean(np.asarray(jd_utc, dtype=float)))))


def sin_altitude(vectors: Array, jd_utc: Array, latitude_deg: float, longitude_deg: float, frame: Frame) -> Array:
    """Sines of altitudes of vectors (n, 3) at times (m,), shape (n, m). Source: spherical trigonometry."""
    theta = frame.sidereal(jd_utc) + np.radians(longitude_deg)
    phi = np.radians(latitude_deg)
    zenith = np.vstack([np.cos(phi) * np.cos(theta), np.cos(phi) * np.sin(theta), np.full(theta.shape, np.sin(phi))])
    return np.asarray(vectors @ zenith)


def alt_az(
    vectors: Array, jd_utc: Array, latitude_deg: float, longitude_deg: float, frame: Frame
) -> tuple[Array, Array]:
    """Altitude and azimuth of vectors (n, 3) at times (m,), shape (n, m) each, degrees."""
    theta = frame.sidereal(jd_utc) + np.radians(longitude_deg)
    phi = np.radians(latitude_deg)
    x, y, z = vectors[:, 0:1], vectors[:, 1:2], vectors[:, 2:3]
    along = x * np.cos(theta) + y * np.sin(theta)
    east = y * np.cos(theta) - x * np.sin(theta)
    up = np.cos(phi) * along + np.sin(phi) * z
    north = np.cos(phi) * z - np.sin(phi) * along
    return np.degrees(np.arcsin(np.clip(up, -1, 1))), np.mod(np.degrees(np.arctan2(east, north)), 360)


def airmass(altitude_deg: ArrayLike) -> Array:
    """Relative airmass of an apparent altitude; infinite below the horizon.

    Source: Kasten & Young 1989, Applied Optics 28, 4735: 1 / (sin h + 0.50572 (h + 6.07995)^−1.6364).
    """
    h = np.asarray(altitude_deg, dtype=float)
    safe = np.maximum(h, 0.0)
    made = 1 / (np.sin(np.radians(safe)) + 0.50572 * (safe + 6.07995) ** -1.6364)
    return np.asarray(np.where(h >= 0, made, np.inf))


def refraction(apparent_altitude_deg: ArrayLike) -> Array:
    """Refraction at an apparent altitude, arcminutes. Source: Bennett 1982, J. Navigation 35, 255."""
    h = np.asarray(apparent_altitude_deg, dtype=float)
    return np.asarray(1 / np.tan(np.radians(h + 7.31 / (h + 4.4))))


def separation(one: Array, other: Array) -> Array:
    """Angle between unit vectors (…, 3), degrees."""
    cross = np.linalg.norm(np.cross(one, other), axis=-1)
    return np.asarray(np.degrees(np.arctan2(cross, np.sum(one * other, axis=-1))))
