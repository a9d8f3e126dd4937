"""Whatever somebody owns is answered in words: shelves with dimensions missing, numbers at their ends, readings, odd sites."""

import random
from contextlib import suppress

import pytest

from dravel.catalogue.demo import RIDGE, TERRACE
from dravel.core.design.designer import BadRequest, Designer
from dravel.core.design.request import RigRequest, purposes_of
from dravel.core.model import Site
from dravel.core.steps import STEPS
from tests.core.test_odd_rigs import _odd
from tests.design.hands import DEMO, PRACTICE, small_shelf

PLACES = (
    RIDGE, TERRACE, None, Site(name="the pole", latitude_deg=90, longitude_deg=0),
    Site(name="the equator in a gale", latitude_deg=0, longitude_deg=0, wind_m_s=60, seeing_arcsec=15, humidity=1),
    Site(name="a cold night", latitude_deg=-67, longitude_deg=10, night_temperature_c=-60, humidity=0, seeing_arcsec=0.2),
)  # fmt: skip


def odd_shelf(seed):
    """A small shelf of which half the parts are odd, as `test_odd_rigs` makes them odd."""
    dice = random.Random(seed)
    results = []
    for part in small_shelf(seed):
        if dice.random() < 0.5:
            with suppress(ValueError):
                part = _odd(part, dice).model_copy(update={"id": part.id, "status": part.status, "price": part.price})
        results.append(part)
    return tuple(results)


@pytest.mark.parametrize("seed", range(24))
def test_any_shelf_is_answered(seed):
    dice = random.Random(seed)
    shelf, designer = odd_shelf(seed), Designer()
    targets = tuple(dice.sample(DEMO, dice.randint(1, 8)))
    terms = {
        "money": dice.choice([None, 0, 700, 10_000_000]), "carried_kg": dice.choice([None, 0.5, 12]),
        "trips": dice.choice([None, 1, 3]), "second_hand": dice.random() < 0.5, "mains": dice.random() < 0.5,
        "steady": dice.random() < 0.5, "not_wanted": tuple(dice.sample(["computer", "guiding", "mono", "counterweights"], 1)),
    }  # fmt: skip
    request = RigRequest(targets=targets, purposes=purposes_of(targets), site=dice.choice(PLACES), **terms)
    try:
        answer = list(designer.search(request, shelf, PRACTICE))[-1].answer
    except BadRequest as error:
        assert ": " in str(error)
        return
    assert answer.rows or answer.reasons
    for row in answer.rows[:2]:
        report = designer.rig(request, shelf, PRACTICE, row)
        assert STEPS.evaluate(report.rig, PRACTICE).verdict != "problem"
        assert designer.why(request, shelf, PRACTICE, row, answer.rows) is not None
        designer.stages(request, shelf, PRACTICE, row, report.scores.money / 2)
        assert designer.improve(request, shelf, PRACTICE, report.rig).before is not None
