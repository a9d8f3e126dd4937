"""The Proof step: what was measured on a frame, beside what the rig was designed to give; and the causes of what differs."""

from math import hypot

from dravel.core.engine.context import Context
from dravel.core.frames.causes import Expected, FrameCause, causes
from dravel.core.frames.contours import WidthLine, width_lines
from dravel.core.frames.reading import FrameReading
from dravel.core.model import Verdict
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, as_text, text
from dravel.core.sky.altaz import directions, separation
from dravel.core.steps.frames.facts import expected, spacing_of
from dravel.core.steps.frames.sets import FocusChoice, focus_choice
from dravel.core.train.facts import Spacing
from dravel.core.train.lenses import words_by_factor
from dravel.core.train.throughput import in_use

SAME_SCALE = 0.002
SCALE_OFF, SIZE_OFF, SKY_OFF, CLAIM_OFF = (
    0.02,
    1.25,
    1.6,
    0.02,
)  # where a difference begins to say something; Dravel's own
POINTED, TURNED_DEG = 0.05, 2.0  # of the diagonal; of the camera
REACHED_K, FULL_SHARE = 1.5, 0.05
LIT, DARKER = 2.0, 0.08  # sky over the noise, and a share of light, that begin to say something
ROUND = 1.08  # longer than this over wide, and a star looks long


class FrameHeld(Model):
    """One figure, as designed and as measured, in words; the verdict says whether they agree."""

    title: Text
    designed: Text
    measured: Text
    verdict: Verdict
    words: Text = Text("")


class FrameProof(Model):
    """A frame against its rig: what agrees and what does not, and why, the likeliest first. Empty causes: nothing stands out."""

    held: tuple[FrameHeld, ...]
    causes: tuple[FrameCause, ...]
    words: Text
    measured_focal_mm: float | None
    measured_at_mm: float | None
    focus: FocusChoice | None
    lines: tuple[WidthLine, ...]


def proof(context: Context, reading: FrameReading) -> FrameProof:
    """A frame against the rig that is said to have taken it."""
    expects = expected(context, reading)
    result = causes(reading.field, expects) if reading.field is not None else ()
    if reading.field is None:
        words = text("No map: {because}.", because=reading.because)
    elif result:
        words = text("{title}: {says}", title=result[0].title, says=result[0].says)
    else:
        words = text("No fault found: stars are as even and as small as designed.")
    scale, focal = context.known.get("pixel_scale"), context.known.get("focal_length")
    solved = reading.scale_arcsec
    if scale and solved and abs(solved / scale - 1) < SAME_SCALE:
        solved = None  # it is the one that counts already
    return FrameProof(
        held=tuple(_held(context, reading, expects)), causes=result, words=words,
        measured_focal_mm=round(focal * scale / solved, 1) if scale and focal and solved else None,
        measured_at_mm=spacing_of(context, reading), focus=focus_choice(reading),
        lines=width_lines(reading.field, reading.width, reading.height) if reading.field is not None else (),
    )  # fmt: skip


def _held(context: Context, reading: FrameReading, expects: Expected) -> list[FrameHeld]:
    known, claims = context.known, reading.claims
    scale = known.get("pixel_scale")
    results = []
    camera = context.light.camera
    if camera is not None:
        sensor = camera.sensor
        binning = max(1, context.rig.binning)
        sides = (sensor.width_px // binning, sensor.height_px // binning)
        same = abs(reading.width - sides[0]) <= 0.02 * sides[0] and abs(reading.height - sides[1]) <= 0.02 * sides[1]
        results.append(
            _row("Pixels", f"{sides[0]} × {sides[1]}", f"{reading.width} × {reading.height}", same,
                 "" if same else "Another camera, another binning, or a cropped frame.")
        )  # fmt: skip
    pixel = known.get("pixel")
    if pixel is not None and claims.pixel_um is not None:
        same = (
            abs(claims.pixel_um / pixel - 1) < CLAIM_OFF
            or abs(claims.pixel_um * (claims.binning or 1) / pixel - 1) < CLAIM_OFF
        )
        results.append(
            _row("Pixel size", Value(pixel, 'µm', 2), Value(claims.pixel_um, 'µm', 2), same, "From the FITS header." if same else
                 "Header and part data differ: one of them is wrong, and so is the scale.")
        )  # fmt: skip
    if scale is not None and reading.scale_arcsec is not None:
        same = abs(reading.scale_arcsec / scale - 1) < SCALE_OFF
        focal = known.get("focal_length")
        words = (
            ""
            if focal is None
            else text(
                "Focal length {focal}, not {focal_2}.",
                focal=Value(focal * scale / reading.scale_arcsec, "mm", 0),
                focal_2=Value(focal, "mm", 0),
            )
            + _by_factor(context, focal * scale / reading.scale_arcsec)
        )
        results.append(
            _row("Pixel scale", Value(scale, '″', 3), Value(reading.scale_arcsec, '″', 3), same, "" if same else words)
        )  # fmt: skip
    if expects.fwhm_px is not None and reading.fwhm_px is not None:
        same = reading.fwhm_px < SIZE_OFF * expects.fwhm_px
        arcsec = "" if scale is None else text(" ({fwhm_px})", fwhm_px=Value(reading.fwhm_px * scale, "″", 1))
        results.append(
            _row(
                "Star size",
                Value(expects.fwhm_px, "px", 1),
                text("{fwhm_px}{arcsec}", fwhm_px=Value(reading.fwhm_px, "px", 1), arcsec=arcsec),
                same,
                "",
            )
        )
    if reading.elongation is not None:
        results.append(
            _row(
                "Elongation, long over short axis",
                text("up to {ROUND}", ROUND=Value(ROUND, digits=2)),
                Value(reading.elongation, digits=2),
                reading.elongation <= ROUND,
                "",
            )
        )
    if reading.field is not None:
        worst, middle = reading.field.worst_corner, reading.field.middle_fwhm
        same = worst < 1.2 * middle
        results.append(_row("Worst corner over centre", "up to 1.2 ×", Value(worst / middle, "×", 2), same, ""))
    results += _claimed(context, reading)
    results += _pointing(context, reading)
    results += _sky(context, reading)
    return results


def _by_factor(context: Context, focal_mm: float) -> str:
    """What a measured focal length says of the spacing of one corrector."""
    result, native = context.of(Spacing).lenses, context.known.get("native_focal_length")
    if not result or len(result) != 1 or result[0].given == 1 or not native:
        return ""
    return f" {words_by_factor(result[0], focal_mm / native)}"


def _pointing(context: Context, reading: FrameReading) -> list[FrameHeld]:
    """How far the middle lies from its target's frame."""
    scale, centre = reading.scale_arcsec, reading.centre
    if centre is None or scale is None:
        return []
    near = sorted(
        (
            (float(separation(directions(item.centre_ra_deg, item.centre_dec_deg), directions(*centre))[0]), item)
            for item in context.rig.framings
        ),
        key=lambda pair: pair[0],
    )  # fmt: skip
    field = hypot(reading.width, reading.height) * scale / 3600
    if not near or near[0][0] > field:
        return []
    away, framing = near[0]
    same = away < POINTED * field
    answer = (
        text("{away} off", away=Value(away * 60, "′", 1)) if away < 2 else text("{away} off", away=Value(away, "°", 1))
    )
    results = [_row("Pointing", framing.target.name, answer, same, "" if same else "Recentre with a plate solve.")]
    if reading.solution is not None and not reading.solution.mirrored:
        # The width lies a quarter turn from the picture's upright; a frame upside down is the same frame.
        angle, wanted = (90 + reading.solution.rotation_deg) % 180, framing.position_angle_deg % 180
        turned = abs((angle - wanted + 90) % 180 - 90)
        results.append(
            _row("Camera angle", Value(wanted, '°', 0), Value(angle, '°', 1), turned < TURNED_DEG,
                 "" if turned < TURNED_DEG else text("Rotated by {turned}: subs of other nights do not match.", turned=Value(turned, '°', 1)))
        )  # fmt: skip
    return results


def _claimed(context: Context, reading: FrameReading) -> list[FrameHeld]:
    """What else the header claims, beside what the rig says."""
    claims, known = reading.claims, context.known
    results = []
    focal = known.get("focal_length")
    if claims.focal_mm and focal is not None:
        same = abs(claims.focal_mm / focal - 1) < SCALE_OFF
        results.append(
            _row("Focal length, by the header", Value(focal, 'mm', 0), Value(claims.focal_mm, 'mm', 0), same, "" if same else
                 "The capture software uses another focal length.")
        )  # fmt: skip
    lit = in_use(context.rig)
    if claims.filter and lit is not None:
        names = (claims.filter.casefold(), lit.name.casefold())
        same = names[0] in names[1] or names[1] in names[0]
        results.append(
            _row("Filter", lit.name, claims.filter, same, "" if same else "The header names another filter.")
        )
    if claims.sensor_c is not None and claims.set_c is not None:
        same = abs(claims.sensor_c - claims.set_c) < REACHED_K
        results.append(
            _row("Sensor", Value(claims.set_c, '°C', 0), Value(claims.sensor_c, '°C', 1), same, "" if same else
                 "The cooler does not hold its set point: darks do not match.")
        )  # fmt: skip
    if reading.found:
        share = reading.saturated / reading.found
        results.append(
            _row("Saturated stars", text('up to {FULL_SHARE}', FULL_SHARE=Value(FULL_SHARE, form='share')), text('{saturated} of {found}', saturated=reading.saturated, found=reading.found), share <= FULL_SHARE,
                 "" if share <= FULL_SHARE else "Use shorter subs or lower gain to keep star colour.")
        )  # fmt: skip
    return results


def _sky(context: Context, reading: FrameReading) -> list[FrameHeld]:
    """The sky's light against the design's, where the header says enough to know electrons and seconds."""
    claims = reading.claims
    designed = context.known.get("sky_e")
    if not claims.electrons_adu or not claims.exposure_s or claims.offset_adu is None or designed is None:
        return []
    measured = (reading.sky_adu - claims.offset_adu) * claims.electrons_adu / claims.exposure_s
    ratio = measured / designed if designed > 0 else 0.0
    same = 1 / SKY_OFF < ratio < SKY_OFF
    words = (
        ""
        if same
        else "Brighter than the site's sky: moon, haze, lamps or dew."
        if ratio > 1
        else "A darker sky, or less light."
    )
    results = [
        _row(
            "Sky",
            text("{designed} e⁻/s", designed=Value(designed, digits=2)),
            text("{measured} e⁻/s", measured=Value(measured, digits=2)),
            same,
            words,
        )
    ]
    corner = context.known.get("corner_light")
    if reading.middle_adu is None or reading.corner_adu is None or corner is None:
        return results
    lit = reading.middle_adu - claims.offset_adu
    if lit > LIT * reading.noise_adu:  # a sky that hardly shows tells nothing of its corners
        light = (reading.corner_adu - claims.offset_adu) / lit
        same = light > corner - DARKER
        results.append(
            _row("Light in the corners", Value(corner, form='share'), Value(light, form='share'), same, "" if same else
                 "Vignetting not explained by the parts' openings: look through the train against a bright wall.")
        )  # fmt: skip
    return results


def _row(title: Words, designed: Words, measured: Words, same: bool, words: Words) -> FrameHeld:
    return FrameHeld(
        title=as_text(title),
        designed=as_text(designed),
        measured=as_text(measured),
        verdict="ok" if same else "warning",
        words=as_text(words),
    )


def steady(readings: tuple[FrameReading, ...]) -> tuple[Words, ...]:
    """What a night's frames say together: signs that most of them share, and trends."""
    fields = [reading.field for reading in readings if reading.field is not None]
    if len(fields) < 3:
        return ()
    phrases: list[Words] = []
    uniform = [hypot(*field.uniform) for field in fields]
    if min(uniform) < 0.04 < 0.08 < max(uniform):
        phrases.append("Only some frames are elongated: gusts or the guide star, not the optics.")
    sizes = [field.middle_fwhm for field in fields]
    if sizes[-1] > 1.2 * sizes[0] and sorted(sizes) == sizes:
        phrases.append(
            text(
                "FWHM grows from {sizes} to {sizes_2} over the frames: focus drift.",
                sizes=Value(sizes[0], digits=1),
                sizes_2=Value(sizes[-1], "px", 1),
            )
        )
    return tuple(phrases)
