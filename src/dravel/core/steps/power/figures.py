"""Figures of power and dew."""

from dravel.core.engine.recipe import Recipe
from dravel.core.physics import dew, energy

# fmt: off
FIGURES: tuple[Recipe, ...] = (
    Recipe(
        "power.mean_w", "Mean draw", "W", 0,
        "p̄ = Σ p, each typical · duty", "draws of the parts; cooling with the square of the difference",
        ("draws",), sum, ("mean_w", "p̄"), optional=True,
    ),
    Recipe(
        "power.energy_needed_wh", "Energy needed", "Wh", 0,
        "p̄ · t", "definition",
        ("mean_w", "hours_on"), lambda p, t: p * t, optional=True,
    ),
    Recipe(
        "power.energy_had_wh", "Usable energy", "Wh", 0,
        "Q · u · k · (1 − z)", "definition; cold is an estimate (order of magnitude)",
        ("energy", "usable_share", "cold", "reserve"), energy.at_hand_wh,
        ("had_wh", "Q′"), optional=True,
    ),
    Recipe(
        "power.hours_left_h", "Run time", "h", 1,
        "Q′ / p̄", "definition",
        ("had_wh", "mean_w"), lambda q, p: q / p, optional=True,
    ),
    Recipe(
        "power.peak_a", "Peak current", "A", 1,
        "Σ p̂ / U", "Ohm's law",
        ("peaks", "volts"), lambda p, u: sum(p) / u, ("peak_a", "I"), optional=True,
    ),
    Recipe(
        "power.drop_v", "Largest voltage drop", "V", 2,
        "ΔU = Σ 2 · L · R · p̂ / U, along the cables to that end", "IEC 60228 conductor resistance at 20 °C; Ohm's law",
        ("way_length", "way_ohm_km", "way_peak", "volts"), energy.way_drop_v, ("drop", "ΔU"), optional=True,
    ),
    Recipe(
        "power.dew_point_c", "Dew point", "°C", 1,
        "Magnus form of θ + 3 K and h", "Alduchov & Eskridge 1996, J. Appl. Meteor. 35, 601",
        ("air", "humidity"), lambda air, share: dew.dew_point_c(air + dew.FALL_K / 2, share), ("dew_point", "θ_d"),
        optional=True,
    ),
    Recipe(
        "power.frost_point_c", "Frost point", "°C", 1,
        "Magnus form over ice, of θ + 3 K and h", "Alduchov & Eskridge 1996, J. Appl. Meteor. 35, 601",
        ("air", "humidity"), lambda air, share: dew.frost_point_c(air + dew.FALL_K / 2, share), ("frost_point", "θ_f"),
        "Below 0 °C frost sets in a little above the dew point.", optional=True,
    ),
    Recipe(
        "power.dew_margin_k", "Coldest optics above the frost point", "K", 1,
        "θ − κ − θ_f", "definition; κ is an estimate (order of magnitude)",
        ("air", "open_sky", "frost_point"), dew.margin_k, optional=True,
    ),
    Recipe(
        "power.dew_margin_k", "Coldest optics above the dew point", "K", 1,
        "θ − κ − θ_d", "definition; κ is an estimate (order of magnitude)",
        ("air", "open_sky", "dew_point"), dew.margin_k, optional=True,
    ),
)
# fmt: on
