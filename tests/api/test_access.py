"""From another machine nothing is answered without the passcode; guesses are slow; sessions end."""

import logging
import stat
from datetime import date

import pytest
from fastapi.testclient import TestClient

from dravel.api.access import LEAST, Access, WeakPasscode, is_loopback, keep_passcode, kept_hash, passcode_file
from dravel.api.app import create_app
from dravel.config import Settings

V1 = "/api/v1"
CODE = "seven owls fly"


@pytest.fixture
def far(demo_store, tmp_path):
    """A phone in the same network, and the application it talks to."""
    keep_passcode(tmp_path, CODE)
    settings = Settings(tonight=date(2026, 11, 25), data=tmp_path, host="0.0.0.0")
    app = create_app(demo_store, settings)
    with TestClient(app, base_url="http://192.168.1.4:8765", client=("192.168.1.7", 50000)) as made:
        yield made


def enter(client, code=CODE):
    return client.post(f"{V1}/access", json={"passcode": code})


def test_strangers_get_pages_but_no_data(far):
    for method, path in (("GET", "rigs"), ("POST", "tonight"), ("GET", "openapi.json"), ("GET", "night/events"),
                         ("GET", "about"), ("PUT", "preferences"), ("GET", "no-such")):  # fmt: skip
        answer = far.request(method, f"{V1}/{path}")
        assert answer.status_code == 401 and "passcode" in answer.text
    assert far.get(f"{V1}/access").json() == {"needed": True, "signed_in": False, "waits_s": 0.0}


def test_the_passcode_opens_a_session_and_signing_out_ends_it(far):
    answer = enter(far)
    cookie = answer.headers["set-cookie"]
    assert answer.status_code == 200
    assert "HttpOnly" in cookie and "SameSite=strict" in cookie and "Path=/" in cookie and CODE not in cookie
    assert far.get(f"{V1}/rigs").status_code == 200
    held = far.cookies["dravel_session"]
    assert far.post(f"{V1}/access/sign-out").json()["signed_in"] is False
    assert far.get(f"{V1}/rigs", cookies={"dravel_session": held}).status_code == 401


def test_a_session_ends_after_twelve_hours(far):
    at = [1000.0]
    far.app.state.access.now = lambda: at[0]
    enter(far)
    at[0] += 12 * 3600 - 1
    assert far.get(f"{V1}/rigs").status_code == 200
    at[0] += 2
    assert far.get(f"{V1}/rigs").status_code == 401


def test_wrong_guesses_are_refused_then_not_heard_and_every_one_is_logged(far, caplog):
    at = [1000.0]
    far.app.state.access.now = lambda: at[0]
    with caplog.at_level(logging.WARNING, "dravel.access"):
        for _ in range(5):
            assert enter(far, "no such owl").status_code == 403
        shut = enter(far)  # the right one too
    assert shut.status_code == 429 and int(shut.headers["retry-after"]) == 30 and "too many" in shut.text
    said = [record.getMessage() for record in caplog.records]
    assert said == ["passcode from 192.168.1.7: wrong"] * 5 + [
        "passcode from 192.168.1.7: not heard, too many wrong ones"
    ]
    assert not any(CODE in item or "owl" in item for item in said)
    assert far.get(f"{V1}/access").json()["waits_s"] == 30
    at[0] += 31
    assert enter(far, "still wrong").status_code == 403
    assert 50 < far.get(f"{V1}/access").json()["waits_s"] <= 60  # longer each time
    at[0] += 61
    assert enter(far).status_code == 200


def test_guesses_from_many_addresses_tire_it_too():
    access = Access(None, now=lambda: 5.0)
    for k in range(60):
        assert access.enter(f"10.0.0.{k}", "guess") is None
    assert access.waits_s("10.0.1.1") > 0


def test_another_site_may_not_sign_in_nor_write(far):
    refused = far.post(f"{V1}/access", json={"passcode": CODE}, headers={"origin": "http://evil.example"})
    assert refused.status_code == 403 and "set-cookie" not in refused.headers
    enter(far)
    assert (
        far.post(f"{V1}/tonight", json={"rigs": ["heron"]}, headers={"origin": "http://192.168.1.4:1"}).status_code
        == 403
    )


def test_a_name_that_was_made_to_lead_here_is_not_answered(far):
    assert far.get(f"{V1}/access", headers={"host": "evil.example"}).status_code == 421
    assert far.get(f"{V1}/access", headers={"host": "192.168.1.4"}).status_code == 200


def test_this_machine_itself_needs_no_passcode_unless_a_server_stands_between(far):
    with TestClient(far.app, base_url="http://127.0.0.1", client=("127.0.0.1", 4)) as near:
        assert near.get(f"{V1}/rigs").status_code == 200
        assert near.get(f"{V1}/access").json() == {"needed": False, "signed_in": True, "waits_s": 0.0}
        assert near.get(f"{V1}/rigs", headers={"x-forwarded-for": "8.8.8.8"}).status_code == 401


@pytest.mark.parametrize("cookie", ["", "dravel_session=", "dravel_session=guess", "\x00=\x01;;=", "a" * 4000])
def test_no_cookie_that_was_not_given_opens_anything(far, cookie):
    assert far.get(f"{V1}/rigs", headers={"cookie": cookie}).status_code == 401


@pytest.mark.parametrize("body", [{}, {"passcode": ""}, {"passcode": "x" * 201}, {"passcode": 7}, []])
def test_what_is_no_passcode_is_named(far, body):
    answer = far.post(f"{V1}/access", json=body)
    assert answer.status_code == 422


def test_a_passcode_is_kept_as_a_hash_that_others_cannot_read(tmp_path):
    keep_passcode(tmp_path, CODE)
    held = passcode_file(tmp_path)
    assert stat.S_IMODE(held.stat().st_mode) == 0o600
    assert held.read_text().startswith("$argon2id$") and CODE not in held.read_text()
    for wrong in ("short", "x" * 201):
        with pytest.raises(WeakPasscode, match=str(LEAST)):
            keep_passcode(tmp_path, wrong)
    assert Access(kept_hash(tmp_path)).enter("a", CODE)
    held.write_text("not a hash\n")
    assert Access(kept_hash(tmp_path)).enter("a", CODE) is None
    assert kept_hash(tmp_path / "nowhere") is None


@pytest.mark.parametrize(("host", "own"), [
    ("127.0.0.1", True), ("localhost", True), ("::1", True), ("127.9.9.9", True), ("0.0.0.0", False), ("::", False),
    ("192.168.1.4", False), ("", False), ("localhost.evil.example", False),
])  # fmt: skip
def test_what_counts_as_this_machine(host, own):
    assert is_loopback(host) is own


def test_the_field_address_is_drawn_where_a_phone_can_reach_it(far, client):
    enter(far)
    answer = far.get(f"{V1}/field-address").json()
    assert (answer["address"].endswith("/phone") and answer["svg"].startswith("<svg")) or "no network" in answer[
        "because"
    ]
    assert "dravel passcode" in client.get(f"{V1}/field-address").json()["because"]
