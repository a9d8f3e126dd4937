"""What stands on the ground: tipping over the feet, and the wind."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from dravel.core.model import Mount, Rig, Support
from dravel.core.physics.statics import GRAVITY
from dravel.core.steps.mount.bodies import Carried

AIR = 1.225
DRAG = 1.2  # a cylinder across the wind. Source: handbook value (from memory), Hoerner, Fluid-Dynamic Drag
STEPS = 72


def pressure_pa(wind_m_s: float) -> float:
    """Velocity pressure of a wind, Pa: ½·ρ·v². Source: ASCE 7 in SI form, 0.613 v²."""
    return AIR / 2 * wind_m_s**2


def wind_force_n(wind_m_s: float, area_m2: float) -> float:
    """Force of a wind broadside on an area, N: q·C_d·A."""
    return pressure_pa(wind_m_s) * DRAG * area_m2


@dataclass(frozen=True)
class Tipping:
    """Restoring over overturning moment by direction of the arm (degrees from a foot), and both at the worst, kg·mm."""

    directions_deg: NDArray[np.float64]
    margins: NDArray[np.float64]
    spreader_kg: float
    restoring: float
    overturning: float

    @property
    def worst(self) -> float:
        """The smallest margin; infinite when nothing overturns."""
        return float(self.margins.min())

    @property
    def worst_deg(self) -> float:
        """The direction of the smallest margin, degrees from a foot."""
        return float(self.directions_deg[self.margins.argmin()])


def tipping(rig: Rig, carried: Carried, arm: float, wind_n: float = 0.0) -> Tipping | None:
    """Tipping over the edge between two feet, for every direction the load may hang out in; None without a support.

    The load hangs out by its arm, counterweights on the other side; everything else stands over the middle. The wind
    pushes at the height of the axes, the same way. Source: statics about each edge of the foot polygon.
    """
    support, mount = rig.support, rig.mount
    if support is None or mount is None:
        return None
    apothem = support.foot_radius_mm * np.cos(np.pi / support.feet)
    spread = sum(x.used("mass_g") or 0.0 for x in rig.extras if x.function == "spreader_weight") / 1000
    middle = ((support.used("mass_g") or 0.0) + (mount.used("mass_g") or 0.0)) / 1000 + spread
    masses = [(carried.mass, arm)]
    masses += [((hung.part.used("mass_g") or 0.0) / 1000, -hung.position_mm) for hung in rig.counterweights]
    height = axes_height(support, mount)
    directions = np.arange(0, 360, 360 / STEPS)
    edges = (np.arange(support.feet) + 0.5) * 360 / support.feet
    # Along the outward normal of each edge: how far the arm's direction leads towards it.
    lean = np.cos(np.radians(directions[:, None] - edges[None, :]))
    restoring = np.full(lean.shape, middle * apothem)
    overturning = np.maximum(lean, 0) * wind_n / GRAVITY * height
    for mass, out in masses:
        beyond = out * lean - apothem
        overturning = overturning + mass * np.maximum(beyond, 0)
        restoring = restoring + mass * np.maximum(-beyond, 0)
    with np.errstate(divide="ignore"):
        margins = np.where(overturning > 0, restoring / np.maximum(overturning, 1e-12), np.inf)
    worst = np.unravel_index(margins.argmin(), margins.shape)
    return Tipping(directions, margins.min(axis=1), spread, float(restoring[worst]), float(overturning[worst]))


def axes_height(support: Support, mount: Mount) -> float:
    """Where the axes cross above the ground, mm."""
    return support.height_mm + support.extension_mm + (mount.axis_height_mm or 0.0)
