"""Readings of frames in the database, by rig. What is put away can come back."""

import secrets
from dataclasses import dataclass
from functools import lru_cache

from sqlalchemy import func, select

from dravel.core.frames.reading import FrameReading, TakenAt
from dravel.store.database import Database
from dravel.store.rigs import Unknown
from dravel.store.tables import FrameRow, RigRow

MOST_SHOWN, LATEST = 40, 8


@dataclass(frozen=True)
class KeptFrame:
    """A frame's reading by its id."""

    id: str
    reading: FrameReading


class FrameStore:
    """Readings by rig, in the order they were measured."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(self, rig_id: str, reading: FrameReading) -> str:
        """Keep a reading; its id. Raises `Unknown` without such a rig."""
        with self._database.write() as session:
            if session.get(RigRow, rig_id) is None:
                raise Unknown("rig", rig_id)
            last = session.scalar(select(func.max(FrameRow.position))) or 0
            made = secrets.token_hex(8)
            session.add(
                FrameRow(id=made, rig_id=rig_id, archived=False, position=last + 1, body=reading.model_dump_json())
            )
            return made

    def of(self, rig_id: str) -> list[KeptFrame]:
        """The newest frames of a rig that are not put away, the newest last."""
        with self._database.read() as session:
            asked = select(FrameRow).where(FrameRow.rig_id == rig_id, ~FrameRow.archived)
            rows = session.scalars(asked.order_by(FrameRow.position.desc()).limit(MOST_SHOWN)).all()
            return [KeptFrame(row.id, _parsed(row.body)) for row in reversed(rows)]

    def newest(self, rig_id: str) -> tuple[FrameReading, ...]:
        """The newest few frames of a rig that are not put away, the newest last."""
        with self._database.read() as session:
            asked = select(FrameRow.body).where(FrameRow.rig_id == rig_id, ~FrameRow.archived)
            found = session.scalars(asked.order_by(FrameRow.position.desc()).limit(LATEST)).all()
            return tuple(_parsed(body) for body in reversed(found))

    def tell_taken(self, frame_id: str, taken: TakenAt) -> None:
        """Keep how the rig stood when a frame was taken. Raises `Unknown`."""
        with self._database.write() as session:
            row = session.get(FrameRow, frame_id)
            if row is None:
                raise Unknown("frame", frame_id)
            row.body = _parsed(row.body).model_copy(update={"taken": taken}).model_dump_json()

    def put_away(self, frame_id: str, *, away: bool = True) -> None:
        """Put a frame away, or bring it back. Raises `Unknown`."""
        with self._database.write() as session:
            row = session.get(FrameRow, frame_id)
            if row is None:
                raise Unknown("frame", frame_id)
            row.archived = away


@lru_cache(maxsize=256)
def _parsed(text: str) -> FrameReading:
    return FrameReading.model_validate_json(text)
