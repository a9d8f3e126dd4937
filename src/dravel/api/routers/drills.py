"""The fault trainer: frames of a rig with hidden faults, further measurements of them, and the truth when it was decided."""

from collections import Counter
from typing import Annotated

from fastapi import APIRouter, HTTPException
from pydantic import Field

from dravel.api.deps import PreferencesDep, StoreDep
from dravel.core.engine.context import Context
from dravel.core.frames.guide_log import read_log
from dravel.core.frames.reading import FrameReading
from dravel.core.frames.stars import NoStars
from dravel.core.model import Rig
from dravel.core.model.base import WHOLE, Document, Model
from dravel.core.model.words import Text
from dravel.core.steps import STEPS
from dravel.core.steps.frames.log import log_words
from dravel.stand_ins.drill import ASKS, FAULTS, TELLS, AskKey, Drill, FaultKey, drill, evidence, log_of
from dravel.stand_ins.taking import NoCamera, picture_rig
from dravel.store.drills import DrillKept

router = APIRouter(prefix="/drills", tags=["frames"])
Seed = Annotated[int, Field(ge=0, le=2_000_000_000, title="Seed of the drill"), WHOLE]
Count = Annotated[int, Field(ge=1, le=2, title="How many faults are hidden"), WHOLE]
PLAIN_BUDGET = 0.7  # ″, where the rig's guiding is not known


class DrillOf(Document):
    """An unsaved rig and the seed of a drill on it."""

    rig: Rig
    seed: Seed
    count: Count = 1


class Asked(DrillOf):
    """A further measurement of a drill."""

    ask: AskKey = "frame"


class Answered(DrillOf):
    """What the learner takes for the faults, after how many measurements."""

    said: Annotated[tuple[FaultKey, ...], Field(min_length=1, max_length=2, title="Faults")]
    asked: Annotated[int, Field(ge=0, le=100, title="Measurements asked for"), WHOLE] = 0


class Evidence(Model):
    """What a measurement shows: a frame, or lines of a guide log."""

    ask: AskKey
    title: str
    reading: FrameReading | None
    lines: tuple[Text, ...]


class Choice(Model):
    """Something that can be chosen, by its key."""

    key: str
    title: str


class Confused(Model):
    """How often a hidden fault was taken for another."""

    hidden: str
    said: str
    times: int


class DrillScore(Model):
    """Answers so far, those that were right, and what was confused with what, the most frequent first."""

    answered: int
    right: int
    confused: tuple[Confused, ...]


class Truth(Model):
    """The truth of a drill: whether it was found, what was hidden, and what tells it from its like."""

    right: bool
    hidden: tuple[str, ...]
    tells: tuple[str, ...]
    score: DrillScore


class DrillBook(Model):
    """What can be asked for and answered, and the score."""

    asks: tuple[Choice, ...]
    faults: tuple[Choice, ...]
    score: DrillScore


@router.get("")
def read_drills(store: StoreDep) -> DrillBook:
    """What the trainer offers, and the score so far."""
    return DrillBook(
        asks=tuple(Choice(key=key, title=title) for key, title in ASKS.items()),
        faults=tuple(Choice(key=key, title=title) for key, title in FAULTS.items()), score=_score(store.drills.all()),
    )  # fmt: skip


@router.post("/ask")
def ask(given: Asked, preferences: PreferencesDep) -> Evidence:
    """A measurement of the rig as its hidden faults make it. The same seed shows the same."""
    context = STEPS.context(given.rig, preferences)
    report = _told(given, context)
    if given.ask == "log":
        budget = context.known.get("guide_rms") or PLAIN_BUDGET
        _, lines = log_words(context, read_log(log_of(report, budget)))
        return Evidence(ask="log", title=ASKS["log"], reading=None, lines=tuple(lines))
    try:
        pictured = picture_rig(context)
        reading = evidence(report, pictured, context.known.get("star_px") or 2.5, given.ask)
    except (NoCamera, NoStars) as error:
        raise HTTPException(422, f"rig: no frame can be taken with it: {error}") from None
    return Evidence(ask=given.ask, title=ASKS[given.ask], reading=reading, lines=())


@router.post("/answer")
def answer(given: Answered, preferences: PreferencesDep, store: StoreDep) -> Truth:
    """The truth of a drill, and the score with this answer."""
    hidden = _told(given, STEPS.context(given.rig, preferences)).hidden
    store.drills.add(DrillKept(tuple(hidden), tuple(given.said), given.asked))
    return Truth(
        right=set(hidden) == set(given.said), hidden=tuple(FAULTS[item] for item in hidden),
        tells=tuple(TELLS[item] for item in hidden), score=_score(store.drills.all()),
    )  # fmt: skip


def _told(given: DrillOf, context: Context) -> Drill:
    return drill(given.seed, given.count, corrected=bool(context.light.correctors))


def _score(kept: list[DrillKept]) -> DrillScore:
    confused: Counter[tuple[str, str]] = Counter()
    for item in kept:
        missed, wrong = set(item.hidden) - set(item.said), set(item.said) - set(item.hidden)
        confused.update((hidden, said) for hidden in missed for said in wrong)
    names = {str(key): title for key, title in FAULTS.items()}
    return DrillScore(
        answered=len(kept), right=sum(set(entry.hidden) == set(entry.said) for entry in kept),
        confused=tuple(
            Confused(hidden=names.get(hidden, hidden), said=names.get(said, said), times=times)
            for (hidden, said), times in confused.most_common(6)
        ),
    )  # fmt: skip
