"""Rules of joints and order: what mates, what is clamped, which way things face, in which order parts stand."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Adapter, FilterHolder, OffAxisGuider, PathItem
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.moves.parts import turning_parts
from dravel.core.moves.rings import filled, relaid
from dravel.core.train.facts import Spacing
from dravel.core.train.joints import GENDER_WORDS, Joint, spoken
from dravel.core.train.rings import back_focus_gap, joint_gap, reach_gap, search

MOST_CLAMPS = 1


@rule(
    "S1",
    "Connections match",
    checks="Every connection of the light path: same type and size, opposite gender.",
    why="Threads must match exactly in diameter and pitch; forcing them damages both.",
    formula="family = family, size = size, gender opposite",
    source="common practice; ISO metric threads, nominal diameter and pitch",
    fix="Spacers and adapters found by the solver.",
    lapses=True,
)
def joints_mate(context: Context) -> Iterator[Judgement]:
    """S1: one judgement for each joint that does not mate, or one for all that do."""
    joints = context.of(Spacing).joints
    limit = text("same type and size, opposite gender, at every connection")
    bad = [joint for joint in joints if not joint.mated]
    if joints and not bad:
        sizes = ", ".join(dict.fromkeys(joint.rear.size.split("x")[0] for joint in joints if joint.rear))
        title = (
            text("All {found} connections match", "all_connections", found=len(joints))
            if len(joints) > 1
            else text("The connection matches")
        )
        yield Judgement("ok", title, text("{sizes}.", sizes=sizes), limit, str(len(joints)))
    for joint in bad:
        subject = f"{joint.ahead.name} → {joint.behind.name}"
        if not joint.known:
            who = joint.ahead.name if joint.rear is None else joint.behind.name
            reason = text("The {who} has no connection specified here; edit it in Parts.", who=who)
            yield Judgement(
                "warning", text("Connection not specified", "connection_unknown"), reason, limit, subject=subject
            )
            continue
        reason = text("{rear} on {front}.", rear=spoken(joint.rear), front=spoken(joint.front))
        judgement = Judgement("problem", text("Connection mismatch"), reason, limit, _clash(joint), subject=subject)
        yield with_attempts(judgement, _joint_fixes(context, joint))


def _clash(joint: Joint) -> Words:
    rear, front = joint.rear, joint.front
    if rear is None or front is None:
        return ""
    if rear.size == front.size:
        return text(
            "{GENDER_WORDS} on {GENDER_WORDS_2}",
            GENDER_WORDS=GENDER_WORDS[rear.gender],
            GENDER_WORDS_2=GENDER_WORDS[front.gender],
        )
    return f"{rear.size.split('x')[0]} / {front.size.split('x')[0]}"


def _joint_fixes(context: Context, joint: Joint) -> Iterator[Attempt]:
    facts = context.of(Spacing)
    gaps = [back_focus_gap(facts), reach_gap(facts), joint_gap(facts, joint.index)]
    for gap in gaps:
        if not isinstance(gap, Text) and gap.first <= joint.index <= gap.last:
            yield from filled(context, gap)


@rule(
    "S10",
    "Order of the image train",
    checks="Rotator ahead of OAG, OAG ahead of filters, tilt plate close to the sensor, filters behind correctors.",
    why="Behind a rotator the OAG turns with the camera; behind a filter it sees too few stars.",
    formula="rotator < guider < filters; at most one thick part between tilt plate and sensor",
    source="common practice",
    fix="The same parts in the right order, with matching spacers.",
    lapses=True,
)
def order_of_parts(context: Context) -> Iterator[Judgement]:
    """S10: parts in an order that defeats them."""
    laid = context.of(Spacing).train.laid
    places = [(kind, entry.index, entry.part.name) for entry in laid if (kind := _role(entry.item)) is not None]
    limit = text("rotator, OAG, filters; tilt plate near the sensor")
    wrong = []
    for i, (kind, at, name) in enumerate(places):
        for other, behind, other_name in places[i + 1 :]:
            if (kind, other) in _WRONG:
                wrong.append(
                    (
                        at,
                        behind,
                        text(
                            "The {name} is ahead of the {other_name}: {_WRONG}.",
                            name=name,
                            other_name=other_name,
                            _WRONG=_WRONG[kind, other],
                        ),
                    )
                )
    for at, behind, reason in wrong:
        subject = f"{context.rig.path[at].part.name} / {context.rig.path[behind].part.name}"
        judgement = Judgement("warning", text("Wrong order of parts"), reason, limit, subject=subject)
        yield with_attempts(judgement, _reordered(context, at, behind))
    if not wrong and len(places) > 1:
        yield Judgement("ok", text("Order of parts OK"), text("Rotator, OAG and filters are in order."), limit)


_WRONG = {
    ("guider", "rotator"): "the prism does not rotate with the camera",
    ("filters", "guider"): "the guide camera looks through the filter",
    ("filters", "rotator"): "dust shadows of the filters do not rotate with the camera",
    ("tilt", "guider"): "a tilt plate far from the sensor shifts the image",
    ("tilt", "rotator"): "the corrected tilt returns when the camera rotates",
}


def _role(item: PathItem) -> str | None:
    part = item.part
    if isinstance(part, OffAxisGuider):
        return "guider"
    if isinstance(part, FilterHolder) and part.style != "threaded_cell":
        return "filters"
    if isinstance(part, Adapter):
        return {"rotator": "rotator", "turning_ring": "rotator", "tilt_plate": "tilt"}.get(part.function)
    return None


def _reordered(context: Context, at: int, behind: int) -> Iterator[Attempt]:
    path = context.rig.path
    moved, other = path[behind], path[at].part.name
    swap = (Edit("remove", ("path", behind)), Edit("add", ("path", at), moved))
    yield relaid(context, text("Move the {part} ahead of the {other}", part=moved.part.name, other=other), swap)


@rule(
    "S11",
    "Clamped connections",
    checks="Number of connections clamped by screws or a collet.",
    why="Each clamp lets the camera tilt and rotate; threads do not.",
    formula="count of clamped connections in the light path",
    source="common practice: at most one",
    fix="Threaded adapters instead of a nosepiece.",
)
def clamped_joints(context: Context) -> Iterator[Judgement]:
    """S11: sagging joints, counted."""
    clamps = [joint for joint in context.of(Spacing).joints if joint.clamped]
    limit = text("≤ {MOST_CLAMPS}", MOST_CLAMPS=MOST_CLAMPS)
    if len(clamps) > MOST_CLAMPS:
        where = "; ".join(f"{joint.ahead.name} → {joint.behind.name}" for joint in clamps)
        judgement = Judgement(
            "warning",
            text("{clamps} clamped connections", "clamped_connections", clamps=len(clamps)),
            f"{where}.",
            limit,
            str(len(clamps)),
        )
        yield with_attempts(judgement, _threaded(context, clamps))
    elif context.of(Spacing).joints:
        words = (
            text("{ahead} → {behind} only.", ahead=clamps[0].ahead.name, behind=clamps[0].behind.name)
            if clamps
            else text("All connections are threaded or locked.")
        )
        yield Judgement("ok", text("Clamped connections OK"), words, limit, str(len(clamps)))


def _threaded(context: Context, clamps: list[Joint]) -> Iterator[Attempt]:
    """Threaded rings in place of those that are clamped, where the ends around them are threaded."""
    for joint in clamps:
        match = search(
            context.rig, joint_gap(context.of(Spacing), joint.index), context.of(Spacing), context.shelf,
            fits=lambda ring: not any(end and end.family == "clamp" for end in (ring.sky_side, ring.sensor_side)),
        )  # fmt: skip
        if not isinstance(match, Text):
            for item in match.sets[:2]:
                yield relaid(context, item.changes[0], item.edits, item.changes[1:])


@rule(
    "S12",
    "Filter size and filter change",
    checks="Filters against the holder: size, positions, and filter change in the field.",
    why="A threaded filter cell requires taking the image train apart for every change.",
    formula="filters ≤ positions; size = size; more than one filter requires a drawer or a wheel",
    source="common practice",
    fix="A drawer or wheel with the same threads.",
    lapses=True,
)
def filter_change(context: Context) -> Iterator[Judgement]:
    """S12: a filter that cannot be changed in the field, or does not fit its holder."""
    limit = text("matching size; changeable in the field")
    for index, item in enumerate(context.rig.path):
        if not item.filters:
            continue
        part = item.part
        size = getattr(part, "filter_size", None)
        wrong = [f.name for f in item.filters if size is not None and f.size != size]
        places = part.positions if isinstance(part, FilterHolder) and part.style == "wheel" else None
        subject = part.name
        if wrong:
            reason = text("{wrong}: size differs from the holder's {size}.", wrong=wrong[0], size=size)
            out = _taken_out(context, index, [i for i, f in enumerate(item.filters) if f.size != size])
            yield with_attempts(Judgement("problem", text("Filter does not fit"), reason, limit, subject=subject), out)
        elif places is not None and len(item.filters) > places:
            reason = text("{filters} filters, {places} positions.", filters=len(item.filters), places=places)
            out = _taken_out(context, index, _beyond(item, places))
            yield with_attempts(
                Judgement(
                    "problem", text("Filter wheel too small", "filter_wheel_too_small"), reason, limit, subject=subject
                ),
                out,
            )
        elif len(item.filters) > 1 and not (isinstance(part, FilterHolder) and part.style != "threaded_cell"):
            reason = text("{filters} filters; changing one means taking the train apart.", filters=len(item.filters))
            out = _taken_out(context, index, _beyond(item, 1))
            judgement = Judgement("warning", text("Filter change not possible"), reason, limit, subject=subject)
            yield with_attempts(judgement, out)
        else:
            yield Judgement(
                "ok", text("Filters OK"), text("{filters} carried.", filters=len(item.filters)), limit, subject=subject
            )


def _beyond(item: PathItem, places: int) -> list[int]:
    """The last filters that find no place; the one in use keeps its own."""
    spare = [i for i in range(len(item.filters)) if i != (item.in_use or 0)]
    return spare[places - 1 :]


def _taken_out(context: Context, index: int, out: list[int]) -> Iterator[Attempt]:
    """Take filters out of a holder; the one in use stays so."""
    item = context.rig.path[index]
    stay = [i for i in range(len(item.filters)) if i not in out]
    in_use = stay.index(item.in_use) if item.in_use in stay else 0 if item.in_use is not None and stay else None
    names = joined(" and the ", (item.filters[i].name for i in out))
    edits = (
        Edit("replace", ("path", index, "in_use"), None),
        Edit("replace", ("path", index, "filters"), tuple(item.filters[i] for i in stay)),
        Edit("replace", ("path", index, "in_use"), in_use),
    )
    yield relaid(context, text("Remove the {names}", "remove", names=names), edits)


@rule(
    "S14",
    "Orientation of side-facing parts",
    checks="Direction of drawers, cables and knobs with the tube level.",
    why="A drawer facing down drops its filter; a cable facing down catches the mount.",
    formula="120° < direction < 240° is downwards",
    source="common practice; angles are default thresholds",
    fix="Turn it at a rotator, a rotation adapter or a clamp; else add one.",
    lapses=True,
)
def clocking(context: Context) -> Iterator[Judgement]:
    """S14: drawer or cable exit that ends up underneath."""
    limit = text("outside 120°–240°, seen from behind, 0° up")
    turns = [joint.index for joint in context.of(Spacing).joints if joint.mated and joint.turns]
    for index, item in enumerate(context.rig.path):
        faces = item.faces_deg
        if faces is None or isinstance(item.part, OffAxisGuider):
            continue
        subject = item.part.name
        if not 120 < faces < 240:
            yield Judgement(
                "ok",
                text("Orientation OK"),
                text("Direction {faces}.", faces=Value(faces, "°", 0)),
                limit,
                Value(faces, "°", 0),
                subject=subject,
            )
            continue
        turnable = any(at <= index for at in turns)
        reason = text("Direction {faces}, downwards.", faces=Value(faces, "°", 0))
        reason += (
            text(" It can be rotated.")
            if turnable
            else text(" No rotation adapter ahead of it.", "no_rotation_adapter")
        )
        judgement = Judgement(
            "warning", text("Part faces downwards"), reason, limit, Value(faces, "°", 0), subject=subject
        )
        yield with_attempts(judgement, _turned(context, index, turnable))


def _turned(context: Context, index: int, turnable: bool) -> Iterator[Attempt]:
    turn = Edit("replace", ("path", index, "faces_deg"), 0.0)
    if turnable:
        yield Attempt(text("Turn the off-axis guider up", "turn_off_axis_guider"), (turn,))
        return
    for part in turning_parts(context):
        behind = Edit("replace", ("path", index + 1, "faces_deg"), 0.0)
        lay = (Edit("add", ("path", index), PathItem(part=part)), behind)
        yield relaid(context, text("Add the {part} facing up", part=part.name), lay)
