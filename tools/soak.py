"""The long attacks: kills in the middle of writes, abandoned calls, generated calls. `make soak` runs them.

Usage: ``python -m tools.soak [kills] [examples per call]``; figures go to standard output, exit 1 where one fails.
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
from pathlib import Path

from dravel.store import Store
from tools.demo_server import demo_server

# Writes of every kind by turns, the log written back now and then; each is told once it is acknowledged.
WRITER = """
import sys
from pathlib import Path
from dravel.core.model import Practice, Rig, Target
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
    practice, version = store.practice()
    print("practice", store.save_practice(practice.model_copy(update={"wind_m_s": version % 30 + 1}), version), flush=True)
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
        told = writer.stdout.readline()
        time.sleep(dice.uniform(0.0, 0.4))
        os.kill(writer.pid, signal.SIGKILL)
        lines = [line.split() for line in (told + writer.stdout.read()).split("\n")[:-1]]
        writer.wait()
        store = Store(path)
        revisions = {str(row.number) for row in store.rigs.revisions("rig")}
        targets = store.targets.ids()
        version = store.practice()[1]
        for kind, what in lines:
            kept = what in revisions if kind == "rig" else what in targets if kind == "target" else int(what) <= version
            acknowledged, lost = acknowledged + 1, lost + (not kept)
        lost += len(store.damaged())
        store.close()
        with sqlite3.connect(path) as link:
            lost += link.execute("PRAGMA integrity_check").fetchone() != ("ok",)
    return acknowledged, lost


def abandoned(count: int, folder: Path) -> float:
    """Seconds until the Board answers after so many calls for the mends of a rig with huge mosaics were closed at once."""
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
            call.request("POST", "/api/v1/evaluate?mends=true", body, {"content-type": "application/json"})
            open_calls.append(call)
        time.sleep(0.5)
        for call in open_calls:
            call.close()
        start = time.monotonic()
        urllib.request.urlopen(f"{address}/api/v1/board").close()
        return time.monotonic() - start


def calls(examples: int) -> bool:
    """Generated calls against every operation, allowed ones and forbidden ones; whether none failed."""
    command = [sys.executable, "-m", "pytest", "-q", "-s", "-n", "0", "tests/api/test_fuzz.py"]
    return subprocess.run(command, env={**os.environ, "DRAVEL_FUZZ": str(examples)}, check=False).returncode == 0


def main() -> int:
    """Run them all."""
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    examples = int(sys.argv[2]) if len(sys.argv) > 2 else 70
    with tempfile.TemporaryDirectory() as folder:
        acknowledged, lost = kills(rounds, Path(folder))
        print(f"{rounds} kills: {acknowledged:,} writes acknowledged, {lost} lost", flush=True)
        late = abandoned(60, Path(folder))
    print(f"60 calls abandoned: the Board answers {late:.1f} s later", flush=True)
    sound = calls(examples)
    print(f"generated calls, {examples} for each operation: {'none failed' if sound else 'some failed'}")
    return int(bool(lost) or late > 10 or not sound)


if __name__ == "__main__":
    sys.exit(main())
