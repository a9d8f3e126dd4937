"""Errors as RFC 9457 problem details: always what is wrong, in which field, never a stack trace."""

import logging
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException

from dravel.formats.faults import Fault, faults, from_errors
from dravel.formats.rig_file import RigFileError
from dravel.store import Stale, Unknown

log = logging.getLogger("dravel")
MEDIA_TYPE = "application/problem+json"


class Problem(BaseModel):
    """The body of every error answer (RFC 9457)."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: list[Fault] = []
    current: int | None = None


PROBLEM_RESPONSES: dict[int | str, dict[str, Any]] = {
    code: {"description": words, "content": {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}}
    for code, words in (
        (400, "Unreadable request"),
        (403, "Refused"),
        (404, "Unknown id"),
        (405, "Method not allowed"),
        (409, "Changed meanwhile"),
        (413, "Too large"),
        (421, "Wrong host name"),
        (422, "Bad input"),
    )
}


def answer(
    status: int, title: str, detail: str, errors: list[Fault] | None = None, current: int | None = None
) -> JSONResponse:
    """A problem as an HTTP answer."""
    problem = Problem(title=title, status=status, detail=detail, errors=errors or [], current=current)
    return JSONResponse(problem.model_dump(), status_code=status, media_type=MEDIA_TYPE)


def _in_words(found: list[Fault]) -> str:
    return "; ".join(f"{fault.field}: {fault.reason}" for fault in found[:3])


def install(app: FastAPI) -> None:
    """Answer every error of the app as a problem."""

    @app.exception_handler(RequestValidationError)
    async def _request(_: Request, error: RequestValidationError) -> JSONResponse:
        found = from_errors(error.errors())
        return answer(422, "Bad input", _in_words(found), found)

    @app.exception_handler(ValidationError)
    async def _document(_: Request, error: ValidationError) -> JSONResponse:
        found = faults(error)
        return answer(422, "Bad input", _in_words(found), found)

    @app.exception_handler(RigFileError)
    async def _file(_: Request, error: RigFileError) -> JSONResponse:
        return answer(422, "Not a readable rig file", str(error), error.faults)

    @app.exception_handler(Unknown)
    async def _unknown(_: Request, error: Unknown) -> JSONResponse:
        return answer(404, "Unknown", str(error))

    @app.exception_handler(Stale)
    async def _stale(_: Request, error: Stale) -> JSONResponse:
        both = [Fault(field=field, reason="was changed here and elsewhere") for field in error.fields]
        return answer(409, "Changed meanwhile", str(error), both, current=error.current)

    @app.exception_handler(HTTPException)
    async def _http(_: Request, error: HTTPException) -> JSONResponse:
        reply = answer(error.status_code, "Not possible", str(error.detail))
        reply.headers.update(error.headers or {})
        return reply

    @app.exception_handler(Exception)
    async def _crash(request: Request, error: Exception) -> JSONResponse:
        log.exception("error in %s %s", request.method, request.url.path, exc_info=error)
        return answer(500, "Fault in Dravel", "Dravel met an error of its own. Nothing was saved; please report it.")
