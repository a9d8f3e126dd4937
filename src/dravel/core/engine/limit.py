"""Where a number begins to cost something and where it ends: one value that rule, page, picture and words all read."""

from dataclasses import dataclass, replace
from math import inf

from dravel.core.model import Verdict
from dravel.core.model.words import Text, joined, text, with_unit

SLACK = 1e-9  # what arithmetic may lose


@dataclass(frozen=True)
class Limit:
    """Beyond `warning` a number earns a warning, beyond `problem` it is a problem; None where it never does.

    `least` turns it round: the number wants to be large. Shares are given as such and written in per cent (unit ``%``).
    """

    warning: float | None
    problem: float | None = None
    unit: str = ""
    source: str = "common practice"
    school: str = ""
    least: bool = False

    def verdict(self, value: float) -> Verdict:
        """What the limit makes of a number."""
        return "problem" if self._past(value, self.problem) else "warning" if self._past(value, self.warning) else "ok"

    def careful(self, value: float, off: float) -> Verdict:
        """What the limit makes of a size that may be `off` either way: it never breaks on what was assumed alone."""
        result = self.verdict(value)
        if result != "problem" or off <= 0:
            return result
        kinder = value + off if self.least else max(value - off, 0.0)
        return "problem" if self.verdict(kinder) == "problem" else "warning"

    def _past(self, value: float, bound: float | None) -> bool:
        if bound is None:
            return False
        return value < bound - SLACK if self.least else value > bound + SLACK

    def times(self, whole: float, unit: str) -> "Limit":
        """The limit of a share as one of the number itself, `whole` being what the share is of."""
        warning, problem = (None if bound is None else bound * whole for bound in (self.warning, self.problem))
        return replace(self, warning=warning, problem=problem, unit=unit)

    def warning_at(self, whole: float) -> float:
        """Where the number itself begins to strain, of a limit that is a share of `whole`; infinite where it never does."""
        return inf if self.warning is None else self.warning * whole

    @property
    def words(self) -> Text:
        """The limit as a finding has it, with both levels and where it is from: ``warning > 4×, problem > 8× (common practice)``."""
        return text("{page} ({source})", page=self.page, source=self.source) if self.page else Text("none")

    @property
    def bound(self) -> str:
        """The first bound alone, with its unit: ``0.5 px``."""
        first = self.problem if self.warning is None else self.warning
        return "none" if first is None else self.told(first)

    @property
    def page(self) -> Text:
        """Both bounds, for the rule's page."""
        sign = "<" if self.least else ">"
        return joined(
            ", ",
            (
                text("{level} {sign} {bound}", level=level, sign=sign, bound=self.told(bound))
                for level, bound in (("warning", self.warning), ("problem", self.problem))
                if bound is not None
            ),
        )

    def told(self, bound: float) -> str:
        """A bound with its unit."""
        return f"{bound * 100:.3g}%" if self.unit == "%" else with_unit(f"{bound:.3g}", self.unit)
