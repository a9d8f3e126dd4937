"""Figures of guiding: scale, stars, error, longest sub."""

from math import hypot

from dravel.core.engine.recipe import PRACTICE, Recipe, given
from dravel.core.physics import optics, tracking
from dravel.core.sky import star_counts

# fmt: off
FIGURES: tuple[Recipe, ...] = (
    Recipe(
        "guiding.scale_arcsec_px", "Guide scale", "″/px", 2,
        "206.265 · p₂ / f₂", "geometry, 1 rad = 206 264.806″",
        ("guide_pixel", "guide_focal"), optics.pixel_scale, ("guide_scale", "scale₂"), optional=True,
    ),
    Recipe(
        "guiding.scale_ratio", "Guide scale over image scale", "×", 1,
        "scale₂ / scale", PRACTICE,
        ("guide_scale", "pixel_scale"), lambda g, i: g / i, ("scale_ratio", "x"), optional=True,
    ),
    Recipe(
        "guiding.limiting_mag", "Limiting guide-star magnitude", "mag", 1,
        "m where S / √(S + N²) = 10, S of 0.7 · q₂ · τ₂ · a₂ · t₂ and k₂, N² of B₂, scale₂, F₂ and R₂",
        "CCD equation (Merline & Howell 1995)",
        ("guide_area", "guide_scale", "guide_fwhm", "guide_exposure", "guide_sky", "guide_efficiency", "guide_noise",
         "guide_through", "guide_extinction"),
        star_counts.faintest_usable_mag, ("limiting", "m"), optional=True,
    ),
    Recipe(
        "guiding.stars_expected", "Usable guide stars in the field", "", 1,
        "n = N(m, b) · w₂ · h₂", "star counts: packaged list to mag 10, Allen beyond (unverified)",
        ("limiting", "galactic_latitude", "patch_width", "patch_height"), star_counts.expected_stars,
        ("stars_expected", "n"), counts=True, optional=True,
    ),
    Recipe(
        "guiding.chance_of_none", "Probability of no guide star", "", 2,
        "e^−n", "Poisson",
        ("stars_expected",), star_counts.chance_of_none, optional=True,
    ),
    given(
        "guiding.flexure_arcsec_h", "Differential flexure", "″/h", 1, "flexure", optional=True,
    ),
    Recipe(
        "guiding.rms_arcsec", "Tracking error, RMS per axis", "″", 2,
        "ρ = √Σ τ²", "quadrature of independent terms",
        ("error_terms",), lambda terms: hypot(*terms), ("guide_rms", "ρ"), optional=True,
    ),
    Recipe(
        "guiding.rms_px", "Tracking error, in pixels", "px", 2,
        "ρ / scale", PRACTICE,
        ("guide_rms", "pixel_scale"), lambda rms, scale: rms / scale, optional=True,
    ),
    Recipe(
        "guiding.field_turn_limit_s", "Longest sub before 1 px of field rotation", "s", 0,
        "p / (ω · f · A)", "geometry; rate of the parallactic angle (Meeus, unverified)",
        ("pixel", "focal_length", "corner_angle", "turn_rate"), tracking.field_turn_limit_s, ("turn_limit", "t₄"),
        optional=True,
    ),
    Recipe(
        "guiding.unguided_limit_s", "Longest unguided sub", "s", 0,
        "scale / σ₀", "geometry",
        ("pixel_scale", "sky_rate"), lambda scale, sky: scale / sky, optional=True,
    ),
    Recipe(
        "guiding.unguided_limit_s", "Longest unguided sub", "s", 0,
        "min(scale / (π·PE / T), t₄)", "calculus on a sine error; 1 px of rotation at the corner",
        ("pixel_scale", "periodic", "worm", "turn_limit"),
        lambda scale, pe, t, turn: min(
            tracking.unguided_limit_s(scale, tracking.worst_rate_arcsec_s(pe, t), 0.0), turn
        ),
        optional=True,
    ),
    Recipe(
        "guiding.unguided_limit_s", "Longest unguided sub", "s", 0,
        "scale / (π·PE / T + 15.041 · E), E in radians", "calculus on a sine error; geometry",
        ("pixel_scale", "periodic", "worm", "polar"),
        lambda scale, pe, t, e: tracking.unguided_limit_s(
            scale, tracking.worst_rate_arcsec_s(pe, t), tracking.polar_drift_arcsec_s(e)
        ),
        optional=True,
    ),
    Recipe(
        "guiding.guided_limit_s", "Longest guided sub", "s", 0,
        "min(3600 · scale / φ₂, scale / σ, t₄), at most a day", "1 px of flexure, and of rotation at the corner",
        ("pixel_scale", "flexure", "undriven", "turn_limit"), tracking.turning_limit_s, ("guided_limit", "t₃"),
        optional=True,
    ),
    Recipe(
        "guiding.guided_limit_s", "Longest guided sub", "s", 0,
        "min(3600 · scale / φ₂, scale / σ, 60 · 45 019 · p · cos δ₀ / (f · A · E)), at most a day", "1 px of flexure; Hook 1989",
        ("pixel_scale", "flexure", "pixel", "declination", "focal_length", "corner_angle", "polar", "undriven"),
        tracking.guided_limit_s, ("guided_limit", "t₃"), optional=True,
    ),
    Recipe(
        "guiding.polar_tolerance_arcmin", "Polar error for 1 px of drift", "′", 1,
        "min(45 000 · p · cos δ₀ / (t′ · f · A), scale / (15.041″/s · t₀)), the second in radians",
        "Hook 1989, J. BAA 99 (unverified); geometry: unguided, polar error also causes drift",
        ("pixel", "declination", "sub_min", "focal_length", "corner_angle", "pixel_scale", "free_sub"),
        lambda p, d, minutes, f, corner, scale, sub: min(
            tracking.polar_tolerance_arcmin(p, d, minutes, f, corner), scale / (tracking.polar_drift_arcsec_s(1) * sub)
        ),
        optional=True,
    ),
    Recipe(
        "guiding.polar_tolerance_arcmin", "Polar error for 1 px of field rotation", "′", 1,
        "45 000 · p · cos δ₀ / (t′ · f · A)", "Hook 1989, J. BAA 99 (unverified); derived in the core",
        ("pixel", "declination", "sub_min", "focal_length", "corner_angle"), tracking.polar_tolerance_arcmin,
        optional=True,
    ),
)
# fmt: on
