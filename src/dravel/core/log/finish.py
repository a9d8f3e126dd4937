"""What to finish next: what is open, whether the season and the moon of the coming nights let it be finished."""

from collections.abc import Sequence
from datetime import date, timedelta

from dravel.core.engine.context import Context
from dravel.core.log.light import TargetLight
from dravel.core.model import Preferences, Site, Target
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, joined, month, text
from dravel.core.overview.night_targets import AHEAD_NIGHTS, worth_of
from dravel.core.physics.photometry import moon_cost
from dravel.core.sky.evenings import named
from dravel.core.sky.night import passing_on
from dravel.core.sky.year import year_of
from dravel.core.steps.exposure.facts import Exposing
from dravel.core.steps.exposure.light import USUAL_MOON_MAG

BEYOND = 3.0  # seasons that a goal may take before it is nothing to plan for; Dravel's own
LEAST_H = 1.0  # dark hours a night that still are a season; Dravel's own
CLEAR = 0.35  # of the nights of a season that are used; Dravel's own, and told


class ToFinish(Model):
    """A target of a rig that is begun or planned, and not finished. `night` is its best of the next fortnight, None where
    none serves. `season_h`: usable hours until its season ends, moonlit ones counted for what they give; `ends` when that is.
    """

    target: str
    name: str
    rig_id: str
    rig: str
    open_s: float
    share: float
    night: date | None
    night_h: float
    season_h: float
    ends: date | None
    words: Text


def to_finish(lights: Sequence[TargetLight], rigs: Sequence[tuple[str, Context]], day: date) -> tuple[ToFinish, ...]:
    """Open targets of rigs that have a site; what is not begun and would take more than three seasons is left out. What is begun and can still be finished in its season goes first, then what is
    begun, then what is only planned; among each what takes the largest part of the hours that its season still gives.
    """
    by_key = {(entry.rig_id, entry.target): entry for entry in lights}
    results = []
    for rig_id, context in rigs:
        site = context.rig.site
        if site is None:
            continue
        own = context.of(Exposing)
        colours = {id(shot.framing): own.moon_colour(shot) for shot in reversed(own.shots)}
        for framing in context.rig.framings:
            light = by_key.get((rig_id, framing.target.key))
            if light is None or not light.open_s or light.open_s < 60 or framing.target.body is not None:
                continue
            item = _open(light, framing.target, site, context.preferences, day, colours.get(id(framing), 1.0))
            if item.share > 0 or not _out_of_reach(item.open_s / 3600, item.season_h):
                results.append(item)
    return tuple(sorted(results, key=lambda item: (_tier(item), item.night is None, -_pressing(item), item.open_s)))


def _out_of_reach(open_h: float, season_h: float) -> bool:
    return open_h > BEYOND * season_h


def _tier(one: ToFinish) -> int:
    if one.share <= 0:
        return 2
    return 0 if one.open_s / 3600 <= one.season_h else 1


def _pressing(one: ToFinish) -> float:
    return one.open_s / 3600 / one.season_h if one.season_h > 0 else 0.0


def _open(
    light: TargetLight, target: Target, site: Site, preferences: Preferences, day: date, colour: float
) -> ToFinish:
    best: tuple[float, float, date] | None = None
    for k in range(AHEAD_NIGHTS):
        on = day + timedelta(days=k)
        seen = passing_on(target, site, on, preferences)
        worth = worth_of(seen, colour)
        if seen.hours > 0 and (best is None or worth > best[0] * 1.02):
            best = worth, seen.hours, on
    season, ends = _season(target, site, preferences, day, colour)
    open_s = light.open_s or 0.0
    return ToFinish(
        target=light.target, name=light.name, rig_id=light.rig_id, rig=light.rig, open_s=open_s,
        share=light.share or 0.0, night=best[2] if best else None, night_h=best[1] if best else 0.0, season_h=season,
        ends=ends, words=_words(open_s / 3600, best, season, ends, day),
    )  # fmt: skip


def _season(
    target: Target, site: Site, preferences: Preferences, day: date, colour: float
) -> tuple[float, date | None]:
    """Hours left of the season that runs or comes next, and its last week's end; None where it never ends within a year."""
    weeks = year_of(target, site, day, preferences)
    begun, hours = False, 0.0
    for week in weeks:
        if week.hours >= LEAST_H:
            begun = True
            # What a usual moon costs; the target's own nights tell it exactly.
            moonlit = (1 - week.moonless) / moon_cost(USUAL_MOON_MAG, colour)
            hours += 7 * week.hours * (week.moonless + moonlit) * CLEAR
        elif begun:
            return hours, week.first
    return hours, None


def _words(
    open_h: float, best: tuple[float, float, date] | None, season: float, ends: date | None, day: date
) -> Text:  # fmt: skip
    said = [
        text("{open_h} open", open_h=Value(open_h, form="long"))
        if open_h >= 0.1
        else text("{open_h} open", open_h=Value(max(open_h * 60, 1) * 60, form="time"))
    ]
    if season > 0 and _out_of_reach(open_h, season):
        said.append(text("more than three seasons: target SNR out of reach with this rig here"))
    elif best is None:
        said.append(text("no suitable night in the next two weeks"))
    else:
        nights = max(1, -(-open_h // max(best[1], 0.1)))
        said.append(text("best on {best}, {best_2}", best=named(best[2], day), best_2=Value(best[1], form="long")))
        if nights > 1:
            said.append(text("{nights} such nights", nights=Value(nights, digits=0)))
    if season <= 0:
        said.append(text("never up long enough in darkness from here"))
    elif ends is not None:
        said.append(text("season ends about {day} {ends}", day=ends.day, ends=month(ends)))
        if season < open_h <= BEYOND * season:
            said.append(
                text("more than the {season} likely by then: continues next year", season=Value(season, form="long"))
            )
    return joined(", ", said)
