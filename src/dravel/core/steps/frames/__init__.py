"""Proof: frames say whether the rig that was built is the one that was designed."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.frames.causes import CauseKey
from dravel.core.model import Rig
from dravel.core.model.words import Words
from dravel.core.steps.frames import rules
from dravel.core.steps.frames.facts import Proofs

SHORT: dict[CauseKey, str] = {
    "guiding": "elongation", "tilt": "leans", "spacing": "corners soft", "turning": "field rotation", "soft": "soft",
}  # fmt: skip


def _headline(context: Context) -> Words:
    own = context.of(Proofs)
    if own.newest is None:
        return "no frames yet"
    return SHORT[next(iter(own.causes))] if own.causes else "as designed"


FRAMES = Step(
    key="frames",
    letters="F",
    title="Frames",
    question="Do measured frames match the design, and if not, why?",
    rules=rules_of(rules),
    reads=frozenset(Rig.model_fields) - {"name"},
    headline=_headline,
)
