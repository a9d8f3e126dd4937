"""Rules of the Aim step: does the target fit the field?"""

from collections.abc import Iterator
from itertools import chain

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import SEVERITY, Elsewhere, Framing, PathItem, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.moves.parts import correctors_laid, turning_parts
from dravel.core.moves.rings import relaid
from dravel.core.sky.framing import (
    Fit,
    best_fit,
    extent_deg,
    fit_target,
    least_share,
    share_inside,
    turn_from_landscape,
    well_share,
)
from dravel.core.train.facts import Spacing

# What sampling of the outline may miss at the edge and still count as all of it.
ALL_INSIDE = 0.985
_NEEDS = ("field_width", "field_height")
_FIGURES = ("optics.field_width_deg", "optics.field_height_deg", "aim.target_span", "aim.share_inside")


def _fits(context: Context) -> Iterator[tuple[int, Framing, Fit]]:
    field = context.value("field_width"), context.value("field_height")
    least = least_share(context.rig.purposes, context.preferences)
    for index, framing in enumerate(context.rig.framings):
        fit = fit_target(framing.target, field, framing.position_angle_deg, context.preferences, least=least)
        if fit is not None:
            yield index, framing, fit


@rule(
    "A4",
    "Target vs field of view",
    checks="Whether the field of view, or the chosen mosaic, contains the whole target.",
    why="Anything outside the field is not imaged; a mosaic multiplies the integration time by its tiles.",
    formula="tiles along a side = 1 + ⌈(target − field) / (field · (1 − overlap))⌉",
    source="geometry; largest mosaic from Preferences (12 tiles, common practice)",
    fix="Set a mosaic, rotate the camera along the target, or add a reducer.",
    needs=_NEEDS,
)
def target_larger(context: Context) -> Iterator[Judgement]:
    """A4: target against the field, one judgement per target."""
    field = context.value("field_width"), context.value("field_height")
    most = context.preferences.mosaic_max_tiles
    for index, framing, fit in _fits(context):
        extent = extent_deg(framing.target, framing.position_angle_deg)
        if extent is None:
            continue
        inside = share_inside(framing, field)
        laid = framing.columns * framing.rows
        size = text(
            "{extent} × {extent_2} of {field} × {field_2}",
            extent=Value(extent[0], "°", 2),
            extent_2=Value(extent[1], "°", 2),
            field=Value(field[0], "°", 2),
            field_2=Value(field[1], "°", 2),
        )
        grid = f"{fit.columns} × {fit.rows}"
        limit = text("one field, or a mosaic of ≤ {most} tiles", most=most)
        verdict: Verdict = "ok"
        if inside > ALL_INSIDE and laid == 1:
            title, reason = text("Target in field: OK"), text("Target size {size}.", size=size)
        elif inside > ALL_INSIDE and laid <= most:
            title = text("Mosaic of {laid} tiles: OK", "mosaic_tiles_ok", laid=laid)
            reason = text("The tiles share the integration time. Target size {size}.", size=size)
        elif laid > most or fit.verdict == "problem":
            verdict, title = "problem", text("Target far larger than field")
            reason = text(
                "Target size {size}: {grid} tiles at this angle, more than {most}. Use a shorter focal length.",
                size=size,
                grid=grid,
                most=most,
            )
        elif fit.tiles > laid:
            overlap = context.preferences.mosaic_overlap
            verdict, title = "warning", text("Target larger than field", "target_larger")
            reason = text(
                "Target size {size}: {grid} tiles with {overlap} overlap cover it.",
                size=size,
                grid=grid,
                overlap=Value(overlap, form="share"),
            )
        else:
            verdict, title = "warning", text("Target partly outside field", "target_partly_outside_field")
            reason = text("The target ({size}) would fit, but the field is off-centre.", size=size)
        judgement = Judgement(
            verdict, title, reason + _doubt(framing), limit, text('{inside} inside', inside=Value(inside, form='share')), _FIGURES, subject=framing.target.name,
            elsewhere=_elsewhere(context, framing, verdict),
        )  # fmt: skip
        yield with_attempts(
            judgement, chain(_reframed(index, framing, fit, context), correctors_laid(context, "reducer"))
        )


def _doubt(framing: Framing) -> Words:
    """What is said where a verdict hangs on a size that lists disagree about."""
    target = framing.target
    if not target.size_doubtful:
        return Text("")
    others = " and ".join(size.words for size in target.other_sizes[:2])
    return text(
        " Target size is uncertain: other catalogues give {others}. Adjust the outline to match images.", others=others
    )


def _elsewhere(context: Context, framing: Framing, verdict: Verdict) -> tuple[Elsewhere, ...]:
    """Other rigs that frame the target better, those it fills best first."""
    if verdict == "ok":
        return ()
    results = []
    for other in context.others:
        best = best_fit(framing.target, other.field, context.preferences, least=other.least)
        if best is not None and other.name != context.rig.name and SEVERITY[best.verdict] > SEVERITY[verdict]:
            share = (
                text("{span} of the field", span=Value(best.span, form="share"))
                if best.tiles == 1
                else text("{tiles} tiles", tiles=best.tiles)
            )
            elsewhere = Elsewhere(
                rig_id=other.rig_id,
                label=text("Use {other}: {share}", "use_rig", other=other.name, share=share),
                leads_to=best.verdict,
            )
            results.append((-SEVERITY[best.verdict], best.off_full, elsewhere))
    return tuple(answer for _, _, answer in sorted(results, key=lambda item: item[:2])[:2])


def _reframed(index: int, framing: Framing, fit: Fit, context: Context) -> Iterator[Attempt]:
    field = context.value("field_width"), context.value("field_height")
    # A moon or planet has moved since it was framed: it is written down where it stands now.
    moved = () if framing.target.body is None else (Edit("replace", ("framings", index, "target"), framing.target),)
    centre = (
        *moved,
        Edit("replace", ("framings", index, "centre_ra_deg"), framing.target.ra_deg),
        Edit("replace", ("framings", index, "centre_dec_deg"), framing.target.dec_deg),
    )
    best, angle = fit, framing.position_angle_deg
    for turned in (framing.target.position_angle_deg % 180, 0.0, 90.0):
        other = fit_target(framing.target, field, turned, context.preferences)
        if other is not None and other.tiles < best.tiles:
            best, angle = other, turned
    if angle != framing.position_angle_deg:
        turn = Edit("replace", ("framings", index, "position_angle_deg"), angle)
        yield Attempt(
            _grid_words(best, text(", turned to {angle}", "turned", angle=Value(angle, "°", 0))),
            (*centre, turn, *_grid(index, best)),
        )
    yield Attempt(_grid_words(fit, text(", centred", "centred")), (*centre, *_grid(index, fit)))


def _grid(index: int, fit: Fit) -> tuple[Edit, Edit]:
    return (
        Edit("replace", ("framings", index, "columns"), fit.columns),
        Edit("replace", ("framings", index, "rows"), fit.rows),
    )


def _grid_words(fit: Fit, rest: Words) -> Text:
    return (
        text(
            "Set a mosaic of {columns} × {rows} tiles{rest}",
            "set_mosaic_tiles",
            columns=fit.columns,
            rows=fit.rows,
            rest=rest,
        )
        if fit.tiles > 1
        else text("Set a single field{rest}", "set_single_field", rest=rest)
    )


@rule(
    "A5",
    "Target size in the field",
    checks="Whether the target spans the fraction of the field expected for the purpose of the rig.",
    why="A small target uses few pixels; most of the frame is sky.",
    formula="span = max(target width / field width, target height / field height), against the fraction from Preferences × 1 for nebulae, 0.8 for clusters, 0.5 for galaxies, 0 for wide field and planets",
    source="common practice: a quarter of the field, adjustable in Preferences; factors by purpose are default thresholds",
    fix="Add a Barlow or extender, or use a longer telescope. Wide-field rigs accept it.",
    needs=_NEEDS,
)
def target_small(context: Context) -> Iterator[Judgement]:
    """A5: target under the share of the field that its rig wants, one judgement per target."""
    purposes = context.rig.purposes
    least, well = least_share(purposes, context.preferences), well_share(purposes)
    limit = text("≥ {least} of the field", least=Value(least, form="share")) if least else text("none for this purpose")
    for _, framing, fit in _fits(context):
        if fit.tiles > 1:
            continue
        verdict: Verdict = "warning" if fit.verdict == "warning" else "ok"
        reason = text("The target spans {span} of the field.", span=Value(fit.span, form="share"))
        if verdict == "warning":
            title = text("Target small in field")
            reason += text(" A longer focal length shows more detail.")
        elif least == 0 and fit.span < context.preferences.small_target_share:
            title = text("Target small in field")
            reason += text(" A rig with this purpose accepts it.")
        elif fit.span < well:
            title = text("Target size OK, room around it")
            reason += text(" The field is well filled from {well} on.", well=Value(well, form="share"))
        else:
            title = text("Target size OK")
        judgement = Judgement(
            verdict, title, reason + _doubt(framing), limit, Value(fit.span, form='share'), _FIGURES, subject=framing.target.name,
            elsewhere=_elsewhere(context, framing, verdict),
        )  # fmt: skip
        yield with_attempts(judgement, correctors_laid(context, "extender"))


@rule(
    "A6",
    "Camera rotation",
    checks="Whether the image train allows the camera to be rotated to the planned position angles.",
    why="In a fully threaded train the camera angle is fixed by the threads; other angles require a rotator, a rotation adapter or a clamped connection.",
    formula="count of rotating connections ≥ 1 where a field is rotated from landscape",
    source="geometry; common practice",
    fix="A rotator with spacers that restore back focus, or fields in landscape.",
)
def turning_the_camera(context: Context) -> Iterator[Judgement]:
    """A6: the footprints ask for a turn that no part of the train allows."""
    turned = [f for f in context.rig.framings if abs(turn_from_landscape(f.position_angle_deg)) > 0.5]
    telescope = context.light.telescope
    if not turned or len(context.rig.path) < 2 or (telescope is not None and telescope.design == "camera_lens"):
        return  # a lens and its camera are turned together in the collar that holds them
    if not all(joint.known for joint in context.of(Spacing).joints):
        return
    limit = text("≥ 1 rotating connection")
    joints = [joint for joint in context.of(Spacing).joints if joint.turns]
    measure = text("{joints} rotating{which}", joints=len(joints), which="s" if len(joints) == 1 else "")
    names = ", ".join(dict.fromkeys(f.target.name for f in turned))
    if joints:
        reason = text(
            "{names} needs a rotated camera; it rotates behind the {ahead}.", names=names, ahead=joints[0].ahead.name
        )
        yield Judgement("ok", text("Camera rotation OK"), reason, limit, measure)
        return
    reason = text(
        "{names} is framed at an angle, but every connection is threaded: the camera angle is fixed by the threads.",
        names=names,
    )
    judgement = Judgement("warning", text("Camera cannot be rotated"), reason, limit, measure)
    yield with_attempts(judgement, _rotators_laid(context))


def _rotators_laid(context: Context) -> Iterator[Attempt]:
    """A rotator laid into each joint in turn, nearest the telescope first, with rings that make the length right."""
    for part in turning_parts(context):
        for joint in context.of(Spacing).joints:
            edit = Edit("add", ("path", joint.index), PathItem(part=part))
            yield relaid(
                context, text("Add the {part} behind the {ahead}", part=part.name, ahead=joint.ahead.name), (edit,)
            )
