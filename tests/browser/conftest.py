import os
import re
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import Page

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


@pytest.fixture
def address(tmp_path: Path) -> Iterator[str]:
    """Fresh demo data for each test."""
    with demo_server(tmp_path / "data") as started:
        yield started


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
    page.set_default_timeout(10_000)
    yield page
    assert not wrong, wrong
