"""Exposure facts of a rig, gathered once and only when asked for: what figures, rules and view of the step share."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from math import asin, ceil, degrees, exp, inf, log

from dravel.core.engine.context import Context
from dravel.core.model import Camera, Exposure, Filter, Framing, ReadMode
from dravel.core.model.words import Text, Value, Words, joined, text
from dravel.core.physics import photometry as photo
from dravel.core.sky.glow import Glow, glow_of
from dravel.core.sky.night import extinction_at, passing_on
from dravel.core.steps.exposure.light import Collector, Conditions, Pixel, best, hours_for
from dravel.core.steps.exposure.limits import GUSTS, WELL
from dravel.core.train.layout import part_key
from dravel.core.train.throughput import Throughput, in_use

GONE = "not on the rig"
NEARLY = 1.1  # a sub a tenth short of the shortest is not held against it: round lengths are planned
# What a night is ranked by before any target is chosen: a nebula of 100 R, a galaxy's arms. Dravel's own.
USUAL_LINES = Glow(
    ((photo.H_ALPHA_NM, "Hα", 100.0), (photo.OIII_NM, "OIII", 50.0), (photo.SII_NM, "SII", 20.0)), None, None, ""
)
USUAL_EVEN = Glow((), 24.0, None, "")
WARM_BODY_K = 10.0  # a body without a cooler at work against the air: 8 to 15 K; common practice
ROUND_S = (1, 2, 5, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 300, 420, 600, 900, 1200, 1800, 2700, 3600)
# Gusts as speeds scattered about the mean wind by a fifth of it, a peak every twenty seconds. Dravel's own orders of
# magnitude; how often such a speed is passed goes with the bell curve (Rice 1944, from memory).
TURBULENCE, PEAKS_PER_S = 0.2, 0.05


# Hours of light that a picture of a kind takes however bright it is: subs to reject planes by and to dither, colour, and
# what is fainter than the part wished for. Common practice.
LEAST_H = {
    "open_cluster": 0.5, "globular": 1.0, "planetary": 1.2, "emission": 0.6, "mixed": 0.6, "supernova_remnant": 2.0,
    "galaxy": 2.5, "reflection": 2.5, "dark": 3.0, "other": 1.0,
}  # fmt: skip


def least_hours(framing: Framing) -> float:
    """The least light of a target's kind, h."""
    return LEAST_H[framing.target.kind]


@dataclass(frozen=True)
class SubLimit:
    """Why a sub may not be longer than so many seconds."""

    key: str
    seconds: float
    words: Words


@dataclass(frozen=True)
class Shot:
    """One way a target is exposed: a block of its plan, or, where it has none, the planned sub behind the filter in use.

    `place` is where it is written in the rig: the block, or the planned sub.
    """

    framing: Framing
    glow: Glow
    filter: Filter | None
    pixels: tuple[Pixel, ...]
    sub_s: float
    place: tuple[str | int, ...]
    block: Exposure | None = None

    @property
    def words(self) -> str:
        """Which it is."""
        return f"{self.framing.target.name}, {self.filter.name if self.filter else 'no filter'}"


@dataclass(frozen=True)
class Exposing:
    """What the rig's pixels collect, and how long a sub may and should be."""

    context: Context

    @classmethod
    def of(cls, context: Context) -> "Exposing":
        """The exposing of a rig."""
        return cls(context)

    @cached_property
    def camera(self) -> Camera | None:
        """The camera that takes the picture."""
        return self.context.light.camera

    @cached_property
    def filter(self) -> Filter | None:
        """The filter in use."""
        return in_use(self.context.rig)

    @cached_property
    def modes(self) -> tuple[ReadMode, ...]:
        """The camera's settings, least gain first."""
        return tuple(sorted(self.camera.sensor.modes, key=lambda mode: mode.gain)) if self.camera else ()

    @cached_property
    def mode(self) -> ReadMode | None:
        """The setting in use: the chosen gain's, else the one with the least read noise."""
        gain = self.context.rig.shooting.gain
        return next((mode for mode in self.modes if mode.gain == gain), None) or min(
            self.modes, key=lambda mode: mode.read_noise_e, default=None
        )

    @property
    def mode_words(self) -> Text:
        """Whose read noise it is."""
        named = text("gain {gain}", gain=Value(self.mode.gain)) if self.mode else ""
        bins = self.context.rig.binning
        added = text("{bins} × {bins} added", bins=bins) if bins > 1 else ""
        return joined(", ", (self.camera.name if self.camera else "", named, added))

    def well_of(self, mode: ReadMode) -> float | None:
        """Electrons a pixel holds in a mode before it overflows, or the counts end; binned pixels together."""
        if self.camera is None:
            return None
        sensor = self.camera.sensor
        counts = mode.e_per_adu * float(2**sensor.bit_depth - 1)
        well = sensor.full_well_e
        return (counts if well is None else min(well, counts)) * float(self.context.rig.binning) ** 2

    @cached_property
    def well(self) -> float | None:
        """The same of the mode in use."""
        return None if self.mode is None else self.well_of(self.mode)

    @cached_property
    def sensor_c(self) -> tuple[float, Words]:
        """How cold the sensor is, °C, and why: its set point, or the night where it has no cooler."""
        rig, preferences = self.context.rig, self.context.preferences
        if self.camera is not None and self.camera.used("cooling_delta_k"):
            return rig.set_point_c(preferences), "set point"
        warm = self.context.value("air") + WARM_BODY_K
        return warm, text(
            "{WARM_BODY_K} above night air: uncooled sensor, self-heating", WARM_BODY_K=Value(WARM_BODY_K, "K")
        )

    @cached_property
    def dark(self) -> float | None:
        """Dark current of a pixel at work, e⁻/s; None where the camera gives none."""
        given = self.camera.sensor.dark_e_per_s if self.camera else None
        if given is None or self.camera is None:
            return None
        at = self.camera.sensor.dark_at_c
        now = given if at is None else photo.dark_at(given, at, self.sensor_c[0])
        return now * self.context.rig.binning**2

    @cached_property
    def lacks(self) -> Words:
        """Why the light in a pixel is not known; empty where it is."""
        known, path, site = self.context.known, self.context.light, self.context.rig.site
        if path.telescope is None or self.camera is None:
            return "telescope and camera required"
        for name in ("aperture", "focal_ratio", "pixel_scale"):
            if name not in known:
                return known.why_not(name)
        if self.camera.sensor.peak_efficiency is None:
            return text("{camera}: quantum efficiency not specified", camera=self.camera.name)
        if self.mode is None:
            return text("{camera}: read noise not specified", camera=self.camera.name)
        if site is None:
            return "no site"
        if not site.sky_is_given:
            return text("{site}: sky brightness not specified", site=site.name)
        return ""

    @cached_property
    def collector(self) -> Collector | None:
        """The rig as a bucket for light; None where `lacks` says why."""
        telescope, camera = self.context.light.telescope, self.camera
        if self.lacks or telescope is None or camera is None or self.mode is None:
            return None
        known, binning = self.context.known, self.context.rig.binning
        aperture = known.value("aperture")
        star = known.get("star_fwhm")
        scale = known.value("pixel_scale")
        return Collector(
            through=Throughput.of(self.context.rig, telescope, camera, known.value("focal_ratio")),
            area_m2=photo.open_area_m2(aperture, telescope.blocked_share * aperture),
            scale=scale,
            quantum=camera.sensor.peak_efficiency or 0.0,
            dark=self.dark or 0.0,
            # Frames are added after they are read: the noise of each counts.
            read_noise_e=self.mode.read_noise_e * binning,
            star_px=None if star is None else star / scale,
            binning=binning,
        )

    @cached_property
    def framings(self) -> tuple[tuple[int, Framing, Glow], ...]:
        """The targets that are exposed for, each with its place in the rig and how it shines."""
        result = ((i, framing, glow_of(framing.target)) for i, framing in enumerate(self.context.rig.framings))
        return tuple((i, framing, glow) for i, framing, glow in result if glow is not None)

    def conditions(self, framing: Framing) -> Conditions:
        """The sky a target is seen through on its night; without one, moonless at the airmass the preferences assumes."""
        site, preferences = self.context.rig.site, self.context.preferences
        if site is None:
            raise ValueError("no site")
        day = framing.night or self.context.tonight
        kept = self._kept
        if (key := (id(framing.target), day)) not in kept:
            kept[key] = self._conditions(framing, site.sky_brightness, extinction_at(preferences, site), site.lamps)
        return kept[key]

    @cached_property
    def _kept(self) -> dict[object, Conditions]:
        return {}

    def _conditions(self, framing: Framing, zenith: float, extinction: float, lamps: str | None) -> Conditions:
        site, preferences = self.context.rig.site, self.context.preferences
        day = framing.night or self.context.tonight
        seen = passing_on(framing.target, site, day, preferences) if site and day else None
        hours = seen.hours if seen else None
        airmass, altitude = (seen.mean_airmass, seen.mean_altitude) if seen else (None, None)
        if seen is None or airmass is None or altitude is None:
            airmass, moon = preferences.assumed_airmass, 0.0
            altitude = degrees(asin(min(1.0, 1 / airmass)))
            words = text("assumed airmass {airmass}, no moonlight", airmass=Value(airmass))
        else:
            moon = seen.moonlight_mag
            words = text(
                "mean altitude {altitude} over {hours}",
                altitude=Value(altitude, "°", 0),
                hours=Value(hours, form="long"),
            )
            words += text(", moonlight +{moon} mag", moon=Value(moon, digits=1)) if moon >= 0.05 else ""
        dark = photo.sky_away_from_zenith(zenith, altitude, extinction)
        return Conditions(hours, altitude, airmass, dark, dark - moon, extinction, lamps, words)

    def pixels(self, framing: Framing, glow: Glow, behind: Filter | None) -> tuple[Pixel, ...]:
        """What falls into the pixels behind a filter; empty where it is not known."""
        collector = self.collector
        if collector is None or not collector.behind(behind).known:
            return ()
        which = None if behind is None else (behind.id, behind.name)
        key = (id(framing.target), framing.night, glow.lines, glow.surface, which)
        if key not in self._pixels:
            self._pixels[key] = collector.pixels(glow, self.conditions(framing), behind)
        return self._pixels[key]

    @cached_property
    def _pixels(self) -> dict[object, tuple[Pixel, ...]]:
        return {}

    @cached_property
    def shots(self) -> tuple[Shot, ...]:
        """Everything that is exposed for, as far as the light is known."""
        results = []
        for i, framing, glow in self.framings:
            for k, block in enumerate(framing.plan):
                behind, missing = self.resolved(block)
                if missing != GONE:
                    place = ("framings", i, "plan", k)
                    results.append(
                        Shot(framing, glow, behind, self.pixels(framing, glow, behind), block.sub_s, place, block)
                    )
            if not framing.plan:
                pixels = self.pixels(framing, glow, self.filter)
                sub = self.context.rig.guide.sub_s
                results.append(Shot(framing, glow, self.filter, pixels, sub, ("guide", "sub_s")))
        return tuple(shot for shot in results if shot.pixels)

    def telling(self, pixels: tuple[Pixel, ...]) -> Pixel | None:
        """The pixels that tell most of the target."""
        collector = self.collector
        return best(pixels, collector.read_noise_e, self.context.rig.guide.sub_s) if collector and pixels else None

    def hours(self, pixels: tuple[Pixel, ...], sub_s: float | None = None) -> float:
        """Hours to the signal to noise wished for, per detail; infinite where nothing of it is seen."""
        collector, wished = self.collector, self.context.preferences.target_snr
        worth = collector.worth(pixels, sub_s or self.context.rig.guide.sub_s) if collector else 0.0
        return hours_for(wished, worth)

    def goal_hours(self, shot: Shot) -> float:
        """Hours of light for a shot's picture: to the signal to noise wished for, and no less than its kind takes."""
        return max(least_hours(shot.framing), self.hours(shot.pixels, shot.sub_s))

    def moon_colour(self, shot: Shot) -> float:
        """How strong moonlight is in a shot's light against all else that is noise in it."""
        collector = self.collector
        if collector is None:
            return 1.0
        return collector.moon_colour(shot.glow, self.conditions(shot.framing), shot.filter, shot.sub_s)

    def usual_moon_colour(self, *, of_lines: bool) -> float:
        """The same for a usual target behind the filter in use, at the zenith; 1 where the light is not known."""
        collector, site = self.collector, self.context.rig.site
        if collector is None or site is None or not collector.behind(self.filter).known:
            return 1.0
        sky = Conditions(None, 90.0, 1.0, site.sky_brightness, site.sky_brightness, 0.0, site.lamps, "")
        return collector.moon_colour(
            USUAL_LINES if of_lines else USUAL_EVEN, sky, self.filter, self.context.rig.guide.sub_s
        )

    def moon_cost(self, shot: Shot) -> float:
        """How many times the hours its night's moon costs a shot."""
        return photo.moon_cost(self.conditions(shot.framing).moon_mag, self.moon_colour(shot))

    def hours_span(self, shot: Shot) -> tuple[float, float]:
        """From how many hours to how many to the signal to noise wished for: its target may be brighter or fainter by the factor
        it is known to.
        """
        glow, factor = shot.glow, shot.glow.factor
        ends = (self.pixels(shot.framing, glow.times(item), shot.filter) for item in (factor, 1 / factor))
        low, high = (self.hours(pixels, shot.sub_s) for pixels in ends)
        return low, high

    def saturating_mag(
        self, framing: Framing, behind: Filter | None, pixels: tuple[Pixel, ...], sub_s: float
    ) -> float | None:  # fmt: skip
        """The star that just fills the well in one sub; None where that is not known, or the sky alone fills it."""
        if self.collector is None or self.well is None or not pixels:
            return None
        falls = max(pixel.background for pixel in pixels) * sub_s
        return photo.saturating_mag(
            self.well, falls, self.collector.star(0.0, self.conditions(framing), behind) * sub_s
        )

    @cached_property
    def lead(self) -> tuple[Framing, Glow] | None:
        """The target that the rig's figures are told for: the first that is exposed for."""
        return next(((framing, glow) for _, framing, glow in self.framings), None)

    # How long a sub may be.

    @cached_property
    def between_gusts_s(self) -> float | None:
        """Seconds between two gusts that shake the picture too much, on average; None where none does."""
        known = self.context.known
        if "gust_limit" not in known:
            return None
        mean, most = known.value("gust_mean"), known.value("gust_limit")
        if mean <= 0:
            return None
        off = (most - mean) / (TURBULENCE * mean)
        return exp(max(off, 0.0) ** 2 / 2) / PEAKS_PER_S if off < 8 else None

    def shared_limits(self) -> Iterator[SubLimit]:
        """What limits a sub whatever is looked at: guiding, and gusts."""
        known = self.context.known
        for name, key, words in (
            ("guided_limit", "guided", "guiding"), ("guiding.unguided_limit_s", "unguided", "unguided"),
        ):  # fmt: skip
            if self.context.rig.mount is not None and name in known:
                yield SubLimit(key, known.value(name), words)
                break
        if self.context.rig.mount is None and self.context.rig.stands_still and "optics.untracked_limit_s" in known:
            yield SubLimit("untracked", known.value("optics.untracked_limit_s"), "star trailing (fixed tripod)")
        between = self.between_gusts_s
        if between is not None:
            yield SubLimit("gusts", -log(1 - (GUSTS.warning or 0.1)) * between, "10% of subs lost to wind")

    def limits(self, framing: Framing, glow: Glow, behind: Filter | None) -> tuple[SubLimit, ...]:
        """Everything that limits a sub of a target, the tightest first."""
        shared_limits = list(self.shared_limits())
        collector, pixels, well = self.collector, self.pixels(framing, glow, behind), self.well
        if collector is not None and pixels and well is not None:
            sky, star = self.conditions(framing), self.context.preferences.star_magnitude
            falls = max(pixel.background for pixel in pixels)
            if falls > 0:
                shared_limits.append(
                    SubLimit(
                        "sky",
                        WELL * well / falls,
                        text("sky fills {share} of full well", share=Value(WELL, form="share")),
                    )
                )
            if star is not None and (rate := collector.star(star, sky, behind) + falls) > 0:
                shared_limits.append(
                    SubLimit("star", well / rate, text("mag {star} saturates", "mag_saturates", star=Value(star)))
                )
            if glow.has_core and (rate := collector.core(glow, sky, behind) + falls) > 0:
                shared_limits.append(SubLimit("core", well / rate, "target core saturates"))
        return tuple(sorted(shared_limits, key=lambda item: item.seconds))

    def longest_s(self, framing: Framing, glow: Glow, behind: Filter | None) -> float:
        """How long a sub of a target may be, s; infinite where nothing limits it. A bright core does not: short subs beside
        the long ones are for it.
        """
        return min((limit.seconds for limit in self.limits(framing, glow, behind) if limit.key != "core"), default=inf)

    def shortest_s(self, pixel: Pixel | None) -> float | None:
        """The shortest sub whose noise stays within the preferences' margin; None where nothing falls in or is known."""
        collector = self.collector
        if collector is None or pixel is None or pixel.background <= 0:
            return None
        return photo.shortest_sub_s(
            collector.read_noise_e, pixel.background, self.context.preferences.read_noise_margin
        )

    def resolved(self, block: Exposure) -> tuple[Filter | None, str]:
        """The filter of the rig that a block names; the words say where it has none of that name."""
        if block.filter is None:
            return None, ""
        carried = (entry for item in self.context.rig.path for entry in item.filters)
        match = next((entry for entry in carried if part_key(entry) == block.filter), None)
        return match, "" if match is not None else GONE


def recommended_s(shortest: float, longest: float, download: float, margin: float) -> float:
    """The sub worth planning, s: the next round length (or half minute) over the shortest, and over what makes the pause between two subs
    worth as little as read noise; never over the longest. Source: Dravel's own convention.
    """
    wanted = max(shortest, download / margin)
    nice = next((float(round_) for round_ in ROUND_S if round_ >= wanted * 0.999), ceil(wanted / 600) * 600.0)
    if nice <= longest:
        return nice
    if (between := ceil(wanted / 30) * 30.0) <= longest:
        return between
    return next((float(round_) for round_ in reversed(ROUND_S) if round_ <= longest), longest)
