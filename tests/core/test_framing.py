"""Framing: extents, tiles, what lies inside, and the view that is drawn."""

import numpy as np
import pytest

from dravel.core.model import Preferences, Target
from dravel.core.sky.framing import (
    centred,
    extent_deg,
    fit_target,
    least_share,
    plane_size,
    share_inside,
    target_outline,
    tile_centres,
    tiles_needed,
    turn_from_landscape,
)
from dravel.core.sky.recall import earlier
from dravel.core.steps.aim.view import moved, outline, see
from tests.conftest import a_framing

FIELD = (3.0, 2.0)


def target(major: float | None = 60, minor: float | None = 30, angle: float = 0, **more: object) -> Target:
    body = {"name": "Cloud", "ra_deg": 40, "dec_deg": 60, "major_arcmin": major, "minor_arcmin": minor}
    return Target.model_validate(body | {"position_angle_deg": angle} | more)


@pytest.mark.parametrize(
    ("target_angle", "frame_angle", "width", "height"),
    [
        (90, 90, 1.0, 0.5),  # along the long side
        (0, 90, 0.5, 1.0),  # across it
        (0, 0, 1.0, 0.5),
        (45, 90, 0.790569, 0.790569),  # sqrt((1² + 0.5²) / 2) both ways
        (170, 350, 1.0, 0.5),  # half a turn is no turn
    ],
)
def test_extent_of_a_turned_ellipse(target_angle, frame_angle, width, height):
    assert extent_deg(target(angle=target_angle), frame_angle) == pytest.approx((width, height), abs=1e-5)


def test_a_circle_is_the_same_every_way():
    for angle in range(0, 180, 20):
        assert extent_deg(target(60, None), angle) == pytest.approx((1, 1))


def test_an_unknown_size_is_not_judged():
    unknown = target(None, None)
    assert extent_deg(unknown, 0) is None
    assert fit_target(unknown, FIELD, 90, Preferences()) is None
    assert centred(unknown, FIELD, Preferences()).position_angle_deg == 90


@pytest.mark.parametrize(
    ("extent", "field", "overlap", "tiles"),
    [
        (1.0, 2.0, 0.1, 1),
        (2.0, 2.0, 0.1, 1),
        (2.01, 2.0, 0.1, 2),
        (3.8, 2.0, 0.1, 2),
        (3.81, 2.0, 0.1, 3),
        (10, 2, 0, 5),
    ],
)
def test_tiles_along_a_side(extent, field, overlap, tiles):
    # Two tiles of 2° with 10 % in common reach 3.8°.
    assert tiles_needed(extent, field, overlap) == tiles


@pytest.mark.parametrize(
    ("major", "wide", "verdict", "words"),
    [
        (20, False, "warning", "17%"),
        (20, True, "ok", "17%"),
        (60, False, "ok", "50%"),
        (200, False, "warning", "4 tiles"),
        (2000, False, "problem", "247 tiles"),
    ],
)
def test_fit(major, wide, verdict, words):
    purposes = ("wide_field",) if wide else ()
    fit = fit_target(target(major, major), FIELD, 90, Preferences(), least=least_share(purposes, Preferences()))
    assert (fit.verdict, fit.words) == (verdict, words)


def test_the_preferences_moves_the_limits():
    small = target(20, 20)
    assert fit_target(small, FIELD, 90, Preferences(small_target_share=0.1)).verdict == "ok"
    large = target(600, 600)
    assert fit_target(large, FIELD, 90, Preferences(mosaic_max_tiles=12)).verdict == "problem"
    assert fit_target(large, FIELD, 90, Preferences(mosaic_max_tiles=100)).verdict == "warning"


def test_a_tall_target_starts_in_portrait():
    # 2.5 degrees along north and south: two frames in landscape, one in portrait.
    assert centred(target(150, 60, angle=0), FIELD, Preferences()).position_angle_deg == 0
    assert centred(target(150, 60, angle=90), FIELD, Preferences()).position_angle_deg == 90
    assert centred(target(), None, Preferences()).position_angle_deg == 90


def test_share_inside_by_hand():
    assert share_inside(a_framing(60, 60), FIELD) == 1
    # The frame's edge runs through the middle of the target: half of it is inside.
    half = a_framing(60, 60, dec=0, ra=40, centre_dec_deg=1.0, position_angle_deg=90)
    assert share_inside(half, FIELD) == pytest.approx(0.5, abs=0.02)
    away = a_framing(60, 60, centre_dec_deg=40)
    assert share_inside(away, FIELD) == 0
    # A circle of 4 degrees in a frame of 3 x 2: area of the rectangle over that of the circle, less its cut corners.
    over = share_inside(a_framing(240, 240), FIELD)
    assert over == pytest.approx(3 * 2 / (np.pi * 4), abs=0.03)


def test_tiles_lie_row_by_row_from_the_top_left():
    framing = a_framing(columns=2, rows=2, overlap=0.0, ra=40, dec=0, position_angle_deg=90)
    (a, b, c, d) = tile_centres(framing, FIELD)
    # North up, east left: the first tile is north-east, the second north-west.
    assert a[0] > b[0] and c[0] > d[0]
    assert a[1] > c[1] and b[1] > d[1]
    assert a[0] - b[0] == pytest.approx(plane_size(FIELD)[0], rel=1e-3)
    assert a[1] - c[1] == pytest.approx(plane_size(FIELD)[1], rel=1e-3)


@pytest.mark.parametrize(("angle", "turn"), [(90, 0), (127, 37), (166, 76), (0, 90), (180, 90), (45, -45), (270, 0)])
def test_turn_from_landscape(angle, turn):
    assert turn_from_landscape(angle) == turn


def test_outline_is_as_long_as_the_target():
    sky = target_outline(target(60, 30, angle=0), 360)
    assert np.ptp(sky[:, 1]) == pytest.approx(1.0, abs=1e-3)
    assert np.ptp(sky[:, 0]) * np.cos(np.radians(60)) == pytest.approx(0.5, abs=1e-2)


def test_the_view_draws_what_the_framing_says():
    framing = a_framing(60, 60, columns=2, rows=1, overlap=0.1, position_angle_deg=90)
    view = see(framing, FIELD, 40, 60)
    assert len(view.tiles) == 2 and all(len(tile) == 4 for tile in view.tiles)
    assert view.centre == pytest.approx((0, 0), abs=1e-9)
    # The handle stands above the frame: north in landscape.
    assert view.handle[0] == pytest.approx(0, abs=1e-9) and view.handle[1] > 1
    assert view.width_deg == pytest.approx(plane_size(FIELD)[0] * 1.9)
    assert view.tiles_needed == (1, 1)
    assert view.turn_deg == 0


def test_a_frame_moved_on_the_plane_is_drawn_there():
    framing = moved(a_framing(), 1.25, -0.5, 40, 60)
    assert see(framing, FIELD, 40, 60).centre == pytest.approx((1.25, -0.5))
    back = moved(framing, 0, 0, 40, 60)
    assert (back.centre_ra_deg, back.centre_dec_deg) == pytest.approx((40, 60))


def test_the_frame_at_the_pole_and_across_the_meridian():
    # Mosaics keep the camera's angle to local north: around a pole their tiles fan out, so one frame is tried there.
    for ra, dec, side in ((0.01, 0, 2), (359.99, 10, 2), (120, 89.9, 1), (120, -89.9, 1)):
        view = see(a_framing(ra=ra, dec=dec, columns=side, rows=side), FIELD, ra, dec)
        x = [point[0] for tile in view.tiles for point in tile]
        assert max(x) - min(x) < 8
        assert view.share_inside == 1


def test_points_behind_the_observer_are_left_out():
    assert outline(target(), 220, -60) == ()


def test_earlier_framings_are_told_once_newest_first_without_the_one_that_stands():
    cloud = target()
    first = centred(cloud, FIELD, Preferences())
    turned = first.model_copy(update={"position_angle_deg": 127.3})
    wide = turned.model_copy(update={"columns": 2, "centre_dec_deg": 60.2})
    planned = wide.model_copy(update={"night": "2026-12-01"})  # another night is no other framing
    history = [
        (6, "f", (wide,)),
        (5, "e", (planned,)),
        (4, "d", ()),
        (3, "c", (turned,)),
        (2, "b", (first,)),
        (1, "a", (turned,)),
    ]
    result = earlier(history, "Cloud")
    assert [(item.revision, item.words) for item in result] == [(3, "127°, centred"), (2, "90°, centred")]
    assert result[0].framing == turned
    gone = earlier(history[1:], "Cloud")
    assert [item.revision for item in gone] == [3, 2]
    off = earlier([(7, "g", ()), *history], "Cloud", most=1)
    assert [(item.revision, item.words) for item in off] == [(6, "127°, 2 × 1 tiles, 12′ off the centre")]
    assert earlier(history, "Another") == ()
