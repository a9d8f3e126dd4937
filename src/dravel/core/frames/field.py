"""How star shapes go over the field: smooth terms fitted to them, robustly, and what those terms say of tilt and curvature.

Of each star T = half the trace of its FWHM² matrix (how wide), and E = its ellipse's vector (how long, which way). Places are in
units of half the sensor's diagonal, so that a corner lies at 1.
"""

from math import atan2, degrees, hypot, sqrt

import numpy as np
from numpy.typing import NDArray

from dravel.core.frames.stars import Sources
from dravel.core.model.base import Model

Floats = NDArray[np.float64]
LEAST_STARS = 25
ROUNDS = 6
TUKEY = 4.0  # how many sigmas away a star counts no more
ZONES = 3


class Zone(Model):
    """A part of the sensor, a ninth of it: column and line from 0, median FWHM in px, elongation (long over short), angle in °."""

    column: int
    line: int
    stars: int
    fwhm_px: float | None
    elongation: float | None
    angle_deg: float | None


class FieldShape(Model):
    """The smooth shape of a field. All but `fwhm_px` are shares of T in the middle.

    `slope` how much T grows per half diagonal along x and y; `bowl` with r²; `saddle` the quadrupole (x² − y², 2xy); `uniform` E
    everywhere; `radial` E that grows outwards with r², along the radius above 0, around below it; `turning` E that grows with r²
    around a point but not along radius. `noise` is the scatter of E from star to star.
    """

    stars: int
    fwhm_px: float
    slope: tuple[float, float]
    bowl: float
    saddle: tuple[float, float]
    uniform: tuple[float, float]
    radial: float
    noise_t: float
    noise_e: float
    errors: tuple[float, float, float, float]  # of slope, bowl, uniform, radial
    middle_fwhm: float
    worst_corner: float

    @property
    def elongation(self) -> float:
        """Long over short axis of the ellipse that all stars share."""
        e = min(hypot(*self.uniform), 0.98)
        return sqrt((1 + e) / (1 - e))

    @property
    def angle_deg(self) -> float:
        """Which way the shared ellipse lies: from the sensor's width, towards its lower edge, 0 to 180."""
        return degrees(0.5 * atan2(self.uniform[1], self.uniform[0])) % 180

    @property
    def slope_size(self) -> float:
        """How steep T goes from one side to the other."""
        return hypot(*self.slope)

    @property
    def slope_deg(self) -> float:
        """Towards where the stars grow: from the width axis, 0 to 360, downwards positive."""
        return degrees(atan2(self.slope[1], self.slope[0])) % 360


class TooFewStars(ValueError):
    """Too few stars with a shape to say anything of the field."""


def shape_of(sources: Sources, width: int, height: int) -> FieldShape:
    """The smooth shape of a field from its stars. Raises `TooFewStars`."""
    u, v, t, e1, e2, weight = _terms(sources, width, height)
    if len(t) < LEAST_STARS:
        raise TooFewStars(f"{len(t)} stars with a shape that is sure; at least {LEAST_STARS} are needed for a map")
    r2 = u * u + v * v
    ones = np.ones_like(u)
    base_t = np.stack([ones, u, v, r2, u * u - v * v, 2 * u * v], 1)
    fit_t, err_t, noise_t = robust(base_t, t, weight)
    t0 = max(float(fit_t[0]), 1e-6)
    # E by T in the middle: what is added to all alike stays alike, though stars grow.
    base_1 = np.stack([ones, 0 * ones, u * u - v * v, u, v], 1)
    base_2 = np.stack([0 * ones, ones, 2 * u * v, u, v], 1)
    grow = np.zeros((2 * len(u), 7))
    grow[: len(u), :3], grow[len(u) :, :3] = base_1[:, :3], base_2[:, :3]
    grow[: len(u), 3:5], grow[len(u) :, 5:7] = base_1[:, 3:], base_2[:, 3:]
    fit_e, err_e, noise_e = robust(grow, np.concatenate([e1, e2]), np.concatenate([weight, weight]))
    corners = [(a * width, b * height) for a in (-0.5, 0.5) for b in (-0.5, 0.5)]
    half = hypot(width, height) / 2
    worst = max(
        float(
            fit_t @ [1, x / half, y / half, (x * x + y * y) / half**2, (x * x - y * y) / half**2, 2 * x * y / half**2]
        )
        for x, y in corners
    )
    return FieldShape(
        stars=len(t), fwhm_px=float(np.sqrt(np.median(np.sqrt(np.maximum(np.linalg.det(_kept(sources)), 0))))),
        slope=(float(fit_t[1]) / t0, float(fit_t[2]) / t0), bowl=float(fit_t[3]) / t0,
        saddle=(float(fit_t[4]) / t0, float(fit_t[5]) / t0), uniform=(float(fit_e[0]) / t0, float(fit_e[1]) / t0),
        radial=float(fit_e[2]) / t0, noise_t=noise_t / t0, noise_e=noise_e / t0,
        errors=(float(max(err_t[1], err_t[2])) / t0, float(err_t[3]) / t0, float(max(err_e[0], err_e[1])) / t0,
                float(err_e[2]) / t0),
        middle_fwhm=sqrt(t0), worst_corner=sqrt(max(worst, 0.0)),
    )  # fmt: skip


def _kept(sources: Sources) -> Floats:
    return sources.shapes[np.isfinite(sources.shapes[:, 0, 0])]


def _terms(sources: Sources, width: int, height: int) -> tuple[Floats, ...]:
    """Places, T, both parts of E, and weights of the stars with a shape."""
    keep = np.isfinite(sources.shapes[:, 0, 0])
    shapes, snr = sources.shapes[keep], sources.snr[keep]
    half = hypot(width, height) / 2
    u, v = (sources.x[keep] - (width - 1) / 2) / half, (sources.y[keep] - (height - 1) / 2) / half
    t = (shapes[:, 0, 0] + shapes[:, 1, 1]) / 2
    e1, e2 = (shapes[:, 0, 0] - shapes[:, 1, 1]) / 2, shapes[:, 0, 1]
    # Faint stars scatter more; the brightest all alike, by what air and sampling do.
    weight = 1 / (1 + (100 / np.maximum(snr, 1)) ** 2)
    return u, v, t, e1, e2, weight


def robust(base: Floats, values: Floats, weight: Floats) -> tuple[Floats, Floats, float]:
    """Coefficients, their errors, and the scatter: least squares that lets go of what lies far off (Tukey's biweight)."""
    w = weight.copy()
    fit: Floats = np.zeros(base.shape[1])
    sigma = 1.0
    for _ in range(ROUNDS):
        root = np.sqrt(w)
        fit = np.asarray(np.linalg.lstsq(base * root[:, None], values * root, rcond=None)[0], dtype=np.float64)
        left = values - base @ fit
        sigma = max(1.4826 * float(np.median(np.abs(left))), 1e-9)
        far = np.clip(np.abs(left) / (TUKEY * sigma), 0, 1)
        w = weight * (1 - far**2) ** 2
    root = np.sqrt(w)
    normal = (base * root[:, None]).T @ (base * root[:, None])
    spread = np.sqrt(np.maximum(np.diag(np.linalg.pinv(normal)), 0)) * sigma
    return fit, spread, sigma


def zones(sources: Sources, width: int, height: int) -> tuple[Zone, ...]:
    """The sensor in nine parts, line by line from the upper left."""
    keep = np.isfinite(sources.shapes[:, 0, 0])
    shapes, x, y = sources.shapes[keep], sources.x[keep], sources.y[keep]
    column = np.clip((x * ZONES / width).astype(int), 0, ZONES - 1)
    line = np.clip((y * ZONES / height).astype(int), 0, ZONES - 1)
    results = []
    for j in range(ZONES):
        for i in range(ZONES):
            mine = shapes[(column == i) & (line == j)]
            if len(mine) < 3:
                results.append(Zone(column=i, line=j, stars=len(mine), fwhm_px=None, elongation=None, angle_deg=None))
                continue
            mid = np.median(mine, axis=0)
            mean, half = (mid[0, 0] + mid[1, 1]) / 2, hypot((mid[0, 0] - mid[1, 1]) / 2, mid[0, 1])
            long, short = sqrt(max(mean + half, 0)), sqrt(max(mean - half, 1e-9))
            angle = degrees(0.5 * atan2(2 * mid[0, 1], mid[0, 0] - mid[1, 1])) % 180
            results.append(
                Zone(
                    column=i,
                    line=j,
                    stars=len(mine),
                    fwhm_px=sqrt(long * short),
                    elongation=long / short,
                    angle_deg=angle,
                )
            )
    return tuple(results)
