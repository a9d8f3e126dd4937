"""A night of one or several rigs, planned."""

from datetime import UTC, date, datetime
from typing import Annotated

from fastapi import APIRouter, HTTPException, Response
from pydantic import Field

from dravel.api.deps import PracticeDep, ShelfDep, StoreDep
from dravel.api.tonight import Clock, ClockDep
from dravel.core.engine.context import Context
from dravel.core.model import Part, Practice, Site
from dravel.core.model.base import Evening, Identifier, Model, Quantity
from dravel.core.overview.ahead import Ahead, ahead
from dravel.core.overview.tonight import TonightPlan, tonight
from dravel.core.steps import STEPS
from dravel.formats import night_calendar
from dravel.store import Store

OnClock = Annotated[float | None, Quantity("Hour on the clock", "h", 0, 24)]
Slot = Annotated[int, Quantity("Slot from noon", "", 0, 320)]


class NightWanted(Model):
    """Which rigs, at which site (the first rig's own when none is named), on which evening (tonight), in which free hours.

    `pins`, by rig and target, are slots of five minutes from noon in which a run must begin.
    """

    rigs: Annotated[tuple[Identifier, ...], Field(title="Rigs", min_length=1, max_length=4)]
    site: Identifier | None = None
    night: Evening | None = None
    free_from_h: OnClock = None
    free_until_h: OnClock = None
    pins: Annotated[dict[str, dict[str, Slot]], Field(max_length=4)] = {}


def router() -> APIRouter:
    """The routes of the evening."""
    made = APIRouter(tags=["evening"])
    made.add_api_route("/tonight", plan_night, methods=["POST"])
    made.add_api_route("/tonight/ahead", nights_ahead, methods=["POST"])
    made.add_api_route(
        "/tonight/calendar",
        calendar,
        methods=["POST"],
        response_class=Response,
        responses={200: {"content": {"text/calendar": {}}, "description": "The night for a calendar"}},
    )
    return made


def _asked(
    given: NightWanted, practice: Practice, shelf: tuple[Part, ...], store: Store, clock: Clock
) -> tuple[list[tuple[str, Context]], Site, date]:
    """The rigs at the site of the night, the site, and the evening."""
    rigs = [(rig_id, store.rigs.get(rig_id).rig) for rig_id in dict.fromkeys(given.rigs)]
    kept = store.sites.get(given.site).body if given.site else next((rig.site for _, rig in rigs if rig.site), None)
    if kept is None:
        raise HTTPException(422, "site: the rigs need a site to be planned at")
    site: Site = kept
    day: date = given.night or clock(site)
    contexts = [
        (rig_id, STEPS.context(rig.model_copy(update={"site": site}), practice, shelf, tonight=day))
        for rig_id, rig in rigs
    ]
    return contexts, site, day


def nights_ahead(given: NightWanted, practice: PracticeDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep) -> Ahead:
    """Which of the next fourteen nights for which target."""
    return ahead(*_asked(given, practice, shelf, store, clock))


def plan_night(
    given: NightWanted, practice: PracticeDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> TonightPlan:
    """The best order of the night for each rig, what fits, what to mind, what hands do. Nothing is kept."""
    contexts, site, day = _asked(given, practice, shelf, store, clock)
    return tonight(contexts, site, day, free_from_h=given.free_from_h, free_until_h=given.free_until_h, pins=given.pins)


def calendar(given: NightWanted, practice: PracticeDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep) -> Response:
    """The same night as iCalendar."""
    made = night_calendar.as_ics(plan_night(given, practice, shelf, store, clock), datetime.now(UTC))
    return Response(
        made, media_type="text/calendar", headers={"content-disposition": 'attachment; filename="tonight.ics"'}
    )
