"""From which winds on a rig feels it, and the curve of its shake: what rule and picture share."""

from dataclasses import dataclass
from math import sqrt

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.model import Verdict, worst
from dravel.core.steps.mount.balancing import rated_nm
from dravel.core.steps.mount.limits import SHAKE, WIND
from dravel.core.steps.mount.wind import gust_nm, shake_arcsec


@dataclass(frozen=True)
class AtWind:
    """What a wind makes: moment about right ascension in N·m, shake in ″ and in pixels (None without a scale)."""

    moment_nm: float
    share: float
    arcsec: float
    pixels: float | None

    @property
    def verdict(self) -> Verdict:
        """The worse of shake and moment."""
        return worst((WIND.verdict(self.share), SHAKE.verdict(self.pixels or 0.0)))


def at_wind(context: Context, speed_m_s: float) -> AtWind | None:
    """What another wind would make; None without a mount and something on it."""
    known, mount = context.known, context.rig.mount
    if mount is None or "wind_arm" not in known:
        return None
    area = known.value("wind_area")
    about_ra, about_dec = (gust_nm(speed_m_s, area, known.value(arm)) for arm in ("wind_arm", "wind_along"))
    shake, scale = shake_arcsec(about_ra, about_dec, known.value("swing")), known.get("pixel_scale")
    return AtWind(about_ra, about_ra / rated_nm(mount), shake, shake / scale if scale else None)


def felt_and_too_much(context: Context) -> tuple[float | None, float | None]:
    """The wind a rig feels, and the one that is too much, m/s; None where none is: all goes with the wind's square."""
    item = at_wind(context, 1.0)
    if item is None:
        return None, None
    bounds = ((WIND, item.share), (SHAKE, item.pixels or 0.0))

    def first(warning: bool) -> float | None:
        reached = [
            sqrt(bound / value)
            for limit, value in bounds
            if value > 0 and (bound := limit.warning if warning else limit.problem) is not None
        ]
        return min(reached, default=None)

    return first(True), first(False)


def _gusts(known: Known, context: Context) -> None:
    """For what others judge of gusts: the wind's mean speed, and the one that shakes the picture too much."""
    much = felt_and_too_much(context)[1]
    if much is None:
        known.lack("no wind shakes the picture too much", "gust_limit", "gust_mean")
        return
    known.put("gust_limit", "v̂", "gust that shakes the picture too much", much, "m/s", "load and mount")
    known.put("gust_mean", "v", "wind", context.value("wind"), "m/s", "site, else preferences")


GUSTS = FactSource(("gust_limit", "gust_mean"), _gusts)
