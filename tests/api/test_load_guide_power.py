"""Load, guide, power, compare, cost and growth over HTTP."""

import pytest


def rig(client, name):
    return client.get(f"/api/v1/rigs/{name}").json()["rig"]


@pytest.mark.parametrize("name", ["wren", "heron", "bittern", "magpie"])
@pytest.mark.parametrize("step", ["mount", "guiding", "power"])
def test_every_step_draws_every_demo_rig(client, name, step):
    answer = client.post(f"/api/v1/{step}", json={"rig": rig(client, name)})
    assert answer.status_code == 200, answer.text


@pytest.mark.parametrize("step", ["mount", "guiding", "power"])
def test_an_empty_rig_is_drawn_as_nothing(client, step):
    assert client.post(f"/api/v1/{step}", json={"rig": {"name": "Empty"}}).status_code == 200


def test_the_guide_patch_holds_listed_stars(client):
    patch = client.post("/api/v1/guiding/patch", json={"rig": rig(client, "heron"), "target": "NGC 281"}).json()
    assert patch["target"] == "NGC 281" and patch["inside"] > 0
    assert client.post("/api/v1/guiding/patch", json={"rig": {"name": "Empty"}}).json() is None
    answer = client.post("/api/v1/guiding", json={"rig": rig(client, "heron")}).json()
    assert [way["method"] for way in answer["methods"]] == ["none", "guide_scope", "off_axis"]


def test_bad_gear_names_its_field(client):
    given = rig(client, "heron")
    given["counterweights"][0]["position_mm"] = -5
    answer = client.post("/api/v1/mount", json={"rig": given})
    assert answer.status_code == 422
    fault = answer.json()["errors"][0]
    assert fault["field"].endswith("counterweights.0.position_mm") and "0 to 3000" in fault["accepted"]
    mount = {"kind": "mount", "name": "m", "style": "tracker", "payload_kg": "heavy"}
    assert "Payload must be a number" in client.post("/api/v1/parts", json=mount).json()["errors"][0]["reason"]


def test_gear_is_kept_on_the_shelf_and_a_change_reaches_the_rigs(client):
    kept = client.get("/api/v1/parts/equatorial-13").json()
    body = kept["body"] | {"mass_g": 8000}
    client.put("/api/v1/parts/equatorial-13", json={"base": kept["version"], "body": body})
    assert rig(client, "heron")["mount"]["mass_g"] == 8000


def test_rigs_and_revisions_side_by_side(client):
    heron = client.get("/api/v1/rigs/heron").json()
    light = heron["rig"] | {"riders": []}
    client.put("/api/v1/rigs/heron", json={"rig": light, "base": heron["revision"], "note": "bare"})
    entries = [{"rig": "heron", "revision": 1}, {"rig": "heron"}, {"rig": "wren"}]
    answer = client.post("/api/v1/compare", json={"entries": entries}).json()
    assert [side["label"] for side in answer["sides"]] == ["Heron, revision 1", "Heron", "Wren"]
    assert answer["sides"][1]["mass_kg"] < answer["sides"][0]["mass_kg"]
    assert answer["targets"][0]["scores"][0] is not None
    assert client.post("/api/v1/compare", json={"entries": []}).status_code == 422
    assert client.post("/api/v1/compare", json={"entries": [{"rig": "none"}]}).status_code == 404


def test_cost_and_shopping_list(client):
    answer = client.get("/api/v1/rigs/magpie/cost").json()
    assert answer["owned"][0]["currency"] == "EUR" and answer["shopping"]
    text = client.get("/api/v1/rigs/magpie/shopping.csv").text.splitlines()
    assert text[0] == "part,kind,price,currency,why" and len(text) == len(answer["shopping"]) + 1


def test_a_path_of_growth_is_kept_and_judged(client):
    kept = client.get("/api/v1/growths").json()[0]
    views = client.post("/api/v1/growth", json={"growth": kept["body"]}).json()
    assert [view["rig"] for view in views] == ["Wren", "Heron", "Bittern"]
    shorter = kept["body"] | {"stages": kept["body"]["stages"][:1]}
    changed = client.put(f"/api/v1/growths/{kept['id']}", json={"base": kept["version"], "body": shorter})
    assert changed.status_code == 200 and len(changed.json()["body"]["stages"]) == 1
    lost = {"name": "lost", "stages": [{"title": "gone", "rig": "none"}]}
    assert client.post("/api/v1/growth", json={"growth": lost}).status_code == 404
