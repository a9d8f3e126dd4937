"""Nights and years: curves of a target, what a night is good for, horizons and places from text."""

from collections.abc import Iterator
from typing import Annotated

from fastapi import APIRouter, HTTPException, Query
from pydantic import Field

from dravel.api.deps import BodyDep, PreferencesDep, StoreDep
from dravel.api.tonight import ClockDep, TrueClockDep
from dravel.catalogue.objects import catalogue
from dravel.core.model import HorizonPoint, Rig, Site, Target
from dravel.core.model.base import Evening, Identifier, Model, YesNo
from dravel.core.model.sky import TargetKind
from dravel.core.model.words import Text
from dravel.core.overview.readiness import rig_for_night
from dravel.core.sky.curves import NightCurve, NightFacts, YearStrip, night_curve, night_facts, year_strip
from dravel.core.sky.evenings import EveningChoice, evening_choice
from dravel.core.sky.moving import bodies_on, placed
from dravel.core.sky.night import night_of
from dravel.core.sky.ranking import Worth, best_of, rank, rank_moving
from dravel.core.sky.standing import facts_of, standing
from dravel.core.steps import STEPS
from dravel.formats import horizon, places
from dravel.formats.faults import MOST as MOST_FAULTS
from dravel.formats.faults import Fault
from dravel.store import Store

router = APIRouter(tags=["sky"])
LISTED = 4000  # targets of a list that are ranked together


class TargetNight(Model):
    """A target at a site, neither of which need be kept, on a night."""

    site: Site
    target: Target
    on: Evening | None = None


class NightAnswer(Model):
    """The night and the year of a target."""

    night: NightCurve
    year: YearStrip


class RankingAsked(Model):
    """What a rig's night is good for. Without a site the rig's own counts. `beside` are kept rigs that could be taken as
    well: each object then goes to the one that suits it best. No kinds are all kinds.
    """

    rig: Rig
    beside: Annotated[tuple[Identifier, ...], Field(max_length=7)] = ()
    site: Identifier | None = None
    on: Evening | None = None
    kinds: Annotated[tuple[TargetKind, ...], Field(max_length=10)] = ()
    beginner: YesNo = False
    listed: Annotated[YesNo, Field(description="Only the user's own targets, not the whole catalogue")] = False


class RankingAnswer(Model):
    """The night, and the best objects of it."""

    facts: NightFacts | None
    best: tuple[Worth, ...] = ()
    because: Text = Text("")


class HorizonAnswer(Model):
    """Points read, and the lines left out, the first hundred of them."""

    points: tuple[HorizonPoint, ...]
    faults: tuple[tuple[int, Fault], ...]
    more: int = 0


class TimeZone(Model):
    """A time zone found from coordinates."""

    timezone: str


@router.post("/sky/night")
def night(given: TargetNight, preferences: PreferencesDep, clock: ClockDep) -> NightAnswer:
    """Night curve of a target, and its year from tonight on."""
    today = clock(given.site)
    return NightAnswer(
        night=night_curve(given.target, given.site, given.on or today, preferences),
        year=year_strip(given.target, given.site, today, preferences),
    )


@router.get("/sky/evening")
def evening(
    store: StoreDep, clock: ClockDep, true_clock: TrueClockDep, site: Annotated[str | None, Query(max_length=80)] = None
) -> EveningChoice:
    """The night that is chosen (tonight without one) by name, its moon, and the evenings around it."""
    place = store.sites.get(site).body if site else next((entry.body for entry in store.sites.all(0, 1)), None)
    return evening_choice(clock(place), true_clock(place), place)


@router.post("/sky/ranking")
def ranking(given: RankingAsked, store: StoreDep, preferences: PreferencesDep, clock: ClockDep) -> RankingAnswer:
    """The whole catalogue (or the user's own list) ranked for a rig, a site and a night."""
    site = store.sites.get(given.site).body if given.site else given.rig.site
    if site is None:
        return RankingAnswer(facts=None, because="no site for this rig")
    seen = night_of(site, given.on or clock(site))
    facts = night_facts(seen, preferences)
    rigs, answer = [], []
    for rig in (given.rig, *(store.rigs.get(item).rig for item in given.beside)):
        able, because = rig_for_night(STEPS.context(rig, preferences))
        if able is None:
            answer.append(because)
        else:
            own = bodies_on(seen) if "planetary" in rig.purposes and not given.kinds else None
            rigs.append((rig.name if given.beside else "", able, own))
    ranked: list[tuple[str, tuple[Worth, ...]]] = []
    for name, able, own in rigs:
        ranked.append((name, rank_moving(own or (), able, seen, preferences)))
    for targets in _lists(given, store):
        fixed = tuple(target for target in targets if target.body is None)
        moving = tuple(placed(target, seen) for target in targets if target.body is not None)
        there = standing(facts_of(fixed), seen, preferences)  # the same for every rig
        for name, able, own in rigs:
            best = rank(fixed, able, seen, preferences, beginner=given.beginner, there=there)
            ranked.append((name, best + rank_moving(moving if own is None else (), able, seen, preferences)))
    return RankingAnswer(facts=facts, best=best_of(ranked), because="" if rigs else answer[0])


def _lists(given: RankingAsked, store: Store) -> Iterator[tuple[Target, ...]]:
    """What is ranked: the catalogue, or the user's list a block at a time, however long it is."""
    blocks = (
        (tuple(entry.body for entry in block) for block in store.targets.blocks(LISTED))
        if given.listed
        else (catalogue().everything(),)
    )
    for targets in blocks:
        if given.kinds:
            targets = tuple(target for target in targets if target.body is None and target.kind in given.kinds)
        yield targets


@router.post(
    "/sky/horizon",
    openapi_extra={"requestBody": {"required": True, "content": {"text/plain": {"schema": {"type": "string"}}}}},
)
def read_horizon(given: BodyDep) -> HorizonAnswer:
    """Read a horizon from two columns of text. Nothing is kept."""
    try:
        text = given.decode("utf-8")
    except UnicodeDecodeError as error:
        fault = Fault(field="file", reason=f"is not text in UTF-8: byte {error.start} cannot be read")
        return HorizonAnswer(points=(), faults=((1, fault),))
    points, faults = horizon.read(text)
    return HorizonAnswer(
        points=points[:360], faults=tuple(faults[:MOST_FAULTS]), more=max(len(faults) - MOST_FAULTS, 0)
    )


@router.get("/sky/place")
def read_place(text: Annotated[str, Query(max_length=120)]) -> places.Place:
    """A latitude and a longitude as people write them: decimal or sexagesimal, signed or with letters."""
    try:
        return places.read(text)
    except ValueError as error:
        raise HTTPException(422, str(error)) from None


@router.get("/sky/timezone")
def timezone(
    latitude_deg: Annotated[float, Query(ge=-90, le=90)], longitude_deg: Annotated[float, Query(ge=-180, le=180)]
) -> TimeZone:
    """The time zone at a place, from packaged boundaries."""
    # Imported when first asked: its boundaries are large.
    from timezonefinder import timezone_at

    return TimeZone(timezone=timezone_at(lng=longitude_deg, lat=latitude_deg) or "UTC")
