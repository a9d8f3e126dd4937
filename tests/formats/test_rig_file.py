"""The rig file: lossless, described by its schema, and exact about what is wrong."""

import json
from pathlib import Path

import jsonschema
import pytest

from dravel.formats import rig_file
from dravel.formats.rig_file import RigFileError

EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"


def test_round_trip_of_every_demo_rig(rigs):
    for rig in rigs.values():
        assert rig_file.read(rig_file.write(rig)) == rig


def test_examples_keep_the_published_schema():
    schema = json.loads((EXAMPLES.parent / "rig-file.schema.json").read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    for path in EXAMPLES.glob("*.json"):
        jsonschema.validate(json.loads(path.read_text()), schema)


def good() -> dict:
    return json.loads((EXAMPLES / "heron.json").read_text())


def changed(**top: object) -> str:
    return json.dumps({**good(), **top})


def with_pixel(value: object) -> str:
    body = good()
    body["rig"]["path"][-1]["part"]["sensor"]["pixel_um"] = value
    return json.dumps(body)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "not JSON"),
        ('{"format": "dravel-rig", "version": 1, "rig": {"na', "line 1, column"),
        ("[]", "lacks the mark"),
        ("{}", "lacks the mark"),
        ("null", "lacks the mark"),
        (b"\xff\xfe\x00", "not text in UTF-8"),
        ("[" * 100_000, "nested deeper"),
        (changed(version=2), "version 2; this Dravel reads up to version 1"),
        (changed(version="1"), "version"),
        (changed(rig={}), "rig.name: is missing"),
        (changed(extra=1), "extra: is not a field known here"),
        (with_pixel(376), "rig.path.5.part.sensor.pixel_um: Pixel size cannot be 376 µm; allowed 0.5 to 30 µm"),
        (with_pixel("3.5"), "Pixel size must be a number, not '3.5'"),
        (with_pixel(float("nan")), "NaN is not a number"),
        ('{"format": "dravel-rig", "format": "dravel-rig"}', "given twice"),
        ("x" * 3_000_000, "larger than 2 MB"),
    ],
)  # fmt: skip
def test_a_file_that_cannot_be_read_says_why(text, says):
    with pytest.raises(RigFileError) as caught:
        rig_file.read(text)
    assert says in str(caught.value)


def test_a_file_with_fields_nobody_knows_is_read_without_them_when_asked(rigs):
    document = json.loads(rig_file.write(rigs["heron"]))
    document["made_with"] = "another release"
    document["rig"]["mood"] = 3
    document["rig"]["path"][5]["part"]["sensor"]["shape"] = {"corners": 4}
    document["rig"]["mount"]["shaft"]["colour"] = "red"
    with pytest.raises(rig_file.UnknownFields) as caught:
        rig_file.read(json.dumps(document))
    assert {fault.field for fault in caught.value.faults} == {
        "made_with", "rig.mood", "rig.path.5.part.sensor.shape", "rig.mount.shaft.colour",
    }  # fmt: skip
    assert rig_file.read(json.dumps(document), without_unknown=True) == rigs["heron"]
    # What is wrong otherwise stays wrong.
    document["rig"]["path"][5]["part"]["sensor"]["pixel_um"] = 376
    with pytest.raises(RigFileError, match="Pixel size cannot be 376"):
        rig_file.read(json.dumps(document), without_unknown=True)


def test_hostile_names_stay_text(rigs):
    rig = rigs["wren"].model_copy(update={"name": "<script>alert(1)</script>\u202e; DROP TABLE rigs"})
    assert rig_file.read(rig_file.write(rig)) == rig
