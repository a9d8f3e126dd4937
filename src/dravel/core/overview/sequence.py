"""What a rig does while a target is shot, step by step: subs, dithers, refocusing, filters, the flip. Seconds from noon."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor, inf
from typing import Any, Literal

from pydantic import model_validator

from dravel.core.engine.context import Context
from dravel.core.model import FilterHolder, Framing, Rider, Target
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.moves.plans import Flip
from dravel.core.steps.exposure.facts import Exposing

StepKind = Literal["set_up", "flats", "align", "slew", "subs", "filter", "refocus", "wait", "flip", "pack_up"]
LEAST_WAIT_S = 1.0
DRAWER_S = 120.0  # a drawer pulled and put back in the dark; Dravel's own
REFRAME_S, DRIFTS = 60.0, 0.1  # framing anew by hand, each time the sky has drifted a tenth of the field; own


class NightStep(Model):
    """One thing of a rig's night, from `start_s` to `end_s`, seconds from noon. `target` is the target's key, `name` what
    people call it. Of subs: how many, how long each is open (`sub_s`) and how long each takes with its pauses (`each_s`).
    `hands`: somebody must be there.
    """

    key: str
    kind: StepKind
    start_s: float
    end_s: float
    what: Text
    target: str = ""
    name: str = ""
    filter: str = ""
    filter_key: str = ""
    sub_s: float = 0.0
    each_s: float = 0.0
    count: int = 0
    hands: bool = False

    @model_validator(mode="before")
    @classmethod
    def _as_nights_were_kept(cls, given: Any) -> Any:
        """Nights that were begun before steps had a `name` held it in `target`, and the target's key in their own."""
        if isinstance(given, dict) and given.get("target") and "name" not in given:
            return {**given, "target": target_of(str(given.get("key"))), "name": given["target"]}
        return given


def step_key(target: str, place: int | str) -> str:
    """The key of a target's step. Targets may have a slash in their names: only the last one parts the two."""
    return f"{target}/{place}"


def target_of(key: str) -> str:
    """The key of the target that a step belongs to, by the step's own key; empty where it belongs to none."""
    return key.rpartition("/")[0]


@dataclass(frozen=True)
class Subs:
    """Subs of one kind that are wanted: behind which filter, how long, how long with their pauses, how many (None: as many
    as fit).
    """

    filter: str
    filter_key: str
    sub_s: float
    each_s: float
    count: int | None


@dataclass(frozen=True)
class Pace:
    """How often a rig refocuses, what that and a change of filter take, s, and which of them hands do."""

    every_s: float
    refocus_s: float
    filter_s: float = 0.0
    focus_by_hand: bool = False
    filter_by_hand: bool = False
    busy: tuple[tuple[float, float], ...] = ()  # when hands are at something else, s from noon

    def free(self, at_s: float, takes_s: float) -> float:
        """The first time from `at_s` on from which hands are free for so long, s from noon."""
        for start, end in sorted(self.busy):
            if at_s < end and at_s + takes_s > start:
                at_s = end
        return at_s


def wanted_subs(context: Context, framing: Framing) -> tuple[Subs, ...]:
    """The subs of a target's plan, or without one those the rig takes anyhow. What names a filter that is not on the rig is
    shot without one, as the plan's page says.
    """
    preferences, own = context.preferences, context.of(Exposing)
    if not framing.plan:
        sub = context.rig.guide.sub_s
        each = sub + preferences.download_s + (context.known.get("dither_pause") or 0.0)
        if (minutes := reframed_every_min(context)) is not None:
            each *= 1 + REFRAME_S / 60 / minutes
        name = own.filter.name if own.filter else ""
        return (Subs(name, "", sub, each, None),)
    results = []
    for block in framing.plan:
        dither = preferences.dither_s / block.dither_every if block.dither_every else 0.0
        behind = own.resolved(block)[0]
        results.append(
            Subs(behind.name if behind else "", block.filter or "", block.sub_s,
                 block.sub_s + preferences.download_s + dither, block.count * framing.columns * framing.rows)
        )  # fmt: skip
    return tuple(results)


def reframed_every_min(context: Context) -> float | None:
    """How often a rig that follows nothing is framed anew by hand, minutes; None for one that follows the sky."""
    mount, field = context.rig.mount, context.field_deg
    if field is None or (mount is not None and mount.driven_axes > 0):
        return None
    return max(DRIFTS * min(field) / 15 * 60, 0.1)


def pace_of(context: Context) -> Pace:
    """How often a rig refocuses: by temperature or by the hour, whichever comes first."""
    every = context.known.get("refocus_every") or context.preferences.refocus_hours
    rig = context.rig
    motor = any(isinstance(rider.part, Rider) and rider.part.function == "focus_motor" for rider in rig.riders)
    holders = [item.part for item in rig.path if isinstance(item.part, FilterHolder)]
    wheel = any(holder.style == "wheel" for holder in holders)
    return Pace(
        max(every, 0.05) * 3600, context.preferences.refocus_min * 60, 0.0 if wheel else DRAWER_S, not motor, not wheel
    )  # fmt: skip


def shoot(
    target: Target, wanted: Sequence[Subs], start_s: float, end_s: float, flip: Flip | None, pace: Pace
) -> tuple[NightStep, ...]:
    """The steps of a target's run: whole subs only, none over the flip, a refocus when it is due and after a filter change."""
    made = _Run(target, start_s, end_s, flip, pace)
    for before, item in zip((None, *wanted), wanted, strict=False):
        if before is None or before.filter_key == item.filter_key or made.change(item):
            made.take(item)
    return tuple(made.steps)


class _Run:
    """A run as it is written down, with the clock and when the last focus was."""

    def __init__(self, target: Target, start_s: float, end_s: float, flip: Flip | None, pace: Pace) -> None:
        self.steps: list[NightStep] = []
        self._target, self._now, self._end, self._pace = target, start_s, end_s, pace
        # A run that begins beyond the meridian begins on its far side; one that ends before the mount must stop needs no flip.
        self._flip = flip if flip is not None and start_s < flip.turns_s and flip.stops_s < end_s else None
        self._focused = start_s

    def take(self, one: Subs) -> None:
        left: float = inf if one.count is None else one.count
        while left > 0:
            # What is due waits for the sub that is open to end.
            flips = self._flip is not None and self._now >= self._flip.turns_s
            if not flips and self._now - self._focused >= self._pace.every_s and not self._refocus(one):
                self._focused = self._now  # no room for it before the flip or the end
            count = 0 if flips else min(left, self._fits(one))
            if count:
                words = text(
                    "{count} {sub_s}{filter}",
                    count=Value(count, "×"),
                    sub_s=Value(one.sub_s, form="exposure"),
                    filter=f", {one.filter}" if one.filter else "",
                )
                self._put("subs", count * one.each_s, words, one, int(count))
                left -= count
            elif self._flip is not None:
                self._turn(one)
            else:
                return

    def change(self, one: Subs) -> bool:
        """Put a filter in and focus; False where there is no room left for that and a sub."""
        takes = self._pace.refocus_s + self._pace.filter_s
        if self._flip is not None and self._at("filter", takes) + takes + one.each_s > self._until():
            self._turn(one)
        if self._at("filter", takes) + takes + one.each_s > self._until():
            return False
        self._hands_free("filter", takes, one)
        self._put("filter", takes, text("change to {filter}, refocus", filter=one.filter or "no filter"), one)
        self._focused = self._now
        return True

    def _until(self) -> float:
        return min(self._end, self._flip.stops_s) if self._flip is not None else self._end

    def _fits(self, one: Subs) -> int:
        """How many subs fit before the flip, the end, or the next refocus."""
        room = max(0, floor((self._until() - self._now) / one.each_s + 1e-9))
        due = max(1, ceil((self._focused + self._pace.every_s - self._now) / one.each_s - 1e-9))
        if self._flip is not None:
            due = min(due, max(1, ceil((self._flip.turns_s - self._now) / one.each_s - 1e-9)))
        return min(room, due)

    def _refocus(self, one: Subs) -> bool:
        takes = self._pace.refocus_s
        if self._at("refocus", takes) + takes + one.each_s > self._until():
            return False
        self._hands_free("refocus", takes, one)
        self._put("refocus", self._pace.refocus_s, "refocus", one)
        self._focused = self._now
        return True

    def _turn(self, one: Subs) -> None:
        flip = self._flip
        if flip is None:
            return
        self._flip = None
        waits = min(flip.turns_s, self._end) - self._now
        if waits > LEAST_WAIT_S:
            self._put("wait", waits, "wait for the meridian", one)
        takes = min(flip.takes_s, self._end - self._now)
        if takes > 0:
            self._put("flip", takes, text("flip, {takes_s}", takes_s=Value(flip.takes_s / 60 * 60, form="time")), one)

    def _put(self, kind: StepKind, takes_s: float, what: Words, one: Subs, count: int = 0) -> None:
        of_subs = kind == "subs"
        self.steps.append(
            NightStep(
                key=step_key(self._target.key, len(self.steps)),
                kind=kind,
                start_s=round(self._now, 3),
                end_s=round(self._now + takes_s, 3),
                what=what,
                target=self._target.key,
                name=self._target.name,
                filter=one.filter,
                filter_key=one.filter_key,
                sub_s=one.sub_s if of_subs else 0.0,
                each_s=one.each_s if of_subs else 0.0,
                count=count,
                hands=self._by_hand(kind),
            )
        )
        self._now += takes_s

    def _at(self, kind: StepKind, takes_s: float) -> float:
        """When a step can begin: now, or when hands are free for it."""
        return self._pace.free(self._now, takes_s) if self._by_hand(kind) else self._now

    def _hands_free(self, kind: StepKind, takes_s: float, one: Subs) -> None:
        waits = self._at(kind, takes_s) - self._now
        if waits > LEAST_WAIT_S:
            self._put("wait", waits, "wait for a free hand", one)

    def _by_hand(self, kind: StepKind) -> bool:
        pace = self._pace
        if kind == "filter":
            return pace.filter_by_hand or pace.focus_by_hand
        return kind == "refocus" and pace.focus_by_hand
