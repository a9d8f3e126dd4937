"""Guide: how the rig is guided, how well it keeps still, and how long a sub may be."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.steps.guide import rules
from dravel.core.steps.guide.facts import FACTS
from dravel.core.steps.guide.figures import FIGURES
from dravel.core.steps.guide.view import guide_view


def _headline(context: Context) -> str:
    error = context.known.get("guide.rms_px")
    return "no mount yet" if error is None else f"{error:.2f} px RMS"


GUIDE = Step(
    key="guide",
    letters="G",
    title="Guide",
    question="Does it keep still for as long as a sub lasts?",
    rules=rules_of(rules),
    reads=frozenset(
        {"path", "binning", "guide", "riders", "mount", "framings", "site", "practice", "measured_focal_length_mm"}
    ),
    facts=(FACTS,),
    figures=FIGURES,
    headline=_headline,
    view=guide_view,
)
