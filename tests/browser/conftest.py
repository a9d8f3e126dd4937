import json
import os
import shutil
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import pytest
import uvicorn
from fastapi import FastAPI
from playwright.sync_api import Browser, BrowserContext, FloatRect, Locator, Page, expect
from pydantic import BaseModel

from dravel.api.app import create_app
from dravel.config import Settings
from dravel.store import Store
from dravel.work.workers import Workers
from tests.terms import T

# Long enough for a busy machine; a test that passes never waits so long.
PATIENCE_MS = 1000 * int(os.environ.get("DRAVEL_TEST_PATIENCE_S", "300"))
expect.set_options(timeout=PATIENCE_MS)

# Without a window the small build of Chromium paints the same and starts and runs a fifth quicker.
BUILDS = ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium")
CHROMIUM = os.environ.get("DRAVEL_CHROMIUM") or next((path for path in BUILDS if os.path.exists(path)), BUILDS[-1])
OTHER_NAME = "rig.test"  # as another machine would call this one: over plain HTTP no place that browsers trust
ARGS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update",
    "--disable-sync", "--no-first-run", f"--host-resolver-rules=MAP {OTHER_NAME} 127.0.0.1", "--process-per-site", "--renderer-process-limit=1", "--force-prefers-reduced-motion",
]  # fmt: skip


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": ARGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@contextmanager
def served_app() -> Iterator[tuple[FastAPI, str]]:
    """The application, served from a thread, and its address. Its store is put in later."""
    listener = socket.create_server(("127.0.0.1", 0))
    folder = TemporaryDirectory()
    nothing = Store(Path(folder.name) / "nothing.sqlite")
    app = create_app(nothing, Settings(tonight=date(2026, 11, 25), host_names=(OTHER_NAME,)), demo=True)
    server = uvicorn.Server(uvicorn.Config(app, log_level="warning", ws="none"))
    thread = threading.Thread(target=server.run, args=([listener],))
    thread.start()
    yield app, f"http://127.0.0.1:{listener.getsockname()[1]}"
    server.should_exit = True
    thread.join()
    nothing.close()
    folder.cleanup()


@pytest.fixture(scope="session")
def served() -> Iterator[tuple[FastAPI, str]]:
    """One application for all tests of a worker."""
    with served_app() as made:
        yield made


@contextmanager
def fresh_data(served: tuple[FastAPI, str], seeded: Path, folder: Path) -> Iterator[str]:
    """The demo as it begins, in a database of its own; gives the address."""
    app, address = served
    store = app.state.store = Store(Path(shutil.copy(seeded, folder)))
    workers = app.state.workers = Workers(store)
    yield address
    workers.close()
    store.close()


@pytest.fixture
def address(served: tuple[FastAPI, str], seeded: Path, tmp_path: Path) -> Iterator[str]:
    """Fresh demo data for each test; the application behind it stays, and so does what the browser has fetched."""
    with fresh_data(served, seeded, tmp_path) as at:
        yield at


@pytest.fixture(scope="session")
def keeper(browser: Browser, browser_context_args: dict[str, Any], served: tuple[FastAPI, str]) -> Iterator[Page]:
    """A page that stays open: with it stay the browser's context, its process for the site and the scripts it has read."""
    context = browser.new_context(**browser_context_args)
    page = context.new_page()
    page.goto(f"{served[1]}/api/v1/about")
    yield page
    context.close()


@pytest.fixture
def context(keeper: Page) -> Iterator[BrowserContext]:
    """The kept context with nothing remembered from the test before."""
    keeper.context.clear_cookies()
    keeper.evaluate("localStorage.clear(); sessionStorage.clear()")
    yield keeper.context
    for left in keeper.context.pages:
        if left is not keeper:
            left.close()


def steady(locator: Locator) -> FloatRect:
    """Where a thing lies once it has stopped moving: a page still laying itself out moves it under the mouse."""
    before = None
    until = time.monotonic() + PATIENCE_MS / 1000
    while (box := locator.bounding_box()) is None or box != before:
        assert time.monotonic() < until, f"{locator} has not come to rest: it was at {before}, then at {box}"
        before = box
        locator.page.wait_for_timeout(100)
    return box


def kept_here(page: Page, name: str, kept: object) -> None:
    """Have the browser keep something of the data that the page shows, as the page itself would."""
    page.wait_for_function("localStorage.getItem('dravel.data')")
    page.evaluate(
        "([name, text]) => localStorage.setItem(`dravel@${localStorage.getItem('dravel.data')}.${name}`, text)",
        [name, json.dumps(kept)],
    )


def held(page: Page) -> Locator:
    """The panel with what holds unfolded too, as it stays."""
    panel = page.get_by_label(T.rig.findings)
    folds = panel.locator("[data-testid=held] > button")
    expect(folds.first).to_be_visible()
    for fold in folds.all():
        if fold.get_attribute("aria-expanded") == "false":
            fold.click()
    return panel


def finding(page: Page, code: str, subject: str | None = None, verdict: str | None = None) -> Locator:
    """The finding of a rule, for one target where it is about targets; only with that verdict where one is given."""
    about = "" if subject is None else f'[data-subject="{subject}"]'
    judged = "" if verdict is None else f'[data-verdict="{verdict}"]'
    return page.locator(f'[data-testid=finding][data-code="{code}"]{about}{judged}')


def unfold(page: Page, code: str, subject: str | None = None) -> Locator:
    """A finding that does not hold, unfolded: the worst one is so from the start."""
    result = finding(page, code, subject)
    line = result.get_by_test_id("finding-line")
    if line.get_attribute("aria-expanded") == "false":
        line.click()
    return result


def fix(where: Page | Locator, path: str) -> Locator:
    """The first fix there that changes this place of the rig's document."""
    return where.locator(f'[data-testid=fix][data-change*="{path}"]').first


def saved(page: Page, revision: int) -> None:
    """The rig is saved, as that revision."""
    expect(page.get_by_test_id("saved")).to_have_attribute("data-revision", str(revision))


def step(page: Page, key: str) -> Locator:
    """The step's line in the rail."""
    return page.get_by_test_id(f"step-{key}")


def titled(model: type[BaseModel], field: str) -> str:
    """What the form calls a field of a model."""
    return str(model.model_json_schema()["properties"][field]["title"])


# How many calls of the page are under way: a page that was loaded once stays "idle" for the browser, whatever it asks afterwards.
COUNT_CALLS = """(() => {
  const own = window.fetch;
  window.callsUnderWay = 0;
  window.fetch = (...given) => {
    window.callsUnderWay += 1;
    return own(...given).finally(() => { window.callsUnderWay -= 1; });
  };
})()"""
AT_REST = """() => new Promise((done) => {
  let since = performance.now();
  const look = () => {
    if (window.callsUnderWay > 0) since = performance.now();
    if (performance.now() - since > 600) done();
    else setTimeout(look, 50);
  };
  look();
})"""


def quiet(page: Page) -> None:
    """Wait until everything has been answered, and nothing more was asked since: what was changed is saved then."""
    page.evaluate(AT_REST)


# Answers that are tested as such; and, over plain HTTP, that a header is for safer places.
NO_FAULT = ("Failed to load resource", "Cross-Origin-Opener-Policy")


@pytest.fixture
def page(page: Page) -> Iterator[Page]:
    """A page that fails its test when anything goes wrong in the console."""
    wrong: list[str] = []
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.on(
        "console",
        lambda message: (
            wrong.append(message.text)
            if message.type == "error" and not any(item in message.text for item in NO_FAULT)
            else None
        ),
    )
    page.set_default_timeout(PATIENCE_MS)
    page.add_init_script(COUNT_CALLS)
    yield page
    assert not wrong, wrong
