"""Coordinates of a place as people write them."""

import pytest

from dravel.formats.places import read


@pytest.mark.parametrize(
    "text",
    ["40.9, -2.6", "40.9 N 2.6 W", "40.9N, 2.6W", "N 40 54 W 2 36", "40°54′N 2°36′W", "40°54'00\"N 2°36'00\"W", "40 54 -2 36",
     "+40:54:00 -2:36:00", "40.9; −2.6", "40.9 -2.6", "40º54' N, 2º36' O"],
)  # fmt: skip
def test_many_ways_to_write_one_place(text):
    place = read(text)
    assert (place.latitude_deg, place.longitude_deg) == pytest.approx((40.9, -2.6), abs=1e-6)
    assert place.note == ""


@pytest.mark.parametrize(
    ("text", "told"), [("2.6 W 40.9 N", "letters"), ("2.6W, 40.9N", "letters"), ("-122.5, 40.9", "beyond 90")]
)
def test_swapped_ones_are_put_right_where_there_is_no_doubt(text, told):
    place = read(text)
    assert place.latitude_deg == 40.9 and place.longitude_deg < 0 and told in place.note


def test_eastward_longitudes_beyond_half_the_globe():
    assert read("40.9, 357.4").longitude_deg == pytest.approx(-2.6)
    assert "east" in read("40.9, 357.4").note


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("95, 100", "latitude_deg: cannot be 95"),
        ("40.9, 400", "longitude_deg: cannot be 400"),
        ("40.9, -200", "longitude_deg: cannot be -200"),
        ("40 N, 41 S", "both halves"),
        ("40 75 00 N, 2 W", "place: "),
        ("40.9 54 N, 2 W", "place: "),
        ("the ridge", "place: "),
        ("", "place: "),
        ("40.9", "place: "),
        ("1 2 3", "place: "),
    ],
)
def test_what_cannot_be_read_says_why(text, words):
    with pytest.raises(ValueError, match=words):
        read(text)
