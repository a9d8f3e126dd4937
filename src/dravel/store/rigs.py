"""Rigs and their revisions. A save is a new revision; undo and redo are revisions too, so that nothing is lost."""

import re
import secrets
from collections.abc import Callable, Collection
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from functools import lru_cache

from pydantic import TypeAdapter
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from dravel.core.model import Framing, Rig
from dravel.core.model.base import KEPT
from dravel.store.damage import Damage, Damaged, name_in, why
from dravel.store.database import Database
from dravel.store.merging import merged
from dravel.store.tables import KeyRow, RevisionRow, RigRow


class Unknown(LookupError):
    """Nothing of that id is kept."""

    def __init__(self, kind: str, entry_id: str) -> None:
        super().__init__(f"there is no {kind} '{entry_id}'")


class Stale(Exception):
    """The thing was changed since the version the writer had seen. Nothing was written."""

    def __init__(self, entry_id: str, current: int, fields: tuple[str, ...] = ()) -> None:
        super().__init__(f"'{entry_id}' was changed meanwhile; it stands at {current}. Nothing was overwritten")
        self.current, self.fields = current, fields


@dataclass(frozen=True)
class RigRecord:
    """A rig as kept: its newest revision, and whether undo and redo lead anywhere.

    `merged` names, in words, the fields that a save took over from a change made elsewhere meanwhile.
    """

    id: str
    revision: int
    saved_at: str
    note: str
    can_undo: bool
    can_redo: bool
    rig: Rig
    merged: tuple[str, ...] = ()


@dataclass(frozen=True)
class RevisionSummary:
    """A revision in a list."""

    number: int
    saved_at: str
    note: str


def fresh_id(name: str, taken: Collection[str]) -> str:
    """An identifier made from a name, distinct from those taken."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:48] or "entry"
    made = stem
    while made in taken:
        made = f"{stem}-{secrets.token_hex(4)}"
    return made


def made_under(session: Session, key: str | None, kind: str) -> str | None:
    """The id of what was made under a key; None where nothing was. Raises `ValueError` where it was of another kind."""
    row = session.get(KeyRow, key) if key else None
    if row is not None and row.kind != kind:
        raise ValueError(f"this key made a {row.kind} before; a {kind} needs one of its own")
    return row.made if row else None


def keep_key(session: Session, key: str | None, kind: str, made: str) -> None:
    """Remember what is made under a key, in the same write."""
    if key:
        session.add(KeyRow(key=key, kind=kind, made=made))


class RigStore:
    """Rigs in the database."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self, put_away: bool = False) -> list[RigRecord]:
        """All rigs that are not archived, in the order they were made; the archived ones too if asked for."""
        with self._database.read() as session:
            wanted = select(RigRow) if put_away else select(RigRow).where(~RigRow.archived)
            rows = session.scalars(wanted.order_by(RigRow.position)).all()
            found = []
            for row in rows:
                with suppress(Damaged):
                    found.append(_record(row, _revision(session, row.id, row.head)))
            return found

    def damaged(self) -> list[Damage]:
        """Rigs whose newest revision cannot be read."""
        found = []
        with self._database.read() as session:
            for row in session.scalars(select(RigRow).order_by(RigRow.position)).all():
                text = _revision(session, row.id, row.head).body
                try:
                    _parsed(text)
                except ValueError as error:
                    found.append(Damage("rig", row.id, name_in(text), why(error), text, row.head))
        return found

    def get(self, rig_id: str) -> RigRecord:
        """A rig at its newest revision. Raises `Unknown`."""
        with self._database.read() as session:
            row = _row(session, rig_id)
            return _record(row, _revision(session, rig_id, row.head))

    def create(self, rig: Rig, rig_id: str | None = None, note: str = "made", key: str | None = None) -> RigRecord:
        """Keep a new rig as its revision 1, under a fresh id made from its name unless a free one is given.

        Asked again under a key that made a rig before, that rig is the answer. Raises `ValueError` where the key made
        something else.
        """
        with self._database.write() as session:
            if (made := made_under(session, key, "rig")) is not None:
                again = _row(session, made)
                return _record(again, _revision(session, again.id, again.head))
            taken = set(session.scalars(select(RigRow.id)))
            if rig_id is None or rig_id in taken:
                rig_id = fresh_id(rig.name, taken)
            position = (session.scalar(select(func.max(RigRow.position))) or 0) + 1
            row = RigRow(id=rig_id, head=0, position=position, archived=False)
            session.add(row)
            keep_key(session, key, "rig", rig_id)
            session.flush()
            return _record(row, _append(session, row, rig.model_dump_json(), None, None, note))

    def save(self, rig_id: str, rig: Rig, base: int, note: str = "") -> RigRecord:
        """Keep a changed rig, made on revision `base`, as a new revision.

        Where another change came first, both are kept together if they touch different fields, and the answer names
        what came from the other. Raises `Unknown`; `Stale` with the fields when both changed the same. An unchanged
        document makes no revision.
        """
        with self._database.write() as session:
            row = _row(session, rig_id)
            head = _revision(session, rig_id, row.head)
            fields: tuple[str, ...] = ()
            if base > row.head:
                raise Stale(rig_id, row.head)
            if base != row.head and rig.model_dump_json() != head.body:
                made_on = _read(rig_id, _revision(session, rig_id, base).body)
                both, fields = merged(made_on, rig, _read(rig_id, head.body))
                if both is None:
                    raise Stale(rig_id, row.head, fields)
                rig = both
            body = rig.model_dump_json()
            kept = head if body == head.body else _append(session, row, body, head.number, None, note)
            return replace(_record(row, kept), merged=fields)

    def undo(self, rig_id: str, base: int) -> RigRecord:
        """Go back one change. Raises `Unknown`, `Stale`, and `ValueError` when there is nothing to undo."""
        with self._database.write() as session:
            row = _row(session, rig_id, base)
            head = _revision(session, rig_id, row.head)
            if head.parent is None:
                raise ValueError("there is nothing to undo")
            before = _revision(session, rig_id, head.parent)
            made = _append(session, row, before.body, before.parent, head.number, f"undo of {head.number}")
            return _record(row, made)

    def redo(self, rig_id: str, base: int) -> RigRecord:
        """Take an undo back. Raises `Unknown`, `Stale`, and `ValueError` when there is nothing to redo."""
        with self._database.write() as session:
            row = _row(session, rig_id, base)
            head = _revision(session, rig_id, row.head)
            if head.redo is None:
                raise ValueError("there is nothing to redo")
            undone = _revision(session, rig_id, head.redo)
            made = _append(session, row, undone.body, head.number, undone.redo, f"redo of {undone.number}")
            return _record(row, made)

    def revisions(self, rig_id: str) -> list[RevisionSummary]:
        """All revisions, newest first. Raises `Unknown`."""
        with self._database.read() as session:
            _row(session, rig_id)
            rows = session.scalars(
                select(RevisionRow).where(RevisionRow.rig_id == rig_id).order_by(RevisionRow.number.desc())
            )
            return [RevisionSummary(row.number, row.saved_at, row.note) for row in rows]

    def revision(self, rig_id: str, number: int) -> RigRecord:
        """One revision. Raises `Unknown`."""
        with self._database.read() as session:
            return _record(_row(session, rig_id), _revision(session, rig_id, number))

    def framings(self, rig_id: str) -> list[tuple[int, str, tuple[Framing, ...]]]:
        """What was framed over the revisions, newest first: number, when saved, framings. Raises `Unknown`.

        Revisions that frame alike are told once, as the newest of them: most changes are not about framings.
        """
        with self._database.read() as session:
            _row(session, rig_id)
            framed = func.json_extract(RevisionRow.body, "$.framings")
            newest = func.max(RevisionRow.number)
            rows = session.execute(
                select(newest, func.max(RevisionRow.saved_at), framed)
                .where(RevisionRow.rig_id == rig_id).group_by(framed).order_by(newest.desc())
            )  # fmt: skip
            return [(number, saved_at, _framings.validate_json(text or "[]")) for number, saved_at, text in rows]

    def archive(self, rig_id: str, archived: bool = True) -> None:
        """Put a rig away, or bring it back. Raises `Unknown`."""
        with self._database.write() as session:
            _row(session, rig_id).archived = archived

    def spread(self, session: Session, change: Callable[[Rig], Rig], note: str) -> None:
        """Within a write: give every rig that a change touches a new revision."""
        for row in session.scalars(select(RigRow)).all():
            head = _revision(session, row.id, row.head)
            try:
                body = change(_parsed(head.body)).model_dump_json()
            except ValueError:
                continue  # damaged: told by itself, and in nobody's way
            if body != head.body:
                _append(session, row, body, head.number, None, note[:200])


_framings = TypeAdapter(tuple[Framing, ...])


def _row(session: Session, rig_id: str, base: int | None = None) -> RigRow:
    row = session.get(RigRow, rig_id)
    if row is None:
        raise Unknown("rig", rig_id)
    if base is not None and row.head != base:
        raise Stale(rig_id, row.head)
    return row


def _revision(session: Session, rig_id: str, number: int) -> RevisionRow:
    row = session.scalar(select(RevisionRow).where(RevisionRow.rig_id == rig_id, RevisionRow.number == number))
    if row is None:
        raise Unknown("revision", f"{rig_id}/{number}")
    return row


def _append(session: Session, row: RigRow, body: str, parent: int | None, redo: int | None, note: str) -> RevisionRow:
    row.head += 1
    made = RevisionRow(
        rig_id=row.id,
        number=row.head,
        parent=parent,
        redo=redo,
        note=note,
        saved_at=datetime.now(UTC).isoformat(timespec="seconds"),
        body=body,
    )
    session.add(made)
    session.flush()
    return made


def _record(row: RigRow, revision: RevisionRow) -> RigRecord:
    return RigRecord(
        id=row.id,
        revision=revision.number,
        saved_at=revision.saved_at,
        note=revision.note,
        can_undo=revision.parent is not None,
        can_redo=revision.redo is not None,
        rig=_read(row.id, revision.body),
    )


def _read(rig_id: str, body: str) -> Rig:
    try:
        return _parsed(body)
    except ValueError as error:
        raise Damaged("rig", rig_id, why(error)) from None


@lru_cache(maxsize=128)
def _parsed(body: str) -> Rig:
    """A document as a rig; frozen, so that one reading serves all."""
    return Rig.model_validate_json(body, context=KEPT)
