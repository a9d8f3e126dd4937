"""What a train needs beside its light path: guide scope, computer or release, card, spare batteries, heater, power box.

Canonical: of each kind the part at hand, else the cheapest; the card with most room. Riders sit on top of the tube, one behind the other.
"""

from collections.abc import Callable
from math import ceil
from typing import TypeVar

from dravel.core.design.paths import Brief, Path
from dravel.core.design.shop import Shop
from dravel.core.model import Accessory, Camera, DewHeater, Guide, GuideScope, Part, PathItem, Placed, Rider, Rig
from dravel.core.model.designs import MIRRORED
from dravel.core.model.inventory import HAD
from dravel.core.physics.dew import FALL_K
from dravel.core.steps import STEPS
from dravel.core.steps.power.facts import LOOSEST, USB_VOLTS

P = TypeVar("P", bound=Part)
ABOVE_MM = 45.0  # a rider's middle above the tube
MOST_SPARES = 12
CARD_SUB_S = 60.0  # a frame a minute: what a card is chosen for. Common practice
MANY_FILTERS = 3  # that are turned through in a night
MOTOR_H = 1.5  # focused more often than so many hours apart, a motor does it. Dravel's own


class Outfitter:
    """Picks what goes with a path from a shop."""

    def __init__(self, shop: Shop, brief: Brief, guide_camera: Camera | None) -> None:
        self._shop, self._brief = shop, brief
        self.guide_camera = guide_camera
        self.scopes = [] if guide_camera is None or brief.planets else shop.kind(GuideScope)
        self._last: tuple[Path, bool] | None = None  # the path that was asked about dew last, and the answer
        self._controller = self._first(Rider, lambda item: item.function == "controller")
        self._computer = self._first(Accessory, lambda item: item.function == "computer")
        self._motor = self._first(Rider, lambda item: item.function == "focus_motor")
        self._release = self._first(Accessory, lambda item: item.function == "remote_release")
        self._cards = [item for item in shop.kind(Accessory) if item.function == "memory_card"]
        self._spare = self._first(Accessory, lambda item: item.function == "spare_battery")
        self._box = self._first(Rider, lambda item: item.function == "power_box")

    def _first(self, kind: type[P], wanted: Callable[[P], bool]) -> P | None:
        return next((item for item in self._shop.kind(kind) if wanted(item)), None)

    def fitted(self, path: Path, scope: GuideScope | None) -> Rig | None:
        """The path with all that rides along or lies beside; None where it wants something that is not to be had."""
        camera, rig = path.choice.camera, path.rig
        guided = scope is not None or rig.guide.method == "off_axis"
        riders: list[Part] = []
        extras: list[Accessory] = []
        computed = guided or camera.driven_by == "computer"
        if computed:
            # Hundreds of frames of video a second want a laptop; all else a small box on the tube does.
            brain = (
                (self._computer or self._controller) if self._brief.planets else (self._controller or self._computer)
            )
            if brain is None:
                return None
            if isinstance(brain, Rider):
                riders.append(brain)
            else:
                extras.append(brain)
            if self._motor is not None and self._wants_motor(path):
                riders.append(self._motor)
        if camera.driven_by == "release":
            card = self._card(camera)
            if card is None or (not computed and self._release is None):
                return None
            extras += [card, *([] if computed or self._release is None else [self._release])]
            extras += self._spares(camera)
        riders += self._heater(path)
        riders += [self._box] if self._box is not None and self._wants_outlets([camera, *riders]) else []
        if scope is not None and self.guide_camera is not None:
            riders.append(scope)
            guide = Guide(method="guide_scope", branch=(PathItem(part=self.guide_camera),))
            rig = rig.model_copy(update={"guide": guide})
        return rig.model_copy(update={"riders": self._placed(path, riders), "extras": tuple(extras)})

    def _card(self, camera: Camera) -> Accessory | None:
        """The card for a night's frames: one at hand where it holds them, else the cheapest that does, else the largest."""
        needed = self._brief.preferences.night_hours * 3600 / CARD_SUB_S * (camera.used("frame_mb") or 0.0) / 1000
        enough = (card for card in self._cards if (card.used("storage_gb") or 0.0) >= needed)
        return next(enough, None) or max(self._cards, key=lambda item: item.used("storage_gb") or 0.0, default=None)

    def _wants_motor(self, path: Path) -> bool:
        """Whether focus is wanted so often that nobody turns a knob: at each change of filter, behind mirrors, or as the night
        cools; nothing of it for the planets, which are focused by eye, nor for the ring of a lens.
        """
        telescope = path.choice.telescope
        if self._brief.planets or telescope.design == "camera_lens":
            return False
        changes = any(len(item.filters) >= MANY_FILTERS for item in path.rig.path)
        every = path.context.known.get("optics.refocus_interval_k")
        cools = every is not None and every < FALL_K / self._brief.preferences.night_hours * MOTOR_H
        return changes or cools or telescope.design in MIRRORED

    def _spares(self, camera: Camera) -> list[Accessory]:
        if camera.battery_hours is None or camera.power is not None or self._spare is None:
            return []
        many = ceil(self._brief.preferences.night_hours / camera.battery_hours) - 1
        return [self._spare] * min(max(many, 0), MOST_SPARES)

    def _heater(self, path: Path) -> list[Part]:
        """The band that goes round the main glass, where the rule of dew asks for one."""
        if self._last is None or self._last[0] is not path:
            wet = any(judgement.verdict != "ok" for judgement in STEPS.rules["P5"].judgements(path.context))
            self._last = path, wet
        wet = self._last[1]
        size = path.choice.telescope.used("aperture_mm") or 0.0
        bands = (
            [item for item in self._shop.kind(DewHeater) if size <= item.aperture_mm <= LOOSEST * size] if wet else []
        )
        return list(sorted(bands, key=lambda item: (item.status not in HAD, item.aperture_mm))[:1])

    @staticmethod
    def _wants_outlets(parts: list[Part]) -> bool:
        """Whether so much hangs on the supply that one outlet beside the mount's does not do."""
        fed = [part for part in parts if part.power is not None and part.power.voltage_v > USB_VOLTS]
        return len(fed) > 1

    @staticmethod
    def _placed(path: Path, parts: list[Part]) -> tuple[Placed, ...]:
        """Riders on top of the tube, one behind the other; a band goes round its front."""
        telescope = path.choice.telescope
        wide = telescope.used("tube_diameter_mm") or (telescope.used("aperture_mm") or 0.0) * 1.15
        front = min(round((telescope.used("tube_length_mm") or 200.0) - telescope.mark_mm - 20), 3000)
        on_top = [part for part in parts if not isinstance(part, DewHeater)]
        lengths = [getattr(part, "length_mm", 100.0) for part in on_top]
        at = -sum(lengths) / 2
        placed = []
        for part, length in zip(on_top, lengths, strict=True):
            placed.append(
                Placed(part=part, along_mm=round(at + length / 2), off_mm=round(min(wide / 2 + ABOVE_MM, 2000)))
            )
            at += length
        placed += [Placed(part=part, along_mm=front) for part in parts if isinstance(part, DewHeater)]
        return tuple(placed)
