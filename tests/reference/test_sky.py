"""Projection, tiles and catalogue against astropy, the WCS papers and published coordinates."""

import numpy as np
import pytest
from astropy import units as u
from astropy.coordinates import SkyCoord
from astropy.wcs import WCS

from dravel.catalogue.objects import catalogue
from dravel.catalogue.stars import stars
from dravel.core.sky.framing import axes, plane_size, tile_centres, tile_corners
from dravel.core.sky.projection import deproject, project
from tests.conftest import a_framing


def _tan(ra: float, dec: float) -> WCS:
    wcs = WCS(naxis=2)
    wcs.wcs.ctype = ["RA---TAN", "DEC--TAN"]
    wcs.wcs.crval, wcs.wcs.crpix, wcs.wcs.cdelt = [ra, dec], [0, 0], [1, 1]
    return wcs


@pytest.mark.parametrize(("ra0", "dec0"), [(0.1, 0), (312.75, 30.9), (148.9, 69.4), (10, 89.5), (200, -65)])
def test_gnomonic_projection_against_astropy_wcs(ra0, dec0):
    # Calabretta & Greisen 2002, A&A 395, 1077, as astropy.wcs (wcslib) computes it.
    rng = np.random.default_rng(7)
    x, y = rng.uniform(-4, 4, (2, 200))
    ra, dec = deproject(x, y, ra0, dec0)
    ours = SkyCoord(ra * u.deg, dec * u.deg)
    theirs = SkyCoord(*_tan(ra0, dec0).wcs_pix2world(np.column_stack([x, y]), 1).T * u.deg)
    assert ours.separation(theirs).arcsec.max() < 1e-3
    back = np.array(project(ra, dec, ra0, dec0))
    assert np.abs(back - np.array([x, y])).max() < 1e-9


def test_the_far_side_is_not_projected():
    x, _ = project(np.array([180.0]), np.array([0.0]), 0.0, 0.0)
    assert np.isnan(x).all()


def test_tile_centres_against_astropy_offsets():
    # SkyCoord.directional_offset_by: a 3 x 1 mosaic along position angle 90 lies east and west of its centre.
    framing = a_framing(ra=40, dec=60, columns=3, rows=1, overlap=0.1, position_angle_deg=90)
    centres = tile_centres(framing, (2.0, 1.5))
    middle = SkyCoord(40 * u.deg, 60 * u.deg)
    step = np.degrees(np.arctan(np.radians(plane_size((2.0, 1.5))[0] * 0.9)))
    east = middle.directional_offset_by(90 * u.deg, step * u.deg)
    west = middle.directional_offset_by(270 * u.deg, step * u.deg)
    sky_coord = SkyCoord(centres[:, 0] * u.deg, centres[:, 1] * u.deg)
    assert sky_coord[2].separation(west).arcsec < 0.1
    assert sky_coord[0].separation(east).arcsec < 0.1
    assert sky_coord[1].separation(middle).arcsec < 1e-6


@pytest.mark.parametrize("angle", [0, 37, 90, 127, 200])
def test_position_angle_is_that_of_the_long_side(angle):
    # Position angle from north through east, as SkyCoord.position_angle measures it.
    framing = a_framing(position_angle_deg=angle, ra=100, dec=20)
    left_top, right_top, right_bottom, left_bottom = (
        SkyCoord(*corner * u.deg) for corner in tile_corners(framing, (3.0, 1.0))[0]
    )
    right = SkyCoord(right_top.spherical_offsets_by(0 * u.deg, 0 * u.deg))
    along = right.position_angle(left_top).deg
    assert (along - angle + 0.8) % 180 < 1.6
    assert left_top.separation(right_top).deg == pytest.approx(3.0, abs=0.01)
    assert left_top.separation(left_bottom).deg == pytest.approx(1.0, abs=0.01)
    assert right_bottom.separation(left_bottom).deg == pytest.approx(3.0, abs=0.01)


def test_axes_are_a_right_handed_pair_on_the_sky():
    for angle in range(0, 360, 15):
        right, up = axes(angle)
        # Seen from inside the sphere east is left: up x right points at the observer.
        assert up[0] * right[1] - up[1] * right[0] == pytest.approx(1)
        assert right @ up == pytest.approx(0, abs=1e-12)


@pytest.mark.parametrize(
    ("name", "ra", "dec"),
    [
        # J2000 positions as the Messier and NGC handbooks print them, to the arcminute (from memory).
        ("M13", "16h41.7m", "+36d28m"),
        ("M101", "14h03.2m", "+54d21m"),
        ("NGC 891", "2h22.6m", "+42d21m"),
        ("IC 1805", "2h32.7m", "+61d27m"),
        ("NGC 7380", "22h47.3m", "+58d08m"),
        ("M81", "9h55.6m", "+69d04m"),
    ],
)
def test_catalogue_positions(name, ra, dec):
    target = catalogue().get(name)
    printed = SkyCoord(ra, dec)
    assert SkyCoord(target.ra_deg * u.deg, target.dec_deg * u.deg).separation(printed).arcmin < 2.5


def test_catalogue_against_its_own_package():
    # The data set's own reader, on random rows.
    import pyongc.ongc as ongc

    for name in ("NGC0891", "NGC5907", "IC0342", "NGC5139", "NGC0457"):
        theirs = ongc.Dso(name)
        ours = catalogue().get(name)
        ra, dec = (np.degrees(value) for value in theirs.rad_coords)
        assert (ours.ra_deg, ours.dec_deg) == pytest.approx((ra, dec), abs=1e-5)
        assert ours.major_arcmin == theirs.dimensions[0]


def test_known_bright_stars_stand_where_they_should():
    # Vega and Altair, J2000 positions of the Bright Star Catalogue (from memory); epoch 2016 moves them by seconds.
    for ra, dec, limit in ((279.2347, 38.7837, 0.6), (297.6958, 8.8683, 1.2)):
        rows = stars().around(ra, dec, 0.05)
        assert len(rows) > 0
        assert rows[0, 2] < limit
        assert np.hypot(rows[0, 0], rows[0, 1]) * 3600 < 25


def test_star_patch_against_astropy_separation():
    result = stars().around(312.75, 30.9, 1.0)
    everything = stars()
    near = np.abs(everything.dec - 30.9) < 1.1
    centre = SkyCoord(312.75 * u.deg, 30.9 * u.deg)
    places = SkyCoord(everything.ra[near] * u.deg, everything.dec[near] * u.deg)
    # One degree on the plane is a hair less than one on the sphere.
    radius = np.degrees(np.arctan(np.radians(1.0)))
    assert len(result) == int((places.separation(centre).deg <= radius).sum())
    assert (np.diff(result[:, 2]) >= 0).all()
