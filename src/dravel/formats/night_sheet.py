"""A planned night on paper: A4, each rig's steps with a box to tick, what fits, what to mind, what hands do."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from dravel.core.overview.cues import time_of
from dravel.core.overview.sequence import NightStep
from dravel.core.overview.tonight import TonightPlan, TonightRig
from dravel.formats.paper import flowing, plain

if TYPE_CHECKING:
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Flowable


def as_pdf(plan: TonightPlan) -> bytes:
    """The night as PDF. Signs that the built-in typeface lacks are written plainly."""
    from reportlab.platypus import Spacer

    def tell(
        said: "Callable[..., Flowable]", text: "ParagraphStyle", head: "ParagraphStyle", part: "ParagraphStyle"
    ) -> "list[Flowable]":
        story: list[Flowable] = [
            said(f"Night of {plan.day} at {plan.site}", head),
            said(f"{str(plan.words)[:1].upper()}{str(plan.words)[1:]}. Times are the site's own."),
        ]
        for rig in plan.rigs:
            story += [said(rig.name, part), _steps(plan, rig, text) if rig.steps else said(f"Nothing: {rig.because}.")]
            for title, lines in (("What fits", rig.fits), ("Mind", rig.mind)):
                if lines:
                    story.append(said(f"{title}: {'. '.join(str(line.words) for line in lines)}."))
        if plan.jobs:
            story.append(said("What hands do", part))
            story += [said(f"{job.time} {job.what}") for job in plan.jobs]
        story += [Spacer(1, 8), said("Walk the ground by day. White light off once anybody's eyes are dark.")]
        return story

    return flowing(f"Night of {plan.day}", tell)


def _steps(plan: TonightPlan, rig: TonightRig, text: object) -> "Flowable":
    from reportlab.lib.colors import grey
    from reportlab.platypus import Paragraph, Table, TableStyle

    def row(step: NightStep) -> list[object]:
        name = f"<b>{plain(step.name)}</b> " if step.name and step.kind != "slew" else ""
        return [
            "",
            f"{time_of(plan, step.start_s)} to {time_of(plan, step.end_s)}",
            Paragraph(name + plain(str(step.what)), text),
        ]

    rows = [row(step) for step in rig.steps]
    boxes = [("BOX", (0, i), (0, i), 0.6, grey) for i in range(len(rows))]
    rest = [
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, -1), 0.25, grey),
        ("FONTSIZE", (1, 0), (1, -1), 8),
    ]
    return Table(rows, colWidths=[12, 84, 415], style=TableStyle(boxes + rest))
