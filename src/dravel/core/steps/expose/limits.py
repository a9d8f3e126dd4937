"""The limits of Expose: what its rules judge by and its pages tell."""

from dravel.core.engine.limit import Limit

OWN = "default threshold"
WELL = 0.25  # of the full well that sky and dark current may fill
READ_NOISE = Limit(0.05, None, "%", "over a sub without read noise; common practice, adjustable", school="sub length")
HABIT = Limit(1.5, None, "× integration time", f"what a habit may cost before it strains is {OWN}", school="sub length")
FILLED = Limit(WELL, 0.8, "%", f"of the full well; {OWN}")
GUSTS = Limit(0.10, None, "%", f"subs that a gust spoils; {OWN}")
WRONG = Limit(2.0, 8.0, "× integration time", f"against a clear filter in its place; {OWN}")
BRIGHT_SKY = Limit(19.5, None, "mag/arcsec²", f"broadband light; {OWN}", least=True)
COOLING = Limit(0.9, 1.0, "%", f"maker's figure; a tenth in reserve is {OWN}")  # of the cooling below ambient
LINE_LOST = Limit(0.2, 0.6, "%", f"of a line's light; {OWN}")
CARD = Limit(0.8, 1.0, "%", f"a fifth to spare is {OWN}")
REFOCUS = Limit(0.5, None, "h", f"between two by hand; {OWN}", least=True)
NEARLY_WISHED = Limit(0.9, None, "%", f"of the target SNR; {OWN}", least=True)
