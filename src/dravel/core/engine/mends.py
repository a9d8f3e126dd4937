"""Changes tried before they are offered: judged again by the rule they are to mend, and by all that reads what changed."""

from collections.abc import Iterable
from functools import cached_property

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Judgement, Rule
from dravel.core.model import SEVERITY, Mend, Verdict, worst
from dravel.core.model.edit import Edit, apply, keepable
from dravel.core.model.inventory import HAD, parts_of, same

MOST_MENDS = 3
MOST_CURES = 4  # tried, even where each makes something else worse
Said = dict[tuple[str, str | None], Verdict]


class Tried:
    """A changed rig as the rules see it; each rule is asked once, since several findings try the same change."""

    def __init__(self, context: Context, edits: Iterable[Edit]) -> None:
        fields = {str(edit.path[0]) for edit in edits}
        self.context = context
        self._rules = [rule for step in context.steps if step.reads & fields for rule in step.rules]
        self._said: dict[str, list[Judgement]] = {}

    @cached_property
    def keepable(self) -> bool:
        """Whether a save would take the changed rig."""
        return keepable(self.context.rig)

    def says(self, rule: Rule) -> list[Judgement]:
        """What a rule says of the changed rig."""
        if rule.code not in self._said:
            self._said[rule.code] = list(rule.judgements(self.context))
        return self._said[rule.code]

    def worse(self, before: Said) -> list[Judgement]:
        """What is judged worse after the change than before it."""
        return [
            judgement
            for rule in self._rules
            for judgement in self.says(rule)
            if SEVERITY[judgement.verdict] < SEVERITY[self._before(rule, judgement, before)]
        ]

    def _before(self, rule: Rule, judgement: Judgement, before: Said) -> Verdict:
        """What a rule said of a subject; where subjects come and go, a new one may stand in for one that went."""
        said = before.get((rule.code, judgement.subject))
        if said is None and rule.lapses:
            earlier = [verdict for (code, _), verdict in before.items() if code == rule.code]
            now = [other.verdict for other in self.says(rule)]
            if now.count(judgement.verdict) <= earlier.count(judgement.verdict):
                return judgement.verdict
        return said or "holds"


class Mending:
    """What may be offered for the findings of one rig; every change is tried once."""

    def __init__(self, context: Context, said: list[tuple[Rule, Judgement]]) -> None:
        self._context = context
        self._before: Said = {(rule.code, judgement.subject): judgement.verdict for rule, judgement in said}
        self._tried: dict[str, Tried] = {}

    def mends(self, rule: Rule, judgement: Judgement) -> tuple[Mend, ...]:
        """The attempts that the same rule judges better on the changed rig and that break nothing else, best first.

        Nobody changes the telescope or the camera, which everything else was chosen for, over a strain.
        """
        mends: list[Mend] = []
        cured = 0
        for attempt in judgement.attempts:
            if sum(mend.all_told == "holds" for mend in mends) >= MOST_MENDS or cured >= MOST_CURES:
                break
            if not attempt.edits:
                continue
            changed = self._try(attempt.label, attempt.edits)
            if judgement.verdict == "strains" and self._heart(changed.context) != self._heart(self._context):
                continue
            after = [other.verdict for other in changed.says(rule) if other.subject == judgement.subject]
            if not after and not rule.lapses:
                continue
            if SEVERITY[worst(after)] <= SEVERITY[judgement.verdict]:
                continue
            worse = changed.worse(self._before)
            if any(other.verdict == "breaks" for other in worse) or not changed.keepable:
                continue
            cured += worst(after) == "holds"
            mends.append(
                Mend(
                    label=attempt.label,
                    leads_to=worst(after),
                    all_told=worst((*after, *(other.verdict for other in worse))),
                    costs=tuple(dict.fromkeys(other.title for other in worse)),
                    buys=self._bought(changed.context),
                    change=tuple(edit.operation() for edit in attempt.edits),
                )
            )
        mends.sort(key=lambda mend: (-SEVERITY[mend.all_told], -SEVERITY[mend.leads_to], len(mend.costs)))
        return tuple(mends[:MOST_MENDS])

    @staticmethod
    def _heart(context: Context) -> tuple[str | None, ...]:
        """By what the telescope and the camera are known."""
        return tuple(same(part) if part else None for part in (context.light.telescope, context.light.camera))

    def _bought(self, changed: Context) -> tuple[str, ...]:
        here = {same(part) for part in parts_of(self._context.rig)}
        new = (part for part in parts_of(changed.rig) if same(part) not in here and part.status not in HAD)
        return tuple(dict.fromkeys(part.name for part in new))

    def _try(self, label: str, edits: tuple[Edit, ...]) -> Tried:
        # A change of the whole rig reads the same for every finding; one of a framing is about that framing.
        key = f"{label}·{edits[0].path}"
        if key not in self._tried:
            self._tried[key] = Tried(self._context.changed(apply(self._context.rig, edits)), edits)
        return self._tried[key]
