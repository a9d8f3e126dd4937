"""Everything that is kept as plain rows, and rows put back: what exports are written from, and imports end in."""

import json
from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Table, and_, func, insert, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from dravel.core.frames.reading import FrameReading
from dravel.core.model import Assembly, Growth, Practice, Rig, Site, Target, part_adapter
from dravel.core.model.base import KEPT
from dravel.core.model.session import SessionRecord
from dravel.store.database import Database
from dravel.store.packing import packed, unpacked
from dravel.store.tables import Base

TABLES = tuple(table for table in Base.metadata.sorted_tables if table.name not in ("jobs", "identity"))
# By what a row is the same in another database; a number that each database counts for itself is not it.
SAME: Mapping[str, tuple[str, ...]] = {"revisions": ("rig_id", "number"), "drills": ("at", "hidden", "said", "asked")}
COUNTED = {"revisions": "id", "drills": "id"}
ENTRIES: Mapping[str, Any] = {
    "part": part_adapter.validate_json, "target": Target.model_validate_json, "site": Site.model_validate_json,
    "assembly": Assembly.model_validate_json, "growth": Growth.model_validate_json,
    "practice": Practice.model_validate_json,
}  # fmt: skip


class WrongRow(ValueError):
    """A row that cannot be kept here; nothing of what it belongs to was."""


@dataclass(frozen=True)
class Taken:
    """What came of rows put back: how many were new, how many are here as they are, and those here that say otherwise."""

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
        for row in session.execute(select(*columns).order_by(order).execution_options(yield_per=200)):
            found = dict(row._mapping)
            if "drawn" in found:
                drawn = found.pop("drawn")
                with suppress(ValueError):  # damaged: written as it is
                    found["body"] = unpacked(found["body"], drawn)
            if isinstance(found.get("body"), str):
                found["body"] = _value(found["body"])
            yield found


def put_back(database: Database, given: Iterable[tuple[Table, Iterable[Mapping[str, Any]]]]) -> Taken:
    """Keep rows that are not here yet, all or none. What is here under the same id stays as it is, and is told where it
    differs. Raises `WrongRow`.
    """
    added: dict[str, int] = {}
    same, differ = 0, []
    with database.write() as session:
        rigs_here: set[str] = set(session.scalars(select(_column("rigs", "id"))))
        for table, found in given:
            place = int(session.scalar(select(func.max(table.c.position))) or 0) if "position" in table.c else 0
            for row in found:
                kept = _kept(table, row)
                if table.name in ("revisions", "ticks") and kept["rig_id"] in rigs_here:
                    continue  # of a rig that is here with its own; the rig's own row tells
                there = _there(session, table, kept)
                if there is not None:
                    alike = _alike(table, kept, there)
                    same += alike
                    if not alike:
                        differ.append(_told(table, kept))
                    continue
                if "position" in table.c:
                    kept["position"] = place + int(kept.get("position") or 0)  # in their order, behind what is here
                try:
                    session.execute(insert(table).values(**kept))
                except IntegrityError:
                    raise WrongRow(f"{_told(table, kept)}: belongs to nothing that is here or comes with it") from None
                added[table.name] = added.get(table.name, 0) + 1
    return Taken(added, same, tuple(differ))


def _column(table: str, name: str) -> Any:
    return Base.metadata.tables[table].c[name]


def _kept(table: Table, row: Mapping[str, Any]) -> dict[str, Any]:
    names = {column.name: column for column in table.columns if column.name not in (COUNTED.get(table.name), "drawn")}
    unknown = set(row) - set(names)
    if unknown:
        raise WrongRow(f"{table.name}: has the unknown field '{sorted(unknown)[0]}'")
    kept: dict[str, Any] = {}
    for name, column in names.items():
        if name not in row:
            if not column.nullable and column.default is None:
                raise WrongRow(f"{table.name}: a row lacks '{name}'")
            if column.default is None:
                kept[name] = None
            continue
        value = row[name]
        if name == "body" and not isinstance(value, str | bytes):
            value = json.dumps(value, ensure_ascii=False, separators=(",", ":"))
        wanted = column.type.python_type
        whole = wanted is int and isinstance(value, bool)
        if (value is None and not column.nullable) or (value is not None and (whole or not isinstance(value, wanted))):
            raise WrongRow(f"{table.name}.{name}: {str(value)[:40]!r} is no {wanted.__name__}")
        kept[name] = value
    _can_be_read(table, kept)
    if table.name == "nights":
        kept["ended"] = True  # what ran elsewhere does not run here
    if table.name == "frames":
        kept["body"], kept["drawn"] = packed(json.loads(kept["body"]))
    return kept


def _can_be_read(table: Table, kept: dict[str, Any]) -> None:
    """Documents that a page would read must be readable; a rig or an entry that is damaged is kept and told as such."""
    read = {"sessions": SessionRecord.model_validate_json, "frames": FrameReading.model_validate_json}.get(table.name)
    if table.name == "revisions":
        read = Rig.model_validate_json
    elif table.name == "entries":
        read = ENTRIES.get(kept["kind"])
        if read is None:
            raise WrongRow(f"entries.kind: '{str(kept['kind'])[:40]}' is no kind of thing here")
    if read is None:
        return
    try:
        read(kept["body"], context=KEPT)
    except ValueError as error:
        if table.name in ("sessions", "frames"):
            raise WrongRow(f"{table.name} {kept['id']}: {str(error).splitlines()[0]}") from None


def _there(session: Session, table: Table, kept: Mapping[str, Any]) -> Mapping[str, Any] | None:
    names = SAME.get(table.name) or tuple(column.name for column in table.primary_key)
    asked = select(table).where(and_(*(table.c[name] == kept[name] for name in names)))
    row = session.execute(asked).first()
    return None if row is None else dict(row._mapping)


def _alike(table: Table, kept: Mapping[str, Any], there: Mapping[str, Any]) -> bool:
    left_out = {"position", "version", COUNTED.get(table.name)}
    return all(
        _value(value) == _value(there[name]) if name == "body" and isinstance(value, str) else value == there[name]
        for name, value in kept.items()
        if name not in left_out
    )


def _told(table: Table, kept: Mapping[str, Any]) -> str:
    kind = str(kept.get("kind") or table.name.removesuffix("s"))
    return f"{kind} {kept.get('id') or kept.get('key') or ''}".strip()


def _value(text: str) -> Any:
    try:
        return json.loads(text)
    except ValueError:
        return text
