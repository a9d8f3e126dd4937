"""Plays a rig's planned night on instruments: what was taken, what was kept, what happened and what was done about it."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from dravel.core.model.base import Model
from dravel.core.model.session import SessionFrame
from dravel.core.overview.sequence import NightStep
from dravel.stand_ins.instruments import RigFacts
from dravel.stand_ins.ports import Camera, Focuser, Guider, Mount, Power, Sky, Weather

CLOSED = 0.3  # more cloud than this, and no star is held
GUIDE_AGAIN_S = 90.0
REFOCUS_S = 180.0
SOFT, LOST = 1.2, 1.45  # stars wider than right after a focus: focus again; not worth keeping
LOW_SHARE = 0.15
BANDS_S = 900.0  # until dew bands have cleared the glass
LOOKS_S = 30.0

EventKind = Literal["step", "cloud", "guide", "focus", "dew", "power", "flip"]


class RehearsalEvent(Model):
    """Something that happened, and what is done about it."""

    at_s: float
    kind: EventKind
    what: str
    does: str


@dataclass(frozen=True)
class Instruments:
    """What a rig is played on."""

    mount: Mount
    camera: Camera
    focuser: Focuser
    guider: Guider
    weather: Weather
    power: Power


@dataclass
class Player:
    """One rig's night as it goes."""

    on: Instruments
    facts: RigFacts
    frames: list[SessionFrame] = field(default_factory=list)
    events: list[RehearsalEvent] = field(default_factory=list)
    _busy_s: float = 0.0
    _why: str = ""
    _cloudy: bool = False
    _unfocused: bool = False
    _dew_s: float | None = None
    _low: bool = False

    def play(self, steps: Sequence[NightStep], until_s: float) -> None:
        """All steps in order, up to a moment."""
        for step in steps:
            if step.start_s >= until_s:
                return
            if step.kind == "subs":
                self._subs(step, until_s)
            else:
                self._other(step)

    def _other(self, step: NightStep) -> None:
        sky = self.on.weather.at(step.start_s)
        closed = sky.cloud > CLOSED
        if step.kind in ("align", "slew", "refocus", "filter"):
            if closed:
                self._unfocused = True
                self._say(
                    step.start_s, "focus", f"{_upper(step.what)}: no stars through the cloud", "focus once it is clear"
                )
            else:
                self._focus(step.end_s)
                self._say(step.start_s, "step", _upper(step.what), "")
        if step.kind == "slew":
            self.on.mount.slew(step.target, step.start_s)
            self.on.guider.begin(step.end_s)
        elif step.kind == "flip":
            self.on.mount.flip(step.start_s)
            self._say(step.start_s, "flip", f"{step.name} flips", "centre, turn the calibration, guide again")
        elif step.kind in ("set_up", "flats", "pack_up", "wait"):
            self._say(step.start_s, "step", _upper(step.what), "")

    def _subs(self, step: NightStep, until_s: float) -> None:
        self._say(step.start_s, "step", f"{step.name}: {step.what}", "")
        for k in range(step.count):
            start = step.start_s + k * step.each_s
            if start + step.sub_s > until_s:
                return
            self._sub(step, start)

    def _sub(self, step: NightStep, start: float) -> None:
        end = start + step.sub_s
        if self._empty(start):
            return self._frame(step, start, taken=False, why="battery empty")
        sky = self.on.weather.at(start)
        self._watch(start, sky)
        if self._cloudy:
            return self._frame(step, start, taken=False, why="cloud")
        if start < self._busy_s:
            return self._frame(step, start, taken=False, why=self._why)
        closes = next((at for at in _looks(start, end) if self.on.weather.at(at).cloud > CLOSED), None)
        if closes is not None:
            self._frame(step, start, taken=True, why="cloud")
            return self._watch(closes, self.on.weather.at(closes))
        if self.on.guider.lost(start, end, sky):
            self._frame(step, start, taken=True, why="guide star lost")
            self._say(end, "guide", "The guide star was lost: the sub is thrown away", "find it again, and repeat")
            return self._wait(end + GUIDE_AGAIN_S, "guiding again")
        if self._wet(end, sky):
            return self._frame(step, start, taken=True, why="dew on the glass")
        off = self.on.focuser.off_k(end, sky.air_c)
        got = self.on.camera.expose(start, step.sub_s, sky, off, self.on.guider.rms_arcsec(sky))
        sharp = self.on.camera.expose(start, step.sub_s, sky, 0.0, self.on.guider.rms_arcsec(sky))
        ratio = got.fwhm_px / sharp.fwhm_px
        self._frame(step, start, taken=True, why="out of focus" if ratio > LOST else "", fwhm_px=got.fwhm_px)
        if ratio > SOFT:
            words = f"Stars have grown from {sharp.fwhm_px:.1f} to {got.fwhm_px:.1f} px"
            self._say(end, "focus", words, "focus now, not at the next turn")
            self._focus(end + REFOCUS_S)
            self._wait(end + REFOCUS_S, "focusing")
        return None

    def _watch(self, at: float, sky: Sky) -> None:
        """Cloud coming and going."""
        if sky.cloud > CLOSED and not self._cloudy:
            self._cloudy = True
            self._say(at, "cloud", "Cloud", "wait, keep tracking, look again in some minutes")
        elif sky.cloud <= CLOSED and self._cloudy:
            self._cloudy = False
            self._say(
                at, "cloud", "Clear again", "focus and guide again" if self._unfocused else "guide again, and go on"
            )
            again = GUIDE_AGAIN_S + (REFOCUS_S if self._unfocused else 0.0)
            if self._unfocused:
                self._focus(at + again)
            self._wait(at + again, "guiding again")

    def _wet(self, at: float, sky: Sky) -> bool:
        """Dew, once the air has fallen to where the glass is wet, until the bands have cleared it."""
        if self.facts.dew_margin_k is None or self.facts.dew_margin_k + sky.air_c - self.facts.air_c >= 0:
            return False
        if self._dew_s is None:
            self._dew_s = at
            self._say(at, "dew", "Dew on the glass", "bands up, a warm breath of air, no wiping")
        return at < self._dew_s + BANDS_S

    def _empty(self, at: float) -> bool:
        left = self.on.power.share_left(at)
        if left < LOW_SHARE and not self._low:
            self._low = True
            self._say(at, "power", f"{left:.0%} of the battery left", "change it, or pack up before it ends")
        if left <= 0 and self._why != "battery empty":
            self._why = "battery empty"
            self._say(at, "power", "The battery is empty", "pack up")
        return left <= 0

    def _focus(self, at: float) -> None:
        self.on.focuser.focus(at, self.on.weather.at(at).air_c)
        self._unfocused = False

    def _wait(self, until_s: float, why: str) -> None:
        self._busy_s, self._why = until_s, why

    def _say(self, at: float, kind: EventKind, what: str, does: str) -> None:
        self.events.append(RehearsalEvent(at_s=round(at), kind=kind, what=what, does=does))

    def _frame(self, step: NightStep, start: float, *, taken: bool, why: str, fwhm_px: float = 0.0) -> None:
        self.frames.append(
            SessionFrame(
                start_s=round(start, 1), sub_s=step.sub_s, target=step.target, filter=step.filter, taken=taken,
                kept=taken and not why, why=why, fwhm_px=round(fwhm_px, 2),
            )
        )  # fmt: skip


def _looks(start: float, end: float) -> list[float]:
    count = int((end - start) / LOOKS_S) + 1
    return [*(start + k * LOOKS_S for k in range(1, count)), end]


def _upper(words: object) -> str:
    said = str(words)
    return said[:1].upper() + said[1:]
