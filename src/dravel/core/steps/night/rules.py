"""Rules of the night: a plan against the time its target stands free, and subs against the meridian."""

from collections.abc import Iterator
from datetime import timedelta
from math import floor

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.engine.limit import Limit
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Framing, Site
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, Words, as_text, joined, text
from dravel.core.moves.plans import integration_words, moon_costs
from dravel.core.moves.subs import planned_sub
from dravel.core.sky.evenings import named
from dravel.core.sky.night import STEP_MIN, Pass, passing_on
from dravel.core.steps.night.facts import Evenings, Stretch, stretch, takes_h, time_at

IDLE = Limit(10.0, None, "min", "default threshold")
LATER_DAYS = 60
COSTS = 1.2  # times the hours that the moon costs: less is not worth a word
TAKES = {"the horizon": "Local horizon", "dawn": "Dawn", "its altitude": "Target too low"}


@rule(
    "N1",
    "Plan vs local horizon",
    checks="Whether the target is above the local horizon in darkness for as long as its plan takes.",
    why="A plan is cut short when the target sets behind an obstruction.",
    formula="Σ (subs and overhead) ≤ the longest unobstructed time",
    source="spherical astronomy; common practice",
    fix="Another night with more unobstructed time; fewer subs.",
    lapses=True,
)
def plan_before_the_horizon(context: Context) -> Iterator[Judgement]:
    """N1: target behind the horizon before its plan ends."""
    site = context.rig.site
    if site is None:
        return
    for i, framing, seen in context.of(Evenings).passes:
        if framing.plan:
            judgement = _placed(context, site, i, framing, seen)
            judgement.reason = as_text(judgement.reason) + _moon_words(context, framing)
            yield judgement


def _moon_words(context: Context, framing: Framing) -> Words:
    """What the moon of the night costs a plan, where it costs anything worth a word."""
    costs = moon_costs(context, framing)
    cost = costs[0][0] if costs else 1.0
    return text(" Moonlight: {cost} integration time.", cost=Value(cost, "×", 1)) if cost >= COSTS else ""


def _placed(context: Context, site: Site, index: int, framing: Framing, seen: Pass) -> Judgement:
    takes, free = takes_h(context, framing), stretch(seen)
    name, answer = framing.target.name, integration_words(takes * 3600)
    if free is None:
        judgement = Judgement(
            "warning", text("No dark hours for the plan"), text("On {day} the target is not above the local horizon in darkness.", "target_below_horizon", day=named(seen.night.day)),
            answer, "0 min", subject=name,
        )  # fmt: skip
        return with_attempts(judgement, _later(context, site, index, framing, takes))
    start, end = (time_at(site, seen, slot) for slot in (free.start, free.end))
    there = text("Unobstructed from {start} to {end}", start=start, end=end)
    measure = integration_words(free.hours * 3600)
    if takes <= free.hours:
        latest = time_at(site, seen, free.end - takes * 60 / STEP_MIN)
        words = text(
            "{there}; the plan takes {told} elapsed: start by {latest}.",
            "start_by",
            there=there,
            told=answer,
            latest=latest,
        )
        return Judgement("ok", text("Plan fits the night"), words, answer, measure, subject=name)
    dark = seen.night.hours(seen.dark)
    if takes > dark and framing.night is None:
        nights = takes / free.hours
        words = text(
            "{there}; the plan takes {told} elapsed: {nights} nights like this.",
            "plan_takes_elapsed_nights",
            there=there,
            told=answer,
            nights=Value(nights, digits=1),
        )
        return Judgement("ok", text("Plan takes several nights"), words, answer, measure, subject=name)
    words = text(
        "{there}, ended by {ends}; the plan takes {told} elapsed, of {dark} dark hours.",
        there=there,
        ends=free.ends,
        told=answer,
        dark=Value(dark, digits=1),
    )
    judgement = Judgement(
        "warning",
        text("{TAKES} ends the plan early", "ends_plan_early", TAKES=TAKES[free.ends]),
        words,
        answer,
        measure,
        subject=name,
    )
    return with_attempts(judgement, _fits_in(context, site, index, framing, free, takes))


def _fits_in(
    context: Context, site: Site, index: int, framing: Framing, free: Stretch, takes: float
) -> Iterator[Attempt]:  # fmt: skip
    yield from _later(context, site, index, framing, takes)
    share = free.hours / takes
    blocks = tuple(
        block.model_copy(update={"count": max(1, floor(block.count * share * 0.99))}) for block in framing.plan
    )
    counts = " + ".join(str(block.count) for block in blocks)
    yield Attempt(
        text("Set sub count to {counts}", "set_sub_count", counts=counts),
        (Edit("replace", ("framings", index, "plan"), blocks),),
    )


def _later(context: Context, site: Site, index: int, framing: Framing, takes: float) -> Iterator[Attempt]:
    """The first night on which it stands free for as long as its plan takes."""
    day = framing.night or context.tonight
    if day is None:
        return
    for k in range(1, LATER_DAYS + 1):
        other = day + timedelta(days=k)
        free = stretch(passing_on(framing.target, site, other, context.preferences))
        if free is not None and free.hours >= takes:
            yield Attempt(
                text("Set the night to {other}", "set_night", other=named(other)),
                (Edit("replace", ("framings", index, "night"), other),),
            )
            return


@rule(
    "N2",
    "Meridian flip idle time",
    checks="Idle time before the meridian flip, until a full sub fits.",
    why="A flip during a sub loses the sub; waiting loses time.",
    formula="longest sub + flip's delay − tracking past the meridian ≤ 10 min",
    source="geometry of the axes; 10 min is a default threshold",
    fix="Shorter subs.",
    limits=(IDLE,),
)
def subs_at_the_meridian(context: Context) -> Iterator[Judgement]:
    """N2: flip inside a sub."""
    own, site = context.of(Evenings), context.rig.site
    idle = context.known.get("flip_idle")
    if not own.flips or site is None or idle is None or context.rig.mount is None:
        return
    crossing = [(framing, seen) for _, framing, seen in own.passes if _crosses(seen)]
    if not crossing:
        return
    times = joined(
        ", ",
        (
            text("{target} at {at}", target=framing.target.name, at=time_at(site, seen, int(np.argmax(seen.altitude))))
            for framing, seen in crossing
        ),
    )
    verdict = IDLE.verdict(idle)
    title = text("Meridian flip OK") if verdict == "ok" else text("Long wait before the flip")
    by_hand = "" if context.rig.mount.goto else text(" This mount is flipped by hand.")
    reason = text(
        "Transits: {times}. Subs {flip_sub}; the mount tracks {past_meridian} past the meridian and flips from {flips_after} after it: up to {idle} idle.{by_hand}",
        times=times,
        flip_sub=Value(context.value("flip_sub"), form="exposure"),
        past_meridian=Value(context.value("past_meridian") * 60, form="time"),
        flips_after=Value(context.value("flips_after") * 60, form="time"),
        idle=Value(idle * 60, form="time"),
        by_hand=by_hand,
    )
    judgement = Judgement(verdict, title, reason, IDLE.words, Value(idle * 60, form="time"), ("night.flip_idle_min",))
    shorter = ((IDLE.warning or 0.0) - context.value("flips_after") + context.value("past_meridian")) * 60
    yield with_attempts(judgement, (planned_sub(shorter, context.rig),) if shorter > 0 else ())


def _crosses(seen: Pass) -> bool:
    """Whether a target crosses the meridian while it may be shot."""
    top = int(np.argmax(seen.altitude))
    return 0 < top < len(seen.altitude) - 1 and bool(seen.usable[top])
