"""Stars of simulated frames against their truth: widths, axes, angles; mosaics; a second way of finding them."""

import numpy as np
import pytest

from dravel.core.frames.field import TooFewStars, shape_of, zones
from dravel.core.frames.stars import NoStars, axes, find
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take

RIG = PictureRig(1500, 1000, 3.76, 4.3, 1.95, 3e6, 1.5, 0.002, 1.6, 50_000)
MOSAIC = PictureRig(1500, 1000, 3.76, 4.3, 1.95, 3e6, 1.5, 0.002, 1.6, 50_000, mosaic=True)
FULL = 62_000.0


def green_of(rig):
    if not rig.mosaic:
        return None
    green = np.zeros((rig.height, rig.width), bool)
    green[0::2, 1::2] = green[1::2, 0::2] = True
    return green


def measured(faults, rig=RIG, seed=1, count=700):
    """Measured and true shapes of the same stars, with their signal to noise."""
    stars = random_stars(rig, count, seed)
    picture = take(rig, stars, faults, 120, seed)
    result = find(picture.adu.astype(np.float32), FULL, green_of(rig))
    keep = np.isfinite(result.shapes[:, 0, 0])
    place = np.stack([stars.x + rig.width / 2 - 0.5, stars.y + rig.height / 2 - 0.5], 1)
    here = np.stack([result.x[keep], result.y[keep]], 1)
    apart = np.hypot(*(here[:, None] - place[None]).transpose(2, 0, 1))
    nearest, near = apart.argmin(1), apart.min(1) < 0.7
    return result.shapes[keep][near], picture.shapes[nearest[near]], result.snr[keep][near], result


@pytest.mark.parametrize("fwhm", [1.5, 2.2, 3.0, 5.0])
@pytest.mark.parametrize("rig", [RIG, MOSAIC], ids=["mono", "mosaic"])
def test_widths_are_true_within_two_per_cent(fwhm, rig):
    if rig.mosaic and fwhm < 2:
        pytest.skip("a mosaic samples such stars on every other pixel")
    shapes, truth, snr, result = measured(Faults(fwhm_px=fwhm), rig)
    wide, true = (np.sqrt(np.sqrt(np.linalg.det(item))) for item in (shapes, truth))
    bright = snr > 200
    assert bright.sum() > 20 and abs(np.median(wide / true) - 1) < 0.01
    assert np.median(np.abs(wide / true - 1)[bright]) < 0.02
    assert abs(result.beta - 3) < 0.5  # the profile it was drawn with


@pytest.mark.parametrize(("guide", "angle"), [(0.4, 0), (0.6, 35), (0.9, 90), (1.5, 140)])
def test_axes_and_angles_are_true(guide, angle):
    shapes, truth, snr, _ = measured(Faults(fwhm_px=2.5, guide_px=guide, guide_deg=angle))
    (long, short, way), (true_long, true_short, _) = axes(shapes), axes(truth)
    bright = snr > 200
    off = (way - angle + 90) % 180 - 90
    assert np.median(np.abs(short / long - true_short / true_long)[bright]) < 0.01
    assert abs(np.median(off)) < 1 and np.median(np.abs(off)[bright]) < 3


def test_a_star_s_sum_is_the_light_that_was_put_in():
    stars = random_stars(RIG, 400, 2, brightest=7, faintest=10)
    result = find(take(RIG, stars, Faults(fwhm_px=2.5), 120, 2).adu.astype(np.float32), FULL)
    electrons = 3e6 * 10 ** (-0.4 * stars.magnitude) * 120
    assert abs(np.median(result.flux) * RIG.gain_e_adu / np.median(electrons) - 1) < 0.08


def test_hot_pixels_are_no_stars():
    _, _, _, clean = measured(Faults(fwhm_px=2.5))
    _, _, _, spotted = measured(Faults(fwhm_px=2.5, hot_pixels=400))
    assert abs(np.isfinite(spotted.shapes[:, 0, 0]).sum() - np.isfinite(clean.shapes[:, 0, 0]).sum()) < 25
    assert abs(np.nanmedian(spotted.fwhm) / np.nanmedian(clean.fwhm) - 1) < 0.01


@pytest.mark.parametrize("data", [
    np.zeros((600, 800)), np.full((600, 800), 65_535.0), np.full((40, 40), 5.0), np.random.default_rng(1).normal(500, 5, (20, 900)),
    np.full((600, 800), np.nan),
])  # fmt: skip
def test_frames_without_stars_are_told(data):
    with pytest.raises(NoStars):
        find(data.astype(np.float32), FULL)


def test_noise_alone_gives_no_map():
    data = np.random.default_rng(1).normal(500, 5, (700, 900)).astype(np.float32)
    try:
        result = find(data, FULL)
    except NoStars:
        return
    with pytest.raises(TooFewStars):
        shape_of(result, 900, 700)


def test_the_field_of_even_stars_is_flat_and_its_ninths_alike():
    _, _, _, result = measured(Faults(fwhm_px=2.5))
    shape = shape_of(result, RIG.width, RIG.height)
    assert shape.elongation < 1.03 and shape.slope_size < 0.06 and abs(shape.bowl) < 0.1
    assert abs(shape.middle_fwhm / 2.5 - 1) < 0.03
    ninths = zones(result, RIG.width, RIG.height)
    assert len(ninths) == 9 and all(abs(ninth.fwhm_px / 2.5 - 1) < 0.05 for ninth in ninths if ninth.fwhm_px)


@pytest.mark.parametrize("way", [0, 60, 200, 310])
def test_the_slope_of_a_leaning_sensor_points_to_its_soft_side(way):
    shape = shape_of(measured(Faults(fwhm_px=2.5, tilt_um=80, tilt_deg=way, focus_um=45))[3], RIG.width, RIG.height)
    assert abs((shape.slope_deg - way + 180) % 360 - 180) < 10 and shape.slope_size > 0.2
