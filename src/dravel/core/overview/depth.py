"""Hours to equal depth: rigs held against one another with their skies, filters, dyes, noise and subs."""

from collections.abc import Sequence
from dataclasses import dataclass

from dravel.core.engine.context import Context
from dravel.core.model.base import Model
from dravel.core.model.sky import TYPICAL_SKY
from dravel.core.model.words import Text, Value, text
from dravel.core.physics import photometry as light
from dravel.core.physics.photometry import H_ALPHA_NM
from dravel.core.sky.glow import Glow
from dravel.core.steps.exposure.facts import Exposing
from dravel.core.steps.exposure.light import Collector, Conditions, Pixel
from dravel.core.train.throughput import Throughput

NEBULA_R = 50.0  # rayleighs in the hydrogen line, of a faint nebula. Dravel's own
GALAXY_MAG = 23.0  # mag/arcsec², of a galaxy's arms. Dravel's own
NEBULA = Glow(((H_ALPHA_NM, "Hα", NEBULA_R),), None, None, "default threshold")
GALAXY = Glow((), GALAXY_MAG, None, "default threshold")
PLAIN_QE, PLAIN_NOISE_E = 0.8, 3.0  # where a sensor gives none. Dravel's own


class ComparedDepth(Model):
    """Hours to equal depth for one kind of light, relative to the first rig that sees it; None where a rig does not."""

    title: Text
    source: str
    values: tuple[float | None, ...]
    words: tuple[Text, ...]


def depths(contexts: Sequence[Context]) -> tuple[ComparedDepth, ...]:
    """The rows of a comparison: a faint nebula in hydrogen and a galaxy's arms, per pixel and per area of sky.

    Depth is signal to noise; it grows with the root of the hours, so hours go with the inverse of what is gained a second.
    """
    rows = []
    for name, of_line in (("faint Hα nebula", True), ("galaxy arms", False)):
        gained = [_gained(context, of_line=of_line) for context in contexts]
        for per, which in (("per pixel", 0), ("per area of sky", 1)):
            own = [None if item is None else item[which] for item in gained]
            first = next((item for item in own if item), None)
            values = tuple(first / item if first and item else None for item in own)
            words = tuple(
                "—" if item is None else "no signal" if item == 0 else Value(value, "×", form="about")
                for item, value in zip(own, values, strict=True)
            )
            rows.append(
                ComparedDepth(
                    title=text("relative integration time, {name}, {per}", name=name, per=per),
                    source=SOURCE,
                    values=values,
                    words=words,
                )
            )
    return tuple(rows)


SOURCE = "CCD equation at the planned sub, at the rig's own site without moonlight; brightnesses, and 80% QE and 3 e⁻ where not specified, are estimates; — where optics or passbands are not specified"


@dataclass(frozen=True)
class Yield:
    """What a rig gathers of a kind of light: its pixels by dye, read noise of each in e⁻, scale in ″/px, open area in m²."""

    pixels: tuple[Pixel, ...]
    read_noise_e: float
    scale: float
    area_m2: float
    quantum: float

    def worth(self, sub_s: float) -> float:
        """Signal to noise squared gained a second and pixel."""
        return sum(pixel.share * pixel.worth(self.read_noise_e, sub_s) for pixel in self.pixels)

    def per_sky(self, sub_s: float) -> float:
        """Signal to noise squared gained a second and square arcsecond of sky."""
        return self.worth(sub_s) / self.scale**2


def yield_of(context: Context, *, of_line: bool) -> Yield | None:
    """What a rig gathers of a faint nebula or of a galaxy's arms; None where optics or passbands are not known."""
    known, path, rig = context.known, context.light, context.rig
    if (
        path.telescope is None
        or path.camera is None
        or any(n not in known for n in ("aperture", "pixel_scale", "focal_ratio"))
    ):
        return None
    own, sensor = context.of(Exposing), path.camera.sensor
    aperture = known.value("aperture")
    collector = Collector(
        through=Throughput.of(rig, path.telescope, path.camera, known.value("focal_ratio")),
        area_m2=light.open_area_m2(aperture, path.telescope.blocked_share * aperture),
        scale=known.value("pixel_scale"),
        quantum=sensor.peak_efficiency or PLAIN_QE,
        dark=own.dark or 0.0,
        read_noise_e=(own.mode.read_noise_e if own.mode else PLAIN_NOISE_E) * rig.binning,
        star_px=None,
        binning=rig.binning,
    )
    if not collector.through.known:
        return None  # what its filter lets through is not known: that is not nothing
    glow = NEBULA if of_line else GALAXY
    sky = rig.site.sky_brightness if rig.site else TYPICAL_SKY
    # Above the air, at the zenith: the same for all.
    overhead = Conditions(None, 90.0, 0.0, sky, sky, 0.0, rig.site.lamps if rig.site else None, "")
    pixels = collector.pixels(glow, overhead, own.filter)
    return Yield(pixels, collector.read_noise_e, collector.scale, collector.area_m2, collector.quantum)


def _gained(context: Context, *, of_line: bool) -> tuple[float, float] | None:
    """Signal to noise squared gained a second, per pixel and per square arcsecond; None where the optics are not known."""
    result, sub = yield_of(context, of_line=of_line), context.rig.guide.sub_s
    return None if result is None else (result.worth(sub), result.per_sky(sub))
