"""Where nothing is left: a smallest set of requests that cannot be had together, and the nearest rig without the money."""

from itertools import combinations

import numpy as np

from dravel.core.design.front import Evaluator, Outcome, front
from dravel.core.design.request import Goals, RequestTerms
from dravel.core.design.screen import Mask
from dravel.core.model.words import Value, Words, text

MOST_TOGETHER = 4
MOST_JUDGED = 150
CHEAPEST = Goals(money=1.0, fit=0.0, speed=0.0, mass=0.0, ease=0.0)

WORDS = {
    "targets": "a target that can be framed and sampled",
    "no mains": "no mains",
    "steady": "mount within recommended payload",
    "case": "tube fits the case",
    "not wanted: computer": "no computer in the field",
    "not wanted: guiding": "no guiding",
    "not wanted: off_axis": "no off-axis guider",
    "not wanted: collimation": "nothing to collimate",
    "not wanted: mono": "no mono camera",
    "not wanted: colour": "no colour camera",
    "not wanted: counterweights": "no counterweights",
    "not wanted: alt_azimuth": "no alt-azimuth mount",
}


def worded(name: str, request: RequestTerms) -> Words:
    """A request in words."""
    if name == "money":
        return text("budget ≤ {money} {currency}", money=Value(request.money, digits=0), currency=request.currency)
    if name == "carried_kg":
        return text("carried mass ≤ {carried_kg}", carried_kg=Value(request.carried_kg, "kg"))
    if name == "trips":
        return "one trip on foot" if request.trips == 1 else text("≤ {trips} trips on foot", trips=request.trips)
    if name.startswith("stays: "):
        return text("the {x} is fixed", x=name.removeprefix("stays: "))
    return WORDS.get(name, name)


def smallest_conflict(evaluator: Evaluator, request: RequestTerms) -> tuple[str, ...]:
    """The names of as few requests as leave nothing together; empty where all together leave something.

    Found by size: first what the arrays alone show to be empty, then what only judging shows.
    """
    masks = evaluator.screen.requests(request)
    if not evaluator.screen.works.any():
        return ()
    for size in range(1, min(MOST_TOGETHER, len(masks)) + 1):
        sets = list(combinations(masks, size))
        for names in sets:
            if not _together(evaluator, masks, names).any():
                return names
        for names in sets:
            if not _leaves(evaluator, masks, names, request):
                return names
    return tuple(masks) if not _leaves(evaluator, masks, tuple(masks), request) else ()


def _together(evaluator: Evaluator, masks: dict[str, Mask], names: tuple[str, ...]) -> Mask:
    return np.asarray(np.logical_and.reduce([evaluator.screen.works, *(masks[name] for name in names)]), dtype=bool)


def _leaves(evaluator: Evaluator, masks: dict[str, Mask], names: tuple[str, ...], request: RequestTerms) -> bool:
    asked = request if "trips" in names else request.model_copy(update={"trips": None})
    try:
        return next(front(evaluator, _together(evaluator, masks, names), asked, _patient), None) is not None
    except _Unsure:
        return True  # not shown to be empty: a larger set may be


class _Unsure(Exception):
    """So many were judged that it cannot be told soon."""


def _patient(_: int, judged: int) -> None:
    if judged > MOST_JUDGED:
        raise _Unsure


def nearest(
    evaluator: Evaluator, allowed: Mask, request: RequestTerms, goals: Goals = CHEAPEST
) -> tuple[int, Outcome] | None:
    """The rig among those allowed that is had for least, or is best by other goals; None where none works."""
    asked = request.model_copy(update={"goals": goals})
    try:
        return next(front(evaluator, allowed, asked, _patient), None)
    except _Unsure:
        return None
