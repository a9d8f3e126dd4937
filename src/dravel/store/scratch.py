"""Folders for work under way beside the data, and the end of those that a killed process left behind."""

import fcntl
import shutil
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from tempfile import mkdtemp
from time import time

PREFIX, LOCK = "dravel-", "in-use"
FRESH_S = 60.0  # a folder may be made but not locked yet


@contextmanager
def scratch(beside: Path, what: str) -> Iterator[Path]:
    """A folder beside the data for one piece of work; it goes with the work, or at a later start if the work is killed."""
    folder = Path(mkdtemp(prefix=f"{PREFIX}{what}-", dir=beside))
    try:
        with (folder / LOCK).open("wb") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def sweep(beside: Path) -> None:
    """Remove folders, and files of versions before this one, whose work has ended without removing them."""
    for left in beside.glob(f"{PREFIX}*-*"):
        with suppress(OSError):
            if time() - left.stat().st_mtime < FRESH_S:
                continue
            if left.is_dir() and not left.is_symlink():
                if not in_use(left):
                    shutil.rmtree(left, ignore_errors=True)
            elif left.name.startswith(f"{PREFIX}import-"):
                left.unlink()


def in_use(folder: Path) -> bool:
    """Whether the work of a folder goes on."""
    try:
        with (folder / LOCK).open("rb") as held:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return False
    except OSError:
        return True
    return False
