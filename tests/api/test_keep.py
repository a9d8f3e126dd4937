"""Backups, restore, export and import through the API and the command line; what is broken is told, nothing is lost."""

import io
import json
import re
from pathlib import Path
from zipfile import ZIP_DEFLATED, ZipFile

import jsonschema
import pytest
from astropy.io import fits
from PIL import Image
from typer.testing import CliRunner

from dravel.cli import app
from dravel.core.model import Target
from dravel.formats import everything
from dravel.seed import seed_demo
from dravel.store import Store
from dravel.store.drills import DrillKept
from dravel.store.rows import TABLES, LooseRow, rows
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
    taken = keeping.take_all_in(fresh, io.BytesIO(answer.content))
    assert taken.differ == () and told(fresh) == told(demo_store)
    assert fresh.sessions.light() == demo_store.sessions.light() and fresh.rigs.as_built("heron") == 1
    assert (
        [item.title for item in fresh.search.find("nandu")]
        == [item.title for item in demo_store.search.find("ñandú")]
        != []
    )
    again = keeping.take_all_in(fresh, io.BytesIO(answer.content))
    assert again.added == {} and again.present > 0 and again.differ == ()
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


BROKEN = (everything.NotEverything, everything.WrongRow, LooseRow)


@pytest.fixture
def exported(demo_store, tmp_path) -> bytes:
    keeping.export(demo_store, tmp_path / "whole.zip")
    return (tmp_path / "whole.zip").read_bytes()


def with_row(table, **row):
    return lambda file, body: json.dumps([row]).encode() if file == f"tables/{table}.json" else body


def raw(table, text):
    return lambda file, body: text.encode("utf-8", "surrogatepass") if file == f"tables/{table}.json" else body


ENTRY = {"kind": "target", "id": "t-1", "version": 1, "archived": False, "position": 1,
         "body": {"name": "Cloud", "ra_deg": 10, "dec_deg": 10}}  # fmt: skip
RIG = {"id": "x", "head": 1, "position": 1, "archived": False, "as_built": None}
REVISION = {"rig_id": "x", "number": 1, "parent": None, "redo": None, "note": "", "saved_at": "2026-11-20T20:00:00+00:00",
            "body": {"name": "x"}}  # fmt: skip
TICK = {"id": "tick-0001", "rig_id": "heron", "build": 1, "card": "c", "done": True, "at": "2026-11-20T20:00:00Z", "device": "",
        "position": 1}  # fmt: skip
PAPER = {"id": "p", "of_kind": "part", "of_id": "x", "name": "n", "media": "image/png", "size": 1, "archived": False,
         "position": 1, "file": "papers/none.png", "body": None}  # fmt: skip


@pytest.mark.parametrize(("change", "said"), [
    (lambda name, body: None if name == "dravel.json" else body, "dravel.json"),
    (lambda name, body: body.replace(b'"version": 1,', b'"version": 7,') if name == "dravel.json" else body, "newer"),
    (lambda name, body: b"[" * 100_000 if name == "dravel.json" else body, "dravel.json"),
    (raw("rigs", "[{]"), "tables/rigs.json"),
    (raw("rigs", "{}"), "no list of rows"),
    (raw("rigs", "[1]"), "no list of rows"),
    (raw("rigs", "[" * 100_000), "tables/rigs.json"),
    (raw("rigs", '[{"id": "x"'), "tables/rigs.json"),
    (raw("entries", '[{"body": ' + "[" * 50_000 + "]" * 50_000 + "}]"), "entries"),
    (raw("entries", "[" + " " * 9_000_000 + "]"), "a row is longer"),
    (raw("entries", json.dumps([ENTRY]).replace("t-1", "\\ud800")), "entries"),
    (raw("entries", json.dumps([ENTRY]).replace("Cloud", "\\ud800")), "entries"),
    (raw("entries", json.dumps([ENTRY]).replace("Cloud", "\ud800")), "entries"),
    (with_row("rigs", **{**RIG, "head": "one"}), "rigs x: head"),
    (with_row("rigs", id="x"), "rigs x: head"),
    (with_row("rigs", **RIG, more=1), "rigs x: more"),
    (with_row("rigs", **{**RIG, "id": "a/b"}), "rigs a/b: id"),
    (with_row("rigs", **{**RIG, "id": "a\nb"}), "rigs a b: id"),
    (with_row("rigs", **{**RIG, "id": "a" * 3000}), "id"),
    (with_row("rigs", **{**RIG, "head": 99}), "its revisions are not 1 to 99"),
    (with_row("rigs", **RIG), "its revisions are not 1 to 1"),
    (with_row("entries", **{**ENTRY, "version": 10**30}), "version"),
    (with_row("entries", **{**ENTRY, "position": 2**63}), "position"),
    (with_row("entries", **{**ENTRY, "kind": "ghost"}), "kind"),
    (raw("entries", json.dumps([ENTRY, ENTRY])), "is there twice"),
    (with_row("revisions", **{**REVISION, "saved_at": "yesterday"}), "saved_at"),
    (with_row("revisions", **{**REVISION, "rig_id": "nobody"}), "belongs to nothing"),
    (with_row("sessions", id="s", night_id=None, rig_id="heron", night="2026-11-20", version=1, archived=False, position=1,
              body={"night": "no"}), "sessions s"),
    (with_row("ticks", **{**TICK, "rig_id": "nobody"}), "belongs to nothing"),
    (with_row("ticks", **{**TICK, "at": "yesterday"}), "at"),
    (with_row("ticks", **{**TICK, "id": "a/b/c/d/e"}), "id"),
    (with_row("keys", key="a key with spaces", kind="rig", made="x"), "key"),
    (with_row("papers", **PAPER), "cut short or damaged"),
    (with_row("papers", **{**PAPER, "media": "text/html"}), "media"),
    (with_row("papers", **{**PAPER, "name": "a\nb"}), "name"),
    (with_row("papers", **{**PAPER, "file": "dravel.json"}), "size is not that"),
])  # fmt: skip
def test_a_broken_archive_is_told_and_nothing_is_taken(demo_store, exported, change, said):
    before = told(demo_store)
    with pytest.raises(BROKEN, match=re.escape(said)):
        keeping.take_all_in(demo_store, io.BytesIO(edited(exported, change)))
    assert told(demo_store) == before


def test_what_is_broken_in_an_archive_is_answered_in_words(client, demo_store, exported):
    before = told(demo_store)
    answer = client.post(f"{V1}/keep/import", content=edited(exported, raw("rigs", "{}")))
    assert answer.status_code == 422 and "no list of rows" in answer.json()["detail"], answer.text
    assert "content-security-policy" in answer.headers
    assert told(demo_store) == before


@pytest.mark.parametrize(("at", "put", "said"), [
    (("PK\x03\x04", 6), ("PK\x01\x02", 8), "encrypted"), (("PK\x03\x04", 8), ("PK\x01\x02", 10), "packed in a way"),
])  # fmt: skip
def test_an_archive_that_nobody_can_unpack_is_told(client, at, put, said):
    content = bytearray(client.get(f"{V1}/keep/export").content)
    for mark, off in (at, put):
        content[content.find(mark.encode("latin-1")) + off] = 1 if said == "encrypted" else 99
    answer = client.post(f"{V1}/keep/import", content=bytes(content))
    assert answer.status_code == 422 and said in answer.text


def test_a_broken_stream_in_an_archive_is_told(client, demo_store):
    before = told(demo_store)
    content = bytearray(client.get(f"{V1}/keep/export").content)
    middle = len(content) // 3
    content[middle : middle + 4000] = b"\xff" * 4000
    answer = client.post(f"{V1}/keep/import", content=bytes(content))
    assert answer.status_code == 422 and told(demo_store) == before


def test_one_file_is_not_many_papers(client, demo_store):
    """Three hundred papers that name one file of 20 MB would be six gigabytes out of some kilobytes."""
    pdf = b"%PDF-" + b" " * 1000
    papers = [
        {**PAPER, "id": f"p-{k}", "media": "application/pdf", "size": len(pdf), "file": "papers/one.pdf"}
        for k in range(300)
    ]
    out = io.BytesIO()
    with ZipFile(out, "w", ZIP_DEFLATED) as made:
        made.writestr("dravel.json", json.dumps({"format": everything.FORMAT, "version": 1, "written": "", "rows": {}}))
        made.writestr("tables/papers.json", json.dumps(papers))
        made.writestr("papers/one.pdf", pdf)
    answer = client.post(f"{V1}/keep/import", content=out.getvalue())
    assert answer.status_code == 422 and "another paper's file" in answer.text


def test_pictures_that_come_in_an_archive_lose_their_metadata_too(client, demo_store):
    made = night(client).json()
    own = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F] = "a maker"
    Image.new("RGB", (60, 40), "navy").save(own, "JPEG", exif=exif)
    rows = [{**PAPER, "id": "shot", "of_kind": "session", "of_id": made["id"], "media": "image/jpeg",
             "size": len(own.getvalue()), "file": "papers/shot.jpg"}]  # fmt: skip
    out = io.BytesIO()
    with ZipFile(out, "w") as archive:
        archive.writestr(
            "dravel.json", json.dumps({"format": everything.FORMAT, "version": 1, "written": "", "rows": {}})
        )
        archive.writestr("tables/papers.json", json.dumps(rows))
        archive.writestr("papers/shot.jpg", own.getvalue())
    assert client.post(f"{V1}/keep/import", content=out.getvalue()).status_code == 200
    kept = client.get(f"{V1}/papers/shot")
    assert not Image.open(io.BytesIO(kept.content)).getexif() and b"a maker" not in kept.content


def test_an_import_is_a_job_that_can_be_watched_and_is_whole_or_not_at_all(client, demo_store, tmp_path):
    other = Store(tmp_path / "other" / "x.sqlite")
    other.targets.add(*(Target(name=f"Cloud {k}", ra_deg=10, dec_deg=10) for k in range(3000)))
    keeping.export(other, tmp_path / "other.zip")
    other.close()
    before = demo_store.targets.count()
    job = client.post(f"{V1}/jobs/archive", content=(tmp_path / "other.zip").read_bytes()).json()
    with client.stream("GET", f"{V1}/jobs/{job['id']}/events") as events:
        heard = [json.loads(line.removeprefix("data: ")) for line in events.iter_lines() if line.startswith("data: ")]
    assert heard[-1]["state"] == "done" and heard[-1]["taken"]["added"] == {"entries": 3000}
    assert demo_store.targets.count() == before + 3000 and demo_store.search.find("Cloud 2999")[0].kind == "target"
    assert not [path.name for what in ("import", "batch") for path in tmp_path.glob(f"dravel-{what}-*")]


@pytest.mark.parametrize("given", [b"", b"PK\x03\x04 cut", b"SQLite format 3\x00"])
def test_what_is_no_archive_is_told(client, demo_store, given):
    before = told(demo_store)
    answer = client.post(f"{V1}/keep/import", content=given)
    assert answer.status_code == 422 and told(demo_store) == before


def test_a_backup_is_made_fetched_and_restored_on_the_page(client, demo_store):
    assert client.get(f"{V1}/keep").json()["last"] is None
    made = client.post(f"{V1}/keep/backup").json()
    assert made["last"] and len(made["backups"]) == 1
    name = made["backups"][0]["name"]
    assert client.get(f"{V1}/keep/backups/{name}").content.startswith(b"SQLite format 3")
    night(client)
    back = client.post(f"{V1}/keep/restore", json={"name": name}).json()
    assert len(back["backups"]) == 2 and client.get(f"{V1}/sessions").json()["of"] == 0
    since = next(item["name"] for item in back["backups"] if item["name"] != name)
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
    assert "166" in cli.invoke(app, ["import", str(archive), *data]).output
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
