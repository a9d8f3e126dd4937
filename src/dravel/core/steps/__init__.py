"""The steps of the work: one folder each, and the one list of them, in the order practitioners do them."""

from dravel.core.engine.step import Steps
from dravel.core.steps.aim import AIM
from dravel.core.steps.build import BUILD
from dravel.core.steps.expose import EXPOSE
from dravel.core.steps.glass import GLASS
from dravel.core.steps.guide import GUIDE
from dravel.core.steps.load import LOAD
from dravel.core.steps.night import NIGHT
from dravel.core.steps.power import POWER
from dravel.core.steps.proof import PROOF
from dravel.core.steps.spacing import SPACING

STEPS = Steps(AIM, GLASS, SPACING, LOAD, GUIDE, POWER, EXPOSE, BUILD, NIGHT, PROOF)
