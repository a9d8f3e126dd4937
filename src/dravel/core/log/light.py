"""Light collected over all nights, by target, filter and rig, against what is wished."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import inf

from dravel.core.engine.context import Context
from dravel.core.model import Framing, Preferences, Rig
from dravel.core.model.base import Model
from dravel.core.model.sky import plain_name
from dravel.core.model.words import Text, Value, joined, text
from dravel.core.overview.sequence import wanted_subs
from dravel.core.steps import STEPS
from dravel.core.steps.exposure.facts import Exposing

Goals = dict[tuple[str, str], float]  # seconds of light by target and filter


@dataclass(frozen=True)
class LightRow:
    """Subs of one kind that one session kept."""

    night: str
    rig_id: str
    target: str
    name: str
    filter: str
    sub_s: float
    taken: int
    kept: int


class LightTotal(Model):
    """A target through one filter by one rig, over all nights. `words` is how it came together, `framing` how it is framed now;
    None where nothing is wished.
    """

    target: str
    name: str
    filter: str
    rig_id: str
    rig: str
    kept_s: float
    kept: int
    taken: int
    nights: int
    last: str
    words: Text
    framing: str
    goal_s: float | None
    open_s: float | None


class TargetLight(Model):
    """A target by one rig, all filters together. `share` is what of the goal is there, light beyond a filter's goal not counted."""

    target: str
    name: str
    rig_id: str
    rig: str
    kept_s: float
    goal_s: float | None
    open_s: float | None
    share: float | None
    nights: int
    last: str


def goals_of(rig: Rig, preferences: Preferences) -> Goals:
    """The same of a rig by itself."""
    return goals(STEPS.context(rig, preferences))


def goals(context: Context) -> Goals:
    """What a rig is to collect of its targets, s by target and filter: its plan, or without one the hours that the wished
    signal to noise takes. What can never be reached is not wished.
    """
    own = context.of(Exposing)
    result: Goals = defaultdict(float)
    for framing in context.rig.framings:
        panels = framing.columns * framing.rows
        if framing.plan:
            for wanted_sub in wanted_subs(context, framing):
                result[framing.target.key, wanted_sub.filter] += wanted_sub.sub_s * (wanted_sub.count or 0)
            continue
        if own.lacks:
            continue
        shots = [shot for shot in own.shots if shot.framing is framing]
        hours = min((own.goal_hours(item) for item in shots), default=inf)
        if hours < inf:
            result[framing.target.key, own.filter.name if own.filter else ""] += hours * 3600 * panels
    return dict(result)


def under_keys(rows: Iterable[LightRow], called: Mapping[str, Mapping[str, str]]) -> list[LightRow]:
    """The rows with each target under the key that its rig knows it by: `called` are keys by rig and by plain name (see
    `called_by`). What a rig does not frame stays as it was written down.
    """
    results = []
    for row in rows:
        own = called.get(row.rig_id, {})
        key = own.get(plain_name(row.target)) or own.get(plain_name(row.name))
        results.append(row if key in (None, row.target) else replace(row, target=key))
    return results


def called_by(rig: Rig) -> dict[str, str]:
    """The key of each of a rig's targets by every plain name it goes by; ids and names go before other names."""
    targets = [framing.target for framing in rig.framings]
    also = {name: target.key for target in reversed(targets) for name in target.called}
    return also | {
        plain_name(name): target.key for target in reversed(targets) for name in (target.name, target.id or target.name)
    }


def framed(framing: Framing) -> Text:
    """How a target is framed: ``90°, 2 × 1``."""
    tiles = f", {framing.columns} × {framing.rows}" if framing.columns * framing.rows > 1 else ""
    return text(
        "{position_angle_deg}{tiles}", position_angle_deg=Value(framing.position_angle_deg, "°", 0), tiles=tiles
    )


def totals(
    rows: Iterable[LightRow],
    rigs: Mapping[str, str],
    wished: Mapping[str, Goals],
    names: Mapping[str, str],
    framings: Mapping[tuple[str, str], str] | None = None,
) -> tuple[LightTotal, ...]:
    """Totals of all rows and all goals; `rigs` and `names` are names by id, `framings` words by rig and target. What is most open comes first."""
    kinds: dict[tuple[str, str, str], list[LightRow]] = defaultdict(list)
    for row in rows:
        kinds[row.rig_id, row.target, row.filter].append(row)
    for rig_id, goal in wished.items():
        for target, behind in goal:
            kinds.setdefault((rig_id, target, behind), [])
    results = []
    for (rig_id, target, behind), here in kinds.items():
        kept_s = sum(item.kept * item.sub_s for item in here)
        goal_s = wished.get(rig_id, {}).get((target, behind))
        results.append(
            LightTotal(
                target=target, name=names.get(target) or next((item.name for item in here if item.name), target),
                filter=behind, rig_id=rig_id, rig=rigs.get(rig_id, rig_id), kept_s=kept_s,
                kept=sum(item.kept for item in here), taken=sum(item.taken for item in here),
                nights=len({item.night for item in here if item.kept}),
                last=max((item.night for item in here if item.kept), default=""), words=_words(here), framing=(framings or {}).get((rig_id, target), ""), goal_s=goal_s,
                open_s=None if goal_s is None else max(0.0, goal_s - kept_s),
            )
        )  # fmt: skip
    return tuple(
        sorted(results, key=lambda item: (-(item.open_s or 0.0), -item.kept_s, item.rig, item.name, item.filter))
    )


def by_target(lights: Sequence[LightTotal], rows: Sequence[LightRow]) -> tuple[TargetLight, ...]:
    """The same with filters together."""
    kinds: dict[tuple[str, str], list[LightTotal]] = defaultdict(list)
    nights: dict[tuple[str, str], set[str]] = defaultdict(set)
    for row in rows:
        if row.kept:
            nights[row.rig_id, row.target].add(row.night)
    for light in lights:
        kinds[light.rig_id, light.target].append(light)
    results = []
    for (rig_id, target), here in kinds.items():
        asked = [item for item in here if item.goal_s]
        goal_s = sum(item.goal_s or 0.0 for item in asked)
        left_s = sum(item.open_s or 0.0 for item in asked)
        results.append(
            TargetLight(
                target=target, name=here[0].name, rig_id=rig_id, rig=here[0].rig,
                kept_s=sum(item.kept_s for item in here), goal_s=goal_s if asked else None,
                open_s=left_s if asked else None, share=(1 - left_s / goal_s) if goal_s else None,
                nights=len(nights[rig_id, target]), last=max(item.last for item in here),
            )
        )  # fmt: skip
    return tuple(results)


def _words(rows: Sequence[LightRow]) -> Text:
    """How it came together, by length of the sub and in the order of the nights: ``57 + 55 × 120 s``."""
    by_sub: dict[float, dict[str, int]] = defaultdict(lambda: defaultdict(int))
    for row in sorted(rows, key=lambda item: item.night):
        if row.kept:
            by_sub[row.sub_s][row.night] += row.kept
    said = []
    for sub_s, nights in sorted(by_sub.items(), key=lambda item: -item[0]):
        counts = list(nights.values())
        shown = [str(sum(counts[:-4])), *map(str, counts[-4:])] if len(counts) > 5 else list(map(str, counts))
        said.append(text("{shown} × {sub_s}", shown=" + ".join(shown), sub_s=Value(sub_s, form="exposure")))
    return joined(", ", said)
