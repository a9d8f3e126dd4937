"""Marks that worked: the newest of each sort, what of them the rig can take over, and the cards of the build they belong on."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from dravel.core.engine.context import Context
from dravel.core.log.focus_line import FocusLine, FocusMark, focus_line
from dravel.core.model import Rig
from dravel.core.model.base import Model
from dravel.core.model.session import SORTS, MarkSort, WorkedMark
from dravel.core.model.words import MINUS, Text, Value, text, with_unit

# Nearer than this to what the rig says already, there is nothing to take over. As finely as a tape or a dial is read.
SAME = {
    "weight": 1.0,
    "saddle": 1.0,
    "guide_camera": 0.1,
    "guide_helical": 0.1,
    "camera_angle": 0.5,
    "guide_exposure": 0.01,
}
CARDS: dict[MarkSort, str] = {
    "saddle": "telescope", "drawtube": "drawtube", "focuser": "focus", "guide_camera": "guide_camera",
    "guide_helical": "guide_camera", "camera_angle": "angle", "guide_exposure": "calibrate", "guide_rms": "calibrate",
    "polar_error": "polar",
}  # fmt: skip


@dataclass(frozen=True)
class KeptMark:
    """A mark and the night it was kept on."""

    night: str
    mark: WorkedMark


class MarkThatWorked(Model):
    """The newest mark of a sort. `designed` is what the rig says now, None where it says nothing; `takes`: it can be taken
    over, and differs. `card`: the build's card it belongs on.
    """

    sort: MarkSort
    title: str
    of: str
    value: float
    unit: str
    night: str
    nights: int
    spread: float | None
    designed: float | None
    takes: bool
    card: str
    words: Text


class WorkedMarks(Model):
    """All that worked on a rig: marks, and its focus over temperature, by drawtube and by motor."""

    marks: tuple[MarkThatWorked, ...]
    focus: tuple[FocusLine, ...]
    tonight: tuple[Text, ...]


def worked(context: Context, kept: Sequence[KeptMark], temperature_c: float | None = None) -> WorkedMarks:
    """What a rig's log knows, newest first; with a night's temperature also where focus should lie in it."""
    newest: dict[tuple[MarkSort, str], list[KeptMark]] = {}
    for item in sorted(kept, key=_when, reverse=True):
        newest.setdefault((item.mark.sort, item.mark.of), []).append(item)
    lines = tuple(_lines(context, kept))
    return WorkedMarks(
        marks=tuple(_told(context.rig, here) for here in newest.values()),
        focus=lines,
        tonight=tuple(_tonight(lines, temperature_c)),
    )


def taken_over(rig: Rig, mark: WorkedMark) -> Rig | None:
    """The rig with a mark in it; None where it has no place for such a mark, or says the same already."""
    now = designed(rig, mark.sort, mark.of)
    if mark.sort not in SAME or (now is None and mark.sort != "saddle"):
        return None
    if now is not None and abs(now - mark.value) < SAME[mark.sort]:
        return None
    change: dict[str, object]
    if mark.sort == "weight":
        k = _weight(rig, mark.of)
        shaft = rig.mount.shaft if rig.mount else None
        hung = rig.counterweights[k] if k is not None else None
        if hung is None:
            return None
        at = mark.value + hung.part.thickness_mm / 2 + (shaft.start_mm if shaft else 0.0)
        weights = list(rig.counterweights)
        weights[k or 0] = hung.model_copy(update={"position_mm": at})
        change = {"counterweights": tuple(weights)}
    elif mark.sort == "camera_angle":
        turned = {"position_angle_deg": mark.value % 360}
        change = {"framings": tuple(
            framing.model_copy(update=turned) if mark.of in (framing.target.key, framing.target.name) else framing for framing in rig.framings)}  # fmt: skip
    elif mark.sort == "saddle":
        change = {"saddle_mm": mark.value}
    else:
        field = {"guide_camera": "drawn_out_mm", "guide_helical": "helical_mm"}.get(mark.sort, "exposure_s")
        change = {"guide": rig.guide.model_copy(update={field: mark.value})}
    return rig.model_copy(update=change)


def spoken(value: float, unit: str, digits: int = 4) -> str:
    """A number with its unit as people write it: signs of angle close up, minus is a minus."""
    return with_unit(f"{value:.{digits}g}".replace("-", MINUS), unit)


def designed(rig: Rig, sort: MarkSort, of: str) -> float | None:
    """What the rig itself says of what a mark reads."""
    if sort == "weight":
        k = _weight(rig, of)
        if k is None:
            return None
        shaft, hung = rig.mount.shaft if rig.mount else None, rig.counterweights[k]
        return hung.position_mm - hung.part.thickness_mm / 2 - (shaft.start_mm if shaft else 0.0)
    if sort == "saddle":
        return rig.saddle_mm
    if sort == "camera_angle":
        return next(
            (framing.position_angle_deg for framing in rig.framings if of in (framing.target.key, framing.target.name)),
            None,
        )
    if rig.guide.method == "none":
        return None
    off_axis = rig.guide.method == "off_axis"
    return {
        "guide_camera": rig.guide.drawn_out_mm if off_axis else None,
        "guide_helical": rig.guide.helical_mm if off_axis else None,
        "guide_exposure": rig.guide.exposure_s,
    }.get(sort)


def _weight(rig: Rig, of: str) -> int | None:
    """Which weight is meant: by its name, the first where several bear it; the only one where none is named."""
    named = [k for k, item in enumerate(rig.counterweights) if of in (item.part.name, item.part.id)]
    if named:
        return named[0]
    return 0 if not of and len(rig.counterweights) == 1 else None


def _when(one: KeptMark) -> tuple[str, datetime]:
    return one.night, one.mark.at or datetime(1, 1, 1, tzinfo=UTC)


def _told(rig: Rig, here: Sequence[KeptMark]) -> MarkThatWorked:
    last = here[0]
    mark, sort = last.mark, SORTS[last.mark.sort]
    now = designed(rig, mark.sort, mark.of)
    values = [item.mark.value for item in here[:10]]
    spread = max(values) - min(values) if len(values) > 1 else None
    weight = _weight(rig, mark.of) if mark.sort == "weight" else None
    return MarkThatWorked(
        sort=mark.sort, title=sort.title, of=mark.of, value=mark.value, unit=sort.unit, night=last.night,
        nights=len({item.night for item in here}), spread=spread, designed=now,
        takes=taken_over(rig, mark) is not None,
        card=f"weight-{weight}" if weight is not None else CARDS.get(mark.sort, ""),
        words=text("{mark} saved on {night}", mark=spoken(mark.value, sort.unit, 6), night=last.night)
        + (text(' at {temperature_c}', temperature_c=spoken(mark.temperature_c, '°C')) if mark.temperature_c is not None else ""),
    )  # fmt: skip


def _lines(context: Context, kept: Iterable[KeptMark]) -> Iterable[FocusLine]:
    drift = context.known.get("drift")
    for sort in ("drawtube", "focuser"):
        marks = [
            FocusMark(item.night, item.mark.temperature_c, item.mark.of, item.mark.value)
            for item in kept if item.mark.sort == sort and item.mark.temperature_c is not None
        ]  # fmt: skip
        if marks:
            # A tube that shrinks in the cold leaves focus further out.
            expected = -drift / 1000 if drift is not None and sort == "drawtube" else None
            yield focus_line(marks, "mm" if sort == "drawtube" else "steps", expected)


def _tonight(lines: Iterable[FocusLine], temperature_c: float | None) -> Iterable[Text]:
    if temperature_c is None:
        return
    for line in lines:
        for shift in line.shifts:
            if (place := line.at(temperature_c, shift.filter)) is not None:
                behind = text(" behind {filter}", filter=shift.filter) if shift.filter else ""
                error = text(" ± {scatter}", scatter=Value(line.scatter)) if line.scatter is not None else ""
                decimals = 2 if line.unit == "mm" else 0
                yield text(
                    "at {temperature_c} expected focus{behind} {place}{error} {unit}",
                    temperature_c=spoken(round(temperature_c), "°C"),
                    behind=behind,
                    place=Value(place, digits=decimals),
                    error=error,
                    unit=line.unit,
                )
