"""A new owner's first calls: the demo copied in and taken out again."""

import pytest
from fastapi.testclient import TestClient

from dravel.api.app import create_app
from dravel.catalogue.demo import scenario
from dravel.config import Settings
from dravel.core.model import Rig, Target
from dravel.store import Store

V1 = "/api/v1"


@pytest.fixture
def store(tmp_path):
    store = Store(tmp_path / "begin.sqlite")
    yield store
    store.close()


@pytest.fixture
def client(store):
    with TestClient(create_app(store, Settings()), base_url="http://localhost") as client:
        yield client


def test_the_demo_is_copied_in_once_and_taken_out_again(client, store):
    store.rigs.create(Rig(name="Mine"))
    store.targets.add(Target(name="My own", ra_deg=1, dec_deg=2))
    assert client.get(f"{V1}/demo").json() == {"rigs": []}
    answer = client.post(f"{V1}/demo")
    assert answer.status_code == 201 and answer.json()["rigs"] == ["wren", "heron", "bittern", "magpie"]
    parts = store.parts.count()
    assert client.post(f"{V1}/demo").status_code == 201, "again changes nothing"
    assert store.parts.count() == parts and store.rigs.count() == 5 and store.targets.count() == 9
    assert client.delete(f"{V1}/demo").status_code == 204
    assert [name for _, _, name in store.rigs.names()] == ["Mine"]
    assert [target.body.name for target in store.targets.all()] == ["My own"] and store.sites.count() == 0
    assert client.post(f"{V1}/demo").json()["rigs"], "and it can come back"
    assert store.rigs.count() == 5 and store.targets.count() == 9 and store.sites.count() == 2


def test_what_the_owner_has_under_the_same_name_stays(client, store):
    """A rig of one's own named as the demo's, the same M101, a demo site that was changed since."""
    m101 = next(target for target in scenario().targets if target.name == "M101")
    own = store.rigs.create(Rig(name="Heron"))
    assert own.id == "heron" and store.targets.add(m101)[0].id == m101.id
    answer = client.post(f"{V1}/demo").json()["rigs"]
    assert len(answer) == 4 and "heron" not in answer and store.rigs.count() == 5
    terrace = store.sites.get("town-terrace")
    store.sites.replace("town-terrace", terrace.body.model_copy(update={"humidity": 0.7}), terrace.version)
    client.delete(f"{V1}/demo")
    assert [rig_id for rig_id, _, _ in store.rigs.names()] == ["heron"]
    assert [item.body for item in store.targets.all()] == [m101]
    assert [site.id for site in store.sites.all()] == ["town-terrace"]


def test_a_site_where_another_rig_stands_stays(client, store):
    client.post(f"{V1}/demo")
    site = store.sites.all()[0]
    store.rigs.create(Rig(name="Mine", site=site.body))
    client.delete(f"{V1}/demo")
    assert [item.id for item in store.sites.all()] == [site.id]
