"""The light strip is true to scale."""

from itertools import pairwise

import pytest

from dravel.core.model import PathItem
from dravel.core.overview.strip import lay_out
from dravel.core.steps import STEPS
from dravel.core.steps.glass.view import glass_view
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
    view = glass_view(STEPS.context(rigs["heron"], shelf=demo.parts))
    in_use = [option for option in view.options if option.in_use]
    assert [option.label for option in in_use] == ["×0.8 reducer, M63"]
    labels = [option.label for option in view.options]
    assert "no corrector" in labels and "×1.0 flattener, M63" in labels
    assert not any("coma" in label for label in labels)
    bare = next(option for option in view.options if option.part_id is None)
    assert bare.focal_length_mm == pytest.approx(464) and bare.verdict == "breaks"
    assert view.star.flux[5][5] == 1
    assert glass_view(STEPS.context(a_rig(a_telescope()))).star is None
