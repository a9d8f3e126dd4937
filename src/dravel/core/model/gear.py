"""Parts that light does not pass through: what carries, balances, guides and feeds a rig.

Lengths in millimetres, masses in grams. Counterweight positions run along the shaft from the right-ascension axis.
"""

from typing import Annotated, Literal, get_args

from pydantic import Field, TypeAdapter, model_validator

from dravel.core.model.base import TAGGED, Model, Quantity, YesNo
from dravel.core.model.parts import (
    Adapter,
    Camera,
    Corrector,
    Filter,
    FilterHolder,
    FocuserPart,
    OffAxisGuider,
    Part,
    Telescope,
)

GuideInput = Literal["none", "port", "pulse", "both"]


class Shaft(Model):
    """A counterweight shaft: where weights may sit, from the right-ascension axis; it ends beyond its start."""

    diameter_mm: Annotated[float, Quantity("Shaft diameter", "mm", 3, 100)]
    start_mm: Annotated[float, Quantity("Shaft starts at", "mm", 0, 1000)]
    end_mm: Annotated[float, Quantity("Shaft ends at", "mm", 10, 2000)]
    mass_g: Annotated[float, Quantity("Shaft mass", "g", 0, 50_000)] = 0

    @model_validator(mode="after")
    def _it_has_length(self) -> "Shaft":
        if self.end_mm <= self.start_mm:
            raise ValueError("end_mm: the shaft must end beyond its start")
        return self


class Mount(Part):
    """A mount's head. `rated_arm_mm`: how far from the right-ascension axis the rated load may sit.

    `saddle_height_mm` runs from the right-ascension axis to the saddle; `axis_height_mm` from the top of the support to
    where the axes cross. `periodic_error_arcsec` is peak to peak. `past_meridian_min` below zero: it stops before it.
    """

    kind: Literal["mount"] = "mount"
    style: Annotated[Literal["german_equatorial", "strain_wave", "tracker", "alt_azimuth"], Field(title="Style")]
    payload_kg: Annotated[float, Quantity("Payload", "kg", 0.2, 1000)]
    rated_arm_mm: Annotated[float | None, Quantity("Lever arm of the rating", "mm", 10, 2000)] = None
    needs_counterweight: Annotated[YesNo, Field(title="Needs a counterweight")] = True
    shaft: Shaft | None = None
    saddle: Annotated[tuple[str, ...], Field(title="Saddle accepts", max_length=6)] = ()
    saddle_length_mm: Annotated[float, Quantity("Saddle length", "mm", 5, 1000)] = 100
    saddle_height_mm: Annotated[float | None, Quantity("Saddle above the RA axis", "mm", 0, 1500)] = None
    axis_height_mm: Annotated[float | None, Quantity("Axes above the tripod", "mm", 0, 2000)] = None
    driven_axes: Annotated[int, Quantity("Driven axes", "", 0, 2)] = 2
    goto: Annotated[YesNo, Field(title="GoTo")] = True
    guide_input: Annotated[GuideInput, Field(title="Guide interface")] = "both"
    periodic_error_arcsec: Annotated[float | None, Quantity("Periodic error, peak to peak", "″", 0, 600)] = None
    worm_period_s: Annotated[float | None, Quantity("Worm period", "s", 10, 10_000)] = None
    guided_rms_arcsec: Annotated[float | None, Quantity("Guiding RMS per axis", "″", 0.05, 30)] = None
    drive: Annotated[Literal["worm", "belt", "friction", "strain_wave"], Field(title="Drive")] = "worm"
    past_meridian_min: Annotated[float | None, Quantity("Tracks past the meridian", "min", -120, 360)] = None
    flips_after_min: Annotated[float | None, Quantity("Flip delay after the meridian", "min", 0, 120)] = None


class Support(Part):
    """A tripod or a pier. `foot_radius_mm`: from the middle to a foot's tip."""

    kind: Literal["support"] = "support"
    style: Annotated[Literal["tripod", "pier"], Field(title="Style")] = "tripod"
    capacity_kg: Annotated[float | None, Quantity("Capacity", "kg", 0.5, 2000)] = None
    height_mm: Annotated[float, Quantity("Height", "mm", 50, 3000)]
    foot_radius_mm: Annotated[float, Quantity("Centre to foot", "mm", 30, 3000)]
    feet: Annotated[int, Quantity("Feet", "", 3, 8)] = 3
    extension_mm: Annotated[float, Quantity("Pier extension fitted", "mm", 0, 1000)] = 0


class Counterweight(Part):
    """A counterweight."""

    kind: Literal["counterweight"] = "counterweight"
    bore_mm: Annotated[float | None, Quantity("Bore", "mm", 3, 110)] = None
    thickness_mm: Annotated[float, Quantity("Thickness along the shaft", "mm", 3, 500)] = 50


class Rider(Part):
    """Anything else carried: a controller, motor focuser, power box, finder, handle."""

    kind: Literal["rider"] = "rider"
    function: Annotated[
        Literal["controller", "power_box", "focus_motor", "finder", "other"], Field(title="Function")
    ] = "other"
    storage_gb: Annotated[float | None, Quantity("Storage", "GB", 0.1, 100_000)] = None
    length_mm: Annotated[float, Quantity("Length", "mm", 1, 1000)] = 100
    height_mm: Annotated[float, Quantity("Height", "mm", 1, 1000)] = 50


class GuideScope(Part):
    """A small telescope for guiding; its camera is the rig's guide camera."""

    kind: Literal["guide_scope"] = "guide_scope"
    aperture_mm: Annotated[float, Quantity("Aperture", "mm", 10, 300)]
    focal_length_mm: Annotated[float, Quantity("Focal length", "mm", 30, 3000)]
    mounting: Annotated[Literal["rings", "shoe", "bolted"], Field(title="Mounting")] = "shoe"
    length_mm: Annotated[float, Quantity("Length", "mm", 20, 1500)] = 180
    diameter_mm: Annotated[float, Quantity("Diameter", "mm", 15, 400)] = 50


class DewHeater(Part):
    """A dew heater. Its draw is its `power`."""

    kind: Literal["dew_heater"] = "dew_heater"
    aperture_mm: Annotated[float, Quantity("For apertures up to", "mm", 10, 1000)]


class PowerSource(Part):
    """A battery, or a mains adapter (no energy of its own)."""

    kind: Literal["power_source"] = "power_source"
    mains: Annotated[YesNo, Field(title="Mains adapter")] = False
    energy_wh: Annotated[float | None, Quantity("Energy", "Wh", 1, 20_000)] = None
    voltage_v: Annotated[float | None, Quantity("Voltage", "V", 3, 60)] = None
    max_a: Annotated[float | None, Quantity("Peak current", "A", 0.1, 200)] = None
    chemistry: Annotated[Literal["lithium_iron", "lithium_ion", "lead"], Field(title="Chemistry")] = "lithium_iron"
    usable_fraction: Annotated[float, Quantity("Usable share", "share", 0.1, 1)] = 0.9


class Cable(Part):
    """A cable from one plug to another. `length_mm` is one way."""

    kind: Literal["cable"] = "cable"
    carries: Annotated[Literal["power", "data"], Field(title="Carries")] = "power"
    from_plug: Annotated[str, Field(title="From", max_length=60)] = ""
    to_plug: Annotated[str, Field(title="To", max_length=60)] = ""
    length_mm: Annotated[float, Quantity("Length", "mm", 50, 100_000)]
    conductor_mm2: Annotated[float | None, Quantity("Conductor", "mm²", 0.05, 50)] = None


class Accessory(Part):
    """Something that stands or lies with the rig: pads, a spreader weight, a case, a pier extension, a memory card."""

    kind: Literal["accessory"] = "accessory"
    function: Annotated[
        Literal[
            "pad",
            "spreader_weight",
            "shaft_extension",
            "pier_extension",
            "cover",
            "flat_panel",
            "dew_shield",
            "cable_guard",
            "remote_release",
            "memory_card",
            "computer",
            "spare_battery",
            "case",
        ],
        Field(title="Function"),
    ]
    length_mm: Annotated[float | None, Quantity("Length, or inner length of a case", "mm", 1, 3000)] = None
    width_mm: Annotated[float | None, Quantity("Inner width of a case", "mm", 1, 3000)] = None
    height_mm: Annotated[float | None, Quantity("Inner height of a case", "mm", 1, 3000)] = None
    luminance_cd_m2: Annotated[float | None, Quantity("Brightness of a flat panel", "cd/m²", 0.1, 100_000)] = None
    storage_gb: Annotated[float | None, Quantity("Storage", "GB", 0.1, 100_000)] = None


CarriedPart = Annotated[
    Rider | GuideScope | DewHeater | PowerSource | Accessory | Camera, Field(discriminator="kind"), TAGGED
]
AnyPart = Annotated[
    Telescope | FocuserPart | Corrector | Adapter | FilterHolder | OffAxisGuider | Camera | Filter | Mount | Support
    | Counterweight | Rider | GuideScope | DewHeater | PowerSource | Cable | Accessory,
    Field(discriminator="kind"), TAGGED,
]  # fmt: skip
part_adapter: TypeAdapter[AnyPart] = TypeAdapter(AnyPart)
PART_KINDS: frozenset[str] = frozenset(kind.model_fields["kind"].default for kind in get_args(get_args(AnyPart)[0]))
