"""Rules of the off-axis guider: guide camera in focus, prism clear of the sensor."""

from collections.abc import Iterator
from itertools import chain

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, rule, with_attempts
from dravel.core.model import Adapter, OffAxisGuider, PathItem, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, text
from dravel.core.moves.guiding import (
    guide_cameras,
    off_axis,
    prism_cleared,
    rings_on_branch,
    through_the_scope,
    unguided,
)
from dravel.core.steps.spacing.limits import SHADE
from dravel.core.train import guider
from dravel.core.train.facts import Spacing


@rule(
    "S8",
    "OAG guide camera focus",
    checks="Distance prism to guide sensor against prism to main sensor.",
    why="Both cameras share one focuser and must focus together.",
    formula="a = r, r = prism to sensor − glass behind the prism",
    source="equal light path behind the pick-off; common practice",
    fix="Adjust the helical focuser, move the guide camera to a mark, or add a spacer to the OAG branch; without an OAG add one, or use a guide scope.",
    lapses=True,
)
def guide_parfocal(context: Context) -> Iterator[Judgement]:
    """S8: off-axis guide camera not parfocal with the main one."""
    if context.rig.guide.method != "off_axis":
        return
    limit = text("± {TOLERANCE_MM}", TOLERANCE_MM=Value(guider.TOLERANCE_MM, "mm"))
    branch, why = context.of(Spacing).branch
    if branch is None:
        reason = text("Off-axis guiding is selected, but: {why}.", why=why)
        judgement = Judgement("problem", text("OAG branch incomplete"), reason, limit)
        yield with_attempts(judgement, _guide_camera_laid(context, why))
        return
    error, figures = branch.error, ("spacing.guide_error_mm",)
    setting = branch.setting()
    mark = text("")
    if setting is not None:
        mark = text(
            "Helical {setting} out, guide camera {setting_2} out: mark it.",
            setting=Value(setting[0], "mm", 1),
            setting_2=Value(setting[1], "mm", 1),
        )
    if abs(error) <= guider.TOLERANCE_MM:
        reason = text(
            "OAG branch {actual}, main sensor {required}. {mark}",
            "branch_length",
            actual=Value(branch.actual, "mm", 1),
            required=Value(branch.required, "mm", 1),
            mark=mark,
        )
        yield Judgement("ok", text("OAG focus OK"), reason, limit, Value(error, "mm", 1, form="signed"), figures)
        return
    reason = text(
        "OAG branch {actual}, main sensor {required}.",
        "branch_length",
        actual=Value(branch.actual, "mm", 1),
        required=Value(branch.required, "mm", 1),
    )
    if setting is None:
        if branch.required > branch.longest:
            reason += text(
                " {required} short at full extension: add a spacer to the branch.",
                required=Value(branch.required - branch.longest, "mm", 1),
            )
        else:
            reason += text(
                " {shortest} too long when fully in.", shortest=Value(branch.shortest - branch.required, "mm", 1)
            )
    verdict: Verdict = "warning" if setting is not None else "problem"
    judgement = Judgement(
        verdict, text("Guide camera out of focus"), reason, limit, Value(error, "mm", 1, form="signed"), figures
    )
    yield with_attempts(judgement, chain(_set_branch(context), _ring_on_branch(context), _rings_moved_behind(context)))


def _set_branch(context: Context) -> Iterator[Attempt]:
    branch = context.of(Spacing).branch[0]
    setting = branch.setting() if branch else None
    if setting is not None:
        label = text(
            "Set helical to {setting}, guide camera to {setting_2}",
            "set_helical_guide_camera",
            setting=Value(setting[0], "mm"),
            setting_2=Value(setting[1], "mm"),
        )
        yield Attempt(
            label,
            (
                Edit("replace", ("guide", "helical_mm"), setting[0]),
                Edit("replace", ("guide", "drawn_out_mm"), setting[1]),
            ),
        )


def _guide_camera_laid(context: Context, why: Text) -> Iterator[Attempt]:
    facts = context.of(Spacing)
    if facts.train.guider is None:
        yield from off_axis(context)
    elif why.code == "no_guide_camera":
        for part in guide_cameras(context):
            if part.nose_mm:
                branch = (*context.rig.guide.branch, PathItem(part=part))
                yield Attempt(
                    text("Add the {part} to the guide port", part=part.name),
                    (Edit("replace", ("guide", "branch"), branch),),
                )
    yield from through_the_scope(context)
    if len((plain := unguided(context)).edits) == 1:  # subs of seconds are no answer to a prism that lacks
        yield plain


def _ring_on_branch(context: Context) -> Iterator[Attempt]:
    branch = context.of(Spacing).branch[0]
    for part in rings_on_branch(context, context.rig, branch) if branch else ():
        items = (PathItem(part=part), *context.rig.guide.branch)
        label = text("Add the {part} to the OAG branch", part=part.name)
        yield Attempt(label, (Edit("replace", ("guide", "branch"), items),))


def _rings_moved_behind(context: Context) -> Iterator[Attempt]:
    train = context.of(Spacing).train
    if train.guider is None:
        return
    at = train.guider.index
    for entry in train.laid:
        if entry.index < at and isinstance(entry.part, Adapter) and entry.part.function in ("spacer", "extension"):
            moved = (Edit("remove", ("path", entry.index)), Edit("add", ("path", at), entry.item))
            yield Attempt(text("Move the {part} behind the off-axis guider", part=entry.part.name), moved)


@rule(
    "S9",
    "OAG prism shadow",
    checks="Shadow of the OAG prism on the sensor, and the prism's position in the corrected field.",
    why="A prism too far in casts a shadow; too far out it sees poor stars.",
    formula="area of beam ∩ prism / area of beam",
    source="geometry; 10% is common practice",
    fix="Move the prism out until it clears, or turn it to the long side.",
    needs=("prism_shade",),
    limits=(SHADE,),
)
def prism_clear(context: Context) -> Iterator[Judgement]:
    """S9: its prism shades the sensor."""
    shade, train = context.of(Spacing).shade, context.of(Spacing).train
    if shade is None or train.guider is None or not isinstance(train.guider.part, OffAxisGuider):
        return
    limit = text(
        "≤ {SHADE} of the light; clear at {clear_edge} off-axis",
        SHADE=SHADE.bound,
        clear_edge=Value(shade.clear_edge, "mm", 1),
    )
    figures = ("spacing.prism_shade",)
    verdict = SHADE.verdict(shade.worst)
    reason = text("Prism edge {edge} off-axis.", edge=Value(shade.edge, "mm", 1))
    circle = context.known.value("image_circle") / 2 if "image_circle" in context.known else None
    if verdict == "ok" and circle is not None and shade.field_mm > circle:
        reason += text(
            " It looks {field_mm} off-axis, outside the {x} circle: poor guide stars.",
            field_mm=Value(shade.field_mm, "mm", 1),
            x=Value(2 * circle, "mm", 0),
        )
        judgement = Judgement(
            "warning",
            text("OAG prism outside corrected field"),
            reason,
            limit,
            Value(shade.worst, digits=1, form="share"),
            figures,
        )
    else:
        title = text("OAG prism OK") if verdict == "ok" else text("OAG prism shadows sensor")
        judgement = Judgement(verdict, title, reason, limit, Value(shade.worst, digits=1, form="share"), figures)
    yield with_attempts(judgement, _prism_moved(context))


def _prism_moved(context: Context) -> Iterator[Attempt]:
    entry, cleared = context.of(Spacing).train.guider, prism_cleared(context.of(Spacing))
    if entry is None or cleared is None:
        return
    index, inward = cleared
    yield Attempt(
        text("Move the prism {inward} in", inward=Value(inward, "mm")),
        (Edit("replace", ("path", index, "prism_in_mm"), inward),),
    )
    if (entry.item.faces_deg or 0.0) % 180 != 0:
        yield Attempt(text("Turn the prism to the long side"), (Edit("replace", ("path", index, "faces_deg"), 0.0),))
