"""The spacing sheet on paper: A4 pages as SVG or PDF, the train drawn 1:1 where it fits."""

from collections.abc import Iterator
from dataclasses import dataclass
from io import BytesIO
from xml.sax.saxutils import escape

from dravel.core.spacing.sheet import Sheet

WIDTH, HEIGHT, MARGIN = 595.0, 842.0, 42.0
POINTS_PER_MM = 72 / 25.4
ROW = 15.0
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
class Stroke:
    """A straight line."""

    x1: float
    y1: float
    x2: float
    y2: float
    width: float = 0.6
    dashed: bool = False


Mark = Text | Box | Stroke
Page = list[Mark]


def as_svg(sheet: Sheet) -> str:
    """The sheet as one SVG, its pages below one another. Sizes in points."""
    pages = _pages(sheet)
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH:g}pt" height="{HEIGHT * len(pages):g}pt" '
        f'viewBox="0 0 {WIDTH:g} {HEIGHT * len(pages):g}" font-family="Helvetica, Arial, sans-serif">',
        f"<title>{escape(f'Spacing sheet, {sheet.rig}')}</title>",
        '<rect width="100%" height="100%" fill="#fff"/>',
    ]
    for i, page in enumerate(pages):
        out.append(f'<g transform="translate(0 {i * HEIGHT:g})">')
        out += [_svg_mark(mark) for mark in page]
        out.append("</g>")
    return "\n".join([*out, "</svg>", ""])


def as_pdf(sheet: Sheet) -> bytes:
    """The sheet as PDF, a page to a sheet of A4."""
    # Imported here: only a printed sheet needs it, and every start of the server would pay for it.
    from reportlab.pdfgen.canvas import Canvas

    made = BytesIO()
    canvas = Canvas(made, pagesize=(WIDTH, HEIGHT), invariant=1)
    canvas.setTitle(f"Spacing sheet, {sheet.rig}".translate(PLAIN))
    for page in _pages(sheet):
        for mark in page:
            _draw(canvas, mark)
        canvas.showPage()
    canvas.save()
    return made.getvalue()


def _pages(sheet: Sheet) -> list[Page]:
    page: Page = []
    pages = [page]
    y = MARGIN + 14
    for size, bold, words in _head(sheet):
        page.append(Text(MARGIN, y, words, size, bold))
        y += size + 6
    y = _drawing(page, sheet, y + 6)
    for size, bold, cells, rule in _rows(sheet):
        if y > HEIGHT - MARGIN:
            page = []
            pages.append(page)
            y = MARGIN + 14
        for x, anchor, words in cells:
            page.append(Text(x, y, words, size, bold, anchor))
        if rule:
            page.append(Stroke(MARGIN, y + 4, WIDTH - MARGIN, y + 4, 0.4))
        y += ROW
    for i, one in enumerate(pages, 1):
        one.append(Text(WIDTH - MARGIN, HEIGHT - 22, f"{sheet.rig} · {i} of {len(pages)}", 8, False, "end"))
    return pages


def _head(sheet: Sheet) -> Iterator[tuple[float, bool, str]]:
    yield 16, True, f"Spacing sheet: {sheet.rig}"
    laid = f"{sheet.actual_mm:.1f} mm laid" if sheet.actual_mm is not None else "not all lengths are known"
    if sheet.required_mm is not None:
        slack = f" ± {sheet.tolerance_mm:.1f}" if sheet.tolerance_mm else ""
        glass = f", {sheet.glass_mm:.2f} of it for filter glass" if sheet.glass_mm else ""
        yield 10, False, f"From the shoulder of the {sheet.shoulder} to the sensor:"
        yield 10, True, f"{sheet.required_mm:.1f}{slack} mm required{glass}; {laid}."
    else:
        yield (
            10,
            False,
            f"From the shoulder of the {sheet.shoulder} to the sensor: {laid}; no fixed distance is asked for.",
        )


def _drawing(page: Page, sheet: Sheet, y: float) -> float:
    if not sheet.lines:
        return y
    first, last = min(line.start_mm for line in sheet.lines), max(line.end_mm for line in sheet.lines)
    room = WIDTH - 2 * MARGIN
    scale = min(POINTS_PER_MM, room / max(last - first, 1))
    exact = scale == POINTS_PER_MM
    page.append(
        Text(
            MARGIN,
            y,
            "drawn 1:1, sky on the left" if exact else f"drawn 1:{POINTS_PER_MM / scale:.1f}, sky on the left",
            8,
        )
    )
    top, height = y + 20, 70.0
    labels: Page = []
    for line in sheet.lines:
        x, wide = MARGIN + (line.start_mm - first) * scale, (line.end_mm - line.start_mm) * scale
        page.append(Box(x, top, max(wide, 0.5), height, 0.94 if line.number % 2 else 0.86))
        # A ring too thin for its number bears it overhead.
        labels.append(Text(x + wide / 2, top + 20 if wide > 12 else top - 6, str(line.number), 10, True, "middle"))
        if wide > 30 and line.length_mm is not None:
            labels.append(Text(x + wide / 2, top + height - 8, f"{line.length_mm:.1f}", 8, False, "middle"))
    page += labels
    zero = MARGIN - first * scale
    page.append(Stroke(zero, top - 4, zero, top + height + 8, 1))
    if sheet.required_mm is not None:
        at = zero + sheet.required_mm * scale
        page.append(Stroke(at, top - 4, at, top + height + 8, 1, True))
    return top + height + 28


Cell = tuple[float, str, str]


def _rows(sheet: Sheet) -> Iterator[tuple[float, bool, list[Cell], bool]]:
    length_at, sum_at, joint_at = WIDTH - MARGIN - 190, WIDTH - MARGIN - 145, WIDTH - MARGIN
    yield (
        8,
        True,
        [
            (MARGIN, "start", "part, from the sky"),
            (length_at, "end", "mm"),
            (sum_at, "end", "sum"),
            (joint_at, "end", "joint at its front"),
        ],
        True,
    )
    for line in sheet.lines:
        length = f"{line.length_mm:.2f}" if line.length_mm is not None else "?"
        size, _, detail = line.joint.partition(": ")
        cells: list[Cell] = [
            (MARGIN, "start", f"{line.number}  {_cut(line.name, 52)}"),
            (length_at, "end", length),
            (sum_at, "end", f"{line.running_mm:.2f}"),
            (joint_at, "end", _cut(size, 34)),
        ]
        rest = "; ".join(filter(None, (detail, line.note)))
        yield 9, False, cells, not rest
        if rest:
            yield 7.5, False, [(MARGIN + 14, "start", _cut(rest, 120))], True
    for title, lines in (
        (
            "Check with callipers",
            [f"{c.length_mm:.1f} mm (± {c.worst_case_mm:.2f} worst case): {c.words}" for c in sheet.checks],
        ),
        ("Settings and marks", list(sheet.settings)),
        ("By hand", list(sheet.advice)),
    ):
        if lines:
            yield 9, True, [], False
            yield 10, True, [(MARGIN, "start", title)], False
            for words in lines:
                yield 8.5, False, [(MARGIN, "start", f"[  ] {_cut(words, 118)}")], False


def _cut(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"


def _svg_mark(mark: Mark) -> str:
    if isinstance(mark, Text):
        weight = ' font-weight="700"' if mark.bold else ""
        return f'<text x="{mark.x:.2f}" y="{mark.y:.2f}" font-size="{mark.size:g}" text-anchor="{mark.anchor}"{weight}>{escape(mark.words)}</text>'
    if isinstance(mark, Box):
        tone = f"{round(mark.grey * 255):02x}"
        return f'<rect x="{mark.x:.2f}" y="{mark.y:.2f}" width="{mark.width:.2f}" height="{mark.height:.2f}" fill="#{tone * 3}" stroke="#000" stroke-width="0.6"/>'
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
    else:
        draw.setLineWidth(mark.width)  # type: ignore[attr-defined]
        draw.setDash([3, 2] if mark.dashed else [])  # type: ignore[attr-defined]
        draw.line(mark.x1, HEIGHT - mark.y1, mark.x2, HEIGHT - mark.y2)  # type: ignore[attr-defined]
        draw.setDash([])  # type: ignore[attr-defined]
