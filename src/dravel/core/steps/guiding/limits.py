"""The limits of Guide: what its rules judge by, its picture draws and its pages tell."""

from dravel.core.engine.limit import Limit
from dravel.core.model.words import Value, Words

RATIO = Limit(4.0, 8.0, "×")
NO_STAR = Limit(0.1, 0.5, "%", "default threshold")
ERROR = Limit(0.5, 2.0, "px")
USABLE_PX = 1.0  # up to here stars only swell a little. Common practice.
FLEXURE = Limit(1.0, 2.0, "px", "1 px of trail, common practice")
TRAIL = Limit(1.0, 3.0, "px", "1 px of trail, common practice")  # of a sub, and of the corner's rotation
SUB = Limit(1.0, 3.0, "× the longest sub", "1 px of trail, common practice")
POLAR = Limit(1.0, 3.0, "× the error that rotates the corner by 1 px", "1 px, common practice")


BY_HAND = Limit(2.0, None, "°", "default threshold", least=True)  # of field, where targets are found by hand
ANY_ARCMIN = 600.0  # nobody could miss the pole so far


def polar_words(arcmin: float | None) -> Words:
    """How far the polar axis may be off, as people say it; nothing where it is not known."""
    return "" if arcmin is None else "anything" if arcmin > ANY_ARCMIN else Value(arcmin, "′", 1)
