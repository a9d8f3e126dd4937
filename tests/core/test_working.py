"""The working that is shown gives the number that is shown: each figure is computed again from its own inputs."""

from math import atan, cos, degrees, exp, hypot, log, pi, radians, sqrt

import pytest

from dravel.core.evaluate import evaluate
from dravel.core.figures import TABLE
from dravel.core.model import Measurement
from tests.conftest import a_camera, a_corrector, a_framing, a_rig, a_telescope

ARCSEC = 648_000 / 3.141592653589793
WAVE = 0.55  # µm

G = 9.80665


def magnus(air: float, humidity: float) -> float:
    gamma = log(humidity) + 17.625 * air / (243.04 + air)
    return 243.04 * gamma / (17.625 - gamma)


# The formulas of the page, written again by hand; the letters are the symbols of the shown inputs.
BY_HAND = {
    "optics.focal_length_mm": lambda v: v["f₀"] * v["m"],
    "optics.nominal_focal_length_mm": lambda v: v["f₀"] * v["m"],
    "optics.focal_ratio": lambda v: v["f"] / v["D"],
    "optics.per_pixel_gain": lambda v: v["m"] ** -2,
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
    "optics.guiding_arcsec": lambda v: 2.3548 * v["RMS"],
    "optics.star_fwhm_arcsec": lambda v: sqrt(v["F"] ** 2 + v["g"] ** 2 + v["d"] ** 2 + v["scale"] ** 2),
    "optics.star_fwhm_px": lambda v: v["F*"] / v["scale"],
    "optics.sampling_px": lambda v: v["F"] / v["scale"],
    "optics.depth_of_focus_um": lambda v: 4 * WAVE * v["N"] ** 2,
    "optics.focus_drift_um_k": lambda v: v["α"] * v["L"] / 1000,
    "optics.refocus_interval_k": lambda v: v["z"] / 2 / v["q"],
    "optics.image_circle_mm": lambda v: v["c"],
    "optics.sensor_diagonal_mm": lambda v: hypot(v["w"], v["h"]),
    "optics.corrector_focus_shift_mm": lambda v: v["d"] / v["m"] - v["d"],
    "optics.planetary_ratio": lambda v: 2 * v["p"] / WAVE,
    "optics.untracked_limit_s": lambda v: ARCSEC / 1000 * v["p"] / v["f"] / 15.041067,
    "optics.untracked_habit_s": lambda v: 500 / v["f"],
    "spacing.glass_shift_mm": lambda v: v["g"],
    "spacing.required_mm": lambda v: v["B"] + v["g"],
    "spacing.actual_mm": lambda v: v["A"],
    "spacing.error_mm": lambda v: v["A"] - v["R"],
    "spacing.tolerance_mm": lambda v: v["t"],
    "spacing.stack_worst_mm": lambda v: v["Σt"],
    "spacing.stack_rss_mm": lambda v: v["√Σt²"],
    "spacing.factor": lambda v: 1 - (v["A"] - v["g"]) / v["d"] * (1 - v["m"]),
    "spacing.focuser_position_mm": lambda v: v["p"] - v["c"] - v["s"],
    "spacing.corner_light": lambda v: v["E"],
    "spacing.hanging_kg": lambda v: v["M"],
    "spacing.moment_nm": lambda v: v["Mx"],
    "spacing.sag_um": lambda v: v["φ"] * v["diag"],
    "spacing.guide_error_mm": lambda v: v["a"] - v["r"],
    "spacing.prism_shade": lambda v: v["P"],
    "load.total_kg": lambda v: v["M"],
    "load.payload_fraction": lambda v: v["M"] / v["P"],
    "load.payload_allowed_kg": lambda v: v["P"] * v["s"] * v["k"],
    "load.arm_mm": lambda v: v["D"],
    "load.moment_nm": lambda v: v["M"] * G * v["D"] / 1000,
    "load.declination_offset_mm": lambda v: v["c"],
    "load.declination_nm": lambda v: v["M"] * G * abs(v["c"]) / 1000,
    "load.across_mm": lambda v: v["e"],
    "load.counterweight_kg": lambda v: v["W"],
    "load.counterweight_position_mm": lambda v: (v["M"] * v["D"] * (1 - v["b"]) - v["S"]) / v["W"],
    "load.balance_error_nm": lambda v: (v["K"] + v["S"] - v["M"] * v["D"] * (1 - v["b"])) * G / 1000,
    "load.inertia_kg_m2": lambda v: v["I"],
    "load.wind_nm": lambda v: 0.5 * 1.225 * v["v"] ** 2 * 1.2 * v["A"] * v["D"] / 1000,
    "load.tipping_margin": lambda v: v["τ"],
    "load.leg_clearance_mm": lambda v: v["ℓ"],
    "load.heaviest_lift_kg": lambda v: v["L"],
    "load.racking_mm": lambda v: v["r"],
    "guide.scale_arcsec_px": lambda v: ARCSEC / 1000 * v["p₂"] / v["f₂"],
    "guide.scale_ratio": lambda v: v["scale₂"] / v["scale"],
    "guide.limiting_mag": lambda v: v["m"],
    "guide.stars_expected": lambda v: v["n"],
    "guide.chance_of_none": lambda v: exp(-v["n"]),
    "guide.flexure_arcsec_h": lambda v: v["φ₂"],
    "guide.rms_arcsec": lambda v: v["ρ"],
    "guide.rms_px": lambda v: v["ρ"] / v["scale"],
    "guide.unguided_limit_s": lambda v: v["scale"] / (pi * v["PE"] / v["T"] + 15.041 * radians(v["E"] / 60)),
    "guide.guided_limit_s": lambda v: v["t₂"],
    "guide.polar_tolerance_arcmin": lambda v: 45019 * v["p"] * cos(radians(v["δ₀"])) / (v["t′"] * v["f"] * v["A"]),
    "power.mean_w": lambda v: v["p̄"],
    "power.energy_needed_wh": lambda v: v["p̄"] * v["t"],
    "power.energy_had_wh": lambda v: v["Q"] * v["u"] * v["k"] * (1 - v["z"]),
    "power.hours_left_h": lambda v: v["Q′"] / v["p̄"],
    "power.peak_a": lambda v: v["p̂"] / v["U"],
    "power.drop_v": lambda v: v["ΔU"],
    "power.dew_point_c": lambda v: magnus(v["θ"] + 3, v["h"]),
    "power.dew_margin_k": lambda v: v["θ"] - v["κ"] - v["θ_d"],
}
# Figures that not every sound rig has: no corrector, a mount's own flange, no off-axis guider.
MAY_BE_ABSENT = {
    "optics.corrector_focus_shift_mm",
    "spacing.required_mm",
    "spacing.error_mm",
    "spacing.factor",
    "spacing.focuser_position_mm",
    "spacing.guide_error_mm",
    "spacing.prism_shade",
}


@pytest.mark.parametrize("name", ["wren", "heron", "bittern"])
@pytest.mark.parametrize("key", BY_HAND)
def test_the_working_gives_the_number(rigs, name, key):
    figure = evaluate(rigs[name]).figure(key)
    if figure is None:
        assert key in MAY_BE_ABSENT or key.startswith(("load.", "guide.", "power."))
        return
    shown = {given.symbol: given.value for given in figure.inputs}
    assert BY_HAND[key](shown) == pytest.approx(figure.value, rel=1e-6)


def test_every_row_of_the_table_is_worked_by_hand():
    geometry = {"optics.circle_coverage"}  # checked against numerical integration in the reference tests
    assert {row.key for row in TABLE} <= BY_HAND.keys() | geometry


def test_symbols_of_a_figure_are_distinct_and_stand_in_its_formula(rigs):
    for figure in evaluate(rigs["heron"]).figures:
        symbols = [given.symbol for given in figure.inputs]
        assert len(set(symbols)) == len(symbols), figure.key
        if figure.key.startswith("optics.") and "area" not in figure.formula:
            for symbol in symbols:
                assert symbol in figure.formula or symbol == "δ", (figure.key, symbol)


def test_origins_name_the_part_and_the_reading():
    scope = a_telescope(measured={"aperture_mm": {"value": 85, "instrument": "callipers"}})
    figure = evaluate(a_rig(scope, a_camera())).figure("optics.dawes_arcsec")
    assert figure.inputs[0].origin == "86 mm triplet, measured (callipers)"
    assert figure.value == pytest.approx(115.8 / 85)
    solved = a_rig(scope, a_camera()).model_copy(update={"measured_focal_length_mm": Measurement(value=460)})
    origin = evaluate(solved).figure("optics.focal_length_mm").inputs[0].origin
    assert origin == "measured"


def test_two_correctors_multiply():
    rig = a_rig(a_telescope(), a_corrector(factor=0.8), a_corrector(role="extender", factor=2.0), a_camera())
    assert evaluate(rig).figure("optics.focal_length_mm").value == pytest.approx(464 * 1.6)


@pytest.mark.parametrize(
    ("parts", "key", "because"),
    [
        ([], "optics.focal_length_mm", "the light path has no telescope or lens"),
        ([a_camera()], "optics.pixel_scale_arcsec_px", "the light path has no telescope or lens"),
        ([a_telescope()], "optics.sampling_px", "the light path has no camera"),
        ([a_telescope(), a_camera()], "optics.focus_drift_um_k", "86 mm triplet gives no tube length"),
        ([a_telescope(), a_camera()], "optics.refocus_interval_k", "86 mm triplet gives no tube length"),
    ],
)
def test_why_a_figure_is_missing(parts, key, because):
    result = evaluate(a_rig(*parts))
    assert result.figure(key) is None
    assert next(gap.because for gap in result.missing if gap.key == key) == because


def test_computed_and_missing_make_up_the_table(rigs):
    for rig in (*rigs.values(), a_rig(), a_rig(a_telescope()), a_rig(a_camera())):
        result = evaluate(rig)
        made = {figure.key for figure in result.figures if figure.subject is None} - {
            "optics.corner_blur_um",
            "optics.corner_blur_px",
        }
        gone = {gap.key for gap in result.missing}
        wanted = {row.key for row in TABLE} | {"optics.focal_length_mm"}
        optional = {row.key for row in TABLE if row.optional}
        assert not made & gone
        assert wanted - optional <= made | gone <= wanted


def test_corner_blur_of_a_bare_newtonian_by_hand(rigs):
    # h = 43.27 / 2 mm, N = 712 / 150: 3 · 21.63 / (16 · 4.747²) = 180 µm, 30 pixels of 6 µm.
    result = evaluate(rigs["magpie"])
    assert result.figure("optics.corner_blur_um").value == pytest.approx(180, abs=0.5)
    assert result.figure("optics.corner_blur_px").value == pytest.approx(30, abs=0.1)
    assert evaluate(rigs["heron"]).figure("optics.corner_blur_um") is None


def test_framing_figures_are_about_their_target():
    rig = a_rig(a_telescope(), a_corrector(), a_camera(), framings=(a_framing(60, 30, angle=90),))
    span = evaluate(rig).figure("aim.target_span", "Cloud")
    # One degree along a width of 2.809 degrees, half a degree along a height of 2.107.
    assert span.value == pytest.approx(1 / 2.8087, rel=1e-3)
    assert evaluate(rig).figure("aim.share_inside", "Cloud").value == 1
    assert evaluate(rig).figure("aim.target_span") is None
