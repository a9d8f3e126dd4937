"""Shelves far larger than any: looked through in bounded memory, said so, and ordinary ones left as they are."""

import random

import pytest

from dravel.catalogue.demo import scenario
from dravel.catalogue.starter_shelf import starter_shelf
from dravel.core.design.designer import Designer
from dravel.core.design.narrow import MOST, OTHERS, narrowed
from dravel.core.design.request import RigRequest, purposes_of
from dravel.core.design.shop import Shop
from dravel.core.design.trains import MOST_ROWS, MOST_TRAINS
from dravel.core.model import Counterweight, Part, Preferences
from dravel.core.model.inventory import HAD
from tests.design.hands import DEMO, LISTED, RIDGE

SHELF = scenario().parts
WISH = RigRequest(targets=DEMO[:1], purposes=purposes_of(DEMO[:1]), site=RIDGE, money=2500)


def copies(parts: tuple[Part, ...], times: int, **more: object) -> tuple[Part, ...]:
    """Parts again and again under other names."""
    again = [
        part.model_copy(update={"id": f"{part.id}-{k}", "name": f"{part.name} {k}", **more})
        for k in range(times)
        for part in parts
    ]
    return (*parts, *again)


def varied(count: int) -> tuple[Part, ...]:
    """Parts of which no two are alike, priced at random."""
    rng = random.Random(1)
    made = []
    for k in range(count):
        item = rng.choice(LISTED)
        price = item.price and item.price.model_copy(update={"amount": rng.randint(5, 9000)})
        made.append(
            item.model_copy(update={"id": f"part-{k}", "name": f"part {k}", "mass_g": float(k + 1), "price": price})
        )
    return tuple(made)


@pytest.mark.parametrize("shelf", [SHELF, starter_shelf()], ids=["demo", "starter"])
def test_an_ordinary_shelf_is_looked_through_whole(shelf):
    result, left_out = narrowed(shelf)
    assert left_out == {} and len(result) == len(shelf)


def test_of_twins_the_one_at_hand_is_taken_else_the_cheapest_and_every_weight_hangs():
    base = next(item for item in LISTED if item.price is not None and not isinstance(item, Counterweight))
    dear = base.model_copy(
        update={"id": "dear", "price": base.price.model_copy(update={"amount": base.price.amount + 9})}
    )
    had = base.model_copy(update={"id": "had", "status": "owned"})
    assert [item.id for item in narrowed((dear, base))[0]] == [base.id]
    assert [item.id for item in narrowed((dear, base, had))[0]] == ["had"]
    assert {item.id for item in narrowed((dear, base, had), keep=["dear"])[0]} == {"dear", "had"}
    disc = next(item for item in SHELF if isinstance(item, Counterweight))
    assert len(narrowed(copies((disc,), 3))[0]) == 4


def test_of_very_many_parts_so_many_of_each_kind_are_left_those_at_hand_among_them_and_what_stays():
    shelf = (*SHELF, *varied(4800))
    result, left_out = narrowed(shelf, keep=["part-77"])
    by_kind: dict[str, int] = {}
    for item in result:
        by_kind[item.kind] = by_kind.get(item.kind, 0) + 1
    assert all(count <= MOST.get(kind, OTHERS) + 1 for kind, count in by_kind.items())
    assert {"telescope", "camera", "mount"} <= set(left_out) and "part-77" in {entry.id for entry in result}
    for kind in ("telescope", "mount"):
        had = {entry.id for entry in shelf if entry.kind == kind and entry.status in HAD}
        assert len(had) > MOST[kind] or had <= {entry.id for entry in result}


def test_copies_of_gear_change_no_answer():
    gear = tuple(item for item in LISTED if not isinstance(item, Counterweight))  # more discs are more ways to balance
    few = Designer().search(WISH, LISTED, Preferences())
    many = Designer().search(WISH, (*LISTED, *copies(gear, 2)[len(gear) :]), Preferences())
    ends = [[event for event in item if event.answer is not None][-1].answer for item in (few, many)]
    assert ends[0] is not None and ends[1] is not None
    assert (ends[0].trains, ends[0].combinations) == (ends[1].trains, ends[1].combinations)
    assert len(ends[0].rows) == len(ends[1].rows) > 0


def test_five_thousand_parts_make_no_more_than_a_bounded_table_and_that_is_said():
    shelf = varied(5000)
    answer = next(event.answer for event in Designer().search(WISH, shelf, Preferences()) if event.answer is not None)
    assert answer.trains <= MOST_TRAINS + 20 and answer.combinations <= 1.05 * MOST_ROWS
    assert answer.notes and Shop.of(shelf, "EUR").narrowed
