"""The log for `make bench`: years of nights and frames; pages, search, and backups while it serves."""

import json
import tempfile
import time
from collections.abc import Callable
from datetime import date, datetime, timedelta
from pathlib import Path

from fastapi.testclient import TestClient

from dravel.api.app import create_app
from dravel.catalogue.demo_log import demo_sessions
from dravel.catalogue.stars import stars
from dravel.config import Settings
from dravel.core.frames.reading import FrameReading
from dravel.seed import seed_demo
from dravel.stand_ins.picture import Faults, PictureRig, real_stars, take
from dravel.stand_ins.taking import write
from dravel.store import Store, backups
from dravel.store.packing import packed
from dravel.store.tables import FrameRow
from dravel.work.frames import measure_file

V1 = "/api/v1"
SESSIONS, FRAMES = 2000, 50_000
LAST = date(2026, 11, 25)


def log(median_ms: Callable[..., float], row: Callable[..., None]) -> None:
    """Answers of the log beside one that reads nothing."""
    with tempfile.TemporaryDirectory() as folder:
        store = filled(Path(folder) / "log.sqlite")
        with TestClient(create_app(store, Settings(tonight=LAST)), base_url="http://localhost") as client:
            nothing = median_ms(lambda: client.get(f"{V1}/steps"), 10)

            def timed(what: str, path: str, limit: float) -> None:
                took = median_ms(lambda: client.get(f"{V1}{path}"), 5, 1)
                row(what, took, "ms", limit, f"{took / nothing:.0f} × an answer that reads nothing ({nothing:.1f} ms)")

            timed(f"a page of {SESSIONS} sessions", "/sessions", 200)
            timed("light of all of them by target", "/log/totals", 200)
            timed("a month of nights", "/log/month", 200)
            timed("what to finish next", "/log/finish", 200)
            timed("marks that worked on a rig", "/log/marks/heron", 200)
            timed("search over everything", "/find?words=heron+saddle", 50)
            timed("search by a beginning that thousands have", "/find?words=h", 50)
            slowest = backed_up(client, store, Path(folder))
            row(*slowest)
        size = store.database.path.stat().st_size / 1e6
        begun = time.perf_counter()
        backups.backup(store.database.path, Path(folder) / "b", datetime.now())
        row(f"a backup, proved ({FRAMES} frames, {size:.0f} MB)", (time.perf_counter() - begun) * 1000, "ms", 5000)
        store.close()


def backed_up(client: TestClient, store: Store, folder: Path) -> tuple[str, float, str, float, str]:
    """The slowest answer while a backup is made."""
    from threading import Thread

    run = Thread(target=lambda: backups.backup(store.database.path, folder / "a", datetime.now()))
    run.start()
    slowest, asked = 0.0, 0
    while run.is_alive():
        begun = time.perf_counter()
        client.get(f"{V1}/sessions")
        slowest = max(slowest, time.perf_counter() - begun)
        asked += 1
    return "the slowest page of the log while a backup is made", slowest * 1000, "ms", 1000, f"of {asked}"


def a_reading(folder: Path) -> FrameReading:
    """A simulated frame with as many stars as a map shows, measured."""
    rig = PictureRig(3124, 2088, 3.76, 4.3, 1.95, 3e6, 1.5, 0.002, 1.6, 50_000)
    picture = take(rig, real_stars(rig, stars().listed(38.2, 61.5, 3), 38.2, 61.5, 10, 1), Faults(fwhm_px=2.4), 120, 1)
    write(picture, folder / "one.fits")
    return measure_file(folder / "one.fits")


def filled(path: Path) -> Store:
    """A log of years."""
    store = Store(path)
    seed_demo(store)
    nights = [demo_session.model_copy(update={"night": demo_session.night}) for demo_session in demo_sessions(LAST)]
    light, drawn = packed(a_reading(path.parent).model_dump(mode="json"))
    body = json.loads(light)
    with store.database.write() as session:
        for k in range(SESSIONS):
            item, back = nights[k % len(nights)], timedelta(days=3 * (k // len(nights)))
            kept = item.model_copy(
                update={"night": item.night - back, "began": item.began - back, "ended": item.ended - back}
            )
            store.sessions.add(kept)
        ids = [entry.id for entry in store.sessions.all(0, SESSIONS)]
        for k in range(FRAMES):
            at = f"2026-{k % 12 + 1:02d}-10T{k % 24:02d}:00:00"
            body["claims"]["at"] = at
            session.add(
                FrameRow(
                    id=f"f{k}",
                    rig_id="heron",
                    session_id=ids[k % len(ids)],
                    archived=False,
                    position=k + 1,
                    body=json.dumps(body),
                    drawn=drawn,
                )
            )
            if k % 1000 == 999:
                session.flush()
                session.expunge_all()
    return store
