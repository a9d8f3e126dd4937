"""Rules of the plan: what its blocks come to against the target signal to noise."""

from collections.abc import Iterator
from itertools import chain
from math import ceil, inf

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Framing
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, text
from dravel.core.moves.plans import Budget, budget, integration_words
from dravel.core.sky.glow import Glow
from dravel.core.steps.exposure.facts import Exposing
from dravel.core.steps.exposure.limits import NEARLY_WISHED
from dravel.core.steps.exposure.plan import blocks, reached, worths
from dravel.core.steps.exposure.rules.night import moonless_nights, night_hours, tiles


@rule(
    "E9",
    "Exposure plan vs target SNR",
    checks="SNR of the planned blocks, and elapsed time against the night.",
    why="Downloads, dithers, refocusing and rejected subs reduce what a plan yields.",
    formula="√(Σ worth · seconds) ≥ 0.9 · n, minus the rejected share from Preferences",
    source="the CCD equation; 10% short is a default threshold",
    fix="More subs.",
    needs=("sky_e",),
    limits=(NEARLY_WISHED,),
    lapses=True,
)
def plan_against_the_goal(context: Context) -> Iterator[Judgement]:
    """E9: a plan that falls short of the goal."""
    own, preferences = context.of(Exposing), context.preferences
    for i, framing, glow in own.framings:
        if not framing.plan:
            continue
        snr = reached(context, framing, glow)
        wished = preferences.target_snr
        result: Budget = budget(context, framing.plan)
        there, whose = night_hours(context, own, framing)
        nights = result.clock_s * tiles(framing) / 3600 / there
        verdict = NEARLY_WISHED.verdict(snr / wished)
        title = text("Plan reaches target SNR") if verdict == "ok" else text("Plan below target SNR")
        gone = [block.label for block in blocks(context, framing) if block.missing]
        if gone:
            verdict, title = "warning", text("Planned filter not on the rig", "planned_filter_missing")
        reason = text(
            "{light_s} integration, {clock_s} elapsed (duty cycle {open_share}): SNR {snr} in {glow}; {nights} nights of {there} {whose}.",
            light_s=integration_words(result.light_s),
            clock_s=integration_words(result.clock_s),
            open_share=Value(result.open_share, form="share"),
            snr=Value(snr, digits=1),
            glow=glow.words,
            nights=Value(nights, digits=1),
            there=Value(there, form="long"),
            whose=whose,
        )
        judgement = Judgement(
            verdict,
            title,
            reason,
            text("SNR ≥ {wished}", wished=Value(wished)),
            Value(snr, digits=1),
            subject=framing.target.name,
        )
        if gone:
            judgement.reason = text(
                "Not on the rig and not counted: {gone}. {reason}", gone=", ".join(dict.fromkeys(gone)), reason=reason
            )
        more = _more(context, i, framing, glow, (wished / snr) ** 2 if snr > 0 else inf)
        yield with_attempts(judgement, chain(more, moonless_nights(context, framing)))


def _more(context: Context, index: int, framing: Framing, glow: Glow, times: float) -> Iterator[Attempt]:
    """More subs: of lines of the filter that tells most alone, as the rest is for the colours of the stars."""
    if times == inf or any(block.count * times > 20_000 for block in framing.plan):
        return
    counted = worths(context, framing, glow)
    most = max(counted, key=lambda name: counted[name])
    blocks = tuple(
        block.model_copy(update={"count": ceil(block.count * times)})
        if not glow.of_lines or block.filter == most
        else block
        for block in framing.plan
    )
    counts = " + ".join(f"{block.count}" for block in blocks)
    yield Attempt(
        text("Set sub count to {counts}", "set_sub_count", counts=counts),
        (Edit("replace", ("framings", index, "plan"), blocks),),
    )
