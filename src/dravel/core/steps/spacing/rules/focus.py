"""Rules of focus and light: reach, rack, openings, load on the focuser, moving mirrors."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.moves.parts import cameras_swapped, correctors_laid, focusers_swapped, widened
from dravel.core.moves.rings import filled
from dravel.core.steps.spacing.limits import LIGHT
from dravel.core.train.clearance import smallest_filter, through_one, tightest
from dravel.core.train.facts import Spacing
from dravel.core.train.reach import grown_focal_length
from dravel.core.train.rings import reach_gap
from dravel.core.train.stiffness import SIDE_FOCUS, softens_below_deg

LEAST_TURNS = 0.1  # nobody counts less of a knob


@rule(
    "S4",
    "Reaching focus",
    checks="Required drawtube extension against the travel.",
    why="Outside the travel focus is impossible. Reducers move the focal plane inward, extension tubes the sensor outward.",
    formula="x = p − c − d / m(d), 0 ≤ x ≤ travel",
    source="thin-lens equation; geometry",
    fix="An extension or shorter spacers, another corrector, or a focuser of another height.",
    needs=("focuser_position", "travel"),
)
def focus_reach(context: Context) -> Iterator[Judgement]:
    """S4: focus out of the focuser's travel."""
    position, travel = context.value("focuser_position"), context.value("travel")
    measure = text("{position} of {travel}", position=Value(position, digits=0), travel=Value(travel, "mm", 0))
    limit = text("0–{travel}", travel=Value(travel, "mm", 0))
    figures = ("spacing.focuser_position_mm",)
    if 0 <= position <= travel:
        reason = text("Drawtube extension {position}.", position=Value(position, "mm", 1))
        if context.of(Spacing).built_in and context.preferences.built_in_corrector == "in_focus_is_in_spacing":
            reason += text(" Built-in corrector: no separate back focus.", "built_in_corrector")
        yield Judgement("ok", text("Focus reached"), reason, limit, measure, figures)
        return
    if position < 0:
        title = text("Focus not reached (inward)")
        reason = text("Focus needs {position} more inward travel.", position=Value(-position, "mm", 1))
    else:
        title = text("Focus not reached (outward)")
        reason = text("Focus point {position} beyond full extension.", position=Value(position - travel, "mm", 1))
    judgement = Judgement("problem", title, reason, limit, measure, figures)
    yield with_attempts(judgement, _reach_fixes(context))


def _reach_fixes(context: Context) -> Iterator[Attempt]:
    gap = reach_gap(context.of(Spacing))
    if not isinstance(gap, Text):
        yield from filled(context, gap)
    # One corrector draws the image further in than another.
    if context.light.correctors:
        yield from correctors_laid(context, "flattener", "coma_corrector", "reducer")
    yield from focusers_swapped(context)


@rule(
    "S5",
    "Drawtube extension",
    checks="Share of the drawtube travel used.",
    why="Far extended, a drawtube sags under the camera.",
    formula="x / travel",
    source="common practice: 75% of the travel, adjustable in Preferences",
    fix="An extension tube ahead of the image train.",
    needs=("focuser_position", "travel"),
)
def racked_far_out(context: Context) -> Iterator[Judgement]:
    """S5: focused with the tube racked far out."""
    position, travel = context.value("focuser_position"), context.value("travel")
    if not 0 <= position <= travel or travel <= 0:
        return
    share, most = position / travel, context.preferences.racked_out_share
    limit = text("≤ {most} of the travel", most=Value(most, form="share"))
    figures = ("spacing.focuser_position_mm",)
    if share <= most:
        yield Judgement(
            "ok",
            text("Drawtube extension OK"),
            text("{share} of the travel.", share=Value(share, form="share")),
            limit,
            Value(share, form="share"),
            figures,
        )
        return
    reason = text(
        "{position} of {travel}: add an extension tube.",
        position=Value(position, digits=0),
        travel=Value(travel, "mm", 0),
    )
    judgement = Judgement("warning", text("Drawtube far extended"), reason, limit, Value(share, form="share"), figures)
    yield with_attempts(judgement, _reach_fixes(context))


@rule(
    "S6",
    "Vignetting",
    checks="Light beam at every spacer, nosepiece and filter, for the sensor corner.",
    why="An opening smaller than the beam causes vignetting; 1.25-inch is too small for a large sensor.",
    formula="share of the pupil seen through all openings",
    source="geometry of vignetting; 75% in the corner is common practice, 50% a default threshold",
    fix="A wider nosepiece, spacer or filter, or a camera with a smaller sensor.",
    needs=("corner_light",),
    limits=(LIGHT,),
)
def light_clearance(context: Context) -> Iterator[Judgement]:
    """S6: an opening, small filter or nosepiece that vignettes."""
    facts, light = context.of(Spacing), context.value("corner_light")
    corner, enough = facts.corner_mm or 0.0, context.preferences.corner_light_share
    verdict = LIGHT.times(enough - 1e-6, "").verdict(light)
    limit = text("corner illumination ≥ {enough}", enough=Value(enough, form="share"))
    tight = tightest(facts.openings, corner)
    if tight is None:
        yield Judgement(
            "ok", text("Vignetting OK"), text("No opening cuts the beam."), limit, Value(light, form="share"), _LIGHT
        )
        return
    passes = through_one(tight.radius, tight.offset * corner, tight.diameter)
    needed = tight.needed(corner)
    reason = text(
        "{tight}: clear aperture {diameter}, beam {needed}.",
        "clear_aperture",
        tight=tight.name,
        diameter=Value(tight.diameter, "mm", 1),
        needed=Value(needed, "mm", 1),
    )
    if any(entry.filter is not None and entry.filter.name == tight.name for entry in facts.train.laid):
        reason += text(
            " Smallest filter without vignetting: {needed}.",
            "smallest_filter_without_vignetting",
            needed=smallest_filter(needed) or text("none usual"),
        )
    elif passes < 0.999:
        reason += text(" It passes {passes}.", passes=Value(passes, form="share"))
    title = text("Slight vignetting") if verdict == "ok" else text("Vignetting in the corners")
    judgement = Judgement(verdict, title, reason, limit, Value(light, form="share"), _LIGHT)
    yield with_attempts(judgement, widened(context, tight.index, tight.diameter))


_LIGHT = ("spacing.corner_light",)


@rule(
    "S7",
    "Focuser load and sag",
    checks="Mass on the focuser against its limit, and sag against depth of focus.",
    why="Focuser sag tilts the sensor: one side is soft and changes with pointing.",
    formula="Σ m ≤ limit; φ · diagonal ≤ depth of focus",
    source="manufacturer; statics; stiffness of connections is an estimate (order of magnitude)",
    fix="A lighter camera, fewer spacers, or a stronger focuser.",
    needs=("hanging", "sag_um", "depth_of_focus"),
)
def focuser_load(context: Context) -> Iterator[Judgement]:
    """S7: focuser load limit, and sag turned into tilt."""
    facts = context.of(Spacing)
    mass, lean, depth = context.value("hanging"), context.value("sag_um"), context.value("depth_of_focus")
    focuser = facts.train.focuser
    most = focuser.load_limit_kg if focuser else None
    floor = text("at least ", "least") if facts.hanging.unweighed else text("")
    limit = text(
        "{x}tilt ≤ depth of focus, {depth}",
        x=text("≤ {most} on the focuser; ", most=Value(most, "kg")) if most else "",
        depth=Value(depth, "µm", 0),
    )
    figures = ("spacing.hanging_kg", "spacing.moment_nm", "spacing.sag_um", "optics.depth_of_focus_um")
    moment = context.value("moment")
    unweighed = (
        text(" Mass unknown: {unweighed}.", unweighed=", ".join(facts.hanging.unweighed))
        if facts.hanging.unweighed
        else ""
    )
    reason = text(
        "{floor}{mass}, {moment}; sensor tilt about {lean}.{unweighed}",
        floor=floor,
        mass=Value(mass, "kg", 2),
        moment=Value(moment, "N·m", 2),
        lean=Value(lean, "µm", 0),
        unweighed=unweighed,
    )
    reason += _by_pointing(facts, lean, depth)
    if most is not None and mass > most:
        judgement = Judgement(
            "problem",
            text("Focuser overloaded"),
            reason,
            limit,
            text("{mass} of {most}", mass=Value(mass, digits=1), most=Value(most, "kg")),
            figures,
        )
        yield with_attempts(judgement, _lightened(context))
    elif lean > depth:
        judgement = Judgement(
            "warning",
            text("Focuser sag too large"),
            reason,
            limit,
            text("{lean} of {depth}", lean=Value(lean, digits=0), depth=Value(depth, "µm", 0)),
            figures,
        )
        yield with_attempts(judgement, _lightened(context))
    else:
        yield Judgement(
            "ok",
            text("Focuser load OK"),
            reason,
            limit,
            text("{floor}{mass}", floor=floor, mass=Value(mass, "kg", 1)),
            figures,
        )


def _by_pointing(facts: Spacing, lean: float, depth: float) -> Words:
    """What the tilt does from pointing to pointing, in words."""
    if lean <= depth / 2:
        return ""  # too little to tell apart; the picture shows it
    sentence = joined(
        ", ", (text("{pose} {share}", pose=pose.name, share=Value(pose.share * lean, "µm", 0)) for pose in facts.poses)
    )
    words = text(" By pointing: {told}; reversed after the flip.", told=sentence)
    telescope = facts.light.telescope
    soft = softens_below_deg(lean, depth)
    if soft is not None and telescope is not None and telescope.design not in SIDE_FOCUS:
        words += text(" OK at high altitude, soft below {soft}.", "soft_at_low_altitude", soft=Value(soft, "°", 0))
    return words


def _lightened(context: Context) -> Iterator[Attempt]:
    """A stronger focuser, or a lighter camera of the same thread."""
    yield from focusers_swapped(context)
    camera = context.light.camera
    if camera is not None:
        mass, front = camera.used("mass_g") or 0.0, camera.sky_side
        yield from cameras_swapped(context, lambda other: 0 < (other.mass_g or 0) < mass and other.sky_side == front)


@rule(
    "S16",
    "Mirror focusing and back distance",
    checks="Deviation of a moving-mirror telescope from its nominal back focus.",
    why="Mirror focusing changes the focal length with back distance, and the image shifts as the mirror tilts.",
    formula="f = f₀ + γ · (b − b₀); turns of the knob (b − b₀) / k",
    source="first-order optics of two mirrors, approximate; γ about 3 for f/10 designs and the shift are common practice",
    fix="Keep the back distance near the specification; measure the focal length by plate solve.",
    needs=("mirror_growth", "back_distance", "nominal_back", "native_focal_length"),
)
def moving_mirror(context: Context) -> Iterator[Judgement]:
    """S16: moving-mirror designs: focal length grows with back distance, and the image shifts."""
    focal, growth = context.value("native_focal_length"), context.value("mirror_growth")
    back, nominal = context.value("back_distance"), context.value("nominal_back")
    grown = grown_focal_length(focal, growth, back, nominal)
    share = grown / focal - 1
    limit = text(
        "{focal} ± {focal_length_tolerance}",
        focal_length_tolerance=Value(context.preferences.focal_length_tolerance, form="share"),
        focal=Value(focal, "mm", 0),
    )
    reason = text(
        "{back} behind the cell instead of {nominal}: focal length about {grown}",
        back=Value(back, "mm", 0),
        nominal=Value(nominal, digits=0),
        grown=Value(grown, "mm", 0),
    )
    turns = context.known.get("spacing.mirror_turns")
    if turns is not None and abs(turns) >= LEAST_TURNS:
        reason += text(
            ", {turns} focus-knob turns {which}",
            "focus_knob_turns",
            turns=Value(abs(turns), digits=1),
            which=text("inward") if turns > 0 else text("outward"),
        )
    reason += text(". Mirror shift moves the image: finish focusing against gravity, then recentre.")
    holds = abs(share) <= context.preferences.focal_length_tolerance
    title = text("Back distance OK") if holds else text("Focal length off (back distance)")
    figures = ("optics.focal_length_mm", "spacing.mirror_turns")
    yield Judgement(
        "ok" if holds else "warning", title, reason, limit, Value(share * 100, "%", 1, form="signed"), figures
    )
