"""Nothing typed is lost: two browsers on one rig, a server that does not answer, a change that is refused."""

import time
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from dravel.core.model import Rig
from tests.browser.conftest import kept_here, saved, steady, titled
from tests.terms import T, like


@contextmanager
def offline(page: Page) -> Iterator[None]:
    """The server does not answer this page for a while."""
    page.route("**/api/**", lambda route: route.abort())
    yield
    page.unroute("**/api/**")


def number(page: Page, label: str, value: str) -> None:
    page.get_by_label(label, exact=True).fill(value)
    page.get_by_label(label, exact=True).press("Enter")


def stored(address: str, page: Page, rig: str = "heron") -> dict:
    return page.request.get(f"{address}/api/v1/rigs/{rig}").json()


def put(address: str, page: Page, **change: object) -> None:
    now = stored(address, page)
    answer = page.request.put(
        f"{address}/api/v1/rigs/heron", data={"rig": {**now["rig"], **change}, "base": now["revision"]}
    )
    assert answer.ok


def rename(page: Page, name: str) -> None:
    page.get_by_label(T.rig.nameOfTheRig).fill(name)
    page.get_by_label(T.rig.nameOfTheRig).press("Enter")


def test_edits_made_offline_are_merged_with_what_another_saved_meanwhile(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    saved(page, 1)
    with offline(page):
        rename(page, "Heron away")
        notice = page.get_by_test_id("notice-unsaved")
        expect(notice).to_be_visible()
        number(page, "Binning", "2")
        # Two saves come from another browser meanwhile.
        put(address, page, saddle_mm=141)
        put(address, page, saddle_mm=198)
    expect(page.get_by_test_id("notice-merged")).to_contain_text("Saddle")
    expect(notice).to_be_hidden()
    kept = stored(address, page)["rig"]
    assert (kept["name"], kept["binning"], kept["saddle_mm"]) == ("Heron away", 2, 198)


def test_the_same_field_changed_on_both_sides_is_asked_about(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    saved(page, 1)
    with offline(page):
        rename(page, "Mine")
        expect(page.get_by_test_id("notice-unsaved")).to_be_visible()
        put(address, page, name="Theirs")
    asked = page.get_by_test_id("notice-stale")
    same = like(T.rig.anotherWindowOrDeviceSavedRevision, current=2, fields=titled(Rig, "name"))
    expect(asked).to_contain_text(same)
    assert stored(address, page)["rig"]["name"] == "Theirs"
    expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("Mine")
    asked.get_by_role("button", name=T.rig.saveMineOnTop).click()
    saved(page, 3)
    expect(asked).to_be_hidden()
    assert stored(address, page)["rig"]["name"] == "Mine"


def test_a_change_left_behind_by_a_closed_page_is_saved_on_return(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    saved(page, 1)
    with offline(page):
        rename(page, "Left behind")
        expect(page.get_by_test_id("notice-unsaved")).to_be_visible()
        page.goto("about:blank")
        put(address, page, saddle_mm=150)
    page.goto(f"{address}/rigs/heron/optics")
    expect(page.get_by_test_id("notice-merged")).to_be_visible()
    kept = stored(address, page)["rig"]
    assert (kept["name"], kept["saddle_mm"]) == ("Left behind", 150)


def test_undo_of_what_was_not_saved_drops_that_alone(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/optics")
    rename(page, "First")
    saved(page, 2)
    with offline(page):
        rename(page, "Second")
        expect(page.get_by_test_id("notice-unsaved")).to_be_visible()
        page.get_by_role("button", name=T.rig.undo, exact=True).click()
        answer = page.get_by_role("status").filter(has_text=T.rig.theChangeThatWasNotSaved)
        expect(answer).to_be_visible()
        expect(page.get_by_label(T.rig.nameOfTheRig)).to_have_value("First")
    assert stored(address, page)["rig"]["name"] == "First"
    answer.get_by_role("button", name=T.common.bringItBack).click()
    saved(page, 3)
    assert stored(address, page)["rig"]["name"] == "Second"


def test_the_notice_stays_in_view_where_one_edits(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    saved(page, 1)
    with offline(page):
        rename(page, "Far down")
        notice = page.get_by_test_id("notice-unsaved")
        expect(notice).to_be_visible()
        page.mouse.wheel(0, 1200)
        expect(notice).to_be_in_viewport()
    expect(notice).to_be_hidden()


def test_a_refused_rig_keeps_its_picture_and_names_the_field(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/mount")
    expect(page.get_by_role("slider", name=T.mount.tubeInTheSaddle)).to_be_visible()
    bad = {**stored(address, page)["rig"], "saddle_mm": -27}
    kept_here(page, "unsaved.heron", {"base": 1, "rig": bad})
    page.reload()
    refusal = page.get_by_role("alert").filter(has_text=T.kept.notSaved)
    expect(refusal).to_contain_text("Saddle centre ahead of the rear shoulder cannot be -27 mm")
    expect(page.get_by_role("slider", name=T.mount.tubeInTheSaddle)).to_be_visible()
    expect(page.get_by_label(T.rig.findings)).to_contain_text(T.spacing.spacing)
    page.get_by_role("button", name=T.rig.undo, exact=True).click()
    expect(refusal).to_be_hidden()
    assert stored(address, page)["revision"] == 1


def drags_along(page: Page, handle: Locator, by: tuple[int, int], tolerance: float = 1.5) -> None:
    """The handle lies under the pointer when that has gone a way; put back afterwards."""
    handle.evaluate("node => node.scrollIntoView({ block: 'center' })")
    before = steady(handle)
    x, y = before["x"] + before["width"] / 2, before["y"] + before["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + by[0] / 2, y + by[1] / 2)
    page.mouse.move(x + by[0], y + by[1])
    # Load draws what the server answers: it follows a little later than the hand.
    until = time.monotonic() + 10
    while abs((after := steady(handle))["y"] - before["y"] - by[1]) > tolerance and time.monotonic() < until:
        page.wait_for_timeout(50)
    page.mouse.move(x, y)
    page.mouse.up()
    assert after["x"] - before["x"] == pytest.approx(by[0], abs=tolerance)
    assert after["y"] - before["y"] == pytest.approx(by[1], abs=tolerance)


@pytest.mark.parametrize("width", [390, 1280, 1920, 2560])
def test_the_pointer_and_what_it_drags_go_together(browser: Browser, address: str, width: int):
    """However wide the window and letterboxed the picture: frame, tube, weight, horizon and place."""
    page = browser.new_page(viewport={"width": width, "height": 900})
    page.goto(f"{address}/rigs/wren/aim")
    drags_along(page, page.locator("[data-testid=centre-dot]"), (60, 20))
    page.goto(f"{address}/rigs/heron/mount")
    drags_along(page, page.get_by_role("slider", name=like(T.mount.weightOnTheShaft)), (0, 12))
    page.goto(f"{address}/sky")
    page.get_by_role("button", name="Town terrace below Veleda").click()
    # Azimuth and altitude are whole or half degrees: a few pixels of rounding on a wide picture.
    drags_along(page, page.locator("[data-testid=horizon-point]").nth(5), (-6, -16), tolerance=8)
    page.get_by_label(T.sky.mapOfTheWorld).scroll_into_view_if_needed()
    drags_along(page, page.locator("[data-testid=place] circle"), (24, 12), tolerance=8)
    page.close()
