"""The parts of several rigs side by side: which has what, and how it is set or where it hangs."""

from collections import Counter
from collections.abc import Iterator, Sequence

from dravel.core.model import Rig
from dravel.core.model.base import Model
from dravel.core.model.inventory import parts_of, same
from dravel.core.model.words import Text, Value, joined, text


class ComparedPart(Model):
    """One part over all rigs: in words how each has it; empty where a rig does without."""

    name: str
    kind: str
    words: tuple[Text, ...]
    differs: bool


def parts_beside(rigs: Sequence[Rig]) -> tuple[ComparedPart, ...]:
    """All parts of the rigs, each once, in the order of light and of work, those that differ first."""
    every = {same(part): part for rig in rigs for part in parts_of(rig)}
    lines = [_told(rig) for rig in rigs]
    rows = []
    for key, part in every.items():
        words = tuple(said.get(key, "") for said in lines)
        rows.append(
            ComparedPart(name=part.name, kind=getattr(part, "kind", ""), words=words, differs=len(set(words)) > 1)
        )
    return tuple(sorted(rows, key=lambda row: not row.differs))


def _told(rig: Rig) -> dict[str, Text]:
    """How a rig has each of its parts: how many, set to what, where it hangs."""
    counts = Counter(same(part) for part in parts_of(rig))
    result: dict[str, list[Text]] = {
        key: [text("{count} of it", count=count)] if count > 1 else [] for key, count in counts.items()
    }
    for key, words in _placed(rig):
        if words and key in result:
            result[key].append(words)
    return {key: joined(", ", words) if words else text("has it") for key, words in result.items()}


def _placed(rig: Rig) -> Iterator[tuple[str, Text]]:
    for item in (*rig.path, *(rig.guide.branch if rig.guide.method != "none" else ())):
        said = [
            text("set to {set_length_mm}", set_length_mm=Value(item.set_length_mm, "mm", 2))
            if item.set_length_mm is not None
            else "",
            text("{filters} in use", filters=item.filters[item.in_use].name) if item.in_use is not None else "",
            text("measured {values}", values=Value(next(iter(item.part.measured.values())).value))
            if item.part.measured
            else "",
        ]
        yield same(item.part), joined(", ", said)
    for placed in rig.riders:
        night = ", removed before imaging" if placed.off_at_night else ""
        yield (
            same(placed.part),
            text(
                "{side}, {along_mm} along, {off_mm} off{night}",
                side=placed.side,
                along_mm=Value(placed.along_mm, "mm"),
                off_mm=Value(placed.off_mm, "mm"),
                night=night,
            ),
        )
    for hung in rig.counterweights:
        yield same(hung.part), text("at {position_mm}", position_mm=Value(hung.position_mm, "mm"))
    if rig.mount is not None and rig.saddle_mm is not None:
        yield same(rig.mount), text("saddle at {saddle_mm}", saddle_mm=Value(rig.saddle_mm, "mm"))
