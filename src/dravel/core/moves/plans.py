"""What a plan of subs takes by the clock, and how a mount crosses the meridian meanwhile."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import ceil

from dravel.core.engine.context import Context
from dravel.core.model import Exposure, Framing, Mount
from dravel.core.model.words import Words, text


@dataclass(frozen=True)
class Budget:
    """What a plan takes: seconds of light and of the clock, subs, dithers, refocusings, filter changes, flips."""

    light_s: float
    clock_s: float
    frames: int
    dithers: int
    refocusings: int
    changes: int
    flips: int

    @property
    def open_share(self) -> float:
        """Share of the time the shutter is open."""
        return self.light_s / self.clock_s if self.clock_s else 0.0


def budget(context: Context, plan: Sequence[Exposure]) -> Budget:
    """What blocks take: light, downloads, dithers with their settling, refocusing by the hour, temperature and filter, and
    a flip a night on a mount that must turn over at the meridian.
    """
    preferences = context.preferences
    light = sum(block.seconds for block in plan)
    frames = sum(block.count for block in plan)
    dithers = sum(block.count // block.dither_every if block.dither_every else 0 for block in plan)
    changes = sum(item.filter != other.filter for item, other in pairwise(plan))
    busy = light + frames * preferences.download_s + dithers * preferences.dither_s
    every = context.known.get("refocus_every") or preferences.refocus_hours
    # The first focus of the night belongs to it; a new filter is focused on too.
    refocusings = changes + ceil(busy / 3600 / every) if plan else 0
    clock = busy + refocusings * preferences.refocus_min * 60
    flips = ceil(clock / 3600 / preferences.night_hours) if turns_over(context.rig.mount) else 0
    return Budget(light, clock + flips * preferences.flip_min * 60, frames, dithers, refocusings, changes, flips)


@dataclass(frozen=True)
class Flip:
    """A turn over the meridian: no sub runs on beyond `stops_s`, the mount turns from `turns_s` on, for `takes_s` seconds."""

    stops_s: float
    turns_s: float
    takes_s: float


def turns_over(mount: Mount | None) -> bool:
    """Whether a mount must turn over at the meridian: one that is driven, and whose tube would meet its pier."""
    return mount is not None and mount.style == "german_equatorial" and mount.driven_axes > 0


def flip_of(mount: Mount | None, meridian_s: float, takes_s: float) -> Flip | None:
    """How a mount crosses the meridian; None for one that need not turn over."""
    if mount is None or not turns_over(mount):
        return None
    past, after = (mount.past_meridian_min or 0.0) * 60, (mount.flips_after_min or 0.0) * 60
    return Flip(meridian_s + past, max(meridian_s + after, meridian_s), takes_s)


def moon_costs(context: Context, framing: Framing) -> tuple[tuple[float, str], ...]:
    """How many times the hours the moon of its night costs a target, behind each filter of its plan by name (empty without
    one), the one that tells most of it first; empty where its light is not known.
    """
    if "moon_costs" not in context.known:
        return ()
    result = (
        (item.value or 1.0, *str(item.origin).partition("\n")[::2]) for item in context.known.inputs("moon_costs")
    )
    return tuple((cost, behind) for cost, key, behind in result if key == framing.target.key)


def integration_words(seconds: float) -> Words:
    """A time as people say it: ``3 h 44 min``, ``40 min``."""
    minutes = round(seconds / 60)
    hours, rest = divmod(minutes, 60)
    if not hours:
        return text("{rest} min", rest=rest)
    return text("{hours} h {rest} min", hours=hours, rest=rest) if rest else f"{hours} h"
