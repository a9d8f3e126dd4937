"""The limits of Aim: what its rules judge by and its pages tell."""

from dravel.core.engine.limit import Limit

OWN = "default threshold"
HIDDEN = Limit(0.5, None, "%", OWN)  # of the dark hours, by the site's own horizon
MOON = Limit(2.5, 25.0, "× integration time", f"against the same sky without moonlight; {OWN}")
