"""Where a frame points: its brightest stars met with those of the star list, by triangles whose shape does not change with scale or turn.

The centre must be known to about a field and the scale to a tenth. Triangles that agree vote for a place; each place is then
proven by all stars, and taken only where so many would not meet by accident. Method: Groth 1986, AJ 91, 1244.
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from math import cos, lgamma, log, log1p, pi, sin

import numpy as np
from numpy.typing import NDArray

from dravel.core.frames.solution import Solution
from dravel.core.model.words import Value, text
from dravel.core.sky.projection import deproject, project

Array = NDArray[np.float64]
FROM_FRAME = 26  # of its brightest stars make triangles
AROUND = 0.62  # of the diagonal: how far about a tried centre the list is looked at
MOST_LISTED = 110
TRIED = ((0.0, 1), (0.32, 6))  # centres tried: on rings about the believed one, by the diagonal, and how many
SCALE_OFF = 0.10
LIKE = 0.006  # how far side ratios may differ: pixels, proper motion, and the plane about another centre
PLACES = 12  # that are looked at closer
CLOSE_PX = (8.0, 8.0, 4.0, 2.5)  # by which a star may miss, pass by pass
BENT = 0.12  # and more in the first, of the diagonal by the field in radians squared: the plane about another centre
LEAST_MET, CHANCE = 5, -9.0
TOO_FEW = 7


@dataclass(frozen=True)
class Listed:
    """Stars of a list: ICRS degrees and magnitudes, (n,), brightest first."""

    ra_deg: Array
    dec_deg: Array
    magnitude: Array


class Unsolved(ValueError):
    """The stars tell no place, and why."""


def solve(
    x: Array, y: Array, width: int, height: int, scale_arcsec: float, ra_deg: float, dec_deg: float, listed: Listed
) -> Solution:
    """Solve a frame. `x`, `y`: its stars in pixels, brightest first, (n,); scale and centre as they are believed.

    Raises `Unsolved`: too few stars in the list for so small a field, or no place that would not be an accident.
    """  # fmt: skip
    field = float(np.hypot(width, height)) * scale_arcsec / 3600
    share = pi * AROUND**2 * (width**2 + height**2) / (width * height)  # of the looked-at patch to the frame
    most_in_field = 0.0
    mine = (x - (width - 1) / 2) + 1j * (y - (height - 1) / 2)
    if len(x) >= LEAST_MET:
        for ring, count in TRIED:
            for k in range(count):
                turn = 2 * pi * k / count
                ra, dec = (
                    float(v) for v in deproject(ring * field * cos(turn), ring * field * sin(turn), ra_deg, dec_deg)
                )
                xi, eta = project(listed.ra_deg, listed.dec_deg, ra, dec)
                near = np.flatnonzero(np.hypot(xi, eta) < AROUND * field)
                most_in_field = max(most_in_field, len(near) / share)
                some = near[: int(min(MOST_LISTED, 1.15 * share * FROM_FRAME))]
                if len(some) < LEAST_MET:
                    continue
                sky = xi[some] + 1j * eta[some]
                for place in _places(mine[:FROM_FRAME], sky, scale_arcsec / 3600, (width, height)):
                    result = _proven(place, mine, (width, height), scale_arcsec, (ra, dec), listed)
                    if result is not None:
                        return result
    if len(x) < TOO_FEW:
        raise Unsolved(f"the frame has {len(x)} stars: too few to tell the place from an accident")
    if most_in_field < TOO_FEW:
        few = text(
            "the list to magnitude 10 has about {most_in_field} stars in such a field",
            most_in_field=Value(most_in_field, digits=0),
        )
        raise Unsolved(f"{few}: too few to tell the place from an accident")
    raise Unsolved("no match: check target and focal length")


@lru_cache(maxsize=256)
def _threes(count: int) -> NDArray[np.int64]:
    """All threes of so many, (m, 3)."""
    return np.array(list(combinations(range(count), 3)), dtype=np.int64).reshape(-1, 3)


def _triangles(z: NDArray[np.complex128], longest: float) -> tuple[Array, NDArray[np.int64], NDArray[np.bool_]]:
    """Triangles of stars: (m, 3) of two side ratios and log of the longest side; corners ordered by the side that faces them,
    shortest first, (m, 3); which way round they run, (m,).
    """
    corner = _threes(len(z))
    sides = np.abs(
        np.stack(
            [z[corner[:, 1]] - z[corner[:, 2]], z[corner[:, 0]] - z[corner[:, 2]], z[corner[:, 0]] - z[corner[:, 1]]], 1
        )
    )
    order = np.argsort(sides, axis=1)
    sides = np.take_along_axis(sides, order, 1)
    keep = (sides[:, 2] < longest) & (sides[:, 0] > 0.08 * sides[:, 2])
    corner = np.take_along_axis(corner, order, 1)[keep]
    sides = sides[keep]
    item, two = z[corner[:, 1]] - z[corner[:, 0]], z[corner[:, 2]] - z[corner[:, 0]]
    shape = np.stack([sides[:, 0] / sides[:, 2], sides[:, 1] / sides[:, 2], np.log(sides[:, 2])], 1)
    return shape, corner, (item.conj() * two).imag > 0


def _places(
    mine: NDArray[np.complex128], sky: NDArray[np.complex128], degrees_px: float, size: tuple[int, int]
) -> list[tuple[complex, complex, bool]]:
    """Places most triangles vote for: sky = a · z + b, z the frame's plane, mirrored or not."""  # fmt: skip
    diagonal = float(np.hypot(*size))
    shape, corner, way = _triangles(mine, 1.01 * diagonal)
    theirs, their_corner, their_way = _triangles(sky / degrees_px, 1.12 * diagonal)
    # Sorted by size in steps of the scale's doubt, within them by the first ratio: what may fit lies in three short runs.
    step = log(1 + SCALE_OFF)
    key = 10 * np.floor(theirs[:, 2] / step) + theirs[:, 0]
    order = np.argsort(key)
    key, theirs, their_corner, their_way = key[order], theirs[order], their_corner[order], their_way[order]
    pairs = []
    for beside in (-1, 0, 1):
        wanted = 10 * (np.floor(shape[:, 2] / step) + beside) + shape[:, 0]
        low, high = np.searchsorted(key, wanted - LIKE), np.searchsorted(key, wanted + LIKE)
        count = high - low
        mine_of = np.repeat(np.arange(len(shape)), count)
        theirs_of = np.repeat(low - np.concatenate([[0], np.cumsum(count)[:-1]]), count) + np.arange(count.sum())
        fits = np.abs(shape[mine_of, 1] - theirs[theirs_of, 1]) < LIKE
        fits &= np.abs(shape[mine_of, 2] - theirs[theirs_of, 2]) < step
        pairs.append((mine_of[fits], theirs_of[fits]))
    own, other = (np.concatenate([pair[k] for pair in pairs]) for k in (0, 1))
    mirror = way[own] != their_way[other]
    z, w = mine[corner[own]], sky[their_corner[other]]
    z = np.where(mirror[:, None], z.conj(), z)
    mid_z, mid_w = z.mean(1, keepdims=True), w.mean(1, keepdims=True)
    a = ((z - mid_z).conj() * (w - mid_w)).sum(1) / (np.abs(z - mid_z) ** 2).sum(1)
    b = mid_w[:, 0] - a * mid_z[:, 0]
    # Votes: those that agree in scale, turn and centre. Cells overlap by half, so that none is cut in two.
    bin_ = np.stack(
        [
            np.log(np.abs(a)) / 0.01,
            np.degrees(np.angle(a)) / 2,
            b.real / (0.02 * diagonal * degrees_px),
            b.imag / (0.02 * diagonal * degrees_px),
        ],
        1,
    )
    results: list[tuple[int, complex, complex, bool]] = []
    for shift in (0.0, 0.5):
        for turned in (False, True):
            some = np.flatnonzero(mirror == turned)
            if not len(some):
                continue
            _, index, votes = np.unique(
                np.floor(bin_[some] + shift).astype(np.int64), axis=0, return_inverse=True, return_counts=True
            )
            index = index.ravel()
            for cell in np.argsort(-votes)[:PLACES]:
                those = some[index == cell]
                results.append(
                    (
                        int(votes[cell]),
                        complex(np.median(a[those].real), np.median(a[those].imag)),
                        complex(np.median(b[those].real), np.median(b[those].imag)),
                        turned,
                    )
                )
    return [(a_, b_, turned) for _, a_, b_, turned in sorted(results, key=lambda item: -item[0])[: 2 * PLACES]]


def _proven(
    place: tuple[complex, complex, bool], mine: NDArray[np.complex128], size: tuple[int, int], scale_arcsec: float,
    about: tuple[float, float], listed: Listed,
) -> Solution | None:  # fmt: skip
    """A place held against all stars, fitted anew about its own centre pass by pass; None where it could be an accident."""
    a, b, turned = place
    z = mine.conj() if turned else mine
    ra, dec = about
    met: tuple[NDArray[np.int64], NDArray[np.int64]] = (np.empty(0, np.int64), np.empty(0, np.int64))
    inside, apart = np.empty(0, np.int64), np.empty(0)
    diagonal = float(np.hypot(*size))
    bent = BENT * (diagonal * np.radians(scale_arcsec / 3600)) ** 2 * diagonal
    for close in (CLOSE_PX[0] + bent, *CLOSE_PX[1:]):
        moved_ra, moved_dec = deproject(b.real, b.imag, ra, dec)
        ra, dec, b = float(moved_ra), float(moved_dec), 0j
        xi, eta = project(listed.ra_deg, listed.dec_deg, ra, dec)
        with np.errstate(invalid="ignore"):
            there = (xi + 1j * eta) / a
            there = there.conj() if turned else there
            inside = np.flatnonzero((np.abs(there.real) < size[0] / 2) & (np.abs(there.imag) < size[1] / 2))[:400]
        if len(inside) < LEAST_MET:
            return None
        away = np.abs(there[inside][:, None] - mine[None, :])
        nearest = away.argmin(1)
        good = away[np.arange(len(inside)), nearest] < close
        met = (inside[good], nearest[good])
        if len(met[0]) < LEAST_MET:
            return None
        w, own = (xi + 1j * eta)[met[0]], z[met[1]]
        a_new = ((own - own.mean()).conj() * (w - w.mean())).sum() / max(
            float((np.abs(own - own.mean()) ** 2).sum()), 1e-12
        )
        b = complex(w.mean() - a_new * own.mean())
        a = complex(a_new)
        apart = np.abs(w - a * own - b) / abs(a)
    scale = abs(a) * 3600
    chance = _log_chance(len(inside), len(np.unique(met[1])), len(mine) * pi * CLOSE_PX[-1] ** 2 / (size[0] * size[1]))
    if chance > CHANCE or abs(scale / scale_arcsec - 1) > 1.3 * SCALE_OFF or len(np.unique(met[1])) < LEAST_MET:
        return None
    ra_found, dec_found = deproject(b.real, b.imag, ra, dec)
    turn = np.arctan2(a.imag, -a.real) if turned else np.arctan2(-a.imag, a.real)
    return Solution(
        scale_arcsec=round(scale, 5), rotation_deg=round(float(np.degrees(turn)) % 360, 3), mirrored=not turned,
        centre_ra_deg=round(float(ra_found), 5), centre_dec_deg=round(float(dec_found), 5), matched=len(np.unique(met[1])),
        listed=len(inside), miss_px=round(float(np.median(apart)), 3), chance_log10=round(max(chance, -300.0), 1),
    )  # fmt: skip


def _log_chance(tried: int, met: int, likely: float) -> float:
    """log10 of the chance that at least so many of the listed stars meet one of the frame's by accident (the binomial's tail, by its
    first term), with every place looked at counted.
    """
    share = min(max(likely, 1e-12), 0.999)
    if met <= tried * share:
        return 0.0
    first = (
        lgamma(tried + 1) - lgamma(met + 1) - lgamma(tried - met + 1) + met * log(share) + (tried - met) * log1p(-share)
    )
    return first / log(10) + 4.0  # some ten thousand places: rounds, turns, centres
