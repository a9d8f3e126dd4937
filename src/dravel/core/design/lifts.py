"""What lifts a conflict: for each request in it, the rig that can be had when that one alone is given up or eased."""

from collections.abc import Iterator

import numpy as np

from dravel.core.design import conflict
from dravel.core.design.answer import Reason
from dravel.core.design.front import Evaluator, Outcome
from dravel.core.design.reasons import named, new_money, numbers
from dravel.core.design.request import Goals, RigRequest
from dravel.core.design.screen import Mask
from dravel.core.model.words import Text, Value, text

TOLD_ELSEWHERE = ("money", "targets")  # the nearest for more money; without a target there is nothing to photograph
LIGHTEST = Goals(money=0.0, fit=0.0, speed=0.0, mass=1.0, ease=0.0)


def lifts(evaluator: Evaluator, request: RigRequest, clash: tuple[str, ...]) -> Iterator[Reason]:
    """A reason for each request of a conflict without which there is a rig: the lightest for what is carried, else the cheapest."""
    masks = evaluator.screen.requests(request)
    for name in clash:
        if name in TOLD_ELSEWHERE:
            continue
        others = [mask for other, mask in masks.items() if other != name]
        allowed = np.asarray(np.logical_and.reduce([evaluator.screen.works, *others]), dtype=bool)
        asked = request.model_copy(update={"trips": None}) if name == "trips" else request
        goals = LIGHTEST if name in ("carried_kg", "trips") else conflict.CHEAPEST
        result = conflict.nearest(evaluator, allowed, asked, goals)
        if result is not None and name == "carried_kg":
            result = _lightest(evaluator, allowed, asked, result)
        if result is not None:
            row, said = result
            yield Reason(key="lifts", title="Resolved by:", words=_words(evaluator, request, name, row, said), row=row)


def _lightest(
    evaluator: Evaluator, allowed: Mask, request: RigRequest, found: tuple[int, Outcome]
) -> tuple[int, Outcome]:
    """The lightest to the gram: goals are counted in steps of two kilograms."""
    while True:
        lighter = conflict.nearest(
            evaluator, allowed & (evaluator.screen.grams < evaluator.screen.grams[found[0]]), request, LIGHTEST
        )
        if lighter is None:
            return found
        found = lighter


def _words(evaluator: Evaluator, request: RigRequest, name: str, row: int, said: Outcome) -> Text:
    """What is had when a request is eased so far, or given up."""
    had = text(
        "the {rig}, {price}", rig=named(said), price=Value(new_money(evaluator, row), unit=request.currency, digits=0)
    )
    if name == "carried_kg":
        mass = Value(numbers(evaluator, row, said).mass_kg, unit="kg", digits=1)
        return text("{mass} to carry: {had}.", mass=mass, had=had)
    if name == "trips":
        return text("{trips} trips on foot: {had}.", trips=said.trips, had=had)
    return text("without “{request}”: {had}.", request=conflict.worded(name, request), had=had)
