"""The process that does one job: `python -m dravel.work DATABASE JOB`; with `-` for the job it makes itself ready to measure a frame
and waits to be told on its standard input.
"""

import os
import sys
from contextlib import suppress
from pathlib import Path
from time import monotonic

from dravel.core.model.patience import waited_for
from dravel.store import Store
from dravel.work.kinds import KINDS, CannotRead

NICE = 10  # whoever drags a part waits for nobody's frames
READY_S = 300.0  # a process that was made ready and is not needed ends
TELL_S = 0.25  # between two tellings, and between two looks whether it is to stop


class _Stopped(Exception):
    pass


def do(store: Store, job_id: str) -> None:
    """Do a job, telling how far it is, until it is done, fails or is to stop."""
    job = store.jobs.get(job_id)
    last = looked = 0.0

    def tell(done: int, total: int, words: str) -> None:
        nonlocal last
        if monotonic() - last > TELL_S:
            last = monotonic()
            store.jobs.tell(job_id, done, total, words)

    def ask() -> None:
        nonlocal looked
        if monotonic() - looked > TELL_S:
            looked = monotonic()
            if store.jobs.get(job_id).stop:
                raise _Stopped

    store.jobs.tell(job_id, 0, 0, "begun")
    try:
        with waited_for(ask):
            keep = KINDS[job.kind](store, job.given, tell)
            ask()
        store.jobs.tell(job_id, 0, 0, "writing it down")
        with store.database.write():  # what is kept, and that it is done: both or neither
            store.jobs.end(job_id, "done", result=keep().model_dump(mode="json"))
    except _Stopped:
        store.jobs.end(job_id, "stopped", "stopped; nothing of it was kept")
    except CannotRead as error:
        store.jobs.end(job_id, "failed", str(error))
    except OSError as error:
        store.jobs.end(job_id, "failed", f"{error.strerror or error}; nothing of it was kept")
    except MemoryError:
        store.jobs.end(job_id, "failed", "it needs more memory than there is; nothing of it was kept")


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


def main(database: str, job_id: str) -> None:
    """Do one job of a database."""
    with suppress(AttributeError, OSError):
        os.nice(NICE)
    job_id = _told() if job_id == "-" else job_id
    if not job_id:
        return
    store = Store(Path(database))
    try:
        do(store, job_id)
    finally:
        store.close()


if __name__ == "__main__":
    main(*sys.argv[1:])
