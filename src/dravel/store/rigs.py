"""Rigs and their revisions. A save is a new revision; undo and redo are revisions too, so that nothing is lost."""

import re
import secrets
from collections.abc import Callable, Collection, Hashable, Iterator
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any, TypeVar

from pydantic import TypeAdapter
from sqlalchemy import Select, func, insert, select, update
from sqlalchemy.orm import Session

from dravel.core.model import Framing, Rig
from dravel.core.model.base import KEPT
from dravel.store.damage import Checked, Damage, Damaged, digest, name_in, why
from dravel.store.database import Database
from dravel.store.merging import merged
from dravel.store.renewal import Renewal
from dravel.store.tables import KeyRow, RevisionRow, RigRow

T = TypeVar("T")
LONGEST_NOTE = 200
MOST_ANSWERS = 20_000  # kept of one question about rigs


class Unknown(LookupError):
    """Nothing of that id is kept."""

    def __init__(self, kind: str, entry_id: str) -> None:
        super().__init__(f"there is no {kind} '{entry_id}'")


class Stale(Exception):
    """The thing was changed since the version the writer had seen. Nothing was written."""

    def __init__(self, entry_id: str, current: int, fields: tuple[str, ...] = ()) -> None:
        super().__init__(f"'{entry_id}' was changed meanwhile; it is at {current}. Nothing was overwritten")
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

    def all(self, first: int = 0, most: int | None = None) -> list[RigRecord]:
        """All rigs that are not archived, in the order they were made; or `most` of them from the `first` on."""
        with self._database.read() as session:
            wanted = _newest().where(~RigRow.archived).order_by(RigRow.position).offset(first).limit(most)
            results = []
            for row, head in session.execute(wanted):
                with suppress(Damaged):
                    results.append(_record(row, head))
            return results

    def count(self) -> int:
        """How many there are that are not archived."""
        with self._database.read() as session:
            return session.scalar(select(func.count()).select_from(RigRow).where(~RigRow.archived)) or 0

    def names(self) -> list[tuple[str, int, str]]:
        """Id, newest revision and name of all that are not archived, without reading the rest of them."""
        with self._database.read() as session:
            name = func.json_extract(RevisionRow.body, "$.name")
            wanted = _newest(RigRow.id, RigRow.head, name).where(~RigRow.archived, func.json_valid(RevisionRow.body))
            return [tuple(row) for row in session.execute(wanted.order_by(RigRow.position))]

    def made_as(self, note: str) -> dict[str, bool]:
        """Rigs that were made with a note, by id in the order they were made, and whether each is archived."""
        with self._database.read() as session:
            first = (RevisionRow.rig_id == RigRow.id) & (RevisionRow.number == 1) & (RevisionRow.note == note)
            rows = session.execute(
                select(RigRow.id, RigRow.archived).join(RevisionRow, first).order_by(RigRow.position)
            )
            return {row.id: row.archived for row in rows}

    def each(self, ask: Callable[..., T], *given: Hashable) -> list[tuple[str, T]]:
        """What a pure function of a rig (and of what is given) says of each one that is not archived; asked once of each
        document.
        """
        answers = _answers(ask, *given)
        results = []
        with self._database.read() as session:
            wanted = _newest(RigRow.id, RevisionRow.body).where(~RigRow.archived).order_by(RigRow.position)
            for rig_id, body in session.execute(wanted):
                mark = digest(body)
                if mark not in answers:
                    try:
                        answers[mark] = ask(_parsed(body), *given)
                    except ValueError:
                        continue  # damaged: told by itself
                results.append((rig_id, answers[mark]))
        if len(answers) > MOST_ANSWERS:
            answers.clear()
        return results

    def damaged(self) -> list[Damage]:
        """Rigs whose newest revision cannot be read."""
        results = []
        with self._database.read() as session:
            for row, head in session.execute(_newest().order_by(RigRow.position)):
                if (because := _checked(head.body)) is not None:
                    results.append(Damage("rig", row.id, name_in(head.body), because, head.body, row.head))
        return results

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

    def save(self, rig_id: str, rig: Rig, base: int, note: str = "", *, on_top: bool = False) -> RigRecord:
        """Keep a changed rig, made on revision `base`, as a new revision.

        Where another change came first, both are kept together if they touch different fields, and the answer names
        what came from the other. Raises `Unknown`; `Stale` with the fields when both changed the same, unless this one is to
        lie on top there. An unchanged document makes no revision.
        """
        with self._database.write() as session:
            row = _row(session, rig_id)
            head = _revision(session, rig_id, row.head)
            fields: tuple[str, ...] = ()
            if base > row.head:
                raise Stale(rig_id, row.head)
            if base != row.head and rig.model_dump_json() != head.body:
                made_on = _read(rig_id, _revision(session, rig_id, base).body)
                both, fields = merged(made_on, rig, _read(rig_id, head.body), on_top=on_top)
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

    def is_away(self, rig_id: str) -> bool:
        """Whether a rig was put away. Raises `Unknown`."""
        with self._database.read() as session:
            return _row(session, rig_id).archived

    def as_built(self, rig_id: str) -> int | None:
        """The revision that stands outside, as its owner said; None where nobody did. Raises `Unknown`."""
        with self._database.read() as session:
            row = _row(session, rig_id)
            return row.as_built

    def pin(self, rig_id: str, number: int | None) -> None:
        """Say which revision is the rig as built. Raises `Unknown` without such a revision."""
        with self._database.write() as session:
            row = _row(session, rig_id)
            if number is not None:
                _revision(session, rig_id, number)
            row.as_built = number

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

    def changed(self, session: Session, renew: Renewal) -> Iterator[tuple[RigRow, RevisionRow, str]]:
        """Rigs that a change of a kept thing touches, archived ones too: row, newest revision, the document as it would be."""
        for row, head in session.execute(_newest().where(func.instr(RevisionRow.body, renew.mention) > 0)):
            try:
                body = renew(head.body, _parsed)
            except ValueError:
                continue  # damaged: told by itself, and in nobody's way
            if body != head.body:
                yield row, head, body

    def touched(self, renew: Renewal, most: int) -> tuple[list[tuple[RigRecord, Rig]], int]:
        """Rigs that a change of a kept thing would give a new revision, each with what it would become, `most` of them; and
        how many more there are.
        """
        with self._database.read() as session:
            result = list(self.changed(session, renew))
            return [(_record(row, head), _parsed(body)) for row, head, body in result[:most]], max(
                len(result) - most, 0
            )

    def spread(self, session: Session, renew: Renewal, note: str) -> None:
        """Within a write: give every rig that a change of a kept thing touches a new revision."""
        now = _now()
        made = [
            {"rig_id": row.id, "number": row.head + 1, "parent": head.number, "redo": None, "note": note[:LONGEST_NOTE],
             "saved_at": now, "body": body}
            for row, head, body in self.changed(session, renew)
        ]  # fmt: skip
        if made:
            session.execute(insert(RevisionRow), made)
            session.execute(update(RigRow), [{"id": item["rig_id"], "head": item["number"]} for item in made])


_framings = TypeAdapter(tuple[Framing, ...])


@lru_cache(maxsize=16)
def _answers(ask: Callable[..., Any], *given: Hashable) -> dict[bytes, Any]:
    """What was answered of documents, by their digests."""
    return {}


def _newest(*columns: Any) -> Select[Any]:
    """Rigs with their newest revisions, or columns of them."""
    both: Select[Any] = select(*(columns or (RigRow, RevisionRow)))
    heads = (RevisionRow.rig_id == RigRow.id) & (RevisionRow.number == RigRow.head)
    return both.select_from(RigRow).join(RevisionRow, heads)


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


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
    note = note if len(note) <= LONGEST_NOTE else f"{note[: LONGEST_NOTE - 1]}…"  # what a fix does may be long
    made = RevisionRow(rig_id=row.id, number=row.head, parent=parent, redo=redo, note=note, saved_at=_now(), body=body)
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


def _fresh(body: str) -> Rig:
    return Rig.model_validate_json(body, context=KEPT)


# A document as a rig; frozen, so that one reading serves all.
_parsed = lru_cache(maxsize=256)(_fresh)
_checked = Checked(_fresh)
