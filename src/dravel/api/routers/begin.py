"""Beginning: the demo rigs copied in to look around in, and taken out again."""

from typing import Any

from fastapi import APIRouter

from dravel.api.deps import StoreDep
from dravel.catalogue.demo import scenario
from dravel.core.model.base import Model
from dravel.store import Store

router = APIRouter(prefix="/demo", tags=["begin"])
NOTE = "demo"  # with which its rigs are made
LIST = "demo"  # that its targets stand in


class DemoState(Model):
    """Which of the demo's rigs are here, put away ones left out."""

    rigs: tuple[str, ...]


@router.get("")
def read_demo(store: StoreDep) -> DemoState:
    """Which of the demo's rigs are here."""
    return DemoState(rigs=tuple(rig_id for rig_id, away in store.rigs.made_as(NOTE).items() if not away))


@router.post("", status_code=201)
def copy_demo(store: StoreDep) -> DemoState:
    """Copy the demo's rigs in, with their parts, targets and sites; what was there before stays as it is."""
    demo = scenario()
    with store.database.write():
        store.parts.add(*_lacking(store.parts, demo.parts))
        for kept, bodies in _places_and_targets(store):
            kept.add(*_lacking(kept, bodies))
            for entry in kept.some([body.id for body in bodies]):
                if entry.body in bodies:
                    kept.archive(entry.id, archived=False)
        before = store.rigs.made_as(NOTE)
        for rig_id in before:
            store.rigs.archive(rig_id, archived=False)
        for rig_id, rig in demo.rigs if not before else ():
            store.rigs.create(rig, rig_id, note=NOTE)
    return read_demo(store)


@router.delete("", status_code=204)
def remove_demo(store: StoreDep) -> None:
    """Put the demo's rigs away again, with its targets and paths of growth, and its sites where no other rig stands.

    What the user had before or has changed since is the user's and stays, as do parts on the shelf.
    """
    with store.database.write():
        for rig_id in store.rigs.made_as(NOTE):
            store.rigs.archive(rig_id)
        stands = {rig.site.id for rig in (record.rig for record in store.rigs.all()) if rig.site}
        for kept, bodies in _places_and_targets(store):
            for entry in kept.some([body.id for body in bodies]):
                if entry.body in bodies and entry.id not in stands:
                    kept.archive(entry.id)


def _lacking(kept: Any, bodies: tuple[Any, ...]) -> list[Any]:
    known = kept.ids()
    return [body for body in bodies if body.id not in known]


def _places_and_targets(store: Store) -> list[tuple[Any, tuple[Any, ...]]]:
    demo = scenario()
    # Said on each target, so that one the user keeps under the same number is told apart.
    targets = tuple(target.model_copy(update={"lists": (*target.lists, LIST)}) for target in demo.targets)
    return [(store.sites, demo.sites), (store.targets, targets), (store.growths, demo.growths)]
