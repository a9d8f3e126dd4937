"""A very large shelf made one that can be looked through: of parts that are alike in all that matters the one that costs least,
and of a kind with very many the ones that differ most. Ordinary shelves are left as they are.
"""

from collections.abc import Iterable, Sequence

from dravel.core.model import Adapter, Counterweight, Part
from dravel.core.model.inventory import HAD
from dravel.core.train.solver import RING_FUNCTIONS
from dravel.core.train.walks import end_of, taken_by

# So many of each kind are looked at; an ordinary shelf has half of them at most. Together they bound memory and time.
MOST: dict[str, int] = {
    "telescope": 36, "corrector": 20, "camera": 26, "filter_holder": 8, "guide_scope": 6, "off_axis_guider": 4, "mount": 16,
    "support": 10, "power_source": 12, "filter": 30, "accessory": 40, "rider": 16, "counterweight": 24, "cable": 16,
    "dew_heater": 12, "focuser": 12, "adapter": 250,
}  # fmt: skip
OTHERS = 20
# By what parts of a kind are spread out, the first that is known; all others by their mass.
SIZES = ("focal_length_mm", "payload_kg", "capacity_kg", "energy_wh", "aperture_mm")
NAMING = {"id", "name", "maker", "price", "status", "holder", "bought_on", "notes"}


def narrowed(parts: Sequence[Part], keep: Iterable[str] = ()) -> tuple[tuple[Part, ...], dict[str, tuple[int, int]]]:
    """The parts that are looked at, those of the ids in `keep` always; and by kind how many of how many, where some are left out.

    Of parts that are alike but for their name and price the one at hand is taken, else the cheapest: no rig gets worse by that.
    """
    kept = set(keep)
    by_kind: dict[str, list[Part]] = {}
    for part in _without_twins(parts, kept):
        by_kind.setdefault(getattr(part, "kind", "part"), []).append(part)
    left_out: dict[str, tuple[int, int]] = {}
    taken: set[int] = set()
    for kind, result in by_kind.items():
        most = MOST.get(kind, OTHERS)
        chosen = result if len(result) <= most else _spread(result, most, kept)
        if len(chosen) < len(result):
            left_out[kind] = len(chosen), len(result)
        taken |= {id(part) for part in chosen}
    return tuple(part for part in parts if id(part) in taken), left_out


def _without_twins(parts: Sequence[Part], keep: set[str]) -> list[Part]:
    result: dict[str, Part] = {}
    for part in parts:
        if isinstance(part, Counterweight) or part.id in keep:  # each disc hangs once; what stays is that very part
            result[f"{id(part)}"] = part
            continue
        second = part.price is not None and part.price.second_hand
        key = f"{part.model_dump_json(exclude=NAMING)}{second and part.status not in HAD}"
        if key not in result or _costs(part) < _costs(result[key]):
            result[key] = part
    return list(result.values())


def _costs(part: Part) -> tuple[bool, float]:
    return part.status not in HAD, part.price.amount if part.price is not None else 0.0


def _spread(parts: list[Part], most: int, keep: set[str]) -> list[Part]:
    """So many of some parts: those in `keep`, of rings the cheapest between each two ends, and the cheapest of each stretch of
    sizes, parts at hand before those for sale.
    """
    chosen = [part for part in parts if part.id in keep]
    ends: dict[object, Part] = {}
    for part in sorted(parts, key=_costs):
        if isinstance(part, Adapter) and part.function in RING_FUNCTIONS and part.sky_side and part.sensor_side:
            ends.setdefault((taken_by(part.sky_side), end_of(part.sensor_side)), part)
    chosen += [part for part in list(ends.values())[: most // 2] if part not in chosen]
    for pile in ([item for item in parts if item.status in HAD], [item for item in parts if item.status not in HAD]):
        rest = sorted((part for part in pile if part not in chosen), key=_size)
        room = max(most - len(chosen), 0)
        if len(rest) <= room:
            chosen += rest
            continue
        for k in range(room):
            stretch = rest[k * len(rest) // room : (k + 1) * len(rest) // room]
            chosen.append(min(stretch, key=_costs))
    return chosen


def _size(part: Part) -> float:
    for name in SIZES:
        if isinstance(size := getattr(part, name, None), int | float):
            return float(size)
    sensor = getattr(part, "sensor", None)
    return float(sensor.width_mm) if sensor is not None else part.used("mass_g") or 0.0
