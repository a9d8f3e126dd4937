"""A night of one or several rigs, planned."""

from datetime import date
from typing import Annotated

from fastapi import APIRouter, HTTPException
from pydantic import Field

from dravel.api.deps import PracticeDep, ShelfDep, StoreDep
from dravel.api.tonight import ClockDep
from dravel.core.model import Site
from dravel.core.model.base import Evening, Identifier, Model
from dravel.core.overview.tonight import TonightPlan, tonight
from dravel.core.steps import STEPS

Clock = Annotated[float | None, Field(title="Hour on the clock", ge=0, le=24)]
Slot = Annotated[int, Field(ge=0, le=320)]


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
