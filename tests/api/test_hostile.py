"""Hostile bodies: huge, odd, repeated. Each is answered in words, in bounded time, and nobody else waits for it."""

import asyncio
import json
import sqlite3
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import event, text

from dravel.api.app import create_app
from dravel.api.large_bodies import LARGE, LargeBodies
from dravel.config import Settings
from dravel.core.model import Rig
from dravel.store import Store

V1 = "/api/v1"


def rig(**fields: object) -> str:
    return json.dumps({"rig": {"name": "x", **fields}})


def a_file(**fields: object) -> str:
    return json.dumps({"format": "dravel-rig", "version": 1, "rig": {"name": "x", **fields}})


BODIES = {
    "keys": ("/rigs", rig(**{f"k{i}": 1 for i in range(200_000)})),
    "keys in parts": ("/evaluate", rig(path=[{"part": {"kind": "camera", **{f"k{i}": 1 for i in range(3000)}}}] * 60)),
    "empty items": ("/rigs", rig(path=[{}] * 900_000)),
    "bad items": ("/rigs", rig(path=[{"part": {"kind": "camera", "zz": 1}}] * 80_000)),
    "framings": ("/rigs", rig(framings=[{"target": {}}] * 150_000)),
    "compared": ("/compare", json.dumps({"entries": [{}] * 900_000})),
    "digits": ("/rigs", '{"rig": {"name": "x", "binning": ' + "9" * 400 + "}}"),
    "more digits": ("/rigs", '{"rig": {"name": "x", "binning": ' + "9" * 5000 + "}}"),
    "deep": ("/rigs", "[" * 500_000),
    "file of keys": ("/rigs/import", a_file(**{f"k{i}": 1 for i in range(120_000)})),
    "file of twins": ("/rigs/import", '{"format":"dravel-rig","rig":{' + ",".join(f'"a{i % 60_000}":1' for i in range(120_000)) + "}}"),
    "file of items": ("/rigs/import", a_file(path=[{"part": {"kind": "camera", "zz": 1}}] * 40_000)),
}  # fmt: skip
TEXTS = {
    "horizon": ("/sky/horizon", "x y\n" * 900_000),
    "shelf": ("/parts.csv", "kind,name\n" + "x,\n" * 900_000),
    "cameras": ("/parts.csv", "kind,name\n" + "camera,c\n" * 400_000),
    "targets": ("/targets/file", "name,ra,dec\n" + "x,9999,12\n" * 190_000),
}


@pytest.mark.parametrize("name", BODIES)
def test_a_hostile_body_is_refused_in_a_few_words(client, name):
    path, body = BODIES[name]
    answer = client.post(V1 + path, content=body.encode()[:4_000_000], headers={"content-type": "application/json"})
    assert answer.status_code in (400, 422), answer.text[:300]
    report = answer.json()
    assert len(answer.content) < 60_000 and report["detail"] and len(report["errors"]) <= 101


@pytest.mark.parametrize("name", TEXTS)
def test_a_file_of_wrong_lines_is_read_so_far_and_told(client, name):
    path, text = TEXTS[name]
    answer = client.post(V1 + path, content=text.encode()[:4_000_000], headers={"content-type": "text/plain"})
    report = answer.json()
    assert answer.status_code == 200 and len(report["faults"]) == 100 and report["more"] > 800


def test_the_last_fault_says_that_nothing_more_was_read():
    from dravel.formats import horizon

    points, wrong = horizon.read("10 5\n" + "x y\n" * 5000 + "20 5\n")
    assert len(points) == 1 and "nothing was read" in wrong[-1][1].reason and len(wrong) == 1002


@pytest.mark.parametrize("size", [10, LARGE])
def test_a_large_body_is_checked_apart_from_the_loop_that_answers_everybody(size):
    """By the thread that the application runs in: its own loop's for a large body, the common one else."""
    where: list[int] = []

    async def application(scope, receive, send):
        message = await receive()
        where.append(threading.get_ident())
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": str(len(message["body"])).encode()})

    lines: list[dict] = []
    pieces = [b"x" * (size // 2), b"x" * (size - size // 2)]

    async def receive():
        piece = pieces.pop(0)
        return {"type": "http.request", "body": piece, "more_body": bool(pieces)}

    async def send(message):
        lines.append(message)

    headers = [(b"content-length", str(size).encode())]
    home: list[int] = []

    async def served():
        home.append(threading.get_ident())
        scope = {"type": "http", "method": "POST", "path": "/", "headers": headers}
        await LargeBodies(application)(scope, receive, send)

    # In a thread of its own: the browser's tests may have left a loop running in this one.
    with ThreadPoolExecutor(1) as thread:
        thread.submit(asyncio.run, served()).result()
    assert (where[0] != home[0]) == (size >= LARGE)
    assert lines[0]["status"] == 200 and lines[1]["body"] == (str(size) if size >= LARGE else str(size // 2)).encode()


@pytest.mark.parametrize(
    "path",
    ["/%00", "/" + "a" * 5000, "/assets/%00", f"{V1}/rigs/%00", f"{V1}/rigs/{'a' * 300}", f"{V1}/parts/%ED%A0%80",
     f"{V1}/rigs/heron/revisions/{'9' * 400}", f"{V1}/board?site=%00", f"{V1}/search?q=%00", f"{V1}/damaged/%00/%0a",
     f"{V1}/rigs/heron/figures/%00"],
)  # fmt: skip
def test_an_odd_address_is_answered_in_words(client, path):
    answer = client.get(path)
    assert answer.status_code in (200, 404, 422), answer.status_code
    assert "Traceback" not in answer.text


def test_a_database_that_another_program_locks_is_said_and_hinders_no_reading(tmp_path, monkeypatch):
    monkeypatch.setattr("dravel.store.database.BUSY_S", 0.3)
    store = Store(tmp_path / "locked.sqlite")
    store.rigs.create(Rig(name="here"))
    with TestClient(create_app(store, Settings()), base_url="http://localhost") as client:
        other = sqlite3.connect(tmp_path / "locked.sqlite", isolation_level=None)
        other.execute("BEGIN IMMEDIATE")
        assert [item["name"] for item in client.get(f"{V1}/rigs").json()] == ["here"]
        refused = client.post(f"{V1}/rigs", json={"rig": {"name": "later"}})
        assert refused.status_code == 503 and "locked" in refused.json()["detail"]
        assert client.get(f"{V1}/board").status_code == 200
        other.execute("ROLLBACK")
        assert client.post(f"{V1}/rigs", json={"rig": {"name": "later"}}).status_code == 201
        other.close()
    store.close()


def test_a_full_disk_is_said_and_nothing_is_shown_as_kept(tmp_path):
    store = Store(tmp_path / "full.sqlite")
    with TestClient(create_app(store, Settings()), base_url="http://localhost") as client:
        made = client.post(f"{V1}/rigs", json={"rig": {"name": "before"}}).json()
        with store.database.read() as session:  # as a disk of so many pages
            pages = session.execute(text("PRAGMA page_count")).scalar()

        @event.listens_for(store.database._engine, "begin")
        def small(link):
            link.exec_driver_sql(f"PRAGMA max_page_count = {pages}")

        answers = []
        for n in range(12):
            long = {"rig": {"name": f"after {n}", "notes": "x" * 4000}, "base": n + 1}
            answers.append(client.put(f"{V1}/rigs/{made['id']}", json=long))
            if answers[-1].status_code != 200:
                break
        full = answers[-1]
        assert full.status_code == 507 and "room" in full.json()["detail"], full.text
        kept = client.get(f"{V1}/rigs/{made['id']}").json()
        assert kept["revision"] == len(answers)
        event.remove(store.database._engine, "begin", small)
        with store.database._engine.connect() as link:
            link.exec_driver_sql("PRAGMA max_page_count = 1000000")
        assert client.put(f"{V1}/rigs/{made['id']}", json=long).status_code == 200
    store.close()
