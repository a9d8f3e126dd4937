"""Nothing typed or marked is lost: a night changed in two places, a mark that is refused, other data at the same address, a browser
that keeps nothing, and another machine over plain HTTP.
"""

import json
import re
from datetime import UTC, datetime

import pytest
from argon2 import PasswordHasher
from playwright.sync_api import Page, expect

from dravel.core.model.session import SessionConditions
from tests.browser.conftest import OTHER_NAME, kept_here, saved, titled
from tests.browser.test_log import evening_of, type_night
from tests.browser.test_running import begin, jump
from tests.terms import T, fill

NIGHT = {
    "rig_id": "heron", "night": "2026-11-20", "note": "first",
    "subs": [{"target": "ic-1805", "name": "IC 1805", "filter": "", "sub_s": 300, "planned": 20, "taken": 20, "kept": 14}],
    "losses": [{"why": "clouds", "count": 4}, {"why": "wind", "count": 2}],
}  # fmt: skip


def a_night(page: Page, address: str) -> str:
    return page.request.post(f"{address}/api/v1/sessions", data=NIGHT).json()["id"]


def record(page: Page, address: str, key: str) -> dict:
    return page.request.get(f"{address}/api/v1/sessions/{key}").json()["record"]


def changed_elsewhere(page: Page, address: str, key: str, **change: object) -> None:
    now = page.request.get(f"{address}/api/v1/sessions/{key}").json()
    body = {"base": now["version"], "record": {**now["record"], **change}}
    assert page.request.put(f"{address}/api/v1/sessions/{key}", data=body).ok


def open_change(page: Page, address: str, key: str):
    page.goto(f"{address}/log?session={key}")
    page.get_by_role("button", name=T.log.change, exact=True).click()
    return page.get_by_role("form", name=T.log.changeThisNight)


def test_a_night_changed_here_and_elsewhere_is_kept_with_both_and_all_its_losses(page: Page, address: str):
    key = a_night(page, address)
    form = open_change(page, address, key)
    expect(form.get_by_test_id("reason")).to_have_count(2)
    assert page.evaluate("Object.keys(localStorage).filter(key => key.includes('typed-night'))") == []
    form.get_by_label(titled(SessionConditions, "seeing_arcsec")).fill("1.8")
    form.get_by_label(titled(SessionConditions, "seeing_arcsec")).press("Tab")
    changed_elsewhere(page, address, key, note="first, and a word from elsewhere")
    form.get_by_test_id("save").click()
    expect(form).to_be_hidden()
    kept = record(page, address, key)
    assert kept["note"] == "first, and a word from elsewhere" and kept["conditions"]["seeing_arcsec"] == 1.8
    assert kept["losses"] == NIGHT["losses"]


def test_a_draft_left_over_asks_where_the_night_was_changed_in_the_same_place(page: Page, address: str):
    key = a_night(page, address)
    form = open_change(page, address, key)
    form.get_by_label(T.log.notesOfTheNight).fill("mine")
    form.get_by_label(T.log.whoWasThere).fill("a friend")
    form.get_by_test_id("close").click()
    changed_elsewhere(page, address, key, note="theirs")
    page.reload()
    clash = page.get_by_test_id("clashes").locator("[data-field=note]")
    expect(clash).to_contain_text("theirs")
    expect(clash).to_contain_text("mine")
    expect(page.get_by_test_id("typed-not-kept")).to_be_visible()
    page.reload()  # it is asked again, not decided in silence
    clash.get_by_test_id("use-theirs").click()
    page.get_by_test_id("edit-session").click()
    form.get_by_test_id("save").click()
    expect(form).to_be_hidden()
    kept = record(page, address, key)
    assert (kept["note"], kept["people"]) == ("theirs", ["a friend"])


def test_a_note_typed_over_a_newer_one_is_asked_about(page: Page, address: str):
    key = a_night(page, address)
    page.goto(f"{address}/log?session={key}")
    page.get_by_label(T.log.notesOfThisNight).fill("mine")
    changed_elsewhere(page, address, key, note="theirs")
    page.get_by_role("button", name=T.log.keepTheNote).click()
    clash = page.get_by_test_id("clashes").locator("[data-field=note]")
    clash.get_by_test_id("keep-mine").click()
    assert record(page, address, key)["note"] == "theirs"
    page.get_by_role("button", name=T.log.keepTheNote).click()
    expect(page.get_by_role("button", name=T.log.keepTheNote)).to_be_hidden()
    assert record(page, address, key)["note"] == "mine"


def a_mark(night: str, key: str) -> dict:
    at = datetime.now(UTC).isoformat()
    return {"id": key, "night": night, "kind": "done", "rig": "heron", "step": "none", "at": at, "device": "a phone"}


def test_a_refused_mark_is_set_aside_and_holds_up_none(page: Page, address: str):
    state = begin(page, address)
    jump(page, address, state, 9.5)
    page.goto(f"{address}/field")
    expect(page.get_by_test_id("field-now")).to_be_visible()
    kept_here(page, "marks", [a_mark("a-night-of-other-data", "mark-0000000001")])
    page.reload()
    aside = page.get_by_test_id("set-aside")
    expect(aside.get_by_role("listitem")).to_have_count(1)
    page.get_by_role("button", name=T.common.done, exact=True).click()
    expect(page.get_by_test_id("field-kept")).to_have_attribute("data-waiting", "0")
    expect(page.get_by_test_id("field-kept")).to_contain_text("1")  # one is not saved: that is not called delivered
    done = page.request.get(f"{address}/api/v1/night").json()["rigs"][0]["done"]
    assert len(done) >= 1
    page.reload()
    aside.get_by_test_id("discard").click()
    expect(aside).to_have_count(0)
    page.request.post(f"{address}/api/v1/night/end", data={"night": state["id"]})


def test_what_was_typed_on_other_data_stays_with_those_and_can_be_fetched(page: Page, address: str):
    page.request.post(f"{address}/api/v1/keep/backup")
    page.goto(f"{address}/rigs/heron/optics")
    saved(page, 1)
    kept_here(page, "unsaved.wren", {"base": 1, "rig": {"name": "typed here"}})
    backup = page.request.get(f"{address}/api/v1/keep").json()["backups"][0]["name"]
    # A question that the page happens to ask by itself would tell it of the other data before anything is typed.
    held = []
    page.route("**/api/**", lambda route: held.append(route) if route.request.method == "GET" else route.continue_())
    assert page.request.post(f"{address}/api/v1/keep/restore", data={"name": backup}).ok
    field = page.get_by_label(T.rig.nameOfTheRig)
    with page.expect_response(lambda answer: answer.request.method == "PUT") as refused:
        field.fill("Meant for what was there")
        field.press("Enter")
    assert refused.value.status == 412
    page.unroute("**/api/**")  # what is held goes on
    expect(page.get_by_test_id("other-data")).to_be_visible()
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("Heron")
    assert page.request.get(f"{address}/api/v1/rigs/heron").json()["revision"] == 1
    page.goto(f"{address}/keep")
    left = page.get_by_test_id("left-behind")
    expect(left.get_by_role("listitem")).to_have_count(2)
    with page.expect_download() as answer:
        left.get_by_role("listitem").filter(has_text="wren").get_by_test_id("download").click()
    assert json.loads(answer.value.path().read_text())["rig"]["name"] == "typed here"
    for _ in range(2):
        left.get_by_test_id("discard").first.click()
    expect(left).to_have_count(0)


def test_a_browser_that_keeps_nothing_says_so_and_works(page: Page, address: str):
    page.add_init_script("Storage.prototype.setItem = () => { throw new DOMException('no', 'SecurityError'); }")
    page.goto(f"{address}/log")
    page.get_by_role("button", name=T.log.typeANight).click()
    page.get_by_label(T.log.notesOfTheNight).fill("the long one")
    expect(page.get_by_test_id("keeps-forbidden")).to_be_visible()
    page.get_by_role("button", name=re.compile(T.common.later)).click()
    page.get_by_role("button", name=T.log.typeANight).click()
    expect(page.get_by_label(T.log.notesOfTheNight)).to_have_value("the long one")


PLACES = (
    "/", "/begin", "/tonight", "/log", "/keep", "/shelf", "/sky", "/compare", "/stages", "/preferences", "/rules", "/about",
    "/field", "/rigs/heron/optics", "/rigs/heron/spacing", "/rigs/heron/aim", "/rigs/heron/mount", "/rigs/heron/guiding",
    "/rigs/heron/power", "/rigs/heron/exposure", "/rigs/heron/assembly", "/rigs/heron/night", "/rigs/heron/frames",
)  # fmt: skip


@pytest.fixture
def from_afar(address: str, served, monkeypatch) -> str:
    """The address as another machine calls it, over plain HTTP, with a passcode."""
    access = served[0].state.access
    monkeypatch.setattr(access, "data", None)
    monkeypatch.setattr(access, "hash", PasswordHasher().hash("seven owls fly"))
    return address.replace("127.0.0.1", OTHER_NAME)


def test_every_page_opens_and_a_night_is_typed_from_another_machine_over_plain_http(page: Page, from_afar: str):
    faults = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    page.goto(from_afar)
    assert page.evaluate("window.isSecureContext") is False
    page.get_by_label(T.app.passcode).fill("seven owls fly")
    page.get_by_role("button", name=T.app.comeIn).click()
    expect(page.get_by_label(T.app.passcode)).to_have_count(0)
    for place in PLACES:
        page.goto(f"{from_afar}{place}")
        expect(page.get_by_role("main").first).to_be_visible()
        expect(page.locator(".loading")).to_have_count(0)
        expect(page.get_by_label(T.app.passcode)).to_have_count(0)
    type_night(page, from_afar)
    expect(page.get_by_test_id("one-night")).to_contain_text(fill(T.log.countLostWhy, count="4", why="a gust"))
    assert faults == []


def test_times_are_typed_as_people_write_them(page: Page, address: str):
    page.goto(f"{address}/log")
    page.get_by_role("button", name=T.log.typeANight).click()
    form = page.get_by_role("form", name=T.log.typeANight)
    evening_of(form, "2026-11-20")
    form.get_by_label(T.log.fromOnTheSitesClock).fill("2130")
    form.get_by_label(T.log.untilOnTheSitesClock).fill("25:00")
    expect(form.get_by_role("alert")).to_be_visible()
    form.get_by_label(T.log.untilOnTheSitesClock).fill("3")
    form.get_by_role("button", name=T.log.keepThisNight).click()
    expect(page.get_by_test_id("one-night")).to_be_visible()
    kept = page.request.get(f"{address}/api/v1/sessions").json()["sessions"][0]["record"]
    assert (kept["began"][:16], kept["ended"][:16]) == ("2026-11-20T20:30", "2026-11-21T02:00")
