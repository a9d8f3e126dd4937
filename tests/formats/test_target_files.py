"""Targets in and out: CSV, VOTable (read back by astropy), sexagesimal and decimal mixed, faults by line."""

import io

import pytest
from astropy.io import votable
from astropy.table import Table
from hypothesis import given
from hypothesis import strategies as st

from dravel.catalogue.demo import targets
from dravel.core.model import Target
from dravel.formats import target_files as files


def bare(target: Target) -> Target:
    return target.model_copy(update={"id": None, "aliases": (), "surface_brightness": None, "other_sizes": ()})


@pytest.mark.parametrize("write", [files.write_csv, files.write_votable])
def test_what_is_written_is_read_again(write):
    listed = [bare(t).model_copy(update={"lists": ("autumn", "lines & more")}) for t in targets()]
    result, wrong = files.read(write(listed))
    assert result == listed and wrong == []


def test_astropy_reads_our_votable():
    table = votable.parse_single_table(io.BytesIO(files.write_votable(targets()).encode())).to_table()
    assert list(table["name"]) == [t.name for t in targets()]
    assert table["ra_deg"].unit == "deg" and table["dec_deg"][0] == pytest.approx(69.37)


def test_we_read_astropys_votable():
    table = Table({"MAIN_ID": ["M 1", "M 2"], "RAJ2000": [83.6, 323.4], "DEJ2000": [22.0, -0.8], "Vmag": [8.4, 6.5]})
    out = io.BytesIO()
    table.write(out, format="votable")
    result, wrong = files.read(out.getvalue().decode())
    assert [t.name for t in result] == ["M 1", "M 2"] and result[1].dec_deg == pytest.approx(-0.8)
    assert result[0].magnitude == pytest.approx(8.4) and not wrong


@pytest.mark.parametrize(
    ("text", "hours", "value"),
    [
        ("35.6392", True, 35.6392), ("02 22 33.4", True, 35.6392), ("2h22m33.4s", True, 35.6392),
        ("02:22:33.4", True, 35.6392), ("+42 20 56", False, 42.3489), ("-05:30", False, -5.5), ("−5.5", False, -5.5),
        ("-0 30 00", False, -0.5),
    ],
)  # fmt: skip
def test_angles_however_they_are_typed(text, hours, value):
    assert files.degrees(text, hours) == pytest.approx(value, abs=2e-4)


@pytest.mark.parametrize("text", ["", "north", "12 61 00", "12:30:75", "1 2 3 4"])
def test_angles_that_are_none(text):
    with pytest.raises(ValueError):
        files.degrees(text, False)


def test_bad_lines_are_told_and_the_good_ones_kept():
    text = "Name;RA;Dec;Type;size\nM1;05 34 32;+22 00 52;supernova remnant;6\nX;;1\nY;10;95\n;1;2\nZ;1;2;;wide\nM2;323.4;-0.8;globular\n"
    result, wrong = files.read(text)
    assert [t.name for t in result] == ["M1", "M2"]
    assert result[0].kind == "supernova_remnant" and result[0].major_arcmin == 6
    assert {line: faults[0].field for line, faults in wrong} == {
        3: "ra_deg",
        4: "dec_deg",
        5: "name",
        6: "major_arcmin",
    }


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("a,b,c\n1,2,3", "the heading does not name name, ra_deg, dec_deg"),
        ("name,ra\nM1,83", "does not name dec_deg"),
        ("<VOTABLE><RESOURCE/></VOTABLE>", "holds no table"),
        ("<VOTABLE><TABLE><FIELD name='name'/></TABLE></VOTABLE>", "no FIELD gives ra_deg, dec_deg"),
        ("<VOTABLE", "not XML"),
        ("<!DOCTYPE x [<!ENTITY a 'b'>]><VOTABLE/>", "declares entities"),
        ("x" * 2_000_001, "larger than 2 MB"),
    ],
)
def test_files_that_are_no_list_of_targets(text, words):
    with pytest.raises(files.TargetFileError, match=words):
        files.read(text)


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused(text):
    try:
        result, wrong = files.read(text)
    except files.TargetFileError:
        return
    assert isinstance(result, list) and isinstance(wrong, list)
