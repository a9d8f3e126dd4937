"""A rig before and after a change: its numbers, how its targets fit, and the verdicts that move."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.model import SEVERITY, Framing, Rig, Verdict, worst
from dravel.core.model.base import Model
from dravel.core.model.words import Text
from dravel.core.sky.framing import Fit, fit_target, least_share
from dravel.core.steps import STEPS

ROWS = (
    ("actual", "Back focus", "mm", 1),
    ("spacing_error", "Back focus error", "mm", 1),
    ("focuser_position", "Drawtube extension", "mm", 1),
    ("corner_light", "Relative illumination in the corner", "", 2),
    ("hanging", "Mass on the focuser", "kg", 2),
    ("moment", "Moment on the focuser", "N·m", 2),
    ("sag_um", "Tilt across the sensor", "µm", 0),
    ("tilt_blur_px", "Edge blur by sensor tilt", "px", 1),
    ("spacing_tolerance", "Back focus tolerance, ±", "mm", 1),
    ("spacing_blur_px", "Corner blur at the back focus tolerance", "px", 1),
    ("corner_blur", "Corner blur of the optics", "µm", 0),
    ("corner_blur_px", "Corner blur of the optics", "px", 1),
    ("star_px", "Star FWHM, centre", "px", 1),
    ("field_width", "Field, width", "°", 2),
    ("field_height", "Field, height", "°", 2),
    ("carried", "Carried", "kg", 1),
    ("along", "Centre of gravity ahead of the saddle centre", "mm", 0),
    ("focal_length", "Focal length", "mm", 0),
    ("pixel_scale", "Pixel scale", "″/px", 2),
    ("sampling", "Sampling", "px", 1),
    ("goal_hours", "Integration time, first target", "h", 1),
)


class MovedFigure(Model):
    """One number before and after; None where it cannot be computed."""

    title: str
    unit: str
    decimals: int
    before: float | None
    after: float | None


class MovedVerdict(Model):
    """What a rule says after the change, and what it said before."""

    code: str
    title: str
    subject: str | None
    before: Verdict | None
    after: Verdict | None


class MovedFit(Model):
    """How one framed target lies in the field before and after, in words; None where it cannot be told."""

    target: str
    before: Text | None
    after: Text | None
    verdict: Verdict


class Change(Model):
    """What a change does to one rig: the numbers, how the framed targets fit, and the verdicts that moved."""

    rows: tuple[MovedFigure, ...]
    fits: tuple[MovedFit, ...]
    moved: tuple[MovedVerdict, ...]
    verdict: Verdict


def change_of(before: Context, rig: Rig) -> Change:
    """A rig against what it was, under the same preferences and shelf."""
    after = STEPS.context(rig, before.preferences, before.shelf)
    said, says = _verdicts(before), _verdicts(after)
    moved = [
        MovedVerdict(
            code=key[0], title=STEPS.rules[key[0]].title, subject=key[1], before=said.get(key), after=says.get(key)
        )
        for key in dict.fromkeys((*says, *said))
        if said.get(key, "ok") != says.get(key, "ok")
    ]
    rows = (
        MovedFigure(
            title=title, unit=unit, decimals=decimals, before=before.known.get(name), after=after.known.get(name)
        )
        for name, title, unit, decimals in ROWS
    )
    return Change(
        rows=tuple(row for row in rows if row.before is not None or row.after is not None),
        fits=tuple(_fits(before, after)),
        moved=tuple(sorted(moved, key=lambda item: SEVERITY[item.after or "ok"])),
        verdict=worst(says.values()),
    )


def _fits(before: Context, after: Context) -> Iterator[MovedFit]:
    """The framed targets whose place in the field changes."""
    for framing in before.rig.framings:
        now, then = (_fit(context, framing) for context in (before, after))
        if (now and (now.words, now.verdict)) != (then and (then.words, then.verdict)):
            yield MovedFit(
                target=framing.target.name,
                before=now.words if now else None,
                after=then.words if then else None,
                verdict=then.verdict if then else "ok",
            )


def _fit(context: Context, framing: Framing) -> Fit | None:
    field = context.field_deg
    if field is None:
        return None
    least = least_share(context.rig.purposes, context.preferences)
    return fit_target(framing.target, field, framing.position_angle_deg, context.preferences, least=least)


def _verdicts(context: Context) -> dict[tuple[str, str | None], Verdict]:
    return {(rule.code, judgement.subject): judgement.verdict for rule, judgement in STEPS.said(context)}
