"""The ways that converters of a shelf lead from one end to another, and the sums of lengths that each can reach.

For each way the sums are kept as the bits of one whole number per count of rings and of bought ones, from the last part
back to the first, so that shifting a number adds a ring to all sums at once.
"""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from heapq import heappop, heappush
from itertools import count

from dravel.core.model import Adapter, Connector, PathItem
from dravel.core.model.cancellation import check_cancelled
from dravel.core.model.connectors import OPPOSITE
from dravel.core.train.joints import front_of, rear_of

End = tuple[str, str, str]
# Open end, kept parts passed, converters used (their places, sorted), ends opened on the way.
_State = tuple[End, int, tuple[int, ...], frozenset[End]]
# A shelf of hundreds of converters joins two ends in millions of ways. So many are looked at, fewest converters first.
MOST_STATES, MOST_RINGS = 8_000, 300


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
class Ring:
    """A part that may be laid, its shortest and longest length in the solver's steps, and whether it is bought."""

    part: Adapter
    low: int
    high: int
    bought: int

    def spread(self, sums: int, limit: int) -> int:
        """All sums with this ring added."""
        return spread(sums, self.low, self.high, limit)


def spread(sums: int, low: int, high: int, limit: int) -> int:
    """All sums with a ring added; a variable ring adds each length of its range."""
    sums <<= low
    width, done = high - low, 0
    while done < width:
        step = min(done + 1, width - done)
        sums |= sums << step
        done += step
    return sums & limit


@dataclass
class Walk:
    """Which converters of which kind are used, and which ends lie open on the way."""

    pools: list[tuple[list[Ring], int | None]]
    opened: frozenset[End]
    least: tuple[int, int]  # bought, rings: what its converters alone take
    tables: list[dict[tuple[int, int, int], int]] = field(default_factory=list)


def end_of(connector: Connector) -> End:
    """An end as it is told apart: family, size, gender."""
    return connector.family, connector.size, connector.gender


def taken_by(connector: Connector) -> End:
    """The end that mates with this one."""
    return connector.family, connector.size, OPPOSITE[connector.gender]


def merged(rings: list[Ring], most: int) -> tuple[list[Ring], bool]:
    """Of rings alike in ends, length and whether they are bought as many as one sequence can hold; and whether, of very
    many different ones, some were left out (bought ones first, evenly over the lengths)."""
    alike: dict[object, list[Ring]] = {}
    for ring in rings:
        ends = ring.part.sky_side, ring.part.sensor_side
        alike.setdefault((ends, ring.low, ring.high, ring.bought), []).append(ring)
    kept = [ring for group in alike.values() for ring in group[:most]]
    plain = [
        r
        for r in kept
        if r.part.sky_side and r.part.sensor_side and taken_by(r.part.sky_side) == end_of(r.part.sensor_side)
    ]
    if len(plain) <= MOST_RINGS:
        return kept, False
    plain.sort(key=lambda ring: (ring.bought, ring.low))
    owned = sum(not ring.bought for ring in plain)
    among = plain[:owned] if owned >= MOST_RINGS else plain
    step = len(among) / MOST_RINGS
    chosen = {id(among[int(i * step)]) for i in range(MOST_RINGS)}
    plain_ids = {id(ring) for ring in plain}
    return [ring for ring in kept if id(ring) not in plain_ids or id(ring) in chosen], True


def walks_between(wanted: Wanted, rings: list[Ring]) -> Iterator[Walk | None]:
    """Every different choice of converters that leads from one end over the kept parts to the other, fewest first.

    None at the end says that there are more than were looked for.
    """
    kinds: dict[tuple[End, End], list[Ring]] = {}
    for ring in rings:
        if ring.part.sky_side and ring.part.sensor_side:
            kinds.setdefault((taken_by(ring.part.sky_side), end_of(ring.part.sensor_side)), []).append(ring)
    turning = [kind for kind in kinds if kind[0] != kind[1]]
    behind: dict[End, list[int]] = {}
    for i, kind in enumerate(turning):
        behind.setdefault(kind[0], []).append(i)
    gates = [(front_of(item), rear_of(item)) for item in wanted.kept]
    seen: set[object] = set()
    given: set[object] = set()
    away = _steps_to_go(wanted, turning, gates)
    cheap = [sorted(ring.bought for ring in kinds[kind]) for kind in turning]
    # What was used, as the sorted places of the converters among those that turn.
    begun: _State = (end_of(wanted.ahead), 0, (), frozenset([end_of(wanted.ahead)]))
    order = count(1)
    # A step is made into a state only when its turn comes: most never are.
    heap: list[tuple[int, int, _State, int | None]] = [(0, 0, begun, None)]
    while heap:
        _, _, state, step = heappop(heap)
        check_cancelled()
        if len(seen) >= MOST_STATES:
            yield None
            return
        if step is not None:
            end, passed, used, opened = state
            rear = turning[step][1]
            state = (rear, passed, tuple(sorted((*used, step))), opened | {rear})
        if state in seen:
            continue
        seen.add(state)
        end, passed, used, opened = state
        if passed == len(gates) and end == taken_by(wanted.behind) and (used, opened) not in given:
            given.add((used, opened))
            taken = Counter(used)
            pools: list[tuple[list[Ring], int | None]] = [(kinds[turning[i]], taken[i]) for i in sorted(taken)]
            bought = sum(sum(cheap[i][: taken[i]]) for i in taken)
            loops = [
                ring for kind, group in kinds.items() if kind[0] == kind[1] and kind[0] in opened for ring in group
            ]
            yield Walk([*pools, (loops, None)], opened, (bought, len(used)))
        for i in behind.get(end, ()):
            rear = turning[i][1]
            if used.count(i) < len(cheap[i]) and away.get((rear, passed), 99) + len(used) < wanted.most_rings:
                heappush(heap, (len(used) + 1, next(order), state, i))
        if passed < len(gates):
            front, rear_end = gates[passed]
            if front is not None and rear_end is not None and taken_by(front) == end:
                behind_it = end_of(rear_end)
                onward: _State = (behind_it, passed + 1, used, opened | {behind_it})
                heappush(heap, (len(used), next(order), onward, None))


def _steps_to_go(
    wanted: Wanted, turning: list[tuple[End, End]], gates: list[tuple[Connector | None, Connector | None]]
) -> dict[tuple[End, int], int]:
    """Fewest converters from an open end (after so many kept parts) to the far end."""
    todo = [(taken_by(wanted.behind), len(gates))]
    away = {todo[0]: 0}
    while todo:
        end, passed = todo.pop(0)
        back = [((kind[0], passed), 1) for kind in turning if kind[1] == end]
        if passed > 0:
            front, rear = gates[passed - 1]
            if front is not None and rear is not None and end_of(rear) == end:
                back.append(((taken_by(front), passed - 1), 0))
        for state, cost in back:
            if away[(end, passed)] + cost < away.get(state, 99):
                away[state] = away[(end, passed)] + cost
                todo.append(state)
    return away


def may_reach(wanted: Wanted, rings: list[Ring], limit: int, window: int) -> bool:
    """Whether any sequence could land in the window if every ring were there as often as one likes.

    Cheap however many ways join the ends; where not even so, that none does is proved.
    """
    moves: dict[End, set[tuple[End, int, int]]] = {}
    for ring in rings:
        if ring.part.sky_side and ring.part.sensor_side:
            way = (end_of(ring.part.sensor_side), ring.low, ring.high)
            moves.setdefault(taken_by(ring.part.sky_side), set()).add(way)
    gates = [(front_of(item), rear_of(item)) for item in wanted.kept]
    goal = (taken_by(wanted.behind), len(gates))
    now = _through_gates({(end_of(wanted.ahead), 0): 1}, gates)
    for left in range(wanted.most_rings, -1, -1):
        if now.get(goal, 0) & window:
            return True
        then: dict[tuple[End, int], int] = {}
        for (end, passed), sums in now.items() if left else ():
            for rear, low, high in moves.get(end, ()):
                more = spread(sums, low, high, limit)
                then[rear, passed] = then.get((rear, passed), 0) | more
        now = _through_gates(then, gates)
    return False


def _through_gates(
    sums: dict[tuple[End, int], int], gates: list[tuple[Connector | None, Connector | None]]
) -> dict[tuple[End, int], int]:
    """The same sums behind every kept part that may follow at once as well."""
    for passed, (front, rear) in enumerate(gates):
        for (end, before), bits in list(sums.items()):
            if before == passed and front and rear and taken_by(front) == end:
                key = (end_of(rear), passed + 1)
                sums[key] = sums.get(key, 0) | bits
    return sums


def tabulate(walk: Walk, limit: int, most: int) -> None:
    """Sums within reach from each part on, by (still needed of its pool, bought, rings)."""
    tables: list[dict[tuple[int, int, int], int]] = [{(0, 0, 0): 1}]
    need_ahead = 0
    for pool, exactly in reversed(walk.pools):
        now = {(0, b, k): bits for (need, b, k), bits in tables[-1].items() if need == need_ahead}
        for ring in reversed(pool):
            check_cancelled()
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
