"""The figures of a rig: a table of what is computed, from what, by which formula, after which source."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from math import hypot

from dravel.core import optics
from dravel.core.known import Known
from dravel.core.light_path import LightPath
from dravel.core.model import Figure, MissingFigure
from dravel.core.spacing import reach


@dataclass
class FigureRule:
    """One row of the table. `inputs` are names in `Known`; `gives` is the name (and symbol) its result gets there."""

    key: str
    title: str
    unit: str
    decimals: int
    formula: str
    source: str
    inputs: tuple[str, ...]
    compute: Callable[..., float]
    gives: tuple[str, str] = ("", "")
    note: str = ""
    optional: bool = False  # not worth a word where it does not apply

    @property
    def name(self) -> str:
        """What the result is called in `Known`."""
        return self.gives[0] or self.key

    @property
    def symbol(self) -> str:
        """Its symbol in formulas."""
        return self.gives[1]


GEOMETRY = "geometry"
PRACTICE = "common practice"

# fmt: off
TABLE: tuple[FigureRule, ...] = (
    FigureRule(
        "optics.nominal_focal_length_mm", "Nominal focal length", "mm", 0,
        "f₀ · m", PRACTICE,
        ("native_focal_length", "factor"), lambda f, m: f * m, ("nominal_focal_length", "fₙ"),
    ),
    FigureRule(
        "optics.focal_ratio", "Focal ratio", "", 2,
        "f / D", "definition",
        ("focal_length", "aperture"), optics.focal_ratio, ("focal_ratio", "N"),
    ),
    FigureRule(
        "optics.per_pixel_gain", "Signal per pixel, against no corrector", "×", 2,
        "1 / m²", "surface brightness in the image goes as 1/N²; common practice",
        ("factor",), optics.per_pixel_gain,
        note="The aperture is the same: each pixel sees more sky, over a wider field, with less detail.",
    ),
    FigureRule(
        "optics.pixel_scale_arcsec_px", "Pixel scale", "″/px", 2,
        "206.265 · p / f", "geometry, 1 rad = 206 264.806″",
        ("pixel", "focal_length"), optics.pixel_scale, ("pixel_scale", "scale"),
    ),
    FigureRule(
        "optics.field_width_deg", "Field, width", "°", 2,
        "2 · atan(w / 2f)", GEOMETRY,
        ("sensor_width", "focal_length"), optics.field_deg, ("field_width", "W"),
    ),
    FigureRule(
        "optics.field_height_deg", "Field, height", "°", 2,
        "2 · atan(h / 2f)", GEOMETRY,
        ("sensor_height", "focal_length"), optics.field_deg, ("field_height", "H"),
    ),
    FigureRule(
        "optics.field_diagonal_deg", "Field, diagonal", "°", 2,
        "2 · atan(diag / 2f)", GEOMETRY,
        ("sensor_diagonal", "focal_length"), optics.field_deg,
    ),
    FigureRule(
        "optics.rayleigh_arcsec", "Rayleigh limit", "″", 2,
        "1.22 · λ / D, λ = 550 nm", "Rayleigh 1879",
        ("aperture",), optics.rayleigh_arcsec,
    ),
    FigureRule(
        "optics.dawes_arcsec", "Dawes limit", "″", 2,
        "115.8 / D", "Dawes 1867",
        ("aperture",), optics.dawes_arcsec,
    ),
    FigureRule(
        "optics.airy_um", "Airy disk", "µm", 1,
        "2.44 · λ · N, λ = 550 nm", "Born & Wolf",
        ("focal_ratio",), optics.airy_diameter_um,
    ),
    FigureRule(
        "optics.diffraction_arcsec", "Diffraction, FWHM", "″", 2,
        "1.029 · λ / D, λ = 550 nm", "Born & Wolf",
        ("aperture",), optics.diffraction_fwhm_arcsec, ("diffraction", "δ"),
    ),
    FigureRule(
        "optics.seeing_arcsec", "Seeing at the airmass", "″", 2,
        "s · X^0.6", "Fried 1966, Roddier 1981",
        ("seeing", "airmass"), optics.seeing_at_airmass, ("seeing_at_airmass", "sₓ"),
    ),
    FigureRule(
        "optics.seeing_limited_arcsec", "Star before guiding and pixel, FWHM", "″", 2,
        "√(sₓ² + δ²)", "quadrature, the usual approximation",
        ("seeing_at_airmass", "diffraction"), optics.seeing_limited_fwhm, ("seeing_limited", "F"),
    ),
    FigureRule(
        "optics.guiding_arcsec", "Guiding, FWHM", "″", 2,
        "2.355 · RMS", "FWHM of a Gaussian, 2·√(2·ln 2)",
        ("guiding",), optics.guiding_fwhm, ("guiding_fwhm", "g"),
    ),
    FigureRule(
        "optics.star_fwhm_arcsec", "Star on the sensor, FWHM", "″", 2,
        "√(F² + g² + d² + scale²)", "quadrature, the usual approximation",
        ("seeing_limited", "guiding_fwhm", "defocus", "pixel_scale"), optics.star_fwhm, ("star_fwhm", "F*"),
    ),
    FigureRule(
        "optics.star_fwhm_px", "Star on the sensor, FWHM", "px", 1,
        "F* / scale", "definition",
        ("star_fwhm", "pixel_scale"), optics.sampling_px,
    ),
    FigureRule(
        "optics.sampling_px", "Sampling: pixels across the seeing-limited star", "px", 2,
        "F / scale", "Nyquist asks for two",
        ("seeing_limited", "pixel_scale"), optics.sampling_px, ("sampling", "n"),
    ),
    FigureRule(
        "optics.depth_of_focus_um", "Depth of focus, total", "µm", 0,
        "4 · λ · N², λ = 550 nm", "Born & Wolf (quarter wave)",
        ("focal_ratio",), optics.depth_of_focus_um, ("depth_of_focus", "z"),
    ),
    FigureRule(
        "optics.focus_drift_um_k", "Focus drift of the tube", "µm/K", 1,
        "α · L", "CRC Handbook (aluminium 23.1 µm/m/K)",
        ("expansion", "tube_length"), lambda alpha, length: alpha * length / 1000, ("drift", "q"),
        note="Tube only; glass and mirrors drift as well.",
    ),
    FigureRule(
        "optics.refocus_interval_k", "Temperature fall that calls for a new focus", "K", 1,
        "z / 2q", "half the depth of focus used up",
        ("depth_of_focus", "drift"), optics.refocus_interval_k,
    ),
    FigureRule(
        "optics.image_circle_mm", "Image circle", "mm", 1,
        "c", "maker's figure",
        ("image_circle",), lambda c: c,
    ),
    FigureRule(
        "optics.sensor_diagonal_mm", "Sensor diagonal", "mm", 1,
        "√(w² + h²)", GEOMETRY,
        ("sensor_width", "sensor_height"), hypot, ("sensor_diagonal", "diag"),
    ),
    FigureRule(
        "optics.circle_coverage", "Share of the sensor inside the image circle", "", 3,
        "area of sensor ∩ circle / area of sensor", GEOMETRY,
        ("sensor_width", "sensor_height", "image_circle"), optics.circle_coverage, ("coverage", "k"),
    ),
    FigureRule(
        "optics.corrector_focus_shift_mm", "Corrector moves the focus inward by", "mm", 1,
        "d / m − d", "thin-lens equation",
        ("back_focus", "factor"), optics.corrector_focus_shift_mm, optional=True,
    ),
    FigureRule(
        "optics.planetary_ratio", "Focal ratio for planets", "", 1,
        "2 · p / λ, λ = 550 nm", "diffraction cut-off 1/(λN) and Nyquist",
        ("pixel",), optics.planetary_ratio, note="In practice 3 to 5 times the pixel in µm (common practice).",
    ),
    FigureRule(
        "optics.untracked_limit_s", "Fixed tripod: one pixel of trail at the equator", "s", 1,
        "206.265 · p / (f · 15.041 · cos δ), δ = 0", GEOMETRY,
        ("pixel", "focal_length"), optics.untracked_limit_s,
    ),
    FigureRule(
        "optics.untracked_habit_s", "Fixed tripod: the old habit", "s", 1,
        "500 / f", PRACTICE,
        ("focal_length",), optics.untracked_habit_s,
    ),
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

_MEASURED = FigureRule(
    "optics.focal_length_mm",
    "Focal length",
    "mm",
    0,
    "f′, from a solved frame",
    "measured",
    ("solved_focal_length",),
    lambda f: f,
    ("focal_length", "f"),
    note="The measured focal length is used; the nominal one is kept beside it.",
)
_DESIGNED = FigureRule(
    "optics.focal_length_mm",
    "Focal length",
    "mm",
    0,
    "f₀ · m",
    PRACTICE,
    ("native_focal_length", "factor"),
    lambda f, m: f * m,
    ("focal_length", "f"),
)


_RECIPES = {rule.name: rule for rule in (_DESIGNED, *TABLE)}
_RECIPES_MEASURED = {rule.name: rule for rule in (_MEASURED, *TABLE)}


def prepare(known: Known, light: LightPath) -> None:
    """Teach `known` the table; each value is computed when first asked for."""
    if light.telescope is not None:
        alpha = optics.EXPANSION_UM_PER_M_K[light.telescope.tube_material]
        known.put("expansion", "α", "expansion", alpha, "µm/m/K", light.telescope.tube_material)
    known.recipes = _RECIPES_MEASURED if "solved_focal_length" in known else _RECIPES


def described(known: Known) -> tuple[list[Figure], list[MissingFigure]]:
    """The table as figures with their working, in its order, and why the others are missing."""
    figures, missing = [], []
    for rule in _rows(known):
        if rule.name in known:
            figures.append(_figure(rule, known))
        elif not rule.optional:
            missing.append(MissingFigure(key=rule.key, title=rule.title, because=known.why_not(rule.name)))
    return figures, missing


def _rows(known: Known) -> Iterable[FigureRule]:
    return (_RECIPES_MEASURED if "solved_focal_length" in known else _RECIPES).values()


def _figure(rule: FigureRule, known: Known) -> Figure:
    return Figure(
        key=rule.key,
        title=rule.title,
        value=known.value(rule.name),
        unit=rule.unit,
        decimals=rule.decimals,
        formula=rule.formula,
        inputs=tuple(known[name] for name in rule.inputs),
        source=rule.source,
        note=rule.note,
    )
