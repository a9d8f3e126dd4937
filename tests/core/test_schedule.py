"""The schedule of a night against brute force over all orders, and against an integer program; its properties."""

from itertools import permutations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from ortools.sat.python import cp_model

from dravel.core.sky.schedule import Job, schedule


def job(key: str, worth: list[float], is_open: list[bool], need: int, least: int = 1, setup: int = 0) -> Job:
    return Job(key, np.array(worth, dtype=float), np.array(is_open, dtype=bool), need, least, setup)


def brute(jobs: list[Job], slots: int) -> float:
    """Every order of every choice, every start and length."""

    def after(order: tuple[Job, ...], now: int) -> float:
        if not order:
            return 0.0
        item, result = order[0], after(order[1:], now)
        for start in range(now + item.setup, slots):
            for end in range(start + max(item.least, 1), min(start + item.need, slots) + 1):
                if not item.open[start:end].all():
                    break
                result = max(result, float(item.worth[start:end].sum()) + after(order[1:], end))
        return result

    return max(after(order, 0) for order in permutations(jobs))


def program(jobs: list[Job], slots: int) -> float:
    """The same as an integer program: one interval a job, none overlapping, set-up before it."""
    model = cp_model.CpModel()
    gains, spans = [], []
    for i, item in enumerate(jobs):
        choices = []
        for start in range(item.setup, slots):
            for end in range(start + max(item.least, 1), min(start + item.need, slots) + 1):
                if not item.open[start:end].all():
                    break
                taken = model.new_bool_var(f"{i} {start} {end}")
                choices.append(taken)
                gains.append(round(1000 * float(item.worth[start:end].sum())) * taken)
                spans.append(
                    model.new_optional_fixed_size_interval_var(start - item.setup, end - start + item.setup, taken, "")
                )
        model.add_at_most_one(choices)
    model.add_no_overlap(spans)
    model.maximize(sum(gains) if gains else 0)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    assert solver.solve(model) in (cp_model.OPTIMAL, cp_model.FEASIBLE)
    return solver.objective_value / 1000


@st.composite
def small(draw: st.DrawFn, most: int = 3, slots: int = 9) -> list[Job]:
    return [
        job(
            f"job {i}",
            draw(st.lists(st.integers(0, 9), min_size=slots, max_size=slots)),
            draw(st.lists(st.booleans(), min_size=slots, max_size=slots)),
            draw(st.integers(1, slots)),
            draw(st.integers(1, 3)),
            draw(st.integers(0, 2)),
        )
        for i in range(draw(st.integers(1, most)))
    ]


@settings(max_examples=60)
@given(small())
def test_it_is_as_good_as_brute_force(jobs):
    runs = schedule(jobs, 9)
    assert sum(run.worth for run in runs) == pytest.approx(brute(jobs, 9))


@settings(max_examples=25)
@given(small(most=5, slots=24))
def test_it_is_as_good_as_an_integer_program(jobs):
    assert sum(run.worth for run in schedule(jobs, 24)) == pytest.approx(program(jobs, 24), abs=0.01)


@given(small(most=4, slots=30))
def test_runs_never_overlap_and_stay_in_their_windows(jobs):
    known = {entry.key: entry for entry in jobs}
    runs, free = schedule(jobs, 30), 0
    assert len({run.key for run in runs}) == len(runs)
    for run in runs:
        item = known[run.key]
        assert run.start >= free + item.setup and item.open[run.start : run.end].all()
        assert max(item.least, 1) <= run.end - run.start <= item.need
        free = run.end


def test_a_pinned_job_stays_and_the_rest_goes_round_it():
    always = [True] * 10
    jobs = [job("a", [1] * 10, always, 4), job("b", [2] * 10, always, 4)]
    assert schedule(jobs, 10)[0].start == 0
    pinned = schedule(jobs, 10, {"a": 3})
    assert next(run for run in pinned if run.key == "a").start == 3
    assert sum(run.worth for run in pinned) == 3 + 2 * 4  # it yields a slot to b, which comes after
    assert schedule(jobs, 10, {"a": 40})[0].key == "b"


def test_nothing_to_shoot_is_no_fault():
    assert schedule([], 10) == () and schedule([job("a", [1], [False], 1)], 1) == ()
    with pytest.raises(ValueError, match="values for 3 slots"):
        schedule([job("a", [1], [True], 1)], 3)
    many = [job(f"job {i}", [i + 1] * 12, [True] * 12, 1) for i in range(14)]
    assert len(schedule(many, 12)) == 9  # the nine worth most
