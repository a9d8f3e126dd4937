"""Styles stand beside their components: one sheet of bare elements and tokens, each class at home in one sheet, no tone or size
of type outside the tokens.
"""

import re
from collections import defaultdict
from pathlib import Path

import pytest

WEB = Path(__file__).parents[1] / "web" / "src"
BASE = WEB / "theme" / "base.css"
# What several places build with: its classes may be spoken of elsewhere, together with one of the place's own.
SHARED = {WEB / "kit" / "shared.module.css", WEB / "kit" / "drawing.module.css"}
SHEETS = sorted(WEB.rglob("*.css"))
SIZES = {"tiny", "small", "text", "large", "figure"}


def selectors(sheet: Path) -> list[str]:
    """Every selector of a sheet, one by one."""
    text = re.sub(r"/\*.*?\*/", "", sheet.read_text(), flags=re.S)
    result = (match.strip() for match in re.findall(r"([^{}]+)\{", text))
    return [item.strip() for match in result if not match.startswith("@") for item in match.split(",")]


def classes(selector: str) -> set[str]:
    """The classes it speaks of, those of the component library left out."""
    return {name for name in re.findall(r"\.([a-zA-Z][\w-]*)", selector) if not name.startswith("ant-")}


HOMES: dict[str, set[Path]] = defaultdict(set)
for _sheet in SHEETS:
    for _selector in selectors(_sheet):
        for _name in classes(_selector):
            HOMES[_name].add(_sheet)


def test_there_is_one_sheet_that_every_screen_shares_and_it_is_short():
    assert [sheet for sheet in SHEETS if not sheet.name.endswith(".module.css")] == [BASE]
    assert len(BASE.read_text().splitlines()) < 300
    assert all(not classes(selector) for selector in selectors(BASE))


@pytest.mark.parametrize("sheet", [item for item in SHEETS if item != BASE], ids=lambda item: item.name)
def test_every_selector_holds_to_a_class_of_its_own_sheet(sheet):
    """So that no place changes another: a class that only this sheet knows, or one of the shared sheet itself."""
    strange = []
    for selector in selectors(sheet):
        own = {name for name in classes(selector) if HOMES[name] - SHARED <= {sheet}}
        if not own and not (sheet in SHARED and classes(selector)):
            strange.append(selector)
    assert strange == []


@pytest.mark.parametrize("sheet", SHEETS, ids=lambda item: item.name)
def test_tones_and_sizes_of_type_come_from_the_tokens(sheet):
    text = sheet.read_text()
    if sheet != BASE:
        assert re.findall(r"#[0-9a-fA-F]{3,8}\b|rgba?\(|hsla?\(", text) == []
    assert set(re.findall(r"font-size:\s*([^;]+);", text)) <= {f"var(--{size})" for size in SIZES}


def test_no_component_writes_a_tone_itself():
    for path in WEB.rglob("*.tsx"):
        if "theme" not in path.parts:
            assert re.findall(r'"#[0-9a-fA-F]{3,8}"', path.read_text()) == [], path.name


def test_numbers_are_written_in_one_way():
    """Rounding by hand writes "-0.0" and forgets units: `fixed` and `plain` of the kit do it for every view."""
    strays = [path.name for path in WEB.rglob("*.ts*") if "toFixed(" in path.read_text() and "test" not in path.name]
    assert strays == ["quantity.ts"]


def test_every_class_of_a_sheet_is_worn():
    """A class that no component speaks of is dead; those with a place in their name count by what stands before it."""
    text = "\n".join(path.read_text() for path in WEB.rglob("*.ts*") if "generated" not in path.parts)
    spoken = set(re.findall(r"[\w-]+", text))
    dead = {name for name in HOMES if name not in spoken and f"{name.rsplit('-', 1)[0]}-${{" not in text}
    assert {name for name in dead if not name.startswith("recharts-")} == set()
