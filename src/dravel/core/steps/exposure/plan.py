"""An exposure plan: its blocks, what they come to, how fast the night cools, how much room the frames have."""

from dataclasses import dataclass
from math import inf, sqrt

from dravel.core.engine.context import Context
from dravel.core.model import Accessory, Exposure, Filter, Framing, Rider
from dravel.core.model.inventory import parts_of
from dravel.core.physics import dew
from dravel.core.sky.glow import Glow
from dravel.core.steps.exposure.facts import GONE, NEARLY, ROUND_S, Exposing
from dravel.core.train.layout import part_key

LEAST_SUBS = 20  # of a block: fewer cannot be rejected against one another, nor dithered. Common practice
CORE_SUBS = 20  # short ones beside the long ones, for a core that these burn out. Common practice
MOST_SUBS, MOST_HOURS = 3000, 100.0  # more is not a plan; Dravel's own
DITHER_S = 120.0  # of light between two dithers, or a sub where it is longer; Dravel's own


def dithered_every(sub_s: float) -> int:
    """After how many subs of a length a dither is worth its pause."""
    return max(1, round(DITHER_S / sub_s))


def core_block(own: Exposing, framing: Framing, glow: Glow, beside: Exposure) -> Exposure | None:
    """Short subs for a core that those of a block burn out, through its filter; None where they do not, or no sub is short
    enough.
    """
    behind, _ = own.resolved(beside)
    most = next((limit.seconds for limit in own.limits(framing, glow, behind) if limit.key == "core"), inf)
    if beside.sub_s <= most * NEARLY or most < ROUND_S[0] / 2:
        return None
    sub = float(max((round_ for round_ in ROUND_S if round_ <= most * NEARLY), default=ROUND_S[0]))
    return beside.model_copy(update={"sub_s": sub, "count": CORE_SUBS, "dither_every": 0})


@dataclass(frozen=True)
class Block:
    """A block with the filter it names, and what it is called."""

    exposure: Exposure
    filter: Filter | None
    missing: str
    label: str


def fall_k_h(context: Context) -> float:
    """How fast the air cools over a night, K/h."""
    return dew.FALL_K / max(context.known.get("hours_on") or context.preferences.night_hours, 1.0)


def blocks(context: Context, framing: Framing) -> tuple[Block, ...]:
    """The blocks of a target's plan; a filter that is not on the rig goes by its name on the shelf."""
    own, result = context.of(Exposing), []
    names = {part_key(part): part.name for part in context.shelf if isinstance(part, Filter)}
    for exposure in framing.plan:
        behind, missing = own.resolved(exposure)
        key = exposure.filter
        label = behind.name if behind else "no filter" if key is None else names.get(key, key)
        result.append(Block(exposure, behind, missing, label))
    return tuple(result)


def worths(context: Context, framing: Framing, glow: Glow) -> dict[str | None, float]:
    """Signal to noise squared of a plan by filter, per detail, with the spare subs taken off."""
    own = context.of(Exposing)
    collector, kept = own.collector, 1 / (1 + context.preferences.spare_share)
    result: dict[str | None, float] = {}
    for block in framing.plan if collector else ():
        behind, missing = own.resolved(block)
        if missing != GONE and collector is not None:
            worth = collector.worth(own.pixels(framing, glow, behind), block.sub_s) * block.seconds * kept
            result[block.filter] = result.get(block.filter, 0.0) + worth
    return result


def reached(context: Context, framing: Framing, glow: Glow) -> float:
    """The signal to noise a plan comes to. Broad light adds up over all filters; lines are pictures of their own, of which
    the best counts.
    """
    counted = worths(context, framing, glow).values()
    return sqrt(max(counted, default=0.0) if glow.of_lines else sum(counted))


def room_gb(context: Context) -> tuple[float | None, str]:
    """Where the frames go and how much room there is, GB; None where it is not said."""
    rig, camera = context.rig, context.light.camera
    if camera is not None and camera.driven_by == "release":
        cards = [part for part in rig.extras if isinstance(part, Accessory) and part.function == "memory_card"]
        rooms = [card.storage_gb for card in cards if card.storage_gb is not None]
        if cards:
            return (sum(rooms) if rooms else None), cards[0].name
    for part in parts_of(rig):
        drives = (isinstance(part, Rider) and part.function == "controller") or (
            isinstance(part, Accessory) and part.function == "computer"
        )
        if drives:
            return part.used("storage_gb"), part.name
    return None, ""
