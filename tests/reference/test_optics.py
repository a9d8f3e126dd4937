"""Every optical formula against a published value, a handbook, or a fact of the trade. Each check names its source."""

from math import atan, degrees, pi, sqrt

import numpy as np
import pytest
from scipy import integrate, optimize, special

from dravel.core.physics import optics


@pytest.mark.parametrize(("pixel", "focal", "scale"), [(3.76, 135, 5.745), (4.63, 925, 1.0324), (9.0, 2000, 0.9282)])
def test_pixel_scale(pixel, focal, scale):
    # Geometry: one radian is 206 264.806 arcseconds (IAU, 648 000/pi).
    assert optics.pixel_scale(pixel, focal) == pytest.approx(scale, abs=5e-4)
    assert pytest.approx(648_000 / pi, rel=1e-12) == optics.ARCSEC_PER_RADIAN


def test_field_of_full_frame():
    # Geometry; handbook tables of lens angles give 39.6 x 27.0 degrees for 50 mm on 36 x 24 mm.
    assert optics.field_deg(36, 448) == pytest.approx(4.60, abs=0.005)
    assert optics.field_deg(24, 448) == pytest.approx(3.07, abs=0.005)
    assert optics.field_deg(36, 50) == pytest.approx(39.6, abs=0.05)
    assert optics.field_deg(24, 50) == pytest.approx(27.0, abs=0.05)


def test_focal_ratio_and_reducer():
    # Definition; the 0.65 reducer is a common-preferences example.
    assert optics.focal_ratio(840, 120) == 7.0
    assert optics.focal_ratio(420, 72) == pytest.approx(5.83, abs=0.005)
    assert optics.focal_ratio(550 * 0.65, 100) == pytest.approx(3.575)
    assert optics.per_pixel_gain(0.65) == pytest.approx(2.37, abs=0.005)


def test_rayleigh_and_dawes():
    # Rayleigh 1879: 1.22 lambda/D, the first zero of J1 at 3.8317 (Abramowitz & Stegun, table 9.5).
    assert optics.rayleigh_arcsec(100) == pytest.approx(1.384, abs=5e-4)
    assert special.jn_zeros(1, 1)[0] / pi == pytest.approx(1.22, abs=5e-4)
    # Dawes 1867: 4.56 arcseconds for one inch.
    assert optics.dawes_arcsec(100) == pytest.approx(1.16, abs=0.005)
    assert optics.dawes_arcsec(25.4) == pytest.approx(4.56, abs=0.005)


def test_airy_disk_and_its_half_width():
    # Born & Wolf 8.5.2: first dark ring at 1.22 lambda N; the half width is solved here from (2 J1(x)/x)^2 = 1/2.
    assert optics.airy_diameter_um(7) == pytest.approx(9.39, abs=0.005)
    half = optimize.brentq(lambda x: (2 * special.j1(x) / x) ** 2 - 0.5, 0.5, 3)
    fwhm = 2 * half / pi  # in lambda/D
    assert fwhm == pytest.approx(1.029, abs=5e-4)
    assert optics.diffraction_fwhm_arcsec(100) == pytest.approx(
        fwhm * 550e-9 / 0.1 * optics.ARCSEC_PER_RADIAN, rel=1e-3
    )


def test_seeing_grows_with_airmass():
    # Fried 1966, Roddier 1981: r0 goes as X^(-3/5), so the FWHM as X^0.6; at 60 degrees from the zenith X = 2.
    assert optics.seeing_at_airmass(2.0, 1.0) == 2.0
    assert optics.seeing_at_airmass(2.0, 2.0) == pytest.approx(3.031, abs=5e-4)


def test_star_is_the_quadrature_of_its_parts():
    # The usual approximation: one term alone returns itself; 3-4-5 is checked by hand.
    assert optics.star_fwhm(2.5, 0, 0, 0) == 2.5
    assert optics.star_fwhm(0, 0, 0, 1.2) == 1.2
    assert optics.star_fwhm(3, 4, 0, 0) == 5
    assert optics.seeing_limited_fwhm(0.6, 0.8) == pytest.approx(1.0)


def test_guiding_width_is_that_of_a_gaussian():
    # FWHM of a Gaussian, 2 sqrt(2 ln 2) sigma.
    assert optics.guiding_fwhm(1.0) == pytest.approx(2 * sqrt(2 * np.log(2)), abs=1e-4)


def test_sampling():
    # Nyquist: 2.5 arcseconds at 1.25 arcsec/px is two pixels.
    assert optics.sampling_px(2.5, 1.25) == 2.0


def test_depth_of_focus():
    # Born & Wolf 8.8.2, quarter wave: +-2 lambda N^2.
    assert optics.depth_of_focus_um(5) == pytest.approx(55.0)
    assert optics.depth_of_focus_um(7) == pytest.approx(107.8)


def test_focus_drift():
    # CRC Handbook: aluminium 23.1e-6 per kelvin; half a metre over 2 K.
    assert 2 * optics.focus_drift_um_per_k(optics.EXPANSION_UM_PER_M_K["aluminium"], 500) == pytest.approx(23.1)
    assert optics.refocus_interval_k(55, 11.55) == pytest.approx(2.381, abs=5e-4)


def test_newtonian_coma():
    # Rutten & van Venrooij, Telescope Optics (from memory): 3h/16N^2; 14 mm off axis at f/4 gives 164 um.
    assert optics.newtonian_coma_um(14, 4) == pytest.approx(164, abs=0.5)


def test_newtonian_coma_against_rays():
    # Our own ray trace of a paraboloid: rays from a field angle, where they cross the focal plane.
    focal, aperture, height = 800.0, 200.0, 14.0
    tilt = np.arctan(height / focal)
    top, middle, bottom = (_paraboloid(y, tilt, focal) for y in (aperture / 2, 0.0, -aperture / 2))
    # Coma is what both edges share; what they differ by is astigmatism and field curvature.
    coma = abs((top + bottom) / 2 - middle)
    assert coma * 1000 == pytest.approx(optics.newtonian_coma_um(height, focal / aperture), rel=0.02)


def _paraboloid(y: float, tilt: float, focal: float) -> float:
    """Height in the focal plane of a ray meeting the mirror z = y^2/4f at height y, travelling down at a tilt."""
    z = y * y / (4 * focal)
    normal = np.array([-y / (2 * focal), 1.0])
    normal /= np.linalg.norm(normal)
    ray = np.array([np.sin(tilt), -np.cos(tilt)])
    out = ray - 2 * (ray @ normal) * normal
    return y + out[0] * (focal - z) / out[1]


def test_curvature_blur_by_hand():
    # Sag of a sphere h^2/2R over the focal ratio: 10 mm on R = 200 mm is 0.25 mm; at f/5 a 50 um disk.
    assert optics.curvature_blur_um(10, 500, 5, 0.4) == pytest.approx(50)


def test_untracked_limit():
    # Geometry with the sidereal rate 15.041 arcsec/s (IAU); the habit of 500 is common practice.
    assert optics.untracked_limit_s(4, 24) == pytest.approx(2.286, abs=5e-3)
    assert optics.untracked_limit_s(4, 24, 60) == pytest.approx(2 * optics.untracked_limit_s(4, 24))
    assert optics.untracked_habit_s(24) == pytest.approx(20.8, abs=0.05)
    assert optics.untracked_limit_s(4, 24, 90) > 1e9


def test_planetary_ratio():
    # Diffraction cut-off 1/(lambda N) and Nyquist: 2.9 um at 550 nm gives f/10.5; at 0.555 um it is 3.6 p.
    assert optics.planetary_ratio(2.9) == pytest.approx(10.5, abs=0.05)
    assert optics.planetary_ratio(1.0, 555) == pytest.approx(3.6, abs=0.01)


def test_corrector_moves_the_focus():
    # Thin-lens equation: the image formed d behind a lens of magnification m would lie d/m behind it without one.
    assert optics.corrector_focus_shift_mm(55, 0.8) == pytest.approx(13.75)
    power = 1 / 55 - 1 / (55 / 0.8)
    assert 1 / (1 / (55 + 13.75) + power) == pytest.approx(55)
    assert optics.corrector_focus_shift_mm(60, 2) == pytest.approx(-30)


@pytest.mark.parametrize(
    ("width", "height", "circle"), [(36, 24, 28), (36, 24, 40), (23.5, 15.7, 27), (10, 10, 8), (30, 4, 10)]
)
def test_coverage_against_numerical_integration(width, height, circle):
    # scipy.integrate over the quadrant: height under the arc, cut at the sensor's edge.
    r = circle / 2
    area, _ = integrate.quad(lambda x: min(height / 2, sqrt(max(r * r - x * x, 0))), 0, min(width / 2, r), limit=200)
    assert optics.circle_coverage(width, height, circle) == pytest.approx(area / (width * height / 4), abs=1e-6)


def test_field_from_scale_agrees_with_field_from_angle():
    scale = optics.pixel_scale(3.76, 600)
    assert optics.field_deg(0.00376, 600) * 3600 == pytest.approx(scale, rel=1e-9)
    assert optics.field_deg(100, 50) == pytest.approx(2 * degrees(atan(1)))


@pytest.mark.parametrize(
    "call",
    [
        lambda: optics.pixel_scale(0, 500),
        lambda: optics.focal_ratio(500, -1),
        lambda: optics.depth_of_focus_um(0),
        lambda: optics.circle_coverage(36, 24, 0),
        lambda: optics.seeing_at_airmass(2, float("nan")),
    ],
)
def test_what_must_be_positive_is_refused(call):
    with pytest.raises(ValueError, match="must be positive"):
        call()
