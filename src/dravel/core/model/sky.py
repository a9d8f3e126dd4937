"""Sites and targets."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dravel.core.model.base import Identifier, Model, Name, Quantity

TargetKind = Literal[
    "emission",
    "reflection",
    "dark",
    "galaxy",
    "open_cluster",
    "globular",
    "planetary",
    "supernova_remnant",
    "mixed",
    "other",
]


class Site(Model):
    """A place to observe from."""

    id: Identifier | None = None
    name: Name
    latitude_deg: Annotated[float, Quantity("Latitude", "°", -90, 90)]
    longitude_deg: Annotated[float, Quantity("Longitude, east positive", "°", -180, 180)]
    elevation_m: Annotated[float, Quantity("Elevation", "m", -450, 9000)] = 0
    timezone: Annotated[str, Field(title="Time zone", max_length=60)] = "UTC"
    sky_brightness_mag_arcsec2: Annotated[float | None, Quantity("Sky brightness", "mag/arcsec²", 14, 22.5)] = None
    seeing_arcsec: Annotated[float | None, Quantity("Seeing", "″", 0.2, 15)] = None


class Target(Model):
    """Something to photograph. Coordinates ICRS, sizes in arcminutes, position angle from north through east."""

    id: Identifier | None = None
    name: Name
    aliases: Annotated[tuple[str, ...], Field(max_length=60)] = ()
    ra_deg: Annotated[float, Quantity("Right ascension", "°", 0, 360)]
    dec_deg: Annotated[float, Quantity("Declination", "°", -90, 90)]
    major_arcmin: Annotated[float | None, Quantity("Major axis", "′", 0.01, 3600)] = None
    minor_arcmin: Annotated[float | None, Quantity("Minor axis", "′", 0.01, 3600)] = None
    position_angle_deg: Annotated[float, Quantity("Position angle", "°", 0, 360)] = 0
    kind: TargetKind = "other"
    magnitude: Annotated[float | None, Quantity("Magnitude", "mag", -30, 30)] = None
    surface_brightness: Annotated[float | None, Quantity("Surface brightness", "mag/arcsec²", 5, 35)] = None

    @model_validator(mode="after")
    def _minor_within_major(self) -> "Target":
        if self.minor_arcmin is not None and (self.major_arcmin is None or self.minor_arcmin > self.major_arcmin):
            raise ValueError("minor_arcmin: the minor axis needs a major axis that is at least as long")
        return self
