"""Bounds of what a process may take of the machine."""

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

MB = 1_000_000


def bounded(most: int) -> None:
    """Let this process take at most so many bytes of address space, where the system can: what needs more meets a `MemoryError`,
    and the machine does not.
    """
    _limit(most)


@contextmanager
def bounded_more(most: int) -> Iterator[None]:
    """Let this process take at most so many bytes more than it holds, within the block; afterwards as before."""
    before = _limit(_held() + most)
    try:
        yield
    finally:
        if before is not None:
            _limit(before, exactly=True)


def _limit(most: int, exactly: bool = False) -> int | None:
    """Set the soft limit; return the one of before, nothing where there is no such thing."""
    with suppress(ImportError, ValueError, OSError):
        import resource

        soft, hard = resource.getrlimit(resource.RLIMIT_AS)
        allowed = most if exactly or hard == resource.RLIM_INFINITY else min(most, hard)
        resource.setrlimit(resource.RLIMIT_AS, (allowed, hard))
        return soft
    return None


def _held() -> int:
    """The address space that this process holds (bytes), where the system tells."""
    with suppress(OSError, ValueError, ImportError):
        import resource

        return int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    return 0
