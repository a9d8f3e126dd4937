"""Bad input is refused by field, reason and accepted range; good input is kept as it is."""

import pytest
from pydantic import ValidationError

from dravel.core.model import CONNECTOR_SIZES, Connector, Filter, PathItem, Rig, Sensor, Target, mates, part_adapter
from dravel.formats.faults import faults
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope


@pytest.mark.parametrize("bad", [0, -3.76, 376, "3.76", None, True, float("nan"), float("inf")])
def test_a_pixel_that_cannot_be_is_refused_with_its_range(bad):
    with pytest.raises(ValidationError) as caught:
        Sensor.model_validate({"width_px": 6000, "height_px": 4000, "pixel_um": bad})
    (fault,) = faults(caught.value)
    assert fault.field == "pixel_um"
    assert "Pixel size" in fault.reason
    assert fault.accepted == "0.5 to 30 µm"


def test_a_kind_that_is_none_is_said_in_words():
    with pytest.raises(ValidationError) as caught:
        part_adapter.validate_python({"kind": "gizmo", "name": "g"})
    (fault,) = faults(caught.value)
    assert (fault.field, fault.reason) == ("kind", "'gizmo' is no kind of part that may stand here")
    assert "'camera'" in fault.accepted
    with pytest.raises(ValidationError) as caught:
        PathItem.model_validate({"part": {"name": "g"}})
    (fault,) = faults(caught.value)
    assert (fault.field, fault.reason) == ("part.kind", "is missing")


def test_a_missing_number_is_said_to_be_missing():
    with pytest.raises(ValidationError) as caught:
        part_adapter.validate_python({"kind": "camera", "name": "c", "sensor": {"width_px": 100, "height_px": 100}})
    (fault,) = faults(caught.value)
    assert (fault.field, fault.reason) == ("sensor.pixel_um", "is missing")


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: a_telescope(obstruction_mm=90), "obstruction_mm"),
        (lambda: a_corrector(factor=1.2), "factor"),
        (lambda: a_corrector(role="extender"), "factor"),
        (lambda: a_corrector(min_focal_length_mm=600, max_focal_length_mm=400), "min_focal_length_mm"),
        (lambda: a_telescope(optical_length_mm=20, optical_length_max_mm=10), "optical_length_max_mm"),
        (lambda: a_telescope(measured={"colour": {"value": 3}}), "measured"),
        (lambda: Target(name="x", ra_deg=1, dec_deg=1, major_arcmin=1, minor_arcmin=2), "minor_arcmin"),
        (lambda: a_rig(a_telescope(), a_telescope()), "path"),
        (lambda: a_rig(a_camera(), a_camera()), "path"),
        (lambda: PathItem(part=a_telescope(), in_use=0), "in_use"),
        (lambda: Rig(name="   "), "name"),
    ],
)
def test_what_contradicts_itself_is_refused_by_field(make, field):
    with pytest.raises(ValidationError) as caught:
        make()
    assert faults(caught.value)[0].field == field


def test_unknown_fields_are_refused():
    with pytest.raises(ValidationError) as caught:
        Rig.model_validate({"name": "x", "colour": "red"})
    assert faults(caught.value)[0].reason == "is not a field known here"


def test_models_are_frozen():
    with pytest.raises(ValidationError):
        a_telescope().name = "other"  # type: ignore[misc]


def test_measured_is_used_and_nominal_kept():
    part = a_telescope(measured={"focal_length_mm": {"value": 458.2, "instrument": "plate solve"}})
    assert part.used("focal_length_mm") == 458.2
    assert part.focal_length_mm == 464
    assert part.used("image_circle_mm") == 42


def test_mating_is_symmetric_and_needs_opposite_genders():
    # Common practice: same thread, one male, one female; no thread mates "almost".
    sizes = list(CONNECTOR_SIZES.values())
    pairs = {
        "thread": ("male", "female"),
        "bayonet": ("lens", "body"),
        "clamp": ("tube", "socket"),
        "flange": ("male", "female"),
    }
    ends = [Connector(family=row.family, size=row.size, gender=g) for row in sizes for g in pairs[row.family]]  # type: ignore[arg-type]
    for end in ends:
        partners = [other for other in ends if mates(end, other)]
        assert len(partners) == 1
        assert partners[0].size == end.size
        assert mates(partners[0], end)
    assert not mates(None, ends[0])


@pytest.mark.parametrize(
    ("typed", "kept"),
    [("M63", "M63x1"), ("m 63 × 1", "M63x1"), ("M42", "M42x0.75"), ("M28,5", "M28.5x0.6"), ("2IN", "2in"),
     ("M63x0.75", "M63x0.75"), ("M56", "M56"), ("2", "2"), ("M6", "M6"), ("98mm", "98 mm")],
)  # fmt: skip
def test_a_size_typed_short_is_completed_from_the_table_and_mates(typed, kept):
    short = Connector(family="thread", size=typed, gender="male")
    assert short.size == kept
    assert mates(short, Connector(family="thread", size=kept, gender="female"))


def test_every_number_of_a_part_names_unit_and_range_in_the_schema():
    schema = part_adapter.json_schema()
    for kind in ("Telescope", "Corrector", "Camera", "Filter"):
        for name, field in schema["$defs"][kind]["properties"].items():
            branches = field.get("anyOf", [field])
            for branch in branches:
                if branch.get("type") in ("number", "integer"):
                    assert {"minimum", "maximum"} <= branch.keys(), (kind, name)
                    assert "unit" in field


def test_a_filter_knows_its_glass():
    made = Filter(name="line", size="M48x0.75", use="h_alpha")
    assert made.refractive_index == pytest.approx(1.517)
