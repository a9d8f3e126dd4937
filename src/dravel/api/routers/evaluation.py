"""Evaluate unsaved rigs: figures, findings, the light strip, the Glass stop, the rule book."""

from fastapi import APIRouter, HTTPException

from dravel.api.deps import PracticeDep, ShelfDep, StoreDep, shelf_of
from dravel.api.tonight import ClockDep
from dravel.core.evaluate import evaluate, other_rigs
from dravel.core.glass_view import GlassView, look
from dravel.core.model import Evaluation, Rig
from dravel.core.model.base import Model
from dravel.core.rulebook import RulePage, page, pages
from dravel.core.strip import Strip, lay_out

router = APIRouter(tags=["evaluate"])


class RigGiven(Model):
    """An unsaved rig."""

    rig: Rig


class EvaluationAnswer(Model):
    """Figures and findings, and the light strip to draw."""

    evaluation: Evaluation
    strip: Strip


@router.post("/evaluate")
def evaluate_rig(
    given: RigGiven, practice: PracticeDep, store: StoreDep, clock: ClockDep, mends: bool = False
) -> EvaluationAnswer:
    """Figures, findings and light strip of an unsaved rig; with `mends` also what cures them. Nothing is kept."""
    tonight = clock(given.rig.site)
    if not mends:
        evaluation = evaluate(given.rig, practice, tonight=tonight)
    else:
        sites = [entry.body for entry in store.sites.all()]
        others = other_rigs([(record.id, record.rig) for record in store.rigs.all()], practice)
        evaluation = evaluate(given.rig, practice, shelf_of(store), tonight=tonight, sites=sites, others=others)
    return EvaluationAnswer.model_construct(evaluation=evaluation, strip=lay_out(given.rig, practice))


@router.post("/glass")
def glass(given: RigGiven, practice: PracticeDep, shelf: ShelfDep) -> GlassView:
    """The star on the pixel grid, and every corrector on the shelf compared."""
    return look(given.rig, practice, shelf)


@router.get("/rules")
def rules() -> list[RulePage]:
    """The rule book."""
    return pages()


@router.get("/rules/{code}")
def rule(code: str) -> RulePage:
    """One rule."""
    try:
        return page(code.upper())
    except KeyError:
        raise HTTPException(404, f"there is no rule '{code}'") from None
