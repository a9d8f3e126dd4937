"""What figures, rules and view of the Build step share: the cards, what to bring, minutes."""

from collections.abc import Collection
from dataclasses import dataclass
from functools import cached_property
from math import hypot

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.steps.assembly.deck import deck, whole
from dravel.core.steps.assembly.first import first_cards
from dravel.core.steps.assembly.order import Card, ordered, taken_down

SLACK_MM = 400.0  # beside the way: for the turn over the meridian. Dravel's own


@dataclass(frozen=True)
class Build:
    """A rig's build, each part of it computed when first asked for."""

    context: Context

    @classmethod
    def of(cls, context: Context) -> "Build":
        """The build of a rig."""
        return cls(context)

    @cached_property
    def cards(self) -> tuple[Card, ...]:
        """The cards in their order."""
        return deck(self.context)

    @cached_property
    def all(self) -> tuple[Card, ...]:
        """The cards with those left out."""
        return whole(self.context)

    @cached_property
    def first(self) -> tuple[Card, ...]:
        """Cards of the first time, in no order yet."""
        left_out = set(self.context.rig.build.left_out)
        return tuple(card for card in first_cards(self.context) if card.key not in left_out)

    def with_first(self, done: Collection[str]) -> tuple[Card, ...]:
        """All cards with those of the first time that were never done, in their order."""
        fresh = [card for card in self.first if card.key not in done]
        return ordered((*self.cards, *fresh)) if fresh and self.cards else self.cards

    @cached_property
    def down(self) -> tuple[Card, ...]:
        """The way back."""
        return taken_down(self.cards)

    @cached_property
    def tools(self) -> tuple[str, ...]:
        """Tools to bring, each once, in the order they are wanted."""
        result = (tool.strip() for card in self.cards for tool in str(card.tool).split(","))
        tools = [tool for tool in result if tool and not tool.startswith(("by hand", "or "))]
        return tuple(dict.fromkeys([*tools, "red lamp"]))

    @cached_property
    def way_up_mm(self) -> float | None:
        """How long a lead from the ground to the far end of the tube must be, with slack for a turn, mm; None without a
        support and a telescope.
        """
        rig, telescope = self.context.rig, self.context.light.telescope
        if rig.support is None or telescope is None:
            return None
        up = rig.support.height_mm + rig.support.extension_mm
        if rig.mount is not None:
            up += rig.mount.axis_height_mm or 0.0
        arm = self.context.known.get("mount.arm_mm") or 0.0
        return up + hypot(arm, (telescope.tube_length_mm or 0.0) / 2) + SLACK_MM


def _gather(known: Known, context: Context) -> None:
    """Put the build's values into `known`, or why they are not known."""
    build = context.of(Build)
    if not build.cards:
        known.lack("no parts yet", "card_minutes")
    else:
        known.put_list("card_minutes", "t", "card", "min", [(card.minutes, card.title) for card in build.cards])


FACTS = FactSource(("card_minutes",), _gather)
