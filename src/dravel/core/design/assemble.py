"""One canonical rig from a train, a mount, a support and a supply: slid, balanced, cabled, with its targets and its sub."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

from dravel.core.design.hanging import Weights
from dravel.core.design.paths import Brief
from dravel.core.design.shop import Shop
from dravel.core.design.subs import planned
from dravel.core.design.trains import Table, Train
from dravel.core.model import Cable, Framing, Hung, Mount, PowerSource, Rig, Supply, Support
from dravel.core.physics import energy
from dravel.core.steps.mount.balancing import hang, saddle_height_mm, wanted_moment
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.mount.legs import leg_clearance
from dravel.core.steps.mount.limits import LEGS
from dravel.core.steps.power.facts import USB_VOLTS

USUAL_A, USUAL_V, USUAL_DROP = 8.0, 12.0, 0.05  # what a lead is chosen for. Common practice


@dataclass(frozen=True)
class Whole:
    """What a rig is assembled from."""

    train: Train
    mount: Mount
    support: Support
    supply: PowerSource | None


class Assembler:
    """Assembles rigs of a table; the share is that of new prices that is paid."""

    def __init__(self, table: Table, share: float) -> None:
        self.table, self.share = table, share
        self._shop: Shop = table.shop
        self._brief: Brief = table.brief
        self._weights: dict[str | None, Weights] = {}
        self._mounted: dict[tuple[int, str | None, int], _Mounted | None] = {}
        self._legs: dict[tuple[object, ...], tuple[bool, bool]] = {}

    def weights(self, mount: Mount) -> Weights:
        """The sets of weights for a mount."""
        if mount.id not in self._weights:
            self._weights[mount.id] = Weights(self._shop, mount, self.share)
        return self._weights[mount.id]

    @cached_property
    def lead(self) -> Cable | None:
        """The one supply cable of all designs: at hand where it loses little, else the one that loses least."""
        leads = [item for item in self._shop.kind(Cable) if item.carries == "power" and item.conductor_mm2 is not None]
        lost = {item.id: energy.voltage_drop_v(item, USUAL_A) or 0.0 for item in leads}
        good = [item for item in leads if lost[item.id] <= USUAL_DROP * USUAL_V]
        return next(iter(good), None) or min(leads, key=lambda item: lost[item.id], default=None)

    @cached_property
    def data_cable(self) -> Cable | None:
        """The one data cable of all designs."""
        return next((item for item in self._shop.kind(Cable) if item.carries == "data"), None)

    def cables(self, train: Train, mount: Mount, supply: PowerSource | None) -> tuple[Cable, ...]:
        """The cables of a rig: a lead from the supply for what takes its volts, and one to the computer; a head that lives on
        a data plug is fed by that.
        """
        by_data = mount.power is not None and mount.power.voltage_v <= USB_VOLTS
        leads = supply is not None and (not by_data or train.leads)
        power = (self.lead,) if leads and self.lead is not None else ()
        data = self.data_cable is not None and (train.computer or (by_data and supply is not None))
        return (*power, *((self.data_cable,) if data and self.data_cable is not None else ()))

    def rig(self, whole: Whole, framings: tuple[Framing, ...]) -> tuple[Rig | None, bool]:
        """The whole rig, None where no weights of the shop balance it; and whether it is known to meet a leg."""
        key = id(whole.train), whole.mount.id, hash(framings)
        if key not in self._mounted:
            self._mounted[key] = self._on_mount(whole, framings)
        mounted = self._mounted[key]
        if mounted is None:
            return None, False
        supply = Supply(source=whole.supply, cables=self.cables(whole.train, whole.mount, whole.supply))
        rig = mounted.rig.model_copy(update={"support": whole.support, "supply": supply})
        # What reaches the legs hangs on how head and legs are built, not on which they are.
        place = (*key[:1], mounted.rig.saddle_mm, key[2], _built(whole.mount), _built(whole.support))
        if place not in self._legs:
            self._legs[place] = self._turned(rig, mounted.load)
        turned, meets = self._legs[place]
        return (rig.model_copy(update={"tripod_turned": True}) if turned else rig), meets

    def _on_mount(self, whole: Whole, framings: tuple[Framing, ...]) -> _Mounted | None:
        """A train slid and balanced on its mount: neither asks what the mount stands on or what feeds it."""
        train, mount = whole.train, whole.mount
        guide = train.rig.guide.model_copy(update={"sub_s": planned(train, mount, self._brief, framings)})
        rig = train.rig.model_copy(
            update={"mount": mount, "framings": framings, "guide": guide, "name": named(whole), "summary": "designed"}
        )
        # The path is the train's own: what was worked out of its spacing holds here too.
        saddle = Load(rig, train.spacing, self._brief.preferences).balanced_saddle
        if saddle is not None:
            rig = rig.model_copy(update={"saddle_mm": saddle})
        load = Load(rig, train.spacing, self._brief.preferences)
        if mount.shaft is None or not mount.needs_counterweight:
            return _Mounted(rig, load)
        moment = wanted_moment(rig, load.carried, self._brief.preferences.ra_balance)
        result = self.weights(mount).of(moment)
        made = hang(result.weights, moment, mount.shaft) if result is not None else None
        if made is None:
            return None
        hung = tuple(
            Hung(part=item, position_mm=round(at, 1)) for item, at in zip(made.weights, made.positions, strict=True)
        )
        return _Mounted(rig.model_copy(update={"counterweights": hung}), load)

    @staticmethod
    def _turned(rig: Rig, load: Load) -> tuple[bool, bool]:
        """Whether the tripod is turned, where that keeps the tube off its legs and one leg to the pole does not; and whether
        the rule of the legs breaks all the same. Where a size is assumed that is left to the rule itself.
        """
        near = leg_clearance(rig, load.carried)
        if near is None or LEGS.verdict(near.gap_mm) == "ok":
            return False, False
        turned = leg_clearance(rig.model_copy(update={"tripod_turned": True}), load.carried)
        better = turned is None or turned.gap_mm > near.gap_mm
        near = turned if better else near
        return better, near is not None and not load.size_words and LEGS.verdict(near.gap_mm) == "problem"


@dataclass(frozen=True)
class _Mounted:
    """A train on its mount, and its load as it lies there."""

    rig: Rig
    load: Load


def _built(part: Mount | Support) -> tuple[object, ...]:
    """What of a head or a stand its legs' geometry hangs on."""
    if isinstance(part, Support):
        return part.style, part.height_mm, part.foot_radius_mm, part.feet, part.extension_mm
    return part.style, part.axis_height_mm, saddle_height_mm(part)


@lru_cache(maxsize=4096)
def _short(name: str) -> str:
    return name.split(",")[0]


def named(whole: Whole) -> str:
    """What a designed rig is called: its telescope and its mount."""
    telescope, mount = whole.train.choice.telescope, whole.mount
    kilos = f"the {mount.payload_kg:g} kg {_STYLE[mount.style]}"
    return f"{_short(telescope.name)} on {kilos}"[:120]


_STYLE = {
    "german_equatorial": "mount", "strain_wave": "head", "tracker": "tracker", "alt_azimuth": "alt-azimuth",
}  # fmt: skip
