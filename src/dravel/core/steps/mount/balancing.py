"""Balance about both axes: moments, saddle slide, counterweights on the shaft, moment of inertia. Source: statics."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from dravel.core.model import Counterweight, Hung, Mount, Rig, Shaft
from dravel.core.physics.statics import newton_metres
from dravel.core.steps.mount.bodies import Carried

MOST_WEIGHTS = 8
PLAIN_ARM_MM = 200.0  # what a rating assumes where the maker names no arm. Common practice.
# Saddle above the right-ascension axis where the maker does not say, and how far it may be off. Dravel's own.
PLAIN_SADDLE_MM = {"german_equatorial": 95.0, "strain_wave": 80.0, "tracker": 60.0, "alt_azimuth": 80.0}
SADDLE_OFF_MM = 45.0
EAST_SHARE = 0.01  # of the load's moment, for geared mounts. Common practice: slightly east-heavy.


def saddle_height_mm(mount: Mount) -> float:
    """The saddle above the right-ascension axis, mm: as given, else as usual for the style."""
    own = mount.used("saddle_height_mm")
    return PLAIN_SADDLE_MM[mount.style] if own is None else own


def arm_mm(mount: Mount, carried: Carried) -> float:
    """How far the load's centre of gravity lies from the right-ascension axis, mm."""
    return saddle_height_mm(mount) + float(carried.centre[2])


def rated_nm(mount: Mount) -> float:
    """The moment a mount is rated for, N·m: its payload at the arm that the maker names, or a plain one."""
    return newton_metres(mount.payload_kg * (mount.rated_arm_mm or PLAIN_ARM_MM))


def load_moment(mount: Mount, carried: Carried) -> float:
    """Moment of the load about the right-ascension axis, kg·mm: M·D."""
    return carried.mass * arm_mm(mount, carried)


def shaft_of(rig: Rig) -> Shaft | None:
    """The shaft with its extensions screwed on."""
    shaft = rig.mount.shaft if rig.mount else None
    if shaft is None:
        return None
    more = [extra for extra in rig.extras if extra.function == "shaft_extension"]
    length = sum(extra.length_mm or 0.0 for extra in more)
    mass = sum(extra.used("mass_g") or 0.0 for extra in more)
    return shaft.model_copy(update={"end_mm": shaft.end_mm + length, "mass_g": shaft.mass_g + mass}) if more else shaft


def shaft_moment(shaft: Shaft | None) -> float:
    """Moment of the bare shaft, kg·mm, as an even bar from start to end."""
    return shaft.mass_g / 1000 * (shaft.start_mm + shaft.end_mm) / 2 if shaft else 0.0


def hung_moment(hung: Sequence[Hung]) -> float:
    """Moment of the counterweights, kg·mm: Σ w·x."""
    return sum((item.part.used("mass_g") or 0.0) / 1000 * item.position_mm for item in hung)


def east_heavy(mount: Mount, school: str) -> float:
    """How much of the load's moment is left out of balance on purpose: geared drives only."""
    return EAST_SHARE if school == "east_heavy" and mount.drive == "worm" else 0.0


def wanted_moment(rig: Rig, carried: Carried, school: str) -> float:
    """What the counterweights themselves must give, kg·mm: M·D less the shaft's, less what is left east-heavy.

    Nothing without a mount.
    """
    if rig.mount is None:
        return 0.0
    load = load_moment(rig.mount, carried)
    return load * (1 - east_heavy(rig.mount, school)) - shaft_moment(shaft_of(rig))


@dataclass(frozen=True)
class Hanging:
    """Weights pushed together on the shaft with their common middle at `middle`; `positions` from the axis outwards."""

    weights: tuple[Counterweight, ...]
    middle: float
    positions: tuple[float, ...]
    fits: str
    beyond_mm: float
    inertia: float

    @property
    def mass(self) -> float:
        """kg."""
        return sum((weight.used("mass_g") or 0.0) for weight in self.weights) / 1000


def hang(weights: Sequence[Counterweight], moment: float, shaft: Shaft) -> Hanging | None:
    """Where some weights, pushed together, balance a moment (kg·mm); None when they weigh nothing.

    `fits` says what is wrong ("" when nothing): past the shaft's end, inside its start. `inertia` of the weights about
    the right-ascension axis, kg·m².
    """
    laid = tuple(sorted(weights, key=lambda weight: -(weight.used("mass_g") or 0.0)))
    masses = [(weight.used("mass_g") or 0.0) / 1000 for weight in laid]
    if sum(masses) == 0:
        return None
    # Offsets of each weight's middle from the inner face of the stack; the heaviest innermost.
    offsets, reach = [], 0.0
    for weight in laid:
        offsets.append(reach + weight.thickness_mm / 2)
        reach += weight.thickness_mm
    lever = sum(mass * offset for mass, offset in zip(masses, offsets, strict=True))
    inner = (moment - lever) / sum(masses)
    positions = tuple(inner + offset for offset in offsets)
    beyond = inner + reach - shaft.end_mm
    fits = "past the end of the shaft" if beyond > 1e-6 else "inside its start" if inner < shaft.start_mm - 1e-6 else ""
    inertia = sum(mass * (at / 1000) ** 2 for mass, at in zip(masses, positions, strict=True))
    return Hanging(laid, moment / sum(masses), positions, fits, max(0.0, beyond), inertia)


def sits(hung: Hung, shaft: Shaft) -> bool:
    """Whether a weight sits on the shaft with its whole thickness, to half a millimetre."""
    half = hung.part.thickness_mm / 2
    return shaft.start_mm - 0.5 <= hung.position_mm - half and hung.position_mm + half <= shaft.end_mm + 0.5


def on_this_shaft(weight: Counterweight, shaft: Shaft) -> bool:
    """Whether a weight's bore takes the shaft."""
    return weight.bore_mm is None or -0.05 <= weight.bore_mm - shaft.diameter_mm <= 3


def choices(
    weights: Sequence[Counterweight], moment: float, shaft: Shaft, school: str, *, most: int = 4
) -> list[Hanging]:
    """Sets of weights that balance a moment within the shaft, by school: `spread` takes the fewest kilograms, far out;
    `close_in` the most, near the axis, which keeps the inertia small.
    """
    usable = [weight for weight in weights if on_this_shaft(weight, shaft) and weight.used("mass_g")][:MOST_WEIGHTS]
    result: dict[tuple[float, ...], Hanging] = {}
    for count in range(1, len(usable) + 1):
        for chosen in combinations(usable, count):
            made = hang(chosen, moment, shaft)
            if made is not None and not made.fits:
                result.setdefault(tuple(weight.used("mass_g") or 0.0 for weight in made.weights), made)
    sign = 1 if school == "spread" else -1
    return sorted(result.values(), key=lambda item: (sign * item.mass, len(item.weights)))[:most]


def inertias(mount: Mount, carried: Carried, hung: Sequence[Hung], shaft: Shaft | None) -> list[tuple[float, str]]:
    """Moments of inertia about the right-ascension axis with the tube square to it, kg·m², body by body with its name.

    Points m·r²; tubes also as cylinders about a diameter, m(3r² + l²)/12. Source: mechanics, textbook solids.
    """
    results = []
    for body in carried.bodies:
        up = saddle_height_mm(mount) + body.up
        own = (3 * (body.diameter / 2) ** 2 + body.length**2) / 12
        results.append((body.mass_kg * (up**2 + body.middle**2 + own) / 1e6, body.name))
    results += [
        ((item.part.used("mass_g") or 0.0) / 1000 * (item.position_mm / 1000) ** 2, item.part.name) for item in hung
    ]
    if shaft is not None:
        length, middle = shaft.end_mm - shaft.start_mm, (shaft.start_mm + shaft.end_mm) / 2
        results.append((shaft.mass_g / 1000 * (length**2 / 12 + middle**2) / 1e6, "shaft"))
    return results
