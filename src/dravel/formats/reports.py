"""What became of a file of many things: those that can be read, and the lines that cannot."""

from collections.abc import Iterable, Sequence

from dravel.core.model.base import Model
from dravel.formats.faults import MOST, Fault


class LineFaults(Model):
    """What is wrong in one line of a file."""

    line: int
    faults: tuple[Fault, ...]


class CsvReport(Model):
    """What became of a file: how many were added (or would be), the names of the first hundred, and the lines left out, the
    first hundred of them.
    """

    added: int
    names: tuple[str, ...]
    faults: tuple[LineFaults, ...]
    kept: bool
    more: int = 0


def report(names: Iterable[str], added: int, wrong: Sequence[tuple[int, Sequence[Fault]]]) -> CsvReport:
    """The report of what was read, nothing of it kept yet."""
    return CsvReport(
        added=added,
        names=tuple(names)[:MOST],
        faults=tuple(LineFaults(line=line, faults=tuple(answer)) for line, answer in wrong[:MOST]),
        more=max(len(wrong) - MOST, 0),
        kept=False,
    )


def unreadable(reason: str) -> CsvReport:
    """The report of a file that cannot be read at all."""
    return report((), 0, [(1, [Fault(field="file", reason=reason)])])
