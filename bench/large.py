"""Much of everything: a thousand rigs, twenty thousand targets, shelves of converters. Times of whole answers."""

import random
import tempfile
from collections.abc import Callable
from pathlib import Path

from fastapi.testclient import TestClient

from dravel.api.app import create_app
from dravel.catalogue.demo import scenario
from dravel.config import Settings
from dravel.core.model import Target
from dravel.core.train.solver import Wanted, solve
from dravel.store import Store
from tests.core.test_solver import converters, ring, thread

V1 = "/api/v1"
RIGS, TARGETS = 1000, 20_000


def large(median_ms: Callable[..., float], row: Callable[..., None]) -> None:
    """Times of answers over much data, each beside an answer that reads nothing."""
    with tempfile.TemporaryDirectory() as folder:
        store = filled(Path(folder) / "large.sqlite")
        with TestClient(create_app(store, Settings()), base_url="http://localhost") as client:
            nothing = median_ms(lambda: client.get(f"{V1}/steps"), 10)

            def time(what: str, call: Callable[[], object], limit: float) -> None:
                took = median_ms(call, 5, 1)
                row(what, took, "ms", limit, f"{took / nothing:.0f} × an answer that reads nothing ({nothing:.1f} ms)")

            time(f"a page of the Board, {RIGS} rigs, {TARGETS} targets", lambda: client.get(f"{V1}/board"), 1000)
            part = client.get(f"{V1}/parts/battery-74").json()

            def edit() -> None:
                kept = client.get(f"{V1}/parts/battery-74").json()
                body = {**part["body"], "mass_g": 500 + kept["version"]}
                assert (
                    client.put(f"{V1}/parts/battery-74", json={"base": kept["version"], "body": body}).status_code
                    == 200
                )

            time(f"a part changed in {RIGS // 2} of {RIGS} rigs", edit, 1000)
            time(
                "which rigs a change reaches",
                lambda: client.post(f"{V1}/parts/battery-74/touches", json=part["body"]),
                1000,
            )
            page = [target.id for target in store.targets.all(0, 60)]
            asked = {"site": "alto-de-veleda", "targets": page}
            time("years of a page of targets", lambda: client.post(f"{V1}/sky/years", json=asked), 1000)
        store.close()
    rear = thread(0).model_copy(update={"gender": "male"})
    some, more, wanted = converters(12, 4), converters(90, 10), Wanted(rear, thread(1), 12.0, 0.05)
    few = median_ms(lambda: solve(wanted, some), 5)
    many = median_ms(lambda: solve(wanted, more), 5)
    row("ring solver, 90 converters among 10 sizes", many, "ms", 150, f"{many / few:.0f} × 12 among 4")
    dice = random.Random(2)
    rings = tuple(ring(round(dice.uniform(0.5, 40), 2), thread(0), rear, f"m{n}") for n in range(5000))
    took = median_ms(lambda: solve(Wanted(rear, thread(0), 37.5, 0.02), rings), 5)
    row("ring solver, 5,000 rings", took, "ms", 150, f"{took / few:.0f} × 12 converters")


def filled(path: Path) -> Store:
    """The demo's rigs and targets over and over, in one database."""
    store, demo, dice = Store(path), scenario(), random.Random(1)
    with store.database.write():
        store.parts.add(*demo.parts)
        store.sites.add(*demo.sites)
        for n in range(RIGS):
            rig = demo.rigs[n % len(demo.rigs)][1]
            store.rigs.create(rig.model_copy(update={"name": f"{rig.name} {n}"}))
        store.targets.add(
            *(
                Target(
                    name=f"T {n}", ra_deg=dice.uniform(0, 360), dec_deg=dice.uniform(-30, 90),
                    major_arcmin=dice.uniform(1, 200),
                )
                for n in range(TARGETS)
            )
        )  # fmt: skip
    return store
