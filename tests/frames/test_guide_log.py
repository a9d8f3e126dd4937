"""Guide logs of known errors: sine, drift, backlash, gusts, gaps; and what is no log."""

import tracemalloc

import numpy as np
import pytest

from dravel.catalogue.demo import scenario
from dravel.core.frames.guide_log import GuideLog, ShortLog, read_log
from dravel.core.steps import STEPS
from dravel.core.steps.frames.log import log_words
from dravel.formats.guide_log_csv import NotALog, read

RNG = np.random.default_rng(1)
TIME = np.arange(0, 3 * 3600, 2.0)


def quiet(size=0.3):
    return RNG.normal(0, size, len(TIME))


def test_a_known_sine_is_found_with_its_period_and_height():
    result = read_log(GuideLog(TIME, quiet() + 2.0 * np.sin(2 * np.pi * TIME / 479), quiet()))
    first = result.periods[0]
    assert abs(first.period_s / 479 - 1) < 0.01 and abs(first.amplitude_arcsec / 2 - 1) < 0.05


@pytest.mark.parametrize("height", [0.25, 0.5])
def test_a_small_sine_is_found_too(height):
    result = read_log(GuideLog(TIME, quiet() + height * np.sin(2 * np.pi * TIME / 432), quiet()))
    assert result.periods and abs(result.periods[0].period_s / 432 - 1) < 0.02


def test_noise_alone_has_no_period():
    false = sum(bool(read_log(GuideLog(TIME, quiet(), quiet())).periods) for _ in range(12))
    assert false == 0


def test_drift_of_an_unguided_log_tells_the_least_error_of_the_pole():
    """One minute of arc drifts by 0.262″ a minute on the meridian (drift method; common practice)."""
    drift = 0.262516 * 5 / 60 * TIME
    result = read_log(GuideLog(TIME, quiet(), quiet() + drift), guided=False)
    assert abs(result.polar_error_arcmin - 5) < 0.1 and abs(result.dec_drift_arcsec_min - 1.3126) < 0.02
    assert read_log(GuideLog(TIME, quiet(), quiet() + drift)).polar_error_arcmin is None


def test_rms_is_told_with_the_drift_taken_off():
    result = read_log(GuideLog(TIME, quiet(0.5) + 0.001 * TIME, quiet(0.8)))
    assert abs(result.ra_rms - 0.5) < 0.02 and abs(result.dec_rms - 0.8) < 0.02 and abs(result.rms - 0.943) < 0.03


def test_gusts_and_gaps_are_counted():
    ra = quiet()
    ra[[200, 201, 1500, 3000]] += 6
    kept = (TIME < 4000) | (TIME > 4300)
    result = read_log(GuideLog(TIME[kept], ra[kept], quiet()[kept]))
    assert result.gusts == 3 and result.gaps == 1 and abs(result.gap_s - 302) < 4


def test_rows_without_a_star_and_out_of_order_do_no_harm():
    order = RNG.permutation(len(TIME))
    ra = quiet()
    ra[::50] = np.nan
    result = read_log(GuideLog(TIME[order], ra[order], quiet()[order]))
    assert result.rows == len(TIME) - len(TIME[::50]) and result.interval_s == 2


@pytest.mark.parametrize("count", [0, 1, 19])
def test_too_few_rows_are_told(count):
    with pytest.raises(ShortLog, match="at least 20"):
        read_log(GuideLog(TIME[:count], quiet()[:count], quiet()[:count]))


def test_backlash_is_the_pulses_until_the_star_answers():
    time, error, pulse, slack, left = np.arange(0, 4000, 2.0), [], [], 1.5, 0.0
    position, way, wait = 0.0, 1, 0.0
    for k in range(len(time)):
        if k % 40 == 0:
            way, wait, position = -way, slack, -0.8 * -way * -1
        push = 0.5 * -np.sign(position) if abs(position) > 0.2 else 0.0
        error.append(position + RNG.normal(0, 0.01))
        pulse.append(push * 1000)
        if push:
            left = max(0.0, wait - abs(push))
            position += np.sign(push) * max(0.0, abs(push) - wait) * 0.9 * (1 if wait < abs(push) else 0)
            wait = left
    log = GuideLog(time, np.array(error) * 0 + RNG.normal(0, 0.1, len(time)), np.array(error), None, np.array(pulse))
    result = read_log(log)
    assert result.backlash_s is None or 0.5 <= result.backlash_s <= 3
    assert read_log(GuideLog(TIME, quiet(), quiet())).backlash_s is None


def test_a_log_is_held_against_its_mount():
    context = STEPS.context(dict(scenario().rigs)["heron"])
    worm = context.rig.mount.worm_period_s
    good = read_log(GuideLog(TIME, quiet(0.4), quiet(0.4)))
    assert log_words(context, good)[0] is False
    bad = read_log(GuideLog(TIME, quiet(1.2) + 3 * np.sin(2 * np.pi * TIME / (worm or 480)), quiet(1.2)))
    beyond, answer = log_words(context, bad)
    assert beyond and any("beyond it" in line for line in answer)
    assert worm is None or any("worm" in line for line in answer)


def test_a_log_is_read_from_csv():
    text = "time_s;ra_error_arcsec;dec_error_arcsec;dec_pulse_ms\n# a comment\n" + "".join(
        f"{2 * k};0.{k % 10};-0.{k % 7};{'' if k % 3 else 120}\n" for k in range(60)
    )
    log = read(text.encode())
    assert len(log.time_s) == 60 and log.dec_pulse_ms is not None and log.ra_pulse_ms is None
    assert read_log(log).rows == 60


@pytest.mark.parametrize(("content", "said"), [
    (b"", "lacks time_s"), (b"time_s,ra_error_arcsec\n1,2\n", "dec_error_arcsec"), (b"\xff\xfe\x00", "UTF-8"),
    (b"\x00" * 500, "lacks|not CSV"),
])  # fmt: skip
def test_what_is_no_log_is_told(content, said):
    with pytest.raises(NotALog, match=said):
        read(content)


@pytest.mark.parametrize(("steps", "stray"), [(2.0, 1e7 - 1), (1e-4, 9e6), (1e-4, 40.0)])
def test_a_stray_row_costs_no_memory_and_the_rest_is_read_as_without_it(steps, stray):
    """One row at ten million seconds made a grid of five million points a second's worth of log."""
    time = steps * np.arange(600)
    error = np.sin(2 * np.pi * time / (60 * steps)) + np.random.default_rng(1).normal(0, 0.05, 600)
    strayed = GuideLog(np.append(time, stray), np.append(error, 0.0), np.append(error, 0.0))
    tracemalloc.start()
    result = read_log(strayed)
    most = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert most < 5_000_000 and result.gaps <= 1
    assert result.periods and result.periods[0].period_s == pytest.approx(60 * steps, rel=0.02)
