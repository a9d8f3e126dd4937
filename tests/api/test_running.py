"""A night that runs: begun, marked from two devices, planned anew, rehearsed at speed, ended with a truthful record."""

import itertools
from datetime import UTC, datetime, timedelta

import pytest

V1 = "/api/v1"
ASKED = {"rigs": ["heron"], "night": "2026-12-09"}
NOON = datetime(2026, 12, 9, 11, 0, tzinfo=UTC)


@pytest.fixture
def at(client):
    """Sets the server's clock to hours after noon of the night."""

    def put(hours: float) -> None:
        client.app.state.now = lambda: NOON + timedelta(hours=hours)

    put(6)
    yield put
    del client.app.state.now


def begin(client, name="night-0001", rehearsal=None, **asked):
    answer = client.post(f"{V1}/night", json={"id": name, "asked": {**ASKED, **asked}, "rehearsal": rehearsal})
    assert answer.status_code == 200, answer.text
    return answer.json()


def mark(client, kind, hours, step="", device="phone", name=None, rig="heron", night="night-0001"):
    at = (NOON + timedelta(hours=hours)).isoformat()
    one = {
        "id": name or f"{kind}-{hours}-{device}-00".replace(".", "-").replace(" ", "-"),
        "kind": kind,
        "rig": rig,
        "step": step,
        "at": at,
        "device": device,
    }
    return client.post(f"{V1}/night/marks", json={"night": night, "marks": [one]}).json()


def cue(state, hours):
    cues = state["rigs"][0]["cues"]
    return next(one for one in cues if one["start_s"] <= hours * 3600 < one["end_s"])


def test_nothing_runs_until_it_is_begun(client):
    assert client.get(f"{V1}/night").json()["running"] is False


def test_a_night_runs_by_the_clock_and_says_what_is_now_and_then(client, at):
    state = begin(client)
    assert state["running"] and abs(state["at_s"] - 6 * 3600) < 1 and state["speed"] == 1
    ends = [(one["start_s"], one["end_s"]) for one in state["rigs"][0]["cues"]]
    assert ends[0][0] == 0 and all(abs(a[1] - b[0]) <= 1 for a, b in itertools.pairwise(ends))
    shot = cue(state, 8.2)
    assert "Veil" in shot["title"] and "subs of 180 s" in shot["words"]
    assert any("NGC 281" in words for words in shot["then"])
    at(9)
    assert abs(client.get(f"{V1}/night").json()["at_s"] - 9 * 3600) < 1
    assert begin(client)["id"] == "night-0001"  # delivered twice, begun once
    again = client.post(f"{V1}/night", json={"id": "night-0002", "asked": ASKED})
    assert again.status_code == 409 and "another night runs" in again.text


def test_marks_count_once_and_two_devices_that_disagree_are_told(client, at):
    state = begin(client)
    at(8.5)
    step = cue(state, 8.2)["key"]
    mark(client, "done", 8.3, step, name="mark-0001")
    state = mark(client, "done", 8.3, step, name="mark-0001")
    assert state["marks"] == 1 and state["rigs"][0]["done"] == [step] and state["conflicts"] == []
    state = mark(client, "skip", 8.4, step, device="tablet")
    assert any("phone says done, tablet skip" in words for words in state["conflicts"])


def test_a_skipped_target_is_not_shot_again_and_the_rest_moves_up(client, at):
    before = begin(client)
    at(8.5)
    after = mark(client, "skip", 8.5, cue(before, 8.2)["key"])
    later = [one for one in after["rigs"][0]["cues"] if one["start_s"] >= 8.6 * 3600 and one["count"]]
    assert later and not any("Veil" in one["target"] for one in later)
    first = min(one["start_s"] for one in before["rigs"][0]["cues"] if one["target"] == "NGC 281" and one["count"])
    assert min(one["start_s"] for one in later if one["target"] == "NGC 281") < first
    kinds = [step["kind"] for step in after["plan"]["rigs"][0]["steps"]]
    assert kinds.count("set_up") == 1 and kinds[-1] == "pack_up"


def test_after_cloud_the_lost_subs_are_planned_again(client, at):
    before = begin(client)
    at(10)
    cloudy = mark(client, "clouds", 9, rig="")
    assert cloudy["cloud_since"] == "21:00"
    at(11)
    clear = mark(client, "clear", 11, rig="")
    assert clear["cloud_since"] == ""
    steps = clear["plan"]["rigs"][0]["steps"]
    for one, other in itertools.pairwise(steps):
        assert one["end_s"] <= other["start_s"] + 1
    assert len({step["key"] for step in steps}) == len(steps)
    state = client.post(f"{V1}/night/end", json={"night": "night-0001"}).json()
    record = state["sessions"][0]["record"]
    assert record["simulated"] is False and {loss["why"] for loss in record["losses"]} == {"cloud", "ended before them"}
    assert all(one["kept"] <= one["taken"] for one in record["subs"]) and before["version"] < state["version"]
    assert client.get(f"{V1}/night").json()["running"] is False


def test_a_rehearsal_keeps_its_own_time_and_leaves_a_record_that_says_so(client, at):
    state = begin(client, rehearsal={"seed": 7, "trouble": "much", "speed": 3600})
    assert state["rehearsal"]["rigs"][0]["events"] and state["speed"] == 3600
    start = state["at_s"]
    at(6 + 2 / 3600)
    later = client.get(f"{V1}/night").json()
    assert abs(later["at_s"] - start - 7200) < 5
    held = client.post(f"{V1}/night/speed", json={"night": "night-0001", "speed": 0}).json()
    at(7)
    assert client.get(f"{V1}/night").json()["at_s"] == held["at_s"]
    client.post(f"{V1}/night/speed", json={"night": "night-0001", "speed": 1, "to_s": 20 * 3600})
    ended = client.post(f"{V1}/night/end", json={"night": "night-0001"}).json()
    again = client.post(f"{V1}/night/end", json={"night": "night-0001"}).json()
    assert [one["id"] for one in ended["sessions"]] == [one["id"] for one in again["sessions"]]
    record = ended["sessions"][0]["record"]
    assert record["simulated"] is True and record["seed"] == 7
    assert sum(one["taken"] for one in record["subs"]) < sum(one["planned"] for one in record["subs"])
    listed = client.get(f"{V1}/sessions").json()["sessions"]
    assert listed[0]["record"] == record and record["origin"] == "rehearsed"
    assert client.get(f"{V1}/sessions/{listed[0]['id']}").json()["record"] == record
    assert client.get(f"{V1}/log/totals").json()["light_s"] == 0  # no light was collected


def test_a_night_under_the_sky_cannot_be_hurried(client, at):
    begin(client)
    answer = client.post(f"{V1}/night/speed", json={"night": "night-0001", "speed": 10})
    assert answer.status_code == 422 and "keeps its own time" in answer.text


def test_a_device_whose_clock_is_off_is_told_and_its_marks_count_as_they_arrive(client, at):
    begin(client)
    at(8)
    state = mark(client, "clouds", 30, rig="", device="old phone")
    assert state["cloud_since"] == "20:00" and any("clock of old phone is off" in one for one in state["conflicts"])


@pytest.mark.parametrize(("path", "body", "status", "said"), [
    ("night", {"id": "short", "asked": ASKED}, 422, "id"),
    ("night", {"id": "night-0009", "asked": {"rigs": ["heron"], "night": "2026-12-09", "free_from_h": 13, "free_until_h": 14}},
     422, "nothing|anything"),
    ("night/marks", {"night": "night-none", "marks": []}, 404, "night"),
    ("night/end", {"night": "night-none"}, 404, "night"),
])  # fmt: skip
def test_what_is_wrong_is_named(client, at, path, body, status, said):
    answer = client.post(f"{V1}/{path}", json=body)
    assert answer.status_code == status and any(word in answer.text for word in said.split("|"))


def test_an_unknown_session_is_told(client):
    assert client.get(f"{V1}/sessions/none").status_code == 404
