"""A planned night as iCalendar (RFC 5545): runs and what hands do, for any calendar."""

from datetime import UTC, datetime, timedelta

from dravel.core.overview.tonight import TonightPlan

SLOT_MIN = 5
HANDS_MIN = 20  # what a job of hands is shown as; Dravel's own


def as_ics(plan: TonightPlan, made_at: datetime) -> bytes:
    """The night's events, times in UTC. `made_at` is when the file was made, which the format asks for."""
    from icalendar import Calendar, Event

    noon = plan.noon.astimezone(UTC)
    calendar = Calendar()
    calendar.add("prodid", "-//Dravel//Tonight//EN")
    calendar.add("version", "2.0")

    def put(key: str, title: str, words: str, start: float, minutes: float) -> None:
        event = Event()
        begin = noon + timedelta(minutes=round(start * SLOT_MIN))
        event.add("uid", f"{plan.day}-{key}@dravel")
        event.add("dtstamp", made_at.astimezone(UTC))
        event.add("dtstart", begin)
        event.add("dtend", begin + timedelta(minutes=max(minutes, 1)))
        event.add("summary", title)
        event.add("description", words)
        event.add("location", plan.site)
        calendar.add_component(event)

    for rig in plan.rigs:
        for run in rig.runs:
            put(
                f"{rig.rig_id}-{run.target}", f"{rig.name}: {run.name}", str(run.words), run.start,
                (run.end - run.start) * SLOT_MIN,
            )  # fmt: skip
    for i, job in enumerate(plan.jobs):
        put(f"job-{i}", str(job.what), str(plan.words), job.slot, HANDS_MIN)
    made: bytes = calendar.to_ical()
    return made
