"""Money and growth: what a rig costs, rigs and revisions side by side, stages."""

import csv
import io
from typing import Annotated

from fastapi import APIRouter, HTTPException, Path, Query, Response
from pydantic import Field, model_validator

from dravel.api.deps import PreferencesDep, ShelfDep, StoreDep
from dravel.api.files import a_file
from dravel.api.tonight import ClockDep
from dravel.core.model import Figure, Growth, Preferences, Rig
from dravel.core.model.base import WHOLE, Document, Identifier, Model
from dravel.core.overview.compare import Comparison, compare
from dravel.core.overview.cost import Cost, cost
from dravel.core.overview.stages import StageView, grow
from dravel.core.steps import STEPS
from dravel.formats.csv_cells import guarded

router = APIRouter(tags=["money and growth"])
MOST = 20
MOST_TARGETS = 200  # of the list, the first: a comparison of more than that is read by nobody


class ComparedEntry(Model):
    """A rig to compare, at its newest revision or an earlier one."""

    rig: Identifier
    revision: Annotated[int | None, Field(ge=1, le=10**9), WHOLE] = None


class ComparisonAsked(Document):
    """Rigs or revisions to lay side by side, rigs that are not kept beside them, and the site whose night scores targets.

    At least one of either is given.
    """

    entries: Annotated[tuple[ComparedEntry, ...], Field(max_length=MOST)] = ()
    drafts: Annotated[tuple[Rig, ...], Field(title="Rigs that are not kept", max_length=8)] = ()
    site: Identifier | None = None

    @model_validator(mode="after")
    def _something_to_compare(self) -> "ComparisonAsked":
        if not self.entries and not self.drafts:
            raise ValueError("entries: nothing to compare was named")
        return self


class GrowthGiven(Model):
    """A path of growth, kept or not."""

    growth: Growth


@router.post("/compare")
def compare_rigs(given: ComparisonAsked, store: StoreDep, preferences: PreferencesDep, clock: ClockDep) -> Comparison:
    """Figures, verdicts, targets (of a long list the first 200), hours to equal depth, mass and cost side by side; differences
    first.
    """
    entries = []
    for entry in given.entries:
        newest = store.rigs.get(entry.rig)
        record = newest if entry.revision is None else store.rigs.revision(entry.rig, entry.revision)
        label = record.rig.name if entry.revision is None else f"{record.rig.name}, revision {record.revision}"
        entries.append((label, record.rig))
    entries += [(draft.name, draft) for draft in given.drafts]
    kept = [entry.body for entry in store.sites.all()]
    site = store.sites.get(given.site).body if given.site else next(iter(kept), None)
    targets = [entry.body for entry in store.targets.all(most=MOST_TARGETS)]
    return compare(entries, preferences, targets, site, clock)


@router.get("/rigs/{rig_id}/figures/{key}")
def rig_figure(
    rig_id: str,
    key: Annotated[str, Path(max_length=80)],
    store: StoreDep,
    preferences: PreferencesDep,
    clock: ClockDep,
    revision: Annotated[int | None, Query(ge=1, le=10**9)] = None,
) -> Figure:
    """One figure of a kept rig with its working, at its newest revision or an earlier one."""
    record = store.rigs.get(rig_id) if revision is None else store.rigs.revision(rig_id, revision)
    known = STEPS.context(record.rig, preferences, tonight=clock(record.rig.site)).known
    name = next((name for name, recipes in STEPS.recipes.items() if recipes[-1].key == key), None)
    if name is None:
        raise HTTPException(404, f"there is no figure '{key}'")
    if name not in known:
        raise HTTPException(422, f"{record.rig.name} has no such figure: {known.why_not(name)}")
    return known.figure(name)


@router.get("/rigs/{rig_id}/cost")
def rig_cost(
    rig_id: str, store: StoreDep, preferences: PreferencesDep, shelf: ShelfDep, clock: ClockDep, warnings: bool = False
) -> Cost:
    """What a rig costs, and the shopping list with the parts that cure what breaks; on request what strains too."""
    return _cost(store.rigs.get(rig_id).rig, preferences, shelf, clock, warnings)


@router.get("/rigs/{rig_id}/shopping.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def shopping_csv(
    rig_id: str, store: StoreDep, preferences: PreferencesDep, shelf: ShelfDep, clock: ClockDep, warnings: bool = False
) -> Response:
    """The shopping list as CSV."""
    answer = _cost(store.rigs.get(rig_id).rig, preferences, shelf, clock, warnings)
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(("part", "kind", "price", "currency", "why"))
    for line in answer.shopping:
        rows.writerow(
            (
                guarded(str(line.name)),
                line.kind,
                "" if line.amount is None else line.amount,
                line.currency or "",
                guarded(str(line.why)),
            )
        )
    return a_file(out.getvalue(), "text/csv; charset=utf-8", f"{rig_id}-shopping.csv")


def _cost(rig: Rig, preferences: Preferences, shelf: ShelfDep, clock: ClockDep, warnings: bool) -> Cost:
    return cost(rig, STEPS.evaluate(rig, preferences, shelf, tonight=clock(rig.site)), shelf, warnings=warnings)


@router.post("/growth")
def stages(given: GrowthGiven, store: StoreDep, preferences: PreferencesDep) -> list[StageView]:
    """Each stage judged: what carries over, what it costs, what it newly makes possible, what will not survive."""
    results = [(stage.title, store.rigs.get(stage.rig).rig) for stage in given.growth.stages]
    return list(grow(results, preferences, [entry.body for entry in store.targets.all(most=MOST_TARGETS)]))
