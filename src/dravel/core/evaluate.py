"""From a rig to its figures and findings. Pure: no clock, no files, no database."""

from collections.abc import Iterable
from datetime import date
from functools import cached_property

from dravel.core import figures as figure_table
from dravel.core.guide import facts as guide_facts
from dravel.core.guide.facts import Guiding
from dravel.core.known import gather
from dravel.core.light_path import LightPath
from dravel.core.load import facts as load_facts
from dravel.core.load.facts import Load
from dravel.core.model import Evaluation, Figure, FigureInput, Mend, Part, Practice, Rig, Site, Step, Verdict
from dravel.core.patch import Edit, apply, keepable
from dravel.core.power import facts as power_facts
from dravel.core.power.facts import Powering
from dravel.core.rules import RULES, Context, Rule
from dravel.core.rules.glass import corner_blur
from dravel.core.rules.registry import SEVERITY, STEPS, Judgement, OtherRig, in_order
from dravel.core.sky.framing import fit_target, share_inside
from dravel.core.sky.moving import of_date
from dravel.core.spacing import facts
from dravel.core.spacing.facts import Spacing

MOST_MENDS = 3


def evaluate(
    rig: Rig,
    practice: Practice | None = None,
    shelf: Iterable[Part] | None = None,
    *,
    tonight: date | None = None,
    sites: Iterable[Site] = (),
    others: Iterable[OtherRig] = (),
) -> Evaluation:
    """Figures and findings of a rig, worst findings first.

    Rules that ask the night take the date the rig is planned for, else `tonight`; without either they stay silent.
    `sites` are other places that mends may propose, `others` other rigs that findings may point to.

    `practice` is the user's profile (the rig's own choices go over it). Mends are looked for when a shelf is given
    (an empty one will do): trying them takes longer than all figures and findings, and a drag does not wait for them.
    A figure that cannot be computed is listed in `missing` with the reason; rules that need it stay silent.
    """
    context = weigh(rig, practice or Practice(), tuple(shelf or ()), tonight, tuple(sites), tuple(others))
    return judged(context, mends=shelf is not None)


def judged(context: Context, *, mends: bool = False) -> Evaluation:
    """Figures and findings of a rig that was weighed already."""
    figures, missing = figure_table.described(context.known)
    figures += corner_figures(context)
    figures += _framing_figures(context)
    said = all_said(context)
    before = {(rule.code, judgement.subject): judgement.verdict for rule, judgement in said}
    tried: dict[str, _Tried] = {}
    findings = []
    for rule, judgement in said:
        wanted = mends and judgement.verdict != "holds"
        found = _mends(rule, judgement, context, before, tried) if wanted else ()
        findings.append(rule.finding(judgement, found))
    findings.sort(key=lambda finding: (SEVERITY[finding.verdict], in_order(RULES[finding.code])))
    return Evaluation(
        figures=tuple(figures),
        missing=tuple(missing),
        findings=tuple(findings),
        verdict=worst(finding.verdict for finding in findings),
    )


def weigh(
    rig: Rig,
    practice: Practice,
    shelf: tuple[Part, ...] = (),
    tonight: date | None = None,
    sites: tuple[Site, ...] = (),
    others: tuple[OtherRig, ...] = (),
) -> Context:
    """The facts and numbers of a rig without their working: what rules see."""
    practice = rig.practice.over(practice)
    rig = of_date(rig, tonight)
    light = LightPath.of(rig)
    known = gather(rig, light, practice)
    figure_table.prepare(known, light)
    spacing = Spacing(rig, light, practice)
    known.later(facts.NAMES, lambda into: facts.gather(into, spacing))
    load = Load(rig, spacing, practice)
    known.later(load_facts.NAMES, lambda into: load_facts.gather(into, load))
    guiding = Guiding(rig, known, spacing, practice)
    known.later(guide_facts.NAMES, lambda into: guide_facts.gather(into, guiding))
    power = Powering(rig, practice, tonight)
    known.later(power_facts.NAMES, lambda into: power_facts.gather(into, power))
    return Context(rig, light, known, practice, spacing, load, guiding, power, shelf, tonight, sites, others)


def other_rigs(rigs: Iterable[tuple[str, Rig]], practice: Practice) -> tuple[OtherRig, ...]:
    """Rigs (id, document) as rules may point to them; those whose field is not known are left out."""
    found = []
    for rig_id, rig in rigs:
        known = weigh(rig, practice).known
        if "field_width" in known and "field_height" in known:
            field = known.value("field_width"), known.value("field_height")
            found.append(OtherRig(rig_id, rig.name, field, "wide_field" in rig.purposes))
    return tuple(found)


def all_said(context: Context) -> list[tuple[Rule, Judgement]]:
    """What each rule says of a rig, in the order of the rule book."""
    return [(rule, judgement) for rule in RULES.values() for judgement in rule.judgements(context)]


def verdicts(context: Context, step: Step) -> list[Verdict]:
    """What the rules of one step say of a rig."""
    return [j.verdict for rule in RULES.values() if rule.step == step for j in rule.judgements(context)]


def worst(given: Iterable[Verdict]) -> Verdict:
    """The worst of some verdicts; holds when there are none."""
    return min(given, key=SEVERITY.__getitem__, default="holds")


# What no rule of another step looks at: a change of these alone asks only the rules of load, guiding and power.
CARRIED_FIELDS = frozenset({"riders", "mount", "support", "counterweights", "saddle_mm", "supply", "extras"})
CARRIED_STEPS: tuple[Step, ...] = ("load", "guide", "power")


def _steps_touched(edits: Iterable[Edit]) -> tuple[Step, ...]:
    """The steps whose rules may judge otherwise after some edits."""
    return CARRIED_STEPS if all(edit.path[0] in CARRIED_FIELDS for edit in edits) else STEPS


class _Tried:
    """A changed rig as the rules see it; each rule is asked once, since several findings try the same change."""

    def __init__(self, context: Context, steps: tuple[Step, ...]) -> None:
        self._context = context
        self._rules = [rule for rule in RULES.values() if rule.step in steps]
        self._said: dict[str, list[Judgement]] = {}

    @cached_property
    def keepable(self) -> bool:
        return keepable(self._context.rig)

    def says(self, rule: Rule) -> list[Judgement]:
        if rule.code not in self._said:
            self._said[rule.code] = list(rule.judgements(self._context))
        return self._said[rule.code]

    def worse(self, before: dict[tuple[str, str | None], Verdict]) -> list[Judgement]:
        """What is judged worse after the change than before it."""
        return [
            judgement
            for rule in self._rules
            for judgement in self.says(rule)
            if SEVERITY[judgement.verdict] < SEVERITY[self._before(rule, judgement, before)]
        ]

    def _before(self, rule: Rule, judgement: Judgement, before: dict[tuple[str, str | None], Verdict]) -> Verdict:
        """What a rule said of a subject; where subjects come and go, a new one may stand in for one that went."""
        said = before.get((rule.code, judgement.subject))
        if said is None and rule.lapses:
            earlier = [verdict for (code, _), verdict in before.items() if code == rule.code]
            now = [other.verdict for other in self.says(rule)]
            if now.count(judgement.verdict) <= earlier.count(judgement.verdict):
                return judgement.verdict
        return said or "holds"


def _mends(
    rule: Rule,
    judgement: Judgement,
    context: Context,
    before: dict[tuple[str, str | None], Verdict],
    tried: dict[str, _Tried],
) -> tuple[Mend, ...]:
    """The attempts that the same rule judges better on the changed rig and that break nothing else, best first."""
    mends: list[Mend] = []
    for attempt in judgement.attempts:
        if sum(mend.leads_to == "holds" for mend in mends) >= MOST_MENDS:
            break
        if not attempt.edits:
            continue
        # A change of the whole rig reads the same for every finding; one of a framing is about that framing.
        key = f"{attempt.label}·{attempt.edits[0].path}"
        if key not in tried:
            changed_rig = weigh(apply(context.rig, attempt.edits), context.practice, (), context.tonight)
            tried[key] = _Tried(changed_rig, _steps_touched(attempt.edits))
        changed = tried[key]
        after = [other.verdict for other in changed.says(rule) if other.subject == judgement.subject]
        if not after and not rule.lapses:
            continue
        if SEVERITY[worst(after)] <= SEVERITY[judgement.verdict]:
            continue
        worse = changed.worse(before)
        if any(other.verdict == "breaks" for other in worse) or not changed.keepable:
            continue
        mends.append(
            Mend(
                label=attempt.label,
                leads_to=worst(after),
                costs=tuple(dict.fromkeys(other.title for other in worse)),
                change=tuple(edit.operation() for edit in attempt.edits),
            )
        )
    mends.sort(key=lambda mend: (-SEVERITY[mend.leads_to], len(mend.costs)))
    return tuple(mends[:MOST_MENDS])


def corner_figures(context: Context) -> list[Figure]:
    """Blur in the sensor's corner (µm, px) of a design that wants a corrector and has none; else nothing."""
    telescope = context.light.telescope
    known = context.known
    needed = ("sensor_diagonal", "pixel", "focal_length", "focal_ratio")
    if telescope is None or not telescope.needs_corrector or context.light.flattens:
        return []
    if not all(name in known for name in needed):
        return []
    blur, pixels = corner_blur(context)
    newtonian = telescope.design == "newtonian"
    inputs = tuple(known[name] for name in needed)
    formula = "3h / 16N², h = diag / 2" if newtonian else "(h² / 2R) / N, h = diag / 2, R by design"
    source = "Rutten & van Venrooij, Telescope Optics (from memory)"
    rows = (("um", "µm", 0, blur, formula), ("px", "px", 1, pixels, f"({formula}) / p"))
    return [
        Figure(
            key=f"optics.corner_blur_{suffix}",
            title="Corner blur without a corrector",
            value=value,
            unit=unit,
            decimals=decimals,
            formula=text,
            inputs=inputs,
            source=source,
            note="Approximate: third order only.",
        )
        for suffix, unit, decimals, value, text in rows
    ]


def _framing_figures(context: Context) -> list[Figure]:
    known = context.known
    if "field_width" not in known or "field_height" not in known:
        return []
    field = known.value("field_width"), known.value("field_height")
    made = []
    for framing in context.rig.framings:
        target = framing.target
        fit = fit_target(target, field, framing.position_angle_deg, context.practice)
        if fit is None or target.major_arcmin is None:
            continue
        inputs = (
            known["field_width"],
            known["field_height"],
            FigureInput(symbol="a", name="major axis", value=target.major_arcmin, unit="′", origin=target.name),
            FigureInput(
                symbol="PA", name="position angle", value=framing.position_angle_deg, unit="°", origin="framing"
            ),
        )
        rows = (
            ("target_span", "Target across the field", fit.span, "max(target / field) along the two sides"),
            (
                "share_inside",
                "Target inside the frame",
                share_inside(framing, field),
                "area of target ∩ tiles / target",
            ),
        )
        made += [
            Figure(
                key=f"aim.{name}",
                title=title,
                value=value,
                unit="",
                formula=formula,
                inputs=inputs,
                source="geometry",
                subject=target.name,
            )
            for name, title, value, formula in rows
        ]
    return made
