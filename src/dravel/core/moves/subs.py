"""How long a sub may be, in words, and subs planned shorter."""

from math import floor

from dravel.core.engine.rule import Attempt
from dravel.core.model import Exposure, Rig
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, text

LONG_S = 3600.0  # beyond an hour nobody plans a sub
SHORT_S = 15.0  # shorter subs are a last resort: common practice
MOST_SUBS = 20_000  # that a block holds
ROUNDED = 1.001  # a sub planned to a round number is not held against the limit it was cut to


def seconds_words(seconds: float) -> Text:
    """How long a sub may be; beyond an hour nobody asks."""
    if seconds > LONG_S:
        return text("more than {most}", most=Value(LONG_S, form="time"))
    return text("{longest}", longest=Value(seconds, form="exposure"))


def whole_sub(seconds: float) -> float:
    """So many whole seconds; tenths below ten, hundredths and thousandths where that is too long; never longer."""
    step = next(step for step, least in ((1.0, 10.0), (0.1, 0.1), (0.01, 0.01), (0.001, -1.0)) if seconds >= least)
    return max(round(floor(seconds / step + 1e-9) * step, 3), 0.001)


def planned_sub(seconds: float, rig: Rig | None = None) -> Attempt:
    """Plan subs of so many seconds; of a rig given, the blocks of its plans that are longer too."""
    cut = whole_sub(seconds)
    blocks = shorter_blocks(rig, cut) if rig else ()
    return Attempt(
        text("Set sub length to {cut}", "set_sub_length", cut=Value(cut, form="exposure")),
        (Edit("replace", ("guide", "sub_s"), cut), *blocks),
        last=cut < SHORT_S,
    )


def shorter_blocks(rig: Rig, seconds: float) -> tuple[Edit, ...]:
    """Planned blocks of longer subs cut to so many seconds each, as many more of them as give the same light."""
    return tuple(
        edit
        for i, framing in enumerate(rig.framings)
        for k, block in enumerate(framing.plan)
        if block.sub_s > seconds
        for edit in block_of(("framings", i, "plan", k), block, seconds)
    )


def block_of(place: tuple[str | int, ...], block: Exposure, seconds: float) -> tuple[Edit, Edit]:
    """A planned block with subs of another length and the same light."""
    count = min(max(1, round(block.seconds / seconds)), MOST_SUBS)
    return Edit("replace", (*place, "sub_s"), float(seconds)), Edit("replace", (*place, "count"), count)
