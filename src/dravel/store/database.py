"""Opening the database file: SQLite in WAL mode, foreign keys on, every commit on disk, migrated to the newest."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, Engine, create_engine, event, inspect, text
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
    with engine.begin() as link:
        config.attributes["connection"] = link
        command.upgrade(config, "head")
