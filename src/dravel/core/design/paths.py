"""Light paths out of a shop: telescope, corrector, guider, filters and camera with the rings between them, each judged.

A canonical path is laid for each choice of telescope, corrector, filter holder, camera and off-axis guider: by the ring
solver, fewest bought rings first; the holder with the filters that the targets ask for; the coarsest binning that is not
needed stays off. Choices whose ends no rings join, or that are longer than the distance asked for, are passed over before
anything is laid: both are necessary for a path that works.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from dravel.core.design.shop import Shop
from dravel.core.engine.context import Context
from dravel.core.engine.rule import Judgement
from dravel.core.model import (
    Adapter,
    Camera,
    Connector,
    Corrector,
    Filter,
    FilterHolder,
    OffAxisGuider,
    Part,
    PathItem,
    Preferences,
    Purpose,
    Rig,
    Site,
    Telescope,
)
from dravel.core.model.edit import apply
from dravel.core.moves.guiding import GUIDE_SENSOR_MM, off_axis
from dravel.core.moves.parts import far_outside, focusers_swapped
from dravel.core.moves.rings import relaid
from dravel.core.steps import STEPS
from dravel.core.steps.optics.rules.optics import sampling_verdict
from dravel.core.train.light_path import back_focus_of, offered
from dravel.core.train.solver import RING_FUNCTIONS
from dravel.core.train.walks import End, end_of, taken_by

MOST_BINNING = 3
SLACK_TOLERANCES, SLACK_MM = 3.0, 3.0  # beyond three tolerances a distance breaks; glass and rings off may give so much
LINES, COLOURS = ("h_alpha", "oiii", "sii"), ("luminance", "red", "green", "blue")
LINE_FILTERS = ("dual_line", *LINES)
NAME = "Design"


@dataclass(frozen=True)
class Brief:
    """What all paths of a design have in common."""

    purposes: tuple[Purpose, ...]
    site: Site | None
    preferences: Preferences
    lines: bool = False  # whether all targets shine in lines, so that a line filter is what is worked with
    narrowband: bool = False  # whether nothing but line filters will do

    @property
    def planets(self) -> bool:
        """Whether it is for moon and planets alone."""
        return self.purposes == ("planetary",)

    def context(self, rig: Rig, shelf: Iterable[Part] = ()) -> Context:
        """A rig under the brief's preferences."""
        return STEPS.context(rig, self.preferences, shelf)


@dataclass(frozen=True)
class Choice:
    """What a path is chosen from, before it is laid."""

    telescope: Telescope
    corrector: Corrector | None
    guider: OffAxisGuider | None
    holder: FilterHolder | None
    camera: Camera

    @property
    def parts(self) -> tuple[Part, ...]:
        """In the order of the light."""
        every = (self.telescope, self.corrector, self.guider, self.holder, self.camera)
        return tuple(part for part in every if part is not None)


@dataclass(frozen=True)
class Path:
    """A path that is laid and breaks no rule of Glass or Spacing."""

    choice: Choice
    rig: Rig
    context: Context


class Mating:
    """Which ends the rings of a shop lead to: whether two parts can be joined at all."""

    def __init__(self, rings: Iterable[Part]) -> None:
        self._next: dict[End, set[End]] = {}
        self._known: dict[End, frozenset[End]] = {}
        for ring in rings:
            if isinstance(ring, Adapter) and ring.function in RING_FUNCTIONS and ring.sky_side and ring.sensor_side:
                self._next.setdefault(taken_by(ring.sky_side), set()).add(end_of(ring.sensor_side))

    def reached(self, end: End) -> frozenset[End]:
        """All ends that rings lead to from an open end, itself among them."""
        if end not in self._known:
            seen, todo = {end}, [end]
            while todo:
                for other in self._next.get(todo.pop(), ()):
                    if other not in seen:
                        seen.add(other)
                        todo.append(other)
            self._known[end] = frozenset(seen)
        return self._known[end]

    def joins(self, parts: tuple[Part, ...]) -> bool:
        """Whether parts in the order of the light can be joined one by one."""
        for item, other in pairwise(parts):
            rear: Connector | None = getattr(item, "sensor_side", None)
            if rear is None:
                return False
            ends = self.reached(end_of(rear))
            if not any(taken_by(front) in ends for front in _fronts(other)):
                return False
        return True


def _fronts(part: Part) -> list[Connector]:
    results = [getattr(part, "sky_side", None)]
    if isinstance(part, Camera) and part.front_ring is not None:
        results.append(part.front_ring.sky_side)
    return [front for front in results if front is not None]


class Paths:
    """All paths of a shop for a brief."""

    def __init__(self, shop: Shop, brief: Brief) -> None:
        self._shop, self._brief = shop, brief
        self._mating = Mating(shop.rings)
        self._bent: dict[tuple[str | None, str | None], bool] = {}

    @cached_property
    def guide_camera(self) -> Camera | None:
        """The one camera that designs guide with: a small one with a smooth nose, at hand first, then the cheapest."""
        small = [camera for camera in self._shop.kind(Camera) if camera.sensor.width_mm < GUIDE_SENSOR_MM]
        nosed = [camera for camera in small if camera.sky_side is not None and camera.sky_side.family == "clamp"]
        return next(iter(nosed or small), None)

    @cached_property
    def cameras(self) -> list[Camera]:
        """Cameras that take the pictures: small sensors with video for the planets, larger ones for everything else."""
        if self._brief.planets:
            return [item for item in self._shop.kind(Camera) if item.video_fps is not None]
        return [item for item in self._shop.kind(Camera) if item.sensor.width_mm >= GUIDE_SENSOR_MM]

    def filters(self, holder: FilterHolder, camera: Camera) -> tuple[Filter, ...]:
        """What a holder is filled with for the brief and a camera; the first is in use, unless it dims what it should not."""
        fit = [item for item in self._shop.kind(Filter) if item.size == holder.filter_size]
        nebulae = "nebula" in self._brief.purposes
        if camera.sensor.colour == "mono":
            uses = LINES if self._brief.lines else (*COLOURS, *LINES) if nebulae else COLOURS
        else:
            cut = () if camera.spectral_cut != "none" else ("uv_ir_cut",)
            dual = ("dual_line",) if nebulae else ()
            uses = (*dual, *cut) if self._brief.lines else (*cut, *dual)
        results = [next((item for item in fit if item.use == use), None) for use in uses]
        held = tuple(item for item in results if item is not None)
        return held[: holder.positions] if holder.style == "wheel" else held

    def choices(self) -> Iterator[Choice]:
        """Everything there is to choose from that has a place for each part, whether it can be joined or not."""
        holders = self._shop.kind(FilterHolder)
        guiders: list[OffAxisGuider | None] = [None]
        if self.guide_camera is not None and not self._brief.planets:
            guiders += self._shop.kind(OffAxisGuider)
        for telescope in self._shop.kind(Telescope):
            focal, aperture = telescope.used("focal_length_mm"), telescope.used("aperture_mm")
            correctors = [None, *(
                item for item in self._shop.kind(Corrector)
                if offered(item, telescope) and not far_outside(item, focal, aperture)
            )]  # fmt: skip
            for corrector in correctors:
                for camera in self.cameras:
                    mono = camera.sensor.colour == "mono"
                    plain: list[FilterHolder | None] = [] if mono and not self._brief.planets else [None]
                    fitting = (
                        [] if self._brief.planets else [item for item in holders if (item.style == "wheel") == mono]
                    )
                    for holder in [*plain, *fitting]:
                        if holder is None and self._brief.narrowband and not self._brief.planets:
                            continue
                        for guider in guiders:
                            yield Choice(telescope, corrector, guider, holder, camera)

    def may_work(self, choice: Choice) -> bool:
        """Necessary for a path that works: all ends can be joined, there is room, and the field is not left curved."""
        return self._mating.joins(choice.parts) and self._has_room(choice) and not self._is_bent(choice)

    def _has_room(self, choice: Choice) -> bool:
        asked = back_focus_of(choice.corrector, choice.telescope.used("focal_length_mm")) if choice.corrector else None
        if asked is None:
            return True
        fixed = choice.camera.used("flange_to_sensor_mm") or 0.0
        fixed += sum((part.used("optical_length_mm") or 0.0) for part in (choice.guider, choice.holder) if part)
        tolerance = (choice.corrector.tolerance_mm if choice.corrector else None) or 1.0
        return fixed <= asked + SLACK_TOLERANCES * tolerance + SLACK_MM

    def _is_bent(self, choice: Choice) -> bool:
        """Whether a telescope that needs a corrector has none, and its field breaks the rule for these pixels.

        Without a corrector nothing between telescope and camera changes that; where the focal length hangs on the distance
        it is left to the rule.
        """
        telescope, camera = choice.telescope, choice.camera
        if choice.corrector is not None or not telescope.needs_corrector or telescope.growth_per_mm is not None:
            return False
        key = telescope.id, camera.id
        if key not in self._bent:
            items = (PathItem(part=telescope), PathItem(part=camera))
            bare = Rig(name=NAME, path=items, purposes=self._brief.purposes, site=self._brief.site)
            said = STEPS.rules["O3"].judgements(self._binned(bare))
            self._bent[key] = any(item.verdict == "problem" for item in said)
        return self._bent[key]

    def telescopes(self) -> list[Telescope]:
        """Telescopes and lenses of the shop, those at hand first."""
        return self._shop.kind(Telescope)

    def laid(self, choice: Choice) -> Path | None:
        """The path of a choice with its rings; None where it breaks a rule of Glass or Spacing. Where only focus is out of
        reach, another focuser of the shop is tried.
        """
        context = self.context_of(choice)
        if context is None:
            return None
        broken = self.broken(context, all_of_them=True)
        if [code for code, _ in broken] == ["S4"]:
            for attempt in focusers_swapped(self._brief.context(context.rig, self._shop.parts)):
                tried = self._binned(apply(context.rig, attempt.edits))
                if not self.broken(tried):
                    return Path(choice, tried.rig, tried)
        return None if broken else Path(choice, context.rig, context)

    def broken(self, context: Context, *, all_of_them: bool = False) -> list[tuple[str, Judgement]]:
        """Rules of Glass and Spacing that a path breaks, by code: the first, or all of them."""
        results: list[tuple[str, Judgement]] = []
        for code in JUDGED:
            results += [
                (code, judgement)
                for judgement in STEPS.rules[code].judgements(context)
                if judgement.verdict == "problem"
            ]
            if results and not (all_of_them and {code for code, _ in results} == {"S4"}):
                break
        return results

    def context_of(self, choice: Choice) -> Context | None:
        """A choice laid out with its rings, binned; None where a holder would be empty, or a guider finds no place."""
        items = []
        for part in choice.parts:
            if part is choice.guider:
                continue  # laid by the move that knows its place
            held = self.filters(part, choice.camera) if isinstance(part, FilterHolder) else ()
            if isinstance(part, FilterHolder) and not held:
                return None
            if self._brief.narrowband and isinstance(part, FilterHolder) and held[0].use not in LINE_FILTERS:
                return None
            used = 0 if held and (self._brief.lines or held[0].use not in LINE_FILTERS) else None
            items.append(PathItem(part=part, filters=held, in_use=used))
        rig = Rig(name=NAME, path=tuple(items), purposes=self._brief.purposes, site=self._brief.site)
        if choice.guider is None:
            rig = apply(rig, relaid(self._brief.context(rig, self._shop.rings), "", ()).edits)
        else:
            shelf = (*self._shop.rings, choice.guider, *((self.guide_camera,) if self.guide_camera else ()))
            attempt = next(off_axis(self._brief.context(rig, shelf)), None)
            if attempt is None:
                return None
            rig = apply(rig, attempt.edits)
        return self._binned(rig)

    def _binned(self, rig: Rig) -> Context:
        """Binned as far as the stars are oversampled and no farther; a body that is no computer's is not binned."""
        context = self._brief.context(rig)
        camera = rig.path[-1].part
        if self._brief.planets or not isinstance(camera, Camera) or camera.driven_by == "release":
            return context
        if not _oversampled(context):
            return context
        for binning in range(2, MOST_BINNING + 1):
            tried = self._brief.context(rig.model_copy(update={"binning": binning}))
            if all(judgement.verdict == "ok" for judgement in STEPS.rules["O2"].judgements(tried)):
                return tried
        return context


# The rules of Spacing and Glass, those that break most first: the first that breaks ends it.
_FIRST = ("S1", "S2", "S4", "O1")
JUDGED = (
    *_FIRST,
    *(
        code
        for step in ("spacing", "optics")
        for code in (rule.code for rule in STEPS[step].rules)
        if code not in _FIRST
    ),
)


def _oversampled(context: Context) -> bool:
    """Whether the rule of sampling finds too many pixels across a star, by the school that is followed."""
    known, purposes = context.known, context.rig.purposes
    if "sampling" not in known or "pixel_scale" not in known:
        return False
    school = context.preferences.sampling
    _, words = sampling_verdict(school, known.value("sampling"), known.value("pixel_scale"), purposes)
    return words.code == "oversampled"
