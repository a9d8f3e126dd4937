"""Changes that rules try as mends: parts from the shelf laid into, or put in place of others in, the light path."""

from collections.abc import Callable, Iterator

from dravel.core.light_path import suits
from dravel.core.model import Camera, Corrector, PathItem, mates
from dravel.core.patch import Edit
from dravel.core.rules.registry import Attempt, Context

_STATUS_ORDER = {"owned": 0, "borrowed": 1, "wished": 2}
MOST_ATTEMPTS = 4


def _ready(part: Corrector | Camera, laid_ids: set[str | None]) -> bool:
    return part.status != "retired" and part.id not in laid_ids


def _laid_ids(context: Context) -> set[str | None]:
    return {item.part.id for item in context.rig.path if item.part.id is not None}


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
            yield Attempt(f"Lay the {part.name}", (Edit("add", ("path", behind), item),))
        else:
            yield Attempt(f"Put the {part.name} in its place", (Edit("replace", ("path", at), item),))


def cameras_swapped(context: Context, wanted: Callable[[Camera], bool]) -> Iterator[Attempt]:
    """Put another camera from the shelf in place of this one, owned ones first, larger sensors first."""
    at = next((i for i, item in enumerate(context.rig.path) if isinstance(item.part, Camera)), None)
    if at is None:
        return
    laid = _laid_ids(context)
    cameras = [part for part in context.shelf if isinstance(part, Camera) and _ready(part, laid) and wanted(part)]
    cameras.sort(key=lambda part: (_STATUS_ORDER.get(part.status, 3), -part.sensor.width_mm, part.name))
    for part in cameras[:MOST_ATTEMPTS]:
        yield Attempt(f"Swap in the {part.name}", (Edit("replace", ("path", at, "part"), part),))


def binned(context: Context, coarser: bool) -> Iterator[Attempt]:
    """Bin the camera more, or less."""
    for binning in range(1, 5):
        if (binning > context.rig.binning) if coarser else (binning < context.rig.binning):
            label = f"Bin {binning}×{binning}" if binning > 1 else "Stop binning"
            yield Attempt(label, (Edit("replace", ("binning",), binning),))
