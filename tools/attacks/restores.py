"""Restores while others save: whatever was acknowledged lies in the data, or in the backup that was made before them."""

import sqlite3
import threading
import time
from pathlib import Path
from typing import Any

from tools.attacks.server import Server

WRITERS, BETWEEN_S = 3, 0.2


def restores_under_writes(wanted: int, folder: Path) -> tuple[int, int, int]:
    """Restores made, writes acknowledged, and how many of those are nowhere."""
    server = Server(folder)
    _, made = server.ask("POST", "/keep/backup")
    backup = made["backups"][0]["name"]
    kept: list[str] = []
    over = threading.Event()

    def write(writer: int) -> None:
        n = 0
        while not over.is_set():
            n += 1
            name = f"site {writer}-{n}"
            body: dict[str, Any] = {"name": name, "latitude_deg": 40, "longitude_deg": -2, "timezone": "Europe/Madrid"}
            if server.ask("POST", "/sites", body)[0] == 201:
                kept.append(name)

    writers = [threading.Thread(target=write, args=(k,)) for k in range(WRITERS)]
    for item in writers:
        item.start()
    count = 0
    while len(kept) < wanted:
        status, _ = server.ask("POST", "/keep/restore", {"name": backup})
        count += status == 200
        time.sleep(BETWEEN_S)
    over.set()
    for item in writers:
        item.join()
    server.stop()
    results: set[str] = set()
    for path in [folder / "demo.sqlite", *folder.rglob("backups/**/*.sqlite"), *folder.rglob("*backup*/*.sqlite")]:
        with sqlite3.connect(path) as link:
            results |= {row[0] for row in link.execute("SELECT body ->> '$.name' FROM entries WHERE kind = 'site'")}
    return count, len(kept), len(set(kept) - results)
