"""Doors of the server: sessions that end with their passcode, servers that stand between, odd origins, refused bodies, data that
other data came in the place of.
"""

import json
import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date

import pytest
import uvicorn
from fastapi.testclient import TestClient

from dravel.api import access
from dravel.api.access import Access, keep_passcode, passcode_file
from dravel.api.app import create_app
from dravel.api.connections import Connection
from dravel.api.request_limits import HEADERS
from dravel.config import Settings
from tests.api.test_access import CODE, V1, enter, far  # noqa: F401


@contextmanager
def served(app: object, **more: object) -> Iterator[int]:
    """An application behind a real socket, and its port."""
    listener = socket.create_server(("127.0.0.1", 0))
    server = uvicorn.Server(uvicorn.Config(app, log_level="error", ws="none", **more))
    thread = threading.Thread(target=server.run, args=([listener],))
    thread.start()
    try:
        yield listener.getsockname()[1]
    finally:
        server.should_exit = True
        thread.join()


def talk(port: int, *pieces: bytes) -> bytes:
    """All that a server says to what is sent, until it closes."""
    with socket.create_connection(("127.0.0.1", port)) as line:
        for piece in pieces:
            line.sendall(piece)
        answer = b""
        while held := line.recv(65536):
            answer += held
        return answer


@pytest.mark.parametrize("change", ["another", "none"])
def test_another_passcode_or_none_ends_all_sessions_at_once(far, tmp_path, change):  # noqa: F811
    enter(far)
    assert far.get(f"{V1}/rigs").status_code == 200
    if change == "another":
        keep_passcode(tmp_path, "eight owls sleep")
    else:
        passcode_file(tmp_path).unlink()
    assert far.get(f"{V1}/rigs").status_code == 401
    assert enter(far).status_code != 200
    if change == "another":
        assert enter(far, "eight owls sleep").status_code == 200


def test_a_stream_of_events_ends_with_its_session(demo_store, tmp_path, monkeypatch):
    monkeypatch.setattr(access, "LOOK_S", 0.05)
    keep_passcode(tmp_path, CODE)
    app = create_app(demo_store, Settings(tonight=date(2026, 11, 25), data=tmp_path, behind_proxy=True))
    token = app.state.access.enter("a", CODE)
    with served(app) as port:
        asked = f"GET {V1}/night/events HTTP/1.1\r\nhost: localhost\r\ncookie: dravel_session={token}\r\n\r\n"
        with socket.create_connection(("127.0.0.1", port)) as line:
            line.sendall(asked.encode())
            assert line.recv(65536).startswith(b"HTTP/1.1 200")
            app.state.access.leave(token)
            while line.recv(65536):
                pass  # it ends by itself


HANDED_ON = [
    {"via": "1.1 proxy"}, {"x-forwarded-host": "a.example"}, {"x-forwarded-proto": "https"}, {"cf-connecting-ip": "8.8.8.8"},
    {"forwarded": "for=8.8.8.8"}, {"x-real-ip": "8.8.8.8"}, {"x-forwarded-for": "127.0.0.1"}, {"cf-ray": "1"},
    {"x-forwarded-server": "a"},
]  # fmt: skip


@pytest.mark.parametrize("header", HANDED_ON, ids=lambda item: next(iter(item)))
def test_what_another_server_hands_on_comes_from_outside(far, header):  # noqa: F811
    with TestClient(far.app, base_url="http://127.0.0.1", client=("127.0.0.1", 4)) as near:
        assert near.get(f"{V1}/rigs").status_code == 200
        assert near.get(f"{V1}/rigs", headers=header).status_code == 401


def test_behind_a_bare_relay_everything_comes_from_outside(demo_store, tmp_path):
    """One that writes nothing into what it hands on cannot be told from this machine: it is named at the start."""
    keep_passcode(tmp_path, CODE)
    app = create_app(demo_store, Settings(data=tmp_path, behind_proxy=True))
    with TestClient(app, base_url="http://127.0.0.1", client=("127.0.0.1", 4)) as relayed:
        assert relayed.get(f"{V1}/rigs").status_code == 401
        assert enter(relayed).status_code == 200
        assert relayed.get(f"{V1}/rigs").status_code == 200


def test_guesses_behind_a_proxy_count_by_what_the_proxy_itself_wrote():
    def scope(*told: bytes) -> dict:
        return {"headers": [(b"x-forwarded-for", item) for item in told], "client": ("127.0.0.1", 4)}

    behind, before = Access(None, behind_proxy=True), Access(None)
    assert behind.address_of(scope(b"6.6.6.6, 192.168.1.9")) == "192.168.1.9"  # the first is whatever the guesser wrote
    assert behind.address_of(scope(b"6.6.6.6", b"192.168.1.9")) == "192.168.1.9"
    assert behind.address_of(scope()) == "127.0.0.1"
    assert before.address_of(scope(b"6.6.6.6")) == "127.0.0.1"


def test_a_name_that_others_use_is_answered_to_strangers_only(demo_store, tmp_path):
    """A relay on this machine that writes no headers leaves the name it was asked for."""
    keep_passcode(tmp_path, CODE)
    app = create_app(demo_store, Settings(data=tmp_path, host_names=("rig.example",)))
    with TestClient(app, base_url="http://rig.example", client=("127.0.0.1", 4)) as relayed:
        assert relayed.get(f"{V1}/rigs").status_code == 401


def test_the_address_it_was_told_to_listen_on_is_its_own(demo_store):
    app = create_app(demo_store, Settings(host="127.0.0.53"))
    with TestClient(app, base_url="http://127.0.0.53:8765", client=("127.0.0.1", 4)) as near:
        assert near.get(f"{V1}/rigs").status_code == 200
        assert near.get(f"{V1}/rigs", headers={"host": "evil.example"}).status_code == 421


@pytest.mark.parametrize("origin", ["http://[", "http://[::1", "null", "", "http://", "//", "http://a:b:c", "\u00ff"])
def test_an_odd_origin_is_refused_in_words(client, origin):
    headers = {"origin": origin.encode("latin-1")}
    answer = client.put(f"{V1}/rigs/heron", json={}, headers=headers)  # type: ignore[arg-type]
    assert answer.status_code == 403 and answer.json()["detail"]
    assert {name.decode() for name, _ in HEADERS} <= set(answer.headers)


@pytest.mark.parametrize("length", [True, False], ids=["with a length", "without one"])
def test_a_body_that_is_too_large_is_answered_while_it_is_still_being_sent(demo_store, length):
    size = 24_000_000
    head = f"content-length: {size}" if length else "transfer-encoding: chunked"
    begun = f"PUT {V1}/rigs/heron HTTP/1.1\r\nhost: localhost\r\nconnection: close\r\n{head}\r\n\r\n".encode()
    piece = b"x" * 1_000_000
    sent = [piece if length else b"f4240\r\n" + piece + b"\r\n"] * 24 + ([] if length else [b"0\r\n\r\n"])
    with served(create_app(demo_store, Settings())) as port:
        answer = talk(port, begun, *sent)
    top, _, body = answer.partition(b"\r\n\r\n")
    assert top.startswith(b"HTTP/1.1 413") and b"content-security-policy" in top.lower()
    assert json.loads(body)["status"] == 413


@pytest.mark.parametrize("length", [100_001, None], ids=["over a tenth of a megabyte", "without a length"])
def test_a_stream_whose_request_is_read_apart_comes_and_ends(demo_store, length):
    goal = json.dumps({"about": "planets", "money": 1})
    body = (goal + " " * (length - len(goal))).encode() if length else goal.encode()
    head = f"content-length: {length}" if length else "transfer-encoding: chunked"
    sent = body if length else b"%x\r\n" % len(body) + body + b"\r\n0\r\n\r\n"
    begun = (
        f"POST {V1}/design/events HTTP/1.1\r\nhost: localhost\r\nconnection: close\r\n"
        f"content-type: application/json\r\n{head}\r\n\r\n"
    )
    app = create_app(demo_store, Settings(tonight=date(2026, 11, 25)))
    with served(app) as port:
        answer = talk(port, begun.encode(), sent)
        assert answer.startswith(b"HTTP/1.1 200") and b"data: " in answer
        with socket.create_connection(("127.0.0.1", port)) as line:  # who leaves at once leaves nothing behind
            line.sendall(begun.encode() + sent)
        assert talk(port, f"GET {V1}/about HTTP/1.1\r\nhost: localhost\r\nconnection: close\r\n\r\n".encode())


def test_what_was_meant_for_other_data_is_not_written_to_these(client, demo_store):
    now = client.get(f"{V1}/rigs").headers["dravel-data"]
    assert now == demo_store.database.identity()
    heron = client.get(f"{V1}/rigs/heron").json()
    body = {"rig": {**heron["rig"], "name": "Other"}, "base": heron["revision"]}
    refused = client.put(f"{V1}/rigs/heron", json=body, headers={"dravel-data": "another"})
    assert refused.status_code == 412 and refused.json()["type"].endswith("other-data")
    assert client.get(f"{V1}/rigs/heron").json()["revision"] == heron["revision"]
    assert client.put(f"{V1}/rigs/heron", json=body, headers={"dravel-data": now}).status_code == 200


def test_mine_on_top_takes_only_what_both_changed(client):
    heron = client.get(f"{V1}/rigs/heron").json()

    def put(base: int, on_top: bool = False, **changes: object):
        body = {"rig": {**heron["rig"], **changes}, "base": base, "on_top": on_top}
        return client.put(f"{V1}/rigs/heron", json=body)

    assert put(1, name="Theirs", saddle_mm=151, notes="theirs").status_code == 200
    refused = put(1, name="Mine", binning=2)
    assert refused.status_code == 409 and [item["field"] for item in refused.json()["errors"]] == ["Name"]
    kept = put(1, True, name="Mine", binning=2).json()
    rig = kept["rig"]
    assert (rig["name"], rig["binning"], rig["saddle_mm"]) == ("Mine", 2, 151)
    assert kept["revision"] == 3 and len(kept["merged"]) >= 1


@pytest.mark.parametrize("said", [b"\x16\x03\x01\x02", b"GET / HTTP/1.1\r\nbad header", b"GET /\xff HTTP/1.1"])
def test_what_is_no_request_is_answered_with_the_same_headers(demo_store, said):
    with served(create_app(demo_store, Settings()), http=Connection) as port:
        top, _, body = talk(port, said + b"\r\n\r\n").partition(b"\r\n\r\n")
    assert top.startswith(b"HTTP/1.1 400") and b"content-security-policy" in top.lower()
    assert json.loads(body)["detail"]
