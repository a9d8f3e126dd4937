"""The same frames by other libraries: sources by photutils, widths by astropy.modeling, the file itself by fitsio and by astropy's verification."""

import fitsio
import numpy as np
import pytest
from astropy.io import fits
from astropy.modeling.fitting import LMLSQFitter
from astropy.modeling.models import Moffat2D
from photutils.background import Background2D, MedianBackground
from photutils.detection import DAOStarFinder

from dravel.core.frames.stars import find
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take
from dravel.stand_ins.taking import write

RIG = PictureRig(1200, 900, 3.76, 4.3, 1.95, 3e6, 1.5, 0.002, 1.6, 50_000)


@pytest.fixture(scope="module")
def picture():
    return take(RIG, random_stars(RIG, 350, 8, brightest=7.5, faintest=12), Faults(fwhm_px=2.6), 120, 8)


def test_the_same_stars_are_found_where_a_second_library_finds_them(picture):
    data = picture.adu.astype(float)
    ground = Background2D(data, (128, 128), bkg_estimator=MedianBackground())
    result = find(picture.adu.astype(np.float32), 62_000.0)
    # In electrons gain and noise are known: the sky's level and scatter agree.
    assert result.sky == pytest.approx(float(ground.background_median), rel=0.005)
    assert result.noise == pytest.approx(float(ground.background_rms_median), rel=0.05)
    theirs = DAOStarFinder(threshold=25 * result.noise, fwhm=2.6)(data - ground.background)
    place = np.stack([np.asarray(theirs["x_centroid"]), np.asarray(theirs["y_centroid"])], 1)
    inside = (np.minimum(place, [RIG.width - 1, RIG.height - 1] - place) > 12).all(1)
    here = np.stack([result.x, result.y], 1)
    apart = np.hypot(*(place[inside][:, None] - here[None]).transpose(2, 0, 1)).min(1)
    assert inside.sum() > 150 and np.mean(apart < 1) > 0.97 and np.median(apart) < 0.15


def test_widths_agree_with_a_second_library_s_fit(picture):
    result = find(picture.adu.astype(np.float32), 62_000.0)
    best = np.flatnonzero(np.isfinite(result.shapes[:, 0, 0]) & (result.snr > 150))[:25]
    data = picture.adu.astype(float) - result.sky
    theirs = []
    y, x = np.mgrid[-8:9, -8:9]
    for i in best:
        column, line = round(result.x[i]), round(result.y[i])
        cut = data[line - 8 : line + 9, column - 8 : column + 9]
        if cut.shape == x.shape:
            begun = Moffat2D(
                cut.max(), result.x[i] - column, result.y[i] - line, 2.0, result.beta, fixed={"alpha": True}
            )
            theirs.append(LMLSQFitter()(begun, x, y, cut).fwhm)
    # Theirs is fitted at the pixels' middles, so it has the pixel's own width in it.
    ours = np.sqrt(np.median(result.fwhm[best]) ** 2 + 8 * np.log(2) / 12)
    assert len(theirs) > 15 and np.median(theirs) == pytest.approx(ours, rel=0.03)


def test_a_frame_written_here_is_sound_and_a_second_reader_sees_the_same(picture, tmp_path):
    path = tmp_path / "frame.fits"
    write(picture, path, OBJECT="M13", FOCUSPOS=5123.5)
    with fits.open(path) as opened:
        opened.verify("exception")
    data, header = fitsio.read(str(path), header=True)
    assert (data == picture.adu).all() and data.dtype == np.uint16
    assert header["OBJECT"] == "M13" and header["FOCUSPOS"] == 5123.5 and header["SIMULATE"]
    assert header["SIMFWHM"] == 2.6
