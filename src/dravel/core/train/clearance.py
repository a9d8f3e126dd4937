"""Light clearance: every opening against the beam at its place, and how much light reaches each part of the sensor.

The telescope is taken as a thin lens with its aperture as the stop, a corrector as a thin lens at its rear shoulder.
Scalars and arrays in mm; illumination is the share of the unobstructed pupil, 0 to 1.
"""

import re
from dataclasses import dataclass
from math import pi

import numpy as np
from numpy.typing import NDArray

from dravel.core.model import CONNECTOR_SIZES, Camera, Preferences, Telescope, clear_of
from dravel.core.train.joints import front_of
from dravel.core.train.layout import Train
from dravel.core.train.lenses import factor_of, lenses

Array = NDArray[np.float64]

# Clear apertures of filters, mm: threaded ones by their thread, unmounted ones less the rim that holds them.
FILTER_SIZES = {"M28.5x0.6": 26.0, "31 mm": 29.0, "36 mm": 34.0, "M48x0.75": 45.0, "50 mm": 48.0, "65 mm": 62.5}


@dataclass(frozen=True)
class Beam:
    """Converging light. `lens` is where the corrector lies, `sensor` where the image falls, on the train's rule."""

    aperture: float
    obstruction: float
    focal_length: float
    factor: float
    lens: float
    sensor: float
    native_behind: float

    @classmethod
    def of(cls, train: Train) -> "Beam | None":
        """The beam of a rig that is in focus; None when a length, the telescope or the camera is missing."""
        telescope, sensor = train.light.telescope, train.sensor
        if telescope is None or sensor is None or train.actual is None:
            return None
        focal_length, aperture = telescope.used("focal_length_mm"), telescope.used("aperture_mm")
        if not focal_length or not aperture:
            return None
        factor, behind = 1.0, train.actual - train.glass_shift
        if behind <= 0:
            return None
        if train.corrector is not None:
            result = lenses(train)
            if not result:
                return None
            # Ahead of the last lens the cone is that of the telescope with the lenses before it.
            focal_length *= factor_of(result[:-1])
            factor, behind = result[-1].factor, result[-1].native
        if behind >= focal_length:
            return None
        share = telescope.blocked_share
        return cls(aperture, share, focal_length, factor, train.shoulder, sensor, behind)

    def at(self, place: float) -> tuple[float, float]:
        """Radius of the beam at a place, and how far its centre is off per mm of image height. Source: geometry."""
        full = self.sensor - self.lens
        radius = self.native_behind * self.aperture / (2 * self.focal_length)
        offset = (1 - self.native_behind / self.focal_length) / self.factor
        if place >= self.lens:
            share = min(max((self.sensor - place) / full, 0.0), 1.0)
            return radius * share, 1 + (offset - 1) * share
        native = self.native_behind + self.lens - place
        return (
            native * self.aperture / (2 * self.focal_length),
            max(1 - native / self.focal_length, 0.0) / self.factor,
        )


@dataclass(frozen=True)
class Opening:
    """Something light must pass: at `place` on the rule, `diameter` mm wide, with the beam there."""

    index: int
    name: str
    place: float
    diameter: float
    radius: float
    offset: float

    def needed(self, height_mm: float) -> float:
        """Diameter that lets the whole beam through to an image height, mm."""
        return 2 * (self.radius + self.offset * height_mm)


def openings(train: Train, beam: Beam, preferences: Preferences) -> tuple[Opening, ...]:
    """Every opening with a known diameter between the telescope's rear and the sensor, sky side first."""
    own = preferences.connector_sizes
    results: list[Opening] = []

    def add(index: int, name: str, place: float, diameter: float | None) -> None:
        if diameter is not None and place < beam.sensor - 0.5:
            results.append(Opening(index, name, place, diameter, *beam.at(place)))

    telescope = train.light.telescope
    if isinstance(telescope, Telescope) and telescope.design != "camera_lens" and train.laid:
        add(-1, f"rear of the {telescope.name}", train.laid[0].start, clear_of(telescope.sensor_side, own))
    for entry in train.laid:
        part = entry.part
        front, rear = clear_of(front_of(entry.item), own), clear_of(entry.item.part.sensor_side, own)
        add(entry.index, part.name, entry.start, front)
        if not isinstance(part, Camera) and rear is not None and (front is None or rear < front):
            add(entry.index, part.name, entry.end, rear)
        if entry.filter is not None:
            middle = (entry.start + entry.end) / 2
            add(entry.index, entry.filter.name, middle, filter_clear(entry.filter.size))
    return tuple(results)


def filter_clear(size: str) -> float | None:
    """Clear aperture of a filter, mm, from its size; None when the size says no number."""
    if size in FILTER_SIZES:
        return FILTER_SIZES[size]
    row = CONNECTOR_SIZES.get(size)
    if row:
        return row.clear_mm
    number = re.search(r"\d+(\.\d+)?", size)
    return float(number[0]) - 2 if number else None


def smallest_filter(needed_mm: float) -> str | None:
    """The smallest usual filter size that is clear for a beam, or None when none is."""
    return next(
        (size for size, clear in sorted(FILTER_SIZES.items(), key=lambda row: row[1]) if clear >= needed_mm), None
    )


def illumination(found: tuple[Opening, ...], heights_mm: Array, obstruction: float = 0.0, samples: int = 240) -> Array:
    """Share of the light at image heights, shape like `heights_mm`, behind all openings together.

    Every opening casts a circle into the pupil; their centres lie on one line, so that the area common to all is one
    integral along it. The central obstruction lies inside all of them. Source: geometry of vignetting.
    """
    along = (np.arange(samples) + 0.5) * 2 / samples - 1
    half = np.broadcast_to(np.sqrt(1 - along**2), (len(heights_mm), samples)).copy()
    for item in found:
        if item.radius <= 0:
            continue
        centre = -item.offset * heights_mm[:, np.newaxis] / item.radius
        inside = (item.diameter / 2 / item.radius) ** 2 - (along - centre) ** 2
        np.minimum(half, np.sqrt(np.maximum(inside, 0)), out=half)
    hole = np.sqrt(np.maximum(obstruction**2 - along**2, 0))
    area = np.maximum(half - hole, 0).sum(axis=1) * 2 * (2 / samples)
    whole = np.maximum(np.sqrt(1 - along**2) - hole, 0).sum() * 2 * (2 / samples)
    return np.asarray(area / whole)


def share_through(
    height_mm: float, diameters: tuple[float, ...], radii: tuple[float, ...], offsets: tuple[float, ...],
    obstruction: float,
) -> float:  # fmt: skip
    """Relative illumination at one image height behind openings of some diameters, with the beam's radius and shift at
    each. Source: as `illumination`."""
    rows = zip(diameters, radii, offsets, strict=True)
    result = tuple(Opening(i, "", 0.0, *row) for i, row in enumerate(rows))
    return float(illumination(result, np.array([height_mm]), obstruction)[0])


def through_one(radius: float, offset_mm: float, opening_mm: float) -> float:
    """Share of a beam (radius, centre off the axis) that passes one round opening: overlap of two circles, exact.

    Source: geometry. A wide opening passes 1, a beam wholly outside 0.
    """
    r, a, d = radius, opening_mm / 2, abs(offset_mm)
    if r <= 0:
        return 1.0 if d <= a else 0.0
    if d + r <= a:
        return 1.0
    if d >= r + a:
        return 0.0
    if d + a <= r:
        return (a / r) ** 2
    angle_r = np.arccos(np.clip((d * d + r * r - a * a) / (2 * d * r), -1, 1))
    angle_a = np.arccos(np.clip((d * d + a * a - r * r) / (2 * d * a), -1, 1))
    lens = r * r * (angle_r - np.sin(2 * angle_r) / 2) + a * a * (angle_a - np.sin(2 * angle_a) / 2)
    return float(lens / (pi * r * r))


def tightest(found: tuple[Opening, ...], height_mm: float) -> Opening | None:
    """The opening that takes the most light at an image height; None when none takes any."""
    worst = min(found, key=lambda o: through_one(o.radius, o.offset * height_mm, o.diameter), default=None)
    if worst is None or through_one(worst.radius, worst.offset * height_mm, worst.diameter) > 0.9995:
        return None
    return worst
