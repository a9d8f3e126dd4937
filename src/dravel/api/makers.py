"""Numbers of answers, `Model.field`: what the field is, and the function that makes the model it stands in."""

import ast
import re
from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import NamedTuple

from pydantic import BaseModel

import dravel
from dravel.core.overview.calculation import Calculation, source_of

TOP = Path(dravel.__file__).parent


class Maker(NamedTuple):
    """A function in which a model is made: its name, its docstring, and where it stands."""

    name: str
    about: str
    path: Path
    line: int


def model_of(name: str) -> type[BaseModel]:
    """The model of a name as the API gives it. Raises `KeyError` where there is none."""
    wanted = name.removesuffix("-Input").removesuffix("-Output")
    match = next(
        (item for item in _all(BaseModel) if item.__name__ == wanted and item.__module__.startswith("dravel.")), None
    )
    if match is None:
        raise KeyError(name)
    return match


def _all(model: type[BaseModel]) -> Iterator[type[BaseModel]]:
    for subclass in model.__subclasses__():
        yield subclass
        yield from _all(subclass)


@cache
def makers(name: str) -> tuple[Maker, ...]:
    """The functions that make a model, those of its own package first."""
    home = Path(*model_of(name).__module__.split(".")[1:]).parent
    called = re.compile(rf"\b{name}(?:\.\w+)?\(")
    results: list[Maker] = []
    for path in sorted(TOP.rglob("*.py"), key=lambda item: (item.relative_to(TOP).parent != home, str(item))):
        text = path.read_text(encoding="utf-8")
        if called.search(text):
            results += _in(ast.parse(text), name, path)
    return tuple(results)


def _in(tree: ast.AST, name: str, path: Path) -> Iterator[Maker]:
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef) and any(
            _makes(item, name) for item in ast.walk(node)
        ):
            yield Maker(node.name, ast.get_docstring(node) or "", path, node.lineno)


def _makes(node: ast.AST, name: str) -> bool:
    if not isinstance(node, ast.Call):
        return False
    made = node.func.value if isinstance(node.func, ast.Attribute) else node.func
    return isinstance(made, ast.Name) and made.id == name


def answered(key: str) -> Calculation:
    """What stands behind a number of an answer. Raises `KeyError` when nothing has that key."""
    name, _, field = key.partition(".")
    model = model_of(name)
    if field not in model.model_fields and field not in model.model_computed_fields:
        raise KeyError(key)
    known = model.model_fields.get(field) or model.model_computed_fields[field]
    title = known.title or known.description or _named(field)
    made = next(iter(makers(model.__name__)), None)
    about = _first(made.about) if made else ""
    return Calculation(
        key=key,
        title=title,
        formula="",
        about=about or _first(model.__doc__ or ""),
        source=source_of(made.about if made else "") or source_of(model.__doc__ or ""),
    )


UNITS = {
    "mm": "mm", "um": "µm", "px": "px", "px2": "px²", "arcsec": "″", "arcmin": "′", "deg": "°", "s": "s", "min": "min", "h": "h", "kg": "kg",
    "g": "g", "wh": "Wh", "w": "W", "a": "A", "v": "V", "c": "°C", "k": "K", "e": "e⁻", "mag": "mag", "nm": "N·m", "m": "m", "adu": "ADU",
}  # fmt: skip


def _named(field: str) -> str:
    """A field's name in words, with its unit: `read_noise_e` is read noise, e⁻."""
    words, _, unit = field.rpartition("_")
    if words and unit in UNITS:
        return f"{words.replace('_', ' ').capitalize()}, {UNITS[unit]}"
    return field.replace("_", " ").capitalize()


def _first(about: str) -> str:
    return " ".join(about.split("\n\n")[0].split())
