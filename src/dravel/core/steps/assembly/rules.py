"""Rules of the Build step: what must not be left out, ground, pole, leads, what records the night."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.limit import Limit
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Accessory, Cable
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, text
from dravel.core.moves.shelf import ready_parts
from dravel.core.steps.assembly.facts import Build
from dravel.core.steps.assembly.starting import SHORT_METHODS, polar_method, pole_is_free

# Cards whose absence has ended nights, and what is then left on, or out.
NEEDED = {
    "caps": "a cap stays on: wrong balance and dark first frames",
    "open": "mask, cap or reticle light left on: spikes or no image",
    "support": "tripod not level",
    "polar": "drift and field rotation in every sub",
    "focus": "no sharp frames",
    "balance_ra": "drive loaded to one side all night",
}
UNSAFE = ("weight", "telescope", "lift", "head")
LEADS = Limit(1.0, None, "× the way", "geometry; slack is an estimate", least=True)


@rule(
    "B1",
    "Skipped checklist items",
    checks="Whether a skipped card can spoil the night or let something fall.",
    why="A cap, mask or reticle light left on costs the night; a missing counterweight or an open saddle can cost the telescope.",
    formula="cards skipped ∩ cards required = ∅",
    source="common practice",
    fix="Restore the card.",
    lapses=True,
)
def left_out(context: Context) -> Iterator[Judgement]:
    """B1: lens cap, mask or reticle left on by a plan that skips the card; weights left out."""
    chosen = context.rig.build.left_out
    there = {card.key: card for card in context.of(Build).all} if chosen else {}
    for key in chosen:
        if key not in there:
            continue
        rest = tuple(item for item in chosen if item != key)
        back = (
            Attempt(
                text("Restore the card: {there}", there=there[key].title),
                (Edit("replace", ("build", "left_out"), rest),),
            ),
        )
        if key.startswith(UNSAFE):
            reason = text("{there}: the rest depends on this card.", there=there[key].title)
            judgement = Judgement(
                "problem",
                text("Structural card skipped"),
                reason,
                text("none skipped"),
                text("skipped"),
                subject=str(there[key].title),
            )
        elif key in NEEDED:
            judgement = Judgement(
                "warning",
                text("Required card skipped"),
                text("Consequence: {NEEDED}.", f"{key}_skipped", NEEDED=NEEDED[key]),
                text("none skipped"),
                text("skipped"),
                subject=str(there[key].title),
            )
        else:
            continue
        yield with_attempts(judgement, back)


@rule(
    "B2",
    "Ground firmness",
    checks="Whether spikes or feet sink into the selected ground without pads.",
    why="A foot that sinks 1 mm over the night spoils the polar alignment.",
    formula="soft ground or grass: pads",
    source="common practice",
    fix="Ground pads.",
)
def ground(context: Context) -> Iterator[Judgement]:
    """B2: soft ground without pads."""
    rig = context.rig
    if rig.build.ground is None or rig.support is None:
        return
    padded = next((part.name for part in rig.extras if part.function == "pad"), None)
    if rig.build.ground == "slab" or padded:
        yield Judgement(
            "ok",
            text("Ground OK"),
            text("On {padded}.", padded=padded) if padded else text("On a slab."),
            text("solid ground, or pads"),
            padded or "slab",
        )
        return
    title = text("Feet sink into ground")
    judgement = Judgement(
        "warning",
        title,
        text("On {which} without pads.", which="grass" if rig.build.ground == "grass" else text("soft ground")),
        text("solid ground, or pads"),
        "none",
    )
    pads = [part for part in ready_parts(context, Accessory) if part.function == "pad"]
    yield with_attempts(
        judgement,
        (Attempt(text("Add {part}", "add", part=part.name), (Edit("add", ("extras", 0), part),)) for part in pads),
    )


@rule(
    "B3",
    "Pole visibility",
    checks="Whether the selected polar alignment method works at this site: whether the pole is visible.",
    why="An obstruction hides the pole, and near the equator it is in the haze.",
    formula="|latitude| > horizon towards the pole, and over 5°",
    source="spherical astronomy; common practice",
    fix="Drift alignment, which needs no view of the pole.",
)
def pole(context: Context) -> Iterator[Judgement]:
    """B3: polar alignment method impossible from the site."""
    mount = context.rig.mount
    if mount is None or mount.driven_axes == 0 or mount.style == "alt_azimuth":
        return
    free, method = pole_is_free(context), polar_method(context)
    if free is None:
        return
    if free or method == "drift":
        words = (
            text("The pole is visible.") if free else text("The pole is obstructed; drift alignment works without it.")
        )
        yield Judgement(
            "ok", text("Polar alignment OK"), words, text("visible pole, or drift alignment"), SHORT_METHODS[method]
        )
        return
    reason = text(
        "The pole is obstructed at this site: alignment {SHORT_METHODS} does not work.",
        SHORT_METHODS=SHORT_METHODS[method],
    )
    judgement = Judgement(
        "problem", text("Pole obstructed"), reason, text("visible pole, or drift alignment"), SHORT_METHODS[method]
    )
    yield with_attempts(
        judgement,
        (Attempt(text("Polar align by drift", "polar_align_drift"), (Edit("replace", ("build", "polar"), "drift"),)),),
    )


@rule(
    "B4",
    "Supply cable length",
    checks="Whether the supply cable reaches the far end of the tube in every position, with slack for the flip.",
    why="A short cable pulls out a plug during the flip, or snags on a leg.",
    formula="height of the axes + √(arm² + half the tube²) + slack ≤ length of the cable",
    source="geometry; 0.4 m of slack is an estimate",
    fix="A longer cable.",
    limits=(LEADS,),
)
def lead(context: Context) -> Iterator[Judgement]:
    """B4: cable that snags through the flip."""
    rig, way = context.rig, context.of(Build).way_up_mm
    first = next((cable for cable in rig.supply.cables if cable.carries == "power"), None)
    if way is None or first is None or rig.mount is None or rig.supply.source is None:
        return
    rides = any(placed.part.kind == "power_source" for placed in rig.riders)
    if rides:
        return
    verdict = LEADS.times(way, "mm").verdict(first.length_mm)
    title = text("Supply cable length OK") if verdict == "ok" else text("Supply cable too short", "supply_cable_short")
    reason = text(
        "Required {way} from the ground over the axes to the end of the tube, including slack; the {first} is {length_mm}.",
        way=Value(way / 1000, "m", 1),
        first=first.name,
        length_mm=Value(first.length_mm / 1000, "m", 1),
    )
    judgement = Judgement(verdict, title, reason, Value(way / 1000, "m", 1), Value(first.length_mm / 1000, "m", 1))
    at = rig.supply.cables.index(first)
    yield with_attempts(judgement, _longer(context, at, way))


def _longer(context: Context, at: int, way_mm: float) -> Iterator[Attempt]:
    now = context.rig.supply.cables[at]
    for part in ready_parts(context, Cable):
        if part.carries == "power" and part.length_mm >= way_mm and part.id != now.id:
            yield Attempt(
                text("Add the {part}", "add", part=part.name), (Edit("replace", ("supply", "cables", at), part),)
            )
