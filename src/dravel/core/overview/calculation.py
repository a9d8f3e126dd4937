"""How a number came about, by its key: formula and source of a figure, of a rule, or of the function that works it out."""

import re
import sys
from collections.abc import Callable
from typing import Any

from dravel.core.engine.step import Steps
from dravel.core.model.base import Model

SOURCE = re.compile(r"Sources?: (.+?)(?:\.\s|\.?$)", re.S)


class Calculation(Model):
    """What stands behind a number. `rule` is the code of the rule that uses it, where it is one of a finding."""

    key: str
    title: str
    formula: str = ""
    about: str = ""
    source: str = ""
    limits: tuple[str, ...] = ()
    rule: str | None = None


def function_of(key: str) -> tuple[Callable[..., Any], str]:
    """The function that a key leads to, and what the number is called in it. Raises `KeyError` where there is none."""
    home, _, name = key.rpartition(".")
    pieces = home.split(".")
    for cut in range(len(pieces) - 1, 0, -1):
        module = sys.modules.get("dravel.core." + ".".join(pieces[:cut]))
        if module is None:
            continue
        fget: Any = module
        for piece in pieces[cut:]:
            if piece == "<locals>" or piece.startswith("<"):
                break  # of a function in a function the outer one tells
            fget = getattr(fget, piece, None)
        if isinstance(fget, property):
            fget = fget.fget
        if callable(fget):
            return fget, name
    raise KeyError(key)


def calculation(steps: Steps, key: str) -> Calculation:
    """How the number of a key is worked out. Raises `KeyError` when nothing has that key."""
    recipe = next((item for given in steps.recipes.values() for item in given if item.key == key), None)
    if recipe is not None:
        return Calculation(key=key, title=recipe.title, formula=recipe.formula, source=recipe.source)
    code = key.partition(".")[0]
    if code in steps.rules:
        rule = steps.rules[code]
        limits = tuple(page for limit in rule.limits if (page := str(limit.page)))
        return Calculation(
            key=key, title=rule.title, formula=rule.formula, source=rule.source, limits=limits, rule=code
        )
    made, name = function_of(key)
    about = " ".join((made.__doc__ or "").split("\n\n")[0].split())
    return Calculation(
        key=key, title=name.replace("_", " ").capitalize(), about=about, source=source_of(made.__doc__ or "")
    )


def source_of(about: str) -> str:
    """The source that a docstring gives, if it does."""
    match = SOURCE.search(about)
    return " ".join(match[1].split()) if match else ""
