"""Frames in FITS: written by a second library in all their forms and read back; what is broken is refused in words."""

import os
from pathlib import Path

import numpy as np
import pytest
from astropy.io import fits
from astropy.wcs import WCS
from astropy.wcs.utils import proj_plane_pixel_scales

from dravel.core.frames.reading import measure
from dravel.formats.fits_frame import NotAFrame, read
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take
from dravel.stand_ins.taking import write
from dravel.work.frames import frames_in, measure_all, measure_file

RIG = PictureRig(900, 640, 3.76, 4.3, 1.95, 3e6, 1.5, 0.002, 1.6, 50_000)
PICTURE = take(RIG, random_stars(RIG, 300, 1), Faults(fwhm_px=2.6), 120, 1)
ADU = PICTURE.adu


def saved(path: Path, data: np.ndarray, kind=fits.PrimaryHDU, **cards: object) -> Path:
    made = kind(data)
    for key, value in cards.items():
        made.header[key] = value
    parts = [made] if kind is fits.PrimaryHDU else [fits.PrimaryHDU(), made]
    fits.HDUList(parts).writeto(path, overwrite=True)
    return path


@pytest.mark.parametrize(("data", "kind"), [
    (ADU, fits.PrimaryHDU), ((ADU / 300).astype(np.uint8), fits.PrimaryHDU), (ADU.astype(np.int32), fits.PrimaryHDU),
    (ADU.astype(np.float32) / 65_535, fits.PrimaryHDU), (ADU.astype(np.float64), fits.PrimaryHDU), (ADU, fits.CompImageHDU),
    (np.stack([ADU, ADU, ADU]), fits.PrimaryHDU), (ADU[None], fits.PrimaryHDU), (ADU, fits.ImageHDU),
])  # fmt: skip
def test_every_form_gives_the_same_stars(tmp_path, data, kind):
    frame = read(saved(tmp_path / "f.fits", data, kind))
    assert frame.data.shape == ADU.shape and frame.data.dtype == np.float32
    reading = measure("f", frame.data, frame.green, frame.full, frame.claims)
    assert abs(reading.fwhm_px / 2.6 - 1) < (0.12 if data.dtype == np.uint8 else 0.02) and reading.fitted > 40


def test_header_facts_are_claims_by_any_of_their_names(tmp_path):
    path = saved(tmp_path / "f.fits", ADU, EXPOSURE=120, CCDTEMP=-9.8, PIXSIZE1="3.76", FOCAL=400, ISO=800, OBJECT=" M13 ",
                 FILTER="Ha", SATURATE=60_000, BAYERPAT="rggb", SIMULATE=True)  # fmt: skip
    frame = read(path)
    claims = frame.claims
    assert (claims.exposure_s, claims.sensor_c, claims.pixel_um, claims.focal_mm, claims.gain) == (
        120,
        -9.8,
        3.76,
        400,
        800,
    )
    assert (claims.target, claims.filter, claims.mosaic, claims.simulated, frame.full) == (
        "M13",
        "Ha",
        "RGGB",
        True,
        60_000,
    )
    assert frame.green is not None and frame.green.mean() == 0.5 and not frame.green[0, 0] and frame.green[0, 1]


@pytest.mark.parametrize("turned", [0, 35, 120, 290])
def test_the_scale_of_a_plate_solution_is_that_of_a_second_library(tmp_path, turned):
    wcs = WCS(naxis=2)
    wcs.wcs.ctype, wcs.wcs.crval, wcs.wcs.crpix = ["RA---TAN", "DEC--TAN"], [250.4, 36.5], [450, 320]
    wcs.wcs.cdelt = [-1.95 / 3600, 1.95 / 3600]
    c, s = np.cos(np.radians(turned)), np.sin(np.radians(turned))
    wcs.wcs.pc = [[c, -s], [s, c]]
    path = tmp_path / "f.fits"
    fits.PrimaryHDU(ADU, header=wcs.to_header()).writeto(path)
    claims = read(path).claims
    assert claims.scale_arcsec == pytest.approx(np.mean(proj_plane_pixel_scales(wcs)) * 3600, rel=1e-4)
    height, width = ADU.shape
    middle = wcs.pixel_to_world((width - 1) / 2, (height - 1) / 2)
    assert claims.centre_ra_deg == pytest.approx(middle.ra.deg, abs=1e-5)
    assert claims.centre_dec_deg == pytest.approx(middle.dec.deg, abs=1e-5)


def test_frames_written_here_are_sound_and_hold_the_truth(tmp_path):
    path = tmp_path / "f.fits"
    write(PICTURE, path, OBJECT="M13")
    with fits.open(path) as held:
        held.verify("exception")
        assert np.array_equal(held[0].data, ADU) and held[0].header["SIMULATE"] is True
        assert held[0].header["SIMFWHM"] == 2.6
    assert read(path).claims.simulated


BROKEN = {
    "empty": (b"", "does not begin as one"),
    "text": (b"this is no picture\n" * 500, "does not begin as one"),
    "heading only": (b"SIMPLE  =                    T".ljust(2880), "damaged|no picture"),
    "bomb": (
        b"SIMPLE  =                    T".ljust(80) + b"COMMENT x".ljust(80) * 40_000,
        "damaged|longer|no picture",
    ),
    "zipped": (b"\x1f\x8b\x08\x00" + b"0" * 500, "does not begin as one"),
}


@pytest.mark.parametrize("name", BROKEN)
def test_what_is_no_frame_is_refused_in_words(tmp_path, name):
    content, said = BROKEN[name]
    path = tmp_path / "f.fits"
    path.write_bytes(content)
    with pytest.raises(NotAFrame, match=said):
        read(path)


@pytest.mark.parametrize(("data", "said"), [
    (np.zeros((600, 800), np.uint16), "same value: nothing was read out"), (np.full((600, 800), 65_535, np.uint16), "same|saturated"),
    (np.full((600, 800), np.nan, np.float32), "no numbers"), (np.ones((1, 1), np.uint16), "too few"), (np.arange(900.0), "no picture"),
    (np.ones((5, 100, 100), np.uint16), "one plane or three"),
])  # fmt: skip
def test_pictures_that_hold_nothing_are_told(tmp_path, data, said):
    with pytest.raises(NotAFrame, match=said):
        read(saved(tmp_path / "f.fits", data))


def test_a_header_that_promises_too_much_is_not_believed(tmp_path):
    path = saved(tmp_path / "f.fits", ADU)
    whole = path.read_bytes()
    for item in (b"NAXIS1  =                  900", b"BITPIX  =                   16"):
        assert item in whole
    path.write_bytes(whole.replace(b"NAXIS1  =                  900", b"NAXIS1  =            200000000"))
    with pytest.raises(NotAFrame, match=r"more than any frame|damaged"):
        read(path)
    path.write_bytes(whole.replace(b"BITPIX  =                   16", b"BITPIX  =                   17"))
    with pytest.raises(NotAFrame):
        read(path)
    path.write_bytes(whole[: len(whole) // 2])
    with pytest.raises(NotAFrame):
        read(path)


def test_a_few_pixels_that_are_no_numbers_are_said(tmp_path):
    data = ADU.astype(np.float32)
    data[::40, ::40] = np.nan
    frame = read(saved(tmp_path / "f.fits", data))
    assert np.isfinite(frame.data).all() and frame.notes[0].startswith(str(np.isnan(data).sum()))


def test_a_folder_is_measured_frame_by_frame_and_links_out_of_it_are_left(tmp_path):
    inside, outside = tmp_path / "in", tmp_path / "out"
    inside.mkdir()
    outside.mkdir()
    saved(inside / "a.fits", ADU)
    saved(outside / "b.fits", ADU)
    (inside / "c.fits").write_bytes(b"no frame")
    (inside / "notes.txt").write_text("no frame either")
    os.symlink(outside / "b.fits", inside / "b.fits")
    files = frames_in(inside)
    assert [file.name for file in files] == ["a.fits", "c.fits"]
    result = dict(measure_all(files))
    assert result[inside / "a.fits"].fitted > 40 and "does not begin" in result[inside / "c.fits"]
    assert measure_file(outside / "none.fits").startswith("it cannot be opened")
