"""Export and import of everything, from and into a store."""

from datetime import UTC, datetime
from pathlib import Path
from typing import IO

from dravel.formats import everything
from dravel.store import Store
from dravel.store.rows import TABLES, Taken, put_back, rows


def export(store: Store, to: Path) -> everything.Written:
    """Write everything into an archive, under its own name only once it is whole. Raises `FileExistsError`, `OSError`."""
    if to.exists():
        raise FileExistsError(f"{to} is there already; nothing is written over")
    half = to.with_name(f"{to.name}.part")
    try:
        with half.open("wb") as file, store.database.read_at_once():
            written = everything.write(
                file,
                datetime.now(UTC).isoformat(timespec="seconds"),
                ((table.name, rows(store.database, table)) for table in TABLES),
                everything.fits_table,
            )
        half.rename(to)
    finally:
        half.unlink(missing_ok=True)
    return written


def take_in(store: Store, file: IO[bytes]) -> Taken:
    """Keep what an archive holds and this store does not. Raises `everything.NotEverything`, `dravel.store.rows.WrongRow`."""
    by_name = {table.name: table for table in TABLES}
    found = list(everything.read(file, by_name))
    return put_back(store.database, ((by_name[name], given) for name, given in found))
