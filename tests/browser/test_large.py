"""Large files are read as jobs that can be watched and stopped; long lists come a page at a time."""

import json
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.terms import T, fill, like


@pytest.fixture
def many(tmp_path: Path) -> Path:
    file = tmp_path / "many.csv"
    lines = (
        f"Field {n},{n % 360},{n % 90},{1 + n % 50},a line long enough to make the file a large one\n"
        for n in range(40_000)
    )
    file.write_text("name,ra_deg,dec_deg,major_arcmin,size_source\n" + "".join(lines) + "Nowhere,999,0,1,\n")
    return file


def targets(address: str) -> int:
    with urllib.request.urlopen(f"{address}/api/v1/board") as answer:
        return json.load(answer)["targets_of"]


def test_a_large_file_is_read_watched_and_stopped(page: Page, address: str, many: Path):
    before = targets(address)
    page.goto(f"{address}/sky")
    page.get_by_label(T.sky.targetsFile).set_input_files(many)
    reading = page.get_by_role("dialog", name=T.kit.readingTargets)
    expect(reading.get_by_role("status")).to_contain_text(T.kit.line)
    reading.get_by_role("button", name=T.common.stop).click()
    expect(page.get_by_text("Stopped: stopped")).to_be_visible()
    expect(reading).to_be_hidden()
    assert targets(address) == before
    page.get_by_label(T.sky.targetsFile).set_input_files(many)
    report = page.get_by_role("dialog", name=T.kit.targetsFromAFile)
    expect(
        report.get_by_text(fill(T.kit.addedWhatCanBeReadWrong, added="40000", what="targets", wrong="1", which="line"))
    ).to_be_visible()
    expect(report.get_by_text(fill(T.kit.lineLine, line="40002"))).to_be_visible()
    report.get_by_role("button", name=T.kit.leaveIt).click()
    assert targets(address) == before


def test_a_long_list_comes_a_page_at_a_time(page: Page, address: str):
    lines = "".join(f"Far {n},{n},{n % 60},{5 + n}\n" for n in range(80))
    asked = urllib.request.Request(f"{address}/api/v1/targets/file?keep=true", f"name,ra_deg,dec_deg,major_arcmin\n{lines}".encode())  # fmt: skip
    urllib.request.urlopen(asked).close()
    page.goto(address)
    turn = page.get_by_role("navigation", name=fill(T.kit.pagesOfWhat, what="targets"))
    expect(turn).to_contain_text(fill(T.kit.whatFirstToLastOfTotal, what="targets", first="1", last="40", total="88"))
    turn.locator(".ant-pagination-next").click()
    expect(turn).to_contain_text(fill(T.kit.whatFirstToLastOfTotal, what="targets", first="41", last="80", total="88"))
    # A target of a later page is found by the rig as well.
    page.get_by_role("link", name="Far 40").first.click()
    expect(page.get_by_text("Far 40").first).to_be_visible()
    page.goto(f"{address}/sky")
    rows = page.get_by_role("region", name=T.sky.listOfTargets).locator("tbody tr")
    expect(rows).to_have_count(60)
    page.get_by_role("navigation", name=fill(T.kit.pagesOfWhat, what="targets")).locator(".ant-pagination-next").click()
    expect(rows).to_have_count(28)
    expect(rows.last.get_by_role("img", name=like(T.sky.yearYear))).to_be_visible()
