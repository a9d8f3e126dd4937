"""Who waits for an answer: a call that was closed stops what is computed for it, and nothing is computed for ever. No clock on the
wall cuts anything: on a slow machine, or a busy one, work goes on as long as somebody waits for it.
"""

import asyncio
import threading
from time import thread_time

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from dravel.core.model.cancellation import cancelled_by

PROCESSOR_S = 600.0  # of a processor for one answer; what is asked in bounds needs a hundredth of it


class Cancelled(Exception):
    """Nobody waits for the answer any more."""


class TooLong(Exception):
    """The answer took more of the processor than it may."""

    def __init__(self, seconds: float) -> None:
        super().__init__(f"calculation stopped after {seconds:g} s of processor time; nothing was changed")


class Deadline:
    """How much of a processor an answer may take, seconds, until it begins; whoever waits for it may `leave` before."""

    def __init__(self, seconds: float) -> None:
        self._seconds = seconds
        self._until: dict[int, float] = {}  # by thread: each has a clock of its own
        self._left = self._begun = False

    def leave(self) -> None:
        """Nobody waits any more."""
        self._left = True

    def begin(self) -> None:
        """The answer has begun: it goes on to its end, or until somebody leaves."""
        self._begun = True

    def __call__(self) -> None:
        """Raises `Cancelled` or `TooLong`."""
        if self._left:
            raise Cancelled("nobody waits for this any more")
        if self._begun:
            return
        # Counted from the first time it is asked: a call that waited for others has not begun.
        until = self._until.setdefault(threading.get_ident(), thread_time() + self._seconds)
        if thread_time() > until:
            raise TooLong(self._seconds)


class Deadlines:
    """ASGI middleware: what is computed for a request asks whether it is still awaited."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        patience = Deadline(PROCESSOR_S)

        async def sent(message: Message) -> None:
            if message["type"] == "http.response.start":
                patience.begin()
            await send(message)

        with cancelled_by(patience):
            listened = _Listened(receive, patience)
            if scope["method"] in ("GET", "HEAD", "DELETE"):
                await listened.first()  # they come without a body, and nobody may ask for it
            try:
                await self._app(scope, listened, sent)
            finally:
                listened.close()


class _Listened:
    """Messages as they come; once the body is there, somebody listens for the end of the connection."""

    def __init__(self, receive: Receive, patience: Deadline) -> None:
        self._receive, self._patience = receive, patience
        self._held: list[Message] = []
        self._end: asyncio.Task[Message] | None = None

    async def first(self) -> None:
        """Have the first message ready before it is asked for."""
        self._held.append(await self())

    async def __call__(self) -> Message:
        if self._held:
            return self._held.pop(0)
        if self._end is not None:
            return await asyncio.shield(self._end)
        message = await self._receive()
        if message["type"] == "http.disconnect":
            self._patience.leave()
        elif not message.get("more_body", False):
            self._end = asyncio.create_task(self._listen())
        return message

    async def _listen(self) -> Message:
        while True:
            message = await self._receive()
            if message["type"] == "http.disconnect":
                self._patience.leave()
                return message

    def close(self) -> None:
        """The answer is there: nobody listens any more."""
        if self._end is not None:
            self._end.cancel()
