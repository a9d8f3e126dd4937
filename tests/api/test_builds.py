"""Builds over the API: cards, ticks from two devices, the next build, paper, bad input."""

import pytest

from dravel.catalogue.demo import scenario

HERON = dict(scenario().rigs)["heron"].model_dump(mode="json")


def given(name: str, card: str, at: str, device: str = "phone", **more: object) -> dict[str, object]:
    return {"id": name, "build": 1, "card": card, "at": at, "device": device, **more}


def test_cards_and_how_far_they_are(client):
    view = client.post("/api/v1/assembly", json={"rig": HERON, "rig_id": "heron"}).json()
    once = [card["key"] for card in view["cards"] if card["first"]]
    assert len(view["cards"]) == 39 and len(once) == 3
    client.post("/api/v1/rigs/heron/assembly/ticks", json={"ticks": [
        given(f"once-{k:04d}", key, "2026-11-20T12:00:00Z") for k, key in enumerate(once)
    ]})  # fmt: skip
    client.post("/api/v1/rigs/heron/assembly/again", json={"id": "again-0001"})
    view = client.post("/api/v1/assembly", json={"rig": HERON, "rig_id": "heron"}).json()
    assert view["cards"][0]["key"] == "support" and len(view["cards"]) == 36
    assert {piece["row"] for piece in view["pieces"]} == {0, 1, 2}
    state = client.get("/api/v1/rigs/heron/assembly").json()
    assert state == {"build": 2, "done": [], "conflicts": [], "ticks": []}
    assert client.get("/api/v1/rigs/no-such/assembly").status_code == 404


def test_two_devices_tick_one_card(client):
    url = "/api/v1/rigs/heron/assembly/ticks"
    client.post(url, json={"ticks": [given("tick-0001", "head", "2026-11-25T17:10:00Z")]})
    late = client.post(
        url, json={"ticks": [given("tick-0002", "head", "2026-11-25T18:12:00+01:00", "desk", done=False)]}
    ).json()
    assert late["done"] == [] and late["conflicts"] == [
        "head: ticked differently on two devices; the later counts, not done"
    ]
    assert len(late["ticks"]) == 2
    # The same again, and an older one that arrives late: nothing is lost, nothing counts twice.
    again = client.post(
        url,
        json={
            "ticks": [
                given("tick-0001", "head", "2026-11-25T17:10:00Z"),
                given("tick-0003", "support", "2026-11-25T17:05:00Z"),
            ]
        },
    ).json()
    assert again["done"] == ["support"] and [t["card"] for t in again["ticks"]] == ["support", "head", "head"]


def test_the_next_build_and_its_minutes(client):
    url = "/api/v1/rigs/heron/assembly/ticks"
    client.post(
        url,
        json={
            "ticks": [
                given("tick-0001", "support", "2026-11-25T17:00:00Z"),
                given("tick-0002", "head", "2026-11-25T17:07:00Z"),
            ]
        },
    )
    assert client.post("/api/v1/rigs/heron/assembly/again", json={"id": "begin-0001"}).json()["build"] == 2
    view = client.post("/api/v1/assembly", json={"rig": HERON, "rig_id": "heron"}).json()
    assert next(card for card in view["cards"] if card["key"] == "head")["taken_min"] == 7.0


def test_the_sheet_is_a_pdf(client):
    answer = client.get("/api/v1/rigs/heron/assembly.pdf")
    assert answer.headers["content-type"] == "application/pdf" and answer.content.startswith(b"%PDF")
    assert client.get("/api/v1/rigs/wren/assembly.pdf").status_code == 200


@pytest.mark.parametrize("wrong", [
    {"at": "yesterday"}, {"at": "2026-11-25T17:00:00"}, {"build": 0}, {"card": ""}, {"id": "x"}, {"done": "perhaps"},
])  # fmt: skip
def test_bad_ticks_are_named(client, wrong):
    answer = client.post(
        "/api/v1/rigs/heron/assembly/ticks",
        json={"ticks": [given("tick-0001", "head", "2026-11-25T17:10:00Z") | wrong]},
    )
    assert answer.status_code == 422 and next(iter(wrong)) in answer.json()["detail"]
