"""Rules of short paths: a camera on a fixed tripod, and a video camera on the planets."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Judgement, rule, with_attempts
from dravel.core.model import worst
from dravel.core.model.words import Value, text
from dravel.core.moves.parts import correctors_laid
from dravel.core.moves.subs import LONG_S, ROUNDED, planned_sub, seconds_words
from dravel.core.physics import optics
from dravel.core.steps.optics.limits import DISK, TRAIL, UNTRACKED

PLANETARY_LOW, PLANETARY_HIGH = 3.0, 5.0


@rule(
    "V1",
    "Untracked exposure limit",
    checks="Planned sub against the longest exposure with 1 px of trail, at each target's declination.",
    why="Without tracking stars trail; away from the pole within seconds.",
    formula="t = scale / (15.041″/s · cos δ)",
    source="geometry; the 500 rule (common practice) is shown for comparison",
    fix="Shorter exposures stacked, a shorter focal length, or a tracker.",
    needs=("pixel", "focal_length"),
    limits=(TRAIL, UNTRACKED),
)
def fixed_tripod(context: Context) -> Iterator[Judgement]:
    """V1: nothing follows the sky: the limit is told for each target; a longer sub trails, half a second is short."""
    if not context.rig.stands_still and "untracked" not in context.rig.purposes:
        return
    sub = context.rig.guide.sub_s
    pixel, focal_length = context.value("pixel"), context.value("focal_length")
    limit = text("≤ {TRAIL} of trail", TRAIL=TRAIL.bound)
    habit = optics.untracked_habit_s(focal_length)
    figures = ("optics.untracked_limit_s", "optics.untracked_habit_s")
    framed: list[tuple[str | None, float]] = [(f.target.name, f.target.dec_deg) for f in context.rig.framings]
    for subject, declination in framed or [(None, 0.0)]:
        seconds = optics.untracked_limit_s(pixel, focal_length, declination)
        answer = seconds_words(seconds) if seconds <= LONG_S else text("no limit", "no_limit")
        verdict = worst((TRAIL.verdict(sub / seconds / ROUNDED), UNTRACKED.verdict(seconds)))
        where = (
            text("At declination {declination}", declination=Value(declination, "°", 0))
            if subject
            else text("At the equator")
        )
        reason = text(
            "{where} 1 px of trail takes {told}; 500 rule: {habit}.",
            where=where,
            told=answer,
            habit=seconds_words(habit),
        )
        if sub > seconds * ROUNDED:
            title, measure = text("Stars trail"), text("{sub} of {told}", sub=Value(sub), told=answer)
            reason += text(
                " The planned {sub} trails {sub_2}.",
                sub=Value(sub, form="exposure"),
                sub_2=Value(sub / seconds, "px", 0),
            )
        else:
            title = (
                text("Stars trail almost at once", "trails_at_once")
                if verdict == "warning"
                else text("Untracked exposure OK")
            )
            measure = answer
            reason += text(" Planned: {sub}.", sub=Value(sub, form="exposure"))
        judgement = Judgement(verdict, title, reason, limit, measure, figures, subject=subject)
        yield with_attempts(judgement, (planned_sub(seconds, context.rig),) if sub > seconds * ROUNDED else ())


@rule(
    "V2",
    "Planetary focal ratio",
    checks="Focal ratio against pixel size: 3–5 × pixel size in µm.",
    why="Faster undersamples the resolution of the aperture; slower dims the image without gain.",
    formula="3 · p ≤ N ≤ 5 · p (p in µm); Nyquist: 2p / λ",
    source="diffraction cut-off 1/(λN) with Nyquist; the factors 3 to 5 are common practice",
    fix="A different Barlow, or none.",
    needs=("pixel", "focal_ratio"),
)
def planetary_ratio(context: Context) -> Iterator[Judgement]:
    """V2: planetary focal ratio against pixel size."""
    if "planetary" not in context.rig.purposes:
        return
    pixel, ratio = context.value("pixel"), context.value("focal_ratio")
    low, high = PLANETARY_LOW * pixel, PLANETARY_HIGH * pixel
    limit = text(
        "f/{low}–f/{high} for {pixel}",
        low=Value(low, digits=0),
        high=Value(high, digits=0),
        pixel=Value(pixel, "µm", 1),
    )
    reason = text(
        "f/{ratio}; Nyquist at 550 nm: f/{pixel}.",
        ratio=Value(ratio, digits=1),
        pixel=Value(optics.planetary_ratio(pixel), digits=1),
    )
    figures = ("optics.focal_ratio", "optics.planetary_ratio")
    measure = text("f/{ratio}", ratio=Value(ratio, digits=1))
    if low <= ratio <= high:
        yield Judgement("ok", text("Planetary focal ratio OK"), reason, limit, measure, figures)
        return
    title = (
        text("Focal ratio too fast", "ratio_too_fast")
        if ratio < low
        else text("Focal ratio too slow", "ratio_too_slow")
    )
    judgement = Judgement("warning", title, reason, limit, measure, figures)
    yield with_attempts(judgement, correctors_laid(context, "extender" if ratio < low else "reducer"))


@rule(
    "V3",
    "Planet/Moon disk in pixels",
    checks="Diameter of the Moon or planet in pixels on this date.",
    why="Planetary detail depends on the disk diameter in pixels, which changes by half and more within a year.",
    formula="disk = apparent diameter / pixel scale",
    source="geometry; positions and sizes from the IAU routines; 60 px is a default threshold",
    fix="A Barlow, or a date nearer to opposition.",
    needs=("pixel_scale", "field_height"),
    limits=(DISK,),
)
def disk_in_pixels(context: Context) -> Iterator[Judgement]:
    """V3: disk size in pixels on the date; a planetary rig strains where it is small."""
    scale = context.value("pixel_scale")
    planetary = "planetary" in context.rig.purposes
    limit = text("≥ {DISK} across", DISK=DISK.bound)
    for framing in context.rig.framings:
        target = framing.target
        if target.body is None or target.major_arcmin is None:
            continue
        across = target.major_arcmin * 60 / scale
        small = planetary and DISK.verdict(across) != "ok"
        title = (
            text("{body} small on the sensor", body=target.body)
            if small
            else text("{body} disk size OK", body=target.body)
        )
        measure = Value(across, "px", 0)
        reason = text(
            "{major_arcmin} on this date, at {scale}.",
            major_arcmin=Value(target.major_arcmin * 60, "″", 1),
            scale=Value(scale, "″/px", 2),
        )
        judgement = Judgement(
            "warning" if small else "ok", title, reason, limit, measure, ("optics.pixel_scale_arcsec_px",),
            subject=target.name,
        )  # fmt: skip
        yield with_attempts(judgement, correctors_laid(context, "extender"))
