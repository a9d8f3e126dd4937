"""Takes the pictures in docs/screenshots from fresh demo data. `make shots` runs it."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.browser.conftest import ARGS, CHROMIUM
from tools.demo_server import demo_server

SHOTS = Path(__file__).parent.parent / "docs" / "screenshots"


def _mosaic(page: Page) -> None:
    page.get_by_role("button", name="Cover it").click()
    page.locator("[data-testid=aim-side]").get_by_text("2 tiles", exact=True).wait_for()


def _overlay(page: Page) -> None:
    page.get_by_label("Bittern").check()
    page.locator("[data-testid=other-footprint] text").wait_for()


def _mark_ring(page: Page) -> None:
    page.locator("[data-testid=train-block]").nth(1).click()
    page.locator("[data-testid=panel-choice]").get_by_text("What fits", exact=True).click()
    page.locator("[data-testid=chips] button").first.wait_for()


def _guide(page: Page) -> None:
    page.locator("[data-testid=panel-choice]").get_by_text("Guide branch", exact=True).click()


def _two_rigs(page: Page) -> None:
    kept = '{"rigs":["heron","bittern"],"from":18.5,"until":2.5}'
    page.evaluate("kept => localStorage.setItem('dravel.tonight', kept)", kept)
    page.reload()
    page.locator("[data-rig=bittern] .run").wait_for()


WIDE, PHONE = (1280, 800), (390, 844)
VIEWS = (
    ("board", "/", "[data-suits=true]", "dark", WIDE, ()),
    (
        "aim",
        "/rigs/heron/aim?target=veil-complex",
        "[data-testid=footprint] polygon",
        "dark",
        WIDE,
        (_mosaic, _overlay),
    ),
    ("glass", "/rigs/magpie/glass", "[data-testid=options] tbody tr", "dark", WIDE, ()),
    ("spacing", "/rigs/heron/spacing", "[data-testid=train-block]", "dark", WIDE, (_mark_ring,)),
    ("spacing-guide", "/rigs/bittern/spacing", "[data-testid=train-block]", "light", WIDE, (_guide,)),
    ("load", "/rigs/heron/load", "[data-testid=elevation] [data-testid=weight]", "dark", WIDE, ()),
    ("guide", "/rigs/bittern/guide", "[data-testid=guide-patch] [data-testid=star]", "dark", WIDE, ()),
    ("power", "/rigs/magpie/power", "[data-testid=charge] .left path", "dark", WIDE, ()),
    ("expose", "/rigs/heron/expose?target=ngc-281", "[data-testid=filter-bars] .in-use", "dark", WIDE, ()),
    ("build", "/rigs/heron/build", "[data-testid=exploded] .piece", "dark", WIDE, ()),
    ("tonight", "/tonight", "[data-testid=time-line] .run", "dark", WIDE, (_two_rigs,)),
    ("compare", "/compare", "[data-testid=sides] tbody tr", "dark", WIDE, ()),
    ("stages", "/stages", "[data-testid=stage-card] dl", "light", WIDE, ()),
    ("shelf", "/shelf", ".ant-table-row", "dark", WIDE, ()),
    ("part", "/shelf?part=reducer-08-m63", "[data-testid=part-form]", "light", WIDE, ()),
    ("sky", "/sky", "[data-testid=worth-line]", "dark", WIDE, ()),
    ("practice", "/practice", "[data-testid=connector-sizes] tbody tr", "dark", WIDE, ()),
    ("board-light", "/", "[data-suits=true]", "light", WIDE, ()),
    ("aim-red", "/rigs/heron/aim?target=ic-1805", "[data-testid=footprint] polygon", "red", PHONE, ()),
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
