"""The night as iCalendar, read back by a second parser; a night over the change of the clocks."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
import vobject

from dravel.catalogue.demo import RIDGE, scenario
from dravel.core.overview.tonight import tonight
from dravel.core.steps import STEPS
from dravel.formats.night_calendar import as_ics

RIGS = dict(scenario().rigs)


@pytest.mark.parametrize("day", [date(2026, 12, 9), date(2026, 10, 24)])
def test_a_second_parser_reads_every_run_at_its_time(day):
    plan = tonight([(name, STEPS.context(RIGS[name], tonight=day)) for name in ("heron", "bittern")], RIDGE, day)
    read = vobject.readOne(as_ics(plan, datetime(2026, 10, 1, tzinfo=UTC)).decode())
    events = {event.summary.value: event for event in read.vevent_list}
    runs = [(rig, run) for rig in plan.rigs for run in rig.runs]
    assert runs and len(read.vevent_list) == len(runs) + len(plan.jobs)
    for rig, run in runs:
        event = events[f"{rig.name}: {run.name}"]
        assert event.dtstart.value == plan.noon + timedelta(minutes=5 * run.start)
        assert event.dtend.value - event.dtstart.value == timedelta(minutes=5 * (run.end - run.start))
        # The clock that the page shows is the site's.
        assert f"{event.dtstart.value.astimezone(ZoneInfo(RIDGE.timezone)):%H:%M}" == run.from_words
        assert event.location.value == RIDGE.name
    assert len({event.uid.value for event in read.vevent_list}) == len(read.vevent_list)
