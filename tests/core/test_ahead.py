"""The fortnight ahead: the moon decides, and each target has its best night."""

from datetime import date

from dravel.catalogue.demo import RIDGE, scenario
from dravel.core.overview.ahead import ahead
from dravel.core.steps import STEPS

RIGS = dict(scenario().rigs)
FULL = date(2026, 11, 25)


def test_the_moonless_nights_are_the_best_ones():
    result = ahead([("heron", STEPS.context(RIGS["heron"], tonight=FULL))], RIDGE, FULL)
    assert len(result.nights) == 14 and result.nights[0].lit > 0.9 and result.nights[-1].lit < 0.1
    row = next(item for item in result.rows if item.name == "NGC 281")
    assert len(row.cells) == 14 and sum(cell.best for cell in row.cells) >= 1
    best = next(i for i, cell in enumerate(row.cells) if cell.best)
    assert best > 5 and row.cells[0].share < 0.45 and max(cell.share for cell in row.cells) == 1


def test_targets_that_do_not_come_up_say_so():
    north = RIDGE.model_copy(update={"latitude_deg": 69.0, "horizon": ()})
    white = ahead([("heron", STEPS.context(RIGS["heron"]))], north, date(2026, 6, 15))
    assert all(cell.words == "not up in darkness" and not cell.best for row in white.rows for cell in row.cells)
    assert ahead([], RIDGE, FULL).rows == ()
