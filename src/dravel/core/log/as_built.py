"""The rig as it was built beside the rig as it was designed: every figure that anybody measured, what drifted, what to change."""

from collections.abc import Iterator, Sequence

from dravel.core.engine.context import Context
from dravel.core.frames.reading import FrameReading
from dravel.core.log.worked import KeptMark, MarkThatWorked, spoken, worked
from dravel.core.model import Rig, Verdict
from dravel.core.model.base import Model, quantities
from dravel.core.model.inventory import parts_of
from dravel.core.model.session import SORTS
from dravel.core.model.words import Text, Value, text
from dravel.core.steps import STEPS
from dravel.core.steps.frames.view import FrameHeld, proof
from dravel.core.train.layout import part_key

MOVED = {"mm": 1.0, "°": 1.0, "s": 0.2, "″": 0.2, "′": 1.0, "steps": 50.0}  # what is worth a word; Dravel's own
EXPECTED_OFF, ERRORS = 0.3, 2.0  # of the slope that the tube gives; of the slope's own error


class BuiltRow(Model):
    """One figure: designed, measured, how and when; `drift` against the time before, empty where it stayed."""

    title: Text
    designed: Text
    measured: Text
    how: Text
    when: str
    verdict: Verdict
    drift: Text = Text("")


class AsBuilt(Model):
    """What was measured on a rig against its design, and what the next revision should change, the weightiest first."""

    rows: tuple[BuiltRow, ...]
    changes: tuple[Text, ...]


def as_built(context: Context, marks: Sequence[KeptMark], frames: Sequence[FrameReading]) -> AsBuilt:
    """Everything measured: parts, spans, focal length, marks of sessions, frames (the newest last)."""
    answer = worked(context, marks)
    rows = [*_parts(context.rig), *_spans(context.rig), *_focal(context), *_marks(context, answer.marks, marks)]
    rows += _slopes(context, marks)
    held, changes = _frames(context, frames)
    changes += [
        text("{one}{of}: saved {one_2}, designed {designed}. Apply it.", one=mark.title, of=f' ({mark.of})' if mark.of else '', one_2=spoken(mark.value, mark.unit, 6), designed=spoken(mark.designed, mark.unit))
        for mark in answer.marks if mark.takes and mark.designed is not None
    ]  # fmt: skip
    return AsBuilt(rows=(*rows, *held), changes=tuple(dict.fromkeys(changes)))


def _parts(rig: Rig) -> Iterator[BuiltRow]:
    seen: set[str] = set()
    for part in parts_of(rig):
        if part_key(part) in seen:
            continue
        seen.add(part_key(part))
        for field, reading in part.measured.items():
            quantity = quantities(type(part)).get(field)
            if quantity is None:
                continue
            nominal = getattr(part, field, None)
            yield BuiltRow(
                title=f"{part.name}: {quantity.title[0].lower()}{quantity.title[1:]}",
                designed="" if nominal is None else spoken(nominal, quantity.unit, 6).strip(),
                measured=spoken(reading.value, quantity.unit, 6).strip(), how=reading.instrument or "measured",
                when=reading.on.isoformat() if reading.on else "", verdict="ok",
            )  # fmt: skip


def _spans(rig: Rig) -> Iterator[BuiltRow]:
    by_key = {part_key(item.part): item for item in rig.path}
    for span in rig.measured_spans:
        items = [by_key.get(key) for key in span.parts]
        lengths = [
            None
            if item is None
            else item.set_length_mm
            if item.set_length_mm is not None
            else item.part.optical_length_mm
            for item in items
        ]
        known = [length for length in lengths if length is not None]
        first, last = items[0], items[-1]
        if first is None or last is None:
            continue  # they stand together no more
        yield BuiltRow(
            title=text('{part} to {part_2}', part=first.part.name, part_2=last.part.name),
            designed=Value(sum(known), 'mm', 1) if len(known) == len(lengths) else "", measured=Value(span.total.value, 'mm'),
            how=span.total.instrument or "measured", when=span.total.on.isoformat() if span.total.on else "",
            verdict="ok",
        )  # fmt: skip


def _focal(context: Context) -> Iterator[BuiltRow]:
    reading = context.rig.measured_focal_length_mm
    if reading is None:
        return
    plain = STEPS.context(context.rig.model_copy(update={"measured_focal_length_mm": None}), context.preferences)
    nominal = plain.known.get("focal_length")
    off = abs(reading.value / nominal - 1) if nominal else 0.0
    yield BuiltRow(
        title="Focal length", designed=Value(nominal, 'mm', 0) if nominal else "", measured=Value(reading.value, 'mm', 1),
        how=reading.instrument or "plate solve", when=reading.on.isoformat() if reading.on else "",
        verdict="ok" if off < 0.03 else "warning",
    )  # fmt: skip


def _marks(context: Context, told: Sequence[MarkThatWorked], marks: Sequence[KeptMark]) -> Iterator[BuiltRow]:
    known = context.known
    rms = known.get("guide_rms")
    drawn = known.get("focuser_position")
    designs = {
        "drawtube": drawn, "guide_rms": rms * 2**0.5 if rms is not None else None,
        "polar_error": known.get("guiding.polar_tolerance_arcmin"),
    }  # fmt: skip
    for item in told:
        design = item.designed if item.designed is not None else designs.get(item.sort)
        nights = sorted({kept.night for kept in marks if kept.mark.sort == item.sort and kept.mark.of == item.of})
        before = [
            kept.mark.value for kept in marks
            if kept.mark.sort == item.sort and kept.mark.of == item.of and len(nights) > 1 and kept.night == nights[-2]
        ]  # fmt: skip
        drift = text("")
        # Focus moves with the temperature: that is the line's to tell.
        if before and item.sort not in ("drawtube", "focuser") and abs(item.value - before[-1]) >= MOVED[item.unit]:
            drift = text(
                "{which}{one} since {nights}",
                which="+" if item.value > before[-1] else "",
                one=spoken(item.value - before[-1], item.unit, 3),
                nights=nights[-2],
            )
        worse = item.sort in ("guide_rms", "polar_error") and design is not None and item.value > 1.25 * design
        limit = "up to " if item.sort in ("guide_rms", "polar_error") else ""
        yield BuiltRow(
            title=f"{SORTS[item.sort].title}{f' ({item.of})' if item.of else ''}",
            designed="" if design is None else f"{limit}{spoken(design, item.unit, 3 if limit else 4)}", measured=spoken(item.value, item.unit, 6),
            how="marked in a session", when=item.night, verdict="warning" if worse or item.takes else "ok", drift=drift,
        )  # fmt: skip


def _slopes(context: Context, marks: Sequence[KeptMark]) -> Iterator[BuiltRow]:
    for line in worked(context, marks).focus:
        if line.slope is None:
            continue
        error = text(" ± {slope_error}", slope_error=Value(line.slope_error)) if line.slope_error is not None else ""
        off = line.expected is not None and abs(line.slope - line.expected) > max(
            EXPECTED_OFF * abs(line.expected), ERRORS * (line.slope_error or 0.0)
        )
        yield BuiltRow(
            title="Focus over temperature",
            designed="" if line.expected is None else f"{spoken(line.expected, line.unit, 3)}/K by tube expansion alone",
            measured=f"{spoken(line.slope, '', 3).strip()}{error} {line.unit}/K", how=text("line fit through {points} marks", points=len(line.points)),
            when=max(point.night for point in line.points), verdict="warning" if off else "ok",
        )  # fmt: skip


def _frames(context: Context, frames: Sequence[FrameReading]) -> tuple[list[BuiltRow], list[Text]]:
    """The newest frame's rows, what of them differs from the newest frame of a night before, and what its causes ask for."""
    if not frames:
        return [], []
    last = frames[-1]
    before = next(
        (frame for frame in reversed(frames) if _day(frame) and _day(last) and _day(frame) < _day(last)), None
    )
    now = proof(context, last)
    then = {row.title: row for row in proof(context, before).held} if before is not None else {}
    rows = [_held(row, last, then.get(row.title), _day(before) if before else "") for row in now.held]
    return rows, [text("{title}: {change}", title=cause.title, change=cause.change) for cause in now.causes[:2]]


def _held(row: FrameHeld, reading: FrameReading, then: FrameHeld | None, when: str) -> BuiltRow:
    drift = (
        text("was {measured} on {when}", measured=then.measured, when=when)
        if then is not None and then.verdict != row.verdict
        else ""
    )
    return BuiltRow(
        title=row.title, designed=row.designed, measured=row.measured, how=reading.name, when=_day(reading),
        verdict=row.verdict, drift=drift,
    )  # fmt: skip


def _day(reading: FrameReading) -> str:
    return reading.claims.at[:10]
