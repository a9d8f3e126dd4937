"""Rules of proof: signs on the newest frame, each beyond what this rig should show. Without a frame they are silent."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.limit import Limit
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.frames import causes as signs
from dravel.core.frames.causes import CauseKey
from dravel.core.model import Measurement
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, joined, text
from dravel.core.steps.frames.facts import Proofs, spacing_of

SHOWN = "default thresholds, set on simulated frames and tested"
LONG = Limit(signs.UNIFORM, None, "of the squared width", SHOWN)
LEANS = Limit(signs.TILT, None, "of the squared width", SHOWN)
CORNERS = Limit(signs.BOWL, None, "of the squared width", SHOWN)
TURNED = Limit(signs.RADIAL, None, "of the squared width", SHOWN)
SOFT = Limit(signs.SOFT, None, "× the designed FWHM", SHOWN)
SCALE = Limit(0.02, None, "%", "default threshold")
METHOD = "Moffat 1969; smooth terms fitted to the stars' squared widths over the field"


def _sign(context: Context, key: CauseKey, limit: Limit, good: Text) -> Iterator[Judgement]:
    """What the newest frame says of one cause."""
    own = context.of(Proofs)
    if own.newest is None or own.newest.field is None:
        return
    cause = own.causes.get(key)
    if cause is None:
        yield Judgement(
            "ok", good, text("On {newest}.", newest=own.newest.name), limit.words, "", subject=own.newest.name
        )
        return
    words = joined(" ", (*cause.speaks_for, *cause.speaks_against))
    yield Judgement(
        "warning", cause.title, text("{words} Distinguishing test: {test} Next step: {change}", words=words, test=cause.test, change=cause.change), limit.words,
        text('{score} the limit', score=Value(cause.score, '×', 1)), subject=own.newest.name,
    )  # fmt: skip


@rule(
    "F1", "Elongation, one direction",
    checks="Whether stars are elongated equally and in the same direction across the field.",
    why="Guiding, wind and drift affect every star equally; optics do not.",
    formula="|E| / T alike everywhere ≤ 0.08", source=METHOD, fix="Check the guide log.", limits=(LONG,),
)  # fmt: skip
def guiding(context: Context) -> Iterator[Judgement]:
    """F1: guiding, wind, polar drift."""
    yield from _sign(context, "guiding", LONG, text("Elongation OK"))


@rule(
    "F2", "Sensor tilt",
    checks="Whether one side is soft and the other sharp, or a sharp band is between two soft sides.",
    why="A tilted sensor is in focus along one line at best.",
    formula="slope or quadrupole of T ≤ 0.15", source=METHOD, fix="The tilted connection; a tilt plate.", limits=(LEANS,),
)  # fmt: skip
def tilt(context: Context) -> Iterator[Judgement]:
    """F2: tilt, sag."""
    yield from _sign(context, "tilt", LEANS, text("Sensor tilt OK"))


@rule(
    "F3", "Corner FWHM vs centre",
    checks="Whether stars grow or elongate radially or tangentially towards all corners equally.",
    why="Wrong back focus, or no corrector, makes corners worse than the centre.",
    formula="bowl of T less its quadrupole ≤ 0.12, radial E ≤ 0.05", source=METHOD, fix="Change the spacing and take another frame.",
    limits=(CORNERS, TURNED),
)  # fmt: skip
def corners(context: Context) -> Iterator[Judgement]:
    """F3: spacing of the corrector, curvature. A frame of another spacing says nothing of this one."""
    if context.of(Proofs).spacing_moved:
        return
    yield from _sign(context, "spacing", CORNERS, text("Corner FWHM OK"))


@rule(
    "F4", "Field rotation",
    checks="Whether stars are tangentially elongated, more so farther out, without growing radially.",
    why="Field rotation trails all stars except at the rotation centre.",
    formula="radial E below −0.05 and as large as T's growth", source=METHOD, fix="Polar alignment.", limits=(TURNED,),
)  # fmt: skip
def turning(context: Context) -> Iterator[Judgement]:
    """F4: polar error, azimuth mounts."""
    yield from _sign(context, "turning", TURNED, text("Field rotation OK"))


@rule(
    "F5", "High FWHM across the field",
    checks="Whether central FWHM exceeds the designed value under the site's seeing.",
    why="Focus, seeing, dew and thin cloud widen all stars alike.",
    formula="FWHM in the middle / FWHM designed ≤ 1.25", source=METHOD, fix="Refocus; then wait for better seeing.", limits=(SOFT,),
)  # fmt: skip
def soft(context: Context) -> Iterator[Judgement]:
    """F5: focus, seeing."""
    yield from _sign(context, "soft", SOFT, text("FWHM OK"))


@rule(
    "F6", "Image scale",
    checks="Plate-solved pixel scale against the designed one.",
    why="A corrector off its factor, or a telescope off its nominal focal length, shows first in the scale.",
    formula="|scale solved / scale designed − 1| ≤ 2%", source="plate solution in the header (Greisen & Calabretta 2002), else pattern matching (Groth 1986)",
    fix="Save the measured focal length.", limits=(SCALE,),
)  # fmt: skip
def scale(context: Context) -> Iterator[Judgement]:
    """F6: scale, focal length, factor."""
    reading, designed, focal = (
        context.of(Proofs).newest,
        context.known.get("pixel_scale"),
        context.known.get("focal_length"),
    )
    if reading is None or reading.scale_arcsec is None or designed is None or focal is None:
        return
    off = reading.scale_arcsec / designed - 1
    verdict = SCALE.verdict(abs(off))
    measured = focal / (1 + off)
    title = text("Image scale OK") if verdict == "ok" else text("Image scale off")
    reason = text(
        "Plate-solved scale {scale_arcsec}/px, designed {designed}/px: focal length {measured} instead of {focal}.",
        scale_arcsec=Value(reading.scale_arcsec, "″", 3),
        designed=Value(designed, "″", 3),
        measured=Value(measured, "mm", 0),
        focal=Value(focal, "mm", 0),
    )
    judgement = Judgement(
        verdict, title, reason, SCALE.words, Value(off * 100, "%", 1, form="signed"), subject=reading.name
    )
    yield with_attempts(
        judgement,
        (
            Attempt(
                text("Set the measured focal length to {measured}", measured=Value(measured, "mm", 0)),
                (
                    Edit(
                        "replace",
                        ("measured_focal_length_mm",),
                        Measurement(
                            value=round(measured, 1), instrument="plate solution", at_mm=spacing_of(context, reading)
                        ),
                    ),
                ),
            ),
        ),
    )
