"""Changes that rules of the Guide step try as mends: a prism, a guide scope, shorter subs, finer mounts."""

from collections.abc import Iterator
from math import hypot

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model import Camera, GuideScope, Mount, OffAxisGuider, PathItem, Placed
from dravel.core.model.edit import Edit
from dravel.core.moves.rings import relaid
from dravel.core.moves.shelf import ready_parts
from dravel.core.steps.guide.facts import Guiding
from dravel.core.train.facts import Spacing

MOST = 3


def off_axis(context: Context) -> Iterator[Attempt]:
    """A prism in the path, with the guide camera behind it and the rings that make the length right again."""
    rig, guiding = context.rig, context.of(Guiding)
    camera = guiding.camera or next(iter(_guide_cameras(context)), None)
    if camera is None:
        return
    off = tuple(
        Edit("remove", ("riders", i))
        for i, placed in reversed(list(enumerate(rig.riders)))
        if isinstance(placed.part, GuideScope)
    )
    branch = (
        Edit("replace", ("guide", "method"), "off_axis"),
        Edit("replace", ("guide", "branch"), (PathItem(part=camera),)),
    )
    if guiding.guider is not None:
        yield Attempt("Guide off-axis through the prism that is there", (*off, *branch, *_in_focus(context)))
        return
    at = next((i for i, item in enumerate(rig.path) if item.part.kind in ("filter_holder", "camera")), len(rig.path))
    for part in ready_parts(context, OffAxisGuider)[:MOST]:
        lay = Edit("add", ("path", at), PathItem(part=part))
        yield relaid(context, f"Lay the {part.name} and guide off-axis", (lay, *off, *branch))


def _in_focus(context: Context) -> tuple[Edit, ...]:
    """How far to draw the guide camera out so that it is in focus with the main one."""
    guide = context.rig.guide
    if guide.method == "off_axis":
        return ()
    train, guider = context.of(Spacing).train, context.of(Guiding).guider
    camera = context.of(Guiding).camera
    laid = train.guider
    if guider is None or laid is None or camera is None or train.camera is None or camera.flange_to_sensor_mm is None:
        return ()
    required = train.camera.end - (laid.end - guider.prism.centre_to_sensor_side_mm)
    short = required - guider.prism.stalk_mm - camera.flange_to_sensor_mm
    helical = min(max(short, 0.0), guider.helical_range_mm)
    return (
        Edit("replace", ("guide", "helical_mm"), round(helical, 1)),
        Edit("replace", ("guide", "drawn_out_mm"), round(max(0.0, short - helical), 1)),
    )


def scoped(context: Context, *, least_mm: float = 0.0) -> Iterator[Attempt]:
    """A guide scope on top, the guide camera behind it."""
    rig, guiding = context.rig, context.of(Guiding)
    camera = guiding.camera or next(iter(_guide_cameras(context)), None)
    if camera is None:
        return
    telescope = context.light.telescope
    radius = (telescope.tube_diameter_mm or telescope.aperture_mm) / 2 if telescope else 40.0
    old = next((i for i, placed in enumerate(rig.riders) if isinstance(placed.part, GuideScope)), None)
    for part in ready_parts(context, GuideScope):
        if part.focal_length_mm < least_mm:
            continue
        placed = Placed(part=part, off_mm=round(radius + part.diameter_mm / 2 + 15))
        lay = (
            Edit("add", ("riders", len(rig.riders)), placed)
            if old is None
            else Edit("replace", ("riders", old, "part"), part)
        )
        yield Attempt(
            f"Guide through the {part.name}",
            (
                lay,
                Edit("replace", ("guide", "method"), "guide_scope"),
                Edit("replace", ("guide", "branch"), (PathItem(part=camera),)),
            ),
        )


def _guide_cameras(context: Context) -> list[Camera]:
    """Small cameras on the shelf with a smooth nose."""
    cameras = [camera for camera in ready_parts(context, Camera) if camera.sensor.width_mm < 8]
    return sorted(cameras, key=lambda camera: camera.sky_side is None or camera.sky_side.family != "clamp")


def finer_mounts(context: Context) -> Iterator[Attempt]:
    """Mounts on the shelf that leave less between corrections, the lightest first."""
    guiding, now = context.of(Guiding), context.rig.mount
    setup = guiding.setup[0]
    if setup is None or now is None or "seeing_at_airmass" not in context.known:
        return

    def left(mount: Mount) -> float:
        return hypot(*(value for _, value, _ in guiding.mount_terms(mount, setup)))

    carried = context.known.get("carried") or 0.0
    finer = [
        m
        for m in ready_parts(context, Mount)
        if m.guide_input != "none" and m.payload_kg > carried and left(m) < left(now)
    ]
    for part in sorted(finer, key=lambda m: m.payload_kg)[:2]:
        yield Attempt(f"Put it on the {part.name}", (Edit("replace", ("mount",), part),))
