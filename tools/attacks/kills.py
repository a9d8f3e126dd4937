"""Servers killed in the middle of running nights, imports and measuring: what was acknowledged is there afterwards, what was not
done is not, and nothing goes on without its server.
"""

import json
import random
import sqlite3
import threading
import time
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path

from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take
from dravel.stand_ins.taking import write
from tools.attacks.server import Server

FRAME = PictureRig(1400, 1000, 7.6, 8.0, 0.98, 3e7, 1.5, 0.01, 3.0, 60_000)
GOES_ON_S = 3.0  # a process that outlived its server would have written by then


def nights_killed(rounds: int, folder: Path) -> tuple[int, int]:
    """Marks and beginnings acknowledged, and how many were lost, over nights that run while their server is killed."""
    dice = random.Random(11)
    acknowledged = lost = 0
    for n in range(rounds):
        server = Server(folder)
        status, state = server.ask("GET", "/night")
        if not state.get("running"):
            asked = {"rigs": ["heron", "wren"], "night": "2026-12-09"}
            given = {
                "id": f"soak-night-{n:06d}",
                "asked": asked,
                "rehearsal": {"seed": n, "trouble": "much", "speed": 300},
            }
            status, state = server.ask("POST", "/night", given)
            assert status < 300, state
        night = state["id"]
        steps = [(rig["rig_id"], cue["key"]) for rig in state["rigs"] for cue in rig["cues"] if cue.get("key")]
        lines: list[str] = []

        def mark(
            server: Server = server, night: str = night, n: int = n, told: list[str] = lines, steps: list = steps
        ) -> None:
            k = 0
            with suppress(OSError, ValueError):
                while True:
                    k += 1
                    kind = ("done", "done", "clouds", "done", "clear", "done", "skip")[k % 7]
                    rig, step = steps[k % len(steps)] if kind in ("done", "skip") else ("", "")
                    key = f"soak-mark-{n:04d}-{k:04d}"
                    item = {"id": key, "kind": kind, "rig": rig, "step": step, "at": datetime.now(UTC).isoformat()}
                    if server.ask("POST", "/night/marks", {"night": night, "marks": [item]})[0] == 200:
                        told.append(key)

        marking = threading.Thread(target=mark)
        marking.start()
        while not lines and marking.is_alive():
            time.sleep(0.02)
        time.sleep(dice.uniform(0.0, 1.0))
        server.kill()
        marking.join()
        with sqlite3.connect(folder / "demo.sqlite") as link:
            kept = {row[0] for row in link.execute("SELECT id FROM marks")}
            lost += link.execute("PRAGMA integrity_check").fetchone() != ("ok",)
        acknowledged, lost = acknowledged + len(lines), lost + len(set(lines) - kept)
        if n % 5 == 4:  # ended, its light lies in the log: told once, there for good
            server = Server(folder)
            status, ended = server.ask("POST", "/night/end", {"night": night})
            server.kill()
            with sqlite3.connect(folder / "demo.sqlite") as link:
                sessions = {row[0] for row in link.execute("SELECT id FROM sessions")}
            told_sessions = {entry["id"] for entry in ended["sessions"]} if status == 200 else set()
            acknowledged, lost = acknowledged + len(told_sessions), lost + len(told_sessions - sessions)
    return acknowledged, lost


def jobs_killed(rounds: int, folder: Path) -> tuple[int, int]:
    """Jobs asked for, and how many were kept by half, kept though they failed, or lost though they were done."""
    dice = random.Random(13)
    frame = folder / "light.fits"
    write(take(FRAME, random_stars(FRAME, 900, 1, brightest=7, faintest=13), Faults(fwhm_px=2.9), 60, 1), frame)
    wrong = 0
    for n in range(rounds):
        server = Server(folder)
        count = dice.randrange(2_000, 30_000)
        if n % 3 == 2:
            path, given = "/jobs/frame/of/bittern?name=light.fits", frame.read_bytes()
        else:
            rows = "".join(f"Soak {n}-{k},{k % 360},{k % 90}\n" for k in range(count))
            path, given = "/jobs/targets?keep=true", f"name,ra_deg,dec_deg\n{rows}".encode()
        before = _kept(folder, n)
        _, job = server.ask("POST", path, raw=given)
        time.sleep(dice.uniform(0.0, 4.0))
        server.kill()
        at_once = _kept(folder, n)
        time.sleep(GOES_ON_S)
        later = _kept(folder, n)
        server = Server(folder)
        _, answer = server.ask("GET", f"/jobs/{job['id']}")
        server.stop()
        made = _kept(folder, n) - before
        wanted = 1 if n % 3 == 2 else count
        right = made == (wanted if answer["state"] == "done" else 0) and at_once == later
        wrong += not right
        if not right:
            print(
                json.dumps({"round": n, "job": answer, "wanted": wanted, "made": made, "after it": later - at_once}),
                flush=True,
            )
    return rounds, wrong


def _kept(folder: Path, n: int) -> int:
    with sqlite3.connect(folder / "demo.sqlite") as link:
        if n % 3 == 2:
            return int(link.execute("SELECT count(*) FROM frames").fetchone()[0])
        asked = "SELECT count(*) FROM entries WHERE kind = 'target' AND body ->> '$.name' LIKE ?"
        return int(link.execute(asked, (f"Soak {n}-%",)).fetchone()[0])
