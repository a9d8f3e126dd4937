"""Horizons from text, tile centres as CSV, FITS headers read back by astropy."""

import csv
import io

import numpy as np
import pytest
from astropy.io import fits
from astropy.wcs import WCS
from hypothesis import given
from hypothesis import strategies as st

from dravel.core.sky.framing import tile_centres, tile_corners
from dravel.formats import framing_files, horizon
from tests.conftest import a_framing

FIELD = (2.81, 2.11)


def points(text: str) -> list[tuple[float, float]]:
    return [(p.azimuth_deg, p.altitude_deg) for p in horizon.read(text)[0]]


@pytest.mark.parametrize(
    "text",
    ["0 10\n90 20\n", "0,10\n90,20", "0;10\n90;20", "0\t10\n90\t20", "azimuth,altitude\n0,10\n90,20",
     "# roof\n\n0, 10\n90, 20\n", "\ufeff90 20\n360 10"],
)  # fmt: skip
def test_two_columns_however_they_are_split(text):
    assert points(text) == [(0, 10), (90, 20)]


def test_a_decimal_comma_where_another_sign_splits():
    assert points("10,5;20,25\n90;3") == [(10.5, 20.25), (90, 3)]


def test_bad_lines_are_told_and_never_drop_the_good_ones():
    made, wrong = horizon.read("0 10\n400 5\n20 95\nhill\n30\n0 12\n45 8\n")
    assert [(p.azimuth_deg, p.altitude_deg) for p in made] == [(0, 10), (45, 8)]
    assert [line for line, _ in wrong] == [2, 3, 4, 5, 6]
    for (_, fault), number in zip(wrong, ("400°", "95°", "", "", "0°"), strict=True):
        assert fault.reason.startswith(number)


@given(st.text(max_size=200))
def test_any_text_is_read_or_told(text):
    made, wrong = horizon.read(text)
    assert len(made) <= 361 and all(fault.reason for _, fault in wrong)


def test_tile_centres_as_csv():
    framing = a_framing(200, 160, columns=2, rows=3, position_angle_deg=70)
    rows = list(csv.DictReader(io.StringIO(framing_files.tiles_csv(framing, FIELD))))
    assert [(row["row"], row["column"]) for row in rows[:3]] == [("1", "1"), ("1", "2"), ("2", "1")]
    answer = np.array([(float(row["ra_deg"]), float(row["dec_deg"])) for row in rows])
    assert answer == pytest.approx(tile_centres(framing, FIELD), abs=1e-6)
    assert rows[0]["from_landscape_deg"] == "-20.00"


@pytest.mark.parametrize(("angle", "tile"), [(90, 0), (0, 0), (37, 3), (166, 5)])
def test_a_fits_header_read_back_by_astropy(angle, tile):
    framing = a_framing(200, 160, columns=2, rows=3, position_angle_deg=angle, ra=312.7, dec=31)
    pixels, scale = (5200, 3900), FIELD[0] * 3600 / 5200
    text = framing_files.fits_headers(framing, pixels, scale, FIELD, tile)
    assert len(text) % 2880 == 0 and all(len(text[i : i + 80]) == 80 for i in range(0, len(text), 80))
    header = fits.Header.fromstring(text)
    assert header["OBJECT"] == "Cloud" and header["FRAMEW"] == 5200
    wcs = WCS(header)
    assert wcs.pixel_to_world_values(2599.5, 1949.5) == pytest.approx(tile_centres(framing, FIELD)[tile], abs=1e-6)
    # The upper left corner of the frame as it is seen: first column, last row from the foot.
    corner = tile_corners(framing, FIELD)[tile][0]
    assert wcs.pixel_to_world_values(-0.5, 3899.5) == pytest.approx(corner, abs=0.01)


@pytest.mark.filterwarnings("error")
@pytest.mark.parametrize(("columns", "rows"), [(1, 1), (2, 3)])
def test_a_reader_opens_the_file_of_all_tiles_without_a_warning(columns, rows):
    framing = a_framing(200, 160, columns=columns, rows=rows, position_angle_deg=70, ra=312.7, dec=31)
    text = framing_files.fits_headers(framing, (5200, 3900), FIELD[0] * 3600 / 5200, FIELD)
    with fits.open(io.BytesIO(text.encode("ascii"))) as file:
        file.verify("exception")
        lines = [hdu for hdu in file if "CRVAL1" in hdu.header]
        assert len(lines) == columns * rows
        for hdu, centre in zip(lines, tile_centres(framing, FIELD), strict=True):
            assert WCS(hdu.header).pixel_to_world_values(2599.5, 1949.5) == pytest.approx(centre, abs=1e-6)


def test_no_such_tile():
    with pytest.raises(IndexError, match="there is no tile 9; the mosaic has 1"):
        framing_files.fits_headers(a_framing(), (100, 100), 2.0, FIELD, 8)


def test_sexagesimal():
    assert framing_files.hms(35.6392) == "02 22 33.41"
    assert framing_files.dms(-5.5) == "-05 30 00.0" and framing_files.dms(42.349) == "+42 20 56.4"
