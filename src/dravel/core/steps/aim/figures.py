"""Figures of Aim: how each target lies in its footprint."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.recipe import GEOMETRY
from dravel.core.model import Figure, FigureInput
from dravel.core.sky.framing import fit_target, share_inside


def framing_figures(context: Context) -> Iterator[Figure]:
    """Span and share inside of every framed target whose size is known; none where the field is not."""
    field = context.field_deg
    if field is None:
        return
    for framing in context.rig.framings:
        target, angle = framing.target, framing.position_angle_deg
        fit = fit_target(target, field, angle, context.preferences)
        if fit is None or target.major_arcmin is None:
            continue
        inputs = (
            *context.known.inputs("field_width"),
            *context.known.inputs("field_height"),
            FigureInput(symbol="a", name="major axis", value=target.major_arcmin, unit="′", origin=target.name),
            FigureInput(symbol="PA", name="position angle", value=angle, unit="°", origin="framing"),
        )
        for name, title, value, formula in (
            ("target_span", "Target across the field", fit.span, "max(target / field) along the two sides"),
            (
                "share_inside",
                "Target inside the field",
                share_inside(framing, field),
                "area of target ∩ tiles / target",
            ),
        ):
            yield Figure(
                key=f"aim.{name}", title=title, value=value, unit="", formula=formula, inputs=inputs, source=GEOMETRY,
                subject=target.name,
            )  # fmt: skip
