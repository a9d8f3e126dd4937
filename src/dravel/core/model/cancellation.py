"""Whether an answer is still worth having: asked again and again by what may take long.

Who starts a computation says how that is told, by a function that raises where it is not; the core has no clock.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_ask: ContextVar[Callable[[], None] | None] = ContextVar("patience", default=None)


@contextmanager
def cancelled_by(ask: Callable[[], None]) -> Iterator[None]:
    """What is computed inside, and in threads started from it with its context, calls `ask` again and again."""
    token = _ask.set(ask)
    try:
        yield
    finally:
        _ask.reset(token)


def check_cancelled() -> None:
    """Costs next to nothing. Raises what the one who waits has it raise."""
    ask = _ask.get()
    if ask is not None:
        ask()
