"""The rule book, made from the registry: one page per rule."""

from pydantic import ConfigDict

from dravel.core.model.base import Model
from dravel.core.model.words import said
from dravel.core.steps import STEPS


class SchoolPage(Model):
    """One school of a rule."""

    model_config = ConfigDict(from_attributes=True)

    key: str
    title: str
    says: str


class LimitPage(Model):
    """Where a number begins to strain and to break, and who says so."""

    words: str
    source: str
    school: str


class RulePage(Model):
    """What a rule checks, why, by which formula and source, which schools there are, and what fixes it."""

    code: str
    step: str
    title: str
    checks: str
    why: str
    formula: str
    source: str
    fix: str
    limits: tuple[LimitPage, ...]
    schools: tuple[SchoolPage, ...]


def pages() -> list[RulePage]:
    """All pages, by step in the order of work, then by code."""
    return [page(code) for code in STEPS.rules]


def page(code: str) -> RulePage:
    """One page. Raises `KeyError` when there is no rule of that code."""
    rule = STEPS.rules[code]
    answer = {name: getattr(rule, name) for name in RulePage.model_fields if hasattr(rule, name)}
    answer |= {name: said(answer[name]) for name in ("title", "checks", "why", "fix")}
    limits = [{"words": str(limit.page), "source": limit.source, "school": limit.school} for limit in rule.limits]
    return RulePage.model_validate(answer | {"step": STEPS.step_of(code).key, "limits": limits})


def as_text(page: RulePage) -> str:
    """A page as plain text in Markdown."""
    lines = [
        f"## {page.code} {page.title}",
        "",
        f"Step: {page.step}.",
        "",
        f"**Checks.** {page.checks}",
        "",
        f"**Why.** {page.why}",
        "",
        f"**Formula.** {page.formula}",
        "",
        f"**Source.** {page.source}",
        "",
        f"**Fix.** {page.fix}",
    ]
    if page.limits:
        answer = (f"{limit.words} ({', '.join(filter(None, (limit.school, limit.source)))})" for limit in page.limits)
        lines += ["", f"**Limits.** {'; '.join(answer)}."]
    if page.schools:
        lines += ["", "**Criteria** (default first)", "", *(f"- *{s.title}*: {s.says}" for s in page.schools)]
    return "\n".join(lines)
