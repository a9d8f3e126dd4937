"""Lines of equal star width over a sensor, from the smooth shape of its field. Places are shares of width and height."""

from math import ceil, floor, hypot

import numpy as np

from dravel.core.frames.field import FieldShape
from dravel.core.model.base import Model

ACROSS, DOWN = 36, 24  # cells
STEPS = (0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0)  # px between lines
MOST_LINES = 6
# Of a cell's corners above the level, by bits 1, 2, 4, 8 (upper left, upper right, lower right, lower left): sides the line joins.
SIDES: dict[int, tuple[tuple[int, int], ...]] = {
    1: ((3, 0),), 2: ((0, 1),), 3: ((3, 1),), 4: ((1, 2),), 5: ((3, 2), (0, 1)), 6: ((0, 2),), 7: ((3, 2),), 8: ((2, 3),),
    9: ((2, 0),), 10: ((3, 0), (1, 2)), 11: ((2, 1),), 12: ((1, 3),), 13: ((1, 0),), 14: ((0, 3),),
}  # fmt: skip


class WidthLine(Model):
    """A line along which stars are `fwhm_px` wide: pieces from (x, y) to (x, y), in no order."""

    fwhm_px: float
    pieces: tuple[tuple[float, float, float, float], ...]


def width_lines(field: FieldShape, width: int, height: int) -> tuple[WidthLine, ...]:
    """Lines of equal FWHM at round widths; none where it is the same all over. Source of the method: marching squares."""
    half = hypot(width, height) / 2
    x, y = np.linspace(0, 1, ACROSS + 1), np.linspace(0, 1, DOWN + 1)
    u, v = np.meshgrid((x - 0.5) * width / half, (y - 0.5) * height / half)
    shape = field.slope[0] * u + field.slope[1] * v + field.bowl * (u * u + v * v)
    shape += field.saddle[0] * (u * u - v * v) + field.saddle[1] * 2 * u * v
    wide = field.middle_fwhm * np.sqrt(np.maximum(1 + shape, 0.01))
    least, most = float(wide.min()), float(wide.max())
    step = next((item for item in STEPS if (most - least) / item <= MOST_LINES), STEPS[-1])
    levels = (
        [k * step for k in range(ceil(least / step), floor(most / step) + 1)] if most - least > 2 * STEPS[0] else []
    )
    return tuple(
        WidthLine(fwhm_px=round(level, 3), pieces=result) for level in levels if (result := _pieces(wide, level, x, y))
    )


def _pieces(
    wide: "np.ndarray", level: float, x: "np.ndarray", y: "np.ndarray"
) -> tuple[tuple[float, float, float, float], ...]:
    above = wide > level
    code = above[:-1, :-1] * 1 + above[:-1, 1:] * 2 + above[1:, 1:] * 4 + above[1:, :-1] * 8
    results = []
    for j, i in zip(*np.nonzero((code > 0) & (code < 15)), strict=True):
        corners = ((j, i), (j, i + 1), (j + 1, i + 1), (j + 1, i))

        def crossing(side: int, corners: tuple[tuple[int, int], ...] = corners) -> tuple[float, float]:
            (j0, i0), (j1, i1) = corners[side], corners[(side + 1) % 4]
            share = (level - wide[j0, i0]) / (wide[j1, i1] - wide[j0, i0])
            return round(float(x[i0] + share * (x[i1] - x[i0])), 4), round(float(y[j0] + share * (y[j1] - y[j0])), 4)

        results += [(*crossing(item), *crossing(two)) for item, two in SIDES[int(code[j, i])]]
    return tuple(results)
