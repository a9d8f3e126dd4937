"""Tonight: one or several rigs over one night, in the order that is worth most; what fits, what to mind, what hands do."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from functools import cached_property
from math import ceil, inf
from zoneinfo import ZoneInfo

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model import Framing, Site, Verdict
from dravel.core.model.base import Model
from dravel.core.sky.altaz import Array, Mask, moment_of
from dravel.core.sky.bodies import moonlight
from dravel.core.sky.evenings import named
from dravel.core.sky.night import STEP_MIN, Night, Pass, horizon_at, night_of, passing_on
from dravel.core.sky.schedule import Job, Run, schedule
from dravel.core.steps.build.facts import Build
from dravel.core.steps.expose.facts import Exposing, Shot
from dravel.core.steps.expose.glow import Glow
from dravel.core.steps.expose.plan import budget, integration_words

POLAR_SUN = -9.0  # the pole star shows; common practice
CHANGE_MIN = 10.0  # slew, centre, focus, guide again; Dravel's own
PACK, PACK_MIN = "flats, then pack up", 25.0  # Dravel's own
LEAST_MIN = 20.0  # a shorter run is not worth its slew; Dravel's own
AHEAD_NIGHTS = 14
SLOT_S = STEP_MIN * 60


class TonightCurve(Model):
    """A target over the night, a value a slot: altitude in degrees, and whether it may be shot."""

    target: str
    name: str
    altitude: tuple[float, ...]
    usable: tuple[bool, ...]


class TonightRun(Model):
    """A target's turn, in slots from noon; what of its plan it holds, and why it ends where it does."""

    target: str
    name: str
    start: int
    end: int
    from_words: str
    to_words: str
    words: str
    pinned: bool


class TonightEvent(Model):
    """Something that happens to a rig, in slots from noon (they may lie between)."""

    slot: float
    time: str
    what: str
    hands: bool


class TonightLine(Model):
    """Something said of the night, with its verdict; `day` is another night that would serve."""

    verdict: Verdict
    words: str
    day: date | None = None


class TonightRig(Model):
    """One rig's night. `because` says why nothing is planned."""

    rig_id: str
    name: str
    because: str
    curves: tuple[TonightCurve, ...]
    runs: tuple[TonightRun, ...]
    events: tuple[TonightEvent, ...]
    fits: tuple[TonightLine, ...]
    mind: tuple[TonightLine, ...]


class TonightPlan(Model):
    """A night for some rigs. Slots of five minutes from `noon` (UTC); bands and clock times for the axis."""

    site: str
    day: date
    noon: datetime
    words: str
    slots: int
    clock: tuple[str, ...]
    sun: tuple[float, ...]
    moon: tuple[float, ...]
    dark: tuple[tuple[int, int], ...]
    free: tuple[int, int] | None
    rigs: tuple[TonightRig, ...]
    jobs: tuple[TonightEvent, ...]


@dataclass(frozen=True)
class Wanted:
    """A target of a rig on the night: its pass, what each slot is worth, and how many slots its plan or wish takes."""

    framing: Framing
    glow: Glow
    seen: Pass
    worth: Array
    need: int
    planned: bool

    @property
    def key(self) -> str:
        """By what it is known."""
        return self.framing.target.id or self.framing.target.name


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


def tonight(
    rigs: Sequence[tuple[str, Context]],
    site: Site,
    day: date,
    *,
    free_from_h: float | None = None,
    free_until_h: float | None = None,
    pins: Mapping[str, Mapping[str, int]] | None = None,
) -> TonightPlan:
    """The night of some rigs at one site. Pins, by rig and target, are slots in which a run must begin."""
    night = night_of(site, day)
    hours = Hours.of(night, free_from_h, free_until_h)
    planned: list[TonightRig] = []
    busy_until = float(hours.start)
    for rig_id, context in rigs:
        rig, busy_until = _rig_night(rig_id, context, hours, dict((pins or {}).get(rig_id, {})), busy_until)
        planned.append(_packed(night, rig, planned))
    dark = night.dark(rigs[0][1].practice.darkness if rigs else "astronomical")
    jobs = sorted((event for rig in planned for event in rig.events if event.hands), key=lambda one: one.slot)
    free = None if free_from_h is None and free_until_h is None else (hours.start, hours.end)
    return TonightPlan(
        site=site.name, day=day, noon=_noon(night), words=_night_words(night, dark), slots=len(night.jd),
        clock=tuple(f"{_clock(night, slot):%H:%M}" for slot in range(len(night.jd))),
        sun=_told(night.sun_altitude), moon=_told(night.moon_altitude), dark=tuple(_spans(dark)), free=free,
        rigs=tuple(planned), jobs=tuple(jobs),
    )  # fmt: skip


def _packed(night: Night, rig: TonightRig, others: Sequence[TonightRig]) -> TonightRig:
    """The rig packed up once its last run is over and no other rig is being packed: one pair of hands."""
    if not rig.runs:
        return rig
    at = float(max(run.end for run in rig.runs))
    for taken in sorted(event.slot for other in others for event in other.events if event.what.endswith(PACK)):
        if abs(taken - at) < PACK_MIN / STEP_MIN:
            at = taken + PACK_MIN / STEP_MIN
    done = _event(night, at, f"{rig.name}: {PACK}", hands=True)
    return rig.model_copy(update={"events": (*rig.events, done)})


def _told(values: Array) -> tuple[float, ...]:
    return tuple(round(float(value), 1) for value in values)


def _spans(mask: Mask) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(int)))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _night_words(night: Night, dark: Mask) -> str:
    if not dark.any():
        return "it does not get dark"
    first, last = (_clock(night, float(np.flatnonzero(dark)[end])) for end in (0, -1))
    lit = float(night.moon.illuminated[dark].mean())
    up = night.hours(dark & night.moon_is_up)
    moon = "moon below the horizon" if up == 0 else f"moon {lit:.0%}, up for {up:.1f} h of the dark"
    return f"dark {first:%H:%M} to {last:%H:%M}, {moon}"


def wanted(context: Context, night: Night, day: date) -> tuple[Wanted, ...]:
    """The targets of a rig that are for this night, with what each slot of it is worth to them."""
    own, practice = context.of(Exposing), context.practice
    if own.lacks:
        return ()
    found = []
    for _, framing, glow in own.framings:
        if framing.night is not None and framing.night != day:
            continue
        seen = passing_on(framing.target, night.site, day, practice)
        shots = [shot for shot in own.shots if shot.framing is framing]
        shot = min(shots, key=lambda one: own.hours(one.pixels, one.sub_s), default=None)
        if shot is None or (light := own.hours(shot.pixels, shot.sub_s)) == inf:
            continue
        share = context.known.get("open_share") or 1.0
        seconds = budget(context, framing.plan).clock_s if framing.plan else light * 3600 / share
        need = max(1, ceil(seconds * framing.columns * framing.rows / SLOT_S))
        found.append(Wanted(framing, glow, seen, _worth(own, framing, shot, seen), need, bool(framing.plan)))
    return tuple(found)


def _worth(own: Exposing, framing: Framing, shot: Shot, seen: Pass) -> Array:
    """What a slot is worth, (m,): signal to noise squared gained in it, of the best slot a target ever had as 1."""
    night, context = seen.night, own.context
    pixel = own.telling(shot.pixels)
    collector = own.collector
    if pixel is None or collector is None:
        return np.zeros(len(night.jd))
    sky, extinction = own.conditions(framing), context.practice.extinction_mag
    up = np.maximum(seen.altitude, 5.0)
    airmass = 1 / np.sin(np.radians(up))
    target = pixel.target * 10 ** (-0.4 * extinction * (airmass - sky.airmass))
    moon = moonlight(
        night.moon.phase_angle_deg, seen.moon_separation, night.moon_altitude, up, night.site.sky_brightness
    )
    glows = pixel.sky * 10 ** (0.4 * (moon - sky.moon_mag))
    noise = collector.read_noise_e**2 / shot.sub_s
    gained = target**2 / (target + glows + pixel.dark + noise)
    overhead = pixel.target * 10 ** (-0.4 * extinction * (1 - sky.airmass))
    best = overhead**2 / (overhead + pixel.sky * 10 ** (-0.4 * sky.moon_mag) + pixel.dark + noise)
    return np.asarray(gained / best)


def _rig_night(
    rig_id: str, context: Context, hours: Hours, pins: dict[str, int], busy_until: float
) -> tuple[TonightRig, float]:
    """One rig's night, and until when its owner's hands are busy setting it up (in slots)."""
    night = hours.night
    events, ready = _set_up(context, hours, busy_until)
    targets = wanted(context, night, night.day)
    jobs = [_job(context, one, hours, ready, pins) for one in targets]
    runs = schedule(jobs, len(night.jd), pins)
    known = {one.key: one for one in targets}
    told = tuple(_run(context, night, known[run.key], run, pins) for run in runs)
    for run in runs:
        events += _during(context, night, known[run.key], run)
    because = ""
    if not runs:
        because = context.of(Exposing).lacks or (
            "it frames no target for this night" if not targets
            else "no target stands free in the dark hours that are free"
        )  # fmt: skip
    rig = TonightRig(
        rig_id=rig_id, name=context.rig.name, because=because,
        curves=tuple(
            TonightCurve(
                target=one.key, name=one.framing.target.name, altitude=_told(one.seen.altitude),
                usable=tuple(bool(x) for x in one.seen.usable),
            )
            for one in targets
        ),
        runs=told, events=tuple(sorted(events, key=lambda one: one.slot)) if runs else (),
        fits=tuple(_fits(context, night, one, next((run for run in runs if run.key == one.key), None)) for one in targets),
        mind=tuple(_mind(context, night, known, runs, pins)),
    )  # fmt: skip
    return rig, (ready if runs else busy_until)


def _noon(night: Night) -> datetime:
    """Where the slots begin, UTC, to the minute: a Julian date is good to some milliseconds only."""
    return (moment_of(float(night.jd[0])) + timedelta(seconds=30)).replace(second=0, microsecond=0)


def _clock(night: Night, slot: float) -> datetime:
    """A slot on the site's clocks."""
    return (_noon(night) + timedelta(minutes=slot * STEP_MIN)).astimezone(ZoneInfo(night.site.timezone))


def _event(night: Night, slot: float, what: str, *, hands: bool = False) -> TonightEvent:
    return TonightEvent(slot=round(slot, 2), time=f"{_clock(night, slot):%H:%M}", what=what, hands=hands)


def _set_up(context: Context, hours: Hours, busy_until: float) -> tuple[list[TonightEvent], float]:
    """When to begin, so that the pole is aligned as soon as it shows; and when the first sub can begin (in slots)."""
    night, cards = hours.night, context.of(Build).cards
    keys = [card.key for card in cards]
    first = keys.index("polar") if "polar" in keys else len(cards)
    before, after = (sum(card.minutes for card in part) / STEP_MIN for part in (cards[:first], cards[first:]))
    shows = np.flatnonzero(night.sun_altitude < POLAR_SUN)
    pole = float(shows[0]) if len(shows) else 0.0
    begin = max(pole - before, float(hours.start), busy_until)
    aligned = max(begin + before, pole)
    name = context.rig.name
    events = [_event(night, begin, f"{name}: set up, {before * STEP_MIN:.0f} min", hands=True)]
    if "polar" in keys:
        events.append(_event(night, aligned, f"{name}: polar alignment, focus, calibration", hands=True))
    return events, aligned + after


def _job(context: Context, one: Wanted, hours: Hours, ready: float, pins: Mapping[str, int]) -> Job:
    at = np.arange(len(hours.night.jd))
    may = one.seen.usable & hours.mask & (at >= ready)
    worth = np.where(may, one.worth, 0.0)
    flips = _flip(context, one)
    if flips is not None:
        worth[flips] = 0.0  # the pause of the flip
    least = 1 if one.key in pins else max(1, min(one.need, ceil(LEAST_MIN / STEP_MIN)))
    return Job(one.key, worth, np.asarray(may), one.need, least, ceil(CHANGE_MIN / STEP_MIN))


def _flip(context: Context, one: Wanted) -> int | None:
    """The slot in which a mount that must turn over does so for a target: as it crosses the meridian."""
    mount = context.rig.mount
    if mount is None or mount.style != "german_equatorial":
        return None
    return int(np.argmax(one.seen.altitude))


def _during(context: Context, night: Night, one: Wanted, run: Run) -> list[TonightEvent]:
    """What happens while a target is shot: the flip, and refocusing by the hour."""
    found = []
    flip = _flip(context, one)
    if flip is not None and run.start < flip < run.end - 1:
        found.append(_event(night, flip, f"flip, {context.practice.flip_min:g} min"))
    every = (context.known.get("refocus_every") or context.practice.refocus_hours) * 60 / STEP_MIN
    at = run.start + every
    while at < run.end - 2:
        found.append(_event(night, at, "refocus"))
        at += every
    return found


def _run(context: Context, night: Night, one: Wanted, run: Run, pins: Mapping[str, int]) -> TonightRun:
    start, end = _event(night, run.start, ""), _event(night, run.end, "")
    return TonightRun(
        target=one.key, name=one.framing.target.name, start=run.start, end=run.end, from_words=start.time,
        to_words=end.time, words=_subs(context, one, run), pinned=run.key in pins,
    )  # fmt: skip


def _subs(context: Context, one: Wanted, run: Run) -> str:
    """How many subs of which block the run holds, pauses counted, whole subs on either side of a flip."""
    practice, own = context.practice, context.of(Exposing)
    stretches = [run.end - run.start]
    flip = _flip(context, one)
    if flip is not None and run.start < flip < run.end - 1:
        stretches = [flip - run.start, run.end - flip - ceil(practice.flip_min / STEP_MIN)]
    plan = one.framing.plan
    often = context.known.get("refocus_share") or 0.0
    clocks = [stretch * SLOT_S * (1 - often) for stretch in stretches if stretch > 0]
    if not plan:
        sub = context.rig.guide.sub_s
        each = sub + practice.download_s + (context.known.get("dither_pause") or 0.0)
        name = own.filter.name if own.filter else "no filter"
        return f"{sum(int(clock // each) for clock in clocks)} × {sub:g} s, {name}"
    told = []
    for block in plan:
        each = (
            block.sub_s + practice.download_s + (practice.dither_s / block.dither_every if block.dither_every else 0.0)
        )
        left, done = block.count, 0
        for k, clock in enumerate(clocks):
            fits = min(left, int(clock // each))
            clocks[k] -= fits * each
            left, done = left - fits, done + fits
        if done:
            behind = own.resolved(block)[0]
            told.append(f"{done} × {block.sub_s:g} s {behind.name if behind else 'no filter'}")
    return " + ".join(told) or "less than a sub"


def _fits(context: Context, night: Night, one: Wanted, run: Run | None) -> TonightLine:
    """What of a plan, or of a wish, the night holds; and which night would serve the rest."""
    name, whole = one.framing.target.name, "plan" if one.planned else "wish"
    got = 0 if run is None else run.end - run.start
    if got >= one.need:
        return TonightLine(
            verdict="holds", words=f"{name} to its {whole}: {integration_words(one.need * SLOT_S)} by the clock"
        )
    other = best_night(one, night.site, night.day, context)
    later = "" if other is None else f"; the rest on {named(other)}" if got else f"; better on {named(other)}"
    words = f"{name}: {integration_words(got * SLOT_S)} of {integration_words(one.need * SLOT_S)} by the clock{later}"
    return TonightLine(verdict="strains", words=words, day=other)


def best_night(one: Wanted, site: Site, day: date, context: Context) -> date | None:
    """The night of the next fortnight that gives a target most, by usable hours and moonlight; None where none does."""
    best: tuple[float, date] | None = None
    for k in range(1, AHEAD_NIGHTS + 1):
        other = day + timedelta(days=k)
        seen = passing_on(one.framing.target, site, other, context.practice)
        worth = worth_of(seen)
        if worth > 0 and (best is None or worth > best[0] * 1.02):
            best = worth, other
    return None if best is None else best[1]


def worth_of(seen: Pass) -> float:
    """What a night is worth to a target: usable hours, a magnitude of moonlight taking what a brighter sky costs."""
    return seen.hours * float(10 ** (-0.4 * seen.moonlight_mag))


def _mind(
    context: Context, night: Night, known: Mapping[str, Wanted], runs: Sequence[Run], pins: Mapping[str, int]
) -> list[TonightLine]:
    placed = {run.key for run in runs}
    found = [
        TonightLine(
            verdict="strains",
            words=f"{known[key].framing.target.name} cannot begin at {_event(night, slot, '').time}, where it was put",
        )
        for key, slot in pins.items()
        if key in known and key not in placed
    ]
    for run in runs:
        one = known[run.key]
        flip = _flip(context, one)
        if flip is not None and run.start < flip < run.end - 1:
            time = _event(night, flip, "").time
            found.append(
                TonightLine(verdict="holds", words=f"{one.framing.target.name} flips at {time}, between two subs")
            )
        hidden = horizon_at(night.site, one.seen.azimuth[run.end - 1 : run.end + 3])
        after = one.seen.altitude[run.end - 1 : run.end + 3]
        if got_short(one, run) and (after <= hidden).any():
            time = _event(night, run.end, "").time
            found.append(TonightLine(verdict="strains", words=f"The horizon takes {one.framing.target.name} at {time}"))
    if not runs:
        return found
    lasts = context.known.get("power.hours_left_h")
    source = context.rig.supply.source
    if lasts is not None and source is not None:
        begin = min(run.start for run in runs)
        empty = begin + lasts * 60 / STEP_MIN
        end = max(run.end for run in runs)
        verdict: Verdict = "strains" if empty < end else "holds"
        words = f"The {source.name} lasts the night"
        if empty < len(night.jd):
            words = f"The {source.name} lasts to {_event(night, empty, '').time}" + (
                ", before the end" if empty < end else ""
            )
        found.append(TonightLine(verdict=verdict, words=words))
    margin = context.known.get("power.dew_margin_k")
    if margin is not None and margin < context.practice.dew_margin_k:
        found.append(
            TonightLine(
                verdict="strains", words=f"Glass comes within {max(margin, 0):.1f} K of the dew point: bands on"
            )
        )
    return found


def got_short(one: Wanted, run: Run) -> bool:
    """Whether a run ends before its target has what it needs."""
    return run.end - run.start < one.need
