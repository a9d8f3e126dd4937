"""Glass: focal length, scale, field, sampling, and the corrector the design asks for."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Value, Words
from dravel.core.steps.optics.beliefs import beliefs
from dravel.core.steps.optics.facts import FACTS
from dravel.core.steps.optics.figures import FIGURES
from dravel.core.steps.optics.rules import optics, short_paths
from dravel.core.steps.optics.view import optics_view


def _headline(context: Context) -> Words:
    scale = context.known.get("pixel_scale")
    return "no scale yet" if scale is None else Value(scale, "″/px", 2)


OPTICS = Step(
    key="optics",
    letters="OV",
    title="Optics",
    question="Do telescope, corrector and camera match each other and the seeing?",
    rules=rules_of(optics, short_paths),
    reads=frozenset(
        {
            "path",
            "binning",
            "framings",
            "purposes",
            "site",
            "preferences",
            "guide",
            "riders",
            "mount",
            "support",
            "measured_focal_length_mm",
        }
    ),
    facts=(FACTS,),
    figures=FIGURES,
    headline=_headline,
    beliefs=beliefs,
    view=optics_view,
)
