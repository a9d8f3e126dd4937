"""Guide logs as CSV: `time_s, ra_error_arcsec, dec_error_arcsec`, and where there are some `ra_pulse_ms, dec_pulse_ms`."""

import csv
import io
import math

import numpy as np

from dravel.core.frames.guide_log import GuideLog

NEEDED = ("time_s", "ra_error_arcsec", "dec_error_arcsec")
PULSES = ("ra_pulse_ms", "dec_pulse_ms")
LARGEST_BYTES, MOST_ROWS = 60_000_000, 1_000_000
LARGEST = 1e7


class NotALog(ValueError):
    """The file is no guide log, and why."""


def read(content: bytes) -> GuideLog:
    """The rows of a log; a cell that is no number stands at nothing, as a lost star does. Raises `NotALog`."""
    if len(content) > LARGEST_BYTES:
        raise NotALog(f"{len(content) / 1e6:.0f} MB are more than any night's log")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise NotALog(f"not text in UTF-8: byte {error.start} cannot be read") from None
    lines = (line for line in io.StringIO(text, newline="") if line.strip() and not line.startswith("#"))
    try:
        rows = csv.reader(lines, delimiter=";" if text[:2000].count(";") > text[:2000].count(",") else ",")
        heading = [cell.strip().lower() for cell in next(rows, [])]
        missing = [name for name in NEEDED if name not in heading]
        if missing:
            raise NotALog(f"its heading lacks {', '.join(missing)}")
        at = {name: heading.index(name) for name in (*NEEDED, *PULSES) if name in heading}
        values: dict[str, list[float]] = {name: [] for name in at}
        for count, row in enumerate(rows):
            if count >= MOST_ROWS:
                raise NotALog(f"more than {MOST_ROWS:,} rows")
            for name, place in at.items():
                values[name].append(_number(row[place]) if place < len(row) else math.nan)
    except csv.Error as error:
        raise NotALog(f"not CSV: {error}") from None
    columns = {name: np.array(result) for name, result in values.items()}
    return GuideLog(
        columns["time_s"], columns["ra_error_arcsec"], columns["dec_error_arcsec"], columns.get("ra_pulse_ms"),
        columns.get("dec_pulse_ms"),
    )  # fmt: skip


def _number(cell: str) -> float:
    try:
        result = float(cell)
    except ValueError:
        return math.nan
    return result if abs(result) < LARGEST else math.nan
