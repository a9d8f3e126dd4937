"""What rules and view of the Proof step share: the newest frame, what the rig was designed to give in its pixels, its causes."""

from dataclasses import dataclass
from functools import cached_property
from math import inf

from dravel.core.engine.context import Context
from dravel.core.frames.causes import CauseKey, Expected, FrameCause, causes
from dravel.core.frames.reading import FrameReading
from dravel.core.frames.sweep import LEAST_FRAMES
from dravel.core.train.facts import Spacing

LATEST = 8  # frames that are looked at
MOVED_MM = 0.1
LEAST_MM, MOST_MM = 1.0, 1000.0  # of a reading's own spacing
SLACK = 1.02  # sensors are read out with a few lines more or less


@dataclass(frozen=True)
class Proofs:
    """A rig's evidence, looked at when first asked for."""

    context: Context

    @classmethod
    def of(cls, context: Context) -> "Proofs":
        """The evidence of a context."""
        return cls(context)

    @property
    def newest(self) -> FrameReading | None:
        """The frame that rules judge: the newest that this rig's camera can have taken; None without any.

        Of a sweep through focus the sharpest counts: the others are soft on purpose.
        """
        last = [item for item in self.context.evidence if _may_be_of(self.context, item)][-LATEST:]
        if not last:
            return None
        through = [item for item in last if item.taken.focus is not None]
        if last[-1].taken.focus is None or len({item.taken.focus for item in through}) < LEAST_FRAMES:
            return last[-1]
        return min(through, key=lambda item: item.fwhm_px or inf)

    @property
    def spacing_moved(self) -> bool:
        """Whether the spacing is another one now than when the newest frame was taken."""
        taken = self.newest.taken.spacing_mm if self.newest else None
        now = self.context.known.get("actual")
        return taken is not None and now is not None and abs(taken - now) > MOVED_MM

    @cached_property
    def causes(self) -> dict[CauseKey, FrameCause]:
        """What stands out of the newest frame, by its key."""
        reading = self.newest
        if reading is None or reading.field is None:
            return {}
        return {cause.key: cause for cause in causes(reading.field, expected(self.context, reading))}


def _may_be_of(context: Context, reading: FrameReading) -> bool:
    """Whether the camera in hand can have taken a frame: no more pixels than it has, and of its size where the header says one."""
    camera, pixel = context.light.camera, context.known.get("pixel")
    if camera is None:
        return False
    sides = (camera.sensor.width_px, camera.sensor.height_px)
    fits = max(reading.width, reading.height) <= SLACK * max(sides) and min(
        reading.width, reading.height
    ) <= SLACK * min(sides)
    claimed = reading.claims.pixel_um
    if claimed is None or pixel is None:
        return fits
    return fits and any(abs(claimed * times / pixel - 1) < SLACK - 1 for times in (1, reading.claims.binning or 1))


def spacing_of(context: Context, reading: FrameReading) -> float | None:
    """The spacing behind the corrector, glass taken off, that a frame was taken at, mm; None where it is not told."""
    taken = reading.taken.spacing_mm
    if taken is None or not context.light.correctors:
        return None
    behind = round(taken - context.of(Spacing).train.glass_shift, 2)
    return behind if LEAST_MM <= behind <= MOST_MM else None


def expected(context: Context, reading: FrameReading) -> Expected:
    """What the rig was designed to give, in this frame's pixels."""
    known, rig = context.known, context.rig
    scale, rms = known.get("pixel_scale"), known.get("guide_rms")
    corrector = any(item.part.kind == "corrector" for item in rig.path)
    covers = known.get("coverage")
    mount = rig.mount
    return Expected(
        fwhm_px=known.get("star_px"), guide_rms_px=rms / scale if rms is not None and scale else None,
        spacing_error_mm=known.get("spacing_error"), spacing_tolerance_mm=known.get("spacing_tolerance"),
        sag_um=known.get("sag_um"), corrected=corrector, within_circle=None if covers is None else covers >= 1,
        ratio=known.get("focal_ratio"), pixel_um=known.get("pixel"), guided=rig.guide.method != "none",
        alt_azimuth=mount is not None and mount.style == "alt_azimuth",
        polar_error_arcmin=context.preferences.polar_error_arcmin,
    )  # fmt: skip
