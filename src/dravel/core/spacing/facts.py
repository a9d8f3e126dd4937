"""Spacing facts of a rig, gathered once and only when asked for: what figures and rules of the Spacing stop share."""

from dataclasses import dataclass
from functools import cached_property
from math import hypot

import numpy as np

from dravel.core.known import Known
from dravel.core.light_path import LightPath, back_focus_of
from dravel.core.model import Practice, Rig
from dravel.core.spacing import clearance, guider, stiffness, tolerance
from dravel.core.spacing.joints import Joint, joints
from dravel.core.spacing.reach import native_image_behind
from dravel.core.spacing.train import Train, flange_distance


@dataclass(frozen=True)
class Spacing:
    """Train, joints, beam and what hangs, each computed when first asked for."""

    rig: Rig
    light: LightPath
    practice: Practice

    @cached_property
    def train(self) -> Train:
        """Every part at its place."""
        return Train.of(self.rig, self.light, self.practice)

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
        return clearance.openings(self.train, self.beam, self.practice) if self.beam else ()

    @cached_property
    def hanging(self) -> stiffness.Hanging:
        """What hangs on the focuser."""
        return stiffness.hanging(self.rig, self.train, self.joints)

    @cached_property
    def branch(self) -> tuple[guider.Branch | None, str]:
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
    def asked(self) -> tuple[float | None, str]:
        """The distance from shoulder to sensor that the glass asks for, before filters; and who asks."""
        telescope, train = self.light.telescope, self.train
        if train.corrector is not None:
            corrector = self.light.correctors[-1]
            focal_length = telescope.used("focal_length_mm") if telescope else None
            return back_focus_of(corrector, focal_length), corrector.name
        if telescope is None:
            return None, "the light path has no telescope or lens"
        if telescope.design == "camera_lens":
            return flange_distance(telescope.sensor_side), f"{telescope.name}, flange distance of its mount"
        if self.built_in and self.practice.built_in_corrector == "in_focus_is_in_spacing":
            return None, "its corrector is built in: in focus means in spacing"
        own = telescope.used("back_focus_mm")
        return own, telescope.name if own is not None else "nothing in the path asks for a fixed distance"

    def tolerance_by(self, school: str) -> float | None:
        """Tolerance of one school for this glass and camera, ± mm; None without telescope or camera."""
        telescope, camera = self.light.telescope, self.light.camera
        if telescope is None or camera is None:
            return None
        ratio = telescope.focal_length_mm * self.light.factor / telescope.aperture_mm
        pixel = camera.sensor.pixel_um * self.rig.binning
        return tolerance.by_school(school, ratio, pixel, 2 * (self.corner_mm or 0.0))

    @cached_property
    def tolerance(self) -> tuple[float | None, str]:
        """How exact the spacing must be, ± mm, and who says so: the corrector's maker, else the school."""
        own = self.light.correctors[-1].tolerance_mm if self.light.correctors else None
        if own:
            return own, self.light.correctors[-1].name
        school = self.practice.spacing_tolerance
        return self.tolerance_by(school), school.replace("_", " ")

    @cached_property
    def built_in(self) -> bool:
        """Whether the corrector is built into the telescope and moves with it."""
        return (
            self.light.telescope is not None and self.light.telescope.design == "petzval" and not self.light.correctors
        )

    @cached_property
    def position(self) -> float | None:
        """Where the drawtube stands for focus, mm out; None when something it needs is not given."""
        telescope, train = self.light.telescope, self.train
        plane = telescope.focuser.focal_plane_mm if telescope else None
        if telescope is None or plane is None or train.actual is None or telescope.design == "camera_lens":
            return None
        behind = train.actual - train.glass_shift
        if train.corrector is not None:
            asked = self.asked[0] or behind
            try:
                behind = native_image_behind(behind, self.light.factor, asked)
            except (ValueError, ZeroDivisionError):
                return None
            return plane - train.corrector.end - behind
        return plane - train.laid[0].start - behind if train.laid else None


NAMES = (
    "asked", "glass_shift", "train", "focal_plane", "corrector_at", "image_behind", "travel", "spacing_tolerance",
    "stack_worst", "stack_rss", "corner_light", "hanging", "moment", "sag_angle", "prism_shade", "guide_actual",
    "guide_required",
)  # fmt: skip


def gather(known: Known, facts: Spacing) -> None:
    """Put the spacing values into `known`, or why they are not known."""
    train, light = facts.train, facts.light
    asked, who = facts.asked
    if asked is None:
        known.lack(who if not light.correctors else f"{who} gives no back focus", "asked")
    else:
        known.put("asked", "B", "back focus asked for", asked, "mm", who)
    if not light.correctors and light.telescope is None:
        known.lack("the light path has no telescope or lens", "focal_plane", "corrector_at", "image_behind", "travel")
    if train.camera is None:
        known.lack("the light path has no camera", *NAMES[1:])
        return
    if train.unknown:
        known.lack(f"{train.unknown[0]} gives no length", *NAMES[1:])
        return
    behind = train.behind
    plates = [entry.filter.name for entry in behind if entry.filter] or ["no filter behind the shoulder"]
    known.put("glass_shift", "g", "shift by plane glass", train.glass_shift, "mm", ", ".join(plates))
    measured = sum(bool(entry.reading) for entry in behind)
    words = (
        f"{len(behind)} parts, {measured} of them measured" if measured else f"{len(behind)} parts, as their makers say"
    )
    known.put("train", "A", "shoulder to sensor", train.actual, "mm", words)
    tolerances = [entry.tolerance for entry in behind]
    known.put("stack_worst", "Σt", "all parts off to one side", tolerance.worst_case(tolerances), "mm", "tolerances")
    known.put("stack_rss", "√Σt²", "parts off independently", tolerance.root_sum_square(tolerances), "mm", "tolerances")
    value, origin = facts.tolerance
    known.put("spacing_tolerance", "t", "tolerance", value, "mm", origin)
    _reach(known, facts)
    if facts.corner_light is None:
        known.lack("the beam cannot be laid through this path", "corner_light")
    else:
        tight = clearance.tightest(facts.openings, facts.corner_mm or 0.0)
        known.put(
            "corner_light", "E", "light in the corner", facts.corner_light, "", tight.name if tight else "all clear"
        )
    hangs = facts.hanging
    floor = f"at least: {len(hangs.unweighed)} parts unweighed" if hangs.unweighed else "masses of the parts"
    known.put("hanging", "M", "mass on the focuser", hangs.mass_kg, "kg", floor)
    known.put("moment", "Mx", "moment on the focuser", hangs.moment_nm, "N·m", floor)
    known.put(
        "sag_angle", "φ", "lean of the sensor", hangs.sag_mrad, "mrad", "yield of the joints, Dravel's own figures"
    )
    shade = facts.shade
    if shade is not None:
        known.put("prism_shade", "P", "light the prism takes", shade.worst, "", "prism over the sensor")
    branch, why = facts.branch
    if branch is None:
        known.lack(why, "guide_actual", "guide_required")
    else:
        known.put("guide_actual", "a", "prism to guide sensor", branch.actual, "mm", "guide branch as set")
        known.put("guide_required", "r", "prism to main sensor, less glass", branch.required, "mm", "main train")


def _reach(known: Known, facts: Spacing) -> None:
    telescope, train = facts.light.telescope, facts.train
    if telescope is None:
        return
    plane = telescope.focuser.focal_plane_mm
    known.put("focal_plane", "p", "native image behind the rear shoulder", plane, "mm", telescope.name)
    focuser = train.focuser
    if focuser is not None and focuser.mechanism not in ("lens_cell", "moving_mirror"):
        known.put("travel", "T", "travel of the focuser", focuser.travel_mm, "mm", telescope.name)
    else:
        known.lack("it focuses inside, without a drawtube", "travel")
    position = facts.position
    if position is None or plane is None:
        known.lack(f"{telescope.name} does not say where its image lies", "corrector_at", "image_behind")
        return
    at = train.corrector.end if train.corrector else train.laid[0].start
    origin = train.corrector.part.name if train.corrector else "the shoulder itself"
    known.put("corrector_at", "c", "corrector behind the shoulder", at, "mm", origin)
    known.put("image_behind", "s", "native image behind that", plane - at - position, "mm", "thin lens, d / m(d)")
