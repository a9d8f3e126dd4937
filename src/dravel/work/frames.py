"""Frames measured: one file at a time in a process of its own, so that a broken one takes nothing else down."""

from collections.abc import Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context
from pathlib import Path

from dravel.core.frames.reading import FrameReading, measure
from dravel.core.frames.stars import NoStars
from dravel.formats import fits_frame
from dravel.work.limits import MB, bounded

ENDS = (".fit", ".fits", ".fts", ".fz")
AT_ONCE = 2
FRAME_MEMORY = 4000 * MB  # of a hundred megapixels in floating point, with its background


def measure_file(path: Path, name: str = "") -> FrameReading | str:
    """A frame's reading, or in words why there is none."""
    try:
        frame = fits_frame.read(path)
        return measure(name or path.name, frame.data, frame.green, frame.full, frame.claims, frame.notes)
    except (fits_frame.NotAFrame, NoStars) as error:
        return str(error)
    except MemoryError:
        return "it needs more memory than a frame may take"


def frames_in(folder: Path) -> list[Path]:
    """The frames of a folder by name, or the one file; what a link brings in from elsewhere is left out. Raises `OSError`."""
    if folder.is_file():
        return [folder]
    home = folder.resolve(strict=True)
    return sorted(
        path for path in folder.iterdir()
        if path.name.lower().endswith(ENDS) and path.is_file() and path.resolve().is_relative_to(home)
    )  # fmt: skip


def measure_all(paths: Iterable[Path]) -> Iterator[tuple[Path, FrameReading | str]]:
    """Readings in the order of the files, some at a time. A process that dies is a frame that cannot be read."""
    left = list(paths)
    fresh = get_context("spawn")  # of a process that shares nothing: its bound counts its own memory alone
    while left:
        with ProcessPoolExecutor(AT_ONCE, mp_context=fresh, initializer=bounded, initargs=(FRAME_MEMORY,)) as workers:
            asked = [(path, workers.submit(measure_file, path)) for path in left]
            for path, answer in asked:
                try:
                    yield path, answer.result()
                except BrokenProcessPool:
                    yield path, "damaged, or larger than the memory: measuring it ended its process"
                    left = left[left.index(path) + 1 :]
                    break
            else:
                return
