"""Edits of a rig document: applied to the frozen models here, sent out as JSON Patch (RFC 6902)."""

from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from pydantic import BaseModel, ValidationError

from dravel.core.model import PatchOperation, Rig

Key = str | int


@dataclass(frozen=True)
class Edit:
    """One change. `path` walks fields and list positions; ``add`` at a list position inserts before it."""

    op: Literal["add", "replace", "remove"]
    path: tuple[Key, ...]
    value: Any = None

    @property
    def key(self) -> tuple[str, tuple[Key, ...], str]:
        """By what the change is known: what is changed, and to what."""
        value = self.value
        return self.op, self.path, value.model_dump_json() if isinstance(value, BaseModel) else repr(value)

    def operation(self) -> PatchOperation:
        """The same change as a JSON Patch operation."""
        pointer = "".join("/" + str(key).replace("~", "~0").replace("/", "~1") for key in self.path)
        return PatchOperation(op=self.op, path=pointer, value=_plain(self.value))


def apply(rig: Rig, edits: tuple[Edit, ...]) -> Rig:
    """The rig with the edits made, one after another. Values are valid models, so nothing is validated again."""
    for edit in edits:
        rig = _changed(rig, edit.path, edit)
    return rig


def keepable(rig: Rig) -> bool:
    """Whether a save would take the rig: the same validation, over the whole document."""
    try:
        Rig.model_validate_json(rig.model_dump_json())
    except ValidationError:
        return False
    return True


def _changed(node: Any, path: tuple[Key, ...], edit: Edit) -> Any:
    key, rest = path[0], path[1:]
    if isinstance(node, BaseModel):
        inner = edit.value if not rest else _changed(getattr(node, str(key)), rest, edit)
        return node.model_copy(update={str(key): inner})
    items = list(node)
    if rest:
        items[int(key)] = _changed(items[int(key)], rest, edit)
    elif edit.op == "add":
        items.insert(int(key), edit.value)
    elif edit.op == "replace":
        items[int(key)] = edit.value
    else:
        del items[int(key)]
    return tuple(items)


def _plain(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    if isinstance(value, list | tuple):
        return [_plain(item) for item in value]
    return value.isoformat() if isinstance(value, date) else value
