"""A month of nights: the moon, how long it is dark, what was shot and what is planned."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache

from dravel.core.model import Site
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, month, text
from dravel.core.sky.evenings import FIRST, LAST, named
from dravel.core.sky.night import night_of


@dataclass(frozen=True)
class MonthEntry:
    """Something of a night: which rig, in words; `planned` before it was shot, `light_s` after."""

    night: str
    rig: str
    words: str
    planned: bool = False
    light_s: float = 0.0
    simulated: bool = False


class MonthThing(Model):
    """What was shot or is planned."""

    rig: str
    words: Text
    planned: bool
    simulated: bool
    light_s: float


class MonthNight(Model):
    """A night of the month. `dark_h`: hours of darkness, `moonless_h` of them without the moon; the whole night is told
    by `words`.
    """

    day: date
    weekday: int
    lit: float
    waxing: bool
    dark_h: float
    moonless_h: float
    words: Text
    things: tuple[MonthThing, ...]


class MonthOfNights(Model):
    """A month, its nights, and the months before and after it."""

    first: date
    words: Text
    before: date | None
    after: date | None
    today: date | None
    nights: tuple[MonthNight, ...]


def month_of(
    first: date, site: Site, darkness: str, entries: Sequence[MonthEntry], today: date | None = None
) -> MonthOfNights:
    """The month that a day lies in, at a site. Raises `ValueError` outside of what can be computed."""
    if not FIRST <= first <= LAST:
        raise ValueError(f"month: outside {FIRST.year} to {LAST.year}")
    first = first.replace(day=1)
    following = (first + timedelta(days=32)).replace(day=1)
    previous = (first - timedelta(days=1)).replace(day=1) if first > FIRST else None
    by_night: dict[str, list[MonthThing]] = {}
    for entry in entries:
        by_night.setdefault(entry.night, []).append(
            MonthThing(
                rig=entry.rig,
                words=entry.words,
                planned=entry.planned,
                simulated=entry.simulated,
                light_s=entry.light_s,
            )
        )
    nights = []
    for k in range((following - first).days):
        day = first + timedelta(days=k)
        lit, dark_h, moonless_h = _night(site, day, darkness)
        nights.append(
            MonthNight(
                day=day, weekday=day.weekday(), lit=lit,
                waxing=_night(site, day + timedelta(days=1), darkness)[0] > lit, dark_h=dark_h, moonless_h=moonless_h,
                words=text("{day}: {dark_h} dark, {moonless_h} moonless, moon {lit} illuminated", day=named(day), dark_h=Value(dark_h, form='long'), moonless_h=Value(moonless_h, form='long'), lit=Value(lit * 100, '%', 0)),
                things=tuple(by_night.get(day.isoformat(), ())),
            )
        )  # fmt: skip
    return MonthOfNights(
        first=first, words=text('{first} {year}', first=month(first), year=first.year), before=previous, today=today,
        after=following if following <= LAST else None, nights=tuple(nights),
    )  # fmt: skip


@lru_cache(maxsize=2048)
def _night(site: Site, day: date, darkness: str) -> tuple[float, float, float]:
    night = night_of(site, day)
    dark = night.dark(darkness)
    lit = night.lit
    return lit, night.hours(dark), night.hours(dark & ~night.moon_is_up)
