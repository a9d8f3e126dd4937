"""A series of spacings: how wide the corners are over the middle, at three spacings and more, is a parabola; its foot is the best."""

from math import hypot, sqrt

import numpy as np

from dravel.core.frames.field import FieldShape
from dravel.core.model.base import Model

LEAST = 3
SURE = 3.0
SHAPE = 0.05  # of the span: corners far out grow otherwise than by squares
BEYOND = 0.5  # of the span of the series: a foot farther out is a guess


class SpacingPoint(Model):
    """One frame of a series: its spacing, mm, and by how many px² corners are wider than the middle; its error."""

    spacing_mm: float
    corner_px2: float
    error_px2: float


class SpacingSeries(Model):
    """The best spacing and its error, mm, and the parabola it lies under: `floor_px2` + `steep` · (s − best)²."""

    best_mm: float
    error_mm: float
    floor_px2: float
    steep: float
    points: tuple[SpacingPoint, ...]


class NoSeries(ValueError):
    """The frames are no series that could be read, and why."""


def point_of(field: FieldShape, spacing_mm: float) -> SpacingPoint:
    """A frame's field as a point of a series: the bowl of its squared widths."""
    middle = field.middle_fwhm**2
    return SpacingPoint(
        spacing_mm=spacing_mm, corner_px2=field.bowl * middle, error_px2=max(field.errors[1] * middle, 1e-3)
    )


def series(points: tuple[SpacingPoint, ...]) -> SpacingSeries:
    """The best of a series of spacings. Raises `NoSeries`: too few, or corners that do not follow the spacing, or a foot outside."""
    s = np.array([point.spacing_mm for point in points])
    if len(set(s.round(3))) < LEAST:
        raise NoSeries(f"{len(set(s.round(3)))} spacings: three different ones are needed")
    y = np.array([point.corner_px2 for point in points])
    sigma = np.array([point.error_px2 for point in points])
    about, span = float(s.mean()), float(np.ptp(s))
    x = (s - about) / span
    base = np.stack([np.ones_like(x), x, x * x], 1) / sigma[:, None]
    covariance = np.linalg.inv(base.T @ base)
    fit = covariance @ base.T @ (y / sigma)
    if len(points) > LEAST:  # where they scatter more than their errors, that is the error
        left = float((((y / sigma) - base @ fit) ** 2).sum()) / (len(points) - LEAST)
        covariance *= max(left, 1.0)
    flat, slope, bend = (float(item) for item in fit)
    if bend <= 0 or bend < SURE * sqrt(float(covariance[2, 2])):
        falls = abs(slope) > SURE * sqrt(float(covariance[1, 1]))
        if falls:
            way = "shorter" if slope > 0 else "longer"
            raise NoSeries(
                f"corners get better towards the {way} spacing all along: take another frame {span:.1f} mm {way}"
            )
        raise NoSeries("corners hardly differ between these spacings: take them farther apart")
    at = -slope / (2 * bend)
    by = np.array([0.0, -1 / (2 * bend), slope / (2 * bend * bend)])
    wrong = hypot(sqrt(float(by @ covariance @ by)), SHAPE) * span
    if abs(at) > 0.5 + BEYOND:
        way = "shorter" if at < 0 else "longer"
        raise NoSeries(
            f"the optimum is outside the series, towards {about + at * span:.1f} mm: take another frame {way}"
        )
    return SpacingSeries(
        best_mm=round(about + at * span, 3), error_mm=round(wrong, 3), floor_px2=flat - bend * at * at, steep=bend / span**2,
        points=tuple(sorted(points, key=lambda item: item.spacing_mm)),
    )  # fmt: skip
