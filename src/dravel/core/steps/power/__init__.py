"""Power: supply, draw, cold, hours, outlets, cables and dew."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Value, Words
from dravel.core.steps.power import rules
from dravel.core.steps.power.facts import FACTS
from dravel.core.steps.power.figures import FIGURES
from dravel.core.steps.power.view import power_view


def _headline(context: Context) -> Words:
    needed = context.known.get("power.energy_needed_wh")
    return "no consumers" if needed is None else Value(needed, "Wh", 0)


POWER = Step(
    key="power",
    letters="P",
    title="Power",
    question="Does the battery last, and do the optics stay free of dew?",
    rules=rules_of(rules),
    reads=frozenset(
        {
            "path",
            "guide",
            "riders",
            "mount",
            "support",
            "counterweights",
            "supply",
            "extras",
            "framings",
            "site",
            "shooting",
        }
        | {"preferences"}
    ),
    facts=(FACTS,),
    figures=FIGURES,
    headline=_headline,
    view=power_view,
)
