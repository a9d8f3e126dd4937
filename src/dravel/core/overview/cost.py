"""What a rig costs: owned, wished, unpriced; and the shopping list with the parts that cure what breaks.

Sums are kept by currency: no rate is guessed.
"""

from collections import defaultdict
from collections.abc import Iterable
from typing import Annotated

from pydantic import Field

from dravel.core.model import Evaluation, Part, Rig
from dravel.core.model.base import Model
from dravel.core.model.inventory import HAD, parts_of, same
from dravel.core.model.words import Text


class CostSum(Model):
    """An amount in one currency."""

    currency: str
    amount: float


class CostLine(Model):
    """One part on a list, and why it is there."""

    name: str
    kind: str
    status: str
    amount: float | None
    currency: str | None
    why: Text


class Cost(Model):
    """What a rig cost and would cost. `mixed` says that several currencies stand side by side."""

    owned: tuple[CostSum, ...]
    wished: tuple[CostSum, ...]
    second_hand: Annotated[tuple[CostSum, ...], Field(description="Of both, what was or would be bought second-hand")]
    unpriced: int
    parts: int
    mixed: bool
    shopping: tuple[CostLine, ...]
    shopping_total: tuple[CostSum, ...]
    shopping_unpriced: int


def sums(parts: Iterable[Part]) -> tuple[CostSum, ...]:
    """Prices added up by currency, alphabetically; parts without a price are left out."""
    totals: dict[str, float] = defaultdict(float)
    for part in parts:
        if part.price is not None:
            totals[part.price.currency] += part.price.amount
    return tuple(CostSum(currency=key, amount=round(totals[key], 2)) for key in sorted(totals))


def cost(rig: Rig, evaluation: Evaluation | None = None, shelf: Iterable[Part] = (), *, warnings: bool = False) -> Cost:
    """What a rig costs. With an evaluation that has fixes, parts of the shelf that the best ones would add are listed
    too: one for each finding that breaks, and with `warnings` for each warning.
    """
    called_for = ("problem", "warning") if warnings else ("problem",)
    parts = list(parts_of(rig))
    lines = [_line(part, "in the rig") for part in parts if part.status not in HAD]
    known = {same(part) for part in parts}
    wanted: list[Part] = [part for part in parts if part.status not in HAD]
    by_id = {part.id: part for part in shelf if part.id is not None}
    for finding in evaluation.findings if evaluation else ():
        if finding.verdict not in called_for or not finding.fixes:
            continue
        for result in _added(finding.fixes[0].change):
            part = by_id.get(result)
            if part is not None and same(part) not in known and part.status not in HAD:
                known.add(same(part))
                wanted.append(part)
                lines.append(_line(part, f"{finding.code}: {finding.title}"))
    everything = sums(parts)
    return Cost(
        owned=sums(part for part in parts if part.status in HAD),
        wished=sums(part for part in parts if part.status not in HAD),
        second_hand=sums(part for part in parts if part.price is not None and part.price.second_hand),
        unpriced=sum(part.price is None for part in parts),
        parts=len(parts),
        mixed=len(everything) > 1,
        shopping=tuple(lines),
        shopping_total=sums(wanted),
        shopping_unpriced=sum(part.price is None for part in wanted),
    )


def _line(part: Part, why: str) -> CostLine:
    return CostLine(
        name=part.name,
        kind=getattr(part, "kind", "part"),
        status=part.status,
        amount=part.price.amount if part.price else None,
        currency=part.price.currency if part.price else None,
        why=why,
    )


def _added(change: Iterable[object]) -> Iterable[str]:
    """Ids of parts in the values of a fix's operations."""

    def walk(value: object) -> Iterable[str]:
        if isinstance(value, dict):
            if "kind" in value and isinstance(value.get("id"), str):
                yield value["id"]
            for inner in value.values():
                yield from walk(inner)
        elif isinstance(value, list):
            for inner in value:
                yield from walk(inner)

    for operation in change:
        yield from walk(getattr(operation, "value", None))
