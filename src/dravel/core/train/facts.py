"""Facts of the image train, gathered once and only when asked for: what several steps share."""

from dataclasses import dataclass
from functools import cached_property
from math import hypot
from typing import Protocol

import numpy as np

from dravel.core.model import Preferences, Rig
from dravel.core.model.words import Text, Words, text
from dravel.core.train import clearance, guider, stiffness, tolerance
from dravel.core.train.joints import Joint, joints
from dravel.core.train.layout import Train, flange_distance
from dravel.core.train.lenses import Lens, glass_between, lenses
from dravel.core.train.light_path import LightPath, back_focus_of


class RigInHand(Protocol):
    """What the train's facts are made from."""

    @property
    def rig(self) -> Rig: ...
    @property
    def light(self) -> LightPath: ...
    @property
    def preferences(self) -> Preferences: ...


@dataclass(frozen=True)
class Spacing:
    """Train, joints, beam and what hangs, each computed when first asked for."""

    rig: Rig
    light: LightPath
    preferences: Preferences

    @classmethod
    def of(cls, given: RigInHand) -> "Spacing":
        """The facts of a rig under its preferences."""
        return cls(given.rig, given.light, given.preferences)

    @cached_property
    def train(self) -> Train:
        """Every part at its place."""
        return Train.of(self.rig, self.light, self.preferences)

    @cached_property
    def joints(self) -> tuple[Joint, ...]:
        """Every joint of the path."""
        return joints(self.rig)

    @cached_property
    def beam(self) -> clearance.Beam | None:
        """The beam in focus."""
        return clearance.Beam.of(self.train)

    @cached_property
    def openings(self) -> tuple[clearance.Opening, ...]:
        """What light must pass."""
        return clearance.openings(self.train, self.beam, self.preferences) if self.beam else ()

    @cached_property
    def hanging(self) -> stiffness.Hanging:
        """What hangs on the focuser."""
        return stiffness.hanging(self.rig, self.train, self.joints)

    @cached_property
    def poses(self) -> tuple[stiffness.Pose, ...]:
        """How much of the worst tilt there is as the rig points up, to either side, and upside down."""
        telescope, site = self.light.telescope, self.rig.site
        latitude = abs(site.latitude_deg) if site else stiffness.PLAIN_LATITUDE_DEG
        return stiffness.poses(latitude, telescope.design if telescope else "", self.rig.tube_turned_deg)

    @cached_property
    def branch(self) -> tuple[guider.Branch | None, Text]:
        """The guide branch, or why there is none."""
        return guider.branch_of(self.rig, self.train)

    @cached_property
    def shade(self) -> guider.Shade | None:
        """The prism over the sensor."""
        return guider.shade_of(self.train, self.beam)

    @cached_property
    def corner_mm(self) -> float | None:
        """Distance of the sensor's corner from the axis."""
        camera = self.light.camera
        return hypot(camera.sensor.width_mm, camera.sensor.height_mm) / 2 if camera else None

    @cached_property
    def corner_light(self) -> float | None:
        """Share of the light that reaches the corner."""
        if self.beam is None or self.corner_mm is None:
            return None
        heights = np.array([self.corner_mm])
        return float(clearance.illumination(self.openings, heights, self.beam.obstruction)[0])

    def profile(self, points: int = 33) -> tuple[np.ndarray, np.ndarray]:
        """Image heights from the axis to the corner and the share of light there, shape (points,) each."""
        heights = np.linspace(0, self.corner_mm or 0.0, points)
        if self.beam is None:
            return heights, np.ones(points)
        return heights, clearance.illumination(self.openings, heights, self.beam.obstruction)

    @cached_property
    def asked(self) -> tuple[float | None, Words]:
        """The distance from shoulder to sensor that the glass asks for, before filters; and who asks."""
        telescope, train = self.light.telescope, self.train
        if train.corrector is not None:
            corrector = self.light.correctors[-1]
            focal_length = telescope.used("focal_length_mm") if telescope else None
            return back_focus_of(corrector, focal_length), corrector.name
        if telescope is None:
            return None, "no telescope or lens in the light path"
        if telescope.design == "camera_lens":
            return flange_distance(telescope.sensor_side), text(
                "{telescope}, flange distance of its mount", telescope=telescope.name
            )
        if self.built_in and self.preferences.built_in_corrector == "in_focus_is_in_spacing":
            return None, "built-in corrector: no separate back focus"
        own = telescope.used("back_focus_mm")
        return own, telescope.name if own is not None else "no part requires a fixed back focus"

    def tolerance_by(self, school: str) -> float | None:
        """Tolerance of one school for this glass and camera, ± mm; None without telescope or camera."""
        telescope, camera = self.light.telescope, self.light.camera
        if telescope is None or camera is None:
            return None
        ratio = telescope.focal_length_mm * self.light.factor / telescope.aperture_mm
        pixel = camera.sensor.pixel_um * self.rig.binning
        return tolerance.by_school(school, ratio, pixel, 2 * (self.corner_mm or 0.0))

    @cached_property
    def tolerance(self) -> tuple[float | None, Words]:
        """How exact the spacing must be, ± mm, and who says so: the corrector's maker, else the school."""
        own = self.light.correctors[-1].tolerance_mm if self.light.correctors else None
        if own:
            return own, self.light.correctors[-1].name
        school = self.preferences.spacing_tolerance
        return self.tolerance_by(school), school.replace("_", " ")

    @cached_property
    def built_in(self) -> bool:
        """Whether the corrector is built into the telescope and moves with it."""
        return (
            self.light.telescope is not None and self.light.telescope.design == "petzval" and not self.light.correctors
        )

    @cached_property
    def racks(self) -> bool:
        """Whether a drawtube or helical moves what hangs behind it; cells and mirrors move inside instead."""
        focuser = self.train.focuser
        return focuser is not None and focuser.mechanism not in ("lens_cell", "moving_mirror")

    @cached_property
    def lenses(self) -> tuple[Lens, ...] | None:
        """The correctors at work; None where light cannot come to the sensor so."""
        return lenses(self.train)

    @property
    def mirror_moves(self) -> bool:
        """Whether focus is found by moving the main mirror, with no drawtube put in its place."""
        return self.train.focuser is not None and self.train.focuser.mechanism == "moving_mirror"

    @cached_property
    def position(self) -> float | None:
        """Where the drawtube stands for focus, mm out; None when something it needs is not given."""
        telescope, train = self.light.telescope, self.train
        plane = telescope.focuser.focal_plane_mm if telescope else None
        if telescope is None or plane is None or train.sensor is None or not self.racks:
            return None
        if not train.laid:
            return None
        if self.light.correctors:
            if not self.lenses:
                return None
            first = self.lenses[0]
            return plane + glass_between(train, -1, first.index) - first.place - first.native
        return plane - train.laid[0].start - ((train.actual or 0.0) - train.glass_shift)
