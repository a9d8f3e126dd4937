"""Hours to equal depth: rigs held against one another with their skies, filters, dyes, noise and subs."""

from collections.abc import Sequence

from dravel.core.engine.context import Context
from dravel.core.model.base import Model
from dravel.core.model.sky import TYPICAL_SKY
from dravel.core.physics import photometry as light
from dravel.core.train.throughput import H_ALPHA_NM, Dye, Throughput

NEBULA_R = 50.0  # rayleighs in the hydrogen line, of a faint nebula. Dravel's own
GALAXY_MAG = 23.0  # mag/arcsec², of a galaxy's arms. Dravel's own
PLAIN_QE, PLAIN_NOISE_E = 0.8, 3.0  # where a sensor gives none. Dravel's own


class ComparedDepth(Model):
    """Hours to equal depth for one kind of light, relative to the first rig that sees it; None where a rig does not."""

    title: str
    source: str
    values: tuple[float | None, ...]
    words: tuple[str, ...]


def depths(contexts: Sequence[Context]) -> tuple[ComparedDepth, ...]:
    """The rows of a comparison: a faint nebula in hydrogen and a galaxy's arms, per pixel and per area of sky.

    Depth is signal to noise; it grows with the root of the hours, so hours go with the inverse of what is gained a second.
    """
    rows = []
    for name, of_line in (("a faint nebula in hydrogen", True), ("a galaxy's arms", False)):
        gained = [_gained(context, of_line=of_line) for context in contexts]
        for per, which in (("per pixel", 0), ("per area of sky", 1)):
            own = [None if one is None else one[which] for one in gained]
            first = next((one for one in own if one), None)
            values = tuple(first / one if first and one else None for one in own)
            words = tuple(
                "—" if one is None else "sees none of it" if one == 0 else f"× {value:.2f}"
                for one, value in zip(own, values, strict=True)
            )
            rows.append(
                ComparedDepth(title=f"hours to equal depth, {name}, {per}", source=SOURCE, values=values, words=words)
            )
    return tuple(rows)


SOURCE = (
    "the CCD equation at the planned sub, at the rig's own site without a moon; brightnesses are Dravel's own, "
    "as are 80 % efficiency and 3 e⁻ of read noise where a sensor gives none; — where optics or passbands are not given"
)


def _gained(context: Context, *, of_line: bool) -> tuple[float, float] | None:
    """Signal to noise squared gained a second, per pixel and per square arcsecond; None where the optics are not known."""
    known, path = context.known, context.light
    if (
        path.telescope is None
        or path.camera is None
        or any(n not in known for n in ("aperture", "pixel_scale", "focal_ratio"))
    ):
        return None
    sensor = path.camera.sensor
    scale = known.value("pixel_scale")
    aperture = known.value("aperture")
    area = light.open_area_m2(aperture, path.telescope.blocked_share * aperture)
    through = Throughput.of(context.rig, path.telescope, path.camera, known.value("focal_ratio"))
    if through.filter is not None and not through.filter.passbands:
        return None  # what it lets through is not known: that is not nothing
    sky = context.rig.site.sky_brightness if context.rig.site else TYPICAL_SKY
    quantum = sensor.peak_efficiency or PLAIN_QE
    noise = min((mode.read_noise_e for mode in sensor.modes), default=PLAIN_NOISE_E)
    dark = (sensor.dark_e_per_s or 0.0) + noise**2 / context.rig.guide.sub_s

    def under(dye: Dye) -> float:
        passed = through.continuum_nm(dye)
        background = light.surface_rate(sky, area, passed, quantum, scale)
        if of_line:
            signal = light.line_rate(NEBULA_R, area, through.line(H_ALPHA_NM, dye), quantum, scale)
        else:
            signal = light.surface_rate(GALAXY_MAG, area, passed, quantum, scale)
        return signal**2 / (signal + background + dark) if signal else 0.0

    pixel = sum(dye.share * under(dye) for dye in through.dyes)
    return pixel, pixel / scale**2
