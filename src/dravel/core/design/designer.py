"""The designer: keeps tables of trains by shelf and what was screened for some targets, and answers requests out of them."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from dravel.core.design import conflict, reasons
from dravel.core.design.answer import DesignAnswer, Designed, Point, Reason, RuledOut, designed, point
from dravel.core.design.assemble import Assembler
from dravel.core.design.axes import Aims, fit_step
from dravel.core.design.front import Evaluator, Outcome, by_promise, front, refusals
from dravel.core.design.later import Improvement, Staged, improved, staged
from dravel.core.design.lifts import lifts
from dravel.core.design.paths import Brief, Paths
from dravel.core.design.refused import refused
from dravel.core.design.request import STAYS, RigRequest, in_lines, purposes_of
from dravel.core.design.screen import Mask, Screen
from dravel.core.design.shop import Shop, share_of
from dravel.core.design.trains import Table, fill
from dravel.core.design.untracked import on_a_tripod, words_of
from dravel.core.model import Part, Preferences, Rig
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.steps import STEPS

KEPT = 4  # tables, and screens of each
# Trains and rows that all of them may have together: some fifty kilobytes and a hundred bytes each, which bounds memory.
KEPT_TRAINS, MOST_ROWS = 2500, 1_500_000
MOST_JUDGED = 3000  # rigs that are assembled for one request: where nearly all break, that is the answer
WORTH_HAVING = (0.4, 0.2, 0.0)  # of the target-months: what the nearest rig should do, or else less
STEPS_TOLD = 25  # of a new shelf: often enough to be seen to move
LOOKS_AT = (0.1, 0.4)  # of the paths of a new shelf: when a first look is taken at what is there


TOLD = {
    "telescope": "telescopes", "corrector": "correctors", "camera": "cameras", "mount": "mounts",
    "support": "tripods and piers",
}  # fmt: skip


class DesignEvent(Model):
    """What is told while a design is made: how far it is, a rig of the front (`sure` once no other can beat it), the answer."""

    kind: Literal["progress", "rig", "answer", "failed"]
    words: Text = Text("")
    done: int = 0
    total: int = 0
    point: Point | None = None
    sure: bool = False
    answer: DesignAnswer | None = None


class TooMany(Exception):
    """So many rigs were judged that the rest is not looked at."""


class BadRequest(ValueError):
    """A request that cannot be asked: which field, and why."""


@dataclass
class _Kept:
    table: Table
    courts: list[tuple[Aims, float, Evaluator]] = field(default_factory=list)


class Designer:
    """Answers requests over shelves. Several threads may ask at once: what is kept is whole before it is kept."""

    def __init__(self) -> None:
        self._kept: list[_Kept] = []

    def search(
        self, request: RigRequest, shelf: tuple[Part, ...], preferences: Preferences, beside: tuple[Words, ...] = ()
    ) -> Iterator[DesignEvent]:
        """The front for a request, told as it is found; the last event is the answer, with notes from elsewhere `beside` it.

        Raises `BadRequest` where the request names what is not there.
        """
        check(request, shelf)
        kept = self._known(request, shelf, preferences)
        if kept is None:
            # A table of its own until it is whole: who stops listening leaves nothing half made.
            kept = _Kept(_empty(request, shelf, preferences))
            yield from self._fill(kept.table, request)
            self._keep(kept)
        evaluator = self._court(kept, request)
        allowed = self._allowed(evaluator, request)
        rows: list[int] = []
        left = [0, 0]

        def told(still: int, judged: int) -> None:
            left[:] = still, judged
            if judged > MOST_JUDGED:
                raise TooMany

        for row, said in _until(front(evaluator, allowed, request, told)):
            rows.append(row)
            words = text(
                "{rows} valid; {left} of {sum} left", rows=len(rows), left=Value(left[0]), sum=Value(int(allowed.sum()))
            )
            yield DesignEvent(kind="rig", point=point(evaluator.screen, row, said), sure=True, words=words)
        if left[0] and left[1] > MOST_JUDGED:
            told_so = text(
                "Search limit reached: {MOST_JUDGED} rigs judged, {left} combinations not checked.",
                MOST_JUDGED=Value(MOST_JUDGED),
                left=Value(left[0]),
            )
            beside = (*beside, told_so)
        yield DesignEvent(
            kind="answer",
            answer=self._answer(evaluator, request, by_promise(evaluator, rows, request), allowed, beside),
            words="done",
        )

    def evaluator(self, request: RigRequest, shelf: tuple[Part, ...], preferences: Preferences) -> Evaluator:
        """What was screened and judged for a request, made anew where it is not kept."""
        check(request, shelf)
        kept = self._known(request, shelf, preferences)
        if kept is None:
            kept = _Kept(_empty(request, shelf, preferences))
            for _ in fill(kept.table):
                pass
            self._keep(kept)
        return self._court(kept, request)

    def rig(self, request: RigRequest, shelf: tuple[Part, ...], preferences: Preferences, row: int) -> Designed:
        """One rig of the front, told whole."""
        evaluator = self.evaluator(request, shelf, preferences)
        return designed(evaluator.screen, row, judged_row(evaluator, row))

    def why(
        self, request: RigRequest, shelf: tuple[Part, ...], preferences: Preferences, row: int, rows: tuple[int, ...]
    ) -> tuple[Reason, ...]:
        """What is said of one rig of a front."""
        evaluator = self.evaluator(request, shelf, preferences)
        for item in (row, *rows):
            judged_row(evaluator, item)
        return reasons.of_rig(evaluator, request, row, rows)

    def stages(
        self, request: RigRequest, shelf: tuple[Part, ...], preferences: Preferences, row: int, today: float
    ) -> Staged | None:
        """A first stage for today's money towards a rig of the front."""
        evaluator = self.evaluator(request, shelf, preferences)
        return staged(evaluator, request, row, judged_row(evaluator, row), today)

    def improve(self, request: RigRequest, shelf: tuple[Part, ...], preferences: Preferences, rig: Rig) -> Improvement:
        """The one or two changes that help a rig most. `request` names its targets and what may be spent."""
        return improved(self.evaluator(request, shelf, preferences), request, rig)

    def _keep(self, kept: _Kept) -> None:
        """Keep a table, and let go of those made longest ago where there is more than may be kept."""
        left, result = KEPT_TRAINS - len(kept.table.trains), [kept]
        for item in self._kept[: KEPT - 1]:
            left -= len(item.table.trains)
            if left < 0:
                break
            result.append(item)
        self._kept = result

    def _known(self, request: RigRequest, shelf: tuple[Part, ...], preferences: Preferences) -> _Kept | None:
        wanted = _empty(request, shelf, preferences)
        result = (item for item in self._kept if item.table.brief == wanted.brief and item.table.shop == wanted.shop)
        return next(result, None)

    def _fill(self, table: Table, request: RigRequest) -> Iterator[DesignEvent]:
        """The table of a new shelf, with a first look at it as soon as there is something to see."""
        looks, seen, shown = list(LOOKS_AT), False, -1
        for done, total in fill(table):
            share = done * STEPS_TOLD // max(total, 1)
            if share == shown:
                continue
            shown = share
            yield DesignEvent(
                kind="progress",
                done=done,
                total=total,
                words=text("{done} of {total} light paths built", done=done, total=total),
            )
            if looks and not seen and looks[0] * total <= done < total:
                looks.pop(0)
                for event in self._first_look(table, request):
                    seen = True
                    yield event

    def _first_look(self, table: Table, request: RigRequest) -> Iterator[DesignEvent]:
        part = Table(table.shop, table.brief, list(table.trains))
        if not part.trains or not part.mounts or not part.supports:
            return
        assembler = Assembler(part, share_of(request.second_hand))
        evaluator = Evaluator(Screen(part, Aims(request.targets, request.counts), assembler), assembler)
        result = next(front(evaluator, self._allowed(evaluator, request), request), None)
        if result is not None:
            yield DesignEvent(kind="rig", point=point(evaluator.screen, *result), words="so far")

    def _court(self, kept: _Kept, request: RigRequest) -> Evaluator:
        aims, share = Aims(request.targets, request.counts), share_of(request.second_hand)
        for item, other, evaluator in kept.courts:
            if item == aims and other == share:
                return evaluator
        assembler = Assembler(kept.table, share)
        evaluator = Evaluator(Screen(kept.table, aims, assembler), assembler)
        kept.courts = [(aims, share, evaluator), *kept.courts][:KEPT]
        self._make_room(evaluator)
        return evaluator

    def _make_room(self, newest: Evaluator) -> None:
        """Let go of what was screened longest ago, where there is more than may be kept."""
        left = MOST_ROWS - newest.screen.size
        for kept in self._kept:
            for court in list(kept.courts):
                if court[2] is newest:
                    continue
                left -= court[2].screen.size
                if left < 0:
                    kept.courts.remove(court)

    @staticmethod
    def _allowed(evaluator: Evaluator, request: RigRequest) -> Mask:
        return np.asarray(
            np.logical_and.reduce([evaluator.screen.works, *evaluator.screen.requests(request).values()]), dtype=bool
        )

    def _answer(
        self, evaluator: Evaluator, request: RigRequest, rows: tuple[int, ...], allowed: Mask, beside: tuple[Words, ...]
    ) -> DesignAnswer:
        screen, table = evaluator.screen, evaluator.screen.table
        said: tuple[Reason, ...] = reasons.of_answer(evaluator, request, rows)
        clash: tuple[str, ...] = ()
        nearest: Designed | None = None
        if not rows and (still := self._still(evaluator, request)) is not None:
            said = (*said, still)
        if not rows:
            lacking = lacks(table)
            clash = () if lacking else conflict.smallest_conflict(evaluator, request)
            lines = [conflict.worded(name, request) for name in clash]
            if not lacking and not clash:
                lacking = nothing_stands(evaluator)
            if lacking:
                said = (Reason(key="lacks", title="Parts missing:", words=lacking), *said)
            elif lines:
                title = "These constraints conflict:" if len(lines) > 1 else "No rig possible:"
                said = (Reason(key="conflict", title=title, words=text("{told}.", told=_list(lines))), *said)
            why = refused(evaluator, request, clash[0]) if len(clash) == 1 else None
            said = (*said, *(() if why is None else (why,)), *lifts(evaluator, request, clash))
            if "money" in clash:
                near = self._nearest(evaluator, request)
                if near is not None:
                    nearest = designed(screen, *near)
                    words = reasons.nearest_words(evaluator, request, *near)
                    said = (*said, Reason(key="nearest", title="Not within this budget.", words=words, row=near[0]))
        titles = {item.problem: item.title for item in evaluator.judged.values() if item.problem}
        return DesignAnswer(
            rows=rows,
            choices=table.choices,
            trains=len(table.trains),
            combinations=screen.size,
            allowed=int(allowed.sum()),
            judged=len(evaluator.judged),
            ruled_out=tuple(
                RuledOut(code=code, title=titles[code], count=count)
                for code, count in refusals(evaluator).most_common()
            ),
            reasons=said,
            conflict=tuple(conflict.worded(name, request) for name in clash),
            nearest=nearest,
            notes=(*beside, *notes(table)),
        )

    @staticmethod
    def _still(evaluator: Evaluator, request: RigRequest) -> Reason | None:
        """A camera on a tripod, where no rig with a mount can be had for the money."""
        brief, share = evaluator.screen.brief, evaluator.screen.share
        if request.money is None or brief.planets:
            return None
        rig = on_a_tripod(evaluator.screen.table.shop, brief, request.money, share)
        if rig is None:
            return None
        words = words_of(rig, share, request.currency)
        return Reason(key="untracked", title="Without a mount:", words=words, rig=rig)

    def _nearest(self, evaluator: Evaluator, request: RigRequest) -> tuple[int, Outcome] | None:
        """The cheapest that frames a good part of the targets, else any part worth telling."""
        masks = {name: mask for name, mask in evaluator.screen.requests(request).items() if name != "money"}
        allowed = np.logical_and.reduce(list(masks.values()))
        for least in WORTH_HAVING:
            good = allowed & (evaluator.screen.steps[:, 2] <= -fit_step(least))
            result = conflict.nearest(evaluator, good, request)
            if result is not None:
                return result
        return None


def _until(found: Iterator[tuple[int, Outcome]]) -> Iterator[tuple[int, Outcome]]:
    """What is found until too many were judged."""
    try:
        yield from found
    except TooMany:
        return


def _empty(request: RigRequest, shelf: tuple[Part, ...], preferences: Preferences) -> Table:
    """The table that a request asks for, with nothing in it yet."""
    purposes = request.purposes or purposes_of(request.targets)
    keep = (*request.stays, *((request.case,) if request.case else ()))
    narrow = request.narrowband and any(target.body is None for target in request.targets)
    brief = Brief(purposes, request.site, preferences, narrow or in_lines(request.targets), narrow)
    return Table(Shop.of(shelf, request.currency, keep), brief)


def judged_row(evaluator: Evaluator, row: int) -> Outcome:
    """What was said of a row. Raises `BadRequest` where there is no such row, or it makes no rig that works."""
    if not 0 <= row < evaluator.screen.size:
        raise BadRequest("row: there is no such rig; parts or constraints have changed")
    said = evaluator.said(row)
    if said.problem or said.rig is None:
        raise BadRequest("row: no valid rig; parts or constraints have changed")
    return said


def check(request: RigRequest, shelf: tuple[Part, ...]) -> None:
    """Whether what a request names is there. Raises `BadRequest`, naming the field."""
    known = {part.id: part for part in shelf if part.id is not None}
    for key in request.stays:
        part = known.get(key)
        if part is None:
            raise BadRequest(f"stays: there is no part '{key}' among your parts")
        if part.status == "retired":
            raise BadRequest(f"stays: the {part.name} is archived")
        kind = getattr(part, "kind", "part")
        if kind not in STAYS:
            raise BadRequest(
                f"stays: the {part.name} is of a kind ({kind.replace('_', ' ')}) that is chosen to suit the rest"
            )
    if request.case is not None:
        case = known.get(request.case)
        if case is None or getattr(case, "function", "") != "case":
            raise BadRequest(f"case: there is no case '{request.case}' among your parts")
    if not any(request.counts):
        raise BadRequest("targets: none is high enough at this site in any month")
    if {"mono", "colour"} <= set(request.not_wanted):
        raise BadRequest("not_wanted: a camera is either mono or colour; one of them has to be wanted")


def lacks(table: Table) -> Words:
    """What a shop has none of that every rig needs, in words; empty where it has all."""
    kinds = (("telescopes or lenses", "telescope"), ("cameras", "camera"), ("mounts", "mount"), ("supports", "support"))
    none = [words for words, kind in kinds if not any(getattr(part, "kind", "") == kind for part in table.shop.parts)]
    if none:
        beside = (
            text(" {unpriced} parts for sale have no price.", unpriced=table.shop.unpriced)
            if table.shop.unpriced
            else ""
        )
        return text(
            "no {none} owned or for sale in {currency}.{beside}",
            none=_list(none),
            currency=table.shop.currency,
            beside=beside,
        )
    if not table.mounts:
        return "no tracking mount among your parts."
    if not table.trains and not Paths(table.shop, table.brief).cameras:
        return text(
            "no camera {which} among your parts for these targets.",
            which="that takes video" if table.brief.planets else "with a sensor for pictures",
        )
    if not table.trains:
        return "none of your parts form a light path without a problem in Optics or Spacing."
    return ""


def nothing_stands(evaluator: Evaluator) -> Words:
    """Which rules leave nothing of a shelf, whatever is wished, in words."""
    result = evaluator.screen.ruled_out() if not evaluator.screen.works.any() else refusals(evaluator).most_common()
    pairs = len(evaluator.screen.trains) * len(evaluator.screen.mounts)
    lines = [
        text("{code} ({code_2}) {many}", code=code, code_2=rule_title(code), many=Value(many))
        for code, many in result[:3]
    ]
    what = (
        text("Of {pairs} image trains on mounts these rules exclude", pairs=Value(pairs))
        if not evaluator.screen.works.any()
        else "Assembled rigs were excluded by"
    )
    return (
        text("no valid combination of your parts. {what}: {told}.", what=what, told=_list(lines))
        if lines
        else "no tripod or pier carries any of them (L11)."
    )


def rule_title(code: str) -> str:
    """What a rule is about, as a part of a sentence."""
    return STEPS.rules[code].title.lower() if code in STEPS.rules else code


def notes(table: Table) -> tuple[Words, ...]:
    """What had to be left out, in words."""
    lines = []
    counts = {kind: (few, many) for kind, few, many in table.shop.narrowed}
    if said := [
        text("{counts} of {counts_2} {words}", counts=counts[kind][0], counts_2=Value(counts[kind][1]), words=words)
        for kind, words in TOLD.items()
        if kind in counts
    ]:
        lines.append(text("Large parts list: {said} compared, the cheapest of each size.", said=_list(said)))
    if table.unlaid:
        lines.append(text("{unlaid} more light paths were not checked: too many parts.", unlaid=Value(table.unlaid)))
    if table.shop.unpriced:
        lines.append(text("{unpriced} parts for sale without a price were excluded.", unpriced=table.shop.unpriced))
    if table.shop.foreign:
        lines.append(
            text(
                "{foreign} parts priced in a currency other than {currency} were excluded.",
                foreign=table.shop.foreign,
                currency=table.shop.currency,
            )
        )
    return tuple(lines)


def _list(words: Sequence[Words]) -> Words:
    return (
        words[0]
        if len(words) == 1
        else text("{words} and {words_2}", words=joined(", ", words[:-1]), words_2=words[-1])
    )
