"""What a phone in the field shows: for every moment of a rig's night what it does, what comes then, until when."""

from collections.abc import Sequence

from dravel.core.model.base import Model
from dravel.core.model.words import Text, Words
from dravel.core.overview.sequence import NightStep
from dravel.core.overview.tonight import TonightPlan, TonightRig

END_S = 26 * 3600.0
THEN = 3


class NightCue(Model):
    """What a rig does from `start_s` to `end_s`, seconds from noon; `key` is the step's, empty where nothing is done. Of subs
    how many, of which target (`target` its key, `name` what people call it). `then` are words for what comes next.
    """

    key: str
    kind: str
    start_s: float
    end_s: float
    title: Text
    words: Text
    count: int
    each_s: float
    target: str
    name: str
    then: tuple[Text, ...]


def cues(plan: TonightPlan, rig: TonightRig) -> tuple[NightCue, ...]:
    """The cues of a rig, without gaps from noon to the next."""
    night_cues: list[NightCue] = []
    at = 0.0
    for k, step in enumerate(rig.steps):
        then = _then(plan, rig.steps[k + 1 :])
        if step.start_s > at + 1:
            words = f"until {time_of(plan, step.start_s)}: {step.what}"
            title = "Nothing yet" if k == 0 else "A pause"
            night_cues.append(_quiet(at, step.start_s, title, words, _then(plan, rig.steps[k:])))
        night_cues.append(
            NightCue(
                key=step.key, kind=step.kind, start_s=step.start_s, end_s=step.end_s, title=_title(step),
                words=_words(plan, step), count=step.count, each_s=step.each_s, target=step.target,
                name=step.name, then=then,
            )
        )  # fmt: skip
        at = step.end_s
    title = "Night over" if rig.steps else "Nothing planned"
    night_cues.append(_quiet(at, END_S, title, rig.because, ()))
    return tuple(night_cues)


def _quiet(start: float, end: float, title: Words, words: Words, then: tuple[str, ...]) -> NightCue:
    return NightCue(
        key="",
        kind="quiet",
        start_s=start,
        end_s=end,
        title=title,
        words=words,
        count=0,
        each_s=0.0,
        target="",
        name="",
        then=then,
    )


def _title(step: NightStep) -> str:
    if step.kind == "subs":
        return f"{step.name}, {step.filter}" if step.filter else step.name
    what = str(step.what)
    return what[:1].upper() + what[1:]


def _words(plan: TonightPlan, step: NightStep) -> str:
    if step.kind == "subs":
        return f"of {step.count} subs of {step.sub_s:g} s"
    return f"{time_of(plan, step.start_s)} to {time_of(plan, step.end_s)}{', with your hands' if step.hands else ''}"


def _then(plan: TonightPlan, steps: Sequence[NightStep]) -> tuple[str, ...]:
    lines = []
    target = None
    for step in steps:
        if step.kind == "slew" or (step.kind == "subs" and step.target == target):
            continue
        target = step.target
        name = step.name if step.kind == "subs" else str(step.what).split(",")[0]
        lines.append(f"then {name} at {time_of(plan, step.start_s)}")
    return tuple(lines[:THEN])


def time_of(plan: TonightPlan, seconds: float) -> str:
    """The clock at a moment, seconds from noon: from the slot it lies in, whose clock knows about summer time."""
    slot = max(0, min(int(seconds // 300), plan.slots - 1))
    hour, minute = (int(part) for part in plan.clock[slot].split(":"))
    whole = hour * 60 + minute + int(seconds - slot * 300) // 60
    return f"{whole // 60 % 24:02d}:{whole % 60:02d}"
