"""Wind on tube and train: the gusts' moments about both axes, and how far they shake the picture.

Lengths in millimetres, moments in N·m. How far a mount yields is Dravel's own order of magnitude: it differs from maker
to maker, and with the ground under the feet.
"""

from dataclasses import dataclass
from math import hypot

from dravel.core.model import Mount, Support
from dravel.core.steps.mount.bodies import Carried
from dravel.core.steps.mount.stand import wind_force_n

GUST = 1.5  # a gust over the mean wind. Dravel's own order of magnitude; common practice counts half as much again.
UNEVEN = 0.1  # of the tube's length: a gust does not push evenly along it. Dravel's own.
# How far the picture swings under a moment as large as the mount is rated for, ″; a softer mount swings further.
SWING_ARCSEC = 90.0
SOFTNESS = {"german_equatorial": 1.0, "strain_wave": 1.4, "tracker": 1.7, "alt_azimuth": 1.25}
STANDING = {"pier": 0.8, "tripod": 1.0}


@dataclass(frozen=True)
class Sail:
    """Side area, and how far its middle lies from the right-ascension axis and from the declination axis."""

    area_m2: float
    arm_mm: float
    along_mm: float


def sail_of(carried: Carried, saddle_height_mm: float) -> Sail:
    """What tube and train turn to a wind from the side. Source: geometry, side areas as rectangles."""
    areas = [(body.length * body.diameter, body) for body in carried.bodies]
    whole = sum(area for area, _ in areas)
    if whole == 0:
        return Sail(0.0, 0.0, 0.0)
    up = sum(area * body.up for area, body in areas) / whole
    middle = sum(area * body.middle for area, body in areas) / whole
    low, high = carried.ends
    return Sail(whole / 1e6, abs(saddle_height_mm + up), abs(middle) + UNEVEN * (high - low))


def gust_nm(wind_m_s: float, area_m2: float, arm_mm: float) -> float:
    """Moment of a gust about an axis, N·m: ½ρ(G·v)²·C_d·A·h. Source: ASCE 7 in SI form for the pressure."""
    return wind_force_n(GUST * wind_m_s, area_m2) * arm_mm / 1000


def swing_arcsec_nm(mount: Mount, support: Support | None, rated_nm: float) -> float:
    """How far the picture swings per N·m, ″: stiffer with the mount's rating. Dravel's own order of magnitude."""
    standing = STANDING[support.style] if support else 1.0
    return SWING_ARCSEC / rated_nm * SOFTNESS[mount.style] * standing


def shake_arcsec(about_ra_nm: float, about_dec_nm: float, swing: float) -> float:
    """Shake of the picture, ″: what a gust swings it beyond where the mean wind holds it, both axes in quadrature."""
    return hypot(about_ra_nm, about_dec_nm) * (1 - 1 / GUST**2) * swing
