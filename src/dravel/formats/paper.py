"""Marks on paper: pages of A4 as SVG or PDF. Sizes in points, y downwards from the top."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from io import BytesIO
from typing import TYPE_CHECKING
from xml.sax.saxutils import escape

if TYPE_CHECKING:
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Flowable

WIDTH, HEIGHT, MARGIN = 595.0, 842.0, 42.0
POINTS_PER_MM = 72 / 25.4
# The PDF's built-in typeface lacks these signs.
PLAIN = str.maketrans({"→": ">", "−": "-", "″": '"', "′": "'", "⁻": "-", "³": "3"})


@dataclass(frozen=True)
class Text:
    """Words at a baseline; `anchor` is start, middle or end."""

    x: float
    y: float
    words: str
    size: float = 9.0
    bold: bool = False
    anchor: str = "start"


@dataclass(frozen=True)
class Box:
    """An outlined rectangle, filled with a grey of 0 (black) to 1 (white)."""

    x: float
    y: float
    width: float
    height: float
    grey: float = 1.0


@dataclass(frozen=True)
class Dot:
    """A circle, black and full or only its outline."""

    x: float
    y: float
    radius: float
    full: bool = True


@dataclass(frozen=True)
class Stroke:
    """A straight line."""

    x1: float
    y1: float
    x2: float
    y2: float
    width: float = 0.6
    dashed: bool = False


Mark = Text | Box | Dot | Stroke
Page = list[Mark]


def as_svg(title: str, pages: Sequence[Page]) -> str:
    """Pages as one SVG, below one another."""
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH:g}pt" height="{HEIGHT * len(pages):g}pt" '
        f'viewBox="0 0 {WIDTH:g} {HEIGHT * len(pages):g}" font-family="Helvetica, Arial, sans-serif">',
        f"<title>{escape(title)}</title>",
        '<rect width="100%" height="100%" fill="#fff"/>',
    ]
    for i, page in enumerate(pages):
        out.append(f'<g transform="translate(0 {i * HEIGHT:g})">')
        out += [_svg_mark(mark) for mark in page]
        out.append("</g>")
    return "\n".join([*out, "</svg>", ""])


def as_pdf(title: str, pages: Sequence[Page]) -> bytes:
    """Pages as PDF, each a sheet of A4."""
    # Imported here: only a printed sheet needs it, and every start of the server would pay for it.
    from reportlab.pdfgen.canvas import Canvas

    made = BytesIO()
    canvas = Canvas(made, pagesize=(WIDTH, HEIGHT), invariant=1)
    canvas.setTitle(title.translate(PLAIN))
    for page in pages:
        for mark in page:
            _draw(canvas, mark)
        canvas.showPage()
    canvas.save()
    return made.getvalue()


def _svg_mark(mark: Mark) -> str:
    if isinstance(mark, Text):
        weight = ' font-weight="700"' if mark.bold else ""
        return f'<text x="{mark.x:.2f}" y="{mark.y:.2f}" font-size="{mark.size:g}" text-anchor="{mark.anchor}"{weight}>{escape(mark.words)}</text>'
    if isinstance(mark, Box):
        tone = f"{round(mark.grey * 255):02x}"
        return f'<rect x="{mark.x:.2f}" y="{mark.y:.2f}" width="{mark.width:.2f}" height="{mark.height:.2f}" fill="#{tone * 3}" stroke="#000" stroke-width="0.6"/>'
    if isinstance(mark, Dot):
        fill = "#000" if mark.full else "none"
        return f'<circle cx="{mark.x:.2f}" cy="{mark.y:.2f}" r="{mark.radius:.2f}" fill="{fill}" stroke="#000" stroke-width="0.5"/>'
    dash = ' stroke-dasharray="3 2"' if mark.dashed else ""
    return f'<line x1="{mark.x1:.2f}" y1="{mark.y1:.2f}" x2="{mark.x2:.2f}" y2="{mark.y2:.2f}" stroke="#000" stroke-width="{mark.width:g}"{dash}/>'


def _draw(canvas: object, mark: Mark) -> None:
    draw = canvas  # reportlab counts upward from the foot of the page
    if isinstance(mark, Text):
        draw.setFont("Helvetica-Bold" if mark.bold else "Helvetica", mark.size)  # type: ignore[attr-defined]
        words = mark.words.translate(PLAIN).encode("cp1252", "replace").decode("cp1252")
        put = {"start": "drawString", "middle": "drawCentredString", "end": "drawRightString"}[mark.anchor]
        getattr(draw, put)(mark.x, HEIGHT - mark.y, words)
    elif isinstance(mark, Box):
        draw.setLineWidth(0.6)  # type: ignore[attr-defined]
        draw.setFillGray(mark.grey)  # type: ignore[attr-defined]
        draw.rect(mark.x, HEIGHT - mark.y - mark.height, mark.width, mark.height, fill=1)  # type: ignore[attr-defined]
        draw.setFillGray(0)  # type: ignore[attr-defined]
    elif isinstance(mark, Dot):
        draw.setLineWidth(0.5)  # type: ignore[attr-defined]
        fill = 1 if mark.full else 0
        draw.circle(mark.x, HEIGHT - mark.y, mark.radius, fill=fill, stroke=1)  # type: ignore[attr-defined]
    else:
        draw.setLineWidth(mark.width)  # type: ignore[attr-defined]
        draw.setDash([3, 2] if mark.dashed else [])  # type: ignore[attr-defined]
        draw.line(mark.x1, HEIGHT - mark.y1, mark.x2, HEIGHT - mark.y2)  # type: ignore[attr-defined]
        draw.setDash([])  # type: ignore[attr-defined]


def flowing(
    title: str,
    tell: "Callable[[Callable[..., Flowable], ParagraphStyle, ParagraphStyle, ParagraphStyle], list[Flowable]]",
) -> bytes:
    """Running text as PDF. `tell` is handed how to say a line, and the styles of text, head and part, and gives the story. Signs that
    the built-in typeface lacks are written plainly.
    """
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph, SimpleDocTemplate

    text = ParagraphStyle("text", fontName="Helvetica", fontSize=9, leading=11.5)
    head = ParagraphStyle("head", parent=text, fontName="Helvetica-Bold", fontSize=15, leading=19)
    part = ParagraphStyle("part", parent=text, fontName="Helvetica-Bold", fontSize=11, leading=16, spaceBefore=8)

    def said(words: str, style: ParagraphStyle = text) -> "Flowable":
        return Paragraph(plain(words), style)

    made = BytesIO()
    document = SimpleDocTemplate(
        made, pagesize=(WIDTH, HEIGHT), leftMargin=MARGIN, rightMargin=MARGIN, topMargin=MARGIN, bottomMargin=MARGIN,
        title=plain(title), author="Dravel", invariant=True,
    )  # fmt: skip
    document.build(tell(said, text, head, part))
    return made.getvalue()


def plain(words: str) -> str:
    """Words as the running text takes them."""
    return escape(words.translate(PLAIN))
