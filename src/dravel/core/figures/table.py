"""The table of figures: what is computed about a rig, from what, by which formula, after which source."""

from collections.abc import Iterable

from dravel.core import optics
from dravel.core.figures.guide import GUIDE
from dravel.core.figures.load import LOAD
from dravel.core.figures.optics import DESIGNED, MEASURED, OPTICS
from dravel.core.figures.power import POWER
from dravel.core.figures.row import FigureRule
from dravel.core.figures.spacing import SPACING
from dravel.core.known import Known
from dravel.core.light_path import LightPath
from dravel.core.model import Figure, MissingFigure

TABLE: tuple[FigureRule, ...] = (*OPTICS, *SPACING, *LOAD, *GUIDE, *POWER)

_RECIPES = {rule.name: rule for rule in (DESIGNED, *TABLE)}
_RECIPES_MEASURED = {rule.name: rule for rule in (MEASURED, *TABLE)}


def prepare(known: Known, light: LightPath) -> None:
    """Teach `known` the table; each value is computed when first asked for."""
    if light.telescope is not None:
        alpha = optics.EXPANSION_UM_PER_M_K[light.telescope.tube_material]
        known.put("expansion", "α", "expansion", alpha, "µm/m/K", light.telescope.tube_material)
    known.recipes = _RECIPES_MEASURED if "solved_focal_length" in known else _RECIPES


def described(known: Known, lead: str = "") -> tuple[list[Figure], list[MissingFigure]]:
    """The table as figures with their working, in its order, and why the others are missing; only keys with a lead."""
    figures, missing = [], []
    for rule in rows(known):
        if not rule.key.startswith(lead):
            continue
        if rule.name in known:
            figures.append(_figure(rule, known))
        elif not rule.optional:
            missing.append(MissingFigure(key=rule.key, title=rule.title, because=known.why_not(rule.name)))
    return figures, missing


def rows(known: Known) -> Iterable[FigureRule]:
    """The table as it holds for a rig: a measured focal length goes before the designed one."""
    return (_RECIPES_MEASURED if "solved_focal_length" in known else _RECIPES).values()


def _figure(rule: FigureRule, known: Known) -> Figure:
    return Figure(
        key=rule.key,
        title=rule.title,
        value=known.value(rule.name),
        unit=rule.unit,
        decimals=rule.decimals,
        formula=rule.formula,
        inputs=tuple(known[name] for name in rule.inputs),
        source=rule.source,
        note=rule.note,
    )
