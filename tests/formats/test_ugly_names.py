"""Every export is read back whatever a name holds: controls, surrogates, right-to-left, zero-width, emoji, formulas."""

import csv
import io
import json
import warnings
import xml.etree.ElementTree as ET

import pytest
from astropy.io import fits
from astropy.io.votable import parse_single_table
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from dravel.catalogue.demo import scenario
from dravel.core.model import Rig, Target
from dravel.core.model.base import KEPT, clean
from dravel.core.steps.spacing.sheet import spacing_sheet
from dravel.formats import framing_files, parts_csv, rig_file, target_files
from dravel.formats import spacing_sheet as paper
from dravel.formats.csv_cells import guarded, unguarded
from tests.conftest import a_framing, a_telescope

UGLY = [
    "bell\x07", "lone\rreturn", "two\r\nlines", "tab\there", "nul\x00", "escape \x1b[31m", "next\x85line",
    "line\u2028separator", "lone \ud800 surrogate", "no character \ufffe\uffff", "right to left \u202e\u0645\u0631\u062d\u0628\u0627",
    "zero\u200bwidth\u200d", "🔭" * 120, "<b>&amp;</b> \"quoted\" 'single'", "=1+1", "+SUM(A1)", "-2", "@cmd", "'=1", "''=1", "'",
    "a,b;c", "]]>", "100 %", "  spaces  ", "\ufeffmark", "𝕏 e\u0301",
]  # fmt: skip
names = st.one_of(st.sampled_from(UGLY), st.text(min_size=1, max_size=60))
RIGS = dict(scenario().rigs)


def a_target(name: str) -> Target | None:
    """A target of that name, cleaned as every door does; None where nothing is left to be a name."""
    try:
        return Target(name=name, ra_deg=10, dec_deg=-41, kind="galaxy", lists=("M", name[:20]), size_source=name[:80])
    except ValidationError:
        assert not clean(name).strip() or len(clean(name)) > 120
        return None


def same(text: str) -> str:
    """What a reader that trims its cells makes of a text."""
    return " ".join(text.split())


@settings(deadline=None, max_examples=120)
@given(names)
def test_targets_come_back(name):
    target = a_target(name)
    if target is None:
        return
    for text in (target_files.write_csv([target]), target_files.write_votable([target])):
        text.encode("utf-8")
        (back,), wrong = target_files.read(text)
        assert not wrong and same(back.name) == same(target.name) and same(back.size_source) == same(target.size_source)
    table = parse_single_table(io.BytesIO(target_files.write_votable([target]).encode()), verify="ignore")
    assert len(table.array) == 1


@settings(deadline=None, max_examples=80)
@given(names)
def test_parts_and_rigs_come_back(name):
    try:
        part = a_telescope(name=name, notes=name, maker=name[:60])
    except ValidationError:
        return
    text = parts_csv.write([part])
    text.encode("utf-8")
    (back,), wrong = parts_csv.read(text)
    assert not wrong and same(back.name) == same(part.name) and same(back.notes) == same(part.notes)
    heron = RIGS["heron"].model_dump(mode="json")
    heron["name"] = name
    heron["path"][0]["part"]["name"] = name
    rig = Rig.model_validate(heron)
    assert rig_file.read(rig_file.write(rig).encode()) == rig
    words = " ".join(ET.fromstring(paper.as_svg(spacing_sheet(rig))).itertext())
    assert same(rig.name)[:10] in same(words) or not same(rig.name).isprintable()
    assert paper.as_pdf(spacing_sheet(rig)).startswith(b"%PDF")


@settings(deadline=None, max_examples=60)
@given(names)
def test_framings_come_back(name):
    target = a_target(name)
    if target is None:
        return
    framing = a_framing(columns=2).model_copy(update={"target": target})
    rows = list(csv.reader(io.StringIO(framing_files.tiles_csv(framing, (2.0, 1.5)))))
    assert len(rows) == 3 and unguarded(rows[1][0]) == target.name
    text = framing_files.fits_headers(framing, (5200, 3900), 1.4, (2.0, 1.5))
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        with fits.open(io.BytesIO(text.encode("ascii"))) as file:
            assert len(file) == 3


@pytest.mark.parametrize("name", UGLY)
def test_no_cell_begins_as_a_formula(name):
    target = a_target(name)
    if target is None:
        return
    for row in csv.reader(io.StringIO(target_files.write_csv([target]))):
        assert not any(cell[:1] in ("=", "+", "@") for cell in row)
    assert unguarded(guarded(target.name)) == target.name


def test_what_was_kept_before_is_cleaned_on_reading():
    old = RIGS["heron"].model_dump(mode="json") | {"name": "bell\x07 and\rreturn", "notes": "one\r\ntwo\x07"}
    read = Rig.model_validate_json(json.dumps(old), context=KEPT)
    assert (read.name, read.notes) == ("bell and return", "one\ntwo")
