"""The long attacks: kills in the middle of writes, nights and jobs, restores under writes, abandoned calls, hostile files, a huge
shelf, odd and generated calls. `make soak` runs them.

Usage: ``python -m tools.soak [share of the usual counts] [attack …]``; figures go to standard output, exit 1 where one fails.
"""

import http.client
import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path

from dravel.store import Store
from tools.attacks.hostile import designer, hostile
from tools.attacks.kills import jobs_killed, nights_killed
from tools.attacks.odd_calls import odd_calls
from tools.attacks.restores import restores_under_writes
from tools.demo_server import demo_server

MOST_MB, OTHERS_S = 700, 1.0
# Writes of every kind by turns, the log written back now and then; each is told once it is acknowledged.
WRITER = """
import sys
from pathlib import Path
from dravel.core.model import Preferences, Rig, Target
from dravel.store import Store

store = Store(Path(sys.argv[1]))
ids = {record.id for record in store.rigs.all()}
record = store.rigs.get("rig") if "rig" in ids else store.rigs.create(Rig(name="rig"), "rig")
n = 0
while True:
    n += 1
    record = store.rigs.save("rig", Rig(name=f"state {record.revision + 1}", notes="x" * 3000), record.revision)
    print("rig", record.revision, flush=True)
    (target,) = store.targets.add(Target(name=f"target {record.revision}", kind="other", ra_deg=1, dec_deg=2))
    print("target", target.id, flush=True)
    preferences, version = store.preferences()
    print("preferences", store.save_preferences(preferences.model_copy(update={"wind_m_s": version % 30 + 1}), version), flush=True)
    if n % 5 == 0:
        store.database.checkpoint()
"""


def kills(rounds: int, folder: Path) -> tuple[int, int]:
    """Acknowledged writes, and how many of them were lost, over rounds of kill -9 on one file."""
    path, dice = folder / "soak.sqlite", random.Random(7)
    acknowledged = lost = 0
    for _ in range(rounds):
        writer = subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True)
        assert writer.stdout is not None
        answer = writer.stdout.readline()
        time.sleep(dice.uniform(0.0, 0.4))
        os.kill(writer.pid, signal.SIGKILL)
        lines = [line.split() for line in (answer + writer.stdout.read()).split("\n")[:-1]]
        writer.wait()
        store = Store(path)
        revisions = {str(row.number) for row in store.rigs.revisions("rig")}
        targets = store.targets.ids()
        version = store.preferences()[1]
        for kind, what in lines:
            kept = what in revisions if kind == "rig" else what in targets if kind == "target" else int(what) <= version
            acknowledged, lost = acknowledged + 1, lost + (not kept)
        lost += len(store.damaged())
        store.close()
        with sqlite3.connect(path) as link:
            lost += link.execute("PRAGMA integrity_check").fetchone() != ("ok",)
    return acknowledged, lost


def abandoned(count: int, folder: Path) -> float:
    """Seconds until the Board answers after so many calls for the fixes of a rig with huge mosaics were closed at once."""
    with demo_server(folder) as address:
        with urllib.request.urlopen(f"{address}/api/v1/rigs/heron") as answer:
            rig = json.load(answer)["rig"]
        framing = rig["framings"][0]
        rig["framings"] = [
            {**framing, "columns": 30, "rows": 30, "target": {**framing["target"], "id": f"t{n}", "name": f"T{n}"}}
            for n in range(200)
        ]
        body = json.dumps({"rig": rig}).encode()
        open_calls = []
        for _ in range(count):
            call = http.client.HTTPConnection(address.removeprefix("http://"))
            call.request("POST", "/api/v1/evaluate?fixes=true", body, {"content-type": "application/json"})
            open_calls.append(call)
        time.sleep(0.5)
        for call in open_calls:
            call.close()
        start = time.monotonic()
        urllib.request.urlopen(f"{address}/api/v1/board").close()
        return time.monotonic() - start


def cases() -> bool:
    """The tests that `make test` leaves out because they take long; whether none failed."""
    return subprocess.run([sys.executable, "-m", "pytest", "-m", "long"], check=False).returncode == 0


def calls(examples: int) -> bool:
    """Generated calls against every operation, allowed ones and forbidden ones; whether none failed."""
    command = [sys.executable, "-m", "pytest", "-q", "-s", "-n", "0", "tests/api/test_fuzz.py"]
    return subprocess.run(command, env={**os.environ, "DRAVEL_FUZZ": str(examples)}, check=False).returncode == 0


def _writes(folder: Path, share: float) -> bool:
    rounds = max(1, round(200 * share))
    acknowledged, lost = kills(rounds, folder)
    print(f"{rounds} kills: {acknowledged:,} writes acknowledged, {lost} lost")
    return not lost


def _nights(folder: Path, share: float) -> bool:
    rounds = max(1, round(50 * share))
    acknowledged, lost = nights_killed(rounds, folder)
    print(f"{rounds} kills of a running night: {acknowledged:,} marks and sessions acknowledged, {lost} lost")
    return not lost


def _jobs(folder: Path, share: float) -> bool:
    rounds, wrong = jobs_killed(max(1, round(50 * share)), folder)
    print(f"{rounds} kills of imports and measuring: {wrong} kept by half, lost, or gone on without their server")
    return not wrong


def _restores(folder: Path, share: float) -> bool:
    restores, acknowledged, lost = restores_under_writes(max(1, round(2000 * share)), folder)
    print(f"{restores} restores under writes: {acknowledged:,} writes acknowledged, {lost} lost")
    return not lost


def _abandoned(folder: Path, _: float) -> bool:
    late = abandoned(60, folder)
    print(f"60 calls abandoned: the Board answers {late:.1f} s later")
    return late <= 10


def _hostile(folder: Path, _: float) -> bool:
    return _within(hostile(folder))


def _designer(folder: Path, _: float) -> bool:
    return _within(designer(folder))


def _within(told: list[tuple[str, float, float, int]]) -> bool:
    for name, took, waited, most in told:
        print(f"{name}: {took:.1f} s, others waited {waited:.2f} s at most, the server held {most} MB at most")
    return all(waited <= OTHERS_S and most <= MOST_MB for _, _, waited, most in told)


def _odd(folder: Path, share: float) -> bool:
    made, faults = odd_calls(max(1, round(10_000 * share)), folder)
    print(f"{made:,} odd calls: {len(faults)} faults", *faults[:10], sep="\n")
    return not faults


def _generated(_: Path, share: float) -> bool:
    examples = max(1, round(70 * share))
    sound = calls(examples)
    print(f"generated calls, {examples} for each operation: {'none failed' if sound else 'some failed'}")
    return sound


def _cases(_: Path, __: float) -> bool:
    sound = cases()
    print(f"long tests: {'none failed' if sound else 'some failed'}")
    return sound


ATTACKS: dict[str, Callable[[Path, float], bool]] = {
    "writes": _writes, "nights": _nights, "jobs": _jobs, "restores": _restores, "abandoned": _abandoned, "hostile": _hostile,
    "designer": _designer, "odd": _odd, "generated": _generated, "cases": _cases,
}  # fmt: skip


def main(share: float, names: list[str]) -> int:
    """Run some of them, or all."""
    failed = []
    for name in names or ATTACKS:
        with tempfile.TemporaryDirectory() as folder:
            if not ATTACKS[name](Path(folder), share):
                failed.append(name)
        sys.stdout.flush()
    print(f"failed: {', '.join(failed) or 'none'}")
    return int(bool(failed))


if __name__ == "__main__":
    sys.exit(main(float(sys.argv[1]) if len(sys.argv) > 1 else 1.0, sys.argv[2:]))
