"""Where focus lay over temperature: one line through all nights, shifted for each filter, with its error and scatter."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, text

LEAST_MARKS, LEAST_SPAN_K = 3, 3.0  # fewer, or nearer together in temperature, tell no slope; Dravel's own
MOST_ODD, MOST = 12, 200  # that are tried; the newest that count: a rig of years is another rig
OUT = 4.0  # times the scatter of the others: a mark that was misread


@dataclass(frozen=True)
class FocusMark:
    """Where the focuser stood in focus. `place` is mm of drawtube or steps of a motor."""

    night: str
    temperature_c: float
    filter: str
    place: float


class FocusShift(Model):
    """A filter's own place on the line, at the line's middle temperature."""

    filter: str
    place: float
    count: int


class FocusPoint(Model):
    """A mark of the line; `left_out` where it lies too far off to be one."""

    night: str
    temperature_c: float
    filter: str
    place: float
    left_out: bool


class FocusLine(Model):
    """Places in `unit` over temperature: place = shift + slope · (T − middle). `because` says why there is no slope.

    `slope_error` is its standard error, `scatter` the standard deviation of marks about the line. `expected`: what the
    tube's own expansion gives, in the same unit, where that is known.
    """

    unit: str
    points: tuple[FocusPoint, ...]
    shifts: tuple[FocusShift, ...]
    middle_c: float
    slope: float | None
    slope_error: float | None
    scatter: float | None
    expected: float | None
    because: Text

    def at(self, temperature_c: float, behind: str = "") -> float | None:
        """Where focus should lie; None where no line tells, or the filter was never marked."""
        shift = next((item.place for item in self.shifts if item.filter == behind), None)
        if shift is None or self.slope is None:
            return None
        return shift + self.slope * (temperature_c - self.middle_c)


def focus_line(marks: Sequence[FocusMark], unit: str, expected: float | None = None) -> FocusLine:
    """The line by least squares, one slope for all filters. One mark far off is left out and said so.

    Standard linear regression with a shift a group (Press et al. 2007, Numerical Recipes, 15.4).
    """
    marks = sorted(marks, key=lambda item: item.night)[-MOST:]
    left_out: set[int] = set()
    fit = _fit(marks, left_out)
    if fit is not None and len(marks) > LEAST_MARKS + 2 and (worst := _odd_one(marks)) is not None:
        left_out = {worst}
        fit = _fit(marks, left_out) or fit
    points = tuple(
        FocusPoint(night=entry.night, temperature_c=entry.temperature_c, filter=entry.filter, place=entry.place, left_out=k in left_out)
        for k, entry in enumerate(marks)
    )  # fmt: skip
    kept = [entry for k, entry in enumerate(marks) if k not in left_out]
    middle = float(np.mean([entry.temperature_c for entry in kept])) if kept else 0.0
    slope, error, scatter = fit if fit is not None else (None, None, None)
    groups: dict[str, list[float]] = {}
    for item in kept:
        groups.setdefault(item.filter, []).append(item.place - (slope or 0.0) * (item.temperature_c - middle))
    return FocusLine(
        unit=unit, points=points, middle_c=middle, slope=slope, slope_error=error, scatter=scatter, expected=expected,
        shifts=tuple(FocusShift(filter=key, place=float(np.mean(here)), count=len(here)) for key, here in groups.items()),
        because="" if fit is not None else _why(marks),
    )  # fmt: skip


def _fit(marks: Sequence[FocusMark], left_out: set[int]) -> tuple[float, float | None, float | None] | None:
    """Slope, its standard error and the scatter; the last two None where the marks leave nothing over."""
    kept = [item for k, item in enumerate(marks) if k not in left_out]
    if len(kept) < LEAST_MARKS:
        return None
    groups = [item.filter for item in kept]
    warm = np.array([item.temperature_c for item in kept])
    place = np.array([item.place for item in kept])
    for group in set(groups):
        here = np.array([item == group for item in groups])
        warm[here] -= warm[here].mean()
        place[here] -= place[here].mean()
    if float(np.ptp(warm)) < LEAST_SPAN_K:
        return None
    spread = float(warm @ warm)
    slope = float(warm @ place) / spread
    free = len(kept) - len(set(groups)) - 1
    if free < 1:
        return slope, None, None
    scatter = float(np.sqrt(np.sum((place - slope * warm) ** 2) / free))
    return slope, scatter / spread**0.5, scatter


def _odd_one(marks: Sequence[FocusMark]) -> int | None:
    """The mark that lies off the line through the others by many times their scatter, if there is one; looked for among
    those that lie farthest from the middle of their filter's.
    """
    worst: tuple[float, int] | None = None
    middles = {
        mark.filter: float(np.median([other.place for other in marks if other.filter == mark.filter])) for mark in marks
    }
    far = sorted(range(len(marks)), key=lambda k: -abs(marks[k].place - middles[marks[k].filter]))
    for k in far[:MOST_ODD]:
        item = marks[k]
        others = [other for j, other in enumerate(marks) if j != k]
        fit = _fit(others, set())
        same = [other for other in others if other.filter == item.filter]
        if fit is None or not fit[2] or not same:
            continue
        off = abs(
            item.place - float(np.mean([other.place + fit[0] * (item.temperature_c - other.temperature_c) for other in same]))
        ) / fit[2]  # fmt: skip
        if off > OUT and (worst is None or off > worst[0]):
            worst = off, k
    return None if worst is None else worst[1]


def _why(marks: Sequence[FocusMark]) -> Words:
    if not marks:
        return "no mark saved yet"
    if len(marks) < LEAST_MARKS:
        return text("{marks} of {LEAST_MARKS} marks needed for a line", marks=len(marks), LEAST_MARKS=LEAST_MARKS)
    return text(
        "temperature range of the marks is less than {LEAST_SPAN_K} per filter", LEAST_SPAN_K=Value(LEAST_SPAN_K, "K")
    )
