"""Designing: a request answered by whole rigs, told as they are found; why, in stages, and what would improve a rig."""

from collections.abc import AsyncIterator, Iterator
from typing import Annotated

from fastapi import APIRouter, Depends, HTTPException, Request
from pydantic import Field
from starlette.concurrency import iterate_in_threadpool
from starlette.responses import StreamingResponse

from dravel.api.deadlines import Cancelled
from dravel.api.deps import PreferencesDep, StoreDep, shelf_of
from dravel.api.tonight import ClockDep
from dravel.core.design.answer import DesignAnswer, Designed, Point, Reason
from dravel.core.design.designer import DesignEvent
from dravel.core.design.later import Improvement, Staged
from dravel.core.design.request import About, RequestTerms, RigRequest
from dravel.core.model import Part, Preferences, Purpose
from dravel.core.model.base import WHOLE, Document, Identifier, Model, Quantity
from dravel.store import Store
from dravel.work.designing import BadRequest, DesignAsked, Designer, for_rig, for_sale, request_of, site_of

router = APIRouter(prefix="/design", tags=["design"])
Row = Annotated[int, Field(ge=0, le=10**9), WHOLE]
MOST_ROWS = 2000
EVENT = {"type": "object", "properties": {"data": {"type": "string"}}}


async def _designer(request: Request) -> Designer:
    designer: Designer = request.app.state.designer
    return designer


def _for_sale(store: StoreDep) -> tuple[tuple[Part, ...], tuple[str, ...]]:
    return for_sale(shelf_of(store))


SaleDep = Annotated[tuple[tuple[Part, ...], tuple[str, ...]], Depends(_for_sale)]
DesignerDep = Annotated[Designer, Depends(_designer)]


class RequestTargets(Model):
    """The targets a request stands for, how many months of the year each can be had, and what a rig for them is for."""

    names: tuple[str, ...]
    months: tuple[int, ...]
    purposes: tuple[Purpose, ...]
    site: str


class DesignMade(Model):
    """A design at once: the rigs of its front, the most promising first, and the answer."""

    points: tuple[Point, ...]
    answer: DesignAnswer


class RigAsked(DesignAsked):
    """One rig of a design, by its row."""

    row: Row


class WhyAsked(RigAsked):
    """One rig of a design among the others of its front."""

    rows: Annotated[tuple[Row, ...], Field(max_length=MOST_ROWS)] = ()


class StagesAsked(RigAsked):
    """A rig of a design wanted later, and what can be spent today."""

    today: Annotated[float, Quantity("Money today", "", 0, 10_000_000)]


def _request(asked: DesignAsked, store: Store, preferences: Preferences, clock: ClockDep) -> RigRequest:
    try:
        return request_of(asked, store, clock(site_of(store, asked.site)), preferences)
    except BadRequest as error:
        raise HTTPException(422, str(error)) from None


@router.get("/targets")
def request_targets(
    store: StoreDep,
    preferences: PreferencesDep,
    clock: ClockDep,
    about: About = "a_bit_of_all",
    site: Identifier | None = None,
    narrowband: bool = False,
) -> RequestTargets:
    """The targets that a request in words stands for at a site; of a list the whole list. `narrowband`: only what shines in lines."""
    request = _request(DesignAsked(about=about, site=site, narrowband=narrowband), store, preferences, clock)
    return RequestTargets(
        names=tuple(target.name for target in request.targets),
        months=request.counts,
        purposes=request.purposes,
        site=request.site.name if request.site else "",
    )


@router.post("/events", response_class=StreamingResponse,
             responses={200: {"content": {"text/event-stream": {"schema": EVENT}}}})  # fmt: skip
def design_events(
    asked: DesignAsked,
    store: StoreDep,
    preferences: PreferencesDep,
    sale: SaleDep,
    clock: ClockDep,
    designer: DesignerDep,
) -> StreamingResponse:
    """A design as server-sent events: how far it is, each rig of the front as it is proved, at last the answer.

    Closing the connection stops it.
    """
    request = _request(asked, store, preferences, clock)
    events = _searched(designer, request, sale, preferences)

    async def told() -> AsyncIterator[str]:
        try:
            async for event in iterate_in_threadpool(events):
                yield f"data: {event.model_dump_json()}\n\n"
        except Cancelled:
            return  # nobody is there to be told

    return StreamingResponse(told(), media_type="text/event-stream")


def _searched(
    designer: Designer, request: RigRequest, sale: SaleDep, preferences: Preferences
) -> Iterator[DesignEvent]:
    """The events of a search. What is wrong with the request is said before the first of them is sent."""
    events = designer.search(request, sale[0], preferences, sale[1])
    try:
        first = next(events)
    except BadRequest as error:
        raise HTTPException(422, str(error)) from None
    return _after(first, events)


def _after(first: DesignEvent, rest: Iterator[DesignEvent]) -> Iterator[DesignEvent]:
    yield first
    yield from rest


@router.post("")
def design(
    asked: DesignAsked,
    store: StoreDep,
    preferences: PreferencesDep,
    sale: SaleDep,
    clock: ClockDep,
    designer: DesignerDep,
) -> DesignMade:
    """A design at once, for who does not listen to events."""
    points: list[Point] = []
    answer: DesignAnswer | None = None
    for event in _searched(designer, _request(asked, store, preferences, clock), sale, preferences):
        if event.point is not None and event.sure:
            points.append(event.point)
        answer = event.answer or answer
    if answer is None:
        raise HTTPException(503, "the design was not finished")
    return DesignMade(points=tuple(points), answer=answer)


@router.post("/rig")
def designed_rig(
    asked: RigAsked, store: StoreDep, preferences: PreferencesDep, sale: SaleDep, clock: ClockDep, designer: DesignerDep
) -> Designed:
    """One rig of a design, whole: its document, its light strip, its targets, what is to be bought."""
    try:
        return designer.rig(_request(asked, store, preferences, clock), sale[0], preferences, asked.row)
    except BadRequest as error:
        raise HTTPException(422, str(error)) from None


@router.post("/why")
def why_this_rig(
    asked: WhyAsked, store: StoreDep, preferences: PreferencesDep, sale: SaleDep, clock: ClockDep, designer: DesignerDep
) -> list[Reason]:
    """Why not a cheaper or a longer one, what more money would buy, and what is not worth it yet."""
    try:
        return list(
            designer.why(_request(asked, store, preferences, clock), sale[0], preferences, asked.row, asked.rows)
        )
    except BadRequest as error:
        raise HTTPException(422, str(error)) from None


@router.post("/stages")
def design_in_stages(
    asked: StagesAsked,
    store: StoreDep,
    preferences: PreferencesDep,
    sale: SaleDep,
    clock: ClockDep,
    designer: DesignerDep,
) -> Staged:
    """What to buy with today's money so that most of it survives into a rig wanted later."""
    try:
        stages = designer.stages(
            _request(asked, store, preferences, clock), sale[0], preferences, asked.row, asked.today
        )
    except BadRequest as error:
        raise HTTPException(422, str(error)) from None
    if stages is None:
        raise HTTPException(422, "today: no rig that works can be had for that under the other requests")
    return stages


class ImproveAsked(Document):
    """What may be spent on a rig, and what else is wished."""

    terms: RequestTerms = RequestTerms()


@router.post("/improve/{rig_id}")
def improve_rig(
    rig_id: Identifier, asked: ImproveAsked, store: StoreDep, preferences: PreferencesDep, sale: SaleDep, clock: ClockDep,
    designer: DesignerDep,
) -> Improvement:  # fmt: skip
    """The one or two changes that would help a rig most, for its own targets."""
    rig = store.rigs.get(rig_id).rig
    try:
        request = for_rig(rig, asked.terms, store, clock(rig.site), preferences)
        return designer.improve(request, sale[0], preferences, rig)
    except BadRequest as error:
        raise HTTPException(422, str(error)) from None
