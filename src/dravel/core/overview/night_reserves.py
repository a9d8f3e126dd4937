"""What is left over a night: energy in the battery, and how far the glass stays above the dew."""

from collections.abc import Sequence

from dravel.core.engine.context import Context
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, text
from dravel.core.overview.sequence import NightStep
from dravel.core.physics import dew

POINTS = 13


class TonightReserve(Model):
    """Something that runs down, as a share of what there is at the start (`shares`, at the `seconds` from noon), in words."""

    name: str
    seconds: tuple[float, ...]
    shares: tuple[float, ...]
    least: float
    words: Text


def reserves(context: Context, steps: Sequence[NightStep]) -> tuple[TonightReserve, ...]:
    """What a rig has left from its set-up to the end of the packing; nothing where that is not known."""
    if not steps:
        return ()
    begin, end = steps[0].start_s, steps[-1].end_s
    at = tuple(round(begin + (end - begin) * k / (POINTS - 1)) for k in range(POINTS))
    results = []
    lasts = context.known.get("power.hours_left_h")
    source = context.rig.supply.source
    if lasts and source is not None and not source.mains:
        left = tuple(max(0.0, lasts - (item - begin) / 3600) for item in at)
        words = (
            text("{left} left at the end", left=Value(left[-1], form="long"))
            if left[-1] > 0
            else "empty before the end"
        )
        shares = tuple(round(item / lasts, 3) for item in left)
        results.append(TonightReserve(name="battery", seconds=at, shares=shares, least=0.0, words=words))
    margin = context.known.get("power.dew_margin_k")
    if margin is not None:
        # The air cools by so much over a night, the dew point stays: the margin is known of the night's own temperature.
        length = max(end - begin, 1.0) / 3600
        kelvin = dew.night_air(margin, [(item - begin) / 3600 for item in at], length)
        top = max(float(kelvin.max()), context.preferences.dew_margin_k, 1.0)
        results.append(
            TonightReserve(
                name="optics above dew point",
                seconds=at,
                shares=tuple(round(max(float(item), 0.0) / top, 3) for item in kelvin),
                least=round(min(1.0, context.preferences.dew_margin_k / top), 3),
                words=text("{kelvin} at the end", kelvin=Value(kelvin[-1], "K", 1)),
            )
        )
    return tuple(results)
