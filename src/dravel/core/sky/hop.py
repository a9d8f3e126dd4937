"""The hop card: from a bright star to a target in steps of a field, for mounts that cannot centre themselves.

The chain of stars is the cheapest one from any bright star to the target, where every step fits in the field and
faint stars cost more than bright ones. Source: Dijkstra 1959, Numerische Mathematik 1, 269.
"""

from heapq import heapify, heappop, heappush
from math import ceil

import numpy as np

from dravel.core.model import Target
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, text
from dravel.core.sky.altaz import Array, Mask, directions, separation
from dravel.core.sky.projection import project

START_MAGNITUDE = 3.6
STEP_SHARE = 0.8  # of the field: the next star must still be seen while the last one leaves
FARTHEST_DEG = 25.0
BLANK_STEP_COST = 4.0
_POINTS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


class HopStar(Model):
    """A star of the chain, or the target at its end (no magnitude); a step without a star has neither."""

    ra_deg: float
    dec_deg: float
    at: tuple[float, float]
    magnitude: float | None
    name: str = ""


class Hop(Model):
    """One step: how far in fields and degrees, in which direction on the sky."""

    fields: float
    degrees: float
    towards_deg: float
    words: Text


class HopCard(Model):
    """The way to a target. Plane coordinates in degrees around the middle of the way: x east, y north."""

    target: str
    field_deg: float
    middle_ra_deg: float
    middle_dec_deg: float
    radius_deg: float
    stops: tuple[HopStar, ...]
    hops: tuple[Hop, ...]
    blank: bool


def hop_card(
    target: Target,
    field_deg: float,
    ra_deg: Array,
    dec_deg: Array,
    magnitude: Array,
    names: dict[int, str] | None = None,
) -> HopCard:
    """The way to a target from a bright star, in a field of that diameter, over stars given as arrays (n,), ICRS.

    `names` are those of some stars by their row. Where no chain of stars leads there, the last stretch goes in equal
    blank steps (`blank`). Raises `ValueError` when no bright star is within 25 degrees.
    """
    end = directions(target.ra_deg, target.dec_deg)
    vectors = directions(ra_deg, dec_deg)
    apart = separation(vectors, end[0])
    near = np.flatnonzero((apart <= FARTHEST_DEG) & (magnitude <= _faintest(field_deg)))
    bright = near[magnitude[near] <= START_MAGNITUDE]
    if len(bright) == 0:
        raise ValueError(f"target: no star of magnitude {START_MAGNITUDE} within {FARTHEST_DEG:.0f}° of it")
    rows = near[apart[near] <= max(apart[bright].min() * 1.6, 4 * field_deg)]
    rows = np.union1d(rows, bright)
    chain, blank = _chain(vectors[rows], magnitude[rows], np.isin(rows, bright), end[0], STEP_SHARE * field_deg)
    stars = rows[chain]
    ra, dec = [float(v) for v in ra_deg[stars]], [float(v) for v in dec_deg[stars]]
    mags: list[float | None] = [float(v) for v in magnitude[stars]]
    lines = [(names or {}).get(int(row), "") for row in stars]
    if blank:
        way = _blank_steps(vectors[stars[-1]], end[0], STEP_SHARE * field_deg)
        ra += [float(r) for r, _ in way]
        dec += [float(d) for _, d in way]
        mags += [None] * len(way)
        lines += [""] * len(way)
    ra, dec = [*ra, target.ra_deg], [*dec, target.dec_deg]
    mags, lines = [*mags, None], [*lines, target.name]
    points = directions(ra, dec)
    middle = points.min(axis=0) + points.max(axis=0)
    middle_ra = float(np.degrees(np.arctan2(middle[1], middle[0])) % 360)
    middle_dec = float(np.degrees(np.arctan2(middle[2], np.hypot(middle[0], middle[1]))))
    x, y = project(np.array(ra), np.array(dec), middle_ra, middle_dec)
    stops = tuple(
        HopStar(ra_deg=ra[i], dec_deg=dec[i], at=(round(float(x[i]), 5), round(float(y[i]), 5)), magnitude=mags[i],
                name=lines[i])
        for i in range(len(ra))
    )  # fmt: skip
    return HopCard(
        target=target.name,
        field_deg=field_deg,
        middle_ra_deg=middle_ra,
        middle_dec_deg=middle_dec,
        radius_deg=float(np.hypot(x, y).max()) + field_deg,
        stops=stops,
        hops=tuple(_hop(points[i], points[i + 1], field_deg) for i in range(len(points) - 1)),
        blank=blank,
    )


def _faintest(field_deg: float) -> float:
    """Stars worth looking for: brighter ones in a wide field, where there are enough of them."""
    return float(np.clip(9.0 - 2.0 * np.log2(max(field_deg, 0.1) / 1.5), 6.0, 10.0))


def _chain(vectors: Array, magnitude: Array, bright: Mask, end: Array, step_deg: float) -> tuple[list[int], bool]:
    """Rows from a bright star towards the target, and whether the last of them is farther from it than a step."""
    goal = len(vectors)
    nodes = np.vstack([vectors, end])
    price = np.append(np.clip((magnitude - 4) / 3, 0, 2), 0.0)
    within = np.cos(np.radians(step_deg))
    cost, before = np.full(goal + 1, np.inf), np.full(goal + 1, -1)
    cost[np.flatnonzero(bright)] = magnitude[bright] / 2
    waiting = [(float(cost[i]), int(i)) for i in np.flatnonzero(bright)]
    heapify(waiting)
    while waiting and np.isinf(cost[goal]):
        so_far, i = heappop(waiting)
        if so_far > cost[i]:
            continue
        near = np.flatnonzero(nodes @ nodes[i] >= within)
        for j in near[cost[near] > so_far + 1]:
            through = so_far + 1 + float(price[i] + price[j]) / 2
            if through < cost[j]:
                cost[j], before[j] = through, i
                heappush(waiting, (through, int(j)))
    blank = bool(np.isinf(cost[goal]))
    # A star that no chain joins to the target may still lead near it; a blank step costs several with a star.
    last = (
        int(np.argmin(cost[:goal] + separation(vectors, end) / step_deg * BLANK_STEP_COST)) if blank else before[goal]
    )
    chain = [int(last)]
    while before[chain[-1]] >= 0:
        chain.append(int(before[chain[-1]]))
    return chain[::-1], blank


def _blank_steps(start: Array, end: Array, step_deg: float) -> list[tuple[float, float]]:
    """Even steps along the great circle between two unit vectors, ends left out, as RA and declination."""
    angle = np.radians(separation(start, end))
    count = ceil(float(np.degrees(angle)) / step_deg)
    results = []
    for k in range(1, count):
        part = k / count
        at = (np.sin((1 - part) * angle) * start + np.sin(part * angle) * end) / np.sin(angle)
        results.append((float(np.degrees(np.arctan2(at[1], at[0])) % 360), float(np.degrees(np.arcsin(at[2])))))
    return results


def _hop(one: Array, other: Array, field_deg: float) -> Hop:
    """A step between two unit vectors; the direction is the position angle at its start. Source: spherical trigonometry."""
    degrees = float(separation(other, one))
    north = np.array([0.0, 0.0, 1.0])
    east = np.cross(north, one)
    towards = float(np.degrees(np.arctan2(other @ east, other[2] - one[2] * (one @ other))) % 360)
    fields = degrees / field_deg
    point = _POINTS[round(towards / 45) % 8]
    return Hop(
        fields=fields,
        degrees=degrees,
        towards_deg=towards,
        words=text(
            "{fields} field {point}, {degrees}",
            fields=Value(fields, digits=1),
            point=point,
            degrees=Value(degrees, "°", 1),
        ),
    )
