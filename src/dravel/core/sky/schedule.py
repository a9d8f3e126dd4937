"""Who is shot when: the exact best order of jobs over the slots of a night, by dynamic programming."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from dravel.core.sky.altaz import Array, Mask

PINNED = 1e6  # more than any night is worth: what was put by hand stays
MOST_JOBS = 9  # exact over all orders: every more doubles the work


@dataclass(frozen=True)
class Job:
    """Something to shoot in one go. Arrays of shape (m,), one value a slot: what the slot is worth, and whether it may be
    used. At most `need` slots are wanted, fewer than `least` are not worth beginning; `setup` slots go before it.
    """

    key: str
    worth: Array
    open: Mask
    need: int
    least: int = 1
    setup: int = 0


@dataclass(frozen=True)
class Run:
    """A job at its place: from slot `start` up to but not including `end`, and what it is worth there."""

    key: str
    start: int
    end: int
    worth: float


def schedule(jobs: Sequence[Job], slots: int, pinned: Mapping[str, int] | None = None) -> tuple[Run, ...]:
    """The runs of the greatest worth together, in time order: each job once or not at all, none interrupted, none outside
    its open slots, set-ups between them. A pinned job begins in its slot, whatever that costs the others, or,
    where it cannot, not at all.

    Exact over all orders, starts and lengths of at most `MOST_JOBS` jobs; of more, those worth most alone are taken.
    Raises `ValueError` when an array has not one value a slot. Source: Bellman's principle; proven against brute force
    and an integer program in the tests.
    """
    for job in jobs:
        if len(job.worth) != slots or len(job.open) != slots:
            raise ValueError(f"{job.key}: {len(job.worth)} and {len(job.open)} values for {slots} slots")
    pins = pinned or {}
    chosen = [job for job in jobs if job.need >= max(job.least, 1) and job.open.any()]
    if len(chosen) > MOST_JOBS:
        chosen = sorted(chosen, key=lambda job: (job.key not in pins, -float(job.worth[job.open].sum())))[:MOST_JOBS]
    if not chosen or slots == 0:
        return ()
    count = len(chosen)
    sums = [np.concatenate([[0.0], np.cumsum(job.worth)]) for job in chosen]
    long = [_open_from(job.open) for job in chosen]
    best = np.zeros((1 << count, slots + 1))
    for mask in range((1 << count) - 2, -1, -1):
        for k, job in enumerate(chosen):
            if not mask >> k & 1:
                value, _ = _begun(job, sums[k], long[k], best[mask | 1 << k], pins.get(job.key))
                best[mask] = np.maximum(best[mask], _from_then_on(value, job.setup))
    return tuple(_walk(chosen, sums, long, best, pins))


def _open_from(usable: Mask) -> "np.ndarray[tuple[int], np.dtype[np.int64]]":
    """How many slots in a row are open from each slot on, (m,)."""
    found = np.zeros(len(usable), dtype=np.int64)
    row = 0
    for at in range(len(usable) - 1, -1, -1):
        row = row + 1 if usable[at] else 0
        found[at] = row
    return found


def _begun(
    job: Job, sums: Array, long: "np.ndarray[tuple[int], np.dtype[np.int64]]", after: Array, pin: int | None
) -> tuple[Array, "np.ndarray[tuple[int], np.dtype[np.int64]]"]:
    """The best of beginning the job in each slot, with what comes after it, (m + 1,); and its length then."""
    slots = len(long)
    value, length = np.full(slots + 1, -np.inf), np.zeros(slots + 1, dtype=np.int64)
    whole = sums + after
    for run in range(max(job.least, 1), min(job.need, int(long.max(initial=0))) + 1):
        fits = long[: slots + 1 - run] >= run
        found = np.where(fits, whole[run:] - sums[: slots + 1 - run], -np.inf)
        better = found > value[: slots + 1 - run] + 1e-12
        value[: slots + 1 - run][better] = found[better]
        length[: slots + 1 - run][better] = run
    if pin is not None:
        kept = np.full_like(value, -np.inf)
        if 0 <= pin < slots:
            kept[pin] = value[pin] + PINNED
        value = kept
    return value, length


def _from_then_on(value: Array, setup: int) -> Array:
    """The best of beginning at any later slot, set-up before it, for each slot one may be free in, (m + 1,)."""
    later = np.maximum.accumulate(value[::-1])[::-1]
    shifted = np.full_like(later, -np.inf)
    shifted[: len(later) - setup] = later[setup:]
    return shifted


def _walk(
    jobs: Sequence[Job], sums: Sequence[Array], long: Sequence["np.ndarray[tuple[int], np.dtype[np.int64]]"],
    best: Array, pins: Mapping[str, int],
) -> list[Run]:  # fmt: skip
    runs: list[Run] = []
    mask, now = 0, 0
    while True:
        left = best[mask][now]
        if left <= 1e-12:
            return runs
        for k, job in enumerate(jobs):
            if mask >> k & 1:
                continue
            value, length = _begun(job, sums[k], long[k], best[mask | 1 << k], pins.get(job.key))
            if _from_then_on(value, job.setup)[now] < left - 1e-9:
                continue
            # The earliest of the equally good beginnings.
            start = now + job.setup + int(np.flatnonzero(value[now + job.setup :] >= left - 1e-9)[0])
            end = start + int(length[start])
            runs.append(Run(job.key, start, end, float(sums[k][end] - sums[k][start])))
            mask, now = mask | 1 << k, end
            break
        else:
            return runs
