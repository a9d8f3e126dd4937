"""A patch of sky as the Aim step draws it: footprints and outlines on the plane around a point."""

from math import atan2, degrees, hypot
from typing import Literal

from dravel.core.model import Framing, Preferences, Target
from dravel.core.model.base import Model
from dravel.core.model.sky import TargetSize
from dravel.core.model.words import Text, Value, Words, text
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
    outline_ends: tuple[Point, Point] | None
    size_words: Text
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
    preferences = Preferences(mosaic_overlap=framing.overlap)
    corners, centres = tile_corners(framing, field), tile_centres(framing, field)
    cx, cy = project(framing.centre_ra_deg, framing.centre_dec_deg, ra0_deg, dec0_deg)
    _, up = axes(framing.position_angle_deg)
    width, height = plane_size(field)
    step = 1 - framing.overlap
    whole = width * (1 + (framing.columns - 1) * step), height * (1 + (framing.rows - 1) * step)
    reach = whole[1] / 2 * 1.12
    fit = fit_target(framing.target, field, framing.position_angle_deg, preferences)
    return Footprint(
        framing=framing,
        tiles=tuple(_points(tile, ra0_deg, dec0_deg) for tile in corners),
        tile_centres=tuple((float(ra), float(dec)) for ra, dec in centres),
        centre=(float(cx), float(cy)),
        handle=(float(cx + up[0] * reach), float(cy + up[1] * reach)),
        outline=outline(framing.target, ra0_deg, dec0_deg),
        outline_ends=outline_ends(framing.target, ra0_deg, dec0_deg),
        size_words=size_words(framing.target),
        share_inside=share_inside(framing, field),
        span=fit.span if fit else None,
        tiles_needed=(fit.columns, fit.rows) if fit else None,
        width_deg=whole[0],
        height_deg=whole[1],
        turn_deg=turn_from_landscape(framing.position_angle_deg),
    )


YOURS = "own outline"
LEAST_ARCMIN, MOST_ARCMIN = 0.01, 3600.0


def outline_ends(target: Target, ra0_deg: float, dec0_deg: float) -> tuple[Point, Point] | None:
    """Where a target's outline ends along its major and its minor axis, on the plane around (ra0, dec0).

    None for the moon and planets, whose size is computed.
    """
    if target.body is not None:
        return None
    quarter = _points(target_outline(target, 4), ra0_deg, dec0_deg)
    return (quarter[0], quarter[1]) if len(quarter) == 4 else None


def reshaped(target: Target, end: Literal["major", "minor"], to: Point, ra0_deg: float, dec0_deg: float) -> Target:
    """The target with its outline drawn to a point of the plane: the major axis takes its length and direction from it.

    What the lists give is kept beside it.
    """
    centre = project(target.ra_deg, target.dec_deg, ra0_deg, dec0_deg)
    east, north = to[0] - float(centre[0]), to[1] - float(centre[1])
    length = min(max(hypot(east, north) * 120, LEAST_ARCMIN), MOST_ARCMIN)
    major, minor = target.major_arcmin or length, target.minor_arcmin or target.major_arcmin or length
    angle = target.position_angle_deg
    if end == "major":
        major, angle = length, round(degrees(atan2(east, north)) % 180, 1)
        minor = min(minor, major)
    else:
        minor = min(length, major)
    other_sizes = target.other_sizes
    if target.major_arcmin is not None and target.size_source != YOURS:
        source = target.size_source or "catalogue"
        other_sizes = (
            TargetSize(major_arcmin=target.major_arcmin, minor_arcmin=target.minor_arcmin, source=source),
            *other_sizes,
        )
    change = {"major_arcmin": round(major, 2), "minor_arcmin": round(minor, 2), "position_angle_deg": angle,
              "size_source": YOURS, "size_doubtful": False, "other_sizes": other_sizes[:8]}  # fmt: skip
    return Target.model_validate(target.model_dump() | change)


SIZE_FIELDS = ("major_arcmin", "minor_arcmin", "position_angle_deg", "size_source", "size_doubtful", "other_sizes")


def as_listed(target: Target, listed: Target) -> Target | None:
    """The target with the size that a list gives it now; None where it has that already, or the list has none."""
    if target.body is not None or listed.major_arcmin is None:
        return None
    sizes = {name: getattr(listed, name) for name in SIZE_FIELDS}
    same = all(getattr(target, name) == sizes[name] for name in ("major_arcmin", "minor_arcmin"))
    return None if same else target.model_copy(update=sizes)


def size_words(target: Target) -> Words:
    """A target's size with whose it is, whether it is uncertain, and what others give."""
    if target.body is not None or target.major_arcmin is None:
        return ""
    minor = text(" × {minor_arcmin}", minor_arcmin=Value(target.minor_arcmin, "′")) if target.minor_arcmin else ""
    source = f" ({target.size_source})" if target.size_source else ""
    sentence = text(
        "{major_arcmin}{minor}{source}", major_arcmin=Value(target.major_arcmin, "′"), minor=minor, source=source
    )
    if target.size_doubtful:
        sentence = text("uncertain: {told}", told=sentence)
    others = "; ".join(size.words for size in target.other_sizes[:3])
    return text("{told}; others give {others}", told=sentence, others=others) if others else sentence


def outline(target: Target, ra0_deg: float, dec0_deg: float, points: int = 48) -> tuple[Point, ...]:
    """A target's ellipse on the plane around (ra0, dec0)."""
    return _points(target_outline(target, points), ra0_deg, dec0_deg)


def _points(sky: Array, ra0_deg: float, dec0_deg: float) -> tuple[Point, ...]:
    x, y = project(sky[:, 0], sky[:, 1], ra0_deg, dec0_deg)
    return tuple((round(float(a), 5), round(float(b), 5)) for a, b in zip(x, y, strict=True) if a == a)
