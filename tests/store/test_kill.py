"""kill -9 in the middle of writes: whatever was acknowledged is there, and the file is sound."""

import os
import signal
import sqlite3
import subprocess
import sys
import time

import pytest

from dravel.store import Store

WRITER = """
import sys
from pathlib import Path
from dravel.core.model import Rig
from dravel.store import Store

store = Store(Path(sys.argv[1]))
record = store.rigs.create(Rig(name="start"), "rig")
print(record.revision, flush=True)
while True:
    rig = Rig(name=f"state {record.revision + 1}", notes="x" * 4000)
    record = store.rigs.save("rig", rig, record.revision)
    print(record.revision, flush=True)
"""


@pytest.mark.parametrize("after", [0.15, 0.4, 0.8])
def test_nothing_acknowledged_is_lost(tmp_path, after):
    path = tmp_path / "killed.sqlite"
    writer = subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True)
    assert writer.stdout is not None
    first = writer.stdout.readline()
    time.sleep(after)
    os.kill(writer.pid, signal.SIGKILL)
    acknowledged = [int(line) for line in (first + writer.stdout.read()).split("\n")[:-1]]
    writer.wait()
    assert len(acknowledged) > 2
    store = Store(path)
    numbers = {row.number for row in store.rigs.revisions("rig")}
    assert set(acknowledged) <= numbers
    last = store.rigs.get("rig")
    assert last.revision >= acknowledged[-1]
    assert last.rig.name == f"state {last.revision}"
    store.close()
    with sqlite3.connect(path) as link:
        assert link.execute("PRAGMA integrity_check").fetchone() == ("ok",)
