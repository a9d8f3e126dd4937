"""The tube and what rides on it against the legs of a tripod, where the rig's targets cross the meridian."""

from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from dravel.core.model import Mount, Rig
from dravel.core.model.words import Words, text
from dravel.core.steps.mount.balancing import saddle_height_mm
from dravel.core.steps.mount.bodies import Body, Carried

HEAD_SHARE, LEG_HALF_MM = 0.12, 20.0  # of the foot radius; half a leg
SAMPLES, MOST_CROSSINGS = 24, 12
LOWEST_DEG = 10.0  # a target that crosses lower is not photographed there
UPRIGHT = (0.0, "the zenith")
Array = NDArray[np.float64]


@dataclass(frozen=True)
class LegClearance:
    """Where the load comes nearest to a leg: the leg from the axis of what reaches it, and the radius there, mm.

    `part` says what reaches it, `rider` its place among the riders (None: tube or train), `towards` where it points.
    """

    apart_mm: float
    radius_mm: float
    part: str
    kind: str
    rider: int | None
    towards: Words

    @property
    def gap_mm(self) -> float:
        """Room between them, mm; negative: they meet."""
        return leg_gap_mm(self.apart_mm, self.radius_mm, LEG_HALF_MM)


def leg_gap_mm(apart_mm: float, radius_mm: float, half_mm: float) -> float:
    """Room between a tube and a leg, mm: ℓ = d − r − b. Source: geometry."""
    return apart_mm - radius_mm - half_mm


def crossings(rig: Rig) -> tuple[tuple[float, Words], ...]:
    """How far from the zenith, towards the equator, the rig's targets cross the meridian, degrees, and where that points, in words.

    The zenith itself where it has no site or no target that crosses above ten degrees.
    """
    if rig.site is None:
        return (UPRIGHT,)
    latitude = rig.site.latitude_deg
    towards = 1.0 if latitude >= 0 else -1.0
    result = {
        round(towards * (latitude - framing.centre_dec_deg), 1): text(
            "{target} on the meridian", target=framing.target.name
        )
        for framing in rig.framings
    }
    items = sorted((tilt, name) for tilt, name in result.items() if abs(tilt) < 90 - LOWEST_DEG)
    # Of very many targets a dozen, the outermost among them, show where the load reaches.
    step = (len(items) - 1) / (MOST_CROSSINGS - 1)
    return tuple(items[round(i * step)] for i in range(MOST_CROSSINGS)) if step > 1 else tuple(items) or (UPRIGHT,)


def legs_of(rig: Rig, mount: Mount) -> Array:
    """Where the legs stand, degrees from the pole: one to the pole, or two with the pole between them.

    An alt-azimuth head turns over all of them; one stands under the tube then, which is the worst.
    """
    feet = rig.support.feet if rig.support else 3
    first = 90.0 if mount.style == "alt_azimuth" else 180.0 / feet if rig.tripod_turned else 0.0
    return np.asarray(first + np.arange(feet) * 360 / feet)


def leg_clearance(rig: Rig, carried: Carried) -> LegClearance | None:
    """Where anything on the saddle passes the nearest leg while a target of the rig crosses the meridian.

    None without a support, on a pier, or when nothing reaches below the support's top. Approximate: straight legs that
    begin near the middle, round bodies. Each body's axis is taken on either side, as it is before and after a flip.
    Source: geometry; the leg is met in the plane across the tube.
    """
    support, mount = rig.support, rig.mount
    if support is None or mount is None or support.style == "pier":
        return None
    top = (mount.axis_height_mm or 0.0) + support.extension_mm
    saddle = saddle_height_mm(mount)
    around = np.radians(legs_of(rig, mount))
    foot = np.stack([np.sin(around), np.cos(around), 0 * around], -1) * support.foot_radius_mm
    head = foot * HEAD_SHARE
    head[:, 2], foot[:, 2] = -top, -top - support.height_mm
    looked: list[tuple[Body, Words]] = []
    ways: list[tuple[float, float, float, float, float, float]] = []
    for tilt, towards in crossings(rig):
        sine, cosine = sin(radians(tilt)), cos(radians(tilt))
        for body in carried.bodies:
            back = body.middle - body.length / 2
            if back * cosine - abs(body.across * sine) >= -top:
                continue
            for side in (1.0, -1.0) if body.across else (1.0,):
                looked.append((body, towards))
                ways.append((sine, cosine, back, body.length, side * body.across, saddle + body.up))
    if not ways:
        return None
    apart = _apart(np.array(ways), head, foot)
    radius = np.array([body.diameter / 2 for body, _ in looked])
    near = int(np.argmin(apart - radius))
    if not np.isfinite(apart[near]):
        return None
    body, towards = looked[near]
    return LegClearance(float(apart[near]), body.diameter / 2, body.name, body.kind, body.rider, towards)


def _apart(ways: Array, head: Array, foot: Array) -> Array:
    """From each body's axis to the nearest leg, in the plane across the tube, mm; infinite where no leg crosses it.

    `ways` is (n, 6): sine and cosine of the tilt, the body's back end and length along the tube, its place across and up.
    East, north (to the pole) and up are counted from where the axes cross; the tube points towards the equator by its tilt.
    """
    sine, cosine, back, length, aside, up = ways.T
    zero = np.zeros_like(sine)
    tube, across = np.stack([zero, -sine, cosine], -1), np.stack([zero, cosine, sine], -1)
    along = back[:, None] + length[:, None] * np.linspace(0.0, 1.0, SAMPLES)
    axis = along[..., None] * tube[:, None] + (aside[:, None] * across)[:, None]
    axis[..., 0] += up[:, None]
    # Shapes (n, samples, legs): how far along its tube each place lies from a leg's head, over the leg's own length there.
    ahead = (axis @ tube[:, :, None]) - (head @ tube.T).T[:, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        share = ahead / ((foot - head) @ tube.T).T[:, None]
    met = head + share[..., None] * (foot - head)
    apart = np.linalg.norm(met - axis[:, :, None], axis=-1)
    return np.asarray(np.where((share >= 0) & (share <= 1), apart, np.inf).min(axis=(1, 2)))
