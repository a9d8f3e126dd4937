"""Figures of guiding: scale, stars, error, longest sub."""

from dravel.core import optics
from dravel.core.figures.row import PRACTICE, FigureRule
from dravel.core.guide import tracking
from dravel.core.guide.stars import chance_of_none

# fmt: off
GUIDE: tuple[FigureRule, ...] = (
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
)
# fmt: on
