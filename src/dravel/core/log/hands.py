"""Who has which part tonight: parts that two rigs of one night both need, borrowed ones, and those lent to somebody."""

from collections.abc import Sequence

from dravel.core.model import Rig
from dravel.core.model.base import Model
from dravel.core.model.inventory import parts_of, same
from dravel.core.model.words import Text, joined, text


class PartInHands(Model):
    """A part that somebody must think of before the night. `double` where two rigs need the same one."""

    part: str
    rigs: tuple[str, ...]
    double: bool
    words: Text


def in_hands(rigs: Sequence[Rig]) -> tuple[PartInHands, ...]:
    """Parts of the rigs of one night that are double-booked, lent, borrowed or not there, double-booked ones first."""
    uses: dict[str, list[tuple[str, str, str, str]]] = {}
    for rig in rigs:
        for key, part in {same(part): part for part in parts_of(rig)}.items():
            uses.setdefault(key, []).append((rig.name, part.name, part.status, part.holder))
    results = []
    for here in uses.values():
        names = tuple(item[0] for item in here)
        _, name, status, holder = here[0]
        said = []
        if len(here) > 1:
            said.append(text("is in {names}: only one exists, so one rig needs another", names=" and ".join(names)))
        if status == "borrowed":
            said.append(text("is borrowed{x}", x=text(" from {holder}", holder=holder) if holder else ""))
        elif holder:
            said.append(text("is lent to {holder}: get it back before the night", holder=holder))
        if status in ("wished", "listed"):
            said.append(text("is not owned yet"))
        if said:
            results.append(
                PartInHands(
                    part=name,
                    rigs=names,
                    double=len(here) > 1,
                    words=text("{name} {said}", name=name, said=joined("; it ", said)),
                )
            )
    return tuple(sorted(results, key=lambda item: not item.double))
