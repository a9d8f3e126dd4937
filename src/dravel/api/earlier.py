"""Addresses of earlier versions: what was written for them still finds what it asks for."""

import re

from starlette.types import ASGIApp, Receive, Scope, Send

V1 = "/api/v1"
STEPS = {
    "glass": "optics",
    "load": "mount",
    "guide": "guiding",
    "expose": "exposure",
    "build": "assembly",
    "proof": "frames",
}
MOVED = (
    (re.compile(rf"{V1}/({'|'.join(STEPS)})(?=/|$)"), lambda old: f"{V1}/{STEPS[old[1]]}"),
    (re.compile(rf"{V1}/practice(?=/|$)"), lambda old: f"{V1}/preferences"),
    (re.compile(rf"({V1}/rigs/[^/]+)/build(?=/|\.|$)"), lambda old: f"{old[1]}/assembly"),
)

QUERIES = ((re.compile(rb"(^|&)mends="), rb"\1fixes="), (re.compile(rb"(^|&)strains="), rb"\1warnings="))


def now(path: str) -> str:
    """The address of today; the same for one that has not moved."""
    for before, after in MOVED:
        path = before.sub(after, path)
    return path


def asked_now(query: bytes) -> bytes:
    """What is asked by today's names."""
    for before, after in QUERIES:
        query = before.sub(after, query)
    return query


class Earlier:
    """Leads a request for an address of an earlier version, or with its names, to the present one."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http":
            if (path := now(scope["path"])) != scope["path"]:
                scope = {**scope, "path": path, "raw_path": path.encode()}
            if query := scope.get("query_string"):
                scope = {**scope, "query_string": asked_now(query)}
        await self.app(scope, receive, send)
