"""The rest of what hands and keys can do on the Board and on a rig."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from dravel.core.model import Corrector, Rig, Site, Telescope
from dravel.core.steps import STEPS
from tests.browser.conftest import finding, fix, held, saved, steady, step, titled, unfold
from tests.terms import T, fill, like


def panel(page: Page):
    return held(page)


def big(page: Page):
    return page.locator("[data-testid=big-numbers]")


def test_a_target_comes_to_the_board_and_goes(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.common.addATarget).click()
    search = page.get_by_label(T.board.addATargetToTheBoard)
    search.fill("nothing of that name")
    expect(page.get_by_text(T.kit.nothingOfThatNameNumbersAnd)).to_be_visible()
    search.fill("m 31")
    expect(page.locator("[data-testid=target-search] li").first).to_contain_text("Andromeda Galaxy")
    search.press("Enter")
    heading = page.get_by_role("columnheader", name=re.compile("^M31"))
    expect(heading).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("Bittern on M31: .* tiles"))).to_be_visible()
    heading.hover()
    page.get_by_role("button", name=fill(T.board.takeTargetOffTheBoard, target="M31")).click()
    expect(heading).to_be_hidden()
    page.get_by_role("button", name=T.board.putItBack).click()
    expect(heading).to_be_visible()


def test_a_cell_leads_to_its_target_and_offers_to_frame_it(page: Page, address: str):
    page.goto(address)
    page.get_by_role("link", name=re.compile("Heron on M13")).click()
    expect(page.get_by_text(fill(T.aim.rigDoesNotFrameAskedYet, rig="Heron", asked="M13"))).to_be_visible()
    page.get_by_role("button", name=fill(T.aim.frameAsked, asked="M13")).click()
    expect(page.get_by_role("slider", name=fill(T.aim.footprintOnTarget, target="M13"))).to_be_visible()
    saved(page, 2)
    expect(panel(page)).to_contain_text("M13")
    page.get_by_role("button", name=T.aim.takeOffThisRig).click()
    expect(panel(page)).not_to_contain_text("M13")


def test_a_rig_is_put_away_and_brought_back(page: Page, address: str):
    page.goto(f"{address}/rigs/wren/optics")
    page.get_by_role("button", name=T.common.putAway3, exact=True).click()
    expect(page).to_have_url(f"{address}/")
    expect(page.get_by_role("link", name=re.compile("^warning Wren"))).to_be_hidden()
    page.get_by_role("button", name=T.common.bringItBack).click()
    expect(page.get_by_role("rowheader", name=re.compile("^warning Wren"))).to_be_visible()


def test_an_empty_rig_says_what_to_do_next(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.common.newRig).click()
    expect(page.get_by_text(T.rig.anEmptyPathLightComesIn)).to_be_visible()
    expect(page.get_by_label(T.rig.findings)).to_contain_text(T.rig.nothingToJudgeYetLayA)
    page.get_by_test_id("missing").locator("summary").click()
    lacking = page.get_by_test_id("missing").locator("[data-figure='optics.focal_length_mm']")
    expect(lacking).to_contain_text(str(STEPS.evaluate(Rig(name="x")).missing[0].because))
    step(page, "aim").click()
    expect(page.get_by_text(T.aim.noTargetYetAddOneBy)).to_be_visible()
    page.get_by_role("link", name=T.board.board, exact=True).click()
    expect(
        page.get_by_role("link", name=like(T.board.nameOnName2NoFieldYet, name=T.common.newRig, name2="M13"))
    ).to_be_visible()


def test_binning_school_and_purpose_are_felt_at_once(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/optics")
    expect(big(page)).to_contain_text("0.98")
    page.get_by_label(T.optics.binning).fill("1")
    page.get_by_label(T.optics.binning).press("Enter")
    expect(big(page)).to_contain_text("0.49")
    fix(unfold(page, "O2"), "/binning").click()
    expect(finding(page, "O2", verdict="warning")).to_have_count(0)
    page.goto(f"{address}/rigs/heron/optics")
    expect(finding(page, "O2", verdict="warning")).to_be_visible()
    page.get_by_label(T.optics.samplingSchool).click()
    page.locator(".ant-select-item-option", has_text=T.optics.comfortBand).click()
    expect(finding(page, "O2", verdict="warning")).to_have_count(0)
    expect(held(page)).to_contain_text("1.95″/px")
    page.get_by_label(T.optics.samplingSchool).click()
    page.locator(".ant-select-item-option", has_text=T.optics.asInPreferences).click()
    expect(finding(page, "O2", verdict="warning")).to_be_visible()
    page.get_by_label(T.rig.purposes).click()
    page.locator(".ant-select-item-option[title='wide field']").click()
    expect(finding(page, "O2", verdict="warning")).to_have_count(0)


def test_a_solved_frame_goes_over_the_design(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    solved = page.get_by_label(T.optics.focalLengthFromASolvedFrame)
    solved.fill("0")
    solved.blur()
    expect(page.get_by_text(fill(T.kit.liesOutsideWhatCanBeAccepted, range="4 to 100000 mm"))).to_be_visible()
    expect(solved).to_have_value("0")
    solved.fill("397")
    solved.press("Enter")
    expect(big(page)).to_contain_text("397")
    expect(finding(page, "O6", verdict="warning")).to_contain_text("+7.0%")
    fix(unfold(page, "O6"), "/part").click()
    held(page)
    expect(finding(page, "O6", verdict="ok")).to_be_visible()
    page.get_by_role("button", name=re.compile("×0.8 reducer, M63, ")).click()
    expect(page.locator("[data-testid=inspector]")).to_contain_text(
        fill(T.rig.measuredField, field=titled(Corrector, "factor").lower())
    )
    expect(page.locator("[data-testid=inspector]")).to_contain_text("0.8556")


def test_the_ledger_unfolds_schools_working_and_rule(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    item = unfold(page, "O2")
    expect(item.locator("[data-testid=schools] li")).to_have_count(3)
    expect(item.locator("[data-testid=schools] [data-mine=true]")).to_be_visible()
    item.get_by_text(T.rig.working).click()
    expect(item).to_contain_text("F / scale")
    item.get_by_role("link", name=fill(T.rig.ruleCode, code="O2")).click()
    expect(page.get_by_role("heading", name=STEPS.rules["O2"].title, exact=True)).to_be_visible()


def test_framing_by_buttons_and_numbers(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ic-1805")
    side = page.locator("[data-testid=aim-side]")
    expect(side).to_contain_text(T.aim.landscape)
    page.get_by_role("button", name=T.aim.landscapePortrait).click()
    expect(side).to_contain_text(T.aim.portrait)
    columns = side.get_by_label("columns")
    columns.fill("3")
    columns.press("Enter")
    expect(side).to_contain_text(fill(T.aim.tilesTiles, tiles=3))
    expect(page.locator("[data-testid=footprint] polygon")).to_have_count(3)
    overlap = side.get_by_label(T.aim.overlap)
    before = side.locator("[data-testid=reading]").nth(2).inner_text()
    overlap.fill("40")
    overlap.press("Enter")
    expect(side.locator("[data-testid=reading]").nth(2)).not_to_have_text(before)
    frame = page.get_by_role("slider", name=fill(T.aim.footprintOnTarget, target="IC 1805"))
    frame.focus()
    for _ in range(4):
        frame.press("Shift+ArrowLeft")
    expect(side.locator("[data-testid=centre]")).not_to_contain_text("2h 32m 42s")
    frame.press("0")
    expect(side.locator("[data-testid=centre]")).to_contain_text("2h 32m 42s")


def test_the_handle_turns_the_frame(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ic-1805")
    handle = page.locator("[data-testid=turn-handle]")
    box, middle = steady(handle), steady(page.locator("[data-testid=centre-dot]"))
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    reach = middle["y"] - y
    page.mouse.move(x, y)
    page.mouse.down()
    # Up to the left: a quarter turn towards the east is seen counter-clockwise.
    page.mouse.move(x - reach, middle["y"], steps=10)
    page.mouse.up()
    expect(page.locator("[data-testid=aim-side]")).to_contain_text(re.compile("(17[789]|18[012])°"))
    saved(page, 2)


def test_an_earlier_framing_is_taken_up_again(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ngc-281")
    side = page.locator("[data-testid=aim-side]")
    page.get_by_role("button", name=T.aim.landscapePortrait).click()
    saved(page, 2)
    side.get_by_text(fill(T.aim.earlierFramingsFound, found="1")).click()
    side.get_by_test_id("earlier-framing").filter(has_text=re.compile("^90°")).click()
    saved(page, 3)
    expect(side).to_contain_text(fill(T.aim.positionAngleTurn, turn=T.aim.landscape))
    side.get_by_test_id("earlier-framing").filter(has_text=re.compile("^0°")).click()
    saved(page, 4)
    page.get_by_role("button", name=T.aim.takeOffThisRig).click()
    saved(page, 5)
    page.get_by_role("button", name=fill(T.aim.frameAsked, asked="NGC 281")).click()
    expect(side).to_contain_text(fill(T.aim.positionAngleTurn, turn=T.aim.portrait))


def test_closer_and_wider(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ic-1805")
    bar = page.locator("[data-testid=scale-bar] text")
    expect(bar).to_have_text("1°")
    for _ in range(5):
        page.get_by_role("button", name=T.aim.closer).click()
    expect(bar).to_have_text("10′")
    frame = page.get_by_role("slider", name=fill(T.aim.footprintOnTarget, target="IC 1805"))
    frame.focus()
    for _ in range(5):
        frame.press("-")
    expect(bar).to_have_text("1°")


def test_keys_lead_through_the_steps_and_to_the_shelf(page: Page, address: str):
    page.goto(f"{address}/rigs/wren/optics")
    expect(page.locator("[data-testid=light-strip]")).to_be_visible()
    page.keyboard.press("1")
    expect(page.locator("[data-testid=sky-patch]")).to_be_visible()
    page.keyboard.press("2")
    expect(page.locator("[data-testid=optics-step]")).to_be_visible()
    page.keyboard.press("l")
    expect(page.get_by_label(T.common.searchTheShelf)).to_be_focused()
    page.keyboard.type("rotator")
    expect(page.locator("[data-testid=picker-list] button").first).to_contain_text("M48 rotator")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=re.compile("M48 rotator, 11 mm"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("M48 rotator, 11 mm"))).to_be_hidden()


def test_a_filter_needs_a_holder(page: Page, address: str):
    page.goto(f"{address}/rigs/wren/optics")
    page.get_by_role("button", name=T.rig.layAPart2).click()
    page.get_by_label(T.common.kindOfPart).select_option("filter")
    page.locator("[data-testid=picker-list] button").first.click()
    expect(page.get_by_text(T.rig.layAFilterHolderFirst)).to_be_visible()
    page.goto(f"{address}/rigs/heron/optics")
    page.get_by_role("button", name=re.compile("^21 mm filter drawer, 21 mm")).click()
    page.get_by_label(T.common.filterInUse).click()
    page.locator(".ant-select-item-option", has_text="UV/IR-cut filter").click()
    saved(page, 2)


def test_export_gives_the_rig_file(page: Page, address: str, tmp_path: Path):
    page.goto(f"{address}/rigs/magpie/optics")
    with page.expect_download() as caught:
        page.get_by_role("link", name=T.rig.export).click()
    path = tmp_path / "magpie.json"
    caught.value.save_as(path)
    example = Path(__file__).parents[2] / "docs" / "examples" / "magpie.json"
    assert path.read_text() == example.read_text()


def test_a_reading_goes_beside_the_makers_figure(page: Page, address: str):
    page.goto(f"{address}/shelf?part=triplet-86")
    page.get_by_label(T.shelf.fieldMeasured).click()
    page.locator(".ant-select-item-option", has_text=T.optics.focalLength).first.click()
    page.get_by_role("button", name=T.shelf.addAReading).click()
    reading = page.get_by_role("group", name=re.compile("Measured by you")).get_by_label(T.optics.focalLength)
    reading.fill("459")
    reading.blur()
    page.get_by_role("button", name=T.common.keep).click()
    expect(page.get_by_text(like(T.shelf.bodyIsOnTheShelf))).to_be_visible()
    page.goto(f"{address}/rigs/heron/optics")
    expect(big(page)).to_contain_text("367")  # 459 × 0.8
    page.locator("[data-testid=big-numbers] button", has_text=T.common.focalLength).click()
    expect(page.locator(".ant-popover [data-testid=working]")).to_contain_text("measured (callipers)")


def test_what_was_typed_is_not_dropped_by_a_slip(page: Page, address: str):
    page.goto(f"{address}/shelf?part=triplet-86")
    page.get_by_label(titled(Telescope, "maker"), exact=True).fill("unnamed workshop")
    page.get_by_role("button", name=T.shelf.cancel).click()
    expect(page.locator(".ant-modal-confirm-title:visible").first).to_have_text(T.shelf.letGoOfWhatYouTyped)
    page.get_by_role("button", name=T.shelf.keepEditing).click()
    expect(page.get_by_label(titled(Telescope, "maker"), exact=True)).to_have_value("unnamed workshop")


def test_a_refused_name_stays_with_its_reason(page: Page, address: str):
    page.goto(f"{address}/shelf?part=triplet-86")
    page.get_by_label(T.sky.name, exact=True).fill("")
    page.get_by_role("button", name=T.common.keep).click()
    expect(page.get_by_text("String should have at least 1 character", exact=True)).to_be_visible()
    page.get_by_label(T.sky.name, exact=True).fill("A name")
    page.get_by_role("button", name=T.common.keep).click()
    expect(page.get_by_text(fill(T.shelf.bodyIsOnTheShelf, body="A name"))).to_be_visible()


def test_sites_change_the_seeing_of_their_rigs(page: Page, address: str):
    page.goto(f"{address}/sky")
    ridge = page.get_by_role("group", name="Alto de Veleda")
    seeing = ridge.get_by_label(titled(Site, "seeing_arcsec"))
    seeing.fill("4")
    seeing.blur()
    latitude = ridge.get_by_label(titled(Site, "latitude_deg"))
    latitude.fill("95")
    latitude.blur()
    expect(ridge).to_contain_text(fill(T.kit.liesOutsideWhatCanBeAccepted, range="−90 to 90 °"))
    page.get_by_role("button", name=T.common.addASite).click()
    expect(page.get_by_role("dialog", name=T.sky.whereDoYouObserveFrom)).to_be_visible()
    page.keyboard.press("Escape")
    page.goto(f"{address}/rigs/bittern/optics")
    expect(finding(page, "O2", verdict="warning")).to_be_visible()


def test_daylight_is_remembered(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.app.daylight).click()
    expect(page.locator("html")).to_have_attribute("data-theme", "light")
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "light")
    page.get_by_test_id("help").click()
    page.get_by_role("link", name=T.help.about).click()
    expect(page.get_by_text("CC BY-SA 4.0")).to_be_visible()
    expect(page.get_by_text(T.about.neverPointOpticsNearTheSun)).to_be_visible()
