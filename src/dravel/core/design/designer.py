"""The designer: keeps tables of trains by shelf and what was screened for some targets, and answers wishes out of them."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from dravel.core.design import conflict, reasons
from dravel.core.design.answer import DesignAnswer, Designed, Point, Reason, RuledOut, designed, point
from dravel.core.design.assemble import Assembler
from dravel.core.design.axes import Aims, fit_step
from dravel.core.design.front import Court, Said, by_promise, front, refusals
from dravel.core.design.later import Improvement, Staged, improved, staged
from dravel.core.design.lifts import lifts
from dravel.core.design.paths import Brief, Paths
from dravel.core.design.refused import refused
from dravel.core.design.screen import Mask, Screen
from dravel.core.design.shop import Shop, share_of
from dravel.core.design.trains import Table, fill
from dravel.core.design.untracked import on_a_tripod, words_of
from dravel.core.design.wish import STAYS, Wish, in_lines, purposes_of
from dravel.core.model import Part, Practice, Rig
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.steps import STEPS

KEPT = 4  # tables, and screens of each
# Trains and rows that all of them may have together: some fifty kilobytes and a hundred bytes each, which bounds memory.
KEPT_TRAINS, MOST_ROWS = 2500, 1_500_000
MOST_JUDGED = 3000  # rigs that are assembled for one wish: where nearly all break, that is the answer
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


class BadWish(ValueError):
    """A wish that cannot be asked: which field, and why."""


@dataclass
class _Kept:
    table: Table
    courts: list[tuple[Aims, float, Court]] = field(default_factory=list)


class Designer:
    """Answers wishes over shelves. Several threads may ask at once: what is kept is whole before it is kept."""

    def __init__(self) -> None:
        self._kept: list[_Kept] = []

    def search(
        self, wish: Wish, shelf: tuple[Part, ...], practice: Practice, beside: tuple[Words, ...] = ()
    ) -> Iterator[DesignEvent]:
        """The front for a wish, told as it is found; the last event is the answer, with notes from elsewhere `beside` it.

        Raises `BadWish` where the wish names what is not there.
        """
        check(wish, shelf)
        kept = self._known(wish, shelf, practice)
        if kept is None:
            # A table of its own until it is whole: who stops listening leaves nothing half made.
            kept = _Kept(_empty(wish, shelf, practice))
            yield from self._fill(kept.table, wish)
            self._keep(kept)
        court = self._court(kept, wish)
        allowed = self._allowed(court, wish)
        rows: list[int] = []
        left = [0, 0]

        def told(still: int, judged: int) -> None:
            left[:] = still, judged
            if judged > MOST_JUDGED:
                raise TooMany

        for row, said in _until(front(court, allowed, wish, told)):
            rows.append(row)
            words = text(
                "{rows} valid; {left} of {sum} left", rows=len(rows), left=Value(left[0]), sum=Value(int(allowed.sum()))
            )
            yield DesignEvent(kind="rig", point=point(court.screen, row, said), sure=True, words=words)
        if left[0] and left[1] > MOST_JUDGED:
            told_so = text(
                "Search limit reached: {MOST_JUDGED} rigs judged, {left} combinations not checked.",
                MOST_JUDGED=Value(MOST_JUDGED),
                left=Value(left[0]),
            )
            beside = (*beside, told_so)
        yield DesignEvent(
            kind="answer",
            answer=self._answer(court, wish, by_promise(court, rows, wish), allowed, beside),
            words="done",
        )

    def court(self, wish: Wish, shelf: tuple[Part, ...], practice: Practice) -> Court:
        """What was screened and judged for a wish, made anew where it is not kept."""
        check(wish, shelf)
        kept = self._known(wish, shelf, practice)
        if kept is None:
            kept = _Kept(_empty(wish, shelf, practice))
            for _ in fill(kept.table):
                pass
            self._keep(kept)
        return self._court(kept, wish)

    def rig(self, wish: Wish, shelf: tuple[Part, ...], practice: Practice, row: int) -> Designed:
        """One rig of the front, told whole."""
        court = self.court(wish, shelf, practice)
        return designed(court.screen, row, judged_row(court, row))

    def why(
        self, wish: Wish, shelf: tuple[Part, ...], practice: Practice, row: int, rows: tuple[int, ...]
    ) -> tuple[Reason, ...]:
        """What is said of one rig of a front."""
        court = self.court(wish, shelf, practice)
        for one in (row, *rows):
            judged_row(court, one)
        return reasons.of_rig(court, wish, row, rows)

    def stages(self, wish: Wish, shelf: tuple[Part, ...], practice: Practice, row: int, today: float) -> Staged | None:
        """A first stage for today's money towards a rig of the front."""
        court = self.court(wish, shelf, practice)
        return staged(court, wish, row, judged_row(court, row), today)

    def improve(self, wish: Wish, shelf: tuple[Part, ...], practice: Practice, rig: Rig) -> Improvement:
        """The one or two changes that help a rig most. `wish` names its targets and what may be spent."""
        return improved(self.court(wish, shelf, practice), wish, rig)

    def _keep(self, kept: _Kept) -> None:
        """Keep a table, and let go of those made longest ago where there is more than may be kept."""
        left, found = KEPT_TRAINS - len(kept.table.trains), [kept]
        for one in self._kept[: KEPT - 1]:
            left -= len(one.table.trains)
            if left < 0:
                break
            found.append(one)
        self._kept = found

    def _known(self, wish: Wish, shelf: tuple[Part, ...], practice: Practice) -> _Kept | None:
        wanted = _empty(wish, shelf, practice)
        found = (one for one in self._kept if one.table.brief == wanted.brief and one.table.shop == wanted.shop)
        return next(found, None)

    def _fill(self, table: Table, wish: Wish) -> Iterator[DesignEvent]:
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
                for event in self._first_look(table, wish):
                    seen = True
                    yield event

    def _first_look(self, table: Table, wish: Wish) -> Iterator[DesignEvent]:
        part = Table(table.shop, table.brief, list(table.trains))
        if not part.trains or not part.mounts or not part.supports:
            return
        assembler = Assembler(part, share_of(wish.second_hand))
        court = Court(Screen(part, Aims(wish.targets, wish.counts), assembler), assembler)
        found = next(front(court, self._allowed(court, wish), wish), None)
        if found is not None:
            yield DesignEvent(kind="rig", point=point(court.screen, *found), words="so far")

    def _court(self, kept: _Kept, wish: Wish) -> Court:
        aims, share = Aims(wish.targets, wish.counts), share_of(wish.second_hand)
        for one, other, court in kept.courts:
            if one == aims and other == share:
                return court
        assembler = Assembler(kept.table, share)
        court = Court(Screen(kept.table, aims, assembler), assembler)
        kept.courts = [(aims, share, court), *kept.courts][:KEPT]
        self._make_room(court)
        return court

    def _make_room(self, newest: Court) -> None:
        """Let go of what was screened longest ago, where there is more than may be kept."""
        left = MOST_ROWS - newest.screen.size
        for kept in self._kept:
            for one in list(kept.courts):
                if one[2] is newest:
                    continue
                left -= one[2].screen.size
                if left < 0:
                    kept.courts.remove(one)

    @staticmethod
    def _allowed(court: Court, wish: Wish) -> Mask:
        return np.asarray(np.logical_and.reduce([court.screen.works, *court.screen.wishes(wish).values()]), dtype=bool)

    def _answer(
        self, court: Court, wish: Wish, rows: tuple[int, ...], allowed: Mask, beside: tuple[Words, ...]
    ) -> DesignAnswer:
        screen, table = court.screen, court.screen.table
        said: tuple[Reason, ...] = reasons.of_answer(court, wish, rows)
        clash: tuple[str, ...] = ()
        nearest: Designed | None = None
        if not rows and (still := self._still(court, wish)) is not None:
            said = (*said, still)
        if not rows:
            lacking = lacks(table)
            clash = () if lacking else conflict.smallest_conflict(court, wish)
            told = [conflict.worded(name, wish) for name in clash]
            if not lacking and not clash:
                lacking = nothing_stands(court)
            if lacking:
                said = (Reason(key="lacks", title="Parts missing:", words=lacking), *said)
            elif told:
                title = "These constraints conflict:" if len(told) > 1 else "No rig possible:"
                said = (Reason(key="conflict", title=title, words=text("{told}.", told=_list(told))), *said)
            why = refused(court, wish, clash[0]) if len(clash) == 1 else None
            said = (*said, *(() if why is None else (why,)), *lifts(court, wish, clash))
            if "money" in clash:
                near = self._nearest(court, wish)
                if near is not None:
                    nearest = designed(screen, *near)
                    words = reasons.nearest_words(court, wish, *near)
                    said = (*said, Reason(key="nearest", title="Not within this budget.", words=words, row=near[0]))
        titles = {one.breaks: one.title for one in court.judged.values() if one.breaks}
        return DesignAnswer(
            rows=rows,
            choices=table.choices,
            trains=len(table.trains),
            combinations=screen.size,
            allowed=int(allowed.sum()),
            judged=len(court.judged),
            ruled_out=tuple(
                RuledOut(code=code, title=titles[code], count=count) for code, count in refusals(court).most_common()
            ),
            reasons=said,
            conflict=tuple(conflict.worded(name, wish) for name in clash),
            nearest=nearest,
            notes=(*beside, *notes(table)),
        )

    @staticmethod
    def _still(court: Court, wish: Wish) -> Reason | None:
        """A camera on a tripod, where no rig with a mount can be had for the money."""
        brief, share = court.screen.brief, court.screen.share
        if wish.money is None or brief.planets:
            return None
        rig = on_a_tripod(court.screen.table.shop, brief, wish.money, share)
        if rig is None:
            return None
        words = words_of(rig, share, wish.currency)
        return Reason(key="untracked", title="Without a mount:", words=words, rig=rig)

    def _nearest(self, court: Court, wish: Wish) -> tuple[int, Said] | None:
        """The cheapest that frames a good part of the targets, else any part worth telling."""
        masks = {name: mask for name, mask in court.screen.wishes(wish).items() if name != "money"}
        allowed = np.logical_and.reduce(list(masks.values()))
        for least in WORTH_HAVING:
            good = allowed & (court.screen.steps[:, 2] <= -fit_step(least))
            found = conflict.nearest(court, good, wish)
            if found is not None:
                return found
        return None


def _until(found: Iterator[tuple[int, Said]]) -> Iterator[tuple[int, Said]]:
    """What is found until too many were judged."""
    try:
        yield from found
    except TooMany:
        return


def _empty(wish: Wish, shelf: tuple[Part, ...], practice: Practice) -> Table:
    """The table that a wish asks for, with nothing in it yet."""
    purposes = wish.purposes or purposes_of(wish.targets)
    keep = (*wish.stays, *((wish.case,) if wish.case else ()))
    narrow = wish.narrowband and any(target.body is None for target in wish.targets)
    brief = Brief(purposes, wish.site, practice, narrow or in_lines(wish.targets), narrow)
    return Table(Shop.of(shelf, wish.currency, keep), brief)


def judged_row(court: Court, row: int) -> Said:
    """What was said of a row. Raises `BadWish` where there is no such row, or it makes no rig that works."""
    if not 0 <= row < court.screen.size:
        raise BadWish("row: there is no such rig; parts or constraints have changed")
    said = court.said(row)
    if said.breaks or said.rig is None:
        raise BadWish("row: no valid rig; parts or constraints have changed")
    return said


def check(wish: Wish, shelf: tuple[Part, ...]) -> None:
    """Whether what a wish names is there. Raises `BadWish`, naming the field."""
    known = {part.id: part for part in shelf if part.id is not None}
    for key in wish.stays:
        part = known.get(key)
        if part is None:
            raise BadWish(f"stays: there is no part '{key}' among your parts")
        if part.status == "retired":
            raise BadWish(f"stays: the {part.name} is archived")
        kind = getattr(part, "kind", "part")
        if kind not in STAYS:
            raise BadWish(
                f"stays: the {part.name} is of a kind ({kind.replace('_', ' ')}) that is chosen to suit the rest"
            )
    if wish.case is not None:
        case = known.get(wish.case)
        if case is None or getattr(case, "function", "") != "case":
            raise BadWish(f"case: there is no case '{wish.case}' among your parts")
    if not any(wish.counts):
        raise BadWish("targets: none is high enough at this site in any month")
    if {"mono", "colour"} <= set(wish.not_wanted):
        raise BadWish("not_wanted: a camera is either mono or colour; one of them has to be wanted")


def lacks(table: Table) -> Words:
    """What a shop has none of that every rig needs, in words; empty where it has all."""
    kinds = (("telescopes or lenses", "telescope"), ("cameras", "camera"), ("mounts", "mount"), ("supports", "support"))
    none = [words for words, kind in kinds if not any(getattr(one, "kind", "") == kind for one in table.shop.parts)]
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


def nothing_stands(court: Court) -> Words:
    """Which rules leave nothing of a shelf, whatever is wished, in words."""
    found = court.screen.ruled_out() if not court.screen.works.any() else refusals(court).most_common()
    pairs = len(court.screen.trains) * len(court.screen.mounts)
    told = [
        text("{code} ({code_2}) {many}", code=code, code_2=rule_title(code), many=Value(many))
        for code, many in found[:3]
    ]
    what = (
        text("Of {pairs} image trains on mounts these rules exclude", pairs=Value(pairs))
        if not court.screen.works.any()
        else "Assembled rigs were excluded by"
    )
    return (
        text("no valid combination of your parts. {what}: {told}.", what=what, told=_list(told))
        if told
        else "no tripod or pier carries any of them (L11)."
    )


def rule_title(code: str) -> str:
    """What a rule is about, as a part of a sentence."""
    return STEPS.rules[code].title.lower() if code in STEPS.rules else code


def notes(table: Table) -> tuple[Words, ...]:
    """What had to be left out, in words."""
    told = []
    counts = {kind: (few, many) for kind, few, many in table.shop.narrowed}
    if said := [
        text("{counts} of {counts_2} {words}", counts=counts[kind][0], counts_2=Value(counts[kind][1]), words=words)
        for kind, words in TOLD.items()
        if kind in counts
    ]:
        told.append(text("Large parts list: {said} compared, the cheapest of each size.", said=_list(said)))
    if table.unlaid:
        told.append(text("{unlaid} more light paths were not checked: too many parts.", unlaid=Value(table.unlaid)))
    if table.shop.unpriced:
        told.append(text("{unpriced} parts for sale without a price were excluded.", unpriced=table.shop.unpriced))
    if table.shop.foreign:
        told.append(
            text(
                "{foreign} parts priced in a currency other than {currency} were excluded.",
                foreign=table.shop.foreign,
                currency=table.shop.currency,
            )
        )
    return tuple(told)


def _list(words: Sequence[Words]) -> Words:
    return (
        words[0]
        if len(words) == 1
        else text("{words} and {words_2}", words=joined(", ", words[:-1]), words_2=words[-1])
    )
