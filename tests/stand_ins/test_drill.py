"""The fault trainer: what each hidden fault shows under each measurement, so that a drill can be solved by what is asked for."""

import numpy as np
import pytest

from dravel.catalogue.demo import scenario
from dravel.core.frames.causes import causes
from dravel.core.frames.guide_log import read_log
from dravel.core.steps import STEPS
from dravel.core.steps.frames.facts import expected
from dravel.stand_ins.drill import ASKS, FAMILIES, FAULTS, TELLS, Drill, drill, evidence, log_of
from dravel.stand_ins.taking import NoCamera, picture_rig
from tests.core.test_odd_rigs import odd_rig

CONTEXT = STEPS.context(dict(scenario().rigs)["bittern"])
RIG, FWHM = picture_rig(CONTEXT), CONTEXT.known.get("star_px")


def shown(fault, ask, seed=4):
    return evidence(Drill(seed, (fault,)), RIG, FWHM, ask)


def signs(reading):
    return [cause.key for cause in causes(reading.field, expected(CONTEXT, reading))] if reading.field else []


def test_a_seed_is_its_drill_and_all_faults_come_up():
    assert drill(5) == drill(5) and drill(5, 2).hidden[0] in FAULTS
    results = {drill(seed).hidden[0] for seed in range(200)}
    assert results == set(FAULTS) == set(TELLS)
    assert "spacing" not in {drill(seed, corrected=False).hidden[0] for seed in range(200)}
    for seed in range(60):  # two of different families: guiding and wind would look alike
        item, other = drill(seed, 2).hidden
        assert not any({item, other} <= set(family) for family in FAMILIES)


def test_the_same_seed_shows_the_same_frame():
    item, other = (evidence(drill(11), RIG, FWHM, "frame") for _ in range(2))
    assert item == other


@pytest.mark.parametrize(("fault", "sign"), [
    ("spacing", "spacing"), ("camera_tilt", "tilt"), ("sag", "tilt"), ("guiding", "guiding"), ("wind", "guiding"),
    ("polar", "turning"), ("focus", "soft"), ("dew", "soft"),
])  # fmt: skip
def test_every_fault_is_seen_on_the_first_frame(fault, sign):
    assert signs(shown(fault, "frame"))[0] == sign


@pytest.mark.parametrize(("fault", "ask", "gone"), [
    ("guiding", "short", True), ("polar", "short", True), ("spacing", "short", False), ("camera_tilt", "short", False),
    ("focus", "refocus", True), ("dew", "refocus", False), ("wind", "elsewhere", True), ("guiding", "elsewhere", False),
])  # fmt: skip
def test_a_further_measurement_tells_like_faults_apart(fault, ask, gone):
    first, then = signs(shown(fault, "frame"))[0], signs(shown(fault, ask))
    assert (first not in then) == gone


def test_a_turned_camera_tells_tilt_from_sag():
    for fault, turns in (("camera_tilt", 0), ("sag", 180)):
        before, after = (shown(fault, ask).field.slope_deg for ask in ("frame", "turned"))
        assert abs((after - before - turns + 180) % 360 - 180) < 12


def test_a_ring_changes_the_corners_and_dew_takes_stars():
    before, after = (shown("spacing", ask).field.bowl for ask in ("frame", "ring"))
    assert abs(after - before) > 0.3
    assert shown("dew", "frame").found < 0.6 * shown("focus", "refocus").found


def test_the_log_shows_what_can_be_in_a_log():
    plain, guiding, wind, polar, dew = (
        read_log(log_of(Drill(4, hidden), 0.6))
        for hidden in (("focus",), ("guiding",), ("wind",), ("polar",), ("dew",))
    )
    assert plain.ra_rms < 0.6 and not plain.gusts and not plain.gaps and not plain.periods
    assert guiding.ra_rms > 0.9 and guiding.periods and wind.gusts > 5 and dew.gaps == 3
    assert abs(polar.dec_drift_arcsec_min - 0.45) < 0.05


def test_any_rig_with_a_picture_can_be_drilled():
    for name, rig in scenario().rigs:
        context = STEPS.context(rig)
        reading = evidence(drill(3), picture_rig(context), context.known.get("star_px") or 2.5, "frame")
        assert reading.field is not None, name
        assert np.isfinite(reading.fwhm_px)
    assert set(ASKS) >= {"frame", "log"}


def test_odd_rigs_are_drilled_or_refused_in_words():
    drilled = 0
    for seed in range(30):
        context = STEPS.context(odd_rig(seed))
        try:
            pictured = picture_rig(context)
        except NoCamera as error:
            assert str(error)
            continue
        evidence(drill(seed, 2), pictured, context.known.get("star_px") or 2.5, "frame")
        drilled += 1
    assert drilled > 5
