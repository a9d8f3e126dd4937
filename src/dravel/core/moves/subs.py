"""How long a sub may be, in words, and subs planned shorter."""

from math import floor

from dravel.core.engine.rule import Attempt
from dravel.core.model.edit import Edit

LONG_S = 3600.0  # beyond an hour nobody plans a sub
SHORT_S = 15.0  # shorter subs are a last resort: common practice
ROUNDED = 1.001  # a sub planned to a round number is not held against the limit it was cut to


def seconds_words(seconds: float) -> str:
    """How long a sub may be, as people say it."""
    if seconds > LONG_S:
        return "over an hour"
    return f"{seconds:.0f} s" if seconds >= 10 else f"{seconds:.1f} s" if seconds >= 1 else f"{seconds:.2g} s"


def planned_sub(seconds: float) -> Attempt:
    """Plan subs of so many whole seconds; of tenths below ten, of hundredths and thousandths where that is too long."""
    step = next(step for step, least in ((1.0, 10.0), (0.1, 0.1), (0.01, 0.01), (0.001, -1.0)) if seconds >= least)
    cut = max(round(floor(seconds / step + 1e-9) * step, 3), 0.001)
    return Attempt(f"Plan subs of {cut:g} s", (Edit("replace", ("guide", "sub_s"), cut),), last=cut < SHORT_S)
