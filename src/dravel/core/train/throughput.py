"""What of the light comes through optics, filter, body and dyes to the pixels: of a continuous glow and of a line."""

from collections.abc import Iterator
from dataclasses import dataclass

from dravel.core.model import Camera, Corrector, Filter, Rig, Telescope
from dravel.core.physics.photometry import line_passed

# Share of the light that glass and mirrors hand on, by design. Dravel's own orders of magnitude.
OPTICS = {
    "doublet": 0.95, "triplet": 0.93, "petzval": 0.92, "camera_lens": 0.85, "newtonian": 0.80,
    "schmidt_cassegrain": 0.78, "ritchey_chretien": 0.78, "maksutov": 0.80, "maksutov_newtonian": 0.80,
}  # fmt: skip
CORRECTOR = 0.96  # Dravel's own
H_ALPHA_NM, OIII_NM = 656.3, 500.7
INDEX = 1.9  # effective, of a narrow filter's layers. From memory
# Where a sensor sees, nm: behind a body's own cut, or down to where its response has faded. Dravel's own.
BODY = {"stock": (400.0, 690.0), "hydrogen_extended": (400.0, 700.0), "none": (400.0, 850.0)}
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
COLOUR = (Dye(0.25, 580, 850, 0.90), Dye(0.5, 480, 600, 0.85), Dye(0.25, 400, 520, 0.80))
MONO = (Dye(1.0, 0, 2000, 1.0),)


@dataclass(frozen=True)
class Throughput:
    """What a rig hands on. `filter` is the one in use; a rig without one sees all that its body lets through."""

    optics: float
    focal_ratio: float
    camera: Camera
    filter: Filter | None

    @classmethod
    def of(cls, rig: Rig, telescope: Telescope, camera: Camera, focal_ratio: float) -> "Throughput":
        """Of a rig at its own focal ratio."""
        glass = sum(isinstance(item.part, Corrector) for item in rig.path)
        return cls(OPTICS[telescope.design] * CORRECTOR**glass, focal_ratio, camera, in_use(rig))

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

    def continuum_nm(self, dye: Dye) -> float:
        """Width of the continuous light under a dye, nm, each wavelength weighed with what comes through."""
        passed = sum(
            self._body(low, high) * share * max(0.0, min(high, dye.high_nm) - max(low, dye.low_nm))
            for low, high, share in self._windows()
        )
        return self.optics * dye.passes * passed

    def line(self, nm: float, dye: Dye) -> float:
        """Share of a line's light that reaches the pixels under a dye; a fast cone shifts a narrow filter off it."""
        low, high = BODY[self.camera.spectral_cut]
        if not (dye.low_nm <= nm <= dye.high_nm and low <= nm <= high):
            return 0.0
        through = 1.0
        if self.filter is not None:
            through = sum(
                band.peak * line_passed(nm, band.centre_nm, band.width_nm, self.focal_ratio, INDEX)
                for band in self.filter.passbands
            )
        return self.optics * dye.passes * self._body(nm, nm) * min(through, 1.0)

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
