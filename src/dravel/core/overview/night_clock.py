"""Slots of a night and the clock on its wall; things that happen at a time."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from dravel.core.model.base import Model
from dravel.core.model.words import Text, Words
from dravel.core.sky.altaz import moment_of
from dravel.core.sky.night import STEP_MIN, Night


class TonightEvent(Model):
    """Something that happens to a rig, in slots from noon (they may lie between)."""

    slot: float
    time: str
    what: Text
    hands: bool


def noon_of(night: Night) -> datetime:
    """Where the slots begin, UTC, to the minute: a Julian date is good to some milliseconds only."""
    return (moment_of(float(night.jd[0])) + timedelta(seconds=30)).replace(second=0, microsecond=0)


def clock(night: Night, slot: float) -> datetime:
    """A slot on the site's clocks."""
    return (noon_of(night) + timedelta(minutes=slot * STEP_MIN)).astimezone(ZoneInfo(night.site.timezone))


def time_at(night: Night, slot: float) -> str:
    """A slot as its hour and minute."""
    return f"{clock(night, slot):%H:%M}"


def event(night: Night, slot: float, what: Words, *, hands: bool = False) -> TonightEvent:
    """Something at a slot."""
    return TonightEvent(slot=round(slot, 2), time=time_at(night, slot), what=what, hands=hands)
