"""Cards in an order that follows from what each must wait for; ties as practitioners do them."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from heapq import heapify, heappop, heappush

from dravel.core.model.words import Words


@dataclass(frozen=True)
class Card:
    """One step of putting a rig together.

    `after` are the keys of cards that must come before; `rank` orders what is free to go. `parts` are the keys of the
    parts it handles; `off` is what is done with them on the way down, empty where nothing is.
    """

    key: str
    title: Words
    does: Words
    rank: float
    after: tuple[str, ...] = ()
    place: Words = "at the rig"
    tool: Words = ""
    mark: Words = ""
    check: Words = ""
    caution: Words = ""
    minutes: float = 1.0
    parts: tuple[str, ...] = ()
    off: Words = ""
    off_caution: Words = ""
    after_sunset: bool = False  # until then glass stays covered: whatever moves may sweep the sun


def ordered(cards: Iterable[Card]) -> tuple[Card, ...]:
    """Every card after all it waits for, the lowest rank first among those that are free (Kahn's order).

    What a card waits for and is not there, it does not wait for. Raises `ValueError` where cards wait for one another.
    """
    known = {card.key: card for card in cards}
    waits = {key: {item for item in card.after if item in known} for key, card in known.items()}
    free = [(card.rank, key) for key, card in known.items() if not waits[key]]
    heapify(free)
    results: list[Card] = []
    while free:
        _, key = heappop(free)
        results.append(known[key])
        for other, left in waits.items():
            if key in left:
                left.discard(key)
                if not left:
                    heappush(free, (known[other].rank, other))
    if len(results) < len(known):
        stuck = sorted(set(known) - {card.key for card in results})
        raise ValueError(f"cards wait for one another: {', '.join(stuck)}")
    return tuple(results)


def without(cards: Sequence[Card], left_out: Iterable[str]) -> tuple[Card, ...]:
    """The cards without some; what waited for one of those waits for what that one waited for."""
    gone = set(left_out)
    known = {card.key: card for card in cards}

    def through(keys: tuple[str, ...]) -> Iterable[str]:
        for key in keys:
            if key in gone and key in known:
                yield from through(known[key].after)
            else:
                yield key

    return tuple(
        replace(card, after=tuple(dict.fromkeys(through(card.after)))) for card in cards if card.key not in gone
    )


def taken_down(built: Sequence[Card]) -> tuple[Card, ...]:
    """The way back, from a build in order: what went on last comes off first, so that all that waited for a card is off
    before it. Cards that put nothing on have no way back.
    """
    return tuple(
        replace(
            card, key=f"off-{card.key}", title=card.off, does="", caution=card.off_caution, check="", mark="", after=()
        )
        for card in reversed(built)
        if card.off
    )
