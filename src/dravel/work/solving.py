"""A frame met with its rig: where its stars say it points, and how the rig stood as it was taken."""

from collections.abc import Iterator

import numpy as np

from dravel.catalogue.stars import stars
from dravel.core.engine.context import Context
from dravel.core.frames.reading import FrameReading
from dravel.core.sky.solve import Unsolved, solve

MOST_TRIED = 2
WIDEST_DEG = 40.0
BEYOND = 1.6  # of the field's diagonal: how far about the believed centre stars are taken from the list


def met(reading: FrameReading, context: Context) -> FrameReading:
    """The reading with its solution, or with the reason why there is none; and with the spacing its rig has now."""
    taken = reading.taken.model_copy(update={"spacing_mm": _spacing(context)})
    reading = reading.model_copy(update={"taken": taken})
    if reading.claims.scale_arcsec is not None:
        return reading
    scale = context.known.get("pixel_scale")
    if scale is None:
        return reading.model_copy(update={"unsolved": "the rig's pixel scale is not known"})
    field = float(np.hypot(reading.width, reading.height)) * scale / 3600
    if field > WIDEST_DEG:
        return reading.model_copy(update={"unsolved": f"a field of {field:.0f}° is too wide for a plane"})
    places = list(_believed(reading, context))
    if not places:
        return reading.model_copy(update={"unsolved": "neither its header nor the rig's targets say where it points"})
    x, y = (np.array([item[k] for item in reading.brightest]) for k in (0, 1))
    because = ""
    for ra, dec in places[:MOST_TRIED]:
        try:
            result = solve(x, y, reading.width, reading.height, scale, ra, dec, stars().listed(ra, dec, BEYOND * field))
            return reading.model_copy(update={"solution": result})
        except Unsolved as error:
            because = because or str(error)
    return reading.model_copy(update={"unsolved": because})


def _spacing(context: Context) -> float | None:
    now = context.known.get("actual")
    return round(now, 3) if now is not None and 1 <= now <= 1000 else None


def _believed(reading: FrameReading, context: Context) -> Iterator[tuple[float, float]]:
    """Where the frame may point, the likeliest first: as its mount believed, its target's frame, the rig's others."""
    claims = reading.claims
    if claims.near_ra_deg is not None and claims.near_dec_deg is not None:
        yield claims.near_ra_deg, claims.near_dec_deg
        return
    named, framings = claims.target.casefold(), context.rig.framings
    for framing in [item for item in framings if named and named in item.target.name.casefold()] or framings:
        yield framing.centre_ra_deg, framing.centre_dec_deg
