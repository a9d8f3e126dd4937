"""How many stars a patch of sky holds, how faint a guide camera sees, and how well it finds a star's centroid."""

from dataclasses import dataclass
from functools import lru_cache
from math import exp, log10, pi, sqrt

import numpy as np

# Galactic pole, ICRS. Source: the definition of 1958 in J2000, as in the Hipparcos catalogue, vol. 1 (from memory).
POLE_RA_DEG, POLE_DEC_DEG = 192.85948, 27.12825

# log10 of stars per square degree brighter than a magnitude, by distance from the galactic plane. To magnitude 10 as
# the packaged star list has them; beyond after the star counts of Allen's Astrophysical Quantities (from memory).
MAGNITUDES = (6.0, 8.0, 10.0, 12.0, 14.0, 16.0)
LATITUDES = (0.0, 30.0, 60.0, 90.0)
LOG_COUNTS = (
    (-0.55, -0.80, -0.92, -0.96),
    (0.44, 0.14, -0.02, -0.08),
    (1.39, 0.99, 0.76, 0.69),
    (2.25, 1.73, 1.44, 1.36),
    (3.05, 2.42, 2.06, 1.95),
    (3.80, 3.05, 2.60, 2.46),
)

ZERO_POINT = 1.0e8  # photons s⁻¹ m⁻² nm⁻¹ at magnitude 0 near 550 nm, standard approximation
BAND_NM = 350.0
MEAN_QE = 0.7  # a sensor's efficiency over that band, as a share of its peak. Dravel's own order of magnitude.
PLAIN_QE, PLAIN_NOISE_E = 0.7, 2.5


def galactic_latitude(ra_deg: float, dec_deg: float) -> float:
    """Galactic latitude of an ICRS place, degrees. Source: spherical trigonometry about the galactic pole."""
    ra, dec = np.radians(ra_deg - POLE_RA_DEG), np.radians(dec_deg)
    pole = np.radians(POLE_DEC_DEG)
    return float(np.degrees(np.arcsin(np.sin(pole) * np.sin(dec) + np.cos(pole) * np.cos(dec) * np.cos(ra))))


@lru_cache(maxsize=64)
def _log_counts(latitude_deg: float) -> tuple[float, ...]:
    """log10 of the counts at the table's magnitudes, at a distance from the galactic plane."""
    return tuple(float(np.interp(abs(latitude_deg), LATITUDES, row)) for row in LOG_COUNTS)


def density(magnitude: float, latitude_deg: float) -> float:
    """Stars per square degree brighter than a magnitude at a galactic latitude: log-linear between the table's points."""
    counts = _log_counts(latitude_deg)
    if magnitude < MAGNITUDES[0]:
        return float(10 ** (counts[0] + 0.5 * (magnitude - MAGNITUDES[0])))
    return float(10 ** float(np.interp(magnitude, MAGNITUDES, counts)))


def brightest_expected(area_deg2: float, latitude_deg: float) -> float:
    """Magnitude of the brightest star to expect in a patch: where the expected count reaches one."""
    counts, wanted = _log_counts(latitude_deg), -log10(area_deg2)
    if wanted < counts[0]:
        return MAGNITUDES[0] + (wanted - counts[0]) / 0.5
    return float(np.interp(wanted, counts, MAGNITUDES))


def chance_of_none(expected: float) -> float:
    """Poisson chance that a patch holds no star when so many are expected."""
    return exp(-expected)


@dataclass(frozen=True)
class Eye:
    """What looks for the guide star. Areas in mm², angles in arcseconds."""

    area_mm2: float
    scale_arcsec_px: float
    fwhm_arcsec: float
    exposure_s: float
    sky_mag_arcsec2: float
    efficiency: float = PLAIN_QE
    read_noise_e: float = PLAIN_NOISE_E
    through: float = 1.0
    extinction_mag: float = 0.0

    @property
    def _through_air(self) -> float:
        """Electrons in an exposure from a star that shines with magnitude 0 where it arrives."""
        gathered = self.through * MEAN_QE * self.efficiency * self.area_mm2 / 1e6
        return ZERO_POINT * BAND_NM * gathered * self.exposure_s

    @property
    def _electrons_at_zero(self) -> float:
        """Electrons in an exposure from a star of magnitude 0 above the air."""
        return float(self._through_air * 10 ** (-0.4 * self.extinction_mag))

    @property
    def _noise_squared(self) -> float:
        """Electrons squared of sky and read noise under a star: pixels within its FWHM as radius."""
        pixels = max(4.0, pi * (self.fwhm_arcsec / self.scale_arcsec_px) ** 2)
        sky = self._through_air * 10 ** (-0.4 * self.sky_mag_arcsec2) * self.scale_arcsec_px**2
        return pixels * (sky + self.read_noise_e**2)

    def signal_to_noise(self, magnitude: float) -> float:
        """Signal to noise of a star. Source: the CCD equation (Merline & Howell 1995)."""
        signal = self._electrons_at_zero * 10 ** (-0.4 * magnitude)
        return signal / sqrt(signal + self._noise_squared)

    def limit(self, wanted: float) -> float:
        """Magnitude at which a signal to noise is reached: the CCD equation solved for the signal."""
        signal = (wanted**2 + wanted * sqrt(wanted**2 + 4 * self._noise_squared)) / 2
        return -2.5 * log10(signal / self._electrons_at_zero)


USABLE_SNR = 10.0
FAINTEST_COUNTED = 16.0


def faintest_usable_mag(
    area_mm2: float, scale_arcsec_px: float, fwhm_arcsec: float, exposure_s: float, sky_mag_arcsec2: float,
    efficiency: float, read_noise_e: float, through: float, extinction_mag: float,
) -> float:  # fmt: skip
    """Magnitude that a guide camera sees at a signal to noise of ten. Source: CCD equation (Merline & Howell 1995)."""
    eye = Eye(
        area_mm2, scale_arcsec_px, fwhm_arcsec, exposure_s, sky_mag_arcsec2, efficiency, read_noise_e, through,
        extinction_mag,
    )  # fmt: skip
    return eye.limit(USABLE_SNR)


def expected_stars(magnitude: float, latitude_deg: float, width_deg: float, height_deg: float) -> float:
    """Stars brighter than a magnitude to expect in a patch. Source: the star counts above."""
    return density(min(FAINTEST_COUNTED, magnitude), latitude_deg) * width_deg * height_deg


def centroid_arcsec(fwhm_arcsec: float, signal_to_noise: float) -> float:
    """How well a star's centroid is found, per axis: FWHM / (2.355 · SNR). Source: King 1983, PASP 95 (from memory)."""
    return fwhm_arcsec / (2.355 * signal_to_noise)
