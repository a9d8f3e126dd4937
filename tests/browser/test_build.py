"""Build by hand: card by card on a phone, the connection lost between ticks, cards left out, what stays together."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import finding
from tests.terms import T, like


def test_wren_is_built_card_by_card_on_a_phone(page: Page, address: str):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/rigs/wren/assembly")
    card = page.get_by_test_id("card")
    expect(card.get_by_role("heading", name="Measure the train with callipers")).to_be_visible()
    total = page.get_by_test_id("cards").locator("li").count()
    for i in range(total):
        expect(page.get_by_test_id("assembly-progress")).to_contain_text(f"{i} of {total}")
        assert card.get_by_role("button", name=T.common.done).bounding_box()["height"] >= 48
        card.get_by_role("button", name=T.common.done).click()
    expect(card).to_contain_text(T.common.itStandsAndItRuns)
    expect(page.get_by_test_id("ticks-told")).to_have_attribute("data-waiting", "0")
    card.get_by_role("button", name=T.assembly.beginTheNextBuild).click()
    # What is done once is not asked for again.
    expect(page.get_by_test_id("assembly-progress")).to_contain_text(f"0 of {total - 1}")
    expect(card.get_by_role("heading", name=re.compile("^Set up the photo tripod"))).to_be_visible()


def test_ticks_survive_a_lost_connection(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/assembly")
    done = page.get_by_test_id("card").get_by_role("button", name=T.common.done)
    expect(done).to_be_visible()
    page.context.set_offline(True)
    for _ in range(3):
        done.click()
    expect(page.get_by_test_id("ticks-told")).to_have_attribute("data-waiting", "3")
    expect(page.get_by_test_id("assembly-progress")).to_contain_text("3 of 39")
    page.context.set_offline(False)
    expect(page.get_by_test_id("ticks-told")).to_have_attribute("data-waiting", "0")
    page.reload()
    expect(page.get_by_test_id("assembly-progress")).to_contain_text("3 of 39")


def test_keys_walk_the_cards_and_what_is_missing_is_said(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/assembly")
    card = page.get_by_test_id("card")
    expect(card.get_by_role("heading", name="Measure the train with callipers")).to_be_visible()
    card.get_by_role("button", name=T.common.later).click()
    expect(card.get_by_role("heading", name="Set up the steel tripod")).to_be_visible()
    page.keyboard.press("n")
    page.get_by_test_id("cards").get_by_role("button", name="equatorial mount, 13 kg on the tripod", exact=True).click()
    expect(card.get_by_role("heading", name="equatorial mount, 13 kg on the tripod")).to_be_visible()
    page.keyboard.press("b")
    expect(card.get_by_role("heading", name="Set up the steel tripod")).to_be_visible()
    page.get_by_test_id("cards").get_by_role("button", name="86 mm f/5.4 triplet into the saddle", exact=True).click()
    expect(card).to_contain_text(like(T.assembly.notYetCurrent))
    expect(page.get_by_test_id("exploded").locator(".lit")).to_have_count(1)


def test_a_card_left_out_is_told_and_put_back(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/assembly")
    row = page.get_by_test_id("cards").locator("li", has_text="Caps, mask and lights off")
    row.hover()
    row.get_by_role("button", name=like(T.common.leaveOutTitle)).click()
    expect(finding(page, "B1", verdict="warning")).to_be_visible()
    page.get_by_text(T.assembly.leftOut).get_by_role("button", name="Caps, mask and lights off").click()
    expect(finding(page, "B1", verdict="warning")).to_have_count(0)


def test_what_stays_together_shortens_the_build(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/assembly")
    expect(page.get_by_test_id("assembly-progress")).to_contain_text("of 39")
    page.get_by_role("combobox", name=T.assembly.whatStaysTogether).click()
    page.locator(".ant-select-item-option").get_by_text(T.assembly.allStaysOnTheMount).click()
    expect(page.get_by_test_id("cards")).to_contain_text("Lift the rig onto the tripod")
    page.get_by_role("button", name=T.assembly.down, exact=True).click()
    expect(page.get_by_test_id("cards")).to_contain_text("Lift it off as one.")
