"""What frames taken on purpose say together: a focus sweep of the sensor's lean, a series of spacings of the best one."""

from math import hypot

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.frames.field import TooFewStars, robust
from dravel.core.frames.reading import FrameReading
from dravel.core.frames.series import NoSeries, SpacingSeries, point_of, series
from dravel.core.frames.sweep import FocusSweep, NoSweep, sweep
from dravel.core.model import PatchOperation, Verdict
from dravel.core.model.base import Model, quantities
from dravel.core.model.edit import Edit, apply, keepable
from dravel.core.model.parts import Corrector, Measurement
from dravel.core.model.words import Text, Value, text
from dravel.core.moves.rings import relaid
from dravel.core.train.facts import Spacing
from dravel.core.train.light_path import LightPath

SAME_MM = 0.02
THROUGH = 1.25  # widest over sharpest stars of frames that go through focus
POINTS = ("right", "lower right", "lower edge", "lower left", "left", "upper left", "upper edge", "upper right")
SCREWS_MM = 60.0  # between a tilt plate's screws; a usual one


class SweepTold(Model):
    """A sweep in words. `reading` is missing where the frames tell nothing, and `because` says why."""

    frames: int
    reading: FocusSweep | None
    verdict: Verdict
    lines: tuple[Text, ...]
    because: Text = Text("")


class SeriesTold(Model):
    """A series in words, and the change that takes the best spacing as measured; `label` is empty where there is none to take, `lays`
    whether the rings on the shelf make it, so that the change lays them too.
    """

    frames: int
    reading: SpacingSeries | None
    now_mm: float | None
    verdict: Verdict
    lines: tuple[Text, ...]
    label: Text = Text("")
    lays: bool = False
    change: tuple[PatchOperation, ...] = ()
    because: Text = Text("")


def swept(context: Context, readings: tuple[FrameReading, ...]) -> SweepTold | None:
    """The frames that tell where the focuser stood, those of the newest one's size, as a sweep; None where they look like none: a night
    that is focused anew now and then has several places too, and sharp stars at each.
    """
    points = [
        (reading, reading.taken.focus)
        for reading in readings
        if reading.taken.focus is not None and reading.stars and reading.fwhm_px
    ]
    points = [
        (item, focus)
        for item, focus in points
        if (item.width, item.height) == (points[-1][0].width, points[-1][0].height)
    ]
    widths = [item.fwhm_px or 0.0 for item, _ in points]
    if len({focus for _, focus in points}) < 2 or max(widths) < THROUGH * min(widths):
        return None
    ratio, pixel = context.known.get("focal_ratio"), context.known.get("pixel")
    if ratio is None or pixel is None:
        return _no_sweep(len(points), "focal ratio or pixel size unknown")
    telescope = context.light.telescope
    try:
        result = sweep(
            tuple(item for item, _ in points), tuple(focus for _, focus in points), ratio, pixel,
            telescope.blocked_share if telescope else 0.0,
        )  # fmt: skip
    except (NoSweep, TooFewStars) as error:
        if isinstance(error, NoSweep) and not error.meant:
            return None  # a night's frames, each focused anew
        return _no_sweep(len(points), str(error))
    depth = context.known.get("depth_of_focus")
    sure = max(3.0, 0.1 * result.tilt_um, 2 * result.tilt_error_um)
    leans = result.tilt_um > 2 * sure
    lines = []
    if leans:
        where = POINTS[round(result.tilt_deg / 45) % 8]
        camera = context.light.camera
        lines.append(
            text(
                "Sensor tilt {tilt_um} ± {sure} across the width; towards the {where} focus is at higher steps.",
                tilt_um=Value(result.tilt_um, digits=0),
                sure=Value(sure, "µm", 0),
                where=where,
            )
        )
        if camera is not None:
            screws = result.tilt_um * SCREWS_MM / camera.sensor.width_mm
            lines.append(
                text(
                    "If higher steps move the camera out, move its {where} out: {screws} at screws {SCREWS_MM} apart.",
                    where=where,
                    screws=Value(screws, "µm", 0),
                    SCREWS_MM=Value(SCREWS_MM, "mm", 0),
                )
            )
        lines.append(
            text("Rotate the camera by 180° and sweep again: same image side means the camera, other side the focuser.")
        )
    else:
        lines.append(text("No sensor tilt within ± {sure}.", sure=Value(sure, "µm", 0)))
    if abs(result.curved_um) > max(3.0, 3 * result.curved_error_um):
        lines.append(
            text(
                "Corner focus {curved_um} from the centre: field curvature.",
                curved_um=Value(abs(result.curved_um), "µm", 0),
            )
        )
    if depth is not None:
        lines.append(text("Depth of focus {depth}.", depth=Value(depth, "µm", 0)))
    lines.append(
        text(
            "Best focus {best}, FWHM {fwhm_px}; one step moves {step_um} (from star growth).",
            best=Value(result.best, digits=1),
            fwhm_px=Value(result.fwhm_px, "px", 2),
            step_um=Value(result.step_um, "µm", 2),
        )
    )
    beyond = depth is not None and leans and result.tilt_um > depth
    return SweepTold(frames=len(points), reading=result, verdict="warning" if beyond else "ok", lines=tuple(lines))


def _no_sweep(frames: int, because: str) -> SweepTold:
    return SweepTold(frames=frames, reading=None, verdict="ok", lines=(), because=because)


def spaced(context: Context, readings: tuple[FrameReading, ...]) -> SeriesTold | None:
    """The frames that tell their spacing, as a series; None where all were taken at one."""
    points = [
        (reading.field, reading.taken.spacing_mm) for reading in readings if reading.field is not None and reading.taken.spacing_mm is not None
    ]  # fmt: skip
    if len({round(mm / SAME_MM) for _, mm in points}) < 2:
        return None
    now = context.known.get("actual")
    try:
        result = series(tuple(point_of(field, mm) for field, mm in points))
    except NoSeries as error:
        return SeriesTold(frames=len(points), reading=None, now_mm=now, verdict="ok", lines=(), because=str(error))
    lines = [
        text(
            "Best corners at back focus {best_mm} ± {error_mm}.",
            best_mm=Value(result.best_mm, digits=2),
            error_mm=Value(result.error_mm, "mm", 2),
        )
    ]
    off = None if now is None else now - result.best_mm
    asked = context.known.get("required")
    if asked is not None:
        lines.append(text("Required {asked}, filter glass included.", asked=Value(asked, "mm", 2)))
    tolerance = context.of(Spacing).tolerance[0]
    verdict: Verdict = "ok"
    if off is not None:
        within = abs(off) <= max(tolerance or 0.0, result.error_mm)
        verdict = "ok" if within else "warning"
        way = "too long" if off > 0 else "too short"
        lines.append(
            text(
                "Now {now}: {x}.",
                now=Value(now, "mm", 2),
                x="OK" if within else text("{off} {way}", off=Value(abs(off), "mm", 2), way=way),
            )
        )
    label, lays, change = _laid(context, result)
    return SeriesTold(
        frames=len(points),
        reading=result,
        now_mm=now,
        verdict=verdict,
        lines=tuple(lines),
        label=label,
        lays=lays,
        change=change,
    )


def _laid(context: Context, found: SpacingSeries) -> tuple[str, bool, tuple[PatchOperation, ...]]:
    """The best spacing as the corrector's measured back focus, and the rings it takes."""
    correctors = context.light.correctors
    if not correctors:
        return "", False, ()
    part: Corrector = correctors[-1]
    value = round(found.best_mm - context.of(Spacing).train.glass_shift, 2)
    if not quantities(Corrector)["back_focus_mm"].takes(value):
        return "", False, ()
    at = next(i for i, item in enumerate(context.rig.path) if item.part is part)
    measured = Measurement(value=value, instrument=f"series of {len(found.points)} spacings")
    kept = part.model_copy(update={"measured": {**part.measured, "back_focus_mm": measured}})
    attempt = relaid(
        context,
        text("Set the back focus of the {part} to {value}", value=Value(value, "mm", 2), part=part.name),
        (Edit("replace", ("path", at, "part"), kept),),
    )
    after = apply(context.rig, attempt.edits)
    if not keepable(after):
        return "", False, ()
    facts = Spacing(after, LightPath.of(after), context.preferences)
    stands = facts.train.actual
    lays = stands is not None and abs(stands - found.best_mm) <= (facts.tolerance[0] or found.error_mm) + SAME_MM
    return str(attempt.label), lays, tuple(edit.operation() for edit in attempt.edits)


class FocusChoice(Model):
    """Stars of a curved field, FWHM in px in the middle and in the corner: focused in the middle, and on a star two thirds out."""

    middle: tuple[float, float]
    two_thirds: tuple[float, float]


def focus_choice(reading: FrameReading) -> FocusChoice | None:
    """What focusing two thirds out would give, of a field that is sharp in the middle and soft all around; None of others.

    A curved field is out of focus by r²: with its corner C px wide of that, the middle takes (4/9)² C² and the corner (5/9)² C².
    """
    field = reading.field
    if field is None or field.bowl < 0.25 or hypot(*field.saddle) > 0.4 * field.bowl or field.slope_size > field.bowl:
        return None
    sharp, bent = _curved(reading)
    if bent <= 0 or sharp <= 0:
        return None
    corner = sharp + bent
    shift = 4 / 9
    return FocusChoice(
        middle=(sharp**0.5, corner**0.5),
        two_thirds=((sharp + shift**2 * bent) ** 0.5, (sharp + (1 - shift) ** 2 * bent) ** 0.5),
    )


def _curved(reading: FrameReading) -> tuple[float, float]:
    """Stars' squared widths in the middle, and by how much they grow to the corner with r⁴, px²."""
    half = hypot(reading.width, reading.height) / 2
    rows = [
        (((star.x - 0.5) * reading.width) ** 2 + ((star.y - 0.5) * reading.height) ** 2, star.fwhm_px**2)
        for star in reading.stars
    ]
    r2, t = (np.array(column) for column in zip(*rows, strict=True))
    fit, _, _ = robust(np.stack([np.ones_like(r2), (r2 / half**2) ** 2], 1), t, np.ones_like(t))
    return float(fit[0]), float(fit[1])
