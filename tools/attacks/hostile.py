"""Files made to fill the memory or to stop a server, sent to a real one while others look at the Board."""

import io
import json
import random
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from zipfile import ZIP_DEFLATED, ZipFile

from PIL import Image

from dravel.core.model import part_adapter
from dravel.seed import seed_demo
from dravel.store import Store
from tools.attacks.server import Others, Server

PARTS = 5_000
VARIED = ("aperture_mm", "focal_length_mm", "mass_g", "length_mm", "capacity_wh", "payload_kg", "optical_length_mm")
TWELVE = 12


def stray_log() -> str:
    """A guide log with one row at ten million seconds."""
    rows = "".join(f"{k * 2},{k % 3 * 0.1},{k % 2 * 0.1},0,0\n" for k in range(30))
    return f"time_s,ra_error_arcsec,dec_error_arcsec,ra_pulse_ms,dec_pulse_ms\n{rows}10000000,0.1,0.1,0,0\n"


def archive(tables: dict[str, bytes], **files: bytes) -> bytes:
    """An archive of everything, made by hand."""
    out = io.BytesIO()
    with ZipFile(out, "w", ZIP_DEFLATED) as made:
        made.writestr(
            "dravel.json", json.dumps({"format": "dravel-everything", "version": 1, "written": "", "rows": {}})
        )
        for name, content in {**{f"tables/{name}.json": held for name, held in tables.items()}, **files}.items():
            made.writestr(name, content)
    return out.getvalue()


def archives() -> Iterator[tuple[str, bytes]]:
    """Archives of some kilobytes that unpack to gigabytes, or nest without end."""
    paper = {"id": "p", "of_kind": "part", "of_id": "drawer-21", "name": "a.pdf", "media": "application/pdf",
             "position": 1, "archived": False, "made_at": "2026-11-25T20:00:00Z"}  # fmt: skip
    large = b"%PDF-" + b" " * 20_000_000
    many = [{**paper, "id": f"p-{k}", "size": len(large), "file": "papers/one.pdf"} for k in range(300)]
    yield "300 papers of one file of 20 MB", archive({"papers": json.dumps(many).encode()}, **{"papers/one.pdf": large})
    yield "a table of 200 MB of blanks", archive({"rigs": b"[" + b" " * 200_000_000 + b"]"})
    yield "a row of 100 MB", archive({"rigs": b'[{"id": "' + b"x" * 100_000_000 + b'"}]'})
    yield "a million empty rows", archive({"rigs": b"[" + b"{}," * 1_000_000 + b"{}]"})
    yield "a hundred thousand lists in lists", archive({"rigs": b"[" * 100_000})


def picture(side: int) -> bytes:
    """A picture of some kilobytes that unpacks to so many pixels a side."""
    out = io.BytesIO()
    Image.new("L", (side, side)).save(out, "PNG")
    return out.getvalue()


def stocked(folder: Path) -> None:
    """The demo with a shelf of five thousand parts, no two alike."""
    store = Store(folder / "demo.sqlite")
    seed_demo(store)
    own, dice, new = [entry.body for entry in store.parts.all()], random.Random(1), []
    while len(new) < PARTS - len(own):
        body = dice.choice(own).model_dump(mode="json")
        body |= {"id": None, "name": f"{body['name']} v{len(new)}"}
        for key in VARIED:
            if isinstance(body.get(key), int | float):
                body[key] = round(body[key] * dice.uniform(0.8, 1.2), 2)
        if body.get("price"):
            body["price"]["amount"] = round(body["price"]["amount"] * dice.uniform(0.5, 1.5))
        try:
            new.append(part_adapter.validate_python(body))
        except ValueError:
            continue  # no such part can be
    store.parts.add(*new)
    store.close()


def attacks(server: Server) -> Iterator[tuple[str, tuple[int, Any]]]:
    """Each by name, with what was answered."""
    rig = server.ask("GET", "/rigs/heron")[1]["rig"]
    yield "guide log, one row at 10^7 s", server.ask("POST", "/frames/guide-log", {"rig": rig, "text": stray_log()})
    for name, content in archives():
        yield name, server.ask("POST", "/keep/import", raw=content)
    made = server.ask("POST", "/sessions", {"rig_id": "heron", "night": "2026-11-20"})[1]["id"]
    for k in range(TWELVE):
        yield (
            f"picture {k + 1} of 80 megapixels",
            server.ask("POST", f"/papers/of/session/{made}?name=p.png", raw=picture(8_900)),
        )
    chunked = b'{"about": "planets", "money": 1}'
    yield "POST /design/events, 200 kB", server.ask("POST", "/design/events", raw=chunked + b" " * 200_000)
    yield (
        "POST /sky/ranking, seven rigs beside",
        server.ask(
            "POST", "/sky/ranking", {"rig": rig, "beside": ["wren", "bittern", "magpie"] * 2 + ["wren"], "listed": True}
        ),
    )


def hostile(folder: Path) -> list[tuple[str, float, float, int]]:
    """Each attack by name: how long it took, the longest that others waited, s, and the most memory of the server, MB."""
    server = Server(folder)
    lines = []
    with Others(server) as others:
        begun = time.monotonic()
        for name, (status, _) in attacks(server):
            assert status < 500, f"{name}: {status}"
            lines.append((name, time.monotonic() - begun, others.worst_s, server.most_mb()))
            others.worst_s, begun = 0.0, time.monotonic()
    server.stop()
    return lines


def designer(folder: Path) -> list[tuple[str, float, float, int]]:
    """The designer over five thousand parts, likewise."""
    stocked(folder)
    server = Server(folder)
    lines = []
    for about in ("a_bit_of_all", "planets", "wide_nebulae"):
        with Others(server) as others:
            begun = time.monotonic()
            status, _ = server.ask("POST", "/design", {"about": about})
            assert status == 200, f"{about}: {status}"
            lines.append(
                (f"designing, {PARTS:,} parts, {about}", time.monotonic() - begun, others.worst_s, server.most_mb())
            )
    server.stop()
    return lines
