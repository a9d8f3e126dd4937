"""Axes without a motor, mounts that cannot find, and where a polar error turns the field most."""

from math import atan2, cos, radians, sin, sqrt, tan

import pytest

from dravel.catalogue.demo import scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import Preferences, Rig
from dravel.core.physics import tracking
from dravel.core.steps import STEPS
from dravel.core.steps.guiding.facts import Guiding
from tests.conftest import a_framing

RIGS = dict(scenario().rigs)
HERON = RIGS["heron"]


def on(mount: object, sub_s: float, **more: object) -> Rig:
    body = HERON.model_dump() | {"mount": mount.model_dump(), "counterweights": [], **more}
    return Rig.model_validate(body | {"guide": HERON.guide.model_copy(update={"sub_s": sub_s}).model_dump()})


def said(rig: Rig, preferences: Preferences) -> dict[str, object]:
    return {f.code: f for f in STEPS.evaluate(rig, preferences).findings}


# Without what its maker measured, so that the budget speaks of its terms alone.
TRACKER = part("tracker-5").model_copy(update={"payload_kg": 20.0, "guided_rms_arcsec": None})


def test_declination_without_a_motor_stays_in_the_budget():
    # Geometry: 10' off the pole drift by 15.041 x 10/60 in radians, 0.04375"/s; over 600 s evenly that is 7.6" RMS.
    context = STEPS.context(on(TRACKER, 600), Preferences(polar_error_arcmin=10))
    terms = {name: value for name, value, _ in context.of(Guiding).terms(context.of(Guiding).setup[0])}
    assert (
        terms["declination drift"] == pytest.approx(0.04375 * 600 / sqrt(12), abs=0.01) == pytest.approx(7.58, abs=0.01)
    )
    assert context.value("guide_rms") > 7.5


def test_longest_sub_budget_and_drift_agree_on_a_tracker():
    preferences = Preferences(polar_error_arcmin=10)
    context = STEPS.context(on(TRACKER, 60), preferences)
    # One pixel of 1.945" at 0.04375"/s takes 44 s (2.14" would take 49).
    assert context.value("guided_limit") == pytest.approx(context.value("pixel_scale") / 0.04375, abs=0.1)
    for sub, wanted in (
        (40, {"G4": "ok", "G5": "ok", "G8": "ok"}),
        (600, {"G4": "problem", "G5": "problem", "G8": "problem"}),
    ):
        answer = said(on(TRACKER, sub), preferences)
        assert {code: answer[code].verdict for code in wanted} == wanted


def test_a_mount_that_drives_no_axis_is_a_tripod():
    still = part("equatorial-13").model_copy(update={"driven_axes": 0})
    answer = said(on(still, 180), Preferences())
    # 15.041" a second times the cosine of the lowest target's declination, the Veil's 31 degrees.
    context = STEPS.context(on(still, 180), Preferences())
    assert context.value("guiding.unguided_limit_s") == pytest.approx(1.945 / (15.041 * cos(radians(30.95))), rel=1e-3)
    assert answer["G4"].verdict == answer["G5"].verdict == answer["G8"].verdict == "problem"
    assert answer["G8"].measure == "1,193.8 px"  # 15.041″/s × cos 31° over 180 s, at 1.945″/px


def test_watching_without_a_way_in_corrects_nothing():
    deaf = part("equatorial-13").model_copy(update={"guide_input": "none"})
    answer = said(on(deaf, 180), Preferences())
    assert answer["G6"].verdict == "problem" and answer["G4"].verdict == "problem" and answer["G5"].measure == "180 s"


@pytest.mark.parametrize(("dec", "worse"), [(0, 1.0), (60, 0.5), (80, cos(radians(80))), (90, cos(radians(88)))])
def test_a_polar_error_turns_the_field_most_near_the_pole(dec, worse):
    at_equator = STEPS.context(on(part("equatorial-13"), 180, framings=[]), Preferences())
    there = on(
        part("equatorial-13"), 180, framings=[a_framing(dec=0).model_dump(), a_framing(dec=dec, ra=41).model_dump()]
    )
    tolerance = STEPS.context(there, Preferences()).value("guiding.polar_tolerance_arcmin")
    assert tolerance == pytest.approx(worse * at_equator.value("guiding.polar_tolerance_arcmin"), rel=1e-6)


def test_a_mount_that_cannot_find_says_so_and_offers_the_hop_card():
    wren = said(RIGS["wren"], Preferences())["G9"]
    assert wren.verdict == "ok" and wren.measure == "5.0°"
    narrow = on(part("tracker-5"), 60, binning=1, measured_focal_length_mm={"value": 1600})
    findings = STEPS.evaluate(narrow, Preferences(), starter_shelf()).findings
    match = next(f for f in findings if f.code == "G9")
    assert match.verdict == "warning" and match.fixes
    assert said(HERON, Preferences())["G9"].measure == "itself"


def test_under_an_alt_azimuth_mount_the_field_turns_by_itself():
    # Geometry: 15.041"/s x cos 40.9 / cos 60 = 22.7"/s; Heron's corner lies 11.4 mm off: 1.25 um/s, 2.8 s to 3.5 um.
    turning = part("equatorial-13").model_copy(update={"style": "alt_azimuth", "needs_counterweight": False})
    context = STEPS.context(on(turning, 180), Preferences())
    assert context.value("turn_rate") == pytest.approx(22.74, abs=0.01)
    assert context.value("turn_limit") == pytest.approx(2.79, abs=0.02)
    answer = said(on(turning, 180), Preferences())
    assert answer["G7"].measure == "180 s" and answer["G7"].verdict == answer["G5"].verdict == "problem"
    assert said(on(turning, 2), Preferences())["G7"].verdict == "ok"
    assert "polar_tolerance" not in " ".join(f.key for f in STEPS.evaluate(on(turning, 180), Preferences()).figures)
    unguided = on(part("altaz-6"), 60)
    assert STEPS.context(unguided, Preferences()).value("guiding.unguided_limit_s") == pytest.approx(2.79, abs=0.02)


def test_the_turn_of_a_field_against_its_parallactic_angle():
    # Independent: the parallactic angle of a star due south, a minute apart, at the altitude that is taken.
    phi, alt = radians(40.9), radians(60.0)
    dec = phi - (radians(90) - alt)

    def parallactic(hour: float) -> float:
        return atan2(sin(hour), tan(phi) * cos(dec) - sin(dec) * cos(hour))

    step = radians(15.041067 / 3600 * 60)
    rate = abs(parallactic(step / 2) - parallactic(-step / 2)) / 60
    assert rate == pytest.approx(radians(tracking.field_turn_arcsec_s(40.9, 60) / 3600), rel=1e-3)
