"""The sensor of a camera: its pixels, its noise, and the darks that were taken with it."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dravel.core.model.base import Day, Document, Model, Quantity


class ReadMode(Model):
    """A camera setting with its noise."""

    gain: Annotated[float, Quantity("Gain setting", "", 0, 1_000_000)]
    read_noise_e: Annotated[float, Quantity("Read noise", "e⁻", 0.1, 100)]
    e_per_adu: Annotated[float, Quantity("Electrons per count", "e⁻", 0.001, 100)]


class EfficiencyPoint(Model):
    """The quantum efficiency at one wavelength."""

    at_nm: Annotated[float, Quantity("Wavelength", "nm", 200, 2000)]
    efficiency: Annotated[float, Quantity("Quantum efficiency", "", 0, 1)]


class DarkSet(Model):
    """Darks on hand: taken at one set point, gain and length, which a sub must share with them."""

    set_c: Annotated[float, Quantity("Set point", "°C", -60, 45)]
    gain: Annotated[float, Quantity("Gain setting", "", 0, 1_000_000)] = 0
    sub_s: Annotated[float, Quantity("Length", "s", 0.001, 7200)]
    count: Annotated[int, Quantity("How many", "", 1, 10_000)] = 30
    on: Day | None = None


class Sensor(Document):
    """The chip itself. A `quantum_curve` rises in wavelength, and counts before the peak alone. A dark current without
    a temperature is taken as that of the sensor at work.
    """

    width_px: Annotated[int, Quantity("Sensor width", "px", 16, 50_000)]
    height_px: Annotated[int, Quantity("Sensor height", "px", 16, 50_000)]
    pixel_um: Annotated[float, Quantity("Pixel size", "µm", 0.5, 30)]
    colour: Annotated[Literal["mono", "one_shot"], Field(title="Colour")] = "one_shot"
    bit_depth: Annotated[int, Quantity("Bit depth", "bit", 8, 32)] = 14
    quantum_efficiency: Annotated[float | None, Quantity("Peak quantum efficiency", "", 0.01, 1)] = None
    quantum_curve: Annotated[tuple[EfficiencyPoint, ...], Field(title="Efficiency by wavelength", max_length=80)] = ()
    full_well_e: Annotated[float | None, Quantity("Full well", "e⁻", 100, 10_000_000)] = None
    dark_e_per_s: Annotated[float | None, Quantity("Dark current", "e⁻/s", 0, 1000)] = None
    dark_at_c: Annotated[float | None, Quantity("Dark current given for", "°C", -100, 60)] = None
    modes: tuple[ReadMode, ...] = ()

    @model_validator(mode="after")
    def _curve_rises(self) -> "Sensor":
        places = [point.at_nm for point in self.quantum_curve]
        if places != sorted(set(places)) or (self.quantum_curve and not any(p.efficiency for p in self.quantum_curve)):
            raise ValueError("quantum_curve: wavelengths must rise from row to row, each once, and some light be seen")
        return self

    @property
    def peak_efficiency(self) -> float | None:
        """The best quantum efficiency: of the curve where there is one."""
        if self.quantum_curve:
            return max(point.efficiency for point in self.quantum_curve)
        return self.quantum_efficiency

    @property
    def width_mm(self) -> float:
        """Width of the light-sensitive area, mm."""
        return self.width_px * self.pixel_um / 1000

    @property
    def height_mm(self) -> float:
        """Height of the light-sensitive area, mm."""
        return self.height_px * self.pixel_um / 1000
