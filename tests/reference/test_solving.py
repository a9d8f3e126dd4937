"""Frames solved by their own stars: random fields of the packaged star list, against where they were taken and against astropy.wcs."""

import numpy as np
import pytest
from astropy.wcs import WCS

from dravel.catalogue.demo import scenario
from dravel.catalogue.stars import stars
from dravel.core.frames.claims import FrameClaims
from dravel.core.frames.reading import measure
from dravel.core.sky.projection import deproject, project
from dravel.core.sky.solve import Unsolved, solve
from dravel.core.steps import STEPS
from dravel.stand_ins.picture import Faults, PictureRig, real_stars, take
from dravel.work.solving import met

SIZE = (6000, 4000)


def field(width_deg: float, seed: int, wrong_place: bool = False):
    """A random field: its stars in pixels with fainter ones between and some noise, and what is believed of it."""
    rng = np.random.default_rng([seed, int(width_deg * 10)])
    scale = width_deg * 3600 / SIZE[0]
    ra, dec = float(rng.uniform(0, 360)), float(np.degrees(np.arcsin(rng.uniform(-0.9, 0.9))))
    diagonal = float(np.hypot(*SIZE)) * scale / 3600
    near = stars().listed(ra, dec, 0.6 * diagonal)
    xi, eta = project(near.ra_deg, near.dec_deg, ra, dec)
    z = (xi + 1j * eta) * np.exp(1j * rng.uniform(0, 2 * np.pi)) * 3600 / scale
    z = z.conj() if rng.random() < 0.5 else z
    inside = (np.abs(z.real) < SIZE[0] / 2) & (np.abs(z.imag) < SIZE[1] / 2)
    z, magnitude = z[inside], near.magnitude[inside]
    faint = 12 * len(z) + 20
    z = np.concatenate([z, rng.uniform(-3000, 3000, faint) + 1j * rng.uniform(-2000, 2000, faint)])
    magnitude = np.concatenate([magnitude, 10 + rng.exponential(1, faint)])
    z = z + rng.normal(0, 0.3, len(z)) + 1j * rng.normal(0, 0.3, len(z))
    z = z[np.argsort(magnitude + rng.normal(0, 0.15, len(z)))[:120]]
    off, way = rng.uniform(0, 0.3) * diagonal, rng.uniform(0, 2 * np.pi)
    there = deproject(off * np.cos(way), off * np.sin(way), (ra + 90) % 360 if wrong_place else ra, dec)
    believed = (float(there[0]), float(there[1]))
    x, y = z.real + (SIZE[0] - 1) / 2, z.imag + (SIZE[1] - 1) / 2
    listed = stars().listed(*believed, 1.6 * diagonal)
    return (x, y, *SIZE, scale * rng.uniform(0.93, 1.07), *believed, listed), (scale, ra, dec, diagonal)


def right(found, truth) -> bool:
    scale, ra, dec, diagonal = truth
    away = np.hypot(
        ((found.centre_ra_deg - ra + 180) % 360 - 180) * np.cos(np.radians(dec)), found.centre_dec_deg - dec
    )
    return abs(found.scale_arcsec / scale - 1) < 1e-3 and away < 0.005 * diagonal


@pytest.mark.parametrize(("width", "least"), [(1.5, 9), (2, 10), (3, 10), (6, 10), (10, 10)])
def test_fields_are_solved_by_their_stars(width, least):
    solved = 0
    for seed in range(10):
        given, truth = field(width, seed)
        try:
            result = solve(*given)
        except Unsolved:
            continue
        assert right(result, truth), "a wrong place is worse than none"
        solved += 1
    assert solved >= least


def test_narrow_fields_say_that_the_list_has_too_few_stars():
    lines = []
    for seed in range(8):
        given, truth = field(0.5, seed)
        try:
            assert right(solve(*given), truth)
        except Unsolved as error:
            lines.append(str(error))
    assert len(lines) >= 6 and all("too few to tell" in item or "no place fits" in item for item in lines)


def test_stars_of_another_place_are_never_taken_for_this_one():
    for seed in range(12):
        given, _ = field((2, 3, 6)[seed % 3], seed, wrong_place=True)
        with pytest.raises(Unsolved):
            solve(*given)


def test_a_handful_of_stars_and_an_empty_list_are_told():
    given, _ = field(3, 1)
    x, y, *rest = given
    with pytest.raises(Unsolved, match="the frame has 3 stars"):
        solve(x[:3], y[:3], *rest)
    with pytest.raises(Unsolved, match="too few"):
        solve(*given[:-1], stars().listed(0, 0, 0))


@pytest.mark.parametrize("turn", [0, 20, 95, 250])
def test_a_solution_is_the_wcs_of_the_frame(turn):
    """As a header's WCS it puts the list's stars, by astropy.wcs, on the pixels where the frame has them."""
    rig = PictureRig(1600, 1100, 7.5, 4.3, 6.0, 3e6, 1.0, 0.002, 1.6, 50_000)
    near = stars().listed(312.75, 30.67, 3)
    placed = real_stars(rig, near, 312.8, 30.6, turn, 3, faintest=12.5)
    made = take(rig, placed, Faults(fwhm_px=2.2), 60, 3)
    reading = measure("veil", made.adu.astype(np.float32), None, 62_000.0, FrameClaims())
    x, y = np.array(reading.brightest).T
    result = solve(x, y, rig.width, rig.height, 5.8, 313.2, 30.9, near)
    assert result.scale_arcsec == pytest.approx(6.0, rel=5e-4) and not result.mirrored
    assert (result.rotation_deg - turn + 180) % 360 - 180 == pytest.approx(0, abs=0.05)
    wcs = WCS(naxis=2)
    wcs.wcs.ctype, wcs.wcs.crval = ["RA---TAN", "DEC--TAN"], [result.centre_ra_deg, result.centre_dec_deg]
    wcs.wcs.crpix = [(rig.width + 1) / 2, (rig.height + 1) / 2]
    c, s = (f(np.radians(result.rotation_deg)) * result.scale_arcsec / 3600 for f in (np.cos, np.sin))
    wcs.wcs.cd = [[-c, s], [s, c]]
    px, py = wcs.world_to_pixel_values(near.ra_deg[:200], near.dec_deg[:200])
    inside = (px > 20) & (px < rig.width - 20) & (py > 20) & (py < rig.height - 20)
    apart = np.hypot(px[inside][:, None] - x[None], py[inside][:, None] - y[None]).min(1)
    assert inside.sum() > 20 and np.mean(apart < 1.0) > 0.7 and np.median(apart) < 0.3


HERON = STEPS.context(dict(scenario().rigs)["heron"])


def test_a_frame_of_a_rig_is_met_with_its_target_and_keeps_its_spacing():
    """A rig whose focal length is 4 % short of what it should be: found by the stars of its own target's frame."""
    framing = HERON.rig.framings[0]
    scale = HERON.known.get("pixel_scale")
    rig = PictureRig(2600, 1950, 7.0, 4.3, 2 * scale * 1.04, 3e6, 1.0, 0.002, 1.6, 50_000)
    near = stars().listed(framing.centre_ra_deg, framing.centre_dec_deg, 4)
    placed = real_stars(rig, near, framing.centre_ra_deg + 0.2, framing.centre_dec_deg - 0.2, 12, 3, faintest=12)
    made = take(rig, placed, Faults(fwhm_px=2.2), 60, 3)
    reading = measure("f", made.adu.astype(np.float32), None, 62_000.0, FrameClaims(target=framing.target.name))
    binned = STEPS.context(HERON.rig.model_copy(update={"binning": 2}))
    answer = met(reading, binned)
    assert answer.scale_arcsec == pytest.approx(2 * scale * 1.04, rel=1e-3) and answer.unsolved == ""
    assert answer.taken.spacing_mm == pytest.approx(HERON.known.get("actual"))
    assert answer.centre[1] == pytest.approx(framing.centre_dec_deg - 0.2, abs=0.01)
    elsewhere = FrameClaims(near_ra_deg=(framing.centre_ra_deg + 120) % 360, near_dec_deg=-20.0)
    lost = met(reading.model_copy(update={"claims": elsewhere}), binned)
    assert lost.solution is None and lost.unsolved


def test_what_cannot_be_solved_says_why():
    reading = measure("f", take(PictureRig(1200, 900, 7, 4.3, 2, 3e6, 1, 0, 1.6, 5e4), real_stars(
        PictureRig(1200, 900, 7, 4.3, 2, 3e6, 1, 0, 1.6, 5e4), stars().listed(10, 10, 2), 10, 10, 0, 1), Faults(), 60, 1,
    ).adu.astype(np.float32), None, 62_000.0, FrameClaims())  # fmt: skip
    bare = HERON.rig.model_copy(update={"framings": ()})
    assert "say where it points" in met(reading, STEPS.context(bare)).unsolved
    dark = HERON.rig.model_copy(update={"path": ()})
    assert "pixel scale is not known" in met(reading, STEPS.context(dark)).unsolved
    own = reading.model_copy(update={"claims": FrameClaims(scale_arcsec=2.0)})
    assert met(own, HERON).solution is None and met(own, HERON).unsolved == ""
