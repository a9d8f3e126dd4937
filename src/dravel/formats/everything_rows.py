"""What a row of each table in an archive may be: the same models and keys as at every other door. The archive's schema is made
from these models.
"""

import json
from collections.abc import Mapping
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, AwareDatetime, BeforeValidator, Field, TypeAdapter, ValidationError

from dravel.core.frames.reading import FrameReading
from dravel.core.model import Assembly, Growth, Preferences, Rig, Site, Target, part_adapter
from dravel.core.model.base import KEPT, Identifier, Model, YesNo, clean
from dravel.core.model.session import SessionRecord
from dravel.core.overview.marks import NightMark


def _whole(given: Any) -> Any:
    if isinstance(given, bool) or not isinstance(given, int):
        raise ValueError("a whole number is needed")
    return given


def _writable(text: str) -> str:
    """Raises `ValueError` on a text that was never typed at any door: they clean what comes in."""
    if clean(text) != text:
        raise ValueError("holds characters that no file can carry")
    return text


def _moment(text: str) -> str:
    """Raises `ValueError` on what is no moment with its offset from UTC; it is kept as it is written."""
    AT.validate_python(text)
    return text


AT = TypeAdapter[Any](AwareDatetime)
DAY = TypeAdapter(date)
Count = Annotated[int, Field(ge=1, le=10**9), BeforeValidator(_whole)]
Place = Annotated[int, Field(ge=0, le=10**12), BeforeValidator(_whole)]
Text = Annotated[str, Field(max_length=200), AfterValidator(_writable)]
Moment = Annotated[str, Field(max_length=40), AfterValidator(_moment)]
Own = Annotated[str, Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")]  # made by a device
Body = Annotated[dict[str, Any] | str, Field(description="The document itself; text where it is damaged.")]


class EntryIn(Model):
    """A part, target, site, assembly or growth, or the preferences."""

    kind: Literal["part", "target", "site", "assembly", "growth", "practice"]
    id: Identifier
    version: Count
    archived: YesNo
    position: Place
    body: Body


class RigIn(Model):
    """A rig; its documents are its revisions, of which `head` is the newest."""

    id: Identifier
    head: Count
    as_built: Count | None
    position: Place
    archived: YesNo


class RevisionIn(Model):
    """A saved state of a rig."""

    rig_id: Identifier
    number: Count
    parent: Count | None
    redo: Count | None
    note: Text
    saved_at: Moment
    body: Body


class KeyIn(Model):
    """What was made under a key of its maker's."""

    key: Annotated[str, Field(pattern=r"^[!-~]{8,80}$")]
    kind: Literal["rig", "part", "target", "site", "assembly", "growth", "session"]
    made: Identifier


class TickIn(Model):
    """A card that was ticked."""

    id: Own
    rig_id: Identifier
    build: Annotated[int, Field(ge=1, le=1_000_000), BeforeValidator(_whole)]
    card: Annotated[str, Field(max_length=120), AfterValidator(_writable)]
    done: YesNo
    at: Moment
    device: Annotated[str, Field(max_length=80), AfterValidator(_writable)]
    position: Place


class NightIn(Model):
    """A night that was begun."""

    id: Own
    version: Count
    ended: YesNo
    position: Place
    body: Body


class MarkIn(Model):
    """A mark in a night."""

    id: Own
    night_id: Own
    position: Place
    body: Body


class SessionIn(Model):
    """A session."""

    id: Identifier
    night_id: Own | None
    rig_id: Identifier
    night: Annotated[str, Field(pattern=r"^\d{4}-\d\d-\d\d$")]
    version: Count
    archived: YesNo
    position: Place
    body: Body


class PaperIn(Model):
    """A picture of a session or a document of a part."""

    id: Identifier
    of_kind: Literal["session", "part"]
    of_id: Identifier
    name: Text
    media: Literal["image/jpeg", "image/png", "application/pdf"]
    size: Annotated[int, Field(ge=0, le=21_000_000), BeforeValidator(_whole)]
    archived: YesNo
    position: Place
    body: None = None
    file: Annotated[str, Field(max_length=200, description="Where in the archive its bytes are.")]


class DrillIn(Model):
    """An answer of the fault trainer."""

    at: Moment
    hidden: Annotated[str, Field(max_length=80, pattern=r"^[a-z_,]*$")]
    said: Annotated[str, Field(max_length=80, pattern=r"^[a-z_,]*$")]
    asked: Annotated[int, Field(ge=0, le=1000), BeforeValidator(_whole)]


class FrameIn(Model):
    """What was measured on a frame."""

    id: Identifier
    rig_id: Identifier
    session_id: Identifier | None
    archived: YesNo
    position: Place
    body: Body


ROWS: Mapping[str, type[Model]] = {
    "entries": EntryIn, "rigs": RigIn, "revisions": RevisionIn, "keys": KeyIn, "ticks": TickIn, "nights": NightIn,
    "marks": MarkIn, "sessions": SessionIn, "papers": PaperIn, "drills": DrillIn, "frames": FrameIn,
}  # fmt: skip
ENTRIES: Mapping[str, Any] = {
    "part": part_adapter.validate_json, "target": Target.model_validate_json, "site": Site.model_validate_json,
    "assembly": Assembly.model_validate_json, "growth": Growth.model_validate_json,
    "practice": Preferences.model_validate_json,
}  # fmt: skip


class WrongRow(ValueError):
    """A row that cannot be kept here; nothing of what it belongs to was."""


def checked(table: str, row: Mapping[str, Any]) -> dict[str, Any]:
    """A row as it may be kept, its document as JSON text. Raises `WrongRow` with the field and the reason.

    A rig or an entry whose document cannot be read is kept and told as damaged, as it was where it comes from.
    """
    try:
        result = ROWS[table].model_validate(row).model_dump()
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        field = ".".join(str(step) for step in first["loc"][:1])
        called = f" {clean(str(row['id']))[:60]}" if isinstance(row.get("id"), str) else ""
        raise WrongRow(f"{table}{called}: {field}: {clean(first['msg'])[:160]}") from None
    if table == "papers":
        return result
    if "body" in result:
        result["body"] = _document(table, result)
    return result


def _document(table: str, found: Mapping[str, Any]) -> str:
    """The document of a row as JSON text, read as it would be from where it is kept."""
    body = found["body"]
    try:
        text = body if isinstance(body, str) else json.dumps(body, ensure_ascii=False, separators=(",", ":"))
        text.encode()
    except (UnicodeEncodeError, RecursionError, ValueError):
        raise WrongRow(f"{table} {_called(found)}: its document holds what no file can carry") from None
    reader: Any = {
        "sessions": SessionRecord.model_validate_json, "frames": FrameReading.model_validate_json,
        "marks": NightMark.model_validate_json, "revisions": Rig.model_validate_json,
    }.get(table, ENTRIES.get(str(found.get("kind"))))  # fmt: skip
    if reader is None:
        return text
    try:
        read = reader(text, context=KEPT)
    except ValueError as error:
        if table in ("sessions", "frames", "marks"):
            raise WrongRow(f"{table} {_called(found)}: {clean(str(error).splitlines()[0])[:160]}") from None
        return text
    if table == "sessions" and (read.night.isoformat(), read.rig_id) != (found["night"], found["rig_id"]):
        raise WrongRow(f"sessions {_called(found)}: its night or its rig are not those of its document")
    return text


def _called(found: Mapping[str, Any]) -> str:
    return str(found.get("id") or found.get("rig_id") or "")


def schema(version: int) -> dict[str, Any]:
    """JSON Schema of the tables in an archive: each `tables/NAME.json` is a list of `$defs/NAME`."""
    made: dict[str, Any] = {}
    for name, model in ROWS.items():
        answer = model.model_json_schema()
        answer["required"] = list(answer["properties"])
        made[name] = answer
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Everything kept in Dravel",
        "description": f"Version {version}. Documents in `body` are those of the API and of the rig file.", "$defs": made,
    }  # fmt: skip
