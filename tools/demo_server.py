"""The demo as its user starts it: a process of its own over a database of its own. For pictures and for the bench."""

import os
import re
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


@contextmanager
def demo_server(data: Path) -> Iterator[str]:
    """A demo server on its data folder; gives its address."""
    command = [sys.executable, "-m", "dravel.cli", "demo", "--port", "0", "--data", str(data)]
    env = {**os.environ, "DRAVEL_TONIGHT": "2026-11-25"}
    server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=env)
    try:
        assert server.stdout is not None
        match = re.search(r"http://[^\s/]+", server.stdout.readline())
        assert match
        for _ in range(100):
            try:
                urllib.request.urlopen(match[0]).close()
                break
            except OSError:
                time.sleep(0.1)
        yield match[0]
    finally:
        server.terminate()
        server.wait()
