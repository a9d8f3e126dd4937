"""The log over all nights: totals, what to finish next, marks that worked, the rig as built, a month of nights."""

from datetime import UTC, date, datetime
from typing import Annotated

from fastapi import APIRouter, HTTPException, Query, Response
from pydantic import Field

from dravel.api.deps import PreferencesDep, StoreDep
from dravel.api.files import a_file
from dravel.api.routers.rigs import Base, RigKept, kept_rig
from dravel.api.tonight import ClockDep
from dravel.core.log.as_built import AsBuilt, as_built
from dravel.core.log.finish import ToFinish, to_finish
from dravel.core.log.hands import PartInHands, in_hands
from dravel.core.log.light import LightTotal, TargetLight, by_target, called_by, framed, goals_of, totals, under_keys
from dravel.core.log.month import MonthEntry, MonthOfNights, month_of
from dravel.core.log.worked import WorkedMarks, taken_over, worked
from dravel.core.model import Preferences, Rig
from dravel.core.model.base import WHOLE, Evening, Identifier, Model
from dravel.core.model.session import WorkedMark
from dravel.core.overview.change import Change, change_of
from dravel.core.steps import STEPS
from dravel.formats import log_calendar
from dravel.store import Store

router = APIRouter(tags=["log"])
Warmth = Annotated[float | None, Query(title="Temperature of the night, °C", ge=-60, le=45)]


class LogTotals(Model):
    """Light by target, filter and rig, and the same by target and rig."""

    lights: tuple[LightTotal, ...]
    targets: tuple[TargetLight, ...]
    nights: int
    light_s: float


class MarkToTake(Model):
    """A mark to take over into the rig, made on a revision of it."""

    mark: WorkedMark
    base: Base


class MarkInHand(Model):
    """A mark to take over into a rig in hand."""

    rig: Rig
    mark: WorkedMark


class BuiltView(AsBuilt):
    """The rig as built; `pinned` is the revision that stands outside, and `change` what later ones would change."""

    revision: int
    pinned: int | None
    change: Change | None


class Pinned(Model):
    """Which revision stands outside; none named, and nothing is said of it."""

    revision: Annotated[int | None, Field(ge=1, le=10**9), WHOLE] = None


class RigsOfNight(Model):
    """The rigs of one night."""

    rigs: Annotated[tuple[Identifier, ...], Field(title="Rigs", min_length=1, max_length=40)]


@router.get("/log/totals")
def read_totals(store: StoreDep, preferences: PreferencesDep) -> LogTotals:
    """Light kept over all nights against what is wished; rehearsals count for nothing."""
    return _totals(store, preferences)


@router.get("/log/finish")
def read_finish(store: StoreDep, preferences: PreferencesDep, clock: ClockDep) -> list[ToFinish]:
    """What to finish next: what is begun and open, by season and moon."""
    lights = _totals(store, preferences).targets
    begun = {light.rig_id for light in lights if light.open_s}
    rigs = [(rig.id, STEPS.context(rig.rig, preferences)) for rig in store.rigs.all() if rig.id in begun]
    site = next((context.rig.site for _, context in rigs if context.rig.site), None)
    return list(to_finish(lights, rigs, clock(site)))


@router.get("/log/marks/{rig_id}")
def read_marks(
    rig_id: Identifier, store: StoreDep, preferences: PreferencesDep, temperature_c: Warmth = None
) -> WorkedMarks:
    """The marks that worked on a rig, and where focus should lie at a temperature, else at the site's usual one."""
    rig = store.rigs.get(rig_id).rig
    if temperature_c is None and rig.site is not None:
        temperature_c = rig.site.night_temperature_c
    return worked(STEPS.context(rig, preferences), store.sessions.marks(rig_id), temperature_c)


@router.post("/log/marks/{rig_id}/take")
def take_mark(rig_id: Identifier, given: MarkToTake, store: StoreDep) -> RigKept:
    """Take a mark over into the rig, as one revision."""
    made = taken_over(store.rigs.get(rig_id).rig, given.mark)
    if made is None:
        raise HTTPException(422, "mark: the rig says the same already, or has no place for it")
    return kept_rig(store.rigs.save(rig_id, made, given.base, "a mark that worked, taken over"))


@router.post("/log/marks-taken")
def take_in_hand(given: MarkInHand) -> Rig:
    """A rig in hand with a mark in it. Nothing is kept."""
    made = taken_over(given.rig, given.mark)
    if made is None:
        raise HTTPException(422, "mark: the rig says the same already, or has no place for it")
    return made


@router.get("/log/as-built/{rig_id}")
def read_as_built(rig_id: Identifier, store: StoreDep, preferences: PreferencesDep) -> BuiltView:
    """Everything measured on a rig beside its design; with a pinned revision, what the newest would change of it."""
    kept, pinned = store.rigs.get(rig_id), store.rigs.as_built(rig_id)
    context = STEPS.context(kept.rig, preferences)
    result = as_built(context, store.sessions.marks(rig_id), [item.reading for item in store.frames.of(rig_id)])
    change = None
    if pinned is not None and pinned != kept.revision:
        change = change_of(STEPS.context(store.rigs.revision(rig_id, pinned).rig, preferences), kept.rig)
    return BuiltView(
        rows=result.rows, changes=result.changes, revision=kept.revision, pinned=pinned, change=change
    )  # fmt: skip


@router.put("/log/as-built/{rig_id}")
def pin(rig_id: Identifier, given: Pinned, store: StoreDep, preferences: PreferencesDep) -> BuiltView:
    """Say which revision stands outside."""
    store.rigs.pin(rig_id, given.revision)
    return read_as_built(rig_id, store, preferences)


@router.post("/log/hands")
def read_hands(given: RigsOfNight, store: StoreDep) -> list[PartInHands]:
    """Which parts two rigs of one night both need, which are borrowed, lent or not had."""
    return list(in_hands([store.rigs.get(rig_id).rig for rig_id in dict.fromkeys(given.rigs)]))


@router.get("/log/month")
def read_month(
    store: StoreDep, preferences: PreferencesDep, clock: ClockDep, month: Evening | None = None,
    site: Annotated[str | None, Query(max_length=80)] = None,
) -> MonthOfNights | None:  # fmt: skip
    """A month of nights at a site (the first kept where none is named): moon, darkness, what was shot, what is planned."""
    return _month(store, preferences, clock, month, site)


@router.get("/log/calendar", response_class=Response, responses={200: {"content": {"text/calendar": {}}}})
def read_calendar(
    store: StoreDep, preferences: PreferencesDep, clock: ClockDep, month: Evening | None = None,
    site: Annotated[str | None, Query(max_length=80)] = None,
) -> Response:  # fmt: skip
    """The same month as iCalendar."""
    result = _month(store, preferences, clock, month, site)
    made = log_calendar.as_ics(result.nights if result else (), datetime.now(UTC))
    name = f"nights-{result.first:%Y-%m}.ics" if result else "nights.ics"
    return a_file(made, "text/calendar", name)


def _totals(store: Store, preferences: Preferences) -> LogTotals:
    asked = store.rigs.each(_asked, preferences)
    rows = under_keys(store.sessions.light(), {rig_id: item.called for rig_id, item in asked})
    names = {rig_id: item.name for rig_id, item in asked} | {
        rig_id: name for rig_id, _, name in store.rigs.names()
    }  # fmt: skip
    lights = totals(
        rows, names, {rig_id: item.goals for rig_id, item in asked},
        {key: name for _, item in asked for key, name, _ in item.targets},
        {(rig_id, key): str(words) for rig_id, item in asked for key, _, words in item.targets},
    )  # fmt: skip
    return LogTotals(
        lights=lights, targets=by_target(lights, rows), nights=len({row.night for row in rows if row.kept}),
        light_s=sum(row.kept * row.sub_s for row in rows),
    )  # fmt: skip


class _Asked:
    """What a rig is to collect, its name and its targets' names."""

    def __init__(self, rig: Rig, preferences: Preferences) -> None:
        self.name, self.goals, self.called = rig.name, goals_of(rig, preferences), called_by(rig)
        self.targets = tuple((framing.target.key, framing.target.name, framed(framing)) for framing in rig.framings)


def _asked(rig: Rig, preferences: Preferences) -> _Asked:
    return _Asked(rig, preferences)


def _month(
    store: Store, preferences: Preferences, clock: ClockDep, month: date | None, site: str | None
) -> MonthOfNights | None:
    place = store.sites.get(site).body if site else next((entry.body for entry in store.sites.all()), None)
    if place is None:
        return None
    first = (month or clock(place)).replace(day=1)
    last = first.replace(day=28)
    entries = [
        MonthEntry(night=item.night, rig=item.rig, words=item.targets or "no subs", light_s=item.light_s, simulated=item.simulated)
        for item in store.sessions.shot(first.isoformat(), f"{last:%Y-%m}-31")
    ]  # fmt: skip
    for _, planned in store.rigs.each(_planned):
        entries += [item for item in planned if item.night.startswith(f"{first:%Y-%m}")]
    return month_of(first, place, preferences.darkness, entries, clock(place))


def _planned(rig: Rig) -> tuple[MonthEntry, ...]:
    return tuple(
        MonthEntry(night=framing.night.isoformat(), rig=rig.name, words=framing.target.name, planned=True)
        for framing in rig.framings if framing.night is not None
    )  # fmt: skip
