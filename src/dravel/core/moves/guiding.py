"""Guiding off the axis: a prism laid in its place, the guide camera behind it in focus, the guide scope taken off."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model import Adapter, Camera, GuideScope, OffAxisGuider, PathItem, Rig
from dravel.core.model.edit import Edit, apply
from dravel.core.model.words import Text, text
from dravel.core.moves.rings import relaid
from dravel.core.moves.shelf import ready_parts
from dravel.core.moves.subs import planned_sub
from dravel.core.train.facts import Spacing
from dravel.core.train.guider import Branch
from dravel.core.train.light_path import LightPath

MOST = 3
GUIDE_SENSOR_MM = 8.0  # wider sensors are for pictures: Dravel's own convention


def guide_cameras(context: Context) -> list[Camera]:
    """Small cameras on the shelf, those with a smooth nose first."""
    cameras = [camera for camera in ready_parts(context, Camera) if camera.sensor.width_mm < GUIDE_SENSOR_MM]
    return sorted(cameras, key=lambda camera: camera.sky_side is None or camera.sky_side.family != "clamp")


def off_axis(context: Context) -> Iterator[Attempt]:
    """A prism in the path, with the guide camera behind it and the rings that make the length right again.

    The prism goes ahead of the filters, which would dim its stars, and behind all that turns.
    """
    rig = context.rig
    camera = _camera(rig) or next(iter(guide_cameras(context)), None)
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
    if context.of(Spacing).train.guider is not None:
        there = Attempt(text("Guide off-axis with the installed guider"), (*off, *branch))
        yield _in_focus(context, there)
        return
    at = next((i for i, item in enumerate(rig.path) if item.part.kind in ("filter_holder", "camera")), len(rig.path))
    scope = text("; remove the guide scope") if off else ""
    for part in ready_parts(context, OffAxisGuider)[:MOST]:
        lay = Edit("add", ("path", at), PathItem(part=part))
        yield _in_focus(
            context,
            relaid(
                context,
                text("Add the {part} and guide off-axis{scope}", part=part.name, scope=scope),
                (lay, *off, *branch),
            ),
        )


def through_the_scope(context: Context) -> Iterator[Attempt]:
    """Guide through the scope that rides along already."""
    rig = context.rig
    camera = _camera(rig) or next(iter(guide_cameras(context)), None)
    for placed in rig.riders:
        if isinstance(placed.part, GuideScope) and not placed.off_at_night and camera is not None:
            branch = Edit("replace", ("guide", "branch"), (PathItem(part=camera),))
            method = Edit("replace", ("guide", "method"), "guide_scope")
            yield Attempt(text("Guide through the {part} on the tube", part=placed.part.name), (method, branch))


def unguided(context: Context) -> Attempt:
    """Do not guide, with the planned sub cut to what the mount holds by itself, where it is longer."""
    limit = context.known.get("guiding.unguided_limit_s")
    edits: tuple[Edit, ...] = ()
    then: tuple[Text, ...] = ()
    if limit is not None and context.rig.guide.sub_s > limit:
        shorter = planned_sub(limit, context.rig)
        edits, then = shorter.edits, shorter.changes
    return Attempt(text("Turn guiding off"), (Edit("replace", ("guide", "method"), "none"), *edits), then=then)


def prism_cleared(facts: Spacing) -> tuple[int, float] | None:
    """Where the guider stands in the path, and how far its prism goes in without shading the sensor, mm; None where
    that cannot be known."""
    shade, entry = facts.shade, facts.train.guider
    if shade is None or entry is None or not isinstance(entry.part, OffAxisGuider) or entry.part.prism.edge_mm is None:
        return None
    prism = entry.part.prism
    inward = min(max((prism.edge_mm or 0.0) - shade.clear_edge, 0.0), prism.reach_mm)
    return entry.index, int(inward * 10) / 10


def rings_on_branch(context: Context, rig: Rig, branch: Branch) -> Iterator[Adapter]:
    """Rings on the shelf that bring the guide camera into reach of focus, owned ones first."""
    front = rig.guide.branch[0].part.sky_side
    for part in ready_parts(context, Adapter):
        length = part.used("optical_length_mm")
        fits = (
            part.sensor_side and front and part.sky_side and part.sensor_side.size == front.size == part.sky_side.size
        )
        if length and fits and branch.shortest + length <= branch.required <= branch.longest + length:
            yield part


def _camera(rig: Rig) -> Camera | None:
    return next((item.part for item in rig.guide.branch if isinstance(item.part, Camera)), None)


def _in_focus(context: Context, attempt: Attempt) -> Attempt:
    """The change with the guide camera brought to focus, by helical and nose, a ring where they do not reach, and the
    prism as far in as it may."""
    edits, words = attempt.edits, attempt.label
    facts = _facts(context, edits)
    branch = facts.branch[0]
    if branch is not None and branch.setting() is None:
        ring = next(rings_on_branch(context, facts.rig, branch), None)
        if ring is not None:
            lay = Edit("replace", ("guide", "branch"), (PathItem(part=ring), *facts.rig.guide.branch))
            edits, words = (*edits, lay), text("{words}, the {ring} on the OAG branch", words=words, ring=ring.name)
            branch = _facts(context, edits).branch[0]
    setting, prism = branch.setting() if branch else None, prism_cleared(facts)
    if setting is not None:
        out = (("helical_mm", setting[0]), ("drawn_out_mm", setting[1]))
        edits = (*edits, *(Edit("replace", ("guide", name), value) for name, value in out))
    if prism is not None:
        edits = (*edits, Edit("replace", ("path", prism[0], "prism_in_mm"), prism[1]))
    return Attempt(words, edits)


def _facts(context: Context, edits: tuple[Edit, ...]) -> Spacing:
    rig = apply(context.rig, edits)
    return Spacing(rig, LightPath.of(rig), context.preferences)
