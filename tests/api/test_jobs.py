"""Jobs: files read in a process of their own, watched, stopped, and failed without harm."""

import json
import os
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.request
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.exc import OperationalError

from dravel.api.app import create_app
from dravel.config import Settings
from dravel.store import Store
from dravel.store.scratch import scratch
from dravel.work import workers
from dravel.work.__main__ import do

V1 = "/api/v1"
HEAD = "name,ra_deg,dec_deg\n"


def rows(count: int) -> str:
    return HEAD + "".join(f"T {n},{n % 360},{n % 90}\n" for n in range(count))


def ended(client: TestClient, job_id: str) -> dict:
    for _ in range(30_000):
        job = client.get(f"{V1}/jobs/{job_id}").json()
        if job["state"] not in ("waiting", "running"):
            return job
        time.sleep(0.05)
    raise AssertionError(f"the job did not end: {job}")


@pytest.fixture
def store(tmp_path: Path):
    store = Store(tmp_path / "jobs.sqlite")
    yield store
    store.close()


@pytest.fixture
def client(store: Store):
    with TestClient(create_app(store, Settings()), base_url="http://localhost") as client:
        yield client


def ask(client: TestClient, text: str, kind: str = "targets", keep: bool = True) -> str:
    answer = client.post(f"{V1}/jobs/{kind}?keep={keep}", content=text.encode())
    assert answer.status_code == 202, answer.text
    return answer.json()["id"]


def test_a_file_is_read_in_a_process_of_its_own_and_watched(client, store):
    job_id = ask(client, rows(3000) + "Nowhere,999,12\n")
    lines = []
    with client.stream("GET", f"{V1}/jobs/{job_id}/events") as events:
        assert events.headers["content-type"].startswith("text/event-stream")
        lines = [json.loads(line.removeprefix("data: ")) for line in events.iter_lines() if line.startswith("data: ")]
    last = lines[-1]
    assert last["state"] == "done" and last["report"]["added"] == 3000 and last["report"]["kept"]
    assert last["report"]["faults"][0]["line"] == 3002 and len(last["report"]["names"]) == 100
    assert store.targets.count() == 3000
    assert client.get(f"{V1}/jobs").json()[0]["id"] == job_id
    files = store.database.path.parent / "jobs-jobs"
    for _ in range(10_000):  # the process that said so has still to end
        if not list(files.glob("*")):
            break
        time.sleep(0.05)
    assert not list(files.glob("*")), "its file is gone once the job has ended"


def test_without_keep_it_only_reports_and_parts_go_as_targets_do(client, store):
    job = ended(client, ask(client, rows(5), keep=False))
    assert job["report"]["added"] == 5 and not job["report"]["kept"] and store.targets.count() == 0
    job = ended(client, ask(client, "kind,name,mass_g\ncamera,Odd,x\ncounterweight,Disc,1000\n", kind="parts"))
    assert job["report"]["added"] == 1 and job["report"]["faults"][0]["line"] == 2 and store.parts.count() == 1
    assert "UTF-8" in ended(client, client.post(f"{V1}/jobs/parts", content=b"\xff\xfe").json()["id"])["report"]["faults"][0]["faults"][0]["reason"]  # fmt: skip


def test_a_job_that_is_stopped_keeps_nothing(client, store):
    job_id = ask(client, rows(90_000))
    while client.get(f"{V1}/jobs/{job_id}").json()["state"] == "waiting":
        time.sleep(0.02)
    assert client.post(f"{V1}/jobs/{job_id}/stop").json()["stop"]
    job = ended(client, job_id)
    assert job["state"] == "stopped" and "nothing of it was saved" in job["words"] and store.targets.count() == 0
    assert client.post(f"{V1}/jobs/{job_id}/stop").json()["state"] == "stopped"


def test_a_process_that_dies_is_a_failed_job_and_nothing_else(client, store):
    job_id = ask(client, rows(90_000))
    stdout = ""
    for _ in range(20_000):
        stdout = subprocess.run(["pgrep", "-f", f"dravel.work .* {job_id}"], capture_output=True, text=True).stdout
        if stdout:
            break
        time.sleep(0.02)
    os.kill(int(stdout.split()[0]), signal.SIGKILL)
    job = ended(client, job_id)
    assert job["state"] == "failed" and "ended unexpectedly" in job["words"] and store.targets.count() == 0
    assert client.get(f"{V1}/board").status_code == 200
    assert ended(client, ask(client, rows(3)))["state"] == "done"


def test_what_was_under_way_when_the_server_ended_has_failed_at_the_next_start(store):
    job = store.jobs.add("targets", {"file": "/nowhere", "keep": True})
    with TestClient(create_app(store, Settings()), base_url="http://localhost") as client:
        answer = client.get(f"{V1}/jobs/{job.id}").json()
        assert answer["state"] == "failed" and "Dravel stopped before" in answer["words"]
        left = ask(client, rows(90_000))
    assert store.jobs.get(left).state == "failed" and store.targets.count() == 0


def test_a_job_that_another_server_has_in_hand_is_left_to_it(store):
    """Two may serve one file: what the first one does has not failed because the second begins."""
    with scratch(store.database.path.parent, "server-other"):
        theirs = store.jobs.add("targets", {"file": "/nowhere", "keep": True, "server": "other"})
        with TestClient(create_app(store, Settings()), base_url="http://localhost"):
            assert store.jobs.get(theirs.id).state == "waiting"
        assert store.jobs.get(theirs.id).state == "waiting"
    with TestClient(create_app(store, Settings()), base_url="http://localhost"):
        assert store.jobs.get(theirs.id).state == "failed"


def a_server(data: Path) -> tuple[subprocess.Popen[str], str]:
    """A server over a folder of data, and its address."""
    command = [sys.executable, "-m", "dravel.cli", "serve", "--port", "0", "--data", str(data)]
    server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
    assert server.stdout is not None
    return server, server.stdout.readline().rsplit(" ", 1)[1].strip()


def running(data: Path) -> list[int]:
    stdout = subprocess.run(["pgrep", "-f", f"dravel.work {data}"], capture_output=True, text=True).stdout
    return [int(item) for item in stdout.split()]


def test_the_job_of_a_killed_server_ends_with_it_and_keeps_nothing_after_the_next_start(tmp_path):
    """What is told as failed has failed: its process does not go on, and what it would keep is nobody's."""
    server, address = a_server(tmp_path)
    body = rows(30_000).encode()
    request = urllib.request.Request(f"{address}api/v1/jobs/targets?keep=true", body, {"content-type": "text/csv"})
    job_id = json.loads(urllib.request.urlopen(request).read())["id"]
    while not running(tmp_path):
        time.sleep(0.02)
    server.kill()
    server.communicate()
    again, _ = a_server(tmp_path)
    store = Store(tmp_path / "dravel.sqlite")
    try:
        while store.jobs.get(job_id).state == "waiting" or store.jobs.get(job_id).state == "running":
            time.sleep(0.05)  # the address is told before what is left over is looked at
        assert store.jobs.get(job_id).state == "failed"
        before = store.targets.count()
        while running(tmp_path):
            time.sleep(0.05)
        assert store.targets.count() == before < 100 and store.jobs.get(job_id).state == "failed"
    finally:
        store.close()
        again.terminate()
        again.communicate()


def test_a_job_that_is_not_its_processes_own_any_more_is_not_kept(store, tmp_path):
    (tmp_path / "given").write_text(rows(3))
    job = store.jobs.add("targets", {"file": str(tmp_path / "given"), "keep": True})
    real = store.jobs.tell

    def given_up(*told):
        real(*told)
        store.jobs.give_up(job.id)

    store.jobs.tell = given_up
    do(store, job.id)
    assert store.jobs.get(job.id).state == "failed" and store.targets.count() == 0


def test_a_job_whose_process_cannot_start_has_failed_in_words(client, store, monkeypatch):
    monkeypatch.setattr(sys, "executable", "/nowhere/python")
    job = ended(client, ask(client, rows(3)))
    assert job["state"] == "failed" and "could be started" in job["words"]


def test_a_job_that_meets_a_locked_database_waits_and_is_done(client, store, monkeypatch):
    """Not for ever, and not in vain: it is asked again until the other program lets go."""
    monkeypatch.setattr(workers, "AGAIN_S", 0.05)
    broken = {"left": 5}
    real = store.jobs.get

    def locked(job_id):
        if threading.current_thread().name.startswith("job") and broken["left"]:
            broken["left"] -= 1
            raise OperationalError("SELECT", {}, sqlite3.OperationalError("database is locked"))
        return real(job_id)

    monkeypatch.setattr(store.jobs, "get", locked)
    assert ended(client, ask(client, rows(3)))["state"] == "done" and broken["left"] == 0


def test_a_file_that_is_gone_fails_in_words(store):
    job = store.jobs.add("targets", {"file": "/nowhere", "keep": True})
    do(store, job.id)
    assert store.jobs.get(job.id).state == "failed" and "No such file" in store.jobs.get(job.id).words


def test_bounds_of_a_job_are_told(client):
    assert client.get(f"{V1}/jobs/none").status_code == 404 == client.get(f"{V1}/jobs/none/events").status_code
    assert client.post(f"{V1}/jobs/rigs", content=b"x").status_code == 422
    large = client.post(f"{V1}/jobs/targets", content=b"x" * 50_000_001)
    assert large.status_code == 413 and "50,000,000" in large.json()["detail"]
    many = ended(client, ask(client, rows(100_001)))
    assert "more than 100,000 targets" in many["report"]["faults"][0]["faults"][0]["reason"]
