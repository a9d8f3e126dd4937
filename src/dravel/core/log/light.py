"""Light collected over all nights, by target, filter and rig, against what is wished."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import inf

from dravel.core.engine.context import Context
from dravel.core.model import Framing, Practice, Rig
from dravel.core.model.base import Model
from dravel.core.model.sky import plain_name
from dravel.core.model.words import Text, Value, joined, text
from dravel.core.overview.sequence import wanted_subs
from dravel.core.steps import STEPS
from dravel.core.steps.expose.facts import Exposing

Wish = dict[tuple[str, str], float]  # seconds of light by target and filter


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
    wished_s: float | None
    open_s: float | None


class TargetLight(Model):
    """A target by one rig, all filters together. `share` is what of the wish is there, light beyond a filter's wish not counted."""

    target: str
    name: str
    rig_id: str
    rig: str
    kept_s: float
    wished_s: float | None
    open_s: float | None
    share: float | None
    nights: int
    last: str


def wishes_of(rig: Rig, practice: Practice) -> Wish:
    """The same of a rig by itself."""
    return wishes(STEPS.context(rig, practice))


def wishes(context: Context) -> Wish:
    """What a rig is to collect of its targets, s by target and filter: its plan, or without one the hours that the wished
    signal to noise takes. What can never be reached is not wished.
    """
    own = context.of(Exposing)
    found: Wish = defaultdict(float)
    for framing in context.rig.framings:
        panels = framing.columns * framing.rows
        if framing.plan:
            for one in wanted_subs(context, framing):
                found[framing.target.key, one.filter] += one.sub_s * (one.count or 0)
            continue
        if own.lacks:
            continue
        shots = [shot for shot in own.shots if shot.framing is framing]
        hours = min((own.wish_hours(one) for one in shots), default=inf)
        if hours < inf:
            found[framing.target.key, own.filter.name if own.filter else ""] += hours * 3600 * panels
    return dict(found)


def under_keys(rows: Iterable[LightRow], called: Mapping[str, Mapping[str, str]]) -> list[LightRow]:
    """The rows with each target under the key that its rig knows it by: `called` are keys by rig and by plain name (see
    `called_by`). What a rig does not frame stays as it was written down.
    """
    found = []
    for row in rows:
        own = called.get(row.rig_id, {})
        key = own.get(plain_name(row.target)) or own.get(plain_name(row.name))
        found.append(row if key in (None, row.target) else replace(row, target=key))
    return found


def called_by(rig: Rig) -> dict[str, str]:
    """The key of each of a rig's targets by every plain name it goes by; ids and names go before other names."""
    targets = [framing.target for framing in rig.framings]
    also = {name: one.key for one in reversed(targets) for name in one.called}
    return also | {plain_name(name): one.key for one in reversed(targets) for name in (one.name, one.id or one.name)}


def framed(framing: Framing) -> Text:
    """How a target is framed: ``90°, 2 × 1``."""
    tiles = f", {framing.columns} × {framing.rows}" if framing.columns * framing.rows > 1 else ""
    return text(
        "{position_angle_deg}{tiles}", position_angle_deg=Value(framing.position_angle_deg, "°", 0), tiles=tiles
    )


def totals(
    rows: Iterable[LightRow],
    rigs: Mapping[str, str],
    wished: Mapping[str, Wish],
    names: Mapping[str, str],
    framings: Mapping[tuple[str, str], str] | None = None,
) -> tuple[LightTotal, ...]:
    """Totals of all rows and all wishes; `rigs` and `names` are names by id, `framings` words by rig and target. What is most open comes first."""
    kinds: dict[tuple[str, str, str], list[LightRow]] = defaultdict(list)
    for row in rows:
        kinds[row.rig_id, row.target, row.filter].append(row)
    for rig_id, wish in wished.items():
        for target, behind in wish:
            kinds.setdefault((rig_id, target, behind), [])
    found = []
    for (rig_id, target, behind), here in kinds.items():
        kept_s = sum(one.kept * one.sub_s for one in here)
        wish_s = wished.get(rig_id, {}).get((target, behind))
        found.append(
            LightTotal(
                target=target, name=names.get(target) or next((one.name for one in here if one.name), target),
                filter=behind, rig_id=rig_id, rig=rigs.get(rig_id, rig_id), kept_s=kept_s,
                kept=sum(one.kept for one in here), taken=sum(one.taken for one in here),
                nights=len({one.night for one in here if one.kept}),
                last=max((one.night for one in here if one.kept), default=""), words=_words(here), framing=(framings or {}).get((rig_id, target), ""), wished_s=wish_s,
                open_s=None if wish_s is None else max(0.0, wish_s - kept_s),
            )
        )  # fmt: skip
    return tuple(sorted(found, key=lambda one: (-(one.open_s or 0.0), -one.kept_s, one.rig, one.name, one.filter)))


def by_target(lights: Sequence[LightTotal], rows: Sequence[LightRow]) -> tuple[TargetLight, ...]:
    """The same with filters together."""
    kinds: dict[tuple[str, str], list[LightTotal]] = defaultdict(list)
    nights: dict[tuple[str, str], set[str]] = defaultdict(set)
    for row in rows:
        if row.kept:
            nights[row.rig_id, row.target].add(row.night)
    for light in lights:
        kinds[light.rig_id, light.target].append(light)
    found = []
    for (rig_id, target), here in kinds.items():
        asked = [one for one in here if one.wished_s]
        wish_s = sum(one.wished_s or 0.0 for one in asked)
        left_s = sum(one.open_s or 0.0 for one in asked)
        found.append(
            TargetLight(
                target=target, name=here[0].name, rig_id=rig_id, rig=here[0].rig,
                kept_s=sum(one.kept_s for one in here), wished_s=wish_s if asked else None,
                open_s=left_s if asked else None, share=(1 - left_s / wish_s) if wish_s else None,
                nights=len(nights[rig_id, target]), last=max(one.last for one in here),
            )
        )  # fmt: skip
    return tuple(found)


def _words(rows: Sequence[LightRow]) -> Text:
    """How it came together, by length of the sub and in the order of the nights: ``57 + 55 × 120 s``."""
    by_sub: dict[float, dict[str, int]] = defaultdict(lambda: defaultdict(int))
    for row in sorted(rows, key=lambda one: one.night):
        if row.kept:
            by_sub[row.sub_s][row.night] += row.kept
    said = []
    for sub_s, nights in sorted(by_sub.items(), key=lambda one: -one[0]):
        counts = list(nights.values())
        shown = [str(sum(counts[:-4])), *map(str, counts[-4:])] if len(counts) > 5 else list(map(str, counts))
        said.append(text("{shown} × {sub_s}", shown=" + ".join(shown), sub_s=Value(sub_s, form="exposure")))
    return joined(", ", said)
