"""Make the packaged lists of nebulae and of the Milky Way's outline from the data files of a star-map library.

Run once at development time, with the folder of its data (`dsos.20.json`, `dsonames.json`, `mw.json`; the npm package
`d3-celestial` 0.7.35, BSD 3-Clause): ``python -m tools.nebulae FOLDER``. Only its data are taken.
"""

import csv
import json
import re
import sqlite3
import sys
from pathlib import Path

import numpy as np

from dravel.catalogue.objects import BY_HAND, data_file, normal
from dravel.catalogue.objects import KINDS as MAIN_KINDS

OUT = Path(__file__).parent.parent / "src/dravel/catalogue/data"
KINDS = {"bn": "emission", "en": "emission", "sfr": "mixed", "rn": "reflection", "dn": "dark", "oc": "open_cluster",
         "snr": "supernova_remnant", "pn": "planetary", "gg": "galaxy"}  # fmt: skip
LISTS = ("Sh", "LBN", "LDN", "B", "VdB", "VdBH", "Ced", "RCW", "Cr", "ACO", "SNR", "C", "M")
SECOND = ("NGC", "IC")  # known from the main list: their sizes here are a second opinion
NEBULAR = frozenset({"bn", "en", "sfr", "rn", "dn", "oc", "snr"})
KIND_OF_LIST = {"LDN": "dark", "B": "dark", "VdB": "reflection", "VdBH": "reflection", "Cr": "open_cluster",
                "SNR": "supernova_remnant", "ACO": "galaxy"}  # fmt: skip
# Two remnants whose row is shifted by a column there; places from memory.
# What counts as one object in two lists: kinds of one family, sizes within this factor, middles within this share.
FAMILIES = (("emission", "mixed", "reflection", "supernova_remnant"), ("open_cluster",))
ALIKE, NEAR = 1.7, 0.15
PLACES = {"SNR G 263.9-03.0": (128.5, -45.83), "SNR G 266.2-01.2": (133.0, -46.33)}
MISSING = [["Sh2-308", "emission", "103.550", "-23.930", "40", "35", "", "Dolphin Nebula"]]  # from memory
TOLERANCE_DEG = 0.35


def nebulae(folder: Path) -> list[list[str]]:
    """Rows of the list: name, kind, place, size in arcminutes, magnitude, common name."""
    names = json.loads((folder / "dsonames.json").read_text(encoding="utf-8"))
    rows = []
    for entry in json.loads((folder / "dsos.20.json").read_text(encoding="utf-8"))["features"]:
        result, answer = str(entry["id"]), entry["properties"]
        lead = re.match(r"[A-Za-z]*", result)[0]  # type: ignore[index]
        size = [float(part) for part in re.findall(r"\d+(?:\.\d+)?", str(answer["dim"]))][:2]
        second = lead in SECOND and answer["type"] in NEBULAR and size
        if lead not in LISTS and not second:
            continue
        kind = KIND_OF_LIST.get(lead) or KINDS.get(answer["type"], "emission")
        ra, dec = PLACES.get(result) or entry["geometry"]["coordinates"]
        size = sorted(size, reverse=True)
        magnitude = str(answer["mag"]) if lead in ("Cr", "M", "C") and 0 < float(answer["mag"]) < 30 else ""
        common = names.get(result, {}).get("name", "")
        rows.append([_spoken(result), kind, f"{ra % 360:.3f}", f"{dec:.3f}", *_sizes(size), magnitude, common])
    rows = sorted([*rows, *MISSING])
    return [[*row, same] for row, same in zip(rows, _same(rows), strict=True)]


def _same(rows: list[list[str]]) -> list[str]:
    """For each row the object of the main list that stands at its place, is as large and of a kindred kind; or nothing."""
    with sqlite3.connect(f"file:{data_file('pyongc', 'ongc.db')}?mode=ro", uri=True) as link:
        listed = link.execute(
            "SELECT name, type, ra, dec, majax FROM objects WHERE type != 'NonEx' AND ra > 0"
        ).fetchall()
    family = {kind: number for number, kinds in enumerate(FAMILIES) for kind in kinds}
    main = [row for row in listed if MAIN_KINDS.get(row[1]) in family]
    place = np.degrees(np.array([(row[2], row[3]) for row in main]))
    size = np.array([(BY_HAND.get(normal(row[0])) or (row[4] or 0.0,))[0] for row in main])
    kindred = np.array([family[MAIN_KINDS[row[1]]] for row in main])
    mixed = np.array([MAIN_KINDS[row[1]] == "mixed" for row in main])
    lines = []
    for name, kind, ra, dec, major, *_ in rows:
        if not major or kind not in family or name.startswith(SECOND):
            lines.append("")
            continue
        large = np.maximum(size, float(major))
        east = (place[:, 0] - float(ra) + 180) % 360 - 180
        apart = np.hypot(east * np.cos(np.radians(float(dec))), place[:, 1] - float(dec)) * 60
        alike = (size > 0) & (large / np.maximum(np.minimum(size, float(major)), 1e-9) <= ALIKE)
        alike &= (apart <= NEAR * large) & ((kindred == family[kind]) | mixed)
        lines.append(main[int(np.argmin(np.where(alike, apart, np.inf)))][0] if alike.any() else "")
    return lines


def _sizes(size: list[float]) -> list[str]:
    item = [f"{value:.3g}" if value < 1 else f"{value:.4g}" for value in size]
    return [*item, *[""] * (2 - len(item))]


def _spoken(name: str) -> str:
    """``Sh2 101`` as ``Sh2-101``, ``SNR G 074.0-08.5`` as ``SNR G74.0-8.5``, ``VdB 1`` as ``vdB 1``, ``ACO`` as ``Abell``."""
    name = re.sub(r"^Sh2 ", "Sh2-", name).replace("VdB", "vdB").replace("ACO", "Abell")
    return re.sub(r"^SNR G 0*(\d+\.\d)([+-])0*(\d+\.\d)", r"SNR G\1\2\3", name)


def milky_way(folder: Path) -> list[list[list[float]]]:
    """Outlines of five levels, the widest first, each thinned: [[ra, dec, ra, dec, …], …] in degrees."""
    levels = []
    for feature in json.loads((folder / "mw.json").read_text(encoding="utf-8"))["features"]:
        lines = []
        for polygon in feature["geometry"]["coordinates"]:
            for ring in polygon:
                kept = _thinned(np.array(ring, dtype=float))
                if len(kept) > 3:
                    lines.append([round(float(v), 2) for point in kept for v in (point[0] % 360, point[1])])
        levels.append(lines)
    return levels


def _thinned(points: np.ndarray) -> np.ndarray:
    """Points far enough from the last one kept."""
    kept = [points[0]]
    for point in points[1:]:
        east = (point[0] - kept[-1][0]) * np.cos(np.radians(point[1]))
        if np.hypot(east, point[1] - kept[-1][1]) >= TOLERANCE_DEG:
            kept.append(point)
    return np.array([*kept, points[-1]])


def main(folder: Path) -> None:
    """Write both files."""
    OUT.mkdir(exist_ok=True)
    with (OUT / "nebulae.csv").open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(["name", "kind", "ra_deg", "dec_deg", "major_arcmin", "minor_arcmin", "magnitude", "common",
                         "same_as"])  # fmt: skip
        writer.writerows(nebulae(folder))
    (OUT / "milky_way.json").write_text(json.dumps(milky_way(folder), separators=(",", ":")) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
