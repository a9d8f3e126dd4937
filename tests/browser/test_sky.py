"""Sites, horizons, nights and seasons as a user meets them."""

import csv
import re
from pathlib import Path

from playwright.sync_api import Page, expect

from dravel.core.model import Site, Target
from tests.browser.conftest import finding, fix, quiet, steady, titled
from tests.browser.test_journeys import saved
from tests.terms import T, fill, like


def test_a_new_site_with_a_drawn_horizon_changes_tonights_hours(page: Page, address: str):
    page.goto(f"{address}/sky")
    page.get_by_role("button", name=T.common.addASite).click()
    asked = page.get_by_role("dialog", name=T.sky.whereDoYouObserveFrom)
    # Nothing is kept, and nothing is ranked, before it has a place.
    expect(asked.get_by_role("button", name=T.sky.addTheSite)).to_be_disabled()
    expect(page.get_by_role("button", name=T.sky.newSite, exact=True)).to_have_count(0)
    asked.get_by_label(T.sky.coordinatesOfTheSite).fill("40.9 -2.6")
    asked.get_by_label(T.sky.coordinatesOfTheSite).press("Enter")
    expect(asked.get_by_role("status")).to_have_text("40.9° N, 2.6° W")
    asked.get_by_label(titled(Site, "elevation_m")).fill("1000")
    asked.get_by_label(titled(Site, "elevation_m")).press("Enter")
    asked.get_by_role("button", name=T.sky.addTheSite).click()
    expect(asked).to_be_hidden()
    form = page.get_by_role("group", name=T.sky.newSite)
    expect(form.get_by_label(T.sky.timeZone)).to_have_value("Europe/Madrid")
    first = page.locator("[data-testid=worth-line]", has_text="IC 1805")
    expect(first).to_contain_text("10 h")
    picture = page.locator("[data-testid=horizon-picture]")
    box = steady(picture)
    for share in (0.05, 0.35, 0.65, 0.95):
        picture.click(position={"x": box["width"] * share, "y": box["height"] * 0.32})
        quiet(page)
    expect(page.locator("[data-testid=horizon-point]")).to_have_count(4)
    expect(first).not_to_contain_text("10 h")
    point = page.locator("[data-testid=horizon-point]").first
    before = point.get_attribute("aria-valuenow")
    point.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-testid=horizon-point]").first).not_to_have_attribute("aria-valuenow", before or "")
    page.reload()
    # It is still the site that is looked from, here and on the Board.
    expect(page.locator("[data-testid=horizon-point]")).to_have_count(4)
    page.get_by_role("link", name=T.board.board, exact=True).click()
    expect(page.get_by_role("combobox", name=T.board.site).locator("option:checked")).to_have_text(T.sky.newSite)


def test_a_horizon_read_from_a_file_tells_bad_lines_and_keeps_the_good(page: Page, address: str, tmp_path: Path):
    page.goto(f"{address}/sky")
    file = tmp_path / "roofs.csv"
    file.write_text("azimuth,altitude\n0,10\n90,120\n180,25\n")
    page.get_by_label(T.sky.horizonFile).set_input_files(file)
    expect(page.get_by_role("region", name=T.sky.horizon)).to_contain_text(
        fill(T.sky.lineLineFieldReason, line="3", field="altitude", reason="120° is outside")
    )
    expect(page.locator("[data-testid=horizon-point]")).to_have_count(2)
    page.get_by_role("button", name=T.sky.mirror).click()
    expect(page.locator("[data-testid=horizon-point]")).to_have_count(2)


def test_the_night_of_a_target_and_its_best_month(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/aim?target=ngc-891")
    strip = page.get_by_role("region", name=T.aim.nightAndYear)
    expect(strip).to_contain_text(like(T.aim.usableHDarkAndFreeAbove, usable_h="9 h 30 min", floor_deg=30))
    expect(strip).to_contain_text(re.compile("best in (late October|early November)"))
    strip.get_by_role("button", name=T.aim.year, exact=True).click()
    year = strip.get_by_test_id("year-picture")
    year.get_by_role("application").focus()
    # A week a press, from tonight's on.
    for _ in range(20):
        page.keyboard.press("ArrowRight")
    expect(year.get_by_role("status")).to_contain_text(like(T.aim.weekOfFirstHoursHA))
    page.keyboard.press("Enter")
    saved(page, 2)
    expect(strip.get_by_label(T.aim.plannedForTheNightOf)).to_have_attribute("data-night", re.compile("^2027-04"))
    expect(finding(page, "A1", "NGC 891")).not_to_have_attribute("data-verdict", "ok")
    strip.get_by_label("Choose the night").click()
    page.get_by_role("button", name=T.common.tonight2, exact=True).click()
    expect(strip.get_by_label(T.aim.plannedForTheNightOf)).to_contain_text("tonight, 25–26 Nov")


def test_an_out_of_season_target_is_mended_to_its_season(page: Page, address: str):
    page.goto(f"{address}/rigs/bittern/aim?target=ngc-6205")
    low = page.locator("[data-testid=finding][data-code=A1]:not([data-verdict=ok])")
    fix(low, "/night").click()
    expect(low).to_have_count(0)
    expect(page.get_by_label(T.aim.plannedForTheNightOf)).to_have_attribute("data-night", re.compile("^2027-0[45]"))


def test_a_mosaic_of_the_veil_is_exported_and_read_back(page: Page, address: str, tmp_path: Path):
    page.goto(f"{address}/rigs/heron/aim?target=veil-complex")
    page.get_by_role("button", name=fill(T.aim.coverItNeededNeeded2Tiles, needed=1, needed2=2)).click()
    saved(page, 2)
    with page.expect_download() as caught:
        page.get_by_role("link", name=T.aim.centresCsv).click()
    path = tmp_path / "tiles.csv"
    caught.value.save_as(path)
    rows = list(csv.DictReader(path.open()))
    assert [row["tile"] for row in rows] == ["1", "2"]
    assert abs(float(rows[0]["dec_deg"]) - float(rows[1]["dec_deg"])) > 1.5


def test_the_board_for_another_night_and_place(page: Page, address: str):
    page.goto(address)
    expect(page.locator("[data-testid=sky-tools]")).to_contain_text("25 Nov: dark 19:22")
    expect(page.locator("th", has_text="M13")).to_contain_text("0 min")
    night = page.get_by_role("group", name=T.app.nightOf)
    expect(night).to_contain_text("tonight, 25–26 Nov")
    night.get_by_label("Choose the night").click()
    page.get_by_label(T.common.eveningOf).fill("2027-06-05")
    page.get_by_label(T.common.eveningOf).press("Enter")
    expect(night).to_contain_text("5–6 Jun 2027")
    assert "night=2027-06-05" in page.url
    expect(page.locator("th", has_text="M13")).not_to_contain_text("0 min")
    page.get_by_role("combobox", name=T.board.site).select_option("Town terrace below Veleda")
    expect(page.get_by_role("link", name=re.compile(r"^Heron on M13: 13% · \d+"))).to_be_visible()


def test_what_the_night_is_good_for_explains_itself(page: Page, address: str):
    page.goto(f"{address}/sky")
    line = page.locator("[data-testid=worth-line]").first
    line.click()
    expect(page.locator("[data-testid=worth-terms]")).to_contain_text(T.sky.ofTheField)
    page.get_by_label(T.sky.brightLargeAndHighOnly).check()
    expect(page.locator("[data-testid=worth-line]").first).to_be_visible()
    page.locator("[data-testid=worth-line]").first.click()
    name = page.locator("[data-testid=worth-line] strong").first.inner_text()
    if page.locator("[data-testid=worth-terms]").count() == 0:
        page.locator("[data-testid=worth-line]").first.click()
    page.get_by_role("button", name=T.sky.putItOnTheBoard).click()
    expect(page.locator(".ant-notification")).to_contain_text(fill(T.sky.targetIsOnTheBoard, target=name))


def test_targets_are_edited_listed_and_read_from_a_file(page: Page, address: str, tmp_path: Path):
    page.goto(f"{address}/sky")
    region = page.get_by_role("region", name=T.common.targets2, exact=True)
    region.get_by_role("button", name="M101").click()
    form = page.get_by_role("dialog", name="M101")
    form.get_by_label(titled(Target, "major_arcmin")).fill("27")
    form.get_by_label(titled(Target, "major_arcmin")).press("Enter")
    form.get_by_label(titled(Target, "minor_arcmin")).fill("40")
    form.get_by_label(titled(Target, "minor_arcmin")).press("Enter")
    expect(form.get_by_role("alert")).to_contain_text("minor axis needs a major axis that is at least as long")
    form.get_by_role("button", name=T.common.close).click()
    expect(region.locator("tr", has_text="M101")).to_contain_text("27′")
    file = tmp_path / "spring.csv"
    file.write_text("name;ra;dec;type;size\nM51;13 29 52.7;+47 11 43;galaxy;11\nNowhere;;12\n")
    page.get_by_label(T.sky.targetsFile).set_input_files(file)
    answer = page.get_by_role("dialog", name=T.kit.targetsFromAFile)
    expect(answer).to_contain_text(
        fill(T.kit.addedWhatCanBeReadWrong, added="1", what="target", wrong="1", which="line")
    )
    expect(answer).to_contain_text("ra_deg: is missing")
    answer.get_by_role("button", name=fill(T.kit.addTheAddedGoodOnes, added="1")).click()
    expect(region.locator("tr", has_text="M51")).to_contain_text("13h 29m 53s")
    region.get_by_label(T.sky.searchTheTargets).fill("nothing such")
    expect(region).to_contain_text(T.sky.noTargetFitsTheseWordsClear)
    with page.expect_download() as caught:
        region.get_by_role("link", name=T.sky.votable).click()
    assert "<VOTABLE" in Path(caught.value.path()).read_text()


def test_two_windows_on_one_site_lose_nothing(page: Page, address: str):
    page.goto(f"{address}/sky")
    form = page.get_by_role("group", name="Alto de Veleda")
    expect(form.get_by_label(titled(Site, "seeing_arcsec"))).to_have_value("2.2")
    page.evaluate(
        """async () => {
          const kept = await (await fetch('/api/v1/sites/alto-de-veleda')).json();
          await fetch('/api/v1/sites/alto-de-veleda', {method: 'PUT', headers: {'content-type': 'application/json'},
            body: JSON.stringify({base: kept.version, body: {...kept.body, elevation_m: 1300}})});
        }"""
    )
    form.get_by_label(titled(Site, "seeing_arcsec")).fill("1.9")
    form.get_by_label(titled(Site, "seeing_arcsec")).press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("Nothing was overwritten")
    expect(form.get_by_label(titled(Site, "elevation_m"))).to_have_value("1300")
    form.get_by_label(titled(Site, "seeing_arcsec")).fill("1.8")
    form.get_by_label(titled(Site, "seeing_arcsec")).press("Enter")
    expect(page.get_by_role("alert")).to_have_count(0)
    page.reload()
    expect(form.get_by_label(titled(Site, "seeing_arcsec"))).to_have_value("1.8")
    expect(form.get_by_label(titled(Site, "elevation_m"))).to_have_value("1300")


def test_a_horizon_by_keys_alone(page: Page, address: str):
    page.goto(f"{address}/sky")
    page.get_by_role("button", name="Town terrace below Veleda").click()
    points = page.locator("[data-testid=horizon-point]")
    expect(points).to_have_count(10)
    wall = page.get_by_role("slider", name=fill(T.sky.horizonAtAzimuthAzimuthDeg, azimuth_deg="246"))
    wall.focus()
    page.keyboard.press("Shift+ArrowUp")
    expect(
        page.get_by_role("slider", name=fill(T.sky.horizonAtAzimuthAzimuthDeg, azimuth_deg="246"))
    ).to_have_attribute("aria-valuenow", "49")
    page.get_by_role("slider", name=fill(T.sky.horizonAtAzimuthAzimuthDeg, azimuth_deg="246")).focus()
    page.keyboard.press("Delete")
    expect(points).to_have_count(9)
    quiet(page)
    page.reload()
    page.get_by_role("button", name="Town terrace below Veleda").click()
    expect(points).to_have_count(9)


def test_a_rig_without_a_site_is_told_where_to_get_one(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.common.newRig).click()
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value(T.common.newRig)
    page.goto(f"{address}/rigs/new-rig/aim")
    page.get_by_role("button", name=T.common.addATarget).click()
    page.get_by_label(T.aim.addATargetToThisRig).fill("m31")
    page.get_by_role("button", name=re.compile("^M31")).first.click()
    expect(page.get_by_text(like(T.aim.theFieldCannotBeDrawnBecause))).to_be_visible()
    page.goto(f"{address}/sky")
    tonight = page.get_by_role("region", name=T.sky.whatTheNightIsGoodFor)
    tonight.get_by_label(T.sky.rigs).click()
    page.locator(".ant-select-item", has_text=T.common.newRig).click()
    # With another rig beside it, the night is that one's; alone there is nothing to rank for it.
    expect(tonight.get_by_test_id("worth-line").first).to_be_visible()
    tonight.locator(".ant-select-selection-item-remove").first.click()
    expect(tonight).to_contain_text(like(T.sky.nothingToRankBecause))


def test_what_the_night_is_good_for_by_kinds_and_for_several_rigs(page: Page, address: str):
    page.goto(f"{address}/sky")
    tonight = page.get_by_role("region", name=T.sky.whatTheNightIsGoodFor)
    expect(tonight.get_by_test_id("worth-line").first).to_be_visible()
    tonight.get_by_label(T.sky.kindsForTheNight).click()
    page.locator(".ant-select-item", has_text="galaxy").click()
    page.keyboard.press("Escape")
    expect(tonight.get_by_test_id("worth-line").filter(has_text="emission")).to_have_count(0)
    tonight.get_by_label(T.sky.rigs).click()
    page.locator(".ant-select-item", has_text="Bittern").click()
    expect(tonight.get_by_test_id("worth-line").filter(has_text="Bittern").first).to_be_visible()


def test_a_rig_without_a_site_is_asked_for_it_where_it_first_matters(page: Page, address: str):
    page.goto(address)
    page.get_by_role("button", name=T.common.newRig).click()
    page.goto(f"{address}/rigs/new-rig/aim")
    rig = page.request.get(f"{address}/api/v1/rigs/heron").json()["rig"]
    page.request.post(f"{address}/api/v1/rigs", data={"rig": {**rig, "name": "Stray", "site": None}})
    page.goto(f"{address}/rigs/stray/aim")
    page.get_by_role("button", name=T.aim.sayWhereYouObserveFrom).click()
    asked = page.get_by_role("dialog", name=T.sky.whereDoYouObserveFrom)
    asked.get_by_label(T.sky.nameOfTheNewSite).fill("Garden")
    world = asked.get_by_role("group", name=T.sky.mapOfTheWorld)
    box = steady(world)
    page.mouse.click(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.3)
    asked.get_by_role("button", name=T.sky.addTheSite).click()
    expect(page.get_by_role("region", name=T.aim.nightAndYear)).to_contain_text("Garden")
    expect(page.get_by_test_id("night-words")).to_contain_text(like(T.aim.usableHDarkAndFreeAbove))


def test_an_outline_is_drawn_by_hand_and_by_keys(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/aim?target=ic-1805")
    words = page.locator("[data-testid=size-words]")
    expect(words).to_contain_text("110′ × 105′ (Dravel, from memory); others give 60′ × 60′ (OpenNGC)")
    handle = page.locator("[data-testid=outline-minor]")
    box = steady(handle)
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 12, y, steps=4)
    page.mouse.move(x + 24, y, steps=4)
    page.mouse.up()
    expect(words).to_contain_text("own outline")
    expect(words).to_contain_text("others give 110′ × 105′ (Dravel, from memory)")
    saved(page, 2)
    # The first steps of the drag are told before the last: read what stands once it has come to rest.
    before = words.inner_text()
    while page.wait_for_timeout(500) or words.inner_text() != before:
        before = words.inner_text()
    page.locator("[data-testid=outline-major]").focus()
    page.keyboard.press("Shift+ArrowUp")
    expect(words).not_to_have_text(before)
    saved(page, 3)
    page.get_by_role("button", name=T.rig.undo).click()
    expect(words).to_have_text(before)
