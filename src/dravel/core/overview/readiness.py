"""What the ranking of a night, and findings of other rigs, need to know of a rig."""

from collections.abc import Iterable

from dravel.core.engine.context import Context, OtherRig
from dravel.core.model import Practice, Rig
from dravel.core.sky.framing import least_share
from dravel.core.sky.ranking import LINE_FILTERS, RigForNight
from dravel.core.steps import STEPS


def rig_for_night(context: Context) -> tuple[RigForNight | None, str]:
    """What the ranking needs of a rig, or why it is not known."""
    known, rig = context.known, context.rig
    for name in ("field_width", "field_height", "star_fwhm"):
        if name not in known:
            return None, known.why_not(name)
    filters = {f.use for item in rig.path if item.in_use is not None for f in [item.filters[item.in_use]]}
    return RigForNight(
        field=(known.value("field_width"), known.value("field_height")),
        star_arcsec=known.value("star_fwhm"),
        line_filter=bool(filters & LINE_FILTERS),
        least=least_share(rig.purposes, context.practice),
    ), ""


def other_rigs(rigs: Iterable[tuple[str, Rig]], practice: Practice) -> tuple[OtherRig, ...]:
    """Rigs (id, document) as rules may point to them; those whose field is not known are left out."""
    found = []
    for rig_id, rig in rigs:
        field = STEPS.context(rig, practice).field_deg
        if field is not None:
            found.append(OtherRig(rig_id, rig.name, field, least_share(rig.purposes, practice)))
    return tuple(found)
