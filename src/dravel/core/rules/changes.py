"""Changes that rules try as mends: parts from the shelf laid into, or put in place of others in, the light path."""

from collections.abc import Callable, Iterator
from typing import TypeVar

from dravel.core.light_path import LightPath, length_of, suits
from dravel.core.model import Adapter, Camera, Corrector, FilterHolder, FocuserPart, Part, PathItem, clear_of, mates
from dravel.core.patch import Edit, apply
from dravel.core.rules.registry import Attempt, Context
from dravel.core.spacing.clearance import filter_clear
from dravel.core.spacing.facts import Spacing
from dravel.core.spacing.rings import Gap, back_focus_gap, joint_gap, reach_gap, search

_STATUS_ORDER = {"owned": 0, "borrowed": 1, "wished": 2}
MOST_ATTEMPTS = 4


def _ready(part: Part, laid_ids: set[str | None]) -> bool:
    return part.status != "retired" and part.id not in laid_ids


def _laid_ids(context: Context) -> set[str | None]:
    return {item.part.id for item in context.rig.path if item.part.id is not None}


P = TypeVar("P", bound=Part)


def ready_parts(context: Context, kind: type[P]) -> list[P]:
    """Parts of a kind on the shelf that the rig does not have already, owned ones first."""
    rig = context.rig
    used = (
        _laid_ids(context) | {placed.part.id for placed in rig.riders} | {hung.part.id for hung in rig.counterweights}
    )
    used |= {extra.id for extra in rig.extras} | {
        part.id for part in (rig.mount, rig.support, rig.supply.source) if part
    }
    found = [part for part in context.shelf if isinstance(part, kind) and _ready(part, used - {None})]
    return sorted(found, key=lambda part: (_STATUS_ORDER.get(part.status, 3), part.name))


def turning_parts(context: Context) -> list[Adapter]:
    """Rotators and turning rings on the shelf that are not in the path already, owned ones first."""
    return [part for part in ready_parts(context, Adapter) if part.function in ("rotator", "turning_ring")]


def correctors_for(context: Context, *roles: str) -> list[Corrector]:
    """Correctors on the shelf that suit the telescope in kind and range; mating and owned ones first."""
    telescope = context.light.telescope
    if telescope is None:
        return []
    laid = _laid_ids(context)
    found = [
        part
        for part in context.shelf
        if isinstance(part, Corrector)
        and part.role in roles
        and _ready(part, laid)
        and (part.role == "extender" or suits(part, telescope))
        and not out_of_range(part, telescope.used("focal_length_mm"), telescope.used("aperture_mm"))
    ]
    return sorted(
        found,
        key=lambda part: (
            not mates(telescope.sensor_side, part.sky_side),
            _STATUS_ORDER.get(part.status, 3),
            part.name,
        ),
    )


def out_of_range(corrector: Corrector, focal_length: float | None, aperture: float | None) -> str:
    """Which of the corrector's ranges the telescope leaves, in words; empty when none."""
    if focal_length is None or aperture is None:
        return ""
    ratio = focal_length / aperture
    checks = (
        (focal_length, corrector.min_focal_length_mm, corrector.max_focal_length_mm, "{:.0f} mm"),
        (ratio, corrector.min_focal_ratio, corrector.max_focal_ratio, "f/{:.1f}"),
    )
    for value, low, high, form in checks:
        if (low is not None and value < low * 0.999) or (high is not None and value > high * 1.001):
            bounds = [form.format(bound) for bound in (low, high) if bound is not None]
            return f"{form.format(value)} against {' to '.join(bounds)}"
    return ""


def correctors_laid(context: Context, *roles: str) -> Iterator[Attempt]:
    """Lay a corrector behind the telescope, in place of the corrector there is."""
    path = context.rig.path
    at = next((i for i, item in enumerate(path) if isinstance(item.part, Corrector)), None)
    behind = next((i + 1 for i, item in enumerate(path) if item.part.kind == "telescope"), 0)
    for part in correctors_for(context, *roles)[:MOST_ATTEMPTS]:
        item = PathItem(part=part)
        if at is None:
            yield relaid(context, f"Lay the {part.name}", (Edit("add", ("path", behind), item),))
        else:
            yield relaid(context, f"Put the {part.name} in its place", (Edit("replace", ("path", at), item),))


def cameras_swapped(context: Context, wanted: Callable[[Camera], bool]) -> Iterator[Attempt]:
    """Put another camera from the shelf in place of this one, owned ones first, larger sensors first."""
    at = next((i for i, item in enumerate(context.rig.path) if isinstance(item.part, Camera)), None)
    if at is None:
        return
    laid = _laid_ids(context)
    cameras = [part for part in context.shelf if isinstance(part, Camera) and _ready(part, laid) and wanted(part)]
    cameras.sort(key=lambda part: (_STATUS_ORDER.get(part.status, 3), -part.sensor.width_mm, part.name))
    for part in cameras[:MOST_ATTEMPTS]:
        yield relaid(context, f"Swap in the {part.name}", (Edit("replace", ("path", at, "part"), part),))


def binned(context: Context, coarser: bool) -> Iterator[Attempt]:
    """Bin the camera more, or less."""
    for binning in range(1, 5):
        if (binning > context.rig.binning) if coarser else (binning < context.rig.binning):
            label = f"Bin {binning}×{binning}" if binning > 1 else "Stop binning"
            yield Attempt(label, (Edit("replace", ("binning",), binning),))


def relaid(context: Context, label: str, edits: tuple[Edit, ...]) -> Attempt:
    """The change together with the rings that make the train mate and add up again after it, where it needs any."""
    rig, words = apply(context.rig, edits), label
    for gap_of in (reach_gap, back_focus_gap):
        facts = Spacing(rig, LightPath.of(rig), context.practice)
        gap = gap_of(facts)
        if isinstance(gap, str) or _settled(facts, gap):
            continue
        found = search(rig, gap, facts, context.shelf, most=1)
        if not isinstance(found, str) and found.sets:
            one = found.sets[0]
            rig, edits, words = apply(rig, one.edits), (*edits, *one.edits), f"{words}; then {one.label}"
    return Attempt(words, edits)


def _settled(facts: Spacing, gap: Gap) -> bool:
    """Whether a gap mates and measures what it should."""
    inside = facts.rig.path[gap.first : gap.last]
    now = sum(length_of(item) or 0.0 for item in inside)
    mated = all(joint.mated for joint in facts.joints if gap.first <= joint.index <= gap.last)
    return mated and abs(now - gap.length) <= gap.slack + 1e-6


def filled(context: Context, gap: Gap) -> Iterator[Attempt]:
    """Rings that fill a gap, best first; when there are none, with the one part to buy that would cure it."""
    found = search(context.rig, gap, context.spacing, context.shelf)
    if isinstance(found, str):
        return
    if not found.sets and found.answer.cure_part is not None:
        shelf = (*context.shelf, found.answer.cure_part)
        found = search(context.rig, gap, context.spacing, shelf, most=1)
        if isinstance(found, str):
            return
    for one in found.sets[:MOST_ATTEMPTS]:
        yield Attempt(one.label[0].upper() + one.label[1:], one.edits)


def without(index: int) -> tuple[Edit, ...]:
    """Take one part out."""
    return (Edit("remove", ("path", index)),)


def focusers_swapped(context: Context) -> Iterator[Attempt]:
    """Put another focuser from the shelf on the tube, with the flange adapter made for it."""
    telescope, path = context.light.telescope, context.rig.path
    if telescope is None or telescope.tube_side is None:
        return
    laid = _laid_ids(context)
    first = next(i for i, item in enumerate(path) if item.part is telescope) + 1
    old = next((i for i, item in enumerate(path) if isinstance(item.part, FocuserPart)), None)
    out = tuple(Edit("remove", ("path", i)) for i in range(old, first - 1, -1)) if old is not None else ()
    plates = [p for p in context.shelf if isinstance(p, Adapter) and p.function == "flange_adapter"]
    for part in context.shelf:
        if not isinstance(part, FocuserPart) or not _ready(part, laid):
            continue
        plate = next(
            (p for p in plates if mates(telescope.tube_side, p.sky_side) and mates(p.sensor_side, part.sky_side)), None
        )
        if mates(telescope.tube_side, part.sky_side):
            pieces = (part,)
        elif plate is not None:
            pieces = (plate, part)  # type: ignore[assignment]
        else:
            continue
        edits = (*out, *(Edit("add", ("path", first + i), PathItem(part=one)) for i, one in enumerate(pieces)))
        yield relaid(context, f"Put the {part.name} on the tube", edits)


def widened(context: Context, index: int, now_mm: float) -> Iterator[Attempt]:
    """Wider rings, nosepieces or filters at a place of the path, else a camera that needs less."""
    path = context.rig.path
    own = context.practice.connector_sizes

    def wide(part: Adapter) -> bool:
        return all((clear_of(end, own) or 1e9) > now_mm + 0.1 for end in (part.sky_side, part.sensor_side))

    if 0 < index < len(path):
        part = path[index].part
        if isinstance(part, FilterHolder):
            now = filter_clear(part.filter_size) or 0.0
            laid = _laid_ids(context)
            for other in context.shelf:
                if not isinstance(other, FilterHolder) or not _ready(other, laid):
                    continue
                if (filter_clear(other.filter_size) or 0.0) > now:
                    item = PathItem(part=other)
                    yield relaid(
                        context, f"Put the {other.name} in its place", (Edit("replace", ("path", index), item),)
                    )
        elif isinstance(part, Adapter):
            found = search(context.rig, joint_gap(context.spacing, index), context.spacing, context.shelf, fits=wide)
            if not isinstance(found, str):
                for one in found.sets[:MOST_ATTEMPTS]:
                    yield relaid(context, one.label[0].upper() + one.label[1:], one.edits)
    corner = context.spacing.corner_mm or 0.0
    yield from cameras_swapped(
        context, lambda camera: (camera.sensor.width_mm**2 + camera.sensor.height_mm**2) ** 0.5 / 2 < corner * 0.95
    )
