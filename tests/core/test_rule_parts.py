"""The pieces that rules are made of: schools, ranges, kinds of corrector, edits, the path of light."""

import pytest

from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import PathItem, worst
from dravel.core.model.edit import Edit, apply
from dravel.core.moves.parts import out_of_range
from dravel.core.overview.strip import lay_out
from dravel.core.steps import STEPS
from dravel.core.steps.optics.rules.optics import sampling_verdict
from dravel.core.train.light_path import LightPath, length_of, suits
from tests.conftest import a_camera, a_corrector, a_framing, a_rig, a_telescope
from tests.numbers import numbers
from tests.says import says


@pytest.mark.parametrize(
    ("school", "pixels", "scale", "purposes", "verdict", "word"),
    [
        ("two_to_three_pixels", 2.0, 1.2, (), "ok", "2.0"),
        ("two_to_three_pixels", 3.0, 0.8, (), "ok", "3.0"),
        ("two_to_three_pixels", 1.9, 1.3, (), "warning", "undersampled"),
        ("two_to_three_pixels", 3.1, 0.7, (), "warning", "oversampled"),
        ("two_to_three_pixels", 0.5, 5.0, ("wide_field",), "ok", "coarse_accepted"),
        ("two_to_three_pixels", 4.0, 0.5, ("wide_field",), "warning", "oversampled"),
        ("comfort_band", 9.0, 1.0, (), "ok", "1.00"),
        ("comfort_band", 1.0, 2.0, (), "ok", "2.00"),
        ("comfort_band", 1.0, 2.1, (), "warning", "undersampled"),
        ("comfort_band", 2.5, 0.9, (), "warning", "oversampled"),
        ("wide_field_accepts", 0.3, 9.0, (), "ok", "coarse_accepted"),
        ("wide_field_accepts", 2.5, 1.0, (), "ok", "2.5"),
        ("wide_field_accepts", 3.5, 0.7, (), "warning", "oversampled"),
    ],
)
def test_what_the_schools_say(school, pixels, scale, purposes, verdict, word):
    result, words = sampling_verdict(school, pixels, scale, purposes)
    assert result == verdict and (says(words, word) or word in numbers(words))


@pytest.mark.parametrize(
    ("limits", "outside"),
    [
        ({}, ""),
        ({"min_focal_length_mm": 464}, ""),
        ({"min_focal_length_mm": 465.1}, "464 mm, range 465 mm"),
        ({"max_focal_length_mm": 400}, "464 mm, range 400 mm"),
        ({"min_focal_length_mm": 500, "max_focal_length_mm": 600}, "464 mm, range 500 mm to 600 mm"),
        ({"min_focal_ratio": 6}, "f/5.4, range f/6.0"),
        ({"max_focal_ratio": 5}, "f/5.4, range f/5.0"),
    ],
)
def test_ranges_of_a_corrector(limits, outside):
    assert out_of_range(a_corrector(**limits), 464, 86) == outside
    assert out_of_range(a_corrector(**limits), None, 86) == ""


@pytest.mark.parametrize(
    ("role", "factor", "design", "fits"),
    [
        ("flattener", 1.0, "triplet", True),
        ("reducer", 0.8, "doublet", True),
        ("reducer", 0.63, "schmidt_cassegrain", True),
        ("coma_corrector", 1.0, "newtonian", True),
        ("coma_corrector", 1.0, "triplet", False),
        ("flattener", 1.0, "newtonian", False),
        ("extender", 2.0, "triplet", False),
    ],
)
def test_which_corrector_is_made_for_which_design(role, factor, design, fits):
    # Common practice: paraboloids want a coma corrector, curved fields a flattener or reducer.
    assert suits(a_corrector(role=role, factor=factor), a_telescope(design=design)) is fits


def test_image_circle_of_the_path():
    camera = a_camera()
    assert LightPath.of(a_rig(a_telescope(), camera)).image_circle_mm == 42
    reduced = a_rig(a_telescope(), a_corrector(factor=0.8), camera)
    assert LightPath.of(reduced).image_circle_mm == pytest.approx(33.6)
    own = a_rig(a_telescope(), a_corrector(image_circle_mm=40), camera)
    assert LightPath.of(own).image_circle_mm == 40
    assert LightPath.of(a_rig(camera)).image_circle_mm is None


def test_lengths_as_laid():
    ring = part("ring-m48-10")
    assert length_of(PathItem(part=ring)) == 10
    worn = ring.model_copy(
        update={"measured": part("ring-m48-10", measured={"optical_length_mm": {"value": 9.87}}).measured}
    )
    assert length_of(PathItem(part=worn)) == 9.87
    assert length_of(PathItem(part=part("varies-m48"), set_length_mm=16.25)) == 16.25
    with pytest.raises(ValueError, match="set_length_mm: the 10 mm M48 ring has a fixed length"):
        PathItem(part=ring, set_length_mm=11.5)
    with pytest.raises(ValueError, match="allowed 15 to 20 mm"):
        PathItem(part=part("varies-m48"), set_length_mm=14)
    assert length_of(PathItem(part=part("coma-10"))) == 0
    assert length_of(PathItem(part=a_camera())) is None


def test_edits_leave_the_rig_they_were_given():
    rig = a_rig(a_telescope(), a_camera(), framings=(a_framing(),))
    before = rig.model_dump_json()
    changed = apply(
        rig,
        (
            Edit("add", ("path", 1), PathItem(part=a_corrector())),
            Edit("replace", ("framings", 0, "position_angle_deg"), 33.0),
            Edit("remove", ("path", 0)),
        ),
    )
    assert [item.part.kind for item in changed.path] == ["corrector", "camera"]
    assert changed.framings[0].position_angle_deg == 33
    assert rig.model_dump_json() == before


def test_pointers_are_escaped():
    operation = Edit("add", ("measured", "a/b~c"), 1).operation()
    assert operation.path == "/measured/a~1b~0c"


def test_worst_of_verdicts():
    assert worst([]) == "ok"
    assert worst(["ok", "warning"]) == "warning"
    assert worst(["warning", "problem", "ok"]) == "problem"


def test_verdicts_of_one_step_are_those_of_the_whole(rigs):
    for rig in rigs.values():
        results = [finding.verdict for finding in STEPS.evaluate(rig).findings if finding.step == "optics"]
        assert sorted(results) == sorted(said.verdict for _, said in STEPS.said(STEPS.context(rig), "optics"))


def test_worst_findings_come_first(rigs):
    order = {"problem": 0, "warning": 1, "ok": 2}
    for rig in rigs.values():
        ranks = [order[finding.verdict] for finding in STEPS.evaluate(rig).findings]
        assert ranks == sorted(ranks)


def test_fixes_never_offer_what_is_retired_or_laid_already(rigs):
    shelf = [entry.model_copy(update={"status": "retired"}) for entry in starter_shelf()]
    for finding in STEPS.evaluate(rigs["magpie"], shelf=shelf).findings:
        assert not any("Lay the" in fix.label or "Swap in" in fix.label for fix in finding.fixes)


def test_an_owned_part_is_offered_before_a_wished_one(rigs):
    shelf = [
        entry.model_copy(update={"status": "owned"}) if entry.id == "coma-095" else entry for entry in starter_shelf()
    ]
    finding = next(f for f in STEPS.evaluate(rigs["magpie"], shelf=shelf).findings if f.code == "O3")
    assert str(finding.fixes[0].label).startswith("Add the ×0.95 coma corrector, 2-inch")


def test_a_fix_names_what_it_costs(rigs):
    # Binning a well sampled rig cannot be offered; laying an extender on a wide one narrows its field.
    rig = a_rig(
        a_telescope(design="petzval", focal_length_mm=300), a_camera(), framings=(a_framing(150, 100, angle=90),)
    )
    narrow = STEPS.evaluate(rig, shelf=[part("extender-16")])
    sampled = next(f for f in narrow.findings if f.code == "O2")
    (costs,) = [fix.costs for fix in sampled.fixes]
    assert [says(costs[0], "target_larger"), says(costs[1], "connection_unknown"), len(costs)] == [True, True, 2]


def test_the_drawtube_racks_as_far_as_the_train_asks():
    # Native image 120 mm behind the shoulder; a bare 20 mm camera asks for 100 mm of drawtube, of which 70 are there.
    scope = a_telescope(tube_length_mm=400, focuser={"travel_mm": 70, "focal_plane_mm": 120})
    short = lay_out(a_rig(scope, a_camera(flange_to_sensor_mm=20)))
    assert short.drawtube.end_mm == 470
    assert short.focus_mm - short.sensor_mm == pytest.approx(30)
    reached = lay_out(a_rig(scope, a_camera(flange_to_sensor_mm=60)))
    assert reached.drawtube.end_mm == 460
    assert reached.focus_mm == pytest.approx(reached.sensor_mm)


def test_a_reducer_draws_the_drawtube_in():
    # Thin lens: 55 mm behind it at x0.8 the focus lies 13.75 mm further in, and the reducer itself is 42 mm long.
    scope = a_telescope(tube_length_mm=400, focuser={"travel_mm": 100, "focal_plane_mm": 150})
    plain = lay_out(a_rig(scope, a_camera(flange_to_sensor_mm=97)))
    reducer = a_corrector(back_focus_mm=55, optical_length_mm=42)
    reduced = lay_out(a_rig(scope, reducer, a_camera(flange_to_sensor_mm=55)))
    assert plain.drawtube.end_mm - reduced.drawtube.end_mm == pytest.approx(13.75)
    assert reduced.focus_mm == pytest.approx(reduced.sensor_mm)
