"""Commands that keep: backup, restore, export, import."""

import shutil
import sqlite3
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from typing import Annotated

import typer

from dravel.command import UNREADABLE, Data, settings_of, told

Demo = Annotated[bool, typer.Option(help="The demo's data.")]


def add_to(app: typer.Typer) -> None:
    """Add the commands to the command line."""
    app.command()(backup)
    app.command()(restore)
    app.command("export")(export_all)
    app.command("import")(import_all)


def backup(
    to: Annotated[Path | None, typer.Argument(help="The file to make; without one it goes beside the data.")] = None,
    data: Data = None,
    demo: Demo = False,
) -> None:
    """Back the data up, also while Dravel is running; the copy is restored in a scratch place before it counts."""
    from dravel.store import backups

    settings = settings_of(None, data)
    path = _there(settings.database(demo))
    with told(to or path, "Not backed up"):
        made = backups.backup(path, backups.folder_of(path), datetime.now(), to=to)
    typer.echo(f"Backed up to {made.path}, {made.size:,} bytes, restored once to prove it.")


def restore(
    file: Annotated[Path, typer.Argument(help="A backup; its data come in the place of those that are there.")],
    data: Data = None,
    demo: Demo = False,
) -> None:
    """Restore a backup. What was there is backed up first; whatever interrupts it, one of the two is there whole."""
    from dravel.store import Store, backups

    settings = settings_of(None, data)
    path, now = settings.database(demo), datetime.now()
    _set_aside_if_unreadable(path, now)
    with told(path, "Not restored"):
        store = Store(path)
        try:
            before = backups.restore(store.database, file, backups.folder_of(path), now)
        except backups.BadBackup as error:
            typer.echo(f"Not restored: {error}. The data are as they were.", err=True)
            raise typer.Exit(UNREADABLE) from None
        finally:
            store.close()
    typer.echo(f"Restored {file}. What was there before: {before.path}")


def export_all(
    to: Annotated[Path, typer.Argument(help="The archive to make (zip); it must not be there yet.")],
    data: Data = None,
    demo: Demo = False,
) -> None:
    """Write everything into one archive of open formats: JSON by a published schema, CSV, FITS, pictures, documents."""
    from dravel.store import Store
    from dravel.work import keeping

    path = _there(settings_of(None, data).database(demo))
    with told(to, "Not exported"):
        store = Store(path)
        try:
            written = keeping.export(store, to)
        finally:
            store.close()
    typer.echo(f"Exported to {to}: {_counted(dict(written.rows))}.")


def import_all(
    file: Annotated[Path, typer.Argument(help="An archive that `dravel export` made.")],
    data: Data = None,
    demo: Demo = False,
) -> None:
    """Take in what an archive holds and is not here yet. Nothing that is here is changed; what differs is told."""
    from dravel.formats.everything import NotEverything, WrongRow
    from dravel.store import Store
    from dravel.store.rows import LooseRow
    from dravel.work import keeping
    from dravel.work.kinds import KINDS
    from dravel.work.limits import bounded_more

    path = settings_of(None, data).database(demo)
    with told(path, "Nothing was imported"), bounded_more(KINDS["archive"].memory):
        store = Store(path)
        try:
            with file.open("rb") as opened:
                taken = keeping.take_all_in(store, opened)
        except (NotEverything, WrongRow, LooseRow, MemoryError) as error:
            why = "it needs more memory than it may take" if isinstance(error, MemoryError) else error
            typer.echo(f"{file}: {why}. Nothing was imported.", err=True)
            raise typer.Exit(UNREADABLE) from None
        finally:
            store.close()
    typer.echo(taken.words)
    if taken.differ:
        typer.echo(f"Left as they are here, the archive says otherwise: {', '.join(taken.differ)}")


def _there(path: Path) -> Path:
    if not path.is_file():
        typer.echo(f"There are no data at {path} yet.", err=True)
        raise typer.Exit(UNREADABLE)
    return path


def _set_aside_if_unreadable(path: Path, now: datetime) -> None:
    """A data file that cannot be opened at all is moved aside whole, so that a backup can come in its place."""
    if not path.is_file():
        return
    link = sqlite3.connect(path)
    try:
        link.execute("SELECT count(*) FROM sqlite_master").fetchone()
    except sqlite3.DatabaseError:
        aside = path.with_name(f"{path.stem}.unreadable-{now:%Y-%m-%d-%H%M%S}{path.suffix}")
        for end in ("", "-wal", "-shm"):
            with suppress(FileNotFoundError):
                shutil.move(path.with_name(path.name + end), aside.with_name(aside.name + end))
        typer.echo(f"The data could not be read; they were moved to {aside}", err=True)
    finally:
        link.close()


def _counted(rows: dict[str, int]) -> str:
    return ", ".join(f"{count} {name}" for name, count in rows.items() if count) or "nothing"
