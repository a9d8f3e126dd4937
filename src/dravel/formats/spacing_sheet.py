"""The spacing sheet on paper: A4 pages as SVG or PDF, the train drawn 1:1 where it fits."""

from collections.abc import Iterator

from dravel.core.steps.spacing.sheet import Sheet
from dravel.formats import paper
from dravel.formats.paper import HEIGHT, MARGIN, POINTS_PER_MM, WIDTH, Box, Page, Stroke, Text

ROW = 15.0


def as_svg(sheet: Sheet) -> str:
    """The sheet as one SVG, its pages below one another. Sizes in points."""
    return paper.as_svg(_title(sheet), _pages(sheet))


def as_pdf(sheet: Sheet) -> bytes:
    """The sheet as PDF, a page to a sheet of A4."""
    return paper.as_pdf(_title(sheet), _pages(sheet))


def _title(sheet: Sheet) -> str:
    return f"Spacing sheet, {sheet.rig}"


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
    for i, item in enumerate(pages, 1):
        item.append(Text(WIDTH - MARGIN, HEIGHT - 22, f"{sheet.rig} · {i} of {len(pages)}", 8, False, "end"))
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
        size, _, detail = str(line.joint).partition(": ")
        cells: list[Cell] = [
            (MARGIN, "start", f"{line.number}  {_cut(line.name, 52)}"),
            (length_at, "end", length),
            (sum_at, "end", f"{line.running_mm:.2f}"),
            (joint_at, "end", _cut(size, 34)),
        ]
        rest = "; ".join(filter(None, (detail, str(line.note))))
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
                yield 8.5, False, [(MARGIN, "start", f"[  ] {_cut(str(words), 118)}")], False


def _cut(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"
