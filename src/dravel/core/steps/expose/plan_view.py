"""A target's plan as the page shows it: its blocks, what they come to, ways to plan it, room and time to copy."""

from dravel.core.engine.context import Context
from dravel.core.model import Exposure, Framing
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.moves.plans import budget, integration_words
from dravel.core.physics.energy import COOL_K_MIN
from dravel.core.sky.glow import Glow
from dravel.core.steps.expose import frames
from dravel.core.steps.expose.facts import Exposing
from dravel.core.steps.expose.plan import blocks, reached, room_gb, worths
from dravel.core.steps.expose.rules.night import frames_of_night


class ExposeBlock(Model):
    """A block of the plan, and the signal to noise that all blocks of its filter come to."""

    exposure: Exposure
    label: str
    words: Text
    missing: Text
    snr: float | None
    share: float


class ExposeWay(Model):
    """A way to plan the target to the wish, ready to take."""

    title: Text
    words: Text
    total: Text
    blocks: tuple[Exposure, ...]


class ExposePlan(Model):
    """The target's plan and what it takes."""

    blocks: tuple[ExposeBlock, ...]
    light: Text
    clock: Text
    open_share: float
    snr: float | None
    refocusings: int
    frames: int
    storage_gb: float | None
    storage_words: Text


def way_of(context: Context, title: Words, words: Words, planned: tuple[Exposure, ...]) -> ExposeWay:
    """A way to plan, with what it takes."""
    found = budget(context, planned)
    total = text(
        "{light_s} integration, {clock_s} elapsed",
        light_s=integration_words(found.light_s),
        clock_s=integration_words(found.clock_s),
    )
    return ExposeWay(title=title, words=words, total=total, blocks=planned)


def plan_of(context: Context, framing: Framing, glow: Glow) -> ExposePlan:
    """The plan of a target, block by block."""
    own, found = context.of(Exposing), budget(context, framing.plan)
    counted = worths(context, framing, glow)
    whole = sum(block.seconds for block in framing.plan) or 1.0
    made = []
    for one in blocks(context, framing):
        snr = counted.get(one.exposure.filter, 0.0) ** 0.5
        words = text(
            "{count} × {sub_s} = {seconds}",
            count=one.exposure.count,
            sub_s=Value(one.exposure.sub_s, form="exposure"),
            seconds=integration_words(one.exposure.seconds),
        )
        made.append(
            ExposeBlock(
                exposure=one.exposure, label=one.label, words=words, missing=one.missing,
                snr=None if one.missing else snr,
                share=one.exposure.seconds / whole,
            )
        )  # fmt: skip
    camera, practice = own.camera, context.practice
    size = camera.used("frame_mb") if camera else None
    gb = found.frames * size / 1000 if size else None
    return ExposePlan(
        blocks=tuple(made),
        light=integration_words(found.light_s),
        clock=integration_words(found.clock_s),
        open_share=found.open_share,
        snr=reached(context, framing, glow) if framing.plan else None,
        refocusings=found.refocusings,
        frames=found.frames,
        storage_gb=gb,
        storage_words=_storage(context, gb, practice.reader_mb_s, practice.link_mb_s),
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
