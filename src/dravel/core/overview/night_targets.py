"""The targets of a rig on a night: when each may be shot, what every slot is worth to it, how many its plan or goal takes."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from math import ceil, inf

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model import Framing, Site
from dravel.core.moves.plans import Flip, budget, flip_of
from dravel.core.physics.photometry import moon_cost
from dravel.core.sky.altaz import Array
from dravel.core.sky.bodies import moonlight
from dravel.core.sky.glow import Glow
from dravel.core.sky.night import STEP_MIN, Night, Pass, passing_on
from dravel.core.steps.exposure.facts import Exposing, Shot

AHEAD_NIGHTS = 14
SLOT_S = STEP_MIN * 60
CHANGE_MIN, HOP_MIN = 10.0, 20.0  # from target to target by motors, by hand; Dravel's own
WAIT_S = 300.0  # waiting for the meridian that is not worth a word; Dravel's own


@dataclass(frozen=True)
class Wanted:
    """A target of a rig on the night: its pass, what each slot is worth, and how many slots its plan or goal takes."""

    framing: Framing
    glow: Glow
    seen: Pass
    worth: Array
    need: int
    planned: bool
    colour: float  # of moonlight in its light, as `moon_cost` takes it
    way: str  # how the rig gets to it, in words
    change_s: float
    by_hand: bool
    flip: Flip | None

    @property
    def key(self) -> str:
        """By what it is known."""
        return self.framing.target.key

    @property
    def flip_waits_s(self) -> float:
        """How long the mount itself waits at the meridian, whatever the subs, and one short sub more, s."""
        return WAIT_S + (max(0.0, self.flip.turns_s - self.flip.stops_s) if self.flip is not None else 0.0)


def wanted(context: Context, night: Night, day: date, shot_s: Mapping[str, float] | None = None) -> tuple[Wanted, ...]:
    """The targets of a rig that are for this night, with what each slot of it is worth to them. `shot_s`: seconds by the
    clock that a goal without a plan was given already, by target.
    """
    own, preferences = context.of(Exposing), context.preferences
    if own.lacks:
        return ()
    results = []
    for _, framing, glow in own.framings:
        if framing.night is not None and framing.night != day:
            continue
        seen = passing_on(framing.target, night.site, day, preferences)
        shots = [shot for shot in own.shots if shot.framing is framing]
        shot = min(shots, key=lambda item: own.hours(item.pixels, item.sub_s), default=None)
        if shot is None or (light := own.goal_hours(shot)) == inf:
            continue
        if framing.plan:
            seconds = budget(context, framing.plan).clock_s
        else:
            had = (shot_s or {}).get(framing.target.key, 0.0)
            seconds = light * 3600 * (1 + preferences.spare_share) / (context.known.get("open_share") or 1.0) - had
        if seconds <= 0:
            continue
        need = max(1, ceil(seconds * framing.columns * framing.rows / SLOT_S))
        flip = flip_of(context.rig.mount, _meridian_s(seen), preferences.flip_min * 60)
        results.append(
            Wanted(framing, glow, seen, _worth(own, framing, shot, seen), need, bool(framing.plan), own.moon_colour(shot), *way_to(context), flip)
        )  # fmt: skip
    return tuple(results)


def way_to(context: Context) -> tuple[str, float, bool]:
    """How a rig gets from one target to the next, in words; how long that takes, s; and whether hands do it."""
    mount, guided = context.rig.mount, context.rig.guide.method != "none"
    by_hand = mount is None or not mount.goto
    finds = "find and centre by hand" if by_hand else "slew, centre"
    lines = [finds, "focus", *(["guide"] if guided else [])]
    return ", ".join(lines), (HOP_MIN if by_hand else CHANGE_MIN) * 60, by_hand


def _meridian_s(seen: Pass) -> float:
    """When a target stands highest, seconds from noon, between the slots by a parabola; far off where noon cuts its way."""
    altitude = seen.altitude
    top = int(np.argmax(altitude))
    if top in (0, len(altitude) - 1):
        return inf
    before, at, after = (float(altitude[top + k]) for k in (-1, 0, 1))
    bend = before - 2 * at + after
    return (top + (0.5 * (before - after) / bend if bend < 0 else 0.0)) * SLOT_S


def _worth(own: Exposing, framing: Framing, shot: Shot, seen: Pass) -> Array:
    """What a slot is worth, (m,): signal to noise squared gained in it, of the best slot a target ever had as 1."""
    night = seen.night
    pixel = own.telling(shot.pixels)
    collector = own.collector
    if pixel is None or collector is None:
        return np.zeros(len(night.jd))
    sky, extinction = own.conditions(framing), seen.extinction
    up = np.maximum(seen.altitude, 5.0)
    airmass = 1 / np.sin(np.radians(up))
    target = pixel.target * 10 ** (-0.4 * extinction * (airmass - sky.airmass))
    moon = moonlight(
        night.moon.phase_angle_deg, seen.moon_separation, night.moon_altitude, up, night.site.sky_brightness, extinction
    )
    glows = pixel.sky * 10 ** (0.4 * (moon - sky.moon_mag))
    noise = collector.read_noise_e**2 / shot.sub_s
    gained = target**2 / (target + glows + pixel.dark + noise)
    overhead = pixel.target * 10 ** (-0.4 * extinction * (1 - sky.airmass))
    best = overhead**2 / (overhead + pixel.sky * 10 ** (-0.4 * sky.moon_mag) + pixel.dark + noise)
    return np.asarray(gained / best)


def best_night(one: Wanted, site: Site, day: date, context: Context) -> date | None:
    """The night of the next fortnight that gives a target most, by usable hours and moonlight; None where none does."""
    best: tuple[float, date] | None = None
    for k in range(1, AHEAD_NIGHTS + 1):
        other = day + timedelta(days=k)
        seen = passing_on(one.framing.target, site, other, context.preferences)
        worth = worth_of(seen, one.colour)
        if worth > 0 and (best is None or worth > best[0] * 1.02):
            best = worth, other
    return None if best is None else best[1]


def worth_of(seen: Pass, colour: float) -> float:
    """What a night is worth to a target: usable hours, as many as they were without the moon."""
    return seen.hours / moon_cost(seen.moonlight_mag, colour)
