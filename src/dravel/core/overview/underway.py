"""A night that has begun: what was shot, what is left of the plans, and the rest of the night planned anew."""

from collections.abc import Collection, Mapping, Sequence
from math import ceil, floor

from dravel.core.model import Exposure, Framing, Rig
from dravel.core.overview.night_targets import SLOT_S
from dravel.core.overview.record import Span, frames_of
from dravel.core.overview.sequence import NightStep, step_key
from dravel.core.overview.tonight import TonightPlan, TonightRig, Underway

READY = ("set_up", "flats", "align")  # what a rig must be through before it shoots


def left_of(
    rig: Rig, steps: Sequence[NightStep], at_s: float, clouds: Sequence[Span], skipped: Collection[str]
) -> tuple[Rig, Underway]:
    """The rig with what is left of its plans at a moment, targets that are skipped or through taken out, and from when on it
    may shoot.
    """
    framings, shot_s = [], {}
    for framing in rig.framings:
        key = framing.target.key
        mine = [step for step in steps if step.kind == "subs" and step.target == key]
        if key in skipped:
            continue
        if framing.plan:
            plan = _less(framing, mine, at_s, clouds)
            if plan:
                framings.append(framing.model_copy(update={"plan": plan}))
            continue
        shot_s[key] = sum(
            step.each_s for step in mine for frame in frames_of((step,), at_s, clouds) if frame.kept
        )  # fmt: skip
        framings.append(framing)
    ready = max([at_s, *(step.end_s for step in _set_up(steps))])
    return rig.model_copy(update={"framings": tuple(framings)}), Underway(ceil(ready / SLOT_S), shot_s)


def _set_up(steps: Sequence[NightStep]) -> list[NightStep]:
    """The steps before the first target."""
    results = []
    for step in steps:
        if step.kind not in READY:
            break
        results.append(step)
    return results


def _less(
    framing: Framing, steps: Sequence[NightStep], at_s: float, clouds: Sequence[Span]
) -> tuple[Exposure, ...]:  # fmt: skip
    """A target's blocks without the subs that were kept."""
    tiles = framing.columns * framing.rows
    kept: dict[tuple[str, float], int] = {}
    for step in steps:
        kind = (step.filter_key, step.sub_s)
        kept[kind] = kept.get(kind, 0) + sum(frame.kept for frame in frames_of((step,), at_s, clouds))
    results = []
    for block in framing.plan:
        kind = (block.filter or "", block.sub_s)
        wanted = block.count * tiles
        taken = min(wanted, kept.get(kind, 0))
        kept[kind] = kept.get(kind, 0) - taken
        if left := ceil((wanted - taken) / tiles):
            results.append(block.model_copy(update={"count": left}))
    return tuple(results)


def joined(old: TonightPlan, new: TonightPlan, at_s: float) -> TonightPlan:
    """A night's plan up to a moment, and a newer one from there on."""
    fresh: Mapping[str, TonightRig] = {rig.rig_id: rig for rig in new.rigs}
    rigs = tuple(_rig(rig, fresh[rig.rig_id], at_s) if rig.rig_id in fresh else rig for rig in old.rigs)
    return new.model_copy(update={"rigs": rigs, "jobs": old.jobs})


def _rig(old: TonightRig, new: TonightRig, at_s: float) -> TonightRig:
    ready = [step for step in _set_up(old.steps) if step.end_s > at_s]
    before = [cut for step in old.steps if step not in ready and (cut := _cut(step, at_s)) is not None]
    count = len(before)
    after = [
        step.model_copy(update={"key": step_key(step.target, count + k) if step.target else f"{step.key}-{count + k}"})
        for k, step in enumerate(new.steps)
    ]  # fmt: skip
    slot = at_s / SLOT_S
    runs = [
        run.model_copy(update={"end": min(run.end, max(run.start + 1, ceil(slot)))})
        for run in old.runs
        if run.start < slot
    ]
    pack = [] if after else [step for step in old.steps if step.kind == "pack_up" and step.start_s >= at_s]
    return new.model_copy(
        update={
            "steps": (*before, *ready, *after, *pack),
            "runs": (*runs, *new.runs),
            "curves": old.curves,
            "events": (
                *(event for event in old.events if event.slot < slot),
                *(event for event in new.events if event.slot >= slot),
            ),
            "reserves": old.reserves,
            "because": "" if before else new.because,
        }
    )


def _cut(step: NightStep, at_s: float) -> NightStep | None:
    """A step as far as it went by a moment; None where it had not begun, or no sub of it was whole."""
    if step.start_s >= at_s:
        return None
    if step.end_s <= at_s:
        return step
    if step.kind != "subs":
        return step.model_copy(update={"end_s": round(at_s, 3)})
    count = floor((at_s - step.start_s) / step.each_s + 1e-9)
    if count == 0:
        return None
    words = str(step.what).replace(f"{step.count} ×", f"{count} ×")
    return step.model_copy(
        update={"count": count, "end_s": round(step.start_s + count * step.each_s, 3), "what": words}
    )
