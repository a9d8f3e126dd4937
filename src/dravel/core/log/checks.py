"""A session as it was typed made whole, and what of a session is doubtful: told, never refused."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Annotated
from zoneinfo import ZoneInfo

import numpy as np
from pydantic import AwareDatetime, Field

from dravel.core.model import Preferences, Site
from dravel.core.model.base import Document, Evening, Identifier, Name, Note, Quantity
from dravel.core.model.session import FAR_DAYS, SessionConditions, SessionLoss, SessionRecord, SessionSubs, WorkedMark
from dravel.core.model.words import Text, Value, clock, day, text
from dravel.core.sky.altaz import frame_of, julian
from dravel.core.sky.bodies import sun_roughly
from dravel.core.sky.evenings import named
from dravel.core.sky.night import night_of, up_along

CLOCK = r"^(([01]\d|2[0-3]):[0-5]\d)?$"
PAUSES = 1.1  # of the light, by the clock; Dravel's own
DAYLIGHT_DEG = 0.0


class TypedSession(Document):
    """A night as somebody types it in a minute: rig, evening, subs; the rest may stay empty. Without a beginning it began
    at dusk. Times on the site's own clock (`from_clock`, `until_clock`) before noon are of the morning after.
    """

    rig_id: Identifier
    night: Evening
    site: Annotated[str, Field(title="Site", max_length=120)] = ""
    began: AwareDatetime | None = None
    ended: AwareDatetime | None = None
    from_clock: Annotated[str, Field(title="From, on the site's clock", pattern=CLOCK)] = ""
    until_clock: Annotated[str, Field(title="Until, on the site's clock", pattern=CLOCK)] = ""
    subs: Annotated[tuple[SessionSubs, ...], Field(title="Subs", max_length=400)] = ()
    losses: Annotated[tuple[SessionLoss, ...], Field(title="Losses", max_length=100)] = ()
    conditions: SessionConditions = SessionConditions()
    marks: Annotated[tuple[WorkedMark, ...], Field(title="Marks", max_length=200)] = ()
    people: Annotated[tuple[Name, ...], Field(title="People", max_length=40)] = ()
    revision: Annotated[int | None, Quantity("Revision of the rig", "", 0, 1_000_000)] = None
    note: Note = ""


@dataclass(frozen=True)
class Beside:
    """Another session, as far as it may be in the way: its span, and what it took."""

    id: str
    rig_id: str
    rig: str
    night: str
    began: datetime
    ended: datetime
    simulated: bool


def whole(given: TypedSession, rig: str, revision: int, site: Site | None, preferences: Preferences) -> SessionRecord:
    """The record of a typed session. Raises `ValueError` with the field where times contradict one another."""
    began, ended = (
        _on_clock(clock, given.night, site) if clock else moment
        for clock, moment in ((given.from_clock, given.began), (given.until_clock, given.ended))
    )
    if began is None and ended is not None and abs((ended.date() - given.night).days) > FAR_DAYS:
        raise ValueError(f"ended: more than {FAR_DAYS} days from the night it is said to be of")
    light = sum(sub.taken * sub.sub_s for sub in given.subs)
    if began is None:
        began = _dusk(site, given.night, preferences)
        if ended is not None and ended < began:
            began = ended - timedelta(seconds=min(light * PAUSES, 36 * 3600))
    ended = ended or began + timedelta(seconds=min(light * PAUSES, 36 * 3600))
    return SessionRecord(
        night=given.night, site=given.site or (site.name if site else "no site"), rig_id=given.rig_id, rig=rig,
        rig_revision=given.revision if given.revision is not None else revision, origin="typed", began=began,
        ended=ended, subs=given.subs, losses=given.losses, conditions=given.conditions, marks=given.marks,
        people=given.people, note=given.note,
    )  # fmt: skip


def session_warnings(
    record: SessionRecord, own_id: str, site: Site | None, others: Sequence[Beside], today: date, *, put_away: bool = False
) -> tuple[Text, ...]:  # fmt: skip
    """What is doubtful of a session: another of the same rig at the same time, more light than time, the sun above the
    horizon, an evening of another date, a rig that was put away.
    """
    lines = []
    for other in others:
        if other.id == own_id or other.rig_id != record.rig_id or other.simulated != record.simulated:
            continue
        if min(other.ended, record.ended) - max(other.began, record.began) > timedelta(minutes=1):
            lines.append(
                text(
                    "overlaps the {rig} session of {night}: subs may count twice",
                    rig=other.rig,
                    night=named(date.fromisoformat(other.night)),
                )
            )
    light = sum(sub.taken * sub.sub_s for sub in record.subs)
    open_s = (record.ended - record.began).total_seconds()
    if light > open_s + 60:
        lines.append(
            text(
                "{light} of subs in {open_s}: counted twice, or wrong times",
                light=Value(light / 3600, form="long"),
                open_s=Value(open_s / 3600, form="long"),
            )
        )
    if site is not None and open_s > 0:
        lines += _times(record, site)
    if record.night > today:
        lines.append(text("evening in the future"))
    if put_away:
        lines.append(text("{rig} is archived; the session still counts", rig=record.rig))
    return tuple(dict.fromkeys(lines))


def _times(record: SessionRecord, site: Site) -> list[Text]:
    zone = ZoneInfo(site.timezone)
    local = record.began.astimezone(zone)
    evening = (local - timedelta(hours=12)).date()
    lines = []
    if evening != record.night:
        lines.append(
            text(
                "started {at} on {day} at {site}: that is the night of {evening}, not {night}",
                at=clock(local),
                day=day(local),
                site=site.name,
                evening=named(evening),
                night=named(record.night),
            )
        )
    middle = record.began + (record.ended - record.began) / 2
    if _sun_is_up(middle, site):
        lines.append(
            text(
                "at mid-session, {zone} at {site}, the sun was up: wrong time zone?",
                zone=clock(middle.astimezone(zone)),
                site=site.name,
            )
        )
    return lines


def _sun_is_up(at: datetime, site: Site) -> bool:
    jd = np.array([julian(at)])
    height = up_along(sun_roughly(jd), jd, site.latitude_deg, site.longitude_deg, frame_of(jd))
    return bool(height[0] > np.sin(np.radians(DAYLIGHT_DEG)))


def _on_clock(clock: str, day: date, site: Site | None) -> datetime:
    """A time of a night on the site's clocks, UTC; the morning is that of the day after."""
    at = time.fromisoformat(clock)
    zone = ZoneInfo(site.timezone) if site is not None else UTC
    return datetime.combine(day + timedelta(days=at.hour < 12), at, zone).astimezone(UTC)


def _dusk(site: Site | None, day: date, preferences: Preferences) -> datetime:
    """When it gets dark; nine in the evening UTC without a site, sunset or ten by the clock where it never gets dark."""
    if site is None:
        return datetime.combine(day, time(21), UTC)
    night = night_of(site, day)
    jd = night.dusk(preferences.darkness) or night.sunset
    if jd is None:
        return datetime.combine(day, time(22), ZoneInfo(site.timezone)).astimezone(UTC)
    return night.local(jd).astimezone(UTC).replace(microsecond=0)
