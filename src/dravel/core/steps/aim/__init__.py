"""Aim: which targets, from which site, in which season, and how they lie in the field."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Words, text
from dravel.core.steps.aim.figures import framing_figures
from dravel.core.steps.aim.rules import field, night


def _headline(context: Context) -> Words:
    count = len(context.rig.framings)
    return "no target" if count == 0 else "1 target" if count == 1 else text("{count} targets", count=count)


AIM = Step(
    key="aim",
    letters="A",
    title="Aim",
    question="Does the target fit the field, and is it high enough in darkness?",
    rules=rules_of(field, night),
    reads=frozenset(
        {
            "path",
            "framings",
            "purposes",
            "site",
            "preferences",
            "measured_focal_length_mm",
            "guide",
            "binning",
            "shooting",
        }
    ),
    headline=_headline,
    about=framing_figures,
)
