"""Parts as CSV: one line a part, nested fields as dotted columns (``sensor.pixel_um``), lists as JSON."""

import csv
import io
import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from dravel.core.model import Part, part_adapter
from dravel.core.model.cancellation import check_cancelled
from dravel.formats.csv_cells import guarded, unguarded
from dravel.formats.faults import LINES_READ, UNREAD, Fault, faults

TELL_EVERY = 200  # lines
_FIRST = ("id", "kind", "name", "status", "mass_g")


@dataclass(frozen=True)
class LineFault:
    """What is wrong in one line of a CSV file (the heading is line 1)."""

    line: int
    faults: list[Fault]


def write(parts: list[Part]) -> str:
    """Parts as CSV text with a heading."""
    rows = [_flat(part.model_dump(mode="json", exclude_defaults=True) | {"kind": part.kind}) for part in parts]  # type: ignore[attr-defined]
    columns = [name for name in _FIRST if any(name in row for row in rows)]
    columns += sorted({name for row in rows for name in row} - set(columns))
    out = io.StringIO()
    writer = csv.DictWriter(out, columns, lineterminator="\n")
    writer.writeheader()
    writer.writerows(rows)
    return out.getvalue()


def read(text: str, tell: Callable[[int], None] = lambda _: None) -> tuple[list[Part], list[LineFault]]:
    """Parts in CSV text, and what is wrong line by line. A bad line never keeps a good one from being read.

    `tell` is told the line it is at, now and then.
    """
    parts: list[Part] = []
    wrong: list[LineFault] = []
    reader = csv.reader(io.StringIO(text.removeprefix("\ufeff")), strict=True)
    try:
        heading = next(reader, [])
        missing = [name for name in ("kind", "name") if name not in heading]
        if missing:
            fault = Fault(field=missing[0], reason="the heading names no such column", accepted="kind, name, …")
            return [], [LineFault(1, [fault])]
        for cells in reader:
            if not any(cells):
                continue
            line = reader.line_num
            if line % TELL_EVERY == 0:
                check_cancelled()
                tell(line)
            if len(wrong) > LINES_READ:
                wrong.append(LineFault(line, [Fault(field="file", reason=UNREAD)]))
                break
            if len(cells) > len(heading):
                fault = Fault(field="line", reason=f"has {len(cells)} cells under {len(heading)} columns")
                wrong.append(LineFault(line, [fault]))
                continue
            try:
                parts.append(part_adapter.validate_python(_nested(dict(zip(heading, cells, strict=False)))))
            except ValidationError as error:
                wrong.append(LineFault(line, faults(error)))
            except _Cell as error:
                wrong.append(LineFault(line, [error.fault]))
    except csv.Error as error:
        wrong.append(LineFault(reader.line_num, [Fault(field="line", reason=f"cannot be read as CSV: {error}")]))
    return parts, wrong


class _Cell(Exception):
    def __init__(self, fault: Fault) -> None:
        self.fault = fault


def _flat(body: dict[str, Any], prefix: str = "") -> dict[str, Any]:
    row: dict[str, Any] = {}
    for key, value in body.items():
        name = f"{prefix}{key}"
        if isinstance(value, dict) and key not in ("measured", "ports"):
            row |= _flat(value, f"{name}.")
        elif isinstance(value, list | dict):
            row[name] = json.dumps(value, ensure_ascii=False)
        elif isinstance(value, bool):
            row[name] = "yes" if value else "no"
        elif value is not None:
            row[name] = guarded(value) if isinstance(value, str) else value
    return row


def _nested(row: dict[str, str]) -> dict[str, Any]:
    body: dict[str, Any] = {}
    for name, cell in row.items():
        if cell.strip() == "":
            continue
        *path, last = name.split(".")
        inner = body
        for step in path:
            inner = inner.setdefault(step, {})
            if not isinstance(inner, dict):
                raise _Cell(Fault(field=name, reason=f"'{step}' holds a value already"))
        inner[last] = _value(name, unguarded(cell.strip()))
    return body


_TEXT = {"id", "name", "maker", "notes", "kind", "status", "bought_on", "currency", "plug", "size", "filter_size"}


def _value(name: str, cell: str) -> Any:
    if name.rsplit(".", 1)[-1] in _TEXT:
        return cell
    if cell[0] in "[{":
        try:
            return json.loads(cell)
        except (json.JSONDecodeError, RecursionError):
            raise _Cell(Fault(field=name, reason="is not valid JSON", accepted="a JSON list or object")) from None
    if cell in ("yes", "no"):
        return cell == "yes"
    try:
        number = float(cell)
    except ValueError:
        return cell
    return int(number) if number.is_integer() and "." not in cell and "e" not in cell.lower() else number
