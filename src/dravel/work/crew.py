"""Who has jobs done: at most two processes at a time; one that stops too slowly or dies is a job that ended so."""

import os
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from threading import Event, Lock
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
        self._spare: subprocess.Popen[str] | None = None
        self._spares = Lock()
        self._files = store.database.path.with_name(f"{store.database.path.stem}-jobs")
        for job in store.jobs.under_way():
            if not _is_served(job):
                store.jobs.give_up(job.id)
                self._clear(job)
        for left in self._files.glob("*"):  # of a server that was killed before it had noted the job down
            with suppress(OSError):
                if time() - left.stat().st_mtime > OLD_S:
                    left.unlink()

    def ask(self, kind: str, path: Path, keep: bool, **more: str) -> Job:
        """Note a job down over a file that lies in the room for it, with what else its kind wants to know."""
        return self._store.jobs.add(kind, {**more, "file": str(path), "keep": keep, SERVER: os.getpid()}, path.name)

    def room_for(self, name: str) -> Path:
        """Where a file that a job needs may lie until the job has ended; nobody else may read it."""
        self._files.mkdir(mode=0o700, exist_ok=True)
        return self._files / name

    def take(self, job: Job) -> None:
        """Have a job done as soon as a process is free."""
        self._threads.submit(self._see_to, job)

    def make_ready(self) -> None:
        """Have a process at hand that has loaded what measures frames: a frame is shown two seconds sooner. It ends when not needed."""
        with self._spares:
            if not self._closing.is_set() and (self._spare is None or self._spare.poll() is not None):
                self._spare = self._started("-", stdin=subprocess.PIPE)

    def close(self) -> None:
        """Stop what is under way; it is told as failed."""
        self._closing.set()
        with self._spares:
            if self._spare is not None:
                self._spare.kill()
                self._spare.communicate()
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

    def _started(self, job_id: str, stdin: int = subprocess.DEVNULL) -> "subprocess.Popen[str]":
        command = [sys.executable, "-m", "dravel.work", str(self._store.database.path), job_id]
        return subprocess.Popen(command, stdin=stdin, stdout=subprocess.DEVNULL, text=True)

    def _begun(self, job_id: str) -> "subprocess.Popen[str]":
        """A process that does a job; for a frame the one that was made ready, where it still waits."""
        ready = None
        if self._store.jobs.get(job_id).kind == "frame":
            with self._spares:
                ready, self._spare = self._spare, None
            self.make_ready()  # where one frame comes, more do
        if ready is not None and ready.stdin is not None:
            with suppress(OSError):
                ready.stdin.write(f"{job_id}\n")
                ready.stdin.close()
                return ready
            ready.wait()
        return self._started(job_id)

    def _do(self, job_id: str) -> None:
        process = self._begun(job_id)
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
