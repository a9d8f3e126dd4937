"""What a player of nights asks of instruments. Times in seconds from noon, sizes in pixels, temperatures in °C.

The stand-ins fulfil these; whatever drives real instruments can fulfil them too.
"""

from dataclasses import dataclass
from typing import Protocol


@dataclass(frozen=True)
class Sky:
    """The sky at a moment: cloud from 0 (clear) to 1 (closed), wind in m/s, seeing in arcseconds, air in °C."""

    cloud: float
    wind_m_s: float
    seeing_arcsec: float
    air_c: float


@dataclass(frozen=True)
class Exposed:
    """A frame as its camera reports it: star size in pixels, elongation as long over short axis."""

    start_s: float
    sub_s: float
    fwhm_px: float
    elongation: float
    stars: int


class Weather(Protocol):
    """The sky over the site."""

    def at(self, second: float) -> Sky:
        """The sky at a moment."""
        ...


class Mount(Protocol):
    """Points and tracks."""

    def slew(self, target: str, second: float) -> None:
        """Point at a target."""
        ...

    def flip(self, second: float) -> None:
        """Turn over the meridian; a calibration of the guiding turns with it."""
        ...


class Focuser(Protocol):
    """Keeps the sensor in focus."""

    def focus(self, second: float, air_c: float) -> None:
        """Find focus at the air's temperature."""
        ...

    def off_k(self, second: float, air_c: float) -> float:
        """How far out of focus, as kelvins of cooling since the last focus."""
        ...


class Guider(Protocol):
    """Holds a star."""

    def begin(self, second: float) -> None:
        """Pick a star and guide."""
        ...

    def lost(self, start_s: float, end_s: float, sky: Sky) -> bool:
        """Whether the star was lost between two moments."""
        ...

    def rms_arcsec(self, sky: Sky) -> float:
        """RMS per axis under a sky."""
        ...


class Camera(Protocol):
    """Exposures."""

    def expose(self, start_s: float, sub_s: float, sky: Sky, off_k: float, rms_arcsec: float) -> Exposed:
        """A sub that began at `start_s`."""
        ...


class Power(Protocol):
    """What feeds the rig."""

    def share_left(self, second: float) -> float:
        """Share of the usable energy that is left."""
        ...
