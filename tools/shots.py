"""Takes the pictures in docs/screenshots from fresh demo data. `make shots` runs it."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from dravel.catalogue.demo import scenario
from dravel.catalogue.stars import stars
from dravel.core.steps import STEPS
from dravel.stand_ins.picture import Faults, real_stars, take
from dravel.stand_ins.taking import picture_rig, write
from tests.browser.conftest import ARGS, CHROMIUM, kept_here
from tests.terms import T
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
    page.locator("[data-testid=panel-choice]").get_by_text(T.common.whatFits, exact=True).click()
    page.locator("[data-testid=chips] button").first.wait_for()


def _two_rigs(page: Page) -> None:
    kept_here(page, "tonight", {"rigs": ["heron", "bittern"], "from": 18.5, "until": 2.5})
    page.reload()
    page.locator("[data-rig=bittern] .run").wait_for()


def _rehearsed(page: Page) -> None:
    """A rehearsal of both rigs, held a little after midnight; it runs on for the pictures that follow."""
    body = {
        "id": "picture-0001",
        "asked": {"rigs": ["heron", "bittern"], "free_from_h": 18.5, "free_until_h": 2.5},
        "rehearsal": {"seed": 3, "trouble": "much", "speed": 0},
    }
    address = page.url.split("/tonight")[0]
    page.request.post(f"{address}/api/v1/night", data=body)
    where = {"night": "picture-0001", "speed": 0, "to_s": 12.6 * 3600}
    page.request.post(f"{address}/api/v1/night/speed", data=where)
    page.reload()
    page.locator(".sub-kept").first.wait_for(state="attached")


def _measured(page: Page) -> None:
    """Three simulated frames of Heron: as designed, trailed by wind, and with a sensor that leans."""
    context = STEPS.context(dict(scenario().rigs)["heron"])
    rig, frame = picture_rig(context), context.rig.framings[0]
    place = (frame.centre_ra_deg, frame.centre_dec_deg)
    seen = real_stars(rig, stars().listed(*place, 4), *place, 12, 1, faintest=13)
    kinds = (("as-designed", Faults(fwhm_px=2.0)), ("gusty", Faults(fwhm_px=2.0, guide_px=0.7, guide_deg=30)),
             ("leaning", Faults(fwhm_px=2.0, tilt_um=110, tilt_deg=20, focus_um=18)))  # fmt: skip
    with tempfile.TemporaryDirectory() as folder:
        for name, faults in kinds:
            write(take(rig, seen, faults, 120, 1), Path(folder) / f"{name}.fits", OBJECT=frame.target.name)
            page.get_by_label(T.frames.framesInFits).set_input_files(Path(folder) / f"{name}.fits")
            page.locator("[data-testid=frames]").get_by_text(name).wait_for(timeout=60_000)
    page.locator("[data-testid=star-map] .star-shape").first.wait_for(state="attached")
    page.locator("[data-testid=star-map]").hover(position={"x": 330, "y": 150})


WIDE, PHONE = (1280, 800), (390, 844)


def _answered(page: Page) -> None:
    page.get_by_text("checked by every rule").wait_for(timeout=60_000)
    page.wait_for_timeout(1500)


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
    ("optics", "/rigs/magpie/optics", "[data-testid=options] tbody tr", "dark", WIDE, ()),
    ("spacing", "/rigs/heron/spacing", "[data-testid=train-block]", "dark", WIDE, (_mark_ring,)),
    ("mount", "/rigs/heron/mount", "[data-testid=elevation] [data-testid=weight]", "dark", WIDE, ()),
    ("guiding", "/rigs/bittern/guiding", "[data-testid=guide-patch] [data-testid=star]", "dark", WIDE, ()),
    ("power", "/rigs/magpie/power", "[data-testid=charge] .left path", "dark", WIDE, ()),
    ("exposure", "/rigs/heron/exposure?target=ngc-281", "[data-testid=filter-bars] .in-use", "dark", WIDE, ()),
    ("assembly", "/rigs/heron/assembly", "[data-testid=exploded] .piece", "dark", WIDE, ()),
    ("frames", "/rigs/heron/frames", "[data-testid=coming]", "dark", WIDE, (_measured,)),
    ("tonight", "/tonight", "[data-testid=time-line] .run", "dark", WIDE, (_two_rigs, _rehearsed)),
    ("log", "/log", "[data-testid=month] .shot", "dark", WIDE, ()),
    ("field", "/field", "[data-testid=field-now] ul li", "red", PHONE, ()),
    ("compare", "/compare", "[data-testid=sides] tbody tr", "dark", WIDE, ()),
    ("stages", "/stages", "[data-testid=stage-card] dl", "light", WIDE, ()),
    ("shelf", "/shelf", ".ant-table-row", "dark", WIDE, ()),
    ("sky", "/sky", "[data-testid=worth-line]", "dark", WIDE, ()),
    ("begin", "/begin", ".design-why", "dark", WIDE, (_answered,)),
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
            page.locator(ready).first.wait_for(state="attached")
            for step in steps:
                step(page)
            page.wait_for_timeout(500)
            page.screenshot(path=SHOTS / f"{name}.png")
            context.close()
        browser.close()


if __name__ == "__main__":
    main()
