"""The Spacing step over the API, the sheet, assemblies, own connector sizes."""

import xml.etree.ElementTree as ET

import jsonpatch
import pytest

from dravel.catalogue.starter_shelf import part
from dravel.core.steps.spacing.sheet import spacing_sheet
from dravel.formats.spacing_sheet import as_pdf, as_svg
from dravel.store import Store

V1 = "/api/v1"


def rig_of(client, name="heron"):
    return client.get(f"{V1}/rigs/{name}").json()["rig"]


def test_view_tray_rings_and_swap(client):
    rig = rig_of(client)
    view = client.post(f"{V1}/spacing", json={"rig": rig}).json()
    assert view["required_mm"] == pytest.approx(55.68, abs=0.01) and view["verdict"] == "ok"
    fits = client.post(f"{V1}/spacing/tray", json={"rig": rig, "index": 3, "replace": True}).json()
    assert fits[0]["both_ends"]
    short = {**rig, "path": [rig["path"][0], rig["path"][1], *rig["path"][4:]]}
    result = client.post(f"{V1}/spacing/rings", json={"rig": short}).json()
    fixed = jsonpatch.apply_patch(short, result["choices"][0]["change"])
    after = client.post(f"{V1}/spacing", json={"rig": fixed}).json()
    assert after["verdict"] == "ok"
    swapped = client.post(f"{V1}/spacing/swap", json={"rig": rig, "index": 4, "part_id": "guider-165"}).json()
    assert swapped["fitted"]["verdict"] != "problem"


@pytest.mark.parametrize(
    ("path", "body", "status", "words"),
    [
        ("tray", {"index": 59}, 422, "59"),
        ("tray", {"index": 99}, 422, "index"),
        ("swap", {"index": 40, "part_id": "guider-165"}, 422, "40"),
        ("swap", {"index": 2, "part_id": "uvir"}, 422, "part_id"),
        ("swap", {"index": 2, "part_id": "nothing"}, 404, "nothing"),
        ("rings", {"keep": [-1]}, 422, "keep"),
    ],
)
def test_bad_places_and_parts_are_named(client, path, body, status, words):
    answer = client.post(f"{V1}/spacing/{path}", json={"rig": rig_of(client), **body})
    assert answer.status_code == status
    assert words in answer.text


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"op": "replace", "path": "/path/2/part/optical_length_mm", "value": 0}, "optical_length_mm", "no length"),
        ({"op": "replace", "path": "/path/2/part/optical_length_mm", "value": -2}, "optical_length_mm", "0 to 2000 mm"),
        ({"op": "replace", "path": "/path/2/set_length_mm", "value": 12}, "set_length_mm", "fixed length"),
        (
            {
                "op": "replace",
                "path": "/path/1/part/back_focus_table",
                "value": [{"focal_length_mm": 500, "back_focus_mm": 54}, {"focal_length_mm": 400, "back_focus_mm": 56}],
            },
            "back_focus_table",
            "must rise",
        ),
    ],
)
def test_bad_lengths_are_refused_by_field_and_nothing_is_lost(client, change, field, words):
    rig = jsonpatch.apply_patch(rig_of(client), [change])
    for call in (
        client.post(f"{V1}/spacing", json={"rig": rig}),
        client.put(f"{V1}/rigs/heron", json={"rig": rig, "base": 1}),
    ):
        assert call.status_code == 422
        (fault,) = call.json()["errors"]
        assert field in fault["field"] and words in fault["reason"]
    assert client.get(f"{V1}/rigs/heron").json()["revision"] == 1


def test_two_cameras_are_refused(client):
    rig = rig_of(client)
    rig["path"].append(rig["path"][-1])
    answer = client.post(f"{V1}/spacing", json={"rig": rig})
    assert answer.status_code == 422 and "a light path has one" in answer.text


def test_evaluate_gives_fixes_when_asked(client):
    rig = rig_of(client, "magpie")
    quick = client.post(f"{V1}/evaluate", json={"rig": rig}).json()["evaluation"]
    whole = client.post(f"{V1}/evaluate?fixes=true", json={"rig": rig}).json()["evaluation"]
    assert not any(f["fixes"] for f in quick["findings"])
    assert any(f["fixes"] for f in whole["findings"])
    assert quick["figures"] == whole["figures"]


def test_the_sheet_as_svg_and_pdf(client, rigs):
    svg = client.get(f"{V1}/rigs/heron/spacing-sheet.svg")
    assert svg.headers["content-type"].startswith("image/svg+xml")
    words = " ".join(ET.fromstring(svg.text).itertext())
    assert "55.7 ± 0.2 mm required" in words and "38.2 mm (± 0.15 worst case)" in words
    pdf = client.get(f"{V1}/rigs/heron/spacing-sheet.pdf")
    assert pdf.content.startswith(b"%PDF-") and pdf.content.rstrip().endswith(b"%%EOF")
    assert client.get(f"{V1}/rigs/none/spacing-sheet.pdf").status_code == 404
    long = rigs["bittern"].model_copy(update={"path": rigs["bittern"].path[:3] + rigs["bittern"].path[2:3] * 45})
    assert as_pdf(spacing_sheet(long)).count(b"/Type /Page\n") >= 2
    assert "of 3" in as_svg(spacing_sheet(long)) or "of 2" in as_svg(spacing_sheet(long))


def test_an_assembly_moves_whole_and_changes_everywhere(client):
    heron, bittern = rig_of(client), rig_of(client, "bittern")
    items = bittern["path"][4:]
    made = client.post(f"{V1}/assemblies", json={"name": "Mono head", "items": items}).json()
    facts = client.get(f"{V1}/assemblies/{made['id']}/facts").json()
    assert facts["length_mm"] == pytest.approx(16.5 + 20 + 17.5)
    assert facts["sky_side"]["size"] == "M48x0.75" and not facts["unweighed"]
    tagged = [{**item, "assembly": made["id"]} for item in items]
    client.put(f"{V1}/rigs/bittern", json={"rig": {**bittern, "path": bittern["path"][:4] + tagged}, "base": 1})
    client.put(f"{V1}/rigs/heron", json={"rig": {**heron, "path": heron["path"][:3] + tagged}, "base": 1})
    ring = {"part": part("ring-m42-2").model_dump(mode="json")}
    body = {**made["body"], "items": [items[0], ring, *items[1:]]}
    client.put(f"{V1}/assemblies/{made['id']}", json={"base": 1, "body": body})
    for name, count in (("heron", 7), ("bittern", 8)):
        kept = client.get(f"{V1}/rigs/{name}").json()
        assert kept["revision"] == 3 and len(kept["rig"]["path"]) == count
        assert kept["note"] == "Mono head was changed"
        assert kept["rig"]["path"][-3]["part"]["id"] == "ring-m42-2"


def test_a_changed_part_reaches_assemblies_and_guide_branches(client):
    bittern = rig_of(client, "bittern")
    made = client.post(f"{V1}/assemblies", json={"name": "Head", "items": bittern["path"][4:]}).json()
    kept = client.get(f"{V1}/parts/wheel-7").json()
    body = {**kept["body"], "measured": {"optical_length_mm": {"value": 20.1, "instrument": "callipers"}}}
    client.put(f"{V1}/parts/wheel-7", json={"base": kept["version"], "body": body})
    assert client.get(f"{V1}/assemblies/{made['id']}/facts").json()["length_mm"] == pytest.approx(54.1)
    guide = client.get(f"{V1}/parts/guide-48").json()
    client.put(
        f"{V1}/parts/guide-48", json={"base": guide["version"], "body": {**guide["body"], "flange_to_sensor_mm": 9.5}}
    )
    branch = rig_of(client, "bittern")["guide"]["branch"]
    assert branch[0]["part"]["flange_to_sensor_mm"] == 9.5


def test_a_rigs_front_ring_stays_as_it_is_when_the_shelf_changes(client):
    rig = rig_of(client)
    rig["path"][-1]["part"]["front_ring"]["fitted"] = False
    client.put(f"{V1}/rigs/heron", json={"rig": rig, "base": 1})
    kept = client.get(f"{V1}/parts/colour-18").json()
    client.put(f"{V1}/parts/colour-18", json={"base": kept["version"], "body": {**kept["body"], "mass_g": 500}})
    camera = rig_of(client)["path"][-1]["part"]
    assert camera["mass_g"] == 500 and camera["front_ring"]["fitted"] is False


def test_own_connector_sizes(client):
    preferences = client.get(f"{V1}/preferences").json()
    own = {"size": "M52x0.75", "family": "thread", "nominal_mm": 52, "clear_mm": 48.5}
    body = {**preferences["body"], "connector_sizes": [own]}
    assert client.put(f"{V1}/preferences", json={"base": 0, "body": body}).status_code == 200
    assert client.get(f"{V1}/connectors").json()[-1]["size"] == "M52x0.75"
    twice = {**preferences["body"], "connector_sizes": [{**own, "size": "M42x0.75"}]}
    answer = client.put(f"{V1}/preferences", json={"base": 1, "body": twice})
    assert answer.status_code == 422 and "is in the table already" in answer.text
    wide = {**preferences["body"], "connector_sizes": [{**own, "clear_mm": 60}]}
    assert "cannot be wider" in client.put(f"{V1}/preferences", json={"base": 1, "body": wide}).text


def test_an_old_database_takes_assemblies(tmp_path):
    from alembic import command
    from alembic.config import Config

    from dravel.store.database import MIGRATIONS, _engine

    path = tmp_path / "old.sqlite"
    engine = _engine(path)
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as link:
        config.attributes["connection"] = link
        command.upgrade(config, "0001")
        link.exec_driver_sql(
            "INSERT INTO entries VALUES ('part', 'r', 1, 1, 0, ?)", (part("ring-m48-10").model_dump_json(),)
        )
    engine.dispose()
    store = Store(path)
    assert [entry.id for entry in store.parts.all()] == ["r"]
    assert store.assemblies.all() == []
    store.close()
