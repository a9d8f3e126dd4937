"""A night of one or several rigs, planned."""

from datetime import UTC, date, datetime
from typing import Annotated

from fastapi import APIRouter, HTTPException, Response
from pydantic import Field

from dravel.api.deps import PracticeDep, ShelfDep, StoreDep
from dravel.api.tonight import ClockDep
from dravel.core.model import Site
from dravel.core.model.base import Evening, Identifier, Model, Quantity
from dravel.core.overview.tonight import TonightPlan, tonight
from dravel.core.steps import STEPS
from dravel.formats import night_calendar

Clock = Annotated[float | None, Quantity("Hour on the clock", "h", 0, 24)]
Slot = Annotated[int, Quantity("Slot from noon", "", 0, 320)]


class NightWanted(Model):
    """Which rigs, at which site (the first rig's own when none is named), on which evening (tonight), in which free hours.

    `pins`, by rig and target, are slots of five minutes from noon in which a run must begin.
    """

    rigs: Annotated[tuple[Identifier, ...], Field(title="Rigs", min_length=1, max_length=4)]
    site: Identifier | None = None
    night: Evening | None = None
    free_from_h: Clock = None
    free_until_h: Clock = None
    pins: Annotated[dict[str, dict[str, Slot]], Field(max_length=4)] = {}


def router() -> APIRouter:
    """The routes of the evening."""
    made = APIRouter(tags=["evening"])
    made.add_api_route("/tonight", plan_night, methods=["POST"])
    made.add_api_route(
        "/tonight/calendar",
        calendar,
        methods=["POST"],
        response_class=Response,
        responses={200: {"content": {"text/calendar": {}}, "description": "The night for a calendar"}},
    )
    return made


def plan_night(
    given: NightWanted, practice: PracticeDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> TonightPlan:
    """The best order of the night for each rig, what fits, what to mind, what hands do. Nothing is kept."""
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
    return tonight(contexts, site, day, free_from_h=given.free_from_h, free_until_h=given.free_until_h, pins=given.pins)


def calendar(given: NightWanted, practice: PracticeDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep) -> Response:
    """The same night as iCalendar."""
    made = night_calendar.as_ics(plan_night(given, practice, shelf, store, clock), datetime.now(UTC))
    return Response(
        made, media_type="text/calendar", headers={"content-disposition": 'attachment; filename="tonight.ics"'}
    )
