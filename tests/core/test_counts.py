"""A count, a verdict or a title that shows in several places is one answer."""

from datetime import date

import pytest

from dravel.catalogue.demo import RIDGE
from dravel.core.model import Preferences
from dravel.core.overview.board import board
from dravel.core.overview.compare import compare
from dravel.core.sky.curves import night_curve
from dravel.core.sky.night import night_of
from dravel.core.steps import STEPS

TONIGHT = date(2026, 11, 25)


def test_the_board_and_a_comparison_count_as_the_ledger_does(demo):
    rows = board([(key, 1, rig) for key, rig in demo.rigs], demo.targets, Preferences(), tonight=lambda _: TONIGHT).rows
    sides = compare(demo.rigs, Preferences(), tonight=lambda _: TONIGHT).sides
    for (key, rig), row, side in zip(demo.rigs, rows, sides, strict=True):
        own = STEPS.evaluate(rig, Preferences(), tonight=TONIGHT)
        verdicts = [finding.verdict for finding in own.findings]
        assert (own.tally.problem, own.tally.warning, own.tally.ok) == tuple(
            verdicts.count(verdict) for verdict in ("problem", "warning", "ok")
        )
        assert row.tally == side.tally == own.tally, key
        assert row.verdict == side.verdict == own.verdict, key


def test_the_mark_of_a_step_is_its_worst_finding(demo):
    order = ("problem", "warning", "ok")
    for _, rig in demo.rigs:
        own = STEPS.evaluate(rig, Preferences(), tonight=TONIGHT)
        assert set(own.marks) == {finding.step for finding in own.findings}
        for step, mark in own.marks.items():
            assert mark == min((f.verdict for f in own.findings if f.step == step), key=order.index)


def test_a_target_that_does_not_fit_makes_no_rig_dead(demo):
    rows = {row.rig_id: row for row in board([(k, 1, r) for k, r in demo.rigs], demo.targets, Preferences()).rows}
    for key, rig in demo.rigs:
        own = STEPS.evaluate(rig, Preferences())
        assert rows[key].dead == any(mark == "problem" for step, mark in own.marks.items() if step != "aim")


def test_rows_of_a_comparison_carry_the_title_of_the_rule(demo):
    for row in compare(demo.rigs, Preferences()).rules:
        assert row.title == STEPS.rules[row.code].title


def test_the_rail_counts_the_targets_of_the_rig(demo):
    for _, rig in demo.rigs:
        answer = STEPS.evaluate(rig, Preferences()).headlines["aim"]
        assert str(answer).split()[0] == (str(len(rig.framings)) if rig.framings else "no")


def test_the_highest_point_is_told_within_the_darkness(demo):
    for target in demo.targets:
        for month in range(1, 13):
            day = date(2026, month, 15)
            curve, dark = night_curve(target, RIDGE, day, Preferences()), night_of(RIDGE, day)
            if curve.best is None:
                continue
            lit = dark.jd[dark.dark("astronomical")]
            assert (lit[0] - dark.jd[0]) * 24 - 0.1 <= curve.best.hour <= (lit[-1] - dark.jd[0]) * 24 + 0.1
            assert curve.best_altitude <= curve.transit_altitude + 1e-9


@pytest.mark.parametrize(("of", "decimals"), [(3.2, 1), (1300.4, 0)])
def test_nobody_asks_for_a_tenth_of_a_thousand_stars(rigs, of, decimals):
    context = STEPS.context(rigs["heron"], Preferences())
    context.known.put("stars_expected", "n", "usable stars", of, "", "made up")
    assert context.known.figure("stars_expected").decimals == decimals


def test_no_zero_has_a_sign(demo):
    for _, rig in demo.rigs:
        for finding in STEPS.evaluate(rig, Preferences(), tonight=TONIGHT).findings:
            for text in (finding.reason, finding.measure, finding.limit):
                assert "-0 " not in text and "−0 " not in text, text
