"""The steps of the work: what they are, what they draw of an unsaved rig, how they judge it, and their rule book."""

from typing import Annotated, get_type_hints

from fastapi import APIRouter, HTTPException, Query
from pydantic import Field

from dravel.api.deps import PreferencesDep, ShelfDep, StoreDep, shelf_of
from dravel.api.makers import answered
from dravel.api.tonight import ClockDep
from dravel.catalogue.stars import FAINTEST, stars
from dravel.core.engine.step import Step
from dravel.core.model import Evaluation, Rig
from dravel.core.model.base import Identifier, Model
from dravel.core.model.words import said
from dravel.core.overview.calculation import Calculation, calculation
from dravel.core.overview.readiness import as_other, other_rigs
from dravel.core.overview.rule_book import RulePage, page, pages
from dravel.core.overview.strip import LightStrip, lay_out
from dravel.core.steps import STEPS
from dravel.core.steps.exposure.view import ExposureView, exposure_view
from dravel.core.steps.guiding.view import GuidePatch, draw_patch, patch_of
from dravel.store import Unknown


class RigGiven(Model):
    """An unsaved rig."""

    rig: Rig


class RigToGuide(Model):
    """An unsaved rig, and around which of its targets the guide patch is drawn (the first when none is named)."""

    rig: Rig
    target: Annotated[str | None, Field(max_length=120)] = None


class RigToExpose(Model):
    """An unsaved rig, which of its targets is exposed for (the first when none is named), and kept rigs to hold beside."""

    rig: Rig
    target: Annotated[str | None, Field(max_length=120)] = None
    beside: Annotated[tuple[Identifier, ...], Field(max_length=4)] = ()


class StepPage(Model):
    """One step of the work; `letters` begin the codes of its rules."""

    key: str
    title: str
    question: str
    letters: str


class EvaluationAnswer(Model):
    """Figures and findings, and the light strip to draw."""

    evaluation: Evaluation
    strip: LightStrip


def router() -> APIRouter:
    """The routes of the steps there are: one for what each draws, and those they share."""
    made = APIRouter(tags=["steps"])
    made.add_api_route("/steps", steps, methods=["GET"])
    made.add_api_route("/evaluate", evaluate_rig, methods=["POST"])
    for step in STEPS:
        if step.view is not None:
            _add_view(made, step)
    made.add_api_route("/guiding/patch", guide_patch, methods=["POST"])
    made.add_api_route("/exposure", expose, methods=["POST"])
    made.add_api_route("/rules", rules, methods=["GET"])
    made.add_api_route("/rules/{code}", rule, methods=["GET"])
    made.add_api_route("/calculations/{key}", how, methods=["GET"])
    return made


def _add_view(made: APIRouter, step: Step) -> None:
    drawn = step.view
    if drawn is None:
        return

    def view(given: RigGiven, preferences: PreferencesDep, shelf: ShelfDep, clock: ClockDep) -> Model:
        context = STEPS.context(given.rig, preferences, shelf, tonight=clock(given.rig.site))
        return drawn(context)

    answer = get_type_hints(drawn)["return"]
    made.add_api_route(
        f"/{step.key}",
        view,
        methods=["POST"],
        name=f"{step.key}_view",
        response_model=answer,
        description=drawn.__doc__,
    )


def steps() -> list[StepPage]:
    """The steps in the order of work."""
    return [
        StepPage(key=step.key, title=said(step.title), question=said(step.question), letters=step.letters)
        for step in STEPS
    ]


def evaluate_rig(
    given: RigGiven,
    preferences: PreferencesDep,
    store: StoreDep,
    clock: ClockDep,
    fixes: bool = False,
    of: Annotated[Identifier | None, Query(title="Kept rig whose newest frame is judged with it")] = None,
) -> EvaluationAnswer:
    """Figures, findings and light strip of an unsaved rig; with `fixes` also what cures them. Nothing is kept."""
    tonight = clock(given.rig.site)
    evidence = store.frames.newest(of) if of else ()
    if not fixes:
        evaluation = STEPS.evaluate(given.rig, preferences, tonight=tonight, evidence=evidence)
    else:
        sites = [entry.body for entry in store.sites.all()]
        others = other_rigs(store.rigs.each(as_other, preferences))
        evaluation = STEPS.evaluate(
            given.rig, preferences, shelf_of(store), tonight=tonight, sites=sites, others=others, evidence=evidence
        )
    return EvaluationAnswer.model_construct(evaluation=evaluation, strip=lay_out(given.rig, preferences))


def guide_patch(given: RigToGuide, preferences: PreferencesDep) -> GuidePatch | None:
    """The patch of sky that the guide camera sees at a target, with real stars; nothing where it cannot be told."""
    context = STEPS.context(given.rig, preferences)
    where = patch_of(context, given.target)
    if where is None:
        return None
    return draw_patch(context, given.target, stars().around(*where, limit=3000), FAINTEST)


def expose(
    given: RigToExpose, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, clock: ClockDep
) -> ExposureView:
    """How a target is exposed; kept rigs are held beside it under the same sky, those that are gone left out."""
    tonight = clock(given.rig.site)
    context = STEPS.context(given.rig, preferences, shelf, tonight=tonight)
    others = []
    for rig_id in given.beside:
        try:
            kept = store.rigs.get(rig_id).rig
        except Unknown:
            continue
        moved = kept.model_copy(update={"site": given.rig.site})
        others.append((rig_id, STEPS.context(moved, preferences, tonight=tonight)))
    return exposure_view(context, given.target, others)


def rules() -> list[RulePage]:
    """The rule book."""
    return pages()


def rule(code: str) -> RulePage:
    """One rule."""
    try:
        return page(code.upper())
    except KeyError:
        raise HTTPException(404, f"there is no rule '{code}'") from None


def how(key: str) -> Calculation:
    """How the number of a key is worked out: formula, source and limits."""
    try:
        return (
            answered(key) if key[:1].isupper() and key.partition(".")[0] not in STEPS.rules else calculation(STEPS, key)
        )
    except KeyError:
        raise HTTPException(404, f"there is no number with the key '{key}'") from None
