"""The NGC/IC list with Messier numbers and common names, and the classic lists of nebulae, searchable by any alias.

Data: the open NGC/IC data set packaged as `pyongc` (CC BY-SA 4.0), of which only the database file is read; nebulae
and second opinions on sizes as `nebulae`.
"""

import importlib.util
import re
import sqlite3
from bisect import bisect_right
from collections import defaultdict
from functools import lru_cache
from math import degrees, radians
from pathlib import Path
from typing import get_args

import numpy as np

from dravel.catalogue.hand_sizes import SECOND_NAMES, SHOWN, SIZES
from dravel.catalogue.nebulae import LIST_NAMES, Nebula, nebulae
from dravel.catalogue.sizes import FARTHEST, MOST_LARGER, NEBULAR, OWN, Decided, decided
from dravel.core.model import Target, TargetKind
from dravel.core.model.sky import TargetSize
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
DIRECT: dict[str, TargetKind] = {kind: kind for kind in get_args(TargetKind)}  # of rows that come with their kind
COUNTERPARTS = frozenset({"Sh2", "RCW", "SNR", "Ced"})  # lists of whole nebulae
# How far down a list's objects stand among equal matches and on crowded patches: few look for a Lynds number first.
LOWER = {"LBN": 40, "LDN": 40, "Abell": 25, "Ced": 15, "RCW": 10, "vdBH": 20, "SNR": 10, "Cr": 8, "vdB": 4, "B": 4}
# B − V of galaxies by form. Source: Roberts & Haynes 1994, ARA&A 32, 115 (from memory).
COLOURS = ((("E", "S0"), 0.9), (("Sa", "SABa", "SBa"), 0.8), (("Sd", "Sm", "I", "SBm", "SABm", "SBd"), 0.5))
PLAIN_COLOUR, BLUEST, REDDEST = 0.7, 0.15, 1.5
_MARKS, _ZEROS = re.compile(r"[^A-Z0-9+]"), re.compile(r"(?<![0-9])0+(?=[0-9])")
_DESIGNATION = re.compile(r"^(NGC|IC|B|Cr)0*(\d+)(.*)$")


def normal(text: str) -> str:
    """A designation as a search key: upper case, no spaces or punctuation, no leading zeros in numbers."""
    letters = _MARKS.sub("", text.upper())
    return _ZEROS.sub("", letters) if "0" in letters else letters


BY_HAND = {normal(name): size for name, size in SIZES.items()}


def data_file(package: str, name: str) -> Path:
    """A file inside an installed package, found without importing it. Raises `FileNotFoundError` if it is missing."""
    result = importlib.util.find_spec(package)
    for folder in (result.submodule_search_locations or []) if result else []:
        path = Path(folder) / name
        if path.exists():
            return path
    raise FileNotFoundError(f"{name} of the package {package} is not installed")


class Catalogue:
    """All objects in memory: about 19 000 rows. Build once with `catalogue()`."""

    def __init__(self, path: Path) -> None:
        with sqlite3.connect(f"file:{path}?mode=ro", uri=True) as link:
            rows = link.execute(
                "SELECT name, type, ra, dec, majax, minax, pa, bmag, vmag, sbrightn, messier, ngc, ic, commonnames, hubble"
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
        for nebula in nebulae():
            if nebula.same_as:
                names[nebula.same_as] += [nebula.name, *([nebula.common] if nebula.common else [])]
        listed = [(row, self._alias_list(row, names)) for row in rows if row[1] != "Dup"]
        keys = {alias: normal(alias) for _, aliases in listed for alias in aliases}
        own = set(keys.values())
        for row in (_as_row(nebula) for nebula in nebulae() if normal(nebula.name) not in own):
            listed.append((row, self._alias_list(row, names)))
            keys |= {alias: normal(alias) for alias in listed[-1][1]}
        # Most prominent first, so that a search can stop at the first hits it meets.
        listed.sort(key=lambda entry: _prominence(entry[0]), reverse=True)
        self._rows, self._aliases = [row for row, _ in listed], [aliases for _, aliases in listed]
        self._exact: dict[str, int] = {}
        lines: list[str] = []
        starts: list[int] = []
        owners: list[int] = []
        end = 0
        for i, aliases in enumerate(self._aliases):
            for alias in aliases:
                key = keys[alias]
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
        self._keys = keys
        self._position = np.degrees(np.array([(row[2], row[3]) for row in self._rows]))
        self._second = self._second_sizes()

    def __len__(self) -> int:
        return len(self._rows)

    def search(self, text: str, limit: int = 20) -> list[Target]:
        """Objects whose name, number or alias matches: exact first, then starting with it, then containing it.

        Spacing, case and leading zeros do not matter. Within a rank the prominent ones come first.
        """
        key = normal(text)
        if not key:
            return []
        fromkeys = dict.fromkeys([self._exact[key]] if key in self._exact else [])
        for lead in ("\n", ""):
            at = self._text.find(lead + key)
            while at >= 0 and len(fromkeys) < limit:
                line = bisect_right(self._starts, at) - 1
                fromkeys[self._owners[line]] = None
                at = self._text.find(lead + key, self._text.index("\n", at + 1))
        return [self._target(row) for row in list(fromkeys)[:limit]]

    def members(self, text: str) -> list[Target]:
        """The objects of several names: ``M81/M82``, ``NGC 6960/6992`` (a bare number takes the list of the one before).

        Nothing where one of them is not known by exactly that name.
        """
        targets: list[Target] = []
        lead = ""
        for name in re.split(r"\s*[/+&]\s*|\s+(?:and|with)\s+", text.strip(), flags=re.IGNORECASE):
            whole = f"{lead} {name}" if name.isdigit() else name
            row = self._exact.get(normal(whole))
            if row is None:
                return []
            match = re.match(r"[^\W\d]+", whole)
            lead = match[0] if match else ""
            targets.append(self._target(row))
        return targets

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

    def _second_sizes(self) -> dict[int, list[TargetSize]]:
        """What other lists give for a row: under the same name, or as a nebula in whose middle it lies."""
        result: dict[int, list[TargetSize]] = defaultdict(list)
        large = []
        for nebula in nebulae():
            row, size = self._exact.get(normal(nebula.name)), _size_of(nebula)
            if row is None or size is None:
                continue
            if not _is_of(self._rows[row], nebula):
                result[row].append(size)
            elif nebula.lead in COUNTERPARTS:
                large.append((row, nebula, size))
        places = np.array([(nebula.ra_deg, nebula.dec_deg) for _, nebula, _ in large])
        reach = np.array([size.major_arcmin for _, _, size in large]) / 60
        for i, row in enumerate(self._rows):
            kind = _kind(row[1])
            if kind not in NEBULAR or row[1] in DIRECT or kind == "dark" or not len(large):
                continue
            east = (places[:, 0] - self._position[i, 0] + 180) % 360 - 180
            apart = np.hypot(east * np.cos(np.radians(self._position[i, 1])), places[:, 1] - self._position[i, 1])
            near = np.flatnonzero(apart <= FARTHEST * reach)
            least = row[4] or 0.0
            more = [large[k][2] for k in near if least < large[k][2].major_arcmin <= MOST_LARGER * max(least, 5.0)]
            if more:
                result[i] += more
        return dict(result)

    def _alias_list(self, row: tuple, names: dict[str, list[str]]) -> list[str]:  # type: ignore[type-arg]
        name, messier, ngc, ic, common = row[0], row[10], row[11], row[12], row[13]
        aliases = [_spoken(name)]
        aliases += [f"M{int(messier)}"] if messier and messier.isdigit() else []
        for prefix, number in (("NGC", ngc), ("IC", ic)):
            aliases += [_spoken(f"{prefix}{part}") for part in (number or "").split(",") if part]
        aliases += [part for part in (common or "").split(",") if part]
        aliases += SECOND_NAMES.get(name, ())
        aliases += [f"Sharpless {name[4:]}"] if name.startswith("Sh2-") else []
        aliases += [f"Barnard {aliases[0][2:]}"] if aliases[0].startswith("B ") else []
        aliases += [f"Collinder {name[3:]}"] if name.startswith("Cr ") else []
        aliases += names.get(name, [])
        if messier:
            aliases += names.get(f"M{messier}", [])
        return list(dict.fromkeys(aliases))

    def _target(self, row: int) -> Target:
        name, _, ra, dec, _, _, angle, blue, visual, _, messier, _, _, _, form = self._rows[row][:15]
        aliases = self._aliases[row]
        size = self._decided(row)
        magnitude = visual if visual is not None else blue
        if size.kind == "galaxy":
            magnitude = visual_of(blue, visual, form)
        shown = f"M{int(messier)}" if messier and messier.isdigit() else SHOWN.get(name, aliases[0])
        return Target(
            id=re.sub(r"[^A-Za-z0-9]+", "-", aliases[0].replace("+", "p")).lower().strip("-"),
            name=shown,
            aliases=tuple(alias for alias in aliases if alias != shown)[:12],
            ra_deg=round(degrees(ra), 5),
            dec_deg=round(degrees(dec), 5),
            major_arcmin=size.major,
            minor_arcmin=min(size.minor, size.major) if size.minor and size.major else None,
            position_angle_deg=float(angle or 0) % 180,
            size_source=size.source,
            size_doubtful=size.doubtful,
            other_sizes=size.others,
            kind=size.kind,
            magnitude=magnitude,
        )

    def _decided(self, row: int) -> Decided:
        name, kind, major, minor = self._rows[row][0], self._rows[row][1], self._rows[row][4], self._rows[row][5]
        by_hand = next((key for key in map(self._keys.__getitem__, self._aliases[row]) if key in BY_HAND), None)
        given = {"minor_arcmin": min(minor, major) if minor and major else None}
        source = LIST_NAMES.get(name.replace("-", " ").split(" ", 1)[0], OWN) if kind in DIRECT else OWN
        if by_hand is None and row not in self._second:
            return Decided(major or None, minor or None, source if major else "", False, (), _kind(kind))
        own = TargetSize(major_arcmin=major, source=source, **given) if major else None
        return decided(BY_HAND.get(by_hand or ""), _kind(kind), own, self._second.get(row, ()))


def _kind(code: str) -> TargetKind:
    return DIRECT.get(code) or KINDS.get(code, "other")


def visual_of(blue: float | None, visual: float | None, form: str | None) -> float | None:
    """A galaxy's magnitude in V: as listed, unless it is none or no galaxy has such a colour against B; then from B by form."""
    colour = next((value for letters, value in COLOURS if (form or "").startswith(letters)), PLAIN_COLOUR)
    if blue is None or (visual is not None and BLUEST <= blue - visual <= REDDEST):
        return visual
    return round(blue - colour, 2)


def _size_of(nebula: Nebula) -> TargetSize | None:
    if nebula.major_arcmin is None:
        return None
    return TargetSize(major_arcmin=nebula.major_arcmin, minor_arcmin=nebula.minor_arcmin, source=nebula.source)


def _as_row(nebula: Nebula) -> tuple:  # type: ignore[type-arg]
    """A nebula in the layout of the list's rows; its kind stands in place of the list's code."""
    place = (radians(nebula.ra_deg), radians(nebula.dec_deg))
    size = (nebula.major_arcmin, nebula.minor_arcmin)
    return (
        nebula.name,
        nebula.kind,
        *place,
        *size,
        None,
        None,
        nebula.magnitude,
        None,
        None,
        None,
        None,
        nebula.common,
        None,
    )


def _is_of(row: tuple, nebula: Nebula) -> bool:  # type: ignore[type-arg]
    """Whether a row is that nebula itself, not another list's object of the same name."""
    return row[1] in DIRECT and row[0] == nebula.name


def _spoken(name: str) -> str:
    """``NGC0891`` as people write it: ``NGC 891``."""
    parts = _DESIGNATION.match(name.replace("Cl", "Cr") if name.startswith("Cl") else name)
    return f"{parts[1]} {parts[2]}{parts[3]}" if parts else name


def _prominence(row: tuple) -> float:  # type: ignore[type-arg]
    """Orders equal matches: Messier first, then named, then large and bright."""
    major, blue, visual, messier, common = row[4], row[7], row[8], row[10], row[13]
    magnitude = visual if visual is not None else blue if blue is not None else 16.0
    lower = LOWER.get(row[0].split(" ", 1)[0], 0) if row[1] in DIRECT else 0
    return (100 if messier else 0) + (30 if common else 0) + min(major or 0, 60) / 2 - magnitude - lower


@lru_cache(maxsize=1)
def catalogue() -> Catalogue:
    """The packaged catalogue, loaded at first use."""
    return Catalogue(data_file("pyongc", "ongc.db"))
