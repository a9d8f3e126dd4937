import gc
import shutil
from collections.abc import Iterator
from datetime import date
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import settings

from dravel.api.access import kept_hash
from dravel.api.app import create_app
from dravel.catalogue.demo import Scenario, scenario
from dravel.config import Settings
from dravel.core.design.designer import Designer
from dravel.core.model import Camera, Corrector, Framing, PathItem, Rig, Sensor, Site, Target, Telescope
from dravel.seed import seed_demo
from dravel.store import Store
from dravel.work.workers import Workers
from tests.long import is_long

# A busy machine is no fault of what is tested: how quick things are is measured by `make bench`.
settings.register_profile("dravel", deadline=None)
settings.load_profile("dravel")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Long proofs run where they are asked for: `make soak`."""
    for item in items:
        if is_long(item.nodeid):
            item.add_marker("long")


def pytest_collection_finish() -> None:
    """The command line loads without collecting garbage; thousands of tests must not run so."""
    gc.enable()


@pytest.fixture(scope="session")
def demo() -> Scenario:
    return scenario()


@pytest.fixture
def rigs(demo: Scenario) -> dict[str, Rig]:
    return dict(demo.rigs)


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    made = Store(tmp_path / "test.sqlite")
    yield made
    made.close()


@pytest.fixture(scope="session")
def seeded(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with the demo in it, to be copied."""
    path = tmp_path_factory.mktemp("seeded") / "demo.sqlite"
    store = Store(path)
    seed_demo(store)
    store.close()
    return path


@pytest.fixture
def demo_store(seeded: Path, tmp_path: Path) -> Iterator[Store]:
    made = Store(Path(shutil.copy(seeded, tmp_path / "test.sqlite")))
    yield made
    made.close()


@pytest.fixture(scope="session")
def application(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """One application for all tests of a worker: making one takes longer than most of them."""
    nothing = Store(tmp_path_factory.mktemp("nothing") / "nothing.sqlite")
    with TestClient(create_app(nothing, Settings(tonight=date(2026, 11, 25))), base_url="http://localhost") as made:
        yield made
    nothing.close()


@pytest.fixture
def client(application: TestClient, demo_store: Store, tmp_path: Path) -> Iterator[TestClient]:
    """The application as it starts, over fresh demo data."""
    state, workers = application.app.state, Workers(demo_store)  # type: ignore[attr-defined]
    kept = dict(state._state)
    state._state.update(store=demo_store, workers=workers, designer=Designer(), backup_failed="")
    state.access.__init__(kept_hash(tmp_path), data=tmp_path)
    application.cookies.clear()
    headers = application.headers.copy()
    yield application
    application.headers = headers
    workers.close()
    state._state.update(kept)


def a_telescope(**changes: object) -> Telescope:
    base = {
        "name": "86 mm triplet",
        "aperture_mm": 86,
        "focal_length_mm": 464,
        "design": "triplet",
        "image_circle_mm": 42,
    }
    return Telescope.model_validate(base | changes)


def a_camera(width: int = 5200, height: int = 3900, pixel: float = 3.5, **changes: object) -> Camera:
    sensor = Sensor(width_px=width, height_px=height, pixel_um=pixel)
    return Camera.model_validate({"name": "camera", "sensor": sensor, **changes})


def a_corrector(**changes: object) -> Corrector:
    return Corrector.model_validate({"name": "reducer", "role": "reducer", "factor": 0.8, **changes})


def a_rig(*parts: object, **changes: object) -> Rig:
    path = tuple(PathItem.model_validate({"part": part}) for part in parts)
    return Rig.model_validate({"name": "Test rig", "path": path, **changes})


SOUTH = Site(
    name="southern plateau", latitude_deg=-30, longitude_deg=-70, elevation_m=1500, timezone="America/Santiago",
    sky_class=2,
)  # fmt: skip


def a_framing(
    major: float = 60, minor: float = 60, angle: float = 0, ra: float = 40, dec: float = 60, **more: object
) -> Framing:
    target = Target(
        name="Cloud", ra_deg=ra, dec_deg=dec, major_arcmin=major, minor_arcmin=minor, position_angle_deg=angle
    )
    return Framing.model_validate({"target": target, "centre_ra_deg": ra, "centre_dec_deg": dec, **more})
