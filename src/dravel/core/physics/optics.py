"""Optics: every formula of focal length, scale, field, star size and focus, once.

Scalars in, scalars out; lengths in the unit their name ends with. All functions raise `ValueError` when an argument
that must be positive is not. Sources: Born & Wolf, *Principles of Optics*; the rest named where they stand.
"""

from math import atan, cos, degrees, hypot, pi, radians, sqrt

ARCSEC_PER_RADIAN = 206_264.806247
SIDEREAL_ARCSEC_PER_S = 15.041067
WAVELENGTH_NM = 550.0

# Thermal expansion, µm per metre and kelvin. CRC Handbook of Chemistry and Physics; carbon is common practice.
EXPANSION_UM_PER_M_K = {"aluminium": 23.1, "carbon": 1.0, "steel": 11.8}

# Radius of the focal surface as a share of the focal length, by design. From memory after Rutten & van Venrooij,
# *Telescope Optics*; approximate, which is why every figure made from it says so.
CURVATURE_RADIUS_SHARE = {
    "doublet": 0.37,
    "triplet": 0.36,
    "schmidt_cassegrain": 0.09,
    "ritchey_chretien": 0.15,
    "maksutov": 0.12,
    "maksutov_newtonian": 0.5,
}


def _positive(**values: float) -> None:
    for name, value in values.items():
        if not value > 0:
            raise ValueError(f"{name} must be positive, not {value:g}")


def pixel_scale(pixel_um: float, focal_length_mm: float) -> float:
    """Sky angle of one pixel, ″/px. Source: geometry; one radian is 206 264.806″."""
    _positive(pixel_um=pixel_um, focal_length_mm=focal_length_mm)
    return ARCSEC_PER_RADIAN * pixel_um / 1000 / focal_length_mm


def field_deg(side_mm: float, focal_length_mm: float) -> float:
    """Field along one side of the sensor, degrees. Source: geometry, 2·atan(d / 2f)."""
    _positive(side_mm=side_mm, focal_length_mm=focal_length_mm)
    return 2 * degrees(atan(side_mm / (2 * focal_length_mm)))


def focal_ratio(focal_length_mm: float, aperture_mm: float) -> float:
    """Focal ratio N = f / D. Source: definition."""
    _positive(focal_length_mm=focal_length_mm, aperture_mm=aperture_mm)
    return focal_length_mm / aperture_mm


def per_pixel_gain(factor: float) -> float:
    """How much sooner an extended object reaches the same signal per pixel with a corrector: 1 / m².

    Source: surface brightness in the image goes as 1/N²; common practice. Total light is unchanged.
    """
    _positive(factor=factor)
    return float(1 / factor**2)


def rayleigh_arcsec(aperture_mm: float, wavelength_nm: float = WAVELENGTH_NM) -> float:
    """Rayleigh limit, ″: 1.22 λ/D. Source: Rayleigh 1879, Phil. Mag. 8, 261."""
    _positive(aperture_mm=aperture_mm, wavelength_nm=wavelength_nm)
    return 1.22 * wavelength_nm * 1e-6 / aperture_mm * ARCSEC_PER_RADIAN


def dawes_arcsec(aperture_mm: float) -> float:
    """Dawes limit, ″: 115.8 / D. Source: Dawes 1867, Mem. R. astr. Soc. 35, 137 (4.56″ for one inch)."""
    _positive(aperture_mm=aperture_mm)
    return 115.8 / aperture_mm


def airy_diameter_um(focal_ratio: float, wavelength_nm: float = WAVELENGTH_NM) -> float:
    """Diameter of the Airy disk to its first dark ring, µm: 2.44 λ N. Source: Born & Wolf, § 8.5.2."""
    _positive(focal_ratio=focal_ratio, wavelength_nm=wavelength_nm)
    return 2.44 * wavelength_nm / 1000 * focal_ratio


def diffraction_fwhm_arcsec(aperture_mm: float, wavelength_nm: float = WAVELENGTH_NM) -> float:
    """Full width at half maximum of the Airy pattern, ″: 1.029 λ/D. Source: Born & Wolf, § 8.5.2 (computed)."""
    _positive(aperture_mm=aperture_mm, wavelength_nm=wavelength_nm)
    return 1.029 * wavelength_nm * 1e-6 / aperture_mm * ARCSEC_PER_RADIAN


def seeing_at_airmass(seeing_arcsec: float, airmass: float) -> float:
    """Seeing FWHM away from the zenith, ″: seeing · X^0.6. Source: Fried 1966; Roddier 1981 (Kolmogorov)."""
    _positive(seeing_arcsec=seeing_arcsec, airmass=airmass)
    return float(seeing_arcsec * airmass**0.6)


def seeing_limited_fwhm(seeing_arcsec: float, diffraction_arcsec: float) -> float:
    """Star that air and aperture make, ″ FWHM: quadrature of the two. The usual approximation."""
    return hypot(seeing_arcsec, diffraction_arcsec)


def guiding_fwhm(rms_arcsec: float) -> float:
    """FWHM of a Gaussian wander of the given RMS per axis, ″: 2.355 · RMS. Source: 2·sqrt(2·ln 2)."""
    return 2.3548 * rms_arcsec


def star_fwhm(seeing_limited_arcsec: float, guiding_arcsec: float, defocus_arcsec: float, pixel_arcsec: float) -> float:
    """Star on the sensor, ″ FWHM: quadrature of seeing-limited star, guiding, defocus and pixel.

    The usual approximation; one term alone returns itself.
    """
    return sqrt(seeing_limited_arcsec**2 + guiding_arcsec**2 + defocus_arcsec**2 + pixel_arcsec**2)


def sampling_px(fwhm_arcsec: float, scale_arcsec_px: float) -> float:
    """Pixels across the star's FWHM. Source: Nyquist asks for at least two."""
    _positive(fwhm_arcsec=fwhm_arcsec, scale_arcsec_px=scale_arcsec_px)
    return fwhm_arcsec / scale_arcsec_px


def depth_of_focus_um(focal_ratio: float, wavelength_nm: float = WAVELENGTH_NM) -> float:
    """Total depth of focus for a quarter wave, µm: 4 λ N². Source: Born & Wolf, § 8.8.2."""
    _positive(focal_ratio=focal_ratio, wavelength_nm=wavelength_nm)
    return 4 * wavelength_nm / 1000 * focal_ratio**2


# Focal ratio of the main mirror of designs whose secondary magnifies. Common practice.
PRIMARY_RATIO = {"schmidt_cassegrain": 2.0, "ritchey_chretien": 3.0, "maksutov": 2.5}


def primary_ratio(design: str, own: float | None = None) -> float | None:
    """Focal ratio of the main mirror: its own where given, else usual for the design; None for other designs."""
    return (own or PRIMARY_RATIO[design]) if design in PRIMARY_RATIO else None


def cassegrain_gain(magnification: float) -> float:
    """How far the focus moves for each mm by which two mirrors are set nearer or apart: M² + 1.

    A longitudinal shift is magnified by the square, and the secondary itself moves. 26 for an f/10 telescope with an
    f/2 main mirror. Source: first-order optics of two mirrors (Schroeder, *Astronomical Optics*, from memory).
    """
    return magnification**2 + 1


def cassegrain_growth(primary_mm: float, magnification: float, back_mm: float) -> float:
    """How fast the focal length grows with the back distance when the main mirror moves for focus, mm/mm: f₁ / |f₂|.

    The secondary, magnification M, takes the image from p = (f₁ + b) / (M + 1) behind it to M·p; |f₂| = p·M / (M − 1).
    About 3 for f/10 designs, as common practice has it. Source: first-order optics of two mirrors.
    """
    _positive(primary_mm=primary_mm, magnification=magnification - 1)
    behind = (primary_mm + back_mm) / (magnification + 1)
    return primary_mm * (magnification - 1) / (behind * magnification)


def glass_drift_um_per_k(focal_length_mm: float, lenses: bool) -> float:
    """Focus drift of the optics themselves per kelvin, µm/K: lenses change by some 15 millionths of their focal length, by
    index, curvature and cell, whatever the tube is made of; mirrors by 3, those of low-expansion glass less.

    Source: common practice: refractors with carbon tubes are focused anew every few kelvins too; the figures are Dravel's own.
    """
    _positive(focal_length_mm=focal_length_mm)
    return (15e-6 if lenses else 3e-6) * focal_length_mm * 1000


def focus_drift_um_per_k(
    expansion_um_m_k: float, tube_length_mm: float, glass_um_k: float = 0.0, magnification: float = 0.0
) -> float:
    """Focus drift per kelvin, µm/K: √((α·L·(M² + 1))² + g²), M the magnification of a secondary mirror (0 without one), g
    what the glass itself does, which may go either way.

    A 203 mm f/10 with an f/2 main mirror and 430 mm of aluminium: 258 µm/K, against 10 for its tube alone.
    Sources: CRC Handbook (aluminium 23.1 µm/m/K); M² + 1 as `cassegrain_gain`.
    """
    _positive(tube_length_mm=tube_length_mm)
    return hypot(expansion_um_m_k * tube_length_mm / 1000 * cassegrain_gain(magnification), glass_um_k)


def refocus_interval_k(depth_um: float, drift_um_per_k: float) -> float:
    """Temperature change that uses up half the depth of focus, K. Source: definition of the two figures."""
    _positive(depth_um=depth_um, drift_um_per_k=drift_um_per_k)
    return depth_um / 2 / drift_um_per_k


def newtonian_coma_um(height_mm: float, focal_ratio: float) -> float:
    """Tangential length of third-order coma of a paraboloid at an image height, µm: 3 h / (16 N²).

    Source: Rutten & van Venrooij, *Telescope Optics* (from memory).
    """
    _positive(focal_ratio=focal_ratio)
    return 3 * height_mm * 1000 / (16 * focal_ratio**2)


def curvature_blur_um(height_mm: float, focal_length_mm: float, focal_ratio: float, radius_share: float) -> float:
    """Blur at an image height when focused on the centre of a curved field, µm: (h² / 2R) / N, R = share · f.

    Source: Rutten & van Venrooij (from memory); the radius by design is approximate.
    """
    _positive(focal_length_mm=focal_length_mm, focal_ratio=focal_ratio, radius_share=radius_share)
    sag_mm = height_mm**2 / (2 * radius_share * focal_length_mm)
    return sag_mm * 1000 / focal_ratio


# Blur (FWHM) that corrected designs leave, at f/5: on the axis and at the edge of the image circle, µm. Dravel's own orders of
# magnitude: makers' spot diagrams differ twofold either way, and a maker's figure goes first.
RESIDUAL_UM = {
    "doublet": (6.0, 14.0),
    "triplet": (3.0, 9.0),
    "petzval": (2.5, 6.0),
    "camera_lens": (6.0, 18.0),
    "newtonian": (3.0, 9.0),
    "schmidt_cassegrain": (4.0, 20.0),
    "ritchey_chretien": (3.0, 10.0),
    "maksutov": (4.0, 16.0),
    "maksutov_newtonian": (4.0, 11.0),
}
AXIS_SHARE = 1 / 3  # of a spot at the edge of the circle that is there on the axis already. Dravel's own.


def residual_blur_um(axis_um: float, edge_um: float, height_mm: float, circle_mm: float, focal_ratio: float) -> float:
    """Blur of a corrected design at an image height, µm: (a + (e − a)·(2h/c)²)·5/N. Faster glass is harder to correct.

    `axis_um` and `edge_um` at f/5, the edge being that of the image circle. Dravel's own order of magnitude.
    """
    _positive(circle_mm=circle_mm, focal_ratio=focal_ratio)
    return (axis_um + (edge_um - axis_um) * (2 * height_mm / circle_mm) ** 2) * 5 / focal_ratio


def spot_blur_um(spot_um: float, height_mm: float, circle_mm: float) -> float:
    """Blur at an image height by a maker's spot at the edge of the circle, µm: s·(1 + 2·(2h/c)²)/3."""
    _positive(circle_mm=circle_mm)
    return spot_um * (AXIS_SHARE + (1 - AXIS_SHARE) * (2 * height_mm / circle_mm) ** 2)


def corner_star(blur_px: float, star_px: float) -> float:
    """Star in the corner over the one in the middle: √(F*² + b²) / F*. Quadrature, the usual approximation."""
    _positive(star_px=star_px)
    return hypot(star_px, blur_px) / star_px


def tilt_blur_um(across_um: float, focal_ratio: float) -> float:
    """Blur at either edge of a sensor that leans by so much across, µm: half of it out of focus, u / 2N."""
    _positive(focal_ratio=focal_ratio)
    return across_um / 2 / focal_ratio


def spacing_blur_um(error_mm: float, height_mm: float, back_focus_mm: float, focal_ratio: float) -> float:
    """Corner blur of a corrector off its spacing, µm: |e|·(h/d)²/N, the curvature that stays. An order of magnitude."""
    _positive(back_focus_mm=back_focus_mm, focal_ratio=focal_ratio)
    return abs(error_mm) * 1000 * (height_mm / back_focus_mm) ** 2 / focal_ratio


def untracked_limit_s(pixel_um: float, focal_length_mm: float, declination_deg: float = 0.0) -> float:
    """Longest exposure on a fixed tripod for a trail of one pixel, s. Infinite at the pole. Source: geometry."""
    drift = SIDEREAL_ARCSEC_PER_S * cos(radians(declination_deg))
    scale = pixel_scale(pixel_um, focal_length_mm)
    return scale / drift if drift > 1e-9 else float("inf")


def untracked_habit_s(focal_length_mm: float) -> float:
    """The old habit, 500 / focal length, s. Common practice; shown for comparison only."""
    _positive(focal_length_mm=focal_length_mm)
    return 500 / focal_length_mm


def untracked_usual_s(pixel_um: float, focal_length_mm: float, focal_ratio: float) -> float:
    """What photographers of the Milky Way expose on a fixed tripod, s: (35·N + 30·p) / f; a few pixels of trail that a print
    does not show. Common practice.
    """
    _positive(pixel_um=pixel_um, focal_length_mm=focal_length_mm, focal_ratio=focal_ratio)
    return (35 * focal_ratio + 30 * pixel_um) / focal_length_mm


def planetary_ratio(pixel_um: float, wavelength_nm: float = WAVELENGTH_NM) -> float:
    """Focal ratio at which two pixels cover the finest period the aperture passes: N = 2p/λ.

    Source: diffraction cut-off 1/(λN) and Nyquist.
    """
    _positive(pixel_um=pixel_um, wavelength_nm=wavelength_nm)
    return 2 * pixel_um * 1000 / wavelength_nm


def corrector_focus_shift_mm(distance_mm: float, factor: float) -> float:
    """How far a thin corrector at `distance_mm` before the sensor moves the focus inward, mm: d/m − d.

    Positive for a reducer, negative for an extender. Source: thin-lens equation.
    """
    _positive(distance_mm=distance_mm, factor=factor)
    return distance_mm / factor - distance_mm


def circle_coverage(width_mm: float, height_mm: float, circle_mm: float) -> float:
    """Share of a centred rectangle that lies inside a circle, 0 to 1. Source: geometry (exact)."""
    _positive(width_mm=width_mm, height_mm=height_mm, circle_mm=circle_mm)
    a, b, r = width_mm / 2, height_mm / 2, circle_mm / 2
    if hypot(a, b) <= r:
        return 1.0
    # One quadrant: the region under the arc, cut off at height b and at width a.
    start = sqrt(r**2 - b**2) if r > b else 0.0
    end = min(a, r)
    if start >= end:
        return end * b / (a * b)
    return (start * min(b, r) + _arc_area(end, r) - _arc_area(start, r)) / (a * b)


def _arc_area(x: float, r: float) -> float:
    """Area under sqrt(r² − x²) from 0 to x."""
    x = min(x, r)
    root = sqrt(max(r**2 - x**2, 0.0))
    angle = atan(x / root) if root > 0 else pi / 2
    return (x * root + r**2 * angle) / 2
