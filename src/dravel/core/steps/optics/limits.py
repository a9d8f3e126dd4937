"""The limits of Glass: what its rules judge by and its pages tell."""

from dravel.core.engine.limit import Limit

OWN = "default threshold"
COVERAGE = Limit(0.9999, 0.90, "%", OWN, least=True)  # of the sensor, inside the image circle
CORNER_BLUR = Limit(0.0, 3.0, "px", OWN)  # up to three pixels still print as round stars
CORNER_STAR = Limit(2.0, None, "× the central star", OWN)
CORNER_STAR_WIDE = Limit(3.0, None, "× the central star, for wide field", OWN)
TRAIL = Limit(1.0, 10.0, "px")  # past ten, about 500 / focal length, every star is a dash
UNTRACKED = Limit(0.5, None, "s", OWN, least=True)
DISK = Limit(60.0, None, "px", OWN, least=True)
