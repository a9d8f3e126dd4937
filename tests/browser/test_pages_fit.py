"""Every place shows its work at once: page heights at 1280 × 800, no sideways scrolling on a phone, the instrument high up."""

import gzip

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved
from tests.terms import T, like

STEPS = ("aim", "optics", "spacing", "mount", "guiding", "power", "exposure", "assembly")
PLACES = ("", "tonight", "shelf", "sky", "compare", "stages", "preferences", "rules", "rules/G1", "about")
DRAWN = ("aim", "optics", "spacing", "mount")  # the others begin with a table


def tall(page: Page) -> int:
    return page.evaluate("document.documentElement.scrollHeight")


@pytest.mark.parametrize("step", STEPS)
def test_a_step_fits_the_window_and_its_work_one_and_a_half(page: Page, address: str, step: str):
    page.goto(f"{address}/rigs/heron/{step}")
    expect(page.get_by_test_id("finding").first).to_be_visible()
    expect(page.locator(".stage svg").first).to_be_visible()
    assert tall(page) <= 800
    for part in (".strip-panel", ".rail", ".stage svg", "[data-testid=finding]"):
        expect(page.locator(part).first).to_be_in_viewport()
    assert page.evaluate("document.querySelector('.stage').scrollHeight") <= 1200
    assert page.evaluate("document.querySelector('.findings').scrollHeight") <= 1200


@pytest.mark.parametrize("place", PLACES)
def test_a_place_is_no_longer_than_one_and_a_half_windows(page: Page, address: str, place: str):
    page.goto(f"{address}/{place}")
    expect(page.locator("main h1").first).to_be_visible()
    page.wait_for_timeout(800)
    assert tall(page) <= 1200


@pytest.mark.parametrize("step", STEPS)
def test_on_a_phone_the_instrument_is_high_up_and_nothing_scrolls_sideways(page: Page, address: str, step: str):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/rigs/heron/{step}")
    expect(page.get_by_test_id("finding").first).to_be_visible()
    if step == "optics":  # its second picture comes before its first
        expect(page.get_by_role("img", name=like(T.optics.starFwhmPxPixelsWide))).to_be_visible()
    drawing = page.locator(".stage svg").first
    expect(drawing).to_be_visible()
    box = drawing.bounding_box() if step in DRAWN else page.locator(".stage > *").first.bounding_box()
    assert box is not None and box["y"] <= 340
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_role("button", name=T.rig.stripAndNumbers).click()
    expect(page.get_by_test_id("big-numbers")).to_be_visible()
    page.get_by_role("button", name=T.app.places).click()
    expect(page.get_by_role("link", name=T.common.ruleBook)).to_be_visible()


def test_the_slim_strip_grows_under_the_pointer_and_stays_when_told(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    strip = page.get_by_test_id("light-strip")
    expect(strip).to_be_visible()
    slim = strip.bounding_box()
    strip.hover(position={"x": 20, "y": 20})
    expect(page.get_by_test_id("strip-grown")).to_be_visible()
    page.get_by_role("button", name=T.rig.keepTheStripLarge).click()
    page.mouse.move(640, 500)
    expect(page.get_by_test_id("strip-grown")).to_be_hidden()
    grown = page.get_by_test_id("light-strip").bounding_box()
    assert slim is not None and grown is not None and grown["height"] > 1.5 * slim["height"]
    page.reload()
    expect(page.get_by_role("button", name=T.rig.letTheStripShrink)).to_be_visible()


def test_one_night_for_the_whole_application(page: Page, address: str):
    """Chosen in the top bar, kept in the address and over links; Board, panel and Sky follow."""
    page.goto(address)
    expect(page.locator("th", has_text="M13")).to_contain_text("0 min")
    page.get_by_label("Choose the night").click()
    page.get_by_role("button", name=T.app.nextNewMoon).click()
    expect(page.get_by_role("group", name=T.app.nightOf)).to_contain_text("8–9 Dec")
    page.keyboard.press("Escape")
    expect(page.locator("[data-testid=sky-tools]")).to_contain_text("8 Dec")
    page.get_by_role("link", name=T.sky.sky, exact=True).click()
    expect(page.locator(".tonight")).to_contain_text("8 Dec:")
    assert "night=2026-12-08" in page.url
    page.goto(f"{address}/rigs/heron/aim?night=2027-06-05")
    expect(page.get_by_role("region", name=T.aim.nightAndYear)).to_contain_text("5–6 Jun 2027")
    page.get_by_role("group", name=T.app.nightOf, exact=True).get_by_label(T.app.aNightLater).click()
    expect(page.get_by_role("region", name=T.aim.nightAndYear)).to_contain_text("6–7 Jun 2027")


def test_a_new_owner_begins_with_what_is_owned(page: Page, address: str):
    """All rigs put away, the Board offers four ways in; what is owned ends in a rig with a name, at the demo's first step."""
    page.goto(address)
    for rig in ("wren", "heron", "bittern", "magpie"):
        page.evaluate("rig => fetch(`/api/v1/rigs/${rig}`, { method: 'DELETE' })", rig)
    page.reload()
    expect(page.get_by_role("region", name=T.board.theDemoRigs)).to_be_visible()
    for title, words in (("Telescope or lens", "86 mm f/5.4"), ("Camera", "colour 18.2"), ("Mount", "equatorial 13")):
        choice = page.get_by_role("group", name=title)
        choice.get_by_label("Search").fill(words)
        hits = choice.get_by_role("listitem")
        expect(hits).to_have_count(1)  # the shelf has come, and one part answers
        hits.get_by_role("button").click()
        expect(choice.get_by_role("button", name="choose another")).to_be_visible()
    page.get_by_role("button", name=T.board.makeThisRig).click()
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("86 mm f/5.4 triplet, cooled colour camera")
    expect(page.get_by_test_id("big-numbers")).to_contain_text("464")
    # A second camera replaces nothing unasked.
    page.get_by_role("button", name=T.rig.layAPart2).click()
    page.get_by_label(T.common.searchTheShelf).fill("guide camera")
    page.get_by_test_id("picker-list").get_by_role("button").first.click()
    page.get_by_role("button", name=T.rig.itGuides).click()
    saved(page, 2)
    expect(page.get_by_test_id("big-numbers")).to_contain_text("464")
    page.get_by_role("link", name=T.board.board, exact=True).click()
    expect(page.get_by_role("link", name="86 mm f/5.4 triplet").first).to_be_visible()


def test_the_first_screen_is_light(browser, address: str):
    """Scripts and styles of the Board, as they go over the wire: 260 kB. Fonts and what other views need come beside."""
    page = browser.new_page()
    sizes: dict[str, int] = {}

    def weigh(answer):
        if answer.request.resource_type in ("script", "stylesheet"):
            sizes[answer.url.rsplit("/", 1)[-1]] = len(gzip.compress(answer.body(), 6))

    page.on("response", weigh)
    page.goto(address)
    expect(page.get_by_test_id("ladder").locator("svg")).to_be_visible()
    page.wait_for_load_state("networkidle")
    page.close()
    assert sum(sizes.values()) <= 260_000, sorted(sizes.items(), key=lambda item: -item[1])
