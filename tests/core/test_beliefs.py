"""Beliefs corrected in place: shown where a rig gives cause, with its own numbers, and never twice."""

import pytest

from dravel.catalogue.demo import scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import Measurement, Preferences
from dravel.core.model.edit import Edit, apply
from dravel.core.overview.swap import swap
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope

RIGS = dict(scenario().rigs)
P = Preferences()


def told(rig, preferences=P) -> dict[str, str]:
    return {belief.key: belief.words for belief in STEPS.evaluate(rig, preferences).beliefs}


def test_the_numbers_are_the_rigs_own():
    heron = told(RIGS["heron"])
    assert set(heron) == {"smaller_sensor", "reducer_collects", "exact_factor", "fifty_five"}
    # By hand: 371.2 mm; 36 mm are 5.55° there. ×0.8 is 1/0.64 of the sky; 3.5 µm at 464 mm are 1.56″.
    assert "5.55° × 3.70° on 36 × 24 mm" in heron["smaller_sensor"] and "stays 371 mm" in heron["smaller_sensor"]
    assert "stays 86 mm" in heron["reducer_collects"] and "1.56× as much sky" in heron["reducer_collects"]
    assert "1.95″/px instead of 1.56″/px" in heron["reducer_collects"]
    assert "0.0036" in heron["exact_factor"]  # (1 − 0.8) / 55
    assert "requires 55 mm; filter glass adds 0.7: 55.7 mm" in heron["fifty_five"]


def test_a_solved_frame_says_the_factor():
    solved = RIGS["heron"].model_copy(update={"measured_focal_length_mm": Measurement(value=401)})
    assert "×0.864." in told(solved)["exact_factor"]


def test_beliefs_without_cause_are_not_spoken_of():
    whole = a_camera(sensor={"width_px": 6000, "height_px": 4000, "pixel_um": 6})
    plain = a_rig(a_telescope(), a_corrector(role="flattener", factor=1.0, back_focus_mm=55), whole)
    assert not {"smaller_sensor", "reducer_collects", "exact_factor", "fifty_five"} & set(told(plain))
    assert told(a_rig()) == {}
    assert "within_payload" not in told(RIGS["heron"])  # a compact tube that no wind shakes
    assert "within_payload" in told(RIGS["bittern"]) and "A wide tube" in told(RIGS["bittern"])["within_payload"]


def test_the_same_sensor_size_is_spoken_of_in_a_swap():
    rig = RIGS["heron"]
    at = next(i for i, item in enumerate(rig.path) if item.part.kind == "camera")
    now = rig.path[at].part
    half, wide, high = now.sensor.pixel_um / 2, now.sensor.width_px * 2, now.sensor.height_px * 2
    sensor = now.sensor.model_copy(update={"pixel_um": half, "width_px": wide, "height_px": high})
    finer = now.model_copy(update={"id": "finer", "name": "finer", "sensor": sensor, "mass_g": now.mass_g + 400})
    words = swap(rig, at, finer, P, starter_shelf()).belief.words
    assert "25% of the area" in words and "400 g" in words and "px of corner blur" in words
    assert swap(rig, at, part("planet-58"), P, starter_shelf()).belief is None
    known = Preferences(beliefs_put_away=("same_sensor",))
    assert swap(rig, at, finer, known, starter_shelf()).belief is None


@pytest.mark.parametrize("key", ["smaller_sensor", "fifty_five"])
def test_put_away_for_good(key):
    assert key not in told(RIGS["heron"], Preferences(beliefs_put_away=(key,)))
    assert len(told(RIGS["heron"], Preferences(beliefs_put_away=(key,)))) == 3


def test_a_part_without_lengths_is_no_trouble():
    bare = apply(RIGS["heron"], (Edit("replace", ("path", 1, "part", "back_focus_mm"), None),))
    assert "fifty_five" not in told(bare)
