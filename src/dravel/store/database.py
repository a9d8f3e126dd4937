"""Opening the database file: SQLite in WAL mode, foreign keys on, every commit on disk, migrated to the newest."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.orm import Session


class Database:
    """One database file. `read()` and `write()` give sessions; a write takes the lock at its start."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self._engine = _engine(path)
        self._writer = self._engine.execution_options(write=True)
        migrate(self._engine)

    @contextmanager
    def read(self) -> Iterator[Session]:
        """A session that only reads."""
        with Session(self._engine) as session:
            yield session

    @contextmanager
    def write(self) -> Iterator[Session]:
        """A session that commits at its end, or changes nothing when an error leaves it."""
        with Session(self._writer) as session, session.begin():
            yield session

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 10})

    @event.listens_for(engine, "connect")
    def _connect(link: Any, _: object) -> None:
        link.isolation_level = None  # we say BEGIN ourselves
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON"):
            link.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _begin(link: Connection) -> None:
        # Compare-and-save needs the lock before it reads: BEGIN alone would take it too late.
        link.exec_driver_sql("BEGIN IMMEDIATE" if link.get_execution_options().get("write") else "BEGIN")

    return engine


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("path_separator", "os")
    return config


def migrate(engine: Engine) -> None:
    """Bring the file to the newest layout. Raises `RuntimeError` when a newer Dravel wrote it."""
    config = _config()
    script = ScriptDirectory.from_config(config)
    with engine.connect() as link:
        now = MigrationContext.configure(link).get_current_revision()
    if now == script.get_current_head():
        return
    if now is not None and now not in {step.revision for step in script.walk_revisions()}:
        raise RuntimeError(f"the database is of a newer layout ({now}); it was not touched. Update Dravel to open it")
    with engine.begin() as link:
        config.attributes["connection"] = link
        command.upgrade(config, "head")
