"""What is wrong with given data, said by field: shared by the API, the rig file and the CSV of parts."""

from collections.abc import Sequence
from typing import Any

from pydantic import BaseModel, ValidationError

from dravel.core.model import PART_KINDS, Rig

# The branches of a union of parts; a mount and a support are fields of a rig, and said.
_BRANCHES = PART_KINDS - set(Rig.model_fields)


MOST = 100  # faults told one by one
LINES_READ = 1000  # wrong lines after which the rest of a file is not read
UNREAD = f"more than {LINES_READ:,} lines are wrong; from here on nothing was read"


class Fault(BaseModel):
    """One thing that is wrong: the field's path, why, and what is accepted where that can be said."""

    field: str
    reason: str
    accepted: str = ""


def faults(error: ValidationError) -> list[Fault]:
    """The faults in a validation error."""
    return from_errors(error.errors(include_url=False, include_context=True, include_input=False))


def from_errors(errors: Sequence[Any]) -> list[Fault]:
    """The faults in pydantic's list of errors: the first hundred, and how many more there are."""
    results = [_fault(error) for error in errors[:MOST]]
    left = len(errors) - MOST
    return [*results, Fault(field="document", reason=f"and {left:,} more")] if left > 0 else results


def _fault(error: Any) -> Fault:
    reason, field = str(error["msg"]), field_path(error["loc"])
    context = error.get("ctx") or {}
    kind = error["type"]
    if kind == "missing":
        reason = "is missing"
    elif kind == "union_tag_not_found":
        field, reason = ".".join(item for item in (field, "kind") if item), "is missing"
    elif kind == "union_tag_invalid":
        field = ".".join(item for item in (field, "kind") if item)
        reason = f"'{str(context.get('tag'))[:40]}' is no kind of part that may stand here"
    elif kind == "extra_forbidden":
        reason = "is not a field known here"
    elif kind == "value_error":
        # Model validators name the field themselves: "field: reason".
        reason = reason.removeprefix("Value error, ")
        inner, colon, rest = reason.partition(": ")
        if colon and " " not in inner:
            field, reason = ".".join(part for part in (field, inner) if part), rest
    accepted = str(context.get("accepted") or context.get("expected") or context.get("expected_tags") or "")
    return Fault(field=field or "document", reason=reason, accepted=accepted)


def field_path(loc: Sequence[Any]) -> str:
    """A location as people read it: ``path.2.part.sensor.pixel_um``, without the names of union branches."""
    return ".".join(str(step) for step in loc if step not in _BRANCHES and step != "body")
