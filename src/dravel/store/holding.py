"""Who has a database open: a lock beside it, shared by those that serve it, and taken alone to put it aside."""

import fcntl
from datetime import datetime
from pathlib import Path
from typing import IO

from dravel.store.database import copy_database


class InUse(RuntimeError):
    """Another Dravel has the database open."""


def hold(path: Path, *, alone: bool = False) -> IO[bytes]:
    """Hold a database open, with others or alone, until the answer is closed. Raises `InUse`, `OSError`."""
    path.parent.mkdir(parents=True, exist_ok=True)
    lock = path.with_name(f"{path.name}.lock").open("ab")
    try:
        fcntl.flock(lock, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
    except BlockingIOError:
        lock.close()
        raise InUse(f"another Dravel has {path} open; stop it first") from None
    return lock


def put_aside(path: Path) -> Path | None:
    """Put a database that nobody has open aside, whole, under a dated name; None where there was none.

    Raises `InUse`, and `OSError` or `sqlite3.Error` where no copy can be made: then all stays where it was.
    """
    with hold(path, alone=True):
        if not path.exists():
            return None
        stem = f"{path.stem}.{datetime.now():%Y-%m-%d-%H%M%S}"
        names = (path.with_name(f"{stem}{f'-{n}' if n else ''}{path.suffix}") for n in range(1000))
        kept = next(name for name in names if not name.exists())
        copy_database(path, kept)
        for end in ("", "-wal", "-shm"):
            path.with_name(path.name + end).unlink(missing_ok=True)
        return kept
