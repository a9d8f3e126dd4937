"""Expose by hand: hours from the terrace and the ridge, a body that starves, the sub dragged, a plan laid, filters turned."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import quiet, steady, unfold


@pytest.fixture
def opened(page: Page, address: str) -> Page:
    page.goto(f"{address}/rigs/heron/expose?target=ngc-281")
    expect(page.get_by_test_id("noise-curve")).to_be_visible()
    return page


def hours(page: Page) -> float:
    """Hours that the rig needs for the wish, as the key under the curve tells."""
    told = page.get_by_test_id("hours-curve").locator(".curve-key li").first
    expect(told).to_contain_text("Heron")
    return float(told.locator("strong").inner_text().split()[0])


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_role("combobox", name=label).click()
    page.locator(".ant-select-item-option").get_by_text(option, exact=True).click()
    page.keyboard.press("Escape")


def test_hours_fall_from_the_terrace_to_the_ridge(opened: Page):
    ridge = hours(opened)
    choose(opened, "Site of the rig", "Town terrace below Veleda")
    expect(opened.get_by_text("revision 2")).to_be_visible()
    expect(opened.get_by_test_id("hours-curve").locator(".curve-key strong").first).not_to_have_text(f"{ridge} h")
    assert hours(opened) > 1.2 * ridge
    choose(opened, "Site of the rig", "Alto de Veleda")
    expect(opened.get_by_test_id("hours-curve").locator(".curve-key strong").first).to_have_text(f"{ridge} h")


def test_a_stock_body_starves_and_the_mend_feeds_it(page: Page, address: str):
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
    page.goto(f"{address}/rigs/heron/expose")
    unfold(page, "Body starves hydrogen")
    finding = page.get_by_test_id("finding").filter(has_text="Body starves hydrogen")
    expect(finding).to_contain_text("About 25% of the line")
    finding.get_by_role("button", name=re.compile("Swap in the")).first.click()
    expect(page.get_by_label("Ledger")).to_contain_text("Body starves hydrogen: now holds")


def test_the_sub_is_dragged_and_walked_and_numbers_follow(opened: Page):
    sub = opened.get_by_role("slider", name="Planned sub")
    expect(sub).to_have_attribute("aria-valuenow", "180")
    box = steady(sub)
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    opened.mouse.move(x, y)
    opened.mouse.down()
    opened.mouse.move(x + 30, y)
    opened.mouse.move(x + 60, y)
    expect(opened.get_by_role("heading", name=re.compile("One pixel over (300|420|600) s"))).to_be_visible()
    opened.mouse.up()
    expect(opened.get_by_text("revision 2")).to_be_visible()
    quiet(opened)  # where the hand let go, not where it was a moment before
    sub.focus()
    before = sub.get_attribute("aria-valuenow")
    opened.keyboard.press("ArrowLeft")
    expect(opened.get_by_text("revision 3")).to_be_visible()
    expect(sub).not_to_have_attribute("aria-valuenow", before)
    assert float(sub.get_attribute("aria-valuenow")) < float(before)
    opened.get_by_role("button", name=re.compile("^Plan .* the sub worth planning")).press("Enter")
    expect(sub).to_have_attribute("aria-valuenow", "180")
    opened.get_by_role("button", name="Undo", exact=True).click()
    # One length for all: Guide has the same sub.
    opened.get_by_role("button", name="Undo", exact=True).click()
    expect(sub).to_have_attribute("aria-valuenow", before)


def test_a_plan_is_laid_in_one_press_set_and_reordered(opened: Page):
    opened.get_by_role("button", name="Plan lines and stars").click()
    blocks = opened.get_by_test_id("plan-blocks").locator("[data-block]")
    expect(blocks).to_have_count(2)
    expect(blocks.first).to_contain_text("dual-line filter, 7 nm")
    blocks.first.focus()
    opened.keyboard.press("ArrowRight")
    expect(blocks.first).to_contain_text("ultraviolet and infrared cut")
    blocks.first.click()
    fields = opened.get_by_test_id("block-fields")
    count = fields.get_by_label("Subs", exact=True)
    count.fill("55")
    count.press("Enter")
    expect(blocks.first).to_contain_text("55 ×")
    fields.get_by_role("button", name="Drop it").click()
    expect(blocks).to_have_count(1)
    expect(opened.get_by_test_id("plan-sum")).to_contain_text("of light in")


def test_filters_turn_in_the_picture_and_others_are_held_beside(opened: Page):
    bars = opened.get_by_test_id("filter-bars")
    expect(bars.locator(".in-use")).to_contain_text("dual-line filter, 7 nm")
    bars.get_by_role("button", name=re.compile("^ultraviolet and infrared cut")).press("Enter")
    expect(bars.locator(".in-use")).to_contain_text("ultraviolet and infrared")
    opened.get_by_role("button", name="Undo", exact=True).click()
    expect(bars.locator(".in-use")).to_contain_text("dual-line")
    choose(opened, "Rigs held beside", "Wren")
    key = opened.get_by_test_id("hours-curve").locator(".curve-key li")
    expect(key).to_have_count(2)
    expect(key.last).to_contain_text("Wren")


def test_settings_darks_and_brightness_are_kept(opened: Page):
    opened.get_by_test_id("expose-more").locator("summary").click()
    modes = opened.get_by_test_id("modes")
    modes.get_by_role("button", name="0", exact=True).click()
    expect(modes.get_by_role("button", name="0", exact=True)).to_have_attribute("aria-pressed", "true")
    darks = opened.get_by_test_id("calibration").locator("li", has_text="180 s at")
    darks.get_by_role("button", name="On hand").click()
    expect(darks.get_by_role("button", name="No longer")).to_be_visible()
    light = opened.get_by_label("Hα light of what is wished")
    light.fill("300")
    light.press("Enter")
    expect(opened.get_by_text("in 300 R in Hα")).to_be_visible()
    choose(opened, "How long a sub", "fixed habit")
    expect(opened.get_by_text(re.compile("revision [45]"))).to_be_visible()


def test_what_is_missing_is_said_on_the_page(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/expose")
    page.evaluate(
        """async () => {
          const {rig, revision} = await (await fetch('/api/v1/rigs/heron')).json();
          rig.path[rig.path.length - 1].part.sensor.modes = [];
          await fetch('/api/v1/rigs/heron', {method: 'PUT', headers: {'content-type': 'application/json'},
            body: JSON.stringify({rig, base: revision, note: 'no settings'})});
        }"""
    )
    page.reload()
    expect(page.get_by_test_id("expose-lacks")).to_contain_text("gives no read noise")


def test_the_practice_holds_the_wish(page: Page, address: str):
    page.goto(f"{address}/practice")
    wish = page.get_by_label("Signal to noise wished for")
    wish.fill("5")
    wish.press("Enter")
    page.goto(f"{address}/rigs/heron/expose")
    expect(page.get_by_text("wished: signal to noise 5")).to_be_visible()
