"""What all pictures share: handles that keys move and that say where they stand, a line that says what is pointed at, curves to
walk along, and the list of keys.
"""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved
from tests.terms import T, fill, like

# Where handles are: the page, one handle on it, the key that moves it.
HANDLES = (
    ("rigs/heron/aim?target=ic-1805", fill(T.aim.footprintOnTarget, target="IC 1805"), "ArrowLeft"),
    ("rigs/heron/optics", "Focal length", "ArrowRight"),
    ("rigs/heron/mount", "Tube in the saddle", "ArrowLeft"),
    ("rigs/heron/mount", "on the shaft", "ArrowUp"),
    ("sky", "Place on the map", "ArrowRight"),
)
CURVES = (
    ("rigs/heron/aim?target=ic-1805", "night-picture", "° up"),
    ("rigs/heron/mount", "wind-curve", "m/s: vibration"),
    ("rigs/bittern/guiding", "error-bars", "″"),
    ("rigs/magpie/power", "charge", "Wh used"),
    ("rigs/magpie/power", "dew", "°C"),
)


@pytest.mark.parametrize(("place", "name", "key"), HANDLES)
def test_a_handle_moves_by_keys_and_says_where_it_stands(page: Page, address: str, place: str, name: str, key: str):
    page.goto(f"{address}/{place}")
    handle = page.get_by_role("slider", name=name).first
    handle.focus()
    before = handle.get_attribute("aria-valuetext")
    assert before
    page.keyboard.press(key)
    expect(handle).not_to_have_attribute("aria-valuetext", before)
    # The same handle is still the one in hand.
    expect(page.get_by_role("slider", name=name).first).to_be_focused()


def test_every_drag_surface_says_what_is_pointed_at_and_what_is_in_focus(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    says = page.get_by_test_id("plot-says").first
    expect(says).to_contain_text("Drag the tube")
    page.locator("[data-testid=elevation] [data-testid=weight]").first.hover()
    expect(says).to_contain_text(like(T.mount.positionMmMmFromTheAxis))
    page.mouse.move(5, 5)
    expect(says).to_contain_text("Drag the tube")
    page.get_by_role("slider", name=T.mount.tubeInTheSaddle).focus()
    expect(says).to_contain_text(like(T.mount.saddleSaddleMmMmAheadOf))


@pytest.mark.parametrize(("place", "curve", "words"), CURVES)
def test_a_curve_is_walked_along_by_keys(page: Page, address: str, place: str, curve: str, words: str):
    page.goto(f"{address}/{place}")
    if curve == "wind-curve":
        page.get_by_role("tab", name=T.mount.windFromTheSide).click()
    chart = page.get_by_test_id(curve)
    chart.get_by_role("application").focus()
    page.keyboard.press("ArrowRight")
    expect(chart.get_by_role("status")).to_contain_text(words)


def test_escape_lets_go_of_what_is_dragged_and_nothing_is_kept(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    weight = page.locator("[data-testid=elevation] [data-testid=weight]").first
    box = weight.bounding_box()
    stood = weight.get_attribute("aria-valuetext")
    assert box and stood
    page.mouse.move(box["x"] + 5, box["y"] + 5)
    page.mouse.down()
    page.mouse.move(box["x"] + 5, box["y"] + 40)
    expect(weight).not_to_have_attribute("aria-valuetext", stood)
    page.keyboard.press("Escape")
    expect(weight).to_have_attribute("aria-valuetext", stood)
    page.mouse.up()
    saved(page, 1)


def test_the_list_of_keys_is_what_is_bound(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    expect(page.locator("[data-testid=train-block]").first).to_be_visible()
    page.keyboard.press("?")
    keys = page.get_by_role("dialog", name=T.app.keys)
    expect(keys).to_contain_text(T.spacing.findRings2)
    for name, title in (("4", "Mount"), ("5", "Guiding")):
        row = keys.locator("tr", has=page.get_by_text(name, exact=True))
        expect(row).to_contain_text(title)
    page.keyboard.press("Escape")
    expect(keys).to_be_hidden()
    page.keyboard.press("4")
    expect(page.get_by_test_id("elevation")).to_be_visible()
    page.keyboard.press("?")
    # What belongs to another step is gone from the list with its view.
    expect(page.get_by_role("dialog", name=T.app.keys)).to_contain_text(T.mount.slideItInTheSaddleBy)
    expect(page.get_by_role("dialog", name=T.app.keys)).not_to_contain_text(T.spacing.findRings2)


def test_a_letter_typed_into_a_list_is_no_key_of_the_page(page: Page, address: str):
    page.goto(address)
    site = page.get_by_role("combobox", name=T.board.site)
    site.focus()
    page.keyboard.press("f")
    expect(page.locator("html")).not_to_have_attribute("data-theme", "red")
    page.keyboard.press("Tab")
    page.keyboard.press("f")
    expect(page.locator("html")).to_have_attribute("data-theme", "red")
