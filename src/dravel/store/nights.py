"""Nights under way, and what was marked in them."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from dravel.core.model.session import SessionRecord
from dravel.store.database import Database
from dravel.store.rigs import Unknown
from dravel.store.sessions import KeptSession, keep_session, session_of
from dravel.store.tables import MarkRow, NightRow, SessionRow


@dataclass(frozen=True)
class KeptNight:
    """A night's own text (its maker knows the form), and the texts of its marks in the order they came."""

    id: str
    body: str
    version: int
    ended: bool
    marks: tuple[str, ...]


class NightStore:
    """Nights in the database. One night runs at a time; nothing is deleted."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def current(self) -> KeptNight | None:
        """The night that runs; None where none does."""
        with self._database.read() as session:
            row = _running(session)
            return None if row is None else _night(session, row)

    def get(self, night_id: str) -> KeptNight:
        """A night. Raises `Unknown`."""
        with self._database.read() as session:
            return _night(session, _row(session, night_id))

    def version(self) -> tuple[str, int]:
        """Which night runs and how often it has changed: cheap to ask."""
        with self._database.read() as session:
            row = _running(session)
            return ("", 0) if row is None else (row.id, row.version)

    def begin(self, body: str, night_id: str) -> KeptNight:
        """Begin a night under an id of its maker's; begun twice under one id it is begun once. Raises `ValueError` while
        another runs.
        """
        with self._database.write() as session:
            there = session.get(NightRow, night_id)
            if there is None:
                if _running(session) is not None:
                    raise ValueError("another night runs; end it first")
                last = session.scalar(select(func.max(NightRow.position))) or 0
                there = NightRow(id=night_id, body=body, version=1, ended=False, position=last + 1)
                session.add(there)
                session.flush()
            return _night(session, there)

    def mark(self, night_id: str, marks: Iterable[tuple[str, str]]) -> KeptNight:
        """Keep marks (id, text), each once. Raises `Unknown`."""
        with self._database.write() as session:
            row = _row(session, night_id)
            last = session.scalar(select(func.max(MarkRow.position))) or 0
            fresh = [item for item in dict(marks).items() if session.get(MarkRow, item[0]) is None]
            for place, (mark_id, text) in enumerate(fresh, last + 1):
                session.add(MarkRow(id=mark_id, night_id=night_id, body=text, position=place))
            session.flush()
            if fresh:
                row.version += 1
            return _night(session, row)

    def change(self, night_id: str, change: Callable[[KeptNight], str]) -> KeptNight:
        """Give a night that runs a new text made of what it is. Raises `Unknown`."""
        with self._database.write() as session:
            row = _row(session, night_id)
            if not row.ended:
                row.body, row.version = change(_night(session, row)), row.version + 1
            return _night(session, row)

    def put(self, night_id: str, body: str, version: int) -> KeptNight | None:
        """Give a night a text that was made of it at a version; None where it has ended or changed meanwhile. What takes long
        to make is made outside of a write, which would hold up all others. Raises `Unknown`.
        """
        with self._database.write() as session:
            row = _row(session, night_id)
            if row.ended or row.version != version:
                return None
            row.body, row.version = body, version + 1
            return _night(session, row)

    def end(self, night_id: str, records: Iterable[SessionRecord]) -> list[KeptSession]:
        """End a night and keep its sessions; ended twice it leaves them once. Raises `Unknown`."""
        with self._database.write() as session:
            row = _row(session, night_id)
            if not row.ended:
                row.ended, row.version = True, row.version + 1
                for record in records:
                    keep_session(session, record, night_id)
                session.flush()
            kept = select(SessionRow).where(SessionRow.night_id == night_id).order_by(SessionRow.position)
            return [session_of(result) for result in session.scalars(kept).all()]


def _running(session: Session) -> NightRow | None:
    return session.scalar(select(NightRow).where(NightRow.ended.is_(False)).order_by(NightRow.position.desc()).limit(1))


def _row(session: Session, night_id: str) -> NightRow:
    row = session.get(NightRow, night_id)
    if row is None:
        raise Unknown("night", night_id)
    return row


def _night(session: Session, row: NightRow) -> KeptNight:
    asked = select(MarkRow.body).where(MarkRow.night_id == row.id).order_by(MarkRow.position)
    return KeptNight(row.id, row.body, row.version, row.ended, tuple(session.scalars(asked).all()))
