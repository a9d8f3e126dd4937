"""The NGC/IC list with Messier numbers and common names, searchable by any alias.

Data: the open NGC/IC data set packaged as `pyongc` (CC BY-SA 4.0). Only its database file is read.
"""

import importlib.util
import re
import sqlite3
from bisect import bisect_right
from collections import defaultdict
from functools import lru_cache
from math import degrees
from pathlib import Path

import numpy as np

from dravel.core.model import Target, TargetKind
from dravel.core.sky.projection import project

KINDS: dict[str, TargetKind] = {
    "G": "galaxy",
    "GPair": "galaxy",
    "GTrpl": "galaxy",
    "GGroup": "galaxy",
    "OCl": "open_cluster",
    "*Ass": "open_cluster",
    "GCl": "globular",
    "PN": "planetary",
    "HII": "emission",
    "EmN": "emission",
    "RfN": "reflection",
    "DrkN": "dark",
    "SNR": "supernova_remnant",
    "Cl+N": "mixed",
    "Neb": "mixed",
}
_DESIGNATION = re.compile(r"^(NGC|IC)0*(\d+)(.*)$")


def data_file(package: str, name: str) -> Path:
    """A file inside an installed package, found without importing it. Raises `FileNotFoundError` if it is missing."""
    found = importlib.util.find_spec(package)
    for folder in (found.submodule_search_locations or []) if found else []:
        path = Path(folder) / name
        if path.exists():
            return path
    raise FileNotFoundError(f"{name} of the package {package} is not installed")


def normal(text: str) -> str:
    """A designation as a search key: upper case, no spaces or punctuation, no leading zeros in numbers."""
    letters = re.sub(r"[^A-Z0-9+]", "", text.upper())
    return re.sub(r"(?<![0-9])0+(?=[0-9])", "", letters)


class Catalogue:
    """All objects in memory: about 13 000 rows. Build once with `catalogue()`."""

    def __init__(self, path: Path) -> None:
        with sqlite3.connect(f"file:{path}?mode=ro", uri=True) as link:
            rows = link.execute(
                "SELECT name, type, ra, dec, majax, minax, pa, bmag, vmag, sbrightn, messier, ngc, ic, commonnames"
                " FROM objects WHERE type != 'NonEx' AND ra IS NOT NULL"
            ).fetchall()
            identifiers = link.execute("SELECT name, identifier FROM objIdentifiers").fetchall()
            duplicates = link.execute("SELECT name, messier, ngc, ic FROM objects WHERE type = 'Dup'").fetchall()
        names: dict[str, list[str]] = defaultdict(list)
        for name, identifier in identifiers:
            if identifier != name:
                names[name].append(_spoken(identifier))
        for name, messier, ngc, ic in duplicates:
            for prefix, number in (("M", messier), ("NGC", ngc), ("IC", ic)):
                if number:
                    names[f"{prefix}{number}"].append(_spoken(name))
        # Most prominent first, so that a search can stop at the first hits it meets.
        self._rows = sorted((row for row in rows if row[1] != "Dup"), key=_prominence, reverse=True)
        self._aliases = [self._alias_list(row, names) for row in self._rows]
        self._exact: dict[str, int] = {}
        lines: list[str] = []
        starts: list[int] = []
        owners: list[int] = []
        end = 0
        for i, aliases in enumerate(self._aliases):
            for alias in aliases:
                key = normal(alias)
                if key:
                    self._exact.setdefault(key, i)
                    starts.append(end)
                    owners.append(i)
                    lines.append(key)
                    end += len(key) + 1
        # All names in one text, so that a search is a few C-speed finds; `starts` tells whose name a hit lies in.
        self._text = "\n" + "\n".join(lines) + "\n"
        self._starts, self._owners = starts, owners
        self._all: tuple[Target, ...] | None = None
        self._position = np.degrees(np.array([(row[2], row[3]) for row in self._rows]))

    def __len__(self) -> int:
        return len(self._rows)

    def search(self, text: str, limit: int = 20) -> list[Target]:
        """Objects whose name, number or alias matches: exact first, then starting with it, then containing it.

        Spacing, case and leading zeros do not matter. Within a rank the prominent ones come first.
        """
        key = normal(text)
        if not key:
            return []
        found = dict.fromkeys([self._exact[key]] if key in self._exact else [])
        for lead in ("\n", ""):
            at = self._text.find(lead + key)
            while at >= 0 and len(found) < limit:
                line = bisect_right(self._starts, at) - 1
                found[self._owners[line]] = None
                at = self._text.find(lead + key, self._text.index("\n", at + 1))
        return [self._target(row) for row in list(found)[:limit]]

    def get(self, designation: str) -> Target:
        """The object of exactly that name or alias. Raises `KeyError`."""
        return self._target(self._exact[normal(designation)])

    def around(self, ra_deg: float, dec_deg: float, radius_deg: float, limit: int = 60) -> list[Target]:
        """Objects within a radius, most prominent first."""
        x, y = project(self._position[:, 0], self._position[:, 1], ra_deg, dec_deg)
        near = np.flatnonzero(np.hypot(x, y) <= radius_deg)
        return [self._target(int(row)) for row in near[:limit]]

    def everything(self) -> tuple[Target, ...]:
        """All objects, most prominent first; made once."""
        if self._all is None:
            self._all = tuple(self._target(row) for row in range(len(self._rows)))
        return self._all

    def _alias_list(self, row: tuple, names: dict[str, list[str]]) -> list[str]:  # type: ignore[type-arg]
        name, messier, ngc, ic, common = row[0], row[10], row[11], row[12], row[13]
        aliases = [_spoken(name)]
        aliases += [f"M{int(messier)}"] if messier and messier.isdigit() else []
        for prefix, number in (("NGC", ngc), ("IC", ic)):
            aliases += [_spoken(f"{prefix}{part}") for part in (number or "").split(",") if part]
        aliases += [part for part in (common or "").split(",") if part]
        aliases += names.get(name, [])
        if messier:
            aliases += names.get(f"M{messier}", [])
        return list(dict.fromkeys(aliases))

    def _target(self, row: int) -> Target:
        kind, ra, dec, major, minor, angle, blue, visual, surface, messier = self._rows[row][1:11]
        aliases = self._aliases[row]
        shown = f"M{int(messier)}" if messier and messier.isdigit() else aliases[0]
        return Target(
            id=re.sub(r"[^A-Za-z0-9]+", "-", aliases[0]).lower().strip("-"),
            name=shown,
            aliases=tuple(alias for alias in aliases if alias != shown)[:12],
            ra_deg=round(degrees(ra), 5),
            dec_deg=round(degrees(dec), 5),
            major_arcmin=major or None,
            minor_arcmin=min(minor, major) if minor and major else None,
            position_angle_deg=float(angle or 0) % 180,
            kind=KINDS.get(kind, "other"),
            magnitude=visual if visual is not None else blue,
            surface_brightness=surface,
        )


def _spoken(name: str) -> str:
    """``NGC0891`` as people write it: ``NGC 891``."""
    parts = _DESIGNATION.match(name)
    return f"{parts[1]} {parts[2]}{parts[3]}" if parts else name


def _prominence(row: tuple) -> float:  # type: ignore[type-arg]
    """Orders equal matches: Messier first, then named, then large and bright."""
    major, blue, visual, messier, common = row[4], row[7], row[8], row[10], row[13]
    magnitude = visual if visual is not None else blue if blue is not None else 16.0
    return (100 if messier else 0) + (30 if common else 0) + min(major or 0, 60) / 2 - magnitude


@lru_cache(maxsize=1)
def catalogue() -> Catalogue:
    """The packaged catalogue, loaded at first use."""
    return Catalogue(data_file("pyongc", "ongc.db"))
