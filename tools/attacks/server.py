"""A server as its user starts it, watched from outside: its memory, and how long others wait."""

import http.client
import json
import os
import re
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

PATIENCE_S = 900.0


class Server:
    """A demo server over a data folder; `kill` ends it as a power cut does, its workers are left to themselves."""

    def __init__(self, data: Path) -> None:
        command = [sys.executable, "-m", "dravel.cli", "demo", "--port", "0", "--data", str(data)]
        env = {**os.environ, "DRAVEL_TONIGHT": "2026-11-25"}
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, env=env)
        assert self.process.stdout is not None
        match = re.search(r"http://[^\s/]+", self.process.stdout.readline())
        assert match
        self.address = urlsplit(match[0]).netloc
        while True:
            try:
                self.ask("GET", "/about")
                break
            except OSError:
                time.sleep(0.05)

    def ask(
        self, method: str, path: str, body: Any = None, raw: bytes | None = None, **headers: str
    ) -> tuple[int, Any]:
        """Status and answer of a call; JSON where it is such."""
        call = http.client.HTTPConnection(self.address, timeout=PATIENCE_S)
        try:
            given = raw if raw is not None else None if body is None else json.dumps(body).encode()
            call.request(method, f"/api/v1{path}", given, {"content-type": "application/json", **headers})
            answer = call.getresponse()
            held = answer.read()
            return answer.status, json.loads(held) if "json" in (answer.getheader("content-type") or "") else held
        finally:
            call.close()

    def most_mb(self) -> int:
        """The most memory that it has held."""
        status = Path(f"/proc/{self.process.pid}/status").read_text()
        return int(re.search(r"VmHWM:\s+(\d+)", status)[1]) // 1000  # type: ignore[index]

    def kill(self) -> None:
        """As a power cut does."""
        os.kill(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def stop(self) -> None:
        """As its user does."""
        self.process.terminate()
        self.process.wait()


class Others:
    """Somebody else who looks at the Board all the while; `worst_s` is the longest wait."""

    def __init__(self, server: Server) -> None:
        self._server, self._over = server, threading.Event()
        self.worst_s = 0.0
        self._thread = threading.Thread(target=self._look)

    def _look(self) -> None:
        while not self._over.wait(0.1):
            begun = time.monotonic()
            self._server.ask("GET", "/board")
            self.worst_s = max(self.worst_s, time.monotonic() - begun)

    def __enter__(self) -> "Others":
        self._server.ask("GET", "/board")  # what is only made once is made
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._over.set()
        self._thread.join()
