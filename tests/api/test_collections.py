"""Parts, targets and sites answer to the same six calls; the preferences to two."""

import pytest

V1 = "/api/v1"
BODIES = {
    "parts": {"kind": "filter", "name": "Line filter", "size": "M48x0.75", "use": "h_alpha"},
    "targets": {"name": "Own cloud", "ra_deg": 10.5, "dec_deg": 41.2, "major_arcmin": 30},
    "sites": {"name": "Valley", "latitude_deg": 40.5, "longitude_deg": -2.7, "seeing_arcsec": 3.1},
}
BAD = {
    "parts": ({"thickness_mm": 0}, "thickness_mm", "0.2 to 20 mm"),
    "targets": ({"dec_deg": 95}, "dec_deg", "-90 to 90 °"),
    "sites": ({"latitude_deg": 95}, "latitude_deg", "-90 to 90 °"),
}


@pytest.fixture(params=list(BODIES))
def kind(request) -> str:
    return request.param


def test_added_read_listed(client, kind):
    kept = client.post(f"{V1}/{kind}", json=BODIES[kind])
    assert kept.status_code == 201
    body = kept.json()
    assert body["version"] == 1 and body["body"]["id"] == body["id"]
    assert client.get(f"{V1}/{kind}/{body['id']}").json() == body
    assert client.get(f"{V1}/{kind}").json()[-1] == body


def test_a_second_of_the_same_name_gets_an_id_of_its_own(client, kind):
    first, second = (client.post(f"{V1}/{kind}", json=BODIES[kind]).json()["id"] for _ in range(2))
    assert first != second


def test_changed_with_its_version(client, kind):
    kept = client.post(f"{V1}/{kind}", json=BODIES[kind]).json()
    url = f"{V1}/{kind}/{kept['id']}"
    changed = client.put(url, json={"base": 1, "body": {**kept["body"], "name": "Another"}})
    assert changed.json()["version"] == 2
    stale = client.put(url, json={"base": 1, "body": {**kept["body"], "name": "Third"}})
    assert stale.status_code == 409 and stale.json()["current"] == 2
    assert client.get(url).json()["body"]["name"] == "Another"
    same = client.put(url, json={"base": 2, "body": changed.json()["body"]})
    assert same.json()["version"] == 2


def test_put_away_and_brought_back(client, kind):
    kept = client.post(f"{V1}/{kind}", json=BODIES[kind]).json()
    url = f"{V1}/{kind}/{kept['id']}"
    count = len(client.get(f"{V1}/{kind}").json())
    assert client.delete(url).status_code == 204
    assert len(client.get(f"{V1}/{kind}").json()) == count - 1
    assert client.post(f"{url}/restore").json() == kept
    assert len(client.get(f"{V1}/{kind}").json()) == count


def test_bad_values_are_refused_by_field(client, kind):
    change, field, accepted = BAD[kind]
    count = len(client.get(f"{V1}/{kind}").json())
    answer = client.post(f"{V1}/{kind}", json={**BODIES[kind], **change})
    assert answer.status_code == 422
    (fault,) = answer.json()["errors"]
    assert (fault["field"], fault["accepted"]) == (field, accepted)
    assert len(client.get(f"{V1}/{kind}").json()) == count


@pytest.mark.parametrize("body", ["", "{", "[]", "null", '"text"', "{}", '{"name": 1}'])
def test_bodies_that_are_none(client, kind, body):
    answer = client.post(f"{V1}/{kind}", content=body, headers={"content-type": "application/json"})
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"


def test_unknown_ids(client, kind):
    base = {"base": 1, "body": BODIES[kind]}
    for answer in (
        client.get(f"{V1}/{kind}/none"),
        client.put(f"{V1}/{kind}/none", json=base),
        client.delete(f"{V1}/{kind}/none"),
        client.post(f"{V1}/{kind}/none/restore"),
    ):
        assert answer.status_code == 404
        assert "none" in answer.json()["detail"]


def test_a_target_on_the_board_is_the_one_that_was_changed(client):
    kept = client.get(f"{V1}/targets/veil-complex").json()
    body = {**kept["body"], "major_arcmin": 90, "minor_arcmin": 60}
    client.put(f"{V1}/targets/veil-complex", json={"base": 1, "body": body})
    heron = client.get(f"{V1}/rigs/heron").json()
    assert heron["revision"] == 2
    framed = next(f for f in heron["rig"]["framings"] if f["target"]["id"] == "veil-complex")
    assert framed["target"]["major_arcmin"] == 90


def test_preferences_is_versioned(client):
    first = client.get(f"{V1}/preferences").json()
    assert first["version"] == 0
    body = {**first["body"], "mosaic_overlap": 0.2}
    assert client.put(f"{V1}/preferences", json={"base": 0, "body": body}).json()["version"] == 1
    assert client.put(f"{V1}/preferences", json={"base": 0, "body": body}).json()["version"] == 1  # the answer was lost
    other = {**body, "mosaic_overlap": 0.3}
    assert client.put(f"{V1}/preferences", json={"base": 0, "body": other}).status_code == 409
    wrong = client.put(f"{V1}/preferences", json={"base": 1, "body": {**body, "mosaic_overlap": 0.9}})
    assert wrong.json()["errors"][0]["accepted"] == "a share of 0 to 0.5"
    assert client.get(f"{V1}/preferences").json()["body"]["mosaic_overlap"] == 0.2


def test_a_new_framing_uses_the_practices_overlap(client):
    preferences = client.get(f"{V1}/preferences").json()["body"]
    client.put(f"{V1}/preferences", json={"base": 0, "body": {**preferences, "mosaic_overlap": 0.3}})
    rig = client.get(f"{V1}/rigs/wren").json()["rig"]
    target = client.get(f"{V1}/targets").json()[-1]
    framing = client.post(f"{V1}/sky/framing", json={"rig": rig, "target": target["body"]}).json()
    assert framing["overlap"] == 0.3
    assert framing["centre_ra_deg"] == target["body"]["ra_deg"]


def test_glass_and_rules_and_connectors(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    view = client.post(f"{V1}/optics", json={"rig": rig}).json()
    assert [term["name"]["text"] for term in view["star"]["terms"]] == ["seeing", "diffraction", "guiding", "pixel"]
    assert sum(option["in_use"] for option in view["options"]) == 1
    assert client.get(f"{V1}/rules/o1").json()["code"] == "O1"
    assert {row["size"] for row in client.get(f"{V1}/connectors").json()} >= {"M42x0.75", "M48x0.75", "2in"}
    assert client.get(f"{V1}/schema/rig-file").json()["properties"]["format"]["const"] == "dravel-rig"
    assert client.get(f"{V1}/about").json()["demo"] is False


def test_the_shelf_as_csv_comes_back_whole(client):
    text = client.get(f"{V1}/parts.csv")
    assert text.headers["content-disposition"] == 'attachment; filename="shelf.csv"'
    report = client.post(f"{V1}/parts.csv", content=text.content).json()
    assert report["added"] == len(client.get(f"{V1}/parts").json()) and report["faults"] == []
    wrong = client.post(f"{V1}/parts.csv", content=b"kind,name\n\xff").json()
    assert wrong["added"] == 0 and "UTF-8" in wrong["faults"][0]["faults"][0]["reason"]


def test_a_wrong_method_is_a_problem_too(client):
    answer = client.patch(f"{V1}/rigs/heron")
    assert answer.status_code == 405 and answer.json()["title"] == "Not possible"
    assert answer.headers["allow"] == "DELETE, GET, HEAD, PUT"
    assert client.post(f"{V1}/nothing/here").status_code == client.get(f"{V1}/nothing/here").status_code == 404
    assert client.post("/rigs/heron/aim").headers["allow"] == "GET, HEAD"
    asked = client.get(f"{V1}/compare")
    assert asked.status_code == 405 and asked.headers["allow"] == "POST"


def test_head_answers_as_get_does_without_a_body(client):
    for path in (f"{V1}/rigs/heron", f"{V1}/board", "/"):
        whole, head = client.get(path), client.head(path)
        assert head.status_code == whole.status_code == 200 and head.content == b""
        assert head.headers["content-type"] == whole.headers["content-type"]
    assert client.head(f"{V1}/rigs/nobody").status_code == 404


def test_every_answer_is_dressed_errors_too(client, monkeypatch):
    def fault(*_):
        raise RuntimeError("a fault of Dravel's own")

    monkeypatch.setattr("dravel.store.rigs.RigStore.get", fault)
    for path, status in ((f"{V1}/rigs/heron", 500), (f"{V1}/parts/nobody", 404), ("/assets/none.js", 404), ("/", 200)):
        answer = client.get(path)
        assert answer.status_code == status, path
        assert answer.headers["x-content-type-options"] == "nosniff" and "content-security-policy" in answer.headers
        assert (answer.headers.get("cache-control") == "no-store") == path.startswith("/api/"), path
    assert "traceback" not in client.get(f"{V1}/rigs/heron").text.lower()


def test_a_reading_says_which_rigs_it_changes_and_how(client):
    drawer = client.get("/api/v1/parts/drawer-21").json()["body"]
    twin = client.get("/api/v1/rigs/heron").json()["rig"] | {"name": "Twin"}
    assert client.post("/api/v1/rigs", json={"rig": twin}).status_code in (200, 201)
    read = drawer | {"measured": {"optical_length_mm": {"value": 20.4}}}
    answer = client.post("/api/v1/parts/drawer-21/touches", json=read).json()
    report = answer["rigs"]
    assert answer["more"] == 0
    assert [entry["name"] for entry in report] == ["Heron", "Twin"]
    for item in report:
        error = next(row for row in item["rows"] if row["title"] == "Back focus error")
        assert error["before"] == pytest.approx(0, abs=0.05) and error["after"] == pytest.approx(-0.6, abs=0.05)
        assert next((m["code"], m["before"], m["after"]) for m in item["moved"]) == ("S2", "ok", "warning")
    assert client.post("/api/v1/parts/drawer-21/touches", json=drawer).json()["rigs"] == []
    assert client.post("/api/v1/parts/nothing/touches", json=drawer).status_code == 404
    wrong = drawer | {"measured": {"optical_length_mm": {"value": -3}}}
    refused = client.post("/api/v1/parts/drawer-21/touches", json=wrong)
    assert refused.status_code == 422 and "optical_length_mm" in refused.text


def test_undo_says_which_parts_the_shelf_knows_otherwise(client):
    """A part changed on the shelf is a revision of the rig; taken back there, the earlier figure stays, and is said."""
    drawer = client.get("/api/v1/parts/drawer-21").json()
    heavier = {"base": drawer["version"], "body": drawer["body"] | {"mass_g": 555}}
    assert client.put("/api/v1/parts/drawer-21", json=heavier).status_code == 200
    head = client.get("/api/v1/rigs/heron").json()["revision"]
    back = client.post("/api/v1/rigs/heron/undo", json={"base": head}).json()
    assert back["behind"] == ["21 mm filter drawer"]
    again = client.post("/api/v1/rigs/heron/redo", json={"base": back["revision"]}).json()
    assert again["behind"] == []


@pytest.mark.parametrize("base", [False, "1", 1.5, None])
def test_a_base_is_a_whole_number_and_nothing_that_passes_for_one(client, base):
    drawer = client.get("/api/v1/parts/drawer-21").json()["body"]
    rig = client.get("/api/v1/rigs/heron").json()["rig"]
    assert client.put("/api/v1/parts/drawer-21", json={"base": base, "body": drawer}).status_code == 422
    assert client.put("/api/v1/rigs/heron", json={"base": base, "rig": rig}).status_code == 422
    assert client.post("/api/v1/rigs/heron/undo", json={"base": base}).status_code == 422


@pytest.mark.parametrize("on", [0, 1.5e9, True, "yesterday"])
def test_a_day_is_written_as_one(client, on):
    rig = client.get("/api/v1/rigs/heron").json()["rig"]
    refused = client.post("/api/v1/sky/ranking", json={"rig": rig, "on": on})
    assert refused.status_code in (404, 422)
    rig["framings"][0]["night"] = on
    answer = client.post("/api/v1/evaluate", json={"rig": rig})
    assert answer.status_code == 422 and "night" in answer.text


def test_a_creation_repeated_under_its_key_makes_nothing_twice(client):
    headers = {"Idempotency-Key": "an-evening-1"}
    rig = client.get("/api/v1/rigs/heron").json()["rig"] | {"name": "Twin"}
    first = client.post("/api/v1/rigs", json={"rig": rig}, headers=headers).json()
    again = client.post("/api/v1/rigs", json={"rig": rig}, headers=headers)
    assert again.status_code == 201 and again.json()["id"] == first["id"]
    assert sum(item["name"] == "Twin" for item in client.get("/api/v1/rigs").json()) == 1
    assert client.post("/api/v1/rigs", json={"rig": rig}).json()["id"] != first["id"]
    drawer = client.get("/api/v1/parts/drawer-21").json()["body"] | {"id": None, "name": "Another drawer"}
    other = {"Idempotency-Key": "an-evening-2"}
    made = [client.post("/api/v1/parts", json=drawer, headers=other).json()["id"] for _ in range(2)]
    assert made[0] == made[1]
    wrong = client.post("/api/v1/parts", json=drawer, headers=headers)
    assert wrong.status_code == 422 and "Idempotency-Key: this key made a rig before" in wrong.text
