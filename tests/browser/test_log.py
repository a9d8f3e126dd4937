"""The log by hand: a night typed, found by search, its marks taken into the build; a backup restored; a month; documents."""

import re
from datetime import date

from playwright.sync_api import Locator, Page, expect

from dravel.catalogue.demo_log import demo_sessions
from tests.api.test_log import picture
from tests.browser.conftest import kept_here

PHONE = {"width": 390, "height": 844}


def choose(page: Page, label: str, words: str) -> None:
    page.get_by_role("combobox", name=label).click()
    page.locator(".ant-select-item-option", has_text=words).last.click()


def evening_of(form: Locator, day: str) -> None:
    form.get_by_role("group", name="Evening of").get_by_role("button", name=re.compile("choose the night")).click()
    typed = form.page.locator(".evening-typed:visible").get_by_role("textbox")
    typed.fill(day)
    typed.press("Enter")
    expect(form.get_by_role("group", name="Evening of")).to_have_attribute("data-night", day)


def type_night(page: Page, address: str) -> None:
    page.goto(f"{address}/log")
    page.get_by_role("button", name="Type a night").click()
    form = page.get_by_role("form", name="Type a night")
    choose(page, "Rig of the night", "Heron")
    evening_of(form, "2026-11-20")
    form.get_by_label("Temperature").fill("3")
    choose(page, "Target of the subs", "IC 1805")
    choose(page, "Filter of the subs", "dual-line")
    form.get_by_label("Taken").fill("40")
    form.get_by_label("Kept").fill("36")
    form.get_by_label("Kept").press("Tab")
    form.get_by_test_id("reason").fill("a gust")
    form.get_by_label("Read as").fill("123")
    form.get_by_label("Read as").press("Tab")
    form.get_by_role("button", name="Keep this mark").click()
    form.get_by_role("button", name="Keep this night").click()


def test_a_night_is_typed_found_and_its_marks_go_into_the_build(page: Page, address: str):
    """Rig, evening, target, filter, counts, one mark: seventeen presses and fields, within a minute for whoever knows them."""
    type_night(page, address)
    one = page.get_by_test_id("one-night")
    expect(one).to_contain_text("Heron, night of 2026-11-20")
    expect(one).to_contain_text("4 lost: a gust")
    expect(one).to_contain_text("Saddle ahead of the rear shoulder: 123 mm")
    expect(page.get_by_test_id("log-sum")).to_have_text("1 h 48 of light kept in 1 night")
    expect(page.get_by_test_id("sessions")).to_contain_text("36 of 40 subs kept; lost: 4 a gust")
    page.keyboard.press("/")
    page.get_by_role("textbox", name="Find anything").fill("heron saddle")
    expect(page.get_by_test_id("found")).to_contain_text("Marks, Heron, 2026-11-20")
    page.get_by_test_id("found").get_by_role("button", name=re.compile("Marks, Heron")).click()
    expect(one).to_contain_text("123 mm")
    page.goto(f"{address}/rigs/heron/build")
    page.get_by_test_id("cards").get_by_role("button", name=re.compile("into the saddle")).first.click()
    marks = page.get_by_test_id("worked")
    expect(marks).to_contain_text("123 mm")
    marks.get_by_role("button", name="Take it over").click()
    expect(page.get_by_test_id("card")).to_contain_text("saddle's middle 123 mm ahead")
    expect(page.get_by_test_id("saved")).to_contain_text("revision 2")
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_test_id("card")).not_to_contain_text("saddle's middle 123 mm ahead")


def test_what_was_typed_stays_until_it_is_kept(page: Page, address: str):
    page.goto(f"{address}/log")
    page.get_by_role("button", name="Type a night").click()
    page.get_by_label("Notes of the night").fill("the long one")
    page.get_by_role("button", name=re.compile("Later")).click()
    page.reload()
    page.get_by_role("button", name="Type a night").click()
    expect(page.get_by_label("Notes of the night")).to_have_value("the long one")
    page.get_by_role("button", name="Clear").click()
    expect(page.get_by_label("Notes of the night")).to_have_value("")


def test_a_doubtful_night_is_kept_and_asked_about(page: Page, address: str):
    body = {"rig_id": "heron", "night": "2026-11-20", "began": "2026-11-20T12:00:00Z", "ended": "2026-11-20T15:00:00Z"}
    made = page.request.post(f"{address}/api/v1/sessions", data=body).json()
    page.goto(f"{address}/log?session={made['id']}")
    expect(page.get_by_role("status").first).to_contain_text("the sun was up")


def test_a_backup_is_restored_and_what_was_there_comes_back(page: Page, address: str):
    page.goto(f"{address}/keep")
    expect(page.get_by_test_id("last-backup")).to_contain_text("No backup was made yet")
    page.get_by_role("button", name="Back up now").click()
    expect(page.get_by_test_id("last-backup")).to_contain_text("Last good backup")
    page.request.post(f"{address}/api/v1/sessions", data={"rig_id": "heron", "night": "2026-11-20"})
    page.get_by_role("button", name="Restore", exact=True).click()
    page.get_by_role("button", name="Restore it").click()
    expect(page.get_by_text("What was there before is the newest backup now.")).to_be_visible()
    assert page.request.get(f"{address}/api/v1/sessions").json()["of"] == 0
    expect(page.get_by_test_id("backups").locator("tbody tr")).to_have_count(2)
    page.get_by_role("button", name="Restore", exact=True).first.click()
    page.get_by_role("button", name="Restore it").click()
    expect(page.get_by_test_id("backups").locator("tbody tr")).to_have_count(3)
    assert page.request.get(f"{address}/api/v1/sessions").json()["of"] == 1


def test_an_export_is_taken_in_again(page: Page, address: str, tmp_path):
    page.goto(f"{address}/keep")
    with page.expect_download() as told:
        page.get_by_role("link", name="Export everything").click()
    told.value.save_as(tmp_path / "all.zip")
    page.get_by_label("Archive of everything").set_input_files(tmp_path / "all.zip")
    expect(page.get_by_text("were here already")).to_be_visible()
    (tmp_path / "no.zip").write_text("no archive")
    page.get_by_label("Archive of everything").set_input_files(tmp_path / "no.zip")
    expect(page.get_by_text("it is no archive, or was cut short")).to_be_visible()


def filled(served) -> None:
    for record in demo_sessions(date(2026, 11, 25)):
        served[0].state.store.sessions.add(record)


def test_the_month_the_light_and_the_rig_as_built(page: Page, address: str, served):
    filled(served)
    page.goto(f"{address}/log")
    month = page.get_by_test_id("month")
    expect(
        month.get_by_role("button", name=re.compile("21 to 22 November.*Heron: IC 1805; Bittern: NGC 891"))
    ).to_be_visible()
    month.get_by_role("button", name="Month before").click()
    expect(month.get_by_role("heading", name="October 2026")).to_be_visible()
    month.get_by_role("button", name=re.compile("^10 to 11 October")).click()
    expect(page.get_by_role("group", name="Evening of")).to_have_attribute("data-night", "2026-10-10")
    finish = page.get_by_label("What to finish next").get_by_role("listitem")
    expect(finish.first).to_contain_text("open, best on")
    page.get_by_role("button", name="Light by target").click()
    row = page.get_by_test_id("lights").get_by_role("row", name=re.compile("IC 1805 dual-line"))
    expect(row).to_contain_text("18 + 20 × 180 s")
    page.get_by_label("only what is begun").check()
    expect(page.get_by_test_id("lights").get_by_role("row", name=re.compile("Magpie"))).to_have_count(0)
    page.get_by_role("button", name="As built").click()
    choose(page, "Rig as built", "Heron")
    expect(page.get_by_test_id("built")).to_contain_text("by the tube alone")
    expect(page.get_by_test_id("focus-line")).to_be_visible()
    page.get_by_role("button", name="Revision 1 is built so").click()
    expect(page.get_by_label("As built", exact=True)).to_contain_text("Revision 1 stands outside, and is the newest.")


def test_the_board_shows_what_is_there_as_a_ring(page: Page, address: str, served):
    filled(served)
    page.goto(address)
    ring = page.get_by_role("link", name=re.compile("Heron on IC 1805: 1 h 54 kept of"))
    ring.click()
    expect(page.get_by_test_id("lights")).to_be_visible()


def test_pictures_and_documents_are_added_and_put_away(page: Page, address: str, tmp_path):
    made = page.request.post(f"{address}/api/v1/sessions", data={"rig_id": "heron", "night": "2026-11-20"}).json()
    (tmp_path / "mark.jpg").write_bytes(picture((400, 300)))
    (tmp_path / "report.pdf").write_bytes(b"%PDF-1.4 report")
    page.goto(f"{address}/log?session={made['id']}")
    page.get_by_label("Picture of the night").set_input_files(tmp_path / "mark.jpg")
    expect(page.get_by_role("img", name="mark.jpg")).to_be_visible()
    page.get_by_role("button", name="Put away the picture mark.jpg").click()
    expect(page.get_by_role("img", name="mark.jpg")).to_have_count(0)
    page.goto(f"{address}/shelf?part=drawer-21")
    page.get_by_label("Document of the part").set_input_files(tmp_path / "report.pdf")
    expect(page.get_by_role("link", name="report.pdf")).to_be_visible()
    (tmp_path / "no.pdf").write_text("no document")
    page.get_by_label("Document of the part").set_input_files(tmp_path / "no.pdf")
    expect(page.get_by_label("Documents")).to_contain_text("no.pdf: it is neither PDF nor PNG")


def test_two_rigs_that_share_a_part_are_told_on_tonight(page: Page, address: str):
    rig = page.request.get(f"{address}/api/v1/rigs/heron").json()["rig"]
    twin = page.request.post(f"{address}/api/v1/rigs", data={"rig": {**rig, "name": "Twin"}}).json()
    page.goto(f"{address}/tonight")
    expect(page.get_by_role("heading", name="Tonight")).to_be_visible()
    kept_here(page, "tonight", {"rigs": ["heron", twin["id"]], "from": None, "until": None})
    page.reload()
    expect(page.get_by_test_id("in-hands")).to_contain_text("is in Heron and Twin")


def test_the_log_fits_a_phone_and_keys_find(page: Page, address: str, served):
    filled(served)
    page.set_viewport_size(PHONE)
    for place in ("/log", "/log?view=light", "/log?view=built&rig=heron", "/keep"):
        page.goto(f"{address}{place}")
        expect(page.get_by_role("main").get_by_role("heading", level=1)).to_be_visible()
        assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"], place
    page.keyboard.press("/")
    field = page.get_by_role("textbox", name="Find anything")
    field.fill("back focus")
    expect(page.get_by_test_id("found").get_by_role("button").first).to_be_visible()
    field.press("ArrowDown")
    field.press("Enter")
    expect(page).not_to_have_url(re.compile("/keep"))


def test_what_is_found_opens_its_place(page: Page, address: str):
    def go(words: str, kind: str) -> None:
        page.get_by_role("button", name="Find anything").click()  # the key is a letter while somebody types
        page.get_by_role("textbox", name="Find anything").fill(words)
        page.get_by_test_id("found").get_by_role("button", name=re.compile(f"^{kind}")).first.click()

    page.goto(f"{address}/about")
    go("heart neb", "target")
    expect(page.get_by_role("main")).to_contain_text("IC 1805")
    go("ngc 7789", "in the sky")
    expect(page.get_by_test_id("target-search").get_by_role("button", name=re.compile("NGC 7789"))).to_be_visible()
    go("drawer", "part")
    expect(page.get_by_role("dialog")).to_contain_text("21 mm filter drawer")
    page.keyboard.press("Escape")
    go("bittern", "rig")
    expect(page.get_by_label("Name of the rig")).to_have_value("Bittern")
    go("back focus", "rule")
    expect(page).to_have_url(re.compile("/rules/"))


def test_tonight_says_which_rig_for_which_target(page: Page, address: str):
    page.goto(f"{address}/tonight?night=2026-12-09")
    page.get_by_text("Which rig for which target").click()
    row = page.get_by_test_id("suits").get_by_role("row", name=re.compile("^NGC 891"))
    expect(row.get_by_role("link", name="Bittern")).to_be_visible()


def test_a_night_is_changed_put_away_and_brought_back(page: Page, address: str):
    type_night(page, address)
    one = page.get_by_test_id("one-night")
    one.get_by_role("button", name="Change").click()
    form = page.get_by_role("form", name="Change this night")
    expect(form.get_by_label("Kept")).to_have_value("36")
    form.get_by_label("Kept").fill("30")
    form.get_by_label("Kept").press("Tab")
    expect(form.get_by_test_id("reason")).to_have_value("a gust")
    form.get_by_test_id("save").click()
    expect(one).to_contain_text("10 lost: a gust")
    expect(page.get_by_test_id("log-sum")).to_have_text("1 h 30 of light kept in 1 night")
    one.get_by_role("button", name="Put away").click()
    expect(page.get_by_test_id("log-sum")).to_have_text("No light is logged yet.")
    page.keyboard.press("/")
    page.get_by_role("textbox", name="Find anything").fill("gust heron")
    page.get_by_test_id("found").get_by_role("button", name=re.compile("^night")).click()
    one.get_by_role("button", name="Bring back").click()
    expect(page.get_by_test_id("log-sum")).to_have_text("1 h 30 of light kept in 1 night")
