"""Errors as RFC 9457 problem details: always what is wrong, in which field, never a stack trace."""

import json
import logging
import re
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from fastapi.routing import iter_route_contexts
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import DatabaseError, OperationalError
from starlette.exceptions import HTTPException

from dravel.api.deadlines import Cancelled, TooLong
from dravel.api.problem_types import BY_NAME, BY_STATUS, MEDIA_TYPE
from dravel.formats.faults import Fault, faults, from_errors
from dravel.formats.rig_file import RigFileError, UnknownFields
from dravel.store import Damaged, Stale, Unknown
from dravel.store.database import OtherData

log = logging.getLogger("dravel")
FAULT = "Internal error. Please report it, and check whether your change was saved."


class Problem(BaseModel):
    """The body of every error answer (RFC 9457)."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[Fault] = []
    current: int | None = None


def answer(
    status: int, title: str, detail: str, errors: list[Fault] | None = None, current: int | None = None, kind: str = ""
) -> JSONResponse:
    """A problem as an HTTP answer. `kind` names its type where the status alone does not."""
    of = (
        BY_NAME[kind] if kind else BY_STATUS.get(status, BY_NAME["internal" if status >= 500 else "unreadable-request"])
    )
    problem = Problem(type=of.type, title=title, status=status, detail=detail, errors=errors or [], current=current)
    return _Told(problem.model_dump(), status_code=status, media_type=MEDIA_TYPE)


class _Told(JSONResponse):
    """Words that hold half a character, as they came in, can still be said."""

    def render(self, content: Any) -> bytes:
        return json.dumps(content, ensure_ascii=False, separators=(",", ":")).encode("utf-8", "replace")


def _in_words(found: list[Fault]) -> str:
    return "; ".join(f"{fault.field}: {fault.reason}" for fault in found[:3])


def install(app: FastAPI) -> None:
    """Answer every error of the app as a problem."""

    @app.exception_handler(RequestValidationError)
    async def _request(_: Request, error: RequestValidationError) -> JSONResponse:
        result = from_errors(error.errors())
        return answer(422, "Bad input", _in_words(result), result)

    @app.exception_handler(ValidationError)
    async def _document(_: Request, error: ValidationError) -> JSONResponse:
        results = faults(error)
        return answer(422, "Bad input", _in_words(results), results)

    @app.exception_handler(UnicodeEncodeError)
    async def _half(_: Request, error: UnicodeEncodeError) -> JSONResponse:
        sign = f"U+{ord(error.object[error.start]):04X}"
        report = f"invalid character {sign} (lone surrogate). Nothing was saved"
        return answer(422, "Bad input", f"body: {report}.", [Fault(field="body", reason=report)])

    @app.exception_handler(RigFileError)
    async def _file(_: Request, error: RigFileError) -> JSONResponse:
        kind = "unknown-fields" if isinstance(error, UnknownFields) else "unreadable-file"
        return answer(422, "Not a readable rig file", str(error), error.faults, kind=kind)

    @app.exception_handler(OtherData)
    async def _other(_: Request, error: OtherData) -> JSONResponse:
        return answer(412, "Other data", f"{str(error)[:1].upper()}{str(error)[1:]}.", kind="other-data")

    @app.exception_handler(Unknown)
    async def _unknown(_: Request, error: Unknown) -> JSONResponse:
        return answer(404, "Unknown", str(error))

    @app.exception_handler(Damaged)
    async def _damaged(_: Request, error: Damaged) -> JSONResponse:
        return answer(422, "Damaged", str(error), kind="damaged")

    @app.exception_handler(TooLong)
    async def _too_long(request: Request, error: TooLong) -> JSONResponse:
        log.warning("too long: %s %s", request.method, request.url.path)
        return answer(503, "Too long", f"Not answered: {error}.", kind="too-long")

    @app.exception_handler(Cancelled)
    async def _not_awaited(_: Request, error: Cancelled) -> JSONResponse:
        return answer(503, "Not awaited", str(error))  # read by nobody

    @app.exception_handler(OperationalError)
    async def _database(request: Request, error: OperationalError) -> JSONResponse:
        words = str(error.orig)
        log.error("database: %s in %s %s", words, request.method, request.url.path)
        if "locked" in words or "busy" in words:
            return answer(503, "Busy", "Another program holds the database locked. Nothing was saved; try again.")
        if "full" in words:
            return answer(
                507, "Disk full", "There is no room left on the disk. Nothing was saved; make room, then try again."
            )
        return answer(503, "Database", f"The database cannot be used: {words}. Nothing was saved.")

    @app.exception_handler(DatabaseError)
    async def _corrupt(request: Request, error: DatabaseError) -> JSONResponse:
        log.error("database: %s in %s %s", error.orig, request.method, request.url.path)
        return answer(503, "Database", f"The database cannot be read or written: {error.orig}. Nothing was saved.")

    @app.exception_handler(Stale)
    async def _stale(_: Request, error: Stale) -> JSONResponse:
        both = [Fault(field=field, reason="was changed here and elsewhere") for field in error.fields]
        return answer(409, "Changed meanwhile", str(error), both, current=error.current)

    @app.exception_handler(HTTPException)
    async def _http(request: Request, error: HTTPException) -> JSONResponse:
        if error.status_code == 405:
            return _wrong_method(app, request)
        reply = answer(error.status_code, "Not possible", str(error.detail))
        reply.headers.update(error.headers or {})
        return reply


def _addresses(app: FastAPI) -> list[tuple[re.Pattern[str], set[str]]]:
    """The addresses of the API with the methods they take."""
    made: list[tuple[re.Pattern[str], set[str]]] | None = getattr(app.state, "addresses", None)
    if made is None:
        result: dict[str, set[str]] = {}
        for context in iter_route_contexts(app.routes):
            if context.path and context.path.startswith("/api/"):
                result.setdefault(context.path, set()).update(context.methods or ())
        made = [
            (re.compile(re.sub(r"\\{\w+\\}", "[^/]+", re.escape(path))), methods) for path, methods in result.items()
        ]
        app.state.addresses = made
    return made


def _wrong_method(app: FastAPI, request: Request) -> JSONResponse:
    """405 with every method the address has; 404 where it has none but the page that answers everywhere."""
    path = request.url.path
    methods = {"GET"} if not path.startswith("/api/") else set()
    for pattern, known in _addresses(app):
        if pattern.fullmatch(path):
            methods |= known
    if not methods:
        return answer(404, "Unknown", f"there is no {path}"[:200])
    report = ", ".join(sorted(methods | ({"HEAD"} if "GET" in methods else set())))
    reply = answer(405, "Not possible", f"This address takes {report}.")
    reply.headers["allow"] = report
    return reply
