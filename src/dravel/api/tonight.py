"""The one place that looks at the clock."""

from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from typing import Annotated
from zoneinfo import ZoneInfo

from fastapi import Depends, Query, Request

from dravel.core.model import Site
from dravel.core.model.base import Evening

Clock = Callable[[Site | None], date]


def tonight(site: Site | None) -> date:
    """The evening of the night under way at a site: before noon it is still last evening's."""
    now = datetime.now(ZoneInfo(site.timezone if site else "UTC"))
    return (now - timedelta(hours=12)).date()


NightQuery = Annotated[Evening | None, Query(description="The night to take for tonight, 1950-01-01 to 2099-12-31")]


async def _clock(request: Request, night: NightQuery = None) -> Clock:
    fixed: date | None = night or request.app.state.tonight
    return tonight if fixed is None else lambda _: fixed


async def _true_clock(request: Request) -> Clock:
    fixed: date | None = request.app.state.tonight
    return tonight if fixed is None else lambda _: fixed


TrueClockDep = Annotated[Clock, Depends(_true_clock)]
ClockDep = Annotated[Clock, Depends(_clock)]


async def _now(request: Request) -> datetime:
    answer: Callable[[], datetime] | None = getattr(request.app.state, "now", None)
    return datetime.now(UTC) if answer is None else answer()


NowDep = Annotated[datetime, Depends(_now)]
