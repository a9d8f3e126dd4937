"""Dew: dew point, and how near a lens under the open sky comes to it. Temperatures in °C, humidity as a share."""

from math import exp, log

import numpy as np
from numpy.typing import ArrayLike, NDArray

# Magnus form over water. Source: Alduchov & Eskridge 1996, J. Appl. Meteor. 35, 601.
MAGNUS_A, MAGNUS_B = 17.625, 243.04
ICE_A, ICE_B = 22.587, 273.86  # the same over ice
OPEN_SKY_K = 2.0  # how far an unshielded lens cools below the air on a clear night. Dravel's own order of magnitude.
FALL_K = 6.0  # from dusk to the coldest hour. Dravel's own order of magnitude.


def dew_point_c(temperature_c: float, humidity: float) -> float:
    """Dew point, °C. Raises `ValueError` on a humidity outside 0 to 1.

    Source: Alduchov & Eskridge 1996; 20 °C and 50 % give 9.3 °C.
    """
    if not 0 < humidity <= 1:
        raise ValueError("humidity: must be above 0 and up to 1")
    gamma = log(humidity) + MAGNUS_A * temperature_c / (MAGNUS_B + temperature_c)
    return MAGNUS_B * gamma / (MAGNUS_A - gamma)


def vapour_hpa(temperature_c: float, *, over_ice: bool = False) -> float:
    """Saturation vapour pressure, hPa, over water or over ice. Source: Alduchov & Eskridge 1996.

    At 0 °C both give 6.11; over ice at −10 °C 2.60 (WMO tables, from memory).
    """
    if over_ice:
        return 6.1121 * exp(ICE_A * temperature_c / (ICE_B + temperature_c))
    return 6.1094 * exp(MAGNUS_A * temperature_c / (MAGNUS_B + temperature_c))


def frost_point_c(temperature_c: float, humidity: float) -> float | None:
    """Frost point, °C: where air of that humidity (over water, as hygrometers tell it) is saturated over ice.

    None where it would lie above 0 °C: there dew forms. Below, frost sets in a little above the dew point.
    Source: Alduchov & Eskridge 1996. Raises `ValueError` on a humidity outside 0 to 1.
    """
    if not 0 < humidity <= 1:
        raise ValueError("humidity: must be above 0 and up to 1")
    gamma = log(humidity * vapour_hpa(temperature_c) / 6.1121)
    point = ICE_B * gamma / (ICE_A - gamma)
    return point if point < 0 else None


def night_air(coldest_c: float, hours: ArrayLike, length_h: float) -> NDArray[np.float64]:
    """Air temperature through a night of `length_h`, falling evenly to its coldest at the end, °C."""
    share = np.clip(np.asarray(hours, dtype=float) / max(length_h, 1e-9), 0, 1)
    return np.asarray(coldest_c + FALL_K * (1 - share))


def open_sky_k(shielded: bool) -> float:
    """How far a lens cools below the air, K; behind a shield half as far."""
    return OPEN_SKY_K * (0.5 if shielded else 1.0)


def margin_k(air_c: float, open_sky: float, dew_c: float) -> float:
    """How far a lens stays above the dew point, K: air less what the open sky takes, less the dew point."""
    return air_c - open_sky - dew_c
