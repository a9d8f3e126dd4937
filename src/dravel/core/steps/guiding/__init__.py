"""Guide: how the rig is guided, how well it keeps still, and how long a sub may be."""

from dravel.core.engine.context import Context
from dravel.core.engine.rule import rules_of
from dravel.core.engine.step import Step
from dravel.core.model.words import Value, Words, text
from dravel.core.moves.subs import seconds_words
from dravel.core.physics import optics
from dravel.core.steps.guiding import rules
from dravel.core.steps.guiding.facts import Guiding
from dravel.core.steps.guiding.figures import FIGURES
from dravel.core.steps.guiding.gather import FACTS
from dravel.core.steps.guiding.view import guiding_view


def _headline(context: Context) -> Words:
    known, rig = context.known, context.rig
    if rig.stands_still and "pixel" in known and "focal_length" in known:
        nearest = context.of(Guiding).nearest_equator
        seconds = optics.untracked_limit_s(known.value("pixel"), known.value("focal_length"), nearest)
        return text("{seconds}, untracked", seconds=seconds_words(seconds))
    error = known.get("guiding.rms_px")
    return "no mount yet" if error is None else text("{error} RMS", error=Value(error, "px", 2))


GUIDING = Step(
    key="guiding",
    letters="G",
    title="Guiding",
    question="Is tracking good enough for the planned sub length?",
    rules=rules_of(rules),
    reads=frozenset(
        {
            "path",
            "binning",
            "guide",
            "riders",
            "mount",
            "support",
            "purposes",
            "framings",
            "site",
            "preferences",
            "measured_focal_length_mm",
        }
    ),
    facts=(FACTS,),
    figures=FIGURES,
    headline=_headline,
    view=guiding_view,
)
