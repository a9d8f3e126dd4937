"""In what two rigs of a design differ: the places that a design chooses for, what stands in each, and how many are unlike."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from dravel.core.design.front import Evaluator
from dravel.core.design.screen import Screen
from dravel.core.model import Rig
from dravel.core.model.inventory import parts_of
from dravel.core.model.words import Words, text

SLOTS = ("telescope", "corrector", "camera", "filter holder", "guiding", "mount", "support", "supply")
SEPARATOR = " + "


def _slots(screen: Screen) -> list[tuple[str, NDArray[Any], list[str | None]]]:
    def ids(parts: list[object]) -> list[str | None]:
        return [getattr(part, "id", None) for part in parts]

    of_train: list[tuple[str, list[str | None]]] = [
        ("telescope", [train.choice.telescope.id for train in screen.trains]),
        ("corrector", [getattr(train.choice.corrector, "id", None) for train in screen.trains]),
        ("camera", [train.choice.camera.id for train in screen.trains]),
        ("filter holder", [getattr(train.choice.holder, "id", None) for train in screen.trains]),
        ("guiding", [guided_by(train.rig) for train in screen.trains]),
    ]
    results: list[tuple[str, NDArray[Any], list[str | None]]] = [(name, screen.train, own) for name, own in of_train]
    results.append(("mount", screen.mount, ids(list(screen.mounts))))
    results.append(("support", screen.support, ids(list(screen.supports))))
    results.append(("supply", screen.supply, ids(list(screen.supplies))))
    return results


def guided_by(rig: Rig) -> str | None:
    """The part a rig is guided through: its guide scope or off-axis guider; None unguided."""
    if rig.guide.method == "guide_scope":
        return next((placed.part.id for placed in rig.riders if placed.part.kind == "guide_scope"), None)
    if rig.guide.method == "off_axis":
        return next((item.part.id for item in rig.path if item.part.kind == "off_axis_guider"), None)
    return None


def slots_of(rig: Rig) -> dict[str, str | None]:
    """What a rig has in each of the places that a design chooses for."""
    kinds = {"telescope": "telescope", "corrector": "corrector", "camera": "camera", "filter holder": "filter_holder"}
    result: dict[str, str | None] = {
        name: next((item.part.id for item in rig.path if item.part.kind == kind), None) for name, kind in kinds.items()
    }
    return {
        **result,
        "guiding": guided_by(rig),
        "mount": rig.mount.id if rig.mount else None,
        "support": rig.support.id if rig.support else None,
        "supply": rig.supply.source.id if rig.supply.source else None,
    }


def differs(screen: Screen, rig: Rig, *, filters: bool = False) -> NDArray[np.int64]:
    """In how many places each row differs from a rig; with `filters` those it carries count as one more."""
    own = slots_of(rig)
    off = np.zeros(screen.size, dtype=np.int64)
    for name, index, ids in _slots(screen):
        other = np.array([item != own[name] for item in ids], dtype=np.int64)
        off += other[index]
    if filters:
        unlike = np.array([filters_of(train.rig) != filters_of(rig) for train in screen.trains], dtype=np.int64)
        off += unlike[screen.train]
    return off


def filters_of(rig: Rig) -> str | None:
    """The filters a rig carries, by name; None without any."""
    return SEPARATOR.join(entry.name for item in rig.path for entry in item.filters) or None


def changes_of(evaluator: Evaluator, now: Rig, then: Rig, *, filters: bool = False) -> list[Words]:
    """Every change from one rig to another (with `filters` of what it carries too), in words: ``X instead of
    the Y``, ``add the X``, ``leave out the Y``.
    """
    own, other = slots_of(now), slots_of(then)
    names = {part.id: part.name for part in (*evaluator.screen.table.shop.parts, *parts_of(now), *parts_of(then))}
    pairs = [
        (names.get(other[slot], "") if other[slot] else "", names.get(own[slot], "") if own[slot] else "")
        for slot in SLOTS if own[slot] != other[slot]
    ]  # fmt: skip
    if filters and filters_of(now) != filters_of(then):
        to, frm = ((filters_of(item) or "").replace(SEPARATOR, ", ") for item in (then, now))
        pairs.append((to, frm))
    return [
        text("{to} instead of the {frm}", to=to, frm=frm)
        if to and frm
        else text("add the {to}", to=to)
        if to
        else text("remove the {frm}", frm=frm)
        for to, frm in pairs
    ]
