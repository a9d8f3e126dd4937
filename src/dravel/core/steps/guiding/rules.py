"""Rules of the Guide step: scale, flexure, stars, the error against the pixel, how long a sub may be."""

from collections.abc import Iterator
from itertools import chain

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, School, rule, with_attempts
from dravel.core.model import Mount, SchoolSays, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Value, text
from dravel.core.moves.guiding import off_axis, unguided
from dravel.core.moves.shelf import ready_parts
from dravel.core.moves.subs import ROUNDED, planned_sub, seconds_words
from dravel.core.steps.guiding.facts import Guiding, Setup
from dravel.core.steps.guiding.limits import (
    BY_HAND,
    ERROR,
    FLEXURE,
    NO_STAR,
    POLAR,
    RATIO,
    SUB,
    TRAIL,
    USABLE_PX,
    polar_words,
)
from dravel.core.steps.guiding.moves import finer_mounts, scoped

LONG_FOCUS_MM = 1000.0

_SCHOOLS = (
    School("by_flexure_and_scale", "By flexure and scale", "Off-axis above about 1,000 mm or with a moving mirror."),
    School("guide_scope_always", "Guide scope always", "A small scope of its own on every rig."),
    School("off_axis_always", "Off-axis always", "A prism in the main light path on every rig."),
)


def _setup(context: Context) -> Setup | None:
    return context.of(Guiding).setup[0]


@rule(
    "G1",
    "Guide scale vs image scale",
    checks="Ratio of guide scale to imaging scale.",
    why="A centroid is measured to about 0.1 guide pixel; that must be less than one image pixel.",
    formula="scale₂ / scale ≤ 4",
    source="common practice",
    fix="A longer guide scope, or off-axis guiding.",
    needs=("scale_ratio",),
    limits=(RATIO,),
)
def scale_ratio(context: Context) -> Iterator[Judgement]:
    """G1: guide scale too coarse for the image scale."""
    ratio = context.value("scale_ratio")
    verdict = RATIO.verdict(ratio)
    title = text("Guide scale too coarse") if verdict != "ok" else text("Guide scale OK")
    reason = text(
        "Guide scale {guide_scale}, imaging scale {pixel_scale}.",
        guide_scale=context.shown("guide_scale"),
        pixel_scale=context.shown("pixel_scale"),
    )
    figures = ("guiding.scale_arcsec_px", "guiding.scale_ratio")
    judgement = Judgement(verdict, title, reason, RATIO.words, Value(ratio, "×", 1), figures)
    setup = _setup(context)
    longer = setup.focal_length_mm * ratio / (RATIO.warning or 1.0) if setup else 0.0
    yield with_attempts(judgement, chain(off_axis(context), scoped(context, least_mm=longer * 0.9)))


@rule(
    "G2",
    "Differential flexure",
    checks="Flexure between guide star and sensor: focal length, moving mirror, mounting.",
    why="A guide scope does not see the shift of a moving mirror.",
    formula="flexure · sub ≤ scale; off-axis advised beyond 1,000 mm or with a moving mirror",
    source="common practice; flexure rates are estimates (order of magnitude)",
    fix="Off-axis guiding, or shorter subs.",
    needs=("flexure", "focal_length", "pixel_scale"),
    schools=_SCHOOLS,
    limits=(FLEXURE,),
)
def flexure(context: Context) -> Iterator[Judgement]:
    """G2: flexure path with a moving mirror or a long focal length."""
    setup = _setup(context)
    if setup is None:
        return
    focal, scale, sub = context.value("focal_length"), context.value("pixel_scale"), context.rig.guide.sub_s
    moved = setup.flexure_arcsec_h * sub / 3600 / scale
    long = focal > LONG_FOCUS_MM or context.of(Guiding).mirror_moves
    beside = setup.method == "guide_scope"

    def says(school: str) -> Verdict:
        by_drift = FLEXURE.verdict(moved)
        if by_drift == "problem":
            return "problem"
        advised = (school == "by_flexure_and_scale" and long and beside) or (school == "off_axis_always" and beside)
        contrary = school == "guide_scope_always" and not beside
        return "warning" if by_drift == "warning" or advised or contrary else "ok"

    school = context.preferences.guiding
    verdict = says(school)
    sentence = text("{moved} in a {sub} sub", moved=Value(moved, "px", form="about"), sub=Value(sub, form="exposure"))
    schools = tuple(SchoolSays(school=item.key, verdict=says(item.key), says=sentence) for item in _SCHOOLS)
    if verdict == "ok":
        title = text("Differential flexure OK")
    elif FLEXURE.verdict(moved) != "ok":
        title = text("Differential flexure too large")
    elif beside:
        title = text("Off-axis guiding advised", "off_axis_advised")
    else:
        title = text("Guide scope preferred (Preferences)", "guide_scope_preferred")
    reason = text(
        "{flexure_arcsec_h} at {focal}: {told}.",
        flexure_arcsec_h=Value(setup.flexure_arcsec_h, "″/h"),
        focal=Value(focal, "mm", 0),
        told=sentence,
    )
    if context.of(Guiding).mirror_moves and beside:
        reason += text(" The main mirror moves; the guide scope does not see that.", "main_mirror_moves")
    judgement = Judgement(
        verdict, title, reason, text("≤ 1 px per sub"), Value(moved, 'px', form="about"), ("guiding.flexure_arcsec_h",),
        school=school, schools=schools,
    )  # fmt: skip
    shorter = planned_sub(3600 * scale / setup.flexure_arcsec_h, context.rig)
    attempts = chain(off_axis(context), (shorter,), scoped(context))
    yield with_attempts(judgement, attempts)


@rule(
    "G3",
    "Guide star availability",
    checks="Expected usable guide stars in the guide camera field at the targets, and the probability of none.",
    why="A small field at long focal length, far from the Milky Way, may contain no guide star.",
    formula="n = N(m, b) · patch; chance e^−n",
    source="star counts: the packaged list to mag 10, Allen's Astrophysical Quantities beyond (unverified); Poisson",
    fix="A longer guide exposure, a guide scope, or another camera angle.",
    needs=("stars_expected",),
    limits=(NO_STAR,),
)
def guide_stars(context: Context) -> Iterator[Judgement]:
    """G3: too few stars in the patch."""
    setup = _setup(context)
    if setup is None:
        return
    expected = context.value("stars_expected")
    none = context.value("guiding.chance_of_none")
    verdict = NO_STAR.verdict(none)
    title = text("Guide stars OK") if verdict == "ok" else text("Guide star not certain")
    patch = text(
        "{patch_deg} × {patch_deg_2}",
        patch_deg=Value(setup.patch_deg[0] * 60, "′", 0),
        patch_deg_2=Value(setup.patch_deg[1] * 60, "′", 0),
    )
    latitude, who = context.of(Guiding).latitude
    tenths = context.known.figure("stars_expected").decimals
    reason = text(
        "{expected} stars to mag {limiting} in {patch} at galactic latitude {latitude} ({who}).",
        expected=Value(expected, digits=tenths),
        limiting=context.shown("limiting")._replace(unit=""),
        patch=patch,
        latitude=Value(latitude, "°", 0),
        who=who,
    )
    figures = ("guiding.limiting_mag", "guiding.stars_expected", "guiding.chance_of_none")
    limit = text("probability of none ≤ {NO_STAR}", NO_STAR=NO_STAR.bound)
    judgement = Judgement(verdict, title, reason, limit, text("{none}", none=Value(none, form="share")), figures)
    longer = tuple(
        Attempt(
            text("Set guide exposure to {s}", s=Value(s, form="exposure")),
            (Edit("replace", ("guide", "exposure_s"), s),),
        )
        for s in (3.0, 5.0)
        if s > context.rig.guide.exposure_s
    )
    yield with_attempts(judgement, chain(longer, scoped(context)))


@rule(
    "G4",
    "Tracking error vs pixel scale",
    checks="Expected tracking error against the pixel scale.",
    why="Above 0.5 px stars grow; above 1 px resolution is lost.",
    formula="ρ / scale ≤ 0.5",
    source="common practice",
    fix="Guiding, a better mount, a finer guide scale, or a coarser imaging scale.",
    needs=("guide_rms", "pixel_scale"),
    limits=(ERROR,),
)
def error_budget(context: Context) -> Iterator[Judgement]:
    """G4: expected RMS above the pixel-scale goal."""
    rms, scale = context.value("guide_rms"), context.value("pixel_scale")
    pixels = context.value("guiding.rms_px")
    verdict = ERROR.verdict(pixels)
    title = text("Tracking error OK") if verdict == "ok" else text("Tracking error too large")
    worst = max(context.of(Guiding).terms(_setup(context)), key=lambda term: term[1])
    reason = text(
        "RMS {rms} per axis at {scale}; main term: {worst} ({worst_2}).",
        rms=Value(rms, "″", 2),
        scale=Value(scale, "″/px", 2),
        worst=worst[0],
        worst_2=worst[2],
    )
    if verdict == "warning" and pixels <= USABLE_PX:
        reason += text(" Usable, with slightly larger round stars.")
    figures = ("guiding.rms_arcsec", "guiding.rms_px")
    judgement = Judgement(verdict, title, reason, ERROR.words, Value(pixels, "px", 2), figures)
    yield with_attempts(judgement, _stiller(context))


def _stiller(context: Context) -> Iterator[Attempt]:
    if _setup(context) is None:
        yield from chain(scoped(context), off_axis(context))
        if "guiding.unguided_limit_s" in context.known:
            yield planned_sub(context.value("guiding.unguided_limit_s"), context.rig)
    for binning in range(context.rig.binning + 1, 4):
        yield Attempt(text("Bin {binning}×{binning}", binning=binning), (Edit("replace", ("binning",), binning),))
    yield from finer_mounts(context)


@rule(
    "G5",
    "Sub length vs tracking limit",
    checks="Planned sub against the longest sub, guided or unguided.",
    why="Periodic error is fastest mid-cycle; longer subs trail.",
    formula="unguided: scale / (π·PE / T + 15.041 · E); guided: a pixel of flexure, of the drift of an axis without a "
    "motor, or of rotation at the corner",
    source="calculus on a sine error; geometry",
    fix="Shorter subs, or guiding.",
    needs=("pixel_scale",),
    limits=(SUB,),
)
def sub_length(context: Context) -> Iterator[Judgement]:
    """G5: planned sub longer than the unguided or guided limit."""
    sub, setup = context.rig.guide.sub_s, context.of(Guiding).corrected(_setup(context))
    if context.rig.mount is None:
        return
    if setup is not None:
        limit = context.value("guided_limit") if "guided_limit" in context.known else None
        figures: tuple[str, ...] = ("guiding.guided_limit_s",)
    else:
        name = "guiding.unguided_limit_s"
        limit = context.value(name) if name in context.known else None
        figures = ("guiding.unguided_limit_s",)
    if limit is None:
        return
    verdict = SUB.times(limit * ROUNDED, "s").verdict(sub)
    how = "guided" if setup else "unguided"
    title = text("Sub within {how} limit", how=how) if verdict == "ok" else text("Sub too long, {how}", how=how)
    answer = seconds_words(limit)
    reason = text(
        "Planned {sub}; 1 px of trail after {told} {how}.", sub=Value(sub, form="exposure"), told=answer, how=how
    )
    judgement = Judgement(
        verdict, title, reason, text("{told} {how}", told=answer, how=how), Value(sub, form="exposure"), figures
    )
    ways = chain(scoped(context), off_axis(context)) if setup is None else ()
    yield with_attempts(judgement, chain((planned_sub(limit, context.rig),), ways))


@rule(
    "G6",
    "Guide interface",
    checks="Whether the mount accepts guide corrections, by guide port or pulse guiding.",
    why="Without a guide interface a guide camera cannot correct.",
    formula="guide input ≠ none",
    source="definition",
    fix="A mount with a guide interface, or subs within the unguided limit.",
)
def guide_input(context: Context) -> Iterator[Judgement]:
    """G6: no guide port or pulse guiding at all."""
    mount = context.rig.mount
    if mount is None:
        return
    guided = context.rig.guide.method != "none"
    if mount.guide_input != "none":
        if guided:
            words = {"port": "guide port", "pulse": "pulses", "both": "guide port or pulse guiding"}[mount.guide_input]
            yield Judgement(
                "ok",
                text("Guide interface OK"),
                text("The {mount} accepts corrections by {words}.", mount=mount.name, words=words),
                text("an input"),
                words,
            )
        return
    reason = text(
        "The {mount} has neither guide port nor pulse guiding: no corrections and no dithering.",
        "has_neither_guide_port",
        mount=mount.name,
    )
    verdict: Verdict = "problem" if guided else "ok"
    title = text("No guide interface") if guided else text("Unguided, no guide interface")
    judgement = Judgement(verdict, title, reason, text("guide port or pulse guiding"), "none")
    able = [m for m in ready_parts(context, Mount) if m.guide_input != "none"]
    able.sort(key=lambda m: m.payload_kg)
    swaps = [
        Attempt(text("Replace the mount with the {m}", m=m.name), (Edit("replace", ("mount",), m),)) for m in able[:2]
    ]
    yield with_attempts(judgement, (*swaps, unguided(context)))


@rule(
    "G7",
    "Field rotation and polar alignment",
    checks="Polar alignment error that rotates the corner by 1 px in one sub; for alt-azimuth mounts the longest sub before field rotation.",
    why="Guiding holds one star; the field rotates around it with polar error, and on any alt-azimuth mount.",
    formula="E = 45 000 · p · cos δ / (t · f · A); alt-azimuth: t = p / (ω · f · A), ω = 15.041″/s · cos φ / cos h",
    source="Hook 1989, J. BAA 99 (unverified), derived in the core; geometry",
    fix="Shorter subs, or better polar alignment.",
    needs=("pixel", "focal_length", "corner_angle"),
    limits=(POLAR,),
)
def polar_rotation(context: Context) -> Iterator[Judgement]:
    """G7: polar error rotates the corner by more than a pixel per sub."""
    if context.rig.mount is None:
        return
    sub = context.rig.guide.sub_s
    if "turn_limit" in context.known:
        yield _turning(context, sub)
        return
    tolerance = context.known.get("guiding.polar_tolerance_arcmin")
    error = context.preferences.polar_error_arcmin
    if tolerance is None:
        return
    verdict = POLAR.times(tolerance, "′").verdict(error)
    free = "free_sub" in context.known
    wrong = text("Polar error causes drift") if free else text("Field rotation in the corners")
    title = text("Polar alignment OK") if verdict == "ok" else wrong
    answer = polar_words(tolerance)
    reason = text(
        "A {sub} sub allows {told}; assumed error {error} (Preferences).",
        sub=Value(sub, form="exposure"),
        told=answer,
        error=Value(error, "′"),
    )
    if free:
        reason += text(" Unguided, polar error adds drift to field rotation.")
    figures = ("guiding.polar_tolerance_arcmin",)
    judgement = Judgement(verdict, title, reason, text("≤ {told}", told=answer), Value(error, "′"), figures)
    yield with_attempts(judgement, (planned_sub(sub * tolerance / error, context.rig),) if error else ())


def _turning(context: Context, sub: float) -> Judgement:
    """An alt-azimuth mount keeps the target in the middle, and the field turns around it, polar axis or none."""
    limit = context.value("turn_limit")
    verdict = SUB.times(limit * ROUNDED, "s").verdict(sub)
    title = text("Field rotation OK") if verdict == "ok" else text("Field rotation exceeds 1 px")
    reason = text(
        "On an alt-azimuth mount the field rotates 1 px at the corner in {limit}. Use short subs; stacking corrects the rotation.",
        limit=seconds_words(limit),
    )
    figures = ("guiding.field_turn_limit_s",)
    judgement = Judgement(
        verdict, title, reason, text("≤ {limit}", limit=seconds_words(limit)), Value(sub, form="exposure"), figures
    )
    return with_attempts(judgement, (planned_sub(limit, context.rig),))


@rule(
    "G8",
    "Uncorrected axis drift",
    checks="Dec drift on an RA-only drive.",
    why="A tracker corrects one axis; drift in the other stays in the frame.",
    formula="15.041 · E · t ≤ scale, E the polar error in radians; with no axis driven 15.041 · cos δ · t",
    source="geometry",
    fix="Shorter subs, or better polar alignment.",
    needs=("pixel_scale", "undriven"),
    limits=(TRAIL,),
)
def one_axis(context: Context) -> Iterator[Judgement]:
    """G8: which axis a tracker cannot correct."""
    mount = context.rig.mount
    if mount is None or mount.driven_axes >= 2:
        return
    sub, scale = context.rig.guide.sub_s, context.value("pixel_scale")
    drift = context.value("undriven") * sub
    pixels = drift / scale
    verdict = TRAIL.verdict(pixels)
    if mount.driven_axes:
        title = text("Dec drift OK") if verdict == "ok" else text("Dec drift too large")
    else:
        title = text("Untracked drift OK") if verdict == "ok" else text("Untracked drift too large")
    reason = text(
        "Driven: {which}; drift {drift} in a {sub} sub.",
        which=text("RA only") if mount.driven_axes == 1 else text("no axis"),
        drift=Value(drift, "″", 1),
        sub=Value(sub, form="exposure"),
    )
    judgement = Judgement(verdict, title, reason, text("≤ 1 px per sub"), Value(pixels, "px", 1))
    yield with_attempts(judgement, (planned_sub(sub / max(pixels, 1e-9), context.rig),))


@rule(
    "G9",
    "GoTo / finding the target",
    checks="Whether the mount has GoTo, and how wide the field is without.",
    why="Without GoTo targets are found by star-hopping: coarse in Dec, and the tube shifts when the clamp is tightened.",
    formula="shorter side of the field ≥ 2° without GoTo",
    source="common practice; 2° is a default threshold",
    fix="A wider field or a GoTo mount; else the star-hop chart on Aim and a test frame.",
    needs=("field_height",),
    limits=(BY_HAND,),
)
def finding(context: Context) -> Iterator[Judgement]:
    """G9: a mount that cannot find says so."""
    mount = context.rig.mount
    if mount is None:
        return
    if mount.goto:
        yield Judgement("ok", text("GoTo"), text("The {mount} has GoTo.", mount=mount.name), text("GoTo"), "itself")
        return
    field = min(context.field_deg or (0.0, 0.0))
    verdict = BY_HAND.verdict(field)
    title = text("Finding targets by hand: OK") if verdict == "ok" else text("Field small without GoTo")
    names = ", ".join(dict.fromkeys(f.target.name for f in context.rig.framings)) or text("the target")
    reason = text(
        "Star-hop to {names} with the chart on Aim. Dec is set by hand; tightening the clamp shifts the field: take a test frame and correct before the first sub.",
        names=names,
    )
    judgement = Judgement(
        verdict, title, reason, text("field ≥ {BY_HAND}", BY_HAND=BY_HAND.bound), Value(field, "°", 1)
    )
    able = sorted((m for m in ready_parts(context, Mount) if m.goto), key=lambda m: m.payload_kg)
    swaps = (Attempt(text("Replace the mount with the {m}", m=m.name), (Edit("replace", ("mount",), m),)) for m in able)
    yield with_attempts(judgement, swaps)
