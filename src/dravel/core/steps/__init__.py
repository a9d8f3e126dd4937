"""The steps of the work: one folder each, and the one list of them, in the order practitioners do them."""

from dravel.core.engine.step import Steps
from dravel.core.steps.aim import AIM
from dravel.core.steps.assembly import ASSEMBLY
from dravel.core.steps.exposure import EXPOSURE
from dravel.core.steps.frames import FRAMES
from dravel.core.steps.guiding import GUIDING
from dravel.core.steps.mount import MOUNT
from dravel.core.steps.night import NIGHT
from dravel.core.steps.optics import OPTICS
from dravel.core.steps.power import POWER
from dravel.core.steps.spacing import SPACING

STEPS = Steps(AIM, OPTICS, SPACING, MOUNT, GUIDING, POWER, EXPOSURE, ASSEMBLY, NIGHT, FRAMES)
