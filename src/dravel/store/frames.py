"""Readings of frames in the database, by rig. What is put away can come back."""

import secrets
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import timedelta
from functools import lru_cache

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from dravel.core.frames.claims import FrameClaims
from dravel.core.frames.reading import FrameReading, TakenAt
from dravel.core.log.from_frames import FrameOfNight, when
from dravel.core.model.session import SessionRecord
from dravel.store.database import Database
from dravel.store.packing import packed, unpacked
from dravel.store.rigs import Unknown
from dravel.store.sessions import session_of
from dravel.store.tables import FrameRow, RigRow, SessionRow

MOST_SHOWN, LATEST = 40, 8
MOST_OF_A_NIGHT = 2000
MARGIN = timedelta(minutes=30)  # a frame that begins a little before its session does; Dravel's own


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
            body, drawn = packed(reading.model_dump(mode="json"))
            session.add(
                FrameRow(id=made, rig_id=rig_id, session_id=_session_at(session, rig_id, reading), archived=False,
                         position=last + 1, body=body, drawn=drawn)
            )  # fmt: skip
            return made

    def unlinked(self, rig_id: str) -> list[FrameOfNight]:
        """The newest frames of a rig that no session has, oldest first, put away ones too."""
        claims = func.json_extract(FrameRow.body, "$.claims")
        name = func.json_extract(FrameRow.body, "$.name")
        asked = select(FrameRow.id, name, claims, FrameRow.archived).where(
            FrameRow.rig_id == rig_id, FrameRow.session_id.is_(None)
        )
        with self._database.read() as session:
            result = session.execute(asked.order_by(FrameRow.position.desc()).limit(MOST_OF_A_NIGHT)).all()
        return [
            FrameOfNight(key, said, FrameClaims.model_validate_json(claim), away)
            for key, said, claim, away in reversed(result)
        ]

    def link_within(self, session_id: str, record: SessionRecord) -> None:
        """Link the frames of a rig that were taken while a session ran."""
        while_it_ran = [
            item.id for item in self.unlinked(record.rig_id)
            if (at := when(item.claims)) and record.began - MARGIN <= at <= record.ended + MARGIN
            and item.claims.simulated == record.simulated
        ]  # fmt: skip
        if while_it_ran:
            self.link(session_id, while_it_ran)

    def link(self, session_id: str, frame_ids: Sequence[str]) -> None:
        """Say which session frames belong to."""
        with self._database.write() as session:
            session.execute(update(FrameRow).where(FrameRow.id.in_(frame_ids)).values(session_id=session_id))

    def of(self, rig_id: str) -> list[KeptFrame]:
        """The newest frames of a rig that are not put away, the newest last."""
        with self._database.read() as session:
            asked = select(FrameRow).where(FrameRow.rig_id == rig_id, ~FrameRow.archived)
            rows = session.scalars(asked.order_by(FrameRow.position.desc()).limit(MOST_SHOWN)).all()
            results = []
            for row in reversed(rows):
                with suppress(ValueError):  # one that is damaged is in nobody's way
                    results.append(KeptFrame(row.id, _parsed(row.body, row.drawn)))
            return results

    def newest(self, rig_id: str) -> tuple[FrameReading, ...]:
        """The newest few frames of a rig that are not put away, the newest last."""
        with self._database.read() as session:
            asked = select(FrameRow.body, FrameRow.drawn).where(FrameRow.rig_id == rig_id, ~FrameRow.archived)
            result = session.execute(asked.order_by(FrameRow.position.desc()).limit(LATEST)).all()
            sound = []
            for body, drawn in reversed(result):
                with suppress(ValueError):
                    sound.append(_parsed(body, drawn))
            return tuple(sound)

    def tell_taken(self, frame_id: str, taken: TakenAt) -> None:
        """Keep how the rig stood when a frame was taken. Raises `Unknown`."""
        with self._database.write() as session:
            row = session.get(FrameRow, frame_id)
            if row is None:
                raise Unknown("frame", frame_id)
            reading = _parsed(row.body, row.drawn).model_copy(update={"taken": taken})
            row.body, row.drawn = packed(reading.model_dump(mode="json"))

    def put_away(self, frame_id: str, *, away: bool = True) -> None:
        """Put a frame away, or bring it back. Raises `Unknown`."""
        with self._database.write() as session:
            row = session.get(FrameRow, frame_id)
            if row is None:
                raise Unknown("frame", frame_id)
            row.archived = away


def _session_at(session: Session, rig_id: str, reading: FrameReading) -> str | None:
    """The session of a rig that a frame was taken in."""
    at = when(reading.claims)
    if at is None:
        return None
    near = [(at.date() + timedelta(days=k)).isoformat() for k in (-1, 0, 1)]
    asked = select(SessionRow).where(SessionRow.rig_id == rig_id, SessionRow.night.in_(near), ~SessionRow.archived)
    for row in session.scalars(asked.order_by(SessionRow.position.desc())):
        try:
            record = session_of(row).record
        except ValueError:
            continue
        if record.simulated == reading.claims.simulated and record.began - MARGIN <= at <= record.ended + MARGIN:
            return row.id
    return None


@lru_cache(maxsize=256)
def _parsed(body: str, drawn: bytes | None) -> FrameReading:
    return FrameReading.model_validate_json(unpacked(body, drawn))
