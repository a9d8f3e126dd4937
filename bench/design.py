"""Designing for `make bench`: two million combinations with the front proved, a new shelf, memory, and brute force beside it."""

import resource
import time
from collections.abc import Callable
from datetime import date

import numpy as np

from dravel.catalogue.demo import RIDGE, scenario, targets
from dravel.core.design.designer import Designer
from dravel.core.design.request import RigRequest, purposes_of
from dravel.core.design.wanted import months_of
from dravel.core.model import Part, Preferences
from dravel.core.steps import STEPS

TODAY = date(2026, 11, 25)
PRACTICE = Preferences()
MANY = 2_000_000
BRUTE, FORCED = 400, 5_000


def wished(money: float) -> RigRequest:
    """The demo's targets for a sum."""
    listed = targets()
    months = months_of(listed, RIDGE, TODAY, PRACTICE)
    return RigRequest(targets=listed, months=months, purposes=purposes_of(listed), site=RIDGE, money=money, trips=3)


def large() -> tuple[Part, ...]:
    """The demo's shelf with more mounts, supports and supplies, so that two million combinations come of it."""
    shelf, more = scenario().parts, []
    for kind, copies in (("mount", 2), ("support", 1), ("power_source", 1)):
        for part in (part for part in shelf if getattr(part, "kind", "") == kind):
            for k in range(copies):
                mass = (part.mass_g or 1000) * (1.07 + 0.05 * k)
                more.append(
                    part.model_copy(update={"id": f"{part.id}-{k}", "name": f"{part.name}, mark {k}", "mass_g": mass})
                )
    return (*shelf, *more)


def design(row: Callable[..., None]) -> None:
    """A new shelf, the same shelf again, and the long way round."""
    shelf, designer = large(), Designer()
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    first, whole, answer = _asked(designer, wished(1800), shelf)
    row(f"design, a new shelf ({answer.combinations:,} combinations)", whole * 1000, "ms", 6000)
    row("the first rig of it", first * 1000, "ms", 1500)
    first, again, answer = _asked(designer, wished(2200), shelf)
    row(f"the shelf known, other money: the front of {len(answer.rows)} proved", again * 1000, "ms", 1500)
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    row("memory that took", grown, "MB", 400)
    evaluator = designer.evaluator(wished(2200), shelf, PRACTICE)
    screen = evaluator.screen
    dice = np.random.default_rng(1)
    tried = [int(item) for item in dice.choice(screen.size, FORCED, replace=False)]
    begun, wrong, looked = time.perf_counter(), 0, 0
    for k, at in enumerate(tried):
        rig = evaluator.assembler.rig(screen.whole(at), screen.framings[screen.train[at]])[0]
        good = rig is not None and STEPS.evaluate(rig, PRACTICE).verdict != "problem"
        looked += 1
        wrong += good and not screen.works[at] and _is_a_design(screen, at)
        if k + 1 == BRUTE:
            each = (time.perf_counter() - begun) / BRUTE
    note = f"brute force would take {each * screen.size / again:,.0f} × as long"
    row(f"ruled out wrongly, of {looked:,} evaluated one by one", wrong, "rigs", 0.5, note)


def _is_a_design(screen, at: int) -> bool:
    """Whether a combination is one at all: a guided train on a mount that listens, a supply where something draws and only there."""
    whole = screen.whole(at)
    if whole.train.flexure is not None and whole.mount.guide_input == "none":
        return False
    return (whole.train.peak_w > 0 or whole.mount.power is not None) == (whole.supply is not None)


def _asked(designer: Designer, request: RigRequest, shelf: tuple[Part, ...]):
    begun, first, answer = time.perf_counter(), None, None
    for event in designer.search(request, shelf, PRACTICE):
        if event.point is not None and first is None:
            first = time.perf_counter() - begun
        answer = event.answer or answer
    return first or 0.0, time.perf_counter() - begun, answer
