"""A night that runs, or a rehearsal of one: begun, marked from any device, planned anew, ended with a session's record."""

import asyncio
from collections.abc import AsyncIterator
from datetime import datetime, timedelta
from functools import lru_cache
from typing import Annotated

from fastapi import APIRouter, HTTPException
from pydantic import AwareDatetime, Field
from starlette.concurrency import run_in_threadpool
from starlette.responses import StreamingResponse

from dravel.api.deps import PreferencesDep, ShelfDep, StoreDep
from dravel.api.routers.evening import NightWanted, asked_for
from dravel.api.tonight import ClockDep, NowDep
from dravel.core.model import Part, Preferences
from dravel.core.model.base import Model, Quantity
from dravel.core.model.session import SessionRecord
from dravel.core.model.words import Text
from dravel.core.overview.cues import NightCue, cues, time_of
from dravel.core.overview.marks import MarkKind, NightMark, clouds, conflicts, done, skipped
from dravel.core.overview.night_targets import SLOT_S
from dravel.core.overview.record import Span, frames_of, record
from dravel.core.overview.tonight import TonightPlan, tonight
from dravel.core.overview.underway import joined, left_of
from dravel.core.steps import STEPS
from dravel.stand_ins.instruments import NIGHT_S, RigFacts, Trouble
from dravel.stand_ins.rehearsal import Rehearsal, facts_of, rehearse
from dravel.store import KeptNight, Store

FASTEST = 3600.0
EARLY_S = 60.0  # a rehearsal begins so long before its first step
OFF_S = 120.0  # a device's clock may be so far ahead
LOOK_S = 0.4
STILL_THERE_S = 15.0
MarkId = Annotated[str, Field(title="Mark", min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")]
Speed = Annotated[float, Quantity("Speed", "×", 0, FASTEST)]


class RehearsalWanted(Model):
    """How a night is rehearsed: which of the seeded nights, how much trouble, how fast."""

    seed: Annotated[int, Quantity("Seed", "", 0, 2**31 - 1)] = 1
    trouble: Trouble = "some"
    speed: Speed = 300.0


class NightBegun(Model):
    """A night to begin, under an id of the device's own; with a rehearsal, stand-ins play it."""

    id: MarkId
    asked: NightWanted
    rehearsal: RehearsalWanted | None = None


class MarkGiven(Model):
    """Done, clouds, clear again or skip, as a device kept it: `at` by the device's own clock."""

    id: MarkId
    kind: MarkKind
    rig: Annotated[str, Field(max_length=80)] = ""
    step: Annotated[str, Field(max_length=200)] = ""
    at: AwareDatetime
    device: Annotated[str, Field(max_length=80)] = ""


class MarksGiven(Model):
    """Marks that a device delivers, old ones too."""

    night: MarkId
    marks: Annotated[tuple[MarkGiven, ...], Field(max_length=500)]


class SpeedGiven(Model):
    """How fast a rehearsal goes from now on; 0 holds it. `to_s` puts its clock there, seconds from noon."""

    night: MarkId
    speed: Speed
    to_s: Annotated[float | None, Quantity("Seconds from noon", "s", 0, NIGHT_S)] = None


class NightNamed(Model):
    """Which night."""

    night: MarkId


class NightAnchor(Model):
    """From when on (UTC) a night's clock stood where, and how fast it goes."""

    at: AwareDatetime
    night_s: float
    speed: float


class NightBody(Model):
    """What is kept of a night that runs."""

    asked: NightWanted
    plan: TonightPlan
    revisions: dict[str, int]
    anchors: tuple[NightAnchor, ...]
    rehearsal: RehearsalWanted | None
    facts: dict[str, RigFacts]
    planned_after: int = 0  # so many marks that change the plan were there when it was made
    unplanned: str = ""  # why it could not be made anew


class NightRig(Model):
    """A rig in the night: its cues, and the steps marked done."""

    rig_id: str
    name: str
    cues: tuple[NightCue, ...]
    done: tuple[str, ...]
    mind: tuple[Text, ...]


class SessionKept(Model):
    """A session by its id."""

    id: str
    record: SessionRecord


class NightState(Model):
    """A night as it stands. `at_s` is its own clock, seconds from noon, at the server's `now`; `running` false: there is none."""

    running: bool
    id: str = ""
    version: int = 0
    now: AwareDatetime
    at_s: float = 0.0
    speed: float = 0.0
    ends_s: float = 0.0
    plan: TonightPlan | None = None
    rigs: tuple[NightRig, ...] = ()
    cloud_since: str = ""
    conflicts: tuple[Text, ...] = ()
    marks: int = 0
    rehearsal: Rehearsal | None = None
    sessions: tuple[SessionKept, ...] = ()


def router() -> APIRouter:
    """The routes of a night that runs."""
    made = APIRouter(tags=["running"])
    made.add_api_route("/night", begin_night, methods=["POST"])
    made.add_api_route("/night", read_night, methods=["GET"])
    made.add_api_route("/night/marks", mark_night, methods=["POST"])
    made.add_api_route("/night/speed", speed_night, methods=["POST"])
    made.add_api_route("/night/end", end_night, methods=["POST"])
    made.add_api_route(
        "/night/events", watch_night, methods=["GET"], response_class=StreamingResponse,
        responses={200: {"content": {"text/event-stream": {}}}},
    )  # fmt: skip
    return made


def begin_night(
    given: NightBegun, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep, now: NowDep
) -> NightState:
    """Begin the planned night, or rehearse it. One runs at a time."""
    contexts, site, day = asked_for(given.asked, preferences, shelf, store, clock)
    plan = tonight(
        contexts, site, day, free_from_h=given.asked.free_from_h, free_until_h=given.asked.free_until_h,
        pins=given.asked.pins,
    )  # fmt: skip
    if not any(rig.steps for rig in plan.rigs):
        raise HTTPException(422, "rigs: none of them has anything to do this night: " + "; ".join(
            f"{rig.name}: {rig.because}" for rig in plan.rigs))  # fmt: skip
    first = min(rig.steps[0].start_s for rig in plan.rigs if rig.steps)
    anchor = (
        NightAnchor(at=now, night_s=max(first - EARLY_S, 0.0), speed=given.rehearsal.speed)
        if given.rehearsal
        else NightAnchor(at=plan.noon, night_s=0.0, speed=1.0)
    )
    body = NightBody(
        asked=given.asked, plan=plan, revisions={rig_id: store.rigs.get(rig_id).revision for rig_id, _ in contexts},
        anchors=(anchor,), rehearsal=given.rehearsal, facts={rig_id: facts_of(item) for rig_id, item in contexts},
    )  # fmt: skip
    try:
        night = store.nights.begin(body.model_dump_json(), given.id)
    except ValueError as error:
        raise HTTPException(409, str(error)) from None
    return _state(night, now)


def read_night(store: StoreDep, now: NowDep) -> NightState:
    """The night that runs."""
    night = store.nights.current()
    return NightState(running=False, now=now) if night is None else _state(night, now)


def mark_night(
    given: MarksGiven, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep, now: NowDep
) -> NightState:
    """Keep marks, each once. After `clear` and `skip` the rest of the night is planned anew."""
    body = _body(store.nights.get(given.night))
    night = store.nights.mark(
        given.night, [(mark.id, _mark(body, mark, now).model_dump_json()) for mark in given.marks]
    )
    # The marks are kept now, whatever comes of the plan; it is made outside of a write, and again where others marked meanwhile.
    while not night.ended and _body(night).planned_after != _changing(night):
        made = _replanned(night, preferences, shelf, store, clock, now)
        night = store.nights.put(night.id, made, night.version) or store.nights.get(night.id)
    return _state(night, now)


def speed_night(given: SpeedGiven, store: StoreDep, now: NowDep) -> NightState:
    """Let a rehearsal go faster, slower, or jump. A night under the sky keeps its own time."""
    night = store.nights.get(given.night)
    if _body(night).rehearsal is None:
        raise HTTPException(422, "speed: a night under the sky runs in real time; only rehearsals can be faster")

    def change(kept: KeptNight) -> str:
        body = _body(kept)
        at_s = _at(body, now) if given.to_s is None else given.to_s
        anchors = (*body.anchors[-200:], NightAnchor(at=now, night_s=at_s, speed=given.speed))
        return body.model_copy(update={"anchors": anchors}).model_dump_json()

    return _state(store.nights.change(given.night, change), now)


def end_night(given: NightNamed, store: StoreDep, now: NowDep) -> NightState:
    """End the night; what each rig shot of it is kept as a session."""
    night = store.nights.get(given.night)
    kept = store.nights.end(night.id, _records(night, now))
    for item in kept:
        store.frames.link_within(item.id, item.record)
    state = _state(store.nights.get(night.id), now)
    return state.model_copy(update={"sessions": tuple(SessionKept(id=entry.id, record=entry.record) for entry in kept)})


def watch_night(store: StoreDep) -> StreamingResponse:
    """Server-sent events: the id and version of the night that runs, whenever they change."""

    async def events() -> AsyncIterator[str]:
        last, still = ("-", -1), 0.0
        while True:
            now = await run_in_threadpool(store.nights.version)
            if now != last:
                last, still = now, 0.0
                yield f'data: {{"id": "{now[0]}", "version": {now[1]}}}\n\n'
            await asyncio.sleep(LOOK_S)
            still += LOOK_S
            if still >= STILL_THERE_S:
                still = 0.0
                yield ": still there\n\n"

    return StreamingResponse(events(), media_type="text/event-stream")


@lru_cache(maxsize=8)
def _parsed(text: str) -> NightBody:
    return NightBody.model_validate_json(text)


def _body(night: KeptNight) -> NightBody:
    return _parsed(night.body)


def _at(body: NightBody, when: datetime) -> float:
    """The night's own clock at a moment, seconds from noon."""
    anchor = next((item for item in reversed(body.anchors) if item.at <= when), body.anchors[0])
    return min(max(anchor.night_s + (when - anchor.at).total_seconds() * anchor.speed, 0.0), NIGHT_S)


def _mark(body: NightBody, given: MarkGiven, now: datetime) -> NightMark:
    """A mark on the night's clock. One that lies before the night or ahead of the server's clock counts as it arrives."""
    late = given.at > now + timedelta(seconds=OFF_S) or given.at < body.anchors[0].at
    return NightMark(
        id=given.id, kind=given.kind, rig=given.rig, step=given.step, at_s=round(_at(body, now if late else given.at), 1),
        device=given.device, late=late,
    )  # fmt: skip


def _marks(night: KeptNight) -> tuple[NightMark, ...]:
    return tuple(NightMark.model_validate_json(mark) for mark in night.marks)


def _changing(night: KeptNight) -> int:
    """How many marks there are after which the rest of the night is planned anew."""
    return sum(mark.kind in ("clear", "skip") for mark in _marks(night))


def _replanned(
    night: KeptNight, preferences: Preferences, shelf: tuple[Part, ...], store: Store, clock: ClockDep, now: datetime
) -> str:
    """The night's text with the rest of it planned anew, from what was kept up to now; what was put by hand and has not
    begun stays where it was put. Where it cannot be planned the old plan goes on, and says so.
    """
    body, marks = _body(night), _marks(night)
    body = body.model_copy(update={"planned_after": _changing(night), "unplanned": ""})
    at_s = _at(body, now)
    steps = {rig.rig_id: rig.steps for rig in body.plan.rigs}
    try:
        contexts, site, day = asked_for(
            body.asked.model_copy(update={"night": body.plan.day}), preferences, shelf, store, clock
        )
    except (HTTPException, LookupError) as error:
        because = error.detail if isinstance(error, HTTPException) else error
        return body.model_copy(update={"unplanned": f"the rest was not replanned: {because}"}).model_dump_json()
    spans, rest, underway = clouds(marks), [], {}
    for rig_id, context in contexts:
        rig, begun = left_of(context.rig, steps.get(rig_id, ()), at_s, spans, skipped(marks, rig_id))
        rest.append((rig_id, STEPS.context(rig, preferences, shelf, tonight=day)))
        underway[rig_id] = begun
    pins = {
        rig_id: {key: slot for key, slot in put.items() if slot * SLOT_S >= at_s}
        for rig_id, put in body.asked.pins.items()
    }
    new = tonight(
        rest, site, day, free_from_h=body.asked.free_from_h, free_until_h=body.asked.free_until_h, pins=pins,
        underway=underway,
    )  # fmt: skip
    return body.model_copy(update={"plan": joined(body.plan, new, at_s)}).model_dump_json()


@lru_cache(maxsize=8)
def _rehearsed(text: str) -> Rehearsal | None:
    body = _parsed(text)
    return None if body.rehearsal is None else _played(body, NIGHT_S)


def _played(body: NightBody, until_s: float) -> Rehearsal:
    wanted = body.rehearsal or RehearsalWanted()
    return rehearse(body.plan, body.facts, wanted.seed, wanted.trouble, until_s)


def _records(night: KeptNight, now: datetime) -> list[SessionRecord]:
    body, marks = _body(night), _marks(night)
    at_s, result = _at(body, now), []
    played = {rig.rig_id: rig for rig in _played(body, at_s).rigs} if body.rehearsal else {}
    for rig in body.plan.rigs:
        if not rig.steps or rig.steps[0].start_s >= at_s:
            continue
        lines: list[tuple[float, str]] = [(mark.at_s, _told(mark)) for mark in marks if mark.rig in ("", rig.rig_id)]
        if rig.rig_id in played:
            frames = played[rig.rig_id].frames
            lines += [
                (event.at_s, f"{event.what}: {event.does}" if event.does else event.what)
                for event in played[rig.rig_id].events
            ]
        else:
            frames = frames_of(rig.steps, at_s, clouds(marks))
        seed = body.rehearsal.seed if body.rehearsal else None
        result.append(
            record(
                body.plan, rig.rig_id, body.revisions.get(rig.rig_id, 0), frames, sorted(lines), seed=seed, until_s=at_s
            )
        )
    return result


def _told(mark: NightMark) -> str:
    words = {"done": "marked done", "clouds": "clouds", "clear": "clear again", "skip": "skipped"}[mark.kind]
    return f"{words}{f' by {mark.device}' if mark.device else ''}"


def _state(night: KeptNight, now: datetime) -> NightState:
    body, marks = _body(night), _marks(night)
    spans: tuple[Span, ...] = clouds(marks)
    open_since = next((begin for begin, end in spans if end > NIGHT_S * 2), None)
    return NightState(
        running=not night.ended, id=night.id, version=night.version, now=now, at_s=round(_at(body, now), 2),
        speed=body.anchors[-1].speed, ends_s=max((rig.steps[-1].end_s for rig in body.plan.rigs if rig.steps), default=0.0),
        plan=body.plan,
        rigs=tuple(
            NightRig(
                rig_id=rig.rig_id, name=rig.name, cues=cues(body.plan, rig), done=done(marks, rig.rig_id),
                mind=tuple(line.words for line in rig.mind),
            )
            for rig in body.plan.rigs
        ),
        cloud_since="" if open_since is None else time_of(body.plan, open_since), conflicts=(*conflicts(marks), *filter(None, [body.unplanned])),
        marks=len(marks), rehearsal=_rehearsed(night.body),
    )  # fmt: skip
