"""A night of one or several rigs, planned."""

from datetime import UTC, date, datetime
from typing import Annotated

from fastapi import APIRouter, HTTPException, Response
from pydantic import Field

from dravel.api.deps import PreferencesDep, ShelfDep, StoreDep
from dravel.api.files import a_file
from dravel.api.tonight import Clock, ClockDep
from dravel.core.engine.context import Context
from dravel.core.model import Part, Preferences, Rig, Site
from dravel.core.model.base import Evening, Identifier, Model, Quantity
from dravel.core.overview.ahead import Ahead, ahead
from dravel.core.overview.tonight import TonightPlan, tonight
from dravel.core.steps import STEPS
from dravel.formats import night_calendar, night_sheet, run_file
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


class RigTonight(Model):
    """An unsaved rig's own night, in its owner's free hours; `pins` by target, as on Tonight."""

    rig: Rig
    night: Evening | None = None
    free_from_h: OnClock = None
    free_until_h: OnClock = None
    pins: Annotated[dict[str, Slot], Field(max_length=40)] = {}


def router() -> APIRouter:
    """The routes of the evening."""
    made = APIRouter(tags=["evening"])
    made.add_api_route("/tonight", plan_night, methods=["POST"])
    made.add_api_route("/tonight/rig", plan_rig, methods=["POST"])
    made.add_api_route("/tonight/ahead", nights_ahead, methods=["POST"])
    for path, answer, kind, words in (
        ("/tonight/calendar", calendar, "text/calendar", "The night for a calendar"),
        ("/tonight/sheet.pdf", sheet, "application/pdf", "The night on paper"),
        ("/tonight/run-file", run, "application/json", "The night's steps, described by the schema of run files"),
    ):
        made.add_api_route(
            path,
            answer,
            methods=["POST"],
            response_class=Response,
            responses={200: {"content": {kind: {}}, "description": words}},
        )
    return made


def asked_for(
    given: NightWanted, preferences: Preferences, shelf: tuple[Part, ...], store: Store, clock: Clock
) -> tuple[list[tuple[str, Context]], Site, date]:
    """The rigs at the site of the night, the site, and the evening."""
    rigs = [(rig_id, store.rigs.get(rig_id).rig) for rig_id in dict.fromkeys(given.rigs)]
    kept = store.sites.get(given.site).body if given.site else next((rig.site for _, rig in rigs if rig.site), None)
    if kept is None:
        raise HTTPException(422, "site: the rigs need a site to be planned at")
    site: Site = kept
    day: date = given.night or clock(site)
    contexts = [
        (rig_id, STEPS.context(rig.model_copy(update={"site": site}), preferences, shelf, tonight=day))
        for rig_id, rig in rigs
    ]
    return contexts, site, day


def nights_ahead(
    given: NightWanted, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> Ahead:
    """Which of the next fourteen nights for which target."""
    return ahead(*asked_for(given, preferences, shelf, store, clock))


def plan_night(
    given: NightWanted, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> TonightPlan:
    """The best order of the night for each rig, what fits, what to mind, what hands do. Nothing is kept."""
    contexts, site, day = asked_for(given, preferences, shelf, store, clock)
    return _planned(given, contexts, site, day)


def plan_rig(given: RigTonight, preferences: PreferencesDep, shelf: ShelfDep, clock: ClockDep) -> TonightPlan:
    """The night of one rig as it is in hand, at its own site."""
    site = given.rig.site
    if site is None:
        raise HTTPException(422, "site: the rig needs a site to be planned at")
    day = given.night or clock(site)
    context = STEPS.context(given.rig, preferences, shelf, tonight=day)
    return tonight(
        [("rig", context)], site, day, free_from_h=given.free_from_h, free_until_h=given.free_until_h,
        pins={"rig": given.pins},
    )  # fmt: skip


def _planned(given: NightWanted, contexts: list[tuple[str, Context]], site: Site, day: date) -> TonightPlan:
    return tonight(contexts, site, day, free_from_h=given.free_from_h, free_until_h=given.free_until_h, pins=given.pins)


def calendar(
    given: NightWanted, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> Response:
    """The same night as iCalendar."""
    made = night_calendar.as_ics(plan_night(given, preferences, shelf, store, clock), datetime.now(UTC))
    return a_file(made, "text/calendar", "tonight.ics")


def sheet(
    given: NightWanted, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> Response:
    """The same night on paper."""
    made = night_sheet.as_pdf(plan_night(given, preferences, shelf, store, clock))
    return a_file(made, "application/pdf", "tonight.pdf")


def run(given: NightWanted, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep) -> Response:
    """The same night as a run file: every step with its times, targets and subs."""
    contexts, site, day = asked_for(given, preferences, shelf, store, clock)
    cold = {key: item.rig.set_point_c(item.preferences) if _cools(item) else None for key, item in contexts}
    made = run_file.write(_planned(given, contexts, site, day), {key: item.rig for key, item in contexts}, cold)
    return a_file(made, "application/json", "tonight.run.json")


def _cools(context: Context) -> bool:
    return context.light.camera is not None and bool(context.light.camera.used("cooling_delta_k"))
