"""Evenings as practitioners name them, with the moon of each: what a choice of night is made from."""

from calendar import month_abbr, month_name
from datetime import UTC, date, datetime, time, timedelta

import numpy as np

from dravel.core.model import Site
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Value, text
from dravel.core.sky.altaz import julian
from dravel.core.sky.bodies import moon

FIRST, LAST = date(1950, 1, 1), date(2099, 12, 31)  # the theories of sun and moon hold between
WEEKS = 6
HALF_A_YEAR = 183  # days
AROUND = 32  # days either way: a lunation is 29.53 long. Source: Meeus, Astronomical Algorithms, ch. 49


class EveningMoon(Model):
    """An evening and the lit share of the moon in its middle; `month` says whether it lies in the month that is shown."""

    day: date
    number: int
    lit: float
    waxing: bool
    month: bool
    words: Text


class EveningChoice(Model):
    """The chosen evening by name, those beside it, and six weeks of evenings around its month.

    `earlier` and `later` are missing at the ends of what can be computed.
    """

    day: date
    tonight: date
    is_tonight: bool
    words: Text
    moon: Text
    earlier: date | None
    later: date | None
    new_moon_before: date | None
    new_moon_after: date | None
    month: str
    month_before: date | None
    month_after: date | None
    evenings: tuple[EveningMoon, ...]


def named(day: date, beside: date | None = None) -> str:
    """A night by its two days: ``25–26 Nov``; with the year where it is half a year or more from `beside`, so that
    last June is not taken for the next.
    """
    after = day + timedelta(days=1)
    first = f"{day.day}" if day.month == after.month else f"{day.day} {month_abbr[day.month]} "
    year = "" if beside is not None and abs((day - beside).days) < HALF_A_YEAR else f" {after.year}"
    return f"{first}–{' ' if first.endswith(' ') else ''}{after.day} {month_abbr[after.month]}{year}"  # thin where one month


def evening_choice(day: date, tonight: date, site: Site | None = None) -> EveningChoice:
    """What there is to choose from around an evening; the moon as a site sees it, else the Earth's middle line."""
    month_first = day.replace(day=1)
    grid_first = month_first - timedelta(days=month_first.weekday())
    start = max(min(grid_first, day - timedelta(days=AROUND)), FIRST)
    end = min(max(grid_first + timedelta(days=7 * WEEKS), day + timedelta(days=AROUND + 1)), LAST + timedelta(days=1))
    days = [start + timedelta(days=k) for k in range((end - start).days)]
    lit = _lit(days, site)
    new = [days[k] for k in range(1, len(days) - 1) if lit[k] <= lit[k - 1] and lit[k] < lit[k + 1]]
    evenings = tuple(
        EveningMoon(
            day=item, number=item.day, lit=float(lit[k]), waxing=bool(lit[min(k + 1, len(days) - 1)] > lit[k]),
            month=item.month == day.month, words=text('{one}, moon {lit}', one=named(item, tonight), lit=Value(lit[k], form='share')),
        )
        for k, item in enumerate(days)
        if grid_first <= item < grid_first + timedelta(days=7 * WEEKS)
    )  # fmt: skip
    return EveningChoice(
        day=day,
        tonight=tonight,
        is_tonight=day == tonight,
        words=text("tonight, {day}", day=named(day, tonight)) if day == tonight else named(day, tonight),
        moon=text("moon {lit}", lit=Value(lit[days.index(day)], form="share")),
        earlier=_within(day - timedelta(days=1)),
        later=_within(day + timedelta(days=1)),
        new_moon_before=next((item for item in reversed(new) if item < day and _within(item)), None),
        new_moon_after=next((item for item in new if item > day and _within(item)), None),
        month=f"{month_name[day.month]} {day.year}",
        month_before=_within(_a_month_on(day, -1)),
        month_after=_within(_a_month_on(day, 1)),
        evenings=evenings,
    )


def _lit(days: list[date], site: Site | None) -> "np.ndarray[tuple[int], np.dtype[np.float64]]":
    """Lit share of the moon at each night's middle, by the sun's clock of the place."""
    east = site.longitude_deg if site else 0.0
    jd = np.array([julian(datetime.combine(day, time(0), UTC)) + 1 - east / 360 for day in days])
    return np.asarray(moon(jd, site.latitude_deg if site else 0.0, east).illuminated)


def _within(day: date) -> date | None:
    return day if FIRST <= day <= LAST else None


def _a_month_on(day: date, by: int) -> date:
    month = day.year * 12 + day.month - 1 + by
    first = date(month // 12, month % 12 + 1, 1)
    longest = (date((month + 1) // 12, (month + 1) % 12 + 1, 1) - first).days
    return first.replace(day=min(day.day, longest))
