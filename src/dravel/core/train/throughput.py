"""What of the light comes through optics, filter, body and dyes to the pixels: of a continuous glow and of a line."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np

from dravel.core.model import Camera, Corrector, Filter, Rig, Sensor, Telescope
from dravel.core.model.designs import ALL_MIRRORS
from dravel.core.physics.photometry import H_ALPHA_NM, OIII_NM, SII_NM, SODIUM_NM, VISUAL_NM, lamplight, line_passed

# Share of the light that glass and mirrors hand on, by design. Dravel's own orders of magnitude.
OPTICS = {
    "doublet": 0.95, "triplet": 0.93, "petzval": 0.92, "camera_lens": 0.85, "newtonian": 0.80,
    "schmidt_cassegrain": 0.78, "ritchey_chretien": 0.78, "maksutov": 0.80, "maksutov_newtonian": 0.80,
}  # fmt: skip
CORRECTOR = 0.96  # Dravel's own
INDEX = 1.9  # effective, of a narrow filter's layers. From memory
# Air scatters blue light more: with λ⁻⁴ (Rayleigh), haze with about λ⁻¹; between the two. Dravel's own.
MOON_SLOPE, VISUAL_AT_NM, MOON_STEP_NM = -2.5, 550.0, 50.0
# Where a sensor sees, nm: behind a body's own cut, or down to where its response has faded. Dravel's own.
BODY = {"stock": (400.0, 690.0), "hydrogen_extended": (400.0, 700.0), "none": (380.0, 1000.0)}
# How a silicon sensor's efficiency falls off its best wavelength where no curve is given: thinned chips, lit from behind.
# Dravel's own, as makers' curves of the day run.
SILICON = (
    (350, 0.35), (380, 0.50), (400, 0.62), (450, 0.86), (500, 0.98), (530, 1.0), (560, 0.98), (600, 0.93), (656, 0.82),
    (700, 0.69), (750, 0.55), (800, 0.42), (850, 0.31), (900, 0.20), (950, 0.11), (1000, 0.05), (1050, 0.0),
)  # fmt: skip
# Beyond 700 nm the night's own air glows in OH: by the nanometre three times as bright in photons as at 550 nm, from 820 nm on
# eight times; white lamps have little light there. Source: dark sky of the Sloan survey, r 21.1, i 20.2, z 18.9 AB (from memory);
# lamps: Dravel's own.
RED_NM, DEEP_NM = 700.0, 820.0
RED_GLOW, DEEP_GLOW, LAMPS_BEYOND = 2.8, 8.0, 0.4
STOCK_RED = 0.25  # of the deep red a stock body lets through; common practice
DEEP_RED_NM = 640.0


@dataclass(frozen=True)
class Dye:
    """The colour over some of the pixels: its share of them, its window in nm and how much of it comes through."""

    share: float
    low_nm: float
    high_nm: float
    passes: float


# One-shot colour: a red, two green and a blue of four. The mosaic is common practice; windows are Dravel's own.
COLOUR = (Dye(0.25, 580, 1000, 0.90), Dye(0.5, 480, 600, 0.85), Dye(0.25, 400, 520, 0.80))
MONO = (Dye(1.0, 0, 2000, 1.0),)


@dataclass(frozen=True)
class Window:
    """What comes through to the pixels under one dye: widths in nm for an even glow, how much of it is in focus, the parts
    beyond 700 and 820 nm, for sodium light of the same brightness to a meter, and for moonlight, and shares of lines by
    wavelength.
    """

    share: float
    even_nm: float
    focused_nm: float
    red_nm: float
    deep_nm: float
    sodium_nm: float
    moon_nm: float
    lines: dict[float, float]

    def sky_nm(self, sky: float, lamps: str | None) -> float:
        """Width for the glow of a sky of so many mag/arcsec²: even up to 700 nm, where the night itself grows brighter and
        lamps fainter; sodium lamps shine in a narrow window. Source: definition of the V band; the dark sky of Sloan.
        """
        lit = lamplight(sky)
        night = self.even_nm + (RED_GLOW - 1) * self.red_nm + (DEEP_GLOW - 1) * self.deep_nm
        beyond = self.red_nm + self.deep_nm
        lamp = self.sodium_nm if lamps == "sodium" else self.even_nm - (1 - LAMPS_BEYOND) * beyond
        return (1 - lit) * night + lit * lamp


@dataclass(frozen=True, eq=False)
class Throughput:
    """What a rig hands on; two are the same when they let the same through. `filter` is the one in use; a rig without one sees all that its body lets through."""

    optics: float
    focal_ratio: float
    camera: Camera
    filter: Filter | None
    blocked: float = 0.0  # central obstruction, of the diameter
    glass: bool = True  # whether light passes lenses, which leave the infrared out of focus

    @classmethod
    def of(cls, rig: Rig, telescope: Telescope, camera: Camera, focal_ratio: float) -> "Throughput":
        """Of a rig at its own focal ratio."""
        return cls(
            optics_of(rig, telescope),
            focal_ratio,
            camera,
            in_use(rig),
            telescope.blocked_share,
            has_glass(rig, telescope),
        )

    def behind(self, one: Filter | None) -> "Throughput":
        """The same with another filter in the light, or with none."""
        return replace(self, filter=one)

    @property
    def known(self) -> bool:
        """Whether what the filter lets through was given."""
        return self.filter is None or bool(self.filter.passbands)

    @cached_property
    def _key(self) -> tuple[object, ...]:
        """All that decides what comes through."""
        sensor, bands = self.camera.sensor, self.filter.passbands if self.filter else None
        cut = self.camera.spectral_cut
        sensed = sensor.colour, sensor.quantum_curve, sensor.peak_efficiency
        return self.optics, self.focal_ratio, self.blocked, self.glass, cut, sensed, bands

    def __hash__(self) -> int:
        return hash(self._key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Throughput) and self._key == other._key

    @property
    def dyes(self) -> tuple[Dye, ...]:
        """The dyes over the pixels; one clear one over all of a mono sensor."""
        return COLOUR if self.camera.sensor.colour == "one_shot" else MONO

    def _windows(self) -> Iterator[tuple[float, float, float]]:
        """What filter and body let through: from, to and how much."""
        low, high = BODY[self.camera.spectral_cut]
        if self.filter is None:
            yield low, high, 1.0
            return
        for band in self.filter.passbands:
            half = band.width_nm / 2
            yield max(low, band.centre_nm - half), min(high, band.centre_nm + half), band.peak

    def continuum_nm(self, dye: Dye, within: tuple[float, float] = (0.0, 5000.0)) -> float:
        """Width of the continuous light under a dye, nm, each wavelength weighed with what comes through and is seen, the
        sensor's best wavelength as 1; `within` leaves out the light of other wavelengths.
        """
        passed = 0.0
        for low, high, share in self._windows():
            low, high = max(low, dye.low_nm, within[0]), min(high, dye.high_nm, within[1])
            if high > low:
                passed += self._body(low, high) * share * (high - low) * seen(self.camera.sensor, low, high)
        return self.optics * dye.passes * passed

    @property
    def windows(self) -> tuple[Window, ...]:
        """What each dye lets through, in the order of the dyes."""
        return _windows_of(self)

    def moon_nm(self, dye: Dye) -> float:
        """The same for scattered moonlight, bluer than the sky by `MOON_SLOPE`."""
        passed = 0.0
        for low, high, _ in self._windows():
            low, high = max(low, dye.low_nm), min(high, dye.high_nm)
            # The light changes over a wide window: in steps of it.
            steps = max(1, round((high - low) / MOON_STEP_NM))
            for k in range(steps if high > low else 0):
                part = low + (high - low) * k / steps, low + (high - low) * (k + 1) / steps
                passed += self.continuum_nm(dye, part) * (sum(part) / 2 / VISUAL_AT_NM) ** MOON_SLOPE
        return passed

    def line(self, nm: float, dye: Dye) -> float:
        """Share of a line's light that is seen under a dye, the sensor's best wavelength as 1; a fast cone shifts a narrow
        filter off it.
        """
        low, high = BODY[self.camera.spectral_cut]
        if not (dye.low_nm <= nm <= dye.high_nm and low <= nm <= high):
            return 0.0
        through = 1.0
        if self.filter is not None:
            through = sum(
                band.peak * line_kept(nm, band.centre_nm, band.width_nm, self.focal_ratio, self.blocked)
                for band in self.filter.passbands
            )
        return self.optics * dye.passes * self._body(nm, nm) * min(through, 1.0) * seen(self.camera.sensor, nm, nm)

    def _body(self, low: float, high: float) -> float:
        """How much a body's own filter leaves of a window: a stock one dims the deep red."""
        if self.camera.spectral_cut != "stock" or high <= DEEP_RED_NM:
            return 1.0
        if high <= low or low >= DEEP_RED_NM:
            return STOCK_RED
        dimmed = (high - DEEP_RED_NM) / (high - low)
        return 1 - dimmed * (1 - STOCK_RED)


def in_use(rig: Rig) -> Filter | None:
    """The filter in the light, if there is one."""
    for item in rig.path:
        if item.in_use is not None:
            return item.filters[item.in_use]
    return None


@lru_cache(maxsize=256)
def _windows_of(through: Throughput) -> tuple[Window, ...]:
    """Kept, since a rig is judged again and again behind the same few filters."""

    def beyond(dye: Dye, low: float, high: float) -> float:
        return through.continuum_nm(dye, (low, high))

    return tuple(
        Window(
            dye.share,
            through.continuum_nm(dye),
            through.continuum_nm(dye) - (beyond(dye, RED_NM, 5000.0) if through.glass else 0.0),
            beyond(dye, RED_NM, DEEP_NM),
            beyond(dye, DEEP_NM, 5000.0),
            through.continuum_nm(dye, SODIUM_NM) * VISUAL_NM / (SODIUM_NM[1] - SODIUM_NM[0]),
            through.moon_nm(dye),
            {nm: through.line(nm, dye) for nm in (H_ALPHA_NM, OIII_NM, SII_NM)},
        )
        for dye in through.dyes
    )


def has_glass(rig: Rig, telescope: Telescope) -> bool:
    """Whether light passes lenses on its way: those of the telescope, of a corrector, or of a plate in front."""
    return telescope.design not in ALL_MIRRORS or any(isinstance(item.part, Corrector) for item in rig.path)


def optics_of(rig: Rig, telescope: Telescope) -> float:
    """Share of the light that telescope and correctors hand on."""
    return OPTICS[telescope.design] * CORRECTOR ** sum(isinstance(item.part, Corrector) for item in rig.path)


@lru_cache(maxsize=512)
def line_kept(line_nm: float, centre_nm: float, width_nm: float, focal_ratio: float, blocked: float) -> float:
    """`line_passed` at the index of narrow filters; kept, since every target asks for the same few."""
    return line_passed(line_nm, centre_nm, width_nm, focal_ratio, INDEX, blocked)


def seen(sensor: Sensor, low_nm: float, high_nm: float) -> float:
    """Mean quantum efficiency over a window as a share of the peak: of the sensor's curve, else of silicon's usual one.
    Straight between the points of a curve, nothing beyond its ends.
    """
    points = tuple((point.at_nm, point.efficiency) for point in sensor.quantum_curve)
    peak = (sensor.peak_efficiency or 1.0) if points else 1.0
    at, efficiency = zip(*(points or SILICON), strict=True)
    wide = np.linspace(low_nm, high_nm, 33)
    curve = np.interp(wide, at, efficiency, left=0.0, right=0.0)
    # The mean between neighbours: the ends count half.
    return float((curve[1:] + curve[:-1]).mean()) / 2 / peak
