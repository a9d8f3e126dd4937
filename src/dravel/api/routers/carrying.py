"""The stops Load, Guide and Power: what they draw, from an unsaved rig. Nothing is kept."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from dravel.api.deps import PracticeDep, ShelfDep
from dravel.api.tonight import ClockDep
from dravel.catalogue.stars import FAINTEST, stars
from dravel.core.guide import view as guide
from dravel.core.load import view as load
from dravel.core.model import Rig
from dravel.core.model.base import Model
from dravel.core.power import view as power

router = APIRouter(tags=["load, guide, power"])


class RigToCarry(Model):
    """An unsaved rig."""

    rig: Rig


class RigToGuide(Model):
    """An unsaved rig, and around which of its targets the guide patch is drawn (the first when none is named)."""

    rig: Rig
    target: Annotated[str | None, Field(max_length=120)] = None


@router.post("/load")
def load_view(given: RigToCarry, practice: PracticeDep, shelf: ShelfDep) -> load.LoadView:
    """Tube, riders, shaft and weights in side elevation, and what would balance them."""
    return load.look(given.rig, practice, shelf)


@router.post("/guide")
def guide_view(given: RigToGuide, practice: PracticeDep, shelf: ShelfDep) -> guide.GuideView:
    """Every way to guide side by side, and the patch of sky that is seen, with real stars."""
    view, guiding = guide.look(given.rig, practice, shelf)
    where = guide.patch_of(guiding, given.target)
    if where is None:
        return view
    around = stars().around(*where, limit=3000)
    return view.model_copy(update={"patch": guide.draw_patch(guiding, given.target, around, FAINTEST)})


@router.post("/power")
def power_view(given: RigToCarry, practice: PracticeDep, clock: ClockDep) -> power.PowerView:
    """The night as a charge curve, what draws, cables, outlets and dew."""
    return power.look(given.rig, practice, clock(given.rig.site))
