"""The rest of what hands and keys can do on the Board and on a rig."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import held, steady


def ledger(page: Page):
    return held(page)


def big(page: Page):
    return page.locator("[data-testid=big-numbers]")


def test_a_target_comes_to_the_board_and_goes(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name="Add a target").click()
    search = page.get_by_label("Add a target to the Board")
    search.fill("nothing of that name")
    expect(page.get_by_text("Nothing of that name.")).to_be_visible()
    search.fill("m 31")
    expect(page.locator("[data-testid=target-search] li").first).to_contain_text("Andromeda Galaxy")
    search.press("Enter")
    heading = page.get_by_role("columnheader", name=re.compile("^M31"))
    expect(heading).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("Bittern on M31: .* tiles"))).to_be_visible()
    heading.hover()
    page.get_by_role("button", name="Take M31 off the Board").click()
    expect(heading).to_be_hidden()
    page.get_by_role("button", name="Put it back").click()
    expect(heading).to_be_visible()


def test_a_cell_leads_to_its_target_and_offers_to_frame_it(page: Page, address: str):
    page.goto(address)
    page.get_by_role("link", name=re.compile("Heron on M13")).click()
    expect(page.get_by_text("Heron does not frame M13 yet.")).to_be_visible()
    page.get_by_role("button", name="Frame M13").click()
    expect(page.get_by_role("slider", name="Footprint on M13")).to_be_visible()
    expect(page.locator("[data-testid=saved]")).to_contain_text("revision 2 ")
    expect(ledger(page)).to_contain_text("M13")
    page.get_by_role("button", name="Take off this rig").click()
    expect(ledger(page)).not_to_contain_text("M13")


def test_a_rig_is_put_away_and_brought_back(page: Page, address: str):
    page.goto(f"{address}/rigs/wren/glass")
    page.get_by_role("button", name="Put away", exact=True).click()
    expect(page).to_have_url(f"{address}/")
    expect(page.get_by_role("link", name=re.compile("^strains Wren"))).to_be_hidden()
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_role("rowheader", name=re.compile("^strains Wren"))).to_be_visible()


def test_an_empty_rig_says_what_to_do_next(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name="New rig").click()
    expect(page.get_by_text("begin with a telescope or a lens")).to_be_visible()
    expect(page.get_by_label("Ledger")).to_contain_text("Nothing to judge yet")
    page.get_by_label("Ledger").get_by_text(re.compile("figures cannot be computed")).click()
    expect(page.get_by_label("Ledger")).to_contain_text("the light path has no telescope or lens")
    page.get_by_role("link", name=re.compile("Aim")).click()
    expect(page.get_by_text("No target yet.")).to_be_visible()
    page.get_by_role("link", name="Board", exact=True).click()
    expect(page.get_by_role("link", name=re.compile("New rig on M13: no field yet"))).to_be_visible()


def test_binning_school_and_purpose_are_felt_at_once(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/glass")
    expect(big(page)).to_contain_text("0.98")
    page.get_by_label("Binning").fill("1")
    page.get_by_label("Binning").press("Enter")
    expect(big(page)).to_contain_text("0.49")
    expect(ledger(page)).to_contain_text("Stars are oversampled")
    ledger(page).get_by_role("button", name=re.compile("Stars are oversampled")).click()
    ledger(page).get_by_role("button", name=re.compile("Bin 2×2")).click()
    expect(ledger(page).get_by_test_id("finding").filter(has_text="Stars are oversampled")).to_have_count(0)
    page.goto(f"{address}/rigs/heron/glass")
    expect(ledger(page)).to_contain_text("Stars are undersampled")
    page.get_by_label("Sampling school").click()
    page.locator(".ant-select-item-option", has_text="comfort band").click()
    expect(ledger(page)).to_contain_text("1.95″/px")
    expect(ledger(page)).not_to_contain_text("Stars are undersampled")
    page.get_by_label("Sampling school").click()
    page.locator(".ant-select-item-option", has_text="as in the practice").click()
    expect(ledger(page)).to_contain_text("Stars are undersampled")
    page.get_by_label("Purposes").click()
    page.locator(".ant-select-item-option[title='wide field']").click()
    expect(ledger(page)).not_to_contain_text("Stars are undersampled")


def test_a_solved_frame_goes_over_the_design(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/glass")
    solved = page.get_by_label("Focal length from a solved frame")
    solved.fill("0")
    solved.blur()
    expect(page.get_by_text("lies outside what can be; accepted is 4 to 100000 mm")).to_be_visible()
    expect(solved).to_have_value("0")
    solved.fill("397")
    solved.press("Enter")
    expect(big(page)).to_contain_text("397")
    expect(ledger(page)).to_contain_text("Focal length is off its nominal")
    expect(ledger(page)).to_contain_text("+7.0%")
    page.get_by_role("button", name=re.compile("Focal length is off")).click()
    page.get_by_role("button", name=re.compile("Take 0.8556 as the true factor")).click()
    expect(ledger(page)).to_contain_text("Focal length is as designed")
    page.get_by_role("button", name=re.compile("×0.8 reducer, M63, ")).click()
    expect(page.locator("[data-testid=inspector]")).to_contain_text("Measured factor")
    expect(page.locator("[data-testid=inspector]")).to_contain_text("0.8556")


def test_the_ledger_unfolds_schools_working_and_rule(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/glass")
    page.get_by_role("button", name=re.compile("Stars are undersampled")).click()
    finding = ledger(page).locator("[data-testid=finding]", has_text="Stars are undersampled")
    expect(finding.locator("[data-testid=schools] li")).to_have_count(3)
    expect(finding.locator("[data-testid=schools] [data-mine=true]")).to_contain_text("Two to three pixels")
    finding.get_by_text("Working").click()
    expect(finding).to_contain_text("F / scale")
    finding.get_by_role("link", name="Rule O2").click()
    expect(page.get_by_role("heading", name="Sampling", exact=True)).to_be_visible()


def test_framing_by_buttons_and_numbers(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ic-1805")
    side = page.locator("[data-testid=aim-side]")
    expect(side).to_contain_text("landscape")
    page.get_by_role("button", name="Landscape ↔ portrait").click()
    expect(side).to_contain_text("portrait")
    columns = side.get_by_label("columns")
    columns.fill("3")
    columns.press("Enter")
    expect(side).to_contain_text("3 tiles")
    expect(page.locator("[data-testid=footprint] polygon")).to_have_count(3)
    overlap = side.get_by_label("overlap %")
    before = side.locator("[data-testid=reading]").nth(2).inner_text()
    overlap.fill("40")
    overlap.press("Enter")
    expect(side.locator("[data-testid=reading]").nth(2)).not_to_have_text(before)
    frame = page.get_by_role("slider", name="Footprint on IC 1805")
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
    expect(page.locator("[data-testid=saved]")).to_contain_text("revision 2 ")


def test_an_earlier_framing_is_taken_up_again(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ngc-281")
    side = page.locator("[data-testid=aim-side]")
    page.get_by_role("button", name="Landscape ↔ portrait").click()
    expect(page.locator("[data-testid=saved]")).to_contain_text("revision 2 ")
    side.get_by_text("Earlier framings, 1").click()
    side.get_by_role("button", name=re.compile("^90°, centred revision 1")).click()
    expect(page.locator("[data-testid=saved]")).to_contain_text("revision 3 ")
    expect(side).to_contain_text("position angle: landscape")
    side.get_by_role("button", name=re.compile("^0°, centred revision 2")).click()
    expect(page.locator("[data-testid=saved]")).to_contain_text("revision 4 ")
    page.get_by_role("button", name="Take off this rig").click()
    expect(page.locator("[data-testid=saved]")).to_contain_text("revision 5 ")
    page.get_by_role("button", name="Frame NGC 281").click()
    expect(side).to_contain_text("position angle: portrait")


def test_closer_and_wider(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ic-1805")
    bar = page.locator("[data-testid=scale-bar] text")
    expect(bar).to_have_text("1°")
    for _ in range(5):
        page.get_by_role("button", name="Closer").click()
    expect(bar).to_have_text("10′")
    frame = page.get_by_role("slider", name="Footprint on IC 1805")
    frame.focus()
    for _ in range(5):
        frame.press("-")
    expect(bar).to_have_text("1°")


def test_keys_lead_through_the_steps_and_to_the_shelf(page: Page, address: str):
    page.goto(f"{address}/rigs/wren/glass")
    expect(page.locator("[data-testid=light-strip]")).to_be_visible()
    page.keyboard.press("1")
    expect(page.locator("[data-testid=sky-patch]")).to_be_visible()
    page.keyboard.press("2")
    expect(page.locator("[data-testid=glass-step]")).to_be_visible()
    page.keyboard.press("l")
    expect(page.get_by_label("Search the shelf")).to_be_focused()
    page.keyboard.type("rotator")
    expect(page.locator("[data-testid=picker-list] button").first).to_contain_text("M48 rotator")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=re.compile("M48 rotator, 11 mm"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("M48 rotator, 11 mm"))).to_be_hidden()


def test_a_filter_needs_a_holder(page: Page, address: str):
    page.goto(f"{address}/rigs/wren/glass")
    page.get_by_role("button", name="Lay a part").click()
    page.get_by_label("Kind of part").select_option("filter")
    page.locator("[data-testid=picker-list] button").first.click()
    expect(page.get_by_text("Lay a filter holder first")).to_be_visible()
    page.goto(f"{address}/rigs/heron/glass")
    page.get_by_role("button", name=re.compile("^21 mm filter drawer, 21 mm")).click()
    page.get_by_label("Filter in use").click()
    page.locator(".ant-select-item-option", has_text="ultraviolet and infrared cut").click()
    expect(page.locator("[data-testid=saved]")).to_contain_text("revision 2 ")


def test_export_gives_the_rig_file(page: Page, address: str, tmp_path: Path):
    page.goto(f"{address}/rigs/magpie/glass")
    with page.expect_download() as caught:
        page.get_by_role("link", name="Export").click()
    path = tmp_path / "magpie.json"
    caught.value.save_as(path)
    example = Path(__file__).parents[2] / "docs" / "examples" / "magpie.json"
    assert path.read_text() == example.read_text()


def test_a_reading_goes_beside_the_makers_figure(page: Page, address: str):
    page.goto(f"{address}/shelf?part=triplet-86")
    page.get_by_label("Field measured").click()
    page.locator(".ant-select-item-option", has_text="Focal length").first.click()
    page.get_by_role("button", name="Add a reading").click()
    reading = page.get_by_role("group", name=re.compile("Measured by you")).get_by_label("Focal length")
    reading.fill("459")
    reading.blur()
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_text("is on the shelf")).to_be_visible()
    page.goto(f"{address}/rigs/heron/glass")
    expect(big(page)).to_contain_text("367")  # 459 × 0.8
    page.locator("[data-testid=big-numbers] button", has_text="focal length").click()
    expect(page.locator(".ant-popover [data-testid=working]")).to_contain_text("measured (callipers)")


def test_what_was_typed_is_not_dropped_by_a_slip(page: Page, address: str):
    page.goto(f"{address}/shelf?part=triplet-86")
    page.get_by_label("Maker", exact=True).fill("unnamed workshop")
    page.get_by_role("button", name="Cancel").click()
    expect(page.locator(".ant-modal-confirm-title:visible").first).to_have_text("Let go of what you typed?")
    page.get_by_role("button", name="Keep editing").click()
    expect(page.get_by_label("Maker", exact=True)).to_have_value("unnamed workshop")


def test_a_refused_name_stays_with_its_reason(page: Page, address: str):
    page.goto(f"{address}/shelf?part=triplet-86")
    page.get_by_label("Name", exact=True).fill("")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_text("String should have at least 1 character", exact=True)).to_be_visible()
    page.get_by_label("Name", exact=True).fill("A name")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_text("A name is on the shelf")).to_be_visible()


def test_sites_change_the_seeing_of_their_rigs(page: Page, address: str):
    page.goto(f"{address}/sky")
    ridge = page.get_by_role("group", name="Alto de Veleda")
    seeing = ridge.get_by_label("Seeing")
    seeing.fill("4")
    seeing.blur()
    latitude = ridge.get_by_label("Latitude")
    latitude.fill("95")
    latitude.blur()
    expect(ridge).to_contain_text("lies outside what can be; accepted is -90 to 90 °")
    page.get_by_role("button", name="Add a site").click()
    expect(page.get_by_role("dialog", name="Where do you observe from?")).to_be_visible()
    page.keyboard.press("Escape")
    page.goto(f"{address}/rigs/bittern/glass")
    expect(ledger(page)).to_contain_text("Stars are oversampled")


def test_daylight_is_remembered(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name="Daylight").click()
    expect(page.locator("html")).to_have_attribute("data-theme", "light")
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "light")
    page.get_by_role("link", name="About").click()
    expect(page.get_by_text("CC BY-SA 4.0")).to_be_visible()
    expect(page.get_by_text(re.compile("Never point optics near the sun"))).to_be_visible()
