"""Targets as CSV and VOTable, in and out. Coordinates ICRS, decimal degrees or sexagesimal, told apart by their form."""

import csv
import io
import re
import xml.etree.ElementTree as ET
from collections.abc import Callable, Iterable, Iterator
from typing import get_args
from xml.sax.saxutils import escape, quoteattr

from pydantic import ValidationError

from dravel.core.model import Target, TargetKind
from dravel.core.model.cancellation import check_cancelled
from dravel.formats.csv_cells import guarded, unguarded
from dravel.formats.faults import LINES_READ, UNREAD, Fault, faults

COLUMNS = (
    "name",
    "ra_deg",
    "dec_deg",
    "kind",
    "major_arcmin",
    "minor_arcmin",
    "position_angle_deg",
    "magnitude",
    "lists",
    "size_source",
)
_TEXTS = {"name", "kind", "lists", "size_source"}
LARGEST_BYTES = 2_000_000
MOST_TARGETS = 100_000
TELL_EVERY = 500  # lines
KINDS = get_args(TargetKind)

# Names and UCDs that other tables use for the same things.
_NAMES = {
    "name": ("name", "object", "target", "id", "main_id", "designation"),
    "ra_deg": ("ra_deg", "ra", "raj2000", "ra_icrs", "right_ascension", "ra_d"),
    "dec_deg": ("dec_deg", "dec", "de", "dej2000", "de_icrs", "declination", "dec_d"),
    "kind": ("kind", "type"),
    "major_arcmin": ("major_arcmin", "major", "majaxis", "size", "galdim_majaxis"),
    "minor_arcmin": ("minor_arcmin", "minor", "minaxis", "galdim_minaxis"),
    "position_angle_deg": ("position_angle_deg", "pa", "angle", "galdim_angle"),
    "magnitude": ("magnitude", "mag", "vmag", "v"),
    "lists": ("lists", "list"),
    "size_source": ("size_source",),
}
_UCDS = {"pos.eq.ra": "ra_deg", "pos.eq.dec": "dec_deg", "meta.id;meta.main": "name", "phot.mag;em.opt.v": "magnitude",
         "pos.posang": "position_angle_deg"}  # fmt: skip
_UCD_OF = {field: ucd for ucd, field in _UCDS.items()}
_SEXAGESIMAL = re.compile(
    r"^([+-]?)(\d{1,3})[\s:hd°]+(\d{1,2})[\s:m′']+(\d{1,2}(?:\.\d+)?)[s″\"]?$|^([+-]?)(\d{1,3})[:hd°](\d{1,2}(?:\.\d+)?)[m′']?$"
)


class TargetFileError(ValueError):
    """The file as a whole cannot be read."""


def write_csv(targets: Iterable[Target]) -> str:
    """Targets as CSV with a heading."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(COLUMNS)
    for target in targets:
        named = zip(COLUMNS, _cells(target), strict=True)
        rows.writerow([guarded(cell) if column in _TEXTS else cell for column, cell in named])
    return out.getvalue()


def write_votable(targets: Iterable[Target]) -> str:
    """Targets as a VOTable 1.4 with TABLEDATA. Source: IVOA Recommendation VOTable 1.4."""
    kinds = {"name": ("char", ""), "kind": ("char", ""), "lists": ("char", "")}
    units = {"ra_deg": "deg", "dec_deg": "deg", "major_arcmin": "arcmin", "minor_arcmin": "arcmin",
             "position_angle_deg": "deg", "magnitude": "mag"}  # fmt: skip
    fields = []
    for column in COLUMNS:
        kind = 'datatype="char" arraysize="*"' if column in kinds else 'datatype="double"'
        unit = f" unit={quoteattr(units[column])}" if column in units else ""
        ucd = f" ucd={quoteattr(_UCD_OF[column])}" if column in _UCD_OF else ""
        fields.append(f'<FIELD name="{column}" {kind}{unit}{ucd}/>')
    rows = ["<TR>" + "".join(f"<TD>{escape(cell)}</TD>" for cell in _cells(target)) + "</TR>" for target in targets]
    return "\n".join(
        ['<?xml version="1.0" encoding="UTF-8"?>',
         '<VOTABLE version="1.4" xmlns="http://www.ivoa.net/xml/VOTable/v1.3">',
         '<RESOURCE type="results"><COOSYS ID="icrs" system="ICRS"/><TABLE name="targets">', *fields,
         "<DATA><TABLEDATA>", *rows, "</TABLEDATA></DATA></TABLE></RESOURCE></VOTABLE>", ""]
    )  # fmt: skip


def read(
    text: str, tell: Callable[[int], None] = lambda _: None, largest: int = LARGEST_BYTES
) -> tuple[list[Target], list[tuple[int, list[Fault]]]]:
    """Targets in CSV or VOTable text, and what is wrong by line (or row). Good lines are kept whatever the others hold.

    `tell` is told the line it is at, now and then. Raises `TargetFileError` when it is neither, lacks coordinates, is
    larger than `largest` or holds more than can be kept.
    """
    if len(text) > largest:
        raise TargetFileError(f"the file is larger than {largest // 1_000_000} MB")
    rows = _votable_rows(text) if text.lstrip("\ufeff \n\r\t").startswith("<") else _csv_rows(text)
    targets: list[Target] = []
    wrong: list[tuple[int, list[Fault]]] = []
    for at, (number, row) in enumerate(rows):
        if at % TELL_EVERY == 0:
            check_cancelled()
            tell(number)
        if len(targets) >= MOST_TARGETS:
            raise TargetFileError(f"the file holds more than {MOST_TARGETS:,} targets; divide it")
        if len(wrong) > LINES_READ:
            wrong.append((number, [Fault(field="file", reason=UNREAD)]))
            break
        try:
            targets.append(_target(row))
        except ValidationError as error:
            wrong.append((number, faults(error)))
        except ValueError as error:
            field, _, reason = str(error).partition(": ")
            wrong.append((number, [Fault(field=field, reason=reason)]))
    return targets, wrong


def degrees(text: str, hours: bool) -> float:
    """An angle typed as decimal degrees or sexagesimal; a sexagesimal right ascension is in hours.

    Raises `ValueError` when it is neither.
    """
    answer = text.strip().replace("−", "-")
    try:
        return float(answer)
    except ValueError:
        match = _SEXAGESIMAL.match(answer)
    if not match:
        raise ValueError(f"'{text[:40]}' is neither degrees nor sexagesimal")
    sign, whole, minutes, seconds = match.group(1), match.group(2), match.group(3), match.group(4)
    if whole is None:
        sign, whole, minutes, seconds = match.group(5), match.group(6), match.group(7), "0"
    if float(minutes) >= 60 or float(seconds) >= 60:
        raise ValueError(f"'{text[:40]}' has sixty or more minutes or seconds")
    value = int(whole) + float(minutes) / 60 + float(seconds) / 3600
    return (-1 if sign == "-" else 1) * value * (15 if hours else 1)


def _cells(target: Target) -> list[str]:
    row = {**target.model_dump(), "lists": "; ".join(target.lists)}
    return ["" if row[column] is None else f"{row[column]}" for column in COLUMNS]


def _target(row: dict[str, str]) -> Target:
    made: dict[str, object] = {"name": row.get("name", "").strip()}
    for field in ("ra_deg", "dec_deg"):
        given = row.get(field, "").strip()
        if not given:
            raise ValueError(f"{field}: is missing")
        try:
            made[field] = degrees(given, field == "ra_deg")
        except ValueError as error:
            raise ValueError(f"{field}: {error}") from None
    for field in ("major_arcmin", "minor_arcmin", "position_angle_deg", "magnitude"):
        given = row.get(field, "").strip()
        if given and given.lower() not in ("nan", "null", "-"):
            try:
                made[field] = float(given)
            except ValueError:
                raise ValueError(f"{field}: '{given[:40]}' is not a number") from None
    kind = row.get("kind", "").strip().lower().replace(" ", "_")
    if kind:
        made["kind"] = kind if kind in KINDS else "other"
    made["size_source"] = row.get("size_source", "").strip()[:80]
    made["lists"] = tuple(name.strip() for name in row.get("lists", "").split(";") if name.strip())
    return Target.model_validate(made)


def _known(name: str) -> str | None:
    plain = name.strip().lower().replace(" ", "_")
    return next((field for field, names in _NAMES.items() if plain in names), None)


def _csv_rows(text: str) -> Iterator[tuple[int, dict[str, str]]]:
    lines = text.lstrip("\ufeff")
    dialect = ";" if lines.partition("\n")[0].count(";") > lines.partition("\n")[0].count(",") else ","
    reader = csv.reader(io.StringIO(lines), delimiter=dialect)
    try:
        heading = next(reader, [])
        columns = [_known(cell) for cell in heading]
        _need_coordinates(columns, "the heading does not name")
        for cells in reader:
            if any(cell.strip() for cell in cells):
                pairs = [(c, unguarded(cell) if c in _TEXTS else cell) for c, cell in zip(columns, cells, strict=False)]
                yield reader.line_num, {column: cell for column, cell in pairs if column}
    except csv.Error as error:
        raise TargetFileError(f"line {reader.line_num}: {error}") from None


def _votable_rows(text: str) -> Iterator[tuple[int, dict[str, str]]]:
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise TargetFileError("the file declares entities; a VOTable has none")
    try:
        root = ET.fromstring(text.lstrip("\ufeff \n\r\t"))
    except ET.ParseError as error:
        raise TargetFileError(f"not XML: {error}") from None
    table = next((node for node in root.iter() if _local(node) == "TABLE"), None)
    if _local(root) != "VOTABLE" or table is None:
        raise TargetFileError("not a VOTable: it holds no table")
    columns = []
    for node in table:
        if _local(node) == "FIELD":
            ucd = (node.get("ucd") or "").lower()
            by_ucd = next((field for key, field in _UCDS.items() if ucd == key or ucd == f"{key};meta.main"), None)
            columns.append(by_ucd or _known(node.get("name") or ""))
    _need_coordinates(columns, "no FIELD gives")
    number = 0
    for node in table.iter():
        if _local(node) == "TR":
            number += 1
            cells = ["".join(cell.itertext()) for cell in node if _local(cell) == "TD"]
            yield number, {column: cell for column, cell in zip(columns, cells, strict=False) if column}


def _need_coordinates(columns: list[str | None], words: str) -> None:
    lacking = [name for name in ("name", "ra_deg", "dec_deg") if name not in columns]
    if lacking:
        raise TargetFileError(f"{words} {', '.join(lacking)}")


def _local(node: ET.Element) -> str:
    return node.tag.rpartition("}")[2]
