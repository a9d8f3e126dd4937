"""At the door: own host names only, own origin only, bounded bodies, and headers that keep the page to itself."""

import logging
from ipaddress import ip_address
from time import perf_counter
from urllib.parse import urlsplit

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from dravel.api.apart import ARCHIVE, FRAMES, PAPERS, TO_DISK
from dravel.api.problems import FAULT, answer
from dravel.work.kinds import LARGEST_BYTES as LARGEST_TO_DISK
from dravel.work.kinds import LARGEST_FRAME

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
LOCAL = ("localhost", "127.0.0.1", "[::1]", "::1")
# Bodies of these addresses may be longer; the longer path stands before the one it begins with.
LARGER = ((FRAMES, LARGEST_FRAME), (TO_DISK, LARGEST_TO_DISK), (ARCHIVE, 4_000_000_000), (PAPERS, 21_000_000))
log = logging.getLogger("dravel")


class _TooLarge(Exception):
    pass


class Guard:
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
        refusal = self._refusal(scope["method"], headers, largest)
        if refusal is not None:
            await refusal(scope, receive, dressed)
            return
        try:
            await self._app(scope, _counted(receive, largest), dressed)
        except _TooLarge:
            await _too_large(largest)(scope, receive, dressed)
        except Exception as error:
            log.exception("error in %s %s", scope["method"], scope["path"], exc_info=error)
            if begun:
                raise
            await answer(500, "Fault in Dravel", FAULT)(scope, receive, dressed)

    def _refusal(self, method: str, headers: dict[str, str], largest: int) -> ASGIApp | None:
        if not self._own(headers.get("host", "")):
            return answer(421, "Wrong host name", "Dravel answers to its own host names only.")
        # Another port of this machine is another site: only pages that were served here may write.
        origin = headers.get("origin")
        if (
            method not in ("GET", "HEAD")
            and origin is not None
            and urlsplit(origin).netloc.lower() != headers["host"].lower()
        ):
            return answer(403, "Refused", "Another site may not change anything here.")
        length = headers.get("content-length", "0")
        if length.isdigit() and int(length) > largest:
            return _too_large(largest)
        return None

    def _own(self, host: str) -> bool:
        name = host.lower()
        if not name.startswith("[") or "]:" in name:
            name = name.rpartition(":")[0] if name.rpartition(":")[2].isdigit() else name
        return name in self._hosts or (self._by_address and _is_address(name))


def _is_address(name: str) -> bool:
    """Whether a name is a plain address. Only names can be made to lead somewhere else; an address leads to itself."""
    try:
        ip_address(name.strip("[]"))
    except ValueError:
        return False
    return True


def _too_large(largest: int) -> ASGIApp:
    return answer(413, "Too large", f"A request may hold at most {largest:,} bytes.")


def _counted(receive: Receive, largest: int) -> Receive:
    seen = 0

    async def counted() -> Message:
        nonlocal seen
        message = await receive()
        seen += len(message.get("body", b""))
        if seen > largest:
            raise _TooLarge
        return message

    return counted
