"""The image train: every part behind the telescope at its place in millimetres, glass and tolerances counted.

Positions run along the light from the telescope's own rear shoulder with its drawtube fully in. A focuser that takes
the place of the telescope's own starts ahead of that shoulder, by the height of the one it replaces.
"""

from dataclasses import dataclass
from functools import cached_property

from dravel.core.model import (
    CONNECTOR_SIZES,
    Camera,
    Connector,
    Corrector,
    Filter,
    Focuser,
    FocuserPart,
    MeasuredSpan,
    OffAxisGuider,
    Part,
    PathItem,
    Preferences,
    Rig,
    Telescope,
)
from dravel.core.model.parts import Glass
from dravel.core.model.words import Words, text
from dravel.core.train.light_path import LightPath, length_of

AS_A_GROUP = "measured as a group"


@dataclass(frozen=True)
class Laid:
    """A part at its place. `length` is what the computation takes, `nominal` the maker's; None when not given."""

    index: int
    item: PathItem
    start: float
    length: float | None
    nominal: float | None
    reading: Words
    tolerance: float

    @property
    def part(self) -> Part:
        """The part itself."""
        return self.item.part

    @property
    def end(self) -> float:
        """Where its rear shoulder lies; a camera's is its sensor. A part of unknown length takes no room."""
        return self.start + (self.length or 0.0)

    @property
    def filter(self) -> Filter | None:
        """The filter now in the light here."""
        return None if self.item.in_use is None else self.item.filters[self.item.in_use]


@dataclass(frozen=True)
class Train:
    """Everything behind the telescope, camera included, in order."""

    light: LightPath
    laid: tuple[Laid, ...]
    preferences: Preferences
    spans_void: tuple[MeasuredSpan, ...] = ()

    @classmethod
    def of(cls, rig: Rig, light: LightPath, preferences: Preferences) -> "Train":
        """Lay a rig's train on the rule."""
        telescope = light.telescope
        behind = [(i, item) for i, item in enumerate(rig.path) if not isinstance(item.part, Telescope)]
        spread, void = _spread(rig.measured_spans, behind)
        replaced = telescope is not None and any(isinstance(item.part, FocuserPart) for _, item in behind)
        at = -((telescope.focuser.height_mm if telescope else None) or 0.0) if replaced else 0.0
        laid = []
        for index, item in behind:
            nominal = length_of(PathItem.model_construct(**{**item.__dict__, "part": _unmeasured(item.part)}))
            length, reading, tolerance = length_of(item), _reading(item.part), length_tolerance(item, preferences)
            if index in spread and length is not None:
                scale, share = spread[index]
                length, tolerance = length * scale, preferences.calliper_tolerance_mm * share
                reading = reading if reading and scale == 1 else AS_A_GROUP
            laid.append(Laid(index, item, at, length, nominal, reading, tolerance))
            at = laid[-1].end
            if isinstance(item.part, Camera):
                break
        return cls(light, tuple(laid), preferences, void)

    @cached_property
    def camera(self) -> Laid | None:
        """The camera at its place."""
        return next((entry for entry in self.laid if isinstance(entry.part, Camera)), None)

    @cached_property
    def corrector(self) -> Laid | None:
        """The corrector whose rear shoulder the back focus runs from: the last one."""
        return next((entry for entry in reversed(self.laid) if isinstance(entry.part, Corrector)), None)

    @cached_property
    def guider(self) -> Laid | None:
        """The off-axis guider."""
        return next((entry for entry in self.laid if isinstance(entry.part, OffAxisGuider)), None)

    @cached_property
    def shoulder(self) -> float:
        """Where back focus is counted from: the corrector's rear shoulder, else the telescope's."""
        return self.corrector.end if self.corrector else (self.laid[0].start if self.laid else 0.0)

    @cached_property
    def behind(self) -> tuple[Laid, ...]:
        """The parts between shoulder and sensor, camera included."""
        if self.corrector is None:
            return self.laid
        return tuple(entry for entry in self.laid if entry.index > self.corrector.index)

    @cached_property
    def unknown(self) -> tuple[str, ...]:
        """Names of the parts whose length nobody gave."""
        return tuple(entry.part.name for entry in self.laid if entry.length is None)

    @cached_property
    def sensor(self) -> float | None:
        """Where the sensor lies; None without a camera or when a length is missing."""
        return None if self.camera is None or self.unknown else self.camera.end

    @cached_property
    def actual(self) -> float | None:
        """Distance from shoulder to sensor, mm; what lies ahead of the shoulder need not be known for it."""
        known = self.camera is not None and all(entry.length is not None for entry in self.behind)
        return self.camera.end - self.shoulder if self.camera is not None and known else None

    def glass_from(self, index: int) -> float:
        """Σ t·(n − 1)/n of the plates at and behind a place in the path, mm."""
        return sum(shift for entry in self.laid if entry.index >= index for shift in map(plate_shift, plates(entry)))

    @cached_property
    def glass_shift(self) -> float:
        """Focus shift of the plates behind the shoulder, mm."""
        return self.glass_from(self.corrector.index + 1 if self.corrector else 0)

    @cached_property
    def focuser(self) -> Focuser | None:
        """Travel, load limit and mechanism of the focuser that is in the path."""
        telescope = self.light.telescope
        if telescope is None:
            return None
        other = next((entry.part for entry in self.laid if isinstance(entry.part, FocuserPart)), None)
        if not isinstance(other, FocuserPart):
            return telescope.focuser
        return telescope.focuser.model_copy(
            update={
                "mechanism": other.mechanism,
                "travel_mm": other.travel_mm,
                "load_limit_kg": other.load_limit_kg,
                "height_mm": other.used("optical_length_mm"),
            }
        )


def plates(entry: Laid) -> list[Glass]:
    """Plane plates in the light at a part: its windows, and the filter in use. A corrector's lenses are no plates."""
    if isinstance(entry.part, Corrector):
        return []
    glass = list(entry.item.part.glass)
    if entry.filter is not None:
        glass.append(filter_plate(entry.filter))
    return glass


def filter_plate(filter: Filter) -> Glass:
    """A filter as the plane plate it is."""
    thickness, index = filter.used("thickness_mm"), filter.used("refractive_index")
    return Glass.model_construct(
        thickness_mm=thickness or filter.thickness_mm, refractive_index=index or filter.refractive_index
    )


def plate_shift(plate: Glass) -> float:
    """Focus shift of a plane plate, mm: t·(n − 1)/n, paraxial. Source: Snell's law; any optics text."""
    return plate.thickness_mm * (plate.refractive_index - 1) / plate.refractive_index


def flange_distance(connector: Connector | None) -> float | None:
    """The flange distance a lens mount asks for, mm; None for ends that ask for none."""
    row = CONNECTOR_SIZES.get(connector.size) if connector and connector.gender == "lens" else None
    return row.flange_distance_mm if row else None


def part_key(part: Part) -> str:
    """What a measured span remembers a part by."""
    return part.id or part.name


def _unmeasured(part: Part) -> Part:
    return part.model_copy(update={"measured": {}}) if part.measured else part


def _reading(part: Part) -> Words:
    field = "flange_to_sensor_mm" if isinstance(part, Camera) else "optical_length_mm"
    measured = part.reading(field)
    return (
        text("measured ({instrument})", instrument=measured.instrument)
        if measured and measured.instrument
        else "measured"
        if measured
        else ""
    )


def length_tolerance(item: PathItem, preferences: Preferences) -> float:
    """How far a part's length may be off, mm: its reading's, its maker's, else the preferences'."""
    part = item.part
    if isinstance(part, Corrector) and part.inside_drawtube:
        return 0.0
    if _reading(part):
        return preferences.calliper_tolerance_mm
    return preferences.part_tolerance_mm if part.length_tolerance_mm is None else part.length_tolerance_mm


def _spread(
    spans: tuple[MeasuredSpan, ...], behind: list[tuple[int, PathItem]]
) -> tuple[dict[int, tuple[float, float]], tuple[MeasuredSpan, ...]]:
    """For each part of a measured span: the factor on its own length, and its share of the reading's tolerance.

    A span counts where its parts stand together in its order. Parts that were measured themselves keep their length;
    the reading says nothing of where among the others the difference lies, so they take it in proportion. Where all
    were measured, or the total leaves the others nothing, all take it.
    """
    keys = [part_key(item.part) for _, item in behind]
    scale: dict[int, tuple[float, float]] = {}
    void = []
    for span in spans:
        size = len(span.parts)
        at = next((i for i in range(len(keys) - size + 1) if tuple(keys[i : i + size]) == span.parts), None)
        group = behind[at : at + size] if at is not None else []
        lengths = [length_of(item) for _, item in group]
        total = sum(length or 0.0 for length in lengths)
        if not group or None in lengths or total <= 0:
            void.append(span)
            continue
        own = [bool(_reading(item.part)) for _, item in group]
        known = sum(length or 0.0 for length, measured in zip(lengths, own, strict=True) if measured)
        left, others = span.total.value - known, total - known
        among = not all(own) and left > 0 and others > 0
        for (index, _), length, measured in zip(group, lengths, own, strict=True):
            factor = span.total.value / total if not among else 1.0 if measured else left / others
            scale[index] = (factor, (length or 0.0) / total)
    return scale, tuple(void)
