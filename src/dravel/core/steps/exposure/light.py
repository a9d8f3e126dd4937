"""Rates in a pixel: what sky, target, dark current and a star put into it each second, and what that is worth."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import inf, log10, pi

from dravel.core.model import Filter
from dravel.core.model.words import Words
from dravel.core.physics import photometry as light
from dravel.core.sky.glow import Glow
from dravel.core.train.throughput import Throughput

# What of a picture is looked at: a disc so wide, or a pixel as the sensor has it where that is wider. Dravel's own.
DETAIL_ARCSEC = 4.0
HARDLY_MAG, USUAL_MOON_MAG = 0.05, 1.2  # moonlight not worth a word; what the moon adds on average over a month. Own


@dataclass(frozen=True)
class Conditions:
    """The sky a target is seen through: usable hours of the night (None without one), airmass, glow at the target in
    mag/arcsec² without the moon and with it, extinction in mag per airmass.
    """

    hours: float | None
    altitude_deg: float
    airmass: float
    dark: float
    sky: float
    extinction: float
    lamps: str | None
    words: Words

    @property
    def moon_mag(self) -> float:
        """How much the moon brightens it, mag."""
        return self.dark - self.sky

    @cached_property
    def moonlight(self) -> float:
        """What the moon adds, as a brightness of its own, mag/arcsec²; infinite without one."""
        added = 10 ** (-0.4 * self.sky) - 10 ** (-0.4 * self.dark)
        return -2.5 * log10(added) if added > 0 else inf

    @cached_property
    def passes(self) -> float:
        """Share of the target's light that comes down."""
        return light.extinguished(self.extinction, self.airmass)


@dataclass(frozen=True)
class Pixel:
    """Pixels under one dye: their share of all, and electrons a second of sky, target and dark current in each."""

    share: float
    sky: float
    target: float
    dark: float

    @property
    def background(self) -> float:
        """What falls in beside the target's light."""
        return self.sky + self.dark

    def worth(self, read_noise_e: float, sub_s: float) -> float:
        """Signal to noise squared that one such pixel gains a second."""
        noise = self.target + self.background + read_noise_e**2 / sub_s
        return self.target**2 / noise if noise > 0 else 0.0


@dataclass(frozen=True)
class Collector:
    """A rig as a bucket for light: open area in m², scale in ″/px, and the star's width in px (None where not known)."""

    through: Throughput
    area_m2: float
    scale: float
    quantum: float
    dark: float
    read_noise_e: float
    star_px: float | None
    binning: int
    _behind: dict[object, Throughput] = field(default_factory=dict, repr=False, compare=False)

    @property
    def element_px(self) -> float:
        """Pixels of the rig's own detail; part of one where they are binned coarser, or binning would seem to save hours. The
        rig's stars do not count: a mount that guides worse would gain by its larger ones.
        """
        return self.pixels_of(self.detail)

    @property
    def detail(self) -> float:
        """The detail the rig is judged by, ″: 4″, or a pixel as the sensor has it where that is wider."""
        return max(DETAIL_ARCSEC, self.scale / self.binning)

    def pixels_of(self, detail: float) -> float:
        """How many pixels a disc so many ″ wide has. Rigs held against one another are held so at one angle."""
        return pi / 4 * (detail / self.scale) ** 2

    def behind(self, one: Filter | None) -> Throughput:
        """What comes through a filter, or without one; worked out once for each."""
        key = None if one is None else (one.id, one.name)
        if key not in self._behind:
            self._behind[key] = self.through.behind(one)
        return self._behind[key]

    def pixels(self, glow: Glow, sky: Conditions, behind: Filter | None) -> tuple[Pixel, ...]:
        """The pixels under each dye, behind a filter or none."""
        # Electrons a second and pixel for 1 mag/arcsec² through 1 nm, and for a rayleigh.
        one_nm = light.surface_rate(0.0, self.area_m2, 1.0, self.quantum, self.scale)
        one_r = light.line_rate(1.0, self.area_m2, 1.0, self.quantum, self.scale) * sky.passes
        dark, moon = 10 ** (-0.4 * sky.dark), 10 ** (-0.4 * sky.moonlight)
        surface = 0.0 if glow.surface is None else 10 ** (-0.4 * glow.surface) * sky.passes
        results = []
        for window in self.behind(behind).windows:
            glows = one_nm * (dark * window.sky_nm(sky.dark, sky.lamps) + moon * window.moon_nm)
            if glow.of_lines:
                target = one_r * sum(rayleighs * window.lines[nm] for nm, _, rayleighs in glow.lines)
            else:
                target = one_nm * surface * window.focused_nm
            results.append(Pixel(window.share, glows, target, self.dark))
        return tuple(results)

    def moon_colour(self, glow: Glow, sky: Conditions, behind: Filter | None, sub_s: float) -> float:
        """How strong moonlight is in the light let through against all that is noise without it, all dyes together: what
        `moon_cost` takes.
        Source: noise of a background adds in squares.
        """
        # Without a moon of its own, under a usual one.
        gain = sky.moon_mag if sky.moon_mag > HARDLY_MAG else USUAL_MOON_MAG
        dark, lit = (
            self.worth(self.pixels(glow, replace(sky, sky=sky.dark - item), behind), sub_s) for item in (0.0, gain)
        )
        return (dark / lit - 1) / (light.moon_cost(gain) - 1) if lit > 0 else 1.0

    def glow(self, brightness: float, width_nm: float) -> float:
        """Electrons a second and pixel of a glow of so many mag/arcsec² through so many nm."""
        return light.surface_rate(brightness, self.area_m2, width_nm, self.quantum, self.scale)

    def widest_nm(self, behind: Filter | None) -> float:
        """Width of an even glow under the dye that sees most of it, nm."""
        return max(window.even_nm for window in self.behind(behind).windows)

    def star(self, magnitude: float, sky: Conditions, behind: Filter | None) -> float:
        """Electrons a second of a star in the pixel under its middle, of the dye that sees most of it."""
        whole = sky.passes * light.star_rate(magnitude, self.area_m2, self.widest_nm(behind), self.quantum)
        return whole * light.peak_share(self.star_px or 1.0)

    def core(self, glow: Glow, sky: Conditions, behind: Filter | None) -> float:
        """Electrons a second and pixel of a target's bright core, lines and even light, of the dye that sees most of it."""
        one_r = light.line_rate(1.0, self.area_m2, 1.0, self.quantum, self.scale)
        one_nm = (
            0.0 if glow.core is None else light.surface_rate(glow.core, self.area_m2, 1.0, self.quantum, self.scale)
        )
        return sky.passes * max(
            one_r * sum(rayleighs * window.lines[nm] for nm, _, rayleighs in glow.core_lines) + one_nm * window.even_nm
            for window in self.behind(behind).windows
        )

    def worth(self, pixels: Iterable[Pixel], sub_s: float, detail: float | None = None) -> float:
        """Signal to noise squared that a detail (″; the rig's own) gains a second, all dyes together."""
        return self.pixels_of(detail or self.detail) * sum(
            pixel.share * pixel.worth(self.read_noise_e, sub_s) for pixel in pixels
        )


def best(pixels: tuple[Pixel, ...], read_noise_e: float, sub_s: float) -> Pixel:
    """The pixels that tell most of the target, each by itself."""
    return max(pixels, key=lambda item: (item.share * item.worth(read_noise_e, sub_s), item.share))


def hours_for(wished: float, worth: float) -> float:
    """Hours until the signal stands so many times above the noise; infinite where nothing is gained."""
    return wished**2 / worth / 3600 if worth > 0 else inf
