"""The front of best trade-offs, found and proved one by one in the order of promise.

Among all that may still be taken, whatever does best by a sum that rises with every goal is beaten by nothing. It is assembled
and judged by every rule: if nothing breaks it stands on the front, and all that it beats or equals is let go; if something
breaks it goes alone, with those that the same rule would break for the same reason. So the front is exact: nothing on it breaks,
nothing on it is beaten, and nothing that works and is not beaten is missing. It is exact for the canonical rigs of `assemble`, in the steps of `axes`.
"""

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from dravel.core.design.assemble import Assembler
from dravel.core.design.axes import FIT_STEP, MASS_STEP, MOST_EASE, money_unit
from dravel.core.design.loads import trips_of
from dravel.core.design.request import RequestTerms
from dravel.core.design.screen import Ints, Mask, Screen
from dravel.core.model import Preferences, Rig
from dravel.core.model.cancellation import check_cancelled
from dravel.core.steps import STEPS
from dravel.core.steps.mount.carry import pieces, trips
from dravel.core.steps.mount.facts import Load
from dravel.core.train.facts import Spacing

LEAST_WEIGHT = 0.02  # no goal counts for nothing: of rigs that are else alike the better stands
SPEED_SPAN = 11.0  # steps of speed that weigh as much as all of the fit: seven times
MASS_SPAN_KG = 50.0  # that weighs as much
FIRST = ("L", "G", "P")  # rules that break most of what passed the screen
# Which of a combination a rule reads: its train, its mount, its support, its supply. Others read all of it.
READS: dict[str, str] = {
    **dict.fromkeys(("A4", "O1", "O2", "O3", "O4", "O5", "S1", "S2", "S3", "S4", "S6", "S8", "S9", "G1", "C3", "C4", "C6", "C7"), "t"),
    **dict.fromkeys(("L1", "L2", "L3", "L4", "L5", "L7", "L12", "L13", "G2", "G3", "G4", "G5", "G6", "G7", "G8", "C1", "E1", "E2", "E3", "E6", "E8"), "tm"),
    **dict.fromkeys(("L6", "L8", "L9", "L11"), "tms"),
    **dict.fromkeys(("P1", "P2", "P3"), "tmp"),
}  # fmt: skip


@dataclass(frozen=True)
class Outcome:
    """What the rules said of a rig that was assembled: what breaks it, or what strains."""

    rig: Rig | None
    problem: str = ""
    title: str = ""
    reason: str = ""
    warnings: tuple[tuple[str, str], ...] = ()
    ok: int = 0
    trips: int = 0

    @property
    def whole(self) -> Rig:
        """Its rig. Raises `ValueError` where it makes none."""
        if self.rig is None:
            raise ValueError("row: no rig from this combination")
        return self.rig


@dataclass
class Evaluator:
    """Assembles and judges rows of a screen, each once."""

    screen: Screen
    assembler: Assembler
    judged: dict[int, Outcome] = field(default_factory=dict)

    def said(self, row: int) -> Outcome:
        """What the rules say of a row."""
        if row not in self.judged:
            self.judged[row] = self._judge(row)
        return self.judged[row]

    def _judge(self, row: int) -> Outcome:
        check_cancelled()
        screen = self.screen
        rig, meets = self.assembler.rig(screen.whole(row), screen.framings[screen.train[row]])
        if rig is None:
            return Outcome(None, "L3", "No counterweights balance it")
        if meets:
            return Outcome(rig, "L9", "Collision with tripod leg")
        return judged(rig, screen.brief.preferences, screen.whole(row).train.spacing)


def judged(rig: Rig, preferences: Preferences, spacing: Spacing | None = None) -> Outcome:
    """Every rule on a rig, until one breaks; and how many trips on foot it takes. `spacing` is that of its path, where known."""
    context = STEPS.context(rig, preferences)
    if spacing is not None:
        context.shares(spacing)
    warnings, ok = [], 0
    for code in sorted(STEPS.rules, key=lambda code: code[0] not in FIRST):
        for judgement in STEPS.rules[code].judgements(context):
            if judgement.verdict == "problem":
                return Outcome(rig, code, str(judgement.title), str(judgement.reason))
            if judgement.verdict == "warning":
                warnings.append((code, str(judgement.title)))
            else:
                ok += 1
    many = len(trips(pieces(rig, context.of(Load).carried), preferences.trip_kg))
    return Outcome(rig, warnings=tuple(warnings), ok=ok, trips=many)


def promise(screen: Screen, rows: Ints, request: RequestTerms) -> NDArray[np.float64]:
    """What rows promise by the weights of the goals: the smaller the better, and smaller whenever any goal is a step better."""
    goals, steps = request.goals, steps_under(screen, rows, request)
    most = request.money or (float(screen.money_c.max()) / 100 if screen.size else 0.0)
    unit = money_unit(request.money) / 100
    spans = np.array([most / unit, MASS_SPAN_KG / MASS_STEP, 1 / FIT_STEP, SPEED_SPAN, MOST_EASE])
    weights = np.array([goals.money, goals.mass, goals.fit, goals.speed, goals.ease])
    # Of rigs that are alike in all steps the one that costs and weighs a little less.
    little = (screen.money_c[rows] / 100 + screen.grams[rows] / 1000) * 1e-9
    return np.asarray(steps @ (np.maximum(weights, LEAST_WEIGHT) / np.maximum(spans, 1.0)) + little)


def steps_under(screen: Screen, rows: Ints, request: RequestTerms) -> Ints:
    """The five goals of some rows in steps, those of money as large as the request makes them."""
    steps = screen.steps[rows].astype(np.int64)
    steps[:, 0] = -(-screen.money_c[rows] // money_unit(request.money))
    return steps


def same_reason(screen: Screen, rows: Ints, row: int, code: str) -> Mask:
    """Which of some rows a rule breaks for the same reason as one row: those alike in all that it reads."""
    reads = READS.get(code, "tmsp")
    alike = screen.train[rows] == screen.train[row]
    for letter, index in (("m", screen.mount), ("s", screen.support), ("p", screen.supply)):
        if letter in reads:
            alike = alike & (index[rows] == index[row])
    return np.asarray(alike, dtype=bool)


def front(
    evaluator: Evaluator,
    allowed: Mask,
    request: RequestTerms,
    told: Callable[[int, int], None] = lambda left, judged: None,
) -> Iterator[tuple[int, Outcome]]:
    """Rows of the front among those allowed, the most promising first, each judged by every rule.

    `told` hears how many may still be taken and how many were judged.
    """
    screen = evaluator.screen
    rows = np.flatnonzero(allowed & screen.works)
    if request.trips is not None:
        rows = rows[trips_of(screen, rows) <= request.trips]
    steps, order = steps_under(screen, rows, request), promise(screen, rows, request)
    many = 0
    while len(rows):
        at = int(np.argmin(order))
        if not np.isfinite(order[at]):
            return
        said = evaluator.said(int(rows[at]))
        many += 1
        if said.problem:
            order[same_reason(screen, rows, int(rows[at]), said.problem)] = np.inf
            order[at] = np.inf
        else:
            yield int(rows[at]), said
            keep = (steps < steps[at]).any(axis=1) & np.isfinite(order)
            rows, steps, order = rows[keep], steps[keep], order[keep]
        told(len(rows), many)


STRAIN = 0.04  # what a rule that strains takes off a rig's promise: as much as a twentieth of the fit


def by_promise(evaluator: Evaluator, rows: Sequence[int], request: RequestTerms) -> tuple[int, ...]:
    """Judged rows in the order they are shown in: by promise, each rule that strains taken off it.

    What strains is known only when a rig is judged; it orders the front and leaves nothing out of it.
    """
    order = promise(evaluator.screen, np.array(rows, dtype=np.int64), request)
    cost = {
        row: float(own) + STRAIN * len({code for code, _ in evaluator.said(row).warnings})
        for row, own in zip(rows, order, strict=True)
    }
    return tuple(sorted(rows, key=lambda row: cost[row]))


def refusals(evaluator: Evaluator) -> Counter[str]:
    """How many assembled rigs each rule broke."""
    return Counter(said.problem for said in evaluator.judged.values() if said.problem)
