"""What is a night good for? Every object of a list scored for one rig, one site, one night, with each term explained.

A score is the product of terms between 0 and 1, each raised to its weight, in percent. The terms and weights are
Dravel's own convention; what they are made of is computed.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dravel.core.model import Preferences, Target
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.physics.photometry import moon_cost
from dravel.core.sky.altaz import Array, separation
from dravel.core.sky.bodies import moonlight
from dravel.core.sky.glow import glow_of
from dravel.core.sky.night import Night, extinction_at, passing
from dravel.core.sky.standing import Facts, Standing, facts_of, standing

LINE_FILTERS = frozenset({"dual_line", "h_alpha", "oiii", "sii"})
WEIGHTS = {
    "size": 0.8, "detail": 0.4, "hours": 1.0, "altitude": 0.5, "moon": 0.8, "sky": 0.5, "brightness": 0.6, "appeal": 1.0,
}  # fmt: skip
FULL_HOURS = 4.0
FULL_ELEMENTS = 40.0
MOST = 60
# What rigs of a purpose take; those of other purposes take anything. Dravel's own.
FOR_PURPOSE: dict[str, tuple[str, ...]] = {
    "nebula": ("emission", "supernova_remnant", "mixed", "planetary", "reflection", "dark"), "galaxy": ("galaxy",),
    "cluster": ("open_cluster", "globular"),
}  # fmt: skip
OTHER_PURPOSE = 0.55
EASY = 0.6  # how brightly a nebula shows that a beginner takes: about 120 R. Dravel's own
SMALLEST = 3.0  # even a wide field ranks what spans less than a third of the preferences' share lower


@dataclass(frozen=True)
class RigForNight:
    """What of a rig the ranking needs. Field in degrees (width, height), star in arcseconds; `least` share of the field; how
    strong moonlight is behind its filter for lines and for all colours (`moon_cost`); what it is for.
    """

    field: tuple[float, float]
    star_arcsec: float
    line_filter: bool
    least: float
    moon_lines: float = 1.0
    moon_even: float = 1.0
    purposes: tuple[str, ...] = ()


class WorthTerm(Model):
    """One term of a score: 0 to 1, and the fact behind it."""

    name: str
    value: float
    words: Text


class Worth(Model):
    """One object tonight; `rig` names the one that suits it best where several were asked for."""

    target: Target
    score: float
    hours: float
    best_altitude_deg: float
    span: float | None
    terms: tuple[WorthTerm, ...]
    rig: str = ""


def rank(
    targets: Sequence[Target], rig: RigForNight, night: Night, preferences: Preferences, *, beginner: bool = False,
    most: int = MOST, there: Standing | None = None,
) -> tuple[Worth, ...]:  # fmt: skip
    """The best objects of a list for a rig on a night, best first; those without an hour or a size are left out.

    `there` is how the list stands on the night, where it is known already.
    `beginner` keeps to what is bright (to magnitude 9), large (10′ and more) and passes above the wanted altitude.
    """
    if not targets or not night.dark(preferences.darkness).any():
        return ()
    facts = facts_of(tuple(targets))
    site, there = night.site, there or standing(facts, night, preferences)
    hours, best = there.hours, there.best_altitude_deg
    keep = (hours > 0) & (facts.major > 0)
    if beginner:
        keep &= (
            ((facts.magnitude <= 9) | (facts.lines & (facts.shine >= EASY)))
            & (facts.major >= 10)
            & (best >= preferences.altitude_limit_deg)
        )
    step = there.best_step
    apart = separation(there.vectors, night.moon.vectors[step])
    lunar_altitude = night.moon_altitude[step]
    gain = moonlight(
        night.moon.phase_angle_deg[step],
        apart,
        lunar_altitude,
        np.maximum(best, 5),
        site.sky_brightness,
        extinction_at(preferences, site),
    )
    span = facts.span(rig.field)
    lines = facts.lines & rig.line_filter
    terms = {
        "size": _size(span, preferences, rig.least),
        "detail": np.clip(facts.minor * 60 / rig.star_arcsec / FULL_ELEMENTS, 0.05, 1),
        "hours": np.clip(hours / FULL_HOURS, 0, 1),
        "altitude": np.clip((best - 15) / 50, 0.05, 1),
        "moon": 1 / moon_cost(gain, np.where(lines, rig.moon_lines, rig.moon_even)),
        "sky": np.where(lines, 1.0, np.clip((site.sky_brightness - 16.5) / 5, 0.1, 1)),
        "brightness": facts.shine,
        "appeal": facts.appeal * _for_purpose(facts, rig),
    }
    score = 100 * np.prod([np.power(terms[name], weight) for name, weight in WEIGHTS.items()], axis=0)
    order = np.flatnonzero(keep)
    order = order[np.argsort(-score[order])][:most]
    return tuple(
        Worth(
            target=targets[i],
            score=float(score[i]),
            hours=float(hours[i]),
            best_altitude_deg=float(best[i]),
            span=float(span[i]),
            terms=tuple(
                WorthTerm(name=name, value=float(terms[name][i]), words=words)
                for name, words in _words(
                    i,
                    targets[i],
                    facts,
                    rig,
                    span,
                    hours,
                    best,
                    apart,
                    lunar_altitude,
                    gain,
                    site.sky_brightness,
                    doubtful=targets[i].size_doubtful,
                )
            ),
        )
        for i in map(int, order)
    )


def _for_purpose(facts: Facts, rig: RigForNight) -> Array:
    """1 for the kinds of target a rig is for, less for others; 1 for all where it is for everything or nothing is said."""
    wanted = {kind for purpose in rig.purposes for kind in FOR_PURPOSE.get(purpose, ())}
    if not wanted or any(purpose not in FOR_PURPOSE for purpose in rig.purposes):
        return np.ones(len(facts.ra))
    return np.where(np.isin(facts.kind, list(wanted)), 1.0, OTHER_PURPOSE)


def best_of(ranked: Sequence[tuple[str, Sequence[Worth]]], most: int = MOST) -> tuple[Worth, ...]:
    """Each object by the rig that suits it best, best first; `ranked` gives the lists of several rigs by name."""
    result: dict[str, Worth] = {}
    for name, listed in ranked:
        for worth in listed:
            key = worth.target.key
            if key not in result or worth.score > result[key].score:
                result[key] = worth.model_copy(update={"rig": name})
    return tuple(sorted(result.values(), key=lambda worth: -worth.score)[:most])


def rank_moving(
    bodies: Sequence[Target], rig: RigForNight, night: Night, preferences: Preferences
) -> tuple[Worth, ...]:
    """The moon and planets for a rig on a night, best first; neither darkness nor moonlight matters to them."""
    results = []
    for target in bodies:
        seen = passing(target, night, preferences)
        if seen.hours == 0 or target.major_arcmin is None:
            continue
        best = float(seen.altitude[seen.usable].max())
        span = target.major_arcmin / 60 / min(rig.field)
        across = target.major_arcmin * 60 / rig.star_arcsec
        terms = (
            WorthTerm(
                name="size",
                value=min(1.0, max(0.1, 1.1 / max(span, 1e-9))),
                words=text("{span} of the field", span=Value(span, digits=1, form="share")),
            ),
            WorthTerm(
                name="detail",
                value=min(1.0, max(0.02, across / FULL_ELEMENTS)),
                words=text("{across} FWHM across", across=Value(across, digits=0)),
            ),
            WorthTerm(
                name="hours",
                value=min(1.0, seen.hours / FULL_HOURS),
                words=text("{hours} above minimum altitude after dusk", hours=Value(seen.hours, form="long")),
            ),
            WorthTerm(
                name="altitude",
                value=min(1.0, max(0.05, (best - 15) / 50)),
                words=text("up to {best}", best=Value(best, "°", 0)),
            ),
        )
        score = 100.0
        for term in terms:
            score *= term.value ** WEIGHTS[term.name]
        results.append(
            Worth(target=target, score=score, hours=seen.hours, best_altitude_deg=best, span=span, terms=terms)
        )
    return tuple(sorted(results, key=lambda worth: -worth.score))


def _size(span: Array, preferences: Preferences, least: float) -> Array:
    """1 from the smallest share worth having up to the whole field; less, by the root, where it is smaller, or wants a mosaic:
    a small target is cropped, of a large one a part is taken.
    """
    small = max(least, preferences.small_target_share / SMALLEST)
    under = np.clip(span / small, 0.02, 1)
    over = np.clip(1.1 / np.maximum(span, 1e-9), 0.1, 1)
    return np.asarray(np.sqrt(np.minimum(under, over)))


def _brightness(target: Target) -> Words:
    glow = glow_of(target)
    if glow is not None and (glow.of_lines or target.magnitude is None):
        return glow.words
    return text("mag {magnitude}", magnitude=Value(target.magnitude, digits=1))


def _words(
    i: int, target: Target, facts: Facts, rig: RigForNight, span: Array, hours: Array, best: Array, apart: Array, moon_altitude: Array,
    gain: Array, sky: float, *, doubtful: bool = False,
) -> list[tuple[str, Words]]:  # fmt: skip
    moon = (
        text("moon {apart} away, sky +{gain} mag", apart=Value(apart[i], "°", 0), gain=Value(gain[i], digits=1))
        if moon_altitude[i] > 0
        else "moon below the horizon"
    )
    light = "in lines" if facts.lines[i] else "broadband"
    through = ", with a narrowband filter" if facts.lines[i] and rig.line_filter else ""
    return [
        ("size", text("{span} of the field{x}", span=Value(span[i], form="share"), x=", size uncertain" * doubtful)),
        ("detail", text("{minor} FWHM across", minor=Value(facts.minor[i] * 60 / rig.star_arcsec, digits=0))),
        ("hours", text("{hours} dark hours above minimum altitude", hours=Value(hours[i], digits=1))),
        ("altitude", text("up to {best}", best=Value(best[i], "°", 0))),
        ("moon", moon),
        (
            "sky",
            text("{light}{through} under {sky} mag/arcsec²", light=light, through=through, sky=Value(sky, digits=1)),
        ),
        ("brightness", _brightness(target)),
        ("appeal", target.kind.replace("_", " ")),
    ]
