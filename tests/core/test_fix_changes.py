"""What a fix says of itself is what it does: taken, the rig is judged so, has these parts, and costs this much."""

import json
from collections import Counter
from datetime import date
from functools import lru_cache

import jsonpatch
import pytest

from dravel.catalogue.demo import scenario
from dravel.core.engine.fixes import _ends_so, _spend
from dravel.core.model import Evaluation, Finding, Preferences, Price, Rig
from dravel.core.model.inventory import parts_of
from dravel.core.model.words import Text, Value, shown
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope

AUTUMN = date(2026, 11, 25)
DEMO = scenario()
RIGS = dict(DEMO.rigs)
SEVERITY = {"problem": 0, "warning": 1, "ok": 2}


@lru_cache
def judged(name: str) -> Evaluation:
    return evaluated(RIGS[name], DEMO.parts)


def evaluated(rig: Rig, shelf=None) -> Evaluation:
    return STEPS.evaluate(rig, Preferences(), shelf, tonight=AUTUMN, sites=DEMO.sites)


def fixes(name: str):
    return [(finding, fix) for finding in judged(name).findings for fix in finding.fixes]


def taken(name: str, fix) -> tuple[Rig, Evaluation]:
    """The rig with the fix, judged; what would mend it further is not looked for."""
    return patched(name, json.dumps([operation.model_dump(mode="json") for operation in fix.change]))


@lru_cache
def patched(name: str, patch: str) -> tuple[Rig, Evaluation]:
    rig = Rig.model_validate(jsonpatch.apply_patch(RIGS[name].model_dump(mode="json"), patch))
    return rig, evaluated(rig)


def same_subject(findings: tuple[Finding, ...], finding: Finding) -> list[Finding]:
    return [item for item in findings if (item.code, item.subject) == (finding.code, finding.subject)]


@pytest.mark.parametrize("name", RIGS)
def test_what_a_fix_leads_to_is_what_its_rule_says_then(name):
    for finding, fix in fixes(name):
        _, after = taken(name, fix)
        said = same_subject(after.findings, finding)
        verdict = min((item.verdict for item in said), key=SEVERITY.__getitem__, default="ok")
        assert verdict == fix.leads_to, (finding.code, fix.label)
        assert SEVERITY[verdict] > SEVERITY[finding.verdict]
        if fix.result:
            assert fix.result in {item.measure for item in said}, (finding.code, fix.label)


def counted(evaluation: Evaluation) -> Counter[tuple[str, str]]:
    """How often each rule says a verdict or a worse one."""
    bad = Counter((finding.code, "warning") for finding in evaluation.findings if finding.verdict != "ok")
    return bad + Counter((finding.code, "problem") for finding in evaluation.findings if finding.verdict == "problem")


@pytest.mark.parametrize("name", RIGS)
def test_a_fix_names_all_that_it_makes_worse(name):
    """A joint that is new and as bad as one that is gone is no worse: a rule is worse by how often it complains."""
    before = counted(judged(name))
    for finding, fix in fixes(name):
        _, after = taken(name, fix)
        now = counted(after)
        worse = {
            (item.verdict, item.title)
            for item in after.findings
            if item.verdict != "ok" and now[item.code, item.verdict] > before[item.code, item.verdict]
        }
        assert not any(verdict == "problem" for verdict, _ in worse), (finding.code, fix.label)
        if fix.all_told == "ok":
            assert not fix.costs and not worse, (finding.code, fix.label)


@pytest.mark.parametrize("name", RIGS)
def test_what_comes_in_and_goes_out_is_signed(name):
    """A part is added where there are more of it after, and is removed where there are fewer."""
    for finding, fix in fixes(name):
        rig, _ = taken(name, fix)
        counts = [Counter(part.name for part in parts_of(item)) for item in (RIGS[name], rig)]
        came, went = (counts[1] - counts[0]).total(), (counts[0] - counts[1]).total()
        signs = Counter(change.sign for change in fix.changes)
        assert signs["+"] <= came and signs["−"] <= went, (finding.code, fix.label)
        assert str(fix.changes[0].words) in fix.label


@pytest.mark.parametrize("name", RIGS)
def test_a_fix_that_is_bought_says_what_it_costs(name):
    for finding, fix in fixes(name):
        rig, _ = taken(name, fix)
        here = {part.name for part in parts_of(RIGS[name])}
        new = {part.name: part for part in parts_of(rig) if part.name not in here}
        assert set(fix.buys) <= {part.name for part in parts_of(rig)}
        priced = [new[buy] for buy in fix.buys if buy in new and new[buy].price is not None]
        if priced and len(priced) == len(fix.buys):
            assert fix.spend == _spend(tuple(priced)), (finding.code, fix.label)
        if not fix.buys:
            assert not fix.spend


@pytest.mark.parametrize(
    ("prices", "words"),
    [
        ([], ""),
        ([None], ""),
        ([Price(amount=45, currency="EUR"), None], "45 EUR"),
        ([Price(amount=45, currency="EUR"), Price(amount=1200, currency="EUR")], "1,245 EUR"),
        ([Price(amount=45, currency="USD"), Price(amount=10, currency="EUR")], "10 EUR + 45 USD"),
        ([Price(amount=0, currency="EUR")], "0 EUR"),
    ],
)
def test_sums_are_by_currency(prices, words):
    parts = tuple(a_camera(price=price) for price in prices)
    assert _spend(parts) == words


def spoken(evaluation: Evaluation):
    """Every sentence of a judged rig: title, measure, limits, reason and fixes of every finding."""
    for finding in evaluation.findings:
        yield from ((finding.code, item) for item in (finding.title, finding.measure, finding.reason) if item)
        for fix in finding.fixes:
            yield from ((finding.code, item) for item in (fix.label, fix.result, fix.spend, *fix.costs) if item)


ODD = {
    "nothing": a_rig(),
    "a bare telescope": a_rig(a_telescope()),
    "a bare camera": a_rig(a_camera()),
    "a corrector and no camera": a_rig(a_telescope(), a_corrector()),
}


@pytest.mark.parametrize("name", [*RIGS, *ODD])
def test_every_number_of_a_finding_is_written_from_its_value(name):
    """A value's words stand in the sentence: what opens under a number is that number."""
    evaluation = judged(name) if name in RIGS else evaluated(ODD[name])
    seen = 0
    for code, sentence in spoken(evaluation):
        for _, value in getattr(sentence, "values", tuple)():
            assert isinstance(value, Value)
            seen += 1
            assert shown(value) in str(sentence), (code, sentence)
    assert seen > 100 or name in ODD


@pytest.mark.parametrize(("label", "result", "same"), [
    ("Set sub length to 900 s", "900 s", True),
    ("Add the 13 mm spacer", "3 mm", False),
    ("Add the 1.5 mm spacer", "5 mm", False),
    ("Bin 2×2", "0.33 px", False),
])  # fmt: skip
def test_a_result_that_the_label_names_is_not_said_twice(label, result, same):
    assert _ends_so(Text(label), Text(result)) is same
