"""The rule of narrow filters in fast cones: how much of their line is lost, and which width serves."""

from collections.abc import Iterator
from functools import partial

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Judgement, rule, with_attempts
from dravel.core.model import Filter
from dravel.core.model.words import Value, text
from dravel.core.moves.filters import filters_put_in
from dravel.core.physics.photometry import H_ALPHA_NM, OIII_NM, SII_NM
from dravel.core.steps.exposure.limits import LINE_LOST
from dravel.core.train.throughput import line_kept

LINES = ((H_ALPHA_NM, "Hα"), (OIII_NM, "OIII"), (SII_NM, "SII"))
NARROW_NM = 15.0  # wider windows are not line filters
WIDTHS_NM = (2.5, 3.0, 3.5, 4.0, 4.5, 5.0, 6.0, 7.0, 8.0, 10.0, 12.0, 15.0)  # as they are sold. Common practice


def lost_of(one: Filter, ratio: float, blocked: float) -> tuple[float, str, float] | None:
    """The largest share of a line that a filter loses in a cone, which line, and the filter's width there in nm."""
    results = [
        (1 - line_kept(nm, band.centre_nm, band.width_nm, ratio, blocked), name, band.width_nm)
        for band in one.passbands
        for nm, name in LINES
        if band.width_nm <= NARROW_NM and abs(band.centre_nm - nm) <= band.width_nm / 2
    ]
    return max(results, default=None)


def width_that_serves(nm: float, ratio: float, blocked: float) -> float | None:
    """The narrowest usual width in nm, centred on a line, that loses no more than the limit in a cone; None where none does."""
    return next((w for w in WIDTHS_NM if LINE_LOST.verdict(1 - line_kept(nm, nm, w, ratio, blocked)) == "ok"), None)


@rule(
    "C7",
    "Narrow filters in a fast cone",
    checks="How much of its line a narrowband filter loses at this focal ratio and central obstruction.",
    why="Tilted light passes at shorter wavelengths: in a fast cone the line shifts out of the passband, most of all behind a large secondary mirror, which blocks the axial rays.",
    formula="λ · √(1 − (sin θ / n)²), zone by zone of the open pupil, n = 1.9",
    source="Lissberger & Wilcock 1959 (unverified); limit is a default threshold",
    fix="A wider filter, or one shifted for fast focal ratios.",
    limits=(LINE_LOST,),
)
def narrow_in_a_fast_cone(context: Context) -> Iterator[Judgement]:
    """C7: a narrow filter that a fast cone shifts off its line."""
    telescope, known = context.light.telescope, context.known
    if telescope is None or "focal_ratio" not in known:
        return
    ratio, blocked = known.value("focal_ratio"), telescope.blocked_share
    for item in context.rig.path:
        for entry in item.filters:
            result = lost_of(entry, ratio, blocked)
            if result is None:
                continue
            lost, line, width = result
            verdict = LINE_LOST.verdict(lost)
            cone = text("f/{ratio}", ratio=Value(ratio)) + (
                text(" with {blocked} central obstruction", blocked=Value(blocked, form="share")) if blocked > 0 else ""
            )
            reason = text(
                "At {cone} the {one} ({width}) passes {x} of {line}.",
                cone=cone,
                one=entry.name,
                x=Value(1 - lost, form="share"),
                line=line,
                width=Value(width, "nm"),
            )
            if verdict != "ok":
                nm = next(nm for nm, name in LINES if name == line)
                serves = width_that_serves(nm, ratio, blocked)
                reason += (
                    text(" {serves} is wide enough.", serves=Value(serves, "nm"))
                    if serves
                    else text(" No standard width is wide enough: use a filter made for fast ratios.")
                )
            title = text("Filter in fast cone OK") if verdict == "ok" else text("Filter loses its line")
            judgement = Judgement(
                verdict,
                title,
                reason,
                LINE_LOST.words,
                text("{lost} lost", lost=Value(lost, form="share")),
                subject=entry.name,
            )
            yield with_attempts(judgement, filters_put_in(context, partial(_keeps, entry, ratio, blocked)))


def _keeps(instead_of: Filter, ratio: float, blocked: float, one: Filter) -> bool:
    """Whether a filter is for the same light and keeps its lines in a cone."""
    lost = lost_of(one, ratio, blocked)
    return one.use == instead_of.use and lost is not None and LINE_LOST.verdict(lost[0]) == "ok"
