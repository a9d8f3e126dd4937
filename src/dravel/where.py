"""Where a number or a verdict comes from: the file and line of a figure's recipe and formula, of a rule, of the function
that says a sentence, or of the one that makes an answer.
"""

import inspect
from functools import cache
from pathlib import Path

import dravel.core.steps
from dravel.core.engine.recipe import Recipe
from dravel.core.engine.rule import Rule
from dravel.core.overview.calculation import function_of
from dravel.core.steps import STEPS

STEPS_FOLDER = Path(dravel.core.steps.__file__).parent


def where(key: str) -> list[tuple[str, str]]:
    """Places (``path:line``, what stands there) of a number's key or a rule's code. Raises `KeyError` on others.

    A key is a figure's (``optics.focal_length_mm``), of a number in a finding (``S4.travel``), of one in another sentence
    (the function that says it, and its name there), or a field of an answer (``ExposureSub.sub_s``).
    """
    if key.upper() in STEPS.rules:
        return [_rule(STEPS.rules[key.upper()])]
    recipes = [recipe for given in STEPS.recipes.values() for recipe in given if recipe.key == key]
    lead, _, name = key.partition(".")
    places = [(at, "recipe") for at in _lines(f'"{key}"', "figures.py")]
    if not recipes:  # figures about single targets are made in a loop over the ends of their keys
        places = [(at, "recipe") for at in _lines(f'"{name}"', f"{lead}/figures.py") if name]
    if not places:
        return _elsewhere(key)
    places += [result for recipe in recipes if (result := _formula(recipe))]
    for code, rule in STEPS.rules.items():
        if f'"{key}"' in _source(code)[0]:
            places.append(_rule(rule))
    return list(dict.fromkeys(places))


def _elsewhere(key: str) -> list[tuple[str, str]]:
    """Places of a number that is no figure."""
    lead, _, name = key.partition(".")
    if lead in STEPS.rules:
        return [_rule(STEPS.rules[lead])]
    if lead[:1].isupper():
        import dravel.api.app  # noqa: F401  its models are answers too
        from dravel.api.makers import answered, makers

        answered(key)  # there is such a field
        return [(_place(maker.path, maker.line), f"{maker.name}, {name} of {lead}") for maker in makers(lead)]
    made, name = function_of(key)
    made = inspect.unwrap(made)
    _, first = inspect.getsourcelines(made)
    return [(_place(Path(inspect.getfile(made)), first), f"{made.__name__}, {name}")]


@cache
def _source(code: str) -> tuple[str, int]:
    """What a rule is written as, and the line it begins at."""
    lines, first = inspect.getsourcelines(STEPS.rules[code].judge)
    return "".join(lines), first


@cache
def _read(path: Path) -> tuple[str, ...]:
    return tuple(path.read_text(encoding="utf-8").splitlines())


def _formula(recipe: Recipe) -> tuple[str, str] | None:
    if recipe.compute is None or not inspect.isfunction(recipe.compute) or recipe.compute.__name__ == "<lambda>":
        return None
    _, first = inspect.getsourcelines(recipe.compute)
    return _place(Path(inspect.getfile(recipe.compute)), first), f"formula, {recipe.formula}"


def _rule(rule: Rule) -> tuple[str, str]:
    return _place(Path(inspect.getfile(rule.judge)), _source(rule.code)[1]), f"rule {rule.code}, {rule.title.lower()}"


def _lines(text: str, ending: str) -> list[str]:
    return [
        _place(path, number)
        for path in sorted(STEPS_FOLDER.rglob("*.py"))
        if str(path).endswith(ending)
        for number, line in enumerate(_read(path), 1)
        if text in line
    ]


def _place(path: Path, line: int) -> str:
    return f"{path.relative_to(STEPS_FOLDER.parents[2])}:{line}"
