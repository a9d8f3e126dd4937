"""A step of the work and the registry of them all: what each knows, computes, judges and draws."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import date

from dravel.core.engine.context import Context, OtherRig
from dravel.core.engine.evaluate import judged
from dravel.core.engine.known import Known
from dravel.core.engine.recipe import Recipe
from dravel.core.engine.rule import Judgement, Rule
from dravel.core.frames.reading import FrameReading
from dravel.core.model import Belief, Evaluation, Figure, Part, Preferences, Rig, Site
from dravel.core.model.base import Model
from dravel.core.model.words import Words
from dravel.core.sky.moving import of_date
from dravel.core.train.light_path import LightPath


@dataclass(frozen=True)
class FactSource:
    """Values by name, and what puts them all, or why they are lacking, into `Known` when the first is asked for."""

    names: tuple[str, ...]
    gather: Callable[[Known, Context], None]


@dataclass(frozen=True)
class Step:
    """One step of the work.

    `letters` begin the codes of its rules. `reads` names the fields of the rig that its rules look at: a change of
    others leaves them as they are (a rig's parts by the roles they play, so that `path` covers them all). `headline`
    gives the rail's one number in words. `about` gives figures about single targets; `view` what the step draws; `beliefs` what is often believed and wrong, with this rig's
    numbers.
    """

    key: str
    letters: str
    title: str
    question: str
    rules: tuple[Rule, ...]
    reads: frozenset[str]
    facts: tuple[FactSource, ...] = ()
    figures: tuple[Recipe, ...] = ()
    headline: Callable[[Context], Words] = lambda _: ""
    about: Callable[[Context], Iterable[Figure]] = lambda _: ()
    view: Callable[[Context], Model] | None = None
    beliefs: Callable[[Context], Iterable[Belief]] = lambda _: ()


class Steps:
    """The steps in the order of work, their rules by code and their recipes by the name of what they give."""

    def __init__(self, *steps: Step) -> None:
        self._steps: list[Step] = []
        self.rules: dict[str, Rule] = {}
        self.recipes: dict[str, tuple[Recipe, ...]] = {}
        self._step_of: dict[str, Step] = {}
        for step in steps:
            self.add(step)

    def add(self, step: Step) -> None:
        """One more step, at the end. Raises `ValueError` when its key or the code of a rule is taken."""
        if any(item.key == step.key for item in self._steps):
            raise ValueError(f"step {step.key} is registered twice")
        for rule in step.rules:
            if rule.code in self.rules:
                raise ValueError(f"rule {rule.code} is registered twice")
            if rule.code[0] not in step.letters:
                raise ValueError(f"rule {rule.code} does not begin with a letter of step {step.key}")
        self._steps.append(step)
        for rule in sorted(step.rules, key=lambda item: (item.code[0], int(item.code[1:]))):
            self.rules[rule.code] = rule
            self._step_of[rule.code] = step
        for recipe in step.figures:
            self.recipes[recipe.name] = (*self.recipes.get(recipe.name, ()), recipe)

    def remove(self, key: str) -> None:
        """Take a step out again."""
        kept = [step for step in self._steps if step.key != key]
        self.__init__(*kept)  # type: ignore[misc]

    def __iter__(self) -> Iterator[Step]:
        return iter(self._steps)

    def __getitem__(self, key: str) -> Step:
        """The step of that key. Raises `KeyError`."""
        for step in self._steps:
            if step.key == key:
                return step
        raise KeyError(key)

    def step_of(self, code: str) -> Step:
        """The step that a rule belongs to. Raises `KeyError`."""
        return self._step_of[code]

    def context(
        self,
        rig: Rig,
        preferences: Preferences | None = None,
        shelf: Iterable[Part] = (),
        *,
        tonight: date | None = None,
        sites: Iterable[Site] = (),
        others: Iterable[OtherRig] = (),
        evidence: Iterable[FrameReading] = (),
    ) -> Context:
        """A rig as rules, figures and views see it; nothing is computed before it is asked for.

        `preferences` is the user's profile; the rig's own choices go over it. `sites` are other places that fixes may
        propose, `others` other rigs that findings may point to, `evidence` frames the rig took, the newest last.
        """
        preferences = rig.preferences.over(preferences or Preferences())
        rig = of_date(rig, tonight)
        known = Known(self.recipes)
        context = Context(
            rig,
            LightPath.of(rig),
            known,
            preferences,
            self,
            tuple(shelf),
            tonight,
            tuple(sites),
            tuple(others),
            tuple(evidence),
        )
        for step in self._steps:
            for source in step.facts:
                known.later(source.names, lambda into, fill=source.gather: fill(into, context))  # type: ignore[misc]
        return context

    def said(self, context: Context, *keys: str) -> list[tuple[Rule, Judgement]]:
        """What the rules of some steps (of all, when none is named) say of a rig, in the order of the rule book."""
        return [
            (rule, judgement)
            for code, rule in self.rules.items()
            if not keys or self._step_of[code].key in keys
            for judgement in rule.judgements(context)
        ]

    def evaluate(
        self,
        rig: Rig,
        preferences: Preferences | None = None,
        shelf: Iterable[Part] | None = None,
        *,
        tonight: date | None = None,
        sites: Iterable[Site] = (),
        others: Iterable[OtherRig] = (),
        evidence: Iterable[FrameReading] = (),
    ) -> Evaluation:
        """Figures and findings of a rig, worst findings first. Pure: no clock, no files, no database.

        Rules that ask the night take the date a target is planned for, else `tonight`; without either they stay
        silent. Fixes are looked for when a shelf is given (an empty one will do): trying them takes longer than all
        figures and findings, and a drag does not wait for them. A figure that cannot be computed is listed in
        `missing` with the reason; rules that need it stay silent.
        """
        context = self.context(
            rig, preferences, shelf or (), tonight=tonight, sites=sites, others=others, evidence=evidence
        )
        return judged(context, fixes=shelf is not None)
