"""The limits of Exposure: what its rules judge by and its pages tell."""

from dravel.core.engine.limit import Limit

OWN = "default threshold"
WELL = 0.25  # of the full well that sky and dark current may fill
READ_NOISE = Limit(0.05, None, "%", "over a sub without read noise; common practice, adjustable", school="sub length")
HABIT = Limit(1.5, None, "× integration time", f"cost of a fixed sub length; {OWN}", school="sub length")
FILLED = Limit(WELL, 0.8, "%", f"of the full well; {OWN}")
GUSTS = Limit(0.10, None, "%", f"subs spoiled by gusts; {OWN}")
WRONG = Limit(2.0, 8.0, "× integration time", f"against a clear filter; {OWN}")
BRIGHT_SKY = Limit(19.5, None, "mag/arcsec²", f"broadband light; {OWN}", least=True)
COOLING = Limit(0.9, 1.0, "%", f"manufacturer; 10% reserve, {OWN}")  # of the cooling below ambient
LINE_LOST = Limit(0.2, 0.6, "%", f"of a line's light; {OWN}")
CARD = Limit(0.8, 1.0, "%", f"20% reserve, {OWN}")
REFOCUS = Limit(0.5, None, "h", f"between two manual refocusings; {OWN}", least=True)
NEARLY_WISHED = Limit(0.9, None, "%", f"of the target SNR; {OWN}", least=True)
