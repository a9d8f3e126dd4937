"""A whole list of objects over a night at once: how long each is usable, and how high it gets."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from dravel.core.model import Preferences, Target
from dravel.core.model.cancellation import check_cancelled
from dravel.core.sky.altaz import Array, Mask, alt_az, sin_altitude
from dravel.core.sky.appeal import appeal_of, shine_of
from dravel.core.sky.glow import shines_in_lines
from dravel.core.sky.night import STEP_MIN, Night, horizon_at

UNKNOWN_MAGNITUDE = 14.0


Names = np.ndarray[Any, np.dtype[np.str_]]


@dataclass(frozen=True)
class Facts:
    """A list of targets as arrays (n,): degrees, arcminutes (0 when unknown), magnitudes; `lines`: shines in lines; `shine`
    and `appeal` 0 to 1, see `appeal`; kinds by name.
    """

    ra: Array
    dec: Array
    major: Array
    minor: Array
    magnitude: Array
    lines: Mask
    shine: Array
    appeal: Array
    kind: Names

    def span(self, field: tuple[float, float]) -> Array:
        """How far each spans a field (degrees): the longer side against the longer, since a camera can be turned."""
        return np.maximum(self.major / 60 / max(field), self.minor / 60 / min(field))

    def part(self, rows: Mask) -> "Facts":
        """Only some of the rows."""
        return Facts(*(values[rows] for values in vars(self).values()))


_KNOWN: dict[int, tuple[tuple[Target, ...], Facts]] = {}
MOST_KNOWN = 4  # lists whose arrays are kept: the catalogue, and what is asked for beside it
BLOCK = 2048  # objects that are looked at together: so much memory a list of any length takes


def facts_of(targets: tuple[Target, ...]) -> Facts:
    """The list as arrays; kept for the last list of a length, since the catalogue is asked for again and again."""
    known = _KNOWN.get(len(targets))
    if known is not None and (known[0] is targets or known[0] == targets):
        return known[1]
    while len(_KNOWN) >= MOST_KNOWN:
        _KNOWN.pop(min(_KNOWN), None)
    made = Facts(
        ra=np.array([t.ra_deg for t in targets]),
        dec=np.array([t.dec_deg for t in targets]),
        major=np.array([t.major_arcmin or 0.0 for t in targets]),
        minor=np.array([t.minor_arcmin or t.major_arcmin or 0.0 for t in targets]),
        magnitude=np.array([UNKNOWN_MAGNITUDE if t.magnitude is None else t.magnitude for t in targets]),
        lines=np.array([shines_in_lines(t) for t in targets], dtype=bool),
        shine=np.array([shine_of(t) for t in targets], dtype=float),
        appeal=np.array([appeal_of(t) for t in targets], dtype=float),
        kind=np.array([t.kind for t in targets], dtype=str),
    )
    _KNOWN[len(targets)] = (targets, made)
    return made


@dataclass(frozen=True)
class Standing:
    """How a list stands on a night, arrays (n,): usable hours, best usable altitude (−90 where none), and at which
    step of the night; `vectors` (n, 3) of date."""

    hours: Array
    best_altitude_deg: Array
    best_step: Array
    vectors: Array


def standing(facts: Facts, night: Night, preferences: Preferences) -> Standing:
    """Usable hours and best altitudes of a list: dark, above the preferences' floor and clear of the site's horizon."""
    dark = np.flatnonzero(night.dark(preferences.darkness))
    vectors = night.frame.of_date(facts.ra, facts.dec)
    if len(dark) == 0 or len(vectors) == 0:
        nothing = np.zeros(len(vectors))
        return Standing(nothing, nothing - 90, nothing.astype(int), vectors)
    blocks = []
    for first in range(0, len(vectors), BLOCK):
        check_cancelled()
        blocks.append(_block(vectors[first : first + BLOCK], dark, night, preferences))
    hours, best, step = (np.concatenate(column) for column in zip(*blocks, strict=True))
    return Standing(hours, best, step, vectors)


def _block(
    vectors: Array, dark: "np.ndarray[tuple[int], np.dtype[np.int64]]", night: Night, preferences: Preferences
) -> tuple[Array, Array, Array]:  # fmt: skip
    """Hours, best altitude and the step of it for some vectors (n, 3), each (n,)."""
    jd, site = night.jd[dark], night.site
    sines = sin_altitude(vectors, jd, site.latitude_deg, site.longitude_deg, night.frame)
    usable = sines >= np.sin(np.radians(preferences.altitude_floor_deg))
    if site.horizon:
        _clip_horizon(usable, vectors, jd, night)
    held = np.where(usable, sines, -1)
    middle = np.argmax(held, axis=1)
    best = np.degrees(np.arcsin(np.clip(held[np.arange(len(held)), middle], -1, 1)))
    return usable.sum(axis=1) * STEP_MIN / 60, best, dark[middle]


def _clip_horizon(usable: Mask, vectors: Array, jd: Array, night: Night) -> None:
    """Take out what the site's own horizon hides; only objects that pass the floor are looked at."""
    site = night.site
    rows = np.flatnonzero(usable.any(axis=1))
    altitude, azimuth = alt_az(vectors[rows], jd, site.latitude_deg, site.longitude_deg, night.frame)
    usable[rows] &= altitude > horizon_at(site, azimuth.ravel()).reshape(azimuth.shape)
