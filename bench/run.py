"""`make bench`: times what must be quick, each beside a reference in the same run, with machine and versions.

Times are medians. The ratio is against the named reference, so that runs on different machines can be compared.
"""

import gzip
import json
import os
import platform
import random
import re
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from datetime import date
from importlib.metadata import version
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright

from bench.design import design
from bench.frames import frames
from bench.large import large
from bench.log import log
from dravel.api.app import PAGES
from dravel.catalogue.demo import RIDGE, scenario
from dravel.catalogue.objects import catalogue
from dravel.catalogue.stars import stars
from dravel.core.engine.context import Context
from dravel.core.model import Adapter, Framing, Preferences, Rig, Target
from dravel.core.overview.ahead import ahead
from dravel.core.overview.board import board
from dravel.core.overview.compare import compare
from dravel.core.overview.months import months
from dravel.core.overview.readiness import as_other, other_rigs, rig_for_night
from dravel.core.overview.tonight import tonight
from dravel.core.sky import year
from dravel.core.sky.altaz import alt_az
from dravel.core.sky.hop import hop_card
from dravel.core.sky.night import night_of
from dravel.core.sky.ranking import rank
from dravel.core.sky.search import SearchWanted, find
from dravel.core.steps import STEPS
from dravel.core.steps.exposure.view import exposure_view
from dravel.core.steps.guiding.view import draw_patch, patch_of
from dravel.core.steps.mount.view import mount_view
from dravel.core.steps.optics.view import optics_view
from dravel.core.steps.spacing.view import spacing_view, tray
from dravel.core.train.facts import Spacing
from dravel.core.train.light_path import LightPath
from dravel.core.train.solver import RING_FUNCTIONS, solve
from dravel.stand_ins.rehearsal import facts_of, rehearse
from tests.browser.conftest import ARGS, CHROMIUM
from tests.core.test_solver import QUESTIONS, SHELF, integer_program
from tools.demo_server import demo_server

ROWS: list[tuple[str, str, str, str, bool]] = []


def median_ms(call: Callable[[], object], times: int = 60, warm: int = 3) -> float:
    for _ in range(warm):
        call()
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        call()
        taken.append((time.perf_counter() - start) * 1000)
    return statistics.median(taken)


def row(what: str, found: float, unit: str, limit: float, reference: str = "") -> None:
    ROWS.append((what, f"{found:.2f} {unit}", f"≤ {limit:g} {unit}", reference, found <= limit))


def core() -> None:
    demo = scenario()
    for rig_id, rig in demo.rigs:
        text = rig.model_dump_json()
        parse = median_ms(lambda text=text: Rig.model_validate_json(text))
        took = median_ms(lambda rig=rig: STEPS.evaluate(rig))
        row(f"evaluate {rig_id}", took, "ms", 10, f"{took / parse:.1f} × reading its document ({parse:.2f} ms)")
        whole = median_ms(lambda rig=rig: STEPS.evaluate(rig, shelf=demo.parts), 20)
        row(f"evaluate {rig_id}, fixes tried", whole, "ms", 300, f"{whole / took:.1f} × without")
    magpie = dict(demo.rigs)["magpie"]
    row("Glass step, magpie", median_ms(lambda: optics_view(STEPS.context(magpie, None, demo.parts))), "ms", 30)
    heron, night = dict(demo.rigs)["heron"], date(2026, 11, 25)
    drawn = median_ms(lambda: exposure_view(STEPS.context(heron, None, demo.parts, tonight=night)), 30)
    row("Exposure view, heron on a night", drawn, "ms", 20)
    took = median_ms(lambda: STEPS.evaluate(heron, tonight=night))
    row("evaluate heron on a night", took, "ms", 12)
    rigs = [(name, 1, rig) for name, rig in demo.rigs]
    row("Board, 4 × 8", median_ms(lambda: board(rigs, demo.targets, Preferences())), "ms", 60)


def evening() -> None:
    """A night of two rigs with five targets each, and a fortnight of twenty."""
    demo, night = scenario(), date(2026, 11, 25)
    rigs, five = dict(demo.rigs), list(demo.targets)[:5]

    def aimed(name: str, targets: list[Target]) -> Context:
        framings = tuple(
            Framing(target=item, centre_ra_deg=item.ra_deg, centre_dec_deg=item.dec_deg) for item in targets
        )  # fmt: skip
        return STEPS.context(rigs[name].model_copy(update={"framings": framings, "site": RIDGE}), tonight=night)

    two = median_ms(lambda: tonight([(n, aimed(n, five)) for n in ("heron", "bittern")], RIDGE, night), 9)
    row("a night of 2 rigs, 5 targets each", two, "ms", 300)
    many = [target.model_copy(update={"id": f"t{k}", "name": f"T{k}", "dec_deg": 10.0 + 3 * k, "ra_deg": 17.0 * k % 360})
            for k in range(20) for target in five[:1]]  # fmt: skip
    begun = time.perf_counter()
    ahead([("heron", aimed("heron", many))], RIDGE, night)
    row("14 nights ahead for 20 targets, first time", (time.perf_counter() - begun) * 1000, "ms", 2000)
    plan = tonight([(n, aimed(n, five)) for n in ("heron", "bittern")], RIDGE, night)
    facts = {n: facts_of(aimed(n, five)) for n in ("heron", "bittern")}
    row("a night of both rehearsed", median_ms(lambda: rehearse(plan, facts, 3, "much"), 9), "ms", 500)


def spacing() -> None:
    shelf = {size: enlarged(size) for size in (60, 300)}
    questions = list(QUESTIONS.values())
    for size, limit in ((60, 150), (300, 1000)):
        rings = shelf[size]
        took = statistics.median([median_ms(lambda q=q, rings=rings: solve(q, rings), 7) for q in questions])
        worst = max(median_ms(lambda q=q, rings=rings: solve(q, rings), 3) for q in questions)
        reference = f"slowest of {len(questions)} questions {worst:.1f} ms"
        if size == 60:
            theirs = statistics.median(
                [median_ms(lambda q=q, rings=rings: integer_program(q, rings), 1, 0) for q in questions]
            )
            reference += f"; OR-Tools CP-SAT on the same questions {theirs:.0f} ms"
            row("solver ahead of CP-SAT, 60 parts", took / theirs, "× its time", 0.1, f"{theirs / took:.0f} × quicker")
        row(f"ring solver, {size} parts", took, "ms", limit, reference)
    demo = scenario()
    bittern = dict(demo.rigs)["bittern"]
    facts = Spacing(bittern, LightPath.of(bittern), Preferences())
    assert facts.beam is not None
    row("illumination map, 33 radii", median_ms(lambda: facts.profile(33)), "ms", 20, f"{len(facts.openings)} openings")
    row("Spacing view, bittern", median_ms(lambda: spacing_view(STEPS.context(bittern))), "ms", 20)
    row("tray at a joint", median_ms(lambda: tray(bittern, Preferences(), demo.parts, 3)), "ms", 20)


def enlarged(size: int) -> tuple[Adapter, ...]:
    """The starter rings and more like them with lengths and ownership varied, always the same ones."""
    rnd = random.Random(11)
    rings = [p for p in SHELF if p.function in RING_FUNCTIONS]
    while len(rings) < size:
        like = rnd.choice(SHELF)
        length = round((like.optical_length_mm or 1) + rnd.choice([0, 0.1, 0.25, 0.5, 1, 1.3]), 2)
        change = {"name": f"{like.name} {len(rings)}", "id": f"more-{len(rings)}", "optical_length_mm": length}
        if like.optical_length_max_mm is not None:
            change["optical_length_max_mm"] = length + 5
        rings.append(like.model_copy(update={**change, "status": rnd.choice(["owned", "wished"])}))
    return tuple(rings)


def nights() -> None:
    from astropy import units as u
    from astropy.coordinates import AltAz, EarthLocation, SkyCoord
    from astropy.time import Time
    from astropy.utils import iers

    iers.conf.auto_download = False
    iers.conf.auto_max_age = None
    demo = scenario()
    heron = dict(demo.rigs)["heron"]
    site, day = demo.sites[0], date(2026, 11, 25)
    everything = catalogue().everything()
    night = night_of(site, day)
    rig = rig_for_night(STEPS.context(heron, Preferences()))[0]
    assert rig is not None
    row("catalogue ranked for a night", median_ms(lambda: rank(everything, rig, night, Preferences()), 15), "ms", 250)
    ra, dec = np.array([t.ra_deg for t in everything]), np.array([t.dec_deg for t in everything])
    jd = night.jd[::12]

    def mine() -> np.ndarray:
        return alt_az(night.frame.of_date(ra, dec), jd, site.latitude_deg, site.longitude_deg, night.frame)[0]

    place = EarthLocation(lat=site.latitude_deg * u.deg, lon=site.longitude_deg * u.deg, height=site.elevation_m * u.m)
    frame = AltAz(obstime=Time(jd, format="jd")[None, :], location=place)
    start = time.perf_counter()
    theirs = SkyCoord(ra[:, None] * u.deg, dec[:, None] * u.deg).transform_to(frame).alt.deg
    slow = (time.perf_counter() - start) * 1000
    took = median_ms(mine, 9)
    off = float(np.abs(mine() - theirs).max())
    row(f"altitudes of {len(ra)} × {len(jd)}", took / slow, "× astropy's time", 1 / 25, f"{slow / took:.0f} × quicker")
    row("and how far from astropy's", off, "°", 0.02)

    def fresh_year() -> object:
        year._darkness.cache_clear()
        return year.year_of(everything[0], site, day, Preferences())

    wanted = SearchWanted(kinds=("galaxy",), larger_arcmin=3, hours=2, fits=True)
    took = median_ms(lambda: find(everything, wanted, Preferences(), night, (0.6, 0.5)), 9)
    row("catalogue searched by kind, size, night and fit", took, "ms", 100)
    others = [
        (o.rig_id, o.name, o.field, o.least)
        for o in other_rigs((key, as_other(rig, Preferences())) for key, rig in demo.rigs)
    ]
    took = median_ms(lambda: months(others, everything, site, day, Preferences()), 5)
    row("which rig a month suits, 4 rigs, nights kept", took, "ms", 250)
    listed = stars()
    took = median_ms(lambda: hop_card(demo.targets[0], 1.0, listed.ra, listed.dec, listed.mag), 5)
    row("hop card, steps of 1°", took, "ms", 500)
    row("year strip of one target, nothing kept", median_ms(fresh_year, 9), "ms", 50)
    row(
        "year strips of 100 targets",
        median_ms(lambda: [year.year_of(t, site, day, Preferences()) for t in everything[:100]], 5) / 1000,
        "s",
        1,
    )
    rigs = [(f"{name}{i}", 1, rig) for i in range(3) for name, rig in demo.rigs][:10]
    many = everything[:50]
    row("Board, 10 × 50, with a night", median_ms(lambda: board(rigs, many, Preferences(), site, day), 9), "ms", 300)
    for name, whole in demo.rigs:
        row(f"evaluate {name} on a night", median_ms(lambda whole=whole: STEPS.evaluate(whole, tonight=day)), "ms", 10)


def sky() -> None:
    from astropy import units as u
    from astropy.coordinates import SkyCoord

    objects = catalogue()
    words = ("ngc 891", "m 81", "veil", "north america", "c", "1", "nothing such", "ESO 056")
    aliases = [alias for target in objects.around(0, 0, 89, limit=20_000) for alias in (target.name, *target.aliases)]
    for word in words:
        took = median_ms(lambda word=word: objects.search(word), 20)
        plain = median_ms(lambda word=word: [a for a in aliases if word in a.lower()], 5)
        row(
            f"search '{word}' in {len(objects)}", took, "ms", 30, f"{took / plain:.3f} × a plain scan of half the names"
        )
    everything = stars()
    coordinates = SkyCoord(everything.ra * u.deg, everything.dec * u.deg)
    centre = SkyCoord(312.75 * u.deg, 30.9 * u.deg)
    theirs = median_ms(lambda: (centre.separation(coordinates) < 3 * u.deg).nonzero(), 5)
    for radius in (0.5, 3, 10):
        took = median_ms(lambda radius=radius: everything.around(312.75, 30.9, radius), 20)
        row(f"stars within {radius}°", took, "ms", 30, f"{theirs / took:.0f} × quicker than astropy separation")


def server() -> None:
    # A user's second start finds its modules compiled; so do the starts measured here.
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    with tempfile.TemporaryDirectory() as folder:
        with demo_server(Path(folder)):
            pass  # the first start builds the demo data
        command = [sys.executable, "-m", "dravel.cli", "demo", "--port", "0", "--data", folder]
        ready, held = [], 0.0
        for _ in range(5):
            start = time.perf_counter()
            process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
            assert process.stdout is not None
            match = re.search(r"http://[^\s/]+", process.stdout.readline())
            assert match
            while True:
                try:
                    urllib.request.urlopen(f"{match[0]}/api/v1/about").close()
                    break
                except OSError:
                    time.sleep(0.01)
            ready.append(time.perf_counter() - start)
            api = f"{match[0]}/api/v1"
            urllib.request.urlopen(f"{api}/sky/search?q=m31").close()
            urllib.request.urlopen(f"{api}/sky/patch?ra_deg=10&dec_deg=41&radius_deg=5").close()
            held = max(held, _memory_mb(process.pid))
            if len(ready) == 5:
                _requests(api)
                held = max(held, _memory_mb(process.pid))
            process.terminate()
            process.wait()
        bare = median_ms(lambda: subprocess.run([sys.executable, "-c", "import numpy, pydantic"], check=True), 5)
        took = statistics.median(ready)
        row("server ready", took, "s", 2, f"{took * 1000 / bare:.1f} × importing numpy and pydantic ({bare:.0f} ms)")
        row("server memory after searches and patches", held, "MB", 250)


def _memory_mb(pid: int) -> float:
    status = Path(f"/proc/{pid}/status").read_text()
    match = re.search(r"VmRSS:\s+(\d+)", status)
    assert match
    return int(match[1]) / 1024


def _requests(api: str) -> None:
    def timed(path: str, body: object | None = None) -> float:
        data = None if body is None else json.dumps(body).encode()
        taken = []
        for _ in range(40):
            request = urllib.request.Request(f"{api}/{path}", data, {"content-type": "application/json"})
            with urllib.request.urlopen(request) as answer:
                answer.read()
                taken.append(float(answer.headers["server-timing"].split("dur=")[1]))
        return statistics.median(taken[5:])

    reference = timed("about")
    for name in ("heron", "magpie"):
        with urllib.request.urlopen(f"{api}/rigs/{name}") as answer:
            rig = json.load(answer)["rig"]
        took = timed("evaluate", {"rig": rig})
        row(
            f"POST /evaluate {name}, server time",
            took,
            "ms",
            20,
            f"{took / reference:.0f} × GET /about ({reference:.2f} ms)",
        )
    took = timed("spacing", {"rig": rig})
    row("POST /spacing, server time", took, "ms", 20)
    took = timed("spacing/rings", {"rig": rig})
    row("POST /spacing/rings, server time", took, "ms", 150)
    took = timed("sky/footprint", {"rig": rig, "framing": 1, "view": {"ra_deg": 312.75, "dec_deg": 30.95}})
    row("POST /sky/frame (each step of a drag), server time", took, "ms", 30)
    row("GET /board, server time", timed("board"), "ms", 60)


def carrying() -> None:
    demo = scenario()
    rigs = [(rig.name, rig) for _, rig in demo.rigs] * 5
    day = date(2026, 11, 25)
    took = median_ms(lambda: compare(rigs, Preferences(), demo.targets, demo.sites[0], lambda _: day), 7)
    row("20 rigs compared", took, "ms", 200)
    bittern = dict(demo.rigs)["bittern"]

    def patch() -> object:
        context = STEPS.context(bittern, Preferences())
        where = patch_of(context, None)
        assert where is not None
        return draw_patch(context, None, stars().around(*where, limit=3000), 10)

    row("star patch of a guide camera, statistics and real stars", median_ms(patch, 15), "ms", 20)
    row(
        "Load view of Bittern",
        median_ms(lambda: mount_view(STEPS.context(bittern, Preferences(), demo.parts)), 15),
        "ms",
        30,
    )


def browser() -> None:
    with tempfile.TemporaryDirectory() as folder, demo_server(Path(folder)) as address, sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        page = chromium.new_page(viewport={"width": 1280, "height": 800})
        scripts: list[str] = []
        page.on("response", lambda answer: scripts.append(answer.url) if answer.url.endswith(".js") else None)
        page.goto(address)
        page.locator("[data-testid=ladder] svg").wait_for()
        packed = sum(len(gzip.compress((PAGES / url.split("/", 3)[3]).read_bytes())) for url in scripts)
        total = sum(len(gzip.compress(path.read_bytes())) for path in (PAGES / "assets").glob("*.js"))
        row("first screen's scripts, gzipped", packed / 1024, "kB", 254, f"{packed / total:.0%} of all scripts")
        page.goto(f"{address}/rigs/heron/aim?target=veil-complex")
        page.locator("[data-testid=footprint] polygon").first.wait_for()
        page.wait_for_timeout(500)
        row("a drag until its numbers follow", _drag(page), "ms", 100)
        page.goto(f"{address}/rigs/heron/mount")
        page.locator("[data-testid=weight]").wait_for()
        page.wait_for_timeout(500)
        follow, frames = _slide(page, "[data-testid=weight]", ".elevation", (0, 1.5))
        row("a weight slid until its numbers follow", follow, "ms", 100)
        row("and between two pictures while it slides", frames, "ms", 1000 / 60 + 1)
        page.goto(f"{address}/rigs/heron/exposure")
        page.locator("[data-testid=noise-curve] .handle").wait_for()
        page.wait_for_timeout(500)
        follow, _ = _slide(page, "[data-testid=noise-curve] .handle", "[data-testid=noise-curve]", (6, 0))
        row("a sub dragged until its numbers follow", follow, "ms", 100)
        _played(page, address)
        scripts.clear()
        page.goto(f"{address}/about")
        page.locator("[data-testid=plain-table] tr").first.wait_for()
        shell = set(scripts)
        page.goto(f"{address}/field")
        page.locator("[data-testid=field-now] h1").wait_for()
        page.wait_for_timeout(500)
        own = {url for url in scripts if url not in shell}
        packed = sum(len(gzip.compress((PAGES / url.split("/", 3)[3]).read_bytes())) for url in own)
        row("field view beyond the shell, gzipped", packed / 1024, "kB", 150, f"{len(own)} files")
        chromium.close()


def _played(page: object, address: str) -> None:
    """A rehearsal of two rigs at 300 ×: the median time between two pictures while the needle moves."""
    body = {"id": "bench-0001", "asked": {"rigs": ["heron", "bittern"]},
            "rehearsal": {"seed": 3, "trouble": "much", "speed": 300}}  # fmt: skip
    page.request.post(f"{address}/api/v1/night", data=body)  # type: ignore[attr-defined]
    where = {"night": "bench-0001", "speed": 300, "to_s": 9 * 3600}
    page.goto(f"{address}/tonight")  # type: ignore[attr-defined]
    page.locator(".needle").wait_for(state="attached")  # type: ignore[attr-defined]
    page.request.post(f"{address}/api/v1/night/speed", data=where)  # type: ignore[attr-defined]
    page.wait_for_timeout(700)  # type: ignore[attr-defined]
    between = page.evaluate(  # type: ignore[attr-defined]
        """async () => {
          const picture = () => new Promise((r) => requestAnimationFrame(r));
          const took = [];
          let last = await picture();
          for (let i = 0; i < 120; i++) { const now = await picture(); took.push(now - last); last = now; }
          return took;
        }"""
    )
    row("a rehearsal at 300 ×, between two pictures", statistics.median(between), "ms", 1000 / 30,
        f"slowest {max(between):.0f} ms")  # fmt: skip


def _slide(page: object, handle: str, surface: str, step: tuple[float, float]) -> tuple[float, float]:
    """Sliding a handle in bursts, a move a picture: median times from the last move until its number has caught up, and
    between pictures."""
    evaluation = page.evaluate(  # type: ignore[attr-defined]
        """async ([handle, surface, [dx, dy]]) => {
          const weight = document.querySelector(handle);
          const svg = document.querySelector(surface);
          const box = weight.getBoundingClientRect();
          let x = box.left + box.width / 2, y = box.top + box.height / 2;
          const send = (type, target) => target.dispatchEvent(new PointerEvent(type,
            {bubbles: true, clientX: x, clientY: y, pointerId: 1, button: 0, isPrimary: true}));
          const told = () => document.querySelector(handle).getAttribute('aria-valuenow');
          const picture = () => new Promise((r) => requestAnimationFrame(r));
          svg.setPointerCapture = () => {};
          send('pointerdown', weight);
          const caught = [], frames = [];
          for (let burst = 0; burst < 9; burst++) {
            let last = await picture();
            for (let i = 0; i < 12; i++) {
              x += burst % 2 ? -dx : dx;
              y += burst % 2 ? -dy : dy;
              send('pointermove', svg);
              const now = await picture();
              frames.push(now - last);
              last = now;
            }
            const end = performance.now();
            let shown = told(), changed = end;
            while (performance.now() - end < 450) {
              await picture();
              if (told() !== shown) { shown = told(); changed = performance.now(); }
            }
            caught.push(changed - end);
          }
          send('pointerup', svg);
          const middle = (list) => list.sort((a, b) => a - b)[Math.floor(list.length / 2)];
          return [middle(caught), middle(frames)];
        }""",
        [handle, surface, list(step)],
    )
    return float(evaluation[0]), float(evaluation[1])


def _drag(page: object) -> float:
    """Median time from a pointer move to the next change of the numbers beside the sky."""
    return float(
        page.evaluate(  # type: ignore[attr-defined]
            """async () => {
              const frame = document.querySelector('[data-testid=footprint] polygon');
              const side = document.querySelector('[data-testid=aim-side]');
              const box = frame.getBoundingClientRect();
              let x = box.left + box.width / 2, y = box.top + box.height / 2;
              const send = (type, target) => target.dispatchEvent(new PointerEvent(type,
                {bubbles: true, clientX: x, clientY: y, pointerId: 1, button: 0, isPrimary: true}));
              const svg = document.querySelector('[data-testid=sky-patch]');
              svg.setPointerCapture = () => {};
              send('pointerdown', frame);
              const taken = [];
              for (let i = 0; i < 25; i++) {
                const before = side.textContent;
                x += 4; y += 3;
                const start = performance.now();
                send('pointermove', svg);
                while (side.textContent === before && performance.now() - start < 1000) {
                  await new Promise((r) => requestAnimationFrame(r));
                }
                taken.push(performance.now() - start);
              }
              send('pointerup', svg);
              taken.sort((a, b) => a - b);
              return taken[12];
            }"""
        )
    )


def main() -> None:
    names = ("fastapi", "pydantic", "numpy", "sqlalchemy", "astropy", "ortools")
    print(f"{platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}; ", end="")
    print(", ".join(f"{name} {version(name)}" for name in names))
    for part in (core, evening, spacing, nights, sky, carrying, server, browser):
        part()
    frames(median_ms, row)
    large(median_ms, row)
    log(median_ms, row)
    design(row)
    width = max(len(entry[0]) for entry in ROWS)
    for what, result, limit, reference, held in ROWS:
        print(f"{'  ' if held else '! '}{what:<{width}}  {result:>11}  {limit:>11}  {reference}")
    print(f"{sum(entry[4] for entry in ROWS)} of {len(ROWS)} within their limits")


if __name__ == "__main__":
    main()
