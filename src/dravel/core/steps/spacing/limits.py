"""The limits of Spacing: what its rules judge by and its pages tell."""

from dravel.core.engine.limit import Limit

OWN = "default threshold"
SHADE = Limit(0.005, 0.10, "%", "10% of the light, common practice")
LIGHT = Limit(1.0, 2 / 3, "× the required corner illumination", OWN, least=True)
