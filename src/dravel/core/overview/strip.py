"""The light strip: where every part of a rig lies in side elevation, true to scale.

Millimetres along the light from the front of the tube, heights above the optical axis. A Newtonian is drawn
unfolded, mirror on the left; a Cassegrain design keeps its fold. Where a part gives no dimension a plain one is
assumed and the block says so.
"""

from typing import Literal

from dravel.core.model import (
    Camera,
    Corrector,
    FilterHolder,
    FocuserPart,
    OffAxisGuider,
    PathItem,
    Preferences,
    Rig,
    Telescope,
    Verdict,
)
from dravel.core.model.base import Model
from dravel.core.model.words import Text
from dravel.core.train.facts import Spacing
from dravel.core.train.joints import Joint, spoken
from dravel.core.train.light_path import LightPath
from dravel.core.train.reach import corrector_power
from dravel.core.train.tolerance import verdict_of

FOLDED = ("schmidt_cassegrain", "ritchey_chretien", "maksutov")
PLAIN_DIAMETER_MM, PLAIN_LENGTH_MM, PLAIN_BODY_MM = 60.0, 10.0, 80.0


class LightStripBlock(Model):
    """One part of the path as a rectangle on the axis. `index` is its place in the rig's path.

    `length_mm` is the optical length the train counts with: the one on the rule and in the findings, readings and all.
    """

    index: int
    kind: str
    name: str
    start_mm: float
    end_mm: float
    diameter_mm: float
    assumed: tuple[str, ...] = ()
    length_mm: float | None = None


class LightStripElement(Model):
    """Glass or mirror in the light."""

    kind: Literal["lens", "mirror", "corrector", "filter", "prism"]
    at_mm: float
    diameter_mm: float


class LightStripJoint(Model):
    """Where two parts meet: `index` is the place in the path of the one behind."""

    index: int
    at_mm: float
    verdict: Verdict
    words: Text


class LightStrip(Model):
    """The whole drawing. `beam` is the upper edge of the light on axis; the lower one mirrors it."""

    blocks: tuple[LightStripBlock, ...]
    joints: tuple[LightStripJoint, ...]
    required_mm: float | None
    spacing: Verdict
    drawtube: LightStripBlock | None
    elements: tuple[LightStripElement, ...]
    beam: tuple[tuple[float, float], ...]
    length_mm: float
    half_height_mm: float
    focus_mm: float | None
    sensor_mm: float | None
    sensor_half_mm: float | None
    note: Text = Text("")


def lay_out(rig: Rig, preferences: Preferences | None = None) -> LightStrip:
    """Lay a rig's path on the rule. The drawtube is racked, within its travel, so that light meets the sensor."""
    light = LightPath.of(rig)
    facts = Spacing(rig, light, rig.preferences.over(preferences or Preferences()))
    telescope, camera = light.telescope, light.camera
    shoulder, tube_assumed = _shoulder(telescope)
    native_focus = _native_focus(telescope, shoulder)
    train = [(i, item) for i, item in enumerate(rig.path) if not isinstance(item.part, Telescope)]
    lengths = {entry.index: entry.length for entry in facts.train.laid}
    out = _racked_out(facts)
    blocks: list[LightStripBlock] = []
    elements: list[LightStripElement] = []
    joints: list[LightStripJoint] = []
    drawtube = None
    if telescope is not None:
        index = next(i for i, item in enumerate(rig.path) if item.part is telescope)
        diameter = telescope.tube_diameter_mm or telescope.aperture_mm * 1.15
        if telescope.tube_diameter_mm is None:
            tube_assumed = (*tube_assumed, "diameter")
        blocks.append(_block(index, telescope, 0, shoulder, diameter, tube_assumed))
        if out > 0.5:
            width = min(diameter * 0.8, telescope.outer_diameter_mm or diameter * 0.7)
            drawtube = _block(index, telescope, shoulder, shoulder + out, width, ())
    result = {joint.index: joint for joint in facts.joints}
    at = shoulder + (facts.train.laid[0].start if facts.train.laid else 0.0)
    racked = not any(isinstance(item.part, FocuserPart) for _, item in train)
    at += out if racked else 0.0
    corrector_at = sensor = None
    for index, item in train:
        if index in result:
            joints.append(_joint_mark(result[index], at))
        block, element, reach = _laid(index, item, at, lengths.get(index))
        blocks.append(block)
        if isinstance(item.part, FocuserPart):
            reach += out
        elements += element
        if isinstance(item.part, Corrector):
            corrector_at = at + reach
        if isinstance(item.part, Camera):
            sensor = at + reach
        at += reach
    if facts.mirror_moves and sensor is not None:
        # The mirror is moved until light meets the sensor, wherever it stands.
        first = facts.lenses[0] if facts.lenses else None
        native_focus = sensor - facts.train.glass_shift
        if first is not None and corrector_at is not None:
            native_focus = corrector_at + first.native
    focus = _focus(facts, native_focus, corrector_at)
    beam, optics = _beam(telescope, shoulder, native_focus, corrector_at, focus)
    end = max([block.end_mm for block in blocks] + ([focus] if focus else []), default=0.0)
    asked = facts.asked[0]
    required = None
    if asked is not None and sensor is not None and facts.train.actual is not None:
        required = sensor - facts.train.actual + asked + facts.train.glass_shift
    error, slack = (sensor - required if required is not None and sensor is not None else 0.0), facts.tolerance[0]
    tallest = max((block.diameter_mm for block in blocks), default=PLAIN_DIAMETER_MM)
    unfolded = telescope is not None and telescope.design == "newtonian"
    return LightStrip(
        blocks=tuple(blocks),
        joints=tuple(joints),
        required_mm=required,
        spacing=verdict_of(error, slack) if slack else "ok",
        drawtube=drawtube,
        elements=(*optics, *elements),
        beam=beam,
        length_mm=end,
        half_height_mm=tallest / 2,
        focus_mm=focus,
        sensor_mm=sensor,
        sensor_half_mm=camera.sensor.height_mm / 2 if camera else None,
        note="drawn unfolded: main mirror on the left" if unfolded else "",
    )


def _block(
    index: int, part: object, start: float, end: float, diameter: float, assumed: tuple[str, ...],
    length: float | None = None,
) -> LightStripBlock:  # fmt: skip
    return LightStripBlock(
        index=index,
        kind=part.kind,  # type: ignore[attr-defined]
        name=part.name,  # type: ignore[attr-defined]
        start_mm=start,
        end_mm=end,
        diameter_mm=diameter,
        assumed=assumed,
        length_mm=length,
    )


def _shoulder(telescope: Telescope | None) -> tuple[float, tuple[str, ...]]:
    """Where the telescope's rear shoulder lies with the tube fully in, and what had to be assumed."""
    if telescope is None:
        return 0.0, ()
    if telescope.design == "newtonian":
        behind = telescope.focuser.focal_plane_mm
        return (telescope.used("focal_length_mm") or 0) - (behind or 0), () if behind else ("length",)
    if telescope.tube_length_mm is not None:
        return telescope.tube_length_mm, ()
    share = 0.25 if telescope.design in FOLDED else 0.8
    return telescope.focal_length_mm * share, ("length",)


def _native_focus(telescope: Telescope | None, shoulder: float) -> float | None:
    if telescope is None:
        return None
    behind = telescope.focuser.focal_plane_mm
    if behind is None:
        behind = telescope.focal_length_mm * 0.2
    return shoulder + behind


def _racked_out(facts: Spacing) -> float:
    """How far the drawtube stands out for focus, within its travel."""
    focuser, position = facts.train.focuser, facts.position
    if focuser is None or position is None or focuser.mechanism in ("moving_mirror", "lens_cell"):
        return 0.0
    return min(max(position, 0.0), focuser.travel_mm)


def _joint_mark(joint: Joint, at: float) -> LightStripJoint:
    words = f"{spoken(joint.rear)} → {spoken(joint.front)}"
    verdict: Verdict = "ok" if joint.mated else "problem" if joint.known else "warning"
    return LightStripJoint(index=joint.index, at_mm=at, verdict=verdict, words=words)


def _laid(
    index: int, item: PathItem, at: float, length: float | None
) -> tuple[LightStripBlock, list[LightStripElement], float]:
    part = item.part
    reach = PLAIN_LENGTH_MM if length is None else length
    assumed = ("length",) if length is None else ()
    ends = [end.clear_aperture_mm for end in (part.sky_side, part.sensor_side) if end and end.clear_aperture_mm]
    diameter = part.outer_diameter_mm or (max(ends) + 8 if ends else PLAIN_DIAMETER_MM)
    if part.outer_diameter_mm is None:
        assumed = (*assumed, "diameter")
    start, end = at, at + reach
    elements: list[LightStripElement] = []
    if isinstance(part, Camera):
        end = start + max(part.body_length_mm or PLAIN_BODY_MM, reach + 2)
    elif isinstance(part, Corrector):
        if part.inside_drawtube:
            start = at - (part.optical_length_mm or 40)
        elements.append(LightStripElement(kind="corrector", at_mm=(start + end) / 2, diameter_mm=diameter * 0.72))
    elif isinstance(part, FilterHolder) and item.in_use is not None:
        elements.append(LightStripElement(kind="filter", at_mm=(start + end) / 2, diameter_mm=diameter * 0.5))
    elif isinstance(part, OffAxisGuider):
        elements.append(
            LightStripElement(kind="prism", at_mm=end - part.prism.centre_to_sensor_side_mm, diameter_mm=diameter)
        )
    return _block(index, part, start, end, diameter, assumed, length), elements, reach


def _focus(facts: Spacing, native: float | None, corrector_at: float | None) -> float | None:
    """Where the light comes to focus: the native plane, moved by a thin lens at the corrector, and by plane glass."""
    if native is None or corrector_at is None or native <= corrector_at:
        return None if native is None else native + facts.train.glass_shift
    remaining, factor = native - corrector_at, facts.light.factor
    power = corrector_power(factor, facts.asked[0]) if facts.asked[0] else (1 / factor - 1) / remaining
    inverse = 1 / remaining + power
    return corrector_at + 1 / inverse + facts.train.glass_shift if inverse > 1e-6 else native


def _beam(
    telescope: Telescope | None, shoulder: float, native: float | None, corrector_at: float | None, focus: float | None
) -> tuple[tuple[tuple[float, float], ...], list[LightStripElement]]:
    if telescope is None or native is None or focus is None:
        return (), []
    half = telescope.aperture_mm / 2
    if telescope.design in FOLDED:
        primary, secondary = shoulder * 0.94, shoulder * 0.12
        small = max(telescope.obstruction_mm / 2, half * 0.2)
        head = [(0.0, half), (primary, half), (secondary, small)]
        glass = [
            LightStripElement(kind="mirror", at_mm=primary, diameter_mm=telescope.aperture_mm),
            LightStripElement(kind="mirror", at_mm=secondary, diameter_mm=small * 2),
        ]
        last_x, last_y = secondary, small
    else:
        lens_at = min(max(native - telescope.focal_length_mm, 0.0), shoulder * 0.6)
        if telescope.design == "newtonian":
            lens_at = 0.0
        head = [(0.0, half), (lens_at, half)]
        kind: Literal["lens", "mirror"] = "mirror" if telescope.design == "newtonian" else "lens"
        glass = [LightStripElement(kind=kind, at_mm=lens_at, diameter_mm=telescope.aperture_mm)]
        last_x, last_y = lens_at, half
    if corrector_at is not None and last_x < corrector_at < native:
        head.append((corrector_at, last_y * (native - corrector_at) / (native - last_x)))
    return (*head, (focus, 0.0)), glass
