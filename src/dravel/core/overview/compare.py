"""Rigs or revisions side by side: figures, verdicts, targets, hours to equal depth, mass, cost; differences first."""

from collections.abc import Callable, Sequence
from datetime import date

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Judgement, Rule
from dravel.core.model import SEVERITY, Preferences, Rig, Site, Tally, Target, Verdict, tally, worst
from dravel.core.model.base import Model
from dravel.core.model.inventory import parts_of
from dravel.core.model.words import Text
from dravel.core.overview.cost import CostSum, sums
from dravel.core.overview.depth import ComparedDepth, depths
from dravel.core.overview.parts_beside import ComparedPart, parts_beside
from dravel.core.overview.readiness import rig_for_night
from dravel.core.sky.framing import Fit, best_fit, least_share
from dravel.core.sky.night import night_of
from dravel.core.sky.ranking import rank
from dravel.core.steps import STEPS

DIFFERS_BY = 0.005  # two values that agree to half a per cent are called the same


class ComparedRig(Model):
    """One rig of the comparison."""

    label: str
    verdict: Verdict
    tally: Tally
    mass_kg: float
    unweighed: int
    cost: tuple[CostSum, ...]


class ComparedFigure(Model):
    """One figure over all rigs; None where it cannot be computed."""

    key: str
    title: str
    unit: str
    decimals: int
    values: tuple[float | None, ...]
    differs: bool


class ComparedRule(Model):
    """One rule over all rigs: the worst it says of each; None where it is silent."""

    code: str
    title: str
    verdicts: tuple[Verdict | None, ...]
    differs: bool


class ComparedTarget(Model):
    """One target over all rigs: how it fits, and its score on the night where there is one."""

    name: str
    words: tuple[Text, ...]
    verdicts: tuple[Verdict | None, ...]
    scores: tuple[float | None, ...]


class Comparison(Model):
    """Rigs side by side. Rows that differ come first."""

    sides: tuple[ComparedRig, ...]
    depth: tuple[ComparedDepth, ...]
    parts: tuple[ComparedPart, ...]
    figures: tuple[ComparedFigure, ...]
    rules: tuple[ComparedRule, ...]
    targets: tuple[ComparedTarget, ...]


def compare(
    entries: Sequence[tuple[str, Rig]],
    preferences: Preferences,
    targets: Sequence[Target] = (),
    site: Site | None = None,
    tonight: Callable[[Site | None], date] | None = None,
) -> Comparison:
    """Compare rigs by label, each judged as in its own page: at its own site, for the night that `tonight` gives there.

    Hours to equal depth are relative to the first that sees the light: 1 for it, 2 where twice as long is needed.
    """
    contexts = [STEPS.context(rig, preferences, tonight=tonight(rig.site) if tonight else None) for _, rig in entries]
    said = [STEPS.said(context) for context in contexts]
    sides = tuple(
        _side(label, rig, [judgement.verdict for _, judgement in own])
        for (label, rig), own in zip(entries, said, strict=True)
    )
    return Comparison(
        sides=sides,
        depth=depths(contexts),
        parts=parts_beside([rig for _, rig in entries]),
        figures=_figures(contexts),
        rules=_rules(said),
        targets=_targets(targets, contexts, preferences, site, tonight(site) if tonight else None),
    )


def _side(label: str, rig: Rig, verdicts: list[Verdict]) -> ComparedRig:
    parts = list(parts_of(rig))
    return ComparedRig(
        label=label,
        verdict=worst(verdicts),
        tally=tally(verdicts),
        mass_kg=sum(part.used("mass_g") or 0.0 for part in parts) / 1000,
        unweighed=sum(part.used("mass_g") is None for part in parts),
        cost=sums(parts),
    )


def _figures(contexts: list[Context]) -> tuple[ComparedFigure, ...]:
    lines = []
    for name, recipes in STEPS.recipes.items():
        own = tuple(context.known.get(name) for context in contexts)
        if any(value is not None for value in own):
            row = recipes[-1]
            lines.append(
                ComparedFigure(
                    key=row.key,
                    title=row.title,
                    unit=row.unit,
                    decimals=row.decimals,
                    values=own,
                    differs=_differs(own),
                )
            )
    return tuple(sorted(lines, key=lambda row: not row.differs))


def _differs(values: tuple[float | None, ...]) -> bool:
    lines = [value for value in values if value is not None]
    if len(lines) != len(values):
        return bool(lines)
    return max(lines) - min(lines) > DIFFERS_BY * max(1e-9, *(abs(value) for value in lines))


def _rules(said: list[list[tuple[Rule, Judgement]]]) -> tuple[ComparedRule, ...]:
    by_rig: list[dict[str, Verdict]] = []
    for heard in said:
        own: dict[str, Verdict] = {}
        for rule, judgement in heard:
            own[rule.code] = worst((own.get(rule.code, "ok"), judgement.verdict))
        by_rig.append(own)
    lines = []
    for code in dict.fromkeys(code for own in by_rig for code in own):
        verdicts = tuple(own.get(code) for own in by_rig)
        # A finding's title tells one rig's case; the row is about all of them.
        title = STEPS.rules[code].title
        lines.append(ComparedRule(code=code, title=title, verdicts=verdicts, differs=len(set(verdicts)) > 1))

    order = {code: place for place, code in enumerate(STEPS.rules)}

    def weight(row: ComparedRule) -> tuple[bool, int, int]:
        gravest = worst(verdict for verdict in row.verdicts if verdict is not None)
        return not row.differs, SEVERITY[gravest], order[row.code]

    return tuple(sorted(lines, key=weight))


def _targets(
    targets: Sequence[Target], contexts: list[Context], preferences: Preferences, site: Site | None, tonight: date | None
) -> tuple[ComparedTarget, ...]:  # fmt: skip
    fixed = [target for target in targets if target.body is None]
    night = night_of(site, tonight) if site is not None and tonight is not None else None
    scores: list[dict[str, float]] = []
    for context in contexts:
        ready = rig_for_night(context)[0] if night else None
        result = rank(fixed, ready, night, preferences, most=len(fixed)) if ready and night else ()
        scores.append({worth.target.name: worth.score for worth in result})
    rows = []
    for target in fixed:
        fits = [_fit(context, target) for context in contexts]
        rows.append(
            ComparedTarget(
                name=target.name,
                words=tuple(fit.words if fit else "" for fit in fits),
                verdicts=tuple(fit.verdict if fit else None for fit in fits),
                scores=tuple(own.get(target.name, 0.0) if own else None for own in scores),
            )
        )
    return tuple(rows)


def _fit(context: Context, target: Target) -> Fit | None:
    field = context.field_deg
    if field is None:
        return None
    return best_fit(target, field, context.preferences, least=least_share(context.rig.purposes, context.preferences))
