"""A step registered in one line is seen by its user: rail, number key, page, working, panel, list of keys, rule book."""

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import fresh_data, served_app
from tests.scratch import registered
from tests.terms import T


@pytest.fixture
def address(seeded: Path, tmp_path: Path) -> Iterator[str]:
    """An application that was made while the scratch step was registered."""
    with registered(), served_app() as served, fresh_data(served, seeded, tmp_path) as at:
        yield at


def test_a_scratch_step_is_seen_everywhere(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    rail = page.get_by_role("navigation", name=T.rig.orderOfWork)
    expect(rail.get_by_role("link", name="Scratch")).to_contain_text("6 parts")
    page.keyboard.press("-")
    expect(page).to_have_url(re.compile("/rigs/heron/scratch"))
    stage = page.get_by_role("region", name="Scratch")
    expect(stage).to_contain_text("How many parts are there?")
    stage.get_by_role("button", name=re.compile("Parts")).click()
    expect(page.get_by_role("tooltip")).to_contain_text("scratch.parts")
    page.keyboard.press("Escape")
    expect(page.get_by_label(T.rig.findings)).to_contain_text("Parts are counted")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Scratch")
    page.goto(f"{address}/rules/X1")
    expect(page.get_by_role("heading", name="Parts in the path")).to_be_visible()
    expect(page.locator("article")).to_contain_text("warning > 3 parts, problem > 6 parts")
