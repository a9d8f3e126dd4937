"""Backups: whole copies beside the data, each restored once in a scratch place before it counts; and the way back."""

import os
import sqlite3
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from time import time

from sqlalchemy.exc import DBAPIError

from dravel.store.database import Database, copy_database
from dravel.store.scratch import scratch
from dravel.store.tables import Base

DAYS, WEEKS, MONTHS = 7, 5, 12  # so many of each are kept of the automatic ones; Dravel's own
EVERY = timedelta(hours=24)
STAMP = "%Y-%m-%d-%H%M%S"
DAILY = "daily"
NOT_DATA = {
    "jobs",
    "identity",
}  # work under way belongs to the server that does it, and which data these are to the file
TAKEN = [table for table in Base.metadata.sorted_tables if table.name not in NOT_DATA]


class BadBackup(RuntimeError):
    """A file that is no backup, or cannot be restored. The data were not touched."""


@dataclass(frozen=True)
class Backup:
    """A backup that was found good when it was made."""

    path: Path
    made: datetime
    size: int
    daily: bool


def folder_of(path: Path) -> Path:
    """The folder that the backups of a database go to: beside it."""
    return path.parent / "backups"


def backup(path: Path, folder: Path, now: datetime, *, daily: bool = False, to: Path | None = None) -> Backup:
    """Copy a database that may be in use, restore the copy in a scratch place, compare, and only then give it its name.

    Raises `FileExistsError`, `OSError`, `sqlite3.Error`, and `BadBackup` where the copy is not what it should be.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    made = to if to is not None else _free(folder, path.stem, now, DAILY if daily else "")
    if made.exists():
        raise FileExistsError(f"{made} is there already; nothing is written over")
    half = made.with_name(f"{made.name}.unproved")
    half.unlink(missing_ok=True)
    begun = time()
    try:
        copy_database(path, half)
        prove(half)
        os.utime(half, (begun, begun))  # what is written from here on is not in it
        half.rename(made)
    finally:
        half.unlink(missing_ok=True)
    return Backup(made, now, made.stat().st_size, daily)


def _free(folder: Path, stem: str, now: datetime, kind: str) -> Path:
    """A name by the second; of two in one second the later takes the next."""
    for k in range(1000):
        named = folder / f"{stem}.{now + timedelta(seconds=k):{STAMP}}{f'.{kind}' if kind else ''}.sqlite"
        if not named.exists():
            return named
    return named


def prove(path: Path) -> None:
    """Restore a backup into a scratch place beside it and compare. Raises `BadBackup`, `OSError`."""
    with scratch(path.parent, "proof") as folder:
        database = Database(folder / "scratch.sqlite", scratch=True)
        try:
            _check(path, path.name, "quick_check")  # its indexes are made anew by the restore
            database.take_over(path, TAKEN, lambda: None)
            restored, given = counts(database.path), counts(path)
            loose = database.loose()
        finally:
            database.close()
    if loose:
        raise BadBackup(f"{path.name}: restored, {loose} rows belong to nothing")
    missing = [name for name, held in given.items() if restored.get(name) != held]
    if missing:
        raise BadBackup(f"{path.name}: restored, it lacks rows of {', '.join(missing)}")


def counts(path: Path) -> dict[str, tuple[int, int]]:
    """How many rows each table holds, and how long its documents are together."""
    link = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)
    try:
        there = {row[0] for row in link.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        tables = [table for table in Base.metadata.sorted_tables if table.name in there - NOT_DATA]
        asked = ((item.name, "length(body)" if "body" in item.columns else "0") for item in tables)
        return {
            name: tuple(link.execute(f'SELECT count(*), coalesce(sum({long}), 0) FROM "{name}"').fetchone())
            for name, long in asked
        }
    finally:
        link.close()


def restore(database: Database, given: Path, folder: Path, now: datetime) -> Backup:
    """Put a backup's data in the place of those that are there, which are backed up first; the answer is that backup.

    All of it in one transaction: whatever interrupts it, the old data stay. Nobody writes between the backup and the end, so
    that what was acknowledged before is in it. Raises `BadBackup`, `OSError`, `sqlite3.Error`.
    """
    if not given.is_file():
        raise BadBackup(f"{given.name}: there is no such file")
    with scratch(database.path.parent, "restore") as work:
        copy = _brought_up(given, work / "copy.sqlite")
        return database.take_over(copy, TAKEN, lambda: backup(database.path, folder, now))


def backups(folder: Path, stem: str) -> list[Backup]:
    """The good backups of a database, newest first."""
    results = []
    for path in folder.glob(f"{stem}.*.sqlite") if folder.is_dir() else ():
        stamp, _, rest = path.name[len(stem) + 1 : -len(".sqlite")].partition(".")
        with suppress(ValueError, OSError):
            results.append(Backup(path, datetime.strptime(stamp, STAMP), path.stat().st_size, rest == DAILY))
    return sorted(results, key=lambda item: item.made, reverse=True)


def keep_daily(path: Path, folder: Path, now: datetime) -> Backup | None:
    """Make the day's backup where the last good one is a day old and something has changed since; let go of automatic ones
    that the rule no longer keeps. None where nothing was due.
    """
    there = backups(folder, path.stem)
    last = there[0] if there else None
    changed = max(
        (entry.stat().st_mtime for entry in (path, path.with_name(f"{path.name}-wal")) if entry.exists()), default=0.0
    )
    if last is not None and (now - last.made < EVERY or changed <= last.path.stat().st_mtime):
        return None
    made = backup(path, folder, now, daily=True)
    for item in let_go(backups(folder, path.stem)):
        item.path.unlink(missing_ok=True)
    return made


def let_go(there: Iterable[Backup]) -> list[Backup]:
    """The automatic backups that are kept no longer: beyond the last seven days one a week for five weeks stays, then one a
    month for twelve. Those made by hand always stay.
    """
    daily = sorted((entry for entry in there if entry.daily), key=lambda item: item.made, reverse=True)
    kept: dict[tuple[str, str], None] = {}
    stays = []
    for item in daily:
        day, week, month = f"{item.made:%Y-%m-%d}", f"{item.made:%G-%V}", f"{item.made:%Y-%m}"
        for rule, key, most in (("day", day, DAYS), ("week", week, WEEKS), ("month", month, MONTHS)):
            if (rule, key) not in kept and sum(name == rule for name, _ in kept) < most:
                kept[rule, key] = None
                stays.append(item)
    return [entry for entry in daily if entry not in stays]


def _brought_up(given: Path, copy: Path) -> Path:
    """A copy of a backup, of this layout or an older one, checked and in the newest layout. Raises `BadBackup`."""
    try:
        copy_database(given, copy)
        _check(copy, given.name)
        Database(copy).close()
    except sqlite3.DatabaseError as error:
        raise BadBackup(f"{given.name}: {_words(error)}") from None
    except DBAPIError as error:
        raise BadBackup(f"{given.name}: {error.orig}") from None
    except RuntimeError as error:
        raise BadBackup(f"{given.name}: {error}") from None
    return copy


def _words(error: sqlite3.DatabaseError) -> str:
    answer = str(error)
    return "it is no backup of Dravel's" if "not a database" in answer else answer


def _check(copy: Path, name: str, how: str = "integrity_check") -> None:
    link = sqlite3.connect(copy)
    try:
        result = link.execute(f"PRAGMA {how}(1)").fetchone()[0]
        if result != "ok":
            raise BadBackup(f"{name}: it is cut short or damaged ({str(result).splitlines()[-1]})")
        if not link.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchone():
            raise BadBackup(f"{name}: it is no backup of Dravel's")
    finally:
        link.close()
