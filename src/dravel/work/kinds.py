"""The kinds of jobs. Each reads what was given, telling how far it is, and hands back how to keep it and its report."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from dravel.core.frames.reading import FrameReading
from dravel.core.model.base import Model
from dravel.store import Store
from dravel.work.frames import bounded, measure_file
from dravel.work.imports import Tell, kept, parts_in, targets_in

LARGEST_BYTES = 50_000_000  # of a file that is read as a job
LARGEST_FRAME = 450_000_000  # a hundred megapixels in floating point
Keep = Callable[[], Model]


class FrameMeasured(Model):
    """The id of a frame that was measured and kept."""

    frame: str


class CannotRead(ValueError):
    """What was given cannot be read, and why."""


def _targets(store: Store, given: dict[str, Any], tell: Tell) -> Keep:
    found, told = targets_in(Path(given["file"]).read_bytes(), tell, LARGEST_BYTES)
    return partial(kept, found, told, store.targets) if given["keep"] else lambda: told


def _parts(store: Store, given: dict[str, Any], tell: Tell) -> Keep:
    found, told = parts_in(Path(given["file"]).read_bytes(), tell)
    return partial(kept, found, told, store.parts) if given["keep"] else lambda: told


def _frame(store: Store, given: dict[str, Any], tell: Tell) -> Keep:
    bounded()
    tell(0, 1, "measuring its stars")
    found = measure_file(Path(given["file"]), given["name"])
    if not isinstance(found, FrameReading):
        raise CannotRead(found)
    tell(0, 1, "asking its stars where it points")
    from dravel.core.steps import STEPS  # here: only what measures frames pays for it
    from dravel.work.solving import met

    reading = met(found, STEPS.context(store.rigs.get(given["rig"]).rig, store.practice()[0]))
    return lambda: FrameMeasured(frame=store.frames.add(given["rig"], reading))


KINDS: dict[str, Callable[[Store, dict[str, Any], Tell], Keep]] = {
    "targets": _targets,
    "parts": _parts,
    "frame": _frame,
}
