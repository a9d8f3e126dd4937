"""Rigs: saved as revisions, undone and redone, imported and exported as files."""

from collections.abc import Callable, Iterator
from contextlib import suppress
from typing import Annotated, Literal

from fastapi import APIRouter, HTTPException, Query, Response
from pydantic import Field

from dravel.api.deps import BodyDep, KeyDep, PreferencesDep, StoreDep, once
from dravel.api.files import a_file
from dravel.api.tonight import ClockDep
from dravel.core.model import Rig
from dravel.core.model.base import WHOLE, Identifier, Model, YesNo
from dravel.core.model.inventory import parts_of
from dravel.core.overview.board import Board, board, score
from dravel.core.overview.suits import RigsForTargets, rigs_for_targets
from dravel.core.sky.ranking import Worth
from dravel.core.train.assembly import with_part_everywhere
from dravel.formats import rig_file
from dravel.store import Damaged, RigRecord, Store, Unknown

router = APIRouter(tags=["rigs"])
MOST_ROWS, MOST_COLUMNS = 40, 40  # of one page of the Board
RIG_FILE = {
    "type": "object",
    "description": "A rig file; see /schema/rig-file",
    "required": ["format", "version", "rig"],
    "properties": {
        "format": {"const": rig_file.FORMAT},
        "version": {"const": rig_file.VERSION},
        "rig": {"$ref": "#/components/schemas/Rig"},
    },
    "additionalProperties": False,
}
First = Annotated[int, Query(ge=0, le=10**9)]
Base = Annotated[int, Field(ge=0, le=10**9, description="The revision the change was made on"), WHOLE]


class RigKept(Model):
    """A rig with the revision it stands at; `merged` tells what a save took over from a change made elsewhere."""

    id: str
    revision: int
    saved_at: str
    note: str
    can_undo: bool
    can_redo: bool
    rig: Rig
    merged: tuple[str, ...] = ()


class RigListed(Model):
    """A rig in a list."""

    id: str
    revision: int
    name: str


class BoardPage(Board):
    """Rigs × targets, those of one page: where it begins, how many a page holds, and how many there are."""

    rigs_from: int
    rigs_most: int
    rigs_of: int
    targets_from: int
    targets_most: int
    targets_of: int


class RigStepped(RigKept):
    """A rig after undo or redo; `behind` names parts that the shelf knows otherwise than this revision does."""

    behind: tuple[str, ...] = ()


class RigNew(Model):
    """A rig to keep."""

    rig: Rig


class RigSave(Model):
    """A changed rig, and the revision it was changed from. With `on_top` it stands in the fields that another save changed too;
    what that one changed elsewhere stays.
    """

    rig: Rig
    base: Base
    on_top: YesNo = False
    note: Annotated[str, Field(max_length=4000, description="Kept as far as 200 characters go")] = ""


class OnRevision(Model):
    """The revision an undo or redo is meant for."""

    base: Base


class RevisionKept(Model):
    """A revision in the list."""

    number: int
    saved_at: str
    note: str


@router.get("/board")
def read_board(
    store: StoreDep, preferences: PreferencesDep, clock: ClockDep, site: str | None = None, rigs_from: First = 0,
    targets_from: First = 0,
) -> BoardPage:  # fmt: skip
    """Rigs against listed targets, at a site (the first kept when none is named) on the night: a page of each."""
    rigs = [(record.id, record.revision, record.rig) for record in store.rigs.all(rigs_from, MOST_ROWS)]
    targets = [entry.body for entry in store.targets.all(targets_from, MOST_COLUMNS)]
    kept = store.sites.get(site).body if site else next((entry.body for entry in store.sites.all()), None)
    answer = board(rigs, targets, preferences, kept, clock(kept), clock)
    return BoardPage.model_construct(
        **vars(answer),
        rigs_from=rigs_from, rigs_most=MOST_ROWS, rigs_of=store.rigs.count(),
        targets_from=targets_from, targets_most=MOST_COLUMNS, targets_of=store.targets.count(),
    )  # fmt: skip


@router.get("/board/suits")
def read_suits(
    store: StoreDep, preferences: PreferencesDep, clock: ClockDep, site: str | None = None
) -> RigsForTargets:
    """Which rig for which target on the night, and the sizes that no rig frames well; of the Board's first page."""
    return rigs_for_targets(read_board(store, preferences, clock, site))


@router.get("/board/score")
def read_score(
    store: StoreDep,
    preferences: PreferencesDep,
    clock: ClockDep,
    rig: Identifier,
    target: Identifier,
    site: Identifier | None = None,
) -> Worth | None:
    """What the score of one cell of the Board is made of; nothing where there is none."""
    kept = store.sites.get(site).body if site else next((entry.body for entry in store.sites.all()), None)
    if kept is None:
        return None
    return score(store.rigs.get(rig).rig, store.targets.get(target).body, preferences, kept, clock(kept))


@router.get("/rigs")
def list_rigs(store: StoreDep) -> list[RigListed]:
    """All rigs by name, with their newest revision."""
    return [RigListed(id=rig_id, revision=head, name=name) for rig_id, head, name in store.rigs.names()]


@router.post("/rigs", status_code=201)
def create_rig(given: RigNew, store: StoreDep, key: KeyDep = "") -> RigKept:
    """Keep a new rig; under a key that made one before, that one is the answer."""
    return kept_rig(once(store.rigs.create, given.rig, key=key))


@router.post(
    "/rigs/import",
    status_code=201,
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {"schema": RIG_FILE}}}},
)
def import_rig(
    given: BodyDep, store: StoreDep, key: KeyDep = "", unknown: Literal["refuse", "leave_out"] = "refuse"
) -> RigKept:
    """Keep the rig in a rig file. A file that cannot be read changes nothing. One with fields that are not known here is
    refused with their list and the type `unknown-fields`; asked for again with `unknown=leave_out`, it is kept without.
    """
    rig = rig_file.read(given, without_unknown=unknown == "leave_out")
    return kept_rig(once(store.rigs.create, rig, note="imported", key=key))


@router.get("/rigs/{rig_id}")
def read_rig(rig_id: str, store: StoreDep) -> RigKept:
    """A rig at its newest revision."""
    return kept_rig(store.rigs.get(rig_id))


@router.put("/rigs/{rig_id}")
def save_rig(rig_id: str, given: RigSave, store: StoreDep) -> RigKept:
    """Keep a change as a new revision, together with one that came first; 409 when both touched the same field."""
    return kept_rig(store.rigs.save(rig_id, given.rig, given.base, given.note, on_top=given.on_top))


@router.post("/rigs/{rig_id}/undo")
def undo(rig_id: str, given: OnRevision, store: StoreDep) -> RigStepped:
    """Take the last change back, as a new revision; parts come back as they stood in it."""
    return _step(store.rigs.undo, rig_id, given.base, store)


@router.post("/rigs/{rig_id}/redo")
def redo(rig_id: str, given: OnRevision, store: StoreDep) -> RigStepped:
    """Take the last undo back, as a new revision."""
    return _step(store.rigs.redo, rig_id, given.base, store)


@router.get("/rigs/{rig_id}/revisions")
def revisions(rig_id: str, store: StoreDep) -> list[RevisionKept]:
    """All revisions, newest first."""
    return [
        RevisionKept(number=row.number, saved_at=row.saved_at, note=row.note) for row in store.rigs.revisions(rig_id)
    ]


@router.get("/rigs/{rig_id}/revisions/{number}")
def revision(rig_id: str, number: Annotated[int, Field(ge=1, le=10**9)], store: StoreDep) -> RigKept:
    """One revision."""
    return kept_rig(store.rigs.revision(rig_id, number))


@router.delete("/rigs/{rig_id}", status_code=204)
def archive_rig(rig_id: str, store: StoreDep) -> None:
    """Put a rig away. It can be brought back."""
    store.rigs.archive(rig_id)


@router.post("/rigs/{rig_id}/restore")
def restore_rig(rig_id: str, store: StoreDep) -> RigKept:
    """Bring a rig back that was put away."""
    store.rigs.archive(rig_id, archived=False)
    return kept_rig(store.rigs.get(rig_id))


@router.get("/rigs/{rig_id}/file", response_class=Response, responses={200: {"content": {"application/json": {}}}})
def export_rig(rig_id: str, store: StoreDep) -> Response:
    """The rig as a self-contained file."""
    text = rig_file.write(store.rigs.get(rig_id).rig)
    return a_file(text, "application/json", f"{rig_id}.json")


def _step(move: Callable[[str, int], RigRecord], rig_id: str, base: int, store: Store) -> RigStepped:
    try:
        record = move(rig_id, base)
    except ValueError as error:
        raise HTTPException(422, str(error)) from None
    return RigStepped.model_construct(**vars(record), behind=tuple(_behind(record.rig, store)))


def _behind(rig: Rig, store: Store) -> Iterator[str]:
    """Names of the parts that this state of a rig holds otherwise than the shelf does now."""
    for part_id, name in {part.id: part.name for part in parts_of(rig) if part.id}.items():
        with suppress(Unknown, Damaged):
            if with_part_everywhere(rig, store.parts.get(part_id).body) != rig:
                yield name


def kept_rig(record: RigRecord) -> RigKept:
    """A rig as the store has it, as an answer."""
    # The store read it through the model already: no second validation of the whole document.
    return RigKept.model_construct(**vars(record))
