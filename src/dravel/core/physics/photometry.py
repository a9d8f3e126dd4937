"""Light of sky, object and star in a pixel, and what it is worth: electrons per second, noise, hours."""

from math import atan, cos, erf, exp, log, log10, pi, radians, sin, sqrt
from typing import Any, TypeVar

import numpy as np

F = TypeVar("F", float, np.ndarray[Any, np.dtype[np.float64]])
FLUX_ZERO = 1.0e8  # photons s⁻¹ m⁻² nm⁻¹ at magnitude 0 near 550 nm. Source: Bessell 1979, PASP 91, 589 (from memory)
ARCSEC2_SR = (pi / 180 / 3600) ** 2
# Photons s⁻¹ m⁻² arcsec⁻² of a rayleigh: 10¹⁰ / 4π photons s⁻¹ m⁻² sr⁻¹. Source: Baker & Romick 1976, Appl. Opt. 15, 1966
RAYLEIGH = 1e10 / (4 * pi) * ARCSEC2_SR
DARK_DOUBLES_K = 6.0  # common practice
FWHM_PER_SIGMA = 2 * sqrt(2 * log(2))


VISUAL_NM = 88.0  # width of the V band: what a sky meter reads. Source: Bessell 1979 (from memory)
SODIUM_NM = (565.0, 615.0)  # where sodium lamps shine. Dravel's own window around 589 nm
H_ALPHA_NM, OIII_NM, SII_NM = 656.3, 500.7, 672.4  # in air; SII between its two lines
NATURAL_SKY = 22.0  # mag/arcsec² without any lamp; common practice


def path_length(altitude_deg: float) -> float:
    """Air that the glow of the sky is seen through, 1 at the zenith, 5 at the horizon.

    X = (1 − 0.96 · sin² z)^−½. Source: Krisciunas & Schaefer 1991, PASP 103, 1033, eq. 3 (from memory).
    """
    return float((1 - 0.96 * cos(radians(altitude_deg)) ** 2) ** -0.5)


def sky_away_from_zenith(zenith: float, altitude_deg: float, extinction: float) -> float:
    """Sky brightness at an altitude, mag/arcsec², from that at the zenith: more air glows, and dims what glows behind it.

    μ = μ₀ − 2.5 · lg X + k · (X − 1). Source: Krisciunas & Schaefer 1991, eq. 2 (from memory).
    """
    x = path_length(altitude_deg)
    return zenith - 2.5 * log10(x) + extinction * (x - 1)


def mean_surface(magnitude: float, major_arcmin: float, minor_arcmin: float) -> float:
    """A magnitude spread over an ellipse of arcminutes, mag/arcsec². Source: definition of the magnitude."""
    return magnitude + 2.5 * log10(pi / 4 * major_arcmin * minor_arcmin * 3600)


def extinction_above_sea(at_sea: float, elevation_m: float) -> float:
    """Extinction at a height, mag per airmass, from that at sea level: molecules thin out over 8 km, haze over 1.5 km, and
    ozone lies above all sites. Shares of 55, 35 and 10 %. Source: scale heights of the standard atmosphere; the shares
    are usual for clear nights (from memory).
    """
    above = max(elevation_m, 0.0) / 1000
    return at_sea * (0.55 * exp(-above / 8.0) + 0.35 * exp(-above / 1.5) + 0.10)


def moon_cost(gain_mag: F, colour: F | float = 1.0) -> F:
    """How many times the hours a moonlit sky costs where sky is the noise: 1 + c · (10^(0.4·ΔV) − 1).

    `colour` is how strong moonlight is in the light let through against the dark sky, 1 in V: Hα less, OIII more.
    Source: noise of a background adds in squares.
    """
    return 1 + colour * (10 ** (0.4 * gain_mag) - 1)


def lamplight(sky: float) -> float:
    """Share of a sky's light that is not the night's own: 0 at 22 mag/arcsec². Source: definition of the magnitude."""
    return 1 - min(1.0, 10 ** (-0.4 * (NATURAL_SKY - sky)))


def open_area_m2(aperture_mm: float, obstruction_mm: float) -> float:
    """Aperture less its central obstruction, m². Source: geometry."""
    return pi / 4 * (aperture_mm**2 - obstruction_mm**2) * 1e-6


def surface_rate(brightness: float, area_m2: float, passed_nm: float, quantum: float, scale_arcsec: float) -> float:
    """Electrons per second and pixel of a continuous glow of `brightness` mag/arcsec².

    `passed_nm` is the width of the light that comes through, each wavelength weighed with its transmission.
    Source: definition of the magnitude; Bessell 1979 for its zero.
    """
    return FLUX_ZERO * 10 ** (-0.4 * brightness) * area_m2 * passed_nm * quantum * scale_arcsec**2


def line_rate(rayleighs: float, area_m2: float, transmission: float, quantum: float, scale_arcsec: float) -> float:
    """Electrons per second and pixel of an emission line of so many rayleighs. Source: Baker & Romick 1976."""
    return rayleighs * RAYLEIGH * area_m2 * transmission * quantum * scale_arcsec**2


def star_rate(magnitude: float, area_m2: float, passed_nm: float, quantum: float) -> float:
    """Electrons per second of a star, all its pixels together. Source: definition of the magnitude; Bessell 1979."""
    return FLUX_ZERO * 10 ** (-0.4 * magnitude) * area_m2 * passed_nm * quantum


def saturating_mag(well: float, falls: float, brightest: float) -> float | None:
    """The star that just fills the well in one sub, beside what else falls in; None where that alone fills it.

    `brightest` is what a star of magnitude 0 puts into its middle pixel in the sub, e⁻. Source: definition of the magnitude.
    """
    room = well - falls
    return 2.5 * log10(brightest / room) if room > 0 and brightest > 0 else None


def peak_share(fwhm_px: float) -> float:
    """Share of a Gaussian star's light in the pixel under its middle. Source: its integral over a square."""
    return erf(0.5 * FWHM_PER_SIGMA / (fwhm_px * sqrt(2))) ** 2


def dark_at(dark_e_per_s: float, at_c: float, wanted_c: float) -> float:
    """Dark current at another temperature, e⁻/s: it doubles every 6 K. Source: common practice."""
    return float(dark_e_per_s * 2 ** ((wanted_c - at_c) / DARK_DOUBLES_K))


def shifted_nm(centre_nm: float, focal_ratio: float, index: float) -> float:
    """Where a passband lies for the edge of a converging cone, nm: tilted light sees thinner layers, bluer.

    Source: Lissberger & Wilcock 1959, J. Opt. Soc. Am. 49, 126 (from memory); `index` is the filter's effective one.
    """
    edge = sin(atan(1 / (2 * focal_ratio)))
    return centre_nm * sqrt(1 - (edge / index) ** 2)


def line_passed(
    line_nm: float, centre_nm: float, width_nm: float, focal_ratio: float, index: float, blocked: float = 0.0,
    steps: int = 96,
) -> float:  # fmt: skip
    """Share of a line's light that a flat passband lets through in a converging cone: the zones of the pupil, by area, that
    still see the line. 1 in a slow cone, 0 where the filter is for another line. `blocked` is the central obstruction as a
    share of the diameter: it takes the straight rays, which are shifted least. Source: geometry, with `shifted_nm`.
    """
    through = 0
    for ring in range(steps):
        # Equal areas of the open pupil: the cone's angle goes with the square root.
        out = sqrt(blocked**2 + (1 - blocked**2) * (ring + 0.5) / steps)
        tilt = sin(atan(out / (2 * focal_ratio)))
        centre = centre_nm * sqrt(1 - (tilt / index) ** 2)
        through += abs(line_nm - centre) <= width_nm / 2
    return through / steps


def shortest_sub_s(read_noise_e: float, background_e_s: float, margin: float) -> float:
    """Length of a sub, s, whose noise is a share `margin` above that without read noise.

    t = R² / (((1 + x)² − 1) · E). Source: noise adds in squares; a margin of 5 % gives 9.76 · R² / E.
    """
    return read_noise_e**2 / (((1 + margin) ** 2 - 1) * background_e_s)


def noise_above(read_noise_e: float, background_e_s: float, sub_s: float) -> float:
    """How much a sub's noise lies above that without read noise, as a share. Source: noise adds in squares."""
    return sqrt(1 + read_noise_e**2 / (background_e_s * sub_s)) - 1


def signal_to_noise(
    signal_e_s: float, background_e_s: float, read_noise_e: float, sub_s: float, total_s: float, pixels: float = 1.0
) -> float:
    """Of a glow over so many pixels in all subs together. Source: the CCD equation (Howell, Handbook of CCD Astronomy).

    `background_e_s` is everything else that falls into a pixel: sky and dark current.
    """
    noise = (signal_e_s + background_e_s) * total_s + read_noise_e**2 * total_s / sub_s
    return signal_e_s * total_s * sqrt(pixels / noise)


def hours_for(
    wanted: float, signal_e_s: float, background_e_s: float, read_noise_e: float, sub_s: float, pixels: float = 1.0
) -> float:
    """Hours until the signal stands `wanted` times above the noise. Source: the CCD equation, solved for the time."""
    return wanted**2 * (signal_e_s + background_e_s + read_noise_e**2 / sub_s) / (signal_e_s**2 * pixels) / 3600


def extinguished(magnitudes_per_airmass: float, airmass: float) -> float:
    """Share of the light that comes through the atmosphere. Source: definition of the magnitude."""
    return exp(-magnitudes_per_airmass * airmass * 0.4 * log(10))


def brightness_of(luminance_cd_m2: float) -> float:
    """A glow of so many cd/m² in mag/arcsec². Source: L = 1.08·10⁵ · 10^(−0.4·μ) cd/m² (common practice, from memory)."""
    return -2.5 * log10(luminance_cd_m2 / 1.08e5)


def twilight(sun_altitude_deg: float) -> float:
    """Sky near the zenith in twilight, mag/arcsec² in V, for a sun 0° to 9° below the horizon.

    Source: a parabola through Patat et al. 2006, A&A 455, 385 (from memory): 11.8 at −5°, darker by 1.5 mag a degree.
    """
    below = -sun_altitude_deg - 5.0
    return 11.84 + 1.52 * below - 0.057 * below**2
