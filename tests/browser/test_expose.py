"""Exposure by hand: hours from the terrace and the ridge, a body that starves, the sub dragged, a plan laid, filters turned."""

import re

import pytest
from playwright.sync_api import Page, expect

from dravel.core.model import Exposure, Preferences, Target
from tests.browser.conftest import finding, fix, held, quiet, saved, steady, titled, unfold
from tests.terms import T, fill, like


@pytest.fixture
def opened(page: Page, address: str) -> Page:
    page.goto(f"{address}/rigs/heron/exposure?target=ngc-281")
    expect(page.get_by_test_id("noise-curve")).to_be_visible()
    return page


def hours(page: Page) -> float:
    """Hours that the rig needs for the goal, as the key under the curve tells."""
    first = page.get_by_test_id("hours-curve").locator(".curve-key li").first
    expect(first).to_contain_text("Heron")
    words = first.locator("strong").inner_text()
    return sum(int(number) / {"h": 1, "min": 60}[unit] for number, unit in re.findall(r"(\d+) (h|min)", words))


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_role("combobox", name=label).click()
    page.locator(".ant-select-item-option").get_by_text(option, exact=True).click()
    page.keyboard.press("Escape")


def test_hours_fall_from_the_terrace_to_the_ridge(opened: Page):
    ridge = hours(opened)
    first = opened.get_by_test_id("hours-curve").locator(".curve-key strong").first
    words = first.inner_text()
    choose(opened, T.rig.siteOfTheRig, "Town terrace below Veleda")
    saved(opened, 2)
    expect(first).not_to_have_text(words)
    assert hours(opened) > 1.2 * ridge
    choose(opened, T.rig.siteOfTheRig, "Alto de Veleda")
    expect(first).to_have_text(words)


def test_a_stock_body_starves_and_the_fix_feeds_it(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    page.evaluate(
        """async () => {
          const shelf = await (await fetch('/api/v1/parts')).json();
          const {rig, revision} = await (await fetch('/api/v1/rigs/heron')).json();
          const body = shelf.find((one) => one.id === 'dslr-aps').body;
          const sites = await (await fetch('/api/v1/sites')).json();
          rig.path[rig.path.length - 1].part = body;
          rig.site = sites.find((one) => one.id === 'town-terrace').body;
          rig.guide.sub_s = 180;
          rig.framings.forEach((one) => { one.target.line_rayleighs = 220; });
          const kept = await fetch('/api/v1/rigs/heron', {method: 'PUT', headers: {'content-type': 'application/json'},
            body: JSON.stringify({rig, base: revision, note: 'a stock body'})});
          if (!kept.ok) throw new Error(await kept.text());
        }"""
    )
    page.goto(f"{address}/rigs/heron/exposure")
    starved = unfold(page, "C1")
    expect(starved).to_contain_text("25%")
    fix(starved, "/path").click()
    expect(page.get_by_test_id("fixed")).to_have_attribute("data-code", "C1")
    held(page)
    expect(finding(page, "C1", verdict="ok")).to_be_visible()


def test_the_sub_is_dragged_and_walked_and_numbers_follow(opened: Page):
    sub = opened.get_by_role("slider", name=T.exposure.plannedSub)
    expect(sub).to_have_attribute("aria-valuenow", "180")
    box = steady(sub)
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    opened.mouse.move(x, y)
    opened.mouse.down()
    opened.mouse.move(x + 30, y)
    opened.mouse.move(x + 60, y)
    expect(
        opened.get_by_role(
            "heading", name=re.compile(like(T.exposure.onePixelOverSubSS).pattern.replace(".*?", "(300|420|600)"))
        )
    ).to_be_visible()
    opened.mouse.up()
    saved(opened, 2)
    quiet(opened)  # where the hand let go, not where it was a moment before
    sub.focus()
    before = sub.get_attribute("aria-valuenow")
    opened.keyboard.press("ArrowLeft")
    saved(opened, 3)
    expect(sub).not_to_have_attribute("aria-valuenow", before)
    assert float(sub.get_attribute("aria-valuenow")) < float(before)
    opened.get_by_role("button", name=like(T.exposure.planRecommendedSSTheSub)).press("Enter")
    expect(sub).to_have_attribute("aria-valuenow", "180")
    opened.get_by_role("button", name=T.rig.undo, exact=True).click()
    # One length for all: Guide has the same sub.
    opened.get_by_role("button", name=T.rig.undo, exact=True).click()
    expect(sub).to_have_attribute("aria-valuenow", before)


def test_a_plan_is_laid_in_one_press_set_and_reordered(opened: Page):
    opened.get_by_role("button", name=fill(T.exposure.planTitle, title="lines and stars")).click()
    blocks = opened.get_by_test_id("plan-blocks").locator("[data-block]")
    expect(blocks).to_have_count(2)
    expect(blocks.first).to_contain_text("dual-narrowband filter, 7 nm")
    blocks.first.focus()
    opened.keyboard.press("ArrowRight")
    expect(blocks.first).to_contain_text("UV/IR-cut filter")
    blocks.first.click()
    fields = opened.get_by_test_id("block-fields")
    count = fields.get_by_label(titled(Exposure, "count"), exact=True)
    count.fill("55")
    count.press("Enter")
    expect(blocks.first).to_contain_text("55 ×")
    fields.get_by_role("button", name=T.exposure.dropIt).click()
    expect(blocks).to_have_count(1)
    expect(opened.get_by_test_id("plan-sum")).to_contain_text(like(T.exposure.lightOfLightInClockBy))


def test_filters_turn_in_the_picture_and_others_are_held_beside(opened: Page):
    bars = opened.get_by_test_id("filter-bars")
    expect(bars.locator(".in-use")).to_contain_text("dual-narrowband filter, 7 nm")
    bars.get_by_role("button", name="UV/IR-cut filter").press("Enter")
    expect(bars.locator(".in-use")).to_contain_text("UV/IR-cut")
    opened.get_by_role("button", name=T.rig.undo, exact=True).click()
    expect(bars.locator(".in-use")).to_contain_text("dual-narrowband")
    choose(opened, T.exposure.rigsHeldBeside, "Wren")
    key = opened.get_by_test_id("hours-curve").locator(".curve-key li")
    expect(key).to_have_count(2)
    expect(key.last).to_contain_text("Wren")


def test_settings_darks_and_brightness_are_kept(opened: Page):
    opened.get_by_test_id("exposure-more").locator("summary").click()
    modes = opened.get_by_test_id("modes")
    modes.get_by_role("button", name="0", exact=True).click()
    expect(modes.get_by_role("button", name="0", exact=True)).to_have_attribute("aria-pressed", "true")
    darks = opened.get_by_test_id("calibration").locator("li", has_text="180 s at")
    darks.get_by_role("button", name=T.exposure.onHand2).click()
    expect(darks.get_by_role("button", name=T.exposure.noLonger)).to_be_visible()
    light = opened.get_by_label(titled(Target, "line_rayleighs"))
    light.fill("300")
    light.press("Enter")
    expect(opened.get_by_text(re.compile("300 R"))).to_be_visible()
    choose(opened, T.exposure.howLongASub2, T.exposure.fixedHabit)
    expect(opened.get_by_test_id("saved")).to_have_attribute("data-revision", re.compile("^[45]$"))


def test_what_is_missing_is_said_on_the_page(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/exposure")
    page.evaluate(
        """async () => {
          const {rig, revision} = await (await fetch('/api/v1/rigs/heron')).json();
          rig.path[rig.path.length - 1].part.sensor.modes = [];
          await fetch('/api/v1/rigs/heron', {method: 'PUT', headers: {'content-type': 'application/json'},
            body: JSON.stringify({rig, base: revision, note: 'no settings'})});
        }"""
    )
    page.reload()
    expect(page.get_by_test_id("exposure-lacks")).to_contain_text("cooled colour camera")


def test_the_preferences_holds_the_goal(page: Page, address: str):
    page.goto(f"{address}/preferences")
    goal = page.get_by_label(titled(Preferences, "target_snr"))
    goal.fill("5")
    goal.press("Enter")
    page.goto(f"{address}/rigs/heron/exposure")
    expect(page.get_by_text(like(T.exposure.wishedSignalToNoiseWishedLink, wished=5))).to_be_visible()
