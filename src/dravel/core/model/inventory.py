"""Every part of a rig, each once, in the order of the light and then of the work."""

from collections.abc import Iterator

from dravel.core.model import Part, Rig

HAD = ("owned", "borrowed")  # what one has, not only wants


def parts_of(rig: Rig) -> Iterator[Part]:
    """All parts of a rig: light path, filters, guide branch, riders, mount, support, weights, supply, extras."""
    for item in rig.path:
        yield item.part
        yield from item.filters
    if rig.guide.method != "none":
        yield from (item.part for item in rig.guide.branch)
    yield from (placed.part for placed in rig.riders)
    yield from (part for part in (rig.mount, rig.support) if part is not None)
    yield from (hung.part for hung in rig.counterweights)
    if rig.supply.source is not None:
        yield rig.supply.source
    yield from rig.supply.cables
    yield from rig.extras


def same(part: Part) -> str:
    """By what a part is known as the same in another rig: its id, else its kind and name."""
    return part.id or f"{getattr(part, 'kind', 'part')}·{part.name}"
