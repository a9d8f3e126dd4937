"""Load, Guide, Power, Compare and Stages by hand: balance, switch, last the night, lay side by side, grow."""

import re

from playwright.sync_api import Page, expect

from dravel.core.model import Supply
from tests.browser.conftest import finding, held, saved, steady, step, titled, unfold
from tests.terms import T, fill, like


def test_balance_heron_from_scratch(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    page.get_by_role("button", name=fill(T.mount.takeTheWordsAway, words=T.mount.mount)).click()
    expect(page.get_by_text(T.mount.noMountYetWhatItMay)).to_be_visible()
    page.get_by_role("slider", name=re.compile("^5.1 kg")).focus()
    page.get_by_role("button", name=like(T.mount.takeThePartOff, part="5.1 kg")).click()
    page.get_by_role("button", name=fill(T.mount.chooseAWords, words=T.mount.mount)).click()
    page.get_by_label(T.common.searchTheShelf).fill("equatorial 13")
    page.locator("[data-testid=picker-list] button").first.click()
    expect(page.get_by_role("button", name="No counterweight")).to_be_visible()
    page.get_by_role("button", name=T.mount.hangAWeight).click()
    page.get_by_label(T.common.searchTheShelf).fill("5.1 kg")
    page.locator("[data-testid=picker-list] button").first.click()
    weight = page.get_by_role("slider", name=re.compile("^5.1 kg"))
    expect(weight).to_have_attribute("aria-valuenow", "220")
    weight.focus()
    page.keyboard.press("ArrowUp")
    expect(weight).to_have_attribute("aria-valuenow", "219")
    page.get_by_role("button", name=T.mount.balanceTheWeights).click()
    expect(weight).to_have_attribute("aria-valuenow", "228")
    tube = page.get_by_role("slider", name=T.mount.tubeInTheSaddle)
    tube.focus()
    for _ in range(4):
        page.keyboard.press("Shift+ArrowRight")
    expect(tube).to_have_attribute("aria-valuenow", "135")
    page.get_by_role("button", name=T.mount.balanceTheTube).click()
    expect(tube).to_have_attribute("aria-valuenow", "175")
    expect(step(page, "mount").locator("[data-verdict=ok]")).to_be_visible()
    expect(page.get_by_text(like(T.mount.markOnTheShaftMark))).to_contain_text("98 mm")


def test_a_weight_is_dragged_and_the_numbers_follow(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    weight = page.get_by_role("slider", name=re.compile("^5.1 kg"))
    box = steady(weight)
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 20)
    page.mouse.move(x, y + 40)
    expect(step(page, "mount").locator("[data-verdict=warning], [data-verdict=problem]")).to_be_visible()
    page.mouse.up()
    saved(page, 2)
    page.get_by_role("button", name=T.rig.undo, exact=True).click()
    expect(weight).to_have_attribute("aria-valuenow", "228")
    expect(step(page, "mount").locator("[data-verdict=ok]")).to_be_visible()


def test_a_rider_at_one_side_is_told_and_fixed(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    page.get_by_role("slider", name=fill(T.mount.boxOnTheTube, box="50 mm f/4 guide scope")).focus()
    page.get_by_role("combobox", name=fill(T.mount.sideOfThePart, part="50 mm")).click()
    page.get_by_title(T.spacing.left).last.click()
    unfold(page, "L5").locator("[data-testid=fix][data-verdict=ok]").first.click()
    expect(step(page, "mount").locator("[data-verdict=ok]")).to_be_visible()


def test_bitterns_guide_scope_fails_and_is_switched_to_off_axis(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/mount")
    page.get_by_role("button", name=T.mount.addARider).click()
    page.get_by_label(T.common.searchTheShelf).fill("30 mm f/4")
    page.locator("[data-testid=picker-list] button").first.click()
    step(page, "guiding").click()
    page.get_by_role("button", name=T.guiding.guideThroughTheScope).click()
    expect(finding(page, "G2", verdict="warning")).to_be_visible()
    expect(page.get_by_role("columnheader", name=re.compile("Guide scope"))).to_have_class("now")
    page.locator("[data-testid=guiding-foot]").get_by_role(
        "button", name="Guide off-axis with the installed guider"
    ).click()
    expect(page.get_by_role("columnheader", name=re.compile("Off-axis"))).to_have_class("now")
    expect(step(page, "guiding").locator("[data-verdict=ok]")).to_be_visible()


def test_wren_through_a_winter_night_on_its_battery(page: Page, address: str):
    page.goto(f"{address}/rigs/wren/power")
    big = page.locator("[data-testid=big-line]")
    expect(big).to_contain_text("12.2 h")
    expect(page.get_by_role("figure", name=like(T.power.chargeThroughTheNightUsableWh))).to_be_visible()
    held(page)
    expect(finding(page, "P1", verdict="ok")).to_be_visible()
    hours = page.get_by_label(titled(Supply, "hours"))
    hours.fill("30")
    hours.press("Enter")
    expect(page.get_by_text(like(T.power.emptyAfterLastsHH)).first).to_be_visible()
    unfold(page, "P1").get_by_test_id("fix").filter(has_text="256 Wh").click()
    expect(finding(page, "P1", verdict="ok")).to_be_visible()


def test_magpies_faults_in_these_steps_are_mended_by_clicks(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/mount")
    for code in ("L3", "L11", "P1"):
        unfold(page, code).get_by_test_id("fix").first.click()
        expect(finding(page, code, verdict="problem")).to_have_count(0)


def test_rigs_and_revisions_are_laid_side_by_side(page: Page, address: str):
    page.goto(f"{address}/compare")
    table = page.get_by_role("region", name=T.growth.rigsSideBySide)
    expect(table.get_by_role("columnheader", name="Magpie")).to_be_visible()
    expect(table.get_by_role("row", name=re.compile(f"^{T.growth.cost}"))).to_contain_text("EUR")
    before = table.get_by_role("row").count()
    page.get_by_role("button", name=T.growth.showAllRows).click()
    expect(page.get_by_role("button", name=T.growth.onlyWhatDiffers)).to_be_visible()
    assert table.get_by_role("row").count() > before
    page.get_by_role("combobox", name=T.growth.revisionsOf).click()
    page.get_by_title("Heron").last.click()
    page.get_by_role("combobox", name=T.growth.revision, exact=True).click()
    page.get_by_title("1: demo").click()
    expect(
        table.get_by_role("columnheader", name=fill(T.growth.rigRevisionRevision, rig="Heron", revision="1"))
    ).to_be_visible()


def test_revisions_side_by_side_name_the_parts_that_changed(page: Page, address: str):
    rig = page.request.get(f"{address}/api/v1/rigs/heron").json()["rig"]
    rig["path"] = [item for item in rig["path"] if item["part"]["id"] != "ring-m48-0-7"]
    rig["counterweights"][0]["position_mm"] += 15
    page.request.put(f"{address}/api/v1/rigs/heron", data={"rig": rig, "base": 1, "note": "shorter"})
    page.goto(f"{address}/compare?rigs=heron@1,heron")
    parts = page.get_by_test_id("compared-part")
    expect(parts).to_have_count(2)
    expect(parts.filter(has_text="0.7 mm M48 ring")).to_contain_text("has it—")
    weight = parts.filter(has_text="at 2")
    expect(weight.locator("td").nth(0)).not_to_have_text(weight.locator("td").nth(1).inner_text())


def test_stages_are_named_added_and_taken_out(page: Page, address: str):
    page.goto(f"{address}/stages")
    cards = page.locator("[data-testid=stage-cards] > li")
    expect(cards.nth(1)).to_contain_text(T.growth.newlyPossible)
    expect(cards.nth(1)).to_contain_text("guided by a guide scope")
    page.get_by_role("button", name=fill(T.growth.takeStageIOut, i="3")).click()
    expect(page.get_by_label(fill(T.growth.titleOfStageI, i="3"))).to_have_count(0)
    page.get_by_role("combobox", name=T.growth.addAStage).click()
    page.get_by_title("Magpie").last.click()
    expect(cards.nth(2)).to_contain_text("Magpie")
    expect(cards.nth(2)).to_contain_text("Problem left")
    page.get_by_label(fill(T.growth.titleOfStageI, i="3")).fill("A bargain")
    with page.expect_response(
        lambda answer: answer.request.method == "PUT" and "A bargain" in (answer.request.post_data or "")
    ):
        page.get_by_label(fill(T.growth.titleOfStageI, i="3")).press("Tab")
    page.reload()
    expect(page.get_by_label(fill(T.growth.titleOfStageI, i="3"))).to_have_value("A bargain")


def test_the_shopping_list(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/mount")
    page.get_by_role("button", name=T.rig.cost).click()
    drawer = page.get_by_role("dialog")
    expect(drawer.get_by_text(T.rig.toBuy)).to_be_visible()
    expect(drawer.get_by_role("row", name=re.compile("low focuser"))).to_contain_text("S4")
    expect(drawer.get_by_role("link", name=T.common.csv)).to_have_attribute("href", re.compile("shopping.csv"))
