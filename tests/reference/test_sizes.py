"""Sizes of nebulae against outside values, and the lists that were added."""

import numpy as np
import pytest

from dravel.catalogue.hand_sizes import FROM_MEMORY, SIZES
from dravel.catalogue.nebulae import milky_way, nebulae
from dravel.catalogue.objects import catalogue
from dravel.catalogue.sizes import OWN, decided
from dravel.core.model import Preferences
from dravel.core.model.sky import TargetSize
from dravel.core.sky.framing import best_fit, centred, fit_target
from dravel.core.sky.projection import lines_within
from dravel.core.steps import STEPS
from dravel.core.steps.aim.view import YOURS, outline_ends, reshaped, size_words
from tests.conftest import a_camera, a_framing, a_rig, a_telescope

P = Preferences()

# Diameters of Sharpless's catalogue of 1959 (from memory), by the object's own number. He gives the longest reach of the
# faint light; what people frame may be less than half of it (the North America Nebula, the Cone's cloud).
SHARPLESS = {
    "M8": 90, "M16": 90, "M17": 60, "M20": 20, "M42": 60, "NGC 281": 40, "NGC 1499": 320, "NGC 2264": 250, "NGC 6357": 240,
    "NGC 7000": 240, "NGC 7380": 30, "NGC 7635": 40, "NGC 7822": 180, "IC 405": 65, "IC 410": 55, "IC 443": 50,
    "IC 1396": 170, "IC 1805": 150, "IC 1848": 120, "NGC 2174": 40, "NGC 6888": 18, "IC 5146": 9, "IC 2177": 60,
}  # fmt: skip


@pytest.mark.parametrize("name", SHARPLESS)
def test_sizes_lie_near_sharpless(name):
    ours = catalogue().get(name).major_arcmin
    factor = {"NGC 6357": 6.1, "NGC 7635": 2.7, "NGC 2264": 4.2}.get(name, 2.6)
    assert SHARPLESS[name] / factor <= ours <= SHARPLESS[name] * 2.01


@pytest.mark.parametrize(
    ("name", "major", "kind"),
    # As pictures show them (common practice): what the list alone had was off by 1.7 to 12 times, one typed a remnant.
    [("IC 1396", 170, "emission"), ("M16", 35, "emission"), ("M17", 46, "emission"), ("NGC 6357", 40, "emission"),
     ("NGC 6334", 40, "emission"), ("NGC 2264", 60, "emission"), ("NGC 7000", 120, "emission"), ("M8", 90, "emission"),
     ("NGC 6960", 70, "supernova_remnant"), ("M45", 110, "reflection"), ("NGC 2237", 80, "emission")],
)  # fmt: skip
def test_what_people_photograph_most_is_as_large_as_it_is(name, major, kind):
    target = catalogue().get(name)
    assert (target.major_arcmin, target.kind) == (major, kind)
    assert target.size_source == FROM_MEMORY and not target.size_doubtful
    assert any(size.source == OWN for size in target.other_sizes)
    assert "others give" in size_words(target)


def test_every_size_by_hand_belongs_to_an_object_and_is_in_order():
    for name, size in SIZES.items():
        result = catalogue().get(name)
        assert result.major_arcmin == size[0] >= size[1], name


@pytest.mark.parametrize(
    "name",
    ["Sh2-101", "Sharpless 240", "LBN 438", "LDN 1235", "B 150", "Barnard 33", "vdB 152", "Ced 111", "RCW 113", "Cr 399",
     "Abell 2151", "SNR G180.0-1.7", "Sh2-308", "Sh2-131", "Heart Nebula"],
)  # fmt: skip
def test_dark_clouds_remnants_and_the_classic_lists_are_targets(name):
    match = catalogue().search(name, 1)
    assert match and name in (match[0].name, *match[0].aliases)


def test_positions_of_the_added_lists_against_known_places():
    # J2000 places (from memory): the Cygnus Loop, Barnard's E, the Tulip, the Dark Shark, Simeis 147.
    for name, ra, dec in (
        ("Sh2-101", 300.0, 35.3),
        ("B 143", 294.9, 11.0),
        ("LDN 1235", 333.2, 73.4),
        ("Sh2-240", 84.8, 28.0),
    ):
        target = catalogue().get(name)
        east = (target.ra_deg - ra) * np.cos(np.radians(dec))
        assert np.hypot(east, target.dec_deg - dec) < 0.9, name


def test_no_row_of_the_lists_lies_off_the_sky_or_twice():
    rows = nebulae()
    assert len(rows) > 7000 and len({row.name for row in rows}) == len(rows)
    assert all(0 <= row.ra_deg <= 360 and -90 <= row.dec_deg <= 90 for row in rows)
    assert all(row.minor_arcmin is None or row.minor_arcmin <= row.major_arcmin for row in rows if row.major_arcmin)
    ids = [target.id for target in catalogue().everything()]
    assert len(set(ids)) == len(ids)


def size(major: float, source: str) -> TargetSize:
    return TargetSize(major_arcmin=major, source=source)


@pytest.mark.parametrize(
    ("kind", "own", "others", "counts", "doubtful"),
    [
        ("emission", 30, (), 30, False),
        ("emission", 30, (40,), 40, False),
        ("emission", 30, (60,), 60, True),
        ("emission", 30, (15,), 30, True),
        ("emission", 3, (210,), 3, True),  # another object altogether
        ("emission", None, (25,), 25, False),
        ("open_cluster", 10, (30,), 10, True),
        ("galaxy", 10, (12,), 10, False),
    ],
)
def test_which_size_counts(kind, own, others, counts, doubtful):
    made = decided(None, kind, size(own, OWN) if own else None, [size(other, f"list {other}") for other in others])
    assert (made.major, made.doubtful) == (counts, doubtful)
    assert len(made.others) == len(others) + (own is not None) - 1
    by_hand = decided((12, 8), kind, size(own, OWN) if own else None, ())
    assert (by_hand.major, by_hand.minor, by_hand.source, by_hand.doubtful) == (12, 8, FROM_MEMORY, False)


def test_a_verdict_that_hangs_on_an_uncertain_size_says_so():
    doubtful = a_framing(60, 40).target.model_copy(
        update={"size_doubtful": True, "other_sizes": (size(14, "another list"),)}
    )
    framing = a_framing(60, 40).model_copy(update={"target": doubtful})
    rig = a_rig(a_telescope(), a_camera(), framings=(framing,))
    lines = [f.reason for f in STEPS.evaluate(rig, P).findings if f.code in ("A4", "A5")]
    assert lines and all("14′ (another list)" in reason for reason in lines)
    assert str(size_words(doubtful)).startswith("uncertain: ")


def test_an_outline_is_drawn_to_what_pictures_show():
    target = a_framing(60, 40, angle=30).target
    major, minor = outline_ends(target, target.ra_deg, target.dec_deg)
    assert np.hypot(*major) == pytest.approx(0.5, abs=1e-4) and np.hypot(*minor) == pytest.approx(1 / 3, abs=1e-4)
    longer = reshaped(target, "major", (0.0, 1.0), target.ra_deg, target.dec_deg)
    assert (longer.major_arcmin, longer.minor_arcmin, longer.position_angle_deg) == (120, 40, 0)
    assert longer.size_source == YOURS and longer.other_sizes[0].major_arcmin == 60
    east = reshaped(target, "major", (0.5, 0.0), target.ra_deg, target.dec_deg)
    assert east.position_angle_deg == 90
    thin = reshaped(longer, "minor", (0.1, 0.0), target.ra_deg, target.dec_deg)
    assert (thin.minor_arcmin, thin.position_angle_deg) == (12, 0) and len(thin.other_sizes) == 1
    capped = reshaped(target, "minor", (9.0, 0.0), target.ra_deg, target.dec_deg)
    assert capped.minor_arcmin == capped.major_arcmin == 60
    none = reshaped(target, "major", (0.0, 0.0), target.ra_deg, target.dec_deg)
    assert none.major_arcmin == 0.01
    moon = target.model_copy(update={"body": "Moon"})
    assert outline_ends(moon, 0, 0) is None and size_words(moon) == ""


def test_the_first_framing_takes_the_better_turn():
    # M33, 62 x 35 arcminutes: landscape 92 % of the height of 67' by the field of 100', portrait 62 %.
    triangulum = a_framing(62, 35, angle=23).target
    field = (100 / 60, 67 / 60)
    landscape, portrait = (fit_target(triangulum, field, pa, P).span for pa in (90.0, 0.0))
    assert landscape > 0.85 > portrait + 0.1
    assert centred(triangulum, field, P).position_angle_deg == 0
    assert best_fit(triangulum, field, P).span == pytest.approx(min(landscape, portrait), abs=0.2)
    assert centred(triangulum, (3.0, 2.0), P).position_angle_deg == 90


def test_the_milky_way_runs_along_the_galactic_plane():
    # Deneb's field lies in it, the galactic pole far from it.
    levels = milky_way()
    assert len(levels) == 5 and all(line[0] == line[-1] for line in levels[0])
    assert lines_within(levels, 310.0, 45.0, 12.0)
    assert not lines_within(levels, 192.9, 27.1, 20.0)
    for line in lines_within(levels, 310.0, 45.0, 6.0):
        assert all(np.hypot(x, y) < 12 for x, y in line)


def test_a_framing_that_has_an_old_size_can_take_the_lists(client):
    rig = client.get("/api/v1/rigs/heron").json()["rig"]
    at = next(i for i, framing in enumerate(rig["framings"]) if framing["target"]["name"] == "IC 1805")
    asked = {"rig": rig, "framing": at}
    assert client.post("/api/v1/sky/footprint", json=asked).json()["listed"] is None
    rig["framings"][at]["target"] |= {"major_arcmin": 60, "minor_arcmin": 60, "size_source": ""}
    listed = client.post("/api/v1/sky/footprint", json=asked).json()["listed"]
    assert (listed["major_arcmin"], listed["size_source"]) == (110, FROM_MEMORY)
    drawn = client.post("/api/v1/sky/footprint", json=asked | {"outline": {"end": "major", "to": [0.0, 1.0]}}).json()
    assert drawn["footprint"]["framing"]["target"]["size_source"] == YOURS
    assert drawn["footprint"]["size_words"]["text"].startswith("120′ × 60′ (own outline)")
    wrong = client.post("/api/v1/sky/footprint", json=asked | {"outline": {"end": "none", "to": [0.0, 1.0]}})
    assert wrong.status_code == 422
    invented = next(i for i, framing in enumerate(rig["framings"]) if framing["target"]["name"] == "Veil complex")
    assert client.post("/api/v1/sky/footprint", json={"rig": rig, "framing": invented}).json()["listed"] is None


def test_cells_of_uncertain_size_say_about():
    about = a_framing(60, 40).target.model_copy(update={"size_doubtful": True})
    assert fit_target(about, (2.8, 2.1), 90, P).words == "≈ 48%"
    assert str(fit_target(about, (0.5, 0.4), 90, P).words).startswith("≈ ")
