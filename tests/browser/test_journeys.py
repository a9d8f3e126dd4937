"""What a user does, done in the real interface."""

import json
import re
import time
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect

from dravel.core.model import Sensor
from dravel.core.steps import STEPS
from tests.browser.conftest import saved, steady, step, titled
from tests.terms import T, fill

# How Bittern frames NGC 891 as saved: position angle and declination of the centre.
LAID = """async () => {
  const kept = await (await fetch('/api/v1/rigs/bittern')).json();
  const laid = kept.rig.framings.find((one) => one.target.id === 'ngc-891');
  return [laid.position_angle_deg, laid.centre_dec_deg];
}"""
EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"


def pick(page: Page, button: str, words: str, part: str) -> None:
    page.get_by_role("button", name=button, exact=True).click()
    page.get_by_label(T.common.searchTheShelf).fill(words)
    page.locator("[data-testid=picker-list] button", has_text=part).first.click()


def figure(page: Page, label: str) -> str:
    return (
        page.locator("[data-testid=big-numbers] [data-testid=figure]", has_text=label)
        .locator("[data-testid=figure-value]")
        .inner_text()
    )


def test_build_a_rig_from_nothing_frame_save_reload_undo(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.common.newRig).click()
    expect(page.get_by_text(T.rig.anEmptyPathLightComesIn)).to_be_visible()
    pick(page, T.rig.chooseATelescopeOrLens, "102 mm f/7", "102 mm f/7 doublet")
    expect(page.locator("[data-testid=light-strip]")).to_be_visible()
    assert figure(page, T.rig.pixelScale) == "—"
    pick(page, T.rig.chooseACamera, "mono 17.5", "cooled mono camera, 17.5")
    expect(page.locator("[data-testid=big-numbers]")).to_contain_text("1.10")  # 206.265 x 3.8 / 714
    pick(page, T.rig.chooseACorrector, "0.85", "×0.85 reducer, 2-inch")
    expect(page.locator("[data-testid=big-numbers]")).to_contain_text("680")  # 714 (1 - 17.5/55 x 0.15): no rings yet
    expect(page.get_by_role("button", name=re.compile("doublet, 560 mm"))).to_be_visible()

    name = page.get_by_label(T.rig.nameOfTheRig)
    name.fill("Kestrel")
    name.press("Enter")
    step(page, "aim").click()
    page.get_by_role("button", name=T.common.addATarget).click()
    page.get_by_label(T.aim.addATargetToThisRig).fill("ngc891")
    page.get_by_role("button", name=re.compile("^NGC 891")).first.click()
    frame = page.get_by_role("slider", name=fill(T.aim.footprintOnTarget, target="NGC 891"))
    expect(frame).to_be_visible()
    expect(page.locator("[data-testid=aim-side]")).to_contain_text("100%")
    saved(page, 6)

    box = steady(frame.locator("polygon").first)
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + box["width"] * 0.3, y, steps=6)
    page.mouse.move(x + box["width"] * 0.6, y, steps=6)
    page.mouse.up()
    saved(page, 7)
    expect(page.locator("[data-testid=aim-side]")).not_to_contain_text("100%")
    moved = page.locator("[data-testid=centre]").inner_text()

    page.reload()
    expect(page.locator("[data-testid=centre]")).to_have_text(moved)
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("Kestrel")
    page.get_by_role("button", name=T.rig.undo).click()
    expect(page.locator("[data-testid=aim-side]")).to_contain_text("100%")
    page.keyboard.press("Control+Shift+Z")
    expect(page.locator("[data-testid=centre]")).to_have_text(moved)

    page.get_by_role("link", name=T.board.board, exact=True).click()
    expect(page.get_by_role("link", name=re.compile("Kestrel on NGC 891.*framed"))).to_be_visible()


def test_keys_move_and_turn_the_frame(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/aim?target=ngc-891")
    frame = page.get_by_role("slider", name=fill(T.aim.footprintOnTarget, target="NGC 891"))
    frame.focus()
    before = frame.get_attribute("aria-valuetext")
    for _ in range(3):
        frame.press("]")
    expect(page.locator("[data-testid=aim-side]")).to_contain_text("93°")
    frame.press("ArrowUp")
    expect(page.get_by_test_id("saved")).to_have_attribute("data-revision", re.compile("^[2-5]$"))
    assert frame.get_attribute("aria-valuetext") != before
    frame.hover()
    page.mouse.wheel(0, -100)  # the bare wheel scrolls, and turns nothing
    page.keyboard.down("Shift")
    page.mouse.wheel(0, -100)
    page.keyboard.up("Shift")
    expect(page.locator("[data-testid=aim-side]")).to_contain_text("92°")
    # A row of presses is one revision where the machine keeps up with them.
    expect(page.get_by_test_id("saved")).to_have_attribute("data-revision", re.compile("^[3-6]$"))
    page.get_by_role("button", name=T.aim.alongTheTarget).click()
    expect(page.locator("[data-testid=aim-side]")).to_contain_text("22°")


def test_a_turn_and_a_move_in_a_row_keep_each_other(page: Page, address: str):
    def late(route: Route) -> None:
        time.sleep(0.3)
        route.continue_()

    page.goto(f"{address}/rigs/bittern/aim?target=ngc-891")
    frame = page.get_by_role("slider", name=fill(T.aim.footprintOnTarget, target="NGC 891"))
    expect(frame).to_be_visible()
    before = page.evaluate(f"({LAID})()")
    page.route("**/api/v1/sky/footprint", late)
    for key in ("]", "ArrowUp", "]"):
        frame.press(key)
        page.wait_for_timeout(500)  # long enough for a save to begin, too short for its answer
    page.wait_for_function(
        f"async ([angle, dec]) => {{ const now = await ({LAID})(); return now[0] === angle + 2 && now[1] > dec; }}",
        arg=before,
    )


def test_presses_count_while_the_drawing_lags(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/aim?target=ngc-891")
    frame = page.get_by_role("slider", name=fill(T.aim.footprintOnTarget, target="NGC 891"))
    expect(frame).to_be_visible()
    page.wait_for_load_state("networkidle")
    angle, dec = page.evaluate(f"({LAID})()")
    held: list[Route] = []
    page.route("**/api/v1/sky/footprint", lambda route: held.append(route))
    for revision in (2, 3, 4):
        frame.press("]")
        saved(page, revision)
    for _ in range(3):
        frame.press("ArrowUp")
        page.wait_for_timeout(700)  # longer than a row of presses
    page.unroute("**/api/v1/sky/footprint")  # what is held goes on
    page.wait_for_function(
        f"async ([angle, dec]) => {{ const now = await ({LAID})(); return now[0] === angle && now[1] > dec; }}",
        arg=[angle + 3, dec + 2.5 * 0.05 * 0.48],
    )


def test_a_mosaic_and_another_rig_over_it(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=veil-complex")
    page.get_by_role("button", name=fill(T.aim.coverItNeededNeeded2Tiles, needed=1, needed2=2)).click()
    expect(page.locator("[data-testid=aim-side]")).to_contain_text(fill(T.aim.tilesTiles, tiles=2))
    expect(page.locator("[data-testid=aim-side]")).to_contain_text(re.compile("(99|100)%"))
    assert page.locator("[data-testid=footprint] polygon").count() == 2
    page.get_by_label(re.compile("Wren")).check()
    expect(page.locator("[data-testid=other-footprint] text")).to_have_text("Wren")


def test_fix_the_first_fault_of_magpie(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/optics")
    panel = page.get_by_label(T.rig.findings)
    tally = page.get_by_test_id("tally")
    expect(tally).to_have_attribute("data-problem", "12")
    first = panel.locator("[data-testid=finding]").first
    expect(first).to_have_attribute("data-code", "O1")
    lay = first.get_by_test_id("fix").filter(has_text="×1.0 coma corrector")
    lay.click()
    expect(tally).to_have_attribute("data-problem", "8")
    expect(page.locator("[data-testid=light-strip]")).to_contain_text("")
    expect(page.get_by_role("button", name=re.compile("coma corrector, 2-inch, "))).to_be_visible()
    answer = panel.get_by_test_id("fixed")
    expect(answer).to_contain_text("×1.0 coma corrector")
    # The fix is gone, and with it what was in focus: the panel has it, not the top of the page.
    expect(panel).to_be_focused()
    answer.get_by_role("button", name=T.rig.undo).click()
    expect(tally).to_have_attribute("data-problem", "12")
    expect(answer).to_be_hidden()
    saved(page, 3)
    expect(page.get_by_test_id("saved")).to_contain_text(T.rig.undone)
    # Its undo is offered for as long as it would undo the fix and nothing else.
    lay.click()
    expect(answer).to_be_visible()
    page.get_by_label(T.rig.nameOfTheRig).fill("Magpie, fixed")
    page.get_by_label(T.rig.nameOfTheRig).press("Enter")
    expect(answer).to_be_hidden()


def test_the_tour_leads_to_the_fix(page: Page, address: str):
    page.goto(address)
    page.get_by_role("link", name=T.board.twoMinuteTour).click()
    for title in (T.rig.theLightStrip, T.rig.sixNumbers, T.rig.findings, T.rig.aFix):
        expect(page.locator(".ant-tour-title")).to_have_text(title)
        page.locator(".ant-tour-footer .ant-btn-primary").click()
    expect(page.locator(".ant-tour")).to_be_hidden()
    page.get_by_role("button", name=T.rig.iGoOnByMyself).click()
    expect(page.get_by_test_id("fix-by-fix")).to_have_count(0)


def test_a_damaged_file_is_refused_with_its_reason_and_a_good_one_taken(page: Page, address: str, tmp_path: Path):
    page.goto(address)
    bad = tmp_path / "bad.json"
    body = json.loads((EXAMPLES / "wren.json").read_text())
    body["rig"]["path"][2]["part"]["sensor"]["pixel_um"] = 390
    bad.write_text(json.dumps(body))
    page.get_by_label(T.board.rigFile).set_input_files(bad)
    answer = page.locator(".ant-notification")
    expect(answer).to_contain_text(T.board.thisFileWasNotImported)
    for said in ("sensor.pixel_um", titled(Sensor, "pixel_um"), "390", "0.5", "30 µm"):
        expect(answer).to_contain_text(said)
    expect(page.locator("[data-testid=row-head]")).to_have_count(4)
    good = tmp_path / "good.json"
    good.write_text((EXAMPLES / "wren.json").read_text())
    page.get_by_label(T.board.rigFile).set_input_files(good)
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("Wren")


def test_every_figure_opens_its_working(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    page.locator("[data-testid=big-numbers] button", has_text=T.rig.pixelScale).click()
    expect(page.locator(".ant-popover [data-testid=working]")).to_contain_text("206.265 · p / f")
    expect(page.locator(".ant-popover [data-testid=working]")).to_contain_text("3.5 µm")


def test_the_focal_length_slider_lays_correctors_by_key(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    slider = page.get_by_role("slider", name=T.optics.focalLength)
    expect(slider).to_have_attribute("aria-valuenow", "371")
    slider.press("ArrowRight")
    expect(slider).to_have_attribute("aria-valuenow", "464")
    slider.press("ArrowLeft")
    expect(slider).to_have_attribute("aria-valuenow", "371")


def test_a_part_is_swapped_moved_and_taken_out_by_keyboard_and_hand(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/optics")
    ring = page.get_by_role("button", name=re.compile("20 mm M48 ring, 20 mm"))
    ring.focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(page.locator("[data-testid=light-strip] [role=button]").nth(3)).to_have_attribute(
        "aria-label", re.compile("20 mm M48 ring")
    )
    page.get_by_role("button", name=re.compile("20 mm M48 ring, 20 mm")).press("Enter")
    page.get_by_role("button", name=T.rig.swapForAnother).click()
    page.get_by_label(T.common.searchTheShelf).fill("12.5 mm M48")
    page.locator("[data-testid=picker-list] button", has_text="12.5 mm M48 ring").first.click()
    page.get_by_role("dialog").get_by_role("button", name=T.rig.swapItIn, exact=True).click()
    expect(page.get_by_role("button", name=re.compile("12.5 mm M48 ring, 12.5 mm"))).to_be_visible()
    page.get_by_role("button", name=T.common.remove).click()
    expect(page.get_by_role("button", name=re.compile("12.5 mm M48 ring, 12.5 mm"))).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("12.5 mm M48 ring, 12.5 mm"))).to_be_visible()


def test_a_jump_by_key_lands_in_the_step(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    expect(page.get_by_label(T.rig.findings)).to_contain_text(T.rig.hold)
    page.keyboard.press("4")
    step = page.get_by_role("region", name=STEPS["mount"].title)
    expect(step).to_be_focused()
    expect(step.get_by_role("button").first).to_be_visible()
    page.keyboard.press("Tab")
    assert page.evaluate("document.activeElement.closest('.stage') !== null")


def test_a_rig_file_with_fields_nobody_knows_is_asked_about_and_taken_without(page: Page, address: str, tmp_path: Path):
    page.goto(address)
    body = json.loads((EXAMPLES / "wren.json").read_text())
    body["rig"]["mood"] = "calm"
    body["rig"]["path"][2]["part"]["sensor"]["shape"] = 4
    file = tmp_path / "newer.json"
    file.write_text(json.dumps(body))
    page.get_by_label(T.board.rigFile).set_input_files(file)
    asked = page.get_by_role("dialog", name=T.board.thisFileHoldsMoreThanThis)
    expect(asked.get_by_test_id("left-out").locator("li")).to_have_text(["rig.path.2.part.sensor.shape", "rig.mood"])
    asked.get_by_role("button", name=T.board.leaveTheFile).click()
    expect(page.locator("[data-testid=row-head]")).to_have_count(4)
    page.get_by_label(T.board.rigFile).set_input_files(file)
    page.get_by_role("button", name=T.board.takeItWithoutThem).click()
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("Wren")


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("/begin?about=planets", "/rig-finder?about=planets"), ("/shelf?part=drawer-21", "/parts?part=drawer-21"), ("/stages", "/upgrade-path"),
        ("/practice", "/preferences"), ("/keep", "/backups"), ("/field", "/phone"), ("/rigs/heron/glass", "/rigs/heron/optics"),
        ("/rigs/heron/load", "/rigs/heron/mount"), ("/rigs/heron/guide", "/rigs/heron/guiding"), ("/rigs/heron/expose", "/rigs/heron/exposure"),
        ("/rigs/heron/build", "/rigs/heron/assembly"), ("/rigs/heron/proof", "/rigs/heron/frames"),
    ],
)  # fmt: skip
def test_addresses_of_earlier_versions_lead_to_the_present_ones(page: Page, address: str, old: str, new: str):
    page.goto(f"{address}{old}")
    expect(page).to_have_url(re.compile(re.escape(new)))


def test_help_opens_the_page_of_the_place_and_is_found(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    page.get_by_test_id("help").click()
    expect(page.get_by_test_id("guide-page")).to_have_attribute("data-page", "spacing")
    page.keyboard.press("/")
    page.get_by_role("textbox", name=T.app.findAnything).fill("glossary")
    page.get_by_test_id("found").get_by_role("button", name=re.compile(T.app.help)).first.click()
    expect(page.get_by_test_id("guide-page")).to_have_attribute("data-page", "glossary")
    page.goto(f"{address}/guide/no-such-page")
    expect(page.get_by_text(T.help.noSuchPage)).to_be_visible()


def test_a_term_of_the_glossary_opens_where_it_stands(page: Page, address: str):
    page.goto(f"{address}/rules/G5")
    term = page.locator("[data-term]").first
    term.click()
    expect(page.get_by_test_id("meaning")).to_be_visible()
    page.get_by_test_id("meaning").get_by_role("link", name=T.help.glossary).click()
    expect(page.get_by_test_id("guide-page")).to_have_attribute("data-page", "glossary")
