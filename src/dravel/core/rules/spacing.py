"""Rules of the Spacing stop: joints, back focus, focus reach, light, the guider's place, order and stiffness."""

from collections.abc import Iterator
from itertools import chain

from dravel.core.model import Adapter, Camera, FilterHolder, OffAxisGuider, PathItem, SchoolSays, Verdict
from dravel.core.patch import Edit
from dravel.core.rules.changes import filled, focusers_swapped, relaid, widened, without
from dravel.core.rules.registry import Attempt, Context, Judgement, School, rule, with_attempts
from dravel.core.spacing import guider, tolerance
from dravel.core.spacing.clearance import smallest_filter, through_one, tightest
from dravel.core.spacing.joints import GENDER_WORDS, Joint, spoken
from dravel.core.spacing.reach import grown_focal_length
from dravel.core.spacing.rings import back_focus_gap, joint_gap, reach_gap
from dravel.core.spacing.train import filter_plate, plate_shift, plates

MOST_CLAMPS = 1
ASK_BEYOND = 0.20


@rule(
    "S1",
    "spacing",
    "Joints mate",
    checks="Every joint of the light path: family and size alike, genders opposite.",
    why="A thread never mates with another pitch or diameter almost: forced, both are spoilt.",
    formula="family = family, size = size, gender opposite",
    source="common practice; ISO metric threads, nominal diameter and pitch",
    mend="Rings and converters from the shelf, found by the solver, that lead from one end to the other.",
    lapses=True,
)
def joints_mate(context: Context) -> Iterator[Judgement]:
    """S1: one judgement for each joint that does not mate, or one for all that do."""
    found = context.spacing.joints
    limit = "same family and size, opposite gender, at every joint"
    bad = [joint for joint in found if not joint.mated]
    if found and not bad:
        sizes = ", ".join(dict.fromkeys(joint.rear.size.split("x")[0] for joint in found if joint.rear))
        yield Judgement("holds", f"All {len(found)} joints mate", f"{sizes}.", limit, str(len(found)))
    for joint in bad:
        subject = f"{joint.ahead.name} → {joint.behind.name}"
        if not joint.known:
            who = joint.ahead.name if joint.rear is None else joint.behind.name
            reason = f"The {who} does not say which end it offers here; describe it on the shelf."
            yield Judgement("strains", "A joint is not described", reason, limit, subject=subject)
            continue
        reason = f"{spoken(joint.rear)} meets {spoken(joint.front)}."
        judgement = Judgement("breaks", "Two ends do not mate", reason, limit, _clash(joint), subject=subject)
        yield with_attempts(judgement, _joint_mends(context, joint))


def _clash(joint: Joint) -> str:
    rear, front = joint.rear, joint.front
    if rear is None or front is None:
        return ""
    if rear.size == front.size:
        return f"{GENDER_WORDS[rear.gender]} on {GENDER_WORDS[front.gender]}"
    return f"{rear.size.split('x')[0]} / {front.size.split('x')[0]}"


def _joint_mends(context: Context, joint: Joint) -> Iterator[Attempt]:
    facts = context.spacing
    gaps = [back_focus_gap(facts), reach_gap(facts), joint_gap(facts, joint.index)]
    for gap in gaps:
        if not isinstance(gap, str) and gap.first <= joint.index <= gap.last:
            yield from filled(context, gap)


TOLERANCE_SCHOOLS = (
    School("ratio_and_pixel", "By focal ratio and pixel", "±0.2 to ±1.0 mm, finer for fast glass and small pixels."),
    School("always_tight", "Always ±0.2 mm", "Two tenths for every rig, whatever the glass."),
    School("round_stars", "Round stars decide", "Within 2 mm the picture tells: if the stars are round it is right."),
)


@rule(
    "S2",
    "spacing",
    "Back focus",
    checks="Distance from the corrector's rear shoulder to the sensor against the distance asked for, glass counted.",
    why="Off its distance a corrector over- or undercorrects: stars in the corners stretch out or around.",
    formula="e = A − (B + Σ t(n − 1)/n)",
    source="maker's figure; tolerance by school, common practice; three tolerances before it breaks is Dravel's own",
    mend="Rings from the shelf, found by the solver; the camera's front ring on or off.",
    needs=("actual", "required", "spacing_error", "spacing_tolerance"),
    schools=TOLERANCE_SCHOOLS,
)
def back_focus(context: Context) -> Iterator[Judgement]:
    """S2: back-focus error against tolerance."""
    error, slack = context.value("spacing_error"), context.value("spacing_tolerance")
    required, actual = context.value("required"), context.value("actual")
    verdict = tolerance.verdict_of(error, slack)
    if context.light.telescope is not None and context.light.telescope.design == "camera_lens" and error > slack:
        verdict = "breaks"  # too far from its flange a lens does not reach infinity
    says = []
    for school in TOLERANCE_SCHOOLS:
        theirs = context.spacing.tolerance_by(school.key) or slack
        says.append(
            SchoolSays(
                school=school.title, verdict=tolerance.verdict_of(error, theirs), says=f"within ±{theirs:.1f} mm"
            )
        )
    own = bool(context.light.correctors and context.light.correctors[-1].tolerance_mm)
    mine = None if own else next(s.title for s in TOLERANCE_SCHOOLS if s.key == context.practice.spacing_tolerance)
    measure = f"{error:+.1f} of ±{slack:.1f} mm"
    figures = ("spacing.required_mm", "spacing.actual_mm", "spacing.error_mm", "spacing.tolerance_mm")
    if verdict == "holds":
        title, reason = "Spacing is right", f"{actual:.1f} mm laid, {required:.1f} mm required."
    else:
        title = f"Sensor sits too {'far back' if error > 0 else 'close'}"
        glass = context.value("glass_shift")
        counted = f" (glass adds {glass:.1f})" if glass > 0.05 else ""
        reason = f"{actual:.1f} mm laid against {required:.1f} mm required{counted}."
        stack = context.value("stack_rss") if "stack_rss" in context.known else 0.0
        if abs(error) < slack + stack:
            reason += f" The stack itself is only known to ±{stack:.1f} mm: measure it."
    limit = f"within ±{slack:.1f} mm" + (" (the corrector's own)" if own else "")
    judgement = Judgement(verdict, title, reason, limit, measure, figures, mine, tuple(says))
    gap = back_focus_gap(context.spacing)
    yield with_attempts(judgement, () if isinstance(gap, str) else filled(context, gap))


BUILT_IN_SCHOOLS = (
    School("in_focus_is_in_spacing", "In focus means in spacing", "All the glass moves together with the focuser."),
    School("makers_figure", "The maker's figure is a target", "Hold the distance the maker names, as for a corrector."),
)


@rule(
    "S3",
    "spacing",
    "Filter glass and spacing",
    checks="Which plates push the image back: those behind the shoulder count, those ahead of it do not.",
    why="A plate adds about a third of its thickness; filters of unlike thickness want a new focus at each change.",
    formula="t(n − 1)/n, for each plate",
    source="Snell's law, paraxial; a third of the thickness is common practice",
    mend="Filters of one thickness in one holder.",
    needs=("glass_shift", "depth_of_focus"),
    schools=BUILT_IN_SCHOOLS,
    lapses=True,
)
def filter_glass(context: Context) -> Iterator[Judgement]:
    """S3: which filter glass is counted, and whether the filters of one holder focus alike."""
    train, depth = context.spacing.train, context.value("depth_of_focus")
    first = train.behind[0].index if train.behind else 0
    for entry in train.laid:
        shifts = [plate_shift(filter_plate(f)) for f in entry.item.filters]
        ahead = entry.index < first
        if entry.filter is None and not shifts:
            continue
        spread = (max(shifts) - min(shifts)) * 1000 if shifts else 0.0
        now = sum(plate_shift(plate) for plate in plates(entry))
        where = "ahead of the shoulder: not counted" if ahead else f"pushes the sensor back by {now:.2f} mm"
        limit = f"filters of one holder within the depth of focus, {depth:.0f} µm"
        subject = entry.part.name
        if spread > depth:
            reason = f"Its filters differ by {spread:.0f} µm of focus: refocus at each change. The one in use {where}."
            yield Judgement("strains", "Filters do not focus alike", reason, limit, f"{spread:.0f} µm", subject=subject)
        else:
            told = f"{now:.2f} mm" if not ahead else "not counted"
            reason = f"The filter in use {where}." if entry.filter else "No filter in use."
            yield Judgement(
                "holds", "Filter glass is counted", reason, limit, told, ("spacing.glass_shift_mm",), subject=subject
            )


@rule(
    "S4",
    "spacing",
    "Focus is reached",
    checks="Where the drawtube must stand for the image to fall on the sensor, against its travel.",
    why="Out of travel there is no picture at all. Reducers move the image inward, extension tubes the sensor outward.",
    formula="x = p − c − d / m(d), 0 ≤ x ≤ travel",
    source="thin-lens equation; geometry",
    mend="An extension or shorter rings from the shelf, or a focuser of another height.",
    needs=("focuser_position", "travel"),
)
def focus_reach(context: Context) -> Iterator[Judgement]:
    """S4: focus out of the focuser's travel."""
    position, travel = context.value("focuser_position"), context.value("travel")
    measure = f"{position:.0f} of {travel:.0f} mm"
    limit = f"between 0 and {travel:.0f} mm out"
    figures = ("spacing.focuser_position_mm",)
    if 0 <= position <= travel:
        reason = f"The drawtube stands {position:.1f} mm out."
        if context.spacing.built_in and context.practice.built_in_corrector == "in_focus_is_in_spacing":
            reason += " Its corrector is built in: in focus means in spacing."
        yield Judgement("holds", "Focus is reached", reason, limit, measure, figures)
        return
    if position < 0:
        title = "Focus lies too far in"
        reason = f"The tube would have to go {-position:.1f} mm further in than it can."
    else:
        title = "Focus lies too far out"
        reason = f"The image lies {position - travel:.1f} mm beyond the drawtube at its longest."
    judgement = Judgement("breaks", title, reason, limit, measure, figures)
    yield with_attempts(judgement, _reach_mends(context))


def _reach_mends(context: Context) -> Iterator[Attempt]:
    gap = reach_gap(context.spacing)
    if not isinstance(gap, str):
        yield from filled(context, gap)
    yield from focusers_swapped(context)


@rule(
    "S5",
    "spacing",
    "Drawtube racked far out",
    checks="How much of the drawtube's travel is used.",
    why="Far out a drawtube has play and leans under the camera.",
    formula="x / travel",
    source="common practice: three quarters of the travel, adjustable in the practice",
    mend="An extension ring ahead of the train, so that the tube can go in.",
    needs=("focuser_position", "travel"),
)
def racked_far_out(context: Context) -> Iterator[Judgement]:
    """S5: focused with the tube racked far out."""
    position, travel = context.value("focuser_position"), context.value("travel")
    if not 0 <= position <= travel or travel <= 0:
        return
    share, most = position / travel, context.practice.racked_out_share
    limit = f"at most {most:.0%} of the travel"
    figures = ("spacing.focuser_position_mm",)
    if share <= most:
        yield Judgement(
            "holds", "Drawtube stands well in", f"{share:.0%} of its travel.", limit, f"{share:.0%}", figures
        )
        return
    reason = f"{position:.0f} of {travel:.0f} mm: an extension ring lets the tube go in."
    judgement = Judgement("strains", "Drawtube is racked far out", reason, limit, f"{share:.0%}", figures)
    yield with_attempts(judgement, _reach_mends(context))


@rule(
    "S6",
    "spacing",
    "Light passes every opening",
    checks="The beam at every ring, nosepiece and filter, for the sensor's corner.",
    why="An opening smaller than the beam darkens the corners; a 1.25-inch nose is too small for a large sensor.",
    formula="share of the pupil seen through all openings",
    source="geometry of vignetting; three quarters in the corner is common practice, half before it breaks Dravel's own",
    mend="A wider nosepiece, ring or filter from the shelf, or a camera with a smaller sensor.",
    needs=("corner_light",),
)
def light_clearance(context: Context) -> Iterator[Judgement]:
    """S6: an opening, small filter or nosepiece that vignettes."""
    facts, light = context.spacing, context.value("corner_light")
    corner, enough = facts.corner_mm or 0.0, context.practice.corner_light_share
    verdict: Verdict = "holds" if light >= enough - 1e-6 else "strains" if light >= enough * 2 / 3 else "breaks"
    limit = f"at least {enough:.0%} of the light in the corner"
    tight = tightest(facts.openings, corner)
    if tight is None:
        yield Judgement(
            "holds", "Light is clear to the corners", "No opening cuts the beam.", limit, f"{light:.0%}", _LIGHT
        )
        return
    passes = through_one(tight.radius, tight.offset * corner, tight.diameter)
    needed = tight.needed(corner)
    reason = f"The {tight.name} is {tight.diameter:.1f} mm wide; the beam needs {needed:.1f} mm for full light."
    if any(entry.filter is not None and entry.filter.name == tight.name for entry in facts.train.laid):
        reason += f" The smallest filter that clears: {smallest_filter(needed) or 'none usual'}."
    elif passes < 0.999:
        reason += f" It lets {passes:.0%} through."
    title = "Light falls off a little" if verdict == "holds" else "An opening darkens the corners"
    judgement = Judgement(verdict, title, reason, limit, f"{light:.0%}", _LIGHT)
    yield with_attempts(judgement, widened(context, tight.index, tight.diameter))


_LIGHT = ("spacing.corner_light",)


@rule(
    "S7",
    "spacing",
    "Focuser carries its load",
    checks="Mass behind the focuser against its limit, and the lean it causes against the depth of focus.",
    why="A drawtube that leans tilts the sensor: one side soft, and changing with the pointing.",
    formula="Σ m ≤ limit; φ · diagonal ≤ depth of focus",
    source="maker's limit; statics; yields of joints are Dravel's own orders of magnitude",
    mend="A lighter camera, fewer rings, or a stronger focuser.",
    needs=("hanging", "sag_um", "depth_of_focus"),
)
def focuser_load(context: Context) -> Iterator[Judgement]:
    """S7: focuser load limit, and sag turned into tilt."""
    facts = context.spacing
    mass, lean, depth = context.value("hanging"), context.value("sag_um"), context.value("depth_of_focus")
    focuser = facts.train.focuser
    most = focuser.load_limit_kg if focuser else None
    floor = "at least " if facts.hanging.unweighed else ""
    limit = f"{f'{most:g} kg on the focuser; ' if most else ''}lean up to the depth of focus, {depth:.0f} µm"
    figures = ("spacing.hanging_kg", "spacing.moment_nm", "spacing.sag_um", "optics.depth_of_focus_um")
    moment = context.value("moment")
    unweighed = f" Unweighed: {', '.join(facts.hanging.unweighed)}." if facts.hanging.unweighed else ""
    reason = f"{floor}{mass:.2f} kg, {moment:.2f} N·m; the sensor leans about {lean:.0f} µm across.{unweighed}"
    reason = reason[0].upper() + reason[1:]
    if most is not None and mass > most:
        judgement = Judgement("breaks", "Focuser is overloaded", reason, limit, f"{mass:.1f} of {most:g} kg", figures)
        yield with_attempts(judgement, focusers_swapped(context))
    elif lean > depth:
        judgement = Judgement(
            "strains", "Sensor leans under its load", reason, limit, f"{lean:.0f} of {depth:.0f} µm", figures
        )
        yield with_attempts(judgement, focusers_swapped(context))
    else:
        yield Judgement("holds", "Focuser carries its load", reason, limit, f"{floor}{mass:.1f} kg", figures)


@rule(
    "S8",
    "spacing",
    "Guide camera in focus",
    checks="Distance from the prism to the guide sensor against that from the prism to the main sensor.",
    why="Both cameras share one focuser: when one is in focus the other must be.",
    formula="a = r, r = prism to sensor − glass behind the prism",
    source="equal light path behind the pick-off; common practice",
    mend="Turn the helical, draw the guide camera to a mark, or lay a ring on its branch.",
)
def guide_parfocal(context: Context) -> Iterator[Judgement]:
    """S8: off-axis guide camera not parfocal with the main one."""
    if context.rig.guide.method != "off_axis":
        return
    limit = f"within ±{guider.TOLERANCE_MM:g} mm"
    branch, why = context.spacing.branch
    if branch is None:
        reason = f"Off-axis guiding is chosen, but there is {why}." if why.startswith("no ") else f"{why}."
        judgement = Judgement("breaks", "Guide branch is not whole", reason[0].upper() + reason[1:], limit)
        yield with_attempts(judgement, _guide_camera_laid(context, why))
        return
    error, figures = branch.error, ("spacing.guide_error_mm",)
    setting = branch.setting()
    mark = ""
    if setting is not None:
        mark = f"Helical {setting[0]:.1f} mm out, nose drawn {setting[1]:.1f} mm out: mark it."
    if abs(error) <= guider.TOLERANCE_MM:
        reason = f"{branch.actual:.1f} mm on the branch, {branch.required:.1f} mm to the main sensor. {mark}"
        yield Judgement("holds", "Guide camera is in focus", reason, limit, f"{error:+.1f} mm", figures)
        return
    reason = f"{branch.actual:.1f} mm on the branch against {branch.required:.1f} mm to the main sensor."
    if setting is None:
        if branch.required > branch.longest:
            reason += (
                f" Even at its longest it is {branch.required - branch.longest:.1f} mm short: a ring on the branch."
            )
        else:
            reason += f" Even fully in it is {branch.shortest - branch.required:.1f} mm too long."
    verdict: Verdict = "strains" if setting is not None else "breaks"
    judgement = Judgement(verdict, "Guide camera is out of focus", reason, limit, f"{error:+.1f} mm", figures)
    yield with_attempts(judgement, chain(_set_branch(context), _ring_on_branch(context), _rings_moved_behind(context)))


def _set_branch(context: Context) -> Iterator[Attempt]:
    branch = context.spacing.branch[0]
    setting = branch.setting() if branch else None
    if setting is not None:
        label = f"Helical {setting[0]:g} mm out, nose drawn {setting[1]:g} mm out"
        yield Attempt(
            label,
            (
                Edit("replace", ("guide", "helical_mm"), setting[0]),
                Edit("replace", ("guide", "drawn_out_mm"), setting[1]),
            ),
        )


def _guide_camera_laid(context: Context, why: str) -> Iterator[Attempt]:
    facts = context.spacing
    if "guide camera" in why and facts.train.guider is not None:
        for part in context.shelf:
            if isinstance(part, Camera) and part.nose_mm and part.status != "retired":
                branch = (*context.rig.guide.branch, PathItem(part=part))
                yield Attempt(f"Put the {part.name} on the guide port", (Edit("replace", ("guide", "branch"), branch),))
    yield Attempt("Guide in another way for now", (Edit("replace", ("guide", "method"), "none"),))


def _ring_on_branch(context: Context) -> Iterator[Attempt]:
    branch = context.spacing.branch[0]
    if branch is None:
        return
    items = context.rig.guide.branch
    laid = {item.part.id for item in (*items, *context.rig.path)}
    for part in context.shelf:
        if not isinstance(part, Adapter) or part.id in laid or part.status == "retired":
            continue
        length = part.used("optical_length_mm")
        front = items[0].part.sky_side
        fits = (
            part.sensor_side and front and part.sky_side and part.sensor_side.size == front.size == part.sky_side.size
        )
        if length and fits and branch.shortest + length <= branch.required <= branch.longest + length:
            yield Attempt(
                f"Lay the {part.name} on the guide branch",
                (Edit("replace", ("guide", "branch"), (PathItem(part=part), *items)),),
            )


def _rings_moved_behind(context: Context) -> Iterator[Attempt]:
    train = context.spacing.train
    if train.guider is None:
        return
    at = train.guider.index
    for entry in train.laid:
        if entry.index < at and isinstance(entry.part, Adapter) and entry.part.function in ("spacer", "extension"):
            moved = (Edit("remove", ("path", entry.index)), Edit("add", ("path", at), entry.item))
            yield Attempt(f"Lay the {entry.part.name} behind the guider instead", moved)


@rule(
    "S9",
    "spacing",
    "Prism clear of the sensor",
    checks="How much light the off-axis prism takes from the sensor, and whether it stands in good light itself.",
    why="A prism pushed in too far casts a soft shadow; one drawn back too far sees no stars.",
    formula="area of beam ∩ prism / area of beam",
    source="geometry; a tenth of the light before it breaks flats is common practice",
    mend="Draw the prism back to where it clears, or turn it to the long side.",
    needs=("prism_shade",),
)
def prism_clear(context: Context) -> Iterator[Judgement]:
    """S9: its prism shades the sensor."""
    shade, train = context.spacing.shade, context.spacing.train
    if shade is None or train.guider is None or not isinstance(train.guider.part, OffAxisGuider):
        return
    limit = f"at most 0.5 % of the light; it clears with its edge {shade.clear_edge:.1f} mm off the axis"
    figures = ("spacing.prism_shade",)
    verdict: Verdict = "holds" if shade.worst <= 0.005 else "strains" if shade.worst <= 0.10 else "breaks"
    reason = f"The prism's edge stands {shade.edge:.1f} mm off the axis."
    circle = context.known.value("image_circle") / 2 if "image_circle" in context.known else None
    if verdict == "holds" and circle is not None and shade.field_mm > circle:
        reason += (
            f" It looks {shade.field_mm:.1f} mm off, outside the {2 * circle:.0f} mm circle: guide stars will be poor."
        )
        judgement = Judgement(
            "strains", "Prism stands outside the good light", reason, limit, f"{shade.worst:.1%}", figures
        )
    else:
        title = "Prism is clear of the sensor" if verdict == "holds" else "Prism shades the sensor"
        judgement = Judgement(verdict, title, reason, limit, f"{shade.worst:.1%}", figures)
    yield with_attempts(judgement, _prism_moved(context))


def _prism_moved(context: Context) -> Iterator[Attempt]:
    shade, entry = context.spacing.shade, context.spacing.train.guider
    if shade is None or entry is None or not isinstance(entry.part, OffAxisGuider) or entry.part.prism.edge_mm is None:
        return
    prism = entry.part.prism
    inward = min(max((prism.edge_mm or 0.0) - shade.clear_edge, 0.0), prism.reach_mm)
    inward = int(inward * 10) / 10
    yield Attempt(f"Set the prism {inward:g} mm in", (Edit("replace", ("path", entry.index, "prism_in_mm"), inward),))
    if (entry.item.faces_deg or 0.0) % 180 != 0:
        turn = Edit("replace", ("path", entry.index, "faces_deg"), 0.0)
        yield Attempt("Turn the prism to the long side", (turn,))


@rule(
    "S10",
    "spacing",
    "Order of the parts",
    checks="Rotator ahead of guider, guider ahead of filters, tilt plate close to the sensor, filters behind correctors.",
    why="Behind a rotator the guider turns with the camera; behind a filter it sees too few stars.",
    formula="rotator < guider < filters; at most one thick part between tilt plate and sensor",
    source="common practice",
    mend="The same parts in the order that works, with rings that mate.",
    lapses=True,
)
def order_of_parts(context: Context) -> Iterator[Judgement]:
    """S10: parts in an order that defeats them."""
    laid = context.spacing.train.laid
    places = [(kind, entry.index, entry.part.name) for entry in laid if (kind := _role(entry.item)) is not None]
    limit = "rotator, then guider, then filters; tilt plate near the sensor"
    wrong = []
    for i, (kind, at, name) in enumerate(places):
        for other, behind, other_name in places[i + 1 :]:
            if (kind, other) in _WRONG:
                wrong.append((at, behind, f"The {name} stands ahead of the {other_name}: {_WRONG[kind, other]}."))
    for at, behind, reason in wrong:
        subject = f"{context.rig.path[at].part.name} / {context.rig.path[behind].part.name}"
        judgement = Judgement("strains", "Order of parts defeats one of them", reason, limit, subject=subject)
        yield with_attempts(judgement, _reordered(context, at, behind))
    if not wrong and len(places) > 1:
        yield Judgement("holds", "Order of parts works", "Rotator, guider and filters stand in their order.", limit)


_WRONG = {
    ("guider", "rotator"): "turning the camera leaves the prism behind",
    ("filters", "guider"): "the guide camera looks through the filter",
    ("filters", "rotator"): "the filters' shadows of dust do not turn with the camera",
    ("tilt", "guider"): "a tilt plate so far from the sensor shifts the picture as it turns",
    ("tilt", "rotator"): "the tilt it takes out comes back when the camera turns",
}


def _role(item: PathItem) -> str | None:
    part = item.part
    if isinstance(part, OffAxisGuider):
        return "guider"
    if isinstance(part, FilterHolder) and part.style != "threaded_cell":
        return "filters"
    if isinstance(part, Adapter):
        return {"rotator": "rotator", "turning_ring": "rotator", "tilt_plate": "tilt"}.get(part.function)
    return None


def _reordered(context: Context, at: int, behind: int) -> Iterator[Attempt]:
    path = context.rig.path
    moved, other = path[behind], path[at].part.name
    swap = (Edit("remove", ("path", behind)), Edit("add", ("path", at), moved))
    yield relaid(context, f"Lay the {moved.part.name} ahead of the {other}", swap)


@rule(
    "S11",
    "spacing",
    "Clamped joints",
    checks="How many joints hold a smooth tube by screws or a collet.",
    why="Each clamp lets the camera lean and turn; threads do not.",
    formula="count of clamped joints in the light path",
    source="common practice: at most one",
    mend="Threaded rings in place of a nosepiece.",
)
def clamped_joints(context: Context) -> Iterator[Judgement]:
    """S11: sagging joints, counted."""
    clamps = [joint for joint in context.spacing.joints if joint.clamped]
    limit = f"at most {MOST_CLAMPS}"
    if len(clamps) > MOST_CLAMPS:
        where = "; ".join(f"{joint.ahead.name} → {joint.behind.name}" for joint in clamps)
        yield Judgement("strains", f"{len(clamps)} clamped joints", f"{where}.", limit, str(len(clamps)))
    elif context.spacing.joints:
        words = (
            f"{clamps[0].ahead.name} → {clamps[0].behind.name} only." if clamps else "All joints are screwed or locked."
        )
        yield Judgement("holds", "Joints are firm", words, limit, str(len(clamps)))


@rule(
    "S12",
    "spacing",
    "Filters can be changed",
    checks="Filters against the holder: thread or size, places, and whether they can be changed in the dark.",
    why="A filter in a screwed cell means taking the train apart for every change.",
    formula="filters ≤ places; size = size; more than one filter asks for a drawer or a wheel",
    source="common practice",
    mend="A drawer or a wheel of the same threads.",
    lapses=True,
)
def filter_change(context: Context) -> Iterator[Judgement]:
    """S12: a filter that cannot be changed in the field, or does not fit its holder."""
    limit = "each filter fits its holder and can be changed in the field"
    for index, item in enumerate(context.rig.path):
        if not item.filters:
            continue
        part = item.part
        size = getattr(part, "filter_size", None)
        wrong = [f.name for f in item.filters if size is not None and f.size != size]
        places = part.positions if isinstance(part, FilterHolder) and part.style == "wheel" else None
        subject = part.name
        if wrong:
            reason = f"{wrong[0]} is made for another size than the holder's {size}."
            attempts = [
                relaid(context, f"Take the {f.name} out", _filter_out(index, item, i))
                for i, f in enumerate(item.filters)
                if f.size != size
            ]
            yield with_attempts(Judgement("breaks", "A filter does not fit", reason, limit, subject=subject), attempts)
        elif places is not None and len(item.filters) > places:
            reason = f"{len(item.filters)} filters for {places} places."
            yield Judgement("breaks", "Wheel has too few places", reason, limit, subject=subject)
        elif len(item.filters) > 1 and not (isinstance(part, FilterHolder) and part.style != "threaded_cell"):
            reason = f"{len(item.filters)} filters, and changing one means taking the train apart."
            yield Judgement("strains", "Filter cannot be changed in the field", reason, limit, subject=subject)
        else:
            yield Judgement(
                "holds", "Filters fit and can be changed", f"{len(item.filters)} carried.", limit, subject=subject
            )


def _filter_out(index: int, item: PathItem, i: int) -> tuple[Edit, ...]:
    left = tuple(f for k, f in enumerate(item.filters) if k != i)
    in_use = None if not left or item.in_use is None else min(item.in_use, len(left) - 1)
    return (
        Edit("replace", ("path", index, "in_use"), None),
        Edit("replace", ("path", index, "filters"), left),
        Edit("replace", ("path", index, "in_use"), in_use),
    )


@rule(
    "S13",
    "spacing",
    "Camera's front ring",
    checks="Whether the camera's own front ring is counted twice, or missing, given the error of the spacing.",
    why="A 6.5 mm camera is 17.5 mm with its 11 mm ring: laying another 11 mm ring counts it twice.",
    formula="|e ∓ ring| ≤ tolerance",
    source="common practice",
    mend="Take the ring off, put it on, or take the like ring out.",
    needs=("spacing_error", "spacing_tolerance"),
    lapses=True,
)
def front_ring(context: Context) -> Iterator[Judgement]:
    """S13: front ring of a camera counted twice or not at all."""
    error, slack = context.value("spacing_error"), context.value("spacing_tolerance")
    entry = context.spacing.train.camera
    if entry is None or not isinstance(entry.part, Camera) or entry.part.front_ring is None:
        return
    ring = entry.part.front_ring
    after = error - ring.length_mm if ring.fitted else error + ring.length_mm
    if abs(error) <= slack or abs(after) > slack:
        return
    state = "counted though another takes its place" if ring.fitted else "missing"
    reason = f"The error of {error:+.1f} mm is the {ring.length_mm:g} mm of the camera's front ring: it is {state}."
    turned = ring.model_copy(update={"fitted": not ring.fitted})
    part = entry.part.model_copy(update={"front_ring": turned})
    on = "off" if ring.fitted else "on"
    attempts = [
        Attempt(f"Camera's front ring {on}", (Edit("replace", ("path", entry.index, "part"), part),)),
        *(
            Attempt(f"Take out the {other.part.name}", without(other.index))
            for other in context.spacing.train.behind
            if ring.fitted and isinstance(other.part, Adapter) and other.length == ring.length_mm
        ),
    ]
    limit = f"within ±{slack:.1f} mm"
    yield with_attempts(
        Judgement("strains", "Front ring explains the error", reason, limit, f"{ring.length_mm:g} mm"), attempts
    )


@rule(
    "S14",
    "spacing",
    "Which way things face",
    checks="Where drawers, cables and knobs point with the tube level.",
    why="A drawer that opens underneath drops its filter; a cable underneath catches the mount.",
    formula="120° < direction < 240° is underneath",
    source="common practice; the angles are Dravel's own",
    mend="Turn it at a rotator, a turning ring or a clamp; else lay one.",
    lapses=True,
)
def clocking(context: Context) -> Iterator[Judgement]:
    """S14: drawer or cable exit that ends up underneath."""
    limit = "not between 120° and 240°, seen from behind, up being 0°"
    turns = [joint.index for joint in context.spacing.joints if joint.mated and joint.turns]
    for index, item in enumerate(context.rig.path):
        faces = item.faces_deg
        if faces is None or isinstance(item.part, OffAxisGuider):
            continue
        subject = item.part.name
        if not 120 < faces < 240:
            yield Judgement(
                "holds",
                "Faces where a hand can reach",
                f"It points to {faces:.0f}°.",
                limit,
                f"{faces:.0f}°",
                subject=subject,
            )
            continue
        turnable = any(at <= index for at in turns)
        reason = f"It points to {faces:.0f}°, underneath."
        reason += " It can be turned." if turnable else " Nothing ahead of it lets it turn."
        judgement = Judgement("strains", "Ends up underneath", reason, limit, f"{faces:.0f}°", subject=subject)
        yield with_attempts(judgement, _turned(context, index, turnable))


def _turned(context: Context, index: int, turnable: bool) -> Iterator[Attempt]:
    turn = Edit("replace", ("path", index, "faces_deg"), 0.0)
    if turnable:
        yield Attempt("Turn it to face up", (turn,))
        return
    for part in context.shelf:
        if isinstance(part, Adapter) and part.function in ("rotator", "turning_ring") and part.status != "retired":
            behind = Edit("replace", ("path", index + 1, "faces_deg"), 0.0)
            lay = (Edit("add", ("path", index), PathItem(part=part)), behind)
            yield relaid(context, f"Lay the {part.name} and turn it to face up", lay)


@rule(
    "S15",
    "spacing",
    "Measured against nominal",
    checks="Calliper readings against the makers' lengths, and readings over several parts that no longer stand together.",
    why="A reading a fifth off its nominal is more often a slip of the hand than a bad part.",
    formula="|measured − nominal| / nominal ≤ 20 %",
    source="Dravel's own convention: asked, not refused",
    mend="Measure again; the reading is kept and used meanwhile.",
    lapses=True,
)
def measured_lengths(context: Context) -> Iterator[Judgement]:
    """S15: a measured length that differs from nominal by over a fifth, or a group that was parted."""
    limit = f"within {ASK_BEYOND:.0%} of the maker's length"
    train = context.spacing.train
    read = 0
    for entry in train.laid:
        if not entry.reading or not entry.nominal or entry.length is None:
            continue
        read += 1
        off = entry.length / entry.nominal - 1
        if abs(off) > ASK_BEYOND:
            reason = f"{entry.length:.2f} mm {entry.reading} against {entry.nominal:.2f} mm: is that so? It is used as it stands."
            yield Judgement(
                "strains", "Reading is far from nominal", reason, limit, f"{off:+.0%}", subject=entry.part.name
            )
    for span in train.spans_void:
        reason = "The parts it was taken over no longer stand together in that order; it is kept, and does not count."
        subject = f"{len(span.parts)} parts, {span.total.value:g} mm"
        drop = tuple(other for other in context.rig.measured_spans if other != span)
        attempt = Attempt("Put the reading away", (Edit("replace", ("measured_spans",), drop),))
        yield with_attempts(
            Judgement("strains", "A reading no longer applies", reason, limit, subject=subject), [attempt]
        )
    if read:
        yield Judgement("holds", "Readings are used", f"{read} lengths are measured.", limit, str(read))


@rule(
    "S16",
    "spacing",
    "Moving mirror and back distance",
    checks="How far from its nominal back focus a moving-mirror telescope is used.",
    why="The mirror is moved to reach focus, and the focal length grows with the distance behind the cell.",
    formula="f = f₀ + g · (b − b₀), g about 3",
    source="approximation: magnification of the secondary in proportion; g is common practice for f/10 designs",
    mend="Keep the train near the maker's back focus; let a solved frame tell the true focal length.",
)
def moving_mirror(context: Context) -> Iterator[Judgement]:
    """S16: moving-mirror designs: focal length grows with back distance."""
    telescope, train = context.light.telescope, context.spacing.train
    if telescope is None or telescope.focuser.mechanism != "moving_mirror" or train.actual is None:
        return
    nominal, growth = telescope.used("back_focus_mm"), telescope.growth_per_mm
    if nominal is None or growth is None or context.light.correctors:
        return
    focal = telescope.used("focal_length_mm") or 1.0
    grown = grown_focal_length(focal, growth, train.actual - train.glass_shift, nominal)
    share = grown / focal - 1
    limit = f"within ±{context.practice.focal_length_tolerance:.0%} of {focal:.0f} mm"
    reason = f"{train.actual:.0f} mm behind the cell instead of {nominal:.0f}: about {grown:.0f} mm of focal length."
    holds = abs(share) <= context.practice.focal_length_tolerance
    title = "Focal length stays near nominal" if holds else "Focal length moves with the back distance"
    yield Judgement("holds" if holds else "strains", title, reason, limit, f"{share:+.1%}")
