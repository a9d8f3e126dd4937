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
    item = {
        "id": name or f"{kind}-{hours}-{device}-00".replace(".", "-").replace(" ", "-"),
        "kind": kind,
        "rig": rig,
        "step": step,
        "at": at,
        "device": device,
    }
    return client.post(f"{V1}/night/marks", json={"night": night, "marks": [item]}).json()


def cue(state, hours):
    cues = state["rigs"][0]["cues"]
    return next(item for item in cues if item["start_s"] <= hours * 3600 < item["end_s"])


def test_nothing_runs_until_it_is_begun(client):
    assert client.get(f"{V1}/night").json()["running"] is False


def test_a_night_runs_by_the_clock_and_says_what_is_now_and_then(client, at):
    state = begin(client)
    assert state["running"] and abs(state["at_s"] - 6 * 3600) < 1 and state["speed"] == 1
    ends = [(item["start_s"], item["end_s"]) for item in state["rigs"][0]["cues"]]
    assert ends[0][0] == 0 and all(abs(a[1] - b[0]) <= 1 for a, b in itertools.pairwise(ends))
    shot = cue(state, 8.2)
    assert "Veil" in shot["title"]["text"] and "subs of 180 s" in shot["words"]["text"]
    assert any("NGC 281" in words["text"] for words in shot["then"])
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
    assert any("phone says done, tablet skip" in words["text"] for words in state["conflicts"])


def test_a_skipped_target_is_not_shot_again_and_the_rest_moves_up(client, at):
    before = begin(client)
    at(8.5)
    after = mark(client, "skip", 8.5, cue(before, 8.2)["key"])
    later = [item for item in after["rigs"][0]["cues"] if item["start_s"] >= 8.6 * 3600 and item["count"]]
    assert later and not any("veil" in item["target"] for item in later)
    first = min(item["start_s"] for item in before["rigs"][0]["cues"] if item["target"] == "ngc-281" and item["count"])
    assert min(item["start_s"] for item in later if item["target"] == "ngc-281") < first
    steps = after["plan"]["rigs"][0]["steps"]
    keys = [step["key"] for step in steps]
    assert len(set(keys)) == len(keys) and keys.count(steps[0]["key"]) == 1
    assert steps[0]["kind"] == "set_up" and steps[-1]["kind"] == "pack_up"


def test_after_cloud_the_lost_subs_are_planned_again(client, at):
    before = begin(client)
    at(10)
    cloudy = mark(client, "clouds", 9, rig="")
    assert cloudy["cloud_since"] == "21:00"
    at(11)
    clear = mark(client, "clear", 11, rig="")
    assert clear["cloud_since"] == ""
    steps = clear["plan"]["rigs"][0]["steps"]
    for item, other in itertools.pairwise(steps):
        assert item["end_s"] <= other["start_s"] + 1
    assert len({step["key"] for step in steps}) == len(steps)
    state = client.post(f"{V1}/night/end", json={"night": "night-0001"}).json()
    record = state["sessions"][0]["record"]
    assert record["simulated"] is False and {loss["why"] for loss in record["losses"]} == {"cloud", "ended before them"}
    assert all(entry["kept"] <= entry["taken"] for entry in record["subs"]) and before["version"] < state["version"]
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
    assert [item["id"] for item in ended["sessions"]] == [item["id"] for item in again["sessions"]]
    record = ended["sessions"][0]["record"]
    assert record["simulated"] is True and record["seed"] == 7
    assert sum(item["taken"] for item in record["subs"]) < sum(item["planned"] for item in record["subs"])
    listed = client.get(f"{V1}/sessions").json()["sessions"]
    assert listed[0]["record"] == record and record["origin"] == "rehearsed"
    assert client.get(f"{V1}/sessions/{listed[0]['id']}").json()["record"] == record
    assert client.get(f"{V1}/log/totals").json()["light_s"] == 0  # no light was collected


def test_a_night_under_the_sky_cannot_be_hurried(client, at):
    begin(client)
    answer = client.post(f"{V1}/night/speed", json={"night": "night-0001", "speed": 10})
    assert answer.status_code == 422 and "runs in real time" in answer.text


def test_a_device_whose_clock_is_off_is_told_and_its_marks_count_as_they_arrive(client, at):
    begin(client)
    at(8)
    state = mark(client, "clouds", 30, rig="", device="old phone")
    assert state["cloud_since"] == "20:00" and any(
        "clock of old phone is off" in item["text"] for item in state["conflicts"]
    )


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


def test_the_light_of_a_run_night_reaches_its_goal_on_board_log_and_what_to_finish(client, at):
    before = {
        entry["target"]: entry
        for entry in client.get(f"{V1}/log/totals").json()["targets"]
        if entry["rig_id"] == "heron"
    }
    begin(client)
    at(19)
    (session,) = client.post(f"{V1}/night/end", json={"night": "night-0001"}).json()["sessions"]
    shot: dict[str, tuple[str, float]] = {}
    for item in session["record"]["subs"]:  # a target is shot through several filters, and short for its core
        if item["kept"]:
            shot[item["target"]] = (item["name"], shot.get(item["target"], ("", 0))[1] + item["kept"] * item["sub_s"])
    framed = {
        entry["target"]["id"]: entry["target"]["name"]
        for entry in client.get(f"{V1}/rigs/heron").json()["rig"]["framings"]
    }
    assert len(shot) >= 2 and {key: name for key, (name, _) in shot.items()}.items() <= framed.items()
    totals = [entry for entry in client.get(f"{V1}/log/totals").json()["targets"] if entry["rig_id"] == "heron"]
    after = {total["target"]: total for total in totals}
    assert len(after) == len(totals) == len({total["name"] for total in totals})
    assert set(after) == set(before) | set(shot)
    for key, (_, kept_s) in shot.items():
        assert after[key]["kept_s"] == before[key]["kept_s"] + kept_s
        assert after[key]["open_s"] < before[key]["open_s"]
    cells = {
        cell["light"]
        for row in client.get(f"{V1}/board").json()["rows"] if row["rig_id"] == "heron"
        for cell in row["cells"] if cell["framed"]
    }  # fmt: skip
    assert set(shot) <= cells
    for item in client.get(f"{V1}/log/finish").json():
        if item["rig_id"] == "heron" and item["target"] in shot:
            assert item["open_s"] == after[item["target"]]["open_s"] and item["share"] > 0


def test_sessions_of_nights_that_ran_before_count_under_the_targets_key(client, at):
    """Runs used to keep the name that people say; what a rig frames it knows by either."""
    kept = {"subs": [{"target": "ngc 281", "name": "", "filter": "", "sub_s": 60, "planned": 9, "taken": 9, "kept": 9}]}
    client.post(f"{V1}/sessions", json={"rig_id": "heron", "night": "2026-11-20", **kept})
    mine = [item for item in client.get(f"{V1}/log/totals").json()["targets"] if item["rig_id"] == "heron"]
    assert [item["target"] for item in mine if item["name"] == "NGC 281"] == ["ngc-281"]


@pytest.fixture
def slashed(client):
    """Heron with a target whose name holds slashes and that no list knows."""
    kept = client.get(f"{V1}/rigs/heron").json()
    rig = kept["rig"]
    veil = next(item for item in rig["framings"] if item["target"]["id"] == "veil-complex")
    veil["target"] |= {"name": "Veil / east / 2", "id": None}
    answer = client.put(f"{V1}/rigs/heron", json={"rig": rig, "base": kept["revision"], "note": "renamed"})
    assert answer.status_code == 200, answer.text
    return "Veil / east / 2"


def subs_of(state, target):
    return [item for item in state["plan"]["rigs"][0]["steps"] if item["kind"] == "subs" and item["target"] == target]


def test_a_target_with_slashes_in_its_name_is_planned_again_and_skipped(client, at, slashed):
    begun = begin(client)
    planned = sum(sub["count"] for sub in subs_of(begun, slashed))
    assert planned > 20
    at(8.5)
    mark(client, "clouds", 8.3, rig="")
    for hours in (8.6, 8.8, 9.0):  # as often as anybody likes
        at(hours)
        state = mark(client, "clear", hours, rig="")
        mark(client, "clouds", hours + 0.01, rig="")
        keys = [item["key"] for item in state["plan"]["rigs"][0]["steps"]]
        assert len(set(keys)) == len(keys) and all(
            sub["key"].startswith(f"{slashed}/") for sub in subs_of(state, slashed)
        )
    (session,) = client.post(f"{V1}/night/end", json={"night": "night-0001"}).json()["sessions"]
    kept = sum(item["kept"] for item in session["record"]["subs"] if item["target"] == slashed)
    assert 0 < kept < planned
    # What was kept before the cloud and between the clouds is not asked for again: whole subs, each taken once.
    left = sum(sub["count"] for sub in subs_of(state, slashed) if sub["start_s"] >= 9 * 3600)
    assert kept + left <= planned


def test_a_target_with_slashes_in_its_name_is_skipped(client, at, slashed):
    begin(client)
    at(8.5)
    state = mark(client, "skip", 8.5, cue(client.get(f"{V1}/night").json(), 8.2)["key"])
    assert not [sub for sub in subs_of(state, slashed) if sub["start_s"] > 8.6 * 3600]


def test_a_plan_made_anew_leaves_what_was_put_by_hand_where_it_is(client, at):
    slot = 12 * 11
    begun = begin(client, pins={"heron": {"ngc-281": slot}})
    run = {item["target"]: item for item in begun["plan"]["rigs"][0]["runs"]}["ngc-281"]
    assert run["start"] == slot and run["pinned"]
    at(9)
    mark(client, "clouds", 8.6, rig="")
    state = mark(client, "clear", 9, rig="")
    runs = [item for item in state["plan"]["rigs"][0]["runs"] if item["target"] == "ngc-281"]
    assert [(item["start"], item["pinned"]) for item in runs] == [(slot, True)]


def test_what_was_marked_is_kept_where_the_rest_cannot_be_planned(client, at):
    begin(client)
    kept = client.get(f"{V1}/rigs/heron").json()
    at(9)
    rig = kept["rig"] | {"site": None}
    client.put(f"{V1}/rigs/heron", json={"rig": rig, "base": kept["revision"], "note": "no site"})
    mark(client, "clouds", 8.6, rig="")
    state = mark(client, "clear", 9, rig="")
    assert state["marks"] == 2 and any("not replanned" in item["text"] for item in state["conflicts"])
    assert state["plan"]["rigs"][0]["steps"]


def test_marks_that_were_kept_before_a_plan_could_be_made_are_planned_for_with_the_next(client, at, monkeypatch):
    """Between the marks and the new plan a server may end: what it left undone the next delivery does."""
    from dravel.api.routers import running

    before = begin(client)
    at(8.5)
    key = cue(before, 8.2)["key"]
    with monkeypatch.context() as broken:
        broken.setattr(running, "_replanned", lambda *_: (_ for _ in ()).throw(RuntimeError("killed")))
        assert mark(client, "skip", 8.5, key, name="mark-skip-1")["status"] == 500
    assert client.get(f"{V1}/night").json()["marks"] == 1
    after = mark(client, "skip", 8.5, key, name="mark-skip-1")
    assert after["marks"] == 1 and not [sub for sub in subs_of(after, "veil-complex") if sub["start_s"] > 8.6 * 3600]
