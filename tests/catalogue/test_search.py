"""Search and neighbourhood of the packaged catalogue; stars of the packaged list."""

import numpy as np
import pytest

from dravel.catalogue.objects import Catalogue, catalogue, data_file, normal
from dravel.catalogue.stars import FAINTEST, StarList, stars


def names(text: str, limit: int = 20) -> list[str]:
    return [target.name for target in catalogue().search(text, limit)]


def test_it_holds_the_whole_list():
    assert len(catalogue()) > 13_000


@pytest.mark.parametrize(
    "text", ["NGC 891", "ngc891", "NGC0891", "n g c 8 9 1", "Ngc-891", "  NGC   891  ", "C 23", "UGC 1831"]
)
def test_spacing_case_and_zeros_do_not_matter(text):
    assert names(text)[0] == "NGC 891"


@pytest.mark.parametrize("number", range(1, 111))
def test_every_messier_number_is_found_first(number):
    # M102 is a second name of M101 in the list; M40 and M73 are stars, M24 and M25 have numbers of their own.
    match = catalogue().search(f"M {number}", 1)
    expected = {102: "M101"}.get(number, f"M{number}")
    if not match or match[0].name != expected:
        pytest.fail(f"M{number} gave {match[0].name if match else None}")


@pytest.mark.parametrize(
    ("text", "name"),
    [("andromeda galaxy", "M31"), ("whirlpool", "M51"), ("crab neb", "M1"), ("veil", "NGC 6960"), ("IC 11", "NGC 281")],
)
def test_common_names_and_second_numbers(text, name):
    assert names(text)[0] == name


def test_exact_goes_before_beginning_goes_before_containing():
    result = names("NGC 28", 40)
    assert result[0] == "NGC 28"
    assert all(name.startswith("NGC 28") for name in result[:10])
    assert len(result) == len(set(result))


def test_prominent_objects_come_first():
    assert names("ngc 5", 3)[0] == "NGC 5"
    assert set(names("M", 5)) <= {f"M{n}" for n in range(1, 111)}


@pytest.mark.parametrize("text", ["", "   ", "!!!", "zzzz", "98765432", "\n", "\t", "%", "_"])
def test_what_names_nothing_finds_nothing(text):
    assert names(text) == []


def test_limit():
    assert len(names("NGC", 7)) == 7


@pytest.mark.parametrize(
    ("text", "key"),
    [("NGC 0891", "NGC891"), ("m 081", "M81"), ("Bode's", "BODES"), ("a-b_c", "ABC"), ("IC 1000", "IC1000")],
)
def test_normal(text, key):
    assert normal(text) == key


def test_targets_are_valid_and_say_what_they_are():
    crab, veil, cluster = (catalogue().get(name) for name in ("M1", "NGC 6992", "M13"))
    assert crab.kind == "supernova_remnant" and "NGC 1952" in crab.aliases
    assert veil.major_arcmin == 60 and veil.minor_arcmin == 12 and veil.size_source == "Dravel, from memory"
    assert cluster.kind == "globular" and cluster.minor_arcmin is None and cluster.magnitude == 5.8
    with pytest.raises(KeyError):
        catalogue().get("NGC 99999")


def test_around_gives_the_prominent_ones_within_the_radius():
    result = catalogue().around(148.9, 69.4, 1.0)
    assert [target.name for target in result][:2] == ["M81", "M82"]
    for target in result:
        distance = np.hypot((target.ra_deg - 148.9) * np.cos(np.radians(69.4)), target.dec_deg - 69.4)
        assert distance < 1.02
    assert len(catalogue().around(186, 12, 10, limit=5)) == 5


def test_around_works_at_the_pole_and_across_zero():
    assert any(target.ra_deg > 300 for target in catalogue().around(0.0, 10, 3))
    assert any(target.ra_deg < 60 for target in catalogue().around(0.0, 10, 3))
    assert catalogue().around(0, 90, 3)


def test_a_missing_package_is_named(tmp_path):
    with pytest.raises(FileNotFoundError, match=r"nothing\.db of the package pyongc"):
        data_file("pyongc", "nothing.db")
    with pytest.raises(FileNotFoundError):
        data_file("no_such_package_here", "x")
    with pytest.raises(Exception, match="unable to open"):
        Catalogue(tmp_path / "none.db")


def test_a_foreign_star_file_is_refused(tmp_path):
    path = tmp_path / "stars.bin"
    path.write_bytes(b"NOPE" + bytes(100))
    with pytest.raises(ValueError, match="expected format"):
        StarList(path)


def test_stars_are_bounded_and_brightest_first():
    rows = stars().around(83.8, -5.4, 2, limit=50)
    assert rows.shape == (50, 3)
    assert (np.diff(rows[:, 2]) >= 0).all()
    assert rows[:, 2].max() <= FAINTEST
    assert np.hypot(rows[:, 0], rows[:, 1]).max() <= 2
    assert stars().around(83.8, -5.4, 1e-6).shape == (0, 3)
