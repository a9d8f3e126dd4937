"""Everything that is kept as plain rows, and rows taken in: what exports are written from, and imports end in."""

import json
import sqlite3
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from typing import Any

from sqlalchemy import Table, and_, func, insert, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from dravel.core.model.cancellation import check_cancelled
from dravel.store.database import Database
from dravel.store.packing import packed, unpacked
from dravel.store.staging import MARK, Batch
from dravel.store.tables import Base

TABLES = tuple(table for table in Base.metadata.sorted_tables if table.name not in ("jobs", "identity"))
# By what a row is the same in another database; a number that each database counts for itself is not it.
SAME: Mapping[str, tuple[str, ...]] = {"revisions": ("rig_id", "number"), "drills": ("at", "hidden", "said", "asked")}
COUNTED = {"revisions": "id", "drills": "id"}


Tell = Callable[[int, int, str], None]
PIECE = 200  # rows of one statement


class LooseRow(ValueError):
    """A row that is there twice, or belongs to nothing; nothing of what it came with was kept."""


@dataclass(frozen=True)
class Taken:
    """What came of rows taken in: how many were new, how many are here as they are, and those here that say otherwise."""

    added: Mapping[str, int]
    same: int
    differ: tuple[str, ...]


def rows(database: Database, table: Table) -> Iterator[dict[str, Any]]:
    """The rows of a table in the order they came; documents as JSON values, or as text where they are damaged; bytes as
    bytes.
    """
    hidden = COUNTED.get(table.name)
    columns = [column for column in table.columns if column.name != hidden]
    order = table.columns.get("position", table.columns.get(hidden or "", next(iter(table.primary_key))))
    with database.read() as session:
        asked = select(*columns).order_by(order)
        if table.name == "entries":
            asked = asked.where(table.c.kind.not_like(f"{MARK}%"))  # an import under way
        for row in session.execute(asked.execution_options(yield_per=20)):
            result = dict(row._mapping)
            if "drawn" in result:
                drawn = result.pop("drawn")
                with suppress(ValueError):  # damaged: written as it is
                    result["body"] = unpacked(result["body"], drawn)
            if isinstance(result.get("body"), str):
                result["body"] = _value(result["body"])
            yield result


def stage(to: Path, given: Iterable[tuple[Table, Iterable[Mapping[str, Any]]]], tell: Tell = lambda *_: None) -> int:
    """Lay checked rows down in a file of their own, papers with their bytes and frames in their two pieces, and see that they
    belong together; how many they are. Raises `LooseRow`, `sqlite3.Error`.
    """
    link = sqlite3.connect(to)
    try:
        link.execute("PRAGMA journal_mode = OFF")
        link.execute("PRAGMA synchronous = OFF")
        for table in TABLES:
            keys = ", ".join(f'"{name}"' for name in _key(table))
            named = ", ".join(f'"{column.name}"' for column in table.columns if column.name not in _counted(table))
            link.execute(f'CREATE TABLE "{table.name}" ({named}, PRIMARY KEY ({keys}))')
        count = 0
        for table, result in given:
            for row in result:
                check_cancelled()
                _lay(link, table, row)
                count += 1
                if count % 200 == 0:
                    tell(0, 0, f"{count:,} rows read")
        link.commit()
        return count
    finally:
        link.close()


def _lay(link: sqlite3.Connection, table: Table, row: Mapping[str, Any]) -> None:
    kept = dict(row)
    if table.name == "nights":
        kept["ended"] = True  # what ran elsewhere does not run here
    if table.name == "frames":
        kept["body"], kept["drawn"] = packed(json.loads(kept["body"]))
    names = ", ".join(f'"{name}"' for name in kept)
    try:
        link.execute(
            f'INSERT INTO "{table.name}" ({names}) VALUES ({", ".join("?" * len(kept))})', tuple(kept.values())
        )
    except sqlite3.IntegrityError:
        raise LooseRow(f"{_told(table, kept)}: is there twice") from None


def take_in(database: Database, staged: Path, batch: Batch, tell: Tell = lambda *_: None) -> Callable[[], Taken]:
    """Compare rows that were staged with what is here, and lay new entries down in pieces; what is answered keeps what is new,
    all or nothing, in the write that it is called in. What is here under the same key stays as it is, and is told where it
    differs. Raises `LooseRow` for rows that belong to nothing.
    """
    link = sqlite3.connect(f"{staged.resolve().as_uri()}?mode=ro", uri=True)
    link.row_factory = sqlite3.Row
    same, differ = 0, []
    here: dict[str, set[tuple[Any, ...]]] = {}
    try:
        with database.read() as session:
            rigs = set(session.scalars(select(_column("rigs", "id"))))
            for table in TABLES:
                tell(0, 0, f"{table.name} compared")
                known = here[table.name] = set()
                for row in map(dict, link.execute(f'SELECT * FROM "{table.name}"')):
                    check_cancelled()
                    if table.name in ("revisions", "ticks") and row["rig_id"] in rigs:
                        known.add(tuple(row[name] for name in _key(table)))
                        continue  # of a rig that is here with its own; the rig's own row tells
                    there = _there(session, table, row)
                    if there is not None:
                        known.add(tuple(row[name] for name in _key(table)))
                        if _alike(table, row, there):
                            same += 1
                        else:
                            differ.append(_told(table, row))
        _belong(link, database, rigs)
        entries = link.execute('SELECT kind, id, version, archived, "position", body FROM entries ORDER BY "position"')
        batch.put(
            (dict(row) for row in entries if (row["kind"], row["id"]) not in here["entries"]),
            lambda done: tell(0, 0, f"{done:,} entries laid down"),
        )
    finally:
        link.close()

    def keep() -> Taken:
        with database.write() as session:
            added = {"entries": batch.publish(session)}
            link = sqlite3.connect(f"{staged.resolve().as_uri()}?mode=ro", uri=True)
            link.row_factory = sqlite3.Row
            try:
                for table in TABLES:
                    if table.name != "entries":
                        added[table.name] = _put(session, link, table, here[table.name])
            finally:
                link.close()
        return Taken({name: count for name, count in added.items() if count}, same, tuple(differ))

    return keep


def _put(session: Session, link: sqlite3.Connection, table: Table, here: set[tuple[Any, ...]]) -> int:
    """Keep the rows of a table that are not here, in their order, behind what is."""
    place = int(session.scalar(select(func.max(table.c.position))) or 0) if "position" in table.c else 0
    order = '"position"' if "position" in table.c else "rowid"
    result = (dict(row) for row in link.execute(f'SELECT * FROM "{table.name}" ORDER BY {order}'))
    count = 0
    fresh = (row for row in result if tuple(row[name] for name in _key(table)) not in here)
    while piece := list(islice(fresh, PIECE)):
        for row in piece:
            if "position" in row:
                row["position"] = place + int(row["position"] or 0)
            if table.name == "frames":
                row.setdefault("drawn", None)
        try:
            session.execute(insert(table), piece)
        except IntegrityError:  # what is here came meanwhile, or what it belongs to is gone
            raise RuntimeError("the data were changed during the import; try again") from None
        count += len(piece)
    return count


# What rows belong to: of a table the column, and the table whose rows it names.
OWNERS = (
    ("revisions", "rig_id", "rigs"), ("ticks", "rig_id", "rigs"), ("frames", "rig_id", "rigs"),
    ("marks", "night_id", "nights"), ("sessions", "night_id", "nights"),
)  # fmt: skip


def _belong(link: sqlite3.Connection, database: Database, rigs: set[str]) -> None:
    """Raises `LooseRow` for rows that belong to nothing that is here or comes with them, and for rigs that lack revisions."""
    known = {"rigs": rigs}
    with database.read() as session:
        known["nights"] = set(session.scalars(select(_column("nights", "id"))))
    for table, column, owner in OWNERS:
        asked = f'SELECT * FROM "{table}" WHERE "{column}" IS NOT NULL AND "{column}" NOT IN (SELECT id FROM "{owner}")'
        for row in map(dict, link.execute(asked)):
            if row[column] not in known[owner]:
                raise LooseRow(
                    f"{_told(Base.metadata.tables[table], row)}: belongs to nothing that is here or comes with it"
                )
    for rig in link.execute("SELECT id, head, as_built FROM rigs"):
        numbers = {row[0] for row in link.execute("SELECT number FROM revisions WHERE rig_id = ?", (rig["id"],))}
        if rig["id"] not in rigs and (rig["head"] != max(numbers, default=0) or len(numbers) != rig["head"]):
            raise LooseRow(f"rig {rig['id']}: its revisions are not 1 to {rig['head']}")
        if rig["as_built"] is not None and rig["id"] not in rigs and rig["as_built"] not in numbers:
            raise LooseRow(f"as_built of rig {rig['id']}: it names no revision of that rig")
    back = link.execute(
        "SELECT rig_id, number FROM revisions WHERE parent >= number OR redo > (SELECT head FROM rigs WHERE id = rig_id)"
    ).fetchone()
    if back is not None:
        raise LooseRow(f"revision {back['number']} of rig {back['rig_id']}: parent or redo lead nowhere")


def _key(table: Table) -> tuple[str, ...]:
    return SAME.get(table.name) or tuple(column.name for column in table.primary_key)


def _counted(table: Table) -> tuple[str, ...]:
    return (COUNTED[table.name],) if table.name in COUNTED else ()


def _column(table: str, name: str) -> Any:
    return Base.metadata.tables[table].c[name]


def _there(session: Session, table: Table, kept: Mapping[str, Any]) -> Mapping[str, Any] | None:
    asked = select(table).where(and_(*(table.c[name] == kept[name] for name in _key(table))))
    row = session.execute(asked).first()
    return None if row is None else dict(row._mapping)


def _alike(table: Table, kept: Mapping[str, Any], there: Mapping[str, Any]) -> bool:
    left_out = {"position", "version", "ended", COUNTED.get(table.name)}
    if table.name == "frames":
        left_out |= {"body", "drawn"}
        with suppress(ValueError):
            if _value(unpacked(kept["body"], kept["drawn"])) != _value(unpacked(there["body"], there["drawn"])):
                return False
    documents = {"body"} if isinstance(kept.get("body"), str) else set()
    return all(
        _value(value) == _value(there[name]) if name in documents else value == there[name]
        for name, value in kept.items() if name not in left_out
    )  # fmt: skip


def _told(table: Table, kept: Mapping[str, Any]) -> str:
    kind = str(kept.get("kind") or table.name.removesuffix("s"))
    return f"{kind} {kept.get('id') or kept.get('key') or kept.get('rig_id') or ''}".strip()


def _value(text: str) -> Any:
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        return text
