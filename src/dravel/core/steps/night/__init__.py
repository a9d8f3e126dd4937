"""Night: whether each plan has its place in the night, and what the meridian costs."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Value, Words, text
from dravel.core.steps.night import rules
from dravel.core.steps.night.facts import FACTS
from dravel.core.steps.night.figures import FIGURES


def _headline(context: Context) -> Words:
    free = context.known.get("night.free_h")
    return "no site yet" if free is None else text("{free} usable", free=Value(free, form="long"))


NIGHT = Step(
    key="night",
    letters="N",
    title="Night",
    question="Which target when, and what do the horizon and the meridian cost?",
    rules=rules_of(rules),
    reads=frozenset(
        {"path", "guide", "riders", "mount", "support", "counterweights", "saddle_mm", "supply", "extras", "site"}
        | {"preferences", "binning", "measured_focal_length_mm", "measured_spans", "framings", "shooting", "purposes"}
    ),
    facts=(FACTS,),
    figures=FIGURES,
    headline=_headline,
)
