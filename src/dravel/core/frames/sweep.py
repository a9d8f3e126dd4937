"""A focus sweep: a few frames through focus, each star's squared width a parabola of where the focuser stood.

The parabola's middle moves over the field as the sensor leans and the field curves: tilt with its sign, which no single frame gives.
A blur disc of D px widens FWHM² by (k·D)² (see `disc_share`): by that the stars also say how far one step of the focuser goes.
"""

from math import atan2, degrees, hypot, sqrt

import numpy as np
from numpy.typing import NDArray

from dravel.core.frames.field import TooFewStars, robust
from dravel.core.frames.reading import FrameReading
from dravel.core.model.base import Model

Floats = NDArray[np.float64]
LEAST_FRAMES, LEAST_STARS = 4, 80
# A full disc's share, and what an obstruction adds by its area; from drawn discs and rings under seeing.
DISC, RING = 0.70, 0.5
SURE = 3.0


class FocusSweep(Model):
    """What a sweep says. Lengths in µm along the light: `tilt_um` from one edge of the sensor's width to the other, rising towards
    `tilt_deg` (from the width axis towards the lower edge, 0 to 360: there the focus lies farther out by the focuser's scale);
    `curved_um` at the corner. `best` in the focuser's own steps, each `step_um`, as the stars tell.
    `corners_um`: where focus lies at the upper left, upper right, lower left and lower right, against the middle.
    """

    frames: int
    stars: int
    best: float
    step_um: float
    fwhm_px: float
    tilt_um: float
    tilt_deg: float
    curved_um: float
    tilt_error_um: float
    curved_error_um: float
    corners_um: tuple[float, float, float, float]


class NoSweep(ValueError):
    """The frames are no sweep that could be read, and why. `meant`: whether they look like one at all."""

    def __init__(self, words: str, *, meant: bool = True) -> None:
        super().__init__(words)
        self.meant = meant


def disc_share(obstruction: float) -> float:
    """How much of a blur disc's diameter adds to FWHM in quadrature, by the obstruction's share of the aperture. Dravel's own, from
    drawn discs and rings under seeing.
    """
    return DISC + RING * min(max(obstruction, 0.0), 0.6) ** 2


def sweep(
    readings: tuple[FrameReading, ...], steps: tuple[float, ...], ratio: float, pixel_um: float, obstruction: float = 0.0,
) -> FocusSweep:  # fmt: skip
    """Read a sweep: frames with where the focuser stood at each, (n,). Raises `NoSweep`, `TooFewStars`."""
    if len(set(steps)) < LEAST_FRAMES:
        raise NoSweep(f"{len(set(steps))} places of the focuser: at least {LEAST_FRAMES} are needed, five are better")
    width, height = readings[0].width, readings[0].height
    if any((reading.width, reading.height) != (width, height) for reading in readings):
        raise NoSweep("the frames differ in size")
    z, u, v, t = _stars(readings, steps)
    if len(t) < LEAST_STARS:
        raise TooFewStars(f"{len(t)} stars over {len(readings)} frames: at least {LEAST_STARS} are needed")
    tall = height / width
    scale = float(np.ptp(z)) / 2
    about = float(np.mean(z))
    s = (z - about) / scale
    r2 = (u * u + v * v) / (0.25 * (1 + tall * tall))  # the corner at 1
    base = np.stack(
        [s * s, s, s * u, s * v, s * r2, np.ones_like(u), u, v, u * u, u * v, v * v, u * r2, v * r2, r2 * r2], 1
    )
    fit, spread, _ = robust(base, t, np.ones_like(t))
    k = float(fit[0])
    if k <= 0 or k < SURE * float(spread[0]):
        raise NoSweep("stars hardly grow over the sweep: take wider steps", meant=False)
    best, across, along, curve = (-float(item) / (2 * k) * scale for item in fit[1:5])
    if abs(best) > 1.2 * scale:
        raise NoSweep("best focus is outside the sweep: take frames on both sides of focus")
    per_step = sqrt(k) / scale  # px of width a step
    step = per_step * ratio * pixel_um / disc_share(obstruction)
    wrong = float(np.hypot(*spread[2:4])) / sqrt(2) / (2 * k) * scale * step
    flat = float(fit[5]) - k * (best / scale) ** 2
    corners = [across * a + along * b * tall + curve for b in (-0.5, 0.5) for a in (-0.5, 0.5)]
    return FocusSweep(
        frames=len(readings), stars=len(t), best=round(about + best, 3), step_um=step,
        fwhm_px=sqrt(max(flat, 0.0)), tilt_um=hypot(across, along) * step, tilt_deg=degrees(atan2(along, across)) % 360,
        curved_um=curve * step, tilt_error_um=wrong, curved_error_um=float(spread[4]) / (2 * k) * scale * step,
        corners_um=(corners[0] * step, corners[1] * step, corners[2] * step, corners[3] * step),
    )  # fmt: skip


def _stars(readings: tuple[FrameReading, ...], steps: tuple[float, ...]) -> tuple[Floats, Floats, Floats, Floats]:
    """Of all stars: the focuser's place, x and y from the middle by the width, and T, half the trace of FWHM², px²."""
    rows = [
        (at, star.x - 0.5, (star.y - 0.5) * item.height / item.width, star.fwhm_px**2 * (star.elongation + 1 / star.elongation) / 2)
        for item, at in zip(readings, steps, strict=True)
        for star in item.stars
        if star.elongation > 0
    ]  # fmt: skip
    result = np.array(rows, dtype=float).reshape(-1, 4)
    return result[:, 0], result[:, 1], result[:, 2], result[:, 3]
