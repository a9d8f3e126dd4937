"""The Spacing step as a user works it: by hand, by keys, by the solver, by fixes."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import finding, fix, held, quiet, steady, step
from tests.browser.test_journeys import pick, saved
from tests.terms import T, fill, like


def block(page: Page, name: str):
    return page.locator("[data-testid=train-block]").and_(
        page.get_by_role("button", name=re.compile(f"^{re.escape(name)}"))
    )


def numbers(page: Page):
    return page.locator("[data-testid=spacing-numbers]")


def panel(page: Page, name: str) -> None:
    page.locator("[data-testid=panel-choice]").get_by_text(name, exact=True).click()


def lay(page: Page, words: str, part: str) -> None:
    pick(page, T.rig.layAPart2, words, part)


def test_a_55_mm_train_with_a_reflex_body(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.common.newRig).click()
    pick(page, T.rig.chooseATelescopeOrLens, "86 mm", "86 mm f/5.4 triplet")
    pick(page, T.rig.chooseACorrector, "0.8 reducer", "×0.8 reducer, M63")
    pick(page, T.rig.chooseACamera, "reflex 23.4", "reflex body, 23.4")
    step(page, "spacing").click()
    expect(numbers(page)).to_contain_text("−11.0")
    expect(finding(page, "S1", verdict="problem").first).to_be_visible()
    choices = page.get_by_role("region", name=T.spacing.findRings)
    choices.get_by_role("button", name=re.compile("11 mm reflex camera ring, M48")).first.click()
    expect(page.get_by_test_id("spacing-error")).to_have_attribute("data-verdict", "ok")
    expect(block(page, "11 mm reflex camera ring, M48")).to_be_visible()
    expect(step(page, "spacing").locator("[data-verdict=ok]")).to_be_visible()
    page.get_by_role("button", name=T.rig.undo).click()
    expect(numbers(page)).to_contain_text("−11.0")


def test_a_mono_train_with_wheel_and_guider_to_tolerance(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.common.newRig).click()
    pick(page, T.rig.chooseATelescopeOrLens, "86 mm", "86 mm f/5.4 triplet")
    pick(page, T.rig.chooseACorrector, "1.0 flattener M63", "×1.0 flattener, M63")
    pick(page, T.rig.chooseACamera, "mono 17.5", "cooled mono camera, 17.5")
    lay(page, "16.5 mm off-axis", "16.5 mm off-axis guider")
    lay(page, "filter wheel 1.25", "7 × 1.25-inch filter wheel")
    step(page, "spacing").click()
    expect(numbers(page)).to_contain_text("−1.0")
    page.get_by_role("region", name=T.spacing.findRings).get_by_role("button", name=re.compile("1 mm")).first.click()
    expect(page.get_by_test_id("spacing-error")).to_have_attribute("data-verdict", "ok")
    panel(page, T.spacing.guideBranch)
    page.get_by_role("region", name=T.spacing.guideBranch).get_by_role("combobox", name=T.spacing.guiding).click()
    page.locator(".ant-select-item", has_text=T.common.offAxisGuider).click()
    expect(page.get_by_role("region", name=T.spacing.guideBranch)).to_contain_text("no guide camera")
    page.get_by_role("button", name=T.spacing.chooseOne).click()
    page.get_by_label(T.common.searchTheShelf).fill("guide camera")
    page.locator("[data-testid=picker-list] button").first.click()
    page.get_by_role("button", name=T.spacing.bringToFocus).click()
    expect(page.get_by_role("region", name=T.spacing.guideBranch)).to_contain_text(T.spacing.inFocus)
    held(page)
    expect(finding(page, "S8", verdict="ok")).to_be_visible()


def test_a_vignetting_nosepiece_found_and_cured(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/spacing")
    result = finding(page, "S6")
    expect(result).to_contain_text("0%")
    expect(page.locator("[data-testid=light-picture] figcaption")).to_contain_text("1.25-inch nosepiece")
    result.get_by_role("button").first.click()
    expect(result).to_contain_text(re.compile("27.0 mm.*51.5 mm"))
    result.get_by_role("button", name=re.compile("2-inch nosepiece")).last.click()
    expect(page.locator("[data-testid=light-picture] figcaption")).not_to_contain_text("1.25-inch nosepiece")


def test_magpie_from_four_faults_to_no_breaks_by_clicks(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/spacing")
    for _ in range(9):
        quiet(page)
        spacing = page.evaluate(
            """async () => {
              const kept = await (await fetch('/api/v1/rigs/magpie')).json();
              const answer = await (await fetch('/api/v1/evaluate?fixes=true', {method: 'POST',
                headers: {'content-type': 'application/json'}, body: JSON.stringify({rig: kept.rig})})).json();
              return answer.evaluation.findings.filter((f) => f.step === 'spacing' && f.verdict !== 'ok')
                .map((f) => [f.code, f.fixes.length]);
            }"""
        )
        code = next((code for code, fixes in spacing if fixes), None)
        if code is None:
            break
        first = finding(page, code).and_(page.locator(":not([data-verdict=ok])")).first
        if first.locator("[data-testid=unfolded]").count() == 0:
            first.locator("[data-testid=finding-line]").click()
        before = page.locator("[data-testid=saved]").inner_text()
        first.locator("[data-testid=fixes] button").first.click()
        expect(page.locator("[data-testid=saved]")).not_to_have_text(before)
        expect(page.get_by_test_id("saved")).to_have_attribute("data-revision", re.compile("."))
    # What is left is a strain that only another camera would cure.
    assert spacing == [["S6", 0]]
    expect(step(page, "spacing").locator("[data-verdict=warning]")).to_be_visible()


def test_keys_mark_move_take_and_insert(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "16.5 mm M48 ring").focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(page.locator("[data-testid=train-block]").nth(1)).to_have_attribute(
        "aria-label", re.compile("^0.7 mm M48 ring")
    )
    saved(page, 2)
    block(page, "0.7 mm M48 ring").focus()
    page.keyboard.press("ArrowRight")
    expect(block(page, "16.5 mm M48 ring")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Delete")
    expect(numbers(page)).to_contain_text("−16.5")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("spacing-error")).to_have_attribute("data-verdict", "ok")
    block(page, "21 mm filter drawer").focus()
    page.keyboard.press("i")
    expect(page.locator("[data-testid=fits]")).to_contain_text("Between")
    page.locator("[data-testid=chips] button", has_text="0.5 mm M48 ring").first.click()
    expect(numbers(page)).to_contain_text("+0.5")


def test_an_adjustable_ring_is_nudged(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "16.5 mm M48 ring").click()
    panel(page, T.common.whatFits)
    page.locator("[data-testid=chips] button", has_text="adjustable").click()
    ring = block(page, "15 to 20 mm adjustable M48 ring")
    ring.focus()
    for _ in range(3):
        page.keyboard.press("+")
    expect(ring).to_have_attribute("aria-label", re.compile("15.3 mm"))
    panel(page, T.spacing.thisPart)
    expect(page.get_by_role("slider", name=T.spacing.setLength)).to_have_attribute("aria-valuenow", "15.3")


def test_a_ring_is_dragged_into_a_joint_and_a_block_to_another_place(page: Page, address: str):
    page.set_viewport_size({"width": 1280, "height": 900})  # what is dragged and where it goes, both in view
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "21 mm filter drawer").click()
    panel(page, T.common.whatFits)
    page.get_by_role("button", name=re.compile("^Connection ahead of 16.5 mm")).click()
    chip = page.locator("[data-testid=chips] button", has_text="10 mm M48 ring").first
    # A picture that is drawn anew under a drag ends it: everything has answered first.
    quiet(page)
    steady(chip)
    chip.drag_to(block(page, "21 mm filter drawer"), target_position={"x": 4, "y": 40})
    expect(block(page, "10 mm M48 ring")).to_be_visible()
    expect(numbers(page)).to_contain_text("+10.0")
    ring, drawer = steady(block(page, "10 mm M48 ring")), steady(block(page, "16.5 mm M48 ring"))
    page.mouse.move(ring["x"] + 10, ring["y"] + 30)
    page.mouse.down()
    page.mouse.move(drawer["x"] + 8, drawer["y"] + 30, steps=8)
    page.mouse.up()
    expect(page.locator("[data-testid=train-block]").nth(1)).to_have_attribute(
        "aria-label", re.compile("^10 mm M48 ring")
    )


def test_callipers_go_over_the_makers_length_here_and_on_the_shelf(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "21 mm filter drawer").click()
    field = page.get_by_label(T.spacing.measuredWithCallipers)
    field.fill("21.3")
    field.press("Enter")
    expect(numbers(page)).to_contain_text("+0.3")
    expect(page.locator("[data-testid=train-rule]")).to_contain_text(fill(T.spacing.nominalNominalMm, nominal_mm="21"))
    held(page)
    expect(finding(page, "S15")).to_be_visible()
    quiet(page)
    kept = page.evaluate("fetch('/api/v1/parts/drawer-21').then(r => r.json())")
    assert kept["body"]["measured"]["optical_length_mm"]["value"] == 21.3
    field.fill("two cm")
    field.press("Enter")
    expect(page.get_by_label(T.spacing.markedPart)).to_contain_text(like(T.kit.isNotANumberAcceptedIs))
    expect(field).to_have_value("two cm")


def test_one_reading_over_a_group(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "16.5 mm M48 ring").click()
    page.get_by_label(T.spacing.oneReadingFromHereTo).click()
    page.locator(".ant-select-item", has_text="21 mm filter drawer").click()
    total = page.get_by_label(like(T.spacing.totalSumMmByTheMakers))
    total.fill("38.6")
    total.press("Enter")
    expect(numbers(page)).to_contain_text("+0.4")
    expect(finding(page, "S2", verdict="warning")).to_be_visible()


def test_a_swap_is_compared_before_it_is_made(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "21 mm filter drawer").click()
    page.get_by_role("button", name=T.spacing.swap).click()
    page.get_by_label(T.common.searchTheShelf).fill("16.5 mm off-axis")
    page.locator("[data-testid=picker-list] button").first.click()
    dialog = page.get_by_role("dialog", name=like(T.rig.partInPlaceOfOld, old="21 mm filter drawer"))
    expect(dialog).to_contain_text("Back focus error")
    dialog.get_by_role("button", name=T.rig.swapItInWithTheseRings).click()
    expect(block(page, "16.5 mm off-axis guider, M48")).to_be_visible()
    held(page)
    expect(finding(page, "S2", verdict="ok")).to_be_visible()


def test_what_stays_together_moves_whole(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/spacing")
    panel(page, T.spacing.assemblies)
    page.get_by_label(T.spacing.keepTogetherFrom).click()
    page.locator(".ant-select-item", has_text="16.5 mm off-axis guider").click()
    page.get_by_label(T.spacing.nameOfTheAssembly).fill("Mono head")
    page.get_by_role("button", name=T.spacing.keepTogether).click()
    expect(page.get_by_role("region", name=T.spacing.assemblies)).to_contain_text("Mono head")
    expect(page.get_by_role("region", name=T.spacing.assemblies)).to_contain_text("54 mm, 1.2")
    expect(page.locator("[data-testid=bracket]")).to_be_visible()
    page.goto(f"{address}/rigs/heron/spacing")
    panel(page, T.spacing.assemblies)
    page.get_by_role("button", name=T.spacing.layItHere).click()
    expect(block(page, "7 × 1.25-inch filter wheel")).to_be_visible()
    expect(block(page, "cooled mono camera")).to_be_visible()
    quiet(page)
    block(page, "7 × 1.25-inch filter wheel").press("Delete")
    expect(block(page, "7 × 1.25-inch filter wheel")).to_have_count(0)
    quiet(page)
    panel(page, T.spacing.assemblies)
    page.get_by_role("button", name=T.spacing.keepItAsItIsHere).click()
    asked = page.get_by_role("dialog", name=fill(T.rig.whatChangesOthers, what="Mono head", others="one other rig"))
    expect(asked.get_by_role("region", name="Bittern")).to_contain_text("Back focus")
    asked.get_by_role("button", name=T.spacing.keepItSoInAllOf).click()
    expect(page.get_by_text(fill(T.spacing.bodyIsKeptAsItIs, body="Mono head"))).to_be_visible()
    page.goto(f"{address}/rigs/bittern/spacing")
    expect(block(page, "cooled mono camera")).to_be_visible()
    expect(block(page, "7 × 1.25-inch filter wheel")).to_have_count(0)
    page.get_by_role("button", name=T.rig.undo, exact=True).click()
    expect(block(page, "7 × 1.25-inch filter wheel")).to_be_visible()


def test_a_change_that_reaches_other_rigs_names_them_first(page: Page, address: str):
    """A reading of a part that two rigs hold, and an assembly that two rigs hold: asked, told in numbers, undone."""
    page.goto(f"{address}/rigs/heron/spacing")
    page.evaluate(
        """async () => {
          const { rig } = await (await fetch('/api/v1/rigs/heron')).json();
          const body = JSON.stringify({ rig: { ...rig, name: 'Twin' } });
          await fetch('/api/v1/rigs', { method: 'POST', headers: { 'content-type': 'application/json' }, body });
        }"""
    )
    block(page, "21 mm filter drawer").click()
    field = page.get_by_label(T.spacing.measuredWithCallipers)
    field.fill("20.4")
    field.press("Enter")
    asked = page.get_by_role("dialog", name=re.compile("changes one other rig"))
    expect(asked).to_contain_text("Back focus error")
    expect(asked).to_contain_text("S2 Back focus")
    asked.get_by_role("button", name=T.common.leaveAllAsItIs).click()
    expect(field).to_have_value("")
    expect(numbers(page)).not_to_contain_text("−0.6")
    field.fill("20.4")
    field.press("Enter")
    asked.get_by_role("button", name=T.spacing.keepTheReading).click()
    expect(numbers(page)).to_contain_text("−0.6")
    page.wait_for_function(
        """async () => {
          const { body } = await (await fetch('/api/v1/parts/drawer-21')).json();
          return body.measured.optical_length_mm?.value === 20.4;
        }"""
    )


def test_a_proof_of_absence_and_what_can_be_bought(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/spacing")
    rings = page.get_by_role("region", name=T.spacing.findRings)
    expect(rings).to_contain_text("no combination of up to 6 spacers gives")
    expect(rings).to_contain_text("Nearest:")
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "0.7 mm M48 ring").focus()
    page.keyboard.press("Delete")
    expect(numbers(page)).to_contain_text("−0.7")
    panel(page, T.spacing.findRings)
    rings.get_by_label(T.spacing.wishList).uncheck()
    rings.get_by_label(fill(T.spacing.keepPart, part="16.5 mm M48 ring")).check()
    expect(rings.locator("button", has_text="Add 0.7 mm M48 ring").first).to_be_visible()
    rings.get_by_label(T.spacing.usualShopSizes).check()
    expect(rings.locator("[data-testid=ring-choices] li").nth(1)).to_be_visible()


def test_the_sheet_opens(page: Page, address: str, tmp_path: Path):
    page.goto(f"{address}/rigs/heron/spacing")
    page.get_by_role("button", name=T.spacing.spacingSheet).click()
    sheet = page.get_by_role("dialog", name=T.spacing.spacingSheet)
    expect(sheet.get_by_role("img", name=T.spacing.spacingSheet)).to_be_visible()
    expect(sheet.get_by_role("link", name=T.common.printItPdf)).to_have_attribute(
        "href", "/api/v1/rigs/heron/spacing-sheet.pdf"
    )
    page.goto(f"{address}/api/v1/rigs/heron/spacing-sheet.svg")
    expect(page.locator("svg")).to_contain_text("Spacing sheet: Heron")


def test_the_train_on_a_phone_in_the_field(page: Page, address: str):
    page.set_viewport_size({"width": 390, "height": 844})
    page.add_init_script("localStorage.setItem('dravel.theme', 'red')")
    page.goto(f"{address}/rigs/bittern/spacing")
    block(page, "7 × 1.25-inch filter wheel").click()
    expect(page.get_by_label(T.spacing.markedPart)).to_contain_text("M42 towards the sky")
    panel(page, T.spacing.guideBranch)
    slider = page.get_by_role("slider", name=T.spacing.prism)
    slider.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("region", name=T.spacing.guideBranch)).to_contain_text(
        fill(T.spacing.prismPrismInMmMmIn, prism_in_mm="3.6")
    )
    assert page.evaluate("document.documentElement.scrollWidth") <= 391


def test_the_front_ring_off_and_on(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "cooled colour camera").click()
    page.get_by_label(fill(T.spacing.itsLengthMmMmFrontRing, length_mm="11")).uncheck()
    expect(numbers(page)).to_contain_text("−11.0")
    expect(finding(page, "S13")).to_be_visible()
    finding(page, "S13").get_by_role("button").first.click()
    fix(finding(page, "S13"), "/part").click()
    expect(page.get_by_test_id("spacing-error")).to_have_attribute("data-verdict", "ok")


def test_a_drawer_that_opens_underneath_is_told(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "21 mm filter drawer").click()
    page.get_by_label(T.spacing.facesSeenFromBehind).click()
    page.locator(".ant-select-item-option", has_text=T.spacing.down).click()
    expect(finding(page, "S14", verdict="warning")).to_be_visible()
    page.get_by_label(T.common.filterInUse).click()
    page.locator(".ant-select-item-option", has_text=T.common.none).click()
    expect(numbers(page)).to_contain_text("+0.7")
