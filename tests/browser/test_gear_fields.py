"""More of Load, Guide, Power and Preferences by hand: numbers typed, schools felt, cables, weights at hand, a phone."""

import re

from playwright.sync_api import Page, expect

from dravel.core.model import Mount
from dravel.core.model.rig import Guide
from tests.browser.conftest import finding, fix, quiet, saved, step, titled, unfold
from tests.terms import T, fill, like


def test_keys_lead_to_the_new_steps(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    expect(step(page, "power")).to_be_visible()
    for key, place in (("4", "mount"), ("5", "guiding"), ("6", "power"), ("1", "aim")):
        page.keyboard.press(key)
        expect(page).to_have_url(re.compile(f"/rigs/heron/{place}"))


def test_a_rider_is_moved_by_numbers_and_kept(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    page.get_by_role("slider", name=fill(T.mount.boxOnTheTube, box="50 mm f/4 guide scope")).focus()
    scope = page.get_by_role("group", name="50 mm f/4 guide scope")
    scope.get_by_label(T.mount.along).fill("120")
    scope.get_by_label(T.mount.along).press("Enter")
    saved(page, 2)
    expect(page.get_by_role("slider", name=fill(T.mount.boxOnTheTube, box="50 mm f/4 guide scope"))).to_have_attribute(
        "aria-valuenow", "120"
    )
    scope.get_by_label(T.mount.along).fill("far away")
    scope.get_by_label(T.mount.along).press("Enter")
    expect(scope.get_by_text(like(T.kit.isNotANumberAcceptedIs))).to_be_visible()
    expect(scope.get_by_label(T.mount.along)).to_have_value("far away")
    page.reload()
    expect(page.get_by_role("slider", name=fill(T.mount.boxOnTheTube, box="50 mm f/4 guide scope"))).to_have_attribute(
        "aria-valuenow", "120"
    )


def test_what_is_off_at_night_leaves_the_balance(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    carried = page.locator("[data-testid=mount-numbers] [data-testid=figure]").first
    expect(carried).to_contain_text("7.2")
    page.get_by_role("tab", name=like(T.mount.allThatRidesAlongCount)).click()
    page.get_by_role("button", name=re.compile("^small controller")).click()
    page.get_by_role("group", name="small controller").get_by_label(T.mount.offAtNight).check()
    expect(carried).to_contain_text("7.0")
    expect(page.get_by_text("Removed before imaging, not counted: small controller.")).to_be_visible()


def test_other_weights_that_balance_are_hung_with_one_click(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    page.get_by_role("tab", name=T.mount.otherWeights).click()
    page.get_by_role("list", name=T.mount.weightsThatBalance).get_by_role("button", name=re.compile("^7 kg at")).click()
    expect(page.get_by_role("slider", name=re.compile("7 kg counterweight.*on the shaft"))).to_be_visible()
    expect(step(page, "mount").locator("[data-verdict=ok]")).to_be_visible()


def test_a_stricter_school_of_payload_is_felt(page: Page, address: str):
    page.goto(f"{address}/preferences")
    page.get_by_role("radio", name=re.compile("One half")).check()
    quiet(page)
    page.goto(f"{address}/rigs/heron/mount")
    expect(finding(page, "L1", verdict="warning")).to_be_visible()


def test_a_thin_cable_is_told_and_changed(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/power")
    for cable in ("2 m supply cable, 1.5 mm²", "3 m lead, 0.5 mm²"):
        page.get_by_role("button", name=fill(T.power.takeTheCableAway, cable=cable)).click()
        expect(page.get_by_role("button", name=fill(T.power.takeTheCableAway, cable=cable))).to_have_count(0)
    page.get_by_role("button", name=T.power.addACable).click()
    page.locator("[data-testid=picker-list] button", has_text="5 m supply cable").click()
    expect(page.get_by_text(re.compile("7.1 A, 1.85 V"))).to_be_visible()
    thin = unfold(page, "P3")
    thin.get_by_role("button", name=re.compile("2 m supply cable")).first.click()
    expect(page.get_by_text(re.compile("1.85 V"))).to_have_count(0)


def test_what_hangs_on_a_cable_is_said_where_it_is_listed(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/power")
    expect(page.get_by_text(re.compile("0.4 A, 0.47 V"))).to_be_visible()
    page.get_by_label(fill(T.power.cableFeeds, cable="3 m lead, 0.5 mm²")).click()
    page.locator(".ant-select-item-option", has_text="cooled colour camera").click()
    expect(page.get_by_text(re.compile("3.2 A, 1.13 V"))).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_label(fill(T.power.cableIsPluggedInto, cable="3 m lead, 0.5 mm²")).click()
    page.locator(".ant-select-item-option", has_text=T.power.atTheSupply).click()
    expect(page.get_by_text(re.compile("3.2 A, 0.75 V"))).to_be_visible()


def test_the_planned_sub_is_felt_at_the_corner(page: Page, address: str):
    page.goto(f"{address}/rigs/wren/guiding")
    sub = page.get_by_label(titled(Guide, "sub_s"))
    sub.fill("600")
    sub.press("Enter")
    expect(finding(page, "G5", verdict="problem")).to_be_visible()
    expect(page.get_by_test_id("uncorrected")).to_be_visible()
    fix(page.get_by_test_id("guiding-foot"), "/guide/sub_s").click()
    expect(step(page, "guiding").locator("[data-verdict=ok]")).to_be_visible()


def test_new_kinds_of_parts_are_made_on_the_shelf(page: Page, address: str):
    page.goto(f"{address}/shelf")
    page.get_by_label(T.common.searchTheShelf).fill("strain-wave")
    expect(page.get_by_text("strain-wave head, 13 kg")).to_be_visible()
    page.get_by_text("strain-wave head, 13 kg").click()
    expect(page.get_by_label(titled(Mount, "payload_kg"))).to_have_value("13")


def test_balancing_on_a_phone_in_the_field(page: Page, address: str):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/rigs/heron/mount")
    page.evaluate("localStorage.setItem('dravel.theme', 'red')")
    page.reload()
    expect(page.get_by_role("slider", name=T.mount.tubeInTheSaddle)).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    weight = page.get_by_role("slider", name=re.compile("5.1 kg"))
    weight.focus()
    page.keyboard.press("Shift+ArrowDown")
    page.get_by_role("button", name=T.mount.balanceTheWeights).click()
    expect(weight).to_have_attribute("aria-valuenow", "228")
