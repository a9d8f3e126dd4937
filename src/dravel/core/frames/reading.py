"""A frame read: its stars, its field, a small picture of it. What the rig was designed to give is held beside it elsewhere."""

from base64 import b64encode
from typing import Annotated

import numpy as np
from numpy.typing import NDArray

from dravel.core.frames.claims import FrameClaims
from dravel.core.frames.field import FieldShape, TooFewStars, Zone, shape_of, zones
from dravel.core.frames.solution import Solution
from dravel.core.frames.stars import HOT, NoStars, Sources, axes, find
from dravel.core.model.base import Model, Quantity

SHOWN_STARS, SOLVED_BY = 300, 120
FARTHEST = 1_000_000  # steps of a focuser
SMALL = 120  # px, the small picture's longer side
DARK, BRIGHT = 1.5, 12.0  # sigmas below and above the sky that it shows


class FrameStar(Model):
    """A star of the map: place as a share of width and height, FWHM in px, long over short, angle from the width axis, °."""

    x: float
    y: float
    fwhm_px: float
    elongation: float
    angle_deg: float


class TakenAt(Model):
    """How the rig stood when a frame was taken: the spacing from shoulder to sensor, and where the focuser stood, in its own steps."""

    spacing_mm: Annotated[float | None, Quantity("Spacing it was taken at", "mm", 1, 1000)] = None
    focus: Annotated[float | None, Quantity("Focuser position", "steps", -FARTHEST, FARTHEST)] = None


class FrameReading(Model):
    """What was measured on a frame. `field` is empty with the reason in `because` where there are too few stars for a map.

    `picture` is a small grey picture, `picture_width` × `picture_height` bytes in base64, the sky dark. `corner_adu`, `middle_adu`: the sky there.
    `brightest`: places of the brightest stars in px. `solution` is where they say the frame points, or `unsolved` why they do not.
    """

    name: str
    width: int
    height: int
    claims: FrameClaims
    found: int
    fitted: int
    saturated: int
    sky_adu: float
    noise_adu: float
    fwhm_px: float | None
    elongation: float | None
    angle_deg: float | None
    field: FieldShape | None
    zones: tuple[Zone, ...]
    stars: tuple[FrameStar, ...]
    because: str
    notes: tuple[str, ...]
    picture: str
    picture_width: int
    picture_height: int
    corner_adu: float | None = None
    middle_adu: float | None = None
    brightest: tuple[tuple[float, float], ...] = ()
    solution: Solution | None = None
    unsolved: str = ""
    taken: TakenAt = TakenAt()

    @property
    def scale_arcsec(self) -> float | None:
        """Pixel scale on the sky, ″: the header's own solution, else the one by its stars."""
        own = self.claims.scale_arcsec
        return own if own is not None else self.solution.scale_arcsec if self.solution else None

    @property
    def centre(self) -> tuple[float, float] | None:
        """Where the middle points, ICRS degrees, by the same; None where nothing tells."""
        if self.claims.scale_arcsec is None and self.solution is not None:
            return self.solution.centre_ra_deg, self.solution.centre_dec_deg
        ra, dec = self.claims.centre_ra_deg, self.claims.centre_dec_deg
        return None if ra is None or dec is None else (ra, dec)


def measure(
    name: str, data: NDArray[np.float32], green: "NDArray[np.bool_] | None", full: float, claims: FrameClaims,
    notes: tuple[str, ...] = (),
) -> FrameReading:  # fmt: skip
    """Measure a frame; the data are used up. Raises `NoStars` where there is nothing to measure."""
    height, width = data.shape
    small, (wide, tall), corners, middle = _small(data)
    sources = find(data, full, green)
    keep = np.isfinite(sources.shapes[:, 0, 0])
    if not keep.any():
        raise NoStars(f"{sources.found} sources, but none is a star whose shape is sure")
    field, because = None, ""
    try:
        field = shape_of(sources, width, height)
    except TooFewStars as error:
        because = str(error)
    long, short, angle = axes(np.median(sources.shapes[keep], axis=0)[None])
    stars = np.flatnonzero(sources.peak * HOT < sources.flux)[:SOLVED_BY]
    focus = claims.focus if claims.focus is not None and abs(claims.focus) <= FARTHEST else None
    return FrameReading(
        name=name, width=width, height=height, claims=claims, found=sources.found, fitted=int(keep.sum()),
        saturated=sources.saturated, sky_adu=round(sources.sky, 2), noise_adu=round(sources.noise, 3),
        fwhm_px=round(float(np.median(sources.fwhm[keep])), 3), elongation=round(float(long[0] / max(short[0], 1e-6)), 4),
        angle_deg=round(float(angle[0]), 1), field=field, zones=zones(sources, width, height),
        stars=_map(sources, keep, width, height), because=because, notes=notes, picture=small, picture_width=wide,
        picture_height=tall, corner_adu=round(corners, 2), middle_adu=round(middle, 2), taken=TakenAt(focus=focus),
        brightest=tuple((round(float(sources.x[i]), 2), round(float(sources.y[i]), 2)) for i in stars),
    )  # fmt: skip


def _map(sources: Sources, keep: "NDArray[np.bool_]", width: int, height: int) -> tuple[FrameStar, ...]:
    """Stars spread over the field: the best of each cell of a grid first, so that no corner is left out."""
    long, short, angle = axes(sources.shapes[keep])
    x, y = sources.x[keep] / width, sources.y[keep] / height
    cell = np.clip((x * 15).astype(int), 0, 14) + 15 * np.clip((y * 10).astype(int), 0, 9)
    rank = np.zeros(len(x), dtype=int)
    seen: dict[int, int] = {}
    for i, item in enumerate(cell):  # brightest first
        rank[i] = seen.get(int(item), 0)
        seen[int(item)] = rank[i] + 1
    chosen = np.argsort(rank, kind="stable")[:SHOWN_STARS]
    return tuple(
        FrameStar(
            x=round(float(x[i]), 4), y=round(float(y[i]), 4), fwhm_px=round(float(np.sqrt(long[i] * short[i])), 2),
            elongation=round(float(long[i] / max(short[i], 1e-6)), 3), angle_deg=round(float(angle[i]), 1),
        )
        for i in chosen
    )  # fmt: skip


def _small(data: NDArray[np.float32]) -> tuple[str, tuple[int, int], float, float]:
    """A small picture, each of its points the mean of a block, stretched about the sky; and the sky in corners and middle."""
    height, width = data.shape
    step = max(1, -(-max(height, width) // SMALL))
    tall, wide = height // step, width // step
    block = data[: tall * step, : wide * step].reshape(tall, step, wide, step).mean(axis=(1, 3))
    sky = float(np.median(block))
    spread = max(1.4826 * float(np.median(np.abs(block - sky))), 1e-6)
    grey = np.clip((block - sky + DARK * spread) / ((DARK + BRIGHT) * spread), 0, 1) ** 0.6
    side = max(2, min(tall, wide) // 10)
    corners = [block[a, b] for a in (slice(side), slice(-side, None)) for b in (slice(side), slice(-side, None))]
    y, x = (tall - side) // 2, (wide - side) // 2
    return (
        # Thirty-two greys: what is noise in the sky costs most of the bytes, and nobody sees it.
        b64encode((np.round(grey * 31) * 8).astype(np.uint8).tobytes()).decode(), (wide, tall),
        float(np.mean([np.median(corner) for corner in corners])), float(np.median(block[y : y + side, x : x + side])),
    )  # fmt: skip
