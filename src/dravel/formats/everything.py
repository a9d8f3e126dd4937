"""Everything in one archive: JSON tables by a published schema, pictures and documents as files, light as CSV, frames as FITS."""

import csv
import io
import json
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import IO, Any
from zipfile import ZIP_DEFLATED, ZIP_STORED, BadZipFile, ZipFile, is_zipfile

from dravel.formats.csv_cells import guarded

FORMAT, VERSION = "dravel-everything", 1
LARGEST_TABLE, LARGEST_PAPER = 4_000_000_000, 21_000_000  # bytes; a zip bomb is larger
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
            with archive.open(f"tables/{name}.json", "w", force_zip64=True) as file:
                file.write(b"[")
                papers = []
                for k, row in enumerate(rows):
                    if name == "papers":
                        papers.append((row["id"], row["media"], row["body"]))
                        row = {**row, "body": None, "file": _file(row)}
                    if name == "sessions" and isinstance(row["body"], dict):
                        lines.writerows(_light(row["body"]))
                    if name == "frames" and isinstance(row["body"], dict):
                        figures.append(_figures(row))
                    file.write(b"\n" if k == 0 else b",\n")
                    file.write(json.dumps(row, ensure_ascii=False).encode())
                    counts[name] = counts.get(name, 0) + 1
                file.write(b"\n]\n")
            for key, media, body in papers:
                archive.writestr(f"papers/{key}.{ENDS.get(media, 'bin')}", body, ZIP_STORED)
        archive.writestr("light.csv", light.getvalue())
        if figures and frames is not None:
            archive.writestr("frames.fits", frames(figures))
        archive.writestr("schema.json", json.dumps(schema(), indent=2))
        archive.writestr(
            "dravel.json",
            json.dumps({"format": FORMAT, "version": VERSION, "written": written, "rows": counts}, indent=2),
        )
    return Written(counts)


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
            numbers = np.array([np.nan if one is None else float(one) for one in values])
            columns.append(fits.Column(name=title, format="D", array=numbers))
        else:
            texts = [str(one).encode("ascii", "replace").decode() for one in values]
            columns.append(fits.Column(name=title, format=f"{max(1, *map(len, texts), 1)}A", array=np.array(texts)))
    made = io.BytesIO()
    fits.HDUList([fits.PrimaryHDU(), fits.BinTableHDU.from_columns(columns, name="FRAMES")]).writeto(made)
    return made.getvalue()


def read(file: IO[bytes], names: Iterable[str]) -> Iterator[tuple[str, list[dict[str, Any]]]]:
    """The tables of an archive, in the order of `names`, papers with their bytes. Raises `NotEverything`."""
    if not is_zipfile(file):
        raise NotEverything("it is no archive, or was cut short")
    try:
        with ZipFile(file) as archive:
            _check(archive)
            for name in names:
                yield name, _table(archive, name)
    except (BadZipFile, EOFError, KeyError, OSError) as error:
        raise NotEverything(f"it was cut short or damaged ({error})") from None


def _check(archive: ZipFile) -> None:
    try:
        head = json.loads(_bytes(archive, "dravel.json", 1_000_000))
    except (KeyError, ValueError):
        raise NotEverything("it holds no dravel.json that says what it is") from None
    if not isinstance(head, dict) or head.get("format") != FORMAT:
        raise NotEverything(f"dravel.json: format is not '{FORMAT}'")
    if not isinstance(head.get("version"), int) or head["version"] > VERSION:
        raise NotEverything(
            f"dravel.json: version {head.get('version')} is newer than this Dravel reads ({VERSION}); update Dravel"
        )


def _table(archive: ZipFile, name: str) -> list[dict[str, Any]]:
    if f"tables/{name}.json" not in archive.namelist():
        return []
    try:
        rows = json.loads(_bytes(archive, f"tables/{name}.json", LARGEST_TABLE))
    except ValueError as error:
        raise NotEverything(f"tables/{name}.json: {error}") from None
    if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
        raise NotEverything(f"tables/{name}.json: is no list of rows")
    if name == "papers":
        for row in rows:
            row["body"] = _bytes(archive, str(row.pop("file", "")), LARGEST_PAPER)
    return rows


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
    for one in body.get("subs") or ():
        texts = (body.get("rig"), one.get("name") or one.get("target"), one.get("filter"))
        numbers = (one.get(key) for key in ("sub_s", "planned", "taken", "kept"))
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
    text, whole, yes, empty = {"type": "string"}, {"type": "integer"}, {"type": "boolean"}, {"type": "null"}
    body = {"description": "The document itself; text where it is damaged.", "type": ["object", "string"]}
    placed = {"position": whole, "body": body}
    own: dict[str, dict[str, Any]] = {
        "entries": {"kind": {"enum": ["part", "target", "site", "assembly", "growth", "practice"]}, "id": text,
                    "version": whole, "archived": yes, **placed},
        "rigs": {"id": text, "head": whole, "as_built": {"type": ["integer", "null"]}, "position": whole, "archived": yes},
        "revisions": {"rig_id": text, "number": whole, "parent": {"type": ["integer", "null"]},
                      "redo": {"type": ["integer", "null"]}, "note": text, "saved_at": text, "body": body},
        "keys": {"key": text, "kind": text, "made": text},
        "ticks": {"id": text, "rig_id": text, "build": whole, "card": text, "done": yes, "at": text, "device": text,
                  "position": whole},
        "nights": {"id": text, "version": whole, "ended": yes, **placed},
        "marks": {"id": text, "night_id": text, **placed},
        "sessions": {"id": text, "night_id": {"type": ["string", "null"]}, "rig_id": text, "night": text,
                     "version": whole, "archived": yes, **placed},
        "papers": {"id": text, "of_kind": {"enum": ["session", "part"]}, "of_id": text, "name": text, "media": text,
                   "size": whole, "archived": yes, "position": whole, "body": empty,
                   "file": {"type": "string", "description": "Where in the archive its bytes are."}},
        "drills": {"at": text, "hidden": text, "said": text, "asked": whole},
        "frames": {"id": text, "rig_id": text, "session_id": {"type": ["string", "null"]}, "archived": yes, **placed},
    }  # fmt: skip
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Everything kept in Dravel",
        "description": f"Version {VERSION}. Documents in `body` are those of the API and of the rig file.",
        "$defs": {
            name: {"type": "object", "properties": fields, "required": list(fields), "additionalProperties": False}
            for name, fields in own.items()
        },
    }  # fmt: skip
