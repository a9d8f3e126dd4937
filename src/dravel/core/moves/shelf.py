"""Which parts on the shelf are at hand for a rig."""

from typing import TypeVar

from dravel.core.engine.context import Context
from dravel.core.model import Part

STATUS_ORDER = {"owned": 0, "borrowed": 1, "wished": 2, "listed": 3}


def ready(part: Part, laid_ids: set[str | None]) -> bool:
    """Whether a part may be laid: not retired, and not laid already."""
    return part.status != "retired" and part.id not in laid_ids


def laid_ids(context: Context) -> set[str | None]:
    """The ids of the parts in the light path."""
    return {item.part.id for item in context.rig.path if item.part.id is not None}


P = TypeVar("P", bound=Part)


def ready_parts(context: Context, kind: type[P]) -> list[P]:
    """Parts of a kind on the shelf that the rig does not have already, owned ones first."""
    rig = context.rig
    used = laid_ids(context) | {placed.part.id for placed in rig.riders} | {hung.part.id for hung in rig.counterweights}
    used |= {extra.id for extra in rig.extras} | {
        part.id for part in (rig.mount, rig.support, rig.supply.source) if part
    }
    results = [part for part in context.shelf if isinstance(part, kind) and ready(part, used - {None})]
    return sorted(results, key=lambda part: (STATUS_ORDER.get(part.status, 4), part.name))
