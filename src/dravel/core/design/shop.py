"""What a design may take: parts at hand, and parts for sale with a price; each with what it would cost."""

from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

from dravel.core.design.narrow import narrowed
from dravel.core.model import Adapter, Part
from dravel.core.model.inventory import HAD

P = TypeVar("P", bound=Part)
SECOND_HAND_SHARE = 0.65  # of a price that is not second-hand already. Common practice: a third less
FOR_SALE = ("wished", "listed")


@dataclass(frozen=True)
class Shop:
    """Parts that may be taken. `unpriced` and `foreign` count those for sale that had to be left out; `narrowed` says by kind how
    many of how many are looked at, where a shelf has very many.
    """

    parts: tuple[Part, ...]
    currency: str
    unpriced: int = 0
    foreign: int = 0
    narrowed: tuple[tuple[str, int, int], ...] = ()

    @classmethod
    def of(cls, shelf: tuple[Part, ...], currency: str, keep: tuple[str, ...] = ()) -> "Shop":
        """The shelf as a shop: what is owned or borrowed, and what is for sale in one currency; parts of the ids in `keep`
        are never left out of it.
        """
        sale = [part for part in shelf if part.status in FOR_SALE and part.id is not None]
        unpriced = sum(part.price is None for part in sale)
        foreign = sum(part.price is not None and part.price.currency != currency for part in sale)
        taken = tuple(
            part
            for part in shelf
            if part.id is not None
            and (
                part.status in HAD
                or (part.status in FOR_SALE and part.price is not None and part.price.currency == currency)
            )
        )
        result, left = narrowed(taken, keep)
        return cls(result, currency, unpriced, foreign, tuple((kind, *counts) for kind, counts in left.items()))

    def kind(self, kind: type[P]) -> list[P]:
        """Parts of a kind: those at hand first, then the cheapest."""
        parts = [part for part in self.parts if isinstance(part, kind)]
        return sorted(parts, key=lambda part: (part.status not in HAD, price_of(part, 1.0), part.name, part.id or ""))

    @cached_property
    def rings(self) -> tuple[Part, ...]:
        """Everything the ring solver may lay."""
        return tuple(part for part in self.parts if isinstance(part, Adapter))


def price_of(part: Part, share: float) -> float:
    """What a part costs as new money: nothing where it is had, else its price, or a share of it second-hand."""
    if part.status in HAD or part.price is None:
        return 0.0
    return part.price.amount * (1.0 if part.price.second_hand else share)


def share_of(second_hand: bool) -> float:
    """Which share of a price is paid."""
    return SECOND_HAND_SHARE if second_hand else 1.0
