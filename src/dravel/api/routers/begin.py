"""Beginning: the demo rigs copied in to look around in, and taken out again."""

from contextlib import suppress
from typing import Any

from fastapi import APIRouter

from dravel.api.deps import StoreDep
from dravel.catalogue.demo import scenario
from dravel.core.model.base import Model
from dravel.store import Store, Unknown

router = APIRouter(prefix="/demo", tags=["begin"])


class DemoState(Model):
    """Which of the demo's rigs are here, put away ones left out."""

    rigs: tuple[str, ...]


@router.get("")
def read_demo(store: StoreDep) -> DemoState:
    """Which of the demo's rigs are here."""
    here = {rig_id for rig_id, _, _ in store.rigs.names()}
    return DemoState(rigs=tuple(rig_id for rig_id, _ in scenario().rigs if rig_id in here))


@router.post("", status_code=201)
def copy_demo(store: StoreDep) -> DemoState:
    """Copy the demo's rigs in, with their parts, targets and sites; what was there before stays as it is."""
    demo = scenario()
    with store.database.write():
        for kept, bodies in _collections(store):
            known = kept.ids()
            kept.add(*(body for body in bodies if body.id not in known))
            for body in bodies:
                if body.id in known:
                    kept.archive(body.id, archived=False)
        for rig_id, rig in demo.rigs:
            try:
                store.rigs.archive(rig_id, archived=False)
            except Unknown:
                store.rigs.create(rig, rig_id, note="demo")
    return read_demo(store)


@router.delete("", status_code=204)
def remove_demo(store: StoreDep) -> None:
    """Put the demo's rigs away again, with its targets, and its sites where no other rig stands; parts stay on the shelf."""
    demo = scenario()
    with store.database.write():
        for rig_id, _ in demo.rigs:
            with suppress(Unknown):
                store.rigs.archive(rig_id)
        stands = {rig.site.id for rig in (record.rig for record in store.rigs.all()) if rig.site}
        for kept, bodies in _collections(store)[1:]:
            for body in bodies:
                if body.id not in stands:
                    with suppress(Unknown):
                        kept.archive(body.id)


def _collections(store: Store) -> list[tuple[Any, tuple[Any, ...]]]:
    demo = scenario()
    return [
        (store.parts, demo.parts),
        (store.sites, demo.sites),
        (store.targets, demo.targets),
        (store.growths, demo.growths),
    ]
