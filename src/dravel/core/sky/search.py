"""Search a list by what the objects are, how they stand on a night, and whether they fit a rig."""

from typing import Annotated

import numpy as np
from pydantic import Field

from dravel.core.model import Preferences, Target, TargetKind
from dravel.core.model.base import Model, Quantity, YesNo
from dravel.core.sky.night import Night
from dravel.core.sky.standing import UNKNOWN_MAGNITUDE, facts_of, standing

FITS_AT_MOST = 1.0


ENOUGH_HOURS = 2.0  # in a month asked for without hours. Dravel's own convention.


class SearchWanted(Model):
    """What is asked of an object; whatever is not given does not matter."""

    kinds: Annotated[tuple[TargetKind, ...], Field(max_length=10)] = ()
    larger_arcmin: Annotated[float | None, Quantity("Larger than", "′", 0, 3600)] = None
    smaller_arcmin: Annotated[float | None, Quantity("Smaller than", "′", 0, 3600)] = None
    brighter_mag: Annotated[float | None, Quantity("Brighter than", "mag", -30, 30)] = None
    hours: Annotated[float | None, Quantity("Usable hours", "h", 0, 24)] = None
    altitude_deg: Annotated[float | None, Quantity("Altitude reached in darkness", "°", 0, 90)] = None
    fits: Annotated[YesNo, Field(description="Fits the field and spans the minimum fraction from Preferences")] = False


class SearchFound(Model):
    """An object that answers, and how it stands on the night and in the field where these are known."""

    target: Target
    hours: float | None
    best_altitude_deg: float | None
    span: float | None


def find(
    targets: tuple[Target, ...],
    wanted: SearchWanted,
    preferences: Preferences,
    night: Night | None = None,
    field: tuple[float, float] | None = None,
    most: int = 60,
    least: float | None = None,
) -> tuple[tuple[SearchFound, ...], int]:
    """The first objects of a list that answer, in the list's order, and how many do altogether.

    Hours and altitude are asked of `night`, the fit of `field` (width, height in degrees) and the `least` share of it
    that is wanted (the preferences' own when not given). Raises `ValueError`
    naming what is lacking when they are asked for without.
    """
    if (wanted.hours is not None or wanted.altitude_deg is not None) and night is None:
        raise ValueError("site: hours and altitude need a site")
    if wanted.fits and field is None:
        raise ValueError("rig: whether an object fits needs a rig whose field is known")
    if not targets:
        return (), 0
    facts = facts_of(targets)
    keep = np.ones(len(targets), dtype=bool)
    if wanted.kinds:
        keep &= np.array([target.kind in wanted.kinds for target in targets])
    if wanted.larger_arcmin is not None:
        keep &= facts.major >= max(wanted.larger_arcmin, 1e-9)
    if wanted.smaller_arcmin is not None:
        keep &= (facts.major > 0) & (facts.major <= wanted.smaller_arcmin)
    if wanted.brighter_mag is not None:
        keep &= (facts.magnitude <= wanted.brighter_mag) & (facts.magnitude != UNKNOWN_MAGNITUDE)
    span = None
    if field is not None:
        span = facts.span(field)
        if wanted.fits:
            keep &= (span >= (preferences.small_target_share if least is None else least)) & (span <= FITS_AT_MOST)
    rows = np.flatnonzero(keep)
    there = None
    if night is not None:
        there = standing(facts.part(keep), night, preferences)
        good = np.ones(len(rows), dtype=bool)
        if wanted.hours is not None:
            good &= (there.hours >= wanted.hours) & (there.hours > 0)
        if wanted.altitude_deg is not None:
            good &= there.best_altitude_deg >= wanted.altitude_deg
        within = np.flatnonzero(good)
    else:
        within = np.arange(len(rows))
    result = tuple(
        SearchFound(
            target=targets[rows[k]],
            hours=float(there.hours[k]) if there is not None else None,
            best_altitude_deg=float(there.best_altitude_deg[k]) if there is not None and there.hours[k] > 0 else None,
            span=float(span[rows[k]]) if span is not None and facts.major[rows[k]] > 0 else None,
        )
        for k in map(int, within[:most])
    )
    return result, len(within)
