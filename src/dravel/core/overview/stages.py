"""Growing in stages: each stage a rig; what carries over, what each costs, what each newly makes possible."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import Field

from dravel.core.model import Growth, Part, Preferences, Rig, Target, Verdict
from dravel.core.model.base import Model
from dravel.core.model.inventory import parts_of, same
from dravel.core.model.words import Text, Value, text
from dravel.core.overview.cost import CostSum, sums
from dravel.core.sky.framing import best_fit, least_share
from dravel.core.steps import STEPS

GUIDED = {"none": "unguided", "guide_scope": "guided by a guide scope", "off_axis": "guided off-axis"}

__all__ = ["Growth", "StageView", "grow"]


class StageView(Model):
    """One stage. `lost` parts were bought before and serve no later stage: they do not survive this one."""

    title: str
    rig: str
    verdict: Verdict
    problems: int
    new: tuple[str, ...]
    kept: Annotated[int, Field(description="Parts reused from the previous stage")]
    lost: tuple[str, ...]
    cost: tuple[CostSum, ...]
    unpriced: int
    total: tuple[CostSum, ...]
    makes_possible: tuple[Text, ...]
    warnings: tuple[Text, ...]


def grow(
    stages: Sequence[tuple[str, Rig]], preferences: Preferences, targets: Sequence[Target] = ()
) -> tuple[StageView, ...]:
    """Judge stages (title, rig) in order. A part counts as bought at the first stage that has it."""
    views: list[StageView] = []
    bought: dict[str, Part] = {}
    held: set[str] = set()
    framed: set[str] = set()
    before: Rig | None = None
    later = [{same(part) for part in parts_of(rig)} for _, rig in stages]
    for i, (title, rig) in enumerate(stages):
        parts = {same(part): part for part in parts_of(rig)}
        new = [part for key, part in parts.items() if key not in bought]
        lost = [bought[key] for key in held - parts.keys() if not any(key in keys for keys in later[i:])]
        bought.update(parts)
        evaluation = STEPS.evaluate(rig, preferences)
        fits = _framed(rig, preferences, targets)
        names = sorted(part.name for part in lost)
        warnings = []
        if names:
            count = "1 part is" if len(names) == 1 else text("{names} parts are", names=len(names))
            warnings.append(text("{count} not reused: {names}", count=count, names=", ".join(names)))
        if evaluation.verdict == "problem":
            broken = next(finding for finding in evaluation.findings if finding.verdict == "problem")
            warnings.append(text("Problem left: {broken} ({code})", broken=broken.title, code=broken.code))
        views.append(
            StageView(
                title=title,
                rig=rig.name,
                verdict=evaluation.verdict,
                problems=evaluation.tally.problem,
                new=tuple(part.name for part in new),
                kept=len(parts.keys() & held),
                lost=tuple(names),
                cost=sums(new),
                unpriced=sum(part.price is None for part in new),
                total=sums(bought.values()),
                makes_possible=tuple(_possible(before, rig, preferences, sorted(fits - framed))),
                warnings=tuple(warnings),
            )
        )
        held, before = set(parts), rig
        framed |= fits
    return tuple(views)


def _framed(rig: Rig, preferences: Preferences, targets: Sequence[Target]) -> set[str]:
    """Targets that fill this rig's field well in one frame."""
    field = STEPS.context(rig, preferences).field_deg
    if field is None:
        return set()
    result = set()
    for target in targets:
        fit = best_fit(target, field, preferences, least=least_share(rig.purposes, preferences))
        if fit is not None and fit.verdict == "ok":
            result.add(target.name)
    return result


def _possible(before: Rig | None, rig: Rig, preferences: Preferences, targets: list[str]) -> list[Text]:
    """What a stage adds, in words."""
    lines = []
    if targets:
        lines.append(
            text("frames {targets}{which} well", targets=", ".join(targets[:6]), which="…" if len(targets) > 6 else "")
        )
    if before is None:
        return lines
    known, old = STEPS.context(rig, preferences).known, STEPS.context(before, preferences).known
    if rig.guide.method != before.guide.method:
        lines.append(
            text(
                "{GUIDED}, before {GUIDED_2}",
                "before",
                GUIDED=GUIDED[rig.guide.method],
                GUIDED_2=GUIDED[before.guide.method],
            )
        )
    if "focal_length" in known and "focal_length" in old:
        entry, other = old.value("focal_length"), known.value("focal_length")
        if abs(other / entry - 1) > 0.05:
            lines.append(
                text(
                    "{other} of focal length instead of {one}", other=Value(other, "mm", 0), one=Value(entry, digits=0)
                )
            )
    cooled = [any(getattr(item.part, "cooling_delta_k", None) for item in r.path) for r in (before, rig)]
    if cooled[1] and not cooled[0]:
        lines.append(text("cooled camera: one dark library for the whole year"))
    goto = [bool(r.mount and r.mount.goto) for r in (before, rig)]
    if goto[1] and not goto[0]:
        lines.append(text("GoTo mount"))
    limits = [next((known_.value(name) for name in ("guided_limit", "guiding.unguided_limit_s") if name in known_), None)
              for known_ in (old, known)]  # fmt: skip
    if limits[0] and limits[1] and limits[1] > 1.5 * limits[0]:
        lines.append(
            text(
                "subs up to {limits} instead of {limits_2}",
                limits=Value(min(limits[1], 3600), form="time"),
                limits_2=Value(limits[0], digits=0),
            )
        )
    return lines
