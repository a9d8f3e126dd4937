"""What figures and rules of the Night step share: each target's pass over its night, and the mount's way over the meridian."""

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from zoneinfo import ZoneInfo

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.model import Framing, Site
from dravel.core.model.words import clock
from dravel.core.moves.plans import budget, turns_over
from dravel.core.sky.altaz import moment_of
from dravel.core.sky.night import STEP_MIN, Pass, passing_on


@dataclass(frozen=True)
class Stretch:
    """The longest time a target stands free in the dark: slots of a night from noon, and what ends it."""

    start: int
    end: int
    ends: str

    @property
    def hours(self) -> float:
        """How long it is."""
        return (self.end - self.start) * STEP_MIN / 60


@dataclass(frozen=True)
class Evenings:
    """The targets of a rig over their nights, each computed when first asked for."""

    context: Context

    @classmethod
    def of(cls, context: Context) -> "Evenings":
        """The evenings of a rig."""
        return cls(context)

    @cached_property
    def passes(self) -> tuple[tuple[int, Framing, Pass], ...]:
        """Each target with its place among the framings and its pass; none without a site or a night."""
        site, result = self.context.rig.site, []
        for i, framing in enumerate(self.context.rig.framings):
            day = framing.night or self.context.tonight
            if site is not None and day is not None:
                result.append((i, framing, passing_on(framing.target, site, day, self.context.preferences)))
        return tuple(result)

    @cached_property
    def flips(self) -> bool:
        """Whether the mount must turn over at the meridian."""
        return turns_over(self.context.rig.mount)


def stretch(seen: Pass) -> Stretch | None:
    """The longest time a target may be shot in one go; None where it never may."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], seen.usable, [False]]).astype(int)))
    spans = list(zip(edges[::2], edges[1::2], strict=True))
    if not spans:
        return None
    start, end = max(spans, key=lambda item: int(item[1] - item[0]))
    at = min(int(end), len(seen.usable) - 1)
    ends = "dawn" if not seen.dark[at] else "the horizon" if not seen.free[at] else "its altitude"
    return Stretch(int(start), int(end), ends)


def time_at(site: Site, seen: Pass, slot: float) -> str:
    """The site's clock at a slot."""
    jd = float(np.interp(slot, np.arange(len(seen.night.jd)), seen.night.jd))
    moment: datetime = moment_of(jd).astimezone(ZoneInfo(site.timezone))
    return clock(moment)


def takes_h(context: Context, framing: Framing) -> float:
    """Hours by the clock that a target's plan takes, all tiles."""
    return budget(context, framing.plan).clock_s * framing.columns * framing.rows / 3600


def _gather(known: Known, context: Context) -> None:
    """Put the night's values into `known`, or why they are not known."""
    own = context.of(Evenings)
    if own.passes:
        known.put_list(
            "free_hours", "h", "unobstructed in darkness", "h",
            [(seen.hours, framing.target.name) for _, framing, seen in own.passes],
        )  # fmt: skip
    else:
        because = "no site" if context.rig.site is None else "no target framed"
        known.lack(because, "free_hours")
    mount, rig = context.rig.mount, context.rig
    if not own.flips or mount is None:
        known.lack("no meridian flip needed", "past_meridian", "flips_after", "flip_sub")
        return
    said = "the mount" if mount.past_meridian_min is not None else "not specified: stops at the meridian"
    known.put("past_meridian", "m₁", "tracks past the meridian", mount.past_meridian_min or 0.0, "min", said)
    said = "the mount" if mount.flips_after_min is not None else "not specified: immediately"
    known.put("flips_after", "m₂", "flips from, after the meridian", mount.flips_after_min or 0.0, "min", said)
    subs = [block.sub_s for framing in rig.framings for block in framing.plan] or [rig.guide.sub_s]
    known.put("flip_sub", "t", "longest planned sub", max(subs), "s", "plans" if len(subs) > 1 else "the rig")


FACTS = FactSource(("free_hours", "past_meridian", "flips_after", "flip_sub"), _gather)
