"""Who has jobs done: at most two processes at a time; one that stops too slowly or dies is a job that ended so."""

import secrets
import subprocess
import sys
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, suppress
from glob import escape
from pathlib import Path
from threading import Event, Lock
from time import monotonic, sleep, time
from typing import TypeVar

from sqlalchemy.exc import DBAPIError

from dravel.store import Job, Store
from dravel.store.scratch import PREFIX, in_use, scratch, sweep
from dravel.store.staging import clear_left
from dravel.work.kinds import ALONE

T = TypeVar("T")
AT_ONCE = 2
LOOK_S = 0.2
AGAIN_S = 1.0  # after a database that could not be asked
SERVER = "server"  # who has a job in hand: the name that its server goes by as long as it lives
OLD_S = 86_400.0
GRACE_S = 5.0  # to stop by itself, before it is ended


class Workers:
    """Has the jobs of a store done, in the order they come; what is large one at a time."""

    def __init__(self, store: Store) -> None:
        self._store = store
        self._threads = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="job")
        self._alone = ThreadPoolExecutor(1, thread_name_prefix="large-job")
        self._closing = Event()
        self._spare: subprocess.Popen[str] | None = None
        self._spares = Lock()
        self._files = store.database.path.with_name(f"{store.database.path.stem}-jobs")
        self._beside = store.database.path.parent
        self._name = secrets.token_hex(8)
        self._lives = ExitStack()
        self._lives.enter_context(scratch(self._beside, _lives(self._name)))
        for job in store.jobs.under_way():
            if not self._is_served(job):
                store.jobs.give_up(job.id)
                self._clear(job)
        for left in self._files.glob("*"):  # of a server that was killed before it had noted the job down
            with suppress(OSError):
                if time() - left.stat().st_mtime > OLD_S:
                    left.unlink()
        sweep(self._beside)
        clear_left(store.database)

    def ask(self, kind: str, path: Path, keep: bool, **more: str) -> Job:
        """Note a job down over a file that lies in the room for it, with what else its kind wants to know."""
        return self._store.jobs.add(kind, {**more, "file": str(path), "keep": keep, SERVER: self._name}, path.name)

    def room_for(self, name: str) -> Path:
        """Where a file that a job needs may lie until the job has ended; nobody else may read it."""
        self._files.mkdir(mode=0o700, exist_ok=True)
        return self._files / name

    def take(self, job: Job) -> None:
        """Have a job done as soon as a process is free."""
        (self._alone if job.kind in ALONE else self._threads).submit(self._see_to, job)

    def make_ready(self) -> None:
        """Have a process at hand that has loaded what measures frames: a frame is shown two seconds sooner. It ends when not needed."""
        with self._spares, suppress(OSError):
            if not self._closing.is_set() and (self._spare is None or self._spare.poll() is not None):
                self._spare = self._started("-")

    def close(self) -> None:
        """Stop what is under way; it is told as failed."""
        self._closing.set()
        with self._spares:
            if self._spare is not None:
                self._spare.kill()
                self._spare.communicate()
        for threads in (self._threads, self._alone):
            threads.shutdown(cancel_futures=True)
        for job in self._store.jobs.under_way():
            if job.given.get(SERVER) == self._name:
                self._store.jobs.give_up(job.id)
                self._clear(job)
        self._lives.close()

    def _see_to(self, job: Job) -> None:
        try:
            if self._asked_to_stop(job.id):
                self._ended(job.id, "stopped", "stopped before it began")
            elif not self._closing.is_set():
                self._do(job)
        except OSError as error:
            self._ended(job.id, "failed", f"no process could be started for it: {error.strerror or error}")
        finally:
            self._clear(job)

    def _clear(self, job: Job) -> None:
        with suppress(OSError, KeyError):
            Path(job.given["file"]).unlink(missing_ok=True)

    def _surely(self, ask: Callable[[], T]) -> T | None:
        """An answer of the database, asked again while another program holds it; None once all is closing."""
        while True:
            try:
                return ask()
            except DBAPIError:
                if self._closing.is_set():
                    return None
                sleep(AGAIN_S)

    def _asked_to_stop(self, job_id: str) -> bool:
        result = self._surely(lambda: self._store.jobs.get(job_id))
        return result is not None and result.stop

    def _ended(self, job_id: str, state: str, words: str) -> None:
        """How a job ended, where it has not said so itself."""
        self._surely(lambda: self._store.jobs.end(job_id, "stopped" if state == "stopped" else "failed", words))

    def _started(self, job_id: str) -> "subprocess.Popen[str]":
        """A process for a job. It lives as long as its standard input is open, so that it ends with this server however
        that ends.
        """
        command = [sys.executable, "-m", "dravel.work", str(self._store.database.path), job_id]
        return subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, text=True)

    def _begun(self, job: Job) -> "subprocess.Popen[str]":
        """A process that does a job; for a frame the one that was made ready, where it still waits."""
        ready = None
        if job.kind == "frame":
            with self._spares:
                ready, self._spare = self._spare, None
            self.make_ready()  # where one frame comes, more do
        if ready is not None and ready.stdin is not None:
            with suppress(OSError):
                ready.stdin.write(f"{job.id}\n")
                ready.stdin.flush()
                return ready
            ready.wait()
        return self._started(job.id)

    def _do(self, job: Job) -> None:
        process = self._begun(job)
        asked: float | None = None
        try:
            while True:
                with suppress(subprocess.TimeoutExpired):
                    process.wait(LOOK_S)
                    break
                if asked is None and self._asked_to_stop(job.id):
                    asked = monotonic()
                if self._closing.is_set() or (asked is not None and monotonic() - asked > GRACE_S):
                    process.kill()
        finally:
            if process.stdin is not None:
                with suppress(OSError):
                    process.stdin.close()
        if asked is not None:
            self._ended(job.id, "stopped", "stopped; nothing of it was saved")
        # A job that ended by itself has said so: this is for one whose process died.
        self._ended(job.id, "failed", _how_it_died(job.kind, process.returncode))

    def _is_served(self, job: Job) -> bool:
        """Whether another server has a job in hand: several may serve one file. A workers that begins has none of its own yet."""
        server = job.given.get(SERVER)
        if not isinstance(server, str) or server == self._name:
            return False
        return any(in_use(folder) for folder in self._beside.glob(f"{PREFIX}{_lives(escape(server))}-*"))


def _lives(server: str) -> str:
    """What the folder is called that a server holds as long as it lives."""
    return f"server-{server}"


def _how_it_died(kind: str, code: int) -> str:
    """Why a process ended that said nothing: by a signal where it was killed, as where the system had no memory left or a file
    broke the library that unpacks it.
    """
    how = f"killed by signal {-code}" if code < 0 else f"with {code}"
    also = "the frame is damaged, or larger than the memory: " if kind == "frame" and code < 0 else ""
    return f"{also}its process ended unexpectedly ({how}); nothing of it was saved"
