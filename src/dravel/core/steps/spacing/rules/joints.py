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
    checks="Every joint of the light path: family and size alike, genders opposite.",
    why="A thread never mates with another pitch or diameter almost: forced, both are spoilt.",
    formula="family = family, size = size, gender opposite",
    source="common practice; ISO metric threads, nominal diameter and pitch",
    mend="Rings and converters from the shelf, found by the solver, that lead from one end to the other.",
    lapses=True,
)
def joints_mate(context: Context) -> Iterator[Judgement]:
    """S1: one judgement for each joint that does not mate, or one for all that do."""
    found = context.of(Spacing).joints
    limit = text("same family and size, opposite gender, at every joint")
    bad = [joint for joint in found if not joint.mated]
    if found and not bad:
        sizes = ", ".join(dict.fromkeys(joint.rear.size.split("x")[0] for joint in found if joint.rear))
        title = text("All {found} joints mate", found=len(found)) if len(found) > 1 else text("The one joint mates")
        yield Judgement("holds", title, f"{sizes}.", limit, str(len(found)))
    for joint in bad:
        subject = f"{joint.ahead.name} → {joint.behind.name}"
        if not joint.known:
            who = joint.ahead.name if joint.rear is None else joint.behind.name
            reason = text("The {who} does not say which end it offers here; describe it on the shelf.", who=who)
            yield Judgement("strains", text("A joint is not described"), reason, limit, subject=subject)
            continue
        reason = text("{rear} meets {front}.", rear=spoken(joint.rear), front=spoken(joint.front))
        judgement = Judgement("breaks", text("Two ends do not mate"), reason, limit, _clash(joint), subject=subject)
        yield with_attempts(judgement, _joint_mends(context, joint))


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


def _joint_mends(context: Context, joint: Joint) -> Iterator[Attempt]:
    facts = context.of(Spacing)
    gaps = [back_focus_gap(facts), reach_gap(facts), joint_gap(facts, joint.index)]
    for gap in gaps:
        if not isinstance(gap, Text) and gap.first <= joint.index <= gap.last:
            yield from filled(context, gap)


@rule(
    "S10",
    "Order of the image train",
    checks="Rotator ahead of guider, guider ahead of filters, tilt plate close to the sensor, filters behind correctors.",
    why="Behind a rotator the guider turns with the camera; behind a filter it sees too few stars.",
    formula="rotator < guider < filters; at most one thick part between tilt plate and sensor",
    source="common practice",
    mend="The same parts in the order that works, with rings that mate.",
    lapses=True,
)
def order_of_parts(context: Context) -> Iterator[Judgement]:
    """S10: parts in an order that defeats them."""
    laid = context.of(Spacing).train.laid
    places = [(kind, entry.index, entry.part.name) for entry in laid if (kind := _role(entry.item)) is not None]
    limit = text("rotator, then guider, then filters; tilt plate near the sensor")
    wrong = []
    for i, (kind, at, name) in enumerate(places):
        for other, behind, other_name in places[i + 1 :]:
            if (kind, other) in _WRONG:
                wrong.append(
                    (
                        at,
                        behind,
                        text(
                            "The {name} stands ahead of the {other_name}: {_WRONG}.",
                            name=name,
                            other_name=other_name,
                            _WRONG=_WRONG[kind, other],
                        ),
                    )
                )
    for at, behind, reason in wrong:
        subject = f"{context.rig.path[at].part.name} / {context.rig.path[behind].part.name}"
        judgement = Judgement("strains", text("Order of parts defeats one of them"), reason, limit, subject=subject)
        yield with_attempts(judgement, _reordered(context, at, behind))
    if not wrong and len(places) > 1:
        yield Judgement(
            "holds", text("Order of parts works"), text("Rotator, guider and filters stand in their order."), limit
        )


_WRONG = {
    ("guider", "rotator"): "turning the camera leaves the prism behind",
    ("filters", "guider"): "the guide camera looks through the filter",
    ("filters", "rotator"): "the filters' shadows of dust do not turn with the camera",
    ("tilt", "guider"): "a tilt plate so far from the sensor shifts the picture as it turns",
    ("tilt", "rotator"): "the tilt it takes out comes back when the camera turns",
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
    checks="How many joints hold a smooth tube by screws or a collet.",
    why="Each clamp lets the camera lean and turn; threads do not.",
    formula="count of clamped joints in the light path",
    source="common practice: at most one",
    mend="Threaded rings in place of a nosepiece.",
)
def clamped_joints(context: Context) -> Iterator[Judgement]:
    """S11: sagging joints, counted."""
    clamps = [joint for joint in context.of(Spacing).joints if joint.clamped]
    limit = text("at most {MOST_CLAMPS}", MOST_CLAMPS=MOST_CLAMPS)
    if len(clamps) > MOST_CLAMPS:
        where = "; ".join(f"{joint.ahead.name} → {joint.behind.name}" for joint in clamps)
        judgement = Judgement(
            "strains", text("{clamps} clamped joints", clamps=len(clamps)), f"{where}.", limit, str(len(clamps))
        )
        yield with_attempts(judgement, _threaded(context, clamps))
    elif context.of(Spacing).joints:
        words = (
            text("{ahead} → {behind} only.", ahead=clamps[0].ahead.name, behind=clamps[0].behind.name)
            if clamps
            else text("All joints are screwed or locked.")
        )
        yield Judgement("holds", text("Joints are firm"), words, limit, str(len(clamps)))


def _threaded(context: Context, clamps: list[Joint]) -> Iterator[Attempt]:
    """Threaded rings in place of those that are clamped, where the ends around them are threaded."""
    for joint in clamps:
        found = search(
            context.rig, joint_gap(context.of(Spacing), joint.index), context.of(Spacing), context.shelf,
            fits=lambda ring: not any(end and end.family == "clamp" for end in (ring.sky_side, ring.sensor_side)),
        )  # fmt: skip
        if not isinstance(found, Text):
            for one in found.sets[:2]:
                yield relaid(context, one.label, one.edits)


@rule(
    "S12",
    "Filter size and filter change",
    checks="Filters against the holder: thread or size, places, and whether they can be changed in the dark.",
    why="A filter in a screwed cell means taking the train apart for every change.",
    formula="filters ≤ places; size = size; more than one filter asks for a drawer or a wheel",
    source="common practice",
    mend="A drawer or a wheel of the same threads.",
    lapses=True,
)
def filter_change(context: Context) -> Iterator[Judgement]:
    """S12: a filter that cannot be changed in the field, or does not fit its holder."""
    limit = text("each filter fits its holder and can be changed in the field")
    for index, item in enumerate(context.rig.path):
        if not item.filters:
            continue
        part = item.part
        size = getattr(part, "filter_size", None)
        wrong = [f.name for f in item.filters if size is not None and f.size != size]
        places = part.positions if isinstance(part, FilterHolder) and part.style == "wheel" else None
        subject = part.name
        if wrong:
            reason = text("{wrong} is made for another size than the holder's {size}.", wrong=wrong[0], size=size)
            out = _taken_out(context, index, [i for i, f in enumerate(item.filters) if f.size != size])
            yield with_attempts(Judgement("breaks", text("A filter does not fit"), reason, limit, subject=subject), out)
        elif places is not None and len(item.filters) > places:
            reason = text("{filters} filters for {places} places.", filters=len(item.filters), places=places)
            out = _taken_out(context, index, _beyond(item, places))
            yield with_attempts(
                Judgement("breaks", text("Wheel has too few places"), reason, limit, subject=subject), out
            )
        elif len(item.filters) > 1 and not (isinstance(part, FilterHolder) and part.style != "threaded_cell"):
            reason = text(
                "{filters} filters, and changing one means taking the train apart.", filters=len(item.filters)
            )
            out = _taken_out(context, index, _beyond(item, 1))
            judgement = Judgement(
                "strains", text("Filter cannot be changed in the field"), reason, limit, subject=subject
            )
            yield with_attempts(judgement, out)
        else:
            yield Judgement(
                "holds",
                text("Filters fit and can be changed"),
                text("{filters} carried.", filters=len(item.filters)),
                limit,
                subject=subject,
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
    yield relaid(context, text("Remove the {names}", names=names), edits)


@rule(
    "S14",
    "Orientation of side-facing parts",
    checks="Where drawers, cables and knobs point with the tube level.",
    why="A drawer that opens underneath drops its filter; a cable underneath catches the mount.",
    formula="120° < direction < 240° is underneath",
    source="common practice; the angles are Dravel's own",
    mend="Turn it at a rotator, a turning ring or a clamp; else lay one.",
    lapses=True,
)
def clocking(context: Context) -> Iterator[Judgement]:
    """S14: drawer or cable exit that ends up underneath."""
    limit = text("not between 120° and 240°, seen from behind, up being 0°")
    turns = [joint.index for joint in context.of(Spacing).joints if joint.mated and joint.turns]
    for index, item in enumerate(context.rig.path):
        faces = item.faces_deg
        if faces is None or isinstance(item.part, OffAxisGuider):
            continue
        subject = item.part.name
        if not 120 < faces < 240:
            yield Judgement(
                "holds",
                text("Faces where a hand can reach"),
                text("It points to {faces}.", faces=Value(faces, "°", 0)),
                limit,
                Value(faces, "°", 0),
                subject=subject,
            )
            continue
        turnable = any(at <= index for at in turns)
        reason = text("It points to {faces}, underneath.", faces=Value(faces, "°", 0))
        reason += text(" It can be turned.") if turnable else text(" Nothing ahead of it lets it turn.")
        judgement = Judgement(
            "strains", text("Ends up underneath"), reason, limit, Value(faces, "°", 0), subject=subject
        )
        yield with_attempts(judgement, _turned(context, index, turnable))


def _turned(context: Context, index: int, turnable: bool) -> Iterator[Attempt]:
    turn = Edit("replace", ("path", index, "faces_deg"), 0.0)
    if turnable:
        yield Attempt(text("Turn the off-axis guider up"), (turn,))
        return
    for part in turning_parts(context):
        behind = Edit("replace", ("path", index + 1, "faces_deg"), 0.0)
        lay = (Edit("add", ("path", index), PathItem(part=part)), behind)
        yield relaid(context, text("Add the {part} facing up", part=part.name), lay)
