"""Focus sweeps and series of spacings against simulated truth; what is neither is told."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dravel.core.frames.claims import FrameClaims
from dravel.core.frames.contours import width_lines
from dravel.core.frames.field import TooFewStars
from dravel.core.frames.reading import measure
from dravel.core.frames.series import NoSeries, SpacingPoint, point_of, series
from dravel.core.frames.sweep import NoSweep, disc_share, sweep
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take, true_shapes

RIG = PictureRig(1500, 1100, 3.76, 4.3, 1.95, 3e6, 1.5, 0.002, 1.6, 50_000)
STARS = random_stars(RIG, 700, 4, brightest=7, faintest=12.5)
DEPTH = RIG.ratio * RIG.pixel_um  # µm out of focus for a blur disc of one pixel


def frame(rig=RIG, seed=1, **faults):
    made = take(rig, STARS, Faults(**{"fwhm_px": 2.3, "uneven": 0.02, "uneven_seed": 5, **faults}), 120, seed)
    return measure("frame", made.adu.astype(np.float32), None, 62_000.0, FrameClaims())


def swept(rig=RIG, at=(-2, -1, 0, 1, 2), um_a_step=4.0, wide=2.2, **kw):
    """A sweep with so many blur widths between frames; the focuser's place in its own steps."""
    offsets = [wide * DEPTH * k for k in at]
    readings = tuple(frame(rig, seed=k, focus_um=-um, **kw) for k, um in enumerate(offsets))
    return readings, tuple(7000 + um / um_a_step for um in offsets)


@pytest.mark.parametrize(("tilt", "way"), [(15, 200), (40, 30), (120, 300)])
def test_five_frames_through_focus_tell_tilt_within_three_micrometres_or_a_tenth(tilt, way):
    readings, steps = swept(tilt_um=tilt, tilt_deg=way, curved_um=20)
    result = sweep(readings, steps, RIG.ratio, RIG.pixel_um)
    assert abs(result.tilt_um - tilt) < max(3, 0.1 * tilt)
    assert abs((result.tilt_deg - way + 180) % 360 - 180) < 8  # with its sign: no half turn is left open
    assert abs(result.curved_um - 20) < 4 and abs(result.best - 7000) < 0.6
    assert abs(result.step_um / 4 - 1) < 0.06
    assert abs(result.fwhm_px - 2.3) < 0.1


def test_corners_of_a_sweep_are_those_of_its_plane():
    readings, steps = swept(tilt_um=100, tilt_deg=0)
    left, right, low_left, low_right = sweep(readings, steps, RIG.ratio, RIG.pixel_um).corners_um
    assert left < -40 and low_left < -40 and right > 40 and low_right > 40
    assert right - left == pytest.approx(100, abs=8)


def test_an_obstruction_is_reckoned_in():
    ring = PictureRig(**{**vars(RIG), "obstruction": 0.4})
    readings, steps = swept(ring, tilt_um=60, tilt_deg=90)
    assert abs(sweep(readings, steps, RIG.ratio, RIG.pixel_um, obstruction=0.4).tilt_um - 60) < 6
    assert 0.75 < disc_share(0.4) < 0.82 and disc_share(0) == 0.70  # what drawn rings and discs showed


def test_what_is_no_sweep_is_told():
    readings, steps = swept()
    with pytest.raises(NoSweep, match="3 places of the focuser"):
        sweep(readings[:3], steps[:3], RIG.ratio, RIG.pixel_um)
    near, places = swept(wide=0.01)
    with pytest.raises(NoSweep, match="hardly grow") as answer:
        sweep(near, places, RIG.ratio, RIG.pixel_um)
    assert not answer.value.meant
    one_sided, places = swept(at=(3, 4, 5, 6))
    with pytest.raises(NoSweep, match="both sides"):
        sweep(one_sided, places, RIG.ratio, RIG.pixel_um)
    bare = tuple(reading.model_copy(update={"stars": reading.stars[:5]}) for reading in readings)
    with pytest.raises(TooFewStars):
        sweep(bare, steps, RIG.ratio, RIG.pixel_um)
    with pytest.raises(NoSweep, match="differ in size"):
        sweep((readings[0].model_copy(update={"width": 9}), *readings[1:]), steps, RIG.ratio, RIG.pixel_um)


@pytest.mark.parametrize("best", [54.4, 55.0, 55.7])
def test_three_spacings_tell_the_best_one_within_its_error(best):
    points = []
    for k, mm in enumerate((54.0, 55.0, 56.0)):
        off = mm - best
        shot = frame(seed=k, uneven_seed=k, radial_px=1.2 * off, curved_um=1.1 * DEPTH * off)
        points.append(point_of(shot.field, mm))
    result = series(tuple(points))
    assert abs(result.best_mm - best) < max(0.2, 2 * result.error_mm) and result.error_mm < 0.25


@given(st.floats(40, 70), st.floats(0.3, 4), st.floats(0, 3), st.integers(3, 7))
def test_points_on_a_parabola_give_its_foot(best, steep, floor, count):
    at = np.linspace(best - 1.1, best + 0.9, count)
    points = tuple(
        SpacingPoint(spacing_mm=float(mm), corner_px2=floor + steep * (mm - best) ** 2, error_px2=0.01) for mm in at
    )
    result = series(points)
    assert result.best_mm == pytest.approx(best, abs=0.005) and result.steep == pytest.approx(steep, rel=0.01)
    assert result.floor_px2 == pytest.approx(floor, abs=0.02)


def points_of(*pairs):
    return tuple(SpacingPoint(spacing_mm=mm, corner_px2=px2, error_px2=0.05) for mm, px2 in pairs)


def test_what_is_no_series_is_told():
    with pytest.raises(NoSeries, match="2 spacings: three different ones"):
        series(points_of((54, 1), (55, 0.2), (55, 0.3)))
    with pytest.raises(NoSeries, match="take them farther apart"):
        series(points_of((54, 0.10), (55, 0.11), (56, 0.09)))
    with pytest.raises(NoSeries, match="towards the shorter spacing all along"):
        series(points_of((54, 1), (55, 2), (56, 3)))
    with pytest.raises(NoSeries, match="outside the series"):
        series(points_of((54, 4.0), (55, 9.0), (56, 16.0)))  # (s − 52)²


def test_lines_of_equal_width_lie_where_the_smooth_field_has_that_width():
    shot = frame(tilt_um=90, tilt_deg=20, focus_um=40)
    lines = width_lines(shot.field, RIG.width, RIG.height)
    assert 2 <= len(lines) <= 7
    half = np.hypot(RIG.width, RIG.height) / 2
    field = shot.field
    for line in lines:
        for x0, y0, x1, y1 in line.pieces:
            for x, y in ((x0, y0), (x1, y1)):
                u, v = (x - 0.5) * RIG.width / half, (y - 0.5) * RIG.height / half
                t = 1 + field.slope[0] * u + field.slope[1] * v + field.bowl * (u * u + v * v)
                t += field.saddle[0] * (u * u - v * v) + field.saddle[1] * 2 * u * v
                assert field.middle_fwhm * t**0.5 == pytest.approx(line.fwhm_px, rel=0.01)
    flat = shot.field.model_copy(update={"slope": (0.0, 0.0), "bowl": 0.0, "saddle": (0.0, 0.0)})
    assert width_lines(flat, RIG.width, RIG.height) == ()


def test_a_curved_field_focused_two_thirds_out_is_as_the_truth_has_it():
    """The arithmetic of both blurs against stars drawn at those places."""
    from dravel.core.steps.frames.sets import focus_choice

    curve = 1.8 * 2.3 * DEPTH
    answer = focus_choice(frame(curved_um=curve, uneven=0.0))
    spot = np.array([[1.0, 1.0], [RIG.width / 2 - 1, RIG.height / 2 - 1]])
    for focus, (middle, corner) in ((0.0, answer.middle), (-4 / 9 * curve, answer.two_thirds)):
        truth = true_shapes(RIG, Faults(fwhm_px=2.3, curved_um=curve, focus_um=focus), spot[:, 0], spot[:, 1])
        true_middle, true_corner = np.sqrt(truth[:, 0, 0])
        assert middle == pytest.approx(true_middle, rel=0.08) and corner == pytest.approx(true_corner, rel=0.08)
    assert answer.two_thirds[1] < answer.middle[1] and answer.two_thirds[0] > answer.middle[0]
    assert focus_choice(frame()) is None and focus_choice(frame(tilt_um=120, focus_um=30)) is None
