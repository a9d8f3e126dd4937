"""How a rule is written down: its page in the rule book, and the function that judges."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from types import ModuleType

from dravel.core.engine.context import Context
from dravel.core.engine.limit import Limit
from dravel.core.model import Elsewhere, Finding, Fix, SchoolSays, Verdict
from dravel.core.model.cancellation import check_cancelled
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Words, as_text


@dataclass(frozen=True)
class School:
    """One side of a disagreement among practitioners."""

    key: str
    title: str
    says: str


@dataclass(frozen=True)
class Attempt:
    """A change that may fix. Offered only when the changed rig is judged better by the same rule.

    `last` marks what people do only when nothing else helps; `then` says what has to follow, when more than one thing is changed.
    """

    label: Words
    edits: tuple[Edit, ...]
    last: bool = False
    then: tuple[Words, ...] = ()

    @property
    def changes(self) -> tuple[Text, ...]:
        """What is changed, a line for each."""
        return tuple(as_text(item) for item in (self.label, *self.then))


@dataclass(slots=True)
class Judgement:
    """What a rule says of one rig (or one target of it), before its code and step are added."""

    verdict: Verdict
    title: Words
    reason: Words
    limit: Words
    measure: Words = ""
    figures: tuple[str, ...] = ()
    school: str | None = None
    schools: tuple[SchoolSays, ...] = ()
    subject: str | None = None
    attempts: Iterable[Attempt] = ()
    elsewhere: tuple[Elsewhere, ...] = ()


Judge = Callable[[Context], Iterable[Judgement]]


@dataclass(frozen=True)
class Rule:
    """A rule's page: what it checks, why, by which formula and source, which limits and schools there are, what fixes."""

    code: str
    title: str
    checks: str
    why: str
    formula: str
    source: str
    fix: str
    judge: Judge = field(repr=False)
    needs: tuple[str, ...] = ()
    schools: tuple[School, ...] = ()
    limits: tuple[Limit, ...] = ()
    lapses: bool = False  # what it judges can cease to be: a joint that is gone no longer fails to mate
    slides: bool = False  # put right by sliding what is there: whoever changes a load does that too

    def judgements(self, context: Context) -> Iterator[Judgement]:
        """What the rule says; nothing when something it needs is not known."""
        for name in self.needs:
            if name not in context.known:
                return
        for judgement in self.judge(context):
            check_cancelled()  # rules are where a rig's time goes, and one of many targets is judged again and again
            yield judgement

    def finding(self, step: str, judgement: Judgement, fixes: tuple[Fix, ...] = (), untried: bool = False) -> Finding:
        """A judgement as the finding that leaves the core."""
        titles = {school.key: school.title for school in self.schools}
        return Finding(
            code=self.code,
            step=step,
            verdict=judgement.verdict,
            title=as_text(judgement.title).at(self.code),
            measure=as_text(judgement.measure).at(self.code),
            reason=as_text(judgement.reason).at(self.code),
            limit=as_text(judgement.limit).at(self.code),
            figures=judgement.figures,
            school=judgement.school,
            schools=tuple(
                item.model_copy(update={"title": titles.get(item.school, item.school)}) for item in judgement.schools
            ),
            subject=judgement.subject,
            fixes=fixes,
            untried=untried,
            elsewhere=judgement.elsewhere,
        )


def rule(
    code: str,
    title: str,
    *,
    checks: str,
    why: str,
    formula: str,
    source: str,
    fix: str,
    needs: tuple[str, ...] = (),
    schools: tuple[School, ...] = (),
    limits: tuple[Limit, ...] = (),
    lapses: bool = False,
    slides: bool = False,
) -> Callable[[Judge], Rule]:
    """Make a function the rule of that code; the step that gathers its module makes it count."""

    def write_down(judge: Judge) -> Rule:
        return Rule(code, title, checks, why, formula, source, fix, judge, needs, schools, limits, lapses, slides)

    return write_down


def rules_of(*modules: ModuleType) -> tuple[Rule, ...]:
    """The rules that modules hold, in the order they are written there."""
    return tuple(var for module in modules for var in vars(module).values() if isinstance(var, Rule))


def with_attempts(judgement: Judgement, attempts: Iterable[Attempt]) -> Judgement:
    """The judgement with changes worth trying; a rule that holds needs none."""
    if judgement.verdict != "ok":
        judgement.attempts = attempts
    return judgement
