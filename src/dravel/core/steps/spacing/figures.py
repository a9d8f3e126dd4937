"""Figures of the image train: lengths, tolerances, light, lean."""

from math import hypot

import numpy as np

from dravel.core.engine.recipe import GEOMETRY, PRACTICE, Recipe, given
from dravel.core.physics.statics import newton_metres
from dravel.core.train import clearance, guider, reach, tolerance

TOLERANCE = "Back focus tolerance, ±"


def focuser_moment_nm(masses_kg: tuple[float, ...], behind_mm: tuple[float, ...]) -> float:
    """Moment on the focuser with the tube level, N·m: Σ m·g·x of all parts behind its shoulder. Source: statics."""
    return newton_metres(sum(mass * max(at, 0.0) for mass, at in zip(masses_kg, behind_mm, strict=True)))


# fmt: off
FIGURES: tuple[Recipe, ...] = (
    Recipe(
        "spacing.glass_shift_mm", "Back focus added by filter glass", "mm", 2,
        "Σ t · (n − 1) / n, behind the shoulder", "Snell's law, paraxial",
        ("plate_thickness", "plate_index"),
        lambda t, n: sum(item * (index - 1) / index for item, index in zip(t, n, strict=True)), ("glass_shift", "g"),
    ),
    Recipe(
        "spacing.required_mm", "Required back focus", "mm", 1,
        "B + g", "manufacturer; common practice",
        ("asked", "glass_shift"), lambda b, g: b + g, ("required", "R"), optional=True,
    ),
    Recipe(
        "spacing.actual_mm", "Actual back focus", "mm", 1,
        "Σ l, the camera's from flange to sensor", GEOMETRY,
        ("lengths",), sum, ("actual", "A"),
    ),
    Recipe(
        "spacing.error_mm", "Back focus error, too long positive", "mm", 1,
        "A − R", "definition",
        ("actual", "required"), lambda a, r: a - r, ("spacing_error", "e"), optional=True,
    ),
    given("spacing.tolerance_mm", TOLERANCE, "mm", 1, "maker_tolerance", ("spacing_tolerance", "t")),
    given("spacing.tolerance_mm", TOLERANCE, "mm", 1, "school_tolerance", ("spacing_tolerance", "t")),
    Recipe(
        "spacing.tolerance_mm", TOLERANCE, "mm", 1,
        "0.2 where N₀ ≤ 4.5, or p ≤ 3.8 and diag ≥ 26; 1 where N₀ ≥ 7 and p ≥ 4.5; else 0.5", PRACTICE,
        ("design_ratio", "pixel", "sensor_diagonal"), tolerance.tolerance_mm, ("spacing_tolerance", "t"),
    ),
    Recipe(
        "spacing.stack_worst_mm", "Stack, worst case, ±", "mm", 2,
        "Σ t", "all parts off to one side",
        ("stack",), sum,
    ),
    Recipe(
        "spacing.stack_rss_mm", "Stack, root-sum-square, ±", "mm", 2,
        "√Σ t²", "parts off independently",
        ("stack",), lambda t: hypot(*t),
    ),
    Recipe(
        "spacing.factor", "Factor of the corrector at this spacing", "×", 3,
        "m′ = Π (1 − (d / b)(1 − m))", "thin-lens equation",
        ("lens_factor", "lens_distance", "lens_given"), reach.factor_of_lenses, ("spaced_factor", "m′"), optional=True,
        note="Effect of spacing on the specified factor; a plate solve gives the true value.",
    ),
    Recipe(
        "spacing.mirror_turns", "Focus-knob turns from the specified back focus", "", 1,
        "(b − b₀) / k", "first-order optics of two mirrors; knob thread is an estimate",
        ("back_distance", "nominal_back", "knob_mm"), lambda b, own, knob: (b - own) / knob, optional=True,
    ),
    Recipe(
        "spacing.focuser_position_mm", "Drawtube extension", "mm", 1,
        "p − c − s", "thin lens and geometry",
        ("focal_plane", "corrector_at", "image_behind"), reach.focuser_position, ("focuser_position", "x"),
        optional=True,
    ),
    Recipe(
        "spacing.corner_light", "Relative illumination in the corner", "", 3,
        "area of the pupil seen through all openings / area of the pupil", "geometry of vignetting",
        ("corner_height", "opening_diameter", "beam_radius", "beam_offset", "obstruction"), clearance.share_through,
        ("corner_light", "E"), optional=True,
        note="Openings only; telescope as a thin lens, its aperture as the stop.",
    ),
    Recipe(
        "spacing.hanging_kg", "Mass on the focuser", "kg", 2,
        "Σ m", "statics",
        ("hanging_mass",), sum, ("hanging", "M₂"),
    ),
    Recipe(
        "spacing.moment_nm", "Moment on the focuser, tube level", "N·m", 2,
        "Σ m · g · x, of all parts behind", "statics",
        ("hanging_mass", "hanging_at"), focuser_moment_nm, ("moment", "Mx"),
    ),
    Recipe(
        "spacing.sag_um", "Tilt across the sensor", "µm", 1,
        "φ · diag", "stiffness of connections, estimate (order of magnitude)",
        ("sag_angle", "sensor_diagonal"), lambda angle, diagonal: angle * diagonal, ("sag_um", "u"),
    ),
    Recipe(
        "spacing.guide_error_mm", "Guide camera focus error, too long positive", "mm", 1,
        "a − r", "equal path behind the prism; common practice",
        ("guide_actual", "guide_required"), lambda a, r: a - r, ("guide_error", "eₛ"), optional=True,
    ),
    Recipe(
        "spacing.prism_shade", "Light lost to the prism, worst point", "", 3,
        "area of beam ∩ prism / area of beam", GEOMETRY,
        ("shade_x", "shade_y", "prism_edge", "prism_width", "prism_height", "prism_angle", "prism_beam_radius",
         "prism_beam_offset"),
        lambda x, y, *prism: float(guider.shading(np.array([x]), np.array([y]), *prism)[0]), ("prism_shade", "P"),
        optional=True,
    ),
)
# fmt: on
