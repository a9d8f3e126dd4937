"""Texts in CSV cells that a spreadsheet must not take for a formula: an apostrophe stands before them, and goes again."""

import re

_FORMULA = re.compile(r"'*[=+\-@\t\r]")
_GUARDED = re.compile(r"'+[=+\-@\t\r]")


def guarded(text: str) -> str:
    """A text as a cell: one that begins as a formula does (behind apostrophes or not) gets one apostrophe more."""
    return f"'{text}" if _FORMULA.match(text) else text


def signed(number: str) -> str:
    """A number as people write angles, `+41 16 09.0` or `-05 23 28.0`, as a cell that no spreadsheet takes for a formula and
    every reader reads back: without its plus, and with a space before its minus.
    """
    return f" {number}" if number.startswith("-") else number.removeprefix("+")


def unguarded(cell: str) -> str:
    """What `guarded` was given."""
    return cell[1:] if _GUARDED.match(cell) else cell
