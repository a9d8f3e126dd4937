"""Frames of a night in the order they were taken: how stars and sky went on."""

from datetime import UTC, datetime
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from dravel.core.frames.reading import FrameReading
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, text

LEAST = 3
NIGHT_H = 16.0
SURE = 3.0
GROWS, LONGER, SKY = (
    0.05,
    0.03,
    0.1,
)  # an hour: shares of the width, of the elongation, of the sky, that are worth a word


class TrendPoint(Model):
    """A frame of a night: hours since the first, FWHM in px, long over short, sky in the frame's units, stars found."""

    name: str
    hours: float
    fwhm_px: float
    elongation: float
    sky_adu: float
    found: int


class NightTrend(Model):
    """The newest night's frames in order, and what goes on in them, in words."""

    points: tuple[TrendPoint, ...]
    lines: tuple[Text, ...]


def trend(readings: tuple[FrameReading, ...]) -> NightTrend | None:
    """How the newest night's frames went on; None where fewer than three say when they were taken."""
    timed = [(at, reading) for reading in readings if (at := _at(reading.claims.at)) is not None and reading.fwhm_px]
    last = max((at for at, _ in timed), default=0.0)
    night = sorted(((at, item) for at, item in timed if last - at < NIGHT_H * 3600), key=lambda pair: pair[0])
    if len(night) < LEAST or night[0][0] == last:
        return None
    first = night[0][0]
    points = tuple(
        TrendPoint(
            name=item.name, hours=round((at - first) / 3600, 4), fwhm_px=item.fwhm_px or 0.0,
            elongation=item.elongation or 1.0, sky_adu=item.sky_adu, found=item.found,
        )
        for at, item in night
    )  # fmt: skip
    hours = np.array([point.hours for point in points])
    answer = (
        ([point.fwhm_px for point in points], GROWS, "FWHM grows: focus drift or worse seeing",
         "FWHM shrinks: better seeing or focus", " px"),
        ([point.elongation for point in points], LONGER, "Elongation grows: flexure, or worse guiding at this altitude",
         "Elongation shrinks", ""),
        ([point.sky_adu for point in points], SKY, "Sky brightens: moon, haze, dawn or lamps at lower altitude",
         "Sky darkens", " ADU"),
    )  # fmt: skip
    lines = []
    for values, least, up, down, unit in answer:
        slope, wrong, middle = _slope(hours, np.array(values))
        if abs(slope) > SURE * wrong and abs(slope) > least * middle:
            lines.append(
                text(
                    "{up}; {slope}{unit} an hour.",
                    up=up if slope > 0 else down,
                    slope=Value(slope, form="signed"),
                    unit=unit,
                )
            )
    return NightTrend(points=points, lines=tuple(lines))


def _slope(hours: NDArray[np.float64], values: NDArray[np.float64]) -> tuple[float, float, float]:
    """Slope an hour of a straight line, its error, and the middle value."""
    x = hours - hours.mean()
    spread = float((x * x).sum())
    slope = float((x * (values - values.mean())).sum()) / spread
    left = values - values.mean() - slope * x
    return slope, sqrt(float((left * left).sum()) / max(len(values) - 2, 1) / spread), float(np.median(values))


def _at(told: str) -> float | None:
    """Seconds of a header's time, UTC; None where it is none."""
    try:
        at = datetime.fromisoformat(told.strip())
    except ValueError:
        return None
    return (at if at.tzinfo else at.replace(tzinfo=UTC)).timestamp()
