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
    "guiding": "Stars are long in one direction",
    "tilt": "The sensor leans",
    "spacing": "Corners differ from the middle",
    "turning": "The field turns",
    "soft": "Stars are large everywhere",
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
    found = [
        one
        for one in (
            _guiding(field, expected), _tilt(field, expected), _corners(field, expected), _soft(field, expected),
        )
        if one is not None
    ]  # fmt: skip
    return tuple(sorted(found, key=lambda one: -one.score))


def _guiding(field: FieldShape, expected: Expected) -> FrameCause | None:
    size = hypot(*field.uniform)
    if size < UNIFORM or size < SURE * field.errors[2]:
        return None
    longer = field.elongation - 1
    # What drives them apart: both axes' difference in squared widths, as an RMS along the long one.
    rms = sqrt(2 * size) * field.middle_fwhm / 2.3548
    told = [
        text(
            "All over the field stars are {longer} longer than wide, along {angle_deg}.",
            longer=Value(longer, form="share"),
            angle_deg=Value(field.angle_deg, "°", 0),
        )
    ]
    against: list[Text] = []
    if expected.guide_rms_px is not None:
        words = text(
            "It takes {rms} RMS along one axis; the rig's budget has {guide_rms_px}.",
            rms=Value(rms, "px", 2),
            guide_rms_px=Value(expected.guide_rms_px, "px", 2),
        )
        (told if rms <= 1.6 * expected.guide_rms_px else against).append(words)
    if not expected.guided:
        told.append(text("The rig is not guided."))
    return FrameCause(
        key="guiding", title=TITLES["guiding"], score=round(size / UNIFORM, 2),
        says="Guiding, wind, or a drift of the pole: the same everywhere.", speaks_for=tuple(told),
        speaks_against=tuple(against),
        test="Take a sub of a tenth of the length: round stars there say it grows with time. The guide log of the same minutes tells "
        "which axis.",
        change="Look at the guide log; balance a little east-heavy, calibrate anew, or plan shorter subs.",
    )  # fmt: skip


def _tilt(field: FieldShape, expected: Expected) -> FrameCause | None:
    saddle = hypot(*field.saddle)
    size = max(field.slope_size, saddle)
    if size < TILT or size < SURE * field.errors[0]:
        return None
    told: list[Text] = []
    against: list[Text] = []
    if field.slope_size >= saddle / 2:
        told.append(
            text(
                "Stars grow by {slope_size} of their squared width from the middle to an edge, towards {slope_deg}.",
                slope_size=Value(field.slope_size, form="share"),
                slope_deg=Value(round(field.slope_deg) % 360, "°"),
            )
        )
    else:
        told.append(text("Two opposite sides are soft and a band between them is sharp."))
    if (um := tilt_um(field, expected)) is not None:
        told.append(
            text(
                "About {um} from edge to edge would do this; the direction's sign cannot be told from one frame.",
                um=Value(um, "µm", 0),
            )
        )
    if expected.sag_um is not None:
        told.append(
            text("The train is reckoned to sag by {sag_um}.", sag_um=Value(expected.sag_um, "µm", 0))
        ) if expected.sag_um > 8 else against.append(
            text("The train is reckoned to sag by {sag_um} only.", sag_um=Value(expected.sag_um, "µm", 0))
        )
    return FrameCause(
        key="tilt", title=TITLES["tilt"], score=round(size / TILT, 2),
        says="Tilt or sag: one side in focus, the other not.", speaks_for=tuple(told), speaks_against=tuple(against),
        test="Turn the camera by 180° and take another: soft on the same side of the picture, it sits at the camera; on the other side, at "
        "the focuser. Five frames through focus measure it.",
        change="Tighten the joint that leans; then a tilt plate by what the focus sweep says.",
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
    told: list[Text] = []
    against: list[Text] = []
    if abs(field.radial) > RADIAL:
        way = "outwards" if field.radial > 0 else "around the middle"
        told.append(
            text(
                "Stars in the corners lie {way}: a hint of the corrector's distance, not a proof of its sign.", way=way
            )
        )
    if bowl > BOWL:
        told.append(text("Corners are {x} wider than the middle.", x=Value(sqrt(max(1 + bowl, 0)) - 1, form="share")))
        off = field.slope_size / (2 * field.bowl)  # the foot of slope and bowl
        if off > OFF_CENTRE:
            told.append(
                text(
                    "The sharpest place lies {off} of half the diagonal off the middle: the sensor is not centred, or leans.",
                    off=Value(off, form="share"),
                )
            )
    error, tolerance = expected.spacing_error_mm, expected.spacing_tolerance_mm
    if error is not None and tolerance is not None:
        words = text(
            "By its parts the spacing is {error} off, {tolerance} are allowed.",
            error=Value(error, "mm", 1, form="signed"),
            tolerance=Value(tolerance, "mm", 1),
        )
        (told if abs(error) > tolerance else against).append(words)
    if expected.within_circle is False:
        told.append(text("The sensor reaches beyond the image circle."))
    says = (
        "The corrector's spacing, or the field's own curve."
        if expected.corrected
        else "The field curves: there is no corrector."
    )
    return FrameCause(
        key="spacing", title=TITLES["spacing"], score=round(size, 2), says=says, speaks_for=tuple(told),
        speaks_against=tuple(against),
        test="Change the spacing by one ring and take another frame: three spacings give the best one.",
        change="Lay a ring of 0.5 to 1 mm less or more, and measure again." if expected.corrected
        else "A flattener; or focus on a star two thirds out.",
    )  # fmt: skip


def _turning(field: FieldShape, expected: Expected) -> FrameCause:
    told = [text("Stars lie around the middle, the more the farther out, and are no wider across.")]
    if expected.alt_azimuth:
        told.append(text("The mount stands on an azimuth axis: every field turns on it."))
    against: list[Text] = []
    if expected.polar_error_arcmin is not None and not expected.alt_azimuth:
        words = text(
            "The pole is taken to be met within {polar_error_arcmin}.",
            polar_error_arcmin=Value(expected.polar_error_arcmin, "′"),
        )
        (against if expected.polar_error_arcmin < 10 else told).append(words)
    return FrameCause(
        key="turning", title=TITLES["turning"], score=round(-field.radial / RADIAL, 2), says="Polar error, or an azimuth mount.",
        speaks_for=tuple(told), speaks_against=tuple(against),
        test="Take a sub of a tenth of the length: a turning field is round there, a wrong spacing is not.",
        change="Align to the pole once more.",
    )  # fmt: skip


def _soft(field: FieldShape, expected: Expected) -> FrameCause | None:
    if expected.fwhm_px is None:
        return None
    ratio = field.middle_fwhm / expected.fwhm_px
    if ratio < SOFT:
        return None
    return FrameCause(
        key="soft", title=TITLES["soft"], score=round((ratio - 1) / (SOFT - 1), 2), says="Focus, seeing, dew, or thin cloud.",
        speaks_for=(text('In the middle stars are {middle_fwhm} wide, designed were {fwhm_px}.', middle_fwhm=Value(field.middle_fwhm, 'px', 1), fwhm_px=Value(expected.fwhm_px, 'px', 1)),),
        speaks_against=(),
        test="Focus anew and take another: what stays is the air. A brighter sky with fewer stars is cloud or dew.",
        change="Focus now.",
    )  # fmt: skip
