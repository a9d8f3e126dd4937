"""The kinds of jobs. Each reads what was given, telling how far it is, and hands back how to keep it and its report."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from dravel.formats.reports import CsvReport
from dravel.store import Store
from dravel.work.imports import Tell, kept, parts_in, targets_in

LARGEST_BYTES = 50_000_000  # of a file that is read as a job
Keep = Callable[[], CsvReport]


def _targets(store: Store, given: dict[str, Any], tell: Tell) -> Keep:
    found, told = targets_in(Path(given["file"]).read_bytes(), tell, LARGEST_BYTES)
    return partial(kept, found, told, store.targets) if given["keep"] else lambda: told


def _parts(store: Store, given: dict[str, Any], tell: Tell) -> Keep:
    found, told = parts_in(Path(given["file"]).read_bytes(), tell)
    return partial(kept, found, told, store.parts) if given["keep"] else lambda: told


KINDS: dict[str, Callable[[Store, dict[str, Any], Tell], Keep]] = {"targets": _targets, "parts": _parts}
