"""Parts as CSV: round trip, and line-by-line words for what is wrong."""

from hypothesis import given
from hypothesis import strategies as st

from dravel.catalogue.starter_shelf import starter_shelf
from dravel.formats import parts_csv
from tests.conftest import a_telescope


def test_round_trip_of_the_starter_shelf():
    parts = list(starter_shelf())
    again, wrong = parts_csv.read(parts_csv.write(parts))
    assert wrong == []
    assert again == parts


@given(
    st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=60).filter(lambda t: t.strip() == t)
)
def test_any_name_survives(name):
    (again,), wrong = parts_csv.read(parts_csv.write([a_telescope(name=name)]))
    assert wrong == [] and again.name == name


def test_a_bad_line_does_not_keep_the_good_ones_out():
    text = (
        "kind,name,aperture_mm,focal_length_mm,design\n"
        "telescope,Good,80,480,triplet\n"
        "telescope,Zero,0,480,triplet\n"
        "telescope,Words,eighty,480,triplet\n"
        "\n"
        "spoon,Strange,80,480,triplet\n"
        "telescope,Also good,100,700,doublet\n"
        "telescope,Too long,100,700,doublet,x\n"
    )
    parts, wrong = parts_csv.read(text)
    assert [part.name for part in parts] == ["Good", "Also good"]
    assert [row.line for row in wrong] == [3, 4, 6, 8]
    assert wrong[0].faults[0].field == "aperture_mm"
    assert "allowed 5 to 3000 mm" in wrong[0].faults[0].reason
    assert "'eighty'" in wrong[1].faults[0].reason


def test_columns_that_are_not_there():
    parts, wrong = parts_csv.read("a,b\n1,2\n")
    assert parts == [] and wrong[0].line == 1 and wrong[0].faults[0].field == "kind"
    assert parts_csv.read("")[1][0].faults[0].reason == "the heading names no such column"


def test_strange_cells():
    head = "kind,name,aperture_mm,focal_length_mm,design,measured,sensor\n"
    _, wrong = parts_csv.read(head + 'telescope,x,80,480,triplet,"{bad",\n')
    assert wrong[0].faults[0].reason == "is not valid JSON"
    _, wrong = parts_csv.read(head + "telescope,x,80,480,triplet,,text\n")
    assert wrong[0].faults[0].field == "sensor"
    _, wrong = parts_csv.read('kind,name\ntelescope,"open\n')
    assert "cannot be read as CSV" in wrong[-1].faults[0].reason


def test_a_byte_order_mark_is_no_fault():
    parts, wrong = parts_csv.read("\ufeff" + parts_csv.write([a_telescope()]))
    assert len(parts) == 1 and not wrong
