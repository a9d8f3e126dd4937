"""Another filter in the light: one the rig carries, or one from the shelf that fits a holder."""

from collections.abc import Callable, Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model import Filter, FilterHolder
from dravel.core.model.edit import Edit
from dravel.core.model.words import text
from dravel.core.moves.shelf import STATUS_ORDER
from dravel.core.train.layout import part_key


def fits(context: Context, one: Filter) -> bool:
    """Whether some holder of the rig takes it, or its camera where it clips in."""
    path = context.rig.path
    sizes = {item.part.filter_size for item in path if isinstance(item.part, FilterHolder)}
    return one.size in sizes or (context.light.camera is not None and one.size == context.light.camera.clip_in)


def filters_put_in(context: Context, wanted: Callable[[Filter], bool]) -> Iterator[Attempt]:
    """Turn to a filter the rig carries, else put one from the shelf into a holder of its size; owned ones first."""
    path = context.rig.path
    carried = set()
    for i, item in enumerate(path):
        for k, entry in enumerate(item.filters):
            carried.add(part_key(entry))
            if k != item.in_use and wanted(entry):
                yield Attempt(
                    text("Use the {one}", "use", one=entry.name), (Edit("replace", ("path", i, "in_use"), k),)
                )
    shelf = [part for part in context.shelf if isinstance(part, Filter) and part.status != "retired"]
    for entry in sorted(shelf, key=lambda part: (STATUS_ORDER.get(part.status, 4), part.name)):
        if part_key(entry) in carried or not wanted(entry):
            continue
        for i, item in enumerate(path):
            holder = item.part
            if not isinstance(holder, FilterHolder) or holder.filter_size != entry.size:
                continue
            # A drawer is pulled and filled anew; a wheel has so many places.
            if holder.style == "wheel" and len(item.filters) >= holder.positions:
                continue
            put = (
                Edit("replace", ("path", i, "filters"), (*item.filters, entry)),
                Edit("replace", ("path", i, "in_use"), len(item.filters)),
            )
            yield Attempt(text("Add the {one}", "add", one=entry.name), put)
            break
