"""What people mark while a night runs: done, clouds, clear again, skip. What follows from it, and where two devices disagree."""

from collections.abc import Sequence
from math import inf
from typing import Annotated, Literal

from pydantic import Field

from dravel.core.model.base import Model
from dravel.core.model.words import Text, text
from dravel.core.overview.record import Span
from dravel.core.overview.sequence import target_of

MarkKind = Literal["done", "clouds", "clear", "skip"]
SAME_S = 300.0  # two devices that say different things of one step so near together disagree; Dravel's own


class NightMark(Model):
    """A mark in a night, seconds from noon: of a rig's step, or (clouds and clear) of the sky over all rigs."""

    id: Annotated[str, Field(max_length=64)]
    kind: MarkKind
    rig: str = ""
    step: str = ""
    at_s: float
    device: str = ""
    late: bool = False


def clouds(marks: Sequence[NightMark]) -> tuple[Span, ...]:
    """When cloud was marked, the last without an end where nobody has seen it clear."""
    spans: list[Span] = []
    since: float | None = None
    for mark in sorted(marks, key=lambda item: item.at_s):
        if mark.kind == "clouds" and since is None:
            since = mark.at_s
        elif mark.kind == "clear" and since is not None:
            spans.append((since, mark.at_s))
            since = None
    return tuple(spans) if since is None else (*spans, (since, inf))


def done(marks: Sequence[NightMark], rig: str) -> tuple[str, ...]:
    """The steps of a rig that are marked done."""
    return tuple(dict.fromkeys(mark.step for mark in marks if mark.kind == "done" and mark.rig == rig and mark.step))


def skipped(marks: Sequence[NightMark], rig: str) -> frozenset[str]:
    """The targets of a rig that are skipped."""
    return frozenset(target_of(mark.step) for mark in marks if mark.kind == "skip" and mark.rig == rig) - {""}


def conflicts(marks: Sequence[NightMark]) -> tuple[Text, ...]:
    """Where two devices said different things of one step, and whose clock is off. Nothing is dropped for it."""
    lines = []
    ordered = sorted(marks, key=lambda item: item.at_s)
    for k, item in enumerate(ordered):
        for other in ordered[k + 1 :]:
            same = item.rig == other.rig and item.step == other.step and item.step and item.device != other.device
            if same and item.kind != other.kind and {item.kind, other.kind} <= {"done", "skip"}:
                lines.append(
                    text(
                        "{device} says {kind}, {device_2} {kind_2}: both kept",
                        device=item.device or "one device",
                        kind=item.kind,
                        device_2=other.device or "another",
                        kind_2=other.kind,
                    )
                )
    late = dict.fromkeys(mark.device or "a device" for mark in marks if mark.late)
    lines += [text("the clock of {name} is off: its marks are dated by arrival", name=name) for name in late]
    return tuple(dict.fromkeys(lines))
