"""What the Spacing step shows: blocks on a rule, the line they must meet, light on the sensor, the guide branch."""

from collections.abc import Iterable

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model import (
    Adapter,
    Camera,
    FilterHolder,
    OffAxisGuider,
    Part,
    PatchOperation,
    PathItem,
    Preferences,
    Rig,
    Verdict,
    mates,
)
from dravel.core.model.base import Model
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.train import tolerance
from dravel.core.train.clearance import tightest
from dravel.core.train.facts import Spacing
from dravel.core.train.guider import TOLERANCE_MM, shading
from dravel.core.train.joints import front_of, rear_of, spoken
from dravel.core.train.layout import Laid
from dravel.core.train.light_path import LightPath, length_of
from dravel.core.train.rings import is_ring
from dravel.core.train.stiffness import SIDE_FOCUS
from dravel.core.train.tolerance import error_words

CONTOURS = (0.95, 0.9, 0.75, 0.5, 0.25)


class TrainBlock(Model):
    """One part on the rule; millimetres from the shoulder that back focus is counted from, negative ahead of it."""

    index: int
    kind: str
    name: str
    start_mm: float
    end_mm: float
    length_mm: float | None
    nominal_mm: float | None
    reading: Text
    tolerance_mm: float
    sky: str
    sensor: str
    joint: Verdict
    joint_words: Text
    turns: bool
    ring: bool
    lowest_mm: float | None
    highest_mm: float | None
    filter: str
    faces_deg: float | None
    assembly: str | None


class SensorLight(Model):
    """Light over the sensor: share by distance from the axis, contours, and what a prism takes."""

    width_mm: float
    height_mm: float
    profile: tuple[tuple[float, float], ...]
    contours: tuple[tuple[float, float], ...]
    corner: float
    tight: str
    tight_index: int | None
    tight_mm: float | None
    needed_mm: float | None
    prism: tuple[float, float, float, float] | None  # inner edge off the axis, width, height, direction
    prism_clear_mm: float | None
    shade: tuple[tuple[float, float, float], ...]


class GuideBranchBlock(Model):
    """One piece of the guide branch, millimetres from the prism's centre."""

    name: str
    start_mm: float
    end_mm: float


class GuideBranch(Model):
    """The off-axis branch and how it is set."""

    at_mm: float
    blocks: tuple[GuideBranchBlock, ...]
    required_mm: float
    actual_mm: float
    tolerance_mm: float
    helical_mm: float
    helical_range_mm: float
    drawn_out_mm: float
    draw_range_mm: float
    setting: tuple[float, float] | None


class TiltPose(Model):
    """Tilt across the sensor as the rig points some way, and whether it passes the depth of focus.

    `droops` is where it leans to: right, away from the saddle, towards the sky.
    """

    name: str
    tilt_um: float
    verdict: Verdict
    droops: tuple[float, float, float]


class SpacingView(Model):
    """The whole step. Where a length is missing `sensor_mm` is None and `why_not` says which."""

    shoulder: str
    blocks: tuple[TrainBlock, ...]
    asked_mm: float | None
    asked_by: Text
    glass_mm: float
    required_mm: float | None
    tolerance_mm: float | None
    sensor_mm: float | None
    stack_worst_mm: float
    stack_rss_mm: float
    error_mm: float | None
    error_words: Text
    verdict: Verdict
    drawtube_mm: float | None
    drawtube: Verdict
    travel_mm: float | None
    light: SensorLight | None
    branch: GuideBranch | None
    branch_why_not: Text
    tilts: tuple[TiltPose, ...]
    side_focus: bool
    mirror_words: Text
    why_not: Text


def spacing_view(context: Context) -> SpacingView:
    """Everything the step draws."""
    light, facts = context.light, context.of(Spacing)
    train = facts.train
    asked, who = facts.asked
    required = asked + train.glass_shift if asked is not None else None
    slack = facts.tolerance[0]
    focuser = train.focuser
    stack = [entry.tolerance for entry in train.behind]
    racks = focuser is not None and focuser.mechanism in ("drawtube", "helical")
    error = train.actual - required if train.actual is not None and required is not None else None
    if train.camera is None:
        why = text("No camera in the light path.")
    else:
        why = text("{unknown}: length not specified.", unknown=train.unknown[0]) if train.unknown else text("")
    telescope = light.telescope
    shoulder = train.corrector.part.name if train.corrector else telescope.name if telescope else "front of the path"
    branch, why_branch = facts.branch
    return SpacingView(
        shoulder=shoulder,
        blocks=tuple(_block(entry, facts) for entry in train.laid),
        asked_mm=asked,
        asked_by=who,
        glass_mm=train.glass_shift,
        required_mm=required,
        tolerance_mm=slack,
        sensor_mm=train.actual,
        stack_worst_mm=tolerance.worst_case(stack),
        stack_rss_mm=tolerance.root_sum_square(stack),
        error_mm=error,
        error_words=error_words(error),
        verdict=tolerance.verdict_of(error, slack) if error is not None and slack else "ok",
        drawtube_mm=facts.position,
        drawtube=_drawtube(facts),
        travel_mm=focuser.travel_mm if focuser and racks else None,
        light=_light(facts),
        branch=_branch(facts) if branch is not None else None,
        branch_why_not=why_branch,
        tilts=_tilts(facts, context.known.get("depth_of_focus")),
        side_focus=telescope is not None and telescope.design in SIDE_FOCUS,
        mirror_words=_mirror(context, facts),
        why_not=why,
    )


def _tilts(facts: Spacing, depth_um: float | None) -> tuple[TiltPose, ...]:
    camera = facts.light.camera
    if camera is None or facts.corner_mm is None:
        return ()
    worst = facts.hanging.sag_mrad * 2 * facts.corner_mm
    return tuple(
        TiltPose(
            name=pose.name,
            tilt_um=pose.share * worst,
            verdict="warning" if depth_um is not None and pose.share * worst > depth_um else "ok",
            droops=pose.towards,
        )
        for pose in facts.poses
    )


def _mirror(context: Context, facts: Spacing) -> Words:
    """What stands in place of a drawtube where the main mirror moves for focus."""
    if not facts.mirror_moves:
        return ""
    turns, answer = context.known.get("spacing.mirror_turns"), "Focus by the mirror: no drawtube"
    return (
        answer
        if turns is None
        else text(
            "{told}; {turns} turns {which} from the specified back focus",
            told=answer,
            turns=Value(abs(turns), digits=1),
            which="in" if turns > 0 else "out",
        )
    )


def _drawtube(facts: Spacing) -> Verdict:
    """Whether the drawtube reaches where focus asks it to stand."""
    position, focuser = facts.position, facts.train.focuser
    return "ok" if position is None or focuser is None or 0 <= position <= focuser.travel_mm else "problem"


def _block(entry: Laid, facts: Spacing) -> TrainBlock:
    joint = next((joint for joint in facts.joints if joint.index == entry.index), None)
    part = entry.item.part
    front, rear = front_of(entry.item), rear_of(entry.item)
    verdict: Verdict = "ok" if joint is None or joint.mated else "problem" if joint.known else "warning"
    variable = part.optical_length_max_mm is not None
    zero = facts.train.shoulder
    return TrainBlock(
        index=entry.index,
        kind=part.kind,
        name=part.name,
        start_mm=entry.start - zero,
        end_mm=entry.end - zero,
        length_mm=entry.length,
        nominal_mm=entry.nominal,
        reading=entry.reading,
        tolerance_mm=entry.tolerance,
        sky=_short(front.size if front else ""),
        sensor=_short(rear.size if rear else ""),
        joint=verdict,
        joint_words=f"{spoken(joint.rear)} → {spoken(joint.front)}" if joint else "",
        turns=joint.turns if joint else False,
        ring=is_ring(entry.item),
        lowest_mm=part.optical_length_mm if variable else None,
        highest_mm=part.optical_length_max_mm,
        filter=entry.filter.name if entry.filter else "",
        faces_deg=entry.item.faces_deg,
        assembly=entry.item.assembly,
    )


def _short(size: str) -> str:
    return size.split("x")[0]


def _light(facts: Spacing) -> SensorLight | None:
    camera = facts.light.camera
    if camera is None or facts.beam is None or facts.corner_mm is None:
        return None
    width, height = camera.sensor.width_mm, camera.sensor.height_mm
    heights, shares = facts.profile()
    tight = tightest(facts.openings, facts.corner_mm)
    prism = facts.shade
    shade: list[tuple[float, float, float]] = []
    guider = facts.train.guider
    if prism is not None and guider is not None and isinstance(guider.part, OffAxisGuider) and prism.worst > 0.002:
        radius, offset = facts.beam.at(guider.end - guider.part.prism.centre_to_sensor_side_mm)
        x, y = np.meshgrid(
            (np.arange(36) + 0.5) / 36 * width - width / 2, (np.arange(27) + 0.5) / 27 * height - height / 2
        )
        lost = shading(x, y, prism.edge, prism.width, prism.height, prism.angle_deg, radius, offset)
        shade = [(float(a), float(b), float(c)) for a, b, c in zip(x.flat, y.flat, lost.flat, strict=True) if c > 0.004]
    return SensorLight(
        width_mm=width,
        height_mm=height,
        profile=tuple((float(h), float(s)) for h, s in zip(heights, shares, strict=True)),
        contours=tuple(_contours(heights, shares)),
        corner=float(shares[-1]),
        tight=tight.name if tight else "",
        tight_index=tight.index if tight and tight.index >= 0 else None,
        tight_mm=tight.diameter if tight else None,
        needed_mm=tight.needed(facts.corner_mm) if tight else None,
        prism=(prism.edge, prism.width, prism.height, prism.angle_deg) if prism else None,
        prism_clear_mm=prism.clear_edge if prism else None,
        shade=tuple(shade),
    )


def _contours(heights: np.ndarray, shares: np.ndarray) -> Iterable[tuple[float, float]]:
    """Level and radius of each contour that crosses the sensor. Light never grows outward."""
    for level in CONTOURS:
        below = np.nonzero(shares < level)[0]
        if len(below) and below[0] > 0:
            i = int(below[0])
            share = (shares[i - 1] - level) / (shares[i - 1] - shares[i])
            yield level, float(heights[i - 1] + share * (heights[i] - heights[i - 1]))


def _branch(facts: Spacing) -> GuideBranch | None:
    branch, guider = facts.branch[0], facts.train.guider
    if branch is None or guider is None or not isinstance(guider.part, OffAxisGuider):
        return None
    prism = guider.part.prism
    at = prism.stalk_mm
    blocks = [GuideBranchBlock(name="stalk", start_mm=0, end_mm=at)]
    if branch.helical:
        blocks.append(GuideBranchBlock(name="helical", start_mm=at, end_mm=at + branch.helical))
        at += branch.helical
    for item in facts.rig.guide.branch:
        length = (length_of(item) or 0.0) + (branch.drawn_out if isinstance(item.part, Camera) else 0.0)
        blocks.append(GuideBranchBlock(name=item.part.name, start_mm=at, end_mm=at + length))
        at += length
    return GuideBranch(
        at_mm=guider.end - prism.centre_to_sensor_side_mm - facts.train.shoulder,
        blocks=tuple(blocks),
        required_mm=branch.required,
        actual_mm=branch.actual,
        tolerance_mm=TOLERANCE_MM,
        helical_mm=branch.helical,
        helical_range_mm=branch.helical_range,
        drawn_out_mm=branch.drawn_out,
        draw_range_mm=branch.draw_range,
        setting=branch.setting(),
    )


class TrayPart(Model):
    """A part that fits at a place, and what it would do to the spacing."""

    part_id: str | None
    name: str
    status: str
    length_mm: float | None
    ends: str
    both_ends: bool
    error_mm: float | None
    verdict: Verdict
    change: tuple[PatchOperation, ...]


def tray(
    rig: Rig, preferences: Preferences, shelf: Iterable[Part], index: int, *, replace: bool = False, most: int = 24
) -> tuple[TrayPart, ...]:
    """Rings, drawers, wheels and guiders that fit at a joint (the one ahead of `index`), or in place of that part.

    Those that mate on both sides come first, then those that bring the sensor nearest to its place.
    Raises `IndexError` when there is no such place.
    """
    if not 0 < index < len(rig.path):
        raise IndexError(f"there is no joint {index} in this path")
    facts = Spacing(rig, LightPath.of(rig), rig.preferences.over(preferences))
    train, asked, slack = facts.train, facts.asked[0], facts.tolerance[0]
    here = rig.path[index] if replace else None
    behind = rig.path[index + 1] if replace and index + 1 < len(rig.path) else None if replace else rig.path[index]
    rear, front = rear_of(rig.path[index - 1]), front_of(behind) if behind else None
    laid = {item.part.id for item in rig.path if item.part.id} | {item.part.id for item in rig.guide.branch}
    counts = train.corrector is None or index > train.corrector.index
    now = (
        train.actual - asked - train.glass_shift if train.actual is not None and asked is not None and counts else None
    )
    out = (length_of(here) or 0.0) if here else 0.0
    results = []
    for part in shelf:
        if not isinstance(part, Adapter | FilterHolder | OffAxisGuider) or part.id in laid or part.status == "retired":
            continue
        sides = mates(rear, part.sky_side), front is not None and mates(part.sensor_side, front)
        if not any(sides):
            continue
        length = part.used("optical_length_mm")
        error = now + length - out if now is not None and length is not None else None
        edit = Edit("replace" if replace else "add", ("path", index), PathItem(part=part))
        results.append(
            TrayPart(
                part_id=part.id,
                name=part.name,
                status=part.status,
                length_mm=length,
                ends=f"{_short(part.sky_side.size) if part.sky_side else '?'} → "
                f"{_short(part.sensor_side.size) if part.sensor_side else '?'}",
                both_ends=all(sides),
                error_mm=error,
                verdict=tolerance.verdict_of(error, slack) if error is not None and slack else "ok",
                change=(edit.operation(),),
            )
        )
    owned = ("owned", "borrowed")
    results.sort(key=lambda t: (not t.both_ends, abs(t.error_mm or 0.0), t.status not in owned, t.name))
    return tuple(results[:most])
