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
from dravel.core.steps.proof.facts import Proofs, spacing_of

SHOWN = "Dravel's own, set on simulated frames and held to their rates by a test"
LONG = Limit(signs.UNIFORM, None, "of the squared width", SHOWN)
LEANS = Limit(signs.TILT, None, "of the squared width", SHOWN)
CORNERS = Limit(signs.BOWL, None, "of the squared width", SHOWN)
TURNED = Limit(signs.RADIAL, None, "of the squared width", SHOWN)
SOFT = Limit(signs.SOFT, None, "× the designed width", SHOWN)
SCALE = Limit(0.02, None, "%", "Dravel's own")
METHOD = "Moffat 1969; smooth terms fitted to the stars' squared widths over the field"


def _sign(context: Context, key: CauseKey, limit: Limit, good: Text) -> Iterator[Judgement]:
    """What the newest frame says of one cause."""
    own = context.of(Proofs)
    if own.newest is None or own.newest.field is None:
        return
    cause = own.causes.get(key)
    if cause is None:
        yield Judgement(
            "holds", good, text("On {newest}.", newest=own.newest.name), limit.words, "", subject=own.newest.name
        )
        return
    words = joined(" ", (*cause.speaks_for, *cause.speaks_against))
    yield Judgement(
        "strains", cause.title, text('{words} Test: {test} Next: {change}', words=words, test=cause.test, change=cause.change), limit.words,
        text('{score} the limit', score=Value(cause.score, '×', 1)), subject=own.newest.name,
    )  # fmt: skip


@rule(
    "F1", "Elongation, one direction",
    checks="Whether stars are longer than wide by the same amount and along the same way all over the field.",
    why="Guiding, wind and drift do the same to every star; optics do not.",
    formula="|E| / T alike everywhere ≤ 0.08", source=METHOD, mend="What the guide log says.", limits=(LONG,),
)  # fmt: skip
def guiding(context: Context) -> Iterator[Judgement]:
    """F1: guiding, wind, polar drift."""
    yield from _sign(context, "guiding", LONG, text("Stars are round all over"))


@rule(
    "F2", "Sensor tilt",
    checks="Whether one side of the field is soft and the other sharp, or two sides soft and a band between them sharp.",
    why="A sensor that leans is in focus along a line at best.",
    formula="slope or quadrupole of T ≤ 0.15", source=METHOD, mend="The joint that leans; a tilt plate.", limits=(LEANS,),
)  # fmt: skip
def tilt(context: Context) -> Iterator[Judgement]:
    """F2: tilt, sag."""
    yield from _sign(context, "tilt", LEANS, text("The sensor stands square"))


@rule(
    "F3", "Corner FWHM vs centre",
    checks="Whether stars grow, or lie outwards or around, towards all corners alike.",
    why="A corrector at the wrong distance, or none, leaves the corners worse than the middle.",
    formula="bowl of T less its quadrupole ≤ 0.12, radial E ≤ 0.05", source=METHOD, mend="A ring more or less, and another frame.",
    limits=(CORNERS, TURNED),
)  # fmt: skip
def corners(context: Context) -> Iterator[Judgement]:
    """F3: spacing of the corrector, curvature. A frame of another spacing says nothing of this one."""
    if context.of(Proofs).spacing_moved:
        return
    yield from _sign(context, "spacing", CORNERS, text("Corners are as the middle"))


@rule(
    "F4", "Field rotation",
    checks="Whether stars lie around the middle, longer the farther out, without being wider across.",
    why="A field that turns during a sub trails every star but those at the point it turns about.",
    formula="radial E below −0.05 and as large as T's growth", source=METHOD, mend="Polar alignment.", limits=(TURNED,),
)  # fmt: skip
def turning(context: Context) -> Iterator[Judgement]:
    """F4: polar error, azimuth mounts."""
    yield from _sign(context, "turning", TURNED, text("The field stands still"))


@rule(
    "F5", "High FWHM across the field",
    checks="Whether stars in the middle are larger than the rig was designed to give under its site's seeing.",
    why="Focus, seeing, dew and thin cloud widen all stars alike.",
    formula="FWHM in the middle / FWHM designed ≤ 1.25", source=METHOD, mend="Focus; then wait for the air.", limits=(SOFT,),
)  # fmt: skip
def soft(context: Context) -> Iterator[Judgement]:
    """F5: focus, seeing."""
    yield from _sign(context, "soft", SOFT, text("Stars are as small as designed"))


@rule(
    "F6", "Image scale",
    checks="The pixel scale that was solved on the frame against the designed one.",
    why="A corrector that does not work at its figure, or a telescope off its nominal length, shows in the scale first.",
    formula="|scale solved / scale designed − 1| ≤ 2 %", source="plate solution in the header (Greisen & Calabretta 2002), else by the frame's own stars (Groth 1986)",
    mend="Take the focal length as measured.", limits=(SCALE,),
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
    title = text("Scale is as designed") if verdict == "holds" else text("Scale is not as designed")
    reason = text(
        "Solved {scale_arcsec} a pixel, designed {designed}: a focal length of {measured} against {focal}.",
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
