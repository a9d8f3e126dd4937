"""Cards of the image train: put together on the table, joint by joint, what stays together in one."""

from collections.abc import Iterator
from itertools import groupby

from dravel.core.engine.context import Context
from dravel.core.model import Camera, FocuserPart, OffAxisGuider, PathItem, Telescope
from dravel.core.model.words import Value, Words, joined, text
from dravel.core.steps.assembly.order import Card
from dravel.core.train.facts import Spacing
from dravel.core.train.layout import part_key

TABLE = "on the table"
TURNED = {0: "up", 90: "right", 180: "down", 270: "left"}


def train_cards(context: Context) -> Iterator[Card]:
    """Each joint behind the telescope, from the front; then the train onto the tube."""
    rig, telescope = context.rig, context.light.telescope
    behind = [item for item in rig.path if not isinstance(item.part, Telescope)]
    if not behind or telescope is None:
        return
    onto = ("telescope",)
    if rig.build.kept == "on_tube":
        return
    if rig.build.kept == "train" or len(behind) == 1:
        names = (
            behind[0].part.name
            if len(behind) == 1
            else text("Train, {part} to {part_2}", part=behind[0].part.name, part_2=behind[-1].part.name)
        )
        yield _on(context, behind, names, onto)
        return
    groups = [list(items) for _, items in groupby(_numbered(behind), key=lambda one: one[0])]
    before: tuple[str, ...] = ()
    for k, group in enumerate(groups):
        items = [item for _, item in group]
        if k == 0:
            continue
        yield _joint(k, items, groups[k - 1][-1][1], before, _so_far(context, items[-1]))
        before = (f"train-{k}",)
    yield _on(context, behind, "Train", (*onto, *before))


def _numbered(items: list[PathItem]) -> Iterator[tuple[object, PathItem]]:
    """Items with what they share a card by: the assembly they came with, else themselves."""
    for item in items:
        yield (item.assembly or id(item)), item


def _joint(k: int, items: list[PathItem], ahead: PathItem, before: tuple[str, ...], check: Words) -> Card:
    item = items[0]
    name = (
        item.part.name
        if len(items) == 1
        else text("{part} with {items} more (stays assembled)", part=item.part.name, items=len(items) - 1)
    )
    end = item.part.sky_side
    family = end.family if end is not None else "thread"
    hands = {
        "thread": ("By hand, to the stop.", "spanner wrench", "Use a thin washer, so that it can be unscrewed."),
        "bayonet": ("Turned until it clicks.", "by hand", ""),
        "clamp": ("Pushed in to the shoulder, clamped evenly.", "hex key", "Check that it does not lean."),
        "flange": ("Bolts crosswise.", "hex key", ""),
    }
    does, tool, caution = hands.get(family, ("Seated fully.", "by hand", ""))
    faces = "" if item.faces_deg is None else text("faces {faces_deg}", faces_deg=_way(item.faces_deg))
    exits = isinstance(item.part, Camera) and item.faces_deg is None
    filters = (
        text(" Filters in it: {filters}.", filters=", ".join(entry.name for entry in item.filters))
        if item.filters
        else ""
    )
    if isinstance(item.part, OffAxisGuider):
        filters += text(" Prism depth {prism_in_mm}.", prism_in_mm=Value(item.prism_in_mm, "mm"))
    mark: Words = faces or ("cable exits up or to the side, never below" if exits else "")
    if item.set_length_mm is not None:
        mark = joined("; ", (text("set to {length}", length=Value(item.set_length_mm, "mm", 2)), mark))
    return Card(
        f"train-{k}", text('{name} onto the {part}', name=name, part=ahead.part.name), does + filters, 10 + k / 100, before, TABLE, tool, mark, check,
        caution, 1.5, tuple(part_key(entry.part) for entry in items), off=text('Unscrew the {part}.', part=item.part.name) if family == "thread"
        else text("Remove the {part}.", part=item.part.name),
    )  # fmt: skip


def _way(degrees: float) -> Words:
    near = round(degrees / 90) * 90 % 360
    return (
        TURNED[near]
        if abs((degrees - near + 180) % 360 - 180) <= 20
        else text("{degrees} from up, seen from behind", degrees=Value(degrees, "°", 0))
    )


def _so_far(context: Context, item: PathItem) -> Words:
    """What callipers should read from the front of the train to the rear of what was just put on."""
    placed = [entry for entry in context.of(Spacing).train.behind if not isinstance(entry.part, FocuserPart)]
    at = next((entry for entry in placed if entry.item is item), None)
    if at is None or not placed or any(entry.length is None for entry in placed[: placed.index(at) + 1]):
        return ""
    if isinstance(item.part, Camera):
        return text("front of the train to the sensor {end}", end=Value(at.end - placed[0].start, "mm", 1))
    return text("front of the train to here {end}", end=Value(at.end - placed[0].start, "mm", 1))


def _on(context: Context, behind: list[PathItem], names: Words, after: tuple[str, ...]) -> Card:
    hanging = context.known.get("hanging")
    mass = (
        text("{hanging} on the focuser: retract it while attaching.", hanging=Value(hanging, "kg", 1))
        if hanging
        else ""
    )
    title = text("{names} onto the tube", names=names)
    end = behind[0].part.sky_side
    tool = "by hand" if end is None or end.family in ("thread", "bayonet") else "hex key"
    return Card(
        "train_on", title, "Held until it is tight.", 25, after, tool=tool, check="level with the tube, nothing leans",
        caution=mass, minutes=2, parts=tuple(part_key(item.part) for item in behind), off="Remove the image train as one piece.",
    )  # fmt: skip
