"""Fixes over odd rigs and shelves: none does harm in silence, none changes the heart of a rig over a strain."""

import random

import jsonpatch
import pytest

from dravel.catalogue.demo import RIDGE, scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.engine import fixes
from dravel.core.model import SEVERITY, Camera, Evaluation, GuideScope, Placed, Rig, Telescope, worst
from dravel.core.model.inventory import HAD, parts_of, same
from dravel.core.overview.cost import cost
from dravel.core.steps import STEPS
from tests.core.test_odd_rigs import odd_rig

Verdicts = dict[tuple[str, str | None], str]


def verdicts(told: Evaluation) -> Verdicts:
    return {(f.code, f.subject): f.verdict for f in told.findings}


def heart(rig: Rig) -> list[str]:
    return [same(item.part) for item in rig.path if isinstance(item.part, Telescope | Camera)]


def fixed(rig: Rig, fix) -> Rig:
    document = jsonpatch.apply_patch(rig.model_dump(mode="json"), [o.model_dump() for o in fix.change])
    return Rig.model_validate(document)


def look_at_fixes(rig: Rig, shelf) -> int:
    """How many fixes were looked at; fails where one is not worth taking."""
    evaluation = STEPS.evaluate(rig, shelf=shelf, sites=(RIDGE,))
    before, seen = verdicts(evaluation), 0
    for finding in evaluation.findings:
        for fix in finding.fixes:
            seen += 1
            after_rig = fixed(rig, fix)  # what a save would take
            after = STEPS.evaluate(after_rig)
            if finding.verdict == "warning":
                assert heart(after_rig) == heart(rig), fix.label
            # A subject that is new may stand in for one that went: only those that stay are held against the fix.
            worse = [
                f for f in after.findings
                if (f.code, f.subject) in before and SEVERITY[f.verdict] < SEVERITY[before[f.code, f.subject]]
            ]  # fmt: skip
            assert {f.title for f in worse} <= set(fix.costs), fix.label
            assert fix.all_told == "ok" or fix.costs or fix.leads_to != "ok"
            assert SEVERITY[fix.all_told] <= SEVERITY[worst([fix.leads_to, *(f.verdict for f in worse)])]
            new = {same(p): p for p in parts_of(after_rig) if same(p) not in {same(q) for q in parts_of(rig)}}
            assert set(fix.buys) == {p.name for p in new.values() if p.status not in HAD}
    breaking = {f.code for f in evaluation.findings if f.verdict == "problem"}
    assert all(
        line.why == "in the rig" or str(line.why)[:3].rstrip(":") in breaking
        for line in cost(rig, evaluation, shelf).shopping
    )
    return seen


def test_fixes_of_the_demo_rigs_are_worth_taking(demo):
    assert sum(look_at_fixes(rig, demo.parts) for _, rig in demo.rigs) > 20


@pytest.mark.parametrize("block", range(2))
def test_fixes_of_odd_rigs_are_worth_taking(block):
    seen = 0
    for seed in range(300 + block * 8, 308 + block * 8):
        dice = random.Random(seed)
        shelf = tuple(
            p.model_copy(update={"status": dice.choice(["owned", "wished", "borrowed"])})
            for p in starter_shelf()
            if dice.random() < 0.7
        )
        seen += look_at_fixes(odd_rig(seed), shelf)
    assert seen > 10


def test_a_planetary_camera_is_no_cure_for_a_sampling_of_stars():
    rig = dict(scenario().rigs)["heron"]
    small = [p for p in starter_shelf() if isinstance(p, Camera) and p.sensor.width_mm < 10]
    assert small
    for finding in STEPS.evaluate(rig, shelf=small).findings:
        assert not [fix.label for fix in finding.fixes if any(p.name in fix.label for p in small)], finding.code


def test_strains_come_onto_the_shopping_list_on_request(demo):
    rig = dict(demo.rigs)["magpie"]
    evaluation = STEPS.evaluate(rig, shelf=demo.parts)
    few, many = (cost(rig, evaluation, demo.parts, warnings=warnings).shopping for warnings in (False, True))
    assert {line.name for line in few} <= {line.name for line in many}
    codes = {f.code for f in evaluation.findings if f.verdict == "problem"}
    assert all(str(line.why).split(":")[0] in codes for line in few if line.why != "in the rig")


def the_finding(rig: Rig, code: str, shelf=()):
    return next(f for f in STEPS.evaluate(rig, shelf=shelf).findings if f.code == code)


def off_axis_without(rig: Rig, **more) -> Rig:
    path = tuple(item for item in rig.path if item.part.kind != "off_axis_guider")
    return rig.model_copy(update={"path": path, "guide": rig.guide.model_copy(update={"method": "off_axis"}), **more})


def test_off_axis_guiding_without_a_guider_gets_one_in_its_place(demo):
    """The prism ahead of the filters, the guide camera in focus behind it, the guide scope off."""
    rig = dict(demo.rigs)["bittern"]
    scope = Placed(part=part("guide-50"), off_mm=150)
    bare = off_axis_without(rig, riders=(*rig.riders, scope))
    fix = next(m for m in the_finding(bare, "S8", demo.parts).fixes if "remove the guide scope" in m.label)
    after = fixed(bare, fix)
    order = [item.part.kind for item in after.path]
    assert order.index("off_axis_guider") < order.index("filter_holder")
    assert not any(isinstance(placed.part, GuideScope) for placed in after.riders)
    assert fix.all_told == the_finding(after, "S8").verdict == the_finding(after, "S9").verdict == "ok"


def test_off_axis_guiding_without_room_for_a_guider_goes_back_to_the_scope(demo):
    bare = off_axis_without(dict(demo.rigs)["heron"])
    fixes = the_finding(bare, "S8", demo.parts).fixes
    assert [fix.label for fix in fixes] == ["Guide through the 50 mm f/4 guide scope on the tube"]
    assert fixes[0].all_told == "ok"


def test_a_rig_of_very_many_targets_is_looked_at_so_far_and_says_so(demo, monkeypatch):
    """Two hundred mosaics of 900 tiles: a bounded number of changes is tried, breaks first, and the rest is told."""
    tried = []
    anew = fixes.FixSearch._tried_anew
    monkeypatch.setattr(fixes.FixSearch, "_tried_anew", lambda self, edits: tried.append(edits) or anew(self, edits))
    rig = dict(demo.rigs)["heron"]
    first = rig.framings[0]
    many = tuple(
        first.model_copy(
            update={
                "target": first.target.model_copy(update={"id": f"t{i}", "name": f"T{i}", "dec_deg": float(i % 160 - 80)}),
                "centre_dec_deg": float(i % 160 - 80), "columns": 30, "rows": 30,
            }
        )
        for i in range(200)
    )  # fmt: skip
    evaluation = STEPS.evaluate(rig.model_copy(update={"framings": many, "counterweights": ()}), shelf=demo.parts)
    assert 0 < len(tried) <= fixes.MOST_LOOKS / 201 + 1
    weights = next(f for f in evaluation.findings if f.code == "L3")
    assert weights.verdict == "problem" and weights.fixes  # the whole rig's break comes before any target's
    assert any(f.untried for f in evaluation.findings if f.verdict != "ok")
    assert not any(f.untried for f in STEPS.evaluate(rig, shelf=demo.parts).findings)


def test_what_puts_right_never_undoes_the_cure_nor_changes_the_heart(demo):
    """Over rigs begun from nothing: each fix leads where it says, all told, and keeps telescope and camera."""
    shop = {p.id: p for p in demo.parts}
    for glass, eye, head in (("triplet-86", "colour-18", "equatorial-13"), ("newtonian-150", "colour-18", "equatorial-20"),
                             ("schmidt-203", "colour-aps", "equatorial-20"), ("doublet-72", "dslr-aps", "tracker-5")):  # fmt: skip
        rig = Rig.model_validate(
            {"name": "New", "path": [{"part": shop[glass]}, {"part": shop[eye]}], "mount": shop[head],
             "support": shop["tripod-steel"]}
        )  # fmt: skip
        evaluation = STEPS.evaluate(rig, shelf=demo.parts)
        for finding in evaluation.findings:
            for fix in finding.fixes:
                after = STEPS.evaluate(fixed(rig, fix))
                said = [f.verdict for f in after.findings if (f.code, f.subject) == (finding.code, finding.subject)]
                assert worst(said) == fix.leads_to, (glass, finding.code, fix.label)
                assert SEVERITY[fix.leads_to] > SEVERITY[finding.verdict], (glass, finding.code, fix.label)
                if finding.verdict == "warning":
                    assert heart(fixed(rig, fix)) == heart(rig)
