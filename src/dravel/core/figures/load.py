"""Figures of the load: mass, moments, balance, standing."""

from dravel.core.figures.row import PRACTICE, STATICS, FigureRule
from dravel.core.load import stand
from dravel.core.statics import newton_metres

# fmt: off
LOAD: tuple[FigureRule, ...] = (
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
)
# fmt: on
