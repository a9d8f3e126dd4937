"""The stand-ins: instruments of a rig as its own figures describe them, with trouble from a seed. All rates are Dravel's own."""

from bisect import bisect_right
from dataclasses import dataclass
from math import exp, hypot, sin
from typing import Literal
from zlib import crc32

import numpy as np

from dravel.core.physics import dew
from dravel.stand_ins.ports import Exposed, Sky

Trouble = Literal["none", "some", "much"]
# Spells of cloud an hour, their mean length in minutes; guide stars lost an hour; focus slips a night.
RATES: dict[Trouble, tuple[float, float, float, float]] = {
    "none": (0.0, 0.0, 0.0, 0.0),
    "some": (0.35, 22.0, 0.25, 0.6),
    "much": (0.9, 30.0, 0.8, 2.0),
}
NIGHT_S = 26 * 3600
BLUR = 0.25  # how a star grows with kelvins out of focus, of those that use half the depth of focus, squared


@dataclass(frozen=True)
class RigFacts:
    """What the stand-ins take of a rig: what is not known of it stands at None, and gives no trouble of its kind."""

    fwhm_px: float
    scale_arcsec_px: float
    rms_arcsec: float
    refocus_k: float | None
    hours_of_power: float | None
    dew_margin_k: float | None
    air_c: float
    wind_m_s: float
    seeing_arcsec: float


def stream(seed: int, *names: str) -> np.random.Generator:
    """Random numbers that belong to a seed and to names: the same whatever else is drawn."""
    return np.random.default_rng([seed, *(crc32(name.encode()) for name in names)])


class StandInWeather:
    """Cloud comes in spells, wind and seeing wander, the air falls through the night."""

    def __init__(self, seed: int, trouble: Trouble, dusk_s: float, dawn_s: float, facts: RigFacts) -> None:
        rng = stream(seed, "weather")
        often, minutes, _, _ = RATES[trouble]
        self.spells: list[tuple[float, float, float]] = []
        at = dusk_s
        while often:
            at += rng.exponential(3600 / often)
            if at > dawn_s:
                break
            end = at + max(240.0, rng.exponential(minutes * 60))
            self.spells.append((at, end, float(rng.uniform(0.5, 1.0))))
            at = end
        self._starts = [spell[0] for spell in self.spells]
        self._phases = rng.uniform(0, 6.28, 4)
        self._dusk, self._long, self._facts = dusk_s, max(dawn_s - dusk_s, 3600.0), facts

    def at(self, second: float) -> Sky:
        """The sky at a moment."""
        k = bisect_right(self._starts, second) - 1
        cloud = self.spells[k][2] if k >= 0 and second < self.spells[k][1] else 0.0
        a, b, c, d = self._phases
        wave = sin(second / 1700 + a) + 0.6 * sin(second / 610 + b)
        wind = self._facts.wind_m_s * max(0.2, 1 + 0.35 * wave)
        seeing = self._facts.seeing_arcsec * max(0.7, 1 + 0.12 * sin(second / 2300 + c) + 0.08 * sin(second / 900 + d))
        hours = (second - self._dusk) / 3600
        air = float(dew.night_air(self._facts.air_c, [hours], self._long / 3600)[0])
        return Sky(cloud, wind, seeing, air)


class StandInMount:
    """Points where it is told, and remembers how often it turned over."""

    def __init__(self) -> None:
        self.target, self.flips = "", 0

    def slew(self, target: str, second: float) -> None:
        """Point at a target."""
        self.target = target

    def flip(self, second: float) -> None:
        """Turn over the meridian."""
        self.flips += 1


class StandInFocuser:
    """Drifts with the air, and slips now and then."""

    def __init__(self, seed: int, rig: str, trouble: Trouble, dusk_s: float, dawn_s: float, facts: RigFacts) -> None:
        rng = stream(seed, "focus", rig)
        count = int(rng.poisson(RATES[trouble][3]))
        self.slips = sorted(float(item) for item in rng.uniform(dusk_s, dawn_s, count))
        self._slip_k = 2.2 * (facts.refocus_k or 4.0)
        self._air = facts.air_c + dew.FALL_K
        self._last = 0.0

    def focus(self, second: float, air_c: float) -> None:
        """Find focus at the air's temperature."""
        self._air, self._last = air_c, second

    def off_k(self, second: float, air_c: float) -> float:
        """Kelvins out of focus."""
        slipped = sum(self._last < slip <= second for slip in self.slips)
        return abs(air_c - self._air) + self._slip_k * slipped


class StandInGuider:
    """Loses its star under cloud and now and then without; gusts worsen it."""

    def __init__(self, seed: int, rig: str, trouble: Trouble, dusk_s: float, dawn_s: float, facts: RigFacts) -> None:
        rng = stream(seed, "guide", rig)
        hours = max(dawn_s - dusk_s, 0.0) / 3600
        count = int(rng.poisson(RATES[trouble][2] * hours))
        self.losses = sorted(float(item) for item in rng.uniform(dusk_s, max(dawn_s, dusk_s + 1), count))
        self._facts = facts

    def begin(self, second: float) -> None:
        """Pick a star and guide."""

    def lost(self, start_s: float, end_s: float, sky: Sky) -> bool:
        """Whether the star was lost between two moments."""
        return sky.cloud > 0.3 or any(start_s <= loss < end_s for loss in self.losses)

    def rms_arcsec(self, sky: Sky) -> float:
        """RMS per axis, by the wind against the site's usual one."""
        usual = max(self._facts.wind_m_s, 0.5)
        return self._facts.rms_arcsec * max(0.8, 0.75 + 0.25 * sky.wind_m_s / usual)


class StandInCamera:
    """Stars of the rig's own size, wider by seeing, guiding and focus."""

    def __init__(self, seed: int, rig: str, facts: RigFacts) -> None:
        self._seed, self._rig, self._facts = seed, rig, facts

    def expose(self, start_s: float, sub_s: float, sky: Sky, off_k: float, rms_arcsec: float) -> Exposed:
        """A sub that began at `start_s`."""
        facts, rng = self._facts, stream(self._seed, "camera", self._rig, f"{start_s:.0f}")
        blown = 2.355 * (rms_arcsec**2 - facts.rms_arcsec**2) ** 0.5 if rms_arcsec > facts.rms_arcsec else 0.0
        wide = hypot(facts.fwhm_px * sky.seeing_arcsec / facts.seeing_arcsec, blown / facts.scale_arcsec_px)
        wide *= (1 + BLUR * (off_k / (facts.refocus_k or 4.0)) ** 2) ** 0.5
        clear = exp(-3 * sky.cloud)
        return Exposed(
            start_s, sub_s, round(wide * float(rng.normal(1, 0.02)), 3),
            round(1 + 0.03 + 0.1 * blown / max(facts.fwhm_px * facts.scale_arcsec_px, 0.1), 3), int(400 * clear),
        )  # fmt: skip


class StandInPower:
    """Runs down evenly from when it is switched on."""

    def __init__(self, on_s: float, facts: RigFacts) -> None:
        self._on, self._hours = on_s, facts.hours_of_power

    def share_left(self, second: float) -> float:
        """Share of the usable energy that is left."""
        if self._hours is None:
            return 1.0
        return max(0.0, 1 - (second - self._on) / 3600 / max(self._hours, 1e-6))
