"""Swap: any part in place of another, and what that does to length, joints, reach, light, load and verdicts."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model import Belief, Part, PatchOperation, PathItem, Preferences, Rig
from dravel.core.model.base import Model
from dravel.core.model.edit import Edit, apply
from dravel.core.model.words import Text, joined, text
from dravel.core.moves.rings import relaid
from dravel.core.overview.change import Change, change_of
from dravel.core.steps import STEPS
from dravel.core.steps.optics.beliefs import same_sensor
from dravel.core.train.rings import is_ring


class SwapWay(Change):
    """One way to swap: the patch, and what it does."""

    label: Text
    change: tuple[PatchOperation, ...]


class SwapAnswer(Model):
    """The plain swap, and the swap with the rings that make it fit, where they differ."""

    plain: SwapWay
    fitted: SwapWay | None
    belief: Belief | None = None


def swap(rig: Rig, index: int, part: Part, preferences: Preferences, shelf: tuple[Part, ...]) -> SwapAnswer:
    """Compare a rig with `part` in place of the one at `index`.

    Raises `IndexError` when there is no such place and `ValueError` when the part cannot lie in a light path.
    """
    if not 0 <= index < len(rig.path):
        raise IndexError(f"there is no part {index} in this path")
    if not hasattr(part, "sky_side"):
        raise ValueError(f"part_id: a {getattr(part, 'kind', 'part')} is not in the light path")
    old = rig.path[index]
    keeps = old.part.kind == getattr(part, "kind", "")
    item = (
        old.model_copy(update={"part": part, "set_length_mm": None})
        if keeps
        else PathItem.model_validate({"part": part})
    )
    edits = (Edit("replace", ("path", index), item),)
    before = STEPS.context(rig, preferences, shelf)
    # Rings around a ring would only be chosen anew, and the one swapped in with them.
    fitted = (
        Attempt("", edits)
        if is_ring(item)
        else relaid(before, text("Replace with the {part}", "replace", part=part.name), edits)
    )
    plain = _compare(before, text("Replace with the {part}", "replace", part=part.name), edits)
    whole = _compare(before, joined("; ", fitted.changes), fitted.edits) if fitted.edits != edits else None
    after = STEPS.context(apply(rig, fitted.edits), preferences)
    return SwapAnswer(plain=plain, fitted=whole, belief=same_sensor(before, after))


def _compare(before: Context, label: Text, edits: tuple[Edit, ...]) -> SwapWay:
    change = change_of(before, apply(before.rig, edits))
    return SwapWay(**dict(change), label=label, change=tuple(edit.operation() for edit in edits))
