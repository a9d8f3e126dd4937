"""The ring solver: which rings from a shelf mate end to end between two ends and add up to a wanted length.

Exact: it answers the best sequences there are, or proves that none exists among at most `most_rings` rings, then names
the nearest miss and the one part that would cure it. Lengths count to a micrometre.

How. Which converters follow one another is a walk over ends; rings with like ends can be added at any end the walk
passes. For each walk the sums that can be reached are kept as the bits of one whole number per count of rings and of
bought ones, from the last part back to the first, so that shifting a number adds a ring to all sums at once, and a
search for the parts behind a sum never takes a wrong turn.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import reduce
from math import ceil, floor, gcd

from dravel.core.model import Adapter, Connector, PathItem, mates
from dravel.core.model.base import quantities
from dravel.core.model.connectors import OPPOSITE
from dravel.core.train.joints import front_of, rear_of, spoken
from dravel.core.train.stiffness import joint_compliance

RING_FUNCTIONS = ("spacer", "converter", "extension", "camera_ring", "nosepiece")
SHOP_LENGTHS_MM = (1, 2, 3, 4, 5, 6, 7.5, 8, 10, 11, 12, 12.5, 15, 16.5, 20, 21, 25, 30, 40)
LOOK_PAST_MM = 60
OWNED = ("owned", "borrowed")

End = tuple[str, str, str]


@dataclass(frozen=True)
class Wanted:
    """The gap to fill: the ends it lies between, the length of all rings together, and how exact."""

    ahead: Connector
    behind: Connector
    length_mm: float
    tolerance_mm: float
    kept: tuple[PathItem, ...] = ()
    most_rings: int = 6


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
    """What the solver found. With nothing found, `nearest` misses least and `cure` is the one part that mends it."""

    found: tuple[Sequence, ...]
    proof: str = ""
    nearest: Sequence | None = None
    cure: str = ""
    cure_part: Adapter | None = None


@dataclass(frozen=True)
class _Ring:
    part: Adapter
    low: int
    high: int
    bought: int

    def spread(self, sums: int, limit: int) -> int:
        """All sums with this ring added; a variable ring adds each length of its range."""
        sums <<= self.low
        width, done = self.high - self.low, 0
        while done < width:
            step = min(done + 1, width - done)
            sums |= sums << step
            done += step
        return sums & limit


@dataclass
class _Walk:
    """Which converters of which kind are used, and which ends lie open on the way."""

    pools: list[tuple[list[_Ring], int | None]]
    opened: frozenset[End]
    tables: list[dict[tuple[int, int, int], int]] = field(default_factory=list)


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
        _Ring(part, low // unit, high // unit, part.status not in OWNED)
        for part, (low, high) in zip(usable, spans, strict=True)
    ]
    target, slack = wanted.length_mm * 1000 / unit, wanted.tolerance_mm * 1000 / unit
    first, last = max(ceil(target - slack - 1e-6), 0), floor(target + slack + 1e-6)
    limit = (1 << (max(last, 0) + LOOK_PAST_MM * 1000 // unit + 1)) - 1
    walks = list(_walks(wanted, rings))
    if not walks:
        cure, cure_part = _missing_converter(wanted, rings)
        return Answer(
            (),
            f"nothing on this shelf leads from {spoken(wanted.ahead)} to {spoken(wanted.behind)}",
            None,
            cure,
            cure_part,
        )
    for walk in walks:
        _tabulate(walk, limit, wanted.most_rings)
    window = _bits(first, last)
    found: list[Sequence] = []
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
            found += sorted(alike, key=lambda one: one.rank)
            if len(found) >= most_found * 3:
                break
        if len(_different(found)) >= most_found:
            break
    if found:
        return Answer(tuple(_different(found)[:most_found]))
    return _absent(wanted, walks, unit, target, window)


def _span_um(part: Adapter) -> tuple[int, int]:
    low = round((part.used("optical_length_mm") or 0.0) * 1000)
    high = part.optical_length_max_mm
    return low, low if high is None else max(low, round(high * 1000))


def _end(connector: Connector) -> End:
    return connector.family, connector.size, connector.gender


def _takes(connector: Connector) -> End:
    """The end that mates with this one."""
    return connector.family, connector.size, OPPOSITE[connector.gender]


def _walks(wanted: Wanted, rings: list[_Ring]) -> Iterator[_Walk]:
    """Every different choice of converters that leads from one end over the kept parts to the other."""
    kinds: dict[tuple[End, End], list[_Ring]] = {}
    for ring in rings:
        if ring.part.sky_side and ring.part.sensor_side:
            kinds.setdefault((_takes(ring.part.sky_side), _end(ring.part.sensor_side)), []).append(ring)
    turning = [kind for kind in kinds if kind[0] != kind[1]]
    gates = [(front_of(item), rear_of(item)) for item in wanted.kept]
    seen: set[object] = set()
    given: set[object] = set()
    away = _steps_to_go(wanted, turning, gates)
    stack: list[tuple[End, int, tuple[int, ...], frozenset[End]]] = [
        (_end(wanted.ahead), 0, (0,) * len(turning), frozenset([_end(wanted.ahead)]))
    ]
    while stack:
        state = stack.pop()
        if state in seen:
            continue
        seen.add(state)
        end, passed, used, opened = state
        if away.get((end, passed), 99) + sum(used) > wanted.most_rings:
            continue
        if passed == len(gates) and end == _takes(wanted.behind) and (used, opened) not in given:
            given.add((used, opened))
            pools: list[tuple[list[_Ring], int | None]] = [
                (kinds[kind], count) for kind, count in zip(turning, used, strict=True) if count
            ]
            loops = [
                ring for kind, group in kinds.items() if kind[0] == kind[1] and kind[0] in opened for ring in group
            ]
            yield _Walk([*pools, (loops, None)], opened)
        for i, kind in enumerate(turning):
            if kind[0] == end and used[i] < len(kinds[kind]):
                more = (*used[:i], used[i] + 1, *used[i + 1 :])
                stack.append((kind[1], passed, more, opened | {kind[1]}))
        if passed < len(gates):
            front, rear = gates[passed]
            if front is not None and rear is not None and _takes(front) == end:
                stack.append((_end(rear), passed + 1, used, opened | {_end(rear)}))


def _steps_to_go(
    wanted: Wanted, turning: list[tuple[End, End]], gates: list[tuple[Connector | None, Connector | None]]
) -> dict[tuple[End, int], int]:
    """Fewest converters from an open end (after so many kept parts) to the far end."""
    todo = [(_takes(wanted.behind), len(gates))]
    away = {todo[0]: 0}
    while todo:
        end, passed = todo.pop(0)
        back = [((kind[0], passed), 1) for kind in turning if kind[1] == end]
        if passed > 0:
            front, rear = gates[passed - 1]
            if front is not None and rear is not None and _end(rear) == end:
                back.append(((_takes(front), passed - 1), 0))
        for state, cost in back:
            if away[(end, passed)] + cost < away.get(state, 99):
                away[state] = away[(end, passed)] + cost
                todo.append(state)
    return away


def _tabulate(walk: _Walk, limit: int, most: int) -> None:
    """Sums within reach from each part on, by (still needed of its pool, bought, rings)."""
    tables: list[dict[tuple[int, int, int], int]] = [{(0, 0, 0): 1}]
    need_ahead = 0
    for pool, exactly in reversed(walk.pools):
        now = {(0, b, k): bits for (need, b, k), bits in tables[-1].items() if need == need_ahead}
        for ring in reversed(pool):
            then = dict(now)
            for (need, b, k), bits in now.items():
                if k == most or (exactly is not None and need == exactly):
                    continue
                key = (need + 1 if exactly is not None else 0, b + ring.bought, k + 1)
                then[key] = then.get(key, 0) | ring.spread(bits, limit)
            tables.append(then)
            now = then
        need_ahead = exactly or 0
    # Only what uses the exact number of the first pool's converters is a whole answer.
    tables[-1] = {key: bits for key, bits in tables[-1].items() if key[0] == need_ahead and bits}
    walk.tables = tables[::-1]


def _classes(walks: list[_Walk]) -> list[tuple[int, int]]:
    """All (bought, rings) there are, fewest first."""
    return sorted({(b, k) for walk in walks for _, b, k in walk.tables[0]})


def _sums(walks: list[_Walk], bought: int, count: int) -> Iterator[tuple[_Walk, int]]:
    for walk in walks:
        for (_, b, k), bits in walk.tables[0].items():
            if (b, k) == (bought, count):
                yield walk, bits


def _chosen(walk: _Walk, bought: int, count: int, at: int, most: int) -> Iterator[list[tuple[_Ring, int]]]:
    """Up to `most` choices of rings whose lengths sum to `at`, each ring with its set length."""
    order = [(ring, i, exactly) for i, (pool, exactly) in enumerate(walk.pools) for ring in pool]
    needs = [exactly or 0 for _, exactly in walk.pools]
    left = most

    def go(p: int, need: int, b: int, k: int, low: int, high: int, taken: list[_Ring]) -> Iterator[list[_Ring]]:
        nonlocal left
        if left <= 0 or high < 0:
            return
        if p == len(order):
            if need == 0 and b == 0 and k == 0 and low <= 0 <= high:
                left -= 1
                yield taken
            return
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
        yield from go(p + 1, need, b, k, low, high, taken)

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


def _sequence(wanted: Wanted, walk: _Walk, chosen: list[tuple[_Ring, int]], unit: int) -> Sequence:
    """The chosen rings and the kept parts, put in an order that mates: rings of like ends at their first place."""
    items = {id(ring): _item(ring.part, length * unit / 1000) for ring, length in chosen}
    order = _ordered(_end(wanted.ahead), _takes(wanted.behind), [ring for ring, _ in chosen], wanted.kept, items)
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
    end: End, goal: End, rings: list[_Ring], kept: tuple[PathItem, ...], items: dict[int, PathItem]
) -> list[PathItem]:
    """Lay rings and kept parts end to end. Longest of like rings first; a way exists, since the walk passed it."""
    loops = [
        ring
        for ring in rings
        if ring.part.sky_side and ring.part.sensor_side and _takes(ring.part.sky_side) == _end(ring.part.sensor_side)
    ]
    turning = [ring for ring in rings if ring not in loops]

    def lay(at: End, left: list[_Ring], passed: int) -> list[PathItem | _Ring] | None:
        if not left and passed == len(kept):
            return [] if at == goal else None
        if passed < len(kept):
            front, rear = front_of(kept[passed]), rear_of(kept[passed])
            if front and rear and _takes(front) == at:
                rest = lay(_end(rear), left, passed + 1)
                if rest is not None:
                    return [kept[passed], *rest]
        for ring in left:
            if ring.part.sky_side and ring.part.sensor_side and _takes(ring.part.sky_side) == at:
                rest = lay(_end(ring.part.sensor_side), [other for other in left if other is not ring], passed)
                if rest is not None:
                    return [ring, *rest]
        return None

    spine = lay(end, turning, 0) or []
    made: list[PathItem] = []
    waiting = sorted(loops, key=lambda ring: -ring.low)

    def drop(at: End) -> None:
        for ring in [one for one in waiting if one.part.sky_side and _takes(one.part.sky_side) == at]:
            made.append(items[id(ring)])
            waiting.remove(ring)

    drop(end)
    for piece in spine:
        item = items[id(piece)] if isinstance(piece, _Ring) else piece
        made.append(item)
        rear = rear_of(item)
        if rear is not None:
            drop(_end(rear))
    return made


def _different(found: list[Sequence]) -> list[Sequence]:
    """Sequences that differ in what is laid, not only in which of two like parts or how one is set: the best of each."""
    kept: dict[object, Sequence] = {}
    for one in sorted(found, key=lambda one: one.rank):
        kept.setdefault(tuple(sorted(item.part.name for item in one.items)), one)
    return list(kept.values())


def _absent(wanted: Wanted, walks: list[_Walk], unit: int, target: float, window: int) -> Answer:
    """No sequence: say so, with the nearest miss and the one ring that would cure it."""
    proof = (
        f"no sequence of up to {wanted.most_rings} rings gives {wanted.length_mm:.2f} ± {wanted.tolerance_mm:.2f} mm"
    )
    best: tuple[float, int, int, int, _Walk] | None = None
    for walk in walks:
        for (_, b, k), bits in walk.tables[0].items():
            for at in _beside(bits, target):
                score = (abs(at - target), b, k, at, walk)
                if best is None or score[:3] < best[:3]:
                    best = score
    if best is None:
        return Answer((), f"{proof}: the kept parts alone are too long")
    _, bought, count, at, walk = best
    chosen = next(_chosen(walk, bought, count, at, 1), None)
    nearest = _sequence(wanted, walk, chosen, unit) if chosen is not None else None
    cure, part = _one_ring_more(wanted, walks, unit, window)
    return Answer((), proof, nearest, cure, part)


def _one_ring_more(wanted: Wanted, walks: list[_Walk], unit: int, window: int) -> tuple[str, Adapter | None]:
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
        return f"a {length:g} mm ring, {end[1]}", _made(end, length)
    short = [
        (wanted.length_mm - at * unit / 1000, walk)
        for walk in walks
        for bits in walk.tables[0].values()
        for at in _beside(bits, wanted.length_mm * 1000 / unit)
        if at * unit / 1000 < wanted.length_mm
    ]
    if not short:
        if wanted.kept:
            return "a thinner drawer, wheel or guider: what is kept is too long already", None
        return "shorter parts at both ends: nothing on this shelf that mates is so short", None
    gap, walk = min(short, key=lambda one: one[0])
    threads = [opened for opened in sorted(walk.opened) if opened[0] == "thread"]
    if not threads:
        return f"{gap:.2f} mm more, at a joint that takes no ring", None
    return f"a ring of {gap:.2f} mm, {threads[0][1]}, made to measure", _made(threads[0], round(gap, 2))


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


def _missing_converter(wanted: Wanted, rings: list[_Ring]) -> tuple[str, Adapter | None]:
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
    return f"a converter from {spoken(rear)} to {spoken(front)}", part


def _joined(rear: Connector, front: Connector, rings: list[_Ring]) -> bool:
    reached, grown = {_end(rear)}, True
    while grown:
        more = {
            _end(ring.part.sensor_side)
            for ring in rings
            if ring.part.sky_side and ring.part.sensor_side and _takes(ring.part.sky_side) in reached
        }
        grown = not more <= reached
        reached |= more
    return _takes(front) in reached


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
