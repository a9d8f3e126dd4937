"""The user's practice: which school to follow where practitioners disagree, and what to assume."""

from typing import Annotated, Literal

from pydantic import Field

from dravel.core.model.base import Model, Quantity

SamplingSchool = Literal["two_to_three_pixels", "comfort_band", "wide_field_accepts"]
Units = Literal["metric", "imperial"]


class Practice(Model):
    """One profile for the whole bench; a rig may override single entries (`RigPractice`)."""

    sampling: Annotated[SamplingSchool, Field(title="Pixel sampling")] = "two_to_three_pixels"
    units: Annotated[Units, Field(title="Units")] = "metric"
    mosaic_overlap: Annotated[float, Quantity("Mosaic overlap, share of a tile", "", 0, 0.5)] = 0.12
    mosaic_max_tiles: Annotated[int, Quantity("Most tiles worth shooting", "", 1, 400)] = 12
    small_target_share: Annotated[float, Quantity("Small target, share of the field", "", 0.01, 0.9)] = 0.25
    default_seeing_arcsec: Annotated[float, Quantity("Seeing where the site names none", "″", 0.2, 15)] = 2.5
    assumed_airmass: Annotated[float, Quantity("Airmass assumed", "", 1, 10)] = 1.2
    guiding_rms_arcsec: Annotated[float, Quantity("Guiding RMS per axis assumed", "″", 0, 30)] = 0.8
    focal_length_tolerance: Annotated[float, Quantity("Focal length off nominal, share", "", 0.001, 0.5)] = 0.03


class RigPractice(Model):
    """What one rig does differently. Empty entries follow the profile."""

    sampling: SamplingSchool | None = None

    def over(self, profile: Practice) -> Practice:
        """The profile with this rig's choices laid over it."""
        chosen = {key: value for key, value in self if value is not None}
        return profile.model_copy(update=chosen) if chosen else profile
