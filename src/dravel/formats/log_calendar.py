"""A month of nights as iCalendar (RFC 5545): what was shot and what is planned, each a day's entry."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from dravel.core.log.month import MonthNight


def as_ics(nights: Sequence[MonthNight], written: datetime) -> str:
    """One whole-day event for each thing of a night; the moon and darkness are in its description."""
    from icalendar import Calendar, Event

    made = Calendar()
    made.add("prodid", "-//Dravel//Log//EN")
    made.add("version", "2.0")
    for night in nights:
        for k, thing in enumerate(night.things):
            event = Event()
            rehearsed = " (rehearsed)" if thing.simulated else ""
            event.add("summary", f"{thing.rig}: {'planned, ' if thing.planned else ''}{thing.words}{rehearsed}")
            event.add("description", night.words)
            event.add("dtstart", night.day)
            event.add("dtend", night.day + timedelta(days=1))
            event.add("dtstamp", written)
            event.add("uid", f"{night.day:%Y%m%d}-{k}-{thing.rig.lower().replace(' ', '-')}@dravel")
            made.add_component(event)
    return bytes(made.to_ical()).decode()
