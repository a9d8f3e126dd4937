import os
import re
import shutil
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import FloatRect, Locator, Page, expect

from dravel.api.app import create_app
from dravel.config import Settings
from dravel.seed import seed_demo
from dravel.store import Store

# Long enough for a busy machine; a test that passes never waits so long.
PATIENCE_MS = 30_000
expect.set_options(timeout=PATIENCE_MS)

CHROMIUM = os.environ.get("DRAVEL_CHROMIUM", "/usr/bin/chromium")
ARGS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update",
    "--disable-sync", "--no-first-run",
]  # fmt: skip


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": ARGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@contextmanager
def demo_server(data: Path) -> Iterator[str]:
    """A demo server with a database of its own; gives its address."""
    command = [sys.executable, "-m", "dravel.cli", "demo", "--port", "0", "--data", str(data)]
    env = {**os.environ, "DRAVEL_TONIGHT": "2026-11-25"}
    server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=env)
    try:
        assert server.stdout is not None
        found = re.search(r"http://[^\s/]+", server.stdout.readline())
        assert found
        for _ in range(100):
            try:
                urllib.request.urlopen(found[0]).close()
                break
            except OSError:
                time.sleep(0.1)
        yield found[0]
    finally:
        server.terminate()
        server.wait()


@pytest.fixture(scope="session")
def seeded(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with the demo in it, to be copied."""
    path = tmp_path_factory.mktemp("seeded") / "demo.sqlite"
    store = Store(path)
    seed_demo(store)
    store.close()
    return path


@pytest.fixture
def address(tmp_path: Path, seeded: Path) -> Iterator[str]:
    """Fresh demo data for each test, served from a thread: starting the command for each costs more than most tests."""
    store = Store(Path(shutil.copy(seeded, tmp_path)))
    listener = socket.create_server(("127.0.0.1", 0))
    settings = Settings(tonight=date(2026, 11, 25))
    server = uvicorn.Server(uvicorn.Config(create_app(store, settings, demo=True), log_level="warning", ws="none"))
    thread = threading.Thread(target=server.run, args=([listener],))
    thread.start()
    yield f"http://127.0.0.1:{listener.getsockname()[1]}"
    server.should_exit = True
    thread.join()
    store.close()


def steady(locator: Locator) -> FloatRect:
    """Where a thing lies once it has stopped moving: a page still laying itself out moves it under the mouse."""
    before = None
    while (box := locator.bounding_box()) is None or box != before:
        before = box
        locator.page.wait_for_timeout(150)
    return box


def unfold(page: Page, title: str) -> Locator:
    """The line of a finding that does not hold, unfolded: the worst one is so from the start."""
    line = page.get_by_role("button", name=re.compile(f"^(strains|breaks) {title}"))
    if line.get_attribute("aria-expanded") == "false":
        line.click()
    return line


@pytest.fixture
def page(page: Page) -> Iterator[Page]:
    """A page that fails its test when anything goes wrong in the console."""
    wrong: list[str] = []
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.on(
        "console",
        lambda message: (
            wrong.append(message.text)
            if message.type == "error" and "Failed to load resource" not in message.text
            else None
        ),
    )
    page.set_default_timeout(PATIENCE_MS)
    yield page
    assert not wrong, wrong
