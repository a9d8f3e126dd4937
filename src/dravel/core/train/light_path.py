"""What the light meets: the optical facts of a rig, gathered once for figures and rules."""

from dataclasses import dataclass
from functools import reduce
from itertools import pairwise

from dravel.core.model import Camera, Corrector, PathItem, Rig, Telescope, mates


@dataclass(frozen=True)
class LightPath:
    """The optical parts of a path, in order."""

    telescope: Telescope | None
    correctors: tuple[Corrector, ...]
    camera: Camera | None

    @classmethod
    def of(cls, rig: Rig) -> "LightPath":
        """Gather the optical parts of a rig."""
        parts = [item.part for item in rig.path]
        return cls(
            telescope=next((p for p in parts if isinstance(p, Telescope)), None),
            correctors=tuple(p for p in parts if isinstance(p, Corrector)),
            camera=next((p for p in parts if isinstance(p, Camera)), None),
        )

    @property
    def factor(self) -> float:
        """Product of the correctors' factors (measured where measured); 1 without any."""
        return reduce(lambda product, part: product * (part.used("factor") or 1.0), self.correctors, 1.0)

    @property
    def image_circle_mm(self) -> float | None:
        """Diameter of the good image at the sensor, mm; None when nothing names it.

        The last corrector's own figure counts; without one, the telescope's circle times the factor.
        """
        if self.correctors:
            own = self.correctors[-1].used("image_circle_mm")
            if own is not None:
                return own
        circle = self.telescope.used("image_circle_mm") if self.telescope else None
        return None if circle is None else circle * self.factor

    @property
    def flattens(self) -> bool:
        """Whether a corrector in the path is made to flatten this telescope's field."""
        return self.telescope is not None and any(suits(part, self.telescope) for part in self.correctors)


def suits(corrector: Corrector, telescope: Telescope) -> bool:
    """Whether a corrector is of the kind that the telescope's design asks for; a camera lens asks for none.

    Common practice.
    """
    if corrector.role == "extender" or telescope.design == "camera_lens":
        return False
    return (corrector.role == "coma_corrector") == (telescope.design == "newtonian")


def offered(corrector: Corrector, telescope: Telescope) -> bool:
    """Whether a corrector is worth offering for a telescope: one that suits it, or an extender; on a lens one that mates."""
    if telescope.design == "camera_lens":
        return corrector.role == "extender" and mates(telescope.sensor_side, corrector.sky_side)
    return corrector.role == "extender" or suits(corrector, telescope)


def back_focus_of(corrector: Corrector, focal_length_mm: float | None) -> float | None:
    """The distance a corrector asks for, mm: measured, else its table at the telescope's focal length, else a number.

    Between two rows of the table it runs straight; beyond its ends the nearest row counts. Common practice.
    """
    if corrector.reading("back_focus_mm") or not corrector.back_focus_table or focal_length_mm is None:
        return corrector.used("back_focus_mm")
    rows = [(row.focal_length_mm, row.back_focus_mm) for row in corrector.back_focus_table]
    if focal_length_mm <= rows[0][0]:
        return rows[0][1]
    for (low, at_low), (high, at_high) in pairwise(rows):
        if focal_length_mm <= high:
            return at_low + (at_high - at_low) * (focal_length_mm - low) / (high - low)
    return rows[-1][1]


def length_of(item: PathItem) -> float | None:
    """Optical length of an item as laid, mm: set length of a variable part, else measured, else the maker's.

    A camera's is its flange-to-sensor distance, with the front ring where it is fitted.
    """
    part = item.part
    if isinstance(part, Camera):
        flange = part.used("flange_to_sensor_mm")
        ring = part.front_ring
        return None if flange is None else flange + (ring.length_mm if ring and ring.fitted else 0.0)
    if item.set_length_mm is not None:
        return item.set_length_mm
    if isinstance(part, Corrector) and part.inside_drawtube:
        return 0.0
    return part.used("optical_length_mm")
