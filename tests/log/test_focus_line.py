"""The focus line against known slopes with noise."""

import numpy as np
import pytest

from dravel.core.log.focus_line import FocusMark, focus_line


def marks(slope, noise, count=12, filters=("red", "blue"), seed=1, low=-5.0, high=15.0):
    rng = np.random.default_rng(seed)
    shift = {"red": 30.0, "blue": 30.4}
    results = []
    for k in range(count):
        warm = float(rng.uniform(low, high))
        behind = filters[k % len(filters)]
        results.append(FocusMark(f"2026-11-{k + 1:02d}", warm, behind, shift[behind] + slope * warm + float(rng.normal(0, noise))))  # fmt: skip
    return results


@pytest.mark.parametrize("slope", [-0.012, -0.03, 0.0, 0.02])
def test_a_known_slope_comes_back_within_its_own_error(slope):
    hits = 0
    for seed in range(60):
        line = focus_line(marks(slope, 0.02, seed=seed), "mm")
        hits += abs(line.slope - slope) <= 2 * line.slope_error
    # Two standard errors with nine degrees of freedom hold 92 % (Student's t).
    assert hits >= 50


def test_the_scatter_is_that_of_the_noise_and_the_filters_keep_their_shift():
    line = focus_line(marks(-0.012, 0.02, count=400), "mm")
    assert line.scatter == pytest.approx(0.02, rel=0.1)
    shifts = {shift.filter: shift.place for shift in line.shifts}
    assert shifts["blue"] - shifts["red"] == pytest.approx(0.4, abs=0.01)
    assert line.at(0.0, "red") == pytest.approx(30.0, abs=0.01) and line.at(0.0, "green") is None


def test_against_numpy_where_there_is_one_filter():
    result = marks(-0.02, 0.05, count=20, filters=("red",))
    line = focus_line(result, "mm")
    slope, _ = np.polyfit([item.temperature_c for item in result], [item.place for item in result], 1)
    assert line.slope == pytest.approx(slope)


def test_one_misread_mark_is_left_out_and_said_so():
    result = marks(-0.012, 0.01, count=12)
    result[5] = FocusMark("2026-11-06", result[5].temperature_c, result[5].filter, result[5].place + 5.0)
    line = focus_line(result, "mm")
    assert [point.left_out for point in line.points].index(True) == 5 and sum(
        point.left_out for point in line.points
    ) == 1
    assert line.slope == pytest.approx(-0.012, abs=0.005)


@pytest.mark.parametrize(("found", "said"), [
    ([], "no mark"),
    ([FocusMark("2026-11-01", 5.0, "", 30.0)], "1 of 3"),
    ([FocusMark(f"2026-11-0{k}", 5.0 + k / 10, "", 30.0) for k in range(1, 6)], "less than 3 K"),
])  # fmt: skip
def test_too_little_tells_no_slope(found, said):
    line = focus_line(found, "mm")
    assert line.slope is None and said in line.because and line.at(0.0) is None


def test_three_marks_give_a_slope_and_an_error():
    line = focus_line(
        [FocusMark("a", 0.0, "", 30.0), FocusMark("b", 10.0, "", 29.9), FocusMark("c", 20.0, "", 29.8)], "mm"
    )
    assert line.slope == pytest.approx(-0.01) and line.scatter == pytest.approx(0, abs=1e-9)
    two = focus_line(
        [FocusMark("a", 0.0, "x", 1.0), FocusMark("b", 8.0, "x", 2.0), FocusMark("c", 3.0, "y", 9.0)], "steps"
    )
    assert two.slope == pytest.approx(0.125) and two.slope_error is None and two.scatter is None
