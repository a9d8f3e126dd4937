"""Pairs and chains as one target: found by their names, and the outline takes all in."""

import numpy as np
import pytest

from dravel.catalogue.objects import catalogue
from dravel.core.model import Target
from dravel.core.sky.framing import target_outline
from dravel.core.sky.projection import project
from dravel.core.sky.together import together


def inside(group: Target, one: Target) -> bool:
    sky = target_outline(one)
    x, y = project(sky[:, 0], sky[:, 1], group.ra_deg, group.dec_deg)
    turn = np.radians(group.position_angle_deg)
    along, across = x * np.sin(turn) + y * np.cos(turn), x * np.cos(turn) - y * np.sin(turn)
    share = (along * 120 / group.major_arcmin) ** 2 + (across * 120 / group.minor_arcmin) ** 2
    return bool((share <= 1.01).all())


@pytest.mark.parametrize(
    ("text", "count"),
    [("M81/M82", 2), ("m81 / 82", 2), ("NGC 6960/6992", 2), ("M84 + M86 & NGC 4438", 3), ("M65 and M66", 2)],
)
def test_several_names_are_one_target(text, count):
    members = catalogue().members(text)
    assert len(members) == count
    group = together(members)
    assert all(inside(group, member) for member in members)


def test_m81_with_m82_is_a_little_under_a_degree():
    # The two lie 37 arcminutes apart (common practice); with their own halves that is 45 to 60.
    group = together(catalogue().members("M81/M82"))
    assert 45 <= group.major_arcmin <= 65 and group.minor_arcmin < group.major_arcmin
    assert group.name == "M81 / M82"


def test_what_is_unknown_or_far_apart_is_no_group():
    assert catalogue().members("M81/M999") == []
    assert together(catalogue().members("M81/M42")) is None
    assert together(catalogue().members("M81")) is None
    assert together([]) is None


def test_a_group_across_the_origin_of_right_ascension_and_at_the_pole():
    ends = [Target(name="a", ra_deg=359.5, dec_deg=10), Target(name="b", ra_deg=0.5, dec_deg=10)]
    group = together(ends)
    assert min(group.ra_deg, 360 - group.ra_deg) < 0.01 and group.major_arcmin == pytest.approx(59.7, abs=2)
    pole = together([Target(name="a", ra_deg=0, dec_deg=89), Target(name="b", ra_deg=180, dec_deg=89)])
    assert pole.dec_deg > 89.9


def test_a_long_chain_has_a_name_that_fits():
    long = [Target(name=f"{'Long' * 25} {i}", ra_deg=10 + i / 10, dec_deg=5) for i in range(4)]
    assert together(long).name == f"{long[0].name} and 3 more"


def test_what_stands_twice_is_one_member(client):
    twice = client.get("/api/v1/sky/search", params={"q": "M81/M81"})
    assert twice.status_code == 200 and [item["name"] for item in twice.json()] != ["M81 / M81"]


def test_search_offers_the_group_first(client):
    result = client.get("/api/v1/sky/search", params={"q": "M81/M82"}).json()
    assert [item["name"] for item in result[:3]] == ["M81 / M82", "M81", "M82"]
