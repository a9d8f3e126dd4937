"""Tonight: one or several rigs over one night, in the order that is worth most; what fits, what to mind, what hands do."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from math import ceil, floor

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model import Site
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, clock, text
from dravel.core.overview.night_clock import TonightEvent, event, noon_of, time_at
from dravel.core.overview.night_hands import Hours, SetUp, packed, set_up
from dravel.core.overview.night_reserves import TonightReserve, reserves
from dravel.core.overview.night_targets import SLOT_S, Wanted, wanted
from dravel.core.overview.night_words import TonightLine, beyond, fits, mind, subs_words
from dravel.core.overview.sequence import NightStep, Pace, pace_of, shoot, step_key, wanted_subs
from dravel.core.sky.altaz import Array, Mask
from dravel.core.sky.night import STEP_MIN, Night, horizon_at, night_of
from dravel.core.sky.schedule import Job, Run, schedule
from dravel.core.steps.exposure.facts import Exposing

WAIT_PRICE_H = 0.04  # of a slot's worth, for each hour that the dark has run; Dravel's own
SOON_MIN = 30.0  # less than a rig takes to be set up; Dravel's own
MOST_TOLD = 40  # targets of a rig that are told one by one; of more, how many there are
LEAST_MIN = 20.0  # a shorter run is not worth its slew; Dravel's own


class TonightCurve(Model):
    """A target over the night, a value a slot: altitude and the horizon under it in degrees, and whether it may be shot."""

    target: str
    name: str
    altitude: tuple[float, ...]
    horizon: tuple[float, ...]
    usable: tuple[bool, ...]


class TonightRun(Model):
    """A target's turn, in slots from noon; what of its plan it holds, and why it ends where it does."""

    target: str
    name: str
    start: int
    end: int
    from_words: str
    to_words: str
    words: Text
    pinned: bool


class TonightRig(Model):
    """One rig's night. `because` says why nothing is planned; `steps` is all it does, in time order."""

    rig_id: str
    name: str
    because: Text
    curves: tuple[TonightCurve, ...]
    runs: tuple[TonightRun, ...]
    steps: tuple[NightStep, ...]
    events: tuple[TonightEvent, ...]
    reserves: tuple[TonightReserve, ...]
    fits: tuple[TonightLine, ...]
    mind: tuple[TonightLine, ...]


class TonightPlan(Model):
    """A night for some rigs. Slots of five minutes from `noon` (UTC); bands and clock times for the axis."""

    site: str
    day: date
    noon: datetime
    words: Text
    slots: int
    clock: tuple[str, ...]
    sun: tuple[float, ...]
    moon: tuple[float, ...]
    dark: tuple[tuple[int, int], ...]
    free: tuple[int, int] | None
    rigs: tuple[TonightRig, ...]
    jobs: tuple[TonightEvent, ...]


@dataclass(frozen=True)
class Underway:
    """A rig's night that has begun: from which slot on it is planned anew, and the seconds by the clock that goals without a
    plan have had, by target.
    """

    since: int
    shot_s: Mapping[str, float] = field(default_factory=dict)


def tonight(
    rigs: Sequence[tuple[str, Context]],
    site: Site,
    day: date,
    *,
    free_from_h: float | None = None,
    free_until_h: float | None = None,
    pins: Mapping[str, Mapping[str, int]] | None = None,
    underway: Mapping[str, Underway] | None = None,
) -> TonightPlan:
    """The night of some rigs at one site. Pins, by rig and target, are slots in which a run must begin; a rig that is under
    way is not set up again, and shoots from its slot on.
    """
    night = night_of(site, day)
    hours = Hours.of(night, free_from_h, free_until_h)
    shot: list[_Shot] = []
    busy_until = float(hours.start)
    for rig_id, context in rigs:
        begun = (underway or {}).get(rig_id)
        ready = SetUp((), float(begun.since), True) if begun else set_up(context, hours, busy_until)
        shot.append(
            _shot(rig_id, context, hours, ready, dict((pins or {}).get(rig_id, {})), begun.shot_s if begun else {})
        )
        busy_until = _led(shot[-1]) if shot[-1].runs and not begun else busy_until
    # Packing up comes last, when all that hands do before is known.
    busy = [_span(step) for entry in shot if entry.runs for step in entry.ready.steps if step.hands]
    planned = []
    for item in shot:
        rig = _rig_night(item, hours, busy)
        busy += [_span(step) for step in rig.steps if step.hands]
        planned.append(rig)
    darkness = rigs[0][1].preferences.darkness if rigs else "astronomical"
    dark = night.dark(darkness)
    jobs = sorted(
        (entry.model_copy(update={"what": text("{rig}: {what}", rig=rig.name, what=entry.what)}) for rig in planned for entry in rig.events if entry.hands),
        key=lambda item: item.slot,
    )  # fmt: skip
    free = None if free_from_h is None and free_until_h is None else (hours.start, hours.end)
    return TonightPlan(
        site=site.name, day=day, noon=noon_of(night), words=_night_words(night, darkness), slots=len(night.jd),
        clock=tuple(time_at(night, slot) for slot in range(len(night.jd))),
        sun=_told(night.sun_altitude), moon=_told(night.moon_altitude), dark=tuple(_spans(dark)), free=free,
        rigs=tuple(planned), jobs=tuple(jobs),
    )  # fmt: skip


def _told(values: Array) -> tuple[float, ...]:
    return tuple(round(float(value), 1) for value in values)


def _spans(mask: Mask) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(int)))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _night_words(night: Night, darkness: str) -> Text:
    dark = night.dark(darkness)
    if not dark.any():
        return text("no darkness")
    dusk, dawn = night.dusk(darkness), night.dawn(darkness)
    up = night.hours(dark & night.moon_is_up)
    moon = (
        "moon below the horizon"
        if up == 0
        else text("moon {lit}, up for {up} of the dark", lit=Value(night.lit, form="share"), up=Value(up, form="long"))
    )
    if dusk is None or dawn is None:
        return text("dark all night, {moon}", moon=moon)
    return text(
        "dark {dusk} to {dawn}, {moon}", dusk=clock(night.local(dusk)), dawn=clock(night.local(dawn)), moon=moon
    )


@dataclass(frozen=True)
class _Shot:
    """What one rig shoots, before it is known when it is packed up."""

    rig_id: str
    context: Context
    ready: SetUp
    pins: dict[str, int]
    targets: tuple[Wanted, ...]
    runs: tuple[Run, ...]


def _shot(
    rig_id: str, context: Context, hours: Hours, ready: SetUp, pins: dict[str, int], shot_s: Mapping[str, float]
) -> _Shot:  # fmt: skip
    night = hours.night
    targets = wanted(context, night, night.day, shot_s)
    runs = schedule([_job(target, hours, ready.ready, pins) for target in targets], len(night.jd), pins)
    return _Shot(rig_id, context, ready, pins, targets, runs)


def _led(one: _Shot) -> float:
    """The slot in which a rig is set up and, where hands do that at once, led to its first target."""
    first = {goal.key: goal for goal in one.targets}[one.runs[0].key]
    way = _slew(first, one.runs[0], one.ready.ready * SLOT_S, pace_of(one.context)) if first.by_hand else ()
    start, end = _span(way[0]) if way else (0.0, 0.0)
    # What is led to later leaves time to set up another rig meanwhile.
    return end if way and start - one.ready.ready < SOON_MIN / STEP_MIN else one.ready.ready


def _span(step: NightStep) -> tuple[float, float]:
    return step.start_s / SLOT_S, step.end_s / SLOT_S


def _rig_night(one: _Shot, hours: Hours, busy: Sequence[tuple[float, float]]) -> TonightRig:
    """One rig's night; hands are `busy` with other rigs at times."""
    night, context = hours.night, one.context
    known = {goal.key: goal for goal in one.targets}
    looked = _looked_at(one)
    # What hands do for the others; a rig's own setting up is over when it shoots.
    others = tuple(
        (start * SLOT_S, end * SLOT_S) for start, end in busy if (start, end) not in map(_span, one.ready.steps)
    )
    pace = replace(pace_of(context), busy=others)
    shot: dict[str, tuple[NightStep, ...]] = {}
    steps: tuple[NightStep, ...] = ()
    inner: list[NightStep] = []
    runs: list[Run] = []
    free = one.ready.ready * SLOT_S
    for planned in one.runs:
        way = _slew(known[planned.key], planned, free, pace)
        begin_s = max(planned.start * SLOT_S, *(step.end_s for step in way), 0.0)
        if begin_s >= planned.end * SLOT_S:
            continue  # by then it is over
        run = replace(planned, start=max(planned.start, floor(begin_s / SLOT_S)))
        runs.append(run)
        shot[run.key] = _run_steps(context, known[run.key], run, begin_s, pace)
        inner += (*way, *shot[run.key])
        free = inner[-1].end_s if inner else free
    if runs:
        end = float(max(run.end for run in runs))
        steps = (*one.ready.steps, *inner, *packed(context, hours, end, busy, one.ready.flats))
    begin = steps[0].start_s / SLOT_S if steps else one.ready.ready
    flats = one.ready.flats or any(step.kind == "flats" for step in steps)
    because = ""
    if one.runs and not runs:
        because = "set-up of the other rigs leaves no time for its targets"
    elif not runs:
        because = str(context.of(Exposing).lacks) or (
            _nothing_for(context, night.day) if not one.targets
            else "no target unobstructed in the available dark hours"
        )  # fmt: skip
    lines = [
        event(night, step.start_s / SLOT_S, step.what, hands=step.hands)
        for step in steps
        if step.kind not in ("slew", "subs", "wait") or (step.hands and step.kind == "slew")
    ]
    return TonightRig(
        rig_id=one.rig_id, name=context.rig.name, because=because,
        curves=tuple(
            TonightCurve(
                target=goal.key, name=goal.framing.target.name, altitude=_told(goal.seen.altitude),
                horizon=_told(horizon_at(night.site, goal.seen.azimuth)), usable=tuple(bool(x) for x in goal.seen.usable),
            )
            for goal in looked
        ),
        runs=tuple(_run(night, known[run.key], run, one.pins, shot[run.key]) for run in runs),
        steps=steps, events=tuple(lines), reserves=reserves(context, steps),
        fits=(
            *(
                fits(context, night, goal, next((run for run in runs if run.key == goal.key), None), shot.get(goal.key, ()))
                for goal in looked
            ),
            *beyond(len(one.targets), len(looked)),
        ),
        mind=tuple(mind(context, night, known, runs, one.pins, shot, begin, flats)),
    )  # fmt: skip


def _nothing_for(context: Context, day: date) -> str:
    """Why a rig has nothing to shoot on a night: what it frames is for another, moves, or is nothing at all."""
    framings = context.rig.framings
    if not framings:
        return "no target framed yet"
    if all(framing.target.body is not None for framing in framings):
        return "Moon and planets: video of minutes near transit, no hours to plan"
    if all(framing.night not in (None, day) for framing in framings):
        return "targets planned for other nights"
    return "its filter blocks the light of its targets"


def _looked_at(one: _Shot) -> tuple[Wanted, ...]:
    """The targets that are told one by one, in their order: those with a turn or a place by hand, then those that the night is
    worth most to.
    """
    if len(one.targets) <= MOST_TOLD:
        return one.targets
    turned = {run.key for run in one.runs} | one.pins.keys()
    ranked = sorted(one.targets, key=lambda goal: (goal.key not in turned, -float(goal.worth[goal.seen.usable].sum())))
    first = {id(goal) for goal in ranked[:MOST_TOLD]}
    return tuple(goal for goal in one.targets if id(goal) in first)


def _job(one: Wanted, hours: Hours, ready: float, pins: Mapping[str, int]) -> Job:
    at = np.arange(len(hours.night.jd))
    may = one.seen.usable & hours.mask & (at >= ready)
    worth = np.where(may, one.worth, 0.0)
    if one.flip is not None and np.isfinite(one.flip.turns_s):
        last = min(one.flip.stops_s, one.flip.turns_s)
        worth[int(last // SLOT_S) : ceil((one.flip.turns_s + one.flip.takes_s) / SLOT_S)] = 0.0  # the pause of the flip
    least = 1 if one.key in pins else max(1, min(one.need, ceil(LEAST_MIN / STEP_MIN)))
    # An hour of waiting in the dark has its price: nobody waits for three to save a flip of five minutes.
    waited = np.maximum(at - max(ready, float(np.argmax(may))), 0.0) * STEP_MIN / 60
    worth = worth * np.maximum(1 - WAIT_PRICE_H * waited, 0.05)
    return Job(one.key, worth, np.asarray(may), one.need, least, ceil(one.change_s / SLOT_S))


def _run_steps(
    context: Context, one: Wanted, run: Run, begin_s: float, pace: Pace
) -> tuple[NightStep, ...]:  # fmt: skip
    subs = wanted_subs(context, one.framing)
    return shoot(one.framing.target, subs, begin_s, run.end * SLOT_S, one.flip, pace)


def _slew(one: Wanted, run: Run, free_s: float, pace: Pace) -> tuple[NightStep, ...]:
    """The way to a target, in the minutes before its run; none where setting up has led there already."""
    name, begin = one.framing.target.name, float(run.start * SLOT_S)
    start = max(begin - one.change_s, free_s)
    if begin - start < 60:
        return ()
    if one.by_hand:
        takes = begin - start
        start = pace.free(start, takes)
        begin = start + takes
    what, key = text("to {name}: {way}", name=name, way=one.way), step_key(one.key, "slew")
    return (
        NightStep(
            key=key, kind="slew", start_s=start, end_s=begin, what=what, target=one.key, name=name, hands=one.by_hand
        ),
    )  # fmt: skip


def _run(
    night: Night, one: Wanted, run: Run, pins: Mapping[str, int], steps: Sequence[NightStep]
) -> TonightRun:  # fmt: skip
    return TonightRun(
        target=one.key, name=one.framing.target.name, start=run.start, end=run.end,
        from_words=time_at(night, run.start), to_words=time_at(night, run.end), words=subs_words(steps),
        pinned=run.key in pins,
    )  # fmt: skip
