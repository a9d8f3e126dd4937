"""Rules of length: back focus, filter glass, the camera's front ring, readings against nominal."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, School, rule, with_attempts
from dravel.core.model import Adapter, Camera, MeasuredSpan, SchoolSays
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.moves.parts import without
from dravel.core.moves.rings import filled
from dravel.core.train import tolerance
from dravel.core.train.facts import Spacing
from dravel.core.train.layout import AS_A_GROUP, Laid, filter_plate, part_key, plate_shift, plates
from dravel.core.train.rings import back_focus_gap

ASK_BEYOND = 0.20


TOLERANCE_SCHOOLS = (
    School(
        "ratio_and_pixel", "By focal ratio and pixel size", "±0.2 to ±1.0 mm, finer for fast glass and small pixels."
    ),
    School("always_tight", "Always ±0.2 mm", "0.2 mm for every rig."),
    School("round_stars", "Round stars decide", "Within 2 mm: round stars decide."),
)


@rule(
    "S2",
    "Back focus",
    checks="Distance from the corrector's shoulder to the sensor against the required back focus, filter glass included.",
    why="At the wrong back focus corner stars elongate radially or tangentially.",
    formula="e = A − (B + Σ t(n − 1)/n)",
    source="manufacturer; tolerance by criterion, common practice; problem above 3 tolerances (default threshold)",
    fix="Spacers found by the solver; the camera's front ring on or off.",
    needs=("actual", "required", "spacing_error", "spacing_tolerance"),
    schools=TOLERANCE_SCHOOLS,
)
def back_focus(context: Context) -> Iterator[Judgement]:
    """S2: back-focus error against tolerance."""
    if context.of(Spacing).mirror_moves and not context.light.correctors:
        return  # the mirror follows wherever the sensor sits: what that does to the focal length is S16's
    error, slack = context.value("spacing_error"), context.value("spacing_tolerance")
    required, actual = context.value("required"), context.value("actual")
    verdict = tolerance.verdict_of(error, slack)
    if context.light.telescope is not None and context.light.telescope.design == "camera_lens" and error > slack:
        verdict = "problem"  # too far from its flange a lens does not reach infinity
    says = []
    for school in TOLERANCE_SCHOOLS:
        theirs = context.of(Spacing).tolerance_by(school.key) or slack
        says.append(
            SchoolSays(
                school=school.key,
                verdict=tolerance.verdict_of(error, theirs),
                says=text("± {theirs}", theirs=Value(theirs, "mm", 1)),
            )
        )
    own = bool(context.light.correctors and context.light.correctors[-1].tolerance_mm)
    mine = None if own else context.preferences.spacing_tolerance
    measure = text("{error} of ±{slack}", error=Value(error, digits=1, form="signed"), slack=Value(slack, "mm", 1))
    figures = ("spacing.required_mm", "spacing.actual_mm", "spacing.error_mm", "spacing.tolerance_mm")
    if verdict == "ok":
        title, reason = (
            text("Back focus OK"),
            text(
                "Back focus {actual}, required {required}.",
                actual=Value(actual, "mm", 1),
                required=Value(required, "mm", 1),
            ),
        )
    else:
        title = text("Back focus too {which}", which=text("long") if error > 0 else "close")
        glass = context.value("glass_shift")
        counted = text(" (filter glass +{glass})", glass=Value(glass, digits=1)) if glass > 0.05 else ""
        reason = text(
            "Back focus {actual}, required {required}{counted}.",
            actual=Value(actual, "mm", 1),
            required=Value(required, "mm", 1),
            counted=counted,
        )
        reason += _factor_words(context)
        stack = context.known.get("spacing.stack_rss_mm") or 0.0
        if abs(error) < slack + stack:
            reason += text(" The stack is known to ± {stack}: measure it.", stack=Value(stack, "mm", 1))
    limit = text("± {slack}", slack=Value(slack, "mm", 1)) + (text(" (corrector)") if own else "")
    judgement = Judgement(verdict, title, reason, limit, measure, figures, mine, tuple(says))
    gap = back_focus_gap(context.of(Spacing))
    yield with_attempts(judgement, () if isinstance(gap, Text) else filled(context, gap))


def _factor_words(context: Context) -> Words:
    """Which way the spacing moves the factor of one corrector, in words; nothing where it moves none."""
    lenses = context.of(Spacing).lenses
    if not lenses or len(lenses) != 1 or lenses[0].given == 1 or not lenses[0].told:
        return ""
    lens = lenses[0]
    way = "smaller" if lens.given < 1 else "larger"
    sentence = text(
        " The factor is {way} with a longer train: ×{factor} instead of ×{given}",
        "factor_moves",
        way=way,
        factor=Value(lens.factor, digits=3),
        given=Value(lens.given, digits=3),
    )
    focal = context.known.get("focal_length")
    return (
        text("{told}, {focal}.", told=sentence, focal=Value(focal, "mm", 0))
        if focal is not None
        else text("{told}.", told=sentence)
    )


BUILT_IN_SCHOOLS = (
    School("in_focus_is_in_spacing", "No separate back focus", "All optics move together with the focuser."),
    School("makers_figure", "Keep the specified distance", "Keep the specified distance, as for a corrector."),
)


@rule(
    "S3",
    "Filter glass and back focus",
    checks="Which filter glass counts: plates behind the shoulder, not ahead of it.",
    why="A plate adds about a third of its thickness; filters of different thickness require refocusing.",
    formula="t(n − 1)/n, for each plate",
    source="Snell's law, paraxial; a third of the thickness is common practice",
    fix="Parfocal filters in one holder.",
    needs=("glass_shift", "depth_of_focus"),
    schools=BUILT_IN_SCHOOLS,
    lapses=True,
)
def filter_glass(context: Context) -> Iterator[Judgement]:
    """S3: which filter glass is counted, and whether the filters of one holder focus alike."""
    train, depth = context.of(Spacing).train, context.value("depth_of_focus")
    first = train.behind[0].index if train.behind else 0
    for entry in train.laid:
        shifts = [plate_shift(filter_plate(f)) for f in entry.item.filters]
        ahead = entry.index < first
        if entry.filter is None and not shifts:
            continue
        spread = (max(shifts) - min(shifts)) * 1000 if shifts else 0.0
        now = sum(plate_shift(plate) for plate in plates(entry))
        where = (
            text("ahead of the shoulder: not counted", "ahead_of_shoulder")
            if ahead
            else text("adds {now} of back focus", now=Value(now, "mm", 2))
        )
        limit = text("≤ depth of focus, {depth}", depth=Value(depth, "µm", 0))
        subject = entry.part.name
        if spread > depth:
            reason = text(
                "Filters differ by {spread}: refocus at each change. Filter in use {where}.",
                spread=Value(spread, "µm", 0),
                where=where,
            )
            yield Judgement(
                "warning", text("Filters not parfocal"), reason, limit, Value(spread, "µm", 0), subject=subject
            )
        else:
            answer = Value(now, "mm", 2) if not ahead else text("not counted")
            reason = text("The filter in use {where}.", where=where) if entry.filter else text("No filter in use.")
            yield Judgement(
                "ok", text("Filter glass OK"), reason, limit, answer, ("spacing.glass_shift_mm",), subject=subject
            )


@rule(
    "S13",
    "Camera front spacer",
    checks="Whether the camera's front spacer is counted twice or missing, given the back focus error.",
    why="A 6.5 mm camera is 17.5 mm with its 11 mm spacer: another 11 mm spacer counts it twice.",
    formula="|e ∓ ring| ≤ tolerance",
    source="common practice",
    fix="Add or remove the front spacer, or the equal one.",
    needs=("spacing_error", "spacing_tolerance"),
    lapses=True,
)
def front_ring(context: Context) -> Iterator[Judgement]:
    """S13: front ring of a camera counted twice or not at all."""
    error, slack = context.value("spacing_error"), context.value("spacing_tolerance")
    entry = context.of(Spacing).train.camera
    if entry is None or not isinstance(entry.part, Camera) or entry.part.front_ring is None:
        return
    ring = entry.part.front_ring
    after = error - ring.length_mm if ring.fitted else error + ring.length_mm
    if abs(error) <= slack or abs(after) > slack:
        return
    state = text("counted although another replaces it") if ring.fitted else "missing"
    reason = text(
        "The error of {error} equals the {length_mm} front spacer of the camera: {state}.",
        error=Value(error, "mm", 1, form="signed"),
        length_mm=Value(ring.length_mm, "mm"),
        state=state,
    )
    turned = ring.model_copy(update={"fitted": not ring.fitted})
    part = entry.part.model_copy(update={"front_ring": turned})
    on = "off" if ring.fitted else "on"
    attempts = [
        Attempt(
            text("Turn the camera's front ring {on}", "turn_front_ring", on=on),
            (Edit("replace", ("path", entry.index, "part"), part),),
        ),
        *(
            Attempt(text("Remove the {part}", "remove", part=other.part.name), without(other.index))
            for other in context.of(Spacing).train.behind
            if ring.fitted and isinstance(other.part, Adapter) and other.length == ring.length_mm
        ),
    ]
    limit = text("± {slack}", slack=Value(slack, "mm", 1))
    yield with_attempts(
        Judgement("warning", text("Front spacer explains the error"), reason, limit, Value(ring.length_mm, "mm")),
        attempts,
    )


def _without_reading(entry: Laid) -> Iterator[Attempt]:
    """Leave a part's own reading out in this rig; the shelf keeps it."""
    field = "flange_to_sensor_mm" if isinstance(entry.part, Camera) else "optical_length_mm"
    if field in entry.part.measured:
        kept = {name: reading for name, reading in entry.part.measured.items() if name != field}
        part = entry.part.model_copy(update={"measured": kept})
        yield Attempt(
            text("Remove the measured length in this rig", "remove_measured"),
            (Edit("replace", ("path", entry.index, "part"), part),),
        )


def _parted(span: MeasuredSpan, context: Context) -> Words:
    """Why a reading over several parts no longer counts: what went, or what came between."""
    train = context.of(Spacing).train
    names = {part_key(part): part.name for part in context.shelf} | {
        part_key(entry.part): entry.part.name for entry in train.laid
    }
    here = [part_key(entry.part) for entry in train.laid]
    gone = [names.get(key, key) for key in span.parts if key not in here]
    if gone:
        return text(
            "The measured {gone} {which} no longer in the train",
            "measured_gone",
            gone=joined(" and the ", gone),
            which="is" if len(gone) == 1 else "are",
        )
    first, last = (min(map(here.index, span.parts)), max(map(here.index, span.parts)))
    between = [names[key] for key in here[first : last + 1] if key not in span.parts]
    if between:
        return text(
            "The {between} is now among the measured parts",
            "now_among_measured_parts",
            between=joined(" and the ", between),
        )
    if [key for key in here if key in span.parts] != list(span.parts):
        return text("The measured parts are in another order", "measured_order_changed")
    return text("A measured part has no length specified")


@rule(
    "S15",
    "Measured vs nominal length",
    checks="Calliper measurements against specified lengths, and group measurements of parts no longer together.",
    why="A measurement 20% off is more often an error than a bad part.",
    formula="|measured − nominal| / nominal ≤ 20%",
    source="default threshold: a question, not an error",
    fix="Measure again, or remove the measurement in this rig; Parts keeps it.",
    lapses=True,
)
def measured_lengths(context: Context) -> Iterator[Judgement]:
    """S15: a measured length that differs from nominal by over a fifth, or a group that was parted."""
    limit = text("± {ASK_BEYOND} of the specified length", ASK_BEYOND=Value(ASK_BEYOND, form="share"))
    train = context.of(Spacing).train
    singles = sum(bool(entry.reading) and entry.reading != AS_A_GROUP for entry in train.laid)
    totals = len(context.rig.measured_spans) - len(train.spans_void)
    for entry in train.laid:
        if not entry.reading or not entry.nominal or entry.length is None:
            continue
        off = entry.length / entry.nominal - 1
        if abs(off) > ASK_BEYOND:
            reason = text(
                "Measured {length} ({reading}), specified {nominal}: please check. The measurement is used.",
                length=Value(entry.length, "mm", 2),
                reading=entry.reading,
                nominal=Value(entry.nominal, "mm", 2),
            )
            judgement = Judgement(
                "warning",
                text("Measurement far from nominal"),
                reason,
                limit,
                Value(off * 100, "%", 0, form="signed"),
                subject=entry.part.name,
            )
            yield with_attempts(judgement, _without_reading(entry))
    for span in train.spans_void:
        reason = text("{span}: not used, but kept.", span=_parted(span, context))
        subject = str(text("{total} over {parts} parts", total=Value(span.total.value, "mm"), parts=len(span.parts)))
        drop = tuple(other for other in context.rig.measured_spans if other != span)
        attempt = Attempt(text("Remove the measured span"), (Edit("replace", ("measured_spans",), drop),))
        yield with_attempts(
            Judgement("warning", text("Measurement no longer applies"), reason, limit, subject=subject), [attempt]
        )
    if singles or totals:
        lengths = text("{singles} length{x}", singles=singles, x="s" * (singles > 1))
        over = text("{totals} total{x} over several parts", totals=totals, x="s" * (totals > 1))
        sentence = joined(" and ", (words for words, n in ((lengths, singles), (over, totals)) if n))
        verb = "is" if singles + totals == 1 else "are"
        yield Judgement(
            "ok",
            text("Measurements OK"),
            text("{told} {verb} measured.", told=sentence, verb=verb),
            limit,
            str(singles + totals),
        )
