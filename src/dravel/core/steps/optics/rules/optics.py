"""Rules of the Glass step: image circle, sampling, correctors, and what a solved frame says."""

from collections.abc import Iterator
from itertools import chain
from math import hypot

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, School, rule, with_attempts
from dravel.core.model import Corrector, Preferences, SchoolSays, Telescope, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.moves.parts import (
    beyond_table,
    binned,
    cameras_swapped,
    correctors_for,
    correctors_laid,
    far_outside,
    has_range,
    out_of_range,
)
from dravel.core.moves.rings import MOST_ATTEMPTS, relaid
from dravel.core.steps.optics.limits import CORNER_BLUR, CORNER_STAR, CORNER_STAR_WIDE, COVERAGE
from dravel.core.train.facts import Spacing
from dravel.core.train.lenses import words_by_factor

DESIGN_WORDS = {
    "doublet": "A doublet has a curved field",
    "triplet": "A triplet has a curved field",
    "newtonian": "A paraboloid shows coma",
    "schmidt_cassegrain": "This design has a curved field",
    "ritchey_chretien": "This design has a curved field",
    "maksutov": "This design has a curved field",
    "maksutov_newtonian": "This design has a curved field",
}


@rule(
    "O1",
    "Image circle coverage",
    checks="Whether the sensor is inside the illuminated and corrected circle of the last optical part.",
    why="Outside the circle the image darkens and stars elongate; the frame must be cropped.",
    formula="share = area of sensor ∩ circle / area of sensor",
    source="geometry; 90% is a default threshold",
    fix="A corrector with a larger circle, or a camera with a smaller sensor.",
    needs=("sensor_diagonal", "image_circle", "coverage"),
    limits=(COVERAGE,),
)
def image_circle(context: Context) -> Iterator[Judgement]:
    """O1: sensor against image circle."""
    diagonal, circle, share = (context.value(name) for name in ("sensor_diagonal", "image_circle", "coverage"))
    measure = text("{diagonal} of {circle}", diagonal=Value(diagonal, digits=1), circle=Value(circle, "mm", 1))
    figures = ("optics.circle_coverage", "optics.sensor_diagonal_mm", "optics.image_circle_mm")
    limit = text(
        "warning: diagonal > {circle}; problem: < {problem} inside",
        circle=Value(circle, "mm", 1),
        problem=Value(COVERAGE.problem, form="share"),
    )
    verdict = COVERAGE.verdict(share)
    if verdict == "ok":
        reason = text(
            "The {diagonal} diagonal is inside the {circle} circle.",
            diagonal=Value(diagonal, "mm", 1),
            circle=Value(circle, "mm", 1),
        )
        yield Judgement("ok", text("Image circle OK"), reason, limit, measure, figures)
        return
    title = text("Corners outside the image circle") if verdict == "warning" else text("Image circle too small")
    reason = text("{share} of the sensor is inside; crop the rest.", share=Value(share, form="share"))
    judgement = Judgement(verdict, title, reason, limit, measure, figures)
    attempts = chain(
        correctors_laid(context, "flattener", "reducer", "coma_corrector"),
        cameras_swapped(context, lambda part: hypot(part.sensor.width_mm, part.sensor.height_mm) <= circle),
    )
    yield with_attempts(judgement, attempts)


SAMPLING_SCHOOLS = (
    School("two_to_three_pixels", "2–3 px", "2–3 px across the seeing-limited FWHM."),
    School("comfort_band", "Comfort band", "1–2″/px, independent of seeing."),
    School("wide_field_accepts", "Wide-field tolerance", "Coarse sampling is accepted for wide fields."),
)


def sampling_verdict(school: str, pixels: float, scale: float, purposes: tuple[str, ...]) -> tuple[Verdict, Text]:
    """What one school makes of a sampling: verdict and words. `pixels` across the star, `scale` in ″/px."""
    if school == "comfort_band":
        low, high = scale < 1, scale > 2
        words = text("{scale}, recommended {band}", scale=Value(scale, "″/px", 2), band=Value(1, "″/px", 0, to=2))
    else:
        low, high = pixels > 3, pixels < 2
        words = text("{pixels}, recommended {band}", pixels=Value(pixels, "px", 1), band=Value(2, "px", 0, to=3))
    if high and (school == "wide_field_accepts" or "wide_field" in purposes):
        return "ok", text("{words}: coarse, accepted for wide field", "coarse_accepted", words=words)
    if high:
        return "warning", text("{words}: undersampled", "undersampled", words=words)
    return ("warning", text("{words}: oversampled", "oversampled", words=words)) if low else ("ok", words)


@rule(
    "O2",
    "Sampling",
    checks="Pixels across the FWHM given by seeing and aperture, by the chosen criterion.",
    why="Undersampling makes blocky stars and loses detail; oversampling lowers SNR per pixel without gain.",
    formula="F / scale, with F = √((s · X^0.6)² + (1.029 λ/D)²)",
    source="Nyquist; the bands are common practice",
    fix="Bin, or add a reducer or extender.",
    needs=("sampling", "pixel_scale"),
    schools=SAMPLING_SCHOOLS,
)
def sampling(context: Context) -> Iterator[Judgement]:
    """O2: sampling by school and purpose. Rigs for planets or a fixed tripod are not held to it."""
    purposes = context.rig.purposes
    if purposes and set(purposes) <= {"planetary", "untracked"}:
        return
    pixels, scale = context.value("sampling"), context.value("pixel_scale")
    chosen = context.preferences.sampling
    says = tuple(
        SchoolSays(school=school.key, verdict=verdict, says=words)
        for school in SAMPLING_SCHOOLS
        for verdict, words in [sampling_verdict(school.key, pixels, scale, purposes)]
    )
    mine = next(i for i, school in enumerate(SAMPLING_SCHOOLS) if school.key == chosen)
    verdict, words = says[mine].verdict, says[mine].says
    coarse = words.code == "undersampled"
    title = (
        text("Sampling OK") if verdict == "ok" else text("Stars undersampled") if coarse else text("Stars oversampled")
    )
    if verdict == "ok":
        reason = text("{words}.", words=words)
    elif coarse:
        reason = text("Detail is lost to coarse pixels. Acceptable for wide fields; dither and drizzle.")
    else:
        reason = text("Seeing limits the detail; the signal per pixel is lower than necessary.")
    judgement = Judgement(
        verdict,
        title,
        reason,
        _sampling_limit(context.preferences),
        Value(pixels, "px", 1) if chosen != "comfort_band" else Value(scale, "″/px", 2),
        ("optics.sampling_px", "optics.pixel_scale_arcsec_px", "optics.seeing_limited_arcsec"),
        chosen,
        says,
    )
    role = "extender" if coarse else "reducer"
    # No other camera: nobody changes it over a strain.
    attempts = chain(binned(context, not coarse), correctors_laid(context, role))
    yield with_attempts(judgement, attempts)


def _sampling_limit(preferences: Preferences) -> Text:
    return text("1 to 2 ″/px") if preferences.sampling == "comfort_band" else text("2–3 px across the FWHM")


@rule(
    "O3",
    "Field corrector needed",
    checks="Whether a telescope with field curvature or coma has a suitable corrector.",
    why="Off-axis stars become elongated or comatic, worst in the corners.",
    formula="coma 3h / 16N² (paraboloid); curvature (h² / 2R) / N, R by design",
    source="Rutten & van Venrooij, Telescope Optics (unverified); radii by design approximate",
    fix="A flattener, reducer or coma corrector for this design and focal length.",
    needs=("aperture", "native_focal_length"),
    limits=(CORNER_BLUR,),
)
def needs_corrector(context: Context) -> Iterator[Judgement]:
    """O3: design needs a flattener or a coma corrector and has none of that kind."""
    telescope, purposes = context.light.telescope, context.rig.purposes
    if telescope is None or not telescope.needs_corrector:
        return
    if purposes and set(purposes) <= {"planetary"}:
        return  # a planet lies in the middle, where nothing bends
    limit = text("corrector of the required type")
    if context.light.flattens:
        reason = text("The corrector is of the type this design requires.")
        yield Judgement("ok", text("Field corrector OK"), reason, limit)
        return
    wanted = (
        text("coma corrector", "coma_corrector") if telescope.design == "newtonian" else text("flattener or reducer")
    )
    reason = text(
        "{design} and requires a {wanted}.",
        design=DESIGN_WORDS.get(telescope.design, "Field corrector missing"),
        wanted=wanted,
    )
    verdict: Verdict = "problem"
    measure: Words = ""
    if "corner_blur" in context.known and "corner_blur_px" in context.known:
        blur, pixels = context.value("corner_blur"), context.value("corner_blur_px")
        verdict = CORNER_BLUR.verdict(pixels)
        measure = Value(pixels, "px", 0)
        reason += text(
            " Predicted corner blur {blur} = {pixels} px (third-order estimate).",
            blur=Value(blur, "µm", 0),
            pixels=Value(pixels, digits=0),
        )
    title = text("Missing {wanted}", wanted=wanted)
    judgement = Judgement(verdict, title, reason, limit, measure, ("optics.corner_blur_um", "optics.corner_blur_px"))
    yield with_attempts(judgement, correctors_laid(context, "coma_corrector", "flattener", "reducer"))


@rule(
    "O4",
    "Corrector compatibility",
    checks="Telescope design, focal length and focal ratio against the corrector's specification.",
    why="Outside its range a corrector over- or undercorrects, and its factor changes.",
    formula="shortest ≤ f₀ ≤ longest; fastest ≤ f₀/D ≤ slowest",
    source="manufacturer; common practice",
    fix="A corrector specified for this telescope, or none where the design needs none.",
    needs=("aperture", "native_focal_length"),
)
def corrector_range(context: Context) -> Iterator[Judgement]:
    """O4: corrector outside its focal-length or ratio range (half again breaks), or made for another design."""
    telescope = context.light.telescope
    if telescope is None:
        return
    for corrector in context.light.correctors:
        outside = out_of_range(corrector, telescope.used("focal_length_mm"), telescope.used("aperture_mm"))
        to_lens = telescope.design == "camera_lens" and corrector.role != "extender"
        stranger = to_lens or (corrector.role == "coma_corrector" and telescope.design != "newtonian")
        far = far_outside(corrector, telescope.used("focal_length_mm"), telescope.used("aperture_mm"))
        limit = text("design, focal length and focal ratio within the corrector's range")
        beyond = beyond_table(corrector, telescope.used("focal_length_mm"))
        if not outside and not stranger:
            answer = (
                text("All within range.")
                if has_range(corrector)
                else (
                    text(
                        "The {corrector} has no specified range of focal lengths or ratios: compatibility unknown.",
                        corrector=corrector.name,
                    )
                )
            )
            title = (
                text("Corrector compatibility OK")
                if has_range(corrector)
                else text("Corrector range not specified", "corrector_range_not_specified")
            )
            if beyond:
                answer, title = joined(" ", (answer, beyond)), text("Telescope outside back-focus table")
            yield Judgement("warning" if beyond else "ok", title, answer, limit, subject=_which(context, corrector))
            continue
        at = next(i for i, item in enumerate(context.rig.path) if item.part is corrector)
        verdict: Verdict = "problem" if stranger or far else "warning"
        meant = text("telescopes; camera lenses are already corrected") if to_lens else text("paraboloid mirrors")
        reason = (
            f"{corrector.name}: {outside}."
            if outside
            else text("{corrector} is made for {meant}.", corrector=corrector.name, meant=meant)
        )
        others = [
            Attempt(
                text("Replace with the {part}", "replace", part=part.name),
                (Edit("replace", ("path", at, "part"), part),),
            )
            for part in correctors_for(context, corrector.role, "flattener", "reducer")[:MOST_ATTEMPTS]
        ]
        remove = Attempt(
            text("Remove the {corrector}", "remove", corrector=corrector.name), (Edit("remove", ("path", at)),)
        )
        judgement = Judgement(
            verdict, text("Corrector outside its range"), joined(" ", (reason, beyond)), limit, outside,
            subject=_which(context, corrector),
        )  # fmt: skip
        yield with_attempts(judgement, others if telescope.needs_corrector else [*others, remove])


def _which(context: Context, corrector: Corrector) -> str | None:
    """A corrector's name where there are several to tell apart."""
    return corrector.name if len(context.light.correctors) > 1 else None


@rule(
    "O7",
    "Stacked correctors",
    checks="Whether several correctors are combined, and whether they are designed for that.",
    why="A corrector is designed for a telescope, not for the field of another corrector.",
    formula="m = Π mᵢ(dᵢ), each at its own spacing",
    source="common practice; thin-lens equation",
    fix="Remove one, or use correctors designed to be combined.",
    lapses=True,
)
def stacked(context: Context) -> Iterator[Judgement]:
    """O7: correctors stacked that were not made for it."""
    correctors = context.light.correctors
    if len(correctors) < 2:
        return
    limit = text("one corrector, or a matched combination")
    strangers = [part for part in correctors if not part.stacks]
    names = " and ".join(part.name for part in correctors)
    answer = (
        text("{spaced_factor}", spaced_factor=context.shown("spaced_factor"))
        if "spaced_factor" in context.known
        else ""
    )
    if len(strangers) < len(correctors):
        yield Judgement("ok", text("Stacked correctors OK"), f"{names}.", limit, answer)
        return
    reason = text("{names}: not specified as a combination; corner correction is unpredictable.", names=names)
    judgement = Judgement("warning", text("Correctors stacked"), reason, limit, answer)
    at = [i for i, item in enumerate(context.rig.path) if item.part in strangers]
    yield with_attempts(
        judgement,
        (
            relaid(
                context,
                text("Remove the {part}", "remove", part=context.rig.path[i].part.name),
                (Edit("remove", ("path", i)),),
            )
            for i in at
        ),
    )


@rule(
    "O5",
    "Corner star size",
    checks="Corner star size against the centre, from the residual blur of the corrected design.",
    why="Smaller pixels reveal corner aberrations that larger ones hid.",
    formula="√(F′² + b′²) / F′ in pixels, b from the specified spot size, else from design, focal ratio and image height",
    source="quadrature; blur by design and limit are estimates (order of magnitude)",
    fix="Bin, a smaller sensor or larger pixels, or a corrector with a larger circle.",
    needs=("corner_star", "corner_blur", "corner_blur_px"),
    limits=(CORNER_STAR, CORNER_STAR_WIDE),
)
def small_pixels(context: Context) -> Iterator[Judgement]:
    """O5: new small pixels expose old optics. Uncorrected fields are O3's; planets fill the middle only."""
    telescope, purposes = context.light.telescope, context.rig.purposes
    if telescope is None or (telescope.needs_corrector and not context.light.flattens):
        return
    if purposes and set(purposes) <= {"planetary"}:
        return
    larger, blur, pixels = (context.value(name) for name in ("corner_star", "corner_blur", "corner_blur_px"))
    most = CORNER_STAR_WIDE if "wide_field" in purposes else CORNER_STAR
    verdict = most.verdict(larger)
    soft = CORNER_STAR.verdict(larger) != "ok"
    sharp = text("Corners soft, accepted for wide field") if soft else text("Corner star size OK")
    title = sharp if verdict == "ok" else text("Corners soft")
    made = text("specified spot size") if "blur_spot" in context.known else text("estimate by design")
    reason = text(
        "Corner blur {blur} ({made}) = {pixels}; star FWHM {star_px}.",
        blur=Value(blur, "µm", 0),
        made=made,
        pixels=Value(pixels, "px", 1),
        star_px=context.shown("star_px"),
    )
    figures = ("optics.corner_star", "optics.corner_blur_um", "optics.corner_blur_px", "optics.star_fwhm_px")
    judgement = Judgement(verdict, title, reason, most.words, Value(larger, "×", 2), figures)
    diagonal = context.known.get("sensor_diagonal") or 0.0
    smaller = cameras_swapped(context, lambda part: hypot(part.sensor.width_mm, part.sensor.height_mm) < 0.9 * diagonal)
    yield with_attempts(judgement, chain(binned(context, coarser=True), smaller))


@rule(
    "O6",
    "Measured focal length",
    checks="Plate-solved focal length against telescope × corrector.",
    why="The factor changes with spacing; scale, field and tiles follow the measured value.",
    formula="|f′ − fₙ| / fₙ",
    source="common practice: 3%, adjustable in Preferences",
    fix="Set the measured factor, then check back focus.",
    needs=("solved_focal_length", "nominal_focal_length"),
)
def measured_focal_length(context: Context) -> Iterator[Judgement]:
    """O6: measured focal length off nominal."""
    measured, nominal = context.value("solved_focal_length"), context.value("nominal_focal_length")
    off = measured / nominal - 1
    tolerance = context.preferences.focal_length_tolerance
    limit = text("{nominal} ± {tolerance}", tolerance=Value(tolerance, form="share"), nominal=Value(nominal, "mm", 0))
    measure = Value(off * 100, "%", 1, form="signed")
    figures = ("optics.focal_length_mm", "optics.nominal_focal_length_mm")
    if abs(off) <= tolerance:
        reason = text(
            "Measured {measured}, designed {nominal}.",
            measured=Value(measured, "mm", 0),
            nominal=Value(nominal, "mm", 0),
        )
        yield Judgement("ok", text("Focal length OK"), reason, limit, measure, figures)
        return
    reason = text(
        "Measured {measured}, designed {nominal}; scale and field use the measured value.",
        measured=Value(measured, "mm", 0),
        nominal=Value(nominal, "mm", 0),
    )
    reason += _by_spacing(context, measured)
    judgement = Judgement("warning", text("Focal length off nominal"), reason, limit, measure, figures)
    yield with_attempts(judgement, _trust_the_frame(context, measured))


def _by_spacing(context: Context, measured: float) -> Words:
    """What a measured focal length says of the spacing of one corrector, in words."""
    result, known = context.of(Spacing).lenses, context.known
    if not result or len(result) != 1 or result[0].given == 1 or "native_focal_length" not in known:
        return ""
    return f" {words_by_factor(result[0], measured / known.value('native_focal_length'))}"


def _trust_the_frame(context: Context, measured: float) -> Iterator[Attempt]:
    solved = context.rig.measured_focal_length_mm
    telescope = context.light.telescope
    if solved is None or telescope is None:
        return
    correctors = context.light.correctors
    part: Corrector | Telescope
    if len(correctors) == 1:
        part, field = correctors[0], "factor"
        value = round(measured / (telescope.used("focal_length_mm") or 1), 4)
        lenses = context.of(Spacing).lenses
        solved = solved.model_copy(update={"at_mm": solved.at_mm or (round(lenses[0].behind, 1) if lenses else None)})
        label = text("Set the true factor of the {part} to {value}", "set_factor", value=Value(value), part=part.name)
    elif not correctors:
        part, field, value = telescope, "focal_length_mm", measured
        label = text(
            "Set the true focal length of the {part} to {measured}", measured=Value(measured, "mm", 0), part=part.name
        )
    else:
        return
    at = next(i for i, item in enumerate(context.rig.path) if item.part is part)
    kept = {**part.measured, field: solved.model_copy(update={"value": value})}
    yield Attempt(label, (Edit("replace", ("path", at, "part"), part.model_copy(update={"measured": kept})),))
