"""What the ranking of a night, and findings of other rigs, need to know of a rig."""

from collections.abc import Iterable

from dravel.core.engine.context import Context, OtherRig
from dravel.core.model import Preferences, Rig
from dravel.core.sky.framing import least_share
from dravel.core.sky.ranking import LINE_FILTERS, RigForNight
from dravel.core.steps import STEPS
from dravel.core.steps.exposure.facts import Exposing


def rig_for_night(context: Context) -> tuple[RigForNight | None, str]:
    """What the ranking needs of a rig, or why it is not known."""
    known, rig = context.known, context.rig
    for name in ("field_width", "field_height", "star_fwhm"):
        if name not in known:
            return None, str(known.why_not(name))
    filters = {f.use for item in rig.path if item.in_use is not None for f in [item.filters[item.in_use]]}
    own = context.of(Exposing)
    lined = bool(filters & LINE_FILTERS)
    return RigForNight(
        field=(known.value("field_width"), known.value("field_height")),
        star_arcsec=known.value("star_fwhm"),
        line_filter=lined,
        least=least_share(rig.purposes, context.preferences),
        moon_lines=own.usual_moon_colour(of_lines=True),
        moon_even=own.usual_moon_colour(of_lines=False),
        purposes=rig.purposes,
    ), ""


def as_other(rig: Rig, preferences: Preferences) -> tuple[str, tuple[float, float], float] | None:
    """Name, field in degrees and least share wanted of a rig that rules may point to; None where the field is not known."""
    field = STEPS.context(rig, preferences).field_deg
    return None if field is None else (rig.name, field, least_share(rig.purposes, preferences))


def other_rigs(rigs: Iterable[tuple[str, tuple[str, tuple[float, float], float] | None]]) -> tuple[OtherRig, ...]:
    """Rigs (id, and what `as_other` says of it) as rules may point to them; those whose field is not known are left out."""
    return tuple(OtherRig(rig_id, *answer) for rig_id, answer in rigs if answer is not None)
