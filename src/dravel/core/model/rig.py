"""A rig: one light path from the sky to the sensor, and what it is for."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, ValidationInfo, model_validator

from dravel.core.model.base import Document, Evening, Identifier, Model, Name, Note, Quantity, YesNo, is_kept
from dravel.core.model.gear import Accessory, Cable, CarriedPart, Counterweight, Mount, PowerSource, Support
from dravel.core.model.parts import Filter, Measurement, PathPart, check_reading
from dravel.core.model.preferences import Preferences, RigPreferences
from dravel.core.model.sky import Site, Target

Purpose = Literal["wide_field", "nebula", "galaxy", "cluster", "planetary", "untracked"]


class PathItem(Document):
    """A part at its place in the light path, with the filters a holder carries and the one in use.

    `faces_deg` says where its slot, cable or knob points, seen from behind, clockwise from up. `prism_in_mm` is how
    far an off-axis guider's prism is pushed in. `assembly` names the assembly the item came with. `in_use` is
    a place among `filters`; `set_length_mm` lies in the range of an adjustable part, and others have none.
    """

    part: PathPart
    filters: Annotated[tuple[Filter, ...], Field(max_length=20)] = ()
    in_use: Annotated[int | None, Quantity("Filter in use", "", 0, 19)] = None
    set_length_mm: Annotated[float | None, Quantity("Set length", "mm", 0, 2000)] = None
    faces_deg: Annotated[float | None, Quantity("Faces", "°", 0, 360)] = None
    prism_in_mm: Annotated[float, Quantity("Prism depth", "mm", 0, 100)] = 0
    assembly: Identifier | None = None

    @model_validator(mode="after")
    def _filter_in_use_exists(self) -> "PathItem":
        if self.in_use is not None and self.in_use >= len(self.filters):
            raise ValueError("in_use: names a filter that the holder does not carry")
        return self

    @model_validator(mode="after")
    def _set_length_within_range(self) -> "PathItem":
        low, high, chosen = self.part.optical_length_mm, self.part.optical_length_max_mm, self.set_length_mm
        if chosen is None:
            return self
        if low is None or high is None:
            raise ValueError(f"set_length_mm: the {self.part.name} has a fixed length")
        if not low - 1e-9 <= chosen <= high + 1e-9:
            raise ValueError(f"set_length_mm: {chosen:g} mm cannot be set; allowed {low:g} to {high:g} mm")
        return self


class Guide(Document):
    """How the rig is guided. An off-axis branch runs from the guide port to the guide camera; behind a guide scope
    (one of the riders) the branch is the guide camera alone.

    `helical_mm`: how far the port's helical is turned out. `drawn_out_mm`: how far the guide camera's nose is drawn
    out of its socket.
    """

    method: Literal["none", "guide_scope", "off_axis"] = "none"
    branch: Annotated[tuple[PathItem, ...], Field(max_length=10)] = ()
    helical_mm: Annotated[float, Quantity("Helical extension", "mm", 0, 60)] = 0
    drawn_out_mm: Annotated[float, Quantity("Guide camera position", "mm", 0, 120)] = 0
    exposure_s: Annotated[float, Quantity("Guide exposure", "s", 0.01, 60)] = 2.0
    sub_s: Annotated[float, Quantity("Sub length", "s", 0.001, 7200)] = 180.0


class MeasuredSpan(Document):
    """One reading over several parts that stand together. `parts` names them in order, by id or else by name.

    It counts as long as those parts stand together in that order; afterwards it is kept and said not to count.
    """

    parts: Annotated[tuple[str, ...], Field(title="Parts", min_length=2, max_length=20)]
    total: Measurement


Side = Literal["top", "left", "right", "below"]


class Placed(Model):
    """A thing that rides along. `along_mm` runs from the tube's own mark, the middle of its dovetail, positive
    towards the sky: riders go along when the tube slides. `off_mm` runs from the tube's axis towards its side, seen
    from behind. What is off at night weighs nothing in the balance.
    """

    part: CarriedPart
    along_mm: Annotated[float, Quantity("Position along the tube", "mm", -3000, 3000)] = 0
    off_mm: Annotated[float, Quantity("Distance from the tube axis", "mm", 0, 2000)] = 0
    side: Annotated[Side, Field(title="Side")] = "top"
    off_at_night: Annotated[YesNo, Field(title="Removed before imaging")] = False


class Hung(Model):
    """A counterweight on the shaft; `position_mm` is its middle, from the right-ascension axis."""

    part: Counterweight
    position_mm: Annotated[float, Quantity("Position on the shaft", "mm", 0, 3000)]


PartKey = Annotated[str, Field(min_length=1, max_length=120)]


class CableRun(Document):
    """Where a power cable lies: plugged in `behind` another cable, or at the supply, and which parts it `feeds`.

    Parts go by id, or else by name.
    """

    cable: PartKey
    behind: PartKey | None = None
    feeds: Annotated[tuple[PartKey, ...], Field(title="Feeds", max_length=40)] = ()


class Supply(Document):
    """What feeds the rig, and for how long it must. Without hours those of darkness count, or the preferences'."""

    source: PowerSource | None = None
    cables: Annotated[tuple[Cable, ...], Field(title="Cables", max_length=40)] = ()
    runs: Annotated[tuple[CableRun, ...], Field(title="Cable runs", max_length=40)] = ()
    hours: Annotated[float | None, Quantity("Night length", "h", 0.1, 48)] = None


class Exposure(Document):
    """One block of an exposure plan: so many subs of one length through one filter, named by id, or else by name."""

    filter: PartKey | None = None
    sub_s: Annotated[float, Quantity("Sub length", "s", 0.001, 7200)] = 180.0
    count: Annotated[int, Quantity("Subs", "", 1, 20_000)] = 20
    dither_every: Annotated[int, Quantity("Dither every n subs (0: never)", "", 0, 1000)] = 1

    @property
    def seconds(self) -> float:
        """How long its subs are together, s."""
        return self.sub_s * self.count


class Shooting(Document):
    """How the camera is set: its gain (the mode with the least read noise where none is chosen), and the set point of
    its cooler where it is not the preferences'.
    """

    gain: Annotated[float | None, Quantity("Gain setting", "", 0, 1_000_000)] = None
    set_c: Annotated[float | None, Quantity("Set point of this rig", "°C", -60, 30)] = None


class Building(Document):
    """How the rig is put together: what stays screwed together between nights, what it stands on, how it is aligned to the
    pole, and cards of the build that its owner leaves out, by their keys. Nothing named, and the rig itself decides.
    """

    kept: Annotated[Literal["apart", "train", "on_tube", "on_mount"], Field(title="Stays assembled")] = "apart"
    ground: Annotated[Literal["grass", "soft", "slab"] | None, Field(title="Ground")] = None
    polar: Annotated[Literal["camera", "polar_scope", "drift"] | None, Field(title="Polar alignment")] = None
    left_out: Annotated[tuple[PartKey, ...], Field(title="Cards skipped", max_length=60)] = ()


class Framing(Model):
    """How a target is framed.

    The position angle is that of the sensor's long side (its width), from north through east: 90° is landscape.
    Columns run along the width of the sensor, rows along its height.
    """

    target: Target
    centre_ra_deg: Annotated[float, Quantity("Frame centre, right ascension", "°", 0, 360)]
    centre_dec_deg: Annotated[float, Quantity("Frame centre, declination", "°", -90, 90)]
    position_angle_deg: Annotated[float, Quantity("Position angle", "°", 0, 360)] = 90
    columns: Annotated[int, Quantity("Mosaic columns", "", 1, 30)] = 1
    rows: Annotated[int, Quantity("Mosaic rows", "", 1, 30)] = 1
    overlap: Annotated[float, Quantity("Mosaic overlap", "", 0, 0.5)] = 0.12
    night: Annotated[Evening | None, Field(title="Night")] = None
    plan: Annotated[tuple[Exposure, ...], Field(title="Exposures", max_length=24)] = ()


SOLVED = Quantity("Focal length", "mm", 4, 100_000)
SPAN = Quantity("Length", "mm", 0.1, 5000)


class Rig(Document):
    """A whole rig, self-contained: its parts, site and targets stand in it as they were when it was saved.

    A light path holds at most one telescope, focuser and camera; readings lie in the range of what they read.
    """

    earlier: ClassVar[dict[str, str]] = {"practice": "preferences"}

    name: Name
    summary: Annotated[str, Field(title="Summary", max_length=200)] = ""
    purposes: Annotated[tuple[Purpose, ...], Field(title="Purposes", max_length=6)] = ()
    path: Annotated[tuple[PathItem, ...], Field(title="Light path", max_length=60)] = ()
    binning: Annotated[int, Quantity("Binning", "×", 1, 8)] = 1
    framings: Annotated[tuple[Framing, ...], Field(title="Targets", max_length=200)] = ()
    guide: Guide = Guide()
    shooting: Shooting = Shooting()
    build: Building = Building()
    riders: Annotated[tuple[Placed, ...], Field(title="Riders", max_length=40)] = ()
    mount: Mount | None = None
    support: Support | None = None
    counterweights: Annotated[tuple[Hung, ...], Field(title="Counterweights", max_length=12)] = ()
    saddle_mm: Annotated[float | None, Quantity("Saddle centre ahead of the rear shoulder", "mm", 0, 5000)] = None
    tube_turned_deg: Annotated[float, Quantity("Tube rotation in its rings, clockwise from behind", "°", 0, 360)] = 0
    tripod_turned: Annotated[YesNo, Field(title="Tripod turned: two legs to the pole")] = False
    supply: Supply = Supply()
    extras: Annotated[tuple[Accessory, ...], Field(title="Extras", max_length=40)] = ()
    measured_spans: Annotated[tuple[MeasuredSpan, ...], Field(max_length=20)] = ()
    site: Site | None = None
    preferences: RigPreferences = RigPreferences()
    measured_focal_length_mm: Annotated[Measurement | None, Field(title="Plate-solved focal length, mm")] = None
    notes: Note = ""

    def set_point_c(self, preferences: Preferences) -> float:
        """What the sensor is to be cooled to, °C."""
        return preferences.sensor_c if self.shooting.set_c is None else self.shooting.set_c

    @property
    def stands_still(self) -> bool:
        """Whether nothing follows the sky: a head without a motor, or a tripod and no mount."""
        if self.mount is not None:
            return self.mount.driven_axes == 0
        return self.support is not None or "untracked" in self.purposes

    @model_validator(mode="after")
    def _readings_lie_in_range(self, info: ValidationInfo) -> "Rig":
        if not is_kept(info):
            if self.measured_focal_length_mm is not None:
                check_reading(self.measured_focal_length_mm, "measured_focal_length_mm", SOLVED)
            for i, span in enumerate(self.measured_spans):
                check_reading(span.total, f"measured_spans.{i}.total", SPAN)
        return self

    @model_validator(mode="after")
    def _one_telescope_one_camera(self) -> "Rig":
        for kind in ("telescope", "focuser", "camera"):
            count = sum(item.part.kind == kind for item in self.path)
            if count > 1:
                raise ValueError(f"path: holds {count} parts of kind {kind}; a light path has one")
        return self


class GrowthStage(Document):
    """One stage of growth: a kept rig."""

    title: Name
    rig: Identifier


class Growth(Document):
    """A path to grow along: stages in order, each a valid rig."""

    id: Identifier | None = None
    name: Name
    stages: Annotated[tuple[GrowthStage, ...], Field(title="Stages", max_length=12)] = ()
    notes: Note = ""


class Assembly(Document):
    """A named group of parts that stays together and moves whole between rigs."""

    id: Identifier | None = None
    name: Name
    items: Annotated[tuple[PathItem, ...], Field(title="Parts", min_length=1, max_length=20)]
    notes: Note = ""
