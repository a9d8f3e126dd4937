"""Sessions in the database: kept, changed, put away; and their subs and marks without reading the rest of them."""

import secrets
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import lru_cache

from sqlalchemy import func, select, text
from sqlalchemy.orm import Session

from dravel.core.log.checks import Beside
from dravel.core.log.light import LightRow
from dravel.core.log.worked import KeptMark
from dravel.core.model.base import KEPT
from dravel.core.model.session import SessionRecord, WorkedMark
from dravel.store.damage import Damage, Damaged, why
from dravel.store.database import Database
from dravel.store.rigs import Stale, Unknown, keep_key, made_under
from dravel.store.tables import FrameRow, SessionRow

LIVE = "sessions.archived = 0 AND json_valid(sessions.body)"


@dataclass(frozen=True)
class KeptSession:
    """A session by its id, the version it stands at, and whether it was put away."""

    id: str
    record: SessionRecord
    version: int = 1
    archived: bool = False


@dataclass(frozen=True)
class Shot:
    """One night of one rig in a calendar."""

    night: str
    rig: str
    targets: str
    light_s: float
    simulated: bool


class SessionStore:
    """Sessions by night. Nothing is deleted: what is put away counts for nothing and can come back."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(self, record: SessionRecord, key: str | None = None) -> KeptSession:
        """Keep a session; asked again under a key that made one, that one is the answer. Raises `ValueError` where the key
        made something else.
        """
        with self._database.write() as session:
            if (made := made_under(session, key, "session")) is not None:
                return session_of(_row(session, made))
            row = keep_session(session, record, None)
            keep_key(session, key, "session", row.id)
            return session_of(row)

    def replace(self, session_id: str, record: SessionRecord, base: int) -> KeptSession:
        """Keep a changed session. Raises `Unknown`, `Stale`."""
        with self._database.write() as session:
            row, body = _row(session, session_id), record.model_dump_json()
            if row.version != base and not (row.version == base + 1 and row.body == body):
                raise Stale(session_id, row.version)
            if row.body != body:
                row.body, row.version = body, base + 1
                row.night, row.rig_id = record.night.isoformat(), record.rig_id
            return session_of(row)

    def put_away(self, session_id: str, *, away: bool = True) -> KeptSession:
        """Put a session away, or bring it back. Raises `Unknown`."""
        with self._database.write() as session:
            row = _row(session, session_id)
            row.archived = away
            return session_of(row)

    def get(self, session_id: str) -> KeptSession:
        """One session, put away or not. Raises `Unknown`."""
        with self._database.read() as session:
            row = _row(session, session_id)
            try:
                return session_of(row)
            except ValueError as error:
                raise Damaged("session", session_id, why(error)) from None

    def all(self, first: int = 0, most: int = 200, rig_id: str | None = None) -> list[KeptSession]:
        """Sessions that are not put away, of one rig where one is named, the newest night first."""
        with self._database.read() as session:
            asked = select(SessionRow).where(~SessionRow.archived)
            if rig_id is not None:
                asked = asked.where(SessionRow.rig_id == rig_id)
            asked = asked.order_by(SessionRow.night.desc(), SessionRow.position.desc()).offset(first).limit(most)
            return _sound(session.scalars(asked).all())

    def damaged(self) -> list[Damage]:
        """Sessions that cannot be read, put away or not: those whose document is none, or lacks what every one has."""
        needed = " OR ".join(
            f"body ->> '$.{key}' IS NULL" for key in ("night", "rig_id", "rig", "site", "began", "ended")
        )
        asked = text(f"SELECT id, night, body FROM sessions WHERE NOT json_valid(body) OR {needed}")
        results = []
        with self._database.read() as session:
            for key, night, body in session.execute(asked):
                try:
                    _parsed(body)
                except ValueError as error:
                    results.append(Damage("session", key, f"night of {night}", why(error), body))
        return results

    def count(self, rig_id: str | None = None) -> int:
        """How many there are that are not put away."""
        with self._database.read() as session:
            asked = select(func.count()).select_from(SessionRow).where(~SessionRow.archived)
            if rig_id is not None:
                asked = asked.where(SessionRow.rig_id == rig_id)
            return session.scalar(asked) or 0

    def light(self) -> list[LightRow]:
        """The subs of all sessions that collected light, by kind. Read out of the documents by the database itself: a
        log of years is thousands of them.
        """
        asked = (
            "SELECT sessions.night, sessions.rig_id, s.value ->> '$.target', coalesce(s.value ->> '$.name', ''),"
            " coalesce(s.value ->> '$.filter', ''), coalesce(s.value ->> '$.sub_s', 0),"
            " coalesce(s.value ->> '$.taken', 0), coalesce(s.value ->> '$.kept', 0)"
            f" FROM sessions, json_each(sessions.body, '$.subs') AS s WHERE {LIVE}"
            " AND coalesce(sessions.body ->> '$.simulated', 0) = 0"
        )
        with self._database.read() as session:
            return [
                LightRow(night, rig, str(target), str(name), str(behind), float(sub_s), int(taken), int(kept))
                for night, rig, target, name, behind, sub_s, taken, kept in session.execute(text(asked))
            ]

    def marks(self, rig_id: str) -> list[KeptMark]:
        """The marks of a rig, oldest night first; those of rehearsals count for nothing."""
        asked = (
            "SELECT sessions.night, m.value FROM sessions, json_each(sessions.body, '$.marks') AS m"
            f" WHERE {LIVE} AND sessions.rig_id = :rig AND coalesce(sessions.body ->> '$.simulated', 0) = 0"
            " ORDER BY sessions.night, sessions.position"
        )
        with self._database.read() as session:
            return [KeptMark(night, _mark(value)) for night, value in session.execute(text(asked), {"rig": rig_id})]

    def beside(self, rig_id: str, night: str) -> list[Beside]:
        """Sessions of a rig within a few days of a night, put away ones left out."""
        asked = select(SessionRow).where(
            SessionRow.rig_id == rig_id, ~SessionRow.archived,
            func.abs(func.julianday(SessionRow.night) - func.julianday(night)) <= 3,
        )  # fmt: skip
        with self._database.read() as session:
            result = _sound(session.scalars(asked).all())
        return [
            Beside(item.id, rig_id, item.record.rig, item.record.night.isoformat(), item.record.began, item.record.ended,
                   item.record.simulated)
            for item in result
        ]  # fmt: skip

    def shot(self, first: str, last: str) -> list[Shot]:
        """What was shot from one night to another, both counted."""
        asked = (
            "SELECT sessions.night, sessions.body ->> '$.rig', coalesce(sessions.body ->> '$.simulated', 0),"
            " (SELECT group_concat(DISTINCT coalesce(nullif(s.value ->> '$.name', ''), s.value ->> '$.target'))"
            " FROM json_each(sessions.body, '$.subs') AS s),"
            " (SELECT total((s.value ->> '$.kept') * (s.value ->> '$.sub_s'))"
            " FROM json_each(sessions.body, '$.subs') AS s)"
            f" FROM sessions WHERE {LIVE} AND sessions.night BETWEEN :first AND :last ORDER BY sessions.position"
        )
        with self._database.read() as session:
            rows = session.execute(text(asked), {"first": first, "last": last})
            return [
                Shot(night, str(rig), (targets or "").replace(",", ", "), float(light), bool(simulated))
                for night, rig, simulated, targets, light in rows
            ]

    def frames(self, ids: Sequence[str]) -> Mapping[str, int]:
        """How many frames are linked to each of some sessions."""
        asked = (
            select(FrameRow.session_id, func.count()).where(FrameRow.session_id.in_(ids)).group_by(FrameRow.session_id)
        )
        with self._database.read() as session:
            return {str(key): count for key, count in session.execute(asked)}


def keep_session(session: Session, record: SessionRecord, night_id: str | None) -> SessionRow:
    """Within a write: keep a session."""
    last = session.scalar(select(func.max(SessionRow.position))) or 0
    row = SessionRow(
        id=secrets.token_hex(8), night_id=night_id, rig_id=record.rig_id, night=record.night.isoformat(),
        body=record.model_dump_json(), position=last + 1, version=1, archived=False,
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row


def _sound(rows: Sequence[SessionRow]) -> list[KeptSession]:
    """Those that can be read; the others are told as damaged."""
    results = []
    for row in rows:
        with suppress(ValueError):
            results.append(session_of(row))
    return results


def session_of(row: SessionRow) -> KeptSession:
    """A row as a session."""
    return KeptSession(row.id, _parsed(row.body), row.version, row.archived)


def _row(session: Session, session_id: str) -> SessionRow:
    row = session.get(SessionRow, session_id)
    if row is None:
        raise Unknown("session", session_id)
    return row


@lru_cache(maxsize=512)
def _parsed(body: str) -> SessionRecord:
    return SessionRecord.model_validate_json(body, context=KEPT)


@lru_cache(maxsize=4096)
def _mark(body: str) -> WorkedMark:
    return WorkedMark.model_validate_json(body, context=KEPT)
