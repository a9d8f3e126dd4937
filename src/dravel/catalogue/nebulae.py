"""Nebulae, clusters and remnants of the classic lists: Sharpless, Lynds, Barnard, van den Bergh, Cederblad, RCW and more.

Data: made at development time by `tools/nebulae.py` from a star-map library's data files (see NOTICE). They also give a
second opinion on the sizes of many NGC and IC objects.
"""

import csv
import json
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import cast, get_args

from dravel.core.model import TargetKind

DATA = Path(__file__).parent / "data"


@dataclass(frozen=True)
class Nebula:
    """One row: degrees, arcminutes (None where the list gives none); `same_as` names the main list's object it is."""

    name: str
    kind: TargetKind
    ra_deg: float
    dec_deg: float
    major_arcmin: float | None
    minor_arcmin: float | None
    magnitude: float | None
    common: str
    same_as: str

    @property
    def lead(self) -> str:
        """The list it stands in: ``Sh2``, ``LBN``, ``B``, …"""
        return self.name.replace("-", " ").split(" ", 1)[0]

    @property
    def source(self) -> str:
        """Whose size it is."""
        return LIST_NAMES.get(self.lead, "star-map data")


LIST_NAMES = {
    "Sh2": "Sharpless 1959",
    "LBN": "Lynds 1965",
    "LDN": "Lynds 1962",
    "B": "Barnard 1927",
    "vdB": "van den Bergh 1966",
    "vdBH": "van den Bergh & Herbst 1975",
    "Ced": "Cederblad 1946",
    "RCW": "Rodgers, Campbell & Whiteoak 1960",
    "Cr": "Collinder 1931",
    "Abell": "Abell, Corwin & Olowin 1989",
    "SNR": "Green's remnants",
}


@lru_cache(maxsize=1)
def nebulae() -> tuple[Nebula, ...]:
    """All rows of the packaged list."""
    with (DATA / "nebulae.csv").open(encoding="utf-8", newline="") as file:
        return tuple(_nebula(row) for row in csv.DictReader(file))


def _nebula(row: dict[str, str]) -> Nebula:
    number = {key: float(row[key]) if row[key] else None for key in ("major_arcmin", "minor_arcmin", "magnitude")}
    kind = cast(TargetKind, row["kind"] if row["kind"] in get_args(TargetKind) else "other")
    return Nebula(row["name"], kind, float(row["ra_deg"]), float(row["dec_deg"]), **number,
                  common=row["common"], same_as=row["same_as"])  # fmt: skip


@lru_cache(maxsize=1)
def milky_way() -> tuple[tuple[tuple[tuple[float, float], ...], ...], ...]:
    """Outlines of the Milky Way, five levels from the widest to the brightest: closed lines of (RA, declination)."""
    levels = json.loads((DATA / "milky_way.json").read_text(encoding="utf-8"))
    return tuple(tuple(tuple(zip(line[::2], line[1::2], strict=True)) for line in lines) for lines in levels)
