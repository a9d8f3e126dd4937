"""Figures of power and dew."""

from dravel.core.figures.row import FigureRule
from dravel.core.power import dew, energy

# fmt: off
POWER: tuple[FigureRule, ...] = (
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
