"""The API: problems by field, revisions, guard, Board, sky."""

import json
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from dravel.api.app import create_app
from dravel.config import Settings

V1 = "/api/v1"


def problem(answer, status):
    assert answer.status_code == status, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    body = answer.json()
    assert body["status"] == status and body["title"] and body["detail"]
    return body


def test_evaluate_takes_an_unsaved_rig(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    rig["name"] = "Never saved"
    answer = client.post(f"{V1}/evaluate", json={"rig": rig}).json()
    scale = next(f for f in answer["evaluation"]["figures"] if f["key"] == "optics.pixel_scale_arcsec_px")
    assert scale["value"] == pytest.approx(1.945, abs=1e-3)
    assert scale["formula"] == "206.265 · p / f"
    assert answer["strip"]["blocks"][0]["name"] == "86 mm f/5.4 triplet"
    assert len(client.get(f"{V1}/rigs").json()) == 4


@pytest.mark.parametrize("bad", [0, -1, 376, "3.5", None])
def test_bad_input_names_field_reason_and_range(client, bad):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    rig["path"][5]["part"]["sensor"]["pixel_um"] = bad
    for call in (
        client.post(f"{V1}/evaluate", json={"rig": rig}),
        client.put(f"{V1}/rigs/heron", json={"rig": rig, "base": 1}),
        client.post(f"{V1}/rigs", json={"rig": rig}),
    ):
        (fault,) = problem(call, 422)["errors"]
        assert fault["field"] == "rig.path.5.part.sensor.pixel_um"
        assert fault["accepted"] == "0.5 to 30 µm"
    assert client.get(f"{V1}/rigs/heron").json()["revision"] == 1


def test_a_stale_save_is_answered_409_with_the_newest_revision(client):
    rig = client.get(f"{V1}/rigs/wren").json()["rig"]
    first = client.put(f"{V1}/rigs/wren", json={"rig": {**rig, "name": "Theirs"}, "base": 1})
    assert first.json()["revision"] == 2
    late = problem(client.put(f"{V1}/rigs/wren", json={"rig": {**rig, "name": "Mine"}, "base": 1}), 409)
    assert late["current"] == 2
    assert client.get(f"{V1}/rigs/wren").json()["rig"]["name"] == "Theirs"


def test_undo_redo_and_revisions(client):
    rig = client.get(f"{V1}/rigs/wren").json()["rig"]
    client.put(f"{V1}/rigs/wren", json={"rig": {**rig, "name": "Kite"}, "base": 1, "note": "renamed"})
    undone = client.post(f"{V1}/rigs/wren/undo", json={"base": 2}).json()
    assert (undone["rig"]["name"], undone["can_redo"]) == ("Wren", True)
    assert client.post(f"{V1}/rigs/wren/redo", json={"base": 3}).json()["rig"]["name"] == "Kite"
    assert [r["number"] for r in client.get(f"{V1}/rigs/wren/revisions").json()] == [4, 3, 2, 1]
    assert client.get(f"{V1}/rigs/wren/revisions/2").json()["rig"]["name"] == "Kite"
    problem(client.post(f"{V1}/rigs/heron/undo", json={"base": 1}), 422)


def test_export_and_import_are_lossless(client):
    text = client.get(f"{V1}/rigs/bittern/file").text
    kept = client.post(f"{V1}/rigs/import", content=text).json()
    assert kept["id"] != "bittern"
    assert kept["rig"] == client.get(f"{V1}/rigs/bittern").json()["rig"]


@pytest.mark.parametrize("text", ["", "{", "[]", '{"format":"dravel-rig","version":7}', "\x00"])
def test_a_file_that_cannot_be_read_changes_nothing(client, text):
    problem(client.post(f"{V1}/rigs/import", content=text), 422)
    assert len(client.get(f"{V1}/rigs").json()) == 4


@pytest.mark.parametrize(
    "path", ["rigs/none", "parts/none", "sites/none", "rules/Z9", "rigs/wren/revisions/99", "nothing"]
)
def test_unknown_things(client, path):
    problem(client.get(f"{V1}/{path}"), 404)


def test_it_answers_to_its_own_host_names_only(client, demo_store):
    for host in ("evil.example", "127.0.0.1.evil.example", "localhost.evil.example:80", ""):
        problem(client.get("/", headers={"host": host}), 421)
    for host in ("localhost", "localhost:8765", "127.0.0.1:1", "[::1]:80", "[::1]", "LOCALHOST"):
        assert client.get(f"{V1}/about", headers={"host": host}).status_code == 200
    named = TestClient(create_app(demo_store, Settings(host_names=("bench.lan",))), base_url="http://bench.lan")
    assert named.get(f"{V1}/about").status_code == 200


def test_another_site_cannot_change_anything(client):
    rig = client.get(f"{V1}/rigs/wren").json()["rig"]
    problem(client.post(f"{V1}/rigs", json={"rig": rig}, headers={"origin": "https://evil.example"}), 403)
    # Another port of this machine is another site; so is a page without an address.
    for other in ("http://localhost:5173", "null", "http://127.0.0.1"):
        problem(client.post(f"{V1}/rigs", json={"rig": rig}, headers={"origin": other}), 403)
    assert client.post(f"{V1}/rigs", json={"rig": rig}, headers={"origin": "http://localhost"}).status_code == 201


def test_pages_carry_a_content_security_policy(client):
    policy = client.get("/").headers["content-security-policy"]
    assert "default-src 'self'" in policy and "script-src 'self';" in policy and "frame-ancestors 'none'" in policy


def test_requests_are_bounded(client):
    problem(client.post(f"{V1}/rigs/import", content=b"x" * 4_000_001), 413)

    def without_length():
        for _ in range(50):
            yield b"x" * 100_000

    problem(client.post(f"{V1}/rigs/import", content=without_length()), 413)


def test_no_path_leads_out_of_the_pages(client):
    for path in ("/../../etc/passwd", "/..%2f..%2f..%2fetc%2fpasswd", "/assets/../../app.py"):
        answer = client.get(path)
        assert "root:" not in answer.text and "create_app" not in answer.text


def test_the_board(client):
    board = client.get(f"{V1}/board").json()
    assert [row["name"] for row in board["rows"]] == ["Wren", "Heron", "Bittern", "Magpie"]
    assert [target["name"] for target in board["targets"]][:3] == ["M81 / M82", "M101", "Veil complex"]
    heron = board["rows"][1]
    ic1805 = next(cell for cell in heron["cells"] if cell["target_id"] == "ic-1805")
    # One degree in 2.11 of height: 47 %.
    assert (ic1805["words"]["text"], ic1805["verdict"], ic1805["framed"]) == ("87%", "ok", True)
    client.post(f"{V1}/rigs", json={"rig": {"name": "Empty"}})
    empty = client.get(f"{V1}/board").json()["rows"][4]
    assert empty["field"] is None and empty["missing"]["text"] == "no camera in the light path"


@pytest.mark.parametrize(
    ("q", "name"),
    [("ngc891", "NGC 891"), ("NGC 0891", "NGC 891"), ("m 81", "M81"), ("messier", None), ("bode", "M81"),
     ("ic 11", "NGC 281"), ("Hercules glob", "M13"), ("  north  america ", "NGC 7000"), ("%", None), ("zzzz", None), ("98765432", None)],
)  # fmt: skip
def test_search_by_any_alias(client, q, name):
    result = client.get(f"{V1}/sky/search", params={"q": q}).json()
    assert (result[0]["name"] if result else None) == name


def test_sky_patch(client):
    patch = client.get(f"{V1}/sky/patch", params={"ra_deg": 312.75, "dec_deg": 30.95, "radius_deg": 3}).json()
    assert len(patch["stars"]) > 300
    assert {"NGC 6960", "NGC 6992"} <= {entry["name"] for entry in patch["objects"]}
    problem(client.get(f"{V1}/sky/patch", params={"ra_deg": 312, "dec_deg": 95, "radius_deg": 3}), 422)


def test_frame_moves_and_shows_other_rigs(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    view = {"ra_deg": 38.2, "dec_deg": 61.5}
    still = client.post(f"{V1}/sky/footprint", json={"rig": rig, "framing": 0, "view": view, "others": ["wren"]}).json()
    assert still["footprint"]["share_inside"] == 1
    assert [other["name"] for other in still["others"]] == ["Wren"]
    moved = client.post(
        f"{V1}/sky/footprint", json={"rig": rig, "framing": 0, "view": view, "move_to": [2.0, 0]}
    ).json()
    assert moved["footprint"]["centre"][0] == pytest.approx(2.0)
    assert moved["footprint"]["share_inside"] < 0.5
    assert moved["footprint"]["framing"]["centre_ra_deg"] > still["footprint"]["framing"]["centre_ra_deg"]
    none = client.post(f"{V1}/sky/footprint", json={"rig": {"name": "x"}, "framing": 3, "view": view}).json()
    assert none["footprint"] is None and none["because"]


def test_parts_csv_only_reports_until_told_to_keep(client):
    text = "kind,name,size,use\nfilter,New line filter,M48x0.75,h_alpha\nfilter,,M48x0.75,h_alpha\n"
    report = client.post(f"{V1}/parts.csv", content=text).json()
    assert (report["added"], report["kept"], report["faults"][0]["line"]) == (1, False, 3)
    before = len(client.get(f"{V1}/parts").json())
    assert client.post(f"{V1}/parts.csv?keep=true", content=text).json()["kept"] is True
    assert len(client.get(f"{V1}/parts").json()) == before + 1


def test_parts_change_with_their_version(client):
    entry = client.get(f"{V1}/parts/triplet-86").json()
    entry["body"]["mass_g"] = 4321
    assert client.put(f"{V1}/parts/triplet-86", json={"base": 1, "body": entry["body"]}).json()["version"] == 2
    # The same again is a save whose answer was lost; another is a change made elsewhere.
    assert client.put(f"{V1}/parts/triplet-86", json={"base": 1, "body": entry["body"]}).json()["version"] == 2
    problem(client.put(f"{V1}/parts/triplet-86", json={"base": 1, "body": {**entry["body"], "mass_g": 1}}), 409)
    heron = client.get(f"{V1}/rigs/heron").json()
    assert heron["rig"]["path"][0]["part"]["mass_g"] == 4321 and heron["revision"] == 2


def test_preferences_changes_verdicts(client):
    kept = client.get(f"{V1}/preferences").json()
    body = {**kept["body"], "sampling": "comfort_band"}
    client.put(f"{V1}/preferences", json={"base": kept["version"], "body": body})
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    result = client.post(f"{V1}/evaluate", json={"rig": rig}).json()["evaluation"]["findings"]
    assert next(f for f in result if f["code"] == "O2")["verdict"] == "ok"


def test_the_openapi_document_is_the_published_one(client):
    published = json.loads((Path(__file__).parents[2] / "docs" / "openapi.json").read_text())
    assert client.get(f"{V1}/openapi.json").json() == published
