"""The shelf, the preferences, the rule book, two tabs, and a lost server."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from dravel.core.model import Preferences, Telescope
from dravel.core.steps import STEPS
from tests.browser.conftest import held, quiet, saved, titled
from tests.terms import T, fill, like


def test_add_a_part_with_units_and_checks(page: Page, address: str):
    page.goto(f"{address}/shelf")
    page.get_by_role("button", name=T.shelf.newPart).click()
    page.get_by_label(T.common.kindOfPart).click()
    page.locator(".ant-select-item-option", has_text=T.parts.telescopeOrLens).click()
    page.get_by_label(T.sky.name, exact=True).fill("4-inch doublet")
    aperture = page.get_by_label(titled(Telescope, "aperture_mm"), exact=True)
    aperture.fill("4in")
    focal = page.get_by_label(T.optics.focalLength, exact=True)
    focal.fill("0")
    focal.blur()
    expect(page.get_by_text(fill(T.kit.liesOutsideWhatCanBeAccepted, range="4 to 30000 mm"))).to_be_visible()
    expect(page.get_by_role("button", name=T.common.keep)).to_be_disabled()
    focal.fill("seven hundred")
    expect(page.get_by_text(fill(T.kit.isNotANumberAcceptedIs, range="4 to 30000 mm"))).to_be_visible()
    expect(focal).to_have_value("seven hundred")
    focal.fill("700")
    mass = page.get_by_role("textbox", name=T.shelf.mass)
    mass.fill("11 lb")
    mass.blur()
    expect(aperture).to_have_value("101.6")
    expect(mass).to_have_value("4989.5161")
    page.get_by_role("button", name=T.common.keep).click()
    page.get_by_label(T.common.searchTheShelf).fill("4-inch doublet")
    expect(page.get_by_role("button", name="4-inch doublet", exact=True)).to_be_visible()


def test_edit_duplicate_and_put_away(page: Page, address: str):
    page.goto(f"{address}/shelf?part=triplet-86")
    page.get_by_label(T.optics.focalLength, exact=True).fill("468")
    page.get_by_role("button", name=T.common.keep).click()
    expect(page.get_by_text(fill(T.shelf.bodyIsOnTheShelf, body="86 mm f/5.4 triplet"))).to_be_visible()
    page.goto(f"{address}/rigs/heron/optics")
    expect(page.locator("[data-testid=big-numbers]")).to_contain_text("374")  # 468 x 0.8
    page.goto(f"{address}/shelf")
    page.get_by_label(T.common.searchTheShelf).fill("21 mm filter drawer")
    page.get_by_role("button", name=T.shelf.duplicate).first.click()
    page.get_by_role("button", name=T.common.keep).click()
    expect(page.get_by_role("button", name="21 mm filter drawer, copy", exact=True)).to_be_visible()
    page.locator("tr", has_text="21 mm filter drawer, copy").get_by_role("button", name=T.common.putAway2).click()
    expect(page.get_by_role("button", name="21 mm filter drawer, copy", exact=True)).to_be_hidden()
    page.get_by_role("button", name=T.common.bringItBack).click()
    expect(page.get_by_role("button", name="21 mm filter drawer, copy", exact=True)).to_be_visible()


def test_csv_shows_bad_lines_before_anything_is_kept(page: Page, address: str, tmp_path: Path):
    file = tmp_path / "parts.csv"
    file.write_text(
        "kind,name,size,use,thickness_mm\nfilter,Good filter,M48x0.75,red,2\nfilter,Thick one,M48x0.75,red,200\n"
    )
    page.goto(f"{address}/shelf")
    page.get_by_label(T.shelf.csvFileOfParts).set_input_files(file)
    expect(
        page.get_by_text(fill(T.kit.addedWhatCanBeReadWrong, added="1", what="part", wrong="1", which="line"))
    ).to_be_visible()
    expect(page.get_by_text("Thickness cannot be 200 mm; allowed 0.2 to 20 mm")).to_be_visible()
    page.get_by_role("button", name=fill(T.kit.addTheAddedGoodOnes, added="1")).click()
    page.get_by_label(T.common.searchTheShelf).fill("Good filter")
    expect(page.get_by_role("button", name="Good filter", exact=True)).to_be_visible()


def test_preferences_changes_school_and_units(page: Page, address: str):
    page.goto(f"{address}/preferences")
    page.get_by_role("radio", name=re.compile("Comfort band")).check()
    with page.expect_response(lambda answer: "imperial" in (answer.request.post_data or "")):
        page.get_by_role("radio", name=T.preferences.imperial).check()
    page.get_by_label(titled(Preferences, "assumed_airmass")).fill("0.3")
    page.get_by_label(titled(Preferences, "assumed_airmass")).blur()
    expect(page.get_by_text(fill(T.kit.liesOutsideWhatCanBeAccepted, range="1 to 10"))).to_be_visible()
    page.goto(f"{address}/rigs/heron/optics")
    expect(held(page)).to_contain_text("1.95″/px")
    expect(page.locator("[data-testid=mm-rule] [data-testid=unit]")).to_have_text(T.kit.inch)
    page.goto(f"{address}/preferences")
    expect(page.get_by_role("radio", name=T.preferences.imperial)).to_be_checked()
    page.get_by_role("radio", name=T.preferences.metric).check()
    page.get_by_role("radio", name=re.compile("2–3")).check()


def test_the_altitude_worth_having_and_the_darkness_are_chosen(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ic-1805")
    hours = page.locator("[data-testid=night-words] strong")
    expect(hours).to_contain_text("10 h")
    page.goto(f"{address}/preferences")
    page.get_by_label(titled(Preferences, "altitude_limit_deg")).fill("60")
    page.get_by_label(titled(Preferences, "altitude_limit_deg")).press("Enter")
    floor = page.get_by_label(titled(Preferences, "altitude_floor_deg"))
    floor.fill("55")
    floor.press("Enter")
    page.get_by_role("radio", name=T.preferences.sunBelow12).check()
    quiet(page)
    page.goto(f"{address}/rigs/heron/aim?target=ic-1805")
    expect(page.get_by_text(like(T.aim.usableHDarkAndFreeAbove, floor_deg=55))).to_be_visible()
    expect(hours).not_to_contain_text("10 h")


def test_rule_book(page: Page, address: str):
    page.goto(f"{address}/rules")
    page.get_by_role("link", name=re.compile("O3")).click()
    expect(page.get_by_role("heading", name=STEPS.rules["O3"].title)).to_be_visible()
    expect(page.locator("article")).to_contain_text("3h / 16N²")


def test_two_tabs_never_overwrite_one_another(page: Page, address: str):
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto(f"{address}/rigs/wren/optics")
        expect(tab.locator("[data-testid=light-strip]")).to_be_visible()
    page.get_by_label(T.rig.nameOfTheRig).fill("Theirs")
    page.get_by_label(T.rig.nameOfTheRig).press("Enter")
    saved(page, 2)
    other.get_by_label(T.rig.nameOfTheRig).fill("Mine")
    other.get_by_label(T.rig.nameOfTheRig).press("Enter")
    expect(other.get_by_test_id("notice-stale")).to_contain_text(
        like(T.rig.anotherWindowOrDeviceSavedRevision, current=2)
    )
    expect(other.get_by_label(T.rig.nameOfTheRig)).to_have_value("Mine")
    other.get_by_role("button", name=T.rig.keepMineAsACopy).click()
    expect(other.get_by_label(T.rig.nameOfTheRig)).to_have_value("Mine, copy")
    page.reload()
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("Theirs")


def test_a_change_outlives_a_lost_server(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/optics")
    expect(page.locator("[data-testid=light-strip]")).to_be_visible()
    page.route(
        "**/api/v1/rigs/bittern", lambda route: route.abort() if route.request.method == "PUT" else route.continue_()
    )
    page.get_by_label(T.rig.nameOfTheRig).fill("Heron of the night")
    page.get_by_label(T.rig.nameOfTheRig).press("Enter")
    expect(page.get_by_role("alert")).to_contain_text(T.api.dravelsServerDoesNotAnswerWhat)
    page.unroute("**/api/v1/rigs/bittern")
    page.on("dialog", lambda dialog: dialog.accept())
    page.reload()
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("Heron of the night")
    saved(page, 2)


def test_an_unknown_rig_and_an_unknown_page(page: Page, address: str):
    page.goto(f"{address}/rigs/none/optics")
    expect(page.get_by_role("alert")).to_contain_text("there is no rig 'none'")
    page.goto(f"{address}/nowhere")
    expect(page.get_by_role("link", name=T.app.toTheBoard, exact=True)).to_be_visible()


def test_a_belief_is_put_away_for_good_and_can_come_back(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    line = page.get_by_role("note")
    expect(line).to_contain_text("A smaller sensor multiplies")
    line.locator("button:not(.worked)").click()
    expect(line).to_contain_text("A reducer collects more light")
    page.reload()
    expect(line).to_contain_text("A reducer collects more light")
    page.goto(f"{address}/preferences")
    page.get_by_role("button", name=like(T.preferences.showTheCorrectedBeliefsAgainThat)).click()
    page.goto(f"{address}/rigs/heron/optics")
    expect(line).to_contain_text("A smaller sensor multiplies")
