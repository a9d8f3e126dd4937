"""Rules of the filter: what it does for a target, against going without it."""

from collections.abc import Iterator
from dataclasses import replace
from math import inf

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Filter
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, as_text, text
from dravel.core.moves.filters import filters_put_in
from dravel.core.sky.glow import Glow
from dravel.core.steps.exposure.facts import Exposing, Shot
from dravel.core.steps.exposure.light import Conditions
from dravel.core.steps.exposure.limits import BRIGHT_SKY, WRONG
from dravel.core.steps.exposure.rules.light import CLEAR, NARROW, hours_words


@rule(
    "E3",
    "Filter choice for the target",
    checks="How the filter in use changes the integration time compared with no filter, and the sky for broadband targets.",
    why="Galaxies, dust and stars emit broadband light: a narrowband filter rejects most of it. Nebulae emit in a few lines: under light pollution everything else is sky.",
    formula="integration time with the filter against without; sky at the target",
    source="the CCD equation; bounds are default thresholds",
    fix="A suitable filter; a darker site.",
    needs=("sky_e",),
    limits=(WRONG, BRIGHT_SKY),
)
def filter_for_the_light(context: Context) -> Iterator[Judgement]:
    """E3: narrow filter on a broadband target, broadband under a bright sky."""
    own = context.of(Exposing)
    for _, framing, glow in own.framings:
        mine = [shot for shot in own.shots if shot.framing is framing]
        if not mine:
            continue
        sky, name = own.conditions(framing), framing.target.name
        # Of a plan with several filters, the one that tells most of the target.
        shot = min(mine, key=lambda item: own.hours(item.pixels))
        judgement = _judged(context, own, shot, glow, sky)
        if judgement.verdict == "problem" and own.hours(shot.pixels) < inf and not _sure(context, own, shot, sky):
            judgement.verdict = "warning"
            judgement.reason = as_text(judgement.reason) + text(
                " The brightness of {name} is known within a factor of {factor}: {origin}.",
                name=name,
                factor=Value(glow.factor),
                origin=glow.origin,
            )
        judgement.subject = name
        judgement.measure = judgement.measure or hours_words(own.hours(shot.pixels))
        yield judgement


def _sure(context: Context, own: Exposing, shot: Shot, sky: Conditions) -> bool:
    """Whether a filter breaks for a target however bright it is within what is known of it."""
    for factor in (shot.glow.factor, 1 / shot.glow.factor):
        glow = shot.glow.times(factor)
        other = replace(shot, glow=glow, pixels=own.pixels(shot.framing, glow, shot.filter))
        if _judged(context, own, other, glow, sky).verdict != "problem":
            return False
    return True


def _judged(context: Context, own: Exposing, shot: Shot, glow: Glow, sky: Conditions) -> Judgement:
    name, behind = shot.framing.target.name, shot.filter
    hours, bare = own.hours(shot.pixels), own.hours(own.pixels(shot.framing, glow, CLEAR))
    of = text("the {behind}", behind=behind.name) if behind else text("no filter")
    limit = WRONG.words
    if hours == inf:
        reason = text("{of} blocks all light of {name}.", name=name, of=of)
        judgement = Judgement("problem", text("Filter blocks the target", "filter_blocks_target"), reason, limit)
        return with_attempts(judgement, _suiting(context, own, shot, glow))
    wished = text("SNR {target_snr} in {glow}", target_snr=Value(context.preferences.target_snr), glow=glow.words)
    ratio = hours / bare if 0 < bare < inf else 0.0
    if (
        behind is not None
        and not glow.of_lines
        and WRONG.verdict(ratio) != "ok"
        and behind.use not in ("red", "green", "blue")
    ):
        reason = text(
            "{name} is broadband: {hours} with {of}, {bare} with a clear filter, for {wished}.",
            name=name,
            hours=hours_words(hours),
            of=of,
            bare=hours_words(bare),
            wished=wished,
        )
        judgement = Judgement(
            WRONG.verdict(ratio),
            text("Filter too narrow for target", "filter_too_narrow"),
            reason,
            limit,
            text("{ratio} integration time", ratio=Value(ratio, "×", 1)),
        )
        return with_attempts(judgement, _suiting(context, own, shot, glow))
    if behind is not None and behind.use == "broadband_suppression" and ratio > 1.0:
        why = text("under broadband lamps") if sky.lamps != "sodium" else "here"
        reason = text(
            "{hours} with {of}, {bare} with a clear filter: {why} it dims {name} and the sky equally.",
            hours=hours_words(hours),
            of=of,
            bare=hours_words(bare),
            why=why,
            name=name,
        )
        judgement = Judgement(
            "warning",
            text("Light-pollution filter without effect", "pollution_filter_idle"),
            reason,
            text("< integration time without filter"),
            text("{ratio} integration time", ratio=Value(ratio, "×", 1)),
        )
        return with_attempts(judgement, _suiting(context, own, shot, glow))
    wide = behind is None or behind.use not in NARROW
    if BRIGHT_SKY.verdict(sky.dark) != "ok" and wide:
        light = (
            text("emission lines, and a narrowband filter would reject most of the sky")
            if glow.of_lines
            else text("broadband light, as the sky does")
        )
        reason = text(
            "{dark} mag/arcsec² at the target without moonlight. {name} emits {light}: {hours} for {wished}.",
            dark=Value(sky.dark, digits=1),
            name=name,
            light=light,
            hours=hours_words(hours),
            wished=wished,
        )
        judgement = Judgement(
            "warning",
            text("Bright sky for broadband", "bright_sky_broadband"),
            reason,
            BRIGHT_SKY.words,
            text("{dark} mag/arcsec²", dark=Value(sky.dark, digits=1)),
        )
        return with_attempts(judgement, _darker(context, own, shot, glow))
    reason = text(
        "{hours} with {of}, {bare} with a clear filter, for {wished}.",
        hours=hours_words(hours),
        of=of,
        bare=hours_words(bare),
        wished=wished,
    )
    if behind is None:
        reason = text("{hours} without filter, for {wished}.", hours=hours_words(hours), wished=wished)
    return Judgement("ok", text("Filter choice OK", "filter_choice_ok"), reason, limit)


def _suiting(context: Context, own: Exposing, shot: Shot, glow: Glow) -> Iterator[Attempt]:
    """Filters that need fewer hours than the one in the light, the best first; then none."""
    now = own.hours(shot.pixels)

    def takes(one: Filter) -> float:
        return own.hours(own.pixels(shot.framing, glow, one))

    def better(one: Filter) -> bool:
        return bool(one.passbands) and takes(one) < now / WRONG.warning_at(1.0) and _ends_visible(one)

    if shot.block is None:
        yield from filters_put_in(context, better)
        for i, item in enumerate(context.rig.path):
            if item.in_use is not None:
                yield Attempt(
                    text("Remove the filter from the light path"),
                    (Edit("replace", ("path", i, "in_use"), None),),
                    last=True,
                )
        return
    # Of a plan, the block turns to the best of what the rig carries.
    carried = [filter_part for item in context.rig.path for filter_part in item.filters if better(filter_part)]
    for entry in sorted(carried, key=takes)[:2]:
        yield Attempt(
            text("Plan {target} with the {one}", one=entry.name, target=shot.framing.target.name),
            (Edit("replace", (*shot.place, "filter"), entry.id or entry.name),),
        )


def _ends_visible(one: Filter) -> bool:
    return one.use not in ("red", "green", "blue")


def _darker(context: Context, own: Exposing, shot: Shot, glow: Glow) -> Iterator[Attempt]:
    if glow.of_lines:
        yield from filters_put_in(
            context,
            lambda item: (
                item.use in NARROW and bool(item.passbands) and own.hours(own.pixels(shot.framing, glow, item)) < inf
            ),
        )
    here = context.rig.site
    for other in context.sites:
        if here is not None and other.name != here.name and other.sky_brightness > here.sky_brightness:
            yield Attempt(text("Change the site to {other}", other=other.name), (Edit("replace", ("site",), other),))
