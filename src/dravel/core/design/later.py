"""Two ways from what there is: a first stage towards a rig wanted later, and the few changes that help a rig most."""

import numpy as np
from numpy.typing import NDArray

from dravel.core.design import axes
from dravel.core.design.answer import Buy, Designed, buys_of, designed
from dravel.core.design.front import Evaluator, Outcome, front, same_reason
from dravel.core.design.likeness import changes_of, differs
from dravel.core.design.loads import trips_of
from dravel.core.design.reasons import gained, numbers
from dravel.core.design.request import RigRequest
from dravel.core.design.screen import Screen
from dravel.core.design.shop import price_of
from dravel.core.model import Part, Rig
from dravel.core.model.base import Model
from dravel.core.model.inventory import HAD, parts_of
from dravel.core.model.words import Text, Words, joined, text

MOST_JUDGED = 150
ENOUGH = 0.5  # of the best fit today's money buys: less is no rig to wait with. Dravel's own convention
MOST_WAYS = 5


class Staged(Model):
    """A first stage out of today's money, and the rest for the rig wanted later. Sums in the request's currency.

    `survives` is what is bought today and serves in the later rig, `lost` what does not.
    """

    today: Designed
    later: Designed
    today_costs: float
    survives: float
    lost: float
    later_costs: float
    total: float
    kept: tuple[str, ...]
    gone: tuple[str, ...]
    then: tuple[Buy, ...]


def bought(rig: Rig) -> list[Part]:
    """Parts of a rig that are to be bought, each as often as it stands there."""
    return [part for part in parts_of(rig) if part.status not in HAD]


def staged(evaluator: Evaluator, request: RigRequest, later_row: int, later: Outcome, today: float) -> Staged | None:
    """What to buy with today's money so that most of it survives into a later rig; None where nothing works for it.

    Among rigs that frame at least half of what the best for today's money does, the one with most money that survives less
    the money that is lost.
    """
    screen = evaluator.screen
    masks = {name: mask for name, mask in screen.requests(request).items() if name != "money"}
    allowed = np.logical_and.reduce([screen.works, *masks.values(), screen.money_c <= round(today * 100)])
    rows = np.flatnonzero(allowed)
    if request.trips is not None:
        rows = rows[trips_of(screen, rows) <= request.trips]
    if not len(rows) or later.rig is None:
        return None
    fit = -screen.steps[rows, 2]
    rows = rows[fit >= ENOUGH * fit.max()]
    worth = _worth(screen, {part.id for part in bought(later.rig)})
    order = np.lexsort((screen.steps[rows, 3], screen.steps[rows, 2], -worth[rows]))
    rows = rows[order]
    for _ in range(MOST_JUDGED):
        if not len(rows):
            return None
        said = evaluator.said(int(rows[0]))
        if said.rig is not None and not said.problem:
            return _told(evaluator, int(rows[0]), said, later_row, later)
        keep = ~same_reason(screen, rows, int(rows[0]), said.problem)
        keep[0] = False
        rows = rows[keep]
    return None


def _worth(screen: Screen, later: set[str | None]) -> NDArray[np.int64]:
    """Of each row, hundredths that survive into a later rig less those that are lost."""

    def signed(parts: tuple[Part | None, ...]) -> int:
        cents = [(round(price_of(part, screen.share) * 100), part.id in later) for part in parts if part is not None]
        return sum(amount if stays else -amount for amount, stays in cents)

    own = np.array([signed(train.parts) for train in screen.trains], dtype=np.int64)
    heads = np.array([signed((mount,)) for mount in screen.mounts], dtype=np.int64)
    legs = np.array([signed((support,)) for support in screen.supports], dtype=np.int64)
    cells = np.array([signed((supply,)) for supply in screen.supplies], dtype=np.int64)
    return np.asarray(own[screen.train] + heads[screen.mount] + legs[screen.support] + cells[screen.supply])


def _told(evaluator: Evaluator, row: int, said: Outcome, later_row: int, later: Outcome) -> Staged:
    screen, share = evaluator.screen, evaluator.screen.share
    now, then_rig = said.whole, later.whole
    wanted: dict[str | None, int] = {}
    for part in bought(then_rig):
        wanted[part.id] = wanted.get(part.id, 0) + 1
    stays: list[Part] = []
    gone: list[Part] = []
    for part in bought(now):
        if wanted.get(part.id, 0):
            wanted[part.id] -= 1
            stays.append(part)
        else:
            gone.append(part)
    rest = _without(bought(then_rig), stays)
    survives, lost, then = (axes.cents(parts, share) for parts in (stays, gone, rest))
    return Staged(
        today=designed(screen, row, said),
        later=designed(screen, later_row, later),
        today_costs=(survives + lost) / 100,
        survives=survives / 100,
        lost=lost / 100,
        later_costs=then / 100,
        total=(survives + lost + then) / 100,
        kept=tuple(dict.fromkeys(part.name for part in stays)),
        gone=tuple(dict.fromkeys(part.name for part in gone)),
        then=tuple(buy for buy in buys_of(then_rig, share) if any(part.name == buy.name for part in rest)),
    )


def _without(parts: list[Part], taken: list[Part]) -> list[Part]:
    left = list(parts)
    for part in taken:
        left.remove(next(item for item in left if item.id == part.id))
    return left


class Improved(Model):
    """One or two changes of a rig: what is changed for what, and what that gains by the five goals."""

    changes: tuple[Text, ...]
    designed: Designed
    gains: Text


class Improvement(Model):
    """The changes that help a rig most, the most promising first; `before` is the rig as a design would have it."""

    before: Designed | None
    ways: tuple[Improved, ...]
    words: Text = Text("")


def improved(evaluator: Evaluator, request: RigRequest, rig: Rig) -> Improvement:
    """The best rigs that differ from a rig in one or two of telescope, corrector, camera, filter holder, guiding, mount,
    support and supply. Its rings, weights, cables and gear follow from those.
    """
    screen = evaluator.screen
    off = differs(screen, rig)
    same = np.flatnonzero((off == 0) & screen.affordable)
    before = next(((int(row), evaluator.said(int(row))) for row in same), None)
    masks = {name: mask for name, mask in screen.requests(request).items() if name != "targets"}
    allowed = np.logical_and.reduce([screen.works, *masks.values(), (off > 0) & (off <= 2)])
    if before is not None:
        base = screen.steps[before[0]]
        # What is better at fit or at speed, and no worse at the other.
        better = (screen.steps[:, 2] < base[2]) & (screen.steps[:, 3] <= base[3])
        better |= (screen.steps[:, 3] < base[3]) & (screen.steps[:, 2] <= base[2])
        broken = bool(before[1].problem)
        allowed &= screen.works if broken else better
    ways = []
    for row, said in front(evaluator, allowed, request):
        ways.append(_way(evaluator, rig, before, row, said))
        if len(ways) == MOST_WAYS:
            break
    shown = designed(screen, *before) if before is not None and not before[1].problem else None
    words: Words = "" if ways else "No one or two changes within these constraints bring a noticeable gain."
    if before is None:
        words = joined(" ", (words, text("The rig has problems now, so suggestions are not compared with it.")))
    return Improvement(before=shown, ways=tuple(ways), words=words)


def _way(evaluator: Evaluator, rig: Rig, before: tuple[int, Outcome] | None, row: int, said: Outcome) -> Improved:
    changes = changes_of(evaluator, rig, said.rig) if said.rig else []
    then = designed(evaluator.screen, row, said)
    own = numbers(evaluator, *before) if before is not None and before[1].rig is not None else None
    return Improved(changes=tuple(changes), designed=then, gains=gained(then.scores, own) if own is not None else "")
