"""Find rings for a rig: the gap to fill, what stays in it, what the shelf offers; answers as changes of the rig."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from pydantic import Field

from dravel.core.model import Adapter, Camera, FocuserPart, Part, PatchOperation, PathItem, Preferences, Rig
from dravel.core.model.base import Model
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, joined, text
from dravel.core.train import tolerance
from dravel.core.train.facts import Spacing
from dravel.core.train.joints import front_of, rear_of
from dravel.core.train.layout import length_tolerance
from dravel.core.train.light_path import LightPath, length_of
from dravel.core.train.solver import OWNED, RING_FUNCTIONS, Answer, Sequence, shop_rings, solve
from dravel.core.train.walks import Wanted

REACH_SHARES = (0.02, 0.68)  # where in its travel a drawtube is well: some room to go in, and not racked far out
ANY_LENGTH_MM = 100.0
NARROW_MM = 2.0  # where a gap is wider, as for the reach of a drawtube, nothing hangs on a tenth


@dataclass(frozen=True)
class Gap:
    """Places `first` to `last` (exclusive) of the path, to be filled so that they measure `length` ± `slack` mm."""

    first: int
    last: int
    length: float
    slack: float


@dataclass(frozen=True)
class RingSet:
    """One way to fill a gap, and the camera with its front ring on or off where that helps."""

    gap: Gap
    sequence: Sequence
    camera: PathItem | None
    before: tuple[PathItem, ...] = ()

    @property
    def rings(self) -> list[PathItem]:
        """The rings laid."""
        return [item for item in self.sequence.items if is_ring(item)]

    @property
    def changes(self) -> tuple[Text, ...]:
        """The change, a line for each thing that comes in or goes out."""
        then = [_named(item) for item in self.rings]
        now = [_named(item) for item in self.before if is_ring(item)]
        results = [text("Add {part}", part=name) for name in then if name not in now]
        results += [text("Remove {part}", part=name) for name in now if name not in then]
        if self.camera is not None and isinstance(self.camera.part, Camera) and self.camera.part.front_ring:
            fitted = self.camera.part.front_ring.fitted
            results.append(text("Add the camera's front ring") if fitted else text("Remove the camera's front ring"))
        return tuple(results) or (text("The same rings in another order") if self.edits else text("As it is now"),)

    @property
    def label(self) -> Text:
        """The change in one line."""
        return joined("; ", self.changes)

    @property
    def edits(self) -> tuple[Edit, ...]:
        """The change itself; empty when all lies there already."""
        if self.camera is None and self.sequence.items == self.before:
            return ()
        first, last, items = self.gap.first, self.gap.last, self.sequence.items
        out = [Edit("remove", ("path", index)) for index in range(last - 1, first - 1, -1)]
        into = [Edit("add", ("path", first + i), item) for i, item in enumerate(items)]
        turned = (Edit("replace", ("path", first + len(items), "part"), self.camera.part),) if self.camera else ()
        return (*out, *into, *turned)


@dataclass(frozen=True)
class Search:
    """What was asked and what came of it."""

    gap: Gap
    sets: tuple[RingSet, ...]
    answer: Answer


def is_ring(item: PathItem) -> bool:
    """Whether the solver may take this item out: a plain ring without a filter in it."""
    return isinstance(item.part, Adapter) and item.part.function in RING_FUNCTIONS and not item.filters


def back_focus_gap(facts: Spacing) -> Gap | Text:
    """The gap between corrector (or a telescope that asks for a distance) and sensor; or why there is none."""
    train, asked = facts.train, facts.asked[0]
    if train.camera is None:
        return text("No camera in the light path.")
    if asked is None:
        return text("No required back focus: {asked}.", asked=facts.asked[1])
    if train.camera.length is None:
        return text("{part}: length not specified.", part=train.camera.part.name)
    first = train.behind[0].index
    length = asked + train.glass_shift - train.camera.length
    return Gap(first, train.camera.index, length, facts.tolerance[0] or 0.5)


def reach_gap(facts: Spacing) -> Gap | Text:
    """The gap ahead of the corrector (or, without one, of the camera) that decides where the drawtube stands."""
    train, focuser, position = facts.train, facts.train.focuser, facts.position
    if focuser is None or position is None or focuser.mechanism in ("moving_mirror", "lens_cell"):
        return text("Focuser travel unknown.")
    far = train.corrector or train.camera
    if far is None or far.index == 0:
        return text("No camera in the light path.")
    start = next((e.index + 1 for e in reversed(train.laid) if isinstance(e.part, FocuserPart)), train.laid[0].index)
    now = sum(e.length or 0.0 for e in train.laid if start <= e.index < far.index)
    longest, shortest = (now + position - share * focuser.travel_mm for share in REACH_SHARES)
    if longest < 0:
        return text(
            "Even without spacers the focus point is {longest} too far in: use a lower focuser.",
            longest=Value(-longest, "mm", 1),
        )
    shortest = max(shortest, 0.0)
    return Gap(start, far.index, (longest + shortest) / 2, (longest - shortest) / 2)


def joint_gap(facts: Spacing, index: int) -> Gap:
    """The rings around a joint, to be laid anew at about their present length."""
    path = facts.rig.path
    first = last = index
    while first > 1 and is_ring(path[first - 1]):
        first -= 1
    while last < len(path) - 1 and is_ring(path[last]):
        last += 1
    now = sum(length_of(item) or 0.0 for item in path[first:last])
    return Gap(first, last, now, ANY_LENGTH_MM)


def search(
    rig: Rig, gap: Gap, facts: Spacing, shelf: Iterable[Part], *,
    wished: bool = True, shop: bool = False, keep: tuple[int, ...] = (), most: int = 6,
    fits: Callable[[Adapter], bool] = lambda _: True,
) -> Search | Text:  # fmt: skip
    """Fill a gap with rings from a shelf, keeping drawers, wheels, guiders and `keep` in their order; or why not.

    Only rings that `fits` accepts are laid.
    """
    inside = rig.path[gap.first : gap.last]
    stays = tuple(item for i, item in enumerate(inside, gap.first) if i in keep or not is_ring(item))
    missing = next((item.part.name for item in stays if length_of(item) is None), None)
    if missing is not None:
        return text("{missing}: length not specified.", missing=missing)
    far = rig.path[gap.last]
    ahead = rear_of(rig.path[gap.first - 1], rig.path[gap.first]) if gap.first > 0 else None
    if ahead is None or front_of(far) is None:
        return text("Connections at the gap not specified.")
    here = [item.part for item in inside if item not in stays]
    rings = tuple(ring for ring in _on_hand(rig, here, shelf, wished) if fits(ring))
    if shop:
        rears = [ahead, *(rear_of(item) for item in inside), *(ring.sensor_side for ring in rings)]
        rings = (*rings, *shop_rings({(end.family, end.size, end.gender) for end in rears if end is not None}))
    fixed = sum(length_of(item) or 0.0 for item in stays)
    sets: list[RingSet] = []
    answers: list[Answer] = []
    for camera in (None, *_ring_turned(far)):
        front = front_of(camera or far)
        shift = (length_of(far) or 0.0) - (length_of(camera) or 0.0) if camera else 0.0
        room = gap.length + shift - fixed
        if front is None or room < -gap.slack - 1e-6:
            continue
        answer = solve(Wanted(ahead, front, room, gap.slack, stays), rings, most)
        answers.append(answer)
        # What lands inside with its own tolerance may have a ring more than the nearest misses that come first.
        sure = gap.slack - tolerance.root_sum_square(
            [length_tolerance(item, facts.preferences) for item in (*stays, far)]
        )
        missed = bool(answer.found) and abs(answer.found[0].error_mm) > sure
        certain = (
            solve(Wanted(ahead, front, room, sure, stays), rings, most).found if missed and 0 < sure < NARROW_MM else ()
        )
        both = (*certain, *(entry for entry in answer.found if entry not in certain))
        sets += [RingSet(gap, entry, camera, inside) for entry in both]
    # Of what costs as little, what is sure to land inside goes first; with all else alike, leave the camera as it is.
    sets.sort(
        key=lambda one: (
            one.sequence.bought,
            not _is_sure(one, far, facts.preferences),
            *one.sequence.rank[1:3],
            one.camera is not None,
            one.sequence.softness,
        )
    )
    if not answers:
        over = fixed - gap.length - gap.slack
        answers.append(
            Answer(
                (), text("the fixed parts are {over} longer than the required back focus", over=Value(over, "mm", 1))
            )
        )
    report = min(answers, key=lambda a: abs(a.nearest.error_mm) if a.nearest else 1e9)
    return Search(gap, tuple(sets[:most]), report)


def _is_sure(one: RingSet, far: PathItem, preferences: Preferences) -> bool:
    """Whether a set lands within the tolerance with its own, parts off independently."""
    own = tolerance.root_sum_square([length_tolerance(item, preferences) for item in (*one.sequence.items, far)])
    return abs(one.sequence.error_mm) + own <= one.gap.slack + 1e-9


class RingChoice(Model):
    """One sequence: what lies in the gap, and the change that lays it."""

    label: Text
    parts: tuple[Text, ...]
    to_buy: tuple[str, ...]
    rings: int
    length_mm: float
    error_mm: float
    worst_case_mm: float
    rss_mm: float
    drawtube_mm: float | None
    change: tuple[PatchOperation, ...]


class RingAnswer(Model):
    """What the solver found for a rig, or the proof that there is nothing, the nearest miss and its cure."""

    wanted_mm: float | None = None
    tolerance_mm: float | None = None
    choices: tuple[RingChoice, ...] = ()
    proof: Text = Text("")
    nearest: RingChoice | None = None
    cure: Text = Text("")
    cure_part: Adapter | None = None
    for_reach: bool = Field(default=False, description="No required back focus: spacers place the drawtube instead")
    why_not: Text = Text("")


def find_rings(
    rig: Rig, preferences: Preferences, shelf: Iterable[Part], *,
    wished: bool = True, shop: bool = False, keep: tuple[int, ...] = (),
) -> RingAnswer:  # fmt: skip
    """Rings that bring the sensor to the required distance; where none is asked for, to the middle of the travel.

    `wished` also takes parts on the wish list, `shop` usual shop lengths; both count as bought. A camera's front ring
    may come off or go on.
    """
    facts = Spacing(rig, LightPath.of(rig), rig.preferences.over(preferences))
    gap = back_focus_gap(facts)
    if isinstance(gap, Text) and facts.light.camera is not None and not facts.light.correctors:
        gap = reach_gap(facts)
    made = gap if isinstance(gap, Text) else search(rig, gap, facts, shelf, wished=wished, shop=shop, keep=keep)
    if isinstance(made, Text):
        return RingAnswer(why_not=made)
    camera = facts.train.camera
    rest = (camera.length or 0.0) if camera else 0.0
    asked_for, tube = facts.asked[0] is not None, facts.position
    laid_now = sum(length_of(item) or 0.0 for item in rig.path[made.gap.first : made.gap.last])
    asked = made.gap.length + rest

    def told(one: RingSet) -> RingChoice:
        items = (*one.sequence.items, rig.path[made.gap.last])
        slack = [length_tolerance(item, facts.preferences) for item in items]
        return RingChoice(
            label=one.label,
            parts=tuple(_named(item) for item in one.sequence.items),
            to_buy=tuple(item.part.name for item in one.rings if item.part.status not in OWNED),
            rings=one.sequence.rings,
            length_mm=asked + one.sequence.error_mm,
            error_mm=one.sequence.error_mm,
            worst_case_mm=tolerance.worst_case(slack),
            rss_mm=tolerance.root_sum_square(slack),
            drawtube_mm=None
            if asked_for or tube is None
            else tube + laid_now - made.gap.length - one.sequence.error_mm,
            change=tuple(edit.operation() for edit in one.edits),
        )

    answer, nothing = made.answer, not made.sets
    return RingAnswer(
        wanted_mm=asked,
        tolerance_mm=made.gap.slack,
        choices=tuple(told(entry) for entry in made.sets),
        proof=answer.proof if nothing else "",
        nearest=told(RingSet(made.gap, answer.nearest, None, rig.path[made.gap.first : made.gap.last]))
        if nothing and answer.nearest
        else None,
        cure=answer.cure if nothing else "",
        cure_part=answer.cure_part if nothing else None,
        for_reach=not asked_for,
    )


def _named(item: PathItem) -> Text:
    words = (
        text("{part}, set to {set_length_mm}", part=item.part.name, set_length_mm=Value(item.set_length_mm, "mm", 2))
        if item.set_length_mm
        else text("{part}", part=item.part.name)
    )
    return words if item.part.status in OWNED else text("{words} (buy)", words=words)


def _on_hand(rig: Rig, here: Iterable[Part], shelf: Iterable[Part], wished: bool) -> tuple[Adapter, ...]:
    """Rings on the shelf that do not lie elsewhere in this rig, and those now in the gap, each once."""
    ids = {part.id for part in here}
    elsewhere = {item.part.id for item in (*rig.path, *rig.guide.branch) if item.part.id and item.part.id not in ids}
    result: dict[str, Adapter] = {}
    for part in (*here, *shelf):
        if not isinstance(part, Adapter) or part.function not in RING_FUNCTIONS or part.id in elsewhere:
            continue
        if part in here or part.status in OWNED or (wished and part.status in ("wished", "listed")):
            result.setdefault(part.id or part.name, part)
    return tuple(result.values())


def _ring_turned(item: PathItem) -> list[PathItem]:
    """The camera with its front ring off where it is on, and on where it is off."""
    part = item.part
    if not isinstance(part, Camera) or part.front_ring is None:
        return []
    turned = part.front_ring.model_copy(update={"fitted": not part.front_ring.fitted})
    return [item.model_copy(update={"part": part.model_copy(update={"front_ring": turned})})]
