"""Sessions: listed, typed, made from frames, changed and put away; their pictures, and documents of parts."""

from datetime import date
from typing import Annotated

from fastapi import APIRouter, HTTPException, Query, Response
from pydantic import Field

from dravel.api.deps import KeyDep, PreferencesDep, StoreDep, once
from dravel.api.files import a_file
from dravel.api.routers.papers import PaperShown, paper_shown
from dravel.api.tonight import TrueClockDep
from dravel.core.log.checks import TypedSession, session_warnings, whole
from dravel.core.log.from_frames import nights_of
from dravel.core.model import Site
from dravel.core.model.base import WHOLE, Identifier, Model, YesNo
from dravel.core.model.session import SORTS, MarkSort, SessionRecord
from dravel.core.model.words import Text, text
from dravel.formats import everything
from dravel.store import KeptSession, Store

router = APIRouter(tags=["log"])
PAGE, MOST_LINES = 60, 100_000
First = Annotated[int, Query(ge=0, le=10**9)]
Most = Annotated[int, Query(ge=1, le=200)]
Base = Annotated[int, Field(ge=1, le=10**9, description="The version the change was made on"), WHOLE]


class SessionShown(Model):
    """A session with its version; `frames` are linked to it, and `told` is what is doubtful of it."""

    id: str
    version: int
    record: SessionRecord
    frames: int
    pictures: tuple[PaperShown, ...]
    away: bool = False
    told: tuple[Text, ...] = ()


class SessionPage(Model):
    """A page of sessions, newest night first, and how many there are."""

    sessions: tuple[SessionShown, ...]
    first: int
    of: int


class SessionChange(Model):
    """A changed session and the version it was changed from."""

    base: Base
    record: SessionRecord


class Away(Model):
    """Whether something is put away."""

    away: YesNo = True


class FramesOf(Model):
    """Whose frames are to become sessions."""

    rig_id: Identifier


class FromFrames(Model):
    """The sessions that frames made, and what was noticed on the way."""

    sessions: tuple[SessionShown, ...]
    told: tuple[Text, ...]


class MarkSortShown(Model):
    """What can be marked, in which unit and range."""

    sort: MarkSort
    title: str
    unit: str
    low: float
    high: float


@router.get("/sessions")
def list_sessions(
    store: StoreDep, first: First = 0, most: Most = PAGE, rig: Annotated[str | None, Query(max_length=80)] = None
) -> SessionPage:
    """A page of sessions, newest night first, of one rig where one is named."""
    return SessionPage(
        sessions=tuple(_shown(store, store.sessions.all(first, most, rig))), first=first, of=store.sessions.count(rig)
    )


@router.get("/sessions/light.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def light_csv(store: StoreDep) -> Response:
    """Every session's subs as CSV, a line for each kind."""
    bodies = (session.record.model_dump(mode="json") for session in store.sessions.all(0, MOST_LINES))
    return a_file(everything.light_csv(bodies), "text/csv", "light.csv")


@router.get("/sessions/sorts")
def mark_sorts() -> list[MarkSortShown]:
    """What can be marked in a session."""
    return [
        MarkSortShown(sort=key, title=item.title, unit=item.unit, low=item.low, high=item.high)
        for key, item in SORTS.items()
    ]


@router.get("/sessions/{session_id}")
def read_session(session_id: Identifier, store: StoreDep, clock: TrueClockDep) -> SessionShown:
    """One session, with what is doubtful of it."""
    return _told(store, store.sessions.get(session_id), clock(None))


@router.post("/sessions", status_code=201)
def type_session(
    given: TypedSession, store: StoreDep, preferences: PreferencesDep, clock: TrueClockDep, key: KeyDep = ""
) -> SessionShown:
    """Keep a night as it was typed. Asked again under the same key, it is the one that was kept."""
    rig = store.rigs.get(given.rig_id)
    site = _site(store, given.site, given.rig_id)
    try:
        record = whole(given, rig.rig.name, store.rigs.as_built(given.rig_id) or rig.revision, site, preferences)
    except ValueError as error:
        raise HTTPException(422, _plainly(error)) from None
    kept = once(store.sessions.add, record, key=key or None)
    store.frames.link_within(kept.id, kept.record)
    return _told(store, kept, clock(site))


@router.put("/sessions/{session_id}")
def change_session(
    session_id: Identifier, given: SessionChange, store: StoreDep, clock: TrueClockDep
) -> SessionShown:  # fmt: skip
    """Keep a changed session; 409 when it was changed meanwhile."""
    store.rigs.get(given.record.rig_id)
    return _told(store, store.sessions.replace(session_id, given.record, given.base), clock(None))


@router.put("/sessions/{session_id}/away")
def put_session_away(session_id: Identifier, given: Away, store: StoreDep, clock: TrueClockDep) -> SessionShown:
    """Put a session away, so that it counts for nothing; or bring it back."""
    return _told(store, store.sessions.put_away(session_id, away=given.away), clock(None))


@router.post("/sessions/from-frames", status_code=201)
def from_frames(given: FramesOf, store: StoreDep, clock: TrueClockDep) -> FromFrames:
    """Make sessions of a rig's measured frames that no session has yet, one a night."""
    kept = store.rigs.get(given.rig_id)
    result, answer = nights_of(store.frames.unlinked(given.rig_id), given.rig_id, kept.rig, kept.revision)
    made = []
    with store.database.write():
        for night in result:
            session = store.sessions.add(night.record)
            store.frames.link(session.id, night.frames)
            made.append(session)
    if not made:
        answer = (
            *answer,
            text("there are no frames of this rig that say when they were taken and belong to no session yet"),
        )
    return FromFrames(sessions=tuple(_told(store, item, clock(kept.rig.site)) for item in made), told=answer)


def _site(store: Store, name: str, rig_id: str) -> Site | None:
    own = store.rigs.get(rig_id).rig.site
    if not name or (own is not None and own.name == name):
        return own
    return next((site.body for site in store.sites.all() if site.body.name == name), None if name else own)


def _shown(store: Store, found: list[KeptSession]) -> list[SessionShown]:
    ids = [entry.id for entry in found]
    frames = store.sessions.frames(ids)
    pictures: dict[str, list[PaperShown]] = {}
    for item in store.papers.of("session", ids):
        pictures.setdefault(item.of_id, []).append(paper_shown(item))
    return [
        SessionShown(
            id=entry.id, version=entry.version, record=entry.record, frames=frames.get(entry.id, 0),
            pictures=tuple(pictures.get(entry.id, ())), away=entry.archived,
        )
        for entry in found
    ]  # fmt: skip


def _told(store: Store, kept: KeptSession, today: date) -> SessionShown:
    record = kept.record
    try:
        site, away = _site(store, record.site, record.rig_id), store.rigs.is_away(record.rig_id)
    except LookupError:
        site, away = None, True
    answer = session_warnings(
        record, kept.id, site, store.sessions.beside(record.rig_id, record.night.isoformat()), today, put_away=away
    )
    return _shown(store, [kept])[0].model_copy(update={"told": answer})


def _plainly(error: ValueError) -> str:
    result = getattr(error, "errors", None)
    return str(result()[0]["msg"]).removeprefix("Value error, ") if result is not None else str(error)
