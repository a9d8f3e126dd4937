"""A guide log read for what it says of the mount: error by axis, drift, periodic error, backlash, gusts, gaps.

Errors are those of the guide star against its place, in arcseconds on the sky, over seconds.
"""

import itertools
from dataclasses import dataclass
from math import radians, sqrt

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

LEAST_ROWS = 20
GAP_TIMES, GAP_S = 4.0, 10.0  # a gap is so many times the usual interval, and at least so long
PEAK_OVER_MEDIAN = 30.0  # a period is claimed only so far above the power around it; shown by simulated logs
GUST_SIGMAS = 5.0
SPARSE = 2.0  # times its rows that a log may span in intervals before its gaps are more than its rows
DRIFT_S = 120.0  # a log shorter than this says nothing of drift
SIDEREAL_DEG_S = 360.985647 / 86_400  # the sky's turn; Explanatory Supplement
BACKLASH_LEAST = 3  # reversals before backlash is claimed


@dataclass(frozen=True)
class GuideLog:
    """Rows of a log: time in s, errors in ″; pulses in ms where the log has them (0 for none). Arrays of shape (n,)."""

    time_s: Array
    ra_arcsec: Array
    dec_arcsec: Array
    ra_pulse_ms: Array | None = None
    dec_pulse_ms: Array | None = None


@dataclass(frozen=True)
class Period:
    """A sine in the right-ascension error: its period in s, its half height in ″, and its power over the median's."""

    period_s: float
    amplitude_arcsec: float
    over_median: float


@dataclass(frozen=True)
class LogReading:
    """What a log says. RMS in ″ per axis with the drift taken off; drift in ″/min; None where it cannot be told."""

    rows: int
    hours: float
    interval_s: float
    ra_rms: float
    dec_rms: float
    ra_drift_arcsec_min: float | None
    dec_drift_arcsec_min: float | None
    polar_error_arcmin: float | None
    periods: tuple[Period, ...]
    backlash_s: float | None
    gusts: int
    gust_share: float
    gaps: int
    gap_s: float

    @property
    def rms(self) -> float:
        """Both axes together, ″."""
        return sqrt(self.ra_rms**2 + self.dec_rms**2)


class ShortLog(ValueError):
    """The log has too few rows to say anything."""


def read_log(log: GuideLog, *, guided: bool = True) -> LogReading:
    """What a guide log says of its mount. Raises `ShortLog` for fewer than twenty rows that have both errors.

    Of a guided log the drift is what the corrections left; the error of the pole is told of unguided logs alone: a star on the
    meridian drifts in declination by ω · ε (drift method; common practice), 0.26″ a minute for each minute of arc. Elsewhere it
    drifts less, so it is the least the error can be.
    """
    keep = np.isfinite(log.time_s) & np.isfinite(log.ra_arcsec) & np.isfinite(log.dec_arcsec)
    if keep.sum() < LEAST_ROWS:
        raise ShortLog(f"{int(keep.sum())} rows with both errors; at least {LEAST_ROWS} are needed to say anything")
    order = np.argsort(log.time_s[keep], kind="stable")
    time, ra, dec = (values[keep][order] for values in (log.time_s, log.ra_arcsec, log.dec_arcsec))
    fresh = np.concatenate([[True], np.diff(time) > 0])
    time, ra, dec = time[fresh], ra[fresh], dec[fresh]
    if len(time) < LEAST_ROWS:
        raise ShortLog(f"{len(time)} rows with both errors; at least {LEAST_ROWS} are needed to say anything")
    steps = np.diff(time)
    usual = float(np.median(steps))
    gaps = steps > max(GAP_TIMES * usual, GAP_S)
    long = float(time[-1] - time[0])
    ra_slope, ra_rest = _without_drift(time, ra)
    dec_slope, dec_rest = _without_drift(time, dec)
    quiet = _robust(np.hypot(ra_rest, dec_rest))
    jumps = np.hypot(ra_rest, dec_rest) > GUST_SIGMAS * quiet
    starts = int(np.count_nonzero(np.diff(np.concatenate([[False], jumps]).astype(int)) > 0))
    drifts = long >= DRIFT_S
    polar = None
    if not guided and drifts:
        # ω · ε, ε in radians of arc: a star on the meridian drifts fastest. A lower bound of the error.
        polar = abs(dec_slope) / (radians(SIDEREAL_DEG_S)) / 60
    return LogReading(
        rows=len(time), hours=long / 3600, interval_s=usual, ra_rms=float(np.std(ra_rest)), dec_rms=float(np.std(dec_rest)),
        ra_drift_arcsec_min=ra_slope * 60 if drifts else None, dec_drift_arcsec_min=dec_slope * 60 if drifts else None,
        polar_error_arcmin=polar, periods=periods(time, ra_rest), backlash_s=_backlash(log, keep, order, fresh, time, dec),
        gusts=starts, gust_share=float(jumps.mean()), gaps=int(gaps.sum()), gap_s=float(steps[gaps].sum()),
    )  # fmt: skip


def _without_drift(time: Array, error: Array) -> tuple[float, Array]:
    """Slope in ″/s and what is left of an error beside it."""
    centred = time - time.mean()
    spread = float(centred @ centred)
    slope = float(centred @ (error - error.mean()) / spread) if spread > 0 else 0.0
    return slope, error - error.mean() - slope * centred


def _robust(distance: Array) -> float:
    """The sigma per axis of a cloud of errors, from the median of their distances (Rayleigh: 1.1774 σ); at least a little."""
    return max(float(np.median(distance)) / 1.1774, 1e-3)


def periods(time: Array, error: Array) -> tuple[Period, ...]:
    """Sines that stand out of an error, the strongest first: at most three, none longer than a third of the log.

    Power by the Fourier transform of the error on an even grid, of the longest stretch where gaps prevail; a peak counts when it stands well over the power around it.
    """
    step = float(np.median(np.diff(time)))
    if (time[-1] - time[0]) / step > SPARSE * len(time):
        # Mostly gaps, or a stray row: what lies between is nobody's measurement, so that only the longest stretch is asked.
        time, error = _longest_stretch(time, error, max(GAP_TIMES * step, GAP_S))
        if (time[-1] - time[0]) / step > SPARSE * len(time):
            return ()
    count = int((time[-1] - time[0]) / step) + 1
    if count < 2 * LEAST_ROWS:
        return ()
    even = np.interp(time[0] + step * np.arange(count), time, error)
    window = np.hanning(count)
    spectrum = np.abs(np.fft.rfft((even - even.mean()) * window, 4 * count)) ** 2
    frequency = np.asarray(np.fft.rfftfreq(4 * count, step), dtype=np.float64)
    long = count * step
    first, last = int(np.searchsorted(frequency, 3 / long)), int(np.searchsorted(frequency, 0.5 / step))
    results: list[Period] = []
    power = spectrum.copy()
    for _ in range(3):
        if last - first < 8:
            break
        at = first + int(np.argmax(power[first:last]))
        # The power around: errors of guiding are louder at long periods, so the whole band would hide or invent a peak.
        low, high = max(first, at // 2), min(last, at * 2)
        around = float(np.median(spectrum[low:high])) if high - low > 8 else float(np.median(spectrum[first:last]))
        around = max(around, float(np.median(spectrum[first:last])) / 2)
        over = float(power[at]) / max(around, 1e-12)
        if over < PEAK_OVER_MEDIAN:
            break
        peak = _refined(frequency, power, at)
        results.append(Period(1 / peak, _height(time, error, peak), over))
        wide = 16  # the window's main lobe, four times finer
        power[max(0, at - wide) : at + wide + 1] = 0.0
    return tuple(results)


def _longest_stretch(time: Array, error: Array, gap_s: float) -> tuple[Array, Array]:
    """The rows of the longest stretch without a gap."""
    edges = np.concatenate([[0], np.flatnonzero(np.diff(time) > gap_s) + 1, [len(time)]])
    at = int(np.argmax(np.diff(edges)))
    part = slice(int(edges[at]), int(edges[at + 1]))
    return time[part], error[part]


def _refined(frequency: Array, power: Array, at: int) -> float:
    """A peak between the samples, by a parabola through the logarithm of three."""
    if not 0 < at < len(power) - 1 or min(power[at - 1], power[at], power[at + 1]) <= 0:
        return float(frequency[at])
    before, top, after = (float(np.log(power[at + k])) for k in (-1, 0, 1))
    bend = before - 2 * top + after
    shift = 0.5 * (before - after) / bend if bend < 0 else 0.0
    return float(frequency[at] + shift * (frequency[1] - frequency[0]))


def _height(time: Array, error: Array, frequency: float) -> float:
    """Half height of the sine of a frequency in an error, by least squares."""
    phase = 2 * np.pi * frequency * time
    base = np.stack([np.cos(phase), np.sin(phase), np.ones_like(time)], axis=1)
    fit = np.linalg.lstsq(base, error, rcond=None)[0]
    return float(np.hypot(fit[0], fit[1]))


def _backlash(log: GuideLog, keep: "NDArray[np.bool_]", order: "NDArray[np.int64]", fresh: "NDArray[np.bool_]",
              time: Array, dec: Array) -> float | None:  # fmt: skip
    """Seconds of pulses from a reversal in declination until the star answers; None without pulses or reversals."""
    if log.dec_pulse_ms is None:
        return None
    pulse = np.nan_to_num(log.dec_pulse_ms[keep][order][fresh])
    at = [int(item) for item in np.flatnonzero(pulse)]
    if len(at) < 2:
        return None
    taken = []
    for before, now in itertools.pairwise(at):
        if np.sign(pulse[before]) == np.sign(pulse[now]):
            continue
        # From the reversal on, pulses are summed until the error has moved back the way they push by a part of itself.
        spent, start = 0.0, dec[now]
        for k in range(now, min(now + 40, len(dec))):
            if np.sign(pulse[k]) == -np.sign(pulse[now]):
                break
            if abs(dec[k] - start) > 0.3 * max(abs(start), 0.3) and abs(dec[k]) < abs(start):
                taken.append(spent)
                break
            spent += abs(pulse[k]) / 1000
    return float(np.median(taken)) if len(taken) >= BACKLASH_LEAST else None
