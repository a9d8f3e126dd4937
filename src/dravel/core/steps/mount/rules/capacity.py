"""Rules of what is carried: payload, arm, saddle, lift, support."""

from collections.abc import Iterator
from itertools import chain

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, School, rule, with_attempts
from dravel.core.model import SchoolSays, Support, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, text
from dravel.core.moves.shelf import ready_parts
from dravel.core.moves.tube import turned
from dravel.core.physics.statics import newton_metres
from dravel.core.steps.mount import balancing
from dravel.core.steps.mount.facts import PAYLOAD_SHARE, Load
from dravel.core.steps.mount.limits import ARM
from dravel.core.steps.mount.moves import mounts


@rule(
    "L1",
    "Payload",
    checks="Payload without counterweights against the rating and the recommended share.",
    why="A mount near its rating still moves, but tracks less well.",
    formula="M / P against share · k (k = 0.85 for a wide and for a long tube)",
    source="common practice: half to two thirds of the rating; bounds for wide and long tubes are default thresholds",
    fix="A mount with higher payload.",
    needs=("carried", "payload"),
    schools=(
        School("two_thirds", "Two thirds", "Two thirds of the rating."),
        School("half", "One half", "Half the rating."),
        School("full", "Full rating", "All of the rating."),
    ),
)
def payload(context: Context) -> Iterator[Judgement]:
    """L1: over the chosen payload fraction, over the rating."""
    load, mass, rated = context.of(Load), context.value("carried"), context.value("payload")
    used = context.value("mount.payload_fraction")

    def says(school: str) -> Verdict:
        return "problem" if mass > rated else "warning" if mass > load.allowed_by(school) + 1e-9 else "ok"

    schools = tuple(
        SchoolSays(
            school=school,
            verdict=says(school),
            says=text(
                "{mass}, recommended {school}",
                mass=Value(mass, "kg", 1),
                school=Value(load.allowed_by(school), "kg", 1),
            ),
        )
        for school in PAYLOAD_SHARE
    )
    school = context.preferences.payload
    verdict = says(school)
    lacking = len(load.carried.unweighed)
    floor = (
        text(
            "At least {mass} ({lacking} with unknown mass). ",
            "at_least",
            mass=Value(mass, "kg", 1),
            lacking=_parts(lacking),
        )
        if lacking
        else ""
    )
    reason = text(
        "{floor}{mass} of {rated} rated is {used}; {derating}.",
        floor=floor,
        mass=Value(mass, "kg", 1),
        rated=Value(rated, "kg", 0),
        used=Value(used, form="share"),
        derating=load.derating[1],
    )
    titles: dict[Verdict, Text] = {
        "ok": text("Payload OK"), "warning": text("Payload above recommended"), "problem": text("Payload above rating")
    }  # fmt: skip
    judgement = Judgement(
        verdict, titles[verdict], reason, text("warning > {school}, problem > {rated}", school=Value(load.allowed_by(school), 'kg', 1), rated=Value(rated, 'kg', 0)),
        Value(mass, 'kg', 1), ("mount.total_kg", "mount.payload_fraction", "mount.payload_allowed_kg"), school=school,
        schools=schools,
    )  # fmt: skip
    yield with_attempts(judgement, mounts(context))


def _parts(count: int) -> Text:
    return text("one part") if count == 1 else text("{count} parts", count=count)


@rule(
    "L2",
    "Payload lever arm",
    checks="Payload moment about the RA axis against the lever arm of the rating.",
    why="Twice the arm is twice the moment: a wide tube is farther out than a small refractor of the same mass.",
    formula="M · D against P · rated arm",
    source="statics; 200 mm where not specified (common practice)",
    fix="A lower tube, or a mount rated for the arm.",
    needs=("carried", "payload", "arm"),
    limits=(ARM,),
)
def arm(context: Context) -> Iterator[Judgement]:
    """L2: arm longer than the rating assumes."""
    mount = context.rig.mount
    if mount is None:
        return
    moment = context.value("mount.moment_nm")
    rated = balancing.rated_nm(mount)
    share, load = moment / rated, context.of(Load)
    verdict = ARM.careful(share, newton_metres(load.carried.mass * load.saddle_off_mm) / rated)
    assumed = "" if mount.rated_arm_mm else " (assumed)"
    reason = text(
        "{carried} at {arm}: {moment}.{saddle_words}",
        carried=context.shown("carried"),
        arm=context.shown("arm"),
        moment=Value(moment, "N·m", 0),
        saddle_words=load.saddle_words,
    )
    title = text("Payload lever arm too long") if verdict != "ok" else text("Payload lever arm OK")
    limit = text(
        "≤ {rated} ({payload_kg} at {rated_arm_mm}{assumed})",
        rated=Value(rated, "N·m", 0),
        payload_kg=Value(mount.payload_kg, "kg", 0),
        rated_arm_mm=Value(mount.rated_arm_mm or balancing.PLAIN_ARM_MM, "mm", 0),
        assumed=assumed,
    )
    judgement = Judgement(
        verdict, title, reason, limit, Value(share, form="share"), ("mount.moment_nm", "mount.arm_mm")
    )
    yield with_attempts(judgement, chain(turned(context), mounts(context)))


@rule(
    "L7",
    "Saddle and dovetail",
    checks="Whether the dovetail fits the saddle.",
    why="A dovetail of another width does not clamp, or slips.",
    formula="width of the bar ∈ widths of the saddle",
    source="common practice",
    fix="A mount with a matching saddle.",
)
def saddle(context: Context) -> Iterator[Judgement]:
    """L7: saddle and dovetail of different widths."""
    telescope, mount = context.light.telescope, context.rig.mount
    if telescope is None or telescope.dovetail is None or mount is None or not mount.saddle:
        return
    width = telescope.dovetail.width
    fits = width in mount.saddle
    reason = text(
        "Dovetail {width}; the {mount} accepts {saddle}.",
        width=width,
        mount=mount.name,
        saddle=" and ".join(mount.saddle),
    )
    title = text("Dovetail OK") if fits else text("Dovetail does not fit")
    judgement = Judgement("ok" if fits else "problem", title, reason, text("same width"), width)
    yield with_attempts(judgement, mounts(context))


@rule(
    "L10",
    "Heaviest lift",
    checks="The heaviest piece lifted at once.",
    why="Counterweights first, telescope second, reversed when packing; heavy tubes are lifted by two people.",
    formula="max m against the limit in Preferences",
    source="common practice; NIOSH lifting equation: 23 kg in the best posture (unverified)",
    fix="Lift it in pieces, or with two people.",
    needs=("lift",),
)
def lift(context: Context) -> Iterator[Judgement]:
    """L10: heaviest single lift."""
    heaviest, limit = context.of(Load).pieces[0], context.preferences.lift_kg
    over = heaviest.mass_kg > limit
    title = text("Lift with two people") if over else text("Heaviest lift OK")
    reason = text("Heaviest piece: {heaviest}. Keep feet and fingers clear.", heaviest=heaviest.name)
    yield Judgement(
        "warning" if over else "ok", title, reason, Value(limit, 'kg', 0), Value(heaviest.mass_kg, 'kg', 1),
        ("mount.heaviest_lift_kg",),
    )  # fmt: skip


@rule(
    "L11",
    "Tripod/pier capacity",
    checks="Mount, payload and counterweights against the capacity of tripod or pier.",
    why="Counterweights load the tripod too.",
    formula="M + W + head against capacity",
    source="definition",
    fix="A stronger tripod or pier.",
    needs=("carried",),
)
def support(context: Context) -> Iterator[Judgement]:
    """L11: over the support's capacity."""
    rig, load = context.rig, context.of(Load)
    if rig.support is None or rig.support.capacity_kg is None:
        return
    head = (rig.mount.used("mass_g") or 0.0) / 1000 if rig.mount else 0.0
    total = load.carried.mass + load.counterweight_kg + head
    over = total > rig.support.capacity_kg
    title = text("Tripod overloaded") if over else text("Tripod capacity OK")
    reason = text(
        "Payload {mass}, counterweights {counterweight_kg}, mount {head}.",
        mass=Value(load.carried.mass, "kg", 1),
        counterweight_kg=Value(load.counterweight_kg, "kg", 1),
        head=Value(head, "kg", 1),
    )
    judgement = Judgement(
        "problem" if over else "ok", title, reason, Value(rig.support.capacity_kg, "kg", 0), Value(total, "kg", 1)
    )
    yield with_attempts(judgement, _stronger(context, rig.support.capacity_kg))


def _stronger(context: Context, least_kg: float) -> Iterator[Attempt]:
    for part in ready_parts(context, Support):
        if (part.capacity_kg or 0) > least_kg:
            yield Attempt(
                text("Replace the tripod with the {part}", part=part.name), (Edit("replace", ("support",), part),)
            )
