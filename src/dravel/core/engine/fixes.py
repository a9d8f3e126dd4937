"""Changes tried before they are offered: judged again by the rule they are to fix, and by all that reads what changed."""

import re
from collections.abc import Iterable
from dataclasses import replace
from functools import cached_property
from itertools import islice

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt, Judgement, Rule
from dravel.core.model import SEVERITY, Fix, Part, Verdict, worst
from dravel.core.model.edit import Edit, apply, keepable
from dravel.core.model.evaluation import FixChange, Sign
from dravel.core.model.inventory import HAD, parts_of, same
from dravel.core.model.words import MINUS, Text, Value, as_text, joined, text

Better = tuple[Verdict, Text]  # what a finding comes to, and what is measured then
MOST_MENDS = 3
MOST_CURES = 4  # tried, even where each makes something else worse
MOST_FOLLOWING = 2  # changes that put right what the first one spoils
MOST_WAYS = 3  # tried for each of them
# Looks that are taken in all: one a change, and one for each target that it is judged by. About half a second.
MOST_LOOKS = 500
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

    def worse(self, before: Said) -> list[tuple[Rule, Judgement]]:
        """What is judged worse after the change than before it, and by which rule."""
        return [
            (rule, judgement)
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
        return said or "ok"


class FixSearch:
    """What may be offered for the findings of one rig; every change is tried once."""

    def __init__(self, context: Context, said: list[tuple[Rule, Judgement]]) -> None:
        self._context = context
        self._before: Said = {(rule.code, judgement.subject): judgement.verdict for rule, judgement in said}
        self._tried: dict[tuple[object, ...], Tried] = {}
        self._left = MOST_LOOKS
        self._righted: dict[tuple[object, bool], tuple[Attempt, Tried]] = {}

    @property
    def spent(self) -> bool:
        """Whether no more changes are tried: a rig with hundreds of targets has thousands."""
        return self._left <= 0

    def fixes(self, rule: Rule, judgement: Judgement) -> tuple[tuple[Fix, ...], bool]:
        """The attempts that the same rule judges better on the changed rig and that break nothing else, best first; and
        whether some were left untried.

        Nobody changes the telescope or the camera, which everything else was chosen for, over a strain.
        """
        fixes: list[Fix] = []
        last: set[Text] = set()
        untried = False
        spoiling: list[tuple[Attempt, Tried]] = []
        cured = 0
        for attempt in judgement.attempts:
            if sum(fix.all_told == "ok" for fix in fixes) >= MOST_MENDS or cured >= MOST_CURES:
                break
            if self.spent:
                untried = True
                break
            if not attempt.edits or _says_more(attempt, fixes):
                continue
            changed = self._try(attempt.edits)
            if judgement.verdict == "warning" and self._heart(changed.context) != self._heart(self._context):
                continue
            after = self._bettered(changed, rule, judgement)
            if after is None:
                continue
            worse = changed.worse(self._before)
            if any(other.slides for other, _ in worse):
                righted = self._put_right(attempt, changed, slides=True)
                # What puts the balance right may not undo the cure.
                if (then := self._bettered(righted[1], rule, judgement)) is not None:
                    (attempt, changed), after = righted, then
                    worse = changed.worse(self._before)
            cured += after[0] == "ok"
            if any(other.verdict == "problem" for _, other in worse) or not changed.keepable:
                spoiling.append((attempt, changed))
                continue
            fixes.append(self._fix(attempt, changed, after))
            last |= {fixes[-1].label} if attempt.last else set()
        for attempt, changed in spoiling[:MOST_FOLLOWING] if all(fix.label in last for fix in fixes) else ():
            attempt, changed = self._put_right(attempt, changed)
            after = self._bettered(changed, rule, judgement)
            broken = any(other.verdict == "problem" for _, other in changed.worse(self._before))
            if after is not None and changed.keepable and not broken:
                fixes.append(self._fix(attempt, changed, after))
        fixes.sort(
            key=lambda fix: (
                fix.label in last, -SEVERITY[fix.all_told], -SEVERITY[fix.leads_to], len(fix.costs),
            )
        )  # fmt: skip
        # The last resort stays in view where it alone leaves all well.
        third = min(fixes[MOST_MENDS - 1 :], key=lambda fix: -SEVERITY[fix.all_told], default=None)
        return (*fixes[: MOST_MENDS - 1], *([third] if third else [])), untried

    @staticmethod
    def _bettered(changed: Tried, rule: Rule, judgement: Judgement) -> Better | None:
        """What the rule says of the same subject after the change, and what it measures then; None where that is no
        better, or it fell silent and may not."""
        after = [other for other in changed.says(rule) if other.subject == judgement.subject]
        if not after and not rule.lapses:
            return None
        verdict = worst([other.verdict for other in after])
        if SEVERITY[verdict] <= SEVERITY[judgement.verdict]:
            return None
        return verdict, as_text(next((other.measure for other in after if other.verdict == verdict), ""))

    def _fix(self, attempt: Attempt, changed: Tried, better: Better) -> Fix:
        leads_to, result = better
        worse = [other for _, other in changed.worse(self._before)]
        bought, label = self._bought(changed.context), _label(attempt)
        return Fix(
            label=label,
            changes=tuple(FixChange(sign=_sign(change), words=change) for change in attempt.changes),
            leads_to=leads_to,
            all_told=worst((leads_to, *(other.verdict for other in worse))),
            costs=tuple(dict.fromkeys(as_text(other.title) for other in worse)),
            buys=tuple(dict.fromkeys(part.name for part in bought)),
            spend=_spend(bought),
            result=Text("") if _ends_so(label, result) else result,
            change=tuple(edit.operation() for edit in attempt.edits),
        )

    def _put_right(self, attempt: Attempt, changed: Tried, *, slides: bool = False) -> tuple[Attempt, Tried]:
        """The change with what puts right again what it spoils, as far as that can be found; or by slides alone."""
        key = (tuple(edit.key for edit in attempt.edits), slides)
        if key not in self._righted:
            self._righted[key] = self._followed(attempt, changed, slides)
        return self._righted[key]

    def _followed(self, attempt: Attempt, changed: Tried, slides: bool) -> tuple[Attempt, Tried]:
        for _ in range(0 if self.spent else MOST_FOLLOWING):
            # By slides alone what they balance; else what breaks: a strain is told, and no reason for another part.
            spoilt = changed.worse(self._before)
            worse = [item for item in spoilt if (item[0].slides if slides else item[1].verdict == "problem")]
            better = next((result for item in worse if (result := self._follow(attempt, changed, *item))), None)
            if better is None:
                break
            attempt, changed = better
        return attempt, changed

    def _follow(self, attempt: Attempt, changed: Tried, rule: Rule, spoilt: Judgement) -> tuple[Attempt, Tried] | None:
        """The change followed by one that its own rule would try for what was spoilt; None where none helps."""
        here = self._context.changed(changed.context.rig, fixing=True)
        said = next((judgement for judgement in rule.judgements(here) if judgement.subject == spoilt.subject), None)
        now = self._harm(changed)
        for then in islice(said.attempts, MOST_WAYS) if said else ():
            edits = (*attempt.edits, *then.edits)
            tried = self._tried_anew(edits)
            # Another telescope or camera is no afterthought.
            if self._harm(tried) < now and self._heart(tried.context) == self._heart(changed.context):
                return replace(attempt, edits=edits, then=(*attempt.then, then.label, *then.then)), tried
        return None

    def _harm(self, changed: Tried) -> tuple[int, int]:
        """How much a change makes worse: what it breaks before what it strains."""
        verdicts = [other.verdict for _, other in changed.worse(self._before)]
        return verdicts.count("problem"), len(verdicts)

    @staticmethod
    def _heart(context: Context) -> tuple[str | None, ...]:
        """By what the telescope and the camera are known."""
        return tuple(same(part) if part else None for part in (context.light.telescope, context.light.camera))

    def _bought(self, changed: Context) -> tuple[Part, ...]:
        here = {same(part) for part in parts_of(self._context.rig)}
        return tuple(part for part in parts_of(changed.rig) if same(part) not in here and part.status not in HAD)

    def _try(self, edits: tuple[Edit, ...]) -> Tried:
        # By what is changed, not by what it is called: two parts may have one name.
        key = tuple(edit.key for edit in edits)
        if key not in self._tried:
            self._tried[key] = self._tried_anew(edits)
        return self._tried[key]

    def _tried_anew(self, edits: tuple[Edit, ...]) -> Tried:
        self._left -= 1 + len(self._context.rig.framings)
        return Tried(self._context.changed(apply(self._context.rig, edits)), edits)


SIGNS: dict[str, Sign] = {"Add": "+", "Remove": "−"}


def _sign(change: Text) -> Sign:
    """What comes in and what goes out begins with its verb; all else is set otherwise."""
    return SIGNS.get(change.template.partition(" ")[0], "·")


def _spend(bought: tuple[Part, ...]) -> Text:
    """What is bought costs, by currency; nothing where no part has a price."""
    sums: dict[str, float] = {}
    for part in bought:
        if part.price is not None:
            sums[part.price.currency] = sums.get(part.price.currency, 0.0) + part.price.amount
    return joined(" + ", (Value(amount, currency, 0) for currency, amount in sorted(sums.items())))


def _ends_so(label: Text, result: Text) -> bool:
    """Whether a label names what it leads to already: ``Set sub length to 900 s`` leads to 900 s, ``… 13 mm`` not to 3 mm."""
    return re.search(rf"(?<![\w.,{MINUS}]){re.escape(str(result))}(?!\w)", str(label)) is not None


def _label(attempt: Attempt) -> Text:
    """A change in one line: the first of several, and how many there are."""
    first, *rest = attempt.changes
    return text("{first} ({count} changes)", first=first, count=len(rest) + 1) if rest else first


def _says_more(attempt: Attempt, fixes: list[Fix]) -> bool:
    """Whether it does what a fix that cures all does already, and something besides."""
    changes = attempt.changes
    return any(
        fix.all_told == "ok" and tuple(change.words for change in fix.changes) == changes[: len(fix.changes)] != changes
        for fix in fixes
    )
