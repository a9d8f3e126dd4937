"""A step costs one folder and one line: a scratch step is seen everywhere steps are; what steps read is declared."""

from datetime import date

import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from dravel.api.app import create_app
from dravel.cli import app
from dravel.config import Settings
from dravel.core.engine.limit import Limit
from dravel.core.model import Rig
from dravel.core.overview.compare import compare
from dravel.core.steps import STEPS
from tests.scratch import SCRATCH, registered


def test_a_scratch_step_is_judged_compared_told_and_served(demo_store, rigs):
    with registered():
        result = STEPS.evaluate(rigs["heron"])
        assert result.headlines["scratch"] == "6 parts"
        assert result.figure("scratch.parts").value == 6
        assert [f.verdict for f in result.findings if f.code == "X1"] == ["warning"]
        sides = compare([(name, rig) for name, rig in rigs.items()], STEPS.context(rigs["heron"]).preferences)
        assert "scratch.parts" in {row.key for row in sides.figures} and "X1" in {row.code for row in sides.rules}
        stdout = CliRunner().invoke(app, ["rules"]).stdout
        assert stdout.splitlines()[-1].split()[:2] == ["X1", "scratch"]
        page = CliRunner().invoke(app, ["rules", "X1"]).stdout
        assert "warning > 3 parts, problem > 6 parts (invented for a test)" in page
        with TestClient(
            create_app(demo_store, Settings(tonight=date(2026, 11, 25))), base_url="http://localhost"
        ) as client:
            assert [step["key"] for step in client.get("/api/v1/steps").json()][-1] == "scratch"
            rig = client.get("/api/v1/rigs/heron").json()["rig"]
            assert client.post("/api/v1/scratch", json={"rig": rig}).json() == {"parts": 6}
            assert client.get("/api/v1/rules/X1").json()["step"] == "scratch"
            assert "/api/v1/scratch" in client.get("/api/v1/openapi.json").json()["paths"]
    assert "X1" not in STEPS.rules and SCRATCH not in list(STEPS)
    assert "scratch" not in STEPS.evaluate(rigs["heron"]).headlines


def test_the_steps_stand_in_the_order_of_work():
    assert [step.key for step in STEPS] == [
        "aim",
        "optics",
        "spacing",
        "mount",
        "guiding",
        "power",
        "exposure",
        "assembly",
        "night",
        "frames",
    ]
    assert all(step.title and step.question.endswith("?") for step in STEPS)
    with pytest.raises(KeyError):
        STEPS["nothing"]


def without(rig: Rig, fields: set[str]) -> Rig:
    """The rig with some fields as an empty one has them."""
    empty = Rig(name="Empty")
    return rig.model_copy(update={field: getattr(empty, field) for field in fields})


def test_a_step_reads_only_what_it_says(rigs):
    """A fix asks only the steps that read what it changes: so a field that a step does not name must not matter."""
    fields = set(Rig.model_fields) - {"name"}
    for step in STEPS:
        assert step.reads <= fields, step.key
        for rig in rigs.values():
            said = [(rule.code, item.subject, item.verdict, item.measure)
                    for rule, item in STEPS.said(STEPS.context(rig, tonight=date(2026, 11, 25)), step.key)]  # fmt: skip
            bare = without(rig, fields - step.reads)
            again = [(rule.code, item.subject, item.verdict, item.measure)
                     for rule, item in STEPS.said(STEPS.context(bare, tonight=date(2026, 11, 25)), step.key)]  # fmt: skip
            assert said == again, step.key


@pytest.mark.parametrize(
    ("limit", "values", "words"),
    [
        (
            Limit(4, 8, "×"),
            {4: "ok", 4.1: "warning", 8: "warning", 9: "problem"},
            "warning > 4×, problem > 8× (common practice)",
        ),
        (
            Limit(1.5, 1, "×", least=True),
            {1.5: "ok", 1.2: "warning", 0.9: "problem"},
            "warning < 1.5×, problem < 1× (common practice)",
        ),
        (
            Limit(0.05, 0.2, "%"),
            {0.05: "ok", 0.06: "warning", 0.3: "problem"},
            "warning > 5%, problem > 20% (common practice)",
        ),
        (Limit(None, 3, "px"), {2: "ok", 4: "problem"}, "problem > 3 px (common practice)"),
    ],
)
def test_a_limit_is_one_value_for_verdict_and_words(limit, values, words):
    assert {value: limit.verdict(value) for value in values} == values
    assert limit.words == words
    assert limit.times(2, "kg").verdict(2.0 * next(iter(values))) == "ok"


def test_every_rule_with_a_limit_says_so_on_its_page():
    limited = {code for code, rule in STEPS.rules.items() if rule.limits}
    assert {"L4", "L8", "G1", "G4", "P3", "S9", "A3", "O1"} <= limited
    for code in limited:
        for limit in STEPS.rules[code].limits:
            assert limit.source and (">" in limit.page or "<" in limit.page), code
