"""What is said of a planned night: what fits, which other night serves the rest, what to mind."""

from collections.abc import Mapping, Sequence
from datetime import date

from dravel.core.engine.context import Context
from dravel.core.model import Verdict
from dravel.core.model.base import Model
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
    words: str
    day: date | None = None


def subs_words(steps: Sequence[NightStep]) -> str:
    """How many subs of which kind a run holds."""
    told: dict[str, int] = {}
    for step in steps:
        if step.kind == "subs":
            kind = f"{step.sub_s:g} s {step.filter or 'no filter'}"
            told[kind] = told.get(kind, 0) + step.count
    return " + ".join(f"{count} × {kind}" for kind, count in told.items()) or "less than a sub"


def fits(context: Context, night: Night, one: Wanted, run: Run | None, steps: Sequence[NightStep]) -> TonightLine:
    """What of a plan, or of a wish, the night holds, with what is lost of it as a rule; which night serves the rest."""
    name, whole = one.framing.target.name, "plan" if one.planned else "wish"
    count = sum(step.count for step in steps)
    kept = round(count / (1 + context.practice.spare_share))
    margin = f"; of {count} subs about {kept} will be kept" if kept < count else ""
    got = 0 if run is None else run.end - run.start
    if got >= one.need:
        told = integration_words(one.need * SLOT_S)
        return TonightLine(verdict="holds", words=f"{name} to its {whole}: {told} by the clock{margin}")
    other = best_night(one, night.site, night.day, context)
    later = "" if other is None else f"; the rest on {named(other)}" if got else f"; better on {named(other)}"
    words = f"{name}: {integration_words(got * SLOT_S)} of {integration_words(one.need * SLOT_S)} by the clock"
    return TonightLine(verdict="strains", words=f"{words}{margin}{later}", day=other)


def beyond(targets: int, told: int) -> tuple[TonightLine, ...]:
    """How many targets are not told one by one, where a rig has very many."""
    if targets <= told:
        return ()
    return (_strains(f"{targets - told} of {targets} targets not listed: this night adds less to them"),)


def mind(
    context: Context, night: Night, known: Mapping[str, Wanted], runs: Sequence[Run], pins: Mapping[str, int],
    steps: Mapping[str, Sequence[NightStep]], begin: float, flats: bool,
) -> list[TonightLine]:  # fmt: skip
    """What to mind, on a night set up in slot `begin`: what was put where it cannot be, flips, the horizon, the battery, dew, and targets too many to order."""
    placed = {run.key for run in runs}
    found = [
        _strains(f"{known[key].framing.target.name} cannot begin at {time_at(night, slot)}, where it was put")
        for key, slot in pins.items()
        if key in known and key not in placed
    ]
    if len(known) > MOST_JOBS:
        found.append(_strains(f"Of {len(known)} targets the {MOST_JOBS} worth most this night are put in order"))
    if runs and (minutes := reframed_every_min(context)) is not None:
        found.append(_strains(f"Nothing tracks: frame anew by hand every {minutes:.2g} min, a tenth of the field"))
    if runs and not flats:
        found.append(
            _strains("The hours that are free hold no flats: leave the camera at its angle until there are some")
        )
    for run in runs:
        found += _run_lines(night, known[run.key], run, steps[run.key])
    return found + _power(context, night, runs, begin) if runs else found


def _run_lines(night: Night, one: Wanted, run: Run, steps: Sequence[NightStep]) -> list[TonightLine]:
    name, found = one.framing.target.name, []
    for step in steps:
        if step.kind == "flip":
            waits = sum(other.end_s - other.start_s for other in steps if other.kind == "wait")
            pause = f" after {waits / 60:.0f} min of waiting for the meridian" if waits >= 60 else ""
            words = f"{name} flips at {time_at(night, step.start_s / SLOT_S)}, between two subs{pause}"
            found.append(TonightLine(verdict="strains" if waits > one.flip_waits_s else "holds", words=words))
    cost = moon_cost(one.seen.moonlight_mag, one.colour)
    if MOON.verdict(cost) != "holds":
        found.append(_strains(f"The moon costs {name} {cost:.1f} × the hours tonight"))
    if not any(step.count for step in steps):
        found.append(_strains(f"No sub of {name} fits into its {integration_words((run.end - run.start) * SLOT_S)}"))
    hidden = horizon_at(night.site, one.seen.azimuth[run.end - 1 : run.end + 3])
    after = one.seen.altitude[run.end - 1 : run.end + 3]
    if run.end - run.start < one.need and (after <= hidden).any():
        found.append(_strains(f"The horizon takes {name} at {time_at(night, run.end)}"))
    return found


def _power(context: Context, night: Night, runs: Sequence[Run], begin: float) -> list[TonightLine]:
    found, source = [], context.rig.supply.source
    lasts = context.known.get("power.hours_left_h")
    if lasts is not None and source is not None:
        empty = begin + lasts * 60 / STEP_MIN
        short = empty < max(run.end for run in runs)
        words = f"The {source.name} lasts the night"
        if empty < len(night.jd):
            words = f"The {source.name} lasts to {time_at(night, empty)}" + (", before the end" if short else "")
        found.append(TonightLine(verdict="strains" if short else "holds", words=words))
    margin = context.known.get("power.dew_margin_k")
    if margin is not None and margin < context.practice.dew_margin_k:
        found.append(_strains(f"Glass comes within {max(margin, 0):.1f} K of the dew point: bands on"))
    return found


def _strains(words: str) -> TonightLine:
    return TonightLine(verdict="strains", words=words)
