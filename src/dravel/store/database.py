"""Opening the database file: SQLite in WAL mode, foreign keys on, every commit on disk, migrated to the newest."""

import os
import secrets
import sqlite3
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from contextvars import ContextVar
from pathlib import Path
from threading import Lock
from time import monotonic
from typing import Any, TypeVar

from sqlalchemy import Connection, Engine, Table, create_engine, event, inspect, text
from sqlalchemy.orm import Session

BUSY_S = 30.0  # a write waits so long for another program's
T = TypeVar("T")
# Which data whoever writes believes to write to; None where nobody says.
believed: ContextVar[str | None] = ContextVar("believed", default=None)


class OtherData(RuntimeError):
    """The writer means other data than these: they were exchanged meanwhile. Nothing was written."""

    def __init__(self) -> None:
        super().__init__("other data are here now than those this was typed on; nothing was saved")


QUIET_S = 3.0  # after the last write, before the log is written back


class Database:
    """One database file. `read()` and `write()` give sessions; a write takes the lock at its start.

    What is read or written inside a `write()` joins it: all of it is kept, or nothing.
    """

    def __init__(self, path: Path, *, scratch: bool = False) -> None:
        """`scratch`: a file that is thrown away, and need not outlive a power cut."""
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self._engine = _engine(path, scratch=scratch)
        self._writer = self._engine.execution_options(write=True)
        self._under_way: ContextVar[Session | None] = ContextVar("session", default=None)
        self._written_at: float | None = None
        migrate(self._writer)
        self.known_identity = ""
        # Others on the machine have no business in it; where the file is another's it stays as it is.
        with suppress(OSError):
            os.chmod(path, 0o600)
        self.checkpoint()
        self.identity()

    @contextmanager
    def read(self) -> Iterator[Session]:
        """A session that only reads."""
        outer = self._under_way.get()
        if outer is not None:
            yield outer
            return
        with Session(self._engine) as session:
            yield session

    @contextmanager
    def read_at_once(self) -> Iterator[Session]:
        """One session for everything that is read inside, so that all of it is of one moment."""
        with Session(self._engine) as session:
            token = self._under_way.set(session)
            try:
                yield session
            finally:
                self._under_way.reset(token)

    @contextmanager
    def write(self) -> Iterator[Session]:
        """A session that commits at its end, or changes nothing when an error leaves it."""
        outer = self._under_way.get()
        if outer is not None:
            yield outer
            return
        with Session(self._writer) as session, session.begin():
            meant = believed.get()
            # Asked under the lock: a restore cannot come between.
            if meant is not None and session.scalar(text("SELECT id FROM identity")) != meant:
                raise OtherData
            token = self._under_way.set(session)
            try:
                yield session
            finally:
                self._under_way.reset(token)
        self._written_at = monotonic()

    def identity(self) -> str:
        """Which data these are, as the file says now; `known_identity` is what it said last."""
        with self.read() as session:
            self.known_identity = str(session.scalar(text("SELECT id FROM identity")))
        return self.known_identity

    @property
    def at_rest(self) -> bool:
        """Whether something was written that is not in the main file yet, and nothing has been for a while."""
        return self._written_at is not None and monotonic() - self._written_at > QUIET_S

    def checkpoint(self) -> None:
        """Write the log back, so that the one file holds everything. A reader or a writer in the way puts it off: it is tried,
        never waited for, since whoever waits here holds up every write.
        """
        self._written_at = None
        link = self._engine.raw_connection()
        try:
            cursor = link.cursor()
            cursor.execute("PRAGMA busy_timeout = 0")
            try:
                busy = cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()[0]
            finally:
                cursor.execute(f"PRAGMA busy_timeout = {BUSY_S * 1000:.0f}")
            if busy:
                self._written_at = monotonic()
        finally:
            link.close()

    def copy(self, to: Path) -> None:
        """A consistent copy in another file, which must not be there yet. Raises `FileExistsError`, `OSError`."""
        copy_database(self.path, to)

    def take_over(self, given: Path, tables: Sequence[Table], before: Callable[[], T]) -> T:
        """Put the rows of another file of the same layout in the place of this one's, all or nothing, under another identity.
        What reads meanwhile sees the old ones; what writes waits. `before` is done once nobody can write any more, and its
        answer is the answer. Raises `sqlite3.Error`.
        """
        link = self._engine.raw_connection()
        try:
            cursor = link.cursor()
            cursor.execute("ATTACH DATABASE ? AS given", (str(given),))
            try:
                cursor.execute("BEGIN IMMEDIATE")
                made = before()
                cursor.execute("PRAGMA defer_foreign_keys = ON")
                for table in reversed(tables):
                    cursor.execute(f'DELETE FROM main."{table.name}"')
                # The index of words is made anew by the rows as they come.
                cursor.execute("DELETE FROM main.found")
                for table in tables:
                    name = table.name
                    here, there = (
                        [row[1] for row in cursor.execute(f'PRAGMA {schema}.table_info("{name}")')]
                        for schema in ("main", "given")
                    )
                    columns = ", ".join(f'"{column}"' for column in here)
                    # Alike to the last column, SQLite carries records over as they are.
                    what = "*" if here == there else columns
                    cursor.execute(f'INSERT INTO main."{name}" SELECT {what} FROM given."{name}"')
                cursor.execute("UPDATE main.identity SET id = ?", (secrets.token_hex(8),))
                cursor.execute("COMMIT")
            except BaseException:
                if cursor.connection.in_transaction:
                    cursor.execute("ROLLBACK")
                raise
            finally:
                cursor.execute("DETACH DATABASE given")
        finally:
            link.close()
        self._written_at = monotonic()
        self.identity()
        return made

    def loose(self) -> int:
        """How many rows name something that is not there."""
        link = self._engine.raw_connection()
        try:
            return len(link.cursor().execute("PRAGMA foreign_key_check").fetchall())
        finally:
            link.close()

    def close(self) -> None:
        """Write the log back and let go of the file."""
        with suppress(Exception):
            self.checkpoint()
        self._engine.dispose()


def copy_database(path: Path, to: Path) -> None:
    """A consistent copy of a database that may be in use, under its own name only once it is whole.

    Raises `FileExistsError` where something of that name is, `OSError` and `sqlite3.Error` where it cannot be made.
    """
    if to.exists():
        raise FileExistsError(f"{to} is there already; nothing is written over")
    half = to.with_name(f"{to.name}.part")
    half.unlink(missing_ok=True)
    source = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)
    try:
        made = sqlite3.connect(half)
        try:
            os.chmod(half, 0o600)
            # A half copy is worth nothing: what is written reaches the disk once, at the end.
            made.execute("PRAGMA synchronous=OFF")
            source.backup(made)
            made.execute("PRAGMA journal_mode=DELETE")
        finally:
            made.close()
        with half.open("rb+") as written:
            os.fsync(written.fileno())
        half.rename(to)
    except BaseException:
        half.unlink(missing_ok=True)  # a full disk is not filled further
        raise
    finally:
        source.close()


def _engine(path: Path, *, scratch: bool = False) -> Engine:
    # As many links as there are who ask: whoever waited for one would be cut after half a minute on a slow machine.
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": BUSY_S}, max_overflow=-1)

    @event.listens_for(engine, "connect")
    def _connect(link: Any, _: object) -> None:
        link.isolation_level = None  # we say BEGIN ourselves
        safely = ("journal_mode=MEMORY", "synchronous=OFF") if scratch else ("journal_mode=WAL", "synchronous=FULL")
        for pragma in (*safely, f"foreign_keys={'OFF' if scratch else 'ON'}"):
            link.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _begin(link: Connection) -> None:
        # Compare-and-save needs the lock before it reads: BEGIN alone would take it too late.
        link.exec_driver_sql("BEGIN IMMEDIATE" if link.get_execution_options().get("write") else "BEGIN")

    return engine


_MIGRATING = Lock()
MIGRATIONS = Path(__file__).parent / "migrations"


def migrate(engine: Engine) -> None:
    """Bring the file to the newest layout. Raises `RuntimeError` when a newer Dravel wrote it."""
    known = sorted(path.name.split("_")[0] for path in (MIGRATIONS / "versions").glob("[0-9]*.py"))
    with engine.connect() as link:
        versioned = inspect(link).has_table("alembic_version")
        now = link.scalar(text("SELECT version_num FROM alembic_version")) if versioned else None
    if now == known[-1]:
        return
    if now is not None and now not in known:
        raise RuntimeError(f"the database is of a newer layout ({now}); it was not touched. Update Dravel to open it")
    # Imported where it is needed: most starts find nothing to do, and the import costs a third of a second.
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.set_main_option("path_separator", "os")
    # Under the write lock: of two that start at once, the second finds nothing left to do. One at a time in a process, too: the
    # package keeps what it works on in its own module (a backup is proved in a scratch database while another opens).
    with _MIGRATING, engine.begin() as link:
        config.attributes["connection"] = link
        command.upgrade(config, "head")
