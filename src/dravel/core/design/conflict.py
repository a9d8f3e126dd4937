"""Where nothing is left: a smallest set of wishes that cannot be had together, and the nearest rig without the money."""

from itertools import combinations

import numpy as np

from dravel.core.design.front import Court, Said, front
from dravel.core.design.screen import Mask
from dravel.core.design.wish import Goals, WishTerms
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


def worded(name: str, wish: WishTerms) -> Words:
    """A wish in words."""
    if name == "money":
        return text("budget ≤ {money} {currency}", money=Value(wish.money, digits=0), currency=wish.currency)
    if name == "carried_kg":
        return text("carried mass ≤ {carried_kg}", carried_kg=Value(wish.carried_kg, "kg"))
    if name == "trips":
        return "one trip on foot" if wish.trips == 1 else text("≤ {trips} trips on foot", trips=wish.trips)
    if name.startswith("stays: "):
        return text("the {x} is fixed", x=name.removeprefix("stays: "))
    return WORDS.get(name, name)


def smallest_conflict(court: Court, wish: WishTerms) -> tuple[str, ...]:
    """The names of as few wishes as leave nothing together; empty where all together leave something.

    Found by size: first what the arrays alone show to be empty, then what only judging shows.
    """
    masks = court.screen.wishes(wish)
    if not court.screen.works.any():
        return ()
    for size in range(1, min(MOST_TOGETHER, len(masks)) + 1):
        sets = list(combinations(masks, size))
        for names in sets:
            if not _together(court, masks, names).any():
                return names
        for names in sets:
            if not _leaves(court, masks, names, wish):
                return names
    return tuple(masks) if not _leaves(court, masks, tuple(masks), wish) else ()


def _together(court: Court, masks: dict[str, Mask], names: tuple[str, ...]) -> Mask:
    return np.asarray(np.logical_and.reduce([court.screen.works, *(masks[name] for name in names)]), dtype=bool)


def _leaves(court: Court, masks: dict[str, Mask], names: tuple[str, ...], wish: WishTerms) -> bool:
    asked = wish if "trips" in names else wish.model_copy(update={"trips": None})
    try:
        return next(front(court, _together(court, masks, names), asked, _patient), None) is not None
    except _Unsure:
        return True  # not shown to be empty: a larger set may be


class _Unsure(Exception):
    """So many were judged that it cannot be told soon."""


def _patient(_: int, judged: int) -> None:
    if judged > MOST_JUDGED:
        raise _Unsure


def nearest(court: Court, allowed: Mask, wish: WishTerms, goals: Goals = CHEAPEST) -> tuple[int, Said] | None:
    """The rig among those allowed that is had for least, or is best by other goals; None where none works."""
    asked = wish.model_copy(update={"goals": goals})
    try:
        return next(front(court, allowed, asked, _patient), None)
    except _Unsure:
        return None
