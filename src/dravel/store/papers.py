"""Pictures of sessions and documents of parts, as bytes in the one file, so that every copy has them."""

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from sqlalchemy import func, select
from sqlalchemy.orm import Session, defer

from dravel.store.database import Database
from dravel.store.rigs import Unknown
from dravel.store.tables import EntryRow, PaperRow, SessionRow

PaperOf = Literal["session", "part"]


@dataclass(frozen=True)
class Paper:
    """A picture or document without its bytes."""

    id: str
    of_kind: PaperOf
    of_id: str
    name: str
    media: str
    size: int
    archived: bool


class PaperStore:
    """Papers by what they belong to, in the order they came. Nothing is deleted."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(self, of_kind: PaperOf, of_id: str, name: str, media: str, body: bytes) -> Paper:
        """Keep one; the same bytes of the same thing are kept once. Raises `Unknown` without what it belongs to."""
        with self._database.write() as session:
            owner: object = session.get(SessionRow, of_id)
            if of_kind == "part":
                owner = session.get(EntryRow, ("part", of_id))
            if owner is None:
                raise Unknown(of_kind, of_id)
            same = select(PaperRow).where(PaperRow.of_kind == of_kind, PaperRow.of_id == of_id, PaperRow.body == body)
            if (there := session.scalar(same)) is not None:
                there.archived = False
                return _paper(there)
            last = session.scalar(select(func.max(PaperRow.position))) or 0
            row = PaperRow(
                id=secrets.token_hex(8), of_kind=of_kind, of_id=of_id, name=name, media=media, size=len(body),
                archived=False, position=last + 1, body=body,
            )  # fmt: skip
            session.add(row)
            session.flush()
            return _paper(row)

    def of(self, of_kind: PaperOf, ids: Sequence[str]) -> list[Paper]:
        """Those of some sessions or parts that are not put away."""
        asked = (
            select(PaperRow)
            .options(defer(PaperRow.body))
            .where(PaperRow.of_kind == of_kind, PaperRow.of_id.in_(ids), ~PaperRow.archived)
        )
        with self._database.read() as session:
            return [_paper(row) for row in session.scalars(asked.order_by(PaperRow.position)).all()]

    def get(self, paper_id: str) -> Paper:
        """One without its bytes. Raises `Unknown`."""
        with self._database.read() as session:
            row = session.scalar(select(PaperRow).options(defer(PaperRow.body)).where(PaperRow.id == paper_id))
            if row is None:
                raise Unknown("paper", paper_id)
            return _paper(row)

    def piece(self, paper_id: str, start: int, most: int) -> bytes:
        """Some of one's bytes, from a place on; none beyond its end."""
        with self._database.read() as session:
            asked = select(func.substr(PaperRow.body, start + 1, most)).where(PaperRow.id == paper_id)
            return bytes(session.scalar(asked) or b"")

    def put_away(self, paper_id: str, *, away: bool = True) -> None:
        """Put one away, or bring it back. Raises `Unknown`."""
        with self._database.write() as session:
            _row(session, paper_id).archived = away


def _row(session: Session, paper_id: str) -> PaperRow:
    row = session.get(PaperRow, paper_id)
    if row is None:
        raise Unknown("paper", paper_id)
    return row


def _paper(row: PaperRow) -> Paper:
    of_kind: PaperOf = "part" if row.of_kind == "part" else "session"
    return Paper(row.id, of_kind, row.of_id, row.name, row.media, row.size, row.archived)
