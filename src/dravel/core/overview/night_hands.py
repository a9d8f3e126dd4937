"""What hands do around the runs of a night: set up, sky flats, the pole, and packing up; one pair of hands."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model.words import Value, Words, text
from dravel.core.overview.sequence import NightStep, StepKind
from dravel.core.sky.altaz import Mask
from dravel.core.sky.night import STEP_MIN, Night
from dravel.core.steps.assembly.facts import Build
from dravel.core.steps.assembly.starting import SHORT_METHODS, polar_method

POLAR_SUN = -9.0  # the pole star shows; common practice
FLAT_SUN = (-7.0, -2.0)  # where the twilight sky is an even light of a useful brightness; Dravel's own
PANEL_MIN, PACK_MIN, SKY_FLATS_MIN = 10.0, 15.0, 10.0  # Dravel's own
SLOT_S = STEP_MIN * 60


@dataclass(frozen=True)
class Hours:
    """The hours somebody is free, as slots of a night from noon."""

    night: Night
    start: int
    end: int

    @classmethod
    def of(cls, night: Night, free_from_h: float | None, free_until_h: float | None) -> "Hours":
        """From local clock hours (0 to 24), which lie after noon when they are 12 or more; without them the whole night."""
        count = len(night.jd)

        def slot(hour: float | None, plain: int) -> int:
            if hour is None:
                return plain
            after_noon = (hour - 12) % 24
            return max(0, min(count - 1, round(after_noon * 60 / STEP_MIN)))

        return cls(night, slot(free_from_h, 0), slot(free_until_h, count - 1))

    @cached_property
    def mask(self) -> Mask:
        """Which slots are free, (m,)."""
        at = np.arange(len(self.night.jd))
        return np.asarray((at >= self.start) & (at < self.end))


@dataclass(frozen=True)
class SetUp:
    """A rig's way to its first sub: its steps, when the first sub can begin (in slots), and whether the flats are taken."""

    steps: tuple[NightStep, ...]
    ready: float
    flats: bool


def has_panel(context: Context) -> bool:
    """Whether flats need no sky."""
    return any(part.function == "flat_panel" for part in context.rig.extras)


def twilight(night: Night, *, evening: bool) -> tuple[int, int] | None:
    """The slots from which and to which the sky is good for flats, at dusk or at dawn; None where the sun does not go there."""
    good = (night.sun_altitude > FLAT_SUN[0]) & (night.sun_altitude < FLAT_SUN[1])
    lowest = int(np.argmin(night.sun_altitude))
    at = np.flatnonzero(good)
    half = at[at < lowest] if evening else at[at > lowest]
    return (int(half[0]), int(half[-1]) + 1) if len(half) else None


def set_up(context: Context, hours: Hours, busy_until: float) -> SetUp:
    """When to begin, so that sky flats are taken where the evening has room for them, and the pole is aligned as soon as it
    shows.
    """
    night, cards = hours.night, context.of(Build).cards
    keys = [card.key for card in cards]
    first = keys.index("polar") if "polar" in keys else len(cards)
    bare = min((k for k, card in enumerate(cards) if card.after_sunset), default=first)
    parts = (cards[:bare], cards[bare:first], cards[max(first, bare) :])
    covered, opened, after = (sum(card.minutes for card in part) / STEP_MIN for part in parts)
    shows = np.flatnonzero(night.sun_altitude < POLAR_SUN)
    pole = float(shows[0]) if len(shows) else 0.0
    free = max(float(hours.start), busy_until)
    # Glass stays covered until the sun is down: what may sweep over it begins then, and no earlier.
    down = sunset_slot(night)
    bared = max(down, pole - opened, free + covered)
    dusk = None if has_panel(context) else twilight(night, evening=True)
    early = max(down, free + covered)
    flats_at = max(float(dusk[0]), early + opened) if dusk is not None else 0.0
    flats = dusk is not None and flats_at + SKY_FLATS_MIN / STEP_MIN <= dusk[1] and dusk[1] <= hours.end
    if flats and dusk is not None:
        bared = max(early, min(bared, flats_at - opened))
    begin = max(free, bared - covered)
    steps = [
        _step(
            "set_up",
            begin,
            begin + covered,
            text("set up, {covered}", covered=Value(covered * STEP_MIN * 60, form="time")),
        )
    ]
    if opened > 0:
        words = text(
            "caps off and balance, {opened}: not before sunset", opened=Value(opened * STEP_MIN * 60, form="time")
        )
        steps.append(_step("set_up", bared, bared + opened, words, key="uncover"))
    if flats and dusk is not None:
        steps.append(_step("flats", flats_at, dusk[1], "sky flats, towards the zenith"))
    aligned = max(bared + opened, pole, dusk[1] if flats and dusk is not None else 0.0)
    if "polar" in keys:
        within = text(
            "within {polar_error_arcmin}", polar_error_arcmin=Value(context.preferences.polar_error_arcmin, "′")
        )
        then = "focus, calibration" if "calibrate" in keys else "focus"
        words = text(
            "polar alignment {SHORT_METHODS}, {within}; {then}",
            SHORT_METHODS=SHORT_METHODS[polar_method(context)],
            within=within,
            then=then,
        )
        steps.append(_step("align", aligned, aligned + after, words))
    return SetUp(tuple(steps), aligned + after, flats)


def packed(
    context: Context, hours: Hours, end: float, busy: Sequence[tuple[float, float]], flats: bool
) -> tuple[NightStep, ...]:  # fmt: skip
    """The rig packed up once its last run is over, by hands that are not `busy` (spans, in slots) with another rig; flats before
    it, under a panel, or at dawn where its owner is free till then and the evening had none.
    """
    steps, at = [], end
    if has_panel(context):
        at = _free(at, (PANEL_MIN + PACK_MIN) / STEP_MIN, busy)
        steps.append(_step("flats", at, at + PANEL_MIN / STEP_MIN, "panel flats"))
        at += PANEL_MIN / STEP_MIN
    elif not flats and (dawn := twilight(hours.night, evening=False)) is not None and end <= dawn[1]:
        long = min(SKY_FLATS_MIN / STEP_MIN, float(dawn[1] - dawn[0]))
        begin = _free(max(end, float(dawn[0])), long, busy)
        if begin + long <= min(dawn[1], hours.end):
            steps.append(_step("flats", begin, begin + long, "sky flats, towards the zenith"))
            at = begin + long
    at = _free(at, PACK_MIN / STEP_MIN, busy)
    steps.append(_step("pack_up", at, at + PACK_MIN / STEP_MIN, "pack up"))
    return tuple(steps)


def _free(at: float, long: float, busy: Sequence[tuple[float, float]]) -> float:
    """The first time from `at` on from which hands are free for so long."""
    for start, end in sorted(busy):
        if at < end and at + long > start:
            at = end
    return at


def sunset_slot(night: Night) -> float:
    """When the sun goes down, in slots from noon; at once where it does not rise, the darkest slot where it does not set."""
    if night.sunset is not None:
        return (night.sunset - float(night.jd[0])) * 1440 / STEP_MIN
    return 0.0 if (night.sun_altitude < 0).all() else float(np.argmin(night.sun_altitude))


def _step(kind: StepKind, start: float, end: float, what: Words, key: str = "") -> NightStep:
    return NightStep(
        key=key or (kind if kind != "flats" else f"flats-{start:.0f}"), kind=kind, start_s=round(start * SLOT_S, 3),
        end_s=round(end * SLOT_S, 3), what=what, hands=True,
    )  # fmt: skip
