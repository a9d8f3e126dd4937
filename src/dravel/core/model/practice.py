"""The user's practice: which school to follow where practitioners disagree, and what to assume."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dravel.core.model.base import Document, Model, Quantity
from dravel.core.model.connectors import CONNECTOR_SIZES, ConnectorSize

SamplingSchool = Literal["two_to_three_pixels", "comfort_band", "wide_field_accepts"]
ToleranceSchool = Literal["ratio_and_pixel", "always_tight", "round_stars"]
BuiltInSchool = Literal["in_focus_is_in_spacing", "makers_figure"]
PayloadSchool = Literal["two_thirds", "half", "full"]
WeightSchool = Literal["spread", "close_in"]
EastSchool = Literal["east_heavy", "exact"]
SideSchool = Literal["balance_it", "mount_can_take_it"]
GuidingSchool = Literal["by_flexure_and_scale", "guide_scope_always", "off_axis_always"]
SubSchool = Literal["swamp_read_noise", "fixed_habit"]
Darkness = Literal["astronomical", "nautical"]
Units = Literal["metric", "imperial"]
BeliefKey = Literal["smaller_sensor", "reducer_collects", "fifty_five", "exact_factor", "same_sensor", "within_payload"]


class Practice(Document):
    """One profile for the whole bench; a rig may override single entries (`RigPractice`).

    The floor does not lie above the altitude a target should reach; connector sizes are named once.
    """

    sampling: Annotated[SamplingSchool, Field(title="Pixel sampling")] = "two_to_three_pixels"
    spacing_tolerance: Annotated[ToleranceSchool, Field(title="Spacing tolerance")] = "ratio_and_pixel"
    built_in_corrector: Annotated[BuiltInSchool, Field(title="Built-in correctors")] = "in_focus_is_in_spacing"
    payload: Annotated[PayloadSchool, Field(title="Share of the rated payload")] = "two_thirds"
    weights: Annotated[WeightSchool, Field(title="Counterweights")] = "spread"
    ra_balance: Annotated[EastSchool, Field(title="Balance in right ascension")] = "east_heavy"
    side_balance: Annotated[SideSchool, Field(title="Side riders")] = "balance_it"
    guiding: Annotated[GuidingSchool, Field(title="Guide scope or off-axis")] = "by_flexure_and_scale"
    sub_length: Annotated[SubSchool, Field(title="Length of a sub")] = "swamp_read_noise"
    units: Annotated[Units, Field(title="Units")] = "metric"
    mosaic_overlap: Annotated[float, Quantity("Mosaic overlap", "share", 0, 0.5)] = 0.12
    mosaic_max_tiles: Annotated[int, Quantity("Most tiles worth shooting", "", 1, 400)] = 12
    small_target_share: Annotated[
        float, Quantity("A target is small below this part of the field", "share", 0.01, 0.9)
    ] = 0.25
    default_seeing_arcsec: Annotated[float, Quantity("Seeing where the site names none", "″", 0.2, 15)] = 2.5
    assumed_airmass: Annotated[float, Quantity("Airmass assumed", "", 1, 10)] = 1.2
    guiding_rms_arcsec: Annotated[float, Quantity("Guiding RMS per axis assumed", "″", 0, 30)] = 0.8
    guiding_floor_arcsec: Annotated[
        float, Quantity("Guiding RMS no unmeasured mount is believed to beat", "″", 0, 30)
    ] = 0.4
    extinction_mag: Annotated[float, Quantity("Extinction per airmass at sea level", "mag", 0, 2)] = 0.25
    focal_length_tolerance: Annotated[float, Quantity("Focal length off nominal", "share", 0.001, 0.5)] = 0.03
    altitude_limit_deg: Annotated[float, Quantity("Altitude a target should reach", "°", 10, 80)] = 45
    altitude_floor_deg: Annotated[float, Quantity("Altitude below which nothing is worth it", "°", 0, 60)] = 30
    darkness: Annotated[Darkness, Field(title="What counts as dark")] = "astronomical"
    part_tolerance_mm: Annotated[float, Quantity("Tolerance of a part's length assumed", "mm", 0, 1)] = 0.05
    calliper_tolerance_mm: Annotated[float, Quantity("Tolerance of a calliper reading", "mm", 0, 1)] = 0.02
    corner_light_share: Annotated[float, Quantity("Light in the corners worth having", "share", 0.05, 1)] = 0.75
    racked_out_share: Annotated[float, Quantity("Drawtube racked far out above", "share", 0.1, 1)] = 0.75
    wind_m_s: Annotated[float, Quantity("Wind where the site names none", "m/s", 0, 40)] = 3.0
    lift_kg: Annotated[float, Quantity("Heaviest lift for one person", "kg", 2, 60)] = 20.0
    trip_kg: Annotated[float, Quantity("Load of one trip on foot", "kg", 2, 60)] = 12.0
    flight_kg: Annotated[float, Quantity("Flight limit of one piece", "kg", 2, 60)] = 23.0
    polar_error_arcmin: Annotated[float, Quantity("Polar alignment error assumed", "′", 0, 600)] = 2.0
    night_hours: Annotated[float, Quantity("Hours on where no night is given", "h", 0.5, 24)] = 8.0
    setup_hours: Annotated[float, Quantity("On to set up and cool down, beside the dark hours", "h", 0, 8)] = 0.75
    flats_hours: Annotated[float, Quantity("On for flats and packing, beside the dark hours", "h", 0, 8)] = 0.25
    read_noise_margin: Annotated[float, Quantity("Noise that read noise may add", "share", 0.005, 1)] = 0.05
    habit_sub_s: Annotated[float, Quantity("Sub by habit", "s", 1, 3600)] = 180.0
    wished_snr: Annotated[float, Quantity("Signal to noise wished for", "", 0.5, 500)] = 10.0
    nights_a_target: Annotated[float, Quantity("Nights worth spending on a target", "", 0.2, 200)] = 5.0
    star_magnitude: Annotated[float | None, Quantity("Brightest star to keep its colour", "mag", -2, 25)] = None
    download_s: Annotated[float, Quantity("Between two subs: download", "s", 0, 120)] = 2.0
    dither_s: Annotated[float, Quantity("A dither with its settling", "s", 0, 300)] = 12.0
    refocus_min: Annotated[float, Quantity("A refocus", "min", 0, 60)] = 3.0
    refocus_hours: Annotated[float, Quantity("Refocus at least every", "h", 0.1, 24)] = 2.0
    flip_min: Annotated[float, Quantity("A meridian flip", "min", 0, 60)] = 5.0
    calibration_count: Annotated[int, Quantity("Calibration frames of a kind", "", 1, 500)] = 30
    spare_share: Annotated[float, Quantity("Subs planned beyond those wanted", "share", 0, 1)] = 0.05
    reader_mb_s: Annotated[float, Quantity("Card reader", "MB/s", 1, 5000)] = 100.0
    link_mb_s: Annotated[float, Quantity("From a controller over its link", "MB/s", 0.1, 5000)] = 30.0
    sensor_c: Annotated[float, Quantity("Sensor temperature wanted", "°C", -60, 30)] = -10.0
    energy_reserve: Annotated[float, Quantity("Energy kept in reserve", "share", 0, 0.9)] = 0.2
    night_temperature_c: Annotated[float, Quantity("Night temperature where the site names none", "°C", -60, 45)] = 5.0
    humidity: Annotated[float, Quantity("Humidity where the site names none", "share", 0.01, 1)] = 0.8
    heater_duty: Annotated[float, Quantity("Duty of dew heaters", "share", 0, 1)] = 0.5
    dew_margin_k: Annotated[float, Quantity("Dew margin wanted", "K", 0, 20)] = 2.0
    beliefs_put_away: Annotated[tuple[BeliefKey, ...], Field(title="Beliefs put away", max_length=12)] = ()
    connector_sizes: Annotated[tuple[ConnectorSize, ...], Field(title="Own connector sizes", max_length=100)] = ()

    @model_validator(mode="after")
    def _floor_below_limit(self) -> "Practice":
        if self.altitude_floor_deg > self.altitude_limit_deg:
            raise ValueError("altitude_floor_deg: the floor cannot lie above the altitude a target should reach")
        return self

    @model_validator(mode="after")
    def _own_sizes_are_new(self) -> "Practice":
        names = [row.size for row in self.connector_sizes]
        for i, name in enumerate(names):
            if name in CONNECTOR_SIZES or name in names[:i]:
                raise ValueError(f"connector_sizes: the size '{name}' is in the table already")
        return self


class RigPractice(Model):
    """What one rig does differently. Empty entries follow the profile."""

    sampling: SamplingSchool | None = None
    spacing_tolerance: ToleranceSchool | None = None
    built_in_corrector: BuiltInSchool | None = None
    payload: PayloadSchool | None = None
    weights: WeightSchool | None = None
    ra_balance: EastSchool | None = None
    side_balance: SideSchool | None = None
    guiding: GuidingSchool | None = None
    sub_length: SubSchool | None = None

    def over(self, profile: Practice) -> Practice:
        """The profile with this rig's choices laid over it."""
        chosen = {key: value for key, value in self if value is not None}
        return profile.model_copy(update=chosen) if chosen else profile
