"""The off-axis guider: is the guide camera in focus with the main one, and does the prism shade the sensor?"""

from dataclasses import dataclass
from math import cos, pi, radians, sin

import numpy as np

from dravel.core.model import Camera, OffAxisGuider, Rig
from dravel.core.model.words import Text, text
from dravel.core.train.clearance import Array, Beam
from dravel.core.train.layout import Laid, Train, plate_shift, plates
from dravel.core.train.lenses import glass_between, lenses
from dravel.core.train.light_path import length_of

GRIP_MM = 8.0  # the least a socket must hold of a nose: common practice
TOLERANCE_MM = 0.5  # a soft guide star is still a guide star: common practice


@dataclass(frozen=True)
class Branch:
    """From the prism's centre to the guide sensor, mm. `shortest` has helical and nose fully in."""

    required: float
    shortest: float
    helical_range: float
    draw_range: float
    helical: float
    drawn_out: float

    @property
    def actual(self) -> float:
        """As it is set now."""
        return self.shortest + self.helical + self.drawn_out

    @property
    def error(self) -> float:
        """How much too long it is set; negative when too short."""
        return self.actual - self.required

    @property
    def longest(self) -> float:
        """Helical and nose as far out as they hold."""
        return self.shortest + self.helical_range + self.draw_range

    def setting(self) -> tuple[float, float] | None:
        """Helical and draw that bring it to focus, nose as far in as can be; None when out of range."""
        need = self.required - self.shortest
        if not -1e-9 <= need <= self.helical_range + self.draw_range + 1e-9:
            return None
        helical = min(max(need, 0.0), self.helical_range)
        return round(helical, 2), round(max(need - helical, 0.0), 2)


def branch_of(rig: Rig, train: Train) -> tuple[Branch | None, Text]:
    """The guide branch of a rig, or None and why it cannot be computed."""
    guider = train.guider
    if guider is None or not isinstance(guider.part, OffAxisGuider):
        return None, text("no OAG in the light path", "no_oag")
    camera = next((item.part for item in rig.guide.branch if isinstance(item.part, Camera)), None)
    if camera is None:
        return None, text("no guide camera on the guide port", "no_guide_camera")
    if train.sensor is None:
        return None, text("a length in the main train is missing")
    lengths = [length_of(item) for item in rig.guide.branch]
    if None in lengths:
        return None, text("a length in the guide branch is missing")
    prism = guider.part.prism
    centre = guider.end - prism.centre_to_sensor_side_mm
    # Ahead of a corrector the prism sees the telescope's own image, which lies where the corrector takes it over.
    result = lenses(train)
    if result is None:
        return None, text("no image through these correctors")
    lens = next((entry for entry in result if entry.index > guider.index), None)
    image = train.sensor if lens is None else lens.place + lens.native
    required = image - centre - glass_between(train, guider.index, lens.index if lens else None)
    glass = sum(plate_shift(plate) for item in rig.guide.branch for plate in plates(Laid(0, item, 0, 0, 0, "", 0)))
    shortest = prism.stalk_mm + sum(length or 0 for length in lengths) - glass
    clamped = camera.sky_side is not None and camera.sky_side.family == "clamp"
    draw = max((camera.nose_mm or 0.0) - GRIP_MM, 0.0) if clamped else 0.0
    helical_range = guider.part.helical_range_mm
    return Branch(required, shortest, helical_range, draw, rig.guide.helical_mm, rig.guide.drawn_out_mm), text("")


@dataclass(frozen=True)
class Shade:
    """The prism over the sensor. `edge` is its inner edge off the axis now, `clear_edge` where it shades nothing.

    `at` is the darkest point of the sensor, `beam` the beam's radius at the prism and its shift per mm of height.
    """

    edge: float
    clear_edge: float
    width: float
    height: float
    angle_deg: float
    worst: float
    at: tuple[float, float]
    beam: tuple[float, float]
    field_mm: float


def shade_of(train: Train, beam: Beam | None) -> Shade | None:
    """How the prism stands over the sensor; None without a guider, a beam or the prism's own place."""
    guider, camera = train.guider, train.camera
    if guider is None or camera is None or beam is None or not isinstance(guider.part, OffAxisGuider):
        return None
    prism = guider.part.prism
    if prism.edge_mm is None or not isinstance(camera.part, Camera):
        return None
    radius, offset = beam.at(guider.end - prism.centre_to_sensor_side_mm)
    edge = prism.edge_mm - min(guider.item.prism_in_mm, prism.reach_mm)
    angle = guider.item.faces_deg or 0.0
    sensor = camera.part.sensor
    half = sensor.width_mm / 2, sensor.height_mm / 2
    turned = radians(angle)
    along = abs(half[0] * sin(turned)) + abs(half[1] * cos(turned))
    x, y = np.meshgrid(np.linspace(-half[0], half[0], 13), np.linspace(-half[1], half[1], 13))
    lost = shading(x, y, edge, prism.width_mm, prism.height_mm, angle, radius, offset)
    field_mm = (edge + prism.height_mm / 2) / offset if offset > 0 else 0.0
    clear = offset * along + radius
    darkest = int(lost.argmax())
    return Shade(
        edge, clear, prism.width_mm, prism.height_mm, angle, float(lost.max()),
        (float(x.flat[darkest]), float(y.flat[darkest])), (radius, offset), field_mm,
    )  # fmt: skip


def shading(
    x: Array, y: Array, edge: float, width: float, height: float, angle_deg: float, radius: float, offset: float,
    samples: int = 60,
) -> Array:  # fmt: skip
    """Share of the light a prism takes from sensor points (x, y), arrays of one shape, mm from the axis.

    The prism is a rectangle whose inner edge lies `edge` off the axis in the direction `angle_deg` (clockwise from
    up); the beam there has `radius` and is off by `offset` per mm of image height. Source: geometry.
    """
    turn = radians(angle_deg)
    towards, across = x * sin(turn) + y * cos(turn), x * cos(turn) - y * sin(turn)
    steps = (np.arange(samples) + 0.5) * 2 / samples - 1
    out = towards[..., np.newaxis] * offset + radius * steps
    chord = radius * np.sqrt(1 - steps**2)
    centre = across[..., np.newaxis] * offset
    overlap = np.minimum(centre + chord, width / 2) - np.maximum(centre - chord, -width / 2)
    hit = (out >= edge) & (out <= edge + height)
    area = (np.maximum(overlap, 0) * hit).sum(axis=-1) * radius * 2 / samples
    return np.asarray(area / (pi * radius**2))
