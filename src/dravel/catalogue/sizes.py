"""Which size of a nebula counts, where lists differ: the nebula people photograph, not the cluster in it.

In this order: what stands in the table by hand; else, for a nebula, the largest of the list's own, a second list's and
that of a nebula of the classic lists in whose middle it lies; else the list's own. All are kept and told with their
source. Where they differ much and no hand decided, the size is uncertain.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from dravel.catalogue.hand_sizes import FROM_MEMORY, ByHand
from dravel.core.model import TargetKind
from dravel.core.model.sky import TargetSize

OWN = "OpenNGC"
DOUBTFUL = 1.7  # times as large by one list as by another. Dravel's own convention.
FARTHEST = 0.3  # of a larger nebula's length: beyond it its middle is not where the object lies. Dravel's own.
MOST_LARGER = 6.0  # a larger nebula is another object
NEBULAR: frozenset[TargetKind] = frozenset({"emission", "reflection", "mixed", "supernova_remnant", "dark", "other"})


@dataclass(frozen=True)
class Decided:
    """The size that counts, whose it is, what others give, and whether it is uncertain."""

    major: float | None
    minor: float | None
    source: str
    doubtful: bool
    others: tuple[TargetSize, ...]
    kind: TargetKind


def decided(by_hand: ByHand | None, kind: TargetKind, own: TargetSize | None, others: Iterable[TargetSize]) -> Decided:
    """Decide on the size of an object: what is written by hand, its own list's, and what other lists give."""
    fromkeys = list(dict.fromkeys(size for size in (own, *others) if size is not None))
    if by_hand is not None:
        typed = by_hand[2] if len(by_hand) == 3 else kind
        return Decided(by_hand[0], by_hand[1], FROM_MEMORY, False, tuple(fromkeys[:6]), typed)
    if not fromkeys:
        return Decided(None, None, "", False, (), kind)
    sane = [size for size in fromkeys if own is None or size.major_arcmin <= MOST_LARGER * max(own.major_arcmin, 5.0)]
    counts = max(sane, key=lambda size: size.major_arcmin) if kind in NEBULAR else fromkeys[0]
    rest = tuple(size for size in fromkeys if size is not counts)
    apart = max(size.major_arcmin for size in fromkeys) / min(size.major_arcmin for size in fromkeys)
    return Decided(counts.major_arcmin, counts.minor_arcmin, counts.source, apart > DOUBTFUL, rest[:6], kind)
