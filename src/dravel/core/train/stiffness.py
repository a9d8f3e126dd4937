"""What hangs on the focuser: mass, moment, and how far the sensor leans under it.

How much a joint yields differs from maker to maker; the figures here are Dravel's own orders of magnitude and every
figure made from them says so.
"""

from dataclasses import dataclass
from math import acos, cos, degrees, hypot, radians, sin

from dravel.core.model import CONNECTOR_SIZES, Camera, Connector, Rig
from dravel.core.physics.statics import newton_metres
from dravel.core.train.joints import Joint
from dravel.core.train.layout import Train

# Compliance of a joint, mrad per N·m. Dravel's own orders of magnitude.
COMPLIANCE = {"thread": 0.03, "bayonet": 0.15, "clamp": 0.40, "flange": 0.01}
DRAWTUBE_COMPLIANCE = 0.25
REFERENCE_MM = 48.0
PLAIN_LATITUDE_DEG = 45.0
SIDE_FOCUS = ("newtonian", "maksutov_newtonian")  # the focuser stands out to the side of the tube


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


@dataclass(frozen=True)
class Pose:
    """How a rig points, and what that does to what hangs on its focuser: `share` of the worst tilt there is, and towards
    where it droops, (right, away from the saddle) as seen from behind the tube, or along the tube for a side focuser."""

    name: str
    share: float
    towards: tuple[float, float, float]


def poses(latitude_deg: float, design: str, turned_deg: float) -> tuple[Pose, ...]:
    """Tilt of the sensor with the tube up, level to the east and west, and hanging upside down.

    In the tube's frame (right, away from the saddle, towards the sky) gravity is (0, 0, −1) with the tube up, and
    (± sin φ, − cos φ, 0) level to the east and to the west at latitude φ, the tube above the counterweights both times.
    What hangs on the focuser leans by the part of gravity across its axis: u × g. Source: statics, an equatorial mount.
    """
    phi, turn = radians(latitude_deg), radians(turned_deg)
    axis = (sin(turn), cos(turn), 0.0) if design in SIDE_FOCUS else (0.0, 0.0, -1.0)
    gravity = {
        "tube up": (0.0, 0.0, -1.0),
        "level, east": (sin(phi), -cos(phi), 0.0),
        "level, west": (-sin(phi), -cos(phi), 0.0),
        "upside down": (0.0, 1.0, 0.0),
    }
    results = []
    for name, down in gravity.items():
        along = sum(a * g for a, g in zip(axis, down, strict=True))
        across = tuple(g - along * a for a, g in zip(axis, down, strict=True))
        results.append(Pose(name, hypot(*across), (across[0], across[1], across[2])))
    return tuple(results)


def softens_below_deg(lean_um: float, depth_um: float) -> float | None:
    """Altitude of a straight tube below which the sensor's tilt passes the depth of focus, degrees: arccos(z / u).

    None where it never does. Source: the part of gravity across the tube, cos h.
    """
    return degrees(acos(depth_um / lean_um)) if lean_um > depth_um > 0 else None
