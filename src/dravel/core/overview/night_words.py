"""What is said of a planned night: what fits, which other night serves the rest, what to mind."""

from collections.abc import Mapping, Sequence
from datetime import date

from dravel.core.engine.context import Context
from dravel.core.model import Verdict
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.moves.plans import integration_words
from dravel.core.overview.night_clock import time_at
from dravel.core.overview.night_targets import SLOT_S, Wanted, best_night
from dravel.core.overview.sequence import NightStep, reframed_every_min
from dravel.core.physics.photometry import moon_cost
from dravel.core.sky.evenings import named
from dravel.core.sky.night import STEP_MIN, Night, horizon_at
from dravel.core.sky.schedule import MOST_JOBS, Run
from dravel.core.steps.aim.limits import MOON


class TonightLine(Model):
    """Something said of the night, with its verdict; `day` is another night that would serve."""

    verdict: Verdict
    words: Text
    day: date | None = None


def subs_words(steps: Sequence[NightStep]) -> Text:
    """How many subs of which kind a run holds."""
    result: dict[tuple[float, str], int] = {}
    for step in steps:
        if step.kind == "subs":
            kind = step.sub_s, step.filter or "no filter"
            result[kind] = result.get(kind, 0) + step.count
    if not result:
        return text("less than one sub")
    return joined(
        " + ",
        (
            text("{count} × {sub} {filter}", count=count, sub=Value(sub, form="exposure"), filter=behind)
            for (sub, behind), count in result.items()
        ),
    )


def fits(context: Context, night: Night, one: Wanted, run: Run | None, steps: Sequence[NightStep]) -> TonightLine:
    """What of a plan, or of a goal, the night holds, with what is lost of it as a rule; which night serves the rest."""
    name, whole = one.framing.target.name, "plan complete" if one.planned else "goal reached"
    count = sum(step.count for step in steps)
    kept = round(count / (1 + context.preferences.spare_share))
    margin = text("; expect {kept} of {count} subs accepted", count=count, kept=kept) if kept < count else ""
    got = 0 if run is None else run.end - run.start
    if got >= one.need:
        answer = integration_words(one.need * SLOT_S)
        return TonightLine(
            verdict="ok",
            words=text("{name}: {whole} after {told}{margin}", name=name, whole=whole, told=answer, margin=margin),
        )
    other = best_night(one, night.site, night.day, context)
    later = (
        ""
        if other is None
        else text("; the rest on {other}", other=named(other))
        if got
        else text("; better on {other}", other=named(other))
    )
    words = text(
        "{name}: {got} of {need} needed",
        name=name,
        got=integration_words(got * SLOT_S),
        need=integration_words(one.need * SLOT_S),
    )
    return TonightLine(verdict="warning", words=joined("", (words, margin, later)), day=other)


def beyond(targets: int, told: int) -> tuple[TonightLine, ...]:
    """How many targets are not told one by one, where a rig has very many."""
    if targets <= told:
        return ()
    return (
        _warning(
            text(
                "{targets} of {targets_2} targets not listed: lower value tonight",
                targets=targets - told,
                targets_2=targets,
            )
        ),
    )


def mind(
    context: Context, night: Night, known: Mapping[str, Wanted], runs: Sequence[Run], pins: Mapping[str, int],
    steps: Mapping[str, Sequence[NightStep]], begin: float, flats: bool,
) -> list[TonightLine]:  # fmt: skip
    """What to mind, on a night set up in slot `begin`: what was put where it cannot be, flips, the horizon, the battery, dew, and targets too many to order."""
    placed = {run.key for run in runs}
    results = [
        _warning(
            text(
                "{target} cannot start at {night} (pinned)",
                target=known[key].framing.target.name,
                night=time_at(night, slot),
            )
        )
        for key, slot in pins.items()
        if key in known and key not in placed
    ]
    if len(known) > MOST_JOBS:
        results.append(
            _warning(
                text(
                    "Of {known} targets the {MOST_JOBS} most valuable tonight are scheduled",
                    known=len(known),
                    MOST_JOBS=MOST_JOBS,
                )
            )
        )
    if runs and (minutes := reframed_every_min(context)) is not None:
        results.append(
            _warning(
                text(
                    "Untracked: reframe by hand every {minutes} (10% of the field)",
                    minutes=Value(minutes * 60, form="time"),
                )
            )
        )
    if runs and not flats:
        results.append(
            _warning("No time for flats in the available hours: keep the camera angle until flats are taken")
        )
    for run in runs:
        results += _run_lines(night, known[run.key], run, steps[run.key])
    return results + _power(context, night, runs, begin) if runs else results


def _run_lines(night: Night, one: Wanted, run: Run, steps: Sequence[NightStep]) -> list[TonightLine]:
    name, result = one.framing.target.name, []
    for step in steps:
        if step.kind == "flip":
            waits = sum(other.end_s - other.start_s for other in steps if other.kind == "wait")
            pause = (
                text(" after {waits} wait for the meridian", waits=Value(waits / 60 * 60, form="time"))
                if waits >= 60
                else ""
            )
            words = text(
                "{name}: meridian flip at {night}{pause}",
                name=name,
                night=time_at(night, step.start_s / SLOT_S),
                pause=pause,
            )
            result.append(TonightLine(verdict="warning" if waits > one.flip_waits_s else "ok", words=words))
    cost = moon_cost(one.seen.moonlight_mag, one.colour)
    if MOON.verdict(cost) != "ok":
        result.append(
            _warning(text("{name}: moonlight {cost} integration time tonight", name=name, cost=Value(cost, "×", 1)))
        )
    if not any(step.count for step in steps):
        result.append(
            _warning(
                text("{name}: no sub fits into {end}", name=name, end=integration_words((run.end - run.start) * SLOT_S))
            )
        )
    hidden = horizon_at(night.site, one.seen.azimuth[run.end - 1 : run.end + 3])
    after = one.seen.altitude[run.end - 1 : run.end + 3]
    if run.end - run.start < one.need and (after <= hidden).any():
        result.append(
            _warning(text("{name} below local horizon from {night}", name=name, night=time_at(night, run.end)))
        )
    return result


def _power(context: Context, night: Night, runs: Sequence[Run], begin: float) -> list[TonightLine]:
    result, source = [], context.rig.supply.source
    lasts = context.known.get("power.hours_left_h")
    if lasts is not None and source is not None:
        empty = begin + lasts * 60 / STEP_MIN
        short = empty < max(run.end for run in runs)
        words = text("{source} lasts the night", source=source.name)
        if empty < len(night.jd):
            words = text("{source} empty at {night}", source=source.name, night=time_at(night, empty)) + (
                ", before end of session" if short else ""
            )
        result.append(TonightLine(verdict="warning" if short else "ok", words=words))
    margin = context.known.get("power.dew_margin_k")
    if margin is not None and margin < context.preferences.dew_margin_k:
        result.append(
            _warning(
                text("Optics within {margin} of the dew point: dew heaters on", margin=Value(max(margin, 0), "K", 1))
            )
        )
    return result


def _warning(words: Words) -> TonightLine:
    return TonightLine(verdict="warning", words=words)
