"""The night by hand: rehearsed with clouds at speed to a truthful record; the field view on a phone, with and without a connection."""

import re

import pytest
from playwright.sync_api import BrowserContext, Page, Route, expect

from tests.browser.conftest import kept_here
from tests.terms import T, like

NIGHT = "?night=2026-12-09"
PHONE = {"width": 390, "height": 844}


@pytest.fixture(autouse=True)
def nothing_runs(page: Page, address: str):
    """One server serves all tests, and one night runs at a time."""
    yield
    page.unroute_all(behavior="ignoreErrors")
    page.context.set_offline(False)
    state = page.request.get(f"{address}/api/v1/night").json()
    if state["running"]:
        page.request.post(f"{address}/api/v1/night/end", data={"night": state["id"]})


def begin(page: Page, address: str, *, rehearsal: dict | None = None, rigs: tuple[str, ...] = ("heron",)) -> dict:
    body = {
        "id": "browser-night-0001", "asked": {"rigs": list(rigs), "night": "2026-12-09"},
        "rehearsal": rehearsal or {"seed": 7, "trouble": "much", "speed": 1},
    }  # fmt: skip
    body["id"] = f"browser-{page.evaluate('Date.now()')}"
    answer = page.request.post(f"{address}/api/v1/night", data=body)
    assert answer.ok, answer.text()
    return answer.json()


def jump(page: Page, address: str, state: dict, hours: float, speed: float = 1) -> None:
    page.request.post(
        f"{address}/api/v1/night/speed", data={"night": state["id"], "speed": speed, "to_s": hours * 3600}
    )


def test_a_night_for_heron_is_played_with_clouds_at_speed_and_ends_in_a_truthful_record(page: Page, address: str):
    page.goto(f"{address}/tonight{NIGHT}")
    expect(page.get_by_test_id("time-line")).to_be_visible()
    kept_here(page, "tonight", {"rigs": ["heron"], "from": None, "until": None})
    page.reload()
    expect(page.get_by_test_id("time-line").get_by_role("slider", name="Heron, NGC 281")).to_be_visible()
    page.get_by_role("button", name=T.tonight.rehearse, exact=True).click()
    page.get_by_role("combobox", name=T.tonight.howMuchGoesWrong).click()
    page.locator(".ant-select-item-option").get_by_text(T.tonight.allThatCanGoWrong).click()
    page.get_by_role("button", name=T.tonight.playIt, exact=True).click()
    playing = page.get_by_test_id("playing")
    expect(playing).to_contain_text(like(T.tonight.aRehearsalOfDayNothingOf, day="2026-12-09"))
    state = page.request.get(f"{address}/api/v1/night").json()
    jump(page, address, state, 10, 1200)
    expect(page.get_by_test_id("now")).to_contain_text(like(T.tonight.keptOfTakenSubsKept))
    page.get_by_role("button", name=T.common.clouds, exact=True).click()
    clear = page.get_by_role("button", name=re.compile(T.field.clearAgain))
    expect(clear).to_be_visible()
    clear.click()
    expect(page.get_by_role("button", name=T.common.clouds, exact=True)).to_be_visible()
    jump(page, address, state, 25, 1)
    expect(page.locator(".sub-kept").first).to_be_attached()
    page.get_by_role("button", name=T.tonight.endTheRehearsal).click()
    ended = page.get_by_test_id("ended")
    expect(ended).to_contain_text(re.compile(r"Heron, rehearsed: \d+ of \d+ subs accepted; lost: .*cloud"))
    record = page.request.get(f"{address}/api/v1/sessions").json()["sessions"][0]["record"]
    kept = sum(item["kept"] for item in record["subs"])
    lost = sum(item["count"] for item in record["losses"])
    assert record["simulated"] is True and kept + lost == sum(item["planned"] for item in record["subs"])
    assert f"{kept} of" in ended.inner_text()
    page.get_by_role("main").get_by_role("link", name=T.common.log).click()
    expect(page.get_by_test_id("sessions").get_by_role("button").first).to_contain_text(T.log.rehearsed2)


def test_on_the_phone_what_is_now_what_then_and_three_large_buttons(page: Page, address: str):
    page.set_viewport_size(PHONE)
    state = begin(page, address)
    jump(page, address, state, 9.5)
    page.goto(f"{address}/field")
    now = page.get_by_test_id("field-now")
    expect(now.locator("h1")).to_contain_text("NGC 281")
    expect(now).to_contain_text(re.compile(r"\d+ of \d+ subs of 300 s"))
    expect(now).to_contain_text("then")
    expect(page.locator("html")).to_have_attribute("data-theme", "red")
    for button in page.locator("main button, main select, main a").all():
        box = button.bounding_box()
        assert box and box["height"] >= 48 and box["width"] >= 48, button.inner_text()
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    page.get_by_role("button", name=T.field.skipToTheNext).click()
    expect(now.locator("h1")).not_to_contain_text("NGC 281")
    page.get_by_role("button", name=T.field.marks2).click()
    expect(page.get_by_test_id("field-marks")).to_contain_text("mm from the shaft's shoulder")
    page.get_by_role("button", name=T.field.theNight).click()
    page.get_by_role("button", name=T.common.hopCard).click()
    hop = page.get_by_test_id("field-hop").locator("img")
    expect(hop).to_be_visible()
    assert hop.evaluate("img => img.naturalWidth") > 0


def test_marks_outlive_a_lost_connection_and_are_delivered_later(page: Page, context: BrowserContext, address: str):
    page.set_viewport_size(PHONE)
    state = begin(page, address)
    jump(page, address, state, 9.5)
    page.goto(f"{address}/field")
    expect(page.get_by_test_id("field-now").locator("h1")).to_contain_text("NGC 281")
    page.get_by_role("button", name="Cards").click()
    expect(page.get_by_test_id("field-cards").locator("h1")).not_to_have_text(T.field.theCardsAreNotHereYet)
    page.get_by_role("button", name=T.field.theNight).click()
    context.set_offline(True)
    page.get_by_role("button", name=T.common.clouds, exact=True).click()
    expect(page.get_by_role("button", name=T.field.clearAgain)).to_be_visible()
    expect(page.get_by_test_id("field-kept")).to_have_attribute("data-waiting", "1")
    expect(page.get_by_test_id("field-connection")).to_contain_text(T.field.noConnection)
    page.get_by_role("button", name="Cards").click()
    title = page.get_by_test_id("field-cards").locator("h1")
    before = title.inner_text()
    page.get_by_role("button", name=T.common.done).click()
    expect(title).not_to_have_text(before)
    expect(page.get_by_test_id("field-ticks")).to_have_attribute("data-waiting", "1")
    assert page.request.get(f"{address}/api/v1/night").json()["marks"] == 0
    context.set_offline(False)
    expect(page.get_by_test_id("field-ticks")).to_have_attribute("data-waiting", "0")
    expect(page.get_by_test_id("field-kept")).to_contain_text(T.field.allMarksDelivered)
    answer = page.request.get(f"{address}/api/v1/night").json()
    assert answer["marks"] == 1 and answer["cloud_since"]


def test_wren_is_built_card_by_card_on_the_phone(page: Page, address: str):
    page.set_viewport_size(PHONE)
    page.goto(f"{address}/field")
    page.get_by_label(T.common.rig2, exact=True).select_option(label="Wren")
    page.get_by_role("button", name="Cards").click()
    cards = page.get_by_test_id("field-cards")
    expect(cards.locator("h1")).not_to_have_text(T.field.theCardsAreNotHereYet)
    for _ in range(60):
        if page.get_by_role("button", name=T.common.done).is_disabled():
            break
        title = cards.locator("h1").inner_text()
        page.get_by_role("button", name=T.common.done).click()
        expect(cards.locator("h1")).not_to_have_text(title)
    expect(cards.locator("h1")).to_have_text(T.common.itStandsAndItRuns)
    expect(page.get_by_test_id("field-ticks")).to_have_attribute("data-waiting", "0")
    page.get_by_role("button", name=T.field.theWayDown).click()
    expect(cards.locator("h1")).not_to_have_text(T.common.itStandsAndItRuns)


def test_from_another_machine_the_passcode_is_asked_for_first(page: Page, address: str):
    """The page's part of it: what the server answers to strangers stands in for another machine."""
    entered = {"yes": False}

    def told(route: Route) -> None:
        if route.request.method == "POST" and route.request.url.endswith("/access"):
            right = "seven owls fly" in (route.request.post_data or "")
            entered["yes"] = right
            route.fulfill(status=200 if right else 403, json={"needed": True, "signed_in": True, "waits_s": 0} if right
                          else {"title": "Refused", "status": 403, "detail": "passcode: that is not it"})  # fmt: skip
        elif route.request.url.endswith("sign-out"):
            entered["yes"] = False
            route.fulfill(json={"needed": True, "signed_in": False, "waits_s": 0})
        else:
            route.fulfill(json={"needed": True, "signed_in": entered["yes"], "waits_s": 0})

    page.route("**/api/v1/access*", told)
    page.route("**/api/v1/access/*", told)
    page.goto(f"{address}/field")
    code = page.get_by_label(T.app.passcode)
    code.fill("guess")
    page.get_by_role("button", name=T.app.comeIn).click()
    expect(page.get_by_role("alert")).not_to_be_empty()
    expect(code).to_have_value("guess")
    code.fill("seven owls fly")
    code.press("Enter")
    expect(page.get_by_role("button", name="Cards")).to_be_visible()
    page.get_by_role("button", name=T.field.signOut).click()
    expect(page.get_by_label(T.app.passcode)).to_be_visible()


def test_the_way_to_the_phone_is_told(page: Page, address: str):
    page.goto(f"{address}/tonight")
    page.get_by_role("button", name=T.tonight.onAPhone).click()
    expect(page.get_by_role("dialog")).to_contain_text("dravel passcode")


def test_the_night_step_shows_the_rigs_own_night(page: Page, address: str):
    page.goto(f"{address}/rigs/heron/night{NIGHT}")
    run = page.get_by_test_id("time-line").get_by_role("slider").first
    expect(run).to_be_visible()
    before = int(run.get_attribute("aria-valuenow") or 0)
    run.focus()
    page.keyboard.press("ArrowRight")
    expect(run).to_have_attribute("aria-valuenow", str(before + 3))
    expect(page.get_by_test_id("fits").locator("li [data-figure]").first).to_be_visible()
