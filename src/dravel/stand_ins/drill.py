"""The fault trainer's frames: a rig with hidden faults, what each further measurement shows of them, and the truth.

A drill is its seed: the same rig and seed give the same faults, frames and log. Sizes of faults are in widths of the rig's own
star, so that they are seen in the corners of any rig; all of them are Dravel's own.
"""

from dataclasses import dataclass, replace
from math import pi
from typing import Literal

import numpy as np

from dravel.core.frames.claims import FrameClaims
from dravel.core.frames.guide_log import GuideLog
from dravel.core.frames.reading import FrameReading, measure
from dravel.stand_ins.instruments import stream
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take

FaultKey = Literal["spacing", "camera_tilt", "sag", "guiding", "wind", "polar", "focus", "dew"]
AskKey = Literal["frame", "short", "turned", "elsewhere", "ring", "refocus", "log"]
FAMILIES: tuple[tuple[FaultKey, ...], ...] = (
    ("spacing",), ("camera_tilt", "sag"), ("guiding", "wind"), ("polar",), ("focus", "dew"),
)  # fmt: skip
FAULTS: dict[FaultKey, str] = {
    "spacing": "the corrector's spacing", "camera_tilt": "tilt at the camera", "sag": "sag at the focuser",
    "guiding": "guiding", "wind": "wind", "polar": "polar alignment", "focus": "focus", "dew": "dew on the glass",
}  # fmt: skip
ASKS: dict[AskKey, str] = {
    "frame": "the frame as it came", "short": "a sub of a tenth of the length", "turned": "the camera turned by 180°",
    "elsewhere": "another part of the sky, the tube the other way up", "ring": "a ring of 1 mm more",
    "refocus": "a fresh focus run", "log": "the guide log",
}  # fmt: skip
# What tells each fault from its like; facts of the trade, common practice.
TELLS: dict[FaultKey, str] = {
    "spacing": "All corners alike, and a ring changes them; a short sub does not.",
    "camera_tilt": "One side is soft, and stays the same side of the picture when the camera is turned: it turns with the camera.",
    "sag": "One side is soft; with the camera turned it is the other side of the picture, and another pointing changes it.",
    "guiding": "Long in one direction all over, shorter in a short sub, and the log shows it as it goes on.",
    "wind": "Long in one direction, now and then: the log has jumps, and a sheltered part of the sky has none.",
    "polar": "The field turns about its middle, more towards the edge; round in a short sub. The log drifts in declination.",
    "focus": "Large and round everywhere; a focus run cures it.",
    "dew": "Large and round, and fewer stars; a focus run does not cure it, and the guide star grows faint.",
}
WIDTH_PX, STARS, EXPOSURE_S, LEAST_PX, MOST_PX = 1500, 1300, 120.0, 2.0, 6.0
SKY_E, STAR_E = 400.0, 2.5e8  # in an exposure: of a pixel's sky, of a star of magnitude 0
LOG_S, LOG_EVERY_S = 1800.0, 2.0


@dataclass(frozen=True)
class Drill:
    """A drill: the faults that are hidden, one or two of different kinds."""

    seed: int
    hidden: tuple[FaultKey, ...]


def drill(seed: int, count: int = 1, corrected: bool = True) -> Drill:
    """The faults of a seed. `corrected`: whether the rig has a corrector whose spacing can be off."""
    rng = stream(seed, "faults")
    families = [family for family in FAMILIES if corrected or family != ("spacing",)]
    chosen = rng.permutation(len(families))[:count]
    return Drill(seed, tuple(families[int(i)][int(rng.integers(len(families[int(i)])))] for i in chosen))


def small(rig: PictureRig) -> PictureRig:
    """The rig with a picture of fewer pixels, stars kept at least two pixels wide elsewhere: quick, and of the same signs."""
    height = max(400, round(WIDTH_PX * rig.height / rig.width))
    return replace(rig, width=WIDTH_PX, height=min(height, WIDTH_PX), mosaic=False)


def faults_of(told: Drill, rig: PictureRig, fwhm_px: float, ask: AskKey) -> Faults:
    """The rig's faults as one measurement meets them."""
    rng = stream(told.seed, "sizes")
    way, size, where = rng.uniform(0, 360), rng.uniform(0.85, 1.3), rng.uniform(0, 360)
    sign = 1 if rng.random() < 0.5 else -1
    fwhm = min(max(fwhm_px, LEAST_PX), MOST_PX)
    one_px = rig.ratio * rig.pixel_um  # µm out of focus for a blur disc of a pixel
    faults = Faults(fwhm_px=fwhm, uneven=0.02, uneven_seed=told.seed % 1000)
    for key in told.hidden:
        if key == "spacing":
            off = sign * 1.3 * size + (1.0 if ask == "ring" else 0.0)
            faults = replace(faults, radial_px=0.75 * fwhm * off, curved_um=0.8 * fwhm * off * one_px)
        elif key in ("camera_tilt", "sag"):
            lean, towards = 3.4 * fwhm * size * one_px, way
            if key == "sag" and ask == "turned":
                towards += 180
            if key == "sag" and ask == "elsewhere":
                lean, towards = 0.35 * lean, towards + 75
            at = 0.42 * lean  # focus was found on a star towards one side
            faults = replace(faults, tilt_um=lean, tilt_deg=towards % 360, focus_um=faults.focus_um + at)
        elif key == "guiding":
            faults = replace(
                faults, guide_px=0.36 * fwhm * size * (0.25 if ask == "short" else 1), guide_deg=where % 180
            )
        elif key == "wind":
            gust = {"short": 0.2 if told.seed % 2 else 1.0, "elsewhere": 0.2, "refocus": 0.5}.get(ask, 1.0)
            faults = replace(faults, guide_px=0.38 * fwhm * size * gust, guide_deg=where % 180)
        elif key == "polar":
            more = {"short": 0.1, "elsewhere": 1.5}.get(ask, 1.0)
            faults = replace(faults, turn_px=1.9 * fwhm * size * more)
        elif key == "focus" and ask != "refocus":
            faults = replace(faults, focus_um=faults.focus_um + 1.5 * fwhm * size * one_px)
        elif key == "dew":
            faults = replace(faults, fwhm_px=fwhm * (1.3 + 0.3 * size), dimmed=0.35)
    return faults


def evidence(told: Drill, rig: PictureRig, fwhm_px: float, ask: AskKey) -> FrameReading:
    """The frame of one measurement, measured. Raises `NoStars` where a rig's light shows none."""
    shown = small(rig)
    seconds = EXPOSURE_S / (10 if ask == "short" else 1)
    stars = random_stars(shown, STARS, told.seed + (1 if ask == "elsewhere" else 0), brightest=6.5, faintest=13.5)
    # Any rig's stars stand as far above its sky, and a short sub's too: what is drilled is their shape.
    bright = replace(shown, star_e_s=STAR_E / seconds, sky_e_s=SKY_E / seconds, well_e=60_000, gain_e_adu=1.0)
    made = take(bright, stars, faults_of(told, rig, fwhm_px, ask), seconds, told.seed)
    return measure(
        ASKS[ask], made.adu.astype(np.float32), None, 60_000.0, FrameClaims(simulated=True, exposure_s=seconds)
    )


def log_of(told: Drill, budget_arcsec: float) -> GuideLog:
    """Half an hour of the guide log: within the budget, but for what is hidden."""
    rng = stream(told.seed, "log")
    time = np.arange(0, LOG_S, LOG_EVERY_S)
    ra, dec = (rng.normal(0, 0.7 * budget_arcsec, len(time)) for _ in range(2))
    if "guiding" in told.hidden:
        ra += 3.2 * budget_arcsec * np.sin(2 * pi * time / 240 + rng.uniform(0, 6))
        dec *= 1.6
    if "wind" in told.hidden:
        gusts = rng.random(len(time)) < 0.03
        ra, dec = (
            ra + gusts * rng.normal(0, 14 * budget_arcsec, len(time)),
            dec + gusts * rng.normal(0, 9 * budget_arcsec, len(time)),
        )
    if "polar" in told.hidden:
        dec += time / 60 * 0.45
    keep = np.ones(len(time), bool)
    if "dew" in told.hidden:
        for start in (600.0, 1100.0, 1450.0):
            keep &= ~((time > start) & (time < start + 60))
    return GuideLog(time[keep], ra[keep], dec[keep])
