"""The hop card on paper, and the marks that papers are made of."""

import xml.etree.ElementTree as ET

import numpy as np
import pytest

from dravel.core.model import Target
from dravel.core.sky.hop import hop_card
from dravel.formats import hop_sheet, paper
from dravel.formats.paper import HEIGHT, WIDTH, Box, Dot, Stroke, Text

SVG = "{http://www.w3.org/2000/svg}"
MARKS = [
    Text(10, 20, "left & right", 9),
    Text(10, 40, "bold < thin", 12, True, "middle"),
    Text(10, 60, "90° − 30′ → 3″", 9, False, "end"),
    Box(5, 5, 20, 10, 0.5),
    Dot(50, 50, 4),
    Dot(70, 50, 4, full=False),
    Stroke(0, 0, 100, 100),
    Stroke(0, 0, 100, 100, 1.5, dashed=True),
]


def grid(step: float = 0.5):
    ra, dec = (values.ravel() for values in np.meshgrid(np.arange(35, 45, step), np.arange(-5, 5, step)))
    magnitude = np.full(ra.shape, 6.0)
    magnitude[0] = 2.0
    return ra, dec, magnitude


def card(field: float = 1.5, step: float = 0.5, names=None):
    return hop_card(Target(name="Cloud", ra_deg=41, dec_deg=2), field, *grid(step), names)


def words(svg: str) -> list[str]:
    return [node.text or "" for node in ET.fromstring(svg).iter(f"{SVG}text")]


def test_every_mark_becomes_one_svg_element():
    root = ET.fromstring(paper.as_svg("A & B", [MARKS]))
    kinds = [node.tag.removeprefix(SVG) for node in root.iter()]
    assert kinds.count("text") == 3 and kinds.count("circle") == 2 and kinds.count("line") == 2
    assert kinds.count("rect") == 2  # the paper itself, and the box
    assert root.find(f"{SVG}title").text == "A & B"


@pytest.mark.parametrize("pages", [1, 2, 5])
def test_pages_stand_below_one_another(pages):
    root = ET.fromstring(paper.as_svg("t", [MARKS] * pages))
    assert root.get("viewBox") == f"0 0 {WIDTH:g} {HEIGHT * pages:g}"
    moved = [node.get("transform") for node in root.findall(f"{SVG}g")]
    assert moved == [f"translate(0 {i * HEIGHT:g})" for i in range(pages)]


@pytest.mark.parametrize("pages", [1, 3])
def test_a_pdf_has_its_pages_and_is_the_same_every_time(pages):
    made = paper.as_pdf("Title with − and ″", [MARKS] * pages)
    assert made.startswith(b"%PDF") and made.count(b"/Type /Page\n") == pages
    assert paper.as_pdf("Title with − and ″", [MARKS] * pages) == made


def test_the_card_names_start_target_and_every_step():
    made = card(names={0: "Corner"})
    answer = words(hop_sheet.as_svg(made, np.array([[0.0, 0.0, 5.0]])))
    assert answer[0] == "Hop card: Cloud" and "From Corner" in answer[1] and "1.5°" in answer[1]
    steps = [line for line in answer if line.startswith("[  ]")]
    assert len(steps) == len(made.hops)
    assert steps[-1].endswith(": Cloud") and "a star of magnitude 6.0" in steps[0]


def test_an_unnamed_start_is_told_by_its_magnitude_and_small_fields_in_minutes():
    answer = words(hop_sheet.as_svg(card(field=0.7), np.zeros((0, 3))))
    assert "the star of magnitude 2.0" in answer[1] and "42′" in answer[1]


def test_blank_steps_say_to_go_on():
    made = card(field=1.0, step=3)
    assert made.blank
    assert any("no star: go on" in line for line in words(hop_sheet.as_svg(made, np.zeros((0, 3)))))


def test_a_long_way_is_cut_off_in_words_and_drawn_whole():
    far = hop_card(Target(name="Far", ra_deg=44.9, dec_deg=4.9), 0.7, *grid(0.5))
    answer = words(hop_sheet.as_svg(far, np.zeros((0, 3))))
    steps = [line for line in answer if line.startswith("[  ]")]
    assert len(far.hops) > hop_sheet.MOST_STEPS
    assert len(steps) == hop_sheet.MOST_STEPS and any(line.startswith("and ") for line in answer)
    assert [line for line in answer if line.isdigit()] == [str(i) for i in range(len(far.stops) - 1)]


def test_stars_stay_inside_the_chart_and_bright_ones_are_larger():
    made = card()
    stars = np.array([[0.0, 0.0, 3.0], [0.5, 0.5, 6.0], [50.0, 0.0, 1.0]])
    root = ET.fromstring(hop_sheet.as_svg(made, stars))
    full = [node for node in root.iter(f"{SVG}circle") if node.get("fill") == "#000"]
    assert len(full) == 2
    assert float(full[0].get("r")) > float(full[1].get("r"))


def test_east_is_left_on_the_card():
    made = card()
    east, west = np.array([[1.0, 0.0, 5.0]]), np.array([[-1.0, 0.0, 5.0]])

    def where(stars):
        root = ET.fromstring(hop_sheet.as_svg(made, stars))
        return next(float(n.get("cx")) for n in root.iter(f"{SVG}circle") if n.get("fill") == "#000")

    assert where(east) < where(west)
    assert hop_sheet.as_pdf(made, east).startswith(b"%PDF")
