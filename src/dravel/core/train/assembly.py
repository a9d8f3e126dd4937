"""Assemblies: parts that stay together and move whole between rigs; and rigs with their copies of kept things renewed."""

from dravel.core.model import Assembly, Camera, Connector, Growth, Part, PathItem, Rig, Site, Target
from dravel.core.model.base import Model
from dravel.core.train.joints import front_of, rear_of
from dravel.core.train.light_path import length_of


class AssemblyFacts(Model):
    """Length, mass and ends of an assembly. A part without a mass makes the mass a floor."""

    length_mm: float | None
    mass_g: float
    unweighed: tuple[str, ...]
    sky_side: Connector | None
    sensor_side: Connector | None


def facts(assembly: Assembly) -> AssemblyFacts:
    """What an assembly is as one part."""
    lengths = [length_of(item) for item in assembly.items]
    things = [part for item in assembly.items for part in (item.part, *item.filters)]
    return AssemblyFacts(
        length_mm=None if None in lengths else sum(length or 0.0 for length in lengths),
        mass_g=sum(part.used("mass_g") or 0.0 for part in things),
        unweighed=tuple(part.name for part in things if part.used("mass_g") is None),
        sky_side=front_of(assembly.items[0]),
        sensor_side=rear_of(assembly.items[-1]),
    )


def brought_up(rig: Rig, assembly: Assembly) -> Rig:
    """The rig with its copy of an assembly as it now is. What a rig sets for itself stays: filter in use, direction."""
    at = next((i for i, item in enumerate(rig.path) if item.assembly == assembly.id), None)
    if at is None or assembly.id is None:
        return rig
    old = {item.part.id: item for item in rig.path if item.assembly == assembly.id}
    items = tuple(_as_set(item, old.get(item.part.id), assembly.id) for item in assembly.items)
    rest = [item for item in rig.path if item.assembly != assembly.id]
    ahead = sum(item.assembly != assembly.id for item in rig.path[:at])
    return rig.model_copy(update={"path": (*rest[:ahead], *items, *rest[ahead:])})


def _as_set(item: PathItem, old: PathItem | None, assembly_id: str) -> PathItem:
    kept: dict[str, object] = {"assembly": assembly_id}
    if old is not None:
        kept |= {"faces_deg": old.faces_deg, "prism_in_mm": old.prism_in_mm}
        if len(old.filters) == len(item.filters):
            kept["in_use"] = old.in_use
    return item.model_copy(update=kept)


def _ring_as_it_is(old: Part, new: Part) -> Part:
    """Whether a camera's front ring is on is the rig's own affair, not the shelf's."""
    if not isinstance(old, Camera) or not isinstance(new, Camera) or old.front_ring is None or new.front_ring is None:
        return new
    ring = new.front_ring.model_copy(update={"fitted": old.front_ring.fitted})
    return new.model_copy(update={"front_ring": ring})


def with_part_everywhere(rig: Rig, part: Part) -> Rig:
    """The rig with all its copies of a part brought up to date, in the light path and beside it."""

    def own(held: Part | None) -> Part | None:
        return part if held is not None and held.id == part.id else held

    path = tuple(with_part(item, part) for item in rig.path)
    branch = tuple(with_part(item, part) for item in rig.guide.branch)
    changes = {
        "path": path,
        "guide": rig.guide.model_copy(update={"branch": branch}),
        "riders": tuple(placed.model_copy(update={"part": own(placed.part)}) for placed in rig.riders),
        "counterweights": tuple(hung.model_copy(update={"part": own(hung.part)}) for hung in rig.counterweights),
        "mount": own(rig.mount),
        "support": own(rig.support),
        "supply": rig.supply.model_copy(
            update={"source": own(rig.supply.source), "cables": tuple(own(cable) for cable in rig.supply.cables)}
        ),
        "extras": tuple(own(extra) for extra in rig.extras),
    }
    return rig.model_copy(update=changes)


def with_part(item: PathItem, part: Part) -> PathItem:
    """The item with its copies of a part brought up to date."""
    if item.part.id == part.id:
        item = item.model_copy(update={"part": _ring_as_it_is(item.part, part)})
    if any(held.id == part.id for held in item.filters):
        filters = tuple(part if held.id == part.id else held for held in item.filters)
        item = item.model_copy(update={"filters": filters})
    return item


def with_entry(rig: Rig, entry_id: str, body: Part | Target | Site | Assembly | Growth) -> Rig:
    """The rig with its copy of a kept thing brought up to date; the same rig when it holds none."""
    if isinstance(body, Growth):
        return rig
    if isinstance(body, Assembly):
        return brought_up(rig, body)
    if isinstance(body, Site):
        same = rig.site is not None and rig.site.id == entry_id
        return rig.model_copy(update={"site": body}) if same else rig
    if isinstance(body, Target):
        framings = tuple(
            framing.model_copy(update={"target": body}) if framing.target.id == entry_id else framing
            for framing in rig.framings
        )
        return rig.model_copy(update={"framings": framings})
    return with_part_everywhere(rig, body)
