"""Bounds of what a process may take of the machine."""

from contextlib import suppress

MB = 1_000_000


def bounded(most: int) -> None:
    """Let this process take at most so many bytes of address space, where the system can: what needs more meets a `MemoryError`,
    and the machine does not.
    """
    with suppress(ImportError, ValueError, OSError):
        import resource

        _, hard = resource.getrlimit(resource.RLIMIT_AS)
        allowed = most if hard == resource.RLIM_INFINITY else min(most, hard)
        resource.setrlimit(resource.RLIMIT_AS, (allowed, hard))
