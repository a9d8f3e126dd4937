"""Large requests in a loop of their own: what takes long to read or to check never holds up all the others."""

import asyncio
from collections.abc import Awaitable, Callable
from functools import partial
from typing import TypeVar

from anyio import CapacityLimiter
from anyio.to_thread import run_sync
from starlette.types import ASGIApp, Message, Receive, Scope, Send

TO_DISK = "/api/v1/jobs/"  # bodies that go to disk as they come
ARCHIVE = "/api/v1/keep/import"  # goes to disk too
ARCHIVE_JOB = "/api/v1/jobs/archive"
PAPERS = "/api/v1/papers/"  # too
FRAMES = "/api/v1/jobs/frame/"  # and are larger than any list
LARGE = 100_000  # bytes of a body that is read and checked apart; a rig by hand has a tenth of it
T = TypeVar("T")
AT_ONCE = 8  # so many loops of their own; further large requests wait for one of them


class LargeBodies:
    """ASGI middleware: a request with a large body is answered by the same application in a worker thread."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app
        self._room: CapacityLimiter | None = None

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if not _read_apart(scope):
            await self._app(scope, receive, send)
            return
        pieces: list[bytes] = []
        more = True
        while more:
            message = await receive()
            if message["type"] != "http.request":
                return
            pieces.append(message.get("body", b""))
            more = message.get("more_body", False)
        whole: list[Message] = [{"type": "http.request", "body": b"".join(pieces), "more_body": False}]
        pieces.clear()
        outside = asyncio.get_running_loop()

        # Both are asked of the loop that the connection lives in. After its body a request has nothing more to say but that
        # its sender is gone; whoever asks again waits for that.
        async def given() -> Message:
            return whole.pop() if whole else await _there(receive, outside)

        async def sent(message: Message) -> None:
            await _there(partial(send, message), outside)

        self._room = self._room or CapacityLimiter(AT_ONCE)
        await run_sync(lambda: asyncio.run(self._app(scope, given, sent)), limiter=self._room)  # type: ignore[arg-type]


async def _there(ask: Callable[[], Awaitable[T]], loop: asyncio.AbstractEventLoop) -> T:
    """Have something done in another loop, and wait for it in this one."""

    async def done() -> T:
        return await ask()

    return await asyncio.wrap_future(asyncio.run_coroutine_threadsafe(done(), loop))


def _read_apart(scope: Scope) -> bool:
    if (
        scope["type"] != "http"
        or scope["method"] not in ("POST", "PUT", "PATCH")
        or scope["path"].startswith((TO_DISK, ARCHIVE, PAPERS))
    ):
        return False
    length = dict(scope["headers"]).get(b"content-length")
    return length is None or not length.isdigit() or int(length) >= LARGE
