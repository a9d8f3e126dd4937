"""Frames against their rig: what was measured, what the rig was designed to give, and why they differ."""

from typing import Annotated

from fastapi import APIRouter, HTTPException
from pydantic import Field

from dravel.api.deps import CrewDep, PreferencesDep, ShelfDep, StoreDep
from dravel.core.frames.guide_log import ShortLog, read_log
from dravel.core.frames.reading import FrameReading, TakenAt
from dravel.core.model import Rig
from dravel.core.model.base import Identifier, Model, YesNo
from dravel.core.model.words import Text
from dravel.core.steps import STEPS
from dravel.core.steps.frames.log import log_words
from dravel.core.steps.frames.sets import SeriesTold, SweepTold, spaced, swept
from dravel.core.steps.frames.trend import NightTrend, trend
from dravel.core.steps.frames.view import FrameProof, proof, steady
from dravel.formats import guide_log_csv

router = APIRouter(tags=["frames"])


class RigToProve(Model):
    """An unsaved rig, and the kept one whose frames are held against it."""

    rig: Rig
    rig_id: Identifier


class FrameShown(Model):
    """A frame with its proof."""

    id: str
    reading: FrameReading
    proof: FrameProof


class FramesView(Model):
    """The frames of a rig, the newest last, and what they say together: as a sweep, and as a series, where they are one."""

    frames: tuple[FrameShown, ...]
    together: tuple[Text, ...]
    sweep: SweepTold | None
    series: SeriesTold | None
    trend: NightTrend | None


class FrameAway(Model):
    """Whether a frame is put away."""

    away: YesNo = True


@router.post("/frames")
def prove(
    given: RigToProve, preferences: PreferencesDep, shelf: ShelfDep, store: StoreDep, workers: CrewDep
) -> FramesView:
    """The kept frames of a rig against the rig in hand. Nothing is kept."""
    workers.make_ready()  # who looks at frames soon drops some
    kept = store.frames.of(given.rig_id)
    context = STEPS.context(given.rig, preferences, shelf=shelf, evidence=[item.reading for item in kept])
    sweep, series = swept(context, context.evidence), spaced(context, context.evidence)
    night = context.evidence
    if sweep is not None and sweep.reading is not None:  # frames on purpose out of focus are no drift
        night = tuple(item for item in night if item.taken.focus is None)
    return FramesView(
        frames=tuple(FrameShown(id=item.id, reading=item.reading, proof=proof(context, item.reading)) for item in kept),
        together=steady(night), sweep=sweep, series=series, trend=trend(night),
    )  # fmt: skip


class LogOfRig(Model):
    """A guide log as CSV text, and the unsaved rig whose mount it was."""

    rig: Rig
    log: Annotated[str, Field(title="Guide log", max_length=3_500_000)]
    guided: YesNo = True


class GuideLogRead(Model):
    """What a guide log says, line by line; whether it is beyond the rig's budget; RMS of the worse axis, ″."""

    beyond: bool
    lines: tuple[Text, ...]
    rms_arcsec: float


@router.post("/frames/guide-log")
def read_guide_log(given: LogOfRig, preferences: PreferencesDep) -> GuideLogRead:
    """A guide log against the mount of the rig in hand. Nothing is kept."""
    try:
        reading = read_log(guide_log_csv.read(given.log.encode()), guided=given.guided)
    except (guide_log_csv.NotALog, ShortLog) as error:
        raise HTTPException(422, f"log: {error}") from None
    beyond, lines = log_words(STEPS.context(given.rig, preferences), reading)
    return GuideLogRead(beyond=beyond, lines=tuple(lines), rms_arcsec=round(max(reading.ra_rms, reading.dec_rms), 3))


@router.post("/frames/{frame_id}/taken")
def tell_taken(frame_id: Identifier, given: TakenAt, store: StoreDep) -> TakenAt:
    """Say how the rig stood when a frame was taken: its spacing, where the focuser stood. What is left out is taken as not known."""
    store.frames.tell_taken(frame_id, given)
    return given


@router.post("/frames/{frame_id}/away")
def put_frame_away(frame_id: Identifier, given: FrameAway, store: StoreDep) -> FrameAway:
    """Put a frame away, or bring it back."""
    store.frames.put_away(frame_id, away=given.away)
    return given
