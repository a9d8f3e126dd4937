"""The stand-in camera in full: a frame of real stars as a rig would take it, with chosen faults, and the truth beside it."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from math import cos, pi, radians, sin

import numpy as np
from numpy.typing import NDArray

from dravel.core.frames.sweep import disc_share
from dravel.core.sky.projection import project
from dravel.core.sky.solve import Listed
from dravel.core.sky.star_counts import density, galactic_latitude
from dravel.stand_ins.instruments import stream

Floats = NDArray[np.float64]
BETA = 3.0  # of the stars' Moffat profile: seen through the air; common practice
HALF = 2 ** (1 / BETA) - 1
GAUSS = 0.2886751  # where two points stand in for a pixel's width
TRAIL = 2.3548  # sigma to FWHM
SIZES = (9, 15, 25, 41, 65)
SLAB = 512  # rows of noise at a time
LISTED_TO, MOST_FAINT = 10.0, 12_000  # magnitude to which the list is whole; fainter stars drawn at most


# What a fault can measure; those not named lie within a hundred thousand.
BOUNDS = {
    "fwhm_px": (0.5, 40), "radial_px": (-60, 60), "guide_px": (0, 30), "turn_px": (0, 200), "uneven": (0, 0.3),
    "uneven_seed": (0, 1_000_000), "dimmed": (0.0, 1.0), "hot_pixels": (0, 100_000), "focus_um": (-3000, 3000),
    "tilt_um": (0, 3000), "curved_um": (-3000, 3000),
}  # fmt: skip


@dataclass(frozen=True)
class PictureRig:
    """What a picture needs of a rig: sensor in pixels, ratio, and electrons: of a star of magnitude 0, sky and dark a second."""

    width: int
    height: int
    pixel_um: float
    ratio: float
    scale_arcsec: float
    star_e_s: float
    sky_e_s: float
    dark_e_s: float
    read_noise_e: float
    well_e: float
    gain_e_adu: float = 0.8
    offset_adu: float = 500.0
    mosaic: bool = False
    obstruction: float = 0.0
    corner_light: float = 1.0


@dataclass(frozen=True)
class Faults:
    """What is wrong. `tilt_um` from one edge of the sensor to the other along `tilt_deg` (from the width axis); `curved_um` and
    `radial_px` at the corner (radial above 0, around the centre below it); `guide_px` RMS along `guide_deg`; `turn_px` the trail of
    a turning field at the corner; `uneven` how much squared widths wander smoothly over the field, a share (RMS).
    """

    fwhm_px: float = 2.5
    focus_um: float = 0.0
    tilt_um: float = 0.0
    tilt_deg: float = 0.0
    curved_um: float = 0.0
    radial_px: float = 0.0
    guide_px: float = 0.0
    guide_deg: float = 0.0
    turn_px: float = 0.0
    uneven: float = 0.0
    uneven_seed: int = 0
    dimmed: float = 1.0
    hot_pixels: int = 0


class WrongFault(ValueError):
    """A fault that there is not, or a size it cannot have."""


def faults_told(told: Iterable[str], fwhm_px: float = 2.5) -> Faults:
    """Faults as written, `name=size`; stars of a width where that is none. Raises `WrongFault`, naming the one that is wrong."""
    sizes: dict[str, float | int] = {"fwhm_px": fwhm_px}
    for item in told:
        name, _, size = item.partition("=")
        if name not in Faults.__dataclass_fields__:
            raise WrongFault(f"there is no fault '{name}'; there are {', '.join(Faults.__dataclass_fields__)}")
        low, high = BOUNDS.get(name, (-1e5, 1e5))
        try:
            value = float(size)
        except ValueError:
            raise WrongFault(f"{name}: '{size}' is no number") from None
        if not low <= value <= high:
            raise WrongFault(f"{name} cannot be {size}; allowed {low:g} to {high:g}")
        sizes[name] = int(value) if name in ("hot_pixels", "uneven_seed") else value
    return Faults(**sizes)  # type: ignore[arg-type]


@dataclass(frozen=True)
class Stars:
    """Stars on the sensor: pixels from its middle, (n,), and magnitudes."""

    x: Floats
    y: Floats
    magnitude: Floats


@dataclass(frozen=True)
class Picture:
    """A frame in ADU, (height, width), unsigned 16 bit; and for each star the true FWHM² matrix, (n, 2, 2), px²."""

    adu: NDArray[np.uint16]
    shapes: Floats
    header: dict[str, str | float | int | bool] = field(default_factory=dict)


def random_stars(rig: PictureRig, count: int, seed: int, brightest: float = 5.0, faintest: float = 13.5) -> Stars:
    """Stars scattered at random, more of the faint ones (a factor of 2.5 a magnitude)."""
    rng = stream(seed, "stars")
    share = rng.uniform(0, 1, count)
    slope = np.log(2.5)
    span = np.exp(slope * (faintest - brightest)) - 1
    magnitude = brightest + np.log1p(share * span) / slope
    half = (rig.width / 2 - 3, rig.height / 2 - 3)
    return Stars(rng.uniform(-half[0], half[0], count), rng.uniform(-half[1], half[1], count), magnitude)


def real_stars(
    rig: PictureRig, listed: Listed, ra_deg: float, dec_deg: float, rotation_deg: float, seed: int, faintest: float = 14.5
) -> Stars:  # fmt: skip
    """The stars of a place on the sky: those of a list as they stand there, fainter ones at random by counts."""
    xi, eta = project(listed.ra_deg, listed.dec_deg, ra_deg, dec_deg)
    turn = np.exp(-1j * radians(rotation_deg)) * rig.scale_arcsec / 3600
    with np.errstate(invalid="ignore"):
        there = -((xi + 1j * eta) / turn).conj()  # east to the left, as the sky is seen
        inside = np.flatnonzero((np.abs(there.real) < rig.width / 2) & (np.abs(there.imag) < rig.height / 2))
    z, magnitude = there[inside], listed.magnitude[inside]
    last = float(magnitude.max()) if len(magnitude) else 8.0
    latitude = galactic_latitude(ra_deg, dec_deg)
    area = rig.width * rig.height * (rig.scale_arcsec / 3600) ** 2
    least, most = (density(m, latitude) * area for m in (max(last, LISTED_TO), faintest))
    rng = stream(seed, "faint")
    count = min(int(rng.poisson(max(most - least, 1.0))), MOST_FAINT)
    grades = np.linspace(max(last, LISTED_TO), faintest, 60)
    counts = np.array([density(float(m), latitude) for m in grades])
    faint = np.interp(rng.uniform(counts[0], counts[-1], count), counts, grades)
    half = (rig.width / 2 - 1, rig.height / 2 - 1)
    return Stars(
        np.concatenate([z.real, rng.uniform(-half[0], half[0], count)]),
        np.concatenate([z.imag, rng.uniform(-half[1], half[1], count)]), np.concatenate([magnitude, faint]),
    )  # fmt: skip


def true_shapes(rig: PictureRig, faults: Faults, x: Floats, y: Floats) -> Floats:
    """The FWHM² matrix of a star at each place, (n, 2, 2), px²: seeing, defocus, guiding, and what the optics do to the field.

    Terms add in quadrature (widths of independent blurs; exact for Gaussians, within 2 % for discs under seeing).
    """
    corner = np.hypot(rig.width, rig.height) / 2
    u, v = x / corner, y / corner
    r2 = u * u + v * v
    angle = radians(faults.tilt_deg)
    along = (x * cos(angle) + y * sin(angle)) / rig.width
    off = faults.focus_um + faults.tilt_um * along + faults.curved_um * r2
    disc = np.abs(off) / rig.ratio / rig.pixel_um
    even = faults.fwhm_px**2 + (disc_share(rig.obstruction) * disc) ** 2
    shapes = np.zeros((len(x), 2, 2))
    shapes[:, 0, 0] = shapes[:, 1, 1] = even
    shapes += (TRAIL * faults.guide_px) ** 2 * _along(np.full(len(x), radians(faults.guide_deg)))
    outwards = np.arctan2(v, u)
    if faults.radial_px:
        way = outwards if faults.radial_px > 0 else outwards + pi / 2
        shapes += ((faults.radial_px * r2) ** 2)[:, None, None] * _along(way)
    if faults.turn_px:
        trail = TRAIL**2 * (faults.turn_px * np.sqrt(r2)) ** 2 / 12
        shapes += trail[:, None, None] * _along(outwards + pi / 2)
    if faults.uneven:
        draw = stream(faults.uneven_seed, "uneven").standard_normal(8)
        waves = sum(
            draw[2 * k] * np.sin(f * u + draw[2 * k + 1]) + draw[2 * k + 1] * np.cos(f * v + draw[2 * k])
            for k, f in enumerate((2.0, 3.1, 4.3, 5.7))
        )
        waves = waves / max(float(np.std(waves)), 1e-9) if len(x) > 1 else waves * 0
        shapes *= (1 + faults.uneven * np.clip(waves, -3, 3))[:, None, None]
    return shapes


def _along(angle: Floats) -> Floats:
    """Matrices of a unit length along angles, (n, 2, 2)."""
    c, s = np.cos(angle), np.sin(angle)
    return np.stack([np.stack([c * c, c * s], -1), np.stack([c * s, s * s], -1)], -2)


def take(rig: PictureRig, stars: Stars, faults: Faults, exposure_s: float, seed: int) -> Picture:
    """A frame of some stars. The same seed gives the same noise."""
    shapes = true_shapes(rig, faults, stars.x, stars.y)
    level = (rig.sky_e_s + rig.dark_e_s) * exposure_s
    light = np.full((rig.height, rig.width), level, dtype=np.float32)
    electrons = rig.star_e_s * 10 ** (-0.4 * stars.magnitude) * exposure_s * faults.dimmed
    _put_stars(light, rig, stars, shapes, electrons, np.sqrt(level + rig.read_noise_e**2))
    if rig.corner_light < 1:
        _darken(light, rig.corner_light)
    if rig.mosaic:
        light[0::2, 0::2] *= 0.6  # red sees less of a star's light, blue less still; greens stand whole
        light[1::2, 1::2] *= 0.5
    adu = _exposed(light, rig, seed)
    if faults.hot_pixels:
        rng = stream(seed, "hot")
        at = rng.integers(0, rig.height, faults.hot_pixels), rng.integers(0, rig.width, faults.hot_pixels)
        adu[at] = np.minimum(adu[at].astype(np.int64) + rng.integers(2000, 30_000, faults.hot_pixels), 65_535)
    header: dict[str, str | float | int | bool] = {
        "SIMULATE": True, "EXPTIME": exposure_s, "XPIXSZ": rig.pixel_um, "YPIXSZ": rig.pixel_um, "EGAIN": rig.gain_e_adu, "PEDESTAL": rig.offset_adu,
        "FOCALLEN": round(206.265 * rig.pixel_um / rig.scale_arcsec, 2), "SIMSEED": seed,
        **{f"SIM{name.split('_')[0][:5].upper()}": value for name, value in vars(faults).items()},
    }  # fmt: skip
    if rig.mosaic:
        header["BAYERPAT"] = "RGGB"
    return Picture(adu, shapes, header)


def _darken(light: NDArray[np.float32], corner: float) -> None:
    """Less light towards the corners, by r²: a smooth falloff of the size the rig reckons with."""
    high, wide = light.shape
    y, x = (
        (np.arange(high) - high / 2) / np.hypot(wide, high) * 2,
        (np.arange(wide) - wide / 2) / np.hypot(wide, high) * 2,
    )
    x2 = (x * x).astype(np.float32)
    for start in range(0, high, SLAB):
        rows = light[start : start + SLAB]
        rows *= 1 - np.float32(1 - corner) * (x2[None, :] + (y[start : start + SLAB, None] ** 2).astype(np.float32))


def _put_stars(
    light: NDArray[np.float32], rig: PictureRig, stars: Stars, shapes: Floats, electrons: Floats, noise: float
) -> None:  # fmt: skip
    """Add the stars, those of one stamp size together; each stamp reaches to where it drowns in the noise."""
    inverse = 4 * HALF * np.linalg.inv(shapes)
    whole = np.sqrt(np.linalg.det(inverse)) * (BETA - 1) / pi  # of an integral of one
    wide = np.sqrt(np.trace(shapes, axis1=1, axis2=2) / 2)
    peak = electrons * whole
    reach = wide * np.sqrt(np.maximum((peak / (0.1 * noise)) ** (1 / BETA) - 1, 0.25)) / np.sqrt(4 * HALF)
    px, py = stars.x + rig.width / 2 - 0.5, stars.y + rig.height / 2 - 0.5
    column, line = np.rint(px).astype(int), np.rint(py).astype(int)
    for k, size in enumerate(SIZES):
        half = size // 2
        least = SIZES[k - 1] // 2 if k else 0
        mine = np.flatnonzero((reach > least) & ((reach <= half) | (size == SIZES[-1])))
        if not k:
            mine = np.flatnonzero(reach <= half)
        at = np.arange(-half, half + 1)
        for part in np.array_split(mine, max(1, len(mine) * size * size // 400_000)):
            if len(part) == 0:
                continue
            dx = at[None, None, :] - (px - column)[part][:, None, None]
            dy = at[None, :, None] - (py - line)[part][:, None, None]
            a, b, c = (inverse[part][:, i, j][:, None, None] for i, j in ((0, 0), (0, 1), (1, 1)))
            stamp = np.zeros((len(part), size, size))
            for gx in (-GAUSS, GAUSS):
                for gy in (-GAUSS, GAUSS):
                    ex, ey = dx + gx, dy + gy
                    stamp += (1 + a * ex * ex + 2 * b * ex * ey + c * ey * ey) ** -BETA
            stamp *= (peak[part] / 4)[:, None, None]
            for item, place in enumerate(part):
                top, left = line[place] - half, column[place] - half
                y0, x0 = max(top, 0), max(left, 0)
                y1, x1 = min(top + size, rig.height), min(left + size, rig.width)
                if y0 < y1 and x0 < x1:
                    light[y0:y1, x0:x1] += stamp[item, y0 - top : y1 - top, x0 - left : x1 - left]


def _exposed(light: NDArray[np.float32], rig: PictureRig, seed: int) -> NDArray[np.uint16]:
    """Electrons with their noise, read out."""
    rng = stream(seed, "noise")
    adu = np.empty(light.shape, dtype=np.uint16)
    for start in range(0, len(light), SLAB):
        rows = light[start : start + SLAB]
        noisy = np.sqrt(rows + np.float32(rig.read_noise_e**2))
        noisy *= rng.standard_normal(rows.shape, dtype=np.float32)
        noisy += rows
        np.minimum(noisy, np.float32(rig.well_e), out=noisy)
        noisy *= np.float32(1 / rig.gain_e_adu)
        noisy += np.float32(rig.offset_adu)
        adu[start : start + SLAB] = np.clip(np.rint(noisy, out=noisy), 0, 65_535)
    return adu
