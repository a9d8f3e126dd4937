"""Hundreds of connections that say nothing, and few file handles: others are answered all the same."""

import logging
import os
import resource
import socket
import subprocess
import sys
import time
import urllib.request

import pytest

from dravel.api.connections import Once


@pytest.mark.parametrize("handles", [256, 1024])
def test_idle_connections_keep_nobody_out(tmp_path, handles):
    log = tmp_path / "log"
    with log.open("wb") as errors:
        server = subprocess.Popen(
            [sys.executable, "-m", "dravel.cli", "serve", "--port", "0", "--data", str(tmp_path)],
            stdout=subprocess.PIPE, stderr=errors, text=True, env=os.environ,
            preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_NOFILE, (handles, handles)),
        )  # fmt: skip
    idle: list[socket.socket] = []
    try:
        assert server.stdout is not None
        address = server.stdout.readline().rsplit(" ", 1)[1].strip()
        port = int(address.rsplit(":", 1)[1].strip("/"))
        with urllib.request.urlopen(f"{address}api/v1/about", timeout=600) as answer:
            assert answer.status == 200
        for _ in range(300):
            item = socket.create_connection(("127.0.0.1", port), timeout=5)
            idle.append(item)
        time.sleep(0.5)
        for _ in range(5):
            with urllib.request.urlopen(f"{address}api/v1/rigs", timeout=600) as answer:
                assert answer.status == 200
        half = idle[-1]  # the newest of them may still ask
        half.sendall(b"GET /api/v1/about HTTP/1.1\r\nHost: localhost\r\n\r\n")
        assert half.recv(100).startswith(b"HTTP/1.1 200")
    finally:
        for item in idle:
            item.close()
        server.terminate()
        server.wait(20)
    assert log.stat().st_size < 20_000


def test_the_same_words_are_logged_once_a_minute():
    once = Once()
    record = logging.makeLogRecord({"name": "asyncio", "msg": "socket.accept() out of system resource"})
    other = logging.makeLogRecord({"name": "asyncio", "msg": "else"})
    assert [once.filter(record), once.filter(record), once.filter(other), once.filter(record)] == [
        True,
        False,
        True,
        False,
    ]
