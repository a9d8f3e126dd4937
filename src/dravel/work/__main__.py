"""The process that does one job: `python -m dravel.work DATABASE JOB`; with `-` for the job it makes itself ready to measure a frame
and waits to be told on its standard input. It ends with whoever holds that input open.
"""

import os
import sqlite3
import sys
import threading
from collections.abc import Callable
from contextlib import ExitStack, suppress
from pathlib import Path
from time import monotonic, sleep
from typing import Any

from sqlalchemy.exc import DBAPIError

from dravel.core.model.cancellation import cancelled_by
from dravel.store import Store
from dravel.store.jobs import State
from dravel.work.kinds import KINDS, CannotRead, Doing
from dravel.work.limits import bounded

NICE = 10  # whoever drags a part waits for nobody's frames
READY_S = 300.0  # a process that was made ready and is not needed ends
TELL_S = 0.25  # between two tellings, and between two looks whether it is to stop
TRIES, AGAIN_S = 6, 5.0  # of writing down what was done, where another program holds the database


class _Stopped(Exception):
    pass


class _NotOwn(Exception):
    """The job is nobody's any more, or somebody else's: its server has ended."""


def do(store: Store, job_id: str) -> None:
    """Do a job, telling how far it is, until it is done, fails or is to stop."""
    job = store.jobs.get(job_id)
    last = looked = 0.0

    def tell(done: int, total: int, words: str) -> None:
        nonlocal last
        if monotonic() - last > TELL_S:
            last = monotonic()
            with suppress(DBAPIError):  # how far it is can wait
                store.jobs.tell(job_id, done, total, words)

    def ask() -> None:
        nonlocal looked
        if monotonic() - looked > TELL_S:
            looked = monotonic()
            with suppress(DBAPIError):
                now = store.jobs.get(job_id)
                if now.ended:
                    raise _NotOwn
                if now.stop:
                    raise _Stopped

    tell(0, 0, "begun")
    kind = KINDS[job.kind]
    try:
        with ExitStack() as stack:
            with cancelled_by(ask):
                keep = kind.do(Doing(store, job.given, tell, stack))
                ask()
            last = 0.0
            tell(0, 0, "writing it down")
            _tried(lambda: _kept(store, job_id, lambda: keep().model_dump(mode="json")))
    except _NotOwn:
        return
    except _Stopped:
        _end(store, job_id, "stopped", "stopped; nothing of it was saved")
    except CannotRead as error:
        _end(store, job_id, "failed", str(error))
    except LookupError as error:  # what it was for is not here any more
        _end(store, job_id, "failed", f"{error}; nothing of it was saved")
    except OSError as error:
        _end(store, job_id, "failed", f"{error.strerror or error}; nothing of it was saved")
    except (DBAPIError, sqlite3.Error) as error:
        because = error.orig if isinstance(error, DBAPIError) else error
        _end(store, job_id, "failed", f"the database could not be written: {because}; nothing of it was saved")
    except RuntimeError as error:
        _end(store, job_id, "failed", f"{error}; nothing of it was saved")
    except MemoryError:
        _end(store, job_id, "failed", "it needs more memory than it may take; nothing of it was saved")


def _kept(store: Store, job_id: str, keep: Callable[[], dict[str, Any]]) -> None:
    """Keep what was done, and that it is done: both or neither, and nothing where the job is not its own any more."""
    with store.database.write():
        if store.jobs.get(job_id).ended:
            raise _NotOwn
        store.jobs.end(job_id, "done", result=keep())


def _end(store: Store, job_id: str, state: State, words: str) -> None:
    with suppress(DBAPIError):  # whoever started this process says so then
        _tried(lambda: store.jobs.end(job_id, state, words))


def _tried(write: Callable[[], None]) -> None:
    """Write something down, again and again where the database is held by another program."""
    for left in reversed(range(TRIES)):
        try:
            return write()
        except DBAPIError as error:
            if left == 0 or not any(word in str(error.orig) for word in ("locked", "busy")):
                raise
            sleep(AGAIN_S)
    return None


def _told() -> str:
    """The job to do, once what measures frames is at hand; nothing when none came."""
    import select

    import astropy.io.fits  # noqa: F401
    import sep  # noqa: F401

    from dravel.catalogue.stars import stars
    from dravel.work import solving  # noqa: F401

    stars()
    with suppress(OSError):  # where pipes cannot be watched, one waits as long as it takes
        if not select.select([sys.stdin], [], [], READY_S)[0]:
            return ""
    return sys.stdin.readline().strip()


def _end_with_it() -> None:
    """End at once when the standard input is closed: whoever started this is gone, however it went."""
    while sys.stdin.read(1):
        pass
    os._exit(1)


def main(database: str, job_id: str) -> None:
    """Do one job of a database."""
    with suppress(AttributeError, OSError):
        os.nice(NICE)
    job_id = _told() if job_id == "-" else job_id
    if not job_id:
        return
    threading.Thread(target=_end_with_it, daemon=True).start()
    store = Store(Path(database))
    try:
        bounded(KINDS[store.jobs.get(job_id).kind].memory)
        do(store, job_id)
    finally:
        store.close()


if __name__ == "__main__":
    main(*sys.argv[1:])
