"""Framing: how a target lies in the field, in one frame or in a mosaic.

The position angle of a frame is that of the sensor's long side, from north through east. Plane coordinates are
those of `projection`: degrees, x east, y north.
"""

from dataclasses import dataclass
from functools import lru_cache
from math import ceil, cos, degrees, hypot, radians, sin, tan

import numpy as np

from dravel.core.model import Framing, Preferences, Target, Verdict
from dravel.core.model.cancellation import check_cancelled
from dravel.core.model.words import Value, Words, text
from dravel.core.sky.projection import Array, deproject, project

CRAMPED = 0.85  # of the field: beyond it a target has hardly any sky around it. Dravel's own convention
WELL_FILLED = 0.6  # Dravel's own convention

# The least share of the field worth having, as a part of the preferences' own, and the share from which a target fills the
# field well, by what a rig is for. A galaxy may be small in its frame; a nebula wants most of it. Dravel's own convention.
LEAST = {"nebula": 1.0, "cluster": 0.8, "galaxy": 0.5, "wide_field": 0.0, "planetary": 0.0, "untracked": 0.0}
WELL = {"nebula": 0.4, "cluster": 0.3, "galaxy": 0.2, "wide_field": 0.25, "planetary": 0.25, "untracked": 0.25}
PLAIN_WELL = 0.33


def least_share(purposes: tuple[str, ...], preferences: Preferences) -> float:
    """The least share of the field worth having for a rig of these purposes; the preferences' own without any."""
    return preferences.small_target_share * min((LEAST[purpose] for purpose in purposes), default=1.0)


def well_share(purposes: tuple[str, ...]) -> float:
    """From which share of the field on a target fills it well, for a rig of these purposes."""
    return min((WELL[purpose] for purpose in purposes), default=PLAIN_WELL)


@dataclass(frozen=True)
class Fit:
    """How a target fits a field: `span` 1 fills it from edge to edge; `columns` × `rows` tiles take it all."""

    span: float
    columns: int
    rows: int
    verdict: Verdict
    words: Words

    @property
    def tiles(self) -> int:
        """How many tiles the whole target needs."""
        return self.columns * self.rows

    @property
    def off_full(self) -> float:
        """How far it is from filling the field well, with some sky left around it."""
        return abs(self.span - WELL_FILLED)


def extent_deg(target: Target, position_angle_deg: float) -> tuple[float, float] | None:
    """Width and height of the target's outline along a frame's sides, degrees; None when its size is unknown.

    Source: bounding box of a turned ellipse.
    """
    if target.major_arcmin is None:
        return None
    major, minor = target.major_arcmin / 60, (target.minor_arcmin or target.major_arcmin) / 60
    turn = radians(target.position_angle_deg - position_angle_deg)
    return hypot(major * cos(turn), minor * sin(turn)), hypot(major * sin(turn), minor * cos(turn))


def tiles_needed(extent: float, field: float, overlap: float) -> int:
    """How many frames of `field` with a share `overlap` in common cover `extent` (same unit)."""
    if extent <= field:
        return 1
    return 1 + ceil((extent - field) / (field * (1 - overlap)) - 1e-9)


def fit_target(
    target: Target,
    field: tuple[float, float],
    position_angle_deg: float,
    preferences: Preferences,
    *,
    least: float | None = None,
) -> Fit | None:
    """Judge a target against a field (width, height in degrees); None when the target's size is unknown.

    `least` is the smallest share of the field worth having, the preferences' own when not given (`least_share`). Words of
    a target of uncertain size begin with ≈.
    """
    extent = extent_deg(target, position_angle_deg)
    if extent is None:
        return None
    columns, rows = (tiles_needed(e, f, preferences.mosaic_overlap) for e, f in zip(extent, field, strict=True))
    span = max(extent[0] / field[0], extent[1] / field[1])
    tiles = columns * rows
    about = "≈ " if target.size_doubtful else ""
    if tiles > preferences.mosaic_max_tiles:
        return Fit(span, columns, rows, "problem", text("{about}{tiles} tiles", about=about, tiles=tiles))
    if tiles > 1:
        return Fit(span, columns, rows, "warning", text("{about}{tiles} tiles", about=about, tiles=tiles))
    small = span < (preferences.small_target_share if least is None else least)
    return Fit(
        span, 1, 1, "warning" if small else "ok", text("{about}{span}", about=about, span=Value(span, form="share"))
    )


def best_fit(
    target: Target, field: tuple[float, float], preferences: Preferences, *, least: float | None = None
) -> Fit | None:
    """How a target fits a field upright or across, whichever is better: fewest tiles, then nearest to a well filled one."""
    ways = (fit_target(target, field, angle, preferences, least=least) for angle in (90.0, 0.0))
    return min(
        (fit for fit in ways if fit is not None),
        key=lambda fit: (fit.tiles, fit.verdict != "ok", fit.off_full),
        default=None,
    )


def plane_size(field: tuple[float, float]) -> tuple[float, float]:
    """Field angles (width, height in degrees) as lengths on the tangent plane: 2·tan(w/2)."""
    return degrees(2 * tan(radians(field[0]) / 2)), degrees(2 * tan(radians(field[1]) / 2))


def axes(position_angle_deg: float) -> tuple[Array, Array]:
    """Unit vectors (east, north) of the frame's rightward and upward directions as seen on the sky."""
    turn = radians(position_angle_deg)
    return np.array([-sin(turn), -cos(turn)]), np.array([-cos(turn), sin(turn)])


def tile_centres(framing: Framing, field: tuple[float, float]) -> Array:
    """Centres of all tiles, row by row from the top left, shape (rows·columns, 2): RA and declination in degrees."""
    right, up = axes(framing.position_angle_deg)
    width, height = plane_size(field)
    step = 1 - framing.overlap
    offsets = [
        right * (i - (framing.columns - 1) / 2) * width * step + up * ((framing.rows - 1) / 2 - j) * height * step
        for j in range(framing.rows)
        for i in range(framing.columns)
    ]
    plane = np.array(offsets)
    ra, dec = deproject(plane[:, 0], plane[:, 1], framing.centre_ra_deg, framing.centre_dec_deg)
    return np.column_stack([ra, dec])


def tile_corners(framing: Framing, field: tuple[float, float]) -> Array:
    """Corners of every tile, shape (tiles, 4, 2): RA and declination, from the top left clockwise as seen."""
    right, up = axes(framing.position_angle_deg)
    width, height = plane_size(field)
    plane = np.array([right * sx * width / 2 + up * sy * height / 2 for sx, sy in ((-1, 1), (1, 1), (1, -1), (-1, -1))])
    corners = []
    for ra0, dec0 in tile_centres(framing, field):
        ra, dec = deproject(plane[:, 0], plane[:, 1], float(ra0), float(dec0))
        corners.append(np.column_stack([ra, dec]))
    return np.array(corners)


def target_outline(target: Target, points: int = 72) -> Array:
    """The target's ellipse as (points, 2) RA and declination; a point of 0.3′ when its size is unknown."""
    angle = np.linspace(0, 2 * np.pi, points, endpoint=False)
    return _on_sky(target, np.cos(angle), np.sin(angle))


@lru_cache(maxsize=512)
def share_inside(framing: Framing, field: tuple[float, float], samples: int = 600) -> float:
    """Share of the target's outline area that lies in at least one tile, 0 to 1, by even sampling."""
    check_cancelled()
    order = np.arange(samples) + 0.5
    radius, angle = np.sqrt(order / samples), order * np.pi * (3 - np.sqrt(5))
    sky = _on_sky(framing.target, radius * np.cos(angle), radius * np.sin(angle))
    right, up = axes(framing.position_angle_deg)
    width, height = plane_size(field)
    # Only tiles near the target can hold any of it; one radius more allows for the plane's stretch.
    tiles = tile_centres(framing, field)
    reach = degrees(hypot(radians(width), radians(height)) / 2) + (framing.target.major_arcmin or 0.6) / 60
    tiles = tiles[_apart_deg(tiles, framing.target) <= reach * 1.5][:, :, np.newaxis]
    if len(tiles) == 0:
        return 0.0
    x, y = project(sky[:, 0], sky[:, 1], tiles[:, 0], tiles[:, 1])
    across, along = x * right[0] + y * right[1], x * up[0] + y * up[1]
    inside = ((np.abs(across) <= width / 2) & (np.abs(along) <= height / 2)).any(axis=0)
    return float(inside.mean())


def _apart_deg(places: Array, target: Target) -> Array:
    """How far places (RA, declination in degrees) are from a target, degrees."""
    dec, dec0 = np.radians(places[:, 1]), radians(target.dec_deg)
    cosine = np.sin(dec) * sin(dec0) + np.cos(dec) * cos(dec0) * np.cos(np.radians(places[:, 0] - target.ra_deg))
    return np.degrees(np.arccos(np.clip(cosine, -1, 1)))


def _on_sky(target: Target, along: Array, across: Array) -> Array:
    """Points of the target's ellipse, given along its major and minor axis in semi-axes."""
    major = (target.major_arcmin or 0.6) / 120
    minor = (target.minor_arcmin or target.major_arcmin or 0.6) / 120
    turn = np.radians(target.position_angle_deg)
    x = major * along * np.sin(turn) + minor * across * np.cos(turn)
    y = major * along * np.cos(turn) - minor * across * np.sin(turn)
    ra, dec = deproject(x, y, target.ra_deg, target.dec_deg)
    return np.column_stack([ra, dec])


def first_turn(target: Target, field: tuple[float, float] | None, preferences: Preferences) -> float:
    """The position angle a framing starts with: landscape, unless another needs fewer tiles or leaves it less cramped.

    Along the target's own axis only where that saves tiles: every other angle asks the train for a part that turns.
    """
    if field is None:
        return 90.0
    fits = {pa: fit_target(target, field, pa, preferences) for pa in (90.0, 0.0, target.position_angle_deg % 180)}
    known = {pa: fit for pa, fit in fits.items() if fit is not None}
    if not known:
        return 90.0
    best = min(known, key=lambda pa: known[pa].tiles)
    if known[best].tiles < known[90.0].tiles:
        return best
    cramped = known[90.0].tiles == 1 and known[90.0].span > CRAMPED
    return 0.0 if cramped and known[0.0].tiles == 1 and known[0.0].span < known[90.0].span - 0.1 else 90.0


def centred(target: Target, field: tuple[float, float] | None, preferences: Preferences) -> Framing:
    """The framing a target starts with: centred, at the better turn."""
    return Framing(
        target=target,
        centre_ra_deg=target.ra_deg,
        centre_dec_deg=target.dec_deg,
        position_angle_deg=first_turn(target, field, preferences),
        overlap=preferences.mosaic_overlap,
    )


def turn_from_landscape(position_angle_deg: float) -> float:
    """How far to turn the camera from landscape, degrees in (−90, 90], counter-clockwise on the sky positive."""
    return 90 - (180 - position_angle_deg) % 180
