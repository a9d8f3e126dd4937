"""What a new database starts with: the starter shelf, or the whole demo scenario."""

from datetime import date

from dravel.catalogue.demo import scenario
from dravel.catalogue.demo_log import demo_sessions
from dravel.catalogue.starter_shelf import starter_shelf
from dravel.store import Store


def seed_starter(store: Store) -> None:
    """The starter shelf, so that a newcomer can sketch a rig."""
    store.parts.add(*starter_shelf())


def top_up(store: Store) -> int:
    """Starter parts that came with a newer version, added to a shelf that was filled by an older one; how many."""
    known = store.parts.ids()
    fresh = [part for part in starter_shelf() if part.id not in known]
    if fresh:
        store.parts.add(*fresh)
    return len(fresh)


def seed_demo(store: Store, today: date | None = None) -> None:
    """The demo scenario; with an evening also a log of the nights before it."""
    demo = scenario()
    store.parts.add(*demo.parts)
    store.sites.add(*demo.sites)
    store.targets.add(*demo.targets)
    for rig_id, rig in demo.rigs:
        store.rigs.create(rig, rig_id, note="demo")
    store.growths.add(*demo.growths)
    if today is not None:
        for record in demo_sessions(today):
            store.sessions.add(record)
