"""What a fix says of itself is what it does: taken, the rig is judged so, has these parts, and costs this much."""

from collections import Counter
from datetime import date
from functools import lru_cache

import jsonpatch
import pytest

from dravel.catalogue.demo import scenario
from dravel.core.engine.mends import _ends_so, _spend
from dravel.core.model import Evaluation, Finding, Practice, Price, Rig
from dravel.core.model.inventory import parts_of
from dravel.core.model.words import Text, Value, shown
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope

AUTUMN = date(2026, 11, 25)
DEMO = scenario()
RIGS = dict(DEMO.rigs)
SEVERITY = {"breaks": 0, "strains": 1, "holds": 2}


@lru_cache
def judged(name: str) -> Evaluation:
    return evaluated(RIGS[name])


def evaluated(rig: Rig) -> Evaluation:
    return STEPS.evaluate(rig, Practice(), DEMO.parts, tonight=AUTUMN, sites=DEMO.sites)


def mends(name: str):
    return [(finding, mend) for finding in judged(name).findings for mend in finding.mends]


def taken(name: str, mend) -> tuple[Rig, Evaluation]:
    patch = [operation.model_dump() for operation in mend.change]
    rig = Rig.model_validate(jsonpatch.apply_patch(RIGS[name].model_dump(mode="json"), patch))
    return rig, evaluated(rig)


def same_subject(findings: tuple[Finding, ...], finding: Finding) -> list[Finding]:
    return [one for one in findings if (one.code, one.subject) == (finding.code, finding.subject)]


@pytest.mark.parametrize("name", RIGS)
def test_what_a_fix_leads_to_is_what_its_rule_says_then(name):
    for finding, mend in mends(name):
        _, after = taken(name, mend)
        said = same_subject(after.findings, finding)
        verdict = min((one.verdict for one in said), key=SEVERITY.__getitem__, default="holds")
        assert verdict == mend.leads_to, (finding.code, mend.label)
        assert SEVERITY[verdict] > SEVERITY[finding.verdict]
        if mend.result:
            assert mend.result in {one.measure for one in said}, (finding.code, mend.label)


def counted(evaluation: Evaluation) -> Counter[tuple[str, str]]:
    """How often each rule says a verdict or a worse one."""
    bad = Counter((one.code, "strains") for one in evaluation.findings if one.verdict != "holds")
    return bad + Counter((one.code, "breaks") for one in evaluation.findings if one.verdict == "breaks")


@pytest.mark.parametrize("name", RIGS)
def test_a_fix_names_all_that_it_makes_worse(name):
    """A joint that is new and as bad as one that is gone is no worse: a rule is worse by how often it complains."""
    before = counted(judged(name))
    for finding, mend in mends(name):
        _, after = taken(name, mend)
        now = counted(after)
        worse = {
            (one.verdict, one.title)
            for one in after.findings
            if one.verdict != "holds" and now[one.code, one.verdict] > before[one.code, one.verdict]
        }
        assert not any(verdict == "breaks" for verdict, _ in worse), (finding.code, mend.label)
        if mend.all_told == "holds":
            assert not mend.costs and not worse, (finding.code, mend.label)


@pytest.mark.parametrize("name", RIGS)
def test_what_comes_in_and_goes_out_is_signed(name):
    """A part is added where there are more of it after, and is removed where there are fewer."""
    for finding, mend in mends(name):
        rig, _ = taken(name, mend)
        counts = [Counter(part.name for part in parts_of(one)) for one in (RIGS[name], rig)]
        came, went = (counts[1] - counts[0]).total(), (counts[0] - counts[1]).total()
        signs = Counter(one.sign for one in mend.changes)
        assert signs["+"] <= came and signs["−"] <= went, (finding.code, mend.label)
        assert str(mend.changes[0].words) in mend.label


@pytest.mark.parametrize("name", RIGS)
def test_a_fix_that_is_bought_says_what_it_costs(name):
    for finding, mend in mends(name):
        rig, _ = taken(name, mend)
        here = {part.name for part in parts_of(RIGS[name])}
        new = {part.name: part for part in parts_of(rig) if part.name not in here}
        assert set(mend.buys) <= {part.name for part in parts_of(rig)}
        priced = [new[one] for one in mend.buys if one in new and new[one].price is not None]
        if priced and len(priced) == len(mend.buys):
            assert mend.spend == _spend(tuple(priced)), (finding.code, mend.label)
        if not mend.buys:
            assert not mend.spend


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
        yield from ((finding.code, one) for one in (finding.title, finding.measure, finding.reason) if one)
        for mend in finding.mends:
            yield from ((finding.code, one) for one in (mend.label, mend.result, mend.spend, *mend.costs) if one)


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
