"""The long attacks: kills in the middle of writes, generated calls, a locked database. `make soak` runs them.

Usage: ``python -m tools.soak [kills] [examples per call]``; figures go to standard output, exit 1 where one fails.
"""

import os
import random
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from dravel.store import Store

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
    sound = calls(examples)
    print(f"generated calls, {examples} for each operation: {'none failed' if sound else 'some failed'}")
    return int(bool(lost) or not sound)


if __name__ == "__main__":
    sys.exit(main())
