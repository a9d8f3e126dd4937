"""Frames for `make bench`: simulated, measured beside a second library, solved, dropped; what else is asked of the server meanwhile."""

import json
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

import numpy as np

from dravel.catalogue.stars import stars
from dravel.core.frames.guide_log import GuideLog, read_log
from dravel.stand_ins.picture import Faults, PictureRig, real_stars, take
from dravel.stand_ins.taking import write
from tests.reference.test_solving import field, right, solve
from tools.demo_server import demo_server

PLACE = (38.2, 61.5)
MEASURING = """
import re, sys, time
from pathlib import Path
from dravel.work.frames import measure_file
import astropy.io.fits, sep
begun = time.process_time()
found = measure_file(Path(sys.argv[1]))
took = time.process_time() - begun
most = int(re.search(r"VmHWM:\\s+(\\d+)", Path("/proc/self/status").read_text())[1]) / 1024
print(took, most, found.fwhm_px)
"""
# The same by photutils: background, stars found and fitted (its own aperture of a star, as many as are fitted here).
THEIRS = """
import sys, time, warnings
warnings.simplefilter("ignore")
import numpy as np
from astropy.io import fits
from photutils.background import Background2D, MedianBackground
from photutils.detection import DAOStarFinder
from photutils.psf import fit_fwhm
begun = time.process_time()
data = fits.getdata(sys.argv[1]).astype(np.float32)
ground = Background2D(data, (128, 128), bkg_estimator=MedianBackground())
data -= ground.background.astype(np.float32)
found = DAOStarFinder(threshold=5 * float(ground.background_rms_median), fwhm=2.4)(data)
found.sort("flux", reverse=True)
best = found[:300]
fit_fwhm(data, xypos=np.stack([best["x_centroid"], best["y_centroid"]], 1), fwhm=2.4, fit_shape=(11, 11))
print(time.process_time() - begun, len(found))
"""


def frames(median_ms: Callable[..., float], row: Callable[..., None]) -> None:
    """Frames of 26 megapixels; a guide log of ten hours; random fields solved."""
    with tempfile.TemporaryDirectory() as folder:
        for kind, limit in (("mono", 1000), ("mosaic", 1500)):
            _measured(row, kind, limit, Path(folder) / f"{kind}.fits")
        dropped(row, Path(folder) / "mono.fits", Path(folder) / "demo")
    at = np.arange(0, 36_000, 2.0)
    errors = np.random.default_rng(1).normal(0, 0.4, (2, len(at)))
    row("a guide log of 10 h read", median_ms(lambda: read_log(GuideLog(at, *errors)), 9), "ms", 50)
    for width in (1.5, 3, 10):
        took, good = [], 0
        for seed in range(100, 120):
            given, truth = field(width, seed)
            begun = time.perf_counter()
            with suppress(ValueError):
                good += right(solve(*given), truth)
            took.append((time.perf_counter() - begun) * 1000)
        row(
            f"a field of {width}° solved",
            statistics.median(took),
            "ms",
            600,
            f"{good} of 20, slowest {max(took):.0f} ms",
        )


def _measured(row: Callable[..., None], kind: str, limit: float, path: Path) -> None:
    rig = PictureRig(6248, 4176, 3.76, 4.3, 1.95, 3e6, 1.5, 0.002, 1.6, 50_000, mosaic=kind == "mosaic")
    seen = real_stars(rig, stars().listed(*PLACE, 4), *PLACE, 10, 1, faintest=12.7)
    begun = time.perf_counter()
    picture = take(rig, seen, Faults(fwhm_px=2.4), 120, 1)
    row(f"a {kind} frame of 26 megapixels simulated", (time.perf_counter() - begun) * 1000, "ms", limit)
    write(picture, path, RA=PLACE[0] + 0.2, DEC=PLACE[1] + 0.1)
    answer = _apart(MEASURING, path)
    reference = f"FWHM {answer[2]} px of 2.4"
    if kind == "mono":
        theirs = _apart(THEIRS, path)
        row("measuring ahead of photutils on the same frame", float(answer[0]) / float(theirs[0]), "× its time", 1 / 6,
            f"{float(theirs[0]) / float(answer[0]):.1f} × quicker; it found {theirs[1]} stars")  # fmt: skip
    row(f"and read and measured ({kind}), processor time", float(answer[0]) * 1000, "ms", 1500, reference)
    row("in memory of", float(answer[1]), "MB", 350)


def _apart(code: str, path: Path) -> list[str]:
    done = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True, check=True)
    return done.stdout.split()


def dropped(row: Callable[..., None], frame: Path, data: Path) -> None:
    """How soon a dropped frame is shown, and how quickly findings come while frames are measured behind them."""
    data.mkdir()
    with demo_server(data) as address:

        def call(path: str, body: bytes | dict[str, Any] | None = None) -> Any:
            raw = isinstance(body, bytes)
            sent = body if raw or body is None else json.dumps(body).encode()
            kind = "application/octet-stream" if raw else "application/json"
            with urllib.request.urlopen(
                urllib.request.Request(f"{address}/api/v1{path}", data=sent, headers={"content-type": kind})
            ) as answer:
                return json.load(answer)

        def under_way(job: str) -> bool:
            return call(f"/jobs/{job}")["state"] in ("waiting", "running")

        heron = call("/rigs/heron")["rig"]
        drop, shown = frame.read_bytes(), []
        call("/frames", {"rig": heron, "rig_id": "heron"})  # as the page does when it opens
        for _ in range(3):
            time.sleep(4)
            begun = time.perf_counter()
            job = call("/jobs/frame/of/heron?name=drop.fits", drop)["id"]
            while under_way(job):
                time.sleep(0.1)
            call("/frames", {"rig": heron, "rig_id": "heron"})
            shown.append(time.perf_counter() - begun)
        row("a frame of 26 megapixels, from drop to shown", statistics.median(shown), "s", 3)
        quiet = _evaluated(call, heron, 30)
        jobs = [call("/jobs/frame/of/heron?name=more.fits", drop)["id"] for _ in range(8)]
        busy: list[float] = []
        while any(under_way(job) for job in jobs[-2:]):
            busy += _evaluated(call, heron, 5)
        row("POST /evaluate while frames are measured behind it", statistics.median(busy), "ms", 40,
            f"{statistics.median(quiet):.0f} ms without; {len(busy)} asked")  # fmt: skip


def _evaluated(call: Callable[..., Any], rig: dict[str, Any], times: int) -> list[float]:
    took = []
    for _ in range(times):
        begun = time.perf_counter()
        call("/evaluate?of=heron", {"rig": rig})
        took.append((time.perf_counter() - begun) * 1000)
    return took
