"""The working that is shown gives the number that is shown: each figure is computed again from its own inputs."""

from datetime import date
from math import atan, ceil, cos, degrees, exp, hypot, inf, log, log10, pi, prod, radians, sin, sqrt

import numpy as np
import pytest

from dravel.catalogue.starter_shelf import part
from dravel.core.model import Measurement, Preferences, RigPreferences
from dravel.core.sky import star_counts
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_corrector, a_framing, a_rig, a_telescope

ARCSEC = 648_000 / 3.141592653589793
WAVE = 0.55  # µm

G = 9.80665


def magnus(air: float, humidity: float) -> float:
    gamma = log(humidity) + 17.625 * air / (243.04 + air)
    return 243.04 * gamma / (17.625 - gamma)


def centre(masses, places):
    moment = sum(m * x for m, x in zip(masses, places, strict=True))
    return moment / sum(masses) if sum(masses) else 0


def tolerance_by_hand(ratio, pixel, diagonal):
    if ratio <= 4.5 or (pixel <= 3.8 and diagonal >= 26):
        return 0.2
    return 1.0 if ratio >= 7 and pixel >= 4.5 else 0.5


def seen_through(height, openings, radii, shifts, hole, across=900):
    """Share of the pupil that every opening lets through, by counting points of it."""
    steps = (np.arange(across) + 0.5) * 2 / across - 1
    x, y = np.meshgrid(steps, steps)
    pupil = (x**2 + y**2 <= 1) & (x**2 + y**2 >= hole**2)
    free = pupil.copy()
    for wide, radius, shift in zip(openings, radii, shifts, strict=True):
        if radius > 0:
            free &= (x * radius + shift * height) ** 2 + (y * radius) ** 2 <= (wide / 2) ** 2
    return free.sum() / pupil.sum()


def shaded(v, across=900):
    """Share of the beam that lies behind the prism, by counting points of it."""
    steps = ((np.arange(across) + 0.5) * 2 / across - 1) * v["ρ"]
    x, y = np.meshgrid(steps, steps)
    beam = x**2 + y**2 <= v["ρ"] ** 2
    turn = radians(v["θ"])
    towards = (v["x"] * sin(turn) + v["y"] * cos(turn)) * v["k"] + y
    sideways = (v["x"] * cos(turn) - v["y"] * sin(turn)) * v["k"] + x
    behind = (towards >= v["a"]) & (towards <= v["a"] + v["h"]) & (abs(sideways) <= v["w"] / 2)
    return (beam & behind).sum() / beam.sum()


def counted(magnitude, latitude):
    table = [np.interp(latitude, star_counts.LATITUDES, row) for row in star_counts.LOG_COUNTS]
    return np.interp(magnitude, star_counts.MAGNITUDES, table)


def faintest(v):
    """The CCD equation solved by bisection for a signal to noise of ten."""
    below = 1e8 * 350 * 0.7 * v["q₂"] * v["τ₂"] * v["a₂"] / 1e6 * v["t₂"]
    at_zero = below * 10 ** (-0.4 * v["k₂"])
    sky = below * 10 ** (-0.4 * v["B₂"]) * v["scale₂"] ** 2
    noise = max(4, pi * (v["F₂"] / v["scale₂"]) ** 2) * (sky + v["R₂"] ** 2)
    low, high = -5.0, 25.0
    for _ in range(60):
        middle = (low + high) / 2
        signal = at_zero * 10 ** (-0.4 * middle)
        low, high = (middle, high) if signal / sqrt(signal + noise) > 10 else (low, middle)
    return low


def frost(air, humidity):
    """Where the vapour over ice equals that of the air, by bisection; both curves after Alduchov & Eskridge 1996."""
    wanted = humidity * 6.1094 * exp(17.625 * air / (243.04 + air))
    low, high = -80.0, 0.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if 6.1121 * exp(22.587 * middle / (273.86 + middle)) < wanted else (low, middle)
    return low


def focal_by_hand(v):
    if "γ" in v:
        return v["f₀"] + v["γ"] * (v["b"] - v["b₀"])
    return v["f₀"] * (v["m′"] if "m′" in v else v["m"])


def rate_by_hand(v):
    return pi * v["PE"] / v["T"] + 15.041 * radians(v.get("E", 0) / 60)


def worth_a_second(v):
    """The CCD equation a second at a time: each dye's pixels with their own light."""
    dyes = zip(v["S"], v["B"], v["m"], strict=True)
    return v["e"] * sum(m * s * s / (s + b + v["R"] ** 2 / v["t"]) for s, b, m in dyes)


def worth_planning(v):
    """The first round length over both bounds, or the last one within the longest."""
    lengths = [1, 2, 5, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 300, 420, 600, 900, 1200, 1800, 2700, 3600]
    wanted = max(v["t₅"], v["t₇"] / v["x"])
    over = [length for length in lengths if length >= wanted * 0.999]
    half_minutes = ceil(wanted / 30) * 30
    if over and over[0] > v["t₆"] >= half_minutes:
        return half_minutes
    return (
        over[0]
        if over and over[0] <= v["t₆"]
        else max((length for length in lengths if length <= v["t₆"]), default=v["t₆"])
    )


# The formulas of the page, written again by hand; the letters are the symbols of the shown inputs.
BY_HAND = {
    "optics.focal_length_mm": lambda v: focal_by_hand(v),
    "optics.nominal_focal_length_mm": lambda v: v["f₀"] * v["m"],
    "optics.focal_ratio": lambda v: v["f"] / v["D"],
    "optics.per_pixel_gain": lambda v: (
        (v["f₀"] / v["f′"] if "f₀" in v else 1 / (v["m′"] if "m′" in v else v["m"])) ** 2
    ),
    "optics.pixel_scale_arcsec_px": lambda v: ARCSEC / 1000 * v["p"] / v["f"],
    "optics.field_width_deg": lambda v: 2 * degrees(atan(v["w"] / 2 / v["f"])),
    "optics.field_height_deg": lambda v: 2 * degrees(atan(v["h"] / 2 / v["f"])),
    "optics.field_diagonal_deg": lambda v: 2 * degrees(atan(v["diag"] / 2 / v["f"])),
    "optics.rayleigh_arcsec": lambda v: 1.22 * WAVE / 1000 / v["D"] * ARCSEC,
    "optics.dawes_arcsec": lambda v: 115.8 / v["D"],
    "optics.airy_um": lambda v: 2.44 * WAVE * v["N"],
    "optics.diffraction_arcsec": lambda v: 1.029 * WAVE / 1000 / v["D"] * ARCSEC,
    "optics.seeing_arcsec": lambda v: v["s"] * v["X"] ** 0.6,
    "optics.seeing_limited_arcsec": lambda v: hypot(v["sₓ"], v["δ"]),
    "optics.guiding_arcsec": lambda v: 2.3548 * (v["ρ"] if "ρ" in v else v["RMS"]),
    "optics.star_fwhm_arcsec": lambda v: sqrt(v["F"] ** 2 + v["g"] ** 2 + v["d"] ** 2 + v["scale"] ** 2),
    "optics.star_fwhm_px": lambda v: v["F*"] / v["scale"],
    "optics.sampling_px": lambda v: v["F"] / v["scale"],
    "optics.depth_of_focus_um": lambda v: 4 * WAVE * v["N"] ** 2,
    "optics.focus_drift_um_k": lambda v: hypot(v["α"] * v["L"] / 1000 * (v.get("M", 0) ** 2 + 1), v["g"]),
    "optics.corner_star": lambda v: hypot(v["F′"], v["b′"]) / v["F′"],
    "optics.tilt_blur_px": lambda v: v["u"] / 2 / v["N"] / v["p"],
    "optics.spacing_blur_px": lambda v: v["t"] * 1000 * (v["h"] / v["d"]) ** 2 / v["N"] / v["p"],
    "optics.refocus_interval_k": lambda v: v["z"] / 2 / v["q"],
    "optics.image_circle_mm": lambda v: v["c₀"] * v["m"],
    "optics.sensor_diagonal_mm": lambda v: hypot(v["w"], v["h"]),
    "optics.corrector_focus_shift_mm": lambda v: v["d"] / v["m"] - v["d"],
    "optics.planetary_ratio": lambda v: 2 * v["p"] / WAVE,
    "optics.untracked_limit_s": lambda v: ARCSEC / 1000 * v["p"] / v["f"] / 15.041067,
    "optics.untracked_habit_s": lambda v: 500 / v["f"],
    "spacing.glass_shift_mm": lambda v: sum(t * (1 - 1 / n) for t, n in zip(v["t"], v["n"], strict=True)),
    "spacing.required_mm": lambda v: v["B"] + v["g"],
    "spacing.actual_mm": lambda v: sum(v["l"]),
    "spacing.error_mm": lambda v: v["A"] - v["R"],
    "spacing.tolerance_mm": lambda v: tolerance_by_hand(v["N₀"], v["p"], v["diag"]),
    "spacing.stack_worst_mm": lambda v: sum(v["t"]),
    "spacing.stack_rss_mm": lambda v: sqrt(sum(t * t for t in v["t"])),
    "spacing.factor": lambda v: prod(1 - d / b * (1 - m) for m, d, b in zip(v["m"], v["d"], v["b"], strict=True)),
    "spacing.mirror_turns": lambda v: (v["b"] - v["b₀"]) / v["k"],
    "spacing.focuser_position_mm": lambda v: v["p"] - v["c"] - v["s"],
    "spacing.corner_light": lambda v: seen_through(v["h"], v["Ø"], v["ρ"], v["k"], v["o"]),
    "spacing.hanging_kg": lambda v: sum(v["m"]),
    "spacing.moment_nm": lambda v: sum(m * max(x, 0) for m, x in zip(v["m"], v["x"], strict=True)) * G / 1000,
    "spacing.sag_um": lambda v: v["φ"] * v["diag"],
    "spacing.guide_error_mm": lambda v: v["a"] - v["r"],
    "spacing.prism_shade": lambda v: shaded(v),
    "mount.total_kg": lambda v: sum(v["m"]),
    "mount.payload_fraction": lambda v: v["M"] / v["P"],
    "mount.payload_allowed_kg": lambda v: v["P"] * v["s"] * v["k"],
    "mount.arm_mm": lambda v: v["a"] + centre(v["m"], v["z"]),
    "mount.moment_nm": lambda v: v["M"] * G * v["D"] / 1000,
    "mount.centre_along_mm": lambda v: centre(v["m"], v["x"]),
    "mount.declination_nm": lambda v: v["M"] * G * abs(v["c"]) / 1000,
    "mount.centre_across_mm": lambda v: centre(v["m"], v["y"]),
    "mount.counterweight_kg": lambda v: sum(v["w"]),
    "mount.counterweight_position_mm": lambda v: (v["M"] * v["D"] * (1 - v["b"]) - v["S"]) / v["W"],
    "mount.balance_error_nm": lambda v: (v["K"] + v["S"] - v["M"] * v["D"] * (1 - v["b"])) * G / 1000,
    "mount.inertia_kg_m2": lambda v: sum(v["I"]),
    "mount.counterweight_east_mm": lambda v: (v["M"] * v["D"] * (1 + v["b"]) - v["S"]) / v["W"],
    "mount.wind_nm": lambda v: 0.5 * 1.225 * (v["G"] * v["v"]) ** 2 * 1.2 * v["A"] * v["h"] / 1000,
    "mount.wind_declination_nm": lambda v: 0.5 * 1.225 * (v["G"] * v["v"]) ** 2 * 1.2 * v["A"] * v["l"] / 1000,
    "mount.wind_shake_arcsec": lambda v: sqrt(v["M₁"] ** 2 + v["M₂"] ** 2) * (1 - 1 / v["G"] ** 2) * v["y"],
    "mount.wind_shake_px": lambda v: v["w"] / v["scale"],
    "mount.tipping_margin": lambda v: v["R"] / v["O"],
    "mount.leg_clearance_mm": lambda v: v["d"] - v["r"] - v["b"],
    "mount.heaviest_lift_kg": lambda v: max(v["m"]),
    "mount.racking_mm": lambda v: v["M₂"] * v["T"] / v["M"] if v["M"] else 0,
    "guiding.scale_arcsec_px": lambda v: ARCSEC / 1000 * v["p₂"] / v["f₂"],
    "guiding.scale_ratio": lambda v: v["scale₂"] / v["scale"],
    "guiding.limiting_mag": lambda v: faintest(v),
    "guiding.stars_expected": lambda v: 10 ** counted(v["m"], v["b"]) * v["w₂"] * v["h₂"],
    "guiding.chance_of_none": lambda v: exp(-v["n"]),
    "guiding.rms_arcsec": lambda v: sqrt(sum(t * t for t in v["τ"])),
    "guiding.rms_px": lambda v: v["ρ"] / v["scale"],
    "guiding.field_turn_limit_s": lambda v: v["p"] / (radians(v["ω"] / 3600) * v["f"] * 1000 * radians(v["A"])),
    "guiding.unguided_limit_s": lambda v: min(v["scale"] / (v.get("σ₀") or rate_by_hand(v)), v.get("t₄", 86400)),
    "guiding.guided_limit_s": lambda v: min(
        3600 * v["scale"] / v["φ₂"],
        v["t₄"] if "t₄" in v else 60 * 45019 * v["p"] * cos(radians(v["δ₀"])) / (v["f"] * v["A"] * v["E"]),
        v["scale"] / v["σ"] if v["σ"] else 86400,
        86400,
    ),
    "guiding.polar_tolerance_arcmin": lambda v: min(
        45019 * v["p"] * cos(radians(v["δ₀"])) / (v["t′"] * v["f"] * v["A"]),
        60 * degrees(v["scale"] / (15.041067 * v["t₀"])) if "t₀" in v else inf,
    ),
    "power.mean_w": lambda v: sum(v["p"]),
    "power.energy_needed_wh": lambda v: v["p̄"] * v["t"],
    "power.energy_had_wh": lambda v: v["Q"] * v["u"] * v["k"] * (1 - v["z"]),
    "power.hours_left_h": lambda v: v["Q′"] / v["p̄"],
    "power.peak_a": lambda v: sum(v["p̂"]) / v["U"],
    "power.drop_v": lambda v: sum(
        2 * length / 1000 * ohm * watts / v["U"] for length, ohm, watts in zip(v["L"], v["R"], v["p̂"], strict=True)
    ),
    "exposure.sky_e_s": lambda v: (
        1e8
        * (10 ** (-0.4 * v["μ"]) * v["w"] + 10 ** (-0.4 * v.get("μ_m", 99)) * v.get("w_m", 0))
        * v["a"]
        * v["q"]
        * v["scale"] ** 2
    ),
    "exposure.target_e_s": lambda v: (
        (sum(v["I"]) * v["ρ_R"] if "I" in v else 1e8 * 10 ** (-0.4 * v["μ_t"]) * v["w_t"])
        * v["a"]
        * v["q"]
        * v["η"]
        * v["scale"] ** 2
    ),
    "exposure.dark_e_s": lambda v: v["b"] ** 2 * v["D"] * (2 ** ((v["θ_s"] - v["θ_D"]) / 6) if "θ_D" in v else 1),
    "exposure.shortest_sub_s": lambda v: v["R"] ** 2 / (((1 + v["x"]) ** 2 - 1) * (v["E"] + v["E_d"])),
    "exposure.longest_sub_s": lambda v: min(v["t"]),
    "exposure.recommended_sub_s": lambda v: min(v["t_h"], v["t₆"]) if "t_h" in v else worth_planning(v),
    "exposure.saturating_mag": lambda v: (
        2.5 * log10(1e8 * v["a"] * v["w_s"] * v["q"] * v["η"] * v["π̂"] * v["t"] / (v["W"] - v["B̂"] * v["t"]))
    ),
    "exposure.snr_hour": lambda v: sqrt(3600 * worth_a_second(v)),
    "exposure.snr_hour_pixel": lambda v: v["E_t"] * sqrt(3600 / (v["E_t"] + v["E"] + v["E_d"] + v["R"] ** 2 / v["t"])),
    "night.free_h": lambda v: max(v["h"]),
    "night.flip_idle_min": lambda v: max(0.0, v["t"] / 60 + v["m₂"] - v["m₁"]),
    "exposure.moon_cost": lambda v: 1 + v["c"] * (10 ** (0.4 * v["ΔV"]) - 1),
    "exposure.hours_to_goal": lambda v: max(v["t_k"], v["n"] ** 2 / 3600 / worth_a_second(v)),
    "exposure.refocus_every_h": lambda v: min(v["ΔT"] / v["θ̇"], v["t_r"]),
    "exposure.open_share": lambda v: v["t"] / (v["t"] + v["t₇"] + v["t₈"]) * (1 - v["r"]),
    "exposure.plan_h": lambda v: sum(n * t for n, t in zip(v["n"], v["t"], strict=True)) / 3600,
    "exposure.storage_gb": lambda v: sum(v["n"]) * v["M"] / 1000,
    "assembly.minutes": lambda v: sum(v["t"]),
    "power.dew_point_c": lambda v: magnus(v["θ"] + 3, v["h"]),
    "power.frost_point_c": lambda v: frost(v["θ"] + 3, v["h"]),
    "power.dew_margin_k": lambda v: v["θ"] - v["κ"] - (v["θ_f"] if "θ_f" in v else v["θ_d"]),
}

# Counted point by point rather than by a formula.
ROUGHLY = {"spacing.corner_light": 4e-3, "spacing.prism_shade": 0.03, "guiding.limiting_mag": 1e-5}


def shown(figure):
    """The inputs of a working by symbol; the terms of a sum, written with an index, as a list."""
    values: dict[str, object] = {}
    for given in figure.inputs:
        stem = given.symbol.rstrip("₀₁₂₃₄₅₆₇₈₉")
        if stem in LISTS.get(figure.key, ()):
            values.setdefault(stem, []).append(given.value)
        else:
            values[given.symbol] = given.value
    return values


LISTS = {
    "night.free_h": "h",
    "spacing.glass_shift_mm": "tn", "spacing.actual_mm": "l", "spacing.stack_worst_mm": "t", "spacing.stack_rss_mm": "t",
    "spacing.corner_light": "Øρk", "spacing.hanging_kg": "m", "spacing.moment_nm": "mx", "mount.total_kg": "m",
    "mount.arm_mm": "mz", "mount.centre_along_mm": "mx", "mount.centre_across_mm": "my", "mount.counterweight_kg": "w",
    "mount.inertia_kg_m2": "I", "mount.heaviest_lift_kg": "m", "guiding.rms_arcsec": "τ", "power.mean_w": "p",
    "power.peak_a": ("p̂",), "power.drop_v": ("L", "R", "p̂"), "spacing.factor": "mdb",
    "exposure.target_e_s": "I", "exposure.longest_sub_s": "t", "exposure.snr_hour": "SBm", "exposure.hours_to_goal": "SBm",
    "exposure.plan_h": "nt", "assembly.minutes": "t", "exposure.storage_gb": "n",
}  # fmt: skip


@pytest.fixture(scope="module")
def told(demo):
    """Every figure of the demo rigs, and of variants that have what those lack."""
    heron, bittern = dict(demo.rigs)["heron"], dict(demo.rigs)["bittern"]
    more = (
        a_rig(a_telescope(), a_camera()),
        heron.model_copy(update={"preferences": RigPreferences(spacing_tolerance="round_stars")}),
        bittern.model_copy(update={"guide": bittern.guide.model_copy(update={"method": "none"})}),
        heron.model_copy(update={"measured_focal_length_mm": Measurement(value=380)}),
        heron.model_copy(update={"mount": heron.mount.model_copy(update={"driven_axes": 0})}),
        heron.model_copy(update={"mount": heron.mount.model_copy(update={"driven_axes": 1})}),
        heron.model_copy(update={"mount": heron.mount.model_copy(update={"style": "alt_azimuth"})}),
        a_rig(part("schmidt-203"), a_camera(flange_to_sensor_mm=100)),
    )
    rigs = (*dict(demo.rigs).values(), *more)
    moonlit = STEPS.evaluate(heron, Preferences(sub_length="fixed_habit"), tonight=date(2026, 11, 25))
    return [figure for rig in rigs for figure in STEPS.evaluate(rig).figures] + list(moonlit.figures)


@pytest.mark.parametrize("key", BY_HAND)
def test_the_working_gives_the_number(told, key):
    """Each figure again from its own shown inputs, by the formula of the page, on every rig that has it."""
    results = [figure for figure in told if figure.key == key and figure.formula and shown(figure)]
    assert results, f"no rig of this test has {key}"
    for figure in results:
        values = shown(figure)
        if figure.key == "spacing.glass_shift_mm" and "n" not in values:
            assert figure.value == 0  # no plates
            continue
        rough = ROUGHLY.get(key, 1e-6)
        assert BY_HAND[key](values) == pytest.approx(figure.value, rel=rough, abs=rough * 1e-3), figure


def test_no_figure_hands_its_input_through():
    """A recipe either works something out of its inputs or shows a given value as given, without a formula."""
    for recipes in STEPS.recipes.values():
        for recipe in recipes:
            assert bool(recipe.compute) == bool(recipe.formula), recipe.key
            if recipe.compute and len(recipe.inputs) == 1 and recipe.key not in LISTS:
                assert recipe.compute(7.25) != 7.25, recipe.key


def test_what_is_given_says_by_whom(told):
    given = {figure.key: figure for figure in told if not figure.formula and figure.subject is None}
    also = {"guiding.flexure_arcsec_h", "optics.image_circle_mm", "spacing.tolerance_mm"}
    assert given.keys() - {"optics.focal_length_mm"} == also
    assert all(figure.source and not figure.inputs for figure in given.values())


def test_every_recipe_is_worked_by_hand():
    geometry = {"optics.circle_coverage"}  # checked against numerical integration in the reference tests
    blur = {"optics.corner_blur_um", "optics.corner_blur_px"}  # by hand below
    worked = {recipe.key for recipes in STEPS.recipes.values() for recipe in recipes if recipe.compute}
    assert worked - geometry - blur == BY_HAND.keys()


def test_symbols_of_a_figure_are_distinct_and_stand_in_its_formula(rigs):
    for figure in STEPS.evaluate(rigs["heron"]).figures:
        symbols = [given.symbol for given in figure.inputs]
        assert len(set(symbols)) == len(symbols), figure.key
        if figure.key.startswith("optics.") and "area" not in figure.formula:
            for symbol in symbols:
                assert symbol in figure.formula or symbol == "δ", (figure.key, symbol)


def test_origins_name_the_part_and_the_reading():
    scope = a_telescope(measured={"aperture_mm": {"value": 85, "instrument": "callipers"}})
    figure = STEPS.evaluate(a_rig(scope, a_camera())).figure("optics.dawes_arcsec")
    assert figure.inputs[0].origin == "86 mm triplet, measured (callipers)"
    assert figure.value == pytest.approx(115.8 / 85)
    solved = a_rig(scope, a_camera()).model_copy(update={"measured_focal_length_mm": Measurement(value=460)})
    figure = STEPS.evaluate(solved).figure("optics.focal_length_mm")
    assert (figure.value, figure.formula, figure.source) == (460, "", "measured")


def test_two_correctors_multiply():
    rig = a_rig(a_telescope(), a_corrector(factor=0.8), a_corrector(role="extender", factor=2.0), a_camera())
    assert STEPS.evaluate(rig).figure("optics.focal_length_mm").value == pytest.approx(464 * 1.6)


@pytest.mark.parametrize(
    ("parts", "key", "because"),
    [
        ([], "optics.focal_length_mm", "no telescope or lens in the light path"),
        ([a_camera()], "optics.pixel_scale_arcsec_px", "no telescope or lens in the light path"),
        ([a_telescope()], "optics.sampling_px", "no camera in the light path"),
        ([a_telescope(), a_camera()], "optics.focus_drift_um_k", "86 mm triplet: tube length not specified"),
        ([a_telescope(), a_camera()], "optics.refocus_interval_k", "86 mm triplet: tube length not specified"),
    ],
)
def test_why_a_figure_is_missing(parts, key, because):
    result = STEPS.evaluate(a_rig(*parts))
    assert result.figure(key) is None
    assert next(gap.because for gap in result.missing if gap.key == key) == because


def test_computed_and_missing_make_up_the_table(rigs):
    for rig in (*rigs.values(), a_rig(), a_rig(a_telescope()), a_rig(a_camera())):
        result = STEPS.evaluate(rig)
        made = {figure.key for figure in result.figures if figure.subject is None}
        gone = {gap.key for gap in result.missing}
        wanted = {recipes[-1].key for recipes in STEPS.recipes.values()}
        optional = {recipes[-1].key for recipes in STEPS.recipes.values() if recipes[-1].optional}
        assert not made & gone
        assert wanted - optional <= made | gone <= wanted


def test_corner_blur_of_a_bare_newtonian_by_hand(rigs):
    # h = 43.27 / 2 mm, N = 712 / 150: 3 · 21.63 / (16 · 4.747²) = 180 µm, 30 pixels of 6 µm.
    result = STEPS.evaluate(rigs["magpie"])
    assert result.figure("optics.corner_blur_um").value == pytest.approx(180, abs=0.5)
    assert result.figure("optics.corner_blur_px").value == pytest.approx(30, abs=0.1)


@pytest.mark.parametrize(
    ("spot", "expected"), [(None, (3 + 6 * (22.75 / 42) ** 2) * 5 / 4.316), (9, 3 + 6 * (22.75 / 42) ** 2)]
)
def test_corner_blur_that_a_corrected_design_leaves_by_hand(rigs, spot, expected):
    # Heron: a triplet at f/4.316, 3 µm on the axis and 9 at the edge of 42 mm at f/5; or its maker's 9 µm at the edge.
    heron = rigs["heron"]
    at = next(i for i, item in enumerate(heron.path) if item.part.kind == "corrector")
    given = heron.path[at].part.model_copy(update={"spot_um": spot})
    path = tuple(item.model_copy(update={"part": given}) if i == at else item for i, item in enumerate(heron.path))
    figure = STEPS.evaluate(heron.model_copy(update={"path": path})).figure("optics.corner_blur_um")
    assert figure.value == pytest.approx(expected, rel=1e-3)


def test_framing_figures_are_about_their_target():
    rig = a_rig(a_telescope(), a_corrector(), a_camera(), framings=(a_framing(60, 30, angle=90),))
    span = STEPS.evaluate(rig).figure("aim.target_span", "Cloud")
    # One degree along a width of 2.809 degrees, half a degree along a height of 2.107.
    assert span.value == pytest.approx(1 / 2.8087, rel=1e-3)
    assert STEPS.evaluate(rig).figure("aim.share_inside", "Cloud").value == 1
    assert STEPS.evaluate(rig).figure("aim.target_span") is None
