"""Changes that rules of the Load step try as fixes: other mounts, weights slid or hung, extensions."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model import Accessory, Adapter, Corrector, Counterweight, Hung, Mount, Support
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, joined, text
from dravel.core.moves.parts import without
from dravel.core.moves.rings import relaid
from dravel.core.moves.shelf import ready_parts
from dravel.core.steps.mount import balancing
from dravel.core.steps.mount.facts import Load

MOST_MOUNTS = 3


def mounts(context: Context) -> Iterator[Attempt]:
    """Other mounts on the shelf, the lightest that is rated higher first."""
    now = context.rig.mount
    heavier = [m for m in ready_parts(context, Mount) if now is None or m.payload_kg > now.payload_kg]
    for part in sorted(heavier, key=lambda m: m.payload_kg)[:MOST_MOUNTS]:
        yield Attempt(
            text("Replace the mount with the {part}", part=part.name),
            (Edit("replace", ("mount",), part), *_hung_again(context, part)),
        )


def _hung_again(context: Context, mount: Mount) -> tuple[Edit, ...]:
    """Counterweights that balance the load on another mount, when the shelf and the rig have some."""
    rig = context.rig.model_copy(update={"mount": mount})
    shaft = balancing.shaft_of(rig)
    if shaft is None:
        return (Edit("replace", ("counterweights",), ()),) if context.rig.counterweights else ()
    moment = balancing.wanted_moment(rig, context.of(Load).carried, context.preferences.ra_balance)
    choices = balancing.choices(weights(context), moment, shaft, context.preferences.weights, most=1)
    return (hang_edit(choices[0]),) if choices else ()


def weights(context: Context) -> list[Counterweight]:
    """Counterweights at hand: those that hang already, then those on the shelf."""
    return [hung.part for hung in context.rig.counterweights] + ready_parts(context, Counterweight)


def hang_edit(found: balancing.Hanging) -> Edit:
    """The change that hangs weights as found, to a tenth of a millimetre."""
    pairs = zip(found.weights, found.positions, strict=True)
    return Edit("replace", ("counterweights",), tuple(Hung(part=part, position_mm=round(at, 1)) for part, at in pairs))


def weighted(context: Context) -> Iterator[Attempt]:
    """The weights that hang, slid to balance; then others from the shelf; then an extension with either."""
    rig, shaft = context.rig, context.of(Load).shaft
    if shaft is None:
        return
    own = [hung.part for hung in rig.counterweights]
    slid = balancing.hang(own, context.of(Load).wanted, shaft) if own else None
    if slid is not None and not slid.fits:
        where = joined(", ", (Value(at, "mm", 0) for at in slid.positions))
        yield Attempt(text("Slide counterweights to {where}", where=where), (hang_edit(slid),))
    for choice in balancing.choices(
        weights(context), context.of(Load).wanted, shaft, context.preferences.weights, most=3
    ):
        masses = joined(" + ", (Value((weight.used("mass_g") or 0.0) / 1000, "kg", 1) for weight in choice.weights))
        yield Attempt(
            text("Set counterweights to {masses} at {middle}", masses=masses, middle=Value(choice.middle, "mm", 0)),
            (hang_edit(choice),),
        )
    for extra in ready_parts(context, Accessory):
        if extra.function != "shaft_extension":
            continue
        longer = rig.model_copy(update={"extras": (*rig.extras, extra)})
        moment = balancing.wanted_moment(longer, context.of(Load).carried, context.preferences.ra_balance)
        reach = balancing.shaft_of(longer)
        if reach is None:
            continue
        for choice in balancing.choices(own or weights(context), moment, reach, context.preferences.weights, most=1):
            yield Attempt(
                text(
                    "Add the {extra}, counterweights at {middle}",
                    extra=extra.name,
                    middle=Value(choice.middle, "mm", 0),
                ),
                (Edit("replace", ("extras",), longer.extras), hang_edit(choice)),
            )


def cleared(context: Context) -> Iterator[Attempt]:
    """Past the legs: the tripod turned, the rider that reaches moved, the head raised, the tube slid, the train cut."""
    rig, near = context.rig, context.of(Load).leg_clearance
    if near is None or rig.support is None:
        return
    legs = (
        text("Turn the tripod: one leg to the pole")
        if rig.tripod_turned
        else text("Turn the tripod: two legs to the pole")
    )
    yield Attempt(legs, (Edit("replace", ("tripod_turned",), not rig.tripod_turned),))
    if near.rider is not None:
        for side in ("top", "left"):
            if rig.riders[near.rider].side != side:
                move = Edit("replace", ("riders", near.rider, "side"), side)
                yield Attempt(
                    text(
                        "Move the {part} {which}",
                        part=near.part,
                        which=text("on top") if side == "top" else text("at the side"),
                    ),
                    (move,),
                )
    yield from raised(context)
    slide, saddle = context.of(Load).slide, context.of(Load).carried.saddle_mm
    if slide is not None and slide[0] < saddle - 1:
        edit = Edit("replace", ("saddle_mm",), round(slide[0], 1))
        yield Attempt(
            text("Slide the tube {saddle} forward", "slide_tube", saddle=Value(saddle - slide[0], "mm", 0)), (edit,)
        )
    if near.rider is None and near.kind != "telescope":
        for index, item in enumerate(rig.path):
            if isinstance(item.part, Corrector):
                break
            if isinstance(item.part, Adapter):
                yield relaid(context, text("Remove the {part}", "remove", part=item.part.name), without(index))


def raised(context: Context) -> Iterator[Attempt]:
    """A pier extension under the head, or a pier."""
    for extra in ready_parts(context, Accessory):
        if extra.function == "pier_extension" and extra.length_mm and context.rig.support is not None:
            raised = context.rig.support.extension_mm + extra.length_mm
            yield Attempt(
                text("Add the {extra} under the mount head", extra=extra.name),
                (Edit("replace", ("support", "extension_mm"), raised), Edit("add", ("extras", 0), extra)),
            )
    for part in ready_parts(context, Support):
        if part.style == "pier":
            yield Attempt(
                text("Replace the tripod with the {part}", part=part.name), (Edit("replace", ("support",), part),)
            )
