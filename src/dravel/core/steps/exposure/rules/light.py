"""Rules of the light: read noise swamped, wells that overflow, filters that suit what is shot."""

from collections.abc import Iterator
from math import ceil, inf

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, School, rule, with_attempts
from dravel.core.model import Exposure, Filter, Passband, SchoolSays, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.moves.subs import block_of, planned_sub, seconds_words, whole_sub
from dravel.core.physics import photometry as photo
from dravel.core.steps.exposure.facts import NEARLY, ROUND_S, Exposing, Shot, recommended_s
from dravel.core.steps.exposure.limits import FILLED, HABIT, READ_NOISE
from dravel.core.steps.exposure.plan import LEAST_SUBS, MOST_HOURS, MOST_SUBS, core_block, dithered_every
from dravel.core.train.layout import part_key

# What a filter is held against: one that only cuts what lenses do not focus.
CLEAR = Filter(name="clear filter", size="any", use="luminance", passbands=(Passband(centre_nm=545, width_nm=290),))
NARROW = frozenset({"h_alpha", "oiii", "sii", "dual_line"})
HOURS_LIMIT = 1000.0
MOST_BLOCKS = 24  # that a plan holds


def resub(shot: Shot, seconds: float) -> tuple[Edit, ...]:
    """A shot's subs of so many seconds: of the whole rig, or of one block of a plan, whose light stays what it was."""
    return planned_sub(seconds).edits if shot.block is None else block_of(shot.place, shot.block, seconds)


def sub_edit(shot: Shot, seconds: float) -> Attempt:
    """Plan one shot's subs of so many seconds."""
    if shot.block is None:
        return planned_sub(seconds)
    return Attempt(
        text("Set sub length to {seconds} for {shot}", seconds=Value(seconds, form="exposure"), shot=shot.words),
        resub(shot, seconds),
    )


def span_words(span: tuple[float, float]) -> Text:
    """From how long to how long: ``3–40 h``; one length where that is all the same."""
    low, high = span
    if low >= 1 and high <= HOURS_LIMIT:
        return text("{span}", span=Value(low, "h", form="about", to=high))
    first, last = hours_words(low), hours_words(high)
    return first if first == last else text("{low} to {high}", low=first, high=last)


def hours_words(hours: float) -> Text:
    """Hours of integration, as a sentence has them."""
    if hours == inf:
        return text("never")
    if hours > HOURS_LIMIT:
        return text("over {most}", most=Value(HOURS_LIMIT, form="long"))
    return text("{hours}", hours=Value(hours, form="integration"))


@rule(
    "E1",
    "Sub length vs read noise",
    checks="Planned sub length against the shortest sub in which sky noise dominates read noise, per target.",
    why="Shorter subs waste integration time; much longer subs gain nothing and lose more to each gust.",
    formula="t ≥ R² / (((1 + x)² − 1) · (E + E_d)); fixed length: (1 + extra noise)² ≤ 1.5",
    source="noise adds in quadrature; 5% is common practice",
    fix="Longer subs where tracking allows, or a camera mode with lower read noise.",
    needs=("sky_e",),
    limits=(READ_NOISE, HABIT),
    schools=(
        School(
            "swamp_read_noise", "Read-noise limit", "A sub is long enough when read noise adds less than the margin."
        ),
        School(
            "fixed_habit",
            "Fixed length",
            "2, 3, 4 or 6 minutes; darks match, and the cost in integration time is shown.",
        ),
    ),
)
def read_noise(context: Context) -> Iterator[Judgement]:
    """E1: read noise not swamped."""
    own, preferences = context.of(Exposing), context.preferences
    collector = own.collector
    if collector is None:
        return
    noise, margin = collector.read_noise_e, preferences.read_noise_margin
    worst: tuple[float, Shot, float] | None = None
    for shot in own.shots:
        pixel = own.telling(shot.pixels)
        shortest = own.shortest_s(pixel)
        if shortest is None or pixel is None:
            continue
        if worst is None or shortest / shot.sub_s > worst[0]:
            worst = shortest / shot.sub_s, shot, photo.noise_above(noise, pixel.background, shot.sub_s)
    if worst is None:
        return
    short, shot, more = worst
    shortest = short * shot.sub_s
    cost = (1 + more) ** 2
    says: dict[str, Verdict] = {
        "swamp_read_noise": "warning" if short > NEARLY else "ok", "fixed_habit": HABIT.verdict(cost)
    }  # fmt: skip
    school = preferences.sub_length
    reason = text(
        "{shot}: at {sub_s} read noise adds {more} noise, {cost} integration time. At {shortest} it adds {margin}.",
        "read_noise_adds",
        shot=shot.words,
        more=Value(more, form="share"),
        sub_s=Value(shot.sub_s, form="exposure"),
        cost=Value(cost - 1, form="share"),
        shortest=seconds_words(shortest),
        margin=Value(margin, form="share"),
    )
    longest = own.longest_s(shot.framing, shot.glow, shot.filter)
    if longest < shortest / NEARLY:
        reason += text(" Longest possible sub here: {longest}.", longest=seconds_words(longest))
    answer = {
        "swamp_read_noise": text("≥ {shortest}", shortest=seconds_words(shortest)),
        "fixed_habit": text("+{cost} integration time", cost=Value(cost - 1, form="share")),
    }
    judgement = Judgement(
        says[school], text("Sub length OK, sky-limited") if says[school] == "ok" else text("Sub too short (read noise)"), reason,
        text("≥ {shortest}", shortest=seconds_words(shortest)), Value(shot.sub_s, form='exposure'), ("exposure.shortest_sub_s", "exposure.sky_e_s"),
        school=school, schools=tuple(SchoolSays(school=key, verdict=item, says=answer[key]) for key, item in says.items()),
    )  # fmt: skip
    yield with_attempts(judgement, _quieter(context, own))


def _quieter(context: Context, own: Exposing) -> Iterator[Attempt]:
    """Every sub that is too short as long as it should be, where the rig can hold it; or a quieter setting."""
    preferences = context.preferences
    lengths: dict[tuple[str | int, ...], float] = {}
    edits: dict[tuple[str | int, ...], tuple[Edit, ...]] = {}
    for shot in own.shots:
        shortest = own.shortest_s(own.telling(shot.pixels))
        if shortest is None or shortest <= shot.sub_s * NEARLY:
            continue
        longest = own.longest_s(shot.framing, shot.glow, shot.filter)
        seconds = recommended_s(shortest, longest, preferences.download_s, preferences.read_noise_margin)
        if seconds > max(shot.sub_s, lengths.get(shot.place, 0.0)):
            lengths[shot.place] = seconds
            edits[shot.place] = resub(shot, seconds)
    if edits:
        sentence = joined(" and ", (Value(seconds, form="exposure") for seconds in sorted(set(lengths.values()))))
        yield Attempt(
            text("Set sub length to {told}", "set_sub_length", told=sentence),
            tuple(edit for item in edits.values() for edit in item),
        )
    for mode in sorted(own.modes, key=lambda mode: mode.read_noise_e):
        if own.mode is not None and mode.read_noise_e < own.mode.read_noise_e:
            yield Attempt(
                text("Set the gain to {gain}", "set_gain", gain=Value(mode.gain)),
                (Edit("replace", ("shooting", "gain"), mode.gain),),
            )


@rule(
    "E2",
    "Full well and saturation",
    checks="How far sky and dark current fill the full well in one sub, and whether the target's core or the chosen star saturates.",
    why="Saturated pixels carry no colour and cannot be recovered in processing.",
    formula="(E + E_d) · t ≤ W / 4; core and star: rate · t ≤ W",
    source="definition; a quarter is a default threshold",
    fix="Shorter subs, or a camera mode with a larger full well.",
    needs=("sky_e", "well"),
    limits=(FILLED,),
)
def room(context: Context) -> Iterator[Judgement]:
    """E2: saturation by sky, core or star."""
    own, well = context.of(Exposing), context.value("well")
    worst: tuple[int, float, Shot, str, float, Words] | None = (
        None  # words: what overflows, none where sky and dark current fill it
    )
    for shot in own.shots:
        filled = max(pixel.background for pixel in shot.pixels) * shot.sub_s / well
        bright = [x for x in own.limits(shot.framing, shot.glow, shot.filter) if x.key in ("core", "star")]
        # Short subs beside the long ones are there for a core.
        short = min((item.sub_s for item in own.shots if item.framing is shot.framing), default=shot.sub_s)
        bright = [x for x in bright if x.key == "star" or short > x.seconds * NEARLY]
        over = min(bright, key=lambda item: item.seconds, default=None)
        verdict = FILLED.verdict(filled)
        words: Words = ""
        brims = ""
        most = FILLED.warning_at(1.0) * shot.sub_s / filled if filled > 0 else inf
        if over is not None and over.seconds * NEARLY < shot.sub_s and verdict == "ok":
            verdict, brims, words, most = "warning", over.key, over.words, over.seconds
        result = (("ok", "warning", "problem").index(verdict), filled, shot, brims, most, words)
        if worst is None or result[:2] > worst[:2]:
            worst = result
    if worst is None:
        return
    rank, filled, shot, brims, most, words = worst
    verdict = ("ok", "warning", "problem")[rank]
    reason = text(
        "{shot}: sky and dark current fill {filled} of {well} in {sub_s}.",
        shot=shot.words,
        filled=Value(filled, form="share"),
        well=Value(well, "e⁻", 0),
        sub_s=Value(shot.sub_s, form="exposure"),
    )
    if words:
        reason += text(" From {most} on: {words}.", words=words, most=seconds_words(most))
    star = own.saturating_mag(shot.framing, shot.filter, shot.pixels, shot.sub_s)
    if star is not None:
        reason += text(" Stars brighter than mag {star} saturate.", star=Value(star, digits=1))
    titles = {
        "ok": text("Full-well headroom OK"),
        "warning": text("Full well too full", "full_well_too_full"),
        "problem": text("Sky fills the well"),
    }
    title = text("Bright parts saturate", "bright_parts_saturate") if rank == 1 and words else titles[verdict]
    judgement = Judgement(
        verdict, title, reason, FILLED.words, Value(filled, form="share"), ("exposure.saturating_mag",)
    )
    yield with_attempts(judgement, _roomier(context, own, shot, well, most, core=brims == "core"))


def _roomier(context: Context, own: Exposing, shot: Shot, well: float, most: float, *, core: bool) -> Iterator[Attempt]:
    # No longer than the rig can hold either, or one fault would be fixed by another.
    most = min((most, *(shared_limit.seconds for shared_limit in own.shared_limits())))
    nice = [s for s in ROUND_S if s <= most]
    seconds = float(nice[-1]) if nice else whole_sub(most)
    if core:
        yield from _core_planned(context, own, shot)
    yield sub_edit(shot, seconds)
    for mode in own.modes:
        if (own.well_of(mode) or 0.0) > well:
            yield Attempt(
                text("Set the gain to {gain}", "set_gain", gain=Value(mode.gain)),
                (Edit("replace", ("shooting", "gain"), mode.gain),),
            )


def _core_planned(context: Context, own: Exposing, shot: Shot) -> Iterator[Attempt]:
    """Short subs for a core beside the plan's long ones; where there is no plan, one with the subs as they are."""
    framing, sub = shot.framing, shot.sub_s
    i = next(k for k, item in enumerate(context.rig.framings) if item is framing)
    plan, answer = framing.plan, text("")
    if not plan:
        hours = own.goal_hours(shot)
        if hours > min(MOST_HOURS, MOST_SUBS * sub / 3600):
            return
        count = max(LEAST_SUBS, ceil(hours * 3600 / sub * (1 + context.preferences.spare_share)))
        key = None if shot.filter is None else part_key(shot.filter)
        plan, answer = (
            (Exposure(filter=key, sub_s=sub, count=count, dither_every=dithered_every(sub)),),
            text("{count} × {sub} and ", count=count, sub=Value(sub, form="exposure")),
        )
    short = core_block(own, framing, shot.glow, shot.block or plan[0])
    if short is not None and len(plan) < MOST_BLOCKS:
        label = text(
            "Plan {told}{count} × {sub_s} for the core of {target}",
            told=answer,
            count=short.count,
            sub_s=Value(short.sub_s, form="exposure"),
            target=framing.target.name,
        )
        yield Attempt(label, (Edit("replace", ("framings", i, "plan"), (*plan, short)),))
