"""What `evaluate` answers: figures with their working, findings with their fixes."""

from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field

from dravel.core.model.base import Model
from dravel.core.model.preferences import BeliefKey
from dravel.core.model.words import Text

EARLIER = {"holds": "ok", "strains": "warning", "breaks": "problem"}  # as earlier versions wrote them


def _today(given: object) -> object:
    return EARLIER.get(given, given) if isinstance(given, str) else given


Verdict = Annotated[Literal["ok", "warning", "problem"], BeforeValidator(_today)]
SEVERITY: dict[Verdict, int] = {"problem": 0, "warning": 1, "ok": 2}


def worst(given: Iterable[Verdict]) -> Verdict:
    """The worst of some verdicts; OK when there are none."""
    return min(given, key=SEVERITY.__getitem__, default="ok")


class Tally(Model):
    """How many findings are problems, warnings and OK: the one count of a rig, wherever it is shown."""

    problem: int
    warning: int
    ok: int


def tally(given: Iterable[Verdict]) -> Tally:
    """Verdicts counted."""
    said = list(given)
    return Tally(problem=said.count("problem"), warning=said.count("warning"), ok=said.count("ok"))


class FigureInput(Model):
    """One value that went into a figure."""

    symbol: str
    name: str
    value: float
    unit: str
    origin: Text


class Figure(Model):
    """A number with its working. `subject` names the target when the figure is about one.

    A figure without a formula is given, by a maker or a reading, and `source` says by which.
    """

    key: str
    title: str
    value: float
    unit: str
    decimals: int = 2
    formula: str
    inputs: tuple[FigureInput, ...]
    source: str
    note: str = ""
    subject: str | None = None


class MissingFigure(Model):
    """A figure that could not be computed, and why."""

    key: str
    title: str
    because: Text


class PatchOperation(Model):
    """One operation of a JSON Patch (RFC 6902) on a rig document."""

    op: Literal["add", "replace", "remove"]
    path: str
    value: Any = None


Sign = Literal["+", "−", "·"]


class FixChange(Model):
    """One thing that a fix changes: what comes in, what goes out, what is set otherwise."""

    sign: Sign
    words: Text


class Fix(Model):
    """A change that cures or eases a finding, checked by evaluating the changed rig.

    `label` says it in one line; where it is more than one change, `changes` has each in a line of its own.
    """

    label: Text
    changes: tuple[FixChange, ...] = ()
    result: Text = Field(default=Text(""), description="What the finding measures after the change")
    leads_to: Verdict
    all_told: Verdict = Field(description="What it leads to, or what it makes worse elsewhere: OK when nothing is")
    costs: tuple[Text, ...] = Field(default=(), description="What else is judged worse after the change")
    buys: tuple[str, ...] = Field(default=(), description="Parts it takes that are neither owned nor borrowed")
    spend: Text = Field(default=Text(""), description="What those parts cost, as far as they have prices")
    change: tuple[PatchOperation, ...] = Field(description="JSON Patch (RFC 6902) on the rig document")


class Elsewhere(Model):
    """Another rig of the user's that does better, where no change to this one may."""

    rig_id: str
    label: Text
    leads_to: Verdict


class SchoolSays(Model):
    """What one criterion makes of the same number."""

    school: str
    title: str = ""
    verdict: Verdict
    says: Text


class Finding(Model):
    """The outcome of one rule, for one target where the rule is about targets."""

    code: str
    step: str
    verdict: Verdict
    title: Text
    measure: Text = Text("")
    reason: Text
    limit: Text
    figures: tuple[str, ...] = ()
    school: str | None = None
    schools: tuple[SchoolSays, ...] = ()
    subject: str | None = None
    fixes: tuple[Fix, ...] = ()
    untried: bool = Field(default=False, description="Whether changes were left untried: the rig asks for too many")
    elsewhere: tuple[Elsewhere, ...] = ()


class Belief(Model):
    """A belief that is common and wrong, and what this rig's own numbers say of it."""

    key: BeliefKey
    step: str
    belief: Text
    words: Text


class Evaluation(Model):
    """All figures and findings of a rig; of each step `headlines` is the one number in words, `marks` its worst verdict.

    A step whose rules are silent has no mark. `beliefs` leaves out what the preferences has put away.
    """

    figures: tuple[Figure, ...]
    missing: tuple[MissingFigure, ...]
    findings: tuple[Finding, ...]
    verdict: Verdict
    tally: Tally
    headlines: dict[str, Text] = {}
    marks: dict[str, Verdict] = {}
    beliefs: tuple[Belief, ...] = ()

    def figure(self, key: str, subject: str | None = None) -> Figure | None:
        """The figure of that key (and target), or None when it could not be computed."""
        return next((f for f in self.figures if f.key == key and f.subject == subject), None)
