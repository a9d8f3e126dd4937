"""Rules of the Aim step that ask the night: altitude in darkness, the site's horizon, the moon."""

from collections.abc import Iterator
from datetime import timedelta

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Framing, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, clock, day, joined, text
from dravel.core.moves.plans import moon_costs
from dravel.core.physics import photometry as photo
from dravel.core.sky.night import Pass, passing_on
from dravel.core.sky.year import Week, best_weeks, year_of
from dravel.core.steps.aim.limits import HIDDEN, MOON

WORTH_AN_EVENING_H = 1.0
MOST_DATES = 2


def _passes(context: Context) -> Iterator[tuple[int, Framing, Pass]]:
    site = context.rig.site
    if site is None:
        return
    for index, framing in enumerate(context.rig.framings):
        day = framing.night or context.tonight
        if day is not None:
            yield index, framing, passing_on(framing.target, site, day, context.preferences)


def _judged(framing: Framing, verdict: Verdict) -> Verdict:
    """A target that nobody planned for this night is only not for tonight: that never breaks a rig."""
    return "warning" if verdict == "problem" and framing.night is None else verdict


def _other_nights(context: Context, index: int, seen: Pass) -> Iterator[Attempt]:
    """Other dates when the target stands well, and other sites; the rule itself judges each."""
    site, framing = seen.night.site, context.rig.framings[index]
    weeks = year_of(framing.target, site, context.tonight or seen.night.day, context.preferences)
    yield from (_planned(index, week) for week in best_weeks(weeks, MOST_DATES))
    for other in context.sites:
        if other.name != site.name:
            yield Attempt(text("Change the site to {other}", other=other.name), (Edit("replace", ("site",), other),))


@rule(
    "A1",
    "Target altitude in darkness",
    checks="How high the target is in darkness, and for how long, on this night at this site.",
    why="At low altitude extinction and seeing get worse: signal drops and FWHM grows.",
    formula="h(t) with the sun below −18° (or −12°, by Preferences)",
    source="spherical astronomy; 45° recommended and 30° minimum are common practice, adjustable",
    fix="Another date, or another site.",
)
def altitude_in_darkness(context: Context) -> Iterator[Judgement]:
    """A1: target never above the preferences' altitude limit in darkness."""
    preferences = context.preferences
    limit = text(
        "≥ {altitude_limit_deg} in darkness; minimum {altitude_floor_deg}",
        altitude_limit_deg=Value(preferences.altitude_limit_deg, "°", 0),
        altitude_floor_deg=Value(preferences.altitude_floor_deg, "°", 0),
    )
    for index, framing, seen in _passes(context):
        subject = framing.target.name
        best = seen.best_altitude
        if best is None:
            reason = text("No astronomical darkness on this night; nautical darkness can be set in Preferences.")
            judgement = Judgement(
                _judged(framing, "problem"), text("No darkness", "no_darkness"), reason, limit, subject=subject
            )
            yield with_attempts(judgement, _other_nights(context, index, seen))
            continue
        high = seen.night.hours(seen.dark & seen.above_floor)
        measure = text("{best}, {hours}", best=Value(best, "°", 0), hours=Value(seen.hours, form="long"))
        verdict: Verdict = "ok"
        if high == 0:
            verdict, title = "problem", text("Target too low")
            reason = (
                text("Highest altitude in darkness: {best}.", best=Value(best, "°", 0))
                if best > 0
                else text("The target does not rise in darkness.")
            )
        elif best < preferences.altitude_limit_deg or high < WORTH_AN_EVENING_H:
            verdict, title = "warning", text("Target low or up only briefly")
            reason = text(
                "Up to {best} in darkness; {high} above the minimum altitude.",
                best=Value(best, "°", 0),
                high=Value(high, form="long"),
            )
        else:
            title = text("Target altitude OK")
            reason = text(
                "Up to {best}; {high} above the minimum altitude, {good_hours} of it above the recommended altitude.",
                best=Value(best, "°", 0),
                high=Value(high, form="long"),
                good_hours=Value(seen.good_hours, form="long"),
            )
        judgement = Judgement(_judged(framing, verdict), title, reason, limit, measure, subject=subject)
        yield with_attempts(judgement, _other_nights(context, index, seen))


@rule(
    "A2",
    "Local horizon",
    checks="How much of the target's dark hours is blocked by roofs, trees and hills.",
    why="Obstructions shorten the usable time.",
    formula="h(t) > horizon at the azimuth of t",
    source="geometry; half of the hours is a default threshold",
    fix="Another date, or another site.",
    limits=(HIDDEN,),
)
def own_horizon(context: Context) -> Iterator[Judgement]:
    """A2: horizon blocks it."""
    limit = text("< 50% of the hours blocked")
    for index, framing, seen in _passes(context):
        site = context.rig.site
        if site is None or not site.horizon:
            return
        open_hours = seen.night.hours(seen.dark & seen.above_floor)
        if open_hours == 0:
            continue
        lost = open_hours - seen.hours
        share = lost / open_hours
        subject = framing.target.name
        verdict: Verdict = "problem" if seen.hours == 0 else HIDDEN.verdict(share)
        reason = text(
            "{lost} of {open_hours} dark hours above the minimum altitude are blocked.",
            lost=Value(lost, digits=1),
            open_hours=Value(open_hours, digits=1),
        )
        if seen.windows and lost > 0:
            local = seen.night.local
            spans = [
                text("{start} to {end}", start=clock(local(start)), end=clock(local(end)))
                for start, end in seen.windows
            ]
            reason += text(" Unobstructed from {spans}.", spans=joined(" and from ", spans))
        title = text("Local horizon OK") if verdict == "ok" else text("Target below local horizon")
        judgement = Judgement(
            _judged(framing, verdict),
            title,
            reason,
            limit,
            text("{hours} left", hours=Value(seen.hours, form="long")),
            subject=subject,
        )
        yield with_attempts(judgement, _other_nights(context, index, seen))


@rule(
    "A3",
    "Moonlight",
    checks="How many times longer the integration takes under moonlight, for each filter of the plan.",
    why="Moonlight raises the sky background of broadband targets. It is blue: a narrow Hα filter loses little, an OIII filter much more.",
    formula="1 + c · (10^(0.4·ΔV) − 1), ΔV after Krisciunas & Schaefer, c the moonlight let through against all other noise",
    source="Krisciunas & Schaefer 1991, PASP 103 (unverified); limits are default thresholds",
    fix="Another date, or a narrowband filter on emission targets.",
    limits=(MOON,),
)
def moon_at_the_target(context: Context) -> Iterator[Judgement]:
    """A3: moon near and bright for broadband."""
    limit = MOON.words
    for index, framing, seen in _passes(context):
        if not seen.usable.any() or framing.target.body is not None:
            continue
        night, use = seen.night, seen.usable
        mean = seen.moonlight_mag
        costs = moon_costs(context, framing)
        # Of a plan with several filters, the one that tells most of the target.
        felt = costs[0][0] if costs else photo.moon_cost(mean)
        lit = night.lit
        near = float(seen.moon_separation[use].min())
        verdict: Verdict = MOON.verdict(felt)
        if seen.moon_up_hours == 0:
            title, reason = text("Moonlight OK, moon below horizon"), text("The moon is below the horizon.")
        else:
            title = text("Moonlight OK") if verdict == "ok" else text("Moon brightens the sky")
            reason = text(
                "Moon {lit} illuminated, at least {near} away, up for {moon_up_hours} of {hours}.",
                lit=Value(lit, form="share"),
                near=Value(near, "°", 0),
                moon_up_hours=Value(seen.moon_up_hours, form="long"),
                hours=Value(seen.hours, form="long"),
            )
            reason += text(" Sky background +{mean} mag", mean=Value(mean, digits=1))
            lines = [
                text(
                    "{cost}× integration time {x}",
                    cost=Value(cost, digits=1),
                    x=text("with the {name}", name=name) if name else text("without a filter"),
                )
                for cost, name in costs
            ]
            reason += text(": {told}.", told=joined(", ", lines)) if lines else "."
        measure = text("{felt}×", felt=Value(felt, digits=1))
        judgement = Judgement(
            _judged(framing, verdict),
            title,
            reason,
            limit,
            measure,
            ("exposure.moon_cost",),
            subject=framing.target.name,
        )
        yield with_attempts(judgement, _darker_nights(context, index, seen))


def _darker_nights(context: Context, index: int, seen: Pass) -> Iterator[Attempt]:
    """The next week with a target up and hardly a moon."""
    weeks = year_of(
        context.rig.framings[index].target, seen.night.site, context.tonight or seen.night.day, context.preferences
    )
    good = [week for week in weeks[:12] if week.hours >= WORTH_AN_EVENING_H and week.moonless > 0.8]
    yield from (_planned(index, week) for week in good[:MOST_DATES])


def _planned(index: int, week: Week) -> Attempt:
    middle = week.first + timedelta(days=3)
    return Attempt(
        text("Set the night to {night}", "set_night", night=day(middle)),
        (Edit("replace", ("framings", index, "night"), middle),),
    )
