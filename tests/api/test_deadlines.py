"""A closed call stops its work; a call that takes too long is told so; what is saved is never stopped half-way."""

import asyncio
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest
from fastapi.testclient import TestClient

from dravel.api.app import create_app
from dravel.api.deadlines import Cancelled, Deadline, Deadlines, TooLong
from dravel.config import Settings
from dravel.core.engine.rule import Judgement
from dravel.core.model.cancellation import cancelled_by, check_cancelled
from dravel.core.steps import STEPS
from dravel.core.train.solver import Wanted, solve
from tests.core.test_solver import converters, thread

V1 = "/api/v1"


def test_patience_ends_when_somebody_leaves_or_time_is_up():
    check_cancelled()
    patience = Deadline(60)
    with cancelled_by(patience):
        check_cancelled()
        patience.leave()
        with pytest.raises(Cancelled):
            check_cancelled()
    with cancelled_by(Deadline(0.0)), pytest.raises(TooLong, match="after 0 s"):
        while True:
            check_cancelled()
    check_cancelled()


def test_a_busy_machine_cuts_nothing():
    """Only the processor's time counts, and that of an answer that has begun does not."""
    with cancelled_by(Deadline(0.02)):
        for _ in range(5):
            check_cancelled()
            time.sleep(0.01)
    begun = Deadline(0.0)
    begun.begin()
    with cancelled_by(begun):
        end = time.thread_time() + 0.002
        while time.thread_time() < end:
            check_cancelled()
        begun.leave()
        with pytest.raises(Cancelled):
            check_cancelled()


def ask(path: str, body: bytes, leaves: threading.Event) -> tuple[list[dict], str]:
    """Send a request through the middleware alone to an application that computes until it is stopped."""
    answer, ended = [], []

    async def application(scope, receive, send):
        message = await receive()
        assert message["body"] == body

        def compute():
            leaves.set()
            try:
                for _ in range(500):
                    check_cancelled()
                    time.sleep(0.01)
                ended.append("went on")
            except Cancelled:
                ended.append("stopped")

        await asyncio.to_thread(compute)
        assert (await receive())["type"] == "http.disconnect"

    async def receive():
        if not leaves.is_set() and not answer:
            answer.append({})
            return {"type": "http.request", "body": body, "more_body": False}
        while not leaves.is_set():
            await asyncio.sleep(0.005)
        return {"type": "http.disconnect"}

    async def send(message):
        answer.append(message)

    # In a thread of its own: the browser's tests may have left a loop running in this one.
    call = Deadlines(application)({"type": "http", "method": path, "headers": []}, receive, send)
    with ThreadPoolExecutor(1) as thread:
        thread.submit(asyncio.run, call).result()
    return answer, ended[0]


@pytest.mark.parametrize(("method", "body"), [("GET", b""), ("POST", b"{}")])
def test_a_closed_call_stops_its_work(method, body):
    assert ask(method, body, threading.Event())[1] == "stopped"


@pytest.fixture
def impatient(demo_store, monkeypatch):
    monkeypatch.setattr("dravel.api.deadlines.PROCESSOR_S", 0.0)
    with TestClient(create_app(demo_store, Settings()), base_url="http://localhost") as client:
        yield client


def test_what_takes_too_long_is_told_in_words_and_a_save_goes_on(impatient):
    kept = impatient.get(f"{V1}/rigs/heron").json()
    for call in (
        lambda: impatient.get(f"{V1}/board"),
        lambda: impatient.post(f"{V1}/evaluate", json={"rig": kept["rig"]}),
    ):
        answer = call()
        assert answer.status_code == 503 and "after 0 s" in answer.json()["detail"]
    part = impatient.get(f"{V1}/parts/drawer-21").json()
    saved = impatient.put(f"{V1}/parts/drawer-21", json={"base": 1, "body": {**part["body"], "mass_g": 123}})
    assert saved.status_code == 200
    assert impatient.get(f"{V1}/rigs/heron").json()["revision"] == kept["revision"] + 1
    assert impatient.put(f"{V1}/rigs/wren", json={"rig": {**kept["rig"], "name": "Wren"}, "base": 1}).status_code == 200


def test_rules_and_the_solver_ask_whether_they_are_awaited(rigs):
    patience = Deadline(60)
    with cancelled_by(patience):
        patience.leave()
        with pytest.raises(Cancelled):
            STEPS.evaluate(rigs["heron"])
        with pytest.raises(Cancelled):
            solve(Wanted(thread(0), thread(3), 20.0, 0.05), converters(56, 8))
    assert isinstance(STEPS.said(STEPS.context(rigs["heron"]))[0][1], Judgement)
