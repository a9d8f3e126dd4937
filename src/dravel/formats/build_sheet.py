"""The cards of a build on paper: A4, to be ticked with a pencil; up, down, tools, and what to bring."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from dravel.core.steps.assembly.view import AssemblyView, BuildCard
from dravel.formats.paper import flowing, plain

if TYPE_CHECKING:
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Flowable


def as_pdf(rig: str, view: AssemblyView) -> bytes:
    """The build of a rig as PDF. Signs that the built-in typeface lacks are written plainly."""
    from reportlab.platypus import Spacer

    def tell(
        said: "Callable[..., Flowable]", text: "ParagraphStyle", head: "ParagraphStyle", part: "ParagraphStyle"
    ) -> "list[Flowable]":
        story: list[Flowable] = [
            said(f"Build {rig}", head),
            said(f"{len(view.cards)} cards, {view.minutes:.0f} min ({view.minutes_words})."),
            said("Bring", part),
            said("; ".join(map(str, view.bring)) + "."),
            said(f"Tools: {'; '.join(map(str, view.tools))}."),
            *([said(f"To carry: {'; '.join(map(str, view.loads))}.")] if view.loads else []),
            said("Up", part),
            _table(view.cards, text),
            said("Down", part),
            _table(view.down, text),
            Spacer(1, 6),
            said(
                "Weights before the telescope, the telescope off before the weights. Never towards the sun uncovered."
            ),
        ]
        return story

    return flowing(f"Build {rig}", tell)


def _table(cards: tuple[BuildCard, ...], text: object) -> "Flowable":
    from reportlab.lib.colors import grey
    from reportlab.platypus import Paragraph, Table, TableStyle

    rows = []
    for i, card in enumerate(cards, 1):
        words = f"<b>{plain(str(card.title))}</b> {plain(str(card.does))}"
        if card.caution:
            words += f" <i>{plain(str(card.caution))}</i>"
        facts = [f"mark: {card.mark}" if card.mark else "", f"check: {card.check}" if card.check else "", card.tool]
        answer = "<br/>".join(plain(str(fact)) for fact in facts if fact)
        rows.append(["", f"{i}", Paragraph(words, text), Paragraph(answer, text)])
    if not rows:
        return Paragraph("Nothing.", text)
    style = TableStyle([
        ("BOX", (0, i), (0, i), 0.6, grey) for i in range(len(rows))
    ] + [("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, -1), 0.25, grey), ("FONTSIZE", (1, 0), (1, -1), 8)])  # fmt: skip
    return Table(rows, colWidths=[12, 20, 299, 180], style=style)
