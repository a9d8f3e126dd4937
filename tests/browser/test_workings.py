"""A number opens its working where it stands: on every step, in Compare, and a score on the Board."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.terms import T


@pytest.mark.parametrize(
    ("view", "key", "says"),
    [
        ("/rigs/heron/spacing", "spacing.actual_mm", "Σ l"),
        ("/rigs/bittern/spacing", "spacing.stack_rss_mm", "√Σ t²"),
        ("/rigs/heron/mount", "mount.inertia_kg_m2", "I₂"),
        ("/rigs/heron/guiding", "guiding.rms_px", "ρ / scale"),
        ("/rigs/magpie/power", "power.energy_had_wh", "Q · u · k"),
        ("/rigs/heron/optics", "optics.sampling_px", "F / scale"),
    ],
)
def test_the_working_opens_in_place_and_shows_its_key(page: Page, address: str, view: str, key: str, says: str):
    page.goto(address + view)
    page.locator(f"button[data-figure='{key}']").first.click()
    working = page.locator(f"[data-testid=working][data-figure='{key}']").last
    expect(working).to_contain_text(says)
    expect(working).to_contain_text(key)


def test_what_is_given_shows_by_whom_and_no_formula(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/guiding")
    page.locator("button[data-figure='guiding.flexure_arcsec_h']").click()
    working = page.get_by_role("tooltip")
    expect(working).to_contain_text("given: 6 ″/h")
    expect(working).to_contain_text("order of magnitude")


def test_compare_asks_for_a_working_when_it_is_wanted(page: Page, address: str):
    page.goto(f"{address}/compare?rigs=heron,bittern")
    row = page.get_by_role("row", name=re.compile("^Pixel scale"))
    row.get_by_role("button").first.click()
    expect(page.get_by_role("tooltip")).to_contain_text("206.265 · p / f")


def test_a_score_on_the_board_shows_its_terms(page: Page, address: str):
    page.goto(address)
    cell = page.get_by_role("cell").filter(has=page.get_by_role("link", name=re.compile("^Heron on IC 1805")))
    score = cell.get_by_role("button", name=re.compile(r"^\d+$")).first
    shown = score.inner_text()
    score.click()
    expect(page.get_by_role("tooltip")).to_contain_text(f"Heron: {shown} of 100")
    expect(page.get_by_role("tooltip")).to_contain_text(T.exposure.moon)
