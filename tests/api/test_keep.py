"""Backups, restore, export and import through the API and the command line; what is broken is told, nothing is lost."""

import io
import json
from pathlib import Path
from zipfile import ZipFile

import jsonschema
import pytest
from astropy.io import fits
from typer.testing import CliRunner

from dravel.cli import app
from dravel.formats import everything
from dravel.seed import seed_demo
from dravel.store import Store
from dravel.store.drills import DrillKept
from dravel.store.rows import TABLES, WrongRow, put_back, rows
from dravel.work import keeping
from tests.api.test_log import V1, night, picture, reading

cli = CliRunner()


def full(client, store):
    """Something of every kind."""
    made = night(client, marks=[{"sort": "saddle", "value": 120}], note="A ring was loose. Ñandú.").json()
    client.post(f"{V1}/papers/of/session/{made['id']}", content=picture((300, 200)))
    client.post(f"{V1}/papers/of/part/drawer-21", params={"name": "report"}, content=b"%PDF-1.4 x")
    store.frames.add("heron", reading("2026-11-20T21:00:00"))
    rig = client.get(f"{V1}/rigs/heron").json()
    client.put(f"{V1}/rigs/heron", json={"rig": {**rig["rig"], "notes": "changed"}, "base": rig["revision"]})
    client.put(f"{V1}/log/as-built/heron", json={"revision": 1})
    store.drills.add(DrillKept(("tilt",), ("tilt",), 2))
    return made["id"]


def told(store):
    return {table.name: list(rows(store.database, table)) for table in TABLES}


def test_an_export_reads_back_without_loss(client, demo_store, tmp_path):
    full(client, demo_store)
    answer = client.get(f"{V1}/keep/export")
    assert answer.status_code == 200
    fresh = Store(tmp_path / "fresh" / "x.sqlite")
    taken = keeping.take_in(fresh, io.BytesIO(answer.content))
    assert taken.differ == () and told(fresh) == told(demo_store)
    assert fresh.sessions.light() == demo_store.sessions.light() and fresh.rigs.as_built("heron") == 1
    assert (
        [one.title for one in fresh.search.find("nandu")]
        == [one.title for one in demo_store.search.find("ñandú")]
        != []
    )
    again = keeping.take_in(fresh, io.BytesIO(answer.content))
    assert dict(again.added) == {} and again.differ == ()
    fresh.close()


def test_the_archive_keeps_to_its_schema_and_other_readers_open_it(client, demo_store):
    full(client, demo_store)
    with ZipFile(io.BytesIO(client.get(f"{V1}/keep/export").content)) as archive:
        schema = json.loads(archive.read("schema.json"))
        assert schema == client.get(f"{V1}/schema/everything").json() == everything.schema()
        for table in TABLES:
            validator = jsonschema.Draft202012Validator({**schema, "$ref": f"#/$defs/{table.name}"})
            for row in json.loads(archive.read(f"tables/{table.name}.json")):
                validator.validate(row)
        assert archive.read("light.csv").decode().splitlines()[1].startswith("2026-11-20,Heron,IC 1805,,180.0,40,40,36")
        with fits.open(io.BytesIO(archive.read("frames.fits"))) as hdus:
            hdus.verify("exception")
            assert hdus["FRAMES"].data["TARGET"][0] == "IC 1805" and hdus["FRAMES"].data["FWHM_PX"][0] == 2.0


def test_what_is_here_is_never_written_over(client, demo_store, tmp_path):
    archive = client.get(f"{V1}/keep/export").content
    part = client.get(f"{V1}/parts/drawer-21").json()
    client.put(f"{V1}/parts/drawer-21", json={"base": part["version"], "body": {**part["body"], "notes": "mine"}})
    answer = client.post(f"{V1}/keep/import", content=archive)
    assert answer.status_code == 200 and "part drawer-21" in answer.json()["differ"]
    assert client.get(f"{V1}/parts/drawer-21").json()["body"]["notes"] == "mine"


def edited(content: bytes, change) -> bytes:
    """An archive with its tables changed."""
    out = io.BytesIO()
    with ZipFile(io.BytesIO(content)) as given, ZipFile(out, "w") as made:
        for name in given.namelist():
            body = change(name, given.read(name))
            if body is not None:
                made.writestr(name, body)
    return out.getvalue()


def with_row(table, **row):
    return lambda file, body: json.dumps([row]).encode() if file == f"tables/{table}.json" else body


@pytest.mark.parametrize(("change", "said"), [
    (lambda name, body: None if name == "dravel.json" else body, "dravel.json"),
    (lambda name, body: body.replace(b'"version": 1,', b'"version": 7,') if name == "dravel.json" else body, "newer"),
    (lambda name, body: b"[{]" if name == "tables/rigs.json" else body, "tables/rigs.json"),
    (lambda name, body: b"{}" if name == "tables/rigs.json" else body, "no list of rows"),
    (with_row("rigs", id="x", head="one", position=1, archived=False, as_built=None), "rigs.head"),
    (with_row("rigs", id="x"), "lacks"),
    (with_row("rigs", id="x", head=1, position=1, archived=False, as_built=None, more=1), "unknown field 'more'"),
    (with_row("sessions", id="s", night_id=None, rig_id="heron", night="2026-11-20", version=1, archived=False, position=1,
              body={"night": "no"}), "sessions s"),
    (with_row("entries", kind="ghost", id="g", version=1, archived=False, position=1, body={}), "no kind of thing"),
    (with_row("papers", id="p", of_kind="part", of_id="x", name="n", media="image/png", size=1, archived=False, position=1,
              file="papers/none.png"), "cut short or damaged"),
    (with_row("ticks", id="t", rig_id="nobody", build=1, card="c", done=True, at="x", device="", position=1), "belongs to nothing"),
])  # fmt: skip
def test_a_broken_archive_is_told_and_nothing_is_taken(client, demo_store, change, said):
    before = told(demo_store)
    answer = client.post(f"{V1}/keep/import", content=edited(client.get(f"{V1}/keep/export").content, change))
    assert answer.status_code == 422 and said in answer.text, answer.text
    assert told(demo_store) == before


@pytest.mark.parametrize("given", [b"", b"PK\x03\x04 cut", b"SQLite format 3\x00"])
def test_what_is_no_archive_is_told(client, given):
    answer = client.post(f"{V1}/keep/import", content=given)
    assert answer.status_code == 422 and "Nothing was taken in" in answer.text


def test_rows_are_kept_all_or_none(demo_store):
    by_name = {table.name: table for table in TABLES}
    good = {"id": "new-rig", "head": 1, "as_built": None, "position": 9, "archived": False}
    with pytest.raises(WrongRow):
        put_back(demo_store.database, [(by_name["rigs"], [good, {"id": "bad"}])])
    assert "new-rig" not in {one for one, _, _ in demo_store.rigs.names()}


def test_a_backup_is_made_fetched_and_restored_on_the_page(client, demo_store):
    assert client.get(f"{V1}/keep").json()["last"] is None
    made = client.post(f"{V1}/keep/backup").json()
    assert made["last"] and len(made["backups"]) == 1
    name = made["backups"][0]["name"]
    assert client.get(f"{V1}/keep/backups/{name}").content.startswith(b"SQLite format 3")
    night(client)
    back = client.post(f"{V1}/keep/restore", json={"name": name}).json()
    assert len(back["backups"]) == 2 and client.get(f"{V1}/sessions").json()["of"] == 0
    since = next(one["name"] for one in back["backups"] if one["name"] != name)
    client.post(f"{V1}/keep/restore", json={"name": since})
    assert client.get(f"{V1}/sessions").json()["of"] == 1


@pytest.mark.parametrize("name", ["none.sqlite", "../test.sqlite", "/etc/passwd", "x"])
def test_only_backups_by_name_are_restored_or_fetched(client, name):
    assert client.post(f"{V1}/keep/restore", json={"name": name}).status_code in (404, 422)
    assert client.get(f"{V1}/keep/backups/{name}").status_code == 404


def test_the_command_line_keeps_and_brings_back(tmp_path):
    store = Store(tmp_path / "dravel.sqlite")
    seed_demo(store)
    store.close()
    data = ["--data", str(tmp_path)]
    assert "restored once to prove it" in cli.invoke(app, ["backup", *data]).output
    named = tmp_path / "mine.sqlite"
    assert cli.invoke(app, ["backup", str(named), *data]).exit_code == 0 and named.is_file()
    assert cli.invoke(app, ["backup", str(named), *data]).exit_code == 3
    archive = tmp_path / "all.zip"
    assert "162 entries" in cli.invoke(app, ["export", str(archive), *data]).output
    assert "166 were here already" in cli.invoke(app, ["import", str(archive), *data]).output
    assert cli.invoke(app, ["import", str(named), *data]).exit_code == 3
    assert cli.invoke(app, ["export", str(archive), *data]).exit_code == 3
    (tmp_path / "dravel.sqlite").write_text("not a database any more")
    result = cli.invoke(app, ["restore", str(named), *data])
    assert result.exit_code == 0 and "What was there before" in result.output
    assert list(Path(tmp_path).glob("dravel.unreadable-*"))
    again = Store(tmp_path / "dravel.sqlite")
    assert len(again.rigs.all()) == 4
    again.close()
    assert "no such file" in cli.invoke(app, ["restore", str(tmp_path / "none"), *data]).output
    assert cli.invoke(app, ["backup", "--data", str(tmp_path / "empty")]).exit_code == 3
