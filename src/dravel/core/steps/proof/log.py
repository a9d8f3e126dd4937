"""A guide log against its mount: each figure beside the rig's own, and which of them is beyond it."""

from dravel.core.engine.context import Context
from dravel.core.frames.guide_log import LogReading

BEYOND = 1.5  # times what the rig reckons with; Dravel's own
PERIOD_NEAR = 0.06  # a share that a period may be off the worm's


def log_words(context: Context, log: LogReading) -> tuple[bool, list[str]]:
    """Whether a log is beyond its rig's budget, and what it says, line by line."""
    known, mount = context.known, context.rig.mount
    budget = known.get("guide_rms")
    told = [f"{log.rows:,} rows over {log.hours:.1f} h, one every {log.interval_s:.1f} s"]
    line = f"RMS {log.ra_rms:.2f}″ in right ascension, {log.dec_rms:.2f}″ in declination"
    beyond = False
    if budget is not None:
        worst = max(log.ra_rms, log.dec_rms)
        beyond = worst > BEYOND * budget
        line += f"; the rig reckons with {budget:.2f}″ per axis: {'beyond it' if beyond else 'within it'}"
    told.append(line)
    if log.dec_drift_arcsec_min is not None and log.ra_drift_arcsec_min is not None:
        told.append(
            f"drift {round(log.ra_drift_arcsec_min, 2) + 0.0:+.2f}″/min in right ascension, {round(log.dec_drift_arcsec_min, 2) + 0.0:+.2f}″/min in declination"
        )
    if log.polar_error_arcmin is not None:
        assumed = context.practice.polar_error_arcmin
        off = log.polar_error_arcmin > BEYOND * assumed
        beyond = beyond or off
        told.append(f"the pole is missed by at least {log.polar_error_arcmin:.1f}′; {assumed:g}′ are taken of it")
    worm = mount.worm_period_s if mount is not None else None
    for one in log.periods:
        words = f"a period of {one.period_s:.0f} s, {2 * one.amplitude_arcsec:.2f}″ from peak to peak"
        if worm and abs(one.period_s / worm - 1) < PERIOD_NEAR:
            words += f": the worm's, {worm:.0f} s"
        elif worm and any(abs(one.period_s * k / worm - 1) < PERIOD_NEAR for k in (2, 3, 4)):
            words += f": a part of the worm's {worm:.0f} s"
        told.append(words)
    if not log.periods:
        told.append("no period stands out")
    if log.backlash_s is not None:
        told.append(f"declination answers after {log.backlash_s:.1f} s of pulses when it turns round: backlash")
    if log.gusts:
        told.append(f"{log.gusts} jumps beyond five sigmas, {log.gust_share:.1%} of the rows: gusts, or cables")
    if log.gaps:
        told.append(f"{log.gaps} gaps, {log.gap_s / 60:.1f} min without a star")
    return beyond, told
