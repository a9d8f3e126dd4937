"""Sessions from measured frames: those of one evening are one night, by target, filter and length of the sub."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from dravel.core.frames.claims import FrameClaims
from dravel.core.model import Framing, Rig, Site
from dravel.core.model.inventory import parts_of
from dravel.core.model.session import SessionLoss, SessionRecord, SessionSubs
from dravel.core.model.sky import plain_name
from dravel.core.model.words import Text, Value, text
from dravel.core.sky.altaz import directions, separation

NEAR_DEG = 3.0  # a frame whose header names nothing known belongs to a target so near; Dravel's own


@dataclass(frozen=True)
class FrameOfNight:
    """A frame as its header tells of it; `away` where somebody put it away."""

    id: str
    name: str
    claims: FrameClaims
    away: bool


@dataclass(frozen=True)
class NightOfFrames:
    """A night made of frames, and which frames they were."""

    record: SessionRecord
    frames: tuple[str, ...]


def when(claims: FrameClaims) -> datetime | None:
    """When a frame was begun, UTC; None where its header does not tell."""
    try:
        at = datetime.fromisoformat(claims.at)
    except ValueError:
        return None
    return at if at.tzinfo else at.replace(tzinfo=UTC)


def nights_of(
    frames: Sequence[FrameOfNight], rig_id: str, rig: Rig, revision: int
) -> tuple[tuple[NightOfFrames, ...], tuple[Text, ...]]:
    """The nights that frames make, oldest first, and what is to be told: frames without a time, frames measured twice."""
    by_night: dict[date, list[tuple[datetime, FrameOfNight]]] = {}
    seen: set[tuple[str, datetime]] = set()
    untimed = twice = 0
    for frame in frames:
        at = when(frame.claims)
        if at is None:
            untimed += 1
        elif (frame.name, at) in seen:
            twice += 1
        else:
            seen.add((frame.name, at))
            by_night.setdefault(_evening(at, rig.site), []).append((at, frame))
    lines = []
    if untimed:
        lines.append(text("{untimed} frames without time are not used", untimed=untimed))
    if twice:
        lines.append(text("{twice} frames measured twice count once", twice=twice))
    made = tuple(_night(day, sorted(here, key=lambda two: two[0]), rig_id, rig, revision) for day, here in sorted(by_night.items()))  # fmt: skip
    return made, tuple(lines)


def _evening(at: datetime, site: Site | None) -> date:
    """The evening of the night that a moment lies in: from noon to noon on the site's clocks."""
    zone = ZoneInfo(site.timezone) if site is not None else UTC
    return (at.astimezone(zone).replace(tzinfo=None) - timedelta(hours=12)).date()


def _night(
    day: date, frames: Sequence[tuple[datetime, FrameOfNight]], rig_id: str, rig: Rig, revision: int
) -> NightOfFrames:  # fmt: skip
    kinds: dict[tuple[str, str, str, float], list[bool]] = {}
    for _, item in frames:
        target, name = _target(item.claims, rig)
        sub_s = round(item.claims.exposure_s or 0.0, 3)
        kinds.setdefault((target, name, _filter(item.claims, rig), sub_s), []).append(not item.away)
    away = sum(entry.away for _, entry in frames)
    last_at, last = frames[-1]
    warm = [entry.claims.focus for _, entry in frames if entry.claims.focus is not None]
    record = SessionRecord(
        night=day, site=rig.site.name if rig.site else "no site", rig_id=rig_id, rig=rig.name, rig_revision=revision,
        origin="frames", simulated=all(entry.claims.simulated for _, entry in frames), began=frames[0][0],
        ended=last_at + timedelta(seconds=last.claims.exposure_s or 0.0),
        subs=tuple(
            SessionSubs(target=target, name=name, filter=behind, sub_s=sub_s, planned=len(kept), taken=len(kept), kept=sum(kept))
            for (target, name, behind, sub_s), kept in kinds.items()
        ),
        losses=(SessionLoss(why="excluded after inspection", count=away),) if away else (),
        note=str(text('From {frames} frames.', frames=len(frames)) + (text(' Focuser from {warm} to {warm_2} steps.', warm=Value(min(warm)), warm_2=Value(max(warm))) if warm else "")),
    )  # fmt: skip
    return NightOfFrames(record, tuple(entry.id for _, entry in frames))


def _target(claims: FrameClaims, rig: Rig) -> tuple[str, str]:
    """Which of the rig's targets it was, by name or by where the frame points; else what the header says."""
    wanted = plain_name(claims.target)
    for target in (framing.target for framing in rig.framings):
        if wanted in target.called:
            return target.key, target.name
    near = _nearest(claims, rig.framings)
    if near is not None:
        return near.target.key, near.target.name
    said = claims.target.strip()[:120] or "unnamed"
    return said, said


def _nearest(claims: FrameClaims, framings: Sequence[Framing]) -> Framing | None:
    ra = claims.centre_ra_deg if claims.centre_ra_deg is not None else claims.near_ra_deg
    dec = claims.centre_dec_deg if claims.centre_dec_deg is not None else claims.near_dec_deg
    if ra is None or dec is None or not framings:
        return None
    here = directions(ra, dec)
    apart = [
        float(separation(directions(framing.centre_ra_deg, framing.centre_dec_deg), here)[0]) for framing in framings
    ]
    best = min(range(len(framings)), key=lambda k: apart[k])
    return framings[best] if apart[best] <= NEAR_DEG else None


def _filter(claims: FrameClaims, rig: Rig) -> str:
    said = claims.filter.strip()
    names = [part.name for part in parts_of(rig) if getattr(part, "kind", "") == "filter"]
    same = next((name for name in names if plain_name(name) == plain_name(said)), None)
    return (same or said)[:120]
