"""The limits of Load: what its rules judge by, its picture draws and its pages tell."""

from dravel.core.engine.limit import Limit
from dravel.core.model.words import Value, Words, text

OWN = "default threshold"
ARM = Limit(1.0, 1.25, "%", "statics; 25% over the rating: default threshold")
EVEN = Limit(0.02, 0.10, "%", OWN)  # of the rated moment, about the declination axis and to the side
EAST = Limit(0.03, 0.25, "%", OWN)  # of the load's own moment, about the right-ascension axis
TORQUE = Limit(0.8, 1.0, "%", "statics; 20% reserve: default threshold")
STEADY = Limit(1.5, 1.0, "×", OWN, least=True)
WIND = Limit(0.05, 0.20, "%", OWN)  # of the rated moment
SHAKE = Limit(0.5, 2.0, "px", "0.5 px, as for guiding, common practice; problem level: default threshold")
LEGS = Limit(5.0, 0.0, "mm", OWN, least=True)


NOTHING_TIPS = 50.0  # so many times firmer than it must be is as good as never


def firm_words(margin: float) -> Words:
    """How firmly a rig stands, as people say it."""
    return (
        "no tipping moment"
        if margin > NOTHING_TIPS
        else text("safety factor {margin} (worst direction)", margin=Value(margin, "×", 1))
    )
