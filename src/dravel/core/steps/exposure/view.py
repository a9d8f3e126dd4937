"""The Exposure step: noise over the sub's length with its limits, one pixel's well, hours, filters over the light, the plan."""

from collections.abc import Sequence
from math import exp, inf, log, log2

from dravel.core.engine.context import Context
from dravel.core.model import DarkSet, Framing
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.physics import photometry as photo
from dravel.core.physics.photometry import H_ALPHA_NM, OIII_NM, SII_NM
from dravel.core.sky.glow import Glow
from dravel.core.steps.exposure import frames
from dravel.core.steps.exposure.facts import NEARLY, ROUND_S, Exposing, least_hours
from dravel.core.steps.exposure.filters import Candidate, candidates, ways, worth_planning
from dravel.core.steps.exposure.light import DETAIL_ARCSEC, Pixel
from dravel.core.steps.exposure.plan_view import ExposurePlan, ExposureWay, cooler_words, plan_of, way_of
from dravel.core.steps.exposure.rules.light import hours_words, span_words
from dravel.core.train.layout import part_key
from dravel.core.train.throughput import BODY

SHORTEST_S, LONGEST_S, POINTS = 1.0, 3600.0, 60
HOURS_POINTS = 41
SPECTRUM_NM = (380.0, 760.0)


class ExposureLimit(Model):
    """A line across the sub's length, s: what begins or ends there; `least` marks what a sub should be over."""

    key: str
    seconds: float
    words: Text
    least: bool = False


class ExposureSub(Model):
    """Noise over the length of a sub: how far above that without read noise, and what that costs in hours."""

    sub_s: float
    seconds: tuple[float, ...]
    more_noise: tuple[float, ...]
    limits: tuple[ExposureLimit, ...]
    recommended_s: float | None
    low_s: float
    high_s: float
    rounds: tuple[float, ...]
    now_more_noise: float
    words: Text


class ExposureWell(Model):
    """One pixel over one sub, e⁻: what fills it, from the bottom; the well, and which stars overflow."""

    sky: float
    moon: float
    dark: float
    target: float
    read_noise: float
    full: float | None
    saturating_mag: float | None
    words: Text


class ExposureCurve(Model):
    """Signal to noise of a rig over hours of light, of a detail; and of a single pixel once the detail has the goal. Without
    any light of the target all of it is 0.
    """

    rig_id: str
    name: str
    snr: tuple[float, ...]
    hours_to_goal: float | None
    goal_in_a_pixel: float | None
    hours_words: Text
    words: Text


class ExposureFilter(Model):
    """A filter of the shelf over the light: its windows (from, to, how much), hours to the goal, and why."""

    key: str | None
    name: str
    use: str
    bands: tuple[tuple[float, float, float], ...]
    hours: float | None
    hours_words: Text
    carried: bool
    in_use: bool
    fits: bool
    reason: Text


class ExposureMode(Model):
    """A setting of the camera: its noise, well, stops between them, the shortest sub worth it."""

    gain: float
    read_noise_e: float
    well_e: float
    stops: float
    shortest_s: float | None
    in_use: bool


class ExposureFrames(Model):
    """Calibration frames of one kind; `dark` is what would be kept of them, where that makes sense."""

    kind: str
    count: int
    words: Text
    when: Text
    dark: DarkSet | None
    on_hand: bool


class ExposureMonth(Model):
    """The cooler on a month's usual night."""

    name: str
    dusk_c: float
    safe_c: float
    holds: bool


class ExposureView(Model):
    """What the Exposure step draws of one target; `lacks` says what is missing, and then little else is there."""

    lacks: Text
    targets: tuple[str, ...]
    target: int | None
    glow_words: Text
    glow_origin: Text
    of_lines: bool
    conditions: Text
    light_words: Text
    wished: float
    school: str
    sub: ExposureSub | None
    well: ExposureWell | None
    hours: tuple[float, ...]
    curves: tuple[ExposureCurve, ...]
    filters: tuple[ExposureFilter, ...]
    lines: tuple[tuple[str, float], ...]
    lamps: tuple[float, float] | None
    spectrum: tuple[float, float]
    modes: tuple[ExposureMode, ...]
    ways: tuple[ExposureWay, ...]
    plan: ExposurePlan | None
    calibration: tuple[ExposureFrames, ...]
    set_c: float | None
    cooler_words: Text
    months: tuple[ExposureMonth, ...]
    refocus: tuple[Text, ...]


def exposure_view(
    context: Context, target: str | None = None, others: Sequence[tuple[str, Context]] = ()
) -> ExposureView:
    """How one target (by id or name; the first when none is named) is exposed, beside other rigs under the same sky."""
    own = context.of(Exposing)
    names = tuple(framing.target.key for _, framing, _ in own.framings)
    chosen = next(
        (item for item in own.framings if target in (item[1].target.id, item[1].target.name)),
        own.framings[0] if own.framings else None,
    )
    lacks = own.lacks
    if not lacks and chosen is None:
        bodies = bool(context.rig.framings)
        lacks = (
            "Moon and planets: video with frames of about 0.01 s" if bodies
            else "no target yet"
        )  # fmt: skip
    glow = chosen[2] if chosen else None
    pixels = own.pixels(chosen[1], chosen[2], own.filter) if chosen and not lacks else ()
    if chosen and not lacks and not pixels:
        lacks = text(
            "{filter}: passbands not specified",
            "passbands_not_specified",
            filter=own.filter.name if own.filter else "the filter",
        )
    known = None if lacks or chosen is None else chosen[1:]
    curves = _curves(context, known, others) if known else ((), ())
    return ExposureView(
        lacks=lacks,
        targets=names,
        target=chosen[0] if chosen else None,
        glow_words=glow.words if glow else "",
        glow_origin=glow.origin if glow else "",
        of_lines=bool(glow and glow.of_lines),
        conditions=own.conditions(known[0]).words if known else "",
        light_words=light_words(context, *known, others) if known else "",
        wished=context.preferences.target_snr,
        school=context.preferences.sub_length,
        sub=_sub(context, own, *known, pixels) if known else None,
        well=_well(context, own, known[0], pixels) if known else None,
        hours=curves[0],
        curves=curves[1],
        filters=tuple(_filter(candidate) for candidate in candidates(context, *known)) if known else (),
        lines=(("Hα", H_ALPHA_NM), ("OIII", OIII_NM), ("SII", SII_NM)) if glow and glow.of_lines else (),
        lamps=photo.SODIUM_NM if context.rig.site and context.rig.site.lamps == "sodium" else None,
        spectrum=SPECTRUM_NM,
        modes=_modes(context, own, pixels),
        ways=tuple(way_of(context, way.title, way.words, way.blocks) for way in ways(context, *known)) if known else (),
        plan=plan_of(context, *known) if known else None,
        calibration=tuple(
            ExposureFrames(kind=item.kind, count=item.count, words=item.words, when=item.when, dark=item.dark, on_hand=item.on_hand)
            for item in frames.calibration(context)
        ),
        set_c=own.sensor_c[0] if own.camera and own.camera.used("cooling_delta_k") else None,
        cooler_words=cooler_words(context),
        months=tuple(
            ExposureMonth(name=month.name, dusk_c=month.dusk_c, safe_c=month.safe_c, holds=month.holds)
            for month in frames.months(context)
        ),
        refocus=frames.refocus_words(context),
    )  # fmt: skip


def _sub(
    context: Context, own: Exposing, framing: Framing, glow: Glow, pixels: tuple[Pixel, ...]
) -> ExposureSub | None:
    collector, pixel, preferences = own.collector, own.telling(pixels), context.preferences
    if collector is None or pixel is None or pixel.background <= 0:
        return None
    steps = [exp(log(SHORTEST_S) + k * (log(LONGEST_S) - log(SHORTEST_S)) / (POINTS - 1)) for k in range(POINTS)]
    sub, noise, shortest = context.rig.guide.sub_s, collector.read_noise_e, own.shortest_s(pixel)
    result = own.limits(framing, glow, own.filter)
    # What begins hours beyond the picture says nothing there, unless it is all there is.
    near = [item for item in result if item.seconds <= 2 * LONGEST_S] or list(result[:1])
    limits = [ExposureLimit(key=item.key, seconds=item.seconds, words=item.words) for item in near]
    if shortest is not None:
        words = text(
            "read noise < {read_noise_margin}", read_noise_margin=Value(preferences.read_noise_margin, form="share")
        )
        limits.insert(0, ExposureLimit(key="read_noise", seconds=shortest, words=words, least=True))
    more = photo.noise_above(noise, pixel.background, sub)
    over = next((item for item in result if item.seconds < sub / NEARLY), None)
    sentence = text(
        "{sub} sub: read noise adds {more} noise, {x} integration time",
        sub=Value(sub, form="exposure"),
        more=Value(more, form="share"),
        x=Value((1 + more) ** 2 - 1, form="share"),
    )
    return ExposureSub(
        sub_s=sub,
        seconds=tuple(round(step, 3) for step in steps),
        more_noise=tuple(round(photo.noise_above(noise, pixel.background, step), 5) for step in steps),
        limits=tuple(limits),
        recommended_s=worth_planning(context, own, framing, glow, own.filter),
        low_s=SHORTEST_S,
        high_s=LONGEST_S,
        rounds=tuple(float(round_) for round_ in ROUND_S),
        now_more_noise=more,
        words=sentence + (text("; above the limit: {over}", over=over.words) if over else ""),
    )


def _well(context: Context, own: Exposing, framing: Framing, pixels: tuple[Pixel, ...]) -> ExposureWell | None:
    collector, pixel = own.collector, own.telling(pixels)
    if collector is None or pixel is None:
        return None
    sub, sky, well = context.rig.guide.sub_s, own.conditions(framing), own.well
    window = collector.behind(own.filter).windows[pixels.index(pixel)]
    moon = collector.glow(sky.moonlight, window.moon_nm) if sky.moonlight < inf else 0.0
    star = own.saturating_mag(framing, own.filter, pixels, sub)
    filled = pixel.background + pixel.target
    lines = [
        Value(filled * sub, "e⁻", 0)
        if well is None
        else text("{filled} of the well", filled=Value(filled * sub / well, digits=1, form="share"))
    ]
    if star is not None:
        lines.append(text("stars brighter than mag {star} saturate", star=Value(star, digits=1)))
    return ExposureWell(
        sky=(pixel.sky - moon) * sub,
        moon=moon * sub,
        dark=pixel.dark * sub,
        target=pixel.target * sub,
        read_noise=collector.read_noise_e,
        full=well,
        saturating_mag=star,
        words=joined(", ", lines),
    )


def _curves(
    context: Context, known: tuple[Framing, Glow], others: Sequence[tuple[str, Context]]
) -> tuple[tuple[float, ...], tuple[ExposureCurve, ...]]:
    """Hours along the bottom, as far as the slowest needs within reason, and a curve for each rig."""
    framing, glow = known
    wished = context.preferences.target_snr
    rows: list[tuple[str, str, float, float, Words]] = []
    detail = compared_detail(context, *(entry for _, entry in others))
    for rig_id, item in (("", context), *others):
        own = item.of(Exposing)
        pixels = () if own.lacks else own.pixels(framing, glow, own.filter)
        sub = item.rig.guide.sub_s
        worth = own.collector.worth(pixels, sub, detail) if own.collector else 0.0
        pixel = own.telling(pixels)
        alone = pixel.worth(own.collector.read_noise_e, sub) if pixel and own.collector else 0.0
        through = own.filter.name if own.filter else "no filter"
        words = own.lacks or (
            "filter passbands not specified"
            if not pixels
            else text("{through}, {sub} subs", through=through, sub=Value(sub, form="exposure"))
        )
        rows.append((rig_id, item.rig.name, worth, alone, words))
    needed = [wished**2 / worth / 3600 for _, _, worth, _, _ in rows if worth > 0]
    longest = min(max([1.3 * entry for entry in needed if entry < 3 * min(needed)], default=8.0), 400.0)
    longest = max(longest, 0.5)
    hours = tuple(round(longest * k / (HOURS_POINTS - 1), 4) for k in range(HOURS_POINTS))
    return hours, tuple(
        ExposureCurve(
            rig_id=rig_id,
            name=name,
            snr=tuple(round((worth * hour * 3600) ** 0.5, 3) for hour in hours),
            hours_to_goal=wished**2 / worth / 3600 if worth > 0 else None,
            goal_in_a_pixel=wished * (alone / worth) ** 0.5 if worth > 0 else None,
            hours_words=hours_words(wished**2 / worth / 3600 if worth > 0 else inf),
            words=words,
        )
        for rig_id, name, worth, alone, words in rows
    )


def compared_detail(*contexts: Context) -> float:
    """The detail that several rigs are held against one another by, ″: that of the coarsest."""
    own = [collector.detail for context in contexts if (collector := context.of(Exposing).collector) is not None]
    return max(own, default=DETAIL_ARCSEC)


def light_words(context: Context, framing: Framing, glow: Glow, others: Sequence[tuple[str, Context]] = ()) -> Words:
    """How long a picture of the target takes, how sure that is, and at what detail."""
    own = context.of(Exposing)
    shots = [shot for shot in own.shots if shot.framing is framing]
    shot = min(shots, key=lambda item: own.hours(item.pixels, item.sub_s), default=None)
    if shot is None or own.collector is None:
        return ""
    hours, least = own.hours(shot.pixels, shot.sub_s), least_hours(framing)
    sentence = text(
        "{hours} to SNR {target_snr} for {detail} detail",
        hours=hours_words(hours),
        target_snr=Value(context.preferences.target_snr),
        detail=Value(own.collector.detail, "″"),
    )
    span = own.hours_span(shot)
    if glow.factor > 1 and hours_words(span[0]) != hours_words(span[1]):
        sentence += text(
            " ({span}: brightness known within a factor of {factor})", span=span_words(span), factor=Value(glow.factor)
        )
    if hours < least:
        sentence += text(". Minimum for this type of target: {least}", least=hours_words(least))
    if others and (common := compared_detail(context, *(item for _, item in others))) > own.collector.detail:
        sentence += text(". Rigs are compared for {common} detail", common=Value(common, "″"))
    return sentence


def _filter(one: Candidate) -> ExposureFilter:
    bands = tuple(
        (band.centre_nm - band.width_nm / 2, band.centre_nm + band.width_nm / 2, band.peak)
        for band in (one.filter.passbands if one.filter else ())
    )
    return ExposureFilter(
        key=part_key(one.filter) if one.filter else None,
        name=one.filter.name if one.filter else "no filter",
        use=one.filter.use if one.filter else "",
        bands=bands if one.filter else ((*BODY["none"], 1.0),),
        hours=None if one.hours == inf else one.hours,
        hours_words=hours_words(one.hours),
        carried=one.carried,
        in_use=one.in_use,
        fits=one.fits,
        reason=one.reason,
    )


def _modes(context: Context, own: Exposing, pixels: tuple[Pixel, ...]) -> tuple[ExposureMode, ...]:
    pixel, bins = own.telling(pixels) if pixels else None, context.rig.binning
    results = []
    for mode in own.modes:
        well = own.well_of(mode) or 0.0
        noise = mode.read_noise_e * bins
        shortest = None
        if pixel is not None and pixel.background > 0:
            shortest = photo.shortest_sub_s(noise, pixel.background, context.preferences.read_noise_margin)
        results.append(
            ExposureMode(
                gain=mode.gain, read_noise_e=noise, well_e=well, stops=log2(well / noise) if well > noise else 0.0,
                shortest_s=shortest, in_use=mode is own.mode,
            )
        )  # fmt: skip
    return tuple(results)
