"""Tonight by hand: two rigs planned, a run slid along the night, free hours, another night."""

import re

from playwright.sync_api import Page, expect

from tests.terms import T


def test_a_night_is_planned_and_a_run_slid(page: Page, address: str):
    page.goto(f"{address}/tonight")
    page.get_by_role("combobox", name=T.tonight.rigsOfTheNight).click()
    page.locator(".ant-select-item-option").get_by_text("Heron", exact=True).click()
    page.keyboard.press("Escape")
    line = page.get_by_test_id("time-line")
    run = line.get_by_role("slider", name="Heron, NGC 281")
    expect(run).to_be_visible()
    before = int(run.get_attribute("aria-valuenow"))
    run.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(run).to_have_attribute("aria-valuenow", str(before + 6))
    expect(run).to_have_attribute("aria-valuetext", re.compile(T.running.keptWhereItWasPut))
    page.get_by_role("button", name=T.common.planAllAnew).click()
    expect(run).to_have_attribute("aria-valuenow", str(before))


def test_free_hours_shorten_the_night_and_say_which_night_serves_the_rest(page: Page, address: str):
    page.goto(f"{address}/tonight")
    expect(page.get_by_test_id("fits").locator("li").first).to_be_visible()
    until = page.get_by_label(T.tonight.freeUntilOnTheClock)
    until.fill("22")
    until.press("Enter")
    expect(page.get_by_test_id("fits")).to_contain_text("the rest on")
    expect(page.get_by_test_id("hands")).to_contain_text("pack up")
    page.get_by_role("button", name=T.running.goToThatNight).first.click()
    expect(page).to_have_url(re.compile("night=2026-"))


def test_the_fortnight_ahead_leads_to_a_night(page: Page, address: str):
    page.goto(f"{address}/tonight")
    page.get_by_text(T.tonight.theFortnightAhead).click()
    table = page.get_by_test_id("ahead")
    expect(table.locator("tbody tr").first).to_be_visible()
    table.locator("thead button.link").nth(9).click()
    expect(page).to_have_url(re.compile("night=2026-12-04"))
