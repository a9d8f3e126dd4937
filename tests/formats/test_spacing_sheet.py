"""The printed spacing sheet: true to scale, complete, the same every time."""

import re
import xml.etree.ElementTree as ET

import pytest

from dravel.catalogue.starter_shelf import part
from dravel.core.steps.spacing.sheet import Sheet, spacing_sheet
from dravel.formats.spacing_sheet import HEIGHT, MARGIN, POINTS_PER_MM, WIDTH, as_pdf, as_svg
from tests.conftest import a_rig

SVG = "{http://www.w3.org/2000/svg}"


def boxes(text: str) -> list[tuple[float, float]]:
    """Left edge and width of every part drawn, points."""
    results = [node for node in ET.fromstring(text).iter(f"{SVG}rect") if node.get("x")]
    return [(float(node.get("x")), float(node.get("width"))) for node in results]


def words(text: str) -> str:
    return " ".join(ET.fromstring(text).itertext())


def test_a_short_train_is_drawn_one_to_one(rigs):
    text = as_svg(spacing_sheet(rigs["heron"]))
    assert "drawn 1:1" in words(text)
    widths = [width / POINTS_PER_MM for _, width in boxes(text)]
    assert widths == pytest.approx([42, 16.5, 0.7, 21, 17.5], abs=0.05)
    lefts = [left for left, _ in boxes(text)]
    assert lefts == sorted(lefts) and lefts[0] == pytest.approx(MARGIN)


def test_a_long_train_is_drawn_smaller_and_says_so():
    long = part("ring-m48-21", optical_length_mm=400)
    text = as_svg(spacing_sheet(a_rig(part("triplet-86"), long, part("colour-18"))))
    scale = re.search(r"drawn 1:(\d+\.\d)", words(text))
    assert scale and float(scale[1]) == pytest.approx(417.5 * POINTS_PER_MM / (WIDTH - 2 * MARGIN), abs=0.05)
    left, width = boxes(text)[-1]
    assert left + width <= WIDTH - MARGIN + 0.1


def test_everything_stands_on_its_page(rigs):
    for rig in rigs.values():
        root = ET.fromstring(as_svg(spacing_sheet(rig)))
        for node in root.iter(f"{SVG}text"):
            assert 0 <= float(node.get("x")) <= WIDTH
            assert 0 < float(node.get("y")) < HEIGHT


def test_the_sum_runs_and_the_required_line_is_named(rigs):
    answer = words(as_svg(spacing_sheet(rigs["heron"])))
    for piece in (
        "55.7 ± 0.2 mm required",
        "0.68 of it for filter glass",
        "38.20",
        "55.70",
        "dual-narrowband filter, 7 nm",
    ):
        assert piece in answer
    assert "no fixed distance is asked for" in words(as_svg(spacing_sheet(rigs["bittern"])))


def test_a_joint_that_does_not_mate_is_said_loudly(rigs):
    answer = words(as_svg(spacing_sheet(rigs["magpie"])))
    assert "MISMATCH" in answer and "2in socket on 1.25in nose" in answer


def test_missing_lengths_are_question_marks():
    sheet = spacing_sheet(a_rig(part("triplet-86"), part("drawer-21", optical_length_mm=None), part("colour-18")))
    assert sheet.actual_mm is None and sheet.checks == ()
    assert "not all lengths are known" in words(as_svg(sheet)) and " ? " in f" {words(as_svg(sheet))} "


def test_names_are_escaped():
    odd = spacing_sheet(a_rig(part("triplet-86"), part("ring-m48-10", name="<b>& co"), part("colour-18")))
    assert "<b>& co" in words(as_svg(odd))
    assert as_pdf(odd).startswith(b"%PDF")


def test_the_pdf_is_the_same_every_time_and_takes_odd_signs(rigs):
    sheet = spacing_sheet(rigs["heron"])
    assert as_pdf(sheet) == as_pdf(sheet)
    strange = sheet.model_copy(update={"rig": "Ⱥ → ″ 山"})
    assert as_pdf(strange).startswith(b"%PDF")


def test_an_empty_rig_still_prints():
    sheet = spacing_sheet(a_rig())
    assert isinstance(sheet, Sheet) and sheet.lines == ()
    assert "<svg" in as_svg(sheet) and as_pdf(sheet).startswith(b"%PDF")


def test_readings_and_what_stays_together_are_on_the_sheet(rigs):
    bittern = rigs["bittern"]
    path = tuple(
        item.model_copy(update={"assembly": "head"}) if i >= 4 else item for i, item in enumerate(bittern.path)
    )
    answer = spacing_sheet(bittern.model_copy(update={"path": path}))
    assert any("Stays assembled between nights: 16.5 mm off-axis guider" in line for line in answer.advice)
    read = part("ring-m48-10", measured={"optical_length_mm": {"value": 9.96, "instrument": "callipers"}})
    line = spacing_sheet(a_rig(part("triplet-86"), read, part("colour-18"))).lines[0]
    assert line.note == "measured (callipers)" and line.length_mm == 9.96
