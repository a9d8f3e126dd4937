"""The rule book, made from the registry: one page per rule."""

from dravel.core.model import Step
from dravel.core.model.base import Model
from dravel.core.rules import RULES


class SchoolPage(Model):
    """One school of a rule."""

    key: str
    title: str
    says: str


class RulePage(Model):
    """What a rule checks, why, by which formula and source, which schools there are, and what mends it."""

    code: str
    step: Step
    title: str
    checks: str
    why: str
    formula: str
    source: str
    mend: str
    schools: tuple[SchoolPage, ...]


def pages() -> list[RulePage]:
    """All pages, by step in the order of work, then by code."""
    order = {"aim": 0, "glass": 1}
    return [page(code) for code in sorted(RULES, key=lambda code: (order[RULES[code].step], code))]


def page(code: str) -> RulePage:
    """One page. Raises `KeyError` when there is no rule of that code."""
    rule = RULES[code]
    return RulePage(
        code=rule.code,
        step=rule.step,
        title=rule.title,
        checks=rule.checks,
        why=rule.why,
        formula=rule.formula,
        source=rule.source,
        mend=rule.mend,
        schools=tuple(SchoolPage(key=s.key, title=s.title, says=s.says) for s in rule.schools),
    )


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
        f"**Mend.** {page.mend}",
    ]
    if page.schools:
        lines += ["", "**Schools** (default first)", "", *(f"- *{s.title}*: {s.says}" for s in page.schools)]
    return "\n".join(lines)
