"""Parts, targets, sites and the preferences."""

from collections.abc import Iterator
from typing import Annotated, Any, Generic, TypeVar

from fastapi import APIRouter, Response
from pydantic import Field, create_model
from starlette.responses import StreamingResponse

from dravel.api.deps import BodyDep, KeyDep, PreferencesDep, StoreDep, once
from dravel.api.files import a_file
from dravel.core.model import (
    CONNECTOR_SIZES,
    Assembly,
    ConnectorSize,
    Growth,
    Preferences,
    Rig,
    Site,
    Target,
    part_adapter,
)
from dravel.core.model.base import WHOLE, Model
from dravel.core.model.gear import AnyPart
from dravel.core.overview.change import Change, change_of
from dravel.core.steps import STEPS
from dravel.core.train.assembly import AssemblyFacts, facts
from dravel.formats import parts_csv, target_files
from dravel.formats.reports import CsvReport
from dravel.store.rigs import RigRecord
from dravel.work.imports import kept, parts_in, targets_in

router = APIRouter()
Version = Annotated[int, Field(ge=0, le=10**9), WHOLE]
MOST_TOLD = 20  # rigs that a change reaches, told one by one
B = TypeVar("B")


class Kept(Model, Generic[B]):
    """A kept thing and its version."""

    id: str
    version: int
    body: B


class Changed(Model, Generic[B]):
    """A changed thing, and the version it was changed from."""

    base: Version
    body: B


class TouchedRig(Change):
    """A rig that a change of a kept thing reaches, and what it does there."""

    rig_id: str
    name: str


class Touched(Model):
    """The rigs that a change reaches, the first of them with what it does there, and how many more there are."""

    rigs: tuple[TouchedRig, ...]
    more: int


def _collection(path: str, name: str, body: Any) -> None:
    """The same seven calls for parts, targets and sites."""
    tag = path
    # Named models, so that the OpenAPI document and the client speak of PartKept and SiteChanged.
    entry: Any = create_model(f"{name.capitalize()}Kept", __base__=Kept[body])
    changed: Any = create_model(f"{name.capitalize()}Changed", __base__=Changed[body])

    def store_of(store: StoreDep) -> Any:
        return getattr(store, path)

    @router.get(f"/{path}", tags=[tag], name=f"list_{path}", response_model=list[entry])
    def everything(store: StoreDep) -> Any:
        """All of them that are not archived, in their order."""

        def told() -> Iterator[bytes]:
            yield b"["
            for k, block in enumerate(filter(None, store_of(store).blocks())):
                rows = (entry.model_construct(**vars(item)).model_dump_json() for item in block)
                yield (b"," if k else b"") + ",".join(rows).encode()
            yield b"]"

        # As it is read: of a hundred thousand targets the whole answer would be four hundred megabytes of objects.
        return StreamingResponse(told(), media_type="application/json")

    @router.post(f"/{path}", tags=[tag], name=f"add_{name}", status_code=201, response_model=entry)
    def add(given: body, store: StoreDep, key: KeyDep = "") -> Any:
        """Add one; `Idempotency-Key` makes a repeated call answer as the first did."""
        return once(store_of(store).add, given, key=key)[0]

    @router.get(f"/{path}/{{entry_id}}", tags=[tag], name=f"read_{name}", response_model=entry)
    def read(entry_id: str, store: StoreDep) -> Any:
        """One of them, at its newest version."""
        return store_of(store).get(entry_id)

    @router.put(f"/{path}/{{entry_id}}", tags=[tag], name=f"change_{name}", response_model=entry)
    def change(entry_id: str, given: changed, store: StoreDep) -> Any:
        """Save one in place of the version it was made on; 409 when a newer one is here."""
        wanted: Any = given
        return store_of(store).replace(entry_id, wanted.body, wanted.base)

    @router.post(f"/{path}/{{entry_id}}/touches", tags=[tag], name=f"{name}_touches", response_model=Touched)
    def touches(entry_id: str, given: body, store: StoreDep, preferences: PreferencesDep) -> Any:
        """What keeping it so would do in every rig that has it; nothing is kept."""
        result, more = store_of(store).touches(entry_id, given, MOST_TOLD)
        return Touched(rigs=tuple(_touched(record, rig, preferences) for record, rig in result), more=more)

    @router.delete(f"/{path}/{{entry_id}}", tags=[tag], name=f"archive_{name}", status_code=204)
    def archive(entry_id: str, store: StoreDep) -> None:
        """Archive one. It can be restored."""
        store_of(store).archive(entry_id)

    @router.post(f"/{path}/{{entry_id}}/restore", tags=[tag], name=f"restore_{name}", response_model=entry)
    def restore(entry_id: str, store: StoreDep) -> Any:
        """Restore an archived one."""
        return store_of(store).archive(entry_id, archived=False)


def _touched(record: RigRecord, rig: Rig, preferences: Preferences) -> TouchedRig:
    change = change_of(STEPS.context(record.rig, preferences), rig)
    return TouchedRig(**dict(change), rig_id=record.id, name=record.rig.name)


@router.get("/parts.csv", tags=["parts"], response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def parts_as_csv(store: StoreDep) -> Response:
    """All parts as CSV."""
    text = parts_csv.write([entry.body for entry in store.parts.all()])
    return a_file(text, "text/csv; charset=utf-8", "shelf.csv")


@router.post(
    "/parts.csv",
    tags=["parts"],
    openapi_extra={"requestBody": {"required": True, "content": {"text/csv": {"schema": {"type": "string"}}}}},
)
def parts_from_csv(given: BodyDep, store: StoreDep, keep: bool = False) -> CsvReport:
    """Read parts from CSV. Without `keep` it only reports; with it the good lines are added."""
    result, answer = parts_in(given)
    return kept(result, answer, store.parts) if keep else answer


@router.get("/parts/schema", tags=["parts"])
def parts_schema() -> dict[str, Any]:
    """JSON Schema of every kind of part, with titles, units and ranges: forms are drawn from it."""
    return part_adapter.json_schema()


@router.get("/connectors", tags=["parts"])
def connectors(store: StoreDep) -> list[ConnectorSize]:
    """The connector table, the user's own sizes last."""
    return [*CONNECTOR_SIZES.values(), *store.preferences()[0].connector_sizes]


@router.get("/targets.csv", tags=["targets"], response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def targets_as_csv(store: StoreDep) -> Response:
    """All targets as CSV."""
    text = target_files.write_csv(entry.body for entry in store.targets.each())
    return a_file(text, "text/csv; charset=utf-8", "targets.csv")


@router.get("/targets.vot", tags=["targets"], response_class=Response,
            responses={200: {"content": {"application/x-votable+xml": {}}}})  # fmt: skip
def targets_as_votable(store: StoreDep) -> Response:
    """All targets as VOTable."""
    text = target_files.write_votable(entry.body for entry in store.targets.each())
    return a_file(text, "application/x-votable+xml", "targets.vot")


@router.post(
    "/targets/file",
    tags=["targets"],
    openapi_extra={"requestBody": {"required": True, "content": {"text/plain": {"schema": {"type": "string"}}}}},
)
def targets_from_file(given: BodyDep, store: StoreDep, keep: bool = False) -> CsvReport:
    """Read targets from CSV or VOTable. Without `keep` it only reports; with it the good lines are added."""
    result, answer = targets_in(given)
    return kept(result, answer, store.targets) if keep else answer


_collection("parts", "part", AnyPart)
_collection("targets", "target", Target)
_collection("sites", "site", Site)
_collection("assemblies", "assembly", Assembly)
_collection("growths", "growth", Growth)


@router.get("/assemblies/{entry_id}/facts", tags=["assemblies"])
def assembly_facts(entry_id: str, store: StoreDep) -> AssemblyFacts:
    """Length, mass and ends of an assembly."""
    return facts(store.assemblies.get(entry_id).body)


class PreferencesKept(Kept[Preferences]):
    """The preferences and its version."""


class PreferencesChanged(Changed[Preferences]):
    """A changed preferences, and the version it was changed from."""


@router.get("/preferences", tags=["preferences"])
def read_preferences(store: StoreDep) -> PreferencesKept:
    """The user's preferences."""
    preferences, version = store.preferences()
    return PreferencesKept(id="preferences", version=version, body=preferences)


@router.put("/preferences", tags=["preferences"])
def change_preferences(given: PreferencesChanged, store: StoreDep) -> PreferencesKept:
    """Keep a changed preferences."""
    return PreferencesKept(id="preferences", version=store.save_preferences(given.body, given.base), body=given.body)
