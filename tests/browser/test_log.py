"""The log by hand: a night typed, found by search, its marks taken into the build; a backup restored; a month; documents."""

import re
from datetime import date

from playwright.sync_api import Locator, Page, expect

from dravel.catalogue.demo_log import demo_sessions
from dravel.core.model.session import SessionConditions, SessionSubs
from tests.api.test_log import picture
from tests.browser.conftest import kept_here, saved, titled
from tests.terms import T, fill, like

PHONE = {"width": 390, "height": 844}


def choose(page: Page, label: str, words: str) -> None:
    page.get_by_role("combobox", name=label).click()
    page.locator(".ant-select-item-option", has_text=words).last.click()


def evening_of(form: Locator, day: str) -> None:
    form.get_by_role("group", name=T.common.eveningOf).get_by_role(
        "button", name=like(T.app.toldChooseTheNight)
    ).click()
    typed = form.page.locator(".evening-typed:visible").get_by_role("textbox")
    typed.fill(day)
    typed.press("Enter")
    expect(form.get_by_role("group", name=T.common.eveningOf)).to_have_attribute("data-night", day)


def type_night(page: Page, address: str) -> None:
    page.goto(f"{address}/log")
    page.get_by_role("button", name=T.log.typeANight).click()
    form = page.get_by_role("form", name=T.log.typeANight)
    choose(page, T.log.rigOfTheNight, "Heron")
    evening_of(form, "2026-11-20")
    form.get_by_label(titled(SessionConditions, "temperature_c")).fill("3")
    choose(page, T.log.targetOfTheSubs, "IC 1805")
    choose(page, T.log.filterOfTheSubs, "dual-narrowband")
    form.get_by_label(titled(SessionSubs, "taken")).fill("40")
    form.get_by_label(titled(SessionSubs, "kept")).fill("36")
    form.get_by_label(titled(SessionSubs, "kept")).press("Tab")
    form.get_by_test_id("reason").fill("a gust")
    form.get_by_label(T.log.readAs).fill("123")
    form.get_by_label(T.log.readAs).press("Tab")
    form.get_by_role("button", name=T.log.keepThisMark).click()
    form.get_by_role("button", name=T.log.keepThisNight).click()


def test_a_night_is_typed_found_and_its_marks_go_into_the_build(page: Page, address: str):
    """Rig, evening, target, filter, counts, one mark: seventeen presses and fields, within a minute for whoever knows them."""
    type_night(page, address)
    item = page.get_by_test_id("one-night")
    expect(item).to_contain_text(fill(T.log.rigNightOfNight, rig="Heron", night="2026-11-20"))
    expect(item).to_contain_text(fill(T.log.countLostWhy, count="4", why="a gust"))
    expect(item).to_contain_text("Saddle ahead of the rear shoulder: 123 mm")
    expect(page.get_by_test_id("log-sum")).to_have_text(like(T.log.lightSOfLightKeptIn, light_s="1 h 48 min"))
    expect(page.get_by_test_id("sessions")).to_contain_text(like(T.log.recordOfRecord2SubsKept, record=36, record2=40))
    page.keyboard.press("/")
    page.get_by_role("textbox", name=T.app.findAnything).fill("heron saddle")
    expect(page.get_by_test_id("found")).to_contain_text("Marks, Heron, 2026-11-20")
    page.get_by_test_id("found").get_by_role("button", name=re.compile("Marks, Heron")).click()
    expect(item).to_contain_text("123 mm")
    page.goto(f"{address}/rigs/heron/assembly")
    page.get_by_test_id("cards").get_by_role("button", name=re.compile("into the saddle")).first.click()
    marks = page.get_by_test_id("worked")
    expect(marks).to_contain_text("123 mm")
    marks.get_by_role("button", name=T.log.takeItOver).click()
    expect(page.get_by_test_id("card")).to_contain_text("saddle's middle 123 mm ahead")
    saved(page, 2)
    page.get_by_role("button", name=T.rig.undo, exact=True).click()
    expect(page.get_by_test_id("card")).not_to_contain_text("saddle's middle 123 mm ahead")


def test_what_was_typed_stays_until_it_is_kept(page: Page, address: str):
    page.goto(f"{address}/log")
    page.get_by_role("button", name=T.log.typeANight).click()
    page.get_by_label(T.log.notesOfTheNight).fill("the long one")
    page.get_by_role("button", name=re.compile(T.common.later)).click()
    page.reload()
    page.get_by_role("button", name=T.log.typeANight).click()
    expect(page.get_by_label(T.log.notesOfTheNight)).to_have_value("the long one")
    page.get_by_role("button", name=T.common.clear).click()
    expect(page.get_by_label(T.log.notesOfTheNight)).to_have_value("")


def test_a_doubtful_night_is_kept_and_asked_about(page: Page, address: str):
    body = {"rig_id": "heron", "night": "2026-11-20", "began": "2026-11-20T12:00:00Z", "ended": "2026-11-20T15:00:00Z"}
    made = page.request.post(f"{address}/api/v1/sessions", data=body).json()
    page.goto(f"{address}/log?session={made['id']}")
    expect(page.get_by_role("status").first).to_contain_text("the sun was up")


def test_a_backup_is_restored_and_what_was_there_comes_back(page: Page, address: str):
    page.goto(f"{address}/backups")
    expect(page.get_by_test_id("last-backup")).to_contain_text(T.keep.noBackupWasMadeYetThe)
    page.get_by_role("button", name=T.keep.backUpNow).click()
    expect(page.get_by_test_id("last-backup")).to_contain_text(like(T.keep.lastGoodBackupLast))
    page.request.post(f"{address}/api/v1/sessions", data={"rig_id": "heron", "night": "2026-11-20"})
    page.get_by_role("button", name=T.keep.restore, exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name=T.keep.restore).click()
    expect(page.get_by_text(T.keep.whatWasThereBeforeIsThe)).to_be_visible()
    assert page.request.get(f"{address}/api/v1/sessions").json()["of"] == 0
    expect(page.get_by_test_id("backups").locator("tbody tr")).to_have_count(2)
    page.get_by_role("button", name=T.keep.restore, exact=True).first.click()
    page.get_by_role("dialog").get_by_role("button", name=T.keep.restore).click()
    expect(page.get_by_test_id("backups").locator("tbody tr")).to_have_count(3)
    assert page.request.get(f"{address}/api/v1/sessions").json()["of"] == 1


def test_an_export_is_taken_in_again(page: Page, address: str, tmp_path):
    page.goto(f"{address}/backups")
    with page.expect_download() as answer:
        page.get_by_role("link", name=T.keep.exportEverything).click()
    answer.value.save_as(tmp_path / "all.zip")
    page.get_by_label(T.keep.archiveOfEverything).set_input_files(tmp_path / "all.zip")
    expect(page.get_by_text("already present")).to_be_visible()
    (tmp_path / "no.zip").write_text("no archive")
    page.get_by_label(T.keep.archiveOfEverything).set_input_files(tmp_path / "no.zip")
    expect(page.get_by_text("it is no archive, or was cut short")).to_be_visible()


def filled(served) -> None:
    for record in demo_sessions(date(2026, 11, 25)):
        served[0].state.store.sessions.add(record)


def test_the_month_the_light_and_the_rig_as_built(page: Page, address: str, served):
    filled(served)
    page.goto(f"{address}/log")
    month = page.get_by_test_id("month")
    expect(month.get_by_role("button", name=re.compile("21–22 Nov.*Heron: IC 1805; Bittern: NGC 891"))).to_be_visible()
    month.get_by_role("button", name=T.log.monthBefore).click()
    expect(month.get_by_role("heading", name="October 2026")).to_be_visible()
    month.get_by_role("button", name=re.compile("^10–11 Oct")).click()
    expect(page.get_by_role("group", name=T.common.eveningOf)).to_have_attribute("data-night", "2026-10-10")
    finish = page.get_by_label(T.log.whatToFinishNext).get_by_role("listitem")
    expect(finish.first).to_contain_text("open, best on")
    page.get_by_role("button", name=T.log.lightByTarget).click()
    row = page.get_by_test_id("lights").get_by_role("row", name=re.compile("IC 1805 dual-narrowband"))
    expect(row).to_contain_text("18 + 20 × 180 s")
    page.get_by_label(T.log.onlyWhatIsBegun).check()
    expect(page.get_by_test_id("lights").get_by_role("row", name=re.compile("Magpie"))).to_have_count(0)
    page.get_by_role("button", name=T.log.asBuilt).click()
    choose(page, T.log.rigAsBuilt, "Heron")
    expect(page.get_by_test_id("built")).to_contain_text("by tube expansion alone")
    expect(page.get_by_test_id("focus-line")).to_be_visible()
    page.get_by_role("button", name=fill(T.log.revisionRevisionIsBuiltSo, revision="1")).click()
    expect(page.get_by_label(T.log.asBuilt, exact=True)).to_contain_text(
        fill(T.log.revisionPinnedStandsOutsideAndIs, pinned="1")
    )


def test_the_board_shows_what_is_there_as_a_ring(page: Page, address: str, served):
    filled(served)
    page.goto(address)
    ring = page.get_by_role("link", name=re.compile("Heron on IC 1805: 1 h 54 min"))
    ring.click()
    expect(page.get_by_test_id("lights")).to_be_visible()


def test_pictures_and_documents_are_added_and_put_away(page: Page, address: str, tmp_path):
    made = page.request.post(f"{address}/api/v1/sessions", data={"rig_id": "heron", "night": "2026-11-20"}).json()
    (tmp_path / "mark.jpg").write_bytes(picture((400, 300)))
    (tmp_path / "report.pdf").write_bytes(b"%PDF-1.4 report")
    page.goto(f"{address}/log?session={made['id']}")
    page.get_by_label(T.log.pictureOfTheNight).set_input_files(tmp_path / "mark.jpg")
    expect(page.get_by_role("img", name="mark.jpg")).to_be_visible()
    page.get_by_role("button", name=fill(T.log.putAwayThePictureName, name="mark.jpg")).click()
    expect(page.get_by_role("img", name="mark.jpg")).to_have_count(0)
    page.goto(f"{address}/shelf?part=drawer-21")
    page.get_by_label(T.shelf.documentOfThePart).set_input_files(tmp_path / "report.pdf")
    expect(page.get_by_role("link", name="report.pdf")).to_be_visible()
    (tmp_path / "no.pdf").write_text("no document")
    page.get_by_label(T.shelf.documentOfThePart).set_input_files(tmp_path / "no.pdf")
    expect(page.get_by_label(T.shelf.documents)).to_contain_text("no.pdf: it is neither PDF nor PNG")


def test_two_rigs_that_share_a_part_are_told_on_tonight(page: Page, address: str):
    rig = page.request.get(f"{address}/api/v1/rigs/heron").json()["rig"]
    twin = page.request.post(f"{address}/api/v1/rigs", data={"rig": {**rig, "name": "Twin"}}).json()
    page.goto(f"{address}/tonight")
    expect(page.get_by_role("heading", name=T.common.tonight2)).to_be_visible()
    kept_here(page, "tonight", {"rigs": ["heron", twin["id"]], "from": None, "until": None})
    page.reload()
    expect(page.get_by_test_id("in-hands")).to_contain_text("is in Heron and Twin")


def test_the_log_fits_a_phone_and_keys_find(page: Page, address: str, served):
    filled(served)
    page.set_viewport_size(PHONE)
    for place in ("/log", "/log?view=light", "/log?view=built&rig=heron", "/backups"):
        page.goto(f"{address}{place}")
        expect(page.get_by_role("main").get_by_role("heading", level=1)).to_be_visible()
        assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"], place
    page.keyboard.press("/")
    field = page.get_by_role("textbox", name=T.app.findAnything)
    field.fill("back focus")
    expect(page.get_by_test_id("found").get_by_role("button").first).to_be_visible()
    field.press("ArrowDown")
    field.press("Enter")
    expect(page).not_to_have_url(re.compile("/backups"))


def test_what_is_found_opens_its_place(page: Page, address: str):
    def go(words: str, kind: str) -> None:
        page.get_by_role("button", name=T.app.findAnything).click()  # the key is a letter while somebody types
        page.get_by_role("textbox", name=T.app.findAnything).fill(words)
        page.get_by_test_id("found").get_by_role("button", name=re.compile(f"^{kind}")).first.click()

    page.goto(f"{address}/about")
    go("heart neb", "target")
    expect(page.get_by_role("main")).to_contain_text("IC 1805")
    go("ngc 7789", T.app.inTheSky)
    expect(page.get_by_test_id("target-search").get_by_role("button", name=re.compile("NGC 7789"))).to_be_visible()
    go("drawer", "part")
    expect(page.get_by_role("dialog")).to_contain_text("21 mm filter drawer")
    page.keyboard.press("Escape")
    go("bittern", "rig")
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("Bittern")
    go("back focus", "rule")
    expect(page).to_have_url(re.compile("/rules/"))


def test_tonight_says_which_rig_for_which_target(page: Page, address: str):
    page.goto(f"{address}/tonight?night=2026-12-09")
    page.get_by_text(T.tonight.whichRigForWhichTarget).click()
    row = page.get_by_test_id("suits").get_by_role("row", name=re.compile("^NGC 891"))
    expect(row.get_by_role("link", name="Bittern")).to_be_visible()


def test_a_night_is_changed_put_away_and_brought_back(page: Page, address: str):
    type_night(page, address)
    item = page.get_by_test_id("one-night")
    item.get_by_role("button", name=T.log.change).click()
    form = page.get_by_role("form", name=T.log.changeThisNight)
    expect(form.get_by_label(titled(SessionSubs, "kept"))).to_have_value("36")
    form.get_by_label(titled(SessionSubs, "kept")).fill("30")
    form.get_by_label(titled(SessionSubs, "kept")).press("Tab")
    expect(form.get_by_test_id("reason")).to_have_value("a gust")
    form.get_by_test_id("save").click()
    expect(item).to_contain_text(fill(T.log.countLostWhy, count="10", why="a gust"))
    expect(page.get_by_test_id("log-sum")).to_have_text(like(T.log.lightSOfLightKeptIn, light_s="1 h 30 min"))
    item.get_by_role("button", name=T.common.putAway3).click()
    expect(page.get_by_test_id("log-sum")).to_have_text(T.log.noLightIsLoggedYet)
    page.keyboard.press("/")
    page.get_by_role("textbox", name=T.app.findAnything).fill("gust heron")
    page.get_by_test_id("found").get_by_role("button", name=re.compile("^night")).click()
    item.get_by_role("button", name=T.log.bringBack).click()
    expect(page.get_by_test_id("log-sum")).to_have_text(like(T.log.lightSOfLightKeptIn, light_s="1 h 30 min"))
