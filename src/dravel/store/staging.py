"""Many entries kept at once and nobody kept waiting: laid down in pieces where nobody looks, made public in one stroke."""

import json
import secrets
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from itertools import islice
from time import sleep
from typing import Any

from sqlalchemy import insert, text
from sqlalchemy.orm import Session

from dravel.core.model.cancellation import check_cancelled
from dravel.store.database import Database
from dravel.store.scratch import PREFIX, in_use, scratch
from dravel.store.tables import EntryRow

MARK = "~"  # no kind begins so: no list, no search and no export holds what does
PIECE = 500  # entries of one write: some tens of milliseconds
BREATH_S = 0.03  # between two pieces: who waits for the lock looks for it only so often


class Batch:
    """Entries under way. They count for nothing before `publish`, which is part of its caller's write."""

    def __init__(self, database: Database, name: str) -> None:
        self._database, self._name = database, name
        self.count = 0

    def put(self, entries: Iterable[Mapping[str, Any]], tell: Callable[[int], None] = lambda _: None) -> None:
        """Lay entries down (kind, id, version, archived, body; a position of their own, or their order); `tell` hears how many
        there are so far.
        """
        left = iter(entries)
        while piece := list(islice(left, PIECE)):
            check_cancelled()
            rows = [
                {"position": self.count + k, **item, "kind": self._hidden(item["kind"])}
                for k, item in enumerate(piece, 1)
            ]
            with self._database.write() as session:
                session.execute(insert(EntryRow), rows)
            self.count += len(piece)
            tell(self.count)
            sleep(BREATH_S)

    def publish(self, session: Session, renamed: Callable[[str, set[str]], str] | None = None) -> int:
        """Make all of them entries like others, behind those that are there; how many they were. One whose id was taken
        meanwhile gets another by `renamed`, or is dropped without it. Raises `RuntimeError` where they are gone: everything
        was restored meanwhile.
        """
        here = int(session.scalar(text("SELECT count(*) FROM entries WHERE kind GLOB :mine"), self._mine) or 0)
        if here != self.count:
            raise RuntimeError("the data were restored meanwhile")
        taken = text(
            "SELECT s.kind, s.id, substr(s.kind, :cut) FROM entries s JOIN entries e"
            " ON e.kind = substr(s.kind, :cut) AND e.id = s.id WHERE s.kind GLOB :mine"
        )
        for hidden, key, kind in session.execute(taken, {**self._mine, "cut": self._cut}).all():
            if renamed is None:
                _drop(session, hidden, key)
                here -= 1
                continue
            known = set(session.scalars(text("SELECT id FROM entries WHERE kind = :kind"), {"kind": kind}))
            fresh = renamed(key, known)
            answer = {"fresh": fresh, "said": json.dumps(fresh), "kind": hidden, "id": key}
            session.execute(
                text("UPDATE entries SET id = :fresh, body = json_set(body, '$.id', json(:said)) WHERE kind = :kind AND id = :id"),
                answer,
            )  # fmt: skip
        last = session.scalar(text("SELECT max(position) FROM entries WHERE kind NOT GLOB '~*'")) or 0
        session.execute(
            text("UPDATE entries SET kind = substr(kind, :cut), position = position + :last WHERE kind GLOB :mine"),
            {**self._mine, "cut": self._cut, "last": int(last)},
        )
        self.count = 0
        return here

    def _hidden(self, kind: str) -> str:
        return f"{MARK}{self._name}{MARK}{kind}"

    @property
    def _cut(self) -> int:
        """From which character on a hidden kind is the kind."""
        return len(self._hidden("")) + 1

    @property
    def _mine(self) -> dict[str, str]:
        return {"mine": f"{self._hidden('')}*"}


@contextmanager
def batch(database: Database) -> Iterator[Batch]:
    """A batch; what of it was not published is gone afterwards, after a kill with the next start."""
    name = secrets.token_hex(4)
    with scratch(database.path.parent, f"batch-{name}"):
        made = Batch(database, name)
        try:
            yield made
        finally:
            if made.count:
                _clear(database, name)


def clear_left(database: Database) -> None:
    """Remove what batches of killed processes left; those that are under way stay."""
    with database.read() as session:
        hidden = session.scalars(text("SELECT DISTINCT kind FROM entries WHERE kind GLOB '~*'")).all()
    for name in {str(kind).split(MARK)[1] for kind in hidden}:
        if not any(in_use(folder) for folder in database.path.parent.glob(f"{PREFIX}batch-{name}-*")):
            _clear(database, name)


def _clear(database: Database, name: str) -> None:
    asked = text("SELECT kind, id FROM entries WHERE kind GLOB :mine LIMIT :most")
    while True:
        with database.write() as session:
            result: Sequence[Any] = session.execute(asked, {"mine": f"{MARK}{name}{MARK}*", "most": PIECE}).all()
            for kind, key in result:
                _drop(session, kind, key)
        if not result:
            return


def _drop(session: Session, kind: str, key: str) -> None:
    """Remove an entry that was never public, and its words in the index."""
    answer = {"kind": kind, "id": key}
    session.execute(
        text("DELETE FROM found WHERE rowid = (SELECT rowid * 8 + 1 FROM entries WHERE kind = :kind AND id = :id)"),
        answer,
    )
    session.execute(text("DELETE FROM entries WHERE kind = :kind AND id = :id"), answer)
