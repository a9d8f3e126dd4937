"""Connections that say nothing: closed after a while, and the oldest at once where there are too many to go on."""

import logging
import resource
from contextlib import suppress
from time import monotonic
from typing import Any

import h11
from uvicorn.protocols.http.h11_impl import H11Protocol

from dravel.api.problems import answer
from dravel.api.request_limits import HEADERS

SILENT_S = 20.0  # from the start of a connection to its first request
MOST = 200  # connections at once
AT_A_TIME = 16  # taken in before any of them can make room for others


def most_connections() -> int:
    """How many connections are held: a quarter of the files that the system lets this process have, the rest being for the
    database and what is read. It asks for as many as it may have first.
    """
    may, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    with suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))
        may = most
    return MOST if may < 0 else min(MOST, max(8, may // 4))


class Connection(H11Protocol):
    """A connection as the server has it."""

    most = MOST
    since = 0.0

    def connection_made(self, transport: Any) -> None:
        """One more: the oldest that only waits makes room."""
        super().connection_made(transport)
        self.since = monotonic()
        self.loop.call_later(SILENT_S, self._close_if_silent)
        others = [
            connection for connection in self.connections
            if isinstance(connection, Connection) and connection is not self and not connection.transport.is_closing()
        ]  # fmt: skip
        waiting = sorted((other for other in others if other.waits), key=lambda item: item.since)
        for item in waiting[: max(0, len(others) + 1 - self.most)]:
            item.transport.close()

    @property
    def waits(self) -> bool:
        """Whether no request is under way."""
        return self.cycle is None or self.cycle.response_complete

    def send_400_response(self, msg: str) -> None:
        """What is no HTTP request is answered as all else is."""
        problem = answer(400, "No request", "Request not readable.")
        headers = [*problem.raw_headers, *HEADERS, (b"connection", b"close")]
        for event in (
            h11.Response(status_code=400, headers=headers, reason=b"Bad Request"),
            h11.Data(data=bytes(problem.body)),
            h11.EndOfMessage(),
        ):
            self.transport.write(self.conn.send(event))
        self.transport.close()

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
        words = f"{record.name} {record.msg}"[:48]  # what follows differs by a number or an address
        if monotonic() - self._said.get(words, -1e9) < 60:
            return False
        if len(self._said) > 1000:
            self._said.clear()
        self._said[words] = monotonic()
        return True
