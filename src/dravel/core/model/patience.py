"""Whether anybody still waits for an answer, and until when it is worth having: asked inside long computations."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from time import monotonic


class NotAwaited(Exception):
    """Nobody waits for the answer any more."""


class TooLong(Exception):
    """The answer took longer than it may."""

    def __init__(self, seconds: float) -> None:
        super().__init__(f"this took longer than {seconds:g} s and was stopped; nothing was changed by it")


class Patience:
    """How long somebody waits from when the work begins, seconds (without end when None); they may `leave` before, or say so when `asked`."""

    def __init__(self, seconds: float | None = None, asked: Callable[[], bool] | None = None) -> None:
        self._seconds, self._asked = seconds, asked
        self._until: float | None = None
        self._left = False

    def leave(self) -> None:
        """Nobody waits any more."""
        self._left = True

    def check(self) -> None:
        """Raises `NotAwaited` or `TooLong`."""
        if self._left or (self._asked is not None and self._asked()):
            raise NotAwaited("nobody waits for this any more")
        if self._seconds is not None:
            # Counted from the first time it is asked: a call that waited for others has not begun.
            if self._until is None:
                self._until = monotonic() + self._seconds
            elif monotonic() > self._until:
                raise TooLong(self._seconds)


_now: ContextVar[Patience | None] = ContextVar("patience", default=None)


@contextmanager
def waited_for(patience: Patience) -> Iterator[Patience]:
    """What is computed inside, and in threads started from it with its context, is computed for somebody who waits so."""
    token = _now.set(patience)
    try:
        yield patience
    finally:
        _now.reset(token)


def still_awaited() -> None:
    """Called again and again by what may take long. Raises `NotAwaited` or `TooLong`; costs next to nothing."""
    patience = _now.get()
    if patience is not None:
        patience.check()
