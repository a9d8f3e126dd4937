"""Joints: which ends meet in a light path, and whether they go together."""

from dataclasses import dataclass

from dravel.core.model import Camera, Connector, FocuserPart, PathItem, PathPart, Rig, Telescope, mates

GENDER_WORDS = {
    "male": "male",
    "female": "female",
    "lens": "lens side",
    "body": "body side",
    "tube": "nose",
    "socket": "socket",
}


@dataclass(frozen=True)
class Joint:
    """Where two parts of the path meet: `index` is the place in the path of the one behind."""

    index: int
    ahead: PathPart
    behind: PathPart
    rear: Connector | None
    front: Connector | None

    @property
    def mated(self) -> bool:
        """Whether the two ends go together. A joint whose ends are not both known is not mated."""
        return mates(self.rear, self.front)

    @property
    def known(self) -> bool:
        """Whether both ends are given."""
        return self.rear is not None and self.front is not None

    @property
    def clamped(self) -> bool:
        """Whether screws or a collet grip a smooth tube here."""
        return self.mated and self.rear is not None and self.rear.family == "clamp"

    @property
    def turns(self) -> bool:
        """Whether what hangs behind can be turned here."""
        function = getattr(self.ahead, "function", "")
        return self.clamped or function in ("rotator", "turning_ring")


def front_of(item: PathItem) -> Connector | None:
    """The end of a part that faces the sky: a camera's front ring may bring its own thread."""
    part = item.part
    if isinstance(part, Camera) and part.front_ring and part.front_ring.fitted and part.front_ring.sky_side:
        return part.front_ring.sky_side
    return part.sky_side


def rear_of(item: PathItem, after: PathItem | None = None) -> Connector | None:
    """The end that faces the sensor. With its own focuser taken off, a telescope offers the flange under it."""
    part = item.part
    if isinstance(part, Telescope) and after is not None and _stands_on_flange(after.part):
        return part.tube_side
    return part.sensor_side


def joints(rig: Rig) -> tuple[Joint, ...]:
    """All joints of the light path, in order."""
    pairs = zip(rig.path, rig.path[1:], strict=False)
    return tuple(
        Joint(i + 1, ahead.part, behind.part, rear_of(ahead, behind), front_of(behind))
        for i, (ahead, behind) in enumerate(pairs)
    )


def spoken(connector: Connector | None) -> str:
    """An end in words: ``M48x0.75 female``."""
    return "unspecified connection" if connector is None else f"{connector.size} {GENDER_WORDS[connector.gender]}"


def _stands_on_flange(part: PathPart) -> bool:
    return isinstance(part, FocuserPart) or getattr(part, "function", "") == "flange_adapter"
