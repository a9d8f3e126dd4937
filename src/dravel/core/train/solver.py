"""The ring solver: which rings from a shelf mate end to end between two ends and add up to a wanted length.

Exact: it answers the best sequences there are, or proves that none exists among at most `most_rings` rings, then names
the nearest miss and the one part that would cure it. Lengths count to a micrometre. Where a shelf offers more ways than
can be looked at (hundreds of converters or of different rings), those with the fewest converters are, and it says so.

How. Which converters follow one another is a walk over ends; rings with like ends can be added at any end the walk
passes. For each walk the sums that can be reached are kept as the bits of one whole number per count of rings and of
bought ones, from the last part back to the first, so that shifting a number adds a ring to all sums at once, and a
search for the parts behind a sum never takes a wrong turn.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import reduce
from math import ceil, floor, gcd

from dravel.core.model import Adapter, Connector, PathItem, mates
from dravel.core.model.base import quantities
from dravel.core.model.cancellation import check_cancelled
from dravel.core.model.connectors import OPPOSITE
from dravel.core.model.words import Value, Words, text
from dravel.core.train.joints import front_of, rear_of, spoken
from dravel.core.train.stiffness import joint_compliance
from dravel.core.train.walks import (
    End,
    Ring,
    Walk,
    Wanted,
    end_of,
    may_reach,
    merged,
    tabulate,
    taken_by,
    walks_between,
)

RING_FUNCTIONS = ("spacer", "converter", "extension", "camera_ring", "nosepiece")
SHOP_LENGTHS_MM = (1, 2, 3, 4, 5, 6, 7.5, 8, 10, 11, 12, 12.5, 15, 16.5, 20, 21, 25, 30, 40)
LOOK_PAST_MM = 60
OWNED = ("owned", "borrowed")
# A shelf of hundreds of converters joins two ends in millions of ways. So many are looked at, fewest converters first.
MOST_WALKS = 200


@dataclass(frozen=True)
class Sequence:
    """One way to fill the gap: rings and kept parts in order. `error_mm` is positive when too long."""

    items: tuple[PathItem, ...]
    length_mm: float
    error_mm: float
    bought: int
    rings: int
    softness: float

    @property
    def rank(self) -> tuple[int, int, float, float]:
        """Fewest bought, then fewest joints, then smallest error, then stiffest."""
        return self.bought, self.rings, round(abs(self.error_mm), 6), self.softness


@dataclass(frozen=True)
class Answer:
    """What the solver found. With nothing found, `nearest` misses least and `cure` is the one part that fixes it."""

    found: tuple[Sequence, ...]
    proof: Words = ""
    nearest: Sequence | None = None
    cure: Words = ""
    cure_part: Adapter | None = None


def solve(wanted: Wanted, shelf: tuple[Adapter, ...], most_found: int = 6) -> Answer:
    """The best sequences for a gap, best first.

    `shelf` holds the rings that may be used, each once; those neither owned nor borrowed count as bought. Parts
    without a length or an end are passed over.
    """
    usable = [
        part for part in shelf if part.used("optical_length_mm") is not None and part.sky_side and part.sensor_side
    ]
    spans = [_span_um(part) for part in usable]
    # The coarsest step that all lengths share, half a millimetre at most; an adjustable ring is set to a hundredth.
    unit = reduce(gcd, (um for span in spans for um in span), 500)
    if any(low != high for low, high in spans):
        unit = gcd(unit, round(wanted.length_mm * 100) * 10)
    rings = [
        Ring(part, low // unit, high // unit, part.status not in OWNED)
        for part, (low, high) in zip(usable, spans, strict=True)
    ]
    target, slack = wanted.length_mm * 1000 / unit, wanted.tolerance_mm * 1000 / unit
    first, last = max(ceil(target - slack - 1e-6), 0), floor(target + slack + 1e-6)
    limit = (1 << (max(last, 0) + LOOK_PAST_MM * 1000 // unit + 1)) - 1
    every = rings
    rings, thinned = merged(every, wanted.most_rings)
    window = _bits(first, last)
    walks, whole = _looked_at(wanted, rings, limit, window, most_found)
    if not walks:
        cure, cure_part = _missing_converter(wanted, rings)
        return Answer(
            (),
            text(
                "none of your parts connects {ahead} to {behind}",
                ahead=spoken(wanted.ahead),
                behind=spoken(wanted.behind),
            ),
            None,
            cure,
            cure_part,
        )
    sequences: list[Sequence] = []
    for bought, count in _classes(walks):
        hits = [(walk, bits & window) for walk, bits in _sums(walks, bought, count) if bits & window]
        places = sorted({at for _, bits in hits for at in _ones(bits)}, key=lambda at: abs(at - target))
        for at in places:
            alike = [
                made
                for walk, bits in hits
                if bits >> at & 1
                for chosen in _chosen(walk, bought, count, at, most_found * 4)
                for made in [_sequence(wanted, walk, chosen, unit)]
            ]
            sequences += sorted(alike, key=lambda item: item.rank)
            if len(sequences) >= most_found * 3:
                break
        if len(_different(sequences)) >= most_found:
            break
    if sequences:
        return Answer(tuple(_different(sequences)[:most_found]))
    # Not all ways were looked at: none may yet be proved, where not even rings without number would do.
    proved = (whole and not thinned) or not may_reach(wanted, every, limit, window)
    return _absent(wanted, walks, unit, target, window, limit, proved)


def _looked_at(wanted: Wanted, rings: list[Ring], limit: int, window: int, most_found: int) -> tuple[list[Walk], bool]:
    """The walks with their sums, fewest converters first, and whether these are all that can matter.

    Once enough sequences are known, a walk whose converters alone are a worse class than theirs adds nothing.
    """
    walks: list[Walk] = []
    hits: dict[tuple[int, int], int] = {}
    whole = True
    for walk in walks_between(wanted, rings):
        if walk is None or len(walks) >= MOST_WALKS:
            whole = False
            break
        enough = _class_of(hits, most_found * 3)
        if enough is not None and walk.least > enough:
            continue
        tabulate(walk, limit, wanted.most_rings)
        reached = False
        for (_, bought, count), bits in walk.tables[0].items():
            if landed := bits & window:
                reached = True
                hits[bought, count] = hits.get((bought, count), 0) + landed.bit_count()
        if not reached:
            del walk.tables[1:]  # its sums are wanted for the nearest miss alone
        walks.append(walk)
    return walks, whole


def _class_of(hits: dict[tuple[int, int], int], enough: int) -> tuple[int, int] | None:
    """The class (bought, rings) up to which so many sums have landed; None while they have not."""
    landed = 0
    for known in sorted(hits):
        landed += hits[known]
        if landed >= enough:
            return known
    return None


def _span_um(part: Adapter) -> tuple[int, int]:
    low = round((part.used("optical_length_mm") or 0.0) * 1000)
    high = part.optical_length_max_mm
    return low, low if high is None else max(low, round(high * 1000))


def _classes(walks: list[Walk]) -> list[tuple[int, int]]:
    """All (bought, rings) there are, fewest first."""
    return sorted({(b, k) for walk in walks for _, b, k in walk.tables[0]})


def _sums(walks: list[Walk], bought: int, count: int) -> Iterator[tuple[Walk, int]]:
    for walk in walks:
        for (_, b, k), bits in walk.tables[0].items():
            if (b, k) == (bought, count):
                yield walk, bits


def _chosen(walk: Walk, bought: int, count: int, at: int, most: int) -> Iterator[list[tuple[Ring, int]]]:
    """Up to `most` choices of rings whose lengths sum to `at`, each ring with its set length."""
    order = [(ring, i, exactly) for i, (pool, exactly) in enumerate(walk.pools) for ring in pool]
    needs = [exactly or 0 for _, exactly in walk.pools]
    left = most

    def go(p: int, need: int, b: int, k: int, low: int, high: int, taken: list[Ring]) -> Iterator[list[Ring]]:
        # Steps over rings in a loop and goes deeper only for those it takes: a shelf of thousands is no deeper.
        nonlocal left
        while left > 0 and high >= 0:
            if p == len(order):
                if need == 0 and b == 0 and k == 0 and low <= 0 <= high:
                    left -= 1
                    yield taken
                return
            check_cancelled()
            ring, pool, exactly = order[p]
            if p and order[p - 1][1] != pool:
                # Entering the next pool: the one before must be used up.
                if need:
                    return
                need = needs[pool]
            if not walk.tables[p].get((need if exactly is not None else 0, b, k), 0) & _bits(max(low, 0), high):
                return
            if k > 0 and b >= ring.bought and (exactly is None or need > 0):
                less = need - 1 if exactly is not None else need
                yield from go(p + 1, less, b - ring.bought, k - 1, low - ring.high, high - ring.low, [*taken, ring])
            p += 1

    start = needs[0] if order and order[0][1] == 0 else 0
    # Pools may be empty at the end; a walk without any ring fits only a gap of nothing.
    for taken in go(0, start, bought, count, at, at, []):
        spare = at - sum(ring.low for ring in taken)
        settled = []
        for ring in taken:
            extra = min(spare, ring.high - ring.low)
            spare -= extra
            settled.append((ring, ring.low + extra))
        yield settled


def _sequence(wanted: Wanted, walk: Walk, chosen: list[tuple[Ring, int]], unit: int) -> Sequence:
    """The chosen rings and the kept parts, put in an order that mates: rings of like ends at their first place."""
    items = {id(ring): _item(ring.part, length * unit / 1000) for ring, length in chosen}
    order = _ordered(end_of(wanted.ahead), taken_by(wanted.behind), [ring for ring, _ in chosen], wanted.kept, items)
    length = sum(length for _, length in chosen) * unit / 1000
    softness = sum(joint_compliance(rear_of(item)) for item in order)
    bought = sum(ring.bought for ring, _ in chosen)
    return Sequence(tuple(order), length, length - wanted.length_mm, bought, len(chosen), softness)


def _item(part: Adapter, length: float) -> PathItem:
    variable = part.optical_length_max_mm is not None
    return PathItem.model_construct(
        **{**PathItem.model_construct(part=part).__dict__, "set_length_mm": round(length, 3) if variable else None}
    )


def _ordered(
    end: End, goal: End, rings: list[Ring], kept: tuple[PathItem, ...], items: dict[int, PathItem]
) -> list[PathItem]:
    """Lay rings and kept parts end to end. Longest of like rings first; a way exists, since the walk passed it."""
    loops = [
        ring
        for ring in rings
        if ring.part.sky_side
        and ring.part.sensor_side
        and taken_by(ring.part.sky_side) == end_of(ring.part.sensor_side)
    ]
    turning = [ring for ring in rings if ring not in loops]

    def lay(at: End, left: list[Ring], passed: int) -> list[PathItem | Ring] | None:
        if not left and passed == len(kept):
            return [] if at == goal else None
        if passed < len(kept):
            front, rear = front_of(kept[passed]), rear_of(kept[passed])
            if front and rear and taken_by(front) == at:
                rest = lay(end_of(rear), left, passed + 1)
                if rest is not None:
                    return [kept[passed], *rest]
        for ring in left:
            if ring.part.sky_side and ring.part.sensor_side and taken_by(ring.part.sky_side) == at:
                rest = lay(end_of(ring.part.sensor_side), [other for other in left if other is not ring], passed)
                if rest is not None:
                    return [ring, *rest]
        return None

    spine = lay(end, turning, 0) or []
    made: list[PathItem] = []
    waiting = sorted(loops, key=lambda ring: -ring.low)

    def drop(at: End) -> None:
        for ring in [entry for entry in waiting if entry.part.sky_side and taken_by(entry.part.sky_side) == at]:
            made.append(items[id(ring)])
            waiting.remove(ring)

    drop(end)
    for piece in spine:
        item = items[id(piece)] if isinstance(piece, Ring) else piece
        made.append(item)
        rear = rear_of(item)
        if rear is not None:
            drop(end_of(rear))
    return made


def _different(found: list[Sequence]) -> list[Sequence]:
    """Sequences that differ in what is laid, not only in which of two like parts or how one is set: the best of each."""
    kept: dict[object, Sequence] = {}
    for entry in sorted(found, key=lambda one: one.rank):
        kept.setdefault(tuple(sorted(item.part.name for item in entry.items)), entry)
    return list(kept.values())


def _absent(
    wanted: Wanted, walks: list[Walk], unit: int, target: float, window: int, limit: int, whole: bool
) -> Answer:
    """No sequence: say so, with the nearest miss and the one ring that would cure it."""
    proof = text(
        "no combination of up to {most_rings} spacers gives {length_mm} ± {tolerance_mm}",
        most_rings=wanted.most_rings,
        length_mm=Value(wanted.length_mm, digits=2),
        tolerance_mm=Value(wanted.tolerance_mm, "mm", 2),
    )
    if not whole:
        proof += " (search incomplete: too many combinations)"
    best: tuple[float, int, int, int, Walk] | None = None
    for walk in walks:
        for (_, b, k), bits in walk.tables[0].items():
            for at in _beside(bits, target):
                score = (abs(at - target), b, k, at, walk)
                if best is None or score[:3] < best[:3]:
                    best = score
    if best is None:
        return Answer((), text("{proof}: the fixed parts alone are too long", proof=proof))
    _, bought, rings, at, walk = best
    tabulate(walk, limit, wanted.most_rings)
    chosen = next(_chosen(walk, bought, rings, at, 1), None)
    nearest = _sequence(wanted, walk, chosen, unit) if chosen is not None else None
    cure, part = _one_ring_more(wanted, walks, unit, window)
    return Answer((), proof, nearest, cure, part)


def _one_ring_more(wanted: Wanted, walks: list[Walk], unit: int, window: int) -> tuple[Words, Adapter | None]:
    """A ring of a usual length that, added to what is there, lands within the tolerance; else one made to measure."""
    best: tuple[int, int, float, End] | None = None
    for walk in walks:
        ends = sorted(end for end in walk.opened if end[0] == "thread")
        for length in SHOP_LENGTHS_MM:
            step = length * 1000 / unit
            if not ends or step != int(step):
                continue
            for (_, b, k), bits in walk.tables[0].items():
                if k < wanted.most_rings and (bits << int(step)) & window:
                    score = (b, k, length, ends[0])
                    if best is None or score < best:
                        best = score
    if best is not None:
        _, _, length, end = best
        return text("a {length} spacer, {end}", length=Value(length, "mm"), end=end[1]), _made(end, length)
    short = [
        (wanted.length_mm - at * unit / 1000, walk)
        for walk in walks
        for bits in walk.tables[0].values()
        for at in _beside(bits, wanted.length_mm * 1000 / unit)
        if at * unit / 1000 < wanted.length_mm
    ]
    if not short:
        if wanted.kept:
            return "a thinner drawer, wheel or OAG: the fixed parts are already too long", None
        return "shorter parts at both ends: none of your matching parts is short enough", None
    gap, walk = min(short, key=lambda item: item[0])
    threads = [opened for opened in sorted(walk.opened) if opened[0] == "thread"]
    if not threads:
        return text("{gap} more, at a connection without spacers", gap=Value(gap, "mm", 2)), None
    return text("a {gap} spacer, {threads}, custom made", gap=Value(gap, "mm", 2), threads=threads[0][1]), _made(
        threads[0], round(gap, 2)
    )


def ring_of(end: End, length: float, status: str = "wished") -> Adapter:
    """A plain ring to lay behind an open end."""
    family, size, gender = end
    rear = Connector.model_validate({"family": family, "size": size, "gender": gender})
    front = Connector.model_validate({"family": family, "size": size, "gender": OPPOSITE[gender]})
    short = size.split("x")[0]
    return Adapter.model_validate(
        {
            "name": f"{length:g} mm {short} ring",
            "function": "spacer",
            "optical_length_mm": length,
            "sky_side": front,
            "sensor_side": rear,
            "status": status,
        }
    )


def _made(end: End, length: float) -> Adapter | None:
    """A ring to lay behind an open end; None when no ring is so long."""
    return ring_of(end, length) if quantities(Adapter)["optical_length_mm"].takes(length) else None


def shop_rings(ends: set[End]) -> tuple[Adapter, ...]:
    """Usual shop lengths for threaded ends, as parts to be bought."""
    return tuple(ring_of(end, length) for end in sorted(ends) if end[0] == "thread" for length in SHOP_LENGTHS_MM)


def _missing_converter(wanted: Wanted, rings: list[Ring]) -> tuple[Words, Adapter | None]:
    """No walk: name the one converter that would join what the near end reaches to what reaches the far end."""
    rear = wanted.ahead
    front = (wanted.kept and front_of(wanted.kept[0])) or wanted.behind
    for item in wanted.kept:
        here = front_of(item)
        if here is not None and not mates(rear, here) and not _joined(rear, here, rings):
            front = here
            break
        rear = rear_of(item) or rear
    else:
        front = wanted.behind
    turned = Connector.model_validate(
        {**front.model_dump(), "gender": OPPOSITE[front.gender], "clear_aperture_mm": None}
    )
    entry = Connector.model_validate({**rear.model_dump(), "gender": OPPOSITE[rear.gender], "clear_aperture_mm": None})
    name = f"{rear.size.split('x')[0]} to {front.size.split('x')[0]} converter"
    part = Adapter(
        name=name, function="converter", optical_length_mm=1, sky_side=entry, sensor_side=turned, status="wished"
    )
    return text("an adapter from {rear} to {front}", rear=spoken(rear), front=spoken(front)), part


def _joined(rear: Connector, front: Connector, rings: list[Ring]) -> bool:
    reached, grown = {end_of(rear)}, True
    while grown:
        more = {
            end_of(ring.part.sensor_side)
            for ring in rings
            if ring.part.sky_side and ring.part.sensor_side and taken_by(ring.part.sky_side) in reached
        }
        grown = not more <= reached
        reached |= more
    return taken_by(front) in reached


def _bits(first: int, last: int) -> int:
    return 0 if last < first else ((1 << (last - first + 1)) - 1) << first


def _ones(bits: int) -> Iterator[int]:
    while bits:
        low = bits & -bits
        yield low.bit_length() - 1
        bits ^= low


def _beside(bits: int, target: float) -> Iterator[int]:
    """The sums nearest to a target, from below and from above."""
    middle = max(ceil(target), 0)
    below = bits & ((1 << middle) - 1)
    if below:
        yield below.bit_length() - 1
    above = bits >> middle
    if above:
        yield middle + (above & -above).bit_length() - 1
