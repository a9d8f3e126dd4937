"""Looking for targets on the screen: map and written coordinates, the catalogue, the moon, months, the hop card."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from dravel.core.model import Site
from tests.browser.conftest import finding, held, steady, titled, unfold
from tests.terms import T, fill, like


def test_a_place_is_picked_on_the_map_by_hand_and_by_key(page: Page, address: str):
    page.goto(f"{address}/sky")
    expect(page.get_by_label(titled(Site, "latitude_deg"))).to_have_value("40.9")
    world = page.get_by_role("group", name=T.sky.mapOfTheWorld)
    box = steady(world)
    page.mouse.click(box["x"] + box["width"] * 0.25, box["y"] + box["height"] * 0.3)
    expect(page.get_by_label(titled(Site, "latitude_deg"))).not_to_have_value("40.9")
    latitude, longitude = (
        float(page.get_by_label(name).input_value().replace("−", "-"))
        for name in ("Latitude", "Longitude, east positive")
    )
    # A pixel of the map is half a degree.
    assert 20 < latitude < 40 and abs(longitude + 90) < 0.6
    page.get_by_role("slider", name=T.sky.placeOnTheMap).focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_label(titled(Site, "latitude_deg"))).to_have_value(f"{latitude - 1:g}".replace("-", "−"))
    page.get_by_role("button", name=T.sky.closerOnTheMap).click()
    page.get_by_role("button", name=T.sky.closerOnTheMap).click()
    page.get_by_role("slider", name=T.sky.placeOnTheMap).focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_label(titled(Site, "longitude_deg"))).to_have_value(f"{longitude + 0.1:.1f}".replace("-", "−"))


def test_written_coordinates_are_read_and_a_slip_stays_with_its_reason(page: Page, address: str):
    page.goto(f"{address}/sky")
    field = page.get_by_label(T.sky.coordinatesOfTheSite)
    field.fill("95, 100")
    field.press("Enter")
    expect(page.get_by_text("latitude_deg: cannot be 95")).to_be_visible()
    expect(field).to_have_value("95, 100")
    field.fill("3°30′W 41°15′N")
    field.press("Enter")
    expect(page.get_by_text("longitude stood first")).to_be_visible()
    expect(page.get_by_label(titled(Site, "latitude_deg"))).to_have_value("41.25")
    expect(page.get_by_label(titled(Site, "longitude_deg"))).to_have_value("−3.5")


def test_the_catalogue_by_season_kind_and_rig(page: Page, address: str):
    page.goto(f"{address}/sky")
    page.get_by_role("button", name=T.sky.theWholeCatalogue).click()
    catalogue = page.get_by_role("region", name=T.sky.catalogue)
    answer = catalogue.get_by_role("status")
    expect(answer).to_contain_text(like(T.sky.totalObjectsFoundBodyMonths))
    page.get_by_role("combobox", name=T.sky.season).click()
    page.get_by_title("April", exact=True).click()
    expect(answer).to_contain_text("mid-April")
    page.get_by_role("combobox", name=T.sky.fitsTheRig).click()
    page.get_by_title("Bittern").last.click()
    catalogue.get_by_label("Brighter than").fill("9")
    catalogue.get_by_label("Brighter than").press("Enter")
    expect(catalogue.get_by_role("row", name="M51")).to_be_visible()
    expect(catalogue.get_by_role("row", name="M31 ")).to_have_count(0)
    catalogue.get_by_role("button", name=fill(T.sky.keepTarget, target="M51")).click()
    expect(page.get_by_text(fill(T.sky.targetIsAmongYourTargets, target="M51"))).to_be_visible()
    page.get_by_role("button", name=T.sky.yourTargets).click()
    expect(
        page.get_by_role("row", name="M51").get_by_role("img", name=fill(T.sky.yearYear, year="best in"))
    ).to_be_visible()


def test_the_way_of_a_target_over_the_horizon(page: Page, address: str):
    page.goto(f"{address}/sky")
    page.get_by_role("button", name="Town terrace").click()
    page.get_by_role("combobox", name=T.sky.targetOverTheHorizon).click()
    page.get_by_title("NGC 281").last.click()
    expect(page.locator("[data-testid=track-usable]")).to_have_attribute("d", re.compile("^M"))


def test_the_moon_is_framed_where_it_stands(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim")
    page.get_by_role("button", name=T.common.addATarget).click()
    page.get_by_label(T.aim.addATargetToThisRig).fill("moon")
    expect(page.locator("[data-testid=target-search] li")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(page.get_by_text("moon, 34′ on the night")).to_be_visible()
    expect(page.get_by_text("100%")).to_be_visible()
    held(page)
    expect(finding(page, "V3")).to_be_visible()


def test_months_say_which_rig_they_suit(page: Page, address: str):
    page.goto(address)
    months = page.get_by_role("region", name=T.board.whichRigAMonthSuits)
    expect(months.get_by_text("Wren has few targets in April")).to_be_visible()
    expect(months.locator("td[data-suits=true]")).to_have_count(12)


def test_a_hop_card_opens(page: Page, address: str, tmp_path: Path):
    page.goto(f"{address}/rigs/wren/aim")
    page.get_by_role("button", name=T.common.hopCard).click()
    page.get_by_label(T.aim.fieldOfTheFinderEmptyThe).fill("5")
    page.get_by_label(T.aim.fieldOfTheFinderEmptyThe).press("Enter")
    page.get_by_role("button", name=T.aim.lookAtTheChart).click()
    sheet = page.get_by_role("dialog", name=T.common.hopCard).get_by_role("img", name=T.common.hopCard)
    assert "field_deg=5" in (sheet.get_attribute("src") or "")
    assert "Hop card: Veil complex" in page.request.get(address + (sheet.get_attribute("src") or "")).text()
    expect(sheet).to_be_visible()
    assert sheet.evaluate("image => image.decode().then(() => image.naturalWidth)") > 500


def test_another_rig_is_pointed_to(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/aim")
    page.get_by_role("button", name=T.common.addATarget).click()
    page.get_by_label(T.aim.addATargetToThisRig).fill("IC 1805")
    expect(page.locator("[data-testid=target-search] li").first).to_contain_text("IC 1805")
    page.keyboard.press("Enter")
    unfold(page, "A4", "IC 1805")
    page.get_by_role("link", name=re.compile("^Use Heron")).click()
    expect(page.get_by_role("heading", name="Heron")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^IC 1805"))).to_have_attribute("aria-pressed", "true")
