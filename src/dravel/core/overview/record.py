"""A session's record from its frames: what was planned, taken and kept, and why the rest was lost."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from dravel.core.model.session import SessionEvent, SessionFrame, SessionLoss, SessionRecord, SessionSubs
from dravel.core.overview.sequence import NightStep
from dravel.core.overview.tonight import TonightPlan

Span = tuple[float, float]


def frames_of(steps: Sequence[NightStep], until_s: float, clouds: Sequence[Span]) -> tuple[SessionFrame, ...]:
    """The frames that steps had taken by a moment, those under cloud lost. Seconds from noon."""
    results = []
    for step in steps:
        for k in range(step.count):
            start = step.start_s + k * step.each_s
            if start + step.sub_s > until_s:
                break
            cloudy = any(start < end and start + step.sub_s > begin for begin, end in clouds)
            results.append(
                SessionFrame(start_s=round(start, 1), sub_s=step.sub_s, target=step.target, filter=step.filter,
                             taken=True, kept=not cloudy, why="cloud" if cloudy else "")
            )  # fmt: skip
    return tuple(results)


def record(
    plan: TonightPlan, rig_id: str, revision: int, frames: Sequence[SessionFrame],
    events: Sequence[tuple[float, str]], *, seed: int | None = None, until_s: float | None = None,
) -> SessionRecord:  # fmt: skip
    """The record of a rig's night from its frames and events (seconds from noon); `seed` marks it as rehearsed."""
    rig = next(item for item in plan.rigs if item.rig_id == rig_id)
    kinds: dict[tuple[str, str, float], list[SessionFrame]] = {}
    for frame in frames:
        kinds.setdefault((frame.target, frame.filter, frame.sub_s), []).append(frame)
    planned: dict[tuple[str, str, float], int] = {}
    for step in rig.steps:
        if step.kind == "subs":
            kind = (step.target, step.filter, step.sub_s)
            planned[kind] = planned.get(kind, 0) + step.count
    names = {step.target: step.name for step in rig.steps if step.name}
    lost: dict[str, int] = {}
    for frame in frames:
        if frame.why:
            lost[frame.why] = lost.get(frame.why, 0) + 1
    if (left := sum(planned.values()) - len(frames)) > 0:
        lost["ended before them"] = left
    started = rig.steps[0].start_s if rig.steps else 0.0
    ended = rig.steps[-1].end_s if rig.steps else 0.0
    if until_s is not None:
        ended = max(started, min(ended, until_s))
    return SessionRecord(
        night=plan.day, site=plan.site, rig_id=rig_id, rig=rig.name, rig_revision=revision, simulated=seed is not None,
        origin="run" if seed is None else "rehearsed", seed=seed, began=_moment(plan.noon, started), ended=_moment(plan.noon, ended),
        subs=tuple(
            SessionSubs(
                target=kind[0], name=names.get(kind[0], ""), filter=kind[1], sub_s=kind[2], planned=planned.get(kind, len(kinds.get(kind, ()))),
                taken=sum(item.taken for item in kinds.get(kind, ())), kept=sum(item.kept for item in kinds.get(kind, ())),
            )
            for kind in dict.fromkeys([*planned, *kinds])
        ),
        losses=tuple(SessionLoss(why=why, count=count) for why, count in sorted(lost.items(), key=lambda item: -item[1])),
        events=tuple(SessionEvent(at=_moment(plan.noon, at), what=what) for at, what in events),
    )  # fmt: skip


def _moment(noon: datetime, seconds: float) -> datetime:
    return noon + timedelta(seconds=round(seconds))
