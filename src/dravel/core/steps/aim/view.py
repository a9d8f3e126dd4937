"""A patch of sky as the Aim step draws it: footprints and outlines on the plane around a point."""

from dravel.core.model import Framing, Practice, Target
from dravel.core.model.base import Model
from dravel.core.sky.framing import (
    axes,
    fit_target,
    plane_size,
    share_inside,
    target_outline,
    tile_centres,
    tile_corners,
    turn_from_landscape,
)
from dravel.core.sky.projection import Array, deproject, project

Point = tuple[float, float]


class Footprint(Model):
    """A framing on the plane, in degrees (x east, y north), and what it takes in."""

    framing: Framing
    tiles: tuple[tuple[Point, ...], ...]
    tile_centres: tuple[Point, ...]
    centre: Point
    handle: Point
    outline: tuple[Point, ...]
    share_inside: float
    span: float | None
    tiles_needed: tuple[int, int] | None
    width_deg: float
    height_deg: float
    turn_deg: float


def moved(framing: Framing, x_deg: float, y_deg: float, ra0_deg: float, dec0_deg: float) -> Framing:
    """The framing with its centre at a point of the plane around (ra0, dec0)."""
    ra, dec = deproject(x_deg, y_deg, ra0_deg, dec0_deg)
    return framing.model_copy(update={"centre_ra_deg": float(ra), "centre_dec_deg": float(dec)})


def see(framing: Framing, field: tuple[float, float], ra0_deg: float, dec0_deg: float) -> Footprint:
    """Draw a framing of a field (width, height in degrees) on the plane around (ra0, dec0)."""
    practice = Practice(mosaic_overlap=framing.overlap)
    corners, centres = tile_corners(framing, field), tile_centres(framing, field)
    cx, cy = project(framing.centre_ra_deg, framing.centre_dec_deg, ra0_deg, dec0_deg)
    _, up = axes(framing.position_angle_deg)
    width, height = plane_size(field)
    step = 1 - framing.overlap
    whole = width * (1 + (framing.columns - 1) * step), height * (1 + (framing.rows - 1) * step)
    reach = whole[1] / 2 * 1.12
    fit = fit_target(framing.target, field, framing.position_angle_deg, practice)
    return Footprint(
        framing=framing,
        tiles=tuple(_points(tile, ra0_deg, dec0_deg) for tile in corners),
        tile_centres=tuple((float(ra), float(dec)) for ra, dec in centres),
        centre=(float(cx), float(cy)),
        handle=(float(cx + up[0] * reach), float(cy + up[1] * reach)),
        outline=outline(framing.target, ra0_deg, dec0_deg),
        share_inside=share_inside(framing, field),
        span=fit.span if fit else None,
        tiles_needed=(fit.columns, fit.rows) if fit else None,
        width_deg=whole[0],
        height_deg=whole[1],
        turn_deg=turn_from_landscape(framing.position_angle_deg),
    )


def outline(target: Target, ra0_deg: float, dec0_deg: float, points: int = 48) -> tuple[Point, ...]:
    """A target's ellipse on the plane around (ra0, dec0)."""
    return _points(target_outline(target, points), ra0_deg, dec0_deg)


def _points(sky: Array, ra0_deg: float, dec0_deg: float) -> tuple[Point, ...]:
    x, y = project(sky[:, 0], sky[:, 1], ra0_deg, dec0_deg)
    return tuple((round(float(a), 5), round(float(b), 5)) for a, b in zip(x, y, strict=True) if a == a)
