"""The tutorials of the documents, walked press by press: what is printed bold there is what is pressed here, in that order."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take
from dravel.stand_ins.taking import write
from tests.browser.conftest import fix, kept_here, saved
from tests.terms import T, fill, like

TUTORIALS = Path(__file__).parents[2] / "docs" / "tutorials"


class Walk:
    """A page, and the presses that a tutorial names."""

    def __init__(self, page: Page, name: str) -> None:
        self.page = page
        text = (TUTORIALS / f"{name}.md").read_text()
        self.left = [" ".join(item.split()) for item in re.findall(r"\*\*(.+?)\*\*", text, re.S)]

    def press(self, words: str, at: Locator | None = None) -> None:
        """Press what the tutorial names next."""
        assert self.left.pop(0) == words
        (at or self.page.get_by_role("button", name=words, exact=True)).first.click()

    def open(self, words: str, path: str) -> None:
        """Open the place that the tutorial names next."""
        assert self.left.pop(0) == words
        self.page.goto(path)

    def step(self, words: str) -> None:
        """Open a step of the rig in hand."""
        rail = self.page.get_by_role("navigation", name=T.rig.orderOfWork)
        self.press(words, rail.get_by_role("link", name=re.compile(words)))

    def done(self) -> None:
        """Nothing that the tutorial names was left out."""
        assert self.left == []


def take_from_shelf(page: Page, words: str, part: str) -> None:
    page.get_by_label(T.common.searchTheShelf).fill(words)
    page.locator("[data-testid=picker-list] button", has_text=part).first.click()


def test_a_first_rig(page: Page, address: str):
    walk = Walk(page, "first-rig")
    page.goto(address)
    walk.press("New rig")
    walk.press("Choose a telescope or lens")
    take_from_shelf(page, "102 mm f/7", "102 mm f/7 doublet")
    expect(page.get_by_test_id("light-strip")).to_be_visible()
    walk.press("Choose a camera")
    take_from_shelf(page, "mono 17.5", "cooled mono camera, 17.5")
    expect(page.get_by_test_id("big-numbers")).to_contain_text("1.10")
    walk.press("Choose a corrector")
    take_from_shelf(page, "0.85", "×0.85 reducer, 2-inch")
    expect(page.get_by_test_id("big-numbers")).to_contain_text("680")
    walk.step("Spacing")
    page.locator("[data-testid=panel-choice]").get_by_text(T.spacing.findRings, exact=True).click()
    assert walk.left.pop(0) == "Find spacers"
    answer = page.get_by_test_id("ring-answers").get_by_role("button").first
    if answer.count():
        answer.click()
    walk.step("Aim")
    walk.press("Add a target")
    page.get_by_label(T.aim.addATargetToThisRig).fill("ngc891")
    page.get_by_role("button", name=re.compile("^NGC 891")).first.click()
    expect(page.get_by_role("slider", name=fill(T.aim.footprintOnTarget, target="NGC 891"))).to_be_visible()
    walk.press("Cost")
    expect(page.get_by_role("dialog").last).to_contain_text("102 mm f/7 doublet")
    page.keyboard.press("Escape")
    walk.press("Undo")
    expect(page.get_by_test_id("saved")).to_contain_text(T.rig.undone)
    walk.done()


def test_a_new_camera(page: Page, address: str):
    walk = Walk(page, "new-camera")
    walk.open("Spacing", f"{address}/rigs/heron/spacing")
    page.locator("[data-testid=train-block][aria-label^='cooled colour camera']").click()
    walk.press("Replace…")
    take_from_shelf(page, "mono 17.5", "cooled mono camera, 17.5")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Pixel scale")
    walk.press("Replace it", dialog.get_by_role("button", name=T.rig.swapItIn, exact=True))
    expect(page.locator("[data-testid=train-block][aria-label^='cooled mono camera']")).to_be_visible()
    walk.step("Optics")
    expect(page.get_by_test_id("big-numbers")).to_contain_text(T.rig.pixelScale)
    walk.step("Exposure")
    expect(page.get_by_test_id("hours-curve")).to_be_visible()
    walk.press("Undo")
    walk.done()
    page.goto(f"{address}/rigs/heron/spacing")
    expect(page.locator("[data-testid=train-block][aria-label^='cooled colour camera']")).to_be_visible()


def test_off_axis(page: Page, address: str):
    walk = Walk(page, "off-axis")
    walk.open("Spacing", f"{address}/rigs/heron/spacing")
    for old, words, new, button in (
        ("cooled colour camera", "mono 17.5", "cooled mono camera, 17.5", "Replace it"),
        ("21 mm filter drawer", "filter wheel", "7 × 1.25-inch filter wheel", "Replace it with these spacers"),
    ):
        page.locator(f"[data-testid=train-block][aria-label^='{old}']").click()
        walk.press("Replace…")
        take_from_shelf(page, words, new)
        walk.press(button, page.get_by_role("dialog").get_by_role("button", name=button, exact=True))
        expect(page.locator(f"[data-testid=train-block][aria-label^='{new}']")).to_be_visible()
    walk.step("Guiding")
    walk.press("Guide off-axis")
    fix(page.get_by_test_id("guiding-foot"), "/guide/method").click()
    walk.step("Spacing")
    expect(page.locator("[data-testid=train-block][aria-label*='off-axis guider']")).to_be_visible()
    saved(page, 5)  # a change not yet saved is dropped, not undone
    walk.press("Undo")
    expect(page.get_by_test_id("saved")).to_contain_text(T.rig.undone)
    walk.done()


def test_travelling(page: Page, address: str):
    walk = Walk(page, "travelling")
    walk.open("Mount", f"{address}/rigs/wren/mount")
    expect(page.get_by_test_id("mount-numbers")).to_be_visible()
    walk.step("Power")
    expect(page.get_by_label(T.rig.findings)).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    walk.open("Assembly", f"{address}/rigs/wren/assembly")
    card = page.get_by_test_id("card")
    walk.press("Done", card.get_by_role("button", name=T.common.done))
    expect(page.get_by_test_id("assembly-progress")).to_contain_text("1 of")
    walk.press("Down")
    expect(page.get_by_test_id("cards")).to_be_visible()
    walk.done()


def test_targets_to_rig(page: Page, address: str):
    walk = Walk(page, "targets-to-rig")
    page.goto(address)
    walk.press("Rig finder", page.get_by_role("link", name=T.common.begin, exact=True))
    walk.press("galaxies in spring")
    page.get_by_role("combobox", name=T.begin.onFoot).click()
    page.locator(".ant-select-item-option", has_text=T.begin.asManyTripsAsItTakes).click()
    page.get_by_label(fill(T.begin.newMoneyCurrency2, currency="EUR")).fill("2500")
    page.get_by_label(fill(T.begin.newMoneyCurrency2, currency="EUR")).press("Tab")
    expect(page.get_by_text(like(T.begin.combinationsCombinationsLookedAtPointsStand))).to_be_visible()
    walk.press("Why this is exact")
    expect(page.get_by_text(like(T.begin.choicesTrainsToChooseFromTrains))).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("heading", name=T.common.begin, exact=True).click()
    chosen = page.get_by_role("region", name=T.begin.theChosenRig)
    expect(page.get_by_role("list", name=T.common.why)).to_be_visible()
    walk.press("Compare", chosen.get_by_role("button", name=T.common.compare, exact=True))
    page.get_by_role("region", name=T.begin.theFrontAsAList).get_by_role("row").nth(5).locator("button.link").click()
    walk.press("Compare", chosen.get_by_role("button", name=T.common.compare, exact=True))
    walk.press("Compare these 2")
    expect(page.get_by_role("region", name=T.begin.answersSideBySide)).to_contain_text(T.begin.partsThatDiffer)
    page.get_by_role("dialog").get_by_role("button", name=T.common.close).click()
    walk.press("Add as rig", chosen.get_by_role("button", name=T.begin.takeIt))
    expect(page).to_have_url(re.compile("/rigs/.+/optics"))
    walk.done()


def test_a_club_evening(page: Page, address: str):
    walk = Walk(page, "club-evening")
    page.goto(f"{address}/tonight?night=2026-12-09")
    expect(page.get_by_test_id("time-line")).to_be_visible()
    kept_here(page, "tonight", {"rigs": ["heron", "bittern"], "from": None, "until": None})
    walk.open("Tonight", f"{address}/tonight?night=2026-12-09")
    expect(page.get_by_test_id("time-line").get_by_role("slider", name=re.compile("Bittern, "))).not_to_have_count(0)
    walk.press("Rehearse")
    walk.press("Start")
    expect(page.get_by_test_id("playing")).to_contain_text(like(T.tonight.aRehearsalOfDayNothingOf, day="2026-12-09"))
    state = page.request.get(f"{address}/api/v1/night").json()
    page.request.post(f"{address}/api/v1/night/speed", data={"night": state["id"], "speed": 1, "to_s": 25 * 3600})
    walk.press("End the rehearsal")
    expect(page.get_by_test_id("ended")).to_contain_text("Heron, rehearsed")
    walk.press("Log", page.get_by_role("navigation", name=T.app.places).get_by_role("link", name=T.common.log))
    expect(page.get_by_test_id("sessions")).to_contain_text(T.log.rehearsed2)
    expect(page.get_by_test_id("log-sum")).to_have_text(T.log.noLightIsLoggedYet)
    walk.done()


@pytest.fixture(scope="module")
def leaning(tmp_path_factory: pytest.TempPathFactory) -> list[Path]:
    """Two frames of one evening with a sensor that leans."""
    rig = PictureRig(1900, 1300, 3.5, 4.3, 1.945, 3e6, 1.5, 0.002, 1.6, 17_000, 0.27)
    made = []
    for seed in (1, 2):
        made.append(tmp_path_factory.mktemp("leaning") / f"leans-{seed}.fits")
        stars = random_stars(rig, 800, seed, brightest=7)
        write(take(rig, stars, Faults(fwhm_px=2.0, tilt_um=140, focus_um=20), 120, seed), made[-1],
              **{"DATE-OBS": f"2026-11-20T2{seed}:00:00", "OBJECT": "IC 1805"})  # fmt: skip
    return made


def test_the_night_that_went_wrong(page: Page, address: str, leaning: list[Path]):
    walk = Walk(page, "night-gone-wrong")
    walk.open("Frames", f"{address}/rigs/heron/frames")
    page.get_by_label(T.frames.framesInFits).set_input_files(leaning)
    expect(page.get_by_test_id("frames").get_by_role("button")).to_have_count(2)
    expect(page.get_by_test_id("causes")).to_contain_text("Sensor tilt")
    walk.press("Exclude this frame")
    expect(page.get_by_test_id("frames").get_by_role("button")).to_have_count(1)
    walk.open("Log", f"{address}/log")
    walk.press("Nights from frames of…")
    page.get_by_role("menuitem", name="Heron").click()
    item = page.get_by_test_id("one-night")
    expect(item).to_contain_text(fill(T.log.rigNightOfNight, rig="Heron", night="2026-11-20"))
    expect(item.get_by_role("row", name=re.compile("IC 1805"))).to_contain_text("2")
    expect(item).to_contain_text(fill(T.log.countLostWhy, count="1", why="excluded after inspection"))
    item.get_by_label(T.log.notesOfThisNight).fill("The drawer's screw was loose.")
    walk.press("Save note")
    expect(item.get_by_role("button", name=T.log.keepTheNote)).to_have_count(0)
    page.keyboard.press("/")
    page.get_by_role("textbox", name=T.app.findAnything).fill("screw loose")
    expect(page.get_by_test_id("found")).to_contain_text("Heron, 2026-11-20")
    page.keyboard.press("Escape")
    walk.press("As built")
    page.get_by_role("combobox", name=T.log.rigAsBuilt).click()
    page.locator(".ant-select-item-option", has_text="Heron").last.click()
    expect(page.get_by_label(T.log.asBuilt, exact=True)).to_contain_text("Sensor tilt")
    walk.done()


def test_the_tour_fixes_magpie_to_the_end(page: Page, address: str):
    page.goto(address)
    page.get_by_role("link", name=T.board.twoMinuteTour).click()
    for _ in range(4):
        page.locator(".ant-tour-footer .ant-btn-primary").click()
    coach = page.get_by_test_id("fix-by-fix")
    for left in range(12):
        expect(
            coach.locator(".ant-btn-primary").or_(coach.get_by_text(T.rig.nothingBreaksAnyMore)).first
        ).to_be_visible()
        if T.rig.nothingBreaksAnyMore in coach.inner_text():
            break
        before = page.get_by_test_id("saved").inner_text()
        coach.locator(".ant-btn-primary").click()
        expect(page.get_by_test_id("saved")).not_to_have_text(before)
        expect(coach.locator(".ant-btn-primary")).to_be_visible()
        assert left < 11
    expect(coach).to_contain_text(T.rig.nothingBreaksAnyMore)
    expect(page.get_by_test_id("tally")).to_have_attribute("data-problem", "0")
    coach.get_by_role("button", name=T.rig.endOfTheTour).click()
    expect(coach).to_have_count(0)


def test_every_tutorial_is_walked():
    walked = re.findall(r'Walk\(page, "([a-z-]+)"\)', Path(__file__).read_text())
    assert sorted(walked) == sorted(path.stem for path in TUTORIALS.glob("*.md"))
