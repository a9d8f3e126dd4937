"""Counterweights for a mount, for many loads at once: which set of them balances which moments on its shaft.

A set pushed together balances every moment between its innermost and its outermost place, so each set is an interval of
moments; the canonical set for a moment is the one that costs least, then weighs least, whose interval holds it.
"""

from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from dravel.core.design.shop import Shop, price_of
from dravel.core.model import Counterweight, Mount
from dravel.core.steps.mount.balancing import MOST_WEIGHTS, hang, on_this_shaft

Floats = NDArray[np.float64]
NONE = -1


@dataclass(frozen=True)
class WeightSet:
    """Some weights, heaviest innermost, and the moments (kg·mm) that they balance on a shaft."""

    weights: tuple[Counterweight, ...]
    low: float
    high: float
    cost: float
    mass_kg: float


class Weights:
    """All sets of a shop's weights that go on a mount's own shaft, the canonical one first."""

    def __init__(self, shop: Shop, mount: Mount, share: float) -> None:
        self.mount = mount
        self.sets: list[WeightSet] = []
        shaft = mount.shaft
        if shaft is None or not mount.needs_counterweight:
            return
        usable = [item for item in shop.kind(Counterweight) if on_this_shaft(item, shaft) and item.used("mass_g")]
        for count in range(1, min(len(usable), MOST_WEIGHTS) + 1):
            for chosen in combinations(usable[:MOST_WEIGHTS], count):
                made = hang(chosen, 0.0, shaft)
                thick = sum(item.thickness_mm for item in chosen)
                if made is None or thick > shaft.end_mm - shaft.start_mm:
                    continue
                # With no moment at all the inner face would sit at −lever / mass: from there it is slid along.
                inner = made.positions[0] - made.weights[0].thickness_mm / 2
                low = made.mass * (shaft.start_mm - inner)
                high = made.mass * (shaft.end_mm - thick - inner)
                cost = sum(price_of(item, share) for item in chosen)
                self.sets.append(WeightSet(made.weights, low, high, cost, made.mass))
        self.sets.sort(key=lambda item: (round(item.cost, 2), round(item.mass_kg, 6), len(item.weights), item.low))

    def chosen(self, moments: Floats) -> NDArray[np.int64]:
        """For each moment (kg·mm) the place of its set; `NONE` where no set balances it, or none is needed."""
        result = np.full(len(moments), NONE, dtype=np.int64)
        for place, item in enumerate(self.sets):
            hit = (result == NONE) & (moments >= item.low) & (moments <= item.high)
            result[hit] = place
        return result

    def of(self, moment: float) -> WeightSet | None:
        """The set for one moment."""
        place = int(self.chosen(np.array([moment]))[0])
        return None if place == NONE else self.sets[place]
