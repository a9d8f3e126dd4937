"""Calls generated from the OpenAPI document, as it allows and as it forbids: no answer is a crash, every answer is a described
one, what the document allows is taken and what it forbids refused, but for what is explained below.
"""

import atexit
import json
import os
import re
import tempfile
from itertools import count
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis.checks import not_a_server_error
from schemathesis.core.failures import Failure, FailureGroup
from schemathesis.generation import GenerationMode
from schemathesis.specs.openapi import checks

from dravel.api.app import create_app
from dravel.config import Settings
from dravel.core.model.base import clean
from dravel.seed import seed_demo
from dravel.store import Store

CHECKS = [
    not_a_server_error, checks.status_code_conformance, checks.content_type_conformance,
    checks.response_schema_conformance, checks.response_headers_conformance, checks.positive_data_acceptance,
    checks.negative_data_rejection, checks.missing_required_header, checks.unsupported_method,
]  # fmt: skip
# What a JSON Schema cannot say, and the document says in words: a refusal of these is no breach of the contract.
SAID_IN_WORDS = {
    r"no frame can be taken with it": "a rig that has a telescope and a camera",
    r"after validation": "follows from another fault in the same list",
    r"at least 1 character|should match pattern '\\S'": "texts are cleaned of what no file can carry before they are measured",
    r"datetime\.date": "a night lies between 1950 and 2099; formats of dates have no bounds in JSON Schema",
    r", measured, cannot be|cannot be set; allowed": "a reading lies in the range of the field it reads, a set length in that of its part",
    r"nothing to compare was named": "one of two lists of a comparison",
    r"^(stays|case|about|targets|not_wanted|row|today): ": "a goal names what lies on this shelf, and can be had together",
    r"is not a known time zone": "names of the IANA list",
    r"two altitudes at azimuth": "a horizon has one altitude an azimuth",
    r"minor axis needs a major axis": "two fields of a target",
    r"smaller than the aperture": "two fields of a telescope",
    r"factor is (below|above) 1": "the function of a corrector and its factor",
    r"focal lengths must rise|lower end of the range|longest length must not": "rows and ranges that rise",
    r"for all twelve months or for none": "a year's nights, or nothing",
    r"wavelengths must rise": "rows that rise, and see something",
    r"of no length is no": "the function of a ring and its length",
    r"shaft must end beyond": "two fields of a shaft",
    r"a filter that the holder does not carry": "a place among the filters of the same item",
    r"has a fixed length": "only an adjustable part is set",
    r"a light path has one": "one telescope, focuser and camera",
    r"minimum altitude cannot be above": "two fields of the preferences",
    r"is in the table already|wider than the size": "the connector table",
    r"rigs? needs? a site|no site": "a night is planned at a place",
    r"anything to do this night": "a night that is begun has something in it",
    r"log: ": "a text that is read as a guide log",
    r"runs in real time": "only a rehearsal can be hurried",
    r"need a site": "hours and altitude are asked of a place",
    r"there is no (joint|part) \d+": "a place in the rig that is given with it",
    r"needs one of its own": "an idempotency key that made something of another kind",
    r"is not a latitude and a longitude": "a place as people write it",
    r"cannot be accepted of|days from the night|ends after it began": "two fields of a session",
    r" cannot be -?[\d.e+-]+ ?(mm|steps|°|s|″|′); allowed": "a mark lies in the range of its sort",
    r"says the same already, or has no place": "a mark that changes a rig",
    r"neither PDF nor PNG|no JPEG or PNG": "a body that is a picture or a document",
    r"archive: ": "a body that is an archive",
    r"not JSON|not text in UTF-8": "a body that is read as text",
}  # fmt: skip
PATIENCE_S = 3600.0  # a busy machine is no fault
# Bodies that are files: every text is taken, and what cannot be read of it is told line by line.
FILES = ("/parts.csv", "/targets/file", "/sky/horizon", "/jobs/{kind}")

_folder = tempfile.TemporaryDirectory()
_store = Store(Path(_folder.name) / "fuzz.sqlite")
seed_demo(_store)
schema = schemathesis.openapi.from_asgi(
    "/api/v1/openapi.json", create_app(_store, Settings(host_names=("testserver",)))
)
schema.config.request_timeout = PATIENCE_S
OPERATIONS = {operation.label: operation for operation in (item.ok() for item in schema.get_all_operations())}
CALLS = count()
if "DRAVEL_FUZZ" in os.environ:  # for `make soak`
    atexit.register(lambda: print(f"{next(CALLS):,} generated calls"))
EXAMPLES = int(os.environ.get("DRAVEL_FUZZ", "1"))


def cleaned(body: object) -> bool:
    """Whether any text in a body is changed as it is cleaned."""
    if isinstance(body, str):
        return clean(body, lines=True) != body
    inner = body.values() if isinstance(body, dict) else body if isinstance(body, list) else ()
    return any(cleaned(item) for item in inner)


def unexplained(failure: Failure, case: schemathesis.Case, answer: schemathesis.Response) -> bool:
    """Whether a failure is none of those that are explained above."""
    name = type(failure).__name__
    if name == "AcceptedNegativeData":
        # A text too long may be one of a fit length once what no file can carry is out of it.
        shorter = "violates `maxLength`" in failure.message and cleaned(case.body)
        return not case.operation.path.endswith(FILES) and not shorter
    if name == "RejectedPositiveData":
        loads = json.loads(answer.text)
        reasons = [fault["reason"] for fault in loads["errors"]] or [loads["detail"]]
        return any(not any(re.search(pattern, reason) for pattern in SAID_IN_WORDS) for reason in reasons)
    return True


def told(failure: Failure, case: schemathesis.Case, answer: schemathesis.Response) -> str:
    """A failure in few words."""
    return f"{failure.title}: {answer.text[:600]}\n{failure.message[:600]}\n{case.as_curl_command()[:1200]}"


# A stream ends with its reader: to wait for its end is to wait for ever.
ENDLESS = ("GET /api/v1/night/events", GenerationMode.POSITIVE)
CASES = [case for label in OPERATIONS for mode in GenerationMode if (case := (label, mode)) != ENDLESS]


@pytest.mark.parametrize(("label", "mode"), CASES, ids=lambda item: getattr(item, "value", item))
def test_the_document_tells_the_truth(label, mode):
    # Whole rigs are slow to invent: one example each way, no shrinking, the same ones every time; `make soak` asks for more.
    @settings(
        max_examples=EXAMPLES, deadline=None, derandomize=True, database=None, phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )  # fmt: skip
    @given(OPERATIONS[label].as_strategy(generation_mode=mode))
    def call(case):
        answer = case.call()
        next(CALLS)
        try:
            case.validate_response(answer, checks=CHECKS)
        except FailureGroup as group:
            left = [exception for exception in group.exceptions if unexplained(exception, case, answer)]
            assert not left, told(left[0], case, answer)
        except Failure as failure:
            assert not unexplained(failure, case, answer), told(failure, case, answer)

    try:
        call()
    except Unsatisfiable:
        assert mode is GenerationMode.NEGATIVE, "nothing that the document allows can be invented"
