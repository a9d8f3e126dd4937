"""Searching targets: the catalogue by kind, size, night and fit; the year of a whole list; which rig a month suits."""

from datetime import date
from typing import Annotated

from fastapi import APIRouter, HTTPException, Query
from pydantic import Field

from dravel.api.deps import PreferencesDep, StoreDep
from dravel.api.tonight import ClockDep
from dravel.catalogue.objects import catalogue
from dravel.core.model.base import WHOLE, Evening, Identifier, Model
from dravel.core.overview.months import Months, months
from dravel.core.overview.readiness import as_other, other_rigs
from dravel.core.sky.curves import YearStrip, year_strip
from dravel.core.sky.night import night_of
from dravel.core.sky.search import ENOUGH_HOURS, SearchFound, SearchWanted, find

router = APIRouter(tags=["sky"])
PAGE = 60


class SearchAsked(Model):
    """What to look for; hours and altitude on a night at a site (they need one), the fit in a rig's field."""

    wanted: SearchWanted = SearchWanted()
    site: Identifier | None = None
    on: Evening | None = None
    month: Annotated[int | None, Field(ge=1, le=12, description="The middle of the next such month"), WHOLE] = None
    rig: Identifier | None = None
    most: Annotated[int, Field(ge=1, le=500), WHOLE] = PAGE


class SearchAnswer(Model):
    """The first that answer, most prominent first, and how many there are."""

    found: tuple[SearchFound, ...]
    total: int


class ListedYear(Model):
    """One of the user's targets and its year."""

    id: str
    name: str
    year: YearStrip


class YearsAsked(Model):
    """Of which kept targets, and at which site."""

    site: Identifier
    targets: Annotated[tuple[Identifier, ...], Field(max_length=200)]


@router.post("/sky/objects")
def objects(given: SearchAsked, store: StoreDep, preferences: PreferencesDep, clock: ClockDep) -> SearchAnswer:
    """Catalogue objects by what they are, how they stand on a night, and whether they fit a rig."""
    site = store.sites.get(given.site).body if given.site else None
    day = given.on or clock(site)
    if given.month is not None:
        day = date(day.year + (given.month < day.month), given.month, 15)
    night = night_of(site, day) if site else None
    wanted = given.wanted
    if given.month is not None and site is not None and wanted.hours is None:
        # Without hours in it a month would change nothing.
        wanted = wanted.model_copy(update={"hours": ENOUGH_HOURS})
    field = least = None
    if given.rig:
        known = as_other(store.rigs.get(given.rig).rig, preferences)
        field, least = known[1:] if known else (None, None)
    try:
        result, total = find(catalogue().everything(), wanted, preferences, night, field, given.most, least)
    except ValueError as error:
        raise HTTPException(422, str(error)) from None
    return SearchAnswer(found=result, total=total)


@router.post("/sky/years")
def years(given: YearsAsked, store: StoreDep, preferences: PreferencesDep, clock: ClockDep) -> list[ListedYear]:
    """The years of some of the targets the user keeps, at a site; those that are not kept are left out."""
    place = store.sites.get(given.site).body
    first = clock(place)
    return [
        ListedYear(id=entry.id, name=entry.body.name, year=year_strip(entry.body, place, first, preferences))
        for entry in store.targets.some(given.targets)
    ]


@router.get("/sky/months")
def suited(
    store: StoreDep,
    preferences: PreferencesDep,
    clock: ClockDep,
    site: Annotated[str | None, Query(max_length=80)] = None,
) -> Months | None:
    """Which rig each month suits, at a site (the first kept when none is named)."""
    place = store.sites.get(site).body if site else next((entry.body for entry in store.sites.all()), None)
    if place is None:
        return None
    rigs = other_rigs(store.rigs.each(as_other, preferences))
    return months(
        [(rig.rig_id, rig.name, rig.field, rig.least) for rig in rigs],
        catalogue().everything(),
        place,
        clock(place),
        preferences,
    )
