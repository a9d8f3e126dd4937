"""Everything that rides on the saddle, as bodies with a mass and a place.

Coordinates in millimetres from the saddle's middle: along the tube (positive towards the sky), across it (positive to
the right, seen from behind), and up, away from the saddle. Where a part gives no dimension a plain one is assumed and
named.
"""

from dataclasses import dataclass
from functools import cached_property
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from dravel.core.model import Camera, GuideScope, Placed, Rider, Rig, Telescope
from dravel.core.model.words import Words, text
from dravel.core.physics.optics import PRIMARY_RATIO
from dravel.core.train.facts import Spacing

RING_GAP_MM = 20.0
BALANCE_OF = "balance point of the "
# Share of the tube's length, from the rear, at which a bare tube balances. Dravel's own orders of magnitude.
BALANCE_SHARE = {"newtonian": 0.4, "camera_lens": 0.5, "schmidt_cassegrain": 0.42, "ritchey_chretien": 0.38,
                 "maksutov": 0.45, "maksutov_newtonian": 0.42}  # fmt: skip
FOLDED_SHARE, PLAIN_SHARE = 0.25, 0.8  # of the focal length, where no tube length is given. Dravel's own.
REFRACTOR_SHARE = 0.62
FOCUSER_SHARE = 0.86  # where a newtonian's focuser stands along its tube, from the mirror's end


@dataclass(frozen=True)
class Body:
    """One mass: where its middle lies and how large it is. `rider` is its place among the rig's riders."""

    name: str
    kind: str
    mass_kg: float
    along: float
    across: float
    up: float
    length: float
    diameter: float
    rider: int | None = None
    drawn_along: float | None = None

    @property
    def middle(self) -> float:
        """Where its middle is drawn along the tube: a tube does not balance at its middle."""
        return self.along if self.drawn_along is None else self.drawn_along


@dataclass(frozen=True)
class Carried:
    """All bodies on the saddle. `unweighed` parts make every sum a floor; `assumed` says what was guessed at."""

    bodies: tuple[Body, ...]
    unweighed: tuple[str, ...]
    assumed: tuple[Words, ...]
    saddle_mm: float

    @cached_property
    def mass(self) -> float:
        """kg."""
        return sum(body.mass_kg for body in self.bodies)

    @cached_property
    def centre(self) -> NDArray[np.float64]:
        """Centre of gravity: along, across, up, in mm; zeros when nothing has a mass. Source: statics, Σ m·x / Σ m."""
        if self.mass == 0:
            return np.zeros(3)
        masses = np.array([body.mass_kg for body in self.bodies])
        places = np.array([(body.along, body.across, body.up) for body in self.bodies])
        return np.asarray(masses @ places / self.mass)

    @cached_property
    def ends(self) -> tuple[float, float]:
        """Hindmost and foremost reach along the tube, mm."""
        if not self.bodies:
            return 0.0, 0.0
        return (
            min(body.middle - body.length / 2 for body in self.bodies),
            max(body.middle + body.length / 2 for body in self.bodies),
        )


def tube_of(telescope: Telescope) -> tuple[float, float]:
    """Length and diameter of a tube, mm: as given, else a plain share of focal length and aperture."""
    length, focal = telescope.used("tube_length_mm"), telescope.used("focal_length_mm") or 0.0
    wide = telescope.used("tube_diameter_mm") or (telescope.used("aperture_mm") or 0.0) * 1.15
    share = FOLDED_SHARE if telescope.design in PRIMARY_RATIO else PLAIN_SHARE
    return focal * share if length is None else length, wide


def saddle_range(rig: Rig, telescope: Telescope | None) -> tuple[float, float] | None:
    """Where the saddle's middle may sit ahead of the rear shoulder; None without a dovetail and a mount."""
    if telescope is None or telescope.dovetail is None or rig.mount is None:
        return None
    bar = telescope.dovetail
    play = max(0.0, (bar.length_mm - rig.mount.saddle_length_mm) / 2)
    # A saddle behind the rear shoulder would hold no tube, and no rig can be kept so.
    return max(0.0, bar.middle_mm - play), max(0.0, bar.middle_mm + play)


def saddle_of(rig: Rig, telescope: Telescope | None) -> float:
    """Where the saddle's middle sits ahead of the rear shoulder, mm: as set, else under the tube's mark."""
    return _mark(telescope) if rig.saddle_mm is None else rig.saddle_mm


def _mark(telescope: Telescope | None) -> float:
    return telescope.mark_mm if telescope else 0.0


def carried(rig: Rig, spacing: Spacing, drawn_out_mm: float | None = None) -> Carried:
    """Everything on the saddle, as it is while imaging: the drawtube as far out as focus asks, or as told."""
    telescope = spacing.light.telescope
    saddle = saddle_of(rig, telescope)
    unweighed: list[str] = []
    assumed: list[Words] = []
    bodies: list[Body] = []

    def mass_of(name: str, mass: float | None) -> float:
        if mass is None:
            unweighed.append(name)
        return (mass or 0.0) / 1000

    axis = 0.0
    if telescope is not None:
        length, diameter = tube_of(telescope)
        if telescope.used("tube_length_mm") is None:
            assumed.append(text("length of the {telescope}", telescope=telescope.name))
        axis = telescope.axis_above_saddle_mm or diameter / 2 + RING_GAP_MM
        point = telescope.used("balance_point_mm")
        if point is None:
            point = BALANCE_SHARE.get(telescope.design, REFRACTOR_SHARE) * length
            assumed.append(f"{BALANCE_OF}{telescope.name}")
        mass = mass_of(telescope.name, telescope.used("mass_g"))
        # The tube is drawn where it is, and weighs where it balances.
        tube = Body(
            telescope.name, "telescope", mass, point - saddle, 0.0, axis, length, diameter, None, length / 2 - saddle
        )
        bodies.append(tube)
    out = max(0.0, spacing.position or 0.0) if drawn_out_mm is None else drawn_out_mm
    # A newtonian's focuser stands at the side, near the front: taken as pointing away from the saddle.
    side: tuple[float, float] | None = None
    if telescope is not None and telescope.design in ("newtonian", "maksutov_newtonian"):
        length, diameter = tube_of(telescope)
        side = FOCUSER_SHARE * length, diameter / 2
    # At 0° it points away from the saddle; turned in its rings, to the right, towards the mount, to the left.
    turn = radians(rig.tube_turned_deg)
    for entry in spacing.train.laid:
        part = entry.part
        reach = entry.length or 0.0
        if isinstance(part, Camera) and part.body_length_mm:
            reach = part.body_length_mm
        behind = out + entry.start + reach / 2
        mass = mass_of(part.name, part.used("mass_g"))
        mass += sum(mass_of(glass.name, glass.used("mass_g")) for glass in entry.item.filters)
        wide = getattr(part, "outer_diameter_mm", None) or 60.0
        middle, across, up = (-behind - saddle, 0.0, axis)
        if side is not None:
            out_by = side[1] + behind
            middle, across, up = side[0] - saddle, out_by * sin(turn), axis + out_by * cos(turn)
        long, wide = (reach, wide) if side is None else (wide, reach)
        bodies.append(Body(part.name, part.kind, mass, middle, across, up, long, wide))  # type: ignore[attr-defined]
    guide_camera = next((item.part for item in rig.guide.branch if isinstance(item.part, Camera)), None)
    if spacing.train.guider is not None and rig.guide.method == "off_axis":
        behind = out + spacing.train.guider.start
        at, across, up = -behind - saddle, 0.0, axis + 60
        if side is not None:
            out_by = side[1] + behind
            at, across, up = side[0] - saddle, out_by * sin(turn), axis + out_by * cos(turn)
        for item in rig.guide.branch:
            mass = mass_of(item.part.name, item.part.used("mass_g"))
            bodies.append(Body(item.part.name, item.part.kind, mass, at, across, up, 30, 36))
    for index, placed in enumerate(rig.riders):
        if placed.off_at_night:
            continue
        mass = mass_of(placed.part.name, placed.part.used("mass_g"))
        bodies.append(_rider(index, placed, axis, mass, _mark(telescope) - saddle))
        if isinstance(placed.part, GuideScope) and guide_camera is not None and rig.guide.method == "guide_scope":
            scope = bodies[-1]
            mass = mass_of(guide_camera.name, guide_camera.used("mass_g"))
            long = guide_camera.body_length_mm or 60.0
            behind = scope.along - scope.length / 2 - long / 2
            bodies.append(Body(guide_camera.name, "camera", mass, behind, scope.across, scope.up, long, 36))
    return Carried(tuple(bodies), tuple(unweighed), tuple(assumed), saddle)


def _rider(index: int, placed: Placed, axis: float, mass: float, mark: float) -> Body:
    part = placed.part
    across = {"left": -placed.off_mm, "right": placed.off_mm}.get(placed.side, 0.0)
    up = axis + {"top": placed.off_mm, "below": -placed.off_mm}.get(placed.side, 0.0)
    length, high = 60.0, 40.0
    if isinstance(part, Rider):
        length, high = part.length_mm, part.height_mm
    elif isinstance(part, GuideScope):
        length, high = part.length_mm, part.diameter_mm
    elif part.kind == "dew_heater":
        length, high = 30.0, 10.0
    return Body(part.name, part.kind, mass, placed.along_mm + mark, across, up, length, high, index)
