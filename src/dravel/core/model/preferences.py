"""The user's preferences: which school to follow where practitioners disagree, and what to assume."""

from typing import Annotated, ClassVar, Literal

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


class Preferences(Document):
    """One profile for the whole bench; a rig may override single entries (`RigPreferences`).

    The floor does not lie above the altitude a target should reach; connector sizes are named once.
    """

    earlier: ClassVar[dict[str, str]] = {"wished_snr": "target_snr"}

    sampling: Annotated[SamplingSchool, Field(title="Pixel sampling")] = "two_to_three_pixels"
    spacing_tolerance: Annotated[ToleranceSchool, Field(title="Back focus tolerance")] = "ratio_and_pixel"
    built_in_corrector: Annotated[BuiltInSchool, Field(title="Built-in correctors")] = "in_focus_is_in_spacing"
    payload: Annotated[PayloadSchool, Field(title="Recommended share of payload")] = "two_thirds"
    weights: Annotated[WeightSchool, Field(title="Counterweights")] = "spread"
    ra_balance: Annotated[EastSchool, Field(title="RA balance")] = "east_heavy"
    side_balance: Annotated[SideSchool, Field(title="Side-mounted accessories")] = "balance_it"
    guiding: Annotated[GuidingSchool, Field(title="Guide scope or off-axis")] = "by_flexure_and_scale"
    sub_length: Annotated[SubSchool, Field(title="Sub length")] = "swamp_read_noise"
    units: Annotated[Units, Field(title="Units")] = "metric"
    mosaic_overlap: Annotated[float, Quantity("Mosaic overlap", "share", 0, 0.5)] = 0.12
    mosaic_max_tiles: Annotated[int, Quantity("Largest mosaic, tiles", "", 1, 400)] = 12
    small_target_share: Annotated[
        float, Quantity("Small target below this fraction of the field", "share", 0.01, 0.9)
    ] = 0.25
    default_seeing_arcsec: Annotated[float, Quantity("Seeing (default)", "″", 0.2, 15)] = 2.5
    assumed_airmass: Annotated[float, Quantity("Airmass (assumed)", "", 1, 10)] = 1.2
    guiding_rms_arcsec: Annotated[float, Quantity("Guiding RMS per axis (assumed)", "″", 0, 30)] = 0.8
    guiding_floor_arcsec: Annotated[float, Quantity("Best guiding RMS of unmeasured mounts", "″", 0, 30)] = 0.4
    extinction_mag: Annotated[float, Quantity("Extinction per airmass at sea level", "mag", 0, 2)] = 0.25
    focal_length_tolerance: Annotated[float, Quantity("Focal length off nominal", "share", 0.001, 0.5)] = 0.03
    altitude_limit_deg: Annotated[float, Quantity("Recommended altitude", "°", 10, 80)] = 45
    altitude_floor_deg: Annotated[float, Quantity("Minimum altitude", "°", 0, 60)] = 30
    darkness: Annotated[Darkness, Field(title="Definition of darkness")] = "astronomical"
    part_tolerance_mm: Annotated[float, Quantity("Length tolerance of parts (assumed)", "mm", 0, 1)] = 0.05
    calliper_tolerance_mm: Annotated[float, Quantity("Calliper accuracy", "mm", 0, 1)] = 0.02
    corner_light_share: Annotated[float, Quantity("Required corner illumination", "share", 0.05, 1)] = 0.75
    racked_out_share: Annotated[float, Quantity("Drawtube far extended above", "share", 0.1, 1)] = 0.75
    wind_m_s: Annotated[float, Quantity("Wind (default)", "m/s", 0, 40)] = 3.0
    lift_kg: Annotated[float, Quantity("Heaviest lift for one person", "kg", 2, 60)] = 20.0
    trip_kg: Annotated[float, Quantity("Load per trip on foot", "kg", 2, 60)] = 12.0
    flight_kg: Annotated[float, Quantity("Flight limit per piece", "kg", 2, 60)] = 23.0
    polar_error_arcmin: Annotated[float, Quantity("Polar alignment error (assumed)", "′", 0, 600)] = 2.0
    night_hours: Annotated[float, Quantity("Night length (default)", "h", 0.5, 24)] = 8.0
    setup_hours: Annotated[float, Quantity("Setup and cooling time, powered", "h", 0, 8)] = 0.75
    flats_hours: Annotated[float, Quantity("Flats and packing time, powered", "h", 0, 8)] = 0.25
    read_noise_margin: Annotated[float, Quantity("Read-noise margin", "share", 0.005, 1)] = 0.05
    habit_sub_s: Annotated[float, Quantity("Fixed sub length", "s", 1, 3600)] = 180.0
    target_snr: Annotated[float, Quantity("Target SNR", "", 0.5, 500)] = 10.0
    nights_a_target: Annotated[float, Quantity("Nights per target", "", 0.2, 200)] = 5.0
    star_magnitude: Annotated[float | None, Quantity("Brightest star to keep unsaturated", "mag", -2, 25)] = None
    download_s: Annotated[float, Quantity("Download time between subs", "s", 0, 120)] = 2.0
    dither_s: Annotated[float, Quantity("Dither and settling time", "s", 0, 300)] = 12.0
    refocus_min: Annotated[float, Quantity("A refocus", "min", 0, 60)] = 3.0
    refocus_hours: Annotated[float, Quantity("Refocus at least every", "h", 0.1, 24)] = 2.0
    flip_min: Annotated[float, Quantity("Meridian flip duration", "min", 0, 60)] = 5.0
    calibration_count: Annotated[int, Quantity("Calibration frames per type", "", 1, 500)] = 30
    spare_share: Annotated[float, Quantity("Rejected subs (assumed)", "share", 0, 1)] = 0.05
    reader_mb_s: Annotated[float, Quantity("Card reader speed", "MB/s", 1, 5000)] = 100.0
    link_mb_s: Annotated[float, Quantity("Network transfer speed", "MB/s", 0.1, 5000)] = 30.0
    sensor_c: Annotated[float, Quantity("Sensor set point", "°C", -60, 30)] = -10.0
    energy_reserve: Annotated[float, Quantity("Battery reserve", "share", 0, 0.9)] = 0.2
    night_temperature_c: Annotated[float, Quantity("Night temperature (default)", "°C", -60, 45)] = 5.0
    humidity: Annotated[float, Quantity("Humidity (default)", "share", 0.01, 1)] = 0.8
    heater_duty: Annotated[float, Quantity("Duty of dew heaters", "share", 0, 1)] = 0.5
    dew_margin_k: Annotated[float, Quantity("Dew margin", "K", 0, 20)] = 2.0
    beliefs_put_away: Annotated[tuple[BeliefKey, ...], Field(title="Misconceptions dismissed", max_length=12)] = ()
    connector_sizes: Annotated[tuple[ConnectorSize, ...], Field(title="Own connector sizes", max_length=100)] = ()

    @model_validator(mode="after")
    def _floor_below_limit(self) -> "Preferences":
        if self.altitude_floor_deg > self.altitude_limit_deg:
            raise ValueError("altitude_floor_deg: the minimum altitude cannot be above the recommended altitude")
        return self

    @model_validator(mode="after")
    def _own_sizes_are_new(self) -> "Preferences":
        names = [row.size for row in self.connector_sizes]
        for i, name in enumerate(names):
            if name in CONNECTOR_SIZES or name in names[:i]:
                raise ValueError(f"connector_sizes: the size '{name}' is in the table already")
        return self


class RigPreferences(Model):
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

    def over(self, profile: Preferences) -> Preferences:
        """The profile with this rig's choices laid over it."""
        chosen = {key: value for key, value in self if value is not None}
        return profile.model_copy(update=chosen) if chosen else profile
