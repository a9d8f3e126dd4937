"""Whole evenings, by clicks alone: a camera on a tripod, a first rig from nothing, an owner's rig changed."""

import re

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import finding, fix, held, quiet, step
from tests.browser.test_journeys import pick
from tests.terms import T, fill

MOST_MENDS = 25


def panel(page: Page) -> Locator:
    return page.get_by_label(T.rig.findings)


def problems(page: Page) -> int:
    """How many findings break, once the panel has come to rest."""
    quiet(page)
    page.wait_for_timeout(400)
    return int(page.get_by_test_id("tally").get_attribute("data-problem") or 0)


def fix_all(page: Page) -> list[str]:
    """Take the first fix of the first break that has one, again and again; what was clicked."""
    taken: list[str] = []
    while problems(page) and len(taken) < MOST_MENDS:
        broken = panel(page).locator(".finding.problem")
        for line in broken.get_by_test_id("finding-line").all():
            if line.get_attribute("aria-expanded") == "false":
                line.click()
        fixes = broken.get_by_test_id("fixes").get_by_role("button")
        # What was counted may be the panel of before the last fix: it is over then, too.
        over = page.locator("[data-testid=tally][data-problem='0']")
        expect(fixes.first.or_(over), f"after {taken}").to_be_visible()
        if over.is_visible():
            continue
        taken.append(fixes.first.inner_text())
        fixes.first.click()
        page.wait_for_timeout(300)
    return taken


class Clicks:
    """Counts the clicks of a walk."""

    def __init__(self) -> None:
        self.count = 0

    def __call__(self, place: Locator) -> None:
        place.click()
        self.count += 1


def test_a_camera_on_a_tripod_says_how_long_in_five_clicks(page: Page, address: str):
    click = Clicks()
    page.goto(address)
    click(page.get_by_role("button", name=T.board.cameraOnATripod))
    click(page.get_by_role("button", name=T.rig.chooseATelescopeOrLens))
    click(page.locator("[data-testid=picker-list] button", has_text="50 mm f/2 lens"))
    click(page.get_by_role("button", name=T.rig.chooseACamera, exact=True))
    click(page.locator("[data-testid=picker-list] button", has_text="reflex body, 23.4"))
    assert click.count <= 5
    rail = step(page, "guiding")
    expect(rail).to_contain_text(re.compile(r"[\d.]+ s"))
    match = re.search(r"([\d.]+) s", rail.inner_text())
    expect(panel(page)).to_contain_text(f"{match[1]} s")
    trail = panel(page).get_by_test_id("finding").filter(has_text=f"{match[1]} s")
    expect(trail).to_have_class("finding problem")
    if trail.get_by_test_id("finding-line").get_attribute("aria-expanded") == "false":
        trail.get_by_test_id("finding-line").click()
    code = str(trail.get_attribute("data-code"))
    fix(trail, "/guide/sub_s").click()
    held(page)
    expect(finding(page, code, verdict="ok")).to_be_visible()


def test_a_triplet_rig_from_nothing_to_no_breaks(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.common.newRig).click()
    pick(page, T.rig.chooseATelescopeOrLens, "86 mm", "86 mm f/5.4 triplet")
    pick(page, T.rig.chooseACamera, "colour 18.2", "cooled colour camera, 18.2")
    step(page, "mount").click()
    for button, words, part in (
        (fill(T.mount.chooseAWords, words=T.mount.mount), "equatorial mount, 13", "equatorial mount, 13 kg"),
        (fill(T.mount.chooseAWords, words=T.mount.support), "steel", "steel tripod"),
    ):
        pick(page, button, words, part)
    taken = fix_all(page)
    assert problems(page) == 0 and len(taken) <= 12, taken


def test_camera_wheel_and_off_axis_guider_into_heron(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/spacing")
    for old, words, new, button in (
        ("cooled colour camera", "mono 17.5", "cooled mono camera, 17.5", "Replace it"),
        ("21 mm filter drawer", "filter wheel", "7 × 1.25-inch filter wheel", "Replace it with these spacers"),
    ):
        page.locator(f"[data-testid=train-block][aria-label^='{old}']").click()
        pick(page, "Replace…", words, new)
        page.get_by_role("dialog").get_by_role("button", name=button, exact=True).click()
        expect(page.locator(f"[data-testid=train-block][aria-label^='{new}']")).to_be_visible()
    step(page, "guiding").click()
    page.get_by_role("button", name=T.guiding.guideOffAxis).click()
    fix(page.get_by_test_id("guiding-foot"), "/guide/method").click()
    taken = fix_all(page)
    assert problems(page) == 0 and len(taken) <= 4, taken
    step(page, "spacing").click()
    blocks = page.locator("[data-testid=train-block]")
    expect(blocks.first).to_be_visible()
    order = " ".join(block.get_attribute("aria-label") or "" for block in blocks.all())
    assert order.index(T.common.offAxisGuider) < order.index("filter wheel") < order.index("cooled mono camera")
