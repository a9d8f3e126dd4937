"""Who has jobs done: at most two processes at a time; one that stops too slowly or dies is a job that ended so."""

import os
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from threading import Event
from time import monotonic, time

from dravel.store import Job, Store

AT_ONCE = 2
LOOK_S = 0.2
SERVER = "server"  # the process that a job was asked of
OLD_S = 86_400.0
GRACE_S = 5.0  # to stop by itself, before it is ended


class Crew:
    """Has the jobs of a store done, in the order they come."""

    def __init__(self, store: Store) -> None:
        self._store = store
        self._threads = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="job")
        self._closing = Event()
        self._files = store.database.path.with_name(f"{store.database.path.stem}-jobs")
        for job in store.jobs.under_way():
            if not _is_served(job):
                store.jobs.give_up(job.id)
                self._clear(job)
        for left in self._files.glob("*"):  # of a server that was killed before it had noted the job down
            with suppress(OSError):
                if time() - left.stat().st_mtime > OLD_S:
                    left.unlink()

    def ask(self, kind: str, path: Path, keep: bool) -> Job:
        """Note a job down over a file that lies in the room for it."""
        return self._store.jobs.add(kind, {"file": str(path), "keep": keep, SERVER: os.getpid()}, path.name)

    def room_for(self, name: str) -> Path:
        """Where a file that a job needs may lie until the job has ended; nobody else may read it."""
        self._files.mkdir(mode=0o700, exist_ok=True)
        return self._files / name

    def take(self, job: Job) -> None:
        """Have a job done as soon as a process is free."""
        self._threads.submit(self._see_to, job)

    def close(self) -> None:
        """Stop what is under way; it is told as failed."""
        self._closing.set()
        self._threads.shutdown(cancel_futures=True)
        for job in self._store.jobs.under_way():
            if job.given.get(SERVER) == os.getpid():
                self._store.jobs.give_up(job.id)
                self._clear(job)

    def _see_to(self, job: Job) -> None:
        try:
            if self._store.jobs.get(job.id).stop:
                self._store.jobs.end(job.id, "stopped", "stopped before it began")
            elif not self._closing.is_set():
                self._do(job.id)
        finally:
            self._clear(job)

    def _clear(self, job: Job) -> None:
        with suppress(OSError):
            Path(job.given["file"]).unlink(missing_ok=True)

    def _do(self, job_id: str) -> None:
        command = [sys.executable, "-m", "dravel.work", str(self._store.database.path), job_id]
        process = subprocess.Popen(command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL)
        asked: float | None = None
        while True:
            with suppress(subprocess.TimeoutExpired):
                process.wait(LOOK_S)
                break
            if asked is None and self._store.jobs.get(job_id).stop:
                asked = monotonic()
            if self._closing.is_set() or (asked is not None and monotonic() - asked > GRACE_S):
                process.kill()
        if asked is not None:
            self._store.jobs.end(job_id, "stopped", "stopped; nothing of it was kept")
        # A job that ended by itself has said so: this is for one whose process died.
        words = f"its process ended unexpectedly ({process.returncode}); nothing of it was kept"
        self._store.jobs.end(job_id, "failed", words)


def _is_served(job: Job) -> bool:
    """Whether another server has a job in hand: several may serve one file. A crew that begins has none of its own yet."""
    server = job.given.get(SERVER)
    if not isinstance(server, int) or server == os.getpid():
        return False
    try:
        os.kill(server, 0)
    except PermissionError:
        return True
    except (OSError, OverflowError):
        return False
    return True
