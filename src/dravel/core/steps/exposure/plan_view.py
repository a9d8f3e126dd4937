"""A target's plan as the page shows it: its blocks, what they come to, ways to plan it, room and time to copy."""

from dravel.core.engine.context import Context
from dravel.core.model import Exposure, Framing
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.moves.plans import budget, integration_words
from dravel.core.physics.energy import COOL_K_MIN
from dravel.core.sky.glow import Glow
from dravel.core.steps.exposure import frames
from dravel.core.steps.exposure.facts import Exposing
from dravel.core.steps.exposure.plan import blocks, reached, room_gb, worths
from dravel.core.steps.exposure.rules.night import frames_of_night


class ExposureBlock(Model):
    """A block of the plan, and the signal to noise that all blocks of its filter come to."""

    exposure: Exposure
    label: str
    words: Text
    missing: Text
    snr: float | None
    share: float


class ExposureWay(Model):
    """A way to plan the target to the goal, ready to take."""

    title: Text
    words: Text
    total: Text
    blocks: tuple[Exposure, ...]


class ExposurePlan(Model):
    """The target's plan and what it takes."""

    blocks: tuple[ExposureBlock, ...]
    light: Text
    clock: Text
    open_share: float
    snr: float | None
    refocusings: int
    frames: int
    storage_gb: float | None
    storage_words: Text


def way_of(context: Context, title: Words, words: Words, planned: tuple[Exposure, ...]) -> ExposureWay:
    """A way to plan, with what it takes."""
    result = budget(context, planned)
    total = text(
        "{light_s} integration, {clock_s} elapsed",
        light_s=integration_words(result.light_s),
        clock_s=integration_words(result.clock_s),
    )
    return ExposureWay(title=title, words=words, total=total, blocks=planned)


def plan_of(context: Context, framing: Framing, glow: Glow) -> ExposurePlan:
    """The plan of a target, block by block."""
    own, result = context.of(Exposing), budget(context, framing.plan)
    counted = worths(context, framing, glow)
    whole = sum(block.seconds for block in framing.plan) or 1.0
    made = []
    for item in blocks(context, framing):
        snr = counted.get(item.exposure.filter, 0.0) ** 0.5
        words = text(
            "{count} × {sub_s} = {seconds}",
            count=item.exposure.count,
            sub_s=Value(item.exposure.sub_s, form="exposure"),
            seconds=integration_words(item.exposure.seconds),
        )
        made.append(
            ExposureBlock(
                exposure=item.exposure, label=item.label, words=words, missing=item.missing,
                snr=None if item.missing else snr,
                share=item.exposure.seconds / whole,
            )
        )  # fmt: skip
    camera, preferences = own.camera, context.preferences
    size = camera.used("frame_mb") if camera else None
    gb = result.frames * size / 1000 if size else None
    return ExposurePlan(
        blocks=tuple(made),
        light=integration_words(result.light_s),
        clock=integration_words(result.clock_s),
        open_share=result.open_share,
        snr=reached(context, framing, glow) if framing.plan else None,
        refocusings=result.refocusings,
        frames=result.frames,
        storage_gb=gb,
        storage_words=_storage(context, gb, preferences.reader_mb_s, preferences.link_mb_s),
    )


def _storage(context: Context, gb: float | None, reader: float, link: float) -> Words:
    camera = context.light.camera
    size = camera.used("frame_mb") if camera else None
    if size is None:
        return "Frame size not specified"
    what = "of the plan"
    if not gb:
        gb, _, words = frames_of_night(context, size)
        what = str(words)
    room, name = room_gb(context)
    place = (
        text(" of {room} GB on the {name}", room=Value(room), name=name)
        if room is not None
        else text(" on the {name}", name=name)
        if name
        else ""
    )
    by_card = camera is not None and camera.driven_by == "release"
    minutes = gb * 1000 / (reader if by_card else link) / 60
    how = "by a card reader" if by_card else "over its link"
    return text(
        "The frames {what} take {gb} GB{place}; {minutes} to copy {how}",
        what=what,
        gb=Value(gb, digits=1),
        place=place,
        minutes=Value(minutes * 60, form="time"),
        how=how,
    )


def cooler_words(context: Context) -> Words:
    """How long the cooler takes from the air at dusk."""
    minutes = frames.minutes_to_cool(context)
    if minutes is None:
        return "no cooler: take darks at the night's temperature"
    return text(
        "{minutes} to cool down from dusk, ≤ {COOL_K_MIN}/min",
        minutes=Value(minutes * 60, form="time"),
        COOL_K_MIN=Value(COOL_K_MIN, "K"),
    )
