"""Sun, moon and bright planets: where they stand, how large and how bright.

Positions from `erfa` (SOFA): the Earth by `epv00`, the moon by `moon98` (after Meeus), planets by `plan94`. They are
computed at a few times and run straight between them, which costs less than 0.003°.
"""

import warnings
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from dravel.core.sky.altaz import LIGHT_AU_PER_DAY, Array, frame_of, separation, sofa, terrestrial

AU_KM = 149_597_870.7
MOON_RADIUS_KM = 1737.4
NODE_DAYS = 1 / 6

# erfa's number, equatorial radius in km (IAU 2015 report on cartographic coordinates).
PLANETS = {"Mercury": (1, 2440.5), "Venus": (2, 6051.8), "Mars": (4, 3396.2), "Jupiter": (5, 71492.0),
           "Saturn": (6, 60268.0), "Uranus": (7, 25559.0), "Neptune": (8, 24764.0)}  # fmt: skip


def _between(jd_utc: Array, body: object, step: float) -> Array:
    """A body's vectors (m, 3) at times, from nodes a step apart."""
    first, last = float(jd_utc.min()), float(jd_utc.max())
    count = max(2, int(np.ceil((last - first) / step)) + 1)
    nodes = np.linspace(first, last, count)
    at = body(terrestrial(nodes))  # type: ignore[operator]
    return np.column_stack([np.interp(jd_utc, nodes, at[:, k]) for k in range(3)])


def _sun(tt: Array) -> Array:
    return -np.asarray(sofa().epv00(tt, 0.0)[0]["p"])


def _moon(tt: Array) -> Array:
    return np.asarray(sofa().moon98(tt, 0.0)["p"])


def sun(jd_utc: Array, step: float = NODE_DAYS) -> Array:
    """Geocentric unit vectors of the sun on the true equator of date, shape (m, 3)."""
    vectors = _between(jd_utc, _sun, step)
    frame = frame_of(jd_utc)
    vectors = vectors / np.linalg.norm(vectors, axis=1, keepdims=True) + frame.velocity
    return np.asarray(vectors / np.linalg.norm(vectors, axis=1, keepdims=True) @ frame.matrix.T)


def sun_roughly(jd_utc: Array) -> Array:
    """As `sun`, from mean elements: within 0.02° for dates from 1950 to 2099, many times cheaper.

    Source: The Astronomical Almanac, low-precision formulas for the sun (from memory).
    """
    days = jd_utc - 2_451_545.0
    anomaly = np.radians(357.528 + 0.985_600_3 * days)
    longitude = np.radians(280.460 + 0.985_647_4 * days + 1.915 * np.sin(anomaly) + 0.020 * np.sin(2 * anomaly))
    tilt = np.radians(23.439 - 0.000_000_4 * days)
    north = np.sin(longitude)
    return np.column_stack([np.cos(longitude), north * np.cos(tilt), north * np.sin(tilt)])


@dataclass(frozen=True)
class Moon:
    """The moon over a stretch of time, as a place sees it. Arrays of shape (m,) and (m, 3)."""

    vectors: Array
    distance_km: Array
    illuminated: Array
    phase_angle_deg: Array

    @property
    def diameter_deg(self) -> Array:
        """Apparent diameter."""
        return np.asarray(np.degrees(2 * np.arcsin(MOON_RADIUS_KM / self.distance_km)))


def moon_place(
    jd_utc: Array, latitude_deg: float, longitude_deg: float, elevation_m: float = 0.0, step: float = NODE_DAYS
) -> tuple[Array, Array]:
    """Unit vectors (m, 3) and distance (m,) in km of the moon from a place: its parallax is up to a degree."""
    frame = frame_of(jd_utc)
    centre = _between(jd_utc, _moon, step) * AU_KM @ frame.matrix.T
    phi, height = np.radians(latitude_deg), elevation_m
    x, _, z = sofa().gd2gc(1, 0.0, phi, height) / 1000
    theta = frame.sidereal(jd_utc) + np.radians(longitude_deg)
    place = np.column_stack([x * np.cos(theta), x * np.sin(theta), np.full(theta.shape, z)])
    seen = centre - place
    distance = np.linalg.norm(seen, axis=1)
    return seen / distance[:, np.newaxis], distance


def moon(jd_utc: Array, latitude_deg: float, longitude_deg: float, elevation_m: float = 0.0) -> Moon:
    """The moon from a place, with its phase. Illumination after Meeus, ch. 48 (phase angle)."""
    vectors, distance = moon_place(jd_utc, latitude_deg, longitude_deg, elevation_m)
    towards_sun = sun(jd_utc)
    elongation = np.radians(separation(vectors, towards_sun))
    phase = np.arctan2(AU_KM * np.sin(elongation), distance - AU_KM * np.cos(elongation))
    return Moon(vectors, distance, (1 + np.cos(phase)) / 2, np.degrees(phase))


def planet(name: str, jd_utc: Array) -> tuple[Array, Array]:
    """A planet's ICRS unit vectors (m, 3) from the Earth's centre and its distance (m,) in AU, at times (m,).

    Light time is taken into account. Raises `KeyError` on an unknown name.
    """
    number = PLANETS[name][0]
    tt = terrestrial(jd_utc)
    earth = np.asarray(sofa().epv00(tt, 0.0)[0]["p"])
    light = np.zeros(tt.shape)
    for _ in range(2):
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # a date far ahead is only said to be dubious
            seen = np.asarray(sofa().plan94(tt - light, 0.0, number)["p"]) - earth
        distance = np.linalg.norm(seen, axis=1)
        light = distance / LIGHT_AU_PER_DAY
    return seen / distance[:, np.newaxis], distance


def planet_diameter_arcsec(name: str, distance_au: ArrayLike) -> Array:
    """Apparent equatorial diameter of a planet at a distance in AU."""
    radius = PLANETS[name][1]
    return np.asarray(np.degrees(2 * np.arcsin(radius / (np.asarray(distance_au) * AU_KM))) * 3600)


def vectors_of(
    name: str, jd_utc: Array, latitude_deg: float, longitude_deg: float, elevation_m: float = 0.0, step: float = 1.0
) -> Array:
    """Apparent unit vectors (m, 3) of date of the moon (from the place) or a planet; nodes `step` days apart.

    Raises `KeyError` on an unknown name.
    """
    if name == "Moon":
        return moon_place(jd_utc, latitude_deg, longitude_deg, elevation_m, step * NODE_DAYS)[0]
    first, last = float(jd_utc.min()), float(jd_utc.max())
    nodes = np.linspace(first, last, max(2, int(np.ceil((last - first) / step)) + 1))
    at = frame_of(jd_utc).turned(planet(name, nodes)[0])
    return np.column_stack([np.interp(jd_utc, nodes, at[:, k]) for k in range(3)])


def moonlight(
    phase_angle_deg: Array, separation_deg: Array, moon_altitude_deg: Array, altitude_deg: Array, dark_sky: float,
    extinction: float,
) -> Array:  # fmt: skip
    """How much the moon brightens the sky at an altitude, mag/arcsec² (0 when it is down; positive is brighter).

    `dark_sky` is the moonless sky at the zenith, mag/arcsec²; lower down there is more of it to drown. `extinction` in mag
    per airmass. Source: Krisciunas & Schaefer 1991, PASP 103, 1033 (from memory), eqs. 2 and 15 to 22; V band.
    """
    alpha = np.abs(phase_angle_deg)
    moonlit = 10 ** (-0.4 * (3.84 + 0.026 * alpha + 4e-9 * alpha**4))
    rho = np.asarray(separation_deg)
    scatter = 10**5.36 * (1.06 + np.cos(np.radians(rho)) ** 2) + 10 ** (6.15 - rho / 40)

    def path(altitude: Array) -> Array:
        return np.asarray((1 - 0.96 * np.sin(np.radians(90 - np.asarray(altitude))) ** 2) ** -0.5)

    light = scatter * moonlit * 10 ** (-0.4 * extinction * path(moon_altitude_deg))
    light = light * (1 - 10 ** (-0.4 * extinction * path(altitude_deg)))
    air = path(altitude_deg)
    dark = 34.08 * np.exp(20.7233 - 0.92104 * dark_sky) * air * 10 ** (-0.4 * extinction * (air - 1))
    gain = 2.5 * np.log10((light + dark) / dark)
    return np.where(np.asarray(moon_altitude_deg) > 0, gain, 0.0)
