"""Export and import of everything, from and into a store."""

import shutil
from collections.abc import Callable
from contextlib import ExitStack
from datetime import UTC, datetime
from pathlib import Path
from typing import IO

from dravel.core.model.base import Model
from dravel.formats import everything
from dravel.store import Store
from dravel.store.rows import TABLES, Taken, Tell, rows, stage, take_in
from dravel.store.scratch import scratch
from dravel.store.staging import batch

NEEDED = 3  # times what is unpacked, of room on the disk: staged, kept, and in the log until it is written back


class TakenIn(Model):
    """What an import added (rows by table), how many rows were present already, and which differ from the archive."""

    words: str
    added: dict[str, int]
    present: int
    differ: tuple[str, ...]


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


def read_in(store: Store, file: IO[bytes], tell: Tell, stack: ExitStack) -> Callable[[], TakenIn]:
    """Read an archive, compare it with what is here and lay it down; what is answered keeps what is new, all or nothing.

    Raises `everything.NotEverything`, `everything.WrongRow`, `LooseRow`, and `OSError`.
    """
    beside = store.database.path.parent
    needed, free = NEEDED * everything.unpacked_bytes(file), shutil.disk_usage(beside).free
    if needed > free:
        raise everything.NotEverything(
            f"the import needs {needed / 1e6:,.0f} MB of free disk space, and {free / 1e6:,.0f} MB are free"
        )
    folder = stack.enter_context(scratch(beside, "import"))
    staged, by_name = folder / "staged.sqlite", {table.name: table for table in TABLES}
    stage(staged, ((by_name[name], given) for name, given in everything.read(file, by_name)), tell)
    keep = take_in(store.database, staged, stack.enter_context(batch(store.database)), tell)
    return lambda: told(keep())


def take_all_in(store: Store, file: IO[bytes], tell: Tell = lambda *_: None) -> TakenIn:
    """Keep what an archive holds and this store does not, at once. Raises as `read_in` does."""
    with ExitStack() as stack:
        return read_in(store, file, tell, stack)()


def told(taken: Taken) -> TakenIn:
    """What came of an import in words."""
    added = {name: count for name, count in taken.added.items() if count}
    words = ", ".join(f"{count} {name}" for name, count in added.items()) or "nothing"
    return TakenIn(
        words=f"Imported: {words}; {taken.same} already present.", added=added, present=taken.same, differ=taken.differ
    )
