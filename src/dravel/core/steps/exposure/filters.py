"""Filters for a target, best first with the reason, and the usual ways to plan one: in colour, by filters, in lines."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil, inf

from dravel.core.engine.context import Context
from dravel.core.model import Exposure, Filter, Framing
from dravel.core.model.words import Value, Words, as_text, text
from dravel.core.moves.filters import fits
from dravel.core.moves.shelf import STATUS_ORDER
from dravel.core.sky.glow import Glow
from dravel.core.steps.exposure.facts import ROUND_S, Exposing, least_hours, recommended_s
from dravel.core.steps.exposure.plan import LEAST_SUBS, MOST_HOURS, MOST_SUBS, core_block, dithered_every
from dravel.core.steps.exposure.rules.light import CLEAR, NARROW
from dravel.core.train.layout import part_key

COLOURS = ("red", "green", "blue")
LINE_USES = ("h_alpha", "oiii", "sii")
COLOUR_SHARE = (
    0.5  # colours are carried by less light than the picture's detail: half its signal to noise. Dravel's own
)
STAR_MINUTES = 20.0  # of a plain cut filter, for the colours of the stars; Dravel's own
MOST = 16


@dataclass(frozen=True)
class Candidate:
    """A filter held against the others: hours to the goal (infinite where it blocks the target), and why."""

    filter: Filter | None
    hours: float
    carried: bool
    in_use: bool
    fits: bool
    reason: str


def candidates(context: Context, framing: Framing, glow: Glow) -> tuple[Candidate, ...]:
    """Every filter the rig carries and the shelf has, and none at all, best first."""
    own, result = context.of(Exposing), []
    carried = [filter_part for item in context.rig.path for filter_part in item.filters]
    keys = {part_key(filter_part) for filter_part in carried}
    shelf = [
        part
        for part in context.shelf
        if isinstance(part, Filter) and part.status != "retired" and part_key(part) not in keys
    ]
    shelf.sort(key=lambda part: STATUS_ORDER.get(part.status, 4))
    bare = own.hours(own.pixels(framing, glow, CLEAR))
    for entry in (None, *carried, *shelf):
        known = entry is None or bool(entry.passbands)
        hours = own.hours(own.pixels(framing, glow, entry)) if known else inf
        mine = entry in carried
        reason = _why(entry, hours, bare, glow) if known else "passbands not specified"
        if entry is None and own.camera is not None and own.camera.spectral_cut == "none":
            reason += ", including infrared"
        result.append(
            Candidate(entry, hours, mine, entry == own.filter, entry is None or mine or fits(context, entry), reason)
        )
    result.sort(key=lambda one: (one.hours, not one.carried))
    return tuple(result[:MOST])


def _why(one: Filter | None, hours: float, bare: float, glow: Glow) -> str:
    if hours == inf:
        return "blocks all of its light"
    if one is None:
        return "no filter: all light"
    if glow.of_lines:
        if one.use in NARROW:
            return "passes the emission lines, rejects the sky background"
        return "passes the lines and the sky between" if hours > bare * 0.8 else "rejects part of the sky background"
    if one.use in NARROW:
        return "passes only a narrow line of a broadband target"
    if one.use in COLOURS:
        return "one third of the light, for colour"
    return "all light that is in focus" if hours <= bare * 1.15 else "dims target and sky equally"


@dataclass(frozen=True)
class Way:
    """A way to plan a target: the blocks that reach the goal, with what they come to."""

    title: Words
    words: Words
    blocks: tuple[Exposure, ...]


def ways(context: Context, framing: Framing, glow: Glow) -> Iterator[Way]:
    """The ways the rig's own filters allow, each planned to the goal, with the preferences' spare subs."""
    own, camera = context.of(Exposing), context.light.camera
    if camera is None or own.collector is None:
        return
    carried = [filter_part for item in context.rig.path for filter_part in item.filters if filter_part.passbands]
    one_of = {
        use: next((filter_part for filter_part in carried if filter_part.use == use), None)
        for use in (*COLOURS, *LINE_USES)
    }
    wide = next((filter_part for filter_part in carried if filter_part.use in ("luminance", "uv_ir_cut")), None)
    mono = camera.sensor.colour == "mono"

    def block(one: Filter | None, share: float = 1.0, part: float = 1.0) -> Exposure | None:
        return _block(context, own, framing, glow, one, share, part)

    def with_core(title: Words, words: Words, blocks: tuple[Exposure, ...]) -> Iterator[Way]:
        """A way with short subs for the core, where the long ones burn it out; none that is too long to be a plan."""
        if sum(planned.seconds for planned in blocks) > MOST_HOURS * 3600:
            return
        if (core := core_block(own, framing, glow, blocks[0])) is not None:
            words = as_text(words) + text(
                ", plus {count} × {sub_s} for the core", count=core.count, sub_s=Value(core.sub_s, form="exposure")
            )
            blocks = (*blocks, core)
        yield Way(title, words, blocks)

    def stars() -> Exposure | None:
        if wide is None:
            return None
        made = block(wide)
        sub = min(made.sub_s if made else 60.0, 60.0)
        return Exposure(filter=part_key(wide), sub_s=sub, count=ceil(STAR_MINUTES * 60 / sub), dither_every=4)

    if not mono:
        made = block(wide)
        if made is not None:
            title = "colour" if wide is None else text("colour, {wide}", wide=wide.name)
            yield from with_core(title, "one-shot colour to target SNR", (made,))
    colours = [entry for use in COLOURS if (entry := one_of[use]) is not None]
    if mono and len(colours) == 3:
        made = block(wide, part=0.5)
        parts = [block(colour, COLOUR_SHARE, 1 / 6) for colour in colours]
        if made is not None and all(parts):
            words: Words = "luminance to target SNR, each colour to half"
            yield from with_core("L R G B", words, (made, *(planned for planned in parts if planned is not None)))
        whole = [block(colour, 1 / 3**0.5, 1 / 3) for colour in colours]
        if all(whole):
            yield from with_core(
                "R G B", "all three to target SNR", tuple(planned for planned in whole if planned is not None)
            )
    lines = [entry for use in LINE_USES if (entry := one_of[use]) is not None]
    if (
        not lines
        and (dual := next((filter_part for filter_part in carried if filter_part.use == "dual_line"), None)) is not None
    ):
        lines = [dual]
    if glow.of_lines and lines:
        blocks = [made for line in lines if (made := block(line, part=1 / len(lines))) is not None]
        if blocks:
            yield from with_core("lines", "each line to target SNR", tuple(blocks))
            if (plain := stars()) is not None:
                words = text(
                    "narrowband to target SNR, plus {STAR_MINUTES} min with UV/IR-cut filter for star colour",
                    STAR_MINUTES=Value(STAR_MINUTES, digits=0),
                )
                yield from with_core("lines and stars", words, (*blocks, plain))


def _block(
    context: Context, own: Exposing, framing: Framing, glow: Glow, one: Filter | None, share: float, part: float
) -> Exposure | None:
    """Subs worth planning behind a filter, enough of them for a share of the wished signal to noise, for that part of the
    least light of its kind, and to be rejected against one another; None where that is never reached, or no plan.
    """
    preferences = context.preferences
    pixels = own.pixels(framing, glow, one)
    sub = worth_planning(context, own, framing, glow, one)
    if sub is None:
        return None
    hours = max(own.hours(pixels, sub) * share**2, least_hours(framing) * part)
    if hours > MOST_HOURS or (count := ceil(hours * 3600 / sub * (1 + preferences.spare_share))) > MOST_SUBS:
        return None
    every = dithered_every(sub)
    key = None if one is None else part_key(one)
    return Exposure(filter=key, sub_s=sub, count=max(LEAST_SUBS, count), dither_every=every)


def worth_planning(context: Context, own: Exposing, framing: Framing, glow: Glow, one: Filter | None) -> float | None:
    """The sub worth planning behind a filter, by the preferences' school, s; None where it is not known."""
    preferences = context.preferences
    shortest = own.shortest_s(own.telling(own.pixels(framing, glow, one)))
    longest = min(own.longest_s(framing, glow, one), float(ROUND_S[-1]))
    if preferences.sub_length == "fixed_habit":
        return min(preferences.habit_sub_s, longest)
    if shortest is None:
        return None
    return recommended_s(shortest, longest, preferences.download_s, preferences.read_noise_margin)
