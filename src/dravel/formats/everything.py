"""Everything in one archive: JSON tables by a published schema, pictures and documents as files, light as CSV, frames as FITS."""

import csv
import io
import json
import struct
import zlib
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import IO, Any
from zipfile import ZIP_DEFLATED, ZIP_STORED, BadZipFile, ZipFile, is_zipfile

from dravel.formats.csv_cells import guarded
from dravel.formats.everything_rows import WrongRow, checked
from dravel.formats.everything_rows import schema as schema_of_rows
from dravel.formats.json_list import NotAList, objects
from dravel.formats.pictures import NotAPicture, as_kept

__all__ = ["NotEverything", "WrongRow", "fits_table", "light_csv", "read", "schema", "unpacked_bytes", "write"]
FORMAT, VERSION = "dravel-everything", 1
LARGEST_TABLE, LARGEST_PAPER = 4_000_000_000, 21_000_000  # bytes; a zip bomb is larger
LARGEST_ROW = 8_000_000  # bytes; a rig by hand has a hundredth of it
MOST_ROWS = 2_000_000  # in all tables together
# What a broken archive makes its readers raise.
DAMAGED = (BadZipFile, EOFError, KeyError, OSError, zlib.error, RuntimeError, NotImplementedError, struct.error)
ENDS = {"application/pdf": "pdf", "image/png": "png", "image/jpeg": "jpg"}
LIGHT_HEAD = ("night", "rig", "target", "filter", "sub_s", "planned", "taken", "kept", "rehearsed", "site")
FRAME_FIGURES = (
    ("RIG", "rig_id"), ("NAME", "name"), ("DATE_OBS", "at"), ("TARGET", "target"), ("FILTER", "filter"),
    ("EXPTIME", "exposure_s"), ("FWHM_PX", "fwhm_px"), ("ELONG", "elongation"), ("ANGLE", "angle_deg"),
    ("STARS", "found"), ("SKY", "sky_adu"), ("NOISE", "noise_adu"), ("SCALE", "scale_arcsec"),
)  # fmt: skip
NUMBERS = {"exposure_s", "fwhm_px", "elongation", "angle_deg", "found", "sky_adu", "noise_adu", "scale_arcsec"}


class NotEverything(ValueError):
    """An archive that is none of these, or of a newer version, or cut short."""


@dataclass(frozen=True)
class Written:
    """How many rows of each table went into an archive."""

    rows: Mapping[str, int]


def write(
    to: IO[bytes], written: str, tables: Iterable[tuple[str, Iterable[Mapping[str, Any]]]],
    frames: Callable[[list[dict[str, Any]]], bytes] | None = None,
) -> Written:  # fmt: skip
    """Write an archive; `written` is when, ISO 8601. Rows of `papers` have their bytes in `body`. `frames` makes a FITS table."""
    counts: dict[str, int] = {}
    light, figures = io.StringIO(), []
    lines = csv.writer(light)
    lines.writerow(LIGHT_HEAD)
    with ZipFile(to, "w", ZIP_DEFLATED, allowZip64=True) as archive:
        for name, rows in tables:
            if name == "papers":
                rows = _papers_put(archive, rows)
            with archive.open(f"tables/{name}.json", "w", force_zip64=True) as file:
                file.write(b"[")
                for k, row in enumerate(rows):
                    if name == "sessions" and isinstance(row["body"], dict):
                        lines.writerows(_light(row["body"]))
                    if name == "frames" and isinstance(row["body"], dict):
                        figures.append(_figures(row))
                    file.write(b"\n" if k == 0 else b",\n")
                    file.write(json.dumps(row, ensure_ascii=False).encode())
                    counts[name] = counts.get(name, 0) + 1
                file.write(b"\n]\n")
        archive.writestr("light.csv", light.getvalue())
        if figures and frames is not None:
            archive.writestr("frames.fits", frames(figures))
        archive.writestr("schema.json", json.dumps(schema(), indent=2))
        archive.writestr(
            "dravel.json",
            json.dumps({"format": FORMAT, "version": VERSION, "written": written, "rows": counts}, indent=2),
        )
    return Written(counts)


def _papers_put(archive: ZipFile, rows: Iterable[Mapping[str, Any]]) -> list[Mapping[str, Any]]:
    """Put the bytes of papers into an archive, one after the other; the rows are left without them."""
    results: list[Mapping[str, Any]] = []
    for row in rows:
        archive.writestr(_file(row), row["body"], ZIP_STORED)
        results.append({**row, "body": None, "file": _file(row)})
    return results


def light_csv(bodies: Iterable[Mapping[str, Any]]) -> str:
    """Sessions' subs as CSV, from their documents."""
    made = io.StringIO()
    lines = csv.writer(made)
    lines.writerow(LIGHT_HEAD)
    for body in bodies:
        lines.writerows(_light(body))
    return made.getvalue()


def fits_table(figures: list[dict[str, Any]]) -> bytes:
    """What was measured on frames as a FITS binary table (FITS 4.0, section 7.3)."""
    import numpy as np
    from astropy.io import fits

    columns = []
    for title, key in FRAME_FIGURES:
        values = [row[key] for row in figures]
        if key in NUMBERS:
            numbers = np.array([np.nan if value is None else float(value) for value in values])
            columns.append(fits.Column(name=title, format="D", array=numbers))
        else:
            texts = [str(value).encode("ascii", "replace").decode() for value in values]
            columns.append(fits.Column(name=title, format=f"{max(1, *map(len, texts), 1)}A", array=np.array(texts)))
    made = io.BytesIO()
    fits.HDUList([fits.PrimaryHDU(), fits.BinTableHDU.from_columns(columns, name="FRAMES")]).writeto(made)
    return made.getvalue()


def read(file: IO[bytes], names: Iterable[str]) -> Iterator[tuple[str, Iterator[dict[str, Any]]]]:
    """The tables of an archive in the order of `names`, a row at a time, each checked as it would be at any other door; papers
    with their bytes in `body`. The rows of a table are to be read before the next table is. Raises `NotEverything`, `WrongRow`.
    """
    if not is_zipfile(file):
        raise NotEverything("it is no archive, or was cut short")
    try:
        with ZipFile(file) as archive:
            known = _members(archive)
            _check(archive)
            left = [MOST_ROWS]
            for name in names:
                if f"tables/{name}.json" in known:
                    yield name, _rows(archive, name, known, left)
    except DAMAGED as error:
        raise NotEverything(f"it was cut short or damaged ({error})") from None


def unpacked_bytes(file: IO[bytes]) -> int:
    """How long everything in an archive says to be, bytes. Raises `NotEverything`."""
    try:
        with ZipFile(file) as archive:
            return sum(item.file_size for item in archive.infolist())
    except DAMAGED as error:
        raise NotEverything(f"it is no archive, or was cut short ({error})") from None


def _members(archive: ZipFile) -> set[str]:
    for item in archive.infolist():
        if item.flag_bits & 1:
            raise NotEverything(f"{item.filename[:80]}: it is encrypted")
        if item.compress_type not in (ZIP_STORED, ZIP_DEFLATED):
            raise NotEverything(f"{item.filename[:80]}: it is packed in a way that is not known here")
    return set(archive.namelist())


def _check(archive: ZipFile) -> None:
    try:
        head = json.loads(_bytes(archive, "dravel.json", 1_000_000))
    except (KeyError, ValueError, RecursionError):
        raise NotEverything("it holds no dravel.json that says what it is") from None
    if not isinstance(head, dict) or head.get("format") != FORMAT:
        raise NotEverything(f"dravel.json: format is not '{FORMAT}'")
    version = head.get("version")
    if not isinstance(version, int) or version > VERSION:
        raise NotEverything(
            f"dravel.json: version {str(version)[:20]} is newer than this Dravel reads ({VERSION}); update Dravel"
        )


def _rows(archive: ZipFile, table: str, known: set[str], left: list[int]) -> Iterator[dict[str, Any]]:
    """The rows of a table, checked; `left` counts how many more there may be."""
    name = f"tables/{table}.json"
    if archive.getinfo(name).file_size > LARGEST_TABLE:
        raise NotEverything(f"{name}: larger than the {LARGEST_TABLE:,} bytes it may have")
    taken: set[str] = set()
    try:
        with archive.open(name) as file:
            for row in objects(file, LARGEST_ROW):
                left[0] -= 1
                if left[0] < 0:
                    raise NotEverything(f"{name}: more than {MOST_ROWS:,} rows in all")
                result = checked(table, row)
                yield _with_bytes(archive, result, known, taken) if table == "papers" else result
    except NotAList as error:
        raise NotEverything(f"{name}: {error}") from None
    except DAMAGED as error:
        raise NotEverything(f"it was cut short or damaged ({error})") from None


def _with_bytes(archive: ZipFile, row: dict[str, Any], known: set[str], taken: set[str]) -> dict[str, Any]:
    """A paper with its bytes, which are what they are said to be, and nobody else's."""
    name = str(row.pop("file"))
    if name in taken:
        raise WrongRow(f"papers {row['id']}: {name} is another paper's file")
    if name not in known:
        raise NotEverything(f"it was cut short or damaged (there is no {name[:80]} in it)")
    taken.add(name)
    body = _bytes(archive, name, LARGEST_PAPER)
    if len(body) != row["size"]:
        raise WrongRow(f"papers {row['id']}: size is not that of its file")
    try:
        return {**row, "body": as_kept(row["of_kind"], row["media"], body)}
    except NotAPicture as error:
        raise WrongRow(f"papers {row['id']}: {error}") from None


def _bytes(archive: ZipFile, name: str, largest: int) -> bytes:
    """A file of the archive; more than it says, or than there can be, is not read."""
    if archive.getinfo(name).file_size > largest:
        raise NotEverything(f"{name}: larger than the {largest:,} bytes it may have")
    with archive.open(name) as file:
        return file.read(largest + 1)


def _file(row: Mapping[str, Any]) -> str:
    return f"papers/{row['id']}.{ENDS.get(row['media'], 'bin')}"


def _light(body: Mapping[str, Any]) -> Iterator[tuple[Any, ...]]:
    """A session's lines; what a damaged one lacks stays empty."""
    for item in body.get("subs") or ():
        texts = (body.get("rig"), item.get("name") or item.get("target"), item.get("filter"))
        numbers = (item.get(key) for key in ("sub_s", "planned", "taken", "kept"))
        yield (
            body.get("night"), *(guarded(str(text or "")) for text in texts), *numbers,
            "yes" if body.get("simulated") else "", guarded(str(body.get("site") or "")),
        )  # fmt: skip


def _figures(row: Mapping[str, Any]) -> dict[str, Any]:
    body = row["body"]
    claims = body.get("claims") or {}
    own = {key: body.get(key) for _, key in FRAME_FIGURES}
    said = {key: claims.get(key) for key in ("at", "target", "filter", "exposure_s", "scale_arcsec")}
    return {**own, **said, "rig_id": row["rig_id"], "name": body.get("name", "")}


def schema() -> dict[str, Any]:
    """JSON Schema of the tables in an archive: each `tables/NAME.json` is a list of `$defs/NAME`."""
    return schema_of_rows(VERSION)
