"""Spacing: does it mate, does it add up, does it reach focus, does light clear every opening?"""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Value, Words, text
from dravel.core.steps.spacing.beliefs import beliefs
from dravel.core.steps.spacing.facts import FACTS
from dravel.core.steps.spacing.figures import FIGURES
from dravel.core.steps.spacing.rules import focus, joints, lengths, off_axis
from dravel.core.steps.spacing.view import spacing_view
from dravel.core.train.tolerance import ON_ITS_MARK_MM


def _headline(context: Context) -> Words:
    error, actual = context.known.get("spacing_error"), context.known.get("actual")
    if error is not None:
        off = Value(abs(error), "mm", 1)
        if abs(error) < ON_ITS_MARK_MM:
            return "back focus OK"
        return text("{off} too long", off=off) if error > 0 else text("{off} too short", off=off)
    return "no image train yet" if actual is None else Value(actual, "mm", 1)


SPACING = Step(
    key="spacing",
    letters="S",
    title="Spacing",
    question="Do all connections fit, is back focus right, and does it reach focus without vignetting?",
    rules=rules_of(lengths, joints, focus, off_axis),
    reads=frozenset(
        {"path", "binning", "guide", "measured_spans", "framings", "preferences", "measured_focal_length_mm"}
        | {"site", "tube_turned_deg"}
    ),
    facts=(FACTS,),
    figures=FIGURES,
    headline=_headline,
    beliefs=beliefs,
    view=spacing_view,
)
