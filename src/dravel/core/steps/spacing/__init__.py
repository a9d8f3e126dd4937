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
from dravel.core.train.tolerance import error_words


def _headline(context: Context) -> Words:
    error, actual = context.known.get("spacing_error"), context.known.get("actual")
    if error is not None:
        told = error_words(error)
        return (
            told
            if told == "on its mark"
            else text("{error} {x}", error=Value(abs(error), "mm", 1), x=told.removeprefix("too "))
        )
    return "no train yet" if actual is None else Value(actual, "mm", 1)


SPACING = Step(
    key="spacing",
    letters="S",
    title="Spacing",
    question="Does the train mate, add up and reach focus, and does light clear it?",
    rules=rules_of(lengths, joints, focus, off_axis),
    reads=frozenset(
        {"path", "binning", "guide", "measured_spans", "framings", "practice", "measured_focal_length_mm"}
        | {"site", "tube_turned_deg"}
    ),
    facts=(FACTS,),
    figures=FIGURES,
    headline=_headline,
    beliefs=beliefs,
    view=spacing_view,
)
