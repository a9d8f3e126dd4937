"""The Spacing step as a user works it: by hand, by keys, by the solver, by mends."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import held, quiet, steady
from tests.browser.test_journeys import pick, saved


def block(page: Page, name: str):
    return page.locator("[data-testid=train-block]").and_(
        page.get_by_role("button", name=re.compile(f"^{re.escape(name)}"))
    )


def numbers(page: Page):
    return page.locator("[data-testid=spacing-numbers]")


def panel(page: Page, name: str) -> None:
    page.locator("[data-testid=panel-choice]").get_by_text(name, exact=True).click()


def lay(page: Page, words: str, part: str) -> None:
    pick(page, "Lay a part", words, part)


def test_a_55_mm_train_with_a_reflex_body(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name="New rig").click()
    pick(page, "Choose a telescope or lens", "86 mm", "86 mm f/5.4 triplet")
    pick(page, "Choose a corrector", "0.8 reducer", "×0.8 reducer, M63")
    pick(page, "Choose a camera", "reflex 23.4", "reflex body, 23.4")
    page.get_by_role("link", name=re.compile("Spacing")).click()
    expect(numbers(page)).to_contain_text("−11.0")
    expect(page.get_by_label("Ledger")).to_contain_text("Two ends do not mate")
    choices = page.get_by_role("region", name="Find rings")
    choices.get_by_role("button", name=re.compile("11 mm reflex camera ring, M48")).first.click()
    expect(numbers(page)).to_contain_text("on its mark")
    expect(block(page, "11 mm reflex camera ring, M48")).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("Spacing.*on its mark"))).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(numbers(page)).to_contain_text("−11.0")


def test_a_mono_train_with_wheel_and_guider_to_tolerance(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name="New rig").click()
    pick(page, "Choose a telescope or lens", "86 mm", "86 mm f/5.4 triplet")
    pick(page, "Choose a corrector", "1.0 flattener M63", "×1.0 flattener, M63")
    pick(page, "Choose a camera", "mono 17.5", "cooled mono camera, 17.5")
    lay(page, "16.5 mm off-axis", "16.5 mm off-axis guider")
    lay(page, "filter wheel 1.25", "7 × 1.25-inch filter wheel")
    page.get_by_role("link", name=re.compile("Spacing")).click()
    expect(numbers(page)).to_contain_text("−1.0")
    page.get_by_role("region", name="Find rings").get_by_role("button", name=re.compile("1 mm")).first.click()
    expect(numbers(page)).to_contain_text("on its mark")
    panel(page, "Guide branch")
    page.get_by_role("region", name="Guide branch").get_by_role("combobox", name="Guiding").click()
    page.locator(".ant-select-item", has_text="off-axis guider").click()
    expect(page.get_by_role("region", name="Guide branch")).to_contain_text("no guide camera")
    page.get_by_role("button", name="choose one").click()
    page.get_by_label("Search the shelf").fill("guide camera")
    page.locator("[data-testid=picker-list] button").first.click()
    page.get_by_role("button", name="Bring to focus").click()
    expect(page.get_by_role("region", name="Guide branch")).to_contain_text("in focus")
    expect(held(page)).to_contain_text("Guide camera is in focus")


def test_a_vignetting_nosepiece_found_and_cured(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/spacing")
    ledger = page.get_by_label("Ledger")
    found = ledger.locator("[data-testid=finding]", has_text="An opening darkens the corners")
    expect(found).to_contain_text("0%")
    expect(page.locator("[data-testid=light-picture] figcaption")).to_contain_text("1.25-inch nosepiece")
    found.get_by_role("button").first.click()
    expect(found).to_contain_text("27.0 mm wide; the beam needs 51.5 mm")
    found.get_by_role("button", name=re.compile("2-inch nosepiece")).last.click()
    expect(page.locator("[data-testid=light-picture] figcaption")).not_to_contain_text("1.25-inch nosepiece")


def test_magpie_from_four_faults_to_no_breaks_by_clicks(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/spacing")
    ledger = page.get_by_label("Ledger")
    for _ in range(9):
        quiet(page)
        spacing = page.evaluate(
            """async () => {
              const kept = await (await fetch('/api/v1/rigs/magpie')).json();
              const answer = await (await fetch('/api/v1/evaluate?mends=true', {method: 'POST',
                headers: {'content-type': 'application/json'}, body: JSON.stringify({rig: kept.rig})})).json();
              return answer.evaluation.findings.filter((f) => f.step === 'spacing' && f.verdict !== 'holds')
                .map((f) => [f.title, f.mends.length]);
            }"""
        )
        title = next((name for name, mends in spacing if mends), None)
        if title is None:
            break
        finding = ledger.locator("[data-testid=finding]", has_text=title).first
        if finding.locator("[data-testid=unfolded]").count() == 0:
            finding.locator("[data-testid=finding-line]").click()
        before = page.locator("[data-testid=saved]").inner_text()
        finding.locator("[data-testid=mends] button").first.click()
        expect(page.locator("[data-testid=saved]")).not_to_have_text(before)
        expect(page.locator("[data-testid=saved]")).to_contain_text("revision")
    # What is left is a strain that only another camera would cure.
    assert spacing == [["An opening darkens the corners", 0]]
    expect(page.get_by_role("link", name=re.compile("^strains Spacing"))).to_be_visible()


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
    expect(numbers(page)).to_contain_text("on its mark")
    block(page, "21 mm filter drawer").focus()
    page.keyboard.press("i")
    expect(page.locator("[data-testid=fits]")).to_contain_text("Between")
    page.locator("[data-testid=chips] button", has_text="0.5 mm M48 ring").first.click()
    expect(numbers(page)).to_contain_text("+0.5")


def test_an_adjustable_ring_is_nudged(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "16.5 mm M48 ring").click()
    panel(page, "What fits")
    page.locator("[data-testid=chips] button", has_text="adjustable").click()
    ring = block(page, "15 to 20 mm adjustable M48 ring")
    ring.focus()
    for _ in range(3):
        page.keyboard.press("+")
    expect(ring).to_have_attribute("aria-label", re.compile("15.3 mm"))
    panel(page, "This part")
    expect(page.get_by_role("slider", name="Set length")).to_have_attribute("aria-valuenow", "15.3")


def test_a_ring_is_dragged_into_a_joint_and_a_block_to_another_place(page: Page, address: str):
    page.set_viewport_size({"width": 1280, "height": 900})  # what is dragged and where it goes, both in view
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "21 mm filter drawer").click()
    panel(page, "What fits")
    page.get_by_role("button", name=re.compile("^Joint ahead of 16.5 mm")).click()
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
    field = page.get_by_label("Measured with callipers")
    field.fill("21.3")
    field.press("Enter")
    expect(numbers(page)).to_contain_text("+0.3")
    expect(page.locator("[data-testid=train-rule]")).to_contain_text("nominal 21")
    expect(held(page)).to_contain_text("Readings are used")
    quiet(page)
    kept = page.evaluate("fetch('/api/v1/parts/drawer-21').then(r => r.json())")
    assert kept["body"]["measured"]["optical_length_mm"]["value"] == 21.3
    field.fill("two cm")
    field.press("Enter")
    expect(page.get_by_label("Marked part")).to_contain_text("is not a number")
    expect(field).to_have_value("two cm")


def test_one_reading_over_a_group(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "16.5 mm M48 ring").click()
    page.get_by_label("One reading, from here to").click()
    page.locator(".ant-select-item", has_text="21 mm filter drawer").click()
    total = page.get_by_label(re.compile("^Total"))
    total.fill("38.6")
    total.press("Enter")
    expect(numbers(page)).to_contain_text("+0.4")
    expect(page.get_by_label("Ledger")).to_contain_text("Sensor sits too far back")


def test_a_swap_is_compared_before_it_is_made(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "21 mm filter drawer").click()
    page.get_by_role("button", name="Swap…").click()
    page.get_by_label("Search the shelf").fill("16.5 mm off-axis")
    page.locator("[data-testid=picker-list] button").first.click()
    dialog = page.get_by_role("dialog", name=re.compile("in place of 21 mm filter drawer"))
    expect(dialog).to_contain_text("Spacing error")
    dialog.get_by_role("button", name="Swap it in with these rings").click()
    expect(block(page, "16.5 mm off-axis guider, M48")).to_be_visible()
    expect(held(page)).to_contain_text("Spacing is right")


def test_what_stays_together_moves_whole(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/spacing")
    panel(page, "Kept together")
    page.get_by_label("Keep together, from").click()
    page.locator(".ant-select-item", has_text="16.5 mm off-axis guider").click()
    page.get_by_label("Name of the assembly").fill("Mono head")
    page.get_by_role("button", name="Keep together").click()
    expect(page.get_by_label("Assemblies")).to_contain_text("Mono head")
    expect(page.get_by_label("Assemblies")).to_contain_text("54 mm, 1.2")
    expect(page.locator("[data-testid=bracket]")).to_be_visible()
    page.goto(f"{address}/rigs/heron/spacing")
    panel(page, "Kept together")
    page.get_by_role("button", name="Lay it here").click()
    expect(block(page, "7 × 1.25-inch filter wheel")).to_be_visible()
    expect(block(page, "cooled mono camera")).to_be_visible()
    quiet(page)
    block(page, "7 × 1.25-inch filter wheel").press("Delete")
    expect(block(page, "7 × 1.25-inch filter wheel")).to_have_count(0)
    quiet(page)
    panel(page, "Kept together")
    page.get_by_role("button", name="Keep it as it is here, in every rig").click()
    asked = page.get_by_role("dialog", name="Mono head changes one other rig")
    expect(asked.get_by_role("region", name="Bittern")).to_contain_text("Shoulder to sensor")
    asked.get_by_role("button", name="Keep it so in all of them").click()
    expect(page.get_by_text("Mono head is kept as it is here, in every rig.")).to_be_visible()
    page.goto(f"{address}/rigs/bittern/spacing")
    expect(block(page, "cooled mono camera")).to_be_visible()
    expect(block(page, "7 × 1.25-inch filter wheel")).to_have_count(0)
    page.get_by_role("button", name="Undo", exact=True).click()
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
    field = page.get_by_label("Measured with callipers")
    field.fill("20.4")
    field.press("Enter")
    asked = page.get_by_role("dialog", name=re.compile("changes one other rig"))
    expect(asked).to_contain_text("Spacing error")
    expect(asked).to_contain_text("S2 Back focus")
    asked.get_by_role("button", name="Leave all as it is").click()
    expect(field).to_have_value("")
    expect(numbers(page)).not_to_contain_text("−0.6")
    field.fill("20.4")
    field.press("Enter")
    asked.get_by_role("button", name="Keep the reading").click()
    expect(numbers(page)).to_contain_text("−0.6")
    page.wait_for_function(
        """async () => {
          const { body } = await (await fetch('/api/v1/parts/drawer-21')).json();
          return body.measured.optical_length_mm?.value === 20.4;
        }"""
    )


def test_a_proof_of_absence_and_what_can_be_bought(page: Page, address: str):
    page.goto(f"{address}/rigs/magpie/spacing")
    rings = page.get_by_role("region", name="Find rings")
    expect(rings).to_contain_text("No sequence of up to 6 rings gives")
    expect(rings).to_contain_text("Nearest:")
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "0.7 mm M48 ring").focus()
    page.keyboard.press("Delete")
    expect(numbers(page)).to_contain_text("−0.7")
    panel(page, "Find rings")
    rings.get_by_label("wish list").uncheck()
    rings.get_by_label("keep 16.5 mm M48 ring").check()
    expect(rings.locator("button", has_text="Lay 0.7 mm M48 ring").first).to_be_visible()
    rings.get_by_label("usual shop sizes").check()
    expect(rings.locator("[data-testid=ring-choices] li").nth(1)).to_be_visible()


def test_the_sheet_opens(page: Page, address: str, tmp_path: Path):
    page.goto(f"{address}/rigs/heron/spacing")
    page.get_by_role("button", name="Spacing sheet").click()
    sheet = page.get_by_role("dialog", name="Spacing sheet")
    expect(sheet.get_by_role("img", name="Spacing sheet")).to_be_visible()
    expect(sheet.get_by_role("link", name="Print it, PDF")).to_have_attribute(
        "href", "/api/v1/rigs/heron/spacing-sheet.pdf"
    )
    page.goto(f"{address}/api/v1/rigs/heron/spacing-sheet.svg")
    expect(page.locator("svg")).to_contain_text("Spacing sheet: Heron")


def test_the_train_on_a_phone_in_the_field(page: Page, address: str):
    page.set_viewport_size({"width": 390, "height": 844})
    page.add_init_script("localStorage.setItem('dravel.theme', 'red')")
    page.goto(f"{address}/rigs/bittern/spacing")
    block(page, "7 × 1.25-inch filter wheel").click()
    expect(page.get_by_label("Marked part")).to_contain_text("M42 towards the sky")
    panel(page, "Guide branch")
    slider = page.get_by_role("slider", name="Prism")
    slider.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("region", name="Guide branch")).to_contain_text("Prism 3.6 mm in")
    assert page.evaluate("document.documentElement.scrollWidth") <= 391


def test_the_front_ring_off_and_on(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "cooled colour camera").click()
    page.get_by_label("its 11 mm front ring is on").uncheck()
    expect(numbers(page)).to_contain_text("−11.0")
    ledger = page.get_by_label("Ledger")
    expect(ledger).to_contain_text("Front ring explains the error")
    ledger.locator("[data-testid=finding]", has_text="Front ring explains the error").get_by_role(
        "button"
    ).first.click()
    ledger.get_by_role("button", name=re.compile("Camera's front ring on")).first.click()
    expect(numbers(page)).to_contain_text("on its mark")


def test_a_drawer_that_opens_underneath_is_told(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    block(page, "21 mm filter drawer").click()
    page.get_by_label("Faces, seen from behind").click()
    page.locator(".ant-select-item-option", has_text="down").click()
    expect(page.get_by_label("Ledger")).to_contain_text("Ends up underneath")
    page.get_by_label("Filter in use").click()
    page.locator(".ant-select-item-option", has_text="none").click()
    expect(numbers(page)).to_contain_text("+0.7")
