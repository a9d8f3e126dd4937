"""The figures of a rig: a table of what is computed, from what, by which formula, after which source."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from math import hypot

from dravel.core import optics
from dravel.core.guide import tracking
from dravel.core.guide.stars import chance_of_none
from dravel.core.known import Known
from dravel.core.light_path import LightPath
from dravel.core.load import stand
from dravel.core.model import Figure, MissingFigure
from dravel.core.power import dew, energy
from dravel.core.spacing import reach
from dravel.core.statics import newton_metres


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
STATICS = "statics"

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
    FigureRule(
        "load.total_kg", "Carried, without counterweights", "kg", 1,
        "Σ m", "masses of the parts",
        ("carried",), lambda m: m, ("load_total", "M*"), optional=True,
    ),
    FigureRule(
        "load.payload_fraction", "Share of the rated payload", "", 2,
        "M / P", PRACTICE,
        ("carried", "payload"), lambda m, p: m / p, optional=True,
    ),
    FigureRule(
        "load.payload_allowed_kg", "Wise payload", "kg", 1,
        "P · s · k", "common practice; less for wide and long tubes is Dravel's own",
        ("payload", "payload_share", "derating"), lambda p, s, k: p * s * k, optional=True,
    ),
    FigureRule(
        "load.arm_mm", "Load's arm from the right-ascension axis", "mm", 0,
        "D", STATICS,
        ("arm",), lambda d: d, optional=True,
    ),
    FigureRule(
        "load.moment_nm", "Moment of the load", "N·m", 1,
        "M · g · D", STATICS,
        ("carried", "arm"), lambda m, d: newton_metres(m * d), optional=True,
    ),
    FigureRule(
        "load.declination_offset_mm", "Centre of gravity ahead of the saddle's middle", "mm", 0,
        "c = Σ m·x / Σ m", STATICS,
        ("along",), lambda c: c, optional=True,
    ),
    FigureRule(
        "load.declination_nm", "Moment about the declination axis", "N·m", 2,
        "M · g · |c|", STATICS,
        ("carried", "along"), lambda m, c: newton_metres(m * abs(c)), optional=True,
    ),
    FigureRule(
        "load.across_mm", "Centre of gravity to the right of the tube", "mm", 0,
        "e = Σ m·y / Σ m", STATICS,
        ("across",), lambda e: e, optional=True,
    ),
    FigureRule(
        "load.counterweight_kg", "Counterweights", "kg", 1,
        "W", "masses of the parts",
        ("hung",), lambda w: w, optional=True,
    ),
    FigureRule(
        "load.counterweight_position_mm", "Where the weights balance, from the axis", "mm", 0,
        "(M·D · (1 − b) − S) / W", STATICS,
        ("carried", "arm", "east", "shaft_moment", "hung"),
        lambda m, d, b, s, w: (m * d * (1 - b) - s) / w, optional=True,
    ),
    FigureRule(
        "load.balance_error_nm", "Left over in right ascension, weights heavy positive", "N·m", 2,
        "(K + S − M·D · (1 − b)) · g", STATICS,
        ("hung_moment", "shaft_moment", "carried", "arm", "east"),
        lambda k, s, m, d, b: newton_metres(k + s - m * d * (1 - b)), optional=True,
    ),
    FigureRule(
        "load.inertia_kg_m2", "Moment of inertia about right ascension", "kg·m²", 2,
        "I = Σ m·r² + Σ m(3r² + l²)/12", "mechanics, textbook solids",
        ("inertia",), lambda i: i, optional=True,
    ),
    FigureRule(
        "load.wind_nm", "Moment of the wind", "N·m", 2,
        "½ · 1.225 · v² · 1.2 · A · D", "ASCE 7 in SI form; C_d of a cylinder from memory",
        ("wind", "wind_area", "arm"), lambda v, a, d: stand.wind_force_n(v, a) * abs(d) / 1000, optional=True,
    ),
    FigureRule(
        "load.tipping_margin", "Restoring over overturning moment", "×", 1,
        "τ, worst direction", STATICS,
        ("tipping",), lambda t: t, optional=True,
    ),
    FigureRule(
        "load.leg_clearance_mm", "Tube past the legs", "mm", 0,
        "ℓ", "geometry, approximate",
        ("legs",), lambda gap: gap, optional=True,
    ),
    FigureRule(
        "load.heaviest_lift_kg", "Heaviest single lift", "kg", 1,
        "max m", "masses of the parts",
        ("lift",), lambda m: m, optional=True,
    ),
    FigureRule(
        "load.racking_mm", "Balance moves when the drawtube goes out", "mm", 0,
        "r = m behind · travel / M", STATICS,
        ("racking",), lambda r: r, optional=True,
    ),
    FigureRule(
        "guide.scale_arcsec_px", "Guide scale", "″/px", 2,
        "206.265 · p₂ / f₂", "geometry, 1 rad = 206 264.806″",
        ("guide_pixel", "guide_focal"), optics.pixel_scale, ("guide_scale", "scale₂"), optional=True,
    ),
    FigureRule(
        "guide.scale_ratio", "Guide scale over image scale", "×", 1,
        "scale₂ / scale", PRACTICE,
        ("guide_scale", "pixel_scale"), lambda g, i: g / i, ("scale_ratio", "x"), optional=True,
    ),
    FigureRule(
        "guide.limiting_mag", "Faintest usable guide star", "mag", 1,
        "m at a signal to noise of 10", "CCD equation (Merline & Howell 1995)",
        ("limiting",), lambda m: m, optional=True,
    ),
    FigureRule(
        "guide.stars_expected", "Usable stars in the guide patch", "", 1,
        "n = N(m, b) · patch", "star counts: packaged list to magnitude 10, Allen beyond (from memory)",
        ("stars_expected",), lambda n: n, optional=True,
    ),
    FigureRule(
        "guide.chance_of_none", "Chance of no star", "", 2,
        "e^−n", "Poisson",
        ("stars_expected",), chance_of_none, optional=True,
    ),
    FigureRule(
        "guide.flexure_arcsec_h", "Flexure between guide star and sensor", "″/h", 1,
        "φ₂ by mounting", "Dravel's own orders of magnitude",
        ("flexure",), lambda rate: rate, optional=True,
    ),
    FigureRule(
        "guide.rms_arcsec", "Error of tracking, RMS per axis", "″", 2,
        "ρ = √Σ terms²", "quadrature of independent terms",
        ("guide_rms",), lambda rms: rms, optional=True,
    ),
    FigureRule(
        "guide.rms_px", "Error of tracking, in pixels", "px", 2,
        "ρ / scale", PRACTICE,
        ("guide_rms", "pixel_scale"), lambda rms, scale: rms / scale, optional=True,
    ),
    FigureRule(
        "guide.unguided_limit_s", "Longest unguided sub", "s", 0,
        "scale / (π·PE / T + 15.041 · E), E in radians", "calculus on a sine error; geometry",
        ("pixel_scale", "periodic", "worm", "polar"),
        lambda scale, pe, t, e: tracking.unguided_limit_s(
            scale, tracking.worst_rate_arcsec_s(pe, t), tracking.polar_drift_arcsec_s(e)
        ),
        optional=True,
    ),
    FigureRule(
        "guide.guided_limit_s", "Longest guided sub", "s", 0,
        "t₂: one pixel of flexure, or of rotation at the corner", "geometry",
        ("guided_limit",), lambda t: t, optional=True,
    ),
    FigureRule(
        "guide.polar_tolerance_arcmin", "Polar error that turns the corner by a pixel", "′", 1,
        "45 000 · p · cos δ₀ / (t′ · f · A)", "Hook 1989, J. BAA 99 (from memory); derived in the core",
        ("pixel", "declination", "sub_min", "focal_length", "corner_angle"), tracking.polar_tolerance_arcmin,
        optional=True,
    ),
    FigureRule(
        "power.mean_w", "Mean draw", "W", 0,
        "p̄ = Σ typical · duty", "draws of the parts; cooling with the square of the difference",
        ("mean_w",), lambda p: p, optional=True,
    ),
    FigureRule(
        "power.energy_needed_wh", "Energy needed", "Wh", 0,
        "p̄ · t", "definition",
        ("mean_w", "hours_on"), lambda p, t: p * t, optional=True,
    ),
    FigureRule(
        "power.energy_had_wh", "Energy at hand", "Wh", 0,
        "Q · u · k · (1 − z)", "definition; cold is Dravel's own order of magnitude",
        ("energy", "usable_share", "cold", "reserve"), energy.at_hand_wh,
        ("had_wh", "Q′"), optional=True,
    ),
    FigureRule(
        "power.hours_left_h", "Hours it lasts", "h", 1,
        "Q′ / p̄", "definition",
        ("had_wh", "mean_w"), lambda q, p: q / p, optional=True,
    ),
    FigureRule(
        "power.peak_a", "Largest current", "A", 1,
        "p̂ / U", "Ohm's law",
        ("peak_w", "volts"), lambda p, u: p / u, optional=True,
    ),
    FigureRule(
        "power.drop_v", "Voltage lost in the worst cable", "V", 2,
        "ΔU = 2 · L · R · I", "IEC 60228 conductor resistance at 20 °C",
        ("drop",), lambda drop: drop, optional=True,
    ),
    FigureRule(
        "power.dew_point_c", "Dew point", "°C", 1,
        "Magnus form of θ + 3 K and h", "Alduchov & Eskridge 1996, J. Appl. Meteor. 35, 601",
        ("air", "humidity"), lambda air, share: dew.dew_point_c(air + dew.FALL_K / 2, share), ("dew_point", "θ_d"),
        optional=True,
    ),
    FigureRule(
        "power.dew_margin_k", "Coldest glass above the dew point", "K", 1,
        "θ − κ − θ_d", "definition; κ is Dravel's own order of magnitude",
        ("air", "open_sky", "dew_point"), dew.margin_k, optional=True,
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


def described(known: Known, lead: str = "") -> tuple[list[Figure], list[MissingFigure]]:
    """The table as figures with their working, in its order, and why the others are missing; only keys with a lead."""
    figures, missing = [], []
    for rule in _rows(known):
        if not rule.key.startswith(lead):
            continue
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
