"""What lifts a conflict: for each wish in it, the rig that can be had when that one alone is given up or eased."""

from collections.abc import Iterator

import numpy as np

from dravel.core.design import conflict
from dravel.core.design.answer import Reason
from dravel.core.design.front import Court, Said
from dravel.core.design.reasons import named, new_money, numbers
from dravel.core.design.screen import Mask
from dravel.core.design.wish import Goals, Wish
from dravel.core.model.words import Text, Value, text

TOLD_ELSEWHERE = ("money", "targets")  # the nearest for more money; without a target there is nothing to photograph
LIGHTEST = Goals(money=0.0, fit=0.0, speed=0.0, mass=1.0, ease=0.0)


def lifts(court: Court, wish: Wish, clash: tuple[str, ...]) -> Iterator[Reason]:
    """A reason for each wish of a conflict without which there is a rig: the lightest for what is carried, else the cheapest."""
    masks = court.screen.wishes(wish)
    for name in clash:
        if name in TOLD_ELSEWHERE:
            continue
        others = [mask for other, mask in masks.items() if other != name]
        allowed = np.asarray(np.logical_and.reduce([court.screen.works, *others]), dtype=bool)
        asked = wish.model_copy(update={"trips": None}) if name == "trips" else wish
        goals = LIGHTEST if name in ("carried_kg", "trips") else conflict.CHEAPEST
        found = conflict.nearest(court, allowed, asked, goals)
        if found is not None and name == "carried_kg":
            found = _lightest(court, allowed, asked, found)
        if found is not None:
            row, said = found
            yield Reason(key="lifts", title="Resolved by:", words=_words(court, wish, name, row, said), row=row)


def _lightest(court: Court, allowed: Mask, wish: Wish, found: tuple[int, Said]) -> tuple[int, Said]:
    """The lightest to the gram: goals are counted in steps of two kilograms."""
    while True:
        lighter = conflict.nearest(court, allowed & (court.screen.grams < court.screen.grams[found[0]]), wish, LIGHTEST)
        if lighter is None:
            return found
        found = lighter


def _words(court: Court, wish: Wish, name: str, row: int, said: Said) -> Text:
    """What is had when a wish is eased so far, or given up."""
    had = text("the {rig}, {price}", rig=named(said), price=Value(new_money(court, row), unit=wish.currency, digits=0))
    if name == "carried_kg":
        mass = Value(numbers(court, row, said).mass_kg, unit="kg", digits=1)
        return text("{mass} to carry: {had}.", mass=mass, had=had)
    if name == "trips":
        return text("{trips} trips on foot: {had}.", trips=said.trips, had=had)
    return text("without “{wish}”: {had}.", wish=conflict.worded(name, wish), had=had)
