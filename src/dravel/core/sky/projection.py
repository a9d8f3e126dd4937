"""Gnomonic (tangent-plane) projection. Angles in degrees; arrays of any shape that broadcast together.

Source: Calabretta & Greisen 2002, A&A 395, 1077, § 5.1.3 (TAN). Plane coordinates are in degrees of arc at the
tangent point, x towards east, y towards north.
"""

from collections.abc import Iterable, Sequence

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


def project(ra_deg: ArrayLike, dec_deg: ArrayLike, ra0_deg: ArrayLike, dec0_deg: ArrayLike) -> tuple[Array, Array]:
    """Sky to plane around (ra0, dec0). Points on the far hemisphere come back as NaN."""
    dec = np.radians(np.asarray(dec_deg, dtype=float))
    delta = np.radians(np.asarray(ra_deg, dtype=float) - np.asarray(ra0_deg, dtype=float))
    dec0 = np.radians(np.asarray(dec0_deg, dtype=float))
    sin_d, cos_d, sin_0, cos_0 = np.sin(dec), np.cos(dec), np.sin(dec0), np.cos(dec0)
    depth = sin_0 * sin_d + cos_0 * cos_d * np.cos(delta)
    depth = np.where(depth > 1e-6, depth, np.nan)
    x = cos_d * np.sin(delta) / depth
    y = (cos_0 * sin_d - sin_0 * cos_d * np.cos(delta)) / depth
    return np.degrees(x), np.degrees(y)


def deproject(x_deg: ArrayLike, y_deg: ArrayLike, ra0_deg: float, dec0_deg: float) -> tuple[Array, Array]:
    """Plane to sky; the inverse of `project`. Right ascension comes back in [0, 360)."""
    x, y = np.radians(np.asarray(x_deg, dtype=float)), np.radians(np.asarray(y_deg, dtype=float))
    dec0 = np.radians(dec0_deg)
    sin_0, cos_0 = np.sin(dec0), np.cos(dec0)
    across = cos_0 - y * sin_0
    ra = ra0_deg + np.degrees(np.arctan2(x, across))
    dec = np.degrees(np.arctan2(sin_0 + y * cos_0, np.hypot(x, across)))
    return np.mod(ra, 360.0), dec


def lines_within(
    levels: Iterable[Iterable[Sequence[tuple[float, float]]]], ra0_deg: float, dec0_deg: float, radius_deg: float
) -> list[tuple[tuple[float, float], ...]]:
    """The pieces of lines on the sky, points of (RA, declination), that pass within a radius, on the plane around
    (ra0, dec0), degrees; cut where they leave it."""
    results: list[tuple[tuple[float, float], ...]] = []
    for line in (line for lines in levels for line in lines):
        x, y = project([point[0] for point in line], [point[1] for point in line], ra0_deg, dec0_deg)
        inside = np.nan_to_num(np.hypot(x, y), nan=np.inf) <= radius_deg
        keep = inside.copy()
        keep[1:] |= inside[:-1]
        keep[:-1] |= inside[1:]
        keep &= np.isfinite(x)
        edges = np.flatnonzero(np.diff(np.concatenate([[False], keep, [False]]).astype(int)))
        for start, end in zip(edges[::2], edges[1::2], strict=True):
            if end - start > 1:
                results.append(
                    tuple(
                        (round(float(a), 3), round(float(b), 3))
                        for a, b in zip(x[start:end], y[start:end], strict=True)
                    )
                )
    return results
