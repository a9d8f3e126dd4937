"""The published contract: a sentence for each operation, each kind of problem told once, and a document of a bounded size."""

import json
from pathlib import Path

import pytest

from dravel.api.problem_types import TYPES

TOP = Path(__file__).parents[2]
DOCUMENT = json.loads((TOP / "docs" / "openapi.json").read_text(encoding="utf-8"))
OPERATIONS = [
    (f"{method} {path}", operation) for path, methods in DOCUMENT["paths"].items() for method, operation in methods.items()
]  # fmt: skip


@pytest.mark.parametrize(("name", "operation"), OPERATIONS, ids=[name for name, _ in OPERATIONS])
def test_each_operation_says_what_it_does_and_refers_to_its_problems(name, operation):
    assert operation["description"].rstrip().endswith((".", ")", "`"))
    assert len(operation["tags"]) == 1 and operation["operationId"]
    for code, reply in operation["responses"].items():
        if not code.startswith("2"):
            assert reply["$ref"].rpartition("/")[2] in DOCUMENT["components"]["responses"], (name, code)
    assert "default" in operation["responses"]
    assert ("404" in operation["responses"]) == ("{" in name)


def test_each_kind_of_problem_is_told_once():
    assert len({item.name for item in TYPES}) == len(TYPES)
    told = " ".join(reply["description"] for reply in DOCUMENT["components"]["responses"].values())
    for item in TYPES:
        assert told.count(f"`{item.type}`") == 1
    assert {401, 403, 429, 500} <= {item.status for item in TYPES}


def test_document_and_types_stay_small():
    assert (TOP / "docs" / "openapi.json").stat().st_size <= 450_000
    assert (TOP / "web/src/api/generated/schema.d.ts").stat().st_size <= 500_000


@pytest.mark.parametrize(("call", "body", "status", "kind"), [
    (("GET", "/rigs/none"), None, 404, "unknown"),
    (("GET", "/nowhere"), None, 404, "unknown"),
    (("DELETE", "/preferences"), None, 405, "method-not-allowed"),
    (("POST", "/rigs"), {"rig": {"name": ""}}, 422, "bad-input"),
    (("PUT", "/rigs/heron"), {"rig": {"name": "x"}, "base": 99}, 409, "version-conflict"),
    (("POST", "/rigs/import"), {"format": "no rig"}, 422, "unreadable-file"),
])  # fmt: skip
def test_a_problem_names_its_kind(client, call, body, status, kind):
    answer = client.request(call[0], f"/api/v1{call[1]}", json=body)
    assert (answer.status_code, answer.json()["type"]) == (status, f"/problems/{kind}"), answer.text


def test_a_host_and_a_body_that_are_refused_name_their_kind(client):
    assert client.get("/api/v1/about", headers={"host": "elsewhere.example"}).json()["type"] == "/problems/wrong-host"
    other = client.post("/api/v1/rigs", json={"rig": {"name": "x"}}, headers={"dravel-data": "of-before"})
    assert (other.status_code, other.json()["type"]) == (412, "/problems/other-data")
