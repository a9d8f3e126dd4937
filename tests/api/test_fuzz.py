"""Fuzzing from the OpenAPI document: whatever is sent, no answer is a crash, and every answer is a described one."""

import os
import tempfile
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, Phase, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from dravel.api.app import create_app
from dravel.config import Settings
from dravel.seed import seed_demo
from dravel.store import Store

_folder = tempfile.TemporaryDirectory()
_store = Store(Path(_folder.name) / "fuzz.sqlite")
seed_demo(_store)
schema = schemathesis.openapi.from_asgi(
    "/api/v1/openapi.json", create_app(_store, Settings(host_names=("testserver",)))
)


@schema.parametrize()
# Whole rigs are slow to invent: few examples each, no shrinking, the same ones every time; `make soak` asks for more.
@settings(
    max_examples=int(os.environ.get("DRAVEL_FUZZ", "5")),
    deadline=None,
    derandomize=True,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_no_request_brings_it_down(case):
    case.call_and_validate(
        checks=[not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
    )
