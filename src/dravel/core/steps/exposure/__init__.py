"""Exposure: how long a sub, through which filter, how many hours, with this body."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Value, Words
from dravel.core.steps.exposure.figures import FIGURES
from dravel.core.steps.exposure.known import FACTS
from dravel.core.steps.exposure.rules import camera, cone, filters, light, night, plan


def _headline(context: Context) -> Words:
    if context.light.camera is None:
        return "no camera yet"
    return Value(context.rig.guide.sub_s, form="exposure")


EXPOSURE = Step(
    key="exposure",
    letters="EC",
    title="Exposure",
    question="How long should subs be, with which filter, and how much integration time is needed?",
    rules=rules_of(light, filters, night, plan, camera, cone),
    reads=frozenset(
        {"path", "guide", "riders", "mount", "support", "counterweights", "saddle_mm", "supply", "extras", "site"}
        | {"preferences", "binning", "measured_focal_length_mm", "measured_spans", "framings", "shooting", "purposes"}
    ),
    facts=FACTS,
    figures=FIGURES,
    headline=_headline,
)
