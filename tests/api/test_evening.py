"""The evening over the API."""

import jsonschema
import pytest


def test_a_night_of_two_rigs(client):
    body = {"rigs": ["heron", "bittern"], "night": "2026-12-09", "free_from_h": 18.5, "free_until_h": 2.5}
    plan = client.post("/api/v1/tonight", json=body).json()
    assert [rig["name"] for rig in plan["rigs"]] == ["Heron", "Bittern"] and plan["site"] == "Alto de Veleda"
    assert plan["rigs"][0]["runs"] and len(plan["clock"]) == plan["slots"] == 289
    there = client.post("/api/v1/tonight", json={"rigs": ["heron"], "site": "town-terrace"}).json()
    assert there["site"].startswith("Town terrace") and there["day"] == "2026-11-25"


def test_the_fortnight_ahead(client):
    result = client.post("/api/v1/tonight/ahead", json={"rigs": ["heron", "wren"]}).json()
    assert len(result["nights"]) == 14 and {row["rig"] for row in result["rows"]} == {"Heron", "Wren"}


def test_the_night_goes_into_a_calendar(client):
    answer = client.post("/api/v1/tonight/calendar", json={"rigs": ["heron"], "night": "2026-12-09"})
    assert answer.headers["content-type"].startswith("text/calendar") and b"BEGIN:VEVENT" in answer.content


@pytest.mark.parametrize(("wrong", "said"), [
    ({"rigs": []}, "rigs"), ({"rigs": ["no-such"]}, "no-such"), ({"rigs": ["heron"], "site": "nowhere"}, "nowhere"),
    ({"rigs": ["heron"], "free_from_h": 25}, "free_from_h"), ({"rigs": ["heron"], "night": "soon"}, "night"),
    ({"rigs": ["heron"], "pins": {"heron": {"ngc-281": -4}}}, "pins"),
])  # fmt: skip
def test_what_is_wrong_is_named(client, wrong, said):
    answer = client.post("/api/v1/tonight", json=wrong)
    assert answer.status_code in (404, 422) and said in answer.text


def test_rigs_without_a_site_are_asked_for_one(client):
    rig = client.get("/api/v1/rigs/heron").json()
    rig["rig"]["site"] = None
    client.put("/api/v1/rigs/heron", json={"rig": rig["rig"], "base": rig["revision"], "note": "nowhere"})
    answer = client.post("/api/v1/tonight", json={"rigs": ["heron"]})
    assert answer.status_code == 422 and "need a site" in answer.text


def test_the_night_leaves_on_paper_and_as_a_run_file_of_the_published_schema(client):
    body = {"rigs": ["heron", "bittern"], "night": "2026-12-09"}
    sheet = client.post("/api/v1/tonight/sheet.pdf", json=body)
    assert sheet.headers["content-type"] == "application/pdf" and sheet.content.startswith(b"%PDF")
    answer = client.post("/api/v1/tonight/run-file", json=body).json()
    jsonschema.validate(answer, client.get("/api/v1/schema/run-file").json())
    assert [rig["name"] for rig in answer["rigs"]] == ["Heron", "Bittern"]
    plan = client.post("/api/v1/tonight", json=body).json()
    for rig, planned in zip(answer["rigs"], plan["rigs"], strict=True):
        starts = [step["start"] for step in rig["steps"]]
        assert starts == sorted(starts) and len(starts) == len(planned["steps"])
        assert {step["target"] for step in rig["steps"]} - {""} <= {target["name"] for target in rig["targets"]}
        assert all(0 <= target["ra_deg"] < 360 for target in rig["targets"])
    assert answer["rigs"][0]["set_c"] is not None


def test_the_night_of_a_rig_in_hand(client):
    rig = client.get("/api/v1/rigs/heron").json()["rig"]
    plan = client.post("/api/v1/tonight/rig", json={"rig": rig, "night": "2026-12-09"}).json()
    run = plan["rigs"][0]["runs"][0]
    pinned = client.post(
        "/api/v1/tonight/rig", json={"rig": rig, "night": "2026-12-09", "pins": {run["target"]: run["start"] + 3}}
    ).json()
    assert any(item["pinned"] and item["start"] == run["start"] + 3 for item in pinned["rigs"][0]["runs"])
    bare = client.post("/api/v1/tonight/rig", json={"rig": {**rig, "site": None}})
    assert bare.status_code == 422 and "needs a site" in bare.text
