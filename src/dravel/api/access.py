"""Who may come in from another machine: a passcode, kept as an argon2 hash, a session cookie, and patience with guesses."""

import asyncio
import hashlib
import logging
import os
import secrets
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from http.cookies import CookieError, SimpleCookie
from ipaddress import ip_address
from pathlib import Path
from time import monotonic

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from dravel.api.problems import answer

COOKIE = "dravel_session"
SESSION_S = 12 * 3600
LEAST, LONGEST = 8, 200
FREE_TRIES, FIRST_WAIT_S, LONGEST_WAIT_S = 5, 30.0, 900.0
ALL_TRIES, ALL_WITHIN_S = 60, 600.0  # of everybody together
MOST_SESSIONS, MOST_ADDRESSES = 100, 2000
OPEN = "/api/v1/access"
# What servers that hand a request on write into it. One that writes nothing cannot be told: it is named at the start.
FORWARDED = {
    b"forwarded", b"via", b"x-real-ip", b"x-client-ip", b"x-cluster-client-ip", b"true-client-ip", b"x-original-host",
    b"x-original-forwarded-for", b"fastly-client-ip", b"cdn-loop", b"proxy-connection", b"x-proxy-id",
}  # fmt: skip
FORWARDED_AS = (b"x-forwarded-", b"cf-", b"x-envoy-", b"x-amzn-", b"x-azure-", b"fly-")
LOOK_S = 0.5  # how often it is looked whether the session of an answer under way has ended
log = logging.getLogger("dravel.access")


class WeakPasscode(ValueError):
    """The passcode is too short or too long."""


def passcode_file(data: Path) -> Path:
    """Where the passcode's hash lies."""
    return data / "passcode"


def keep_passcode(data: Path, passcode: str) -> None:
    """Keep a passcode's hash, readable by its owner alone. Raises `WeakPasscode`, `OSError`."""
    from argon2 import PasswordHasher

    if not LEAST <= len(passcode) <= LONGEST:
        raise WeakPasscode(f"a passcode has {LEAST} to {LONGEST} characters")
    data.mkdir(parents=True, exist_ok=True)
    path = passcode_file(data)
    fresh = path.with_suffix(".new")
    with os.fdopen(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as held:
        held.write(PasswordHasher().hash(passcode) + "\n")
    fresh.replace(path)


def kept_hash(data: Path) -> str | None:
    """The hash that is kept; None where there is none."""
    try:
        return passcode_file(data).read_text().strip() or None
    except OSError:
        return None


def host_of(scope: Scope) -> str:
    """The name that a request was sent to, without its port, lower case."""
    host = next((value.decode("latin-1") for name, value in scope["headers"] if name == b"host"), "").lower()
    if host.startswith("["):
        return host.partition("]")[0] + "]"
    return host.rpartition(":")[0] if host.rpartition(":")[2].isdigit() else host


def _is_here(name: str) -> bool:
    """Whether a name leads to the machine it is used on: a loopback address, or the one that stands for all of its own."""
    return is_loopback(name) or name in ("0.0.0.0", "[::]")


def is_loopback(host: str) -> bool:
    """Whether an address can be reached from its own machine only."""
    if host == "localhost":
        return True
    try:
        return ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return False


@dataclass
class Tries:
    """Wrong guesses from one address, and until when no more are heard."""

    wrong: int = 0
    until: float = 0.0


@dataclass
class Access:
    """Passcode, sessions and guesses. Times by a clock that never goes back. `data`: the folder that the passcode lies in; it
    is looked at again and again, and another passcode, or none, ends all sessions. `behind_proxy`: everything comes from
    outside, whatever address it has.
    """

    hash: str | None
    now: Callable[[], float] = monotonic
    data: Path | None = None
    behind_proxy: bool = False
    _sessions: dict[str, float] = field(default_factory=dict)
    _tries: dict[str, Tries] = field(default_factory=dict)
    _all: list[float] = field(default_factory=list)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def look(self) -> None:
        """Look whether the passcode is another one now; then nobody is in any more."""
        if self.data is not None and (now := kept_hash(self.data)) != self.hash:
            with self._lock:
                self.hash, self._sessions = now, {}
            log.warning("passcode: it was %s; all sessions have ended", "changed" if now else "removed")

    def waits_s(self, address: str) -> float:
        """How long no guess from an address is heard, s."""
        at = self.now()
        self._all = [item for item in self._all if at - item < ALL_WITHIN_S]
        crowd = ALL_WITHIN_S - (at - self._all[0]) if len(self._all) >= ALL_TRIES else 0.0
        return max(self._tries.get(address, Tries()).until - at, crowd, 0.0)

    def enter(self, address: str, passcode: str) -> str | None:
        """A session's token for the right passcode, None for a wrong one. One guess is looked at at a time."""
        from argon2 import PasswordHasher
        from argon2.exceptions import InvalidHashError, VerificationError

        self.look()
        with self._lock:
            try:
                right = self.hash is not None and PasswordHasher().verify(self.hash, passcode)
            except (VerificationError, InvalidHashError):
                right = False
            if not right:
                self._wrong(address)
                return None
            self._tries.pop(address, None)
            token = secrets.token_urlsafe(32)
            at = self.now()
            self._sessions = {key: end for key, end in self._sessions.items() if end > at}
            while len(self._sessions) >= MOST_SESSIONS:
                del self._sessions[min(self._sessions, key=lambda key: self._sessions[key])]
            self._sessions[_digest(token)] = at + SESSION_S
            return token

    def _wrong(self, address: str) -> None:
        at = self.now()
        if len(self._tries) >= MOST_ADDRESSES:
            self._tries = {key: item for key, item in self._tries.items() if item.until > at}
        tries = self._tries.setdefault(address, Tries())
        tries.wrong += 1
        self._all.append(at)
        if tries.wrong >= FREE_TRIES:
            tries.until = at + min(FIRST_WAIT_S * 2 ** (tries.wrong - FREE_TRIES), LONGEST_WAIT_S)

    def leave(self, token: str) -> None:
        """End a session."""
        self._sessions.pop(_digest(token), None)

    def knows(self, token: str) -> bool:
        """Whether a token belongs to a session that has not ended."""
        self.look()
        return self._sessions.get(_digest(token), 0.0) > self.now()

    def at_home(self, scope: Scope) -> bool:
        """Whether a request comes from this machine itself, and was not handed on by another server."""
        handed_on = any(name in FORWARDED or name.startswith(FORWARDED_AS) for name, _ in scope["headers"])
        if handed_on or self.behind_proxy:
            return False
        client = scope.get("client")
        # A test client and a socket file have no address: they are of this machine.
        if client is None or client[0] == "testclient":
            return True
        # From this machine, but sent to a name that others use for it: a server that says nothing has handed it on.
        return is_loopback(client[0]) and _is_here(host_of(scope))

    def address_of(self, scope: Scope) -> str:
        """Whose guesses a request counts among: its address; behind a proxy the one that the proxy itself wrote down last."""
        if self.behind_proxy:
            lines = [value for name, value in scope["headers"] if name == b"x-forwarded-for"]
            if lines and (last := lines[-1].decode("latin-1").rpartition(",")[2].strip()):
                return str(last[:60])
        client = scope.get("client")
        return str(client[0]) if client else ""

    def admits(self, scope: Scope) -> bool:
        """Whether a request may be answered: from this machine, or with a session."""
        return self.at_home(scope) or self.knows(token_of(scope))


def token_of(scope: Scope) -> str:
    """The session's token that a request carries; empty without one."""
    for name, value in scope["headers"]:
        if name == b"cookie":
            try:
                held = SimpleCookie(value.decode("latin-1")).get(COOKIE)
            except CookieError:
                return ""
            if held is not None:
                return held.value
    return ""


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


class Gate:
    """ASGI middleware: nothing of the API is answered to strangers but the question for the passcode."""

    def __init__(self, app: ASGIApp, access: Access) -> None:
        self._app, self._access = app, access

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http" and scope["path"].startswith("/api/"):
            open_to_all = scope["path"] == OPEN or scope["path"].startswith(f"{OPEN}/")
            if not open_to_all and not self._access.at_home(scope):
                token = token_of(scope)
                if not self._access.knows(token):
                    refusal = answer(401, "Passcode needed", "This needs the passcode of this Dravel.")
                    await refusal(scope, receive, send)
                else:
                    await self._while_in(token, scope, receive, send)
                return
        await self._app(scope, receive, send)

    async def _while_in(self, token: str, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer as long as the session lasts: a stream of events ends with it."""
        begun = ended = False

        async def sent(message: Message) -> None:
            nonlocal begun, ended
            begun = begun or message["type"] == "http.response.start"
            ended = message["type"] == "http.response.body" and not message.get("more_body", False)
            await send(message)

        work = asyncio.ensure_future(self._app(scope, receive, sent))
        try:
            while not (await asyncio.wait({work}, timeout=LOOK_S))[0]:
                if not self._access.knows(token):
                    break
            else:
                return work.result()
        finally:
            if not work.done():
                work.cancel()
                with suppress(asyncio.CancelledError):
                    await work
        if begun and not ended:
            await send({"type": "http.response.body", "body": b"", "more_body": False})
        return None
