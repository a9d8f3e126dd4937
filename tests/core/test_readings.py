"""Ranges hold for measured values too; what was kept before they did still opens; the command line answers in words."""

import json

import pytest
from pydantic import ValidationError
from typer.testing import CliRunner

from dravel.catalogue.demo import scenario
from dravel.catalogue.starter_shelf import part
from dravel.cli import app
from dravel.core.model import Camera, Rig, Telescope
from dravel.core.model.base import KEPT
from dravel.core.steps import STEPS
from dravel.core.steps.mount.rules.balance import right_ascension
from dravel.formats import rig_file
from dravel.store import Store
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope

HERON = dict(scenario().rigs)["heron"]


@pytest.mark.parametrize(
    ("make", "field", "value", "words"),
    [
        (a_telescope, "focal_length_mm", 0, "Focal length, measured, cannot be 0; allowed 4 to 30000 mm"),
        (a_telescope, "aperture_mm", 0, "Aperture, measured, cannot be 0"),
        (a_telescope, "image_circle_mm", 0, "Image circle, measured, cannot be 0"),
        (a_telescope, "tube_length_mm", 0, "Tube length, measured, cannot be 0"),
        (a_corrector, "back_focus_mm", 0, "Back focus, measured, cannot be 0"),
        (a_corrector, "factor", 0, "Factor, measured, cannot be 0; allowed 0.2 to 6 ×"),
        (a_camera, "flange_to_sensor_mm", 100_000, "Flange to sensor, measured, cannot be 100000"),
    ],
)
def test_a_reading_outside_its_range_is_refused_by_name(make, field, value, words):
    with pytest.raises(ValidationError, match=words.replace("(", r"\(")) as refused:
        make(measured={field: {"value": value}})
    assert f"measured.{field}" in str(refused.value)


def test_a_measured_aperture_below_the_obstruction_is_refused():
    with pytest.raises(ValidationError, match=r"measured\.aperture_mm: the obstruction must be smaller"):
        a_telescope(aperture_mm=200, obstruction_mm=70, measured={"aperture_mm": {"value": 60}})
    with pytest.raises(ValidationError, match=r"measured\.obstruction_mm: the obstruction must be smaller"):
        a_telescope(aperture_mm=200, obstruction_mm=70, measured={"obstruction_mm": {"value": 210}})


def test_a_solved_focal_length_and_a_group_reading_have_ranges_too():
    with pytest.raises(ValidationError, match="measured_focal_length_mm: Focal length, measured, cannot be 0"):
        a_rig(a_telescope(), measured_focal_length_mm={"value": 0})
    with pytest.raises(ValidationError, match=r"measured_spans\.0\.total: Length, measured, cannot be 0"):
        a_rig(a_telescope(), measured_spans=[{"parts": ["a", "b"], "total": {"value": 0}}])


ZEROS = {
    "aperture_mm": {"value": 0},
    "focal_length_mm": {"value": 0},
    "tube_length_mm": {"value": 0},
    "obstruction_mm": {"value": 90},
}


def kept_before() -> str:
    """A rig as it was kept when readings were not checked."""
    body = json.loads(HERON.model_dump_json())
    body["path"][0]["part"]["measured"] = ZEROS
    body["path"][1]["part"]["measured"] = {"factor": {"value": 0}, "back_focus_mm": {"value": 0}}
    body["measured_focal_length_mm"] = {"value": 0}
    return json.dumps(body)


def test_what_was_kept_before_opens_and_its_readings_are_kept_but_not_used():
    rig = Rig.model_validate_json(kept_before(), context=KEPT)
    scope = rig.path[0].part
    assert isinstance(scope, Telescope) and scope.measured["aperture_mm"].value == 0
    assert scope.used("aperture_mm") == 86 and 0 <= scope.blocked_share < 1
    result = STEPS.evaluate(rig, None, ())
    assert result.figure("optics.focal_length_mm").value == pytest.approx(371.17, abs=0.01)
    with pytest.raises(ValidationError):
        Rig.model_validate_json(kept_before())


def test_a_store_with_such_a_rig_opens_it(tmp_path):
    store = Store(tmp_path / "kept.sqlite")
    try:
        made = store.rigs.create(HERON)
        with store.database.write() as session:
            from dravel.store.tables import RevisionRow

            row = session.query(RevisionRow).one()
            row.body = kept_before()
        assert store.rigs.get(made.id).rig.path[0].part.measured["aperture_mm"].value == 0
    finally:
        store.close()


def test_unreadable_always_exits_three(tmp_path):
    file = tmp_path / "zero.json"
    body = {"format": "dravel-rig", "version": 1, "rig": json.loads(kept_before())}
    for text, words in (
        (json.dumps(body), "measured.aperture_mm"),
        ("{", "not JSON"),
        ("[]", "not a rig file"),
        ("", "not JSON"),
    ):
        file.write_text(text)
        answer = CliRunner().invoke(app, ["check", str(file)])
        assert answer.exit_code == 3 and words in answer.output and "Traceback" not in answer.output
    assert CliRunner().invoke(app, ["check", str(tmp_path / "none.json")]).exit_code == 3


def test_weights_that_hang_on_a_mount_without_a_shaft_are_answered(tmp_path):
    bare = part("equatorial-13").model_copy(update={"shaft": None})
    rig = HERON.model_copy(update={"mount": bare})
    result = STEPS.evaluate(rig, None, (part("weight-7-20"), part("shaft-150")))
    assert {f.code: f.verdict for f in result.findings}["L3"] == "problem"
    assert list(right_ascension.judgements(STEPS.context(rig)))
    file = tmp_path / "bare.json"
    file.write_text(rig_file.write(rig))
    answer = CliRunner().invoke(app, ["check", str(file)])
    assert answer.exit_code == 2 and "L3" in answer.output


def test_a_filters_own_readings_are_used():
    heron = HERON.model_dump()
    drawer = next(item for item in heron["path"] if item["filters"])
    drawer["filters"][0]["measured"] = {"thickness_mm": {"value": 3.0}}
    thick, plain = STEPS.context(Rig.model_validate(heron)), STEPS.context(HERON)
    assert thick.value("glass_shift") == pytest.approx(plain.value("glass_shift") * 1.5)


def test_a_camera_reading_in_range_counts():
    camera = a_camera(flange_to_sensor_mm=17.5, measured={"flange_to_sensor_mm": {"value": 17.7}})
    assert isinstance(camera, Camera) and camera.used("flange_to_sensor_mm") == 17.7
