"""At the door: own host names only, own origin only, bounded bodies, and headers that keep the page to itself."""

import asyncio
import logging
from contextlib import suppress
from ipaddress import ip_address
from time import perf_counter
from urllib.parse import urlsplit

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from dravel.api.access import host_of
from dravel.api.large_bodies import ARCHIVE, ARCHIVE_JOB, FRAMES, PAPERS, TO_DISK
from dravel.api.problems import FAULT, answer
from dravel.work.kinds import LARGEST_ARCHIVE, LARGEST_FRAME
from dravel.work.kinds import LARGEST_BYTES as LARGEST_TO_DISK

# Styles may stand inline: the component library writes its rules into style elements. Scripts may not.
POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
    "connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = (
    (b"content-security-policy", POLICY.encode()),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
    (b"cross-origin-opener-policy", b"same-origin"),
    (b"cross-origin-resource-policy", b"same-origin"),
)
LOCAL = ("localhost", "127.0.0.1", "::1")
DRAIN_S = 60.0
# So many bytes of a body that is refused are let in and dropped, so that its sender comes to read the answer.
DRAINED = 4_000_000_000
# Bodies of these addresses may be longer; the longer path stands before the one it begins with.
LARGER = (
    (ARCHIVE_JOB, LARGEST_ARCHIVE),
    (FRAMES, LARGEST_FRAME),
    (TO_DISK, LARGEST_TO_DISK),
    (ARCHIVE, LARGEST_ARCHIVE),
    (PAPERS, 21_000_000),
)
log = logging.getLogger("dravel")


class _TooLarge(Exception):
    pass


class RequestLimits:
    """ASGI middleware around the whole application."""

    def __init__(
        self, app: ASGIApp, host_names: tuple[str, ...], largest_body: int, *, by_address: bool = False
    ) -> None:  # fmt: skip
        self._app = app
        self._by_address = by_address
        self._hosts = {*LOCAL, *(name.lower() for name in host_names)}
        self._largest = largest_body

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        started, begun = perf_counter(), False
        head = scope["method"] == "HEAD"
        if head:  # answered as GET is, without the body
            scope = {**scope, "method": "GET"}

        async def dressed(message: Message) -> None:
            nonlocal begun
            if message["type"] == "http.response.start":
                begun = True
                took = f"app;dur={(perf_counter() - started) * 1000:.2f}".encode()
                given = list(message.get("headers", []))
                if scope["path"].startswith("/api/") and not any(name == b"cache-control" for name, _ in given):
                    given.append((b"cache-control", b"no-store"))
                message["headers"] = [*given, *HEADERS, (b"server-timing", took)]
            elif head:
                message = {**message, "body": b""}
            await send(message)

        headers = {name.decode("latin-1"): value.decode("latin-1") for name, value in scope["headers"]}
        longest = (length for path, length in LARGER if scope["path"].startswith(path))
        largest = next(longest, self._largest)
        refusal = self._refusal(scope, headers, largest)

        incoming = _Incoming(receive, largest)

        async def refused(refusal: ASGIApp) -> None:
            await incoming.drain()
            await refusal(scope, receive, dressed)

        if refusal is not None:
            await refused(refusal)
            return
        try:
            await self._app(scope, incoming, dressed)
        except _TooLarge:
            await refused(_too_large(largest))
        except Exception as error:
            log.exception("error in %s %s", scope["method"], scope["path"], exc_info=error)
            if begun:
                raise
            await answer(500, "Fault in Dravel", FAULT)(scope, receive, dressed)

    def _refusal(self, scope: Scope, headers: dict[str, str], largest: int) -> ASGIApp | None:
        method = scope["method"]
        if not self._own(scope):
            return answer(421, "Wrong host name", "Unknown host name; add it to DRAVEL_HOST_NAMES.")
        # Another port of this machine is another site: only pages that were served here may write.
        origin = headers.get("origin")
        if method not in ("GET", "HEAD") and origin is not None and _site(origin) != headers["host"].lower():
            return answer(403, "Refused", "Another site may not change anything here.")
        length = headers.get("content-length", "0")
        if length.isdigit() and int(length) > largest:
            return _too_large(largest)
        return None

    def _own(self, scope: Scope) -> bool:
        name = host_of(scope)
        return name.strip("[]") in self._hosts or (self._by_address and _is_address(name))


def _site(origin: str) -> str:
    """Host and port of an origin, lower case; empty where it names none."""
    try:
        return urlsplit(origin).netloc.lower()
    except ValueError:
        return ""


def _is_address(name: str) -> bool:
    """Whether a name is a plain address. Only names can be made to lead somewhere else; an address leads to itself."""
    try:
        ip_address(name.strip("[]"))
    except ValueError:
        return False
    return True


def _too_large(largest: int) -> ASGIApp:
    return answer(413, "Too large", f"A request may hold at most {largest:,} bytes.")


class _Incoming:
    """A body as it comes in, counted; what is left of one that is refused is let in up to a bound, and dropped."""

    def __init__(self, receive: Receive, largest: int) -> None:
        self._receive, self._largest = receive, largest
        self._seen, self._more = 0, True

    async def __call__(self) -> Message:
        message = await self._next()
        if self._seen > self._largest:
            raise _TooLarge
        return message

    async def drain(self) -> None:
        with suppress(TimeoutError):
            async with asyncio.timeout(DRAIN_S):
                while self._more and self._seen < DRAINED:
                    await self._next()

    async def _next(self) -> Message:
        message = await self._receive()
        self._more = message["type"] == "http.request" and message.get("more_body", False)
        self._seen += len(message.get("body", b""))
        return message
