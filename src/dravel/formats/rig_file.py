"""The rig file: one rig with all its parts as self-contained JSON, versioned, described by a published schema."""

import json
from typing import Any, Literal

from pydantic import Field, ValidationError

from dravel.core.model import Rig
from dravel.core.model.base import Model
from dravel.formats.faults import Fault, faults

FORMAT, VERSION = "dravel-rig", 1
LARGEST_BYTES = 2_000_000


class RigFile(Model):
    """The document in the file."""

    format: Literal["dravel-rig"] = Field(description="Names the format")
    version: Literal[1] = Field(description="Layout of the document; readers refuse newer ones")
    rig: Rig


class RigFileError(ValueError):
    """The file cannot be read as a rig. `faults` names fields where it is a matter of fields."""

    def __init__(self, message: str, found: list[Fault] | None = None) -> None:
        super().__init__(message)
        self.faults = found or []


class UnknownFields(RigFileError):
    """The file is a rig but for fields that this version does not know: it can be read without them."""


def write(rig: Rig) -> str:
    """The rig as file text. Fields that stand at nothing are left out; reading brings them back the same."""
    body = {"format": FORMAT, "version": VERSION, "rig": rig.model_dump(mode="json", exclude_none=True)}
    return json.dumps(body, ensure_ascii=False, indent=2) + "\n"


def read(text: str | bytes, *, without_unknown: bool = False) -> Rig:
    """The rig in a file's text. Raises `RigFileError` with the exact reason when it is damaged, foreign or newer, and
    `UnknownFields` when nothing is wrong but fields nobody knows here; with `without_unknown` those are left out.
    """
    if len(text) > LARGEST_BYTES:
        raise RigFileError(f"the file is larger than {LARGEST_BYTES // 1_000_000} MB, more than any rig needs")
    try:
        document = json.loads(text, parse_constant=_no_constant, object_pairs_hook=_no_twice)
    except json.JSONDecodeError as error:
        raise RigFileError(f"not JSON: {error.msg} at line {error.lineno}, column {error.colno}") from None
    except UnicodeDecodeError as error:
        raise RigFileError(f"not text in UTF-8: byte {error.start} cannot be read") from None
    except RecursionError:
        raise RigFileError("the file is nested deeper than any rig") from None
    except RigFileError:
        raise
    except ValueError as error:  # a number of thousands of digits
        raise RigFileError(f"not JSON that can be read: {error}") from None
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise RigFileError(f'not a rig file: it lacks the mark "format": "{FORMAT}"')
    version = document.get("version")
    if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
        raise RigFileError(f"the file is of version {version}; this Dravel reads up to version {VERSION}")
    try:
        return _checked(document)
    except ValidationError as error:
        unknown = [answer for answer in error.errors(include_url=False) if answer["type"] == "extra_forbidden"]
        gone = without_unknown and sum(_taken_out(document, answer["loc"]) for answer in unknown)
        if gone:
            return read(json.dumps(document), without_unknown=True)
        result = faults(error)
        first = result[0]
        more = f" (and {len(result) - 1} more)" if len(result) > 1 else ""
        kind = UnknownFields if len(unknown) == error.error_count() else RigFileError
        raise kind(f"{first.field}: {first.reason}{more}", result) from None


def _checked(document: dict[str, Any]) -> Rig:
    # Checked as JSON, not as Python: a list is a list, and a date is text.
    return RigFile.model_validate_json(json.dumps(document)).rig


def _taken_out(document: dict[str, Any], loc: tuple[int | str, ...]) -> bool:
    """Takes the field at a location out, if it is there; steps that name a branch of a union stand nowhere in it."""
    node: Any = document
    for step in loc[:-1]:
        if (isinstance(node, dict) and step in node) or (isinstance(node, list) and isinstance(step, int)):
            node = node[step]  # type: ignore[index]
    return isinstance(node, dict) and node.pop(loc[-1], node) is not node


def schema() -> dict[str, Any]:
    """The JSON Schema of the file."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **RigFile.model_json_schema()}


def _no_constant(name: str) -> Any:
    raise RigFileError(f"not JSON: {name} is not a number")


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    result = dict(pairs)
    if len(result) < len(pairs):
        seen: set[str] = set()
        twice = next(key for key, _ in pairs if key in seen or seen.add(key))  # type: ignore[func-returns-value]
        raise RigFileError(f"the field '{twice[:60]}' is given twice in one object")
    return result
