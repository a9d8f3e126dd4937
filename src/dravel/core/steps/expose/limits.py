"""The limits of Expose: what its rules judge by and its pages tell."""

from dravel.core.engine.limit import Limit
from dravel.core.model.words import text

OWN = "Dravel's own convention"
WELL = 0.25  # of the full well that sky and dark current may fill
READ_NOISE = Limit(0.05, None, "%", "over a sub without read noise; common practice, adjustable", school="sub length")
HABIT = Limit(
    1.5, None, "× the hours", text("what a habit may cost before it strains is {OWN}", OWN=OWN), school="sub length"
)
FILLED = Limit(WELL, 0.8, "%", text("of the full well; {OWN}", OWN=OWN))
GUSTS = Limit(0.10, None, "%", text("subs that a gust spoils; {OWN}", OWN=OWN))
WRONG = Limit(2.0, 8.0, "× the hours", text("against a clear filter in its place; {OWN}", OWN=OWN))
BRIGHT_SKY = Limit(19.5, None, "mag/arcsec²", text("broadband light; {OWN}", OWN=OWN), least=True)
COOLING = Limit(
    0.9, 1.0, "%", text("maker's figure; a tenth in reserve is {OWN}", OWN=OWN)
)  # of the cooling below ambient
LINE_LOST = Limit(0.2, 0.6, "%", text("of a line's light; {OWN}", OWN=OWN))
CARD = Limit(0.8, 1.0, "%", text("a fifth to spare is {OWN}", OWN=OWN))
REFOCUS = Limit(0.5, None, "h", text("between two by hand; {OWN}", OWN=OWN), least=True)
NEARLY_WISHED = Limit(0.9, None, "%", text("of the signal to noise wished for; {OWN}", OWN=OWN), least=True)
