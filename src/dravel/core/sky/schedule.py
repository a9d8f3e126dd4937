"""Who is shot when: the exact best order of jobs over the slots of a night, by dynamic programming."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from dravel.core.model.cancellation import check_cancelled
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
    ways = [_Ways(job, pins.get(job.key)) for job in chosen]
    best = np.zeros((1 << count, slots + 1))
    for mask in range((1 << count) - 2, -1, -1):
        check_cancelled()
        for k, job in enumerate(chosen):
            if not mask >> k & 1:
                value, _ = ways[k].begun(best[mask | 1 << k])
                best[mask] = np.maximum(best[mask], _from_then_on(value, job.setup))
    return tuple(_walk(chosen, ways, best))


def _open_from(usable: Mask) -> "np.ndarray[tuple[int], np.dtype[np.int64]]":
    """How many slots in a row are open from each slot on, (m,)."""
    zeros = np.zeros(len(usable), dtype=np.int64)
    row = 0
    for at in range(len(usable) - 1, -1, -1):
        row = row + 1 if usable[at] else 0
        zeros[at] = row
    return zeros


class _Ways:
    """Every beginning and length of a job, laid out once: which end each leads to, shape (starts, lengths)."""

    def __init__(self, job: Job, pin: int | None) -> None:
        slots = len(job.worth)
        long = _open_from(job.open)
        least = max(job.least, 1)
        lengths = np.arange(least, max(min(job.need, int(long.max(initial=0))), least - 1) + 1)
        starts = np.arange(slots)
        if pin is not None:
            starts = starts[starts == pin]
        self.sums = np.concatenate([[0.0], np.cumsum(job.worth)])
        self._starts, self._lengths, self._slots, self._pinned = starts, lengths, slots, pin is not None
        ends = starts[:, None] + lengths[None, :]
        self._shut = np.where(lengths[None, :] <= long[starts][:, None], 0.0, -np.inf)
        self._ends = np.minimum(ends, slots)

    def begun(self, after: Array) -> tuple[Array, "np.ndarray[tuple[int], np.dtype[np.int64]]"]:
        """The best of beginning the job in each slot, with what comes after it, (m + 1,); and its length then, the shorter of
        equally good ones.
        """
        value, length = np.full(self._slots + 1, -np.inf), np.zeros(self._slots + 1, dtype=np.int64)
        if self._ends.size == 0:
            return value, length
        result = (self.sums + after)[self._ends] + self._shut
        at = np.argmax(result, axis=1)
        most = result[np.arange(len(at)), at] - self.sums[self._starts]
        value[self._starts] = most + (PINNED if self._pinned else 0.0)
        length[self._starts] = self._lengths[at]
        return value, length


def _from_then_on(value: Array, setup: int) -> Array:
    """The best of beginning at any later slot, set-up before it, for each slot one may be free in, (m + 1,)."""
    later = np.maximum.accumulate(value[::-1])[::-1]
    shifted = np.full_like(later, -np.inf)
    shifted[: len(later) - setup] = later[setup:]
    return shifted


def _walk(jobs: Sequence[Job], ways: Sequence[_Ways], best: Array) -> list[Run]:
    runs: list[Run] = []
    mask, now = 0, 0
    while True:
        left = best[mask][now]
        if left <= 1e-12:
            return runs
        for k, job in enumerate(jobs):
            if mask >> k & 1:
                continue
            value, length = ways[k].begun(best[mask | 1 << k])
            if _from_then_on(value, job.setup)[now] < left - 1e-9:
                continue
            # The earliest of the equally good beginnings.
            start = now + job.setup + int(np.flatnonzero(value[now + job.setup :] >= left - 1e-9)[0])
            end = start + int(length[start])
            runs.append(Run(job.key, start, end, float(ways[k].sums[end] - ways[k].sums[start])))
            mask, now = mask | 1 << k, end
            break
        else:
            return runs
