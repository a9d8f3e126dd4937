"""From a context to its figures and findings."""

from dravel.core.engine.context import Context
from dravel.core.engine.fixes import FixSearch
from dravel.core.model import SEVERITY, Evaluation, Fix, tally, worst
from dravel.core.model.words import as_text


def judged(context: Context, *, fixes: bool = False) -> Evaluation:
    """Figures and findings of a rig, worst findings first; with `fixes` also what cures them."""
    steps = context.steps
    figures, missing = context.known.figures()
    figures += [figure for step in steps for figure in step.about(context)]
    said = steps.said(context)
    fixing = FixSearch(context, said)
    # What breaks first, and what is about the whole rig before what is about one target of many.
    order = sorted(range(len(said)), key=lambda i: (SEVERITY[said[i][1].verdict], said[i][1].subject is not None))
    result: dict[int, tuple[tuple[Fix, ...], bool]] = {}
    for i in order if fixes else ():
        rule, judgement = said[i]
        if judgement.verdict != "ok":
            result[i] = fixing.fixes(rule, judgement)
    findings = [
        rule.finding(steps.step_of(rule.code).key, judgement, *result.get(i, ((), False)))
        for i, (rule, judgement) in enumerate(said)
    ]
    findings.sort(key=lambda finding: SEVERITY[finding.verdict])
    return Evaluation(
        figures=tuple(figures),
        missing=tuple(missing),
        findings=tuple(findings),
        verdict=worst(finding.verdict for finding in findings),
        tally=tally(finding.verdict for finding in findings),
        headlines={step.key: as_text(step.headline(context)) for step in steps},
        beliefs=tuple(
            belief
            for step in steps
            for belief in step.beliefs(context)
            if belief.key not in context.preferences.beliefs_put_away
        ),
        # The findings come worst first: what is laid last, from the back, is each step's worst.
        marks={finding.step: finding.verdict for finding in reversed(findings)},
    )
