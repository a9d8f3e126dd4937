"""Sites and targets."""

from itertools import pairwise
from typing import Annotated, Any, Literal
from zoneinfo import ZoneInfo

from pydantic import Field, field_validator, model_validator

from dravel.core.model.base import Document, Identifier, Model, Name, Quantity, YesNo

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

# Bodies that move among the stars; where they stand and how large they are is computed for the date.
Body = Literal["Moon", "Mercury", "Venus", "Mars", "Jupiter", "Saturn", "Uranus", "Neptune"]

# Sky brightness by class, mag/arcsec². The classes after Bortle 2001, Sky & Telescope; the figures common practice.
CLASS_BRIGHTNESS = {1: 22.0, 2: 21.8, 3: 21.5, 4: 20.9, 5: 20.2, 6: 19.3, 7: 18.6, 8: 18.0, 9: 17.3}
TYPICAL_SKY = 20.5


class HorizonPoint(Model):
    """Where roofs, trees and hills reach to in one direction; azimuth from north through east."""

    azimuth_deg: Annotated[float, Quantity("Azimuth", "°", 0, 360)]
    altitude_deg: Annotated[float, Quantity("Altitude of the horizon", "°", -5, 90)]


MonthTemperature = Annotated[float, Quantity("Typical night temperature of a month", "°C", -60, 45)]


class Site(Document):
    """A place to observe from. Its time zone is one of the IANA list; the horizon has one altitude an azimuth."""

    id: Identifier | None = None
    name: Name
    latitude_deg: Annotated[float, Quantity("Latitude", "°", -90, 90)]
    longitude_deg: Annotated[float, Quantity("Longitude, east positive", "°", -180, 180)]
    elevation_m: Annotated[float, Quantity("Elevation", "m", -450, 9000)] = 0
    timezone: Annotated[str, Field(title="Time zone", max_length=60)] = "UTC"
    sky_brightness_mag_arcsec2: Annotated[float | None, Quantity("Sky brightness", "mag/arcsec²", 14, 22.5)] = None
    sky_class: Annotated[int | None, Quantity("Bortle class", "", 1, 9)] = None
    seeing_arcsec: Annotated[float | None, Quantity("Seeing", "″", 0.2, 15)] = None
    night_temperature_c: Annotated[float | None, Quantity("Typical night temperature", "°C", -60, 45)] = None
    humidity: Annotated[float | None, Quantity("Typical humidity", "share", 0, 1)] = None
    wind_m_s: Annotated[float | None, Quantity("Typical wind", "m/s", 0, 60)] = None
    lamps: Annotated[Literal["led", "sodium"] | None, Field(title="Street light nearby")] = None
    month_c: Annotated[tuple[MonthTemperature, ...], Field(title="Night temperature by month", max_length=12)] = ()
    horizon: Annotated[tuple[HorizonPoint, ...], Field(title="Horizon", max_length=360)] = ()

    @field_validator("month_c")
    @classmethod
    def _a_year_or_nothing(cls, months: Any) -> Any:
        if len(months) not in (0, 12):
            raise ValueError(
                f"month_c: night temperatures are given for all twelve months or for none, not {len(months)}"
            )
        return months

    @field_validator("timezone")
    @classmethod
    def _timezone_is_known(cls, name: str) -> str:
        try:
            ZoneInfo(name)
        except (KeyError, ValueError, OSError):
            raise ValueError(f"timezone: '{name}' is not a known time zone, such as Europe/Madrid") from None
        return name

    @field_validator("horizon", mode="after")
    @classmethod
    def _horizon_runs_round(cls, points: Any) -> Any:
        ordered = tuple(sorted(points, key=lambda p: p.azimuth_deg))
        for item, other in pairwise(ordered):
            if item.azimuth_deg == other.azimuth_deg:
                raise ValueError(f"horizon: two altitudes at azimuth {item.azimuth_deg:g}°")
        return ordered

    @property
    def sky_is_given(self) -> bool:
        """Whether the site says how bright its sky is, and it is not only taken as a typical one."""
        return self.sky_brightness_mag_arcsec2 is not None or self.sky_class is not None

    @property
    def sky_brightness(self) -> float:
        """Sky brightness at the zenith without moon, mag/arcsec²: measured, else by class, else a typical one."""
        if self.sky_brightness_mag_arcsec2 is not None:
            return self.sky_brightness_mag_arcsec2
        return CLASS_BRIGHTNESS[self.sky_class] if self.sky_class else TYPICAL_SKY


class TargetSize(Document):
    """A size that somebody gives a target, arcminutes, and who."""

    major_arcmin: Annotated[float, Quantity("Major axis", "′", 0.01, 3600)]
    minor_arcmin: Annotated[float | None, Quantity("Minor axis", "′", 0.01, 3600)] = None
    source: Annotated[str, Field(title="Source", max_length=80)]

    @property
    def words(self) -> str:
        """As people say it: ``40′ × 30′ (list)``."""
        minor = f" × {self.minor_arcmin:g}′" if self.minor_arcmin else ""
        return f"{self.major_arcmin:g}′{minor} ({self.source})"


def plain_name(name: str) -> str:
    """A name without what people write differently: ``NGC 281``, ``ngc281`` and ``ngc-281`` are one."""
    return "".join(item for item in name.casefold() if item.isalnum())


class Target(Document):
    """Something to photograph. Coordinates ICRS, sizes in arcminutes, position angle from north through east.
    A minor axis needs a major one at least as long.

    `size_source` says whose size it is, `other_sizes` what others give; `size_doubtful` that they differ much and nobody
    decided. Of a moon or planet (`body`) place and size are those of some date; `core.sky.moving` gives them for another.
    """

    id: Identifier | None = None
    name: Name
    aliases: Annotated[tuple[str, ...], Field(max_length=60)] = ()
    ra_deg: Annotated[float, Quantity("Right ascension", "°", 0, 360)]
    dec_deg: Annotated[float, Quantity("Declination", "°", -90, 90)]
    major_arcmin: Annotated[float | None, Quantity("Major axis", "′", 0.01, 3600)] = None
    minor_arcmin: Annotated[float | None, Quantity("Minor axis", "′", 0.01, 3600)] = None
    position_angle_deg: Annotated[float, Quantity("Position angle", "°", 0, 360)] = 0
    size_source: Annotated[str, Field(title="Size source", max_length=80)] = ""
    size_doubtful: Annotated[YesNo, Field(title="Size is uncertain")] = False
    other_sizes: Annotated[tuple[TargetSize, ...], Field(title="Sizes in other catalogues", max_length=8)] = ()
    kind: TargetKind = "other"
    magnitude: Annotated[float | None, Quantity("Magnitude", "mag", -30, 30)] = None
    surface_brightness: Annotated[float | None, Quantity("Surface brightness", "mag/arcsec²", 5, 35)] = None
    line_rayleighs: Annotated[float | None, Quantity("Hα surface brightness of target", "R", 0.1, 10_000_000)] = None
    core_brightness: Annotated[float | None, Quantity("Core brightness", "mag/arcsec²", 0, 30)] = None
    lists: Annotated[tuple[str, ...], Field(title="Lists", max_length=20)] = ()
    body: Annotated[Body | None, Field(title="Moon or planet")] = None

    @model_validator(mode="after")
    def _minor_within_major(self) -> "Target":
        if self.minor_arcmin is not None and (self.major_arcmin is None or self.minor_arcmin > self.major_arcmin):
            raise ValueError("minor_arcmin: the minor axis needs a major axis that is at least as long")
        return self

    @property
    def key(self) -> str:
        """By what it is known wherever light, runs and marks are kept of it: its id, else its name."""
        return self.id or self.name

    @property
    def called(self) -> frozenset[str]:
        """Every name it goes by, its id among them, each as `plain_name` writes it."""
        return frozenset(plain_name(name) for name in (self.id or "", self.name, *self.aliases)) - {""}
