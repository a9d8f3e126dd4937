"""The kinds of jobs. Each reads what was given, telling how far it is, and hands back how to keep it and its report."""

from collections.abc import Callable, Mapping
from contextlib import ExitStack
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from dravel.core.frames.reading import FrameReading
from dravel.core.model.base import Model
from dravel.formats.everything import NotEverything, WrongRow
from dravel.store import Store
from dravel.store.rows import LooseRow
from dravel.work import keeping
from dravel.work.frames import FRAME_MEMORY, measure_file
from dravel.work.imports import Tell, parts_in, staged, targets_in
from dravel.work.limits import MB

LARGEST_BYTES = 50_000_000  # of a file that is read as a job
LARGEST_FRAME = 450_000_000  # a hundred megapixels in floating point
LARGEST_ARCHIVE = 4_000_000_000
Keep = Callable[[], Model]


class FrameMeasured(Model):
    """The id of a frame that was measured and kept."""

    frame: str


class CannotRead(ValueError):
    """What was given cannot be read, and why."""


@dataclass(frozen=True)
class Doing:
    """A job as it is done: what was given, whom to tell how far it is, and what ends with it (`stack`)."""

    store: Store
    given: Mapping[str, Any]
    tell: Tell
    stack: ExitStack

    @property
    def file(self) -> Path:
        """The file that the job is done over."""
        return Path(self.given["file"])


@dataclass(frozen=True)
class Kind:
    """How a kind of job is done, and the memory that its process may take; `alone`: one at a time."""

    do: Callable[[Doing], Keep]
    memory: int
    alone: bool = False


def _targets(job: Doing) -> Keep:
    result, answer = targets_in(job.file.read_bytes(), job.tell, LARGEST_BYTES)
    return staged(job.store.targets, result, answer, job.tell, job.stack) if job.given["keep"] else lambda: answer


def _parts(job: Doing) -> Keep:
    result, answer = parts_in(job.file.read_bytes(), job.tell)
    return staged(job.store.parts, result, answer, job.tell, job.stack) if job.given["keep"] else lambda: answer


def _frame(job: Doing) -> Keep:
    job.tell(0, 1, "measuring its stars")
    result = measure_file(job.file, job.given["name"])
    if not isinstance(result, FrameReading):
        raise CannotRead(result)
    job.tell(0, 1, "asking its stars where it points")
    from dravel.core.steps import STEPS  # here: only what measures frames pays for it
    from dravel.work.solving import met

    rig_id = job.given["rig"]
    reading = met(result, STEPS.context(job.store.rigs.get(rig_id).rig, job.store.preferences()[0]))

    def keep() -> FrameMeasured:
        job.store.rigs.get(rig_id)  # another rig's data may have come in its place meanwhile
        return FrameMeasured(frame=job.store.frames.add(rig_id, reading))

    return keep


def _archive(job: Doing) -> Keep:
    try:
        with job.file.open("rb") as file:
            return keeping.read_in(job.store, file, job.tell, job.stack)
    except (NotEverything, WrongRow, LooseRow) as error:
        raise CannotRead(f"archive: {error}. Nothing was imported") from None


KINDS: dict[str, Kind] = {
    "targets": Kind(_targets, 1500 * MB),
    "parts": Kind(_parts, 1500 * MB),
    "frame": Kind(_frame, FRAME_MEMORY),
    "archive": Kind(_archive, 1500 * MB, alone=True),
}
ALONE = {name for name, kind in KINDS.items() if kind.alone}
