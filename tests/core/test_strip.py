"""The light strip is true to scale."""

from itertools import pairwise

import pytest

from dravel.core.model import MeasuredSpan, Measurement, PathItem
from dravel.core.model.edit import Edit, apply
from dravel.core.overview.strip import lay_out
from dravel.core.steps import STEPS
from dravel.core.steps.optics.view import optics_view
from dravel.core.steps.spacing.view import spacing_view
from dravel.core.train.light_path import length_of
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope


def test_blocks_are_as_long_as_their_parts(rigs):
    for rig in rigs.values():
        strip = lay_out(rig)
        by_index = {block.index: block for block in strip.blocks}
        for index, item in enumerate(rig.path):
            block = by_index[index]
            length = length_of(item)
            if item.part.kind not in ("camera", "telescope", "corrector") and length is not None:
                assert block.end_mm - block.start_mm == pytest.approx(length)
        ordered = [by_index[index] for index in range(len(rig.path))]
        assert all(a.start_mm <= b.start_mm for a, b in pairwise(ordered))


def test_strip_and_rule_count_the_same_lengths(rigs):
    """A reading, and a total over a group, move both; 20.7 for a drawer of 21."""
    heron = rigs["heron"]
    at = next(i for i, item in enumerate(heron.path) if item.part.id == "drawer-21")
    drawer = Edit("replace", ("path", at, "part", "measured"), {"optical_length_mm": Measurement(value=20.7)})
    span = MeasuredSpan(parts=("ring-m48-16-5", "ring-m48-0-7", "drawer-21"), total=Measurement(value=38.9))
    read = apply(heron, (drawer, Edit("replace", ("measured_spans",), (span,))))
    for rig in (*rigs.values(), read):
        rule = {block.index: block.length_mm for block in spacing_view(STEPS.context(rig)).blocks}
        strip = lay_out(rig)
        assert {b.index: b.length_mm for b in strip.blocks if b.index in rule} == rule
        if rig is read:
            assert sum(rule[i] for i in range(at - 2, at + 1)) == pytest.approx(38.9)
            drawn = {block.index: block for block in strip.blocks}
            assert drawn[at].end_mm - drawn[at - 2].start_mm == pytest.approx(38.9)


def test_light_meets_the_sensor_where_the_focuser_reaches(rigs):
    for name in ("wren", "heron", "bittern"):
        strip = lay_out(rigs[name])
        assert strip.focus_mm == pytest.approx(strip.sensor_mm, abs=0.01), name
    magpie = lay_out(rigs["magpie"])
    assert magpie.sensor_mm - magpie.focus_mm == pytest.approx(6.0)
    assert "unfolded" in magpie.note


def test_front_ring_counts_once():
    # Common practice: a 6.5 mm camera with its 11 mm ring is 17.5.
    camera = a_camera(flange_to_sensor_mm=6.5, front_ring={"length_mm": 11})
    assert length_of(PathItem(part=camera)) == 17.5
    off = a_camera(flange_to_sensor_mm=6.5, front_ring={"length_mm": 11, "fitted": False})
    assert length_of(PathItem(part=off)) == 6.5


def test_an_assumed_dimension_is_marked():
    strip = lay_out(a_rig(a_telescope(), a_corrector(), a_camera()))
    assert strip.blocks[0].assumed == ("length", "diameter")
    assert "length" in strip.blocks[1].assumed


def test_empty_path():
    strip = lay_out(a_rig())
    assert strip.blocks == () and strip.beam == ()


def test_glass_compares_every_suitable_corrector(rigs, demo):
    view = optics_view(STEPS.context(rigs["heron"], shelf=demo.parts))
    in_use = [option for option in view.options if option.in_use]
    assert [option.label for option in in_use] == ["×0.8 reducer, M63"]
    labels = [option.label for option in view.options]
    assert "no corrector" in labels and "×1.0 flattener, M63" in labels
    assert not any("coma" in label for label in labels)
    bare = next(option for option in view.options if option.part_id is None)
    assert bare.focal_length_mm == pytest.approx(464) and bare.verdict == "problem"
    assert view.star.flux[5][5] == 1
    assert optics_view(STEPS.context(a_rig(a_telescope()))).star is None
