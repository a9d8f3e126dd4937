"""Figures of the light: scale, field, star, focus."""

from math import hypot

from dravel.core.engine.recipe import GEOMETRY, PRACTICE, Recipe, given
from dravel.core.physics import optics
from dravel.core.train import reach

CORNER_BLUR = "Corner blur without a corrector"
GAIN = "Signal per pixel, relative to no corrector"
BRIGHTNESS = "surface brightness in the image goes as 1/N²; common practice"
SAME_APERTURE = "Same aperture: each pixel covers more sky at lower resolution."
RESIDUAL = "Residual corner blur"
RUTTEN = "Rutten & van Venrooij, Telescope Optics (unverified)"
ROUGH = "Approximate: third order only."

# fmt: off
FIGURES: tuple[Recipe, ...] = (
    given(
        "optics.focal_length_mm", "Focal length", "mm", 0, "solved_focal_length", ("focal_length", "f"),
        note="From a plate solve; used instead of the nominal value.",
    ),
    Recipe(
        "optics.focal_length_mm", "Focal length", "mm", 0,
        "f₀ · m′", "common practice; thin-lens equation for the factor at this spacing",
        ("native_focal_length", "spaced_factor"), lambda f, m: f * m, ("focal_length", "f"),
        note="The factor depends on spacing; a plate solve gives the true value.",
    ),
    Recipe(
        "optics.focal_length_mm", "Focal length", "mm", 0,
        "f₀ + γ · (b − b₀)", "first-order optics of two mirrors, approximate",
        ("native_focal_length", "mirror_growth", "back_distance", "nominal_back"), reach.grown_focal_length,
        ("focal_length", "f"), note="The main mirror moves for focus; a plate solve gives the true value.",
    ),
    Recipe(
        "optics.focal_length_mm", "Focal length", "mm", 0,
        "f₀ · m", PRACTICE,
        ("native_focal_length", "factor"), lambda f, m: f * m, ("focal_length", "f"),
    ),
    Recipe(
        "optics.nominal_focal_length_mm", "Nominal focal length", "mm", 0,
        "f₀ · m", PRACTICE,
        ("native_focal_length", "factor"), lambda f, m: f * m, ("nominal_focal_length", "fₙ"),
    ),
    Recipe(
        "optics.focal_ratio", "Focal ratio", "", 2,
        "f / D", "definition",
        ("focal_length", "aperture"), optics.focal_ratio, ("focal_ratio", "N"),
    ),
    Recipe(
        "optics.per_pixel_gain", GAIN, "×", 2,
        "(f₀ / f′)²", BRIGHTNESS,
        ("native_focal_length", "solved_corrected"), lambda f, real: optics.per_pixel_gain(real / f), note=SAME_APERTURE,
    ),
    Recipe(
        "optics.per_pixel_gain", GAIN, "×", 2,
        "1 / m′²", BRIGHTNESS,
        ("spaced_factor",), optics.per_pixel_gain, note=SAME_APERTURE,
    ),
    Recipe(
        "optics.per_pixel_gain", GAIN, "×", 2,
        "1 / m²", BRIGHTNESS,
        ("factor",), optics.per_pixel_gain, note=SAME_APERTURE,
    ),
    Recipe(
        "optics.pixel_scale_arcsec_px", "Pixel scale", "″/px", 2,
        "206.265 · p / f", "geometry, 1 rad = 206 264.806″",
        ("pixel", "focal_length"), optics.pixel_scale, ("pixel_scale", "scale"),
    ),
    Recipe(
        "optics.field_width_deg", "Field, width", "°", 2,
        "2 · atan(w / 2f)", GEOMETRY,
        ("sensor_width", "focal_length"), optics.field_deg, ("field_width", "W"),
    ),
    Recipe(
        "optics.field_height_deg", "Field, height", "°", 2,
        "2 · atan(h / 2f)", GEOMETRY,
        ("sensor_height", "focal_length"), optics.field_deg, ("field_height", "H"),
    ),
    Recipe(
        "optics.field_diagonal_deg", "Field, diagonal", "°", 2,
        "2 · atan(diag / 2f)", GEOMETRY,
        ("sensor_diagonal", "focal_length"), optics.field_deg,
    ),
    Recipe(
        "optics.rayleigh_arcsec", "Rayleigh limit", "″", 2,
        "1.22 · λ / D, λ = 550 nm", "Rayleigh 1879",
        ("aperture",), optics.rayleigh_arcsec,
    ),
    Recipe(
        "optics.dawes_arcsec", "Dawes limit", "″", 2,
        "115.8 / D", "Dawes 1867",
        ("aperture",), optics.dawes_arcsec,
    ),
    Recipe(
        "optics.airy_um", "Airy disk", "µm", 1,
        "2.44 · λ · N, λ = 550 nm", "Born & Wolf",
        ("focal_ratio",), optics.airy_diameter_um,
    ),
    Recipe(
        "optics.diffraction_arcsec", "Diffraction, FWHM", "″", 2,
        "1.029 · λ / D, λ = 550 nm", "Born & Wolf",
        ("aperture",), optics.diffraction_fwhm_arcsec, ("diffraction", "δ"),
    ),
    Recipe(
        "optics.seeing_arcsec", "Seeing at airmass", "″", 2,
        "s · X^0.6", "Fried 1966, Roddier 1981",
        ("seeing", "airmass"), optics.seeing_at_airmass, ("seeing_at_airmass", "sₓ"),
    ),
    Recipe(
        "optics.seeing_limited_arcsec", "Star before guiding and pixel, FWHM", "″", 2,
        "√(sₓ² + δ²)", "quadrature, the usual approximation",
        ("seeing_at_airmass", "diffraction"), optics.seeing_limited_fwhm, ("seeing_limited", "F"),
    ),
    Recipe(
        "optics.guiding_arcsec", "Guiding, FWHM", "″", 2,
        "2.355 · RMS", "FWHM of a Gaussian, 2·√(2·ln 2)",
        ("short_frames",), optics.guiding_fwhm, ("guiding_fwhm", "g"),
    ),
    Recipe(
        "optics.guiding_arcsec", "Guiding, FWHM", "″", 2,
        "2.355 · ρ", "FWHM of a Gaussian, 2·√(2·ln 2); tracking error of the rig",
        ("guide_rms",), optics.guiding_fwhm, ("guiding_fwhm", "g"),
    ),
    Recipe(
        "optics.guiding_arcsec", "Guiding, FWHM", "″", 2,
        "2.355 · RMS", "FWHM of a Gaussian, 2·√(2·ln 2)",
        ("guiding",), optics.guiding_fwhm, ("guiding_fwhm", "g"),
    ),
    Recipe(
        "optics.star_fwhm_arcsec", "Star on the sensor, FWHM", "″", 2,
        "√(F² + g² + d² + scale²)", "quadrature, the usual approximation",
        ("seeing_limited", "guiding_fwhm", "defocus", "pixel_scale"), optics.star_fwhm, ("star_fwhm", "F*"),
    ),
    Recipe(
        "optics.star_fwhm_px", "Star on the sensor, FWHM", "px", 1,
        "F* / scale", "definition",
        ("star_fwhm", "pixel_scale"), optics.sampling_px, ("star_px", "F′"),
    ),
    Recipe(
        "optics.sampling_px", "Sampling: pixels across the seeing-limited star", "px", 2,
        "F / scale", "Nyquist: 2",
        ("seeing_limited", "pixel_scale"), optics.sampling_px, ("sampling", "n"),
    ),
    Recipe(
        "optics.depth_of_focus_um", "Depth of focus, total", "µm", 0,
        "4 · λ · N², λ = 550 nm", "Born & Wolf (quarter wave)",
        ("focal_ratio",), optics.depth_of_focus_um, ("depth_of_focus", "z"),
    ),
    Recipe(
        "optics.focus_drift_um_k", "Focus drift of tube and glass", "µm/K", 1,
        "√((α · L · (M² + 1))² + g²)", "CRC Handbook (aluminium 23.1 µm/m/K); first-order optics of two mirrors",
        ("expansion", "tube_length", "glass_drift", "magnification"), optics.focus_drift_um_per_k, ("drift", "q"),
        note="The secondary magnifies tube expansion; glass may act in either direction.",
    ),
    Recipe(
        "optics.focus_drift_um_k", "Focus drift of tube and glass", "µm/K", 1,
        "√((α · L)² + g²)", "CRC Handbook (aluminium 23.1 µm/m/K); glass: common practice",
        ("expansion", "tube_length", "glass_drift"), optics.focus_drift_um_per_k, ("drift", "q"),
        note="Tube and glass may compensate or add.",
    ),
    Recipe(
        "optics.refocus_interval_k", "Temperature drop per refocus", "K", 1,
        "z / 2q", "half the depth of focus",
        ("depth_of_focus", "drift"), optics.refocus_interval_k, ("optics.refocus_interval_k", "ΔT"),
    ),
    given("optics.image_circle_mm", "Image circle", "mm", 1, "corrector_circle", ("image_circle", "c")),
    Recipe(
        "optics.image_circle_mm", "Image circle", "mm", 1,
        "c₀ · m", "the image grows with the focal length; common practice",
        ("native_circle", "factor"), lambda c, m: c * m, ("image_circle", "c"),
    ),
    Recipe(
        "optics.corner_blur_um", CORNER_BLUR, "µm", 0,
        "3h / 16N²", RUTTEN,
        ("coma_height", "focal_ratio"), optics.newtonian_coma_um, ("corner_blur", "b"), ROUGH, optional=True,
    ),
    Recipe(
        "optics.corner_blur_um", CORNER_BLUR, "µm", 0,
        "(h² / 2R) / N, R = r · f", RUTTEN,
        ("curved_height", "focal_length", "focal_ratio", "radius_share"), optics.curvature_blur_um,
        ("corner_blur", "b"), ROUGH, optional=True,
    ),
    Recipe(
        "optics.corner_blur_um", RESIDUAL, "µm", 0,
        "s · (1 + 2 · (2h / c)²) / 3", "specified spot size; growth off-axis is an estimate",
        ("blur_spot", "corner_from_axis", "image_circle"), optics.spot_blur_um, ("corner_blur", "b"), optional=True,
    ),
    Recipe(
        "optics.corner_blur_um", RESIDUAL, "µm", 0,
        "(a + (e − a) · (2h / c)²) · 5 / N", "estimate (order of magnitude), by design",
        ("blur_axis", "blur_edge", "corner_from_axis", "image_circle", "focal_ratio"), optics.residual_blur_um,
        ("corner_blur", "b"), "Order of magnitude: enter the specified spot size where available.", optional=True,
    ),
    Recipe(
        "optics.corner_blur_px", "Corner blur, in pixels", "px", 1,
        "b / p", "definition",
        ("corner_blur", "pixel"), lambda blur, pixel: blur / pixel, ("corner_blur_px", "b′"), ROUGH, optional=True,
    ),
    Recipe(
        "optics.corner_star", "Corner FWHM over centre", "×", 2,
        "√(F′² + b′²) / F′", "quadrature, the usual approximation",
        ("corner_blur_px", "star_px"), optics.corner_star, ("corner_star", "j"), ROUGH, optional=True,
    ),
    Recipe(
        "optics.tilt_blur_px", "Edge blur by sensor tilt", "px", 1,
        "u / 2N / p", "geometry; tilt is an estimate (order of magnitude)",
        ("sag_um", "focal_ratio", "pixel"), lambda u, n, p: optics.tilt_blur_um(u, n) / p, ("tilt_blur_px", ""),
        optional=True,
    ),
    Recipe(
        "optics.spacing_blur_px", "Corner blur at the back focus tolerance", "px", 1,
        "t · (h / d)² / N / p", "estimate (order of magnitude): residual curvature",
        ("spacing_tolerance", "corner_from_axis", "back_focus", "focal_ratio", "pixel"),
        lambda t, h, d, n, p: optics.spacing_blur_um(t, h, d, n) / p, ("spacing_blur_px", ""), optional=True,
    ),
    Recipe(
        "optics.sensor_diagonal_mm", "Sensor diagonal", "mm", 1,
        "√(w² + h²)", GEOMETRY,
        ("sensor_width", "sensor_height"), hypot, ("sensor_diagonal", "diag"),
    ),
    Recipe(
        "optics.circle_coverage", "Share of the sensor inside the image circle", "", 3,
        "area of sensor ∩ circle / area of sensor", GEOMETRY,
        ("sensor_width", "sensor_height", "image_circle"), optics.circle_coverage, ("coverage", "k"),
    ),
    Recipe(
        "optics.corrector_focus_shift_mm", "Corrector moves the focus inward by", "mm", 1,
        "d / m − d", "thin-lens equation",
        ("back_focus", "factor"), optics.corrector_focus_shift_mm, optional=True,
    ),
    Recipe(
        "optics.planetary_ratio", "Focal ratio for planets", "", 1,
        "2 · p / λ, λ = 550 nm", "diffraction cut-off 1/(λN) and Nyquist",
        ("pixel",), optics.planetary_ratio, note="In preferences 3 to 5 times the pixel in µm (common practice).",
    ),
    Recipe(
        "optics.untracked_limit_s", "Fixed tripod: 1 px of trail at the equator", "s", 1,
        "206.265 · p / (f · 15.041 · cos δ), δ = 0", GEOMETRY,
        ("pixel", "focal_length"), optics.untracked_limit_s,
    ),
    Recipe(
        "optics.untracked_habit_s", "Fixed tripod: 500 rule", "s", 1,
        "500 / f", PRACTICE,
        ("focal_length",), optics.untracked_habit_s,
    ),
)
# fmt: on
