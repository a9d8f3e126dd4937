"""Rings laid so that a train mates and adds up, and wider parts where light is cut off."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model.edit import Edit, apply
from dravel.core.model.words import Text, Words, text
from dravel.core.train.facts import Spacing
from dravel.core.train.light_path import LightPath, length_of
from dravel.core.train.rings import Gap, back_focus_gap, joint_gap, reach_gap, search

MOST_ATTEMPTS = 4


def relaid(context: Context, label: Words, edits: tuple[Edit, ...], more: tuple[Words, ...] = ()) -> Attempt:
    """The change together with the rings that make the train mate and add up again after it, where it needs any. `more`
    says what else the change is, where it is more than its label.
    """
    rig, then = apply(context.rig, edits), list(more)
    for gap_of in (reach_gap, back_focus_gap, _open_joint):
        facts = Spacing(rig, LightPath.of(rig), context.preferences)
        gap = gap_of(facts)
        if isinstance(gap, Text) or _settled(facts, gap):
            continue
        match = search(rig, gap, facts, context.shelf, most=1)
        if not isinstance(match, Text) and match.sets:
            item = match.sets[0]
            rig, edits = apply(rig, item.edits), (*edits, *item.edits)
            then += item.changes
    return Attempt(label, edits, then=tuple(then))


def _open_joint(facts: Spacing) -> Gap | Text:
    """The first joint that does not mate, where no length is asked for: behind a mirror that moves any will do."""
    joint = next((joint for joint in facts.joints if not joint.mated and joint.index > 0), None)
    focuser = facts.train.focuser
    if joint is None or focuser is None or focuser.mechanism != "moving_mirror":
        return text("Every connection fits, or a length is required.")
    return joint_gap(facts, joint.index)


def _settled(facts: Spacing, gap: Gap) -> bool:
    """Whether a gap mates and measures what it should."""
    inside = facts.rig.path[gap.first : gap.last]
    now = sum(length_of(item) or 0.0 for item in inside)
    mated = all(joint.mated for joint in facts.joints if gap.first <= joint.index <= gap.last)
    return mated and abs(now - gap.length) <= gap.slack + 1e-6


def filled(context: Context, gap: Gap) -> Iterator[Attempt]:
    """Rings that fill a gap, best first; when there are none, with the one part to buy that would cure it."""
    match = search(context.rig, gap, context.of(Spacing), context.shelf)
    if isinstance(match, Text):
        return
    if not match.sets and match.answer.cure_part is not None:
        shelf = (*context.shelf, match.answer.cure_part)
        match = search(context.rig, gap, context.of(Spacing), shelf, most=1)
        if isinstance(match, Text):
            return
    for item in match.sets[:MOST_ATTEMPTS]:
        yield Attempt(item.changes[0], item.edits, then=item.changes[1:])
