"""Load: what rides on the mount, whether it balances, stands, and can be carried."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Value, Words
from dravel.core.steps.mount.beliefs import beliefs
from dravel.core.steps.mount.facts import FACTS
from dravel.core.steps.mount.figures import FIGURES
from dravel.core.steps.mount.rules import balance, capacity, standing
from dravel.core.steps.mount.view import mount_view
from dravel.core.steps.mount.wind_felt import GUSTS


def _headline(context: Context) -> Words:
    mass = context.known.get("carried")
    return "no payload yet" if mass is None else Value(mass, "kg", 1)


MOUNT = Step(
    key="mount",
    letters="L",
    title="Mount",
    question="Is the payload within limits, balanced and stable?",
    rules=rules_of(capacity, balance, standing),
    reads=frozenset(
        {"path", "guide", "riders", "mount", "support", "counterweights", "saddle_mm", "supply", "extras", "site"}
        | {
            "preferences",
            "measured_spans",
            "binning",
            "measured_focal_length_mm",
            "tube_turned_deg",
            "tripod_turned",
            "framings",
        }
    ),
    facts=(FACTS, GUSTS),
    figures=FIGURES,
    headline=_headline,
    beliefs=beliefs,
    view=mount_view,
)
