"""Bounds before work: names of files, papers in pieces, pictures that unpack to gigabytes, long lists, wrong addresses, full disks."""

import io
import sqlite3
from datetime import date
from urllib.parse import unquote

import numpy as np
import pytest
from PIL import Image
from sqlalchemy.exc import OperationalError

from dravel.api import problems
from dravel.api.files import LONGEST, named
from dravel.catalogue.demo import RIDGE
from dravel.core.model import Preferences
from dravel.core.sky import standing
from dravel.core.sky.night import night_of
from dravel.formats.csv_cells import signed, unguarded
from dravel.formats.pictures import NotAPicture
from dravel.store.jobs import Job
from dravel.work import limits, picture
from dravel.work.__main__ import do
from dravel.work.workers import _how_it_died
from tests.api.test_log import V1, night


@pytest.mark.parametrize(("name", "plain", "whole"), [
    ("report.pdf", "report.pdf", ""), ("Prüfbericht.pdf", "Pr_fbericht.pdf", "Prüfbericht.pdf"), ("a/b\\c:d.png", "a_b_c_d.png", ""),
    ("two\r\nlines.pdf", "two lines.pdf", ""), ("", "file", ""), (" .. ", "file", ""), ('say "so".pdf', "say _so_.pdf", ""),
    ("x" * 300 + ".pdf", "x" * (LONGEST - 4) + ".pdf", ""), ("星.png", "_.png", "星.png"),
])  # fmt: skip
def test_files_are_named_as_they_were_typed_and_as_every_system_takes_them(name, plain, whole):
    answer = named(name)["content-disposition"]
    first, _, other = answer.removeprefix("attachment; ").partition("; ")
    assert first == f'filename="{plain}"'
    assert unquote(other.removeprefix("filename*=UTF-8''")) == whole


@pytest.mark.parametrize("number", ["+41 16 09.0", "-05 23 28.0", "12.5"])
def test_angles_in_tables_are_numbers_that_no_spreadsheet_takes_for_a_formula(number):
    cell = signed(number)
    assert cell[0] not in "=+-@" and unguarded(cell) == cell
    assert cell.strip() == number.removeprefix("+")


def test_a_paper_goes_to_disk_comes_back_in_pieces_and_keeps_its_name(client):
    made = night(client).json()
    rng = np.random.default_rng(1)
    out = io.BytesIO()
    Image.fromarray(rng.integers(0, 255, (900, 1200, 3), dtype=np.uint8)).save(out, "JPEG", quality=95)
    paper = client.post(
        f"{V1}/papers/of/session/{made['id']}", params={"name": "Première lumière.jpg"}, content=out.getvalue()
    )
    assert paper.status_code == 201, paper.text
    path = f"{V1}/papers/{paper.json()['id']}"
    with client.stream("GET", path) as answer:
        assert "Premi%C3%A8re" in answer.headers["content-disposition"]
        kept = b"".join(answer.iter_bytes())
    assert Image.open(io.BytesIO(kept)).size == (1200, 900) and len(kept) == paper.json()["size"]


def test_a_picture_that_ends_its_process_is_none(tmp_path, monkeypatch):
    file = tmp_path / "p.png"
    Image.new("L", (8_900, 8_900)).save(file)
    assert Image.open(io.BytesIO(picture.shrunk_apart(file))).size[0] < 8_900
    ended = type("Ended", (), {"returncode": -11, "stdout": b"", "stderr": b""})
    monkeypatch.setattr(picture.subprocess, "run", lambda *_, **__: ended)
    with pytest.raises(NotAPicture, match="memory"):
        picture.shrunk_apart(file)


def test_a_bound_of_memory_is_a_blocks_own():
    def kept() -> tuple[int, int]:
        import resource

        return resource.getrlimit(resource.RLIMIT_AS)

    before = kept()
    with limits.bounded_more(200_000_000):
        assert kept()[0] != before[0] or before[0] >= 0
        with pytest.raises(MemoryError):
            bytearray(2_000_000_000)
    assert kept() == before


@pytest.mark.parametrize(
    ("kind", "code", "said"),
    [("frame", -9, "larger than the memory"), ("parts", -9, "signal 9"), ("frame", 3, "with 3")],
)
def test_how_a_process_ended_is_said(kind, code, said):
    assert said in _how_it_died(kind, code)


def test_a_list_is_looked_at_in_blocks_as_it_would_be_whole(monkeypatch):
    rng = np.random.default_rng(3)
    facts = type("Facts", (), {"ra": rng.uniform(0, 360, 500), "dec": rng.uniform(-60, 85, 500)})
    when = night_of(RIDGE, date(2026, 11, 25))
    whole = standing.standing(facts, when, Preferences())
    monkeypatch.setattr(standing, "BLOCK", 37)
    pieces = standing.standing(facts, when, Preferences())
    for name in ("hours", "best_altitude_deg", "best_step", "vectors"):
        np.testing.assert_allclose(getattr(pieces, name), getattr(whole, name))


def test_a_wrong_address_builds_no_document(client, monkeypatch):
    monkeypatch.setattr("dravel.api.document.get_openapi", None)
    assert client.get(f"{V1}/no-such").status_code == 404
    wrong = client.delete(f"{V1}/preferences")
    assert wrong.status_code == 405 and "PUT" in wrong.headers["allow"]


@pytest.mark.parametrize("fault", [
    OperationalError("INSERT", {}, sqlite3.OperationalError("database or disk is full")),
    OSError(28, "No space left on device"), MemoryError(),
])  # fmt: skip
def test_an_import_that_finds_no_room_says_so_and_keeps_nothing(demo_store, tmp_path, monkeypatch, fault):
    path = tmp_path / "given"
    path.write_text("name,ra_deg,dec_deg\nT,1,2\n")
    before = demo_store.targets.count()
    job: Job = demo_store.jobs.add("targets", {"file": str(path), "keep": True})

    def full(*_: object) -> None:
        raise fault

    monkeypatch.setattr("dravel.store.staging.Batch.put", full)
    do(demo_store, job.id)
    now = demo_store.jobs.get(job.id)
    assert now.state == "failed"
    assert demo_store.targets.count() == before


def test_half_a_character_is_refused_in_words_wherever_it_stands(client):
    rig = client.get(f"{V1}/rigs/heron").json()["rig"]
    for body in ('{"rig": {"\\ud800": 1}}', '{"rig": {"name": "\\ud800"}}', '{"rig": "\\udfff"}', '"\\ud800"'):
        for path in ("rigs", "evaluate", "optics", "frames"):
            answer = client.post(f"{V1}/{path}", content=body, headers={"content-type": "application/json"})
            assert answer.status_code == 422 and answer.json()["detail"], body
    assert problems.answer(422, "Bad", "half \ud800").body
    assert client.get(f"{V1}/rigs/heron").json()["rig"] == rig
