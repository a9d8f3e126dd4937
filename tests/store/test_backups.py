"""Backups: whole while others write, restored from every layout there was, and never half."""

import os
import random
import signal
import sqlite3
import subprocess
import sys
import threading
import time
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from sqlalchemy.exc import OperationalError

from dravel.core.model import Site, Target
from dravel.store import Store, backups, database
from dravel.store.backups import Backup, BadBackup, backup, counts, keep_daily, let_go, restore
from dravel.store.database import OtherData, believed
from dravel.store.scratch import scratch, sweep

LAYOUTS = sorted((Path(__file__).parents[1] / "data" / "layouts").glob("*.sqlite"))
NOW = datetime(2026, 11, 27, 3, 0, 0)


def pair(store: Store, name: str) -> None:
    """Two things in one write: a copy that has one without the other is torn."""
    with store.database.write():
        store.targets.add(Target(name=name, ra_deg=10, dec_deg=10))
        store.sites.add(Site(name=name, latitude_deg=40, longitude_deg=-2))


def test_fifty_backups_while_four_write_are_each_of_one_moment(store, tmp_path):
    path, stop = store.database.path, threading.Event()

    def write(who: int) -> None:
        own = Store(path)
        k = 0
        while not stop.is_set():
            pair(own, f"thing {who}-{k}")
            k += 1
        own.close()

    writers = [threading.Thread(target=write, args=(who,)) for who in range(4)]
    for writer in writers:
        writer.start()
    try:
        made = [backup(path, tmp_path / "backups", NOW + timedelta(seconds=k)) for k in range(50)]
    finally:
        stop.set()
        for writer in writers:
            writer.join()
    before = -1
    for k, writer in enumerate(made):
        link = sqlite3.connect(writer.path)
        names = [
            {row[0] for row in link.execute("SELECT json_extract(body, '$.name') FROM entries WHERE kind = ?", (kind,))}
            for kind in ("target", "site")
        ]
        link.close()
        assert names[0] == names[1] and len(names[0]) >= before
        before = len(names[0])
        if k % 10 == 9:  # and what is restored is what was copied
            other = Store(tmp_path / f"other-{k}.sqlite")
            restore(other.database, writer.path, tmp_path / "others", NOW + timedelta(seconds=k))
            assert counts(other.database.path) == counts(writer.path)
            other.close()
    assert before > 0


@pytest.mark.parametrize("layout", LAYOUTS, ids=lambda path: path.stem)
def test_a_backup_of_every_layout_there_was_is_restored(layout, store, tmp_path):
    """Files that the versions of those layouts wrote themselves."""
    before = layout.read_bytes()
    restore(store.database, layout, tmp_path / "backups", NOW)
    assert layout.read_bytes() == before
    assert store.rigs.get("heron").rig.notes == "Kept by an older version." and store.damaged() == []
    assert [revision.number for revision in store.rigs.revisions("heron")] == [2, 1]
    assert store.search.find("heron")[0].id == "heron" and store.parts.count() == 6
    if layout.stem == "0010":
        session = store.sessions.get("old-session").record
        assert session.kept_s == 55 * 180 and session.marks == () and store.sessions.light()[0].kept == 55


def test_there_is_a_file_of_every_layout_that_was_ever_released():
    versions = Path(backups.__file__).parent / "migrations" / "versions"
    known = {path.name.split("_")[0] for path in versions.glob("[0-9]*.py")}
    # 0008 and 0009 went out together with 0010; the newest is what the tests themselves write.
    assert known - {path.stem for path in LAYOUTS} - {"0008", "0009"} == {max(known)}


def test_what_was_there_is_backed_up_before_it_is_replaced(demo_store, tmp_path):
    folder = tmp_path / "backups"
    good = backup(demo_store.database.path, folder, NOW)
    pair(demo_store, "made since")
    before = restore(demo_store.database, good.path, folder, NOW + timedelta(hours=1))
    assert demo_store.search.find("made since") == []
    restore(demo_store.database, before.path, folder, NOW + timedelta(hours=2))
    assert [hit.title for hit in demo_store.search.find("made since")] == ["made since"] * 2


@pytest.mark.parametrize("broken", ["short", "text", "newer", "foreign", "missing"])
def test_a_broken_backup_is_told_and_nothing_is_touched(broken, demo_store, tmp_path):
    good = backup(demo_store.database.path, tmp_path / "backups", NOW)
    bad = tmp_path / "bad.sqlite"
    if broken == "short":
        bad.write_bytes(good.path.read_bytes()[:150_000])
    elif broken == "text":
        bad.write_text("no database at all " * 400)
    elif broken != "missing":
        bad.write_bytes(good.path.read_bytes())
        link = sqlite3.connect(bad)
        link.execute(
            "UPDATE alembic_version SET version_num = '9999'" if broken == "newer" else "DROP TABLE alembic_version"
        )
        link.commit()
        link.close()
    held = counts(demo_store.database.path)
    said = {"short": "cut short|malformed", "newer": "newer layout", "missing": "no such file"}.get(
        broken, "no backup of Dravel"
    )
    with pytest.raises(BadBackup, match=said):
        restore(demo_store.database, bad, tmp_path / "backups", NOW + timedelta(hours=1))
    assert counts(demo_store.database.path) == held and len(demo_store.rigs.all()) == 4
    assert not list(tmp_path.glob("dravel-restore-*"))


def test_a_kill_during_restore_leaves_the_old_data_or_the_new_never_half(tmp_path):
    data = tmp_path / "data.sqlite"
    store = Store(data)
    with store.database.write():
        for k in range(150):
            pair(store, f"old {k}")
    store.close()
    given = Store(tmp_path / "given.sqlite")
    with given.database.write():
        given.targets.add(*(Target(name=f"new {k}", ra_deg=10, dec_deg=10) for k in range(3000)))
        given.sites.add(*(Site(name=f"new {k}", latitude_deg=40, longitude_deg=-2) for k in range(3000)))
    given.close()
    script = (
        "import sys; from pathlib import Path; from datetime import datetime; from dravel.store import Store, backups\n"
        "s = Store(Path(sys.argv[1])); print('go', flush=True)\n"
        "backups.restore(s.database, Path(sys.argv[2]), Path(sys.argv[3]), datetime.now())\n"
        "print('done', flush=True)"
    )
    seen = set()
    rng = random.Random(1)
    for k in range(6):
        run = subprocess.Popen(
            [sys.executable, "-c", script, str(data), str(tmp_path / "given.sqlite"), str(tmp_path / f"b{k}")],
            stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        assert run.stdout is not None and run.stdout.readline() == "go\n"
        time.sleep(rng.uniform(0.0, 0.4))
        os.kill(run.pid, signal.SIGKILL)
        run.wait()
        again = Store(data)
        names = {target.body.name.split()[0] for target in again.targets.all()}
        assert len(names) == 1 and again.targets.count() == again.sites.count() in (150, 3000)
        assert len(again.search.find("old")) + len(again.search.find("new")) == 30
        again.close()
        seen |= names
        if "new" in names:
            break
    assert seen


def test_a_disk_that_fills_leaves_no_half_a_backup(demo_store, tmp_path, monkeypatch):
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(backups, "prove", full)
    with pytest.raises(OSError, match="No space left"):
        backup(demo_store.database.path, tmp_path / "backups", NOW)
    assert list((tmp_path / "backups").iterdir()) == [] and len(demo_store.rigs.all()) == 4


def test_nothing_is_written_over(demo_store, tmp_path):
    (tmp_path / "mine.sqlite").write_text("mine")
    with pytest.raises(FileExistsError):
        backup(demo_store.database.path, tmp_path, NOW, to=tmp_path / "mine.sqlite")
    assert (tmp_path / "mine.sqlite").read_text() == "mine"


def test_the_day_is_backed_up_once_and_only_where_something_changed(demo_store, tmp_path):
    path, folder = demo_store.database.path, tmp_path / "backups"
    now = datetime.now()
    assert keep_daily(path, folder, now) is not None
    assert keep_daily(path, folder, now + timedelta(hours=2)) is None
    assert keep_daily(path, folder, now + timedelta(hours=25)) is None  # nothing has changed since
    time.sleep(0.05)  # clocks of files are coarse
    pair(demo_store, "new")
    assert keep_daily(path, folder, now + timedelta(hours=25)) is not None
    assert [item.daily for item in backups.backups(folder, path.stem)] == [True, True]


def test_a_year_of_daily_backups_leaves_days_weeks_and_months():
    days = [Backup(Path(f"{k}"), NOW - timedelta(days=k), 1, daily=True) for k in range(400)]
    by_hand = Backup(Path("mine"), NOW - timedelta(days=300), 1, daily=False)
    gone = let_go([*days, by_hand])
    kept = [day for day in days if day not in gone]
    assert by_hand not in gone and kept[:7] == days[:7] and 14 <= len(kept) <= 7 + 5 + 12
    assert (kept[0].made - kept[-1].made).days > 300
    # Day after day with the rule applied each time, as it is lived.
    there: list[Backup] = []
    for k in range(400):
        there.append(Backup(Path(f"{k}"), NOW + timedelta(days=k), 1, daily=True))
        there = [item for item in there if item not in let_go(there)]
    assert len(there) <= 24 and (there[-1].made - min(item.made for item in there)).days > 250


def names_in(path: Path) -> set[str]:
    """The names of the targets in a file."""
    link = sqlite3.connect(f"{path.as_uri()}?mode=ro", uri=True)
    results = {row[0] for row in link.execute("SELECT json_extract(body, '$.name') FROM entries WHERE kind = 'target'")}
    link.close()
    return results


def test_what_is_written_while_restores_run_is_in_the_backup_before_or_in_what_was_restored(store, tmp_path):
    """Nobody writes between the backup of what is there and the exchange: nothing acknowledged falls between the two."""
    path, folder, stop = store.database.path, tmp_path / "backups", threading.Event()
    store.targets.add(Target(name="first", ra_deg=10, dec_deg=10))
    good = backup(path, folder, NOW)
    acknowledged: list[str] = []

    def write(who: int) -> None:
        own = Store(path)
        k = 0
        while not stop.is_set():
            name = f"thing {who}-{k}"
            k += 1
            with suppress(OperationalError):  # refused, which is allowed
                own.targets.add(Target(name=name, ra_deg=10, dec_deg=10))
                acknowledged.append(name)
        own.close()

    writers = [threading.Thread(target=write, args=(who,)) for who in range(3)]
    for writer in writers:
        writer.start()
    befores = []
    try:
        for k in range(5):
            time.sleep(0.05)
            befores.append(restore(store.database, good.path, folder, NOW + timedelta(minutes=k + 1)).path)
    finally:
        stop.set()
        for writer in writers:
            writer.join()
    kept = set().union(names_in(path), *map(names_in, befores))
    assert len(acknowledged) > 20 and set(acknowledged) <= kept


def test_a_restore_gives_the_data_another_identity_and_what_was_meant_for_the_old_is_refused(demo_store, tmp_path):
    first = demo_store.database.identity()
    good = backup(demo_store.database.path, tmp_path / "backups", NOW)
    restore(demo_store.database, good.path, tmp_path / "backups", NOW + timedelta(hours=1))
    second = demo_store.database.identity()
    assert first and second and first != second
    token = believed.set(first)
    try:
        with pytest.raises(OtherData, match="nothing was saved"):
            pair(demo_store, "typed on the old data")
        assert demo_store.search.find("typed on the old data") == []
        believed.set(second)
        pair(demo_store, "typed on these data")
    finally:
        believed.reset(token)
    assert len(demo_store.search.find("typed on these data")) == 2


def test_a_reader_that_stays_keeps_nobody_waiting(tmp_path, monkeypatch):
    """A copy, or a browser of databases with an open read: the log is written back later, and writes go on."""
    # Not by the clock: whoever waited here for the reader would wait an hour.
    monkeypatch.setattr(database, "BUSY_S", 3600.0)
    store = Store(tmp_path / "data.sqlite")
    pair(store, "one")
    reader = sqlite3.connect(store.database.path, isolation_level=None)
    reader.execute("BEGIN")
    reader.execute("SELECT count(*) FROM entries").fetchone()
    pair(store, "two")
    store.database.checkpoint()
    assert store.database._written_at is not None  # put off
    pair(store, "three")
    reader.close()
    store.database.checkpoint()
    assert store.database._written_at is None
    store.close()


def test_folders_of_killed_work_go_and_those_in_use_stay(tmp_path):
    left = tmp_path / "dravel-import-abc"
    left.mkdir()
    (left / "half").write_text("half")
    old = time.time() - 3600
    os.utime(left, (old, old))
    with scratch(tmp_path, "export") as busy:
        os.utime(busy, (old, old))
        sweep(tmp_path)
        assert busy.is_dir() and not left.exists()
    assert not busy.exists()
