"""The Board's rows and cells, and the parts the demo stands on."""

from itertools import pairwise

import pytest

from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import CONNECTOR_SIZES, Preferences, Rig, mates
from dravel.core.overview.board import board
from dravel.core.overview.rule_book import as_text, page, pages
from tests.conftest import a_camera, a_rig, a_telescope


def cells(demo, rig_id: str) -> dict[str, tuple[str, str]]:
    made = board([(name, 1, rig) for name, rig in demo.rigs], demo.targets, Preferences())
    row = next(row for row in made.rows if row.rig_id == rig_id)
    names = {target.id: target.name for target in demo.targets}
    return {names[cell.target_id]: (cell.verdict, cell.words) for cell in row.cells}


def test_cells_of_a_wide_rig(demo):
    wren = cells(demo, "wren")
    assert wren["Veil complex"] == ("ok", "67%")
    assert wren["NGC 891"] == ("ok", "4%")


def test_cells_of_a_long_rig(demo):
    bittern = cells(demo, "bittern")
    assert bittern["NGC 891"] == ("ok", "42%")
    assert bittern["IC 1805"] == ("problem", "20 tiles")
    assert bittern["Veil complex"] == ("problem", "40 tiles")


def test_sizes_framed_well_run_from_the_small_limit_to_the_short_side(demo):
    made = board(
        demo.rigs and [("heron", 1, dict(demo.rigs)["heron"])], demo.targets, Preferences(small_target_share=0.5)
    )
    low, high = made.rows[0].frames_well_arcmin
    assert low == pytest.approx(2.8087 * 60 / 2, rel=1e-3)
    assert high == pytest.approx(2.1067 * 60, rel=1e-3)


def test_a_rig_without_field_has_cells_without_words():
    (row,) = board([("r", 1, a_rig(a_telescope()))], [], Preferences()).rows
    assert row.field is None and row.missing == "no camera in the light path" and row.frames_well_arcmin is None


def test_an_empty_board():
    assert board([], [], Preferences()).rows == ()
    assert board([("r", 3, Rig(name="Empty"))], [], Preferences()).rows[0].revision == 3


def test_starter_parts_have_ids_of_their_own_and_known_ends():
    parts = starter_shelf()
    assert len(parts) >= 60
    assert len({entry.id for entry in parts}) == len(parts)
    for entry in parts:
        for end in (getattr(entry, "sky_side", None), getattr(entry, "sensor_side", None)):
            if end is not None:
                assert CONNECTOR_SIZES[end.size].family == end.family, entry.name
        assert entry.mass_g is not None
        assert entry.maker == ""


def test_a_starter_part_can_be_taken_changed():
    assert part("coma-10", status="owned").status == "owned"
    assert part("coma-10").status == "listed"
    with pytest.raises(KeyError):
        part("none")


@pytest.mark.parametrize("name", ["wren", "heron", "bittern"])
def test_sound_demo_rigs_mate_end_to_end(rigs, name):
    path = [item.part for item in rigs[name].path]
    joints = [(a.sensor_side, b.sky_side) for a, b in pairwise(path)]
    assert all(mates(*joint) for joint in joints)


def test_magpies_nosepiece_is_one_of_its_faults(rigs):
    scope, nose = rigs["magpie"].path[0].part, rigs["magpie"].path[1].part
    assert not mates(scope.sensor_side, nose.sky_side)


def test_the_rule_book_has_a_whole_page_for_every_rule():
    for entry in pages():
        for words in (entry.title, entry.checks, entry.why, entry.formula, entry.source, entry.fix):
            assert len(words) > 4
        text = as_text(entry)
        assert text.startswith(f"## {entry.code} {entry.title}") and entry.source in text
    assert page("O2").schools[0].key == Preferences().sampling
    with pytest.raises(KeyError):
        page("Z9")


def test_sources_that_were_not_in_hand_say_so():
    assert "unverified" in page("O3").source
    assert "common practice" in page("A5").source
    assert "default threshold" in page("O1").source


def test_a_camera_alone_is_no_rig():
    (row,) = board([("r", 1, a_rig(a_camera()))], [], Preferences()).rows
    assert row.missing == "no telescope or lens in the light path"
