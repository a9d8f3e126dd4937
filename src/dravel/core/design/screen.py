"""All combinations of trains, mounts, supports and supplies as arrays, with what rules and requests make of them.

Every condition of a rule here is necessary: where it fails, that rule breaks on the whole rig. So none that works is lost;
some that do not work pass, and are found out when they are assembled and judged. Conditions are those of the rules they are
named after, with the same limits; where a rule is kind because something was assumed, its condition is as kind.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from dravel.core.design import axes
from dravel.core.design.assemble import Assembler, Whole
from dravel.core.design.axes import Aims
from dravel.core.design.hanging import NONE, Weights
from dravel.core.design.request import RequestTerms
from dravel.core.design.subs import planned
from dravel.core.design.trains import Table, Train
from dravel.core.model import Accessory, Cable, Mount, PowerSource, Rig
from dravel.core.physics import energy
from dravel.core.physics.statics import newton_metres
from dravel.core.steps.guiding.limits import ERROR
from dravel.core.steps.mount import balancing, wind
from dravel.core.steps.mount.bodies import saddle_range, tube_of
from dravel.core.steps.mount.facts import PAYLOAD_SHARE, Load
from dravel.core.steps.mount.limits import ARM, EVEN, SHAKE, TORQUE, WIND
from dravel.core.steps.mount.rules.standing import SIZE_OFF
from dravel.core.steps.power.facts import Powering
from dravel.core.steps.power.limits import ENERGY, PEAK

Mask = NDArray[np.bool_]
Ints = NDArray[np.int64]
Floats = NDArray[np.float64]
SLACK = 1e-6
SHORT = 32_000  # what a short whole number counts to


@dataclass(frozen=True)
class Pair:
    """Every train on one mount: what rules that read both make of it, its weights, and its sub."""

    passes: Mask
    broken: dict[str, Mask]
    weights: Ints
    speed: Ints
    subs: list[float]
    load_kg: Floats
    hung_kg: Floats


class Screen:
    """The combinations of a table for some targets. Row `i` is one of them: `train[i]`, `mount[i]`, `support[i]`, `supply[i]`.

    `steps` are its five goals, each the smaller the better, shape (n, 5); `works` are those that no necessary condition
    rules out. What else is wished only leaves out rows (`requests`), so that a screen serves many requests.
    """

    def __init__(self, table: Table, aims: Aims, assembler: Assembler) -> None:
        self.table, self.aims, self.assembler = table, aims, assembler
        self.brief, self.share = table.brief, assembler.share
        self._cables: dict[tuple[int, ...], tuple[int, int]] = {}
        self.trains = list(table.trains)
        self.mounts, self.supports, self.supplies = table.mounts, table.supports, table.supplies
        self.found = [axes.fits(train, aims, self.brief) for train in self.trains]
        self.framings = [
            axes.framings_of(item, result, self.brief) for item, result in zip(self.trains, self.found, strict=True)
        ]
        self._pairs = [self._pair(mount) for mount in self.mounts]
        shape = len(self.trains), len(self.mounts), len(self.supports), len(self.supplies)
        every = np.indices(shape, dtype=np.int16 if max(shape) < SHORT else np.int32).reshape(4, -1)
        self.train, self.mount, self.support, self.supply = every
        self.size = int(np.prod(shape))
        self.steps = self._steps(shape)
        # What costs and weighs what it says: where no weights balance a mount, nothing is known of them.
        pairs = np.array([~pair.broken.get("L3", np.zeros(shape[0], bool)) for pair in self._pairs], dtype=bool)
        self.affordable = pairs.reshape(shape[1], shape[0]).T[self.train, self.mount]
        self.works = self._works(shape)

    def weights(self, mount: int) -> Weights:
        """The sets of weights for a mount, by its place."""
        return self.assembler.weights(self.mounts[mount])

    @property
    def chosen_weights(self) -> Ints:
        """Which set hangs on each mount under each train, shape (trains, mounts)."""
        return np.array([pair.weights for pair in self._pairs], dtype=np.int64).reshape(len(self.mounts), -1).T

    def ruled_out(self) -> list[tuple[str, int]]:
        """Where nothing works: which rules rule out trains on mounts, and how many, most first; then what carries and feeds."""
        result: dict[str, int] = {}
        for pair in self._pairs:
            for code, broken in pair.broken.items():
                result[code] = result.get(code, 0) + int(broken.sum())
        items = sorted(((code, many) for code, many in result.items() if many), key=lambda item: -item[1])
        shape = len(self.trains), len(self.mounts), len(self.supports), len(self.supplies)
        unfed = int((~self._fed(shape).any(axis=2)).sum())
        return [*items, *([("P1", unfed)] if unfed else [])]

    def whole(self, row: int) -> Whole:
        """What a row is assembled from."""
        return Whole(
            self.trains[self.train[row]], self.mounts[self.mount[row]], self.supports[self.support[row]],
            self.supplies[self.supply[row]],
        )  # fmt: skip

    def _of_trains(self, what: str) -> Floats:
        return np.array([getattr(train, what) for train in self.trains], dtype=float)

    def _pair(self, mount: Mount) -> Pair:
        trains, preferences = self.trains, self.brief.preferences
        mass, arm = self._of_trains("carried_kg"), balancing.saddle_height_mm(mount) + self._of_trains("up_mm")
        off = balancing.SADDLE_OFF_MM if mount.used("saddle_height_mm") is None else 0.0
        rated, newton = balancing.rated_nm(mount), newton_metres(1.0)
        moment = mass * arm
        spare = mass * off * newton / rated
        broken = {"L1": mass > mount.payload_kg, "L2": moment * newton / rated - spare > _most(ARM.problem)}
        broken["L7"] = np.array([_another_width(train, mount) for train in trains], dtype=bool)
        broken["L4"] = self._unbalanced(mount, mass, newton / rated)
        broken["L8"] = self._blown(mount, rated)
        weights, hung = np.full(len(trains), NONE), np.zeros(len(trains))
        shaft = balancing.shaft_moment(mount.shaft)
        if mount.needs_counterweight:
            sets = self.assembler.weights(mount)
            east = balancing.east_heavy(mount, preferences.ra_balance)
            weights = sets.chosen(moment * (1 - east) - shaft)
            broken["L3"] = weights == NONE
            kilos = np.array([0.0, *(item.mass_kg for item in sets.sets)])
            hung = kilos[weights + 1]
        else:
            broken["L12"] = np.abs(moment - shaft) * newton / rated - spare > _most(TORQUE.problem)
        subs = [planned(item, mount, self.brief, held) for item, held in zip(trains, self.framings, strict=True)]
        speed = [axes.speed_step(axes.speed_of(item, sub, self.brief)) for item, sub in zip(trains, subs, strict=True)]
        guided = np.array([train.flexure is not None for train in trains], dtype=bool)
        deaf = mount.guide_input == "none"
        own = mount.used("guided_rms_arcsec")
        error = (own or 0.0) / self._of_trains("scale")
        broken["G4"] = guided & (error > _most(ERROR.problem)) & (not deaf)
        # To guide a mount that takes no corrections is no design: the same train is there without.
        passes = ~np.any(list(broken.values()), axis=0) & ~(guided & deaf)
        return Pair(passes, broken, weights, np.array(speed, dtype=np.int64), subs, mass, hung)

    def _blown(self, mount: Mount, rated: float) -> Mask:
        """L8: gusts break it though the tube's middle were over the saddle, on the stiffest stand, and its size assumed too large."""
        item = next(iter(self.trains), None)
        speed = Load(item.rig, item.spacing, self.brief.preferences).wind_m_s[0] if item is not None else 0.0
        arm = balancing.saddle_height_mm(mount) + self._of_trains("sail_up_mm")
        pushed = wind.gust_nm(speed, 1.0, 1.0) * self._of_trains("sail_m2")
        over, turned = pushed * arm, pushed * wind.UNEVEN * self._of_trains("sail_long_mm")
        if self.brief.planets:
            return np.asarray(
                over / rated > _most(WIND.problem), dtype=bool
            )  # a frame of video is over before it swings
        swing = wind.swing_arcsec_nm(mount, None, rated) * min(wind.STANDING.values())
        shake = np.hypot(over, turned) * (1 - 1 / wind.GUST**2) * swing / self._of_trains("scale")
        kind = np.where(self._of_trains("sized") > 0, 1.0, 1 - SIZE_OFF)
        return np.asarray(
            (over / rated * kind > _most(WIND.problem)) | (shake * kind > _most(SHAKE.problem)), dtype=bool
        )

    def _unbalanced(self, mount: Mount, mass: Floats, per_kg_mm: float) -> Mask:
        """L4: the bar cannot slide far enough, though an assumed balance point were off to the good side."""
        left = []
        for train in self.trains:
            rig = train.rig.model_copy(update={"mount": mount})
            reach = saddle_range(rig, train.choice.telescope)
            at = train.choice.telescope.mark_mm if reach is None else min(max(train.along_mm, reach[0]), reach[1])
            left.append(max(abs(train.along_mm - at) - train.along_off_mm - 0.1, 0.0))  # the saddle is set to a tenth
        return np.array(left) * mass * per_kg_mm > _most(EVEN.problem)

    def _steps(self, shape: tuple[int, ...]) -> NDArray[np.int32]:
        share = self.share
        own = np.array([(axes.cents(item.parts, share), axes.grams(item.parts)) for item in self.trains], np.int64)
        carried = np.array([(axes.cents([item], share), axes.grams([item])) for item in self.mounts], np.int64)
        stood = np.array([(axes.cents([support], share), axes.grams([support])) for support in self.supports], np.int64)
        fed = np.array(
            [(axes.cents([item], share), axes.grams([item])) if item else (0, 0) for item in self.supplies], np.int64
        )
        own, carried, stood, fed = (pairs.reshape(-1, 2) for pairs in (own, carried, stood, fed))
        cabled = np.zeros((*shape[:2], shape[3], 2), np.int64)
        for i, train in enumerate(self.trains):
            for j, mount in enumerate(self.mounts):
                for k, supply in enumerate(self.supplies):
                    cabled[i, j, k] = self._cabled(self.assembler.cables(train, mount, supply))
        hung = np.zeros((*shape[:2], 2), np.int64)
        on_mounts = list(zip(self.mounts, self._pairs, strict=True))
        for j, (mount, pair) in enumerate(on_mounts):
            sets = self.assembler.weights(mount).sets
            each = np.array([(0, 0), *((axes.cents(item.weights, share), axes.grams(item.weights)) for item in sets)])
            hung[:, j] = each[pair.weights + 1]
        both = (
            own[:, None, None, None] + carried[None, :, None, None] + stood[None, None, :, None]
            + fed[None, None, None] + cabled[:, :, None] + hung[:, :, None, None]
        ).reshape(-1, 2)  # fmt: skip
        whole = [axes.fit_of(item, self.aims) for item in self.found]
        fit = np.array(
            [[axes.fit_step(item * axes.held_still(train, mount, pair.subs[i], self.brief.preferences)) for mount, pair in on_mounts]
             for i, (item, train) in enumerate(zip(whole, self.trains, strict=True))], dtype=np.int64,
        ).reshape(shape[:2])  # fmt: skip
        burden = np.array([len(axes.train_burdens(item)) for item in self.trains], dtype=np.int64)
        other = np.array([len(axes.mount_burdens(item)) for item in self.mounts], dtype=np.int64)
        speed = np.array([pair.speed for pair in self._pairs], dtype=np.int64).reshape(shape[1], shape[0]).T
        steps = np.empty((self.size, 5), dtype=np.int32)
        self.money_c = both[:, 0]
        steps[:, 0], steps[:, 1] = axes.money_step(both[:, 0]), axes.mass_step(both[:, 1])
        steps[:, 2] = -fit[self.train, self.mount]
        steps[:, 3] = -speed[self.train, self.mount]
        steps[:, 4] = burden[self.train] + other[self.mount] - axes.MOST_EASE
        self.grams = both[:, 1]
        return steps

    def _cabled(self, cables: tuple[Cable, ...]) -> tuple[int, int]:
        """What some cables cost and weigh; kept, since there are few kinds of them."""
        key = tuple(map(id, cables))
        if key not in self._cables:
            self._cables[key] = axes.cents(cables, self.share), axes.grams(cables)
        return self._cables[key]

    def _works(self, shape: tuple[int, ...]) -> Mask:
        passes = np.array([pair.passes for pair in self._pairs], dtype=bool).reshape(shape[1], shape[0]).T
        result = passes[self.train, self.mount]
        load = np.array([pair.load_kg + pair.hung_kg for pair in self._pairs]).reshape(shape[1], shape[0]).T
        heads = np.array([(mount.used("mass_g") or 0.0) / 1000 for mount in self.mounts])
        capacity = np.array(
            [np.inf if support.capacity_kg is None else support.capacity_kg for support in self.supports]
        )
        result &= load[self.train, self.mount] + heads[self.mount] <= capacity[self.support] + SLACK
        result &= self._fed(shape)[self.train, self.mount, self.supply]
        return np.asarray(result, dtype=bool)

    def _fed(self, shape: tuple[int, ...]) -> NDArray[np.bool_]:
        """P1 and P2 over trains, mounts and supplies: whatever draws has a supply that lasts, and gives the current."""
        preferences, rig = self.brief.preferences, self.trains[0].rig if self.trains else None
        draws = [energy.draw_of(mount, cooling_k=0.0, heater_duty=preferences.heater_duty) for mount in self.mounts]
        mean = self._of_trains("mean_w")[:, None] + np.array([draw.mean_w if draw else 0.0 for draw in draws])
        peak = self._of_trains("peak_w")[:, None] + np.array([draw.peak_w if draw else 0.0 for draw in draws])
        fed = np.ones((shape[0], shape[1], shape[3]), dtype=bool)
        for k, supply in enumerate(self.supplies):
            if supply is None:
                fed[:, :, k] = peak <= 0
                continue
            fed[:, :, k] = (peak > 0) & _lasts(supply, mean, peak, rig, self.assembler)
        return fed

    def requests(self, request: RequestTerms) -> dict[str, Mask]:
        """What each request leaves, by itself, under its name."""
        result = {}
        result["targets"] = self.steps[:, 2] <= -axes.fit_step(axes.LEAST_FIT)
        if not request.mains:
            result["no mains"] = ~np.array(
                [supply is not None and supply.mains for supply in self.supplies], dtype=bool
            )[self.supply]
        if request.steady:
            result["steady"] = self._steady()
        if request.money is not None:
            result["money"] = self.money_c <= round(request.money * 100)
        if request.carried_kg is not None:
            result["carried_kg"] = self.grams <= request.carried_kg * 1000 + SLACK
        if request.trips is not None:
            result["trips"] = self._loads(request.trips)
        if request.case is not None:
            result["case"] = np.array([_in_case(train, self._case(request)) for train in self.trains], dtype=bool)[
                self.train
            ]
        for key in request.stays:
            result[f"stays: {self._name(key)}"] = self.with_part(key)
        for what in request.not_wanted:
            result[f"not wanted: {what}"] = self._without(what)
        return result

    def _steady(self) -> Mask:
        """Mounts loaded within the share of their rating that the preferences calls wise."""
        share = PAYLOAD_SHARE[self.brief.preferences.payload] * self._of_trains("derating")
        rated = np.array([mount.payload_kg for mount in self.mounts])
        wise = self._of_trains("carried_kg")[:, None] <= share[:, None] * rated + SLACK
        return np.asarray(wise[self.train, self.mount], dtype=bool)

    def _name(self, key: str) -> str:
        return next((part.name for part in self.table.shop.parts if part.id == key), key)

    def _case(self, request: RequestTerms) -> Accessory | None:
        parts = self.table.shop.parts
        return next((part for part in parts if isinstance(part, Accessory) and part.id == request.case), None)

    def _loads(self, trips: int) -> Mask:
        """Necessary for so many trips: no load is fuller than one may be, unless it is one heavy piece."""
        limit = self.brief.preferences.trip_kg

        def capped(kilos: Floats) -> Floats:
            return np.minimum(kilos, limit)

        tube = capped(self._of_trains("carried_kg"))
        loose = np.array([max(train.mass_kg - train.carried_kg, 0.0) for train in self.trains])
        head = capped(np.array([(mount.used("mass_g") or 0.0) / 1000 for mount in self.mounts]))
        legs = capped(np.array([(support.used("mass_g") or 0.0) / 1000 for support in self.supports]))
        cell = capped(
            np.array([((supply.used("mass_g") or 0.0) if supply else 0.0) / 1000 for supply in self.supplies])
        )
        total = tube[self.train] + np.minimum(loose, limit)[self.train] + head[self.mount]
        total = total + legs[self.support] + cell[self.supply]
        return np.asarray(total <= trips * limit + SLACK, dtype=bool)

    def with_part(self, key: str) -> Mask:
        """Rows that have a part, by its id."""
        for kind, index, parts in (
            ("mount", self.mount, self.mounts), ("support", self.support, self.supports),
            ("power_source", self.supply, self.supplies),
        ):  # fmt: skip
            hit = np.array([part is not None and part.id == key for part in parts], dtype=bool)
            if hit.any() or self._kind(key) == kind:
                return np.asarray(hit[index], dtype=bool)
        return np.asarray(np.array([key in train.keys for train in self.trains], dtype=bool)[self.train], dtype=bool)

    def _kind(self, key: str) -> str:
        return next((getattr(part, "kind", "") for part in self.table.shop.parts if part.id == key), "")

    def _without(self, what: str) -> Mask:
        if what in ("counterweights", "alt_azimuth"):
            bad = [
                mount.needs_counterweight if what == "counterweights" else mount.style == what for mount in self.mounts
            ]
            return np.asarray(~np.array(bad, dtype=bool)[self.mount], dtype=bool)
        return np.asarray(~np.array([_has(train, what) for train in self.trains], dtype=bool)[self.train], dtype=bool)


def _most(bound: float | None) -> float:
    return np.inf if bound is None else bound + SLACK


def _another_width(train: Train, mount: Mount) -> bool:
    bar = train.choice.telescope.dovetail
    return bar is not None and bool(mount.saddle) and bar.width not in mount.saddle


def _lasts(supply: PowerSource, mean: Floats, peak: Floats, rig: Rig | None, assembler: Assembler) -> NDArray[np.bool_]:
    """Whether a supply gives the current at worst, and the energy that the rule calls short of breaking."""
    brief = assembler.table.brief
    volts, most = supply.used("voltage_v"), supply.max_a
    good = np.ones(mean.shape, dtype=bool)
    if volts and most is not None:
        good &= peak / volts <= most * _most(PEAK.problem)
    had = supply.used("energy_wh")
    if supply.mains or had is None or rig is None:
        return good
    power = Powering(rig, brief.preferences, None)
    cold = energy.cold_factor(supply.chemistry, power.temperature[0])
    gives = had * supply.usable_fraction * cold * (1 - brief.preferences.energy_reserve)
    needed = mean * power.hours[0]
    return np.asarray(good & (gives >= needed * ((ENERGY.problem or 0.0) - SLACK)), dtype=bool)


def _in_case(train: Train, case: Accessory | None) -> bool:
    """Whether the bare tube goes into a case whose inner size is given."""
    if case is None:
        return False
    inner = sorted(side for side in (case.length_mm, case.width_mm, case.height_mm) if side is not None)
    length, wide = tube_of(train.choice.telescope)
    need = sorted((length, wide, wide))
    return len(inner) == 3 and all(side <= has for side, has in zip(need, inner, strict=True))


def _has(train: Train, what: str) -> bool:
    """Whether a train has what is not wanted."""
    if what == "computer":
        return bool(train.computer)
    if what == "guiding":
        return train.method != "none"
    if what == "off_axis":
        return train.method == "off_axis"
    if what == "collimation":
        return train.choice.telescope.design in axes.COLLIMATED
    return train.mono if what == "mono" else not train.mono
