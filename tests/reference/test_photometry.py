"""Light in a pixel against the outside: astropy's CCD equation and units, simulated pixels, limits of the formulas."""

from math import cos, log10, pi, radians, sqrt

import numpy as np
import pytest
from astropy import units as u
from astropy.stats import signal_to_noise_oir_ccd
from hypothesis import given
from hypothesis import strategies as st

from dravel.core.physics import photometry as light

AREA = light.open_area_m2(86, 0)


@pytest.mark.parametrize(("total", "sub", "signal", "background", "noise"), [
    (3600, 180, 0.5, 2.0, 1.6), (36_000, 60, 0.02, 0.4, 3.2), (600, 600, 30.0, 0.1, 8.0),
])  # fmt: skip
def test_the_ccd_equation_is_astropys(total, sub, signal, background, noise):
    """astropy.stats.signal_to_noise_oir_ccd: one exposure; its read noise counts once a sub."""
    theirs = signal_to_noise_oir_ccd(total, signal, background, 0, noise * sqrt(total / sub), 1)
    ours = light.signal_to_noise(signal, background, noise, sub, total)
    assert ours == pytest.approx(theirs, rel=1e-12)
    assert light.hours_for(ours, signal, background, noise, sub) == pytest.approx(total / 3600, rel=1e-12)


def test_a_rayleigh_by_its_definition_in_units():
    """Baker & Romick 1976: 10⁶ photons s⁻¹ cm⁻² into the whole sphere; here through astropy's units."""
    item = 1e6 / (4 * pi) * u.photon / u.s / u.cm**2 / u.sr
    assert pytest.approx(item.to_value(u.photon / u.s / u.m**2 / u.arcsec**2), rel=1e-9) == light.RAYLEIGH
    assert pytest.approx(0.0187, abs=5e-5) == light.RAYLEIGH
    # 100 R through 86 mm on a pixel of 1.95″ with nothing lost: by hand.
    assert light.line_rate(100, AREA, 1, 1, 1.95) == pytest.approx(100 * 0.018704 * 0.0058088 * 3.8025, rel=1e-3)


def test_the_zero_of_magnitudes_agrees_with_the_flux_of_vega_in_v():
    """3,640 Jy at 550 nm (Bessell 1979, from memory) as photons per nanometre."""
    flux = (3640 * u.Jy).to(u.photon / u.s / u.m**2 / u.nm, equivalencies=u.spectral_density(550 * u.nm))
    assert pytest.approx(flux.value, rel=0.01) == light.FLUX_ZERO


def test_the_sky_of_a_dark_site_in_a_colour_camera():
    """mag 21.4, 86 mm, 1.95″, 300 nm at half: some 1.1 electrons a second, an order of magnitude practitioners know."""
    rate = light.surface_rate(21.4, AREA, 300 * 0.5, 0.5, 1.95)
    assert 0.2 < rate < 2.0


def test_the_shortest_sub_against_simulated_pixels():
    """Pixels with Poisson light and Gaussian read noise: at the sub's length the noise is the margin above the light's own."""
    dice = np.random.default_rng(7)
    rate, noise, margin = 0.8, 3.0, 0.05
    sub = light.shortest_sub_s(noise, rate, margin)
    assert sub == pytest.approx(9.756 * noise**2 / rate, rel=1e-3)
    pixels = dice.poisson(rate * sub, 400_000) + dice.normal(0, noise, 400_000)
    assert pixels.std() / sqrt(rate * sub) - 1 == pytest.approx(margin, abs=0.004)
    assert light.noise_above(noise, rate, sub) == pytest.approx(margin, rel=1e-9)


def test_hours_of_two_rigs_against_simulated_stacks():
    """Two rigs that should stand equally deep after their hours do, in simulated stacks of subs."""
    dice = np.random.default_rng(11)
    for signal, background, noise, sub in ((0.05, 0.6, 1.6, 120), (0.02, 0.1, 3.0, 300)):
        subs = round(light.hours_for(8, signal, background, noise, sub) * 3600 / sub)
        stack = dice.poisson((signal + background) * sub * subs, 20_000) + dice.normal(0, noise * sqrt(subs), 20_000)
        sky = background * sub * subs
        assert (stack.mean() - sky) / stack.std() == pytest.approx(8, rel=0.03)


@pytest.mark.parametrize(("focal_ratio", "least", "most"), [(10, 0, 0.25), (5, 0.5, 1.2), (2, 3.0, 7.0)])
def test_a_passband_shifts_in_a_fast_cone_and_not_in_a_slow_one(focal_ratio, least, most):
    """The limits of the formula: hardly at f/10; at f/2 further than a narrow filter is wide (from memory)."""
    assert least <= 656.3 - light.shifted_nm(656.3, focal_ratio, 1.9) <= most


def test_a_narrow_filter_loses_its_line_at_the_edge_of_a_fast_pupil():
    assert light.line_passed(656.3, 656.3, 3, 10, 1.9) == 1
    assert light.line_passed(656.3, 656.3, 7, 4, 1.9) == 1
    fast = light.line_passed(656.3, 656.3, 3, 2, 1.9)
    assert 0.2 < fast < 0.7
    assert light.line_passed(500.7, 656.3, 7, 5, 1.9) == 0


def test_dark_current_doubles_every_six_kelvin():
    assert light.dark_at(0.002, -10, -4) == pytest.approx(0.004)
    assert light.dark_at(0.002, -10, -22) == pytest.approx(0.0005)


def test_a_stars_middle_pixel_against_a_sum_over_a_fine_grid():
    fine = (np.arange(-400, 400) + 0.5) / 100
    x, y = np.meshgrid(fine, fine)
    for fwhm in (1.2, 2.0, 3.5):
        sigma = fwhm / light.FWHM_PER_SIGMA
        star = np.exp(-(x**2 + y**2) / (2 * sigma**2))
        inside = (abs(x) < 0.5) & (abs(y) < 0.5)
        assert light.peak_share(fwhm) == pytest.approx(star[inside].sum() / (2 * pi * sigma**2 * 100**2), rel=2e-3)


def test_extinction_is_of_magnitudes():
    assert -2.5 * log10(light.extinguished(0.25, 1 / cos(radians(60)))) == pytest.approx(0.5)


RATES = st.floats(1e-3, 1e3)


@given(RATES, RATES, st.floats(0.3, 20), st.floats(1.01, 10))
def test_a_brighter_sky_never_lengthens_the_useful_sub_and_never_saves_hours(signal, sky, noise, brighter):
    assert light.shortest_sub_s(noise, sky * brighter, 0.05) < light.shortest_sub_s(noise, sky, 0.05)
    assert light.hours_for(10, signal, sky * brighter, noise, 120) > light.hours_for(10, signal, sky, noise, 120)


@given(st.floats(15, 24), st.floats(1, 400), st.floats(0.1, 0.99))
def test_a_narrower_passband_never_raises_the_sky(brightness, width, share):
    wide = light.surface_rate(brightness, AREA, width, 0.8, 2)
    assert light.surface_rate(brightness, AREA, width * share, 0.8, 2) < wide
