"""Rules of the Build step: what must not be left out, ground, pole, leads, what records the night."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.limit import Limit
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Accessory, Cable
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, text
from dravel.core.moves.shelf import ready_parts
from dravel.core.steps.build.facts import Build
from dravel.core.steps.build.starting import SHORT_METHODS, polar_method, pole_is_free

# Cards whose absence has ended nights, and what is then left on, or out.
NEEDED = {
    "caps": "a cap stays on: the balance is wrong, and the first frames are dark",
    "open": "mask, cap or reticle light stay on: a night of spikes, or of nothing",
    "support": "it does not stand level",
    "polar": "every sub drifts and turns",
    "focus": "nothing is sharp",
    "balance_ra": "the drive pulls one way all night",
}
UNSAFE = ("weight", "telescope", "lift", "head")
LEADS = Limit(1.0, None, "× the way", "geometry; the slack is Dravel's own", least=True)


@rule(
    "B1",
    "Skipped checklist items",
    checks="Whether the build leaves out a card without which the night fails, or something falls.",
    why="A cap, a mask or a reticle light left on costs the night; a weight or a saddle left out costs the telescope.",
    formula="cards left out ∩ cards needed = ∅",
    source="common practice",
    mend="Put the card back.",
    lapses=True,
)
def left_out(context: Context) -> Iterator[Judgement]:
    """B1: lens cap, mask or reticle left on by a plan that skips the card; weights left out."""
    chosen = context.rig.build.left_out
    there = {card.key: card for card in context.of(Build).all} if chosen else {}
    for key in chosen:
        if key not in there:
            continue
        rest = tuple(one for one in chosen if one != key)
        back = (
            Attempt(
                text("Restore the card: {there}", there=there[key].title),
                (Edit("replace", ("build", "left_out"), rest),),
            ),
        )
        if key.startswith(UNSAFE):
            reason = text("{there}: without it the rest hangs on nothing, or nothing holds it.", there=there[key].title)
            judgement = Judgement(
                "breaks",
                text("A card that carries is left out"),
                reason,
                text("none of them"),
                text("left out"),
                subject=str(there[key].title),
            )
        elif key in NEEDED:
            judgement = Judgement(
                "strains",
                text("A card is left out that is missed"),
                text("Without it {NEEDED}.", NEEDED=NEEDED[key]),
                text("none of them"),
                text("left out"),
                subject=str(there[key].title),
            )
        else:
            continue
        yield with_attempts(judgement, back)


@rule(
    "B2",
    "Ground firmness",
    checks="Whether spikes or feet sink, by the ground that is named, and whether pads lie under them.",
    why="A foot that sinks a millimetre over the night takes the polar alignment with it.",
    formula="soft ground or grass: pads",
    source="common practice",
    mend="Ground pads from the shelf.",
)
def ground(context: Context) -> Iterator[Judgement]:
    """B2: soft ground without pads."""
    rig = context.rig
    if rig.build.ground is None or rig.support is None:
        return
    padded = next((part.name for part in rig.extras if part.function == "pad"), None)
    if rig.build.ground == "slab" or padded:
        yield Judgement(
            "holds",
            text("Stands firmly"),
            text("On {padded}.", padded=padded) if padded else text("On a slab."),
            text("firm ground, or pads"),
            padded or "slab",
        )
        return
    title = text("Feet sink into the ground")
    judgement = Judgement(
        "strains",
        title,
        text("On {which} without pads.", which="grass" if rig.build.ground == "grass" else text("soft ground")),
        text("firm ground, or pads"),
        "none",
    )
    pads = [part for part in ready_parts(context, Accessory) if part.function == "pad"]
    yield with_attempts(
        judgement, (Attempt(text("Add {part}", part=part.name), (Edit("add", ("extras", 0), part),)) for part in pads)
    )


@rule(
    "B3",
    "Pole visibility",
    checks="Whether the polar alignment chosen can be done from the site: whether the pole stands free.",
    why="A roof to the north hides the pole star, and near the equator it lies in the haze.",
    formula="|latitude| > horizon towards the pole, and over 5°",
    source="spherical astronomy; common practice",
    mend="The drift method, which needs no pole.",
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
        words = text("The pole stands free.") if free else text("The pole is hidden; drift needs none.")
        yield Judgement(
            "holds", text("Can be aligned to the pole"), words, text("a free pole, or drift"), SHORT_METHODS[method]
        )
        return
    reason = text("The site hides the pole: it cannot be done {SHORT_METHODS}.", SHORT_METHODS=SHORT_METHODS[method])
    judgement = Judgement(
        "breaks", text("The pole is hidden"), reason, text("a free pole, or drift"), SHORT_METHODS[method]
    )
    yield with_attempts(
        judgement, (Attempt(text("Polar align by drift"), (Edit("replace", ("build", "polar"), "drift"),)),)
    )


@rule(
    "B4",
    "Supply cable length",
    checks="Whether the supply's own lead reaches the far end of the tube in every position, with slack for the flip.",
    why="A lead that is too short pulls a plug in the middle of the flip, or snags on a leg.",
    formula="height of the axes + √(arm² + half the tube²) + slack ≤ length of the lead",
    source="geometry; 0.4 m of slack is Dravel's own",
    mend="A longer lead from the shelf.",
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
    title = text("Lead reaches through the flip") if verdict == "holds" else text("Lead snags in the flip")
    reason = text(
        "{way} from the ground over the axes to the end of the tube, slack with it; the {first} is {length_mm}.",
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
            yield Attempt(text("Add the {part}", part=part.name), (Edit("replace", ("supply", "cables", at), part),))
