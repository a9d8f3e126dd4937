"""How a rule is written down: its page in the rule book, and the function that judges."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from types import ModuleType

from dravel.core.engine.context import Context
from dravel.core.engine.limit import Limit
from dravel.core.model import Elsewhere, Finding, Mend, SchoolSays, Verdict
from dravel.core.model.edit import Edit
from dravel.core.model.patience import still_awaited
from dravel.core.model.words import Text, Words, as_text


@dataclass(frozen=True)
class School:
    """One side of a disagreement among practitioners."""

    key: str
    title: str
    says: str


@dataclass(frozen=True)
class Attempt:
    """A change that may mend. Offered only when the changed rig is judged better by the same rule.

    `last` marks what people do only when nothing else helps; `then` says what has to follow, when more than one thing is changed.
    """

    label: Words
    edits: tuple[Edit, ...]
    last: bool = False
    then: tuple[Words, ...] = ()

    @property
    def changes(self) -> tuple[Text, ...]:
        """What is changed, a line for each."""
        return tuple(as_text(one) for one in (self.label, *self.then))


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
    """A rule's page: what it checks, why, by which formula and source, which limits and schools there are, what mends."""

    code: str
    title: str
    checks: str
    why: str
    formula: str
    source: str
    mend: str
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
            still_awaited()  # rules are where a rig's time goes, and one of many targets is judged again and again
            yield judgement

    def finding(self, step: str, judgement: Judgement, mends: tuple[Mend, ...] = (), untried: bool = False) -> Finding:
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
                one.model_copy(update={"title": titles.get(one.school, one.school)}) for one in judgement.schools
            ),
            subject=judgement.subject,
            mends=mends,
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
    mend: str,
    needs: tuple[str, ...] = (),
    schools: tuple[School, ...] = (),
    limits: tuple[Limit, ...] = (),
    lapses: bool = False,
    slides: bool = False,
) -> Callable[[Judge], Rule]:
    """Make a function the rule of that code; the step that gathers its module makes it count."""

    def write_down(judge: Judge) -> Rule:
        return Rule(code, title, checks, why, formula, source, mend, judge, needs, schools, limits, lapses, slides)

    return write_down


def rules_of(*modules: ModuleType) -> tuple[Rule, ...]:
    """The rules that modules hold, in the order they are written there."""
    return tuple(one for module in modules for one in vars(module).values() if isinstance(one, Rule))


def with_attempts(judgement: Judgement, attempts: Iterable[Attempt]) -> Judgement:
    """The judgement with changes worth trying; a rule that holds needs none."""
    if judgement.verdict != "holds":
        judgement.attempts = attempts
    return judgement
