"""Figures of the image train: lengths, tolerances, light, lean."""

from dravel.core.figures.row import GEOMETRY, PRACTICE, FigureRule
from dravel.core.spacing import reach

# fmt: off
SPACING: tuple[FigureRule, ...] = (
    FigureRule(
        "spacing.glass_shift_mm", "Filter glass pushes the sensor back by", "mm", 2,
        "Σ t · (n − 1) / n, behind the shoulder", "Snell's law, paraxial",
        ("glass_shift",), lambda g: g,
    ),
    FigureRule(
        "spacing.required_mm", "Required, shoulder to sensor", "mm", 1,
        "B + g", "maker's figure; common practice",
        ("asked", "glass_shift"), lambda b, g: b + g, ("required", "R"), optional=True,
    ),
    FigureRule(
        "spacing.actual_mm", "As laid, shoulder to sensor", "mm", 1,
        "Σ optical lengths + flange to sensor", GEOMETRY,
        ("train",), lambda a: a, ("actual", "A"),
    ),
    FigureRule(
        "spacing.error_mm", "Spacing error, too long positive", "mm", 1,
        "A − R", "definition",
        ("actual", "required"), lambda a, r: a - r, ("spacing_error", "e"), optional=True,
    ),
    FigureRule(
        "spacing.tolerance_mm", "Tolerance of the spacing, ±", "mm", 1,
        "by focal ratio and pixel, or by the chosen school", PRACTICE,
        ("spacing_tolerance",), lambda t: t,
    ),
    FigureRule(
        "spacing.stack_worst_mm", "Stack, worst case, ±", "mm", 2,
        "Σ t", "all parts off to one side",
        ("stack_worst",), lambda t: t,
    ),
    FigureRule(
        "spacing.stack_rss_mm", "Stack, root-sum-square, ±", "mm", 2,
        "√Σ t²", "parts off independently",
        ("stack_rss",), lambda t: t,
    ),
    FigureRule(
        "spacing.factor", "Factor of the corrector at this spacing", "×", 3,
        "1 − ((A − g) / d)(1 − m)", "thin-lens equation",
        ("actual", "glass_shift", "back_focus", "factor"),
        lambda a, g, d, m: reach.factor_at(a - g, m, d), optional=True,
        note="What the spacing does to the maker's factor; a solved frame tells the real one.",
    ),
    FigureRule(
        "spacing.focuser_position_mm", "Drawtube stands out", "mm", 1,
        "p − c − s", "thin lens and geometry",
        ("focal_plane", "corrector_at", "image_behind"), reach.focuser_position, ("focuser_position", "x"),
        optional=True,
    ),
    FigureRule(
        "spacing.corner_light", "Light in the corner", "", 3,
        "area of the pupil seen through all openings / area of the pupil", "geometry of vignetting",
        ("corner_light",), lambda e: e, optional=True,
        note="Openings only; telescope as a thin lens, its aperture as the stop.",
    ),
    FigureRule(
        "spacing.hanging_kg", "Mass on the focuser", "kg", 2,
        "Σ m", "statics",
        ("hanging",), lambda m: m,
    ),
    FigureRule(
        "spacing.moment_nm", "Moment on the focuser, tube level", "N·m", 2,
        "Σ m · g · x", "statics",
        ("moment",), lambda m: m,
    ),
    FigureRule(
        "spacing.sag_um", "Lean across the sensor", "µm", 1,
        "φ · diag", "Dravel's own yields of joints, an order of magnitude",
        ("sag_angle", "sensor_diagonal"), lambda angle, diagonal: angle * diagonal, ("sag_um", "u"),
    ),
    FigureRule(
        "spacing.guide_error_mm", "Guide camera off focus, too long positive", "mm", 1,
        "a − r", "equal path behind the prism; common practice",
        ("guide_actual", "guide_required"), lambda a, r: a - r, ("guide_error", "eₛ"), optional=True,
    ),
    FigureRule(
        "spacing.prism_shade", "Light the prism takes, worst point", "", 3,
        "area of beam ∩ prism / area of beam", GEOMETRY,
        ("prism_shade",), lambda p: p, optional=True,
    ),
)
# fmt: on
