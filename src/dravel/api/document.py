"""The OpenAPI document: what FastAPI finds, with problems and sign-in said once and without titles that only repeat names."""

from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from dravel.api import problem_types, problems
from dravel.api.access import COOKIE

METHODS = {"get", "put", "post", "delete"}
SIGN_IN = {"passcode": {
    "type": "apiKey", "in": "cookie", "name": COOKIE,
    "description": "Set by `POST /api/v1/access` with the passcode. Needed from other machines only, where one is set.",
}}  # fmt: skip


def openapi(app: FastAPI) -> dict[str, Any]:
    """The document of an application; made once."""
    if app.openapi_schema is None:
        made = get_openapi(title=app.title, version=app.version, description=app.description, routes=app.routes)
        parts = made["components"]
        parts["schemas"]["Problem"] = problems.Problem.model_json_schema(ref_template="#/components/schemas/{model}")
        parts["schemas"]["Problem"].pop("$defs", None)
        for name in ("HTTPValidationError", "ValidationError"):
            parts["schemas"].pop(name, None)
        parts["responses"] = problem_types.responses()
        parts["securitySchemes"] = SIGN_IN
        made["security"] = [{}, {"passcode": []}]
        for path, operations in made["paths"].items():
            for method in METHODS & operations.keys():
                _shorten(path, method, operations[method])
        app.openapi_schema = _named_once(made)
    return app.openapi_schema


def _shorten(path: str, method: str, operation: dict[str, Any]) -> None:
    good = {code: reply for code, reply in operation["responses"].items() if code.startswith("2")}
    given = "requestBody" in operation or "parameters" in operation
    operation["responses"] = good | problem_types.answers_of(path, method, given)
    if operation.get("summary") == operation["operationId"].replace("_", " ").title():
        del operation["summary"]  # the sentence says more


def _named_once(item: Any, name: str = "") -> Any:
    """Without titles that say no more than the name they stand under."""
    if isinstance(item, list):
        return [_named_once(each) for each in item]
    if not isinstance(item, dict):
        return item
    title = item.get("title")
    own = item.get("name", name)
    same = isinstance(title, str) and isinstance(own, str) and title.lower() == own.replace("_", " ").lower()
    repeats = same or (isinstance(title, str) and title.startswith("Response ") and "type" in item)
    return {
        key: _named_once(each, name if key in {"schema", "items", "anyOf"} else key)
        for key, each in item.items()
        if not (key == "title" and repeats and not isinstance(each, dict))
    }
