"""The one place that looks at the clock."""

from collections.abc import Callable
from datetime import date, datetime, timedelta
from typing import Annotated
from zoneinfo import ZoneInfo

from fastapi import Depends, Request

from dravel.core.model import Site

Clock = Callable[[Site | None], date]


def tonight(site: Site | None) -> date:
    """The evening of the night under way at a site: before noon it is still last evening's."""
    now = datetime.now(ZoneInfo(site.timezone if site else "UTC"))
    return (now - timedelta(hours=12)).date()


async def _clock(request: Request) -> Clock:
    fixed: date | None = request.app.state.tonight
    return tonight if fixed is None else lambda _: fixed


ClockDep = Annotated[Clock, Depends(_clock)]
