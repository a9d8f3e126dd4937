"""The cards of a rig: what is put on what, where, with which tool and mark. Minutes are Dravel's own orders of magnitude."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.model import DewHeater, GuideScope, Hung, Placed, Rider
from dravel.core.model.designs import ALL_MIRRORS, MIRRORED
from dravel.core.model.words import Value, text
from dravel.core.steps.assembly.order import Card, ordered, without
from dravel.core.steps.assembly.starting import start_cards
from dravel.core.steps.assembly.train import train_cards
from dravel.core.train.facts import Spacing
from dravel.core.train.layout import part_key

SUN = "Never towards the sun's part of the sky with anything uncovered."
COOLED_MM = 125.0  # mirrors of this size on hold the warmth of the house. Common practice
FINGERS = "Keep feet and fingers clear."
LEVEL = "spirit level"


def deck(context: Context) -> tuple[Card, ...]:
    """The cards of a build in their order, those the owner leaves out taken out."""
    left_out = context.rig.build.left_out
    return ordered(without(tuple(_all(context)), left_out) if left_out else _all(context))


def whole(context: Context) -> tuple[Card, ...]:
    """The same with those left out too."""
    return ordered(_all(context))


def _all(context: Context) -> Iterator[Card]:
    yield from _ground(context)
    kept = context.rig.build.kept
    if kept == "on_mount":
        yield from _lifted(context)
    else:
        yield from _mount(context)
        yield from train_cards(context)
        yield from _tube(context)
    yield from _riders(context)
    yield from _wiring(context)
    yield from _balance(context)
    yield from start_cards(context)


def _function(context: Context, function: str) -> list[str]:
    return [part.name for part in context.rig.extras if part.function == function]


def _ground(context: Context) -> Iterator[Card]:
    rig = context.rig
    if pads := _function(context, "pad"):
        yield Card(
            "pads", "Place the pads", text('{capitalize}, pressed into the ground.', capitalize=pads[0].capitalize()), 1, place="on the ground",
            check="none rocks", minutes=2, off="Pick up the pads.",
        )  # fmt: skip
    if rig.support is None:
        return
    turns = ""
    if rig.support.style == "tripod" and rig.mount is not None and rig.mount.style != "alt_azimuth":
        turns = "two legs to the pole, one away" if rig.tripod_turned else "one leg to the pole"
    north = ""
    if not rig.stands_still:
        north = "A compass points to the magnetic pole: take the local declination off, it is on maps."
    yield Card(
        "support", text('Set up the {support}', support=rig.support.name), "Legs out, spreader in, roughly towards the pole.", 2, ("pads",),
        "on the ground", LEVEL, turns, "level both ways", north, 4, (part_key(rig.support),), "Fold the tripod.",
    )  # fmt: skip
    if weights := _function(context, "spreader_weight"):
        yield Card(
            "spreader", text('Hang the {weights} on the spreader', weights=weights[0]), "Low, in the centre.", 3, ("support",),
            "on the ground", caution=FINGERS, minutes=1, off="Remove from the spreader.",
        )  # fmt: skip
    if more := _function(context, "pier_extension"):
        yield Card(
            "extension", text('Bolt on the {more}', more=more[0]), "On the tripod head: all bolts by hand, then tighten.", 4, ("support",),
            tool="hex key", check="does not turn", minutes=3, off="Unbolt the extension.",
        )  # fmt: skip


def _lifted(context: Context) -> Iterator[Card]:
    rig = context.rig
    if rig.mount is None:
        return
    mass = (context.known.get("carried") or 0.0) + (rig.mount.used("mass_g") or 0.0) / 1000
    two = (
        text("{mass}: two people.", mass=Value(mass, "kg", 1))
        if mass > context.preferences.lift_kg
        else text("{mass} in one lift.", mass=Value(mass, "kg", 1))
    )
    yield Card(
        "lift", "Lift the rig onto the tripod", "Mount, tube and image train in one lift.", 5,
        ("support", "extension", "spreader"), check="bolts tight before the hands leave it", caution=f"{two} {FINGERS}",
        minutes=4, parts=(part_key(rig.mount),), off="Lift it off as one.", off_caution=two,
    )  # fmt: skip
    yield from _weights(context, "lift")


def _mount(context: Context) -> Iterator[Card]:
    rig = context.rig
    if rig.mount is None:
        return
    light = rig.mount.style == "tracker"
    yield Card(
        "head", text("{mount} on the tripod", mount=rig.mount.name),
        "Screw it on; both adjusting bolts loose by a turn." if not light else "Screw it on.", 5,
        ("support", "extension", "spreader"), tool="by hand", check="does not rock", minutes=2 if light else 3,
        parts=(part_key(rig.mount),), off="Remove the mount head.",
    )  # fmt: skip
    yield from _weights(context, "head")


def _weights(context: Context, on: str) -> Iterator[Card]:
    rig = context.rig
    if extension := _function(context, "shaft_extension"):
        yield Card(
            "shaft", text('Screw in the {extension}', extension=extension[0]), "On the end of the shaft.", 6, (on,), minutes=1,
            off="Screw the extension out.",
        )  # fmt: skip
    hung = sorted(rig.counterweights, key=lambda item: item.position_mm)
    before: tuple[str, ...] = (on, "shaft")
    for k, item in enumerate(hung):
        yield _weight(k, item, before, context, last=k == len(hung) - 1)
        before = (*before, f"weight-{k}")


def _weight(k: int, one: Hung, before: tuple[str, ...], context: Context, *, last: bool) -> Card:
    mount = context.rig.mount
    shaft = mount.shaft if mount else None
    # As the tape lies on the shaft; without a shaft there is no shoulder to measure from.
    inner = one.position_mm - one.part.thickness_mm / 2 - (shaft.start_mm if shaft else 0.0)
    start = "the shaft's shoulder" if shaft else "the RA axis"
    stop = " Stop bolt back on the shaft's end." if last else ""
    return Card(
        f"weight-{k}", text('{part} on the shaft', part=one.part.name), text("Counterweights before the telescope.{stop}", stop=stop), 7 + k / 10, before,
        mark=text('inner face {inner} from {start}', inner=Value(inner, 'mm', 0), start=start), check="clamped; the stop bolt holds" if last else "clamped",
        caution=FINGERS, minutes=1.5, parts=(part_key(one.part),), off="Slide it off; stop bolt back on the shaft's end.",
        off_caution="Only after the telescope is off. " + FINGERS,
    )  # fmt: skip


def _tube(context: Context) -> Iterator[Card]:
    rig, telescope = context.rig, context.light.telescope
    if telescope is None:
        return
    mass = (telescope.used("mass_g") or 0.0) / 1000
    heavy = text("{mass}: two people.", mass=Value(mass, "kg", 1)) if mass > context.preferences.lift_kg else ""
    weights = tuple(f"weight-{k}" for k in range(len(rig.counterweights)))
    onto = ("head", *weights, "support")
    if rig.mount is None and rig.support is None:
        return
    mark = (
        ""
        if rig.saddle_mm is None
        else text("saddle's middle {saddle_mm} ahead of the rear shoulder", saddle_mm=Value(rig.saddle_mm, "mm", 0))
    )
    yield Card(
        "telescope", text('{telescope} into the saddle', telescope=telescope.name) if rig.mount else text('{telescope} on the tripod', telescope=telescope.name),
        "Both knobs, then the safety screw." if rig.mount else "Quick plate clicked in and locked.", 20, onto,
        mark=mark, check="pull it once before letting go", caution=f"{heavy} {FINGERS} {SUN}".strip(), minutes=2,
        parts=(part_key(telescope),), off="Remove the telescope before any counterweight.",
        off_caution="Remove counterweights after it, never before.",
    )  # fmt: skip


def _riders(context: Context) -> Iterator[Card]:
    rig = context.rig
    if rig.build.kept in ("on_tube", "on_mount"):
        return
    on = ("telescope",)
    for k, placed in enumerate(rig.riders):
        if placed.off_at_night:
            continue
        yield _rider(k, placed, on)
    camera = next((item.part for item in rig.guide.branch if item.part.kind == "camera"), None)
    if camera is None or rig.guide.method == "none":
        return
    where = "behind the guide scope" if rig.guide.method == "guide_scope" else "into the off-axis guider's port"
    behind = tuple(f"rider-{k}" for k, p in enumerate(rig.riders) if isinstance(p.part, GuideScope))
    drawn = text(
        "guide camera {drawn_out_mm} out, helical {helical_mm}",
        drawn_out_mm=Value(rig.guide.drawn_out_mm, "mm"),
        helical_mm=Value(rig.guide.helical_mm, "mm"),
    )
    yield Card(
        "guide_camera", f"{camera.name} {where}", "To its depth, and clamped.", 31,
        (*(behind if rig.guide.method == "guide_scope" else ("train_on",)), *on),
        mark=drawn if rig.guide.method == "off_axis" else "at the depth marked on its nose", minutes=1.5,
        parts=(part_key(camera),), off="Take the guide camera off.",
    )  # fmt: skip


def _rider(k: int, placed: Placed, on: tuple[str, ...]) -> Card:
    part, ahead = placed.part, placed.along_mm
    way = "ahead of" if ahead >= 0 else "behind"
    mark = text("{ahead} {way} the tube's mark, {side}", ahead=Value(abs(ahead), "mm", 0), way=way, side=placed.side)
    if isinstance(part, DewHeater):
        return Card(
            f"rider-{k}", text('{part} around the glass', part=part.name), "Snug, cable to the rear.", 30.5 + k / 100, on, minutes=1,
            parts=(part_key(part),), off="Remove the dew heater.",
        )  # fmt: skip
    motor = isinstance(part, Rider) and part.function == "focus_motor"
    return Card(
        f"rider-{k}", text('{part} to its mark', part=part.name), "Coupled to the focuser's knob." if motor else "In its shoe or rings, tight.",
        30 + k / 100, on, tool="hex key" if motor else "by hand", mark=mark, minutes=1.5, parts=(part_key(part),),
        off=text("Remove the {part}.", part=part.name),
    )  # fmt: skip


def _wiring(context: Context) -> Iterator[Card]:
    rig, supply = context.rig, context.rig.supply
    riders = tuple(f"rider-{k}" for k in range(len(rig.riders)))
    on = ("telescope", "train_on", "guide_camera", "lift", *riders)
    if supply.cables:
        names = ", ".join(cable.name for cable in supply.cables)
        yield Card(
            "cables", "Route the cables", text("{names}. One cable up from the ground, the rest along the tube.", names=names), 40, on,
            tool="hook-and-loop ties", check="slack for a turn about both axes; a guard where they snag", minutes=5,
            parts=tuple(part_key(cable) for cable in supply.cables), off="Cables off, coiled.",
        )  # fmt: skip
    if supply.source is not None:
        mains = "Residual-current device, weatherproof plugs; per local electrical code." if supply.source.mains else ""
        yield Card(
            "supply", text('{source} in its place', source=supply.source.name), "Plugged in, not yet on.", 41, ("cables", *on),
            place="on the ground", check="dry, and nobody trips over it", caution=mains, minutes=1,
            parts=(part_key(supply.source),), off="Unplug and pack.",
        )  # fmt: skip


def _balance(context: Context) -> Iterator[Card]:
    rig, telescope = context.rig, context.light.telescope
    if telescope is None:
        return
    on = ("telescope", "train_on", "guide_camera", "cables", "supply", "lift")
    yield Card(
        "caps", "Caps and covers off, once the sun is down",
        "All of them: metal caps affect the balance. Until sunset they stay on, whatever moves.", 50, on,
        caution=SUN, minutes=0.5, off="Caps and covers on.", after_sunset=True,
    )  # fmt: skip
    if telescope.design not in ALL_MIRRORS:
        yield Card(
            "dew_shield", "Dew shield out", "Slide out or attach: reduces dew and stray light.", 50.5,
            ("caps", *on), minutes=0.5, off="Dew shield in.",
        )  # fmt: skip
    if telescope.design in MIRRORED and (telescope.used("aperture_mm") or 0.0) >= COOLED_MM:
        yield Card(
            "mirror", "Let the mirror cool", "Open to the air and out of the house's warmth, the fan on if it has one.", 50.6,
            ("caps", *on), check="stars stop boiling: half an hour to an hour, while the rest goes on", minutes=0.5,
        )  # fmt: skip
    drawn = context.known.get("focuser_position")
    # The ring of a lens and a main mirror that moves have no drawtube.
    moves = telescope.focuser.mechanism == "drawtube" and telescope.design != "camera_lens"
    moves = moves and not context.of(Spacing).mirror_moves
    if drawn is not None and drawn > 0 and moves:
        yield Card(
            "drawtube", "Drawtube where focus will be", "For balance at the imaging position.", 51, ("caps", *on),
            mark=text('{drawn} out', drawn=Value(drawn, 'mm', 0)), minutes=0.5,
        )  # fmt: skip
    if rig.mount is None or rig.build.kept == "on_mount" or rig.mount.driven_axes == 0:
        return
    ready = ("caps", "dew_shield", "drawtube", *on)
    if rig.mount.style == "alt_azimuth":
        # One arm, or a fork: only the tube itself is balanced, about the axis of altitude.
        if telescope.dovetail is not None:
            yield Card(
                "balance_altitude", "Balance the tube in altitude", "Tube level, altitude clutch loose, slid in its saddle.",
                52, ready, check="stays in any position", caution="Hold the tube while the knobs are loose.", minutes=2,
            )  # fmt: skip
        return
    # Without a weight on the other side there is nothing to balance, and the axes of strain-wave heads do not swing free.
    if rig.mount.style == "strain_wave" or (rig.mount.style == "tracker" and not rig.counterweights):
        return
    heavy = "a little east-heavy" if context.preferences.ra_balance == "east_heavy" else "exact"
    yield Card(
        "balance_ra", "Balance RA", "Shaft level, clutch loose, a hand under it.", 52, ready,
        check=heavy if rig.mount.drive == "worm" else "stays in any position", caution=FINGERS, minutes=2,
    )  # fmt: skip
    if rig.mount.driven_axes > 1 and telescope.dovetail is not None:
        yield Card(
            "balance_dec", "Balance Dec", "Tube level, slid in the saddle.", 53, ("balance_ra", *ready),
            check="stays in any position", caution="Hold the tube while the knobs are loose.", minutes=2,
        )  # fmt: skip
        yield Card(
            "balance_again", "Recheck RA balance and mark it", "The tube has moved.", 54,
            ("balance_dec",), mark="the new place on shaft and dovetail, if it moved", minutes=1,
        )  # fmt: skip
