"""Takes the pictures in docs/screenshots from fresh demo data. `make shots` runs it."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.browser.conftest import ARGS, CHROMIUM, demo_server

SHOTS = Path(__file__).parent.parent / "docs" / "screenshots"


def _mosaic(page: Page) -> None:
    page.get_by_role("button", name="Cover it").click()
    page.locator(".aim-side").get_by_text("2 tiles", exact=True).wait_for()


def _overlay(page: Page) -> None:
    page.get_by_label("Bittern").check()
    page.locator(".other-frame text").wait_for()


def _mark_ring(page: Page) -> None:
    page.locator(".train-block").nth(1).click()
    page.locator(".panel-choice").get_by_text("What fits", exact=True).click()
    page.locator(".chips button").first.wait_for()


def _guide(page: Page) -> None:
    page.locator(".panel-choice").get_by_text("Guide branch", exact=True).click()


WIDE, PHONE = (1280, 800), (390, 844)
VIEWS = (
    ("board", "/", ".months .suits", "dark", WIDE, ()),
    ("aim", "/rigs/heron/aim?target=veil-complex", ".footprint polygon", "dark", WIDE, (_mosaic, _overlay)),
    ("glass", "/rigs/magpie/glass", ".options tbody tr", "dark", WIDE, ()),
    ("spacing", "/rigs/heron/spacing", ".train-block", "dark", WIDE, (_mark_ring,)),
    ("spacing-guide", "/rigs/bittern/spacing", ".train-block", "light", WIDE, (_guide,)),
    ("load", "/rigs/heron/load", ".elevation .weight", "dark", WIDE, ()),
    ("guide", "/rigs/bittern/guide", ".guide-patch .star", "dark", WIDE, ()),
    ("power", "/rigs/magpie/power", ".charge .left", "dark", WIDE, ()),
    ("compare", "/compare", ".sides tbody tr", "dark", WIDE, ()),
    ("stages", "/stages", ".stage-card dl", "light", WIDE, ()),
    ("shelf", "/shelf", ".ant-table-row", "dark", WIDE, ()),
    ("part", "/shelf?part=reducer-08-m63", ".part-form", "light", WIDE, ()),
    ("sky", "/sky", ".worth-line", "dark", WIDE, ()),
    ("practice", "/practice", ".connector-sizes tbody tr", "dark", WIDE, ()),
    ("rule-book", "/rules/O2", "article dl", "light", WIDE, ()),
    ("board-light", "/", ".months .suits", "light", WIDE, ()),
    ("aim-red", "/rigs/heron/aim?target=ic-1805", ".footprint polygon", "red", PHONE, ()),
)


def main() -> None:
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, demo_server(Path(folder)) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        for name, path, ready, theme, (width, height), steps in VIEWS:
            context = browser.new_context(viewport={"width": width, "height": height})
            page = context.new_page()
            page.add_init_script(f"localStorage.setItem('dravel.theme', '{theme}')")
            page.goto(address + path)
            page.locator(ready).first.wait_for()
            for step in steps:
                step(page)
            page.wait_for_timeout(500)
            page.screenshot(path=SHOTS / f"{name}.png")
            context.close()
        browser.close()


if __name__ == "__main__":
    main()
