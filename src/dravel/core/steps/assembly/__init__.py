"""Build: the rig goes together in the right order, card by card, and comes apart again."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Words
from dravel.core.steps.assembly import rules
from dravel.core.steps.assembly.facts import FACTS, Build
from dravel.core.steps.assembly.figures import FIGURES


def _headline(context: Context) -> Words:
    cards = context.of(Build).cards
    return "checklist" if cards else "no parts yet"


ASSEMBLY = Step(
    key="assembly",
    letters="B",
    title="Assembly",
    question="In which order is it assembled, and is anything forgotten?",
    rules=rules_of(rules),
    reads=frozenset(
        {"path", "guide", "riders", "mount", "support", "counterweights", "saddle_mm", "supply", "extras", "site"}
        | {"preferences", "build", "framings", "tripod_turned", "shooting", "binning", "measured_spans"}
        | {"measured_focal_length_mm", "purposes"}
    ),
    facts=(FACTS,),
    figures=FIGURES,
    headline=_headline,
)
