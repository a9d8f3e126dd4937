"""Many entries at once: nothing of them is seen before all are there; what a killed import left is gone at the next start."""

import pytest
from sqlalchemy import text

from dravel.core.model import Target
from dravel.store import Store
from dravel.store.rigs import fresh_id
from dravel.store.staging import PIECE, Batch, batch, clear_left


def targets(count: int) -> list[Target]:
    return [Target(name=f"Cloud {k}", ra_deg=k % 360, dec_deg=10) for k in range(count)]


def test_nothing_is_seen_before_all_are_there(store: Store):
    heard: list[int] = []
    with batch(store.database) as under_way:
        keep = store.targets.add_many(under_way, targets(PIECE + 7), heard.append)
        assert heard == [PIECE, PIECE + 7]
        assert store.targets.count() == 0 and store.targets.all() == [] and not store.search.find("Cloud 3")
        with store.database.write():
            assert keep() == PIECE + 7
    assert store.targets.count() == PIECE + 7 and store.search.find("Cloud 3")
    assert [target.body.name for target in store.targets.all(PIECE, 3)] == [
        f"Cloud {k}" for k in range(PIECE, PIECE + 3)
    ]


def test_an_id_that_was_taken_meanwhile_becomes_another(store: Store):
    with batch(store.database) as under_way:
        keep = store.targets.add_many(under_way, targets(2), lambda _: None)
        store.targets.add(targets(1)[0])
        assert keep() == 2
    names = [target.body.name for target in store.targets.all()]
    assert sorted(names) == ["Cloud 0", "Cloud 0", "Cloud 1"]
    assert all(store.targets.get(target.id).body.id == target.id for target in store.targets.all())


def test_without_another_name_the_one_that_is_here_stays(store: Store):
    (here,) = store.targets.add(targets(1)[0])
    body = here.body.model_copy(update={"name": "Other"}).model_dump_json()
    with batch(store.database) as under_way:
        under_way.put([{"kind": "target", "id": here.id, "version": 1, "archived": False, "body": body}])
        with store.database.write() as session:
            assert under_way.publish(session) == 0
    assert store.targets.get(here.id).body.name == "Cloud 0"


def test_what_is_not_published_is_gone(store: Store):
    with pytest.raises(KeyError), batch(store.database) as under_way:
        store.targets.add_many(under_way, targets(3), lambda _: None)
        raise KeyError
    with pytest.raises(RuntimeError, match="restored"), store.database.write() as session:
        under_way.publish(session)


def test_what_a_killed_import_left_goes_and_what_is_under_way_stays(store: Store):
    Batch(store.database, "killed").put(
        [{"kind": "target", "id": "left", "version": 1, "archived": False, "body": targets(1)[0].model_dump_json()}]
    )
    with batch(store.database) as under_way:
        keep = store.targets.add_many(under_way, targets(2), lambda _: None)
        clear_left(store.database)
        assert keep() == 2
    with store.database.read() as session:
        assert session.scalar(text("SELECT count(*) FROM entries WHERE kind GLOB '~*'")) == 0
    assert fresh_id("left", store.targets.ids()) == "left"
