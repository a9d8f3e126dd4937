"""Why stars are not what they should be: causes ranked by how well they explain a field, each with what speaks for and against.

Limits are shares of the stars' squared width in the middle (see `field`); they were set on simulated frames and are held to their
rates by a test (docs/proof.md). One frame gives tilt no sign, and cannot tell too long a spacing from too short: it is said.
"""

from dataclasses import dataclass
from math import hypot, sqrt
from typing import Literal

from dravel.core.frames.field import FieldShape
from dravel.core.frames.sweep import DISC
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, text

UNIFORM, TILT, BOWL, RADIAL, SOFT = 0.08, 0.15, 0.12, 0.05, 1.25
OFF_CENTRE = 0.2  # of half the diagonal
SURE = 4.0  # how many of its errors a term must be
TURNS = 0.72  # of a turning field, E grows nearly as fast as T
CauseKey = Literal["guiding", "tilt", "spacing", "turning", "soft"]
TITLES: dict[CauseKey, str] = {
    "guiding": "Stars elongated in one direction",
    "tilt": "Sensor tilt",
    "spacing": "Corner stars larger than centre",
    "turning": "Field rotation",
    "soft": "High FWHM across the field",
}


@dataclass(frozen=True)
class Expected:
    """What the rig was designed to give, None where it is not known: star size and guiding in px, spacing error and tolerance in
    mm, sag in µm, whether a corrector is in the light, whether the sensor lies within the image circle, focal ratio, pixel in µm.
    """

    fwhm_px: float | None = None
    guide_rms_px: float | None = None
    spacing_error_mm: float | None = None
    spacing_tolerance_mm: float | None = None
    sag_um: float | None = None
    corrected: bool = False
    within_circle: bool | None = None
    ratio: float | None = None
    pixel_um: float | None = None
    guided: bool = True
    alt_azimuth: bool = False
    polar_error_arcmin: float | None = None


class FrameCause(Model):
    """A cause. `score`: how far its sign is over the limit (1 is at it). `test` separates it from the next, `change` is the one thing
    to do next.
    """

    key: CauseKey
    title: Text
    score: float
    says: Text
    speaks_for: tuple[Text, ...]
    speaks_against: tuple[Text, ...]
    test: Text
    change: Text


def causes(field: FieldShape, expected: Expected) -> tuple[FrameCause, ...]:
    """The causes of a field, the strongest first; empty where nothing stands out."""
    results = [
        item
        for item in (
            _guiding(field, expected), _tilt(field, expected), _corners(field, expected), _soft(field, expected),
        )
        if item is not None
    ]  # fmt: skip
    return tuple(sorted(results, key=lambda item: -item.score))


def _guiding(field: FieldShape, expected: Expected) -> FrameCause | None:
    size = hypot(*field.uniform)
    if size < UNIFORM or size < SURE * field.errors[2]:
        return None
    longer = field.elongation - 1
    # What drives them apart: both axes' difference in squared widths, as an RMS along the long one.
    rms = sqrt(2 * size) * field.middle_fwhm / 2.3548
    lines = [
        text(
            "Elongation {longer} along {angle_deg} across the whole field.",
            longer=Value(longer, form="share"),
            angle_deg=Value(field.angle_deg, "°", 0),
        )
    ]
    against: list[Text] = []
    if expected.guide_rms_px is not None:
        words = text(
            "That is {rms} RMS along one axis; predicted {guide_rms_px}.",
            rms=Value(rms, "px", 2),
            guide_rms_px=Value(expected.guide_rms_px, "px", 2),
        )
        (lines if rms <= 1.6 * expected.guide_rms_px else against).append(words)
    if not expected.guided:
        lines.append(text("Guiding is off."))
    return FrameCause(
        key="guiding", title=TITLES["guiding"], score=round(size / UNIFORM, 2),
        says="Guiding, wind or polar drift: equal everywhere.", speaks_for=tuple(lines),
        speaks_against=tuple(against),
        test="Take a sub of one tenth the length: if stars are round, the error grows with time. The guide log shows which axis.",
        change="Check the guide log; balance slightly east-heavy, recalibrate, or use shorter subs.",
    )  # fmt: skip


def _tilt(field: FieldShape, expected: Expected) -> FrameCause | None:
    saddle = hypot(*field.saddle)
    size = max(field.slope_size, saddle)
    if size < TILT or size < SURE * field.errors[0]:
        return None
    sentences: list[Text] = []
    against: list[Text] = []
    if field.slope_size >= saddle / 2:
        sentences.append(
            text(
                "FWHM² grows by {slope_size} from centre to edge, towards {slope_deg}.",
                slope_size=Value(field.slope_size, form="share"),
                slope_deg=Value(round(field.slope_deg) % 360, "°"),
            )
        )
    else:
        sentences.append(text("Two opposite sides are soft, a band between them is sharp."))
    if (um := tilt_um(field, expected)) is not None:
        sentences.append(
            text("Corresponds to about {um} edge to edge; one frame does not show the sign.", um=Value(um, "µm", 0))
        )
    if expected.sag_um is not None:
        sentences.append(
            text("Predicted sag {sag_um}.", sag_um=Value(expected.sag_um, "µm", 0))
        ) if expected.sag_um > 8 else against.append(
            text("Predicted sag only {sag_um}.", sag_um=Value(expected.sag_um, "µm", 0))
        )
    return FrameCause(
        key="tilt", title=TITLES["tilt"], score=round(size / TILT, 2),
        says="Tilt or sag: one side is out of focus.", speaks_for=tuple(sentences), speaks_against=tuple(against),
        test="Rotate the camera by 180° and take another: soft on the same image side means the camera, on the other side the focuser. Five frames through focus measure it.",
        change="Tighten the tilted connection; then adjust a tilt plate using the focus sweep.",
    )  # fmt: skip


def tilt_um(field: FieldShape, expected: Expected) -> float | None:
    """About how far the sensor leans from edge to edge of its width, µm, by the growth of squared widths; None where ratio or pixel
    is not known, or it shows as a slope alone (in focus at one place only it has no scale).
    """
    if expected.ratio is None or expected.pixel_um is None:
        return None
    saddle = hypot(*field.saddle)
    if saddle < 0.05:
        return None
    # T's saddle term is half of (DISC · D)² at the edge of a unit circle: D = tilt / N / p at half a diagonal.
    disc = sqrt(2 * saddle) * field.middle_fwhm / DISC
    return 2 * disc * expected.ratio * expected.pixel_um * 0.83


def _corners(field: FieldShape, expected: Expected) -> FrameCause | None:
    bowl = field.bowl - hypot(*field.saddle)
    turning = -field.radial > TURNS * max(bowl, 1e-6) and -field.radial > RADIAL
    sure = abs(bowl) > SURE * field.errors[1] or abs(field.radial) > SURE * field.errors[3]
    size = max(bowl / BOWL, abs(field.radial) / RADIAL)
    if size < 1 or not sure:
        return None
    if turning:
        return _turning(field, expected)
    sentences: list[Text] = []
    against: list[Text] = []
    if abs(field.radial) > RADIAL:
        way = "outwards" if field.radial > 0 else "tangentially"
        sentences.append(text("Corner stars elongate {way}: a hint at back focus, not a proof of its sign.", way=way))
    if bowl > BOWL:
        sentences.append(
            text("Corner FWHM {x} larger than the centre.", x=Value(sqrt(max(1 + bowl, 0)) - 1, form="share"))
        )
        off = field.slope_size / (2 * field.bowl)  # the foot of slope and bowl
        if off > OFF_CENTRE:
            sentences.append(
                text(
                    "The sharpest point is {off} of half the diagonal off-centre: sensor decentred or tilted.",
                    off=Value(off, form="share"),
                )
            )
    error, tolerance = expected.spacing_error_mm, expected.spacing_tolerance_mm
    if error is not None and tolerance is not None:
        words = text(
            "Designed back focus error {error}, tolerance {tolerance}.",
            error=Value(error, "mm", 1, form="signed"),
            tolerance=Value(tolerance, "mm", 1),
        )
        (sentences if abs(error) > tolerance else against).append(words)
    if expected.within_circle is False:
        sentences.append(text("The sensor exceeds the image circle."))
    says = "Wrong back focus, or field curvature." if expected.corrected else "Field curvature: no corrector."
    return FrameCause(
        key="spacing", title=TITLES["spacing"], score=round(size, 2), says=says, speaks_for=tuple(sentences),
        speaks_against=tuple(against),
        test="Change the spacing by one spacer and take another frame: three spacings give the optimum.",
        change="Change spacers by 0.5–1 mm and measure again." if expected.corrected
        else "Add a flattener, or focus on a star two thirds out.",
    )  # fmt: skip


def _turning(field: FieldShape, expected: Expected) -> FrameCause:
    lines = [text("Stars elongate tangentially, more so farther out, without radial growth.")]
    if expected.alt_azimuth:
        lines.append(text("An alt-azimuth mount always has field rotation."))
    against: list[Text] = []
    if expected.polar_error_arcmin is not None and not expected.alt_azimuth:
        words = text(
            "Assumed polar alignment error {polar_error_arcmin}.",
            polar_error_arcmin=Value(expected.polar_error_arcmin, "′"),
        )
        (against if expected.polar_error_arcmin < 10 else lines).append(words)
    return FrameCause(
        key="turning", title=TITLES["turning"], score=round(-field.radial / RADIAL, 2), says="Polar error, or an alt-azimuth mount.",
        speaks_for=tuple(lines), speaks_against=tuple(against),
        test="Take a sub of one tenth the length: field rotation disappears, wrong back focus does not.",
        change="Repeat polar alignment.",
    )  # fmt: skip


def _soft(field: FieldShape, expected: Expected) -> FrameCause | None:
    if expected.fwhm_px is None:
        return None
    ratio = field.middle_fwhm / expected.fwhm_px
    if ratio < SOFT:
        return None
    return FrameCause(
        key="soft", title=TITLES["soft"], score=round((ratio - 1) / (SOFT - 1), 2), says="Focus, seeing, dew, or thin cloud.",
        speaks_for=(text("Central FWHM {middle_fwhm}, designed {fwhm_px}.", middle_fwhm=Value(field.middle_fwhm, 'px', 1), fwhm_px=Value(expected.fwhm_px, 'px', 1)),),
        speaks_against=(),
        test="Refocus and take another: what remains is seeing. A brighter sky with fewer stars means cloud or dew.",
        change="Refocus.",
    )  # fmt: skip
