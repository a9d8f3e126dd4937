"""The Spacing step: the train on its rule, what fits at a joint, rings found, parts swapped, the sheet."""

from typing import Annotated

from fastapi import APIRouter, HTTPException, Response
from pydantic import Field

from dravel.api.deps import PreferencesDep, ShelfDep, StoreDep
from dravel.api.files import a_file
from dravel.core.model import Rig
from dravel.core.model.base import WHOLE, Document, Identifier, Model, YesNo
from dravel.core.overview.swap import SwapAnswer, swap
from dravel.core.steps.spacing.sheet import spacing_sheet
from dravel.core.steps.spacing.view import TrayPart, tray
from dravel.core.train.rings import RingAnswer, find_rings
from dravel.formats.spacing_sheet import as_pdf, as_svg

router = APIRouter(tags=["spacing"])
Place = Annotated[int, Field(ge=0, le=59, description="A place in the light path"), WHOLE]


class TrainGiven(Model):
    """An unsaved rig."""

    rig: Rig


class JointGiven(Model):
    """A joint of an unsaved rig: the one ahead of `index`, or, with `replace`, the part there."""

    rig: Rig
    index: Place
    replace: YesNo = False


class RingsWanted(Document):
    """What the solver may use. `keep` names places whose rings stay."""

    rig: Rig
    wished: YesNo = True
    shop: YesNo = False
    keep: Annotated[tuple[Place, ...], Field(max_length=60)] = ()


class SwapWanted(Model):
    """A part of the shelf in place of the one at `index`."""

    rig: Rig
    index: Place
    part_id: Identifier


@router.post("/spacing/tray")
def spacing_tray(given: JointGiven, preferences: PreferencesDep, shelf: ShelfDep) -> list[TrayPart]:
    """What fits at a joint or in place of a part, and what it would do."""
    try:
        return list(tray(given.rig, preferences, shelf, given.index, replace=given.replace))
    except IndexError as error:
        raise HTTPException(422, f"index: {error}") from None


@router.post("/spacing/rings")
def spacing_rings(given: RingsWanted, preferences: PreferencesDep, shelf: ShelfDep) -> RingAnswer:
    """Rings that bring the sensor to its place; or the proof that there are none, and the one part that cures it."""
    return find_rings(given.rig, preferences, shelf, wished=given.wished, shop=given.shop, keep=given.keep)


@router.post("/spacing/swap")
def spacing_swap(given: SwapWanted, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep) -> SwapAnswer:
    """Before and after, with any part in place of another."""
    part = store.parts.get(given.part_id).body
    try:
        return swap(given.rig, given.index, part, preferences, shelf)
    except (IndexError, ValueError) as error:
        raise HTTPException(422, str(error)) from None


@router.get(
    "/rigs/{rig_id}/spacing-sheet.svg", response_class=Response, responses={200: {"content": {"image/svg+xml": {}}}}
)
def sheet_svg(rig_id: str, store: StoreDep, preferences: PreferencesDep) -> Response:
    """The spacing sheet as SVG."""
    return Response(as_svg(spacing_sheet(store.rigs.get(rig_id).rig, preferences)), media_type="image/svg+xml")


@router.get(
    "/rigs/{rig_id}/spacing-sheet.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}}
)
def sheet_pdf(rig_id: str, store: StoreDep, preferences: PreferencesDep) -> Response:
    """The spacing sheet as PDF."""
    made = as_pdf(spacing_sheet(store.rigs.get(rig_id).rig, preferences))
    return a_file(made, "application/pdf", f"{rig_id}-spacing.pdf", shown="inline")
