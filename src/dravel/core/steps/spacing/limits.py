"""The limits of Spacing: what its rules judge by and its pages tell."""

from dravel.core.engine.limit import Limit

OWN = "Dravel's own convention"
SHADE = Limit(0.005, 0.10, "%", "a tenth of the light before it breaks flats is common practice")
LIGHT = Limit(1.0, 2 / 3, "× the light wanted in the corner", OWN, least=True)
