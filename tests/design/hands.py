"""Small shelves, requests and the long way round: every combination assembled and evaluated, one by one."""

import random
from dataclasses import dataclass
from typing import Any

import numpy as np

from dravel.catalogue.demo import RIDGE, targets
from dravel.catalogue.prices import priced
from dravel.catalogue.starter_shelf import starter_shelf
from dravel.core.design import axes
from dravel.core.design.assemble import Assembler
from dravel.core.design.axes import Aims
from dravel.core.design.front import Evaluator
from dravel.core.design.paths import Brief
from dravel.core.design.request import RigRequest, in_lines, purposes_of
from dravel.core.design.screen import Screen
from dravel.core.design.shop import Shop, share_of
from dravel.core.design.trains import Table, fill
from dravel.core.model import Part, Preferences, Rig
from dravel.core.steps import STEPS

PRACTICE = Preferences()
DEMO = targets()
LISTED = tuple(priced(part) for part in starter_shelf())
ALWAYS = ("adapter", "filter", "accessory", "rider", "cable", "counterweight", "dew_heater")
FEW = {"telescope": 4, "corrector": 10, "camera": 5, "filter_holder": 2, "guide_scope": 1, "off_axis_guider": 1,
       "mount": 4, "support": 3, "power_source": 3, "focuser": 0}  # fmt: skip


def small_shelf(seed: int) -> tuple[Part, ...]:
    """A few parts of each kind that is chosen, all the rest, some of them owned."""
    dice = random.Random(seed)
    taken: list[Part] = []
    for kind in sorted({part.kind for part in LISTED}):
        every = [part for part in LISTED if part.kind == kind]
        taken += every if kind in ALWAYS else dice.sample(every, min(FEW[kind], len(every)))
    guide = next(part for part in LISTED if part.id == "guide-48")
    taken += [guide] if guide not in taken else []
    return tuple(
        part.model_copy(update={"status": "owned"}) if dice.random() < 0.3 else part
        for part in sorted(taken, key=lambda part: part.id or "")
    )


def some_request(seed: int, **more: Any) -> RigRequest:
    """A request for some of the demo's targets."""
    dice = random.Random(seed)
    chosen = tuple(dice.sample(DEMO, dice.randint(1, 4)))
    terms = {
        "money": dice.choice([None, 1500, 4000, 9000]),
        "steady": dice.random() < 0.5,
        "mains": dice.random() < 0.5,
    }
    return RigRequest(targets=chosen, purposes=purposes_of(chosen), site=RIDGE, **{**terms, **more})


@dataclass
class Bench:
    """A table that is filled, screened for a request, and its evaluator."""

    request: RigRequest
    screen: Screen
    evaluator: Evaluator

    @property
    def assembler(self) -> Assembler:
        """What assembles its rows."""
        return self.evaluator.assembler

    def allowed(self) -> Any:
        """What all requests together leave, rules not asked."""
        return np.logical_and.reduce(list(self.screen.requests(self.request).values()))

    def rig(self, row: int) -> Rig | None:
        """A row assembled."""
        return self.assembler.rig(self.screen.whole(row), self.screen.framings[self.screen.train[row]])[0]


def bench(shelf: tuple[Part, ...], request: RigRequest) -> Bench:
    """A shelf set up for a request."""
    brief = Brief(request.purposes or purposes_of(request.targets), request.site, PRACTICE, in_lines(request.targets))
    table = Table(Shop.of(shelf, request.currency), brief)
    for _ in fill(table):
        pass
    assembler = Assembler(table, share_of(request.second_hand))
    screen = Screen(table, Aims(request.targets, request.counts), assembler)
    return Bench(request, screen, Evaluator(screen, assembler))


def accepted(rig: Rig | None) -> bool:
    """Whether `evaluate` finds nothing that breaks: the long way round, with nothing kept from before."""
    return rig is not None and STEPS.evaluate(rig, PRACTICE).verdict != "problem"


def beaten(steps: Any, others: Any) -> bool:
    """Whether one of some others is nowhere worse and somewhere better."""
    return bool(((others <= steps).all(axis=1) & (others < steps).any(axis=1)).any())


def scores(found: Bench, row: int, rig: Rig) -> axes.Scores:
    """What an assembled rig scores, from its document."""
    screen = found.screen
    train, mount = screen.trains[screen.train[row]], screen.mounts[screen.mount[row]]
    return axes.score(rig, train, mount, screen.aims, screen.brief, screen.share)
