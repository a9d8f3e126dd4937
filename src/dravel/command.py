"""What all commands share: settings, where data lie, and words for what goes wrong with them."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer
from pydantic import ValidationError
from pydantic_settings import SettingsError

from dravel.config import Settings

Port = Annotated[int | None, typer.Option(help="Port to listen on (default 8765; 0 takes any free one).")]
Host = Annotated[
    str | None,
    typer.Option(help="Address to listen on (default 127.0.0.1: this machine only; 0.0.0.0: all its networks)."),
]
Proxy = Annotated[
    bool,
    typer.Option(
        help="Everything comes through a proxy or relay on this machine: it counts as from outside, and needs the passcode."
    ),
]
Data = Annotated[Path | None, typer.Option(help="Data folder.")]
UNREADABLE = 3


def settings_of(
    port: int | None, data: Path | None, host: str | None = None, *, behind_proxy: bool = False
) -> Settings:
    """The settings with what the command line says over them; exit 3 with a sentence where they are wrong."""
    given = {"port": port, "data": data, "host": host, "behind_proxy": behind_proxy or None}
    try:
        return Settings(**{key: value for key, value in given.items() if value is not None})  # type: ignore[arg-type]
    except (ValidationError, SettingsError) as error:
        answer = error.errors() if isinstance(error, ValidationError) else [{"loc": (), "msg": str(error)}]
        for item in answer:
            where = f"DRAVEL_{item['loc'][0]}".upper() if item["loc"] else "DRAVEL settings"
            typer.echo(f"{where}: {str(item['msg']).removeprefix('Value error, ')}.", err=True)
        raise typer.Exit(UNREADABLE) from None


@contextmanager
def told(path: Path, what: str = "Cannot open the database") -> Iterator[None]:
    """Turn what can go wrong with a database file into a sentence and exit 3."""
    from sqlalchemy.exc import DBAPIError

    try:
        yield
    except typer.Exit:
        raise
    except DBAPIError as error:
        words = f"{path}: {error.orig}"
    except (OSError, sqlite3.Error, RuntimeError) as error:
        words = (
            f"{error.filename or path}: {error.strerror}"
            if isinstance(error, OSError) and error.strerror
            else str(error)
        )
    else:
        return
    typer.echo(f"{what}: {words}.", err=True)
    raise typer.Exit(UNREADABLE) from None
