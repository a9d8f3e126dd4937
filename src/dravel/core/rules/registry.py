"""How a rule is written down: its page in the rule book, and the function that judges."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from datetime import date

from dravel.core.guide.facts import Guiding
from dravel.core.known import Known
from dravel.core.light_path import LightPath
from dravel.core.load.facts import Load
from dravel.core.model import Elsewhere, Finding, Mend, Part, Practice, Rig, SchoolSays, Site, Step, Verdict
from dravel.core.patch import Edit
from dravel.core.power.facts import Powering
from dravel.core.spacing.facts import Spacing

SEVERITY: dict[Verdict, int] = {"breaks": 0, "strains": 1, "holds": 2}


@dataclass(frozen=True)
class School:
    """One side of a disagreement among practitioners."""

    key: str
    title: str
    says: str


@dataclass(frozen=True)
class OtherRig:
    """Another rig as rules may point to it: its field in degrees (width, height)."""

    rig_id: str
    name: str
    field: tuple[float, float]
    wide_field: bool


@dataclass(frozen=True)
class Context:
    """What a rule sees."""

    rig: Rig
    light: LightPath
    known: Known
    practice: Practice
    spacing: Spacing
    load: Load
    guiding: Guiding
    power: Powering
    shelf: tuple[Part, ...] = ()
    tonight: date | None = None
    sites: tuple[Site, ...] = ()
    others: tuple[OtherRig, ...] = ()

    def value(self, name: str) -> float:
        """A known value by name; a rule lists in `needs` what it asks for here."""
        return self.known.value(name)


@dataclass(slots=True)
class Judgement:
    """What a rule says of one rig (or one target of it), before its code and step are added."""

    verdict: Verdict
    title: str
    reason: str
    limit: str
    measure: str = ""
    figures: tuple[str, ...] = ()
    school: str | None = None
    schools: tuple[SchoolSays, ...] = ()
    subject: str | None = None
    attempts: Iterable["Attempt"] = ()
    elsewhere: tuple[Elsewhere, ...] = ()


@dataclass(frozen=True)
class Attempt:
    """A change that may mend. Offered only when the changed rig is judged better by the same rule."""

    label: str
    edits: tuple[Edit, ...]


@dataclass(frozen=True)
class Rule:
    """A rule's page: what it checks, why, by which formula and source, which schools there are, what mends."""

    code: str
    step: Step
    title: str
    checks: str
    why: str
    formula: str
    source: str
    mend: str
    judge: Callable[[Context], Iterable[Judgement]] = field(repr=False)
    needs: tuple[str, ...] = ()
    schools: tuple[School, ...] = ()
    lapses: bool = False  # what it judges can cease to be: a joint that is gone no longer fails to mate

    def judgements(self, context: Context) -> Iterator[Judgement]:
        """What the rule says; nothing when something it needs is not known."""
        for name in self.needs:
            if name not in context.known:
                return
        yield from self.judge(context)

    def finding(self, judgement: Judgement, mends: tuple[Mend, ...] = ()) -> Finding:
        """A judgement as the finding that leaves the core."""
        return Finding(
            code=self.code,
            step=self.step,
            verdict=judgement.verdict,
            title=judgement.title,
            measure=judgement.measure,
            reason=judgement.reason,
            limit=judgement.limit,
            figures=judgement.figures,
            school=judgement.school,
            schools=judgement.schools,
            subject=judgement.subject,
            mends=mends,
            elsewhere=judgement.elsewhere,
        )


RULES: dict[str, Rule] = {}
STEPS: tuple[Step, ...] = ("aim", "glass", "spacing", "load", "guide", "power")


def in_order(rule: Rule) -> tuple[int, str, int]:
    """Where a rule stands in the order of work: its step, then its code."""
    return STEPS.index(rule.step), rule.code[0], int(rule.code[1:])


Judge = Callable[[Context], Iterable[Judgement]]


def rule(
    code: str,
    step: Step,
    title: str,
    *,
    checks: str,
    why: str,
    formula: str,
    source: str,
    mend: str,
    needs: tuple[str, ...] = (),
    schools: tuple[School, ...] = (),
    lapses: bool = False,
) -> Callable[[Judge], Judge]:
    """Register a function as the rule of that code. Raises `ValueError` when the code is taken."""

    def register(judge: Judge) -> Judge:
        if code in RULES:
            raise ValueError(f"rule {code} is registered twice")
        RULES[code] = Rule(code, step, title, checks, why, formula, source, mend, judge, needs, schools, lapses)
        return judge

    return register


def with_attempts(judgement: Judgement, attempts: Iterable[Attempt]) -> Judgement:
    """The judgement with changes worth trying; a rule that holds needs none."""
    if judgement.verdict != "holds":
        judgement.attempts = attempts
    return judgement
