"""Two changes of one document made apart: laid together where they touch different fields, told where they do not."""

from typing import Any

from pydantic import BaseModel, ValidationError

from dravel.core.model import Rig
from dravel.core.model.base import KEPT, Quantity

Path = tuple[str | int, ...]


def merged(origin: Rig, mine: Rig, theirs: Rig, *, on_top: bool = False) -> tuple[Rig | None, tuple[str, ...]]:
    """`mine` and `theirs`, both made from `origin`, as one rig, and the fields that came from theirs, in words.

    None instead of a rig when both changed the same field, each in its own way, or when the two together make no valid
    rig; the words then name the fields in question. Lists are walked item by item while all three hold the same things
    in the same order; a list that both changed otherwise is one field. With `on_top` mine stands in the fields that both
    changed, and nowhere else.
    """
    taken: list[Path] = []
    asked: list[Path] = []
    before, here, there = (rig.model_dump(mode="json") for rig in (origin, mine, theirs))
    body = _merge(before, here, there, (), taken, asked)
    if asked and not on_top:
        return None, _told(mine, asked)
    try:
        return Rig.model_validate(body, context=KEPT), _told(theirs, taken)
    except ValidationError:
        return None, _told(theirs, taken)


def _merge(origin: Any, mine: Any, theirs: Any, path: Path, taken: list[Path], asked: list[Path]) -> Any:
    if mine == theirs or theirs == origin:
        return mine
    if mine == origin:
        taken.append(path)
        return theirs
    walked: Any = None
    if _same_thing(origin, mine, theirs):
        walked = {
            key: _merge(origin.get(key), mine.get(key), theirs.get(key), (*path, key), taken, asked) for key in mine
        }
    elif all(isinstance(item, list) for item in (origin, mine, theirs)) and len(origin) == len(mine) == len(theirs):
        rows = list(zip(origin, mine, theirs, strict=True))
        if all(_same_thing(*row) or row[0] in row[1:] for row in rows):
            walked = [_merge(*row, (*path, i), taken, asked) for i, row in enumerate(rows)]
    if walked is None:
        asked.append(path)
        return mine
    return walked


def _same_thing(*nodes: Any) -> bool:
    """Whether dicts speak of one thing: the same fields, and the same part, target or name where they hold one."""
    if not all(isinstance(node, dict) for node in nodes):
        return False
    first = nodes[0]
    return all(node.keys() == first.keys() and _identity(node) == _identity(first) for node in nodes)


def _identity(node: dict[str, Any]) -> Any:
    held = node.get("part") or node.get("target")
    if isinstance(held, dict):
        return held.get("id") or held.get("name")
    return node.get("id") if "kind" in node else None


def _told(rig: Rig, paths: list[Path]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(in_words(rig, path) for path in paths))


def in_words(rig: Rig, path: Path) -> str:
    """A field of a rig as people read it: ``Counterweights (5 kg weight), Position on the shaft``."""
    words: list[str] = []
    node: Any = rig
    for key in path:
        if isinstance(key, str):
            words.append(_title(node, key))
            node = getattr(node, key, None)
        else:
            node = node[key] if isinstance(node, tuple | list) and key < len(node) else None
            held = getattr(node, "part", None) or getattr(node, "target", None) or node
            words[-1] += f" ({getattr(held, 'name', key + 1)})"
    return ", ".join(words)


def _title(node: Any, key: str) -> str:
    field = type(node).model_fields.get(key) if isinstance(node, BaseModel) else None
    if field is None:
        return key.replace("_", " ")
    quantity = next((item for item in field.metadata if isinstance(item, Quantity)), None)
    return (quantity.title if quantity else field.title) or key.replace("_", " ")
