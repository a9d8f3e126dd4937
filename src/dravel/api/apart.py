"""Large requests in a loop of their own: what takes long to read or to check never holds up all the others."""

import asyncio

from starlette.concurrency import run_in_threadpool
from starlette.types import ASGIApp, Message, Receive, Scope, Send

TO_DISK = "/api/v1/jobs/"  # bodies that go to disk as they come
ARCHIVE = "/api/v1/keep/import"  # goes to disk too
PAPERS = "/api/v1/papers/"
FRAMES = "/api/v1/jobs/frame/"  # and are larger than any list
LARGE = 100_000  # bytes of a body that is read and checked apart; a rig by hand has a tenth of it


class Apart:
    """ASGI middleware: a request with a large body is answered by the same application in a worker thread."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

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
        body = b"".join(pieces)
        told: list[Message] = []

        async def given() -> Message:
            return {"type": "http.request", "body": body, "more_body": False}

        async def kept(message: Message) -> None:
            told.append(message)

        await run_in_threadpool(lambda: asyncio.run(self._app(scope, given, kept)))  # type: ignore[arg-type]
        for message in told:
            await send(message)


def _read_apart(scope: Scope) -> bool:
    if (
        scope["type"] != "http"
        or scope["method"] not in ("POST", "PUT", "PATCH")
        or scope["path"].startswith((TO_DISK, ARCHIVE))
    ):
        return False
    length = dict(scope["headers"]).get(b"content-length")
    return length is None or not length.isdigit() or int(length) >= LARGE
