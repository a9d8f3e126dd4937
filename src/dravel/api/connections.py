"""Connections that say nothing: closed after a while, and the oldest at once where there are too many to go on."""

import logging
import resource
from time import monotonic
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

SILENT_S = 20.0  # from the start of a connection to its first request
MOST = 200  # connections at once
FILES_ELSE = 64  # for the database, the log and files that are served


def most_connections() -> int:
    """How many connections are held, of those that the system lets this process have."""
    may = resource.getrlimit(resource.RLIMIT_NOFILE)[0]
    return min(MOST, max(8, may - FILES_ELSE))


class Connection(H11Protocol):
    """A connection as the server has it."""

    most = MOST
    since = 0.0

    def connection_made(self, transport: Any) -> None:
        """One more: the oldest that only waits makes room."""
        super().connection_made(transport)
        self.since = monotonic()
        self.loop.call_later(SILENT_S, self._close_if_silent)
        others = [one for one in self.connections if isinstance(one, Connection) and one is not self]
        if len(others) >= self.most:
            waiting = [one for one in others if one.waits]
            if waiting:
                min(waiting, key=lambda one: one.since).transport.close()

    @property
    def waits(self) -> bool:
        """Whether no request is under way."""
        return self.cycle is None or self.cycle.response_complete

    def _close_if_silent(self) -> None:
        if self.cycle is None and not self.transport.is_closing():
            self.transport.close()


class Once(logging.Filter):
    """The same words once a minute at most: what goes wrong a thousand times is said once, and the log stays small."""

    def __init__(self) -> None:
        super().__init__()
        self._said: dict[str, float] = {}

    def filter(self, record: logging.LogRecord) -> bool:
        """Whether a line is written."""
        words = f"{record.name} {record.msg}"
        if monotonic() - self._said.get(words, -1e9) < 60:
            return False
        if len(self._said) > 1000:
            self._said.clear()
        self._said[words] = monotonic()
        return True
