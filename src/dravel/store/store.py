"""Parts, targets, sites and the preferences: kept by id, with a version so that a stale write is refused."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any, Generic, TypeVar

from pydantic import TypeAdapter
from sqlalchemy import Select, func, insert, select, tuple_
from sqlalchemy.orm import Session

from dravel.core.model import Assembly, Growth, Part, Preferences, Rig, Site, Target, part_adapter
from dravel.core.model.base import KEPT
from dravel.core.model.cancellation import check_cancelled
from dravel.core.train.assembly import with_part
from dravel.store.builds import BuildStore
from dravel.store.damage import Checked, Damage, Damaged, name_in, why
from dravel.store.database import Database
from dravel.store.drills import DrillStore
from dravel.store.frames import FrameStore
from dravel.store.jobs import JobStore
from dravel.store.nights import NightStore
from dravel.store.papers import PaperStore
from dravel.store.renewal import Renewal
from dravel.store.rigs import RigRecord, RigStore, Stale, Unknown, fresh_id, keep_key, made_under
from dravel.store.search import SearchStore
from dravel.store.sessions import SessionStore
from dravel.store.staging import Batch
from dravel.store.tables import EntryRow

CACHED = 32_768  # documents of a kind that are kept as they were parsed
BLOCK = 1000
M = TypeVar("M", Part, Target, Site, Assembly, Growth)

__all__ = ["Collection", "Entry", "Stale", "Store", "Unknown"]


@dataclass(frozen=True)
class Entry(Generic[M]):
    """A kept thing and the version it stands at."""

    id: str
    version: int
    body: M


class Store:
    """Everything in one database file."""

    def __init__(self, path: Path) -> None:
        self.database = Database(path)
        self.rigs = RigStore(self.database)
        self.jobs = JobStore(self.database)
        self.builds = BuildStore(self.database)
        self.nights = NightStore(self.database)
        self.sessions = SessionStore(self.database)
        self.papers = PaperStore(self.database)
        self.search = SearchStore(self.database)
        self.frames = FrameStore(self.database)
        self.drills = DrillStore(self.database)
        self.parts: Collection[Any] = Collection(self, "part", part_adapter)
        self.targets: Collection[Target] = Collection(self, "target", TypeAdapter(Target))
        self.sites: Collection[Site] = Collection(self, "site", TypeAdapter(Site))
        self.growths: Collection[Growth] = Collection(self, "growth", TypeAdapter(Growth))
        self.assemblies: Collection[Assembly] = Collection(self, "assembly", TypeAdapter(Assembly))

    def preferences(self) -> tuple[Preferences, int]:
        """The user's preferences and its version; the default before any was saved (version 0), or where it is damaged."""
        with self.database.read() as session:
            row = session.get(EntryRow, ("practice", "practice"))
            if row is None:
                return Preferences(), 0
            try:
                return _preferences_of(row.body), row.version
            except ValueError:
                return Preferences(), row.version

    def damaged(self) -> list[Damage]:
        """What is kept and cannot be read any more, put away or not."""
        results = [*self.rigs.damaged(), *self.sessions.damaged()]
        with self.database.read() as session:
            rows = session.scalars(select(EntryRow).order_by(EntryRow.kind, EntryRow.position)).all()
            for row in rows:
                kept = getattr(self, _COLLECTIONS.get(row.kind, ""), None)
                check = kept.checked if kept is not None else _preferences_checked if row.kind == "practice" else None
                if check is not None and (because := check(row.body)) is not None:
                    results.append(Damage(row.kind, row.id, name_in(row.body), because, row.body))
        return results

    def save_preferences(self, preferences: Preferences, base: int) -> int:
        """Keep the preferences; returns its new version. Raises `Stale`."""
        with self.database.write() as session:
            row = session.get(EntryRow, ("practice", "practice"))
            if row is None:
                row = EntryRow(kind="practice", id="practice", version=0, position=0, archived=False, body="")
                session.add(row)
            body = preferences.model_dump_json()
            if row.version != base:
                if row.version == base + 1 and row.body == body:
                    return row.version  # the same save again: its answer was lost
                raise Stale("preferences", row.version)
            row.version, row.body = base + 1, body
            return row.version

    def is_empty(self) -> bool:
        """Whether nothing was ever kept here."""
        with self.database.read() as session:
            return not session.scalar(select(func.count()).select_from(EntryRow))

    def close(self) -> None:
        """Let go of the file."""
        self.database.close()


class Collection(Generic[M]):
    """The kept things of one kind. Nothing is deleted: what is removed is archived and can come back."""

    def __init__(self, store: Store, kind: str, adapter: TypeAdapter[M]) -> None:
        self._store, self._kind = store, kind
        self.database = store.database
        self._adapter: TypeAdapter[M] = adapter
        # By the text itself: what is only about to be kept cannot be taken for what is. Bodies are frozen.
        self.parsed: Callable[[str], M] = lru_cache(maxsize=CACHED)(self._read)
        self.checked = Checked(self._read)

    def _read(self, text: str) -> M:
        return self._adapter.validate_json(text, context=KEPT)

    def ids(self) -> set[str]:
        """The ids of all that were ever kept, archived or not."""
        with self._store.database.read() as session:
            return set(session.scalars(self._ids()))

    def count(self) -> int:
        """How many there are that are not archived."""
        with self._store.database.read() as session:
            return session.scalar(self._listed(func.count())) or 0

    def all(self, first: int = 0, most: int | None = None) -> list[Entry[M]]:
        """All that are not archived, in the order they were added, or `most` of them from the `first` on; what is damaged is
        left to `Store.damaged`.
        """
        with self._store.database.read() as session:
            rows = session.scalars(self._listed(EntryRow).order_by(EntryRow.position).offset(first).limit(most))
            results = []
            for row in rows:
                with suppress(Damaged):
                    results.append(self._entry(row))
            return results

    def blocks(self, size: int = BLOCK) -> Iterator[list[Entry[M]]]:
        """The same in blocks, so that no more than one of them is in memory, however many there are."""
        read = self.parsed if self.count() <= CACHED // 4 else self._read  # a long list would only push others out
        after = (-1, "")
        while True:
            check_cancelled()
            place = tuple_(EntryRow.position, EntryRow.id)
            with self._store.database.read() as session:
                asked = self._listed(EntryRow).where(place > after).order_by(EntryRow.position, EntryRow.id).limit(size)
                rows = session.scalars(asked).all()
                if not rows:
                    return
                after = rows[-1].position, rows[-1].id
                results = []
                for row in rows:
                    with suppress(ValueError):
                        results.append(Entry(row.id, row.version, read(row.body)))
            yield results

    def each(self) -> Iterator[Entry[M]]:
        """The same one by one, a block of them in memory."""
        for block in self.blocks():
            yield from block

    def get(self, entry_id: str) -> Entry[M]:
        """One of them, archived or not. Raises `Unknown`."""
        with self._store.database.read() as session:
            return self._entry(self._row(session, entry_id))

    def add(self, *bodies: M, key: str | None = None) -> list[Entry[M]]:
        """Keep new ones, all or none. An id that is taken already is replaced by a fresh one.

        One that is asked for again under a key that made one before is that one. Raises `ValueError` where the key made
        something else.
        """
        with self._store.database.write() as session:
            if (made := made_under(session, key, self._kind)) is not None:
                return [self._entry(self._row(session, made))]
            last = session.scalar(select(func.max(EntryRow.position)).where(EntryRow.kind == self._kind)) or 0
            added = list(self._named(bodies, set(session.scalars(self._ids()))))
            if added:
                rows = [{**_row_of(self._kind, item), "position": last + k} for k, item in enumerate(added, 1)]
                session.execute(insert(EntryRow), rows)
                keep_key(session, key, self._kind, added[0].id)
            return added

    def add_many(self, batch: Batch, bodies: Iterable[M], tell: Callable[[int], None]) -> Callable[[], int]:
        """Lay new ones down in pieces, so that nobody waits for them; what is answered makes them public, in the write that
        it is called in, and says how many they were.
        """
        batch.put((_row_of(self._kind, item) for item in self._named(bodies, self.ids())), tell)

        def keep() -> int:
            with self._store.database.write() as session:
                return batch.publish(session, fresh_id)

        return keep

    def _named(self, bodies: Iterable[M], taken: set[str]) -> Iterator[Entry[M]]:
        """New ones, each under an id that is not `taken`, its own where it can be."""
        for body in bodies:
            entry_id = body.id if body.id and body.id not in taken else fresh_id(body.name, taken)
            taken.add(entry_id)
            yield Entry(entry_id, 1, body.model_copy(update={"id": entry_id}))

    def replace(self, entry_id: str, body: M, base: int) -> Entry[M]:
        """Keep a changed one; rigs that use it get a new revision in the same transaction. Raises `Unknown`, `Stale`."""
        body = body.model_copy(update={"id": entry_id})
        with self._store.database.write() as session:
            row, text = self._row(session, entry_id), body.model_dump_json()
            if row.version != base and not (row.version == base + 1 and row.body == text):
                raise Stale(entry_id, row.version)
            if row.body != text:
                renewal = Renewal(entry_id, row.body, body)
                row.version, row.body = base + 1, text
                if isinstance(body, Part):
                    _spread_to_assemblies(session, body)
                self._store.rigs.spread(session, renewal, f"{body.name} was changed")
            return self._entry(row)

    def touches(self, entry_id: str, body: M, most: int) -> tuple[list[tuple[RigRecord, Rig]], int]:
        """The rigs that a changed one would give a new revision, put away ones too, each with what it would become; and how
        many more there are than `most`. Raises `Unknown`.
        """
        body = body.model_copy(update={"id": entry_id})
        with self._store.database.read() as session:
            return self._store.rigs.touched(Renewal(entry_id, self._row(session, entry_id).body, body), most)

    def archive(self, entry_id: str, archived: bool = True) -> Entry[M]:
        """Put one away, or bring it back. Rigs keep their copy. Raises `Unknown`."""
        with self._store.database.write() as session:
            row = self._row(session, entry_id)
            row.archived = archived
            return self._entry(row)

    def some(self, ids: Sequence[str]) -> list[Entry[M]]:
        """Those of these ids that are kept and can be read."""
        with self._store.database.read() as session:
            wanted = select(EntryRow).where(EntryRow.kind == self._kind, EntryRow.id.in_(ids))
            results = []
            for row in session.scalars(wanted):
                with suppress(Damaged):
                    results.append(self._entry(row))
            return results

    def _ids(self) -> Select[Any]:
        return select(EntryRow.id).where(EntryRow.kind == self._kind)

    def _listed(self, what: Any) -> Select[Any]:
        return select(what).where(EntryRow.kind == self._kind, ~EntryRow.archived)

    def _row(self, session: Session, entry_id: str) -> EntryRow:
        row = session.get(EntryRow, (self._kind, entry_id))
        if row is None:
            raise Unknown(self._kind, entry_id)
        return row

    def _entry(self, row: EntryRow) -> Entry[M]:
        try:
            return Entry(row.id, row.version, self.parsed(row.body))
        except ValueError as error:
            raise Damaged(self._kind, row.id, why(error)) from None


def _row_of(kind: str, entry: Entry[Any]) -> dict[str, Any]:
    """A new entry as a row, without its position."""
    return {"kind": kind, "id": entry.id, "version": 1, "archived": False, "body": entry.body.model_dump_json()}


_COLLECTIONS = {
    "part": "parts", "target": "targets", "site": "sites", "growth": "growths", "assembly": "assemblies",
}  # fmt: skip


@lru_cache(maxsize=8)
def _preferences_of(text: str) -> Preferences:
    return Preferences.model_validate_json(text, context=KEPT)


_preferences_checked = Checked(_preferences_of)


def _spread_to_assemblies(session: Session, part: Part) -> None:
    """Within a write: bring the assemblies' copies of a part up to date."""
    for row in session.scalars(select(EntryRow).where(EntryRow.kind == "assembly")).all():
        try:
            kept = Assembly.model_validate_json(row.body, context=KEPT)
        except ValueError:
            continue
        text = kept.model_copy(update={"items": tuple(with_part(item, part) for item in kept.items)}).model_dump_json()
        if text != row.body:
            row.version, row.body = row.version + 1, text
