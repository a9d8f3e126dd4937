"""What hangs on the focuser: mass, moment, and how far the sensor leans under it.

How much a joint yields differs from maker to maker; the figures here are Dravel's own orders of magnitude and every
figure made from them says so.
"""

from dataclasses import dataclass

from dravel.core.model import CONNECTOR_SIZES, Camera, Connector, Rig
from dravel.core.physics.statics import newton_metres
from dravel.core.train.joints import Joint
from dravel.core.train.layout import Train

# Compliance of a joint, mrad per N·m. Dravel's own orders of magnitude.
COMPLIANCE = {"thread": 0.03, "bayonet": 0.15, "clamp": 0.40, "flange": 0.01}
DRAWTUBE_COMPLIANCE = 0.25
REFERENCE_MM = 48.0


@dataclass(frozen=True)
class Hung:
    """One thing behind the focuser: its mass, and how far behind the focuser's own shoulder its middle lies."""

    name: str
    mass_kg: float
    behind_mm: float


@dataclass(frozen=True)
class Hanging:
    """Everything behind the focuser. `unweighed` names the parts without a mass: the sums are a floor then."""

    loads: tuple[Hung, ...]

    mass_kg: float
    moment_nm: float
    sag_mrad: float
    clamps: int
    unweighed: tuple[str, ...]


def hanging(rig: Rig, train: Train, found: tuple[Joint, ...]) -> Hanging:
    """Mass and moment on the focuser, and the tilt of the sensor, with the telescope level (the worst pose)."""
    loads: list[tuple[float, float, str]] = []
    unweighed = []
    for entry in train.laid:
        part = entry.part
        centre = (entry.start + entry.end) / 2
        if isinstance(part, Camera) and part.body_length_mm:
            centre = entry.start + part.body_length_mm / 2
        for thing in (part, *entry.item.filters):
            if thing.mass_g is None and thing is part:
                unweighed.append(thing.name)
            loads.append((centre, (thing.used("mass_g") or 0.0) / 1000, thing.name))
    if train.guider is not None:
        for item in rig.guide.branch:
            loads.append((train.guider.start, (item.part.used("mass_g") or 0.0) / 1000, item.part.name))
    start = train.laid[0].start if train.laid else 0.0

    def moment(place: float) -> float:
        return sum(newton_metres(mass * (at - place)) for at, mass, _ in loads if at > place)

    places = {entry.index: entry.start for entry in train.laid}
    sag = moment(start) * DRAWTUBE_COMPLIANCE
    sag += sum(moment(places[joint.index]) * joint_compliance(joint.rear) for joint in found if joint.index in places)
    clamps = sum(joint.clamped for joint in found)
    hung = tuple(Hung(name, mass, at - start) for at, mass, name in loads)
    return Hanging(hung, sum(mass for _, mass, _ in loads), moment(start), sag, clamps, tuple(unweighed))


def joint_compliance(end: Connector | None) -> float:
    """How much a joint yields, mrad per N·m: by family, and with the cube of its width for threads.

    Dravel's own orders of magnitude; the cube is that of a tube's bending stiffness.
    """
    if end is None:
        return COMPLIANCE["thread"]
    own = COMPLIANCE.get(end.family, 0.0)
    row = CONNECTOR_SIZES.get(end.size)
    return own * (REFERENCE_MM / row.nominal_mm) ** 3 if end.family == "thread" and row else own
