"""Properties that hold for all rigs, searched by hypothesis."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from dravel.core.model import Preferences, Rig
from dravel.core.model.base import clean
from dravel.core.overview.strip import lay_out
from dravel.core.physics import optics
from dravel.core.sky.framing import fit_target, share_inside, tiles_needed, turn_from_landscape
from dravel.core.sky.projection import deproject, project
from dravel.core.steps import STEPS
from dravel.core.steps.optics.view import pixel_fluxes
from dravel.formats import rig_file
from tests.conftest import a_camera, a_corrector, a_framing, a_rig, a_telescope

focal = st.floats(20, 5000)
pixel = st.floats(1, 15)


@given(pixel, focal, focal)
def test_longer_glass_means_finer_scale(p, f, g):
    if f * (1 + 1e-12) < g:  # neighbouring numbers may round to one
        assert optics.pixel_scale(p, f) > optics.pixel_scale(p, g)
        assert optics.field_deg(24, f) > optics.field_deg(24, g)


@given(st.floats(1, 60), st.floats(1, 60), st.floats(1, 100), st.floats(1, 100))
def test_a_larger_circle_never_covers_less(w, h, c, d):
    small, large = sorted((c, d))
    assert 0 <= optics.circle_coverage(w, h, small) <= optics.circle_coverage(w, h, large) + 1e-12 <= 1 + 1e-9


@given(st.floats(0.3, 1), focal, st.floats(0.3, 10))
def test_a_reducer_widens_and_never_changes_the_aperture(m, f, ratio):
    plain = a_rig(a_telescope(focal_length_mm=f, aperture_mm=min(2900, max(5, f / ratio / 2))), a_camera())
    reduced = a_rig(plain.path[0].part, a_corrector(role="flattener", factor=m), a_camera())
    before, after = STEPS.evaluate(plain), STEPS.evaluate(reduced)
    for key, sign in (("optics.field_width_deg", 1), ("optics.pixel_scale_arcsec_px", 1), ("optics.focal_ratio", -1)):
        assert sign * (after.figure(key).value - before.figure(key).value) >= -1e-9  # type: ignore[union-attr]
    assert before.figure("optics.rayleigh_arcsec") == after.figure("optics.rayleigh_arcsec")


@given(st.floats(-80, 80), st.floats(0, 359.99), st.floats(-10, 10), st.floats(-10, 10))
def test_projection_round_trip(dec, ra, x, y):
    back = project(*deproject(x, y, ra, dec), ra, dec)
    assert np.allclose([float(back[0]), float(back[1])], [x, y], atol=1e-8)


@given(st.floats(0.01, 50), st.floats(0.1, 5), st.floats(0, 0.5))
def test_tiles_cover_and_one_fewer_would_not(extent, field, overlap):
    n = tiles_needed(extent, field, overlap)
    reach = lambda k: field * (1 + (k - 1) * (1 - overlap))  # noqa: E731
    assert reach(n) >= extent * (1 - 1e-6)
    assert n == 1 or reach(n - 1) < extent * (1 + 1e-6)


@settings(deadline=None, max_examples=40)
@given(st.floats(5, 300), st.floats(0.2, 1), st.floats(0, 179), st.floats(0, 359), st.floats(-70, 70))
def test_the_mosaic_that_fits_takes_everything(major, squash, target_angle, frame_angle, dec):
    framing = a_framing(major, major * squash, angle=target_angle, position_angle_deg=frame_angle, dec=dec)
    fit = fit_target(framing.target, (2.8, 2.1), frame_angle, Preferences())
    assert fit is not None
    whole = framing.model_copy(update={"columns": fit.columns, "rows": fit.rows})
    assert share_inside(whole, (2.8, 2.1)) > 0.97


@given(st.floats(0, 360))
def test_a_turn_from_landscape_is_at_most_a_quarter(angle):
    assert -90 <= turn_from_landscape(angle) <= 90


@given(st.floats(0.1, 12))
def test_a_star_is_brightest_in_the_middle_and_symmetric(width):
    grid = np.array(pixel_fluxes(width))
    assert grid[5, 5] == grid.max() == 1
    assert np.allclose(grid, grid[::-1]) and np.allclose(grid, grid.T)


@settings(deadline=None, max_examples=60)
@given(
    st.floats(10, 500), st.floats(30, 4000), st.sampled_from(["triplet", "newtonian", "ritchey_chretien", "camera_lens"]),
    st.one_of(st.none(), st.floats(20, 2000)), st.one_of(st.none(), st.floats(2, 100)),
)  # fmt: skip
def test_every_strip_can_be_drawn(aperture, length, design, tube, flange):
    rig = a_rig(
        a_telescope(aperture_mm=aperture, focal_length_mm=length, design=design, tube_length_mm=tube),
        a_corrector(back_focus_mm=55),
        a_camera(flange_to_sensor_mm=flange),
    )
    strip = lay_out(rig)
    assert all(block.end_mm >= block.start_mm and block.diameter_mm > 0 for block in strip.blocks)
    assert strip.length_mm >= max(block.end_mm for block in strip.blocks)
    assert strip.sensor_mm is not None
    assert strip.beam[-1][1] == 0


@settings(deadline=None, max_examples=40)
@given(pixel, focal, st.text(min_size=1, max_size=40).filter(lambda text: text.strip()), st.text(max_size=100))
def test_rig_file_round_trip(p, f, name, notes):
    answer = clean(name)
    if not answer.strip():
        return  # nothing but controls: refused as no name
    body = a_rig(a_telescope(focal_length_mm=f), a_camera(pixel=p), framings=(a_framing(),)).model_dump()
    rig = Rig.model_validate(body | {"name": name, "notes": notes})
    assert (rig.name, rig.notes) == (answer, clean(notes, lines=True))
    text = rig_file.write(rig)
    assert rig_file.read(text.encode()) == rig
