"""Files of many parts or targets: read and reported line by line; kept all together or not at all."""

from collections.abc import Callable
from contextlib import ExitStack
from typing import Any, TypeVar

from dravel.core.model import Part, Target
from dravel.formats import parts_csv, target_files
from dravel.formats.reports import CsvReport, report, unreadable
from dravel.store.staging import batch
from dravel.store.store import Collection

Tell = Callable[[int, int, str], None]  # how many of how many, and what is being done
T = TypeVar("T")


def _silent(done: int, total: int, words: str) -> None:
    """Nobody watches."""


def parts_in(given: bytes, tell: Tell = _silent) -> tuple[list[Part], CsvReport]:
    """The parts in a CSV file that can be read, and what is wrong with the others."""
    try:
        text = _text(given)
    except ValueError as error:
        return [], unreadable(str(error))
    parts, wrong = parts_csv.read(text, _lines(tell, text.count("\n")))
    lines = [(row.line, row.faults) for row in wrong]
    return parts, report((part.name for part in parts), len(parts), lines)


def targets_in(
    given: bytes, tell: Tell = _silent, largest: int = target_files.LARGEST_BYTES
) -> tuple[list[Target], CsvReport]:
    """The targets in a CSV file or a VOTable that can be read, and what is wrong with the others."""
    try:
        text = _text(given)
        result, wrong = target_files.read(text, _lines(tell, max(text.count("\n"), text.count("<TR"))), largest)
    except ValueError as error:  # neither text, nor a list of targets
        return [], unreadable(str(error))
    return result, report((target.name for target in result), len(result), wrong)


def kept(things: list[T], told: CsvReport, collection: Collection[Any]) -> CsvReport:
    """The report once what was read is kept."""
    if things:
        collection.add(*things)
    return told.model_copy(update={"kept": bool(things)})


def staged(
    collection: Collection[Any], things: list[T], told: CsvReport, tell: Tell, stack: ExitStack
) -> Callable[[], CsvReport]:
    """Lay what was read down, so that nobody waits for it; what is answered keeps it, and says so."""
    if not things:
        return lambda: told
    laid = stack.enter_context(batch(collection.database))
    keep = collection.add_many(
        laid, things, lambda done: tell(done, len(things), f"{done:,} of {len(things):,} laid down")
    )

    def whole() -> CsvReport:
        keep()
        return told.model_copy(update={"kept": True})

    return whole


def _lines(tell: Tell, total: int) -> Callable[[int], None]:
    return lambda line: tell(line, total, f"line {line:,} of {total:,}")


def _text(given: bytes) -> str:
    try:
        return given.decode("utf-8")
    except UnicodeDecodeError as error:
        raise ValueError(f"is not text in UTF-8: byte {error.start} cannot be read") from None
