"""Kinds of problem that an answer names (RFC 9457, `type`), each with its code and what it means; told once in the document."""

from dataclasses import dataclass
from typing import Any

MEDIA_TYPE = "application/problem+json"
BASE = "/problems/"


@dataclass(frozen=True)
class ProblemType:
    """One kind of problem: its name in an address, its HTTP status, a title and when it is answered."""

    name: str
    status: int
    title: str
    when: str

    @property
    def type(self) -> str:
        """The `type` of an answer: an address relative to the server, the same on all of them."""
        return f"{BASE}{self.name}"


TYPES = tuple(
    ProblemType(*row)
    for row in (
        ("unreadable-request", 400, "Unreadable request", "The request is not valid HTTP, or its body not JSON."),
        ("passcode-required", 401, "Passcode required", "This server has a passcode, and the call has no session."),
        ("refused", 403, "Refused", "The call comes from another site, or the passcode was wrong."),
        ("unknown", 404, "Unknown", "There is no such address, or nothing with this id."),
        ("method-not-allowed", 405, "Method not allowed", "The address takes other methods, which `Allow` lists."),
        ("version-conflict", 409, "Changed meanwhile", "A newer version is here: `current` is its number, `errors` the fields."),
        ("other-data", 412, "Other data", "Other data were restored: what was typed on those before is not written to these."),
        ("too-large", 413, "Too large", "The body is larger than this address takes."),
        ("wrong-host", 421, "Wrong host name", "This server does not know the host name of the call."),
        ("bad-input", 422, "Bad input", "`errors` lists each field, the reason and what is accepted."),
        ("unknown-fields", 422, "Unknown fields", "A rig file has fields that this version does not know; `unknown=leave_out` keeps the rest."),
        ("unreadable-file", 422, "Unreadable file", "This address does not read files of this kind."),
        ("damaged", 422, "Damaged", "What is stored can no longer be read; it is listed under `/damaged`."),
        ("too-many-tries", 429, "Too many tries", "Wrong passcodes came too often: `Retry-After` says how long to wait."),
        ("internal", 500, "Internal error", "A fault in Dravel, written in its log."),
        ("unavailable", 503, "Unavailable", "The database is held by another program or cannot be used; nothing was saved."),
        ("too-long", 503, "Too long", "The answer would have taken longer than calls are given."),
        ("disk-full", 507, "Disk full", "No room is left on the disk; nothing was saved."),
    )
)  # fmt: skip
BY_NAME = {item.name: item for item in TYPES}
# What a bare status means: the first that has it.
BY_STATUS = {item.status: item for item in reversed(TYPES)}


def responses() -> dict[str, Any]:
    """The answers that tell a problem, by the name under which operations refer to them."""
    body = {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}
    made: dict[str, Any] = {}
    for status in sorted(BY_STATUS):
        kinds = [item for item in TYPES if item.status == status]
        words = " ".join(f"`{item.type}`: {item.when}" for item in kinds)
        made[_key(status)] = {"description": words, "content": body}
    every = ", ".join(f"{status} {BY_STATUS[status].title}" for status in sorted(BY_STATUS))
    made["Problem"] = {"description": f"A problem (RFC 9457), one of: {every}.", "content": body}
    return made


def _key(status: int) -> str:
    return BY_STATUS[status].title.title().replace(" ", "")


def answers_of(path: str, method: str, given: bool) -> dict[str, Any]:
    """The problems an operation is likely to answer with, each by reference; `default` stands for all others.

    `given` says whether the operation takes a body or parameters.
    """
    likely = [404] if "{" in path else []
    likely += [409, 412] if method != "get" else []
    likely += [422] if given else []
    made = {str(status): {"$ref": f"#/components/responses/{_key(status)}"} for status in likely}
    return made | {"default": {"$ref": "#/components/responses/Problem"}}
