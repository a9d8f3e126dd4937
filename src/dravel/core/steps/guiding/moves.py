"""Changes that rules of the Guide step try as fixes: a guide scope, finer mounts."""

from collections.abc import Iterator
from math import hypot

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model import GuideScope, Mount, PathItem, Placed
from dravel.core.model.edit import Edit
from dravel.core.model.words import text
from dravel.core.moves.guiding import guide_cameras
from dravel.core.moves.shelf import ready_parts
from dravel.core.steps.guiding.facts import Guiding


def scoped(context: Context, *, least_mm: float = 0.0) -> Iterator[Attempt]:
    """A guide scope on top, the guide camera behind it."""
    rig, guiding = context.rig, context.of(Guiding)
    camera = guiding.camera or next(iter(guide_cameras(context)), None)
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
            text("Guide through the {part}", part=part.name),
            (
                lay,
                Edit("replace", ("guide", "method"), "guide_scope"),
                Edit("replace", ("guide", "branch"), (PathItem(part=camera),)),
            ),
        )


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
        yield Attempt(text("Replace the mount with the {part}", part=part.name), (Edit("replace", ("mount",), part),))
