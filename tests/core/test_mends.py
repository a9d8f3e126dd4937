"""Mends over odd rigs and shelves: none does harm in silence, none changes the heart of a rig over a strain."""

import random

import jsonpatch
import pytest

from dravel.catalogue.demo import RIDGE, scenario
from dravel.catalogue.starter_shelf import starter_shelf
from dravel.core.model import SEVERITY, Camera, Evaluation, Rig, Telescope, worst
from dravel.core.model.inventory import HAD, parts_of, same
from dravel.core.overview.cost import cost
from dravel.core.steps import STEPS
from tests.core.test_odd_rigs import odd_rig

Verdicts = dict[tuple[str, str | None], str]


def verdicts(told: Evaluation) -> Verdicts:
    return {(f.code, f.subject): f.verdict for f in told.findings}


def heart(rig: Rig) -> list[str]:
    return [same(item.part) for item in rig.path if isinstance(item.part, Telescope | Camera)]


def mended(rig: Rig, mend) -> Rig:
    document = jsonpatch.apply_patch(rig.model_dump(mode="json"), [o.model_dump() for o in mend.change])
    return Rig.model_validate(document)


def look_at_mends(rig: Rig, shelf) -> int:
    """How many mends were looked at; fails where one is not worth taking."""
    told = STEPS.evaluate(rig, shelf=shelf, sites=(RIDGE,))
    before, seen = verdicts(told), 0
    for found in told.findings:
        for mend in found.mends:
            seen += 1
            after_rig = mended(rig, mend)  # what a save would take
            after = STEPS.evaluate(after_rig)
            if found.verdict == "strains":
                assert heart(after_rig) == heart(rig), mend.label
            # A subject that is new may stand in for one that went: only those that stay are held against the mend.
            worse = [
                f for f in after.findings
                if (f.code, f.subject) in before and SEVERITY[f.verdict] < SEVERITY[before[f.code, f.subject]]
            ]  # fmt: skip
            assert {f.title for f in worse} <= set(mend.costs), mend.label
            assert mend.all_told == "holds" or mend.costs or mend.leads_to != "holds"
            assert SEVERITY[mend.all_told] <= SEVERITY[worst([mend.leads_to, *(f.verdict for f in worse)])]
            new = {same(p): p for p in parts_of(after_rig) if same(p) not in {same(q) for q in parts_of(rig)}}
            assert set(mend.buys) == {p.name for p in new.values() if p.status not in HAD}
    breaking = {f.code for f in told.findings if f.verdict == "breaks"}
    assert all(
        line.why == "in the rig" or line.why[:3].rstrip(":") in breaking for line in cost(rig, told, shelf).shopping
    )
    return seen


def test_mends_of_the_demo_rigs_are_worth_taking(demo):
    assert sum(look_at_mends(rig, demo.parts) for _, rig in demo.rigs) > 20


@pytest.mark.parametrize("block", range(2))
def test_mends_of_odd_rigs_are_worth_taking(block):
    seen = 0
    for seed in range(300 + block * 8, 308 + block * 8):
        dice = random.Random(seed)
        shelf = tuple(
            p.model_copy(update={"status": dice.choice(["owned", "wished", "borrowed"])})
            for p in starter_shelf()
            if dice.random() < 0.7
        )
        seen += look_at_mends(odd_rig(seed), shelf)
    assert seen > 10


def test_a_planetary_camera_is_no_cure_for_a_sampling_of_stars():
    rig = dict(scenario().rigs)["heron"]
    small = [p for p in starter_shelf() if isinstance(p, Camera) and p.sensor.width_mm < 10]
    assert small
    for found in STEPS.evaluate(rig, shelf=small).findings:
        assert not [mend.label for mend in found.mends if any(p.name in mend.label for p in small)], found.code


def test_strains_come_onto_the_shopping_list_on_request(demo):
    rig = dict(demo.rigs)["magpie"]
    told = STEPS.evaluate(rig, shelf=demo.parts)
    few, many = (cost(rig, told, demo.parts, strains=strains).shopping for strains in (False, True))
    assert {line.name for line in few} <= {line.name for line in many}
    codes = {f.code for f in told.findings if f.verdict == "breaks"}
    assert all(line.why.split(":")[0] in codes for line in few if line.why != "in the rig")
