"""The front against the long way round: every combination of small random shelves assembled and evaluated one by one."""

import numpy as np
import pytest

from dravel.core.design.axes import steps_of
from dravel.core.design.front import front, steps_under
from dravel.core.design.loads import trips_of
from dravel.core.design.paths import Paths
from dravel.core.steps import STEPS
from tests.design.hands import PRACTICE, accepted, beaten, bench, scores, small_shelf, some_request

SEEDS = range(8)
MOST = 160  # combinations looked at of one shelf


@pytest.fixture(scope="module", params=SEEDS)
def walked(request):
    """A small shelf, and of its combinations (of many, some) which `evaluate` accepts."""
    result = bench(small_shelf(request.param), some_request(request.param))
    rows = np.arange(result.screen.size)
    if len(rows) > MOST:
        rows = np.sort(np.random.default_rng(request.param).choice(rows, MOST, replace=False))
    rigs = {int(row): result.rig(int(row)) for row in rows}
    return result, rigs, {row for row, rig in rigs.items() if accepted(rig)}


def test_the_screen_never_rules_out_what_evaluate_accepts(walked):
    result, _, good = walked
    # A guided train on a mount that takes no corrections is no design: the same train stands there without its guider.
    deaf = {
        row for row in good
        if result.screen.whole(row).train.flexure is not None and result.screen.whole(row).mount.guide_input == "none"
    }  # fmt: skip
    # A supply that feeds nothing, and none where something draws, are no designs either.
    idle = {row for row in good if not _is_fed(result, row)}
    assert {row for row in good - deaf - idle if not result.screen.works[row]} == set()


def _is_fed(found, row):
    whole = found.screen.whole(row)
    draws = whole.train.peak_w > 0 or whole.mount.power is not None
    return draws == (whole.supply is not None)


def test_the_front_is_that_of_brute_force(walked):
    result, rigs, good = walked
    allowed = result.allowed() & result.screen.works
    among = np.zeros(result.screen.size, dtype=bool)
    among[list(rigs)] = True
    steps = steps_under(result.screen, np.arange(result.screen.size), result.request)
    shown = [row for row, _ in front(result.evaluator, allowed & among, result.request)]
    candidates = [row for row in good if allowed[row]]
    others = steps[candidates]
    best = {tuple(steps[row]) for row in candidates if not beaten(steps[row], others)}
    assert {tuple(steps[row]) for row in shown} == best
    assert len(shown) == len(best), "no two of a front are alike in every step"


def test_what_is_shown_breaks_nothing_and_is_beaten_by_nothing(walked):
    result, _, _ = walked
    allowed = result.allowed() & result.screen.works
    shown = list(front(result.evaluator, allowed, result.request))
    steps = steps_under(result.screen, np.arange(result.screen.size), result.request)
    for row, said in shown[:6]:
        evaluation = STEPS.evaluate(said.whole, PRACTICE)
        assert evaluation.verdict != "problem"
        assert evaluation.tally.warning == len(said.warnings) and evaluation.tally.ok == said.ok
        assert not beaten(steps[row], steps[[other for other, _ in shown]])


def test_scores_of_the_arrays_are_those_of_the_documents(walked):
    result, rigs, _ = walked
    for row, rig in list(rigs.items())[:40]:
        if rig is not None and result.screen.affordable[row]:
            assert steps_of(scores(result, row, rig)) == tuple(result.screen.steps[row])


def test_trips_are_counted_as_the_load_step_counts_them(walked):
    result, rigs, good = walked
    rows = np.array(sorted(good), dtype=np.int64)
    counted = trips_of(result.screen, rows)
    for row, trips in zip(rows, counted, strict=True):
        assert result.evaluator.said(int(row)).trips == trips, rigs[int(row)].name


def test_a_condition_that_fails_is_a_rule_that_breaks(walked):
    result, rigs, _ = walked
    screen = result.screen
    for row, rig in rigs.items():
        if rig is None:
            continue
        pair = screen._pairs[screen.mount[row]]
        for code in ("L1", "L2", "L4", "L7", "L8", "L12", "G4"):
            if code in pair.broken and pair.broken[code][screen.train[row]]:
                context = STEPS.context(rig, PRACTICE)
                assert any(judgement.verdict == "problem" for judgement in STEPS.rules[code].judgements(context)), (
                    code,
                    rig.name,
                )


def test_choices_that_are_passed_over_could_not_have_been_laid():
    for seed in (1, 4):
        result = bench(small_shelf(seed), some_request(seed))
        paths = Paths(result.screen.table.shop, result.screen.brief)
        for choice in list(paths.choices())[:150]:
            if not paths.may_work(choice):
                assert paths.laid(choice) is None


def test_order_of_the_weights_leaves_the_front_as_it_is():
    result = bench(small_shelf(3), some_request(3))
    allowed = result.allowed() & result.screen.works
    steps = steps_under(result.screen, np.arange(result.screen.size), result.request)
    fronts = []
    for goals in ({"fit": 1.0, "money": 0.0}, {"fit": 0.0, "mass": 1.0}, {"speed": 1.0, "ease": 0.0}):
        request = result.request.model_copy(update={"goals": result.request.goals.model_copy(update=goals)})
        fronts.append({tuple(steps[row]) for row, _ in front(result.evaluator, allowed, request)})
    assert fronts[0] == fronts[1] == fronts[2]
