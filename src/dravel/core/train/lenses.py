"""Correctors at work: each with its own place, the factor it has at its spacing, and the image it takes over.

Traced from the sensor forwards, each corrector as a thin lens at its rear shoulder. Source: thin-lens equation.
"""

from dataclasses import dataclass
from math import prod

from dravel.core.model import Corrector
from dravel.core.model.words import Value, Words, text
from dravel.core.train.layout import Laid, Train, plate_shift, plates
from dravel.core.train.light_path import back_focus_of
from dravel.core.train.reach import factor_at, implied_spacing


@dataclass(frozen=True)
class Lens:
    """One corrector. `behind` is how far behind it its image falls, `native` how far the one it takes over; mm.

    `given` is the factor it is known to have at the spacing `given_at`; `origin` says by whom.
    """

    index: int
    name: str
    place: float
    given: float
    given_at: float
    origin: Words
    behind: float
    factor: float

    @property
    def native(self) -> float:
        """Where the image that it takes over would lie behind it, mm: d / m(d)."""
        return self.behind / self.factor

    @property
    def told(self) -> bool:
        """Whether the spacing is near enough to the given one for its factor to be told by the thin lens."""
        return 0 < self.behind <= 2 * self.given_at


def lenses(train: Train) -> tuple[Lens, ...] | None:
    """The correctors of a train that is in focus, sky side first; None where light cannot come to the sensor so."""
    first = next((i for i, entry in enumerate(train.laid) if isinstance(entry.part, Corrector)), 0)
    if train.camera is None or any(entry.length is None for entry in train.laid[first + 1 :]):
        return None
    telescope = train.light.telescope
    native = telescope.used("focal_length_mm") if telescope else None
    chain: list[Lens] = []
    image: float = train.camera.end
    last: int | None = None
    for entry in reversed(train.laid):
        if not isinstance(entry.part, Corrector):
            continue
        behind = image - entry.end - glass_between(train, entry.index, last)
        if behind <= 0:
            return None
        given, given_at, origin = _given(entry.part, native, behind)
        factor = factor_at(behind, given, given_at)
        if factor <= 0:
            return None
        chain.append(Lens(entry.index, entry.part.name, entry.end, given, given_at, origin, behind, factor))
        image, last = entry.end + chain[-1].native, entry.index
    return tuple(reversed(chain))


def glass_between(train: Train, after: int, before: int | None) -> float:
    """Focus shift of the plates between two places of the path, mm; to its end when `before` is None."""

    def inside(entry: Laid) -> bool:
        return entry.index > after and (before is None or entry.index < before)

    return sum(plate_shift(plate) for entry in train.laid if inside(entry) for plate in plates(entry))


def factor_of(found: tuple[Lens, ...]) -> float:
    """The factor of several correctors together, at their spacings: the product of their own."""
    return prod(lens.factor for lens in found)


def words_by_factor(lens: Lens, real: float) -> Words:
    """What a factor measured on the sky says of a corrector's spacing, and which way its given factor lies. Source: thin-lens equation."""
    way = "smaller" if lens.given < 1 else "larger"
    sentence = text(
        "The factor is {way} with a longer train: ×{factor} at {behind}",
        way=way,
        factor=Value(lens.factor, digits=3),
        behind=Value(lens.behind, "mm", 1),
    )
    implied = implied_spacing(real, lens.given, lens.given_at)
    if implied <= 0:
        return text(
            "{told}; measured ×{real} is impossible at any spacing: check the specified factor or focal length.",
            told=sentence,
            real=Value(real, digits=3),
        )
    sentence += text(
        "; measured ×{real} corresponds to {implied} of back focus",
        real=Value(real, digits=3),
        implied=Value(implied, "mm", 1),
    )
    off = implied - lens.given_at
    if abs(off) < 0.1:
        return text("{told}.", told=sentence)
    return text(
        "{told}: for ×{given} move the sensor {off} {which}.",
        told=sentence,
        given=Value(lens.given),
        off=Value(abs(off), "mm", 1),
        which="nearer" if off > 0 else "back",
    )


def _given(corrector: Corrector, native: float | None, behind: float) -> tuple[float, float, Words]:
    """The factor of a corrector, the spacing it holds at, and who says so.

    A factor read from a solved frame holds at the spacing it was read at; where that was not kept, at the present one.
    """
    factor = corrector.used("factor") or 1.0
    reading = corrector.reading("factor")
    if reading is not None:
        at = reading.at_mm
        return (
            factor,
            at or behind,
            text("{corrector}, measured{which}", corrector=corrector.name, which="" if at else ", at this spacing"),
        )
    asked = back_focus_of(corrector, native)
    return factor, asked or behind, f"{corrector.name}{'' if asked else ', back focus not specified'}"
