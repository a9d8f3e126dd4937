"""Figures of the load: mass, moments, balance, standing."""

from dravel.core.engine.recipe import PRACTICE, STATICS, Recipe
from dravel.core.physics.statics import newton_metres
from dravel.core.steps.mount import legs, wind


def centre_mm(masses_kg: tuple[float, ...], places_mm: tuple[float, ...]) -> float:
    """Centre of gravity along one axis, mm: Σ m·x / Σ m; 0 when nothing has a mass. Source: statics."""
    whole = sum(masses_kg)
    return sum(mass * at for mass, at in zip(masses_kg, places_mm, strict=True)) / whole if whole else 0.0


# fmt: off
FIGURES: tuple[Recipe, ...] = (
    Recipe(
        "mount.total_kg", "Payload, without counterweights", "kg", 1,
        "Σ m", "masses of the parts",
        ("masses",), sum, ("carried", "M"), optional=True,
    ),
    Recipe(
        "mount.payload_fraction", "Recommended share of payload", "", 2,
        "M / P", PRACTICE,
        ("carried", "payload"), lambda m, p: m / p, optional=True,
    ),
    Recipe(
        "mount.payload_allowed_kg", "Recommended payload", "kg", 1,
        "P · s · k", "common practice; less for wide and long tubes (default threshold)",
        ("payload", "payload_share", "derating"), lambda p, s, k: p * s * k, optional=True,
    ),
    Recipe(
        "mount.arm_mm", "Payload lever arm from the RA axis", "mm", 0,
        "D = a + Σ m·z / Σ m", STATICS,
        ("saddle_height", "masses", "places_up"), lambda a, m, z: a + centre_mm(m, z), ("arm", "D"), optional=True,
    ),
    Recipe(
        "mount.moment_nm", "Payload moment", "N·m", 1,
        "M · g · D", STATICS,
        ("carried", "arm"), lambda m, d: newton_metres(m * d), optional=True,
    ),
    Recipe(
        "mount.centre_along_mm", "Centre of gravity ahead of the saddle centre", "mm", 0,
        "c = Σ m·x / Σ m", STATICS,
        ("masses", "places_along"), centre_mm, ("along", "c"), optional=True,
    ),
    Recipe(
        "mount.declination_nm", "Moment about the Dec axis", "N·m", 2,
        "M · g · |c|", STATICS,
        ("carried", "along"), lambda m, c: newton_metres(m * abs(c)), optional=True,
    ),
    Recipe(
        "mount.centre_across_mm", "Centre of gravity to the right of the tube", "mm", 0,
        "e = Σ m·y / Σ m", STATICS,
        ("masses", "places_across"), centre_mm, ("across", "e"), optional=True,
    ),
    Recipe(
        "mount.counterweight_kg", "Counterweights", "kg", 1,
        "W = Σ w", "masses of the parts",
        ("weights",), sum, ("hung", "W"), optional=True,
    ),
    Recipe(
        "mount.counterweight_position_mm", "Counterweight balance point, from the axis", "mm", 0,
        "(M·D · (1 − b) − S) / W", STATICS,
        ("carried", "arm", "east", "shaft_moment", "hung"),
        lambda m, d, b, s, w: (m * d * (1 - b) - s) / w, optional=True,
    ),
    Recipe(
        "mount.counterweight_east_mm", "Counterweight position when pointing east", "mm", 0,
        "(M·D · (1 + b) − S) / W", "statics; slightly east-heavy on geared drives, common practice",
        ("carried", "arm", "east", "shaft_moment", "hung"),
        lambda m, d, b, s, w: (m * d * (1 + b) - s) / w, optional=True,
    ),
    Recipe(
        "mount.balance_error_nm", "Residual RA imbalance, counterweight-heavy positive", "N·m", 2,
        "(K + S − M·D · (1 − b)) · g", STATICS,
        ("hung_moment", "shaft_moment", "carried", "arm", "east"),
        lambda k, s, m, d, b: newton_metres(k + s - m * d * (1 - b)), optional=True,
    ),
    Recipe(
        "mount.inertia_kg_m2", "Moment of inertia about RA", "kg·m²", 2,
        "Σ I, each m·r², tubes with m(3r² + l²)/12", "mechanics, textbook solids",
        ("inertias",), sum, ("inertia", "I"), optional=True,
    ),
    Recipe(
        "mount.wind_nm", "Gust moment about RA", "N·m", 2,
        "½ · 1.225 · (G · v)² · 1.2 · A · h", "ASCE 7 in SI form; C_d of a cylinder",
        ("wind", "wind_area", "wind_arm", "gust"), lambda v, a, h, _: wind.gust_nm(v, a, h), ("wind_ra", "M₁"), optional=True,
    ),
    Recipe(
        "mount.wind_declination_nm", "Gust moment about Dec", "N·m", 2,
        "½ · 1.225 · (G · v)² · 1.2 · A · l", "ASCE 7 in SI form; 10% of the length is an estimate",
        ("wind", "wind_area", "wind_along", "gust"), lambda v, a, x, _: wind.gust_nm(v, a, x), ("wind_dec", "M₂"),
        optional=True,
    ),
    Recipe(
        "mount.wind_shake_arcsec", "Wind vibration", "″", 2,
        "√(M₁² + M₂²) · (1 − 1/G²) · y", "stiffness by class of mount, estimate (order of magnitude)",
        ("wind_ra", "wind_dec", "swing", "gust"), lambda ra, dec, y, _: wind.shake_arcsec(ra, dec, y), ("shake", "w"),
        optional=True,
    ),
    Recipe(
        "mount.wind_shake_px", "Wind vibration, in pixels", "px", 2,
        "w / scale", PRACTICE,
        ("shake", "pixel_scale"), lambda w, scale: w / scale, ("shake_px", "w′"), optional=True,
    ),
    Recipe(
        "mount.tipping_margin", "Restoring over overturning moment", "×", 1,
        "R / O, in the worst direction", STATICS,
        ("restoring", "overturning"), lambda r, o: r / o, ("tipping", "τ"), optional=True,
    ),
    Recipe(
        "mount.leg_clearance_mm", "Leg clearance", "mm", 0,
        "d − r − b", "geometry, approximate",
        ("leg_off", "leg_radius", "leg_half"), legs.leg_gap_mm, ("legs", "ℓ"), optional=True,
    ),
    Recipe(
        "mount.heaviest_lift_kg", "Heaviest single lift", "kg", 1,
        "max m", "masses of the parts",
        ("pieces",), max, ("lift", "L"), optional=True,
    ),
    Recipe(
        "mount.racking_mm", "Balance shift by drawtube travel", "mm", 0,
        "M₂ · T / M", STATICS,
        ("behind_drawtube", "drawtube_travel", "carried"), lambda m, t, whole: m * t / whole if whole else 0.0,
        ("racking", "r"), optional=True,
    ),
)
# fmt: on
