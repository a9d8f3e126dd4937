"""Cards for the first time with a rig, or after a change of what they are about: by day, and once each.

Their keys carry what they hang on, so that a new guide camera, another train or another focal length asks for them again.
"""

from collections.abc import Iterator
from zlib import crc32

from dravel.core.engine.context import Context
from dravel.core.model import Telescope
from dravel.core.model.words import Value, text
from dravel.core.steps.assembly.order import Card
from dravel.core.train.facts import Spacing
from dravel.core.train.layout import part_key

BY_DAY = "by day, at home"
SUN = "Never towards the sun's part of the sky, not for a moment: it burns sensors and eyes."


def first_cards(context: Context) -> Iterator[Card]:
    """What is done once: parfocal guide camera, calliper checks, slack through the flip, guiding at this focal length."""
    yield from _parfocal(context)
    yield from _callipers(context)
    yield from _slack(context)
    yield from _guiding(context)


def _parfocal(context: Context) -> Iterator[Card]:
    guide, camera = context.rig.guide, context.light.camera
    if guide.method != "off_axis" or camera is None:
        return
    watcher = next((item.part for item in guide.branch if item.part.kind == "camera"), None)
    if watcher is None:
        return
    yield Card(
        f'first-parfocal-{_tag(part_key(watcher), part_key(camera))}', text('Make the {watcher} parfocal', watcher=watcher.name),
        "Focus the main camera on a roof edge several streets away, then move only the guide camera until the edge is sharp "
        "in it too. Clamp it, mark its depth, and never touch it again.", 0.1, place=BY_DAY,
        check="both sharp at one focuser position", mark="its depth, on tape around the nose", caution=SUN, minutes=20,
        parts=(part_key(watcher),),
    )  # fmt: skip


def _callipers(context: Context) -> Iterator[Card]:
    behind = [item.part for item in context.rig.path if not isinstance(item.part, Telescope)]
    train = context.of(Spacing).train.behind
    if len(behind) < 2 or not train:
        return
    known = all(entry.length is not None for entry in train)
    sum_mm = (
        text("{end} from front to sensor", end=Value(train[-1].end - train[0].start, "mm", 1))
        if known
        else "write down the reading"
    )
    yield Card(
        f'first-callipers-{_tag(*(part_key(part) for part in behind))}', "Measure the train with callipers",
        "Each part from shoulder to shoulder, then the whole; type what they read into Spacing.", 0.2, place=BY_DAY,
        tool="callipers", check=sum_mm, minutes=15, parts=tuple(part_key(part) for part in behind),
    )  # fmt: skip


def _slack(context: Context) -> Iterator[Card]:
    rig = context.rig
    mount, telescope = rig.mount, context.light.telescope
    if mount is None or telescope is None or mount.driven_axes < 2 or not rig.supply.cables:
        return
    names = (part_key(mount), part_key(telescope), *(part_key(cable) for cable in rig.supply.cables))
    turn = (
        "over the meridian and back, then to the zenith"
        if mount.style != "alt_azimuth"
        else "once around and to the zenith"
    )
    yield Card(
        f'first-slack-{_tag(*names)}', "Check clearance in all positions by hand",
        text("Clutches loose or by its buttons, power off or a finger on it: {turn}. Watch every cable and the tube's ends.", turn=turn),
        44, ("cables", "supply", "telescope", "train_on", "lift"), check="nothing snags, nothing meets a leg",
        caution="A hand on the tube, none between tube and legs.", minutes=5, parts=(part_key(mount),),
    )  # fmt: skip


def _guiding(context: Context) -> Iterator[Card]:
    rig, mount = context.rig, context.rig.mount
    focal = context.known.get("focal_length")
    if (
        rig.guide.method == "none"
        or mount is None
        or mount.driven_axes == 0
        or mount.guide_input == "none"
        or focal is None
    ):
        return
    yield Card(
        f'first-guiding-{focal:.0f}-{_tag(part_key(mount))}', text('Learn how it guides at {focal}', focal=Value(focal, 'mm', 0)),
        "Ten minutes unguided near the meridian: note drift and periodic error. Then find the backlash, and set the least "
        "move so that seeing is not chased.", 69, ("calibrate", "polar", "focus"), place="under the sky",
        check="RMS per axis after ten minutes of guiding, written down", minutes=25,
    )  # fmt: skip


def _tag(*keys: str) -> str:
    """Short and the same for the same things."""
    return f"{crc32('|'.join(keys).encode()):08x}"
