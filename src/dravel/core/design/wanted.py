"""From a request in words to targets: the best known of their kinds that the site shows in their season."""

from collections.abc import Iterable, Sequence
from datetime import date
from math import hypot

import numpy as np

from dravel.core.design.request import About
from dravel.core.model import Preferences, Site, Target
from dravel.core.sky.appeal import appeal_of, shine_of
from dravel.core.sky.glow import shines_in_lines
from dravel.core.sky.moving import bodies_on, placed
from dravel.core.sky.night import night_of
from dravel.core.sky.projection import project
from dravel.core.sky.search import ENOUGH_HOURS
from dravel.core.sky.standing import facts_of, standing

MANY, FEW = 12, 4
BRIGHT = 11.0
SPRING = (3, 4, 5)
GALAXY_ARCMIN, NEBULA_ARCMIN, WIDE_ARCMIN = (5.0, 40.0), (20.0, 150.0), (90.0, 400.0)
PLANETS = ("Moon", "Jupiter", "Saturn", "Mars")
NEBULAE = ("emission", "supernova_remnant", "reflection", "mixed")
CLUSTERS = ("globular", "open_cluster")


def months_of(targets: Sequence[Target], site: Site | None, today: date, preferences: Preferences) -> tuple[int, ...]:
    """In how many of twelve months each target stands usably for two hours on the night of the fifteenth.

    Moons and planets count a whole year: they come round. Without a site every target does.
    """
    if site is None:
        return (12,) * len(targets)
    days = [date(today.year + (today.month - 1 + k) // 12, (today.month - 1 + k) % 12 + 1, 15) for k in range(12)]
    facts = facts_of(tuple(targets))
    up = np.array([standing(facts, night_of(site, day), preferences).hours >= ENOUGH_HOURS for day in days])
    return tuple(
        12 if target.body is not None else int(count) for target, count in zip(targets, up.sum(axis=0), strict=True)
    )


def wished_for(
    about: About, catalogue: Sequence[Target], site: Site | None, today: date, preferences: Preferences
) -> tuple[Target, ...]:
    """The targets that a request in words stands for, out of a catalogue with the best known first; none for a list, which
    names its own.
    """
    if about == "list":
        return ()
    if about == "planets":
        where = site or Site(name="the Earth's middle", latitude_deg=0, longitude_deg=0)
        there = {target.name: target for target in bodies_on(night_of(where, today))}
        return tuple(there[name] for name in PLANETS)
    if about == "galaxies_in_spring":
        result = _sized(catalogue, ("galaxy",), GALAXY_ARCMIN)
        return _apart(_up_in(SPRING, result, site, today, preferences), MANY)
    every = range(1, 13)
    if about == "wide_nebulae":
        return _apart(
            _up_in(every, _sized(catalogue, NEBULAE, WIDE_ARCMIN, faint=True), site, today, preferences), MANY
        )
    kinds = (
        _sized(catalogue, ("galaxy",), GALAXY_ARCMIN),
        _sized(catalogue, NEBULAE, NEBULA_ARCMIN),
        _sized(catalogue, CLUSTERS, GALAXY_ARCMIN),
    )
    return tuple(item for kind in kinds for item in _apart(_up_in(every, kind, site, today, preferences), FEW))


def _apart(found: Sequence[Target], most: int) -> tuple[Target, ...]:
    """The most wanted of some targets; of those that lie in one another, which one picture shows, only one."""
    taken: list[Target] = []
    for item in sorted(found, key=lambda target: -shine_of(target) * appeal_of(target)):
        if len(taken) == most:
            break
        reach = [max(item.major_arcmin or 0.0, other.major_arcmin or 0.0) / 120 for other in taken]
        near = (hypot(*project(item.ra_deg, item.dec_deg, other.ra_deg, other.dec_deg)) for other in taken)
        if not any(away < within for away, within in zip(near, reach, strict=True)):
            taken.append(item)
    return tuple(taken)


def _sized(
    catalogue: Sequence[Target], kinds: tuple[str, ...], span: tuple[float, float], *, faint: bool = False
) -> list[Target]:
    return [
        target
        for target in catalogue
        if target.kind in kinds
        and target.major_arcmin is not None
        and span[0] <= target.major_arcmin <= span[1]
        and (faint or shines_in_lines(target) or (target.magnitude is not None and target.magnitude <= BRIGHT))
    ]


def _up_in(
    months: Iterable[int], found: list[Target], site: Site | None, today: date, preferences: Preferences
) -> list[Target]:
    """Those that stand usably in the middle one of some months (any, where all twelve are asked)."""
    if site is None or not found:
        return found
    asked = list(months)
    days = [date(today.year + (month < today.month), month, 15) for month in (asked if len(asked) < 12 else asked[::3])]
    facts = facts_of(tuple(found))
    up = np.any([standing(facts, night_of(site, day), preferences).hours >= ENOUGH_HOURS for day in days], axis=0)
    return [target for target, there in zip(found, up, strict=True) if there]


def as_of(targets: Sequence[Target], site: Site | None, today: date) -> tuple[Target, ...]:
    """Moons and planets among targets as they stand on a night."""
    if site is None or all(target.body is None for target in targets):
        return tuple(targets)
    night = night_of(site, today)
    return tuple(placed(target, night) for target in targets)
