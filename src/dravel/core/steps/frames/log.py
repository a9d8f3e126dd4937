"""A guide log against its mount: each figure beside the rig's own, and which of them is beyond it."""

from dravel.core.engine.context import Context
from dravel.core.frames.guide_log import LogReading
from dravel.core.model.words import Text, Value, text

BEYOND = 1.5  # times what the rig reckons with; Dravel's own
PERIOD_NEAR = 0.06  # a share that a period may be off the worm's


def log_words(context: Context, log: LogReading) -> tuple[bool, list[Text]]:
    """Whether a log is beyond its rig's budget, and what it says, line by line."""
    known, mount = context.known, context.rig.mount
    budget = known.get("guide_rms")
    lines = [
        text(
            "{rows} rows over {hours}, one every {interval_s}",
            rows=Value(log.rows),
            hours=Value(log.hours, form="long"),
            interval_s=Value(log.interval_s, form="exposure"),
        )
    ]
    line = text("RMS {ra_rms} RA, {dec_rms} Dec", ra_rms=Value(log.ra_rms, "″", 2), dec_rms=Value(log.dec_rms, "″", 2))
    beyond = False
    if budget is not None:
        worst = max(log.ra_rms, log.dec_rms)
        beyond = worst > BEYOND * budget
        line += text(
            "; predicted {budget} per axis: {which}",
            budget=Value(budget, "″", 2),
            which="beyond it" if beyond else "within it",
        )
    lines.append(line)
    if log.dec_drift_arcsec_min is not None and log.ra_drift_arcsec_min is not None:
        lines.append(
            text(
                "drift {ra_drift_arcsec_min}″/min RA, {dec_drift_arcsec_min}″/min Dec",
                ra_drift_arcsec_min=Value(round(log.ra_drift_arcsec_min, 2) + 0.0, digits=2, form="signed"),
                dec_drift_arcsec_min=Value(round(log.dec_drift_arcsec_min, 2) + 0.0, digits=2, form="signed"),
            )
        )
    if log.polar_error_arcmin is not None:
        assumed = context.preferences.polar_error_arcmin
        off = log.polar_error_arcmin > BEYOND * assumed
        beyond = beyond or off
        lines.append(
            text(
                "polar alignment error ≥ {polar_error_arcmin}; assumed {assumed}",
                polar_error_arcmin=Value(log.polar_error_arcmin, "′", 1),
                assumed=Value(assumed, "′"),
            )
        )
    worm = mount.worm_period_s if mount is not None else None
    for period in log.periods:
        words = text(
            "period {period_s}, {x} peak to peak",
            period_s=Value(period.period_s, form="exposure"),
            x=Value(2 * period.amplitude_arcsec, "″", 2),
        )
        if worm and abs(period.period_s / worm - 1) < PERIOD_NEAR:
            words += text(": worm period {worm}", worm=Value(worm, form="exposure"))
        elif worm and any(abs(period.period_s * k / worm - 1) < PERIOD_NEAR for k in (2, 3, 4)):
            words += text(": harmonic of the worm period {worm}", worm=Value(worm, form="exposure"))
        lines.append(words)
    if not log.periods:
        lines.append(text("no significant period"))
    if log.backlash_s is not None:
        lines.append(
            text("Dec backlash: {backlash_s} of pulses at reversal", backlash_s=Value(log.backlash_s, form="time"))
        )
    if log.gusts:
        lines.append(
            text(
                "{gusts} jumps above 5σ, {gust_share} of rows: gusts or cables",
                gusts=log.gusts,
                gust_share=Value(log.gust_share, digits=1, form="share"),
            )
        )
    if log.gaps:
        lines.append(
            text(
                "{gaps} gaps, {gap_s} without guide star", gaps=log.gaps, gap_s=Value(log.gap_s / 60 * 60, form="time")
            )
        )
    return beyond, lines
