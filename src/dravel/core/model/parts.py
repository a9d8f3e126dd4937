"""Parts: everything a light path is laid from.

Lengths in millimetres, masses in grams. A measured value never overwrites the maker's figure: both are kept and
`Part.used` says which one the computation takes.
"""

from typing import Annotated, Any, Literal

from pydantic import Field, GetJsonSchemaHandler, ValidationInfo, model_validator
from pydantic_core import CoreSchema

from dravel.core.model.base import (
    TAGGED,
    Day,
    Document,
    Identifier,
    Model,
    Name,
    Note,
    Quantity,
    YesNo,
    is_kept,
    quantities,
)
from dravel.core.model.connectors import Connector
from dravel.core.model.sensor import DarkSet, Sensor

Status = Literal["owned", "borrowed", "wished", "listed", "retired"]
Millimetres = Annotated[float, Quantity("Length", "mm", 0, 5000)]


class Price(Model):
    """What a part cost or would cost."""

    amount: Annotated[float, Quantity("Price", "", 0, 10_000_000)]
    currency: Annotated[str, Field(title="Currency", pattern=r"^[A-Z]{3}$")] = "EUR"
    second_hand: Annotated[YesNo, Field(title="Second-hand")] = False


class Power(Document):
    """Electrical draw of a part."""

    voltage_v: Annotated[float, Quantity("Voltage", "V", 0.5, 400)]
    typical_w: Annotated[float, Quantity("Typical draw", "W", 0, 2000)]
    peak_w: Annotated[float | None, Quantity("Peak draw", "W", 0, 4000)] = None
    plug: Annotated[str, Field(title="Plug", max_length=60)] = ""


class Measurement(Document):
    """A value read from a real part or a solved frame, beside the maker's figure.

    `at_mm`: of a corrector's factor, the spacing (glass taken off) it was read at, which it moves with.
    """

    value: Annotated[float, Quantity("Measured value", "", 0, 100_000)]
    on: Day | None = None
    instrument: Annotated[str, Field(title="Instrument", max_length=80)] = ""
    at_mm: Annotated[float | None, Quantity("Spacing it was measured at", "mm", 1, 1000)] = None


class Glass(Model):
    """A plane plate in the light path."""

    thickness_mm: Annotated[float, Quantity("Glass thickness", "mm", 0.1, 60)]
    refractive_index: Annotated[float, Quantity("Refractive index", "", 1.0, 2.6)] = 1.517


class Part(Document):
    """What all parts have in common. Dimension fields may be missing: figures that need one say so."""

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        made = handler(schema)
        handler.resolve_ref_schema(made)["properties"]["measured"]["propertyNames"] = {"enum": sorted(quantities(cls))}
        return made

    id: Identifier | None = None
    name: Name
    maker: Annotated[str, Field(title="Maker", max_length=120)] = ""
    mass_g: Annotated[float | None, Quantity("Mass", "g", 0, 500_000)] = None
    price: Price | None = None
    status: Annotated[Status, Field(title="Status")] = "owned"
    holder: Annotated[str, Field(title="Borrowed from or lent to", max_length=120)] = ""
    bought_on: Annotated[Day | None, Field(title="Bought on")] = None
    power: Power | None = None
    ports: Annotated[dict[str, int], Field(title="Ports", max_length=20)] = {}
    notes: Note = ""
    measured: Annotated[
        dict[str, Measurement],
        Field(
            title="Measured", max_length=40, description="Measurements of numeric fields, each within the field's range"
        ),
    ] = {}

    @model_validator(mode="after")
    def _measured_fields_exist(self, info: ValidationInfo) -> "Part":
        if self.measured:
            known = quantities(type(self))
            for field, reading in self.measured.items():
                if field not in known:
                    raise ValueError(f"measured: this {getattr(self, 'kind', 'part')} has no numeric field '{field}'")
                if not known[field].takes(reading.value) and not is_kept(info):
                    raise ValueError(f"measured.{field}: {_out_of_range(known[field], reading.value)}")
        return self

    def used(self, field: str) -> float | None:
        """The value the computation takes: the measured one where there is one, else the maker's (or None)."""
        if self.measured and (reading := self.reading(field)) is not None:
            return reading.value
        nominal: float | None = getattr(self, field)
        return nominal

    def reading(self, field: str) -> Measurement | None:
        """The reading that is used for a field; one kept from before ranges held, and outside them, is only shown."""
        result = self.measured.get(field)
        return result if result is not None and quantities(type(self))[field].takes(result.value) else None


def _out_of_range(quantity: Quantity, value: float) -> str:
    return f"{quantity.title}, measured, cannot be {value:g}; allowed {quantity.accepted}"


def check_reading(reading: Measurement, name: str, quantity: Quantity) -> None:
    """Raises `ValueError`, naming the field, when a reading of a quantity lies outside its range."""
    if not quantity.takes(reading.value):
        raise ValueError(f"{name}: {_out_of_range(quantity, reading.value)}")


class PathPartBase(Part):
    """A part that light passes through. `optical_length_mm` runs from front to rear shoulder when mated, and is not above
    `optical_length_max_mm`.
    """

    sky_side: Annotated[Connector | None, Field(title="Sky side")] = None
    sensor_side: Annotated[Connector | None, Field(title="Sensor side")] = None
    optical_length_mm: Annotated[float | None, Quantity("Optical length", "mm", 0, 2000)] = None
    optical_length_max_mm: Annotated[float | None, Quantity("Longest optical length", "mm", 0, 2000)] = None
    length_tolerance_mm: Annotated[float | None, Quantity("Tolerance of the length", "mm", 0, 5)] = None
    outer_diameter_mm: Annotated[float | None, Quantity("Outer diameter", "mm", 5, 1000)] = None
    glass: tuple[Glass, ...] = ()

    @model_validator(mode="after")
    def _variable_range_is_ordered(self) -> "PathPartBase":
        low, high = self.optical_length_mm, self.optical_length_max_mm
        if high is not None and (low is None or high < low):
            raise ValueError("optical_length_max_mm: the longest length must not be below the shortest")
        return self


class Dovetail(Document):
    """The bar under a tube: its width class, how long it is, and where its middle lies ahead of the rear shoulder."""

    width: Annotated[str, Field(title="Width", max_length=40)] = "44 mm"
    length_mm: Annotated[float, Quantity("Dovetail length", "mm", 20, 2000)]
    middle_mm: Annotated[float, Quantity("Dovetail centre ahead of the rear shoulder", "mm", 0, 5000)]


class Focuser(Model):
    """The telescope's own focuser. `focal_plane_mm`: native image behind the rear shoulder, tube fully in.

    `height_mm` runs from the tube's flange to the rear shoulder with the drawtube fully in: what goes when another
    focuser takes its place.
    """

    mechanism: Literal["drawtube", "helical", "moving_mirror", "lens_cell"] = "drawtube"
    travel_mm: Annotated[float, Quantity("Focuser travel", "mm", 0, 500)] = 60
    focal_plane_mm: Annotated[float | None, Quantity("Focal plane behind rear shoulder", "mm", 0, 1000)] = None
    load_limit_kg: Annotated[float | None, Quantity("Focuser load limit", "kg", 0.1, 100)] = None
    height_mm: Annotated[float | None, Quantity("Focuser height", "mm", 1, 500)] = None


Design = Literal[
    "doublet",
    "triplet",
    "petzval",
    "camera_lens",
    "newtonian",
    "schmidt_cassegrain",
    "ritchey_chretien",
    "maksutov",
    "maksutov_newtonian",
]


class Telescope(PathPartBase):
    """A telescope or camera lens. Its obstruction is smaller than its aperture."""

    kind: Literal["telescope"] = "telescope"
    aperture_mm: Annotated[float, Quantity("Aperture", "mm", 5, 3000)]
    focal_length_mm: Annotated[float, Quantity("Focal length", "mm", 4, 30_000)]
    obstruction_mm: Annotated[float, Quantity("Central obstruction", "mm", 0, 1500)] = 0
    design: Annotated[Design, Field(title="Design")]
    image_circle_mm: Annotated[float | None, Quantity("Image circle", "mm", 2, 300)] = None
    needs_corrector: Annotated[YesNo, Field(title="Needs a corrector")] = False
    focuser: Focuser = Focuser()
    tube_length_mm: Annotated[float | None, Quantity("Tube length", "mm", 10, 6000)] = None
    tube_diameter_mm: Annotated[float | None, Quantity("Tube diameter", "mm", 10, 3500)] = None
    tube_material: Annotated[Literal["aluminium", "carbon", "steel"], Field(title="Tube material")] = "aluminium"
    tube_side: Annotated[Connector | None, Field(title="Flange under the focuser")] = None
    balance_point_mm: Annotated[
        float | None, Quantity("Tube balance point ahead of the rear shoulder", "mm", 0, 6000)
    ] = None
    axis_above_saddle_mm: Annotated[float | None, Quantity("Tube axis above the saddle", "mm", 5, 2000)] = None
    dovetail: Dovetail | None = None
    back_focus_mm: Annotated[float | None, Quantity("Specified back focus from the rear cell", "mm", 1, 1000)] = None
    primary_ratio: Annotated[float | None, Quantity("Focal ratio of the main mirror", "f/", 1, 20)] = None
    spot_um: Annotated[float | None, Quantity("Spot size at the edge of the image circle", "µm", 0.1, 500)] = None
    growth_per_mm: Annotated[float | None, Quantity("Focal length grows per mm of back distance", "mm", 0, 20)] = None

    @property
    def mark_mm(self) -> float:
        """The tube's own mark, ahead of its rear shoulder, from which riders count: the dovetail's or tube's middle."""
        return (self.tube_length_mm or 0.0) / 2 if self.dovetail is None else self.dovetail.middle_mm

    @model_validator(mode="after")
    def _obstruction_within_aperture(self, info: ValidationInfo) -> "Telescope":
        if self.obstruction_mm >= self.aperture_mm:
            raise ValueError("obstruction_mm: the obstruction must be smaller than the aperture")
        if (self.used("obstruction_mm") or 0.0) >= (self.used("aperture_mm") or 0.0) and not is_kept(info):
            field = "aperture_mm" if "aperture_mm" in self.measured else "obstruction_mm"
            raise ValueError(f"measured.{field}: the obstruction must be smaller than the aperture, measured too")
        return self

    @property
    def blocked_share(self) -> float:
        """Central obstruction as a share of the aperture, by diameter; below 1 whatever was read of either."""
        return min((self.used("obstruction_mm") or 0.0) / (self.used("aperture_mm") or self.aperture_mm), 0.99)


class FocuserPart(PathPartBase):
    """A focuser that takes the place of the telescope's own. `optical_length_mm` is its height, fully racked in."""

    kind: Literal["focuser"] = "focuser"
    mechanism: Annotated[Literal["drawtube", "helical"], Field(title="Mechanism")] = "drawtube"
    travel_mm: Annotated[float, Quantity("Focuser travel", "mm", 0, 500)] = 50
    load_limit_kg: Annotated[float | None, Quantity("Focuser load limit", "kg", 0.1, 100)] = None


class BackFocusPoint(Model):
    """Back focus asked for at one telescope focal length."""

    focal_length_mm: Annotated[float, Quantity("Telescope focal length", "mm", 4, 30_000)]
    back_focus_mm: Annotated[float, Quantity("Back focus", "mm", 1, 500)]


class Corrector(PathPartBase):
    """A flattener, reducer, extender or coma corrector. `back_focus_mm` runs from rear shoulder to sensor.

    Ranges rise, as do the focal lengths of `back_focus_table`; a reducer's factor lies below 1, an extender's above.
    """

    kind: Literal["corrector"] = "corrector"
    role: Annotated[Literal["flattener", "reducer", "extender", "coma_corrector"], Field(title="Role")]
    factor: Annotated[float, Quantity("Factor", "×", 0.2, 6)] = 1.0
    back_focus_mm: Annotated[float | None, Quantity("Back focus", "mm", 1, 500)] = None
    back_focus_table: tuple[BackFocusPoint, ...] = ()
    tolerance_mm: Annotated[float | None, Quantity("Back-focus tolerance", "mm", 0.01, 20)] = None
    image_circle_mm: Annotated[float | None, Quantity("Image circle", "mm", 2, 300)] = None
    min_focal_length_mm: Annotated[float | None, Quantity("Shortest telescope", "mm", 4, 30_000)] = None
    max_focal_length_mm: Annotated[float | None, Quantity("Longest telescope", "mm", 4, 30_000)] = None
    min_focal_ratio: Annotated[float | None, Quantity("Fastest telescope", "f/", 0.5, 100)] = None
    max_focal_ratio: Annotated[float | None, Quantity("Slowest telescope", "f/", 0.5, 100)] = None
    spot_um: Annotated[float | None, Quantity("Spot size at the edge of the image circle", "µm", 0.1, 500)] = None
    stacks: Annotated[YesNo, Field(title="Designed to combine with another corrector")] = False
    inside_drawtube: Annotated[YesNo, Field(title="Sits inside the drawtube")] = False

    @model_validator(mode="after")
    def _ranges_are_ordered(self) -> "Corrector":
        for low, high in (("min_focal_length_mm", "max_focal_length_mm"), ("min_focal_ratio", "max_focal_ratio")):
            bottom, top = getattr(self, low), getattr(self, high)
            if bottom is not None and top is not None and bottom > top:
                raise ValueError(f"{low}: the lower end of the range is above its upper end")
        lengths = [point.focal_length_mm for point in self.back_focus_table]
        if lengths != sorted(set(lengths)):
            raise ValueError("back_focus_table: focal lengths must rise from row to row, each once")
        if self.role == "reducer" and self.factor >= 1:
            raise ValueError("factor: a reducer's factor is below 1")
        if self.role == "extender" and self.factor <= 1:
            raise ValueError("factor: an extender's factor is above 1")
        return self


class Adapter(PathPartBase):
    """A ring, nosepiece, rotator or tilt plate. One that only adds length has one."""

    kind: Literal["adapter"] = "adapter"
    function: Annotated[
        Literal[
            "spacer",
            "converter",
            "extension",
            "rotator",
            "turning_ring",
            "tilt_plate",
            "nosepiece",
            "camera_ring",
            "flange_adapter",
        ],
        Field(title="Function"),
    ] = "spacer"
    filter_size: Annotated[str | None, Field(title="Threaded for filters", max_length=40)] = None

    @model_validator(mode="after")
    def _a_ring_has_length(self) -> "Adapter":
        for field in ("optical_length_mm", "optical_length_max_mm"):
            if self.function in ("spacer", "extension") and getattr(self, field) == 0:
                raise ValueError(f"{field}: a {self.function} of no length is no {self.function}")
        return self


class Passband(Model):
    """One window of a filter."""

    centre_nm: Annotated[float, Quantity("Centre", "nm", 200, 2000)]
    width_nm: Annotated[float, Quantity("Width", "nm", 0.1, 1500)]
    peak: Annotated[float, Quantity("Peak transmission", "", 0, 1)] = 0.9


class Filter(Part):
    """A filter, held by a drawer, a wheel or a threaded cell."""

    kind: Literal["filter"] = "filter"
    size: Annotated[str, Field(title="Size", min_length=1, max_length=40)]
    thickness_mm: Annotated[float, Quantity("Thickness", "mm", 0.2, 20)] = 2.0
    refractive_index: Annotated[float, Quantity("Refractive index", "", 1.0, 2.6)] = 1.517
    passbands: tuple[Passband, ...] = ()
    use: Annotated[
        Literal[
            "luminance",
            "red",
            "green",
            "blue",
            "h_alpha",
            "oiii",
            "sii",
            "dual_line",
            "broadband_suppression",
            "uv_ir_cut",
        ],
        Field(title="Use"),
    ]


class FilterHolder(PathPartBase):
    """A drawer, wheel or threaded cell."""

    kind: Literal["filter_holder"] = "filter_holder"
    style: Annotated[Literal["drawer", "wheel", "threaded_cell"], Field(title="Style")]
    positions: Annotated[int, Quantity("Positions", "", 1, 20)] = 1
    filter_size: Annotated[str, Field(title="Filter size", min_length=1, max_length=40)]


class Prism(Model):
    """The pick-off prism of an off-axis guider.

    `stalk_mm` runs from the prism's centre to the guide port's shoulder, helical fully in. `edge_mm` is how far the
    prism's inner edge lies off the axis when it is drawn back; it can be pushed in by `reach_mm`.
    """

    width_mm: Annotated[float, Quantity("Prism width", "mm", 2, 60)]
    height_mm: Annotated[float, Quantity("Prism height", "mm", 2, 60)]
    centre_to_sensor_side_mm: Annotated[float, Quantity("Prism centre to sensor side", "mm", 0, 100)]
    stalk_mm: Annotated[float, Quantity("Stalk length", "mm", 0, 200)]
    edge_mm: Annotated[float | None, Quantity("Inner edge off-axis, fully out", "mm", 1, 100)] = None
    reach_mm: Annotated[float, Quantity("Reach", "mm", 0, 100)] = 0


class OffAxisGuider(PathPartBase):
    """A pick-off for a guide camera."""

    kind: Literal["off_axis_guider"] = "off_axis_guider"
    prism: Prism
    guide_port: Connector | None = None
    helical_range_mm: Annotated[float, Quantity("Helical range", "mm", 0, 60)] = 0


class CameraRing(Model):
    """A front ring that screws off a camera. `sky_side` is the thread the ring brings, when it differs."""

    length_mm: Annotated[float, Quantity("Front ring length", "mm", 0.5, 60)]
    fitted: Annotated[YesNo, Field(title="Front ring fitted")] = True
    sky_side: Annotated[Connector | None, Field(title="Thread of the front ring")] = None


class Camera(PathPartBase):
    """A camera. `flange_to_sensor_mm` runs from its own front face, with the front ring off.

    `driven_by`: a computer over a data cable, or its own release, and then its frames go on a card. `clip_in` names the
    clip-in filters that are made for it, as their `size` does. `battery_hours`: on the battery inside it.
    """

    kind: Literal["camera"] = "camera"
    sensor: Sensor
    flange_to_sensor_mm: Annotated[float | None, Quantity("Flange to sensor", "mm", 1, 120)] = None
    front_ring: CameraRing | None = None
    body_length_mm: Annotated[float | None, Quantity("Body length", "mm", 5, 400)] = None
    nose_mm: Annotated[float | None, Quantity("Nosepiece length", "mm", 1, 120)] = None
    cooling_delta_k: Annotated[float | None, Quantity("Cooling below ambient", "K", 0, 80)] = None
    spectral_cut: Annotated[Literal["stock", "hydrogen_extended", "none"], Field(title="Built-in filter")] = "none"
    frame_mb: Annotated[float | None, Quantity("Frame size", "MB", 0.01, 5000)] = None
    driven_by: Annotated[Literal["computer", "release"] | None, Field(title="Controlled by")] = None
    clip_in: Annotated[str | None, Field(title="Clip-in filter size", max_length=40)] = None
    battery_hours: Annotated[float | None, Quantity("Battery run time", "h", 0.1, 100)] = None
    darks: Annotated[tuple[DarkSet, ...], Field(title="Dark library", max_length=60)] = ()
    video_fps: Annotated[float | None, Quantity("Video frames per second", "1/s", 0.1, 2000)] = None


PathPart = Annotated[
    Telescope | FocuserPart | Corrector | Adapter | FilterHolder | OffAxisGuider | Camera,
    Field(discriminator="kind"),
    TAGGED,
]
