"""The rule book, made from the registry: one page per rule."""

from pydantic import ConfigDict

from dravel.core.model import Step
from dravel.core.model.base import Model
from dravel.core.rules import RULES
from dravel.core.rules.registry import in_order


class SchoolPage(Model):
    """One school of a rule."""

    model_config = ConfigDict(from_attributes=True)

    key: str
    title: str
    says: str


class RulePage(Model):
    """What a rule checks, why, by which formula and source, which schools there are, and what mends it."""

    # Rules are plain dataclasses: the page takes over their words, not their function.
    model_config = ConfigDict(from_attributes=True, extra="ignore")

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
    return [page(rule.code) for rule in sorted(RULES.values(), key=in_order)]


def page(code: str) -> RulePage:
    """One page. Raises `KeyError` when there is no rule of that code."""
    return RulePage.model_validate(RULES[code])


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
