"""Parts from the shelf laid into, or put in place of others in, the light path."""

from collections.abc import Callable, Iterator
from math import hypot

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model import Adapter, Camera, Corrector, FilterHolder, FocuserPart, PathItem, clear_of, mates
from dravel.core.model.edit import Edit
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.moves.rings import MOST_ATTEMPTS, relaid
from dravel.core.moves.shelf import STATUS_ORDER, laid_ids, ready, ready_parts
from dravel.core.train.clearance import filter_clear
from dravel.core.train.facts import Spacing
from dravel.core.train.light_path import offered
from dravel.core.train.rings import joint_gap, search


def turning_parts(context: Context) -> list[Adapter]:
    """Rotators and turning rings on the shelf that are not in the path already, owned ones first."""
    return [part for part in ready_parts(context, Adapter) if part.function in ("rotator", "turning_ring")]


def correctors_for(context: Context, *roles: str) -> list[Corrector]:
    """Correctors on the shelf that suit the telescope in kind and range; mating and owned ones first."""
    telescope = context.light.telescope
    if telescope is None:
        return []
    laid = laid_ids(context)
    results = [
        part
        for part in context.shelf
        if isinstance(part, Corrector)
        and part.role in roles
        and ready(part, laid)
        and offered(part, telescope)
        and not out_of_range(part, telescope.used("focal_length_mm"), telescope.used("aperture_mm"))
    ]
    return sorted(
        results,
        key=lambda part: (not mates(telescope.sensor_side, part.sky_side), STATUS_ORDER.get(part.status, 3), part.name),
    )


FAR_OUTSIDE = 1.5  # Dravel's own convention


def _left(
    corrector: Corrector, focal_length: float | None, aperture: float | None, by: float
) -> Iterator[tuple[float, float | None, float | None, str]]:
    """The corrector's ranges that a telescope leaves by a factor: its value, both ends, and how they are written."""
    if focal_length is None or aperture is None:
        return
    ranges = (
        (focal_length, corrector.min_focal_length_mm, corrector.max_focal_length_mm, "{:.0f} mm"),
        (focal_length / aperture, corrector.min_focal_ratio, corrector.max_focal_ratio, "f/{:.1f}"),
    )
    for value, low, high, form in ranges:
        if (low is not None and value * by < low) or (high is not None and value > high * by):
            yield value, low, high, form


def out_of_range(corrector: Corrector, focal_length: float | None, aperture: float | None) -> Words:
    """Which of the corrector's ranges the telescope leaves, in words; empty when none."""
    for value, low, high, form in _left(corrector, focal_length, aperture, 1.001):
        bounds = [form.format(bound) for bound in (low, high) if bound is not None]
        return text("{value}, range {bounds}", value=form.format(value), bounds=" to ".join(bounds))
    return ""


def far_outside(corrector: Corrector, focal_length: float | None, aperture: float | None) -> bool:
    """Whether the telescope leaves one of the corrector's ranges by half again."""
    return any(_left(corrector, focal_length, aperture, FAR_OUTSIDE))


def has_range(corrector: Corrector) -> bool:
    """Whether a corrector says which telescopes it is for."""
    ends = (corrector.min_focal_length_mm, corrector.max_focal_length_mm, corrector.min_focal_ratio,
            corrector.max_focal_ratio)  # fmt: skip
    return any(end is not None for end in ends)


def beyond_table(corrector: Corrector, focal_length: float | None) -> Words:
    """What to say where a telescope lies beyond a corrector's table of back focus; empty where it does not."""
    rows = [row.focal_length_mm for row in corrector.back_focus_table]
    if not rows or focal_length is None or corrector.reading("back_focus_mm"):
        return ""
    if rows[0] * 0.999 <= focal_length <= rows[-1] * 1.001:
        return ""
    end = "begins" if focal_length < rows[0] else "ends"
    at = rows[0] if focal_length < rows[0] else rows[-1]
    return text(
        "The back-focus table {end} at {at}; that row is used for {focal_length}, unverified.",
        end=end,
        at=Value(at, "mm", 0),
        focal_length=Value(focal_length, "mm", 0),
    )


def correctors_laid(context: Context, *roles: str) -> Iterator[Attempt]:
    """Lay a corrector behind the telescope, in place of the corrector there is."""
    path = context.rig.path
    at = next((i for i, item in enumerate(path) if isinstance(item.part, Corrector)), None)
    behind = next((i + 1 for i, item in enumerate(path) if item.part.kind == "telescope"), 0)
    for part in correctors_for(context, *roles)[:MOST_ATTEMPTS]:
        item = PathItem(part=part)
        if at is None:
            yield relaid(context, text("Add the {part}", "add", part=part.name), (Edit("add", ("path", behind), item),))
        else:
            yield relaid(
                context,
                text("Replace with the {part}", "replace", part=part.name),
                (Edit("replace", ("path", at), item),),
            )


def cameras_swapped(context: Context, wanted: Callable[[Camera], bool]) -> Iterator[Attempt]:
    """Put another camera from the shelf in place of this one, owned ones first, larger sensors first.

    A sensor of less than half the size is for another purpose (Dravel's convention), unless it is for the planets.
    """
    at = next((i for i, item in enumerate(context.rig.path) if isinstance(item.part, Camera)), None)
    if at is None:
        return
    laid = laid_ids(context)
    now = context.light.camera
    least = _diagonal(now) / 2 if now and "planetary" not in context.rig.purposes else 0.0
    cameras = [
        part
        for part in context.shelf
        if isinstance(part, Camera) and ready(part, laid) and _diagonal(part) >= least and wanted(part)
    ]
    cameras.sort(key=lambda part: (STATUS_ORDER.get(part.status, 3), -part.sensor.width_mm, part.name))
    for part in cameras[:MOST_ATTEMPTS]:
        yield relaid(
            context,
            text("Replace with the {part}", "replace", part=part.name),
            (Edit("replace", ("path", at, "part"), part),),
        )


def _diagonal(camera: Camera) -> float:
    return hypot(camera.sensor.width_mm, camera.sensor.height_mm)


def binned(context: Context, coarser: bool) -> Iterator[Attempt]:
    """Bin the camera more, or less."""
    for binning in range(1, 5):
        if (binning > context.rig.binning) if coarser else (binning < context.rig.binning):
            label = text("Bin {binning}×{binning}", binning=binning) if binning > 1 else text("Stop binning")
            yield Attempt(label, (Edit("replace", ("binning",), binning),))


def without(index: int) -> tuple[Edit, ...]:
    """Take one part out."""
    return (Edit("remove", ("path", index)),)


def focusers_swapped(context: Context) -> Iterator[Attempt]:
    """Put another focuser from the shelf on the tube, with the flange adapter made for it."""
    telescope, path = context.light.telescope, context.rig.path
    if telescope is None or telescope.tube_side is None:
        return
    laid = laid_ids(context)
    first = next(i for i, item in enumerate(path) if item.part is telescope) + 1
    old = next((i for i, item in enumerate(path) if isinstance(item.part, FocuserPart)), None)
    out = tuple(Edit("remove", ("path", i)) for i in range(old, first - 1, -1)) if old is not None else ()
    plates = [p for p in context.shelf if isinstance(p, Adapter) and p.function == "flange_adapter"]
    for part in context.shelf:
        if not isinstance(part, FocuserPart) or not ready(part, laid):
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
        edits = (*out, *(Edit("add", ("path", first + i), PathItem(part=entry)) for i, entry in enumerate(pieces)))
        yield relaid(context, text("Add the {part} to the tube", part=part.name), edits)


def widened(context: Context, index: int, now_mm: float) -> Iterator[Attempt]:
    """Wider rings, nosepieces or filters at a place of the path, else a camera that needs less."""
    path = context.rig.path
    own = context.preferences.connector_sizes

    def wide(part: Adapter) -> bool:
        return all((clear_of(end, own) or 1e9) > now_mm + 0.1 for end in (part.sky_side, part.sensor_side))

    if 0 < index < len(path):
        part = path[index].part
        if isinstance(part, FilterHolder):
            now = filter_clear(part.filter_size) or 0.0
            laid = laid_ids(context)
            for other in context.shelf:
                if not isinstance(other, FilterHolder) or not ready(other, laid):
                    continue
                if (filter_clear(other.filter_size) or 0.0) > now:
                    item = PathItem(part=other)
                    yield relaid(
                        context,
                        text("Replace with the {other}", "replace", other=other.name),
                        (Edit("replace", ("path", index), item),),
                    )
        elif isinstance(part, Adapter):
            match = search(
                context.rig, joint_gap(context.of(Spacing), index), context.of(Spacing), context.shelf, fits=wide
            )
            if not isinstance(match, Text):
                for entry in match.sets[:MOST_ATTEMPTS]:
                    yield relaid(context, entry.changes[0], entry.edits, entry.changes[1:])
    corner = context.of(Spacing).corner_mm or 0.0
    yield from cameras_swapped(
        context, lambda camera: (camera.sensor.width_mm**2 + camera.sensor.height_mm**2) ** 0.5 / 2 < corner * 0.95
    )
