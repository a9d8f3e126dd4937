"""A step that exists only in tests, written as a real one is: facts, figures, a rule, a view, and one registration."""

from collections.abc import Iterator
from contextlib import contextmanager

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.limit import Limit
from dravel.core.engine.recipe import Recipe
from dravel.core.engine.rule import Judgement, rule
from dravel.core.engine.step import FactSource, Step
from dravel.core.model.base import Model
from dravel.core.steps import STEPS

MOST = Limit(3, 6, "parts", "invented for a test")


class ScratchView(Model):
    """What the step draws."""

    parts: int


def _gather(known: Known, context: Context) -> None:
    known.put_list("ones", "u", "one part", "", [(1.0, item.part.name) for item in context.rig.path])


@rule(
    "X1",
    "Parts in the path",
    checks="How many parts lie in the light path.",
    why="Every joint is a joint that can go wrong.",
    formula="Σ u",
    source="counting",
    fix="Fewer parts.",
    needs=("parts",),
    limits=(MOST,),
)
def count(context: Context) -> Iterator[Judgement]:
    """X1: too many parts."""
    parts = context.value("parts")
    yield Judgement(
        MOST.verdict(parts), "Parts are counted", "By hand.", MOST.words, f"{parts:.0f}", ("scratch.parts",)
    )


def scratch_view(context: Context) -> ScratchView:
    """The parts, counted."""
    return ScratchView(parts=len(context.rig.path))


SCRATCH = Step(
    key="scratch",
    letters="X",
    title="Scratch",
    question="How many parts are there?",
    rules=(count,),
    reads=frozenset({"path"}),
    facts=(FactSource(("ones",), _gather),),
    figures=(Recipe("scratch.parts", "Parts", "", 0, "Σ u", "counting", ("ones",), sum, ("parts", "n")),),
    headline=lambda context: f"{context.value('parts'):.0f} parts",
    view=scratch_view,
)


@contextmanager
def registered() -> Iterator[Step]:
    """The scratch step among the real ones for a while."""
    STEPS.add(SCRATCH)
    try:
        yield SCRATCH
    finally:
        STEPS.remove("scratch")
