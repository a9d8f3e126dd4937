"""Which rig for which target, against the Board's own cells; the gap between the fields of rigs."""

from datetime import date

import pytest

from dravel.core.model import Preferences
from dravel.core.overview.board import board
from dravel.core.overview.suits import rigs_for_targets

DAY = date(2026, 12, 9)


@pytest.fixture
def looked(demo):
    rigs = [(rig_id, 1, rig) for rig_id, rig in demo.rigs]
    return board(rigs, demo.targets, Preferences(), demo.sites[0], DAY)


def test_each_target_goes_to_the_best_rig_that_works(looked):
    result = rigs_for_targets(looked)
    dead = {row.rig_id for row in looked.rows if row.dead}
    assert dead == {"magpie"}
    for suit in result.suits:
        k = [target.key for target in looked.targets].index(suit.target_id)
        best = max(row.cells[k].score or 0.0 for row in looked.rows if row.rig_id not in dead)
        assert round(suit.score) == round(best) and suit.hours == looked.hours[k] and suit.rig_id not in dead
        alike = [row for row in looked.rows if row.rig_id not in dead and round(row.cells[k].score or 0) == round(best)]
        own = next(row for row in alike if row.rig_id == suit.rig_id).cells[k].span or 0
        assert all((row.cells[k].span or 0) <= own or (row.cells[k].span or 0) > 1 for row in alike)
    assert [item.score for item in result.suits] == sorted((item.score for item in result.suits), reverse=True)
    assert len(result.suits) + len(result.none) == len(looked.targets)


def test_a_small_galaxy_goes_to_the_long_mirror_and_the_veil_to_the_short_lens(looked):
    """Common practice: 13′ of galaxy want a long focal length, 3° of remnant a short one."""
    rig = {suit.name: suit.rig_id for suit in rigs_for_targets(looked).suits}
    assert rig["NGC 891"] == "bittern" and rig["Veil complex"] in ("wren", "heron")


def test_the_gap_between_two_fields_is_named_with_what_lies_in_it(looked):
    rows = tuple(row for row in looked.rows if row.rig_id in ("bittern", "wren"))
    (gap,) = rigs_for_targets(looked.model_copy(update={"rows": rows})).gaps
    low, high = rows[1].frames_well_arcmin[1], rows[0].frames_well_arcmin[0]
    assert (gap.low_arcmin, gap.high_arcmin) in ((low, high), (low, high)[::1])
    assert "Bittern" in gap.words and "Wren" in gap.words
    assert rigs_for_targets(looked.model_copy(update={"rows": ()})).gaps == ()
    inside = [target.name for target in looked.targets if target.major_arcmin and low < target.major_arcmin < high]
    assert all(name in gap.words for name in inside)


def test_without_a_night_nothing_suits(demo):
    rigs = [(rig_id, 1, rig) for rig_id, rig in demo.rigs]
    result = rigs_for_targets(board(rigs, demo.targets, Preferences()))
    assert result.suits == () and len(result.none) == len(demo.targets)
