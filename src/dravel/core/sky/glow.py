"""How brightly a target shines, and in what: lines of gas, or an even spectrum.

In this order: what was given for the target; what stands in the tables by hand; what follows from its magnitude and size
where a relation holds; else what is typical of its kind. Each with how far off it may be: a factor in brightness.
"""

import re
from dataclasses import dataclass, replace
from math import log10
from typing import TypeVar

from dravel.core.model import Target
from dravel.core.model.words import Text, Value, Words, text
from dravel.core.physics.photometry import H_ALPHA_NM, OIII_NM, SII_NM, mean_surface
from dravel.core.sky.bright_parts import GLOBULAR_CORES, HARRIS, NUCLEI, WISHED
from dravel.core.sky.line_light import LINE_LIGHT, UNVERIFIED, LineLight

T = TypeVar("T")
TYPICAL = "typical for its type"
LINE_KINDS = frozenset({"emission", "supernova_remnant", "planetary", "mixed"})
# Oxygen and sulphur lines as shares of the hydrogen line where nobody gives them. Dravel's own orders of magnitude.
OXYGEN = {"emission": 0.15, "mixed": 0.15, "supernova_remnant": 0.8, "planetary": 2.0}
SULPHUR = {"emission": 0.25, "mixed": 0.25, "supernova_remnant": 0.5, "planetary": 0.1}
# Hα of what nobody has written down, R, and the factor by which it may be off: by the list it stands in, since those who
# looked through an eyepiece found the bright ones and those with plates the faint. Dravel's own orders of magnitude.
LISTS: dict[str, tuple[float, float]] = {
    "Sh2": (60.0, 3.0), "RCW": (80.0, 3.0), "Ced": (60.0, 3.0), "LBN": (30.0, 4.0), "SNR": (20.0, 4.0), "vdB": (40.0, 3.0),
}  # fmt: skip
KINDS_R: dict[str, tuple[float, float]] = {
    "emission": (150.0, 3.0), "mixed": (120.0, 3.0), "supernova_remnant": (60.0, 4.0), "planetary": (800.0, 4.0),
}  # fmt: skip
# A planetary nebula's magnitude is mostly its OIII: rayleighs of Hα at 20 mag/arcsec². The median of those in the table
# whose flux was measured; nine of ten lie within the factor.
PLANETARY_R, PLANETARY_FACTOR = 1700.0, 3.0
# Surface brightness worth wishing for where no magnitude says more, mag/arcsec²: arms, dust, unresolved stars; the factor
# in light. Dravel's own orders of magnitude.
SURFACE = {
    "galaxy": 24.2, "reflection": 23.5, "dark": 24.5, "open_cluster": 22.0, "globular": 22.5, "mixed": 22.5, "other": 23.0,
}  # fmt: skip
SURFACE_FACTOR, HAND_FACTOR, MEAN_FACTOR = 2.5, 1.5, 1.5
SPREAD = frozenset({"galaxy", "globular"})  # their magnitude is the light of the whole: it may be spread over the size
# What pictures of galaxies are made for is their outer arms, which differ less from one to another than the whole does: half
# of what a mean lies from a usual 22.5, about 24.2. Dravel's own, after discs that fall off exponentially to 25 in B.
USUAL_MEAN, USUAL_ARMS, FAINTEST = 22.5, 24.2, 25.0
GLOBULAR_OUTER = 1.5  # of a globular its outer stars, so much fainter than the whole
# How much brighter the middle is than the whole, mag/arcsec². Dravel's own orders of magnitude.
CORE = {"galaxy": 5.5, "globular": 4.5}
_NO_MARKS = str.maketrans("", "", " -/+.")
_LIST = re.compile(r"^(Sh2|RCW|Ced|LBN|SNR|vdB)(?![a-z])")
Lines = tuple[tuple[float, str, float], ...]  # wavelength in nm, name, rayleighs


@dataclass(frozen=True)
class Glow:
    """What a target's wished parts give off: rayleighs by line in nm, or mag/arcsec², outside the atmosphere; its core in
    both. `factor` is how many times brighter or fainter it may be; `typical` says that only its kind is known.
    """

    lines: Lines
    surface: float | None
    core: float | None
    origin: Words
    core_lines: Lines = ()
    factor: float = 1.0
    typical: bool = False

    @property
    def of_lines(self) -> bool:
        """Whether the light of lines is what counts."""
        return bool(self.lines)

    @property
    def has_core(self) -> bool:
        """Whether a part of it is much brighter than the rest."""
        return self.core is not None or bool(self.core_lines)

    @property
    def words(self) -> Text:
        """As people say it."""
        if self.of_lines:
            return text("{lines} in Hα", lines=Value(round_r(self.lines[0][2]), "R", 0))
        return text("{surface} mag/arcsec²", surface=Value(self.surface, digits=1))

    def times(self, factor: float) -> "Glow":
        """The same so many times as bright; its core stays."""
        surface = None if self.surface is None else self.surface - 2.5 * log10(factor)
        lines = tuple((nm, name, rayleighs * factor) for nm, name, rayleighs in self.lines)
        return replace(self, lines=lines, surface=surface)


def round_r(rayleighs: float) -> float:
    """Two digits: more is not known."""
    return float(f"{rayleighs:.2g}")


def _plain(name: str) -> str:
    """As `plain_name` of a designation; many times as fast, since the whole catalogue is asked."""
    return name.casefold().translate(_NO_MARKS)


def _by_name(table: dict[str, T]) -> dict[str, T]:
    return {_plain(name): value for name, value in table.items()}


_LINES = _by_name(LINE_LIGHT)
_WISHED, _NUCLEI, _GLOBULARS = _by_name(WISHED), _by_name(NUCLEI), _by_name(GLOBULAR_CORES)
_BY_HAND = dict.fromkeys((*_LINES, *_WISHED, *_NUCLEI, *_GLOBULARS), True)


def _of(target: Target, table: dict[str, T]) -> T | None:
    """What a table says of a target, by any of its names, the one it is shown by first."""
    for name in (target.name, target.id or "", *target.aliases):
        if (result := table.get(_plain(name))) is not None:
            return result
    return None


def written_down(target: Target) -> bool:
    """Whether the tables by hand name a target: those that are photographed most."""
    return _of(target, _BY_HAND) is not None


def shines_in_lines(target: Target) -> bool:
    """Whether a target is taken for its lines of gas; a dark cloud before glowing gas is."""
    return target.body is None and (
        target.kind in LINE_KINDS or (target.kind == "dark" and _of(target, _LINES) is not None)
    )


def glow_of(target: Target) -> Glow | None:
    """How a target shines; None of the moon and planets, which are shot as video.

    A nebula's catalogued surface brightness spreads its magnitude, stars and all, over its size and says nothing of its
    gas: its lines count instead.
    """
    if target.body is not None:
        return None
    return _lined(target) if shines_in_lines(target) else _even(target)


def _lined(target: Target) -> Glow:
    known = _of(target, _LINES)
    answer, typical = known or _guessed(target), known is None
    oxygen = OXYGEN.get(target.kind, 0.15) if answer.oiii is None else answer.oiii
    sulphur = SULPHUR.get(target.kind, 0.25) if answer.sii is None else answer.sii
    typical = typical and answer.source == TYPICAL

    def lines(hydrogen: float) -> Lines:
        return (H_ALPHA_NM, "Hα", hydrogen), (OIII_NM, "OIII", hydrogen * oxygen), (SII_NM, "SII", hydrogen * sulphur)

    hydrogen, factor = answer.typical, answer.factor
    source: Words = answer.source
    if target.line_rayleighs is not None:
        hydrogen, factor, typical = target.line_rayleighs, 1.0, False
        source = text(
            "given for {target}; other lines {TYPICAL}", target=target.name, TYPICAL="table" if known else TYPICAL
        )
    core = answer.core_mag if target.core_brightness is None else target.core_brightness
    return Glow(lines(hydrogen), None, core, source, lines(answer.core) if answer.core else (), factor, typical)


def _guessed(target: Target) -> LineLight:
    """What nobody has written down: by a relation where one holds, else by its list or kind."""
    if target.kind == "planetary" and target.magnitude is not None and target.major_arcmin is not None:
        spread = mean_surface(target.magnitude, target.major_arcmin, target.minor_arcmin or target.major_arcmin)
        rayleighs = PLANETARY_R * 10 ** (-0.4 * (spread - 20.0))
        return LineLight(rayleighs, rayleighs * 3, source="from magnitude and size", factor=PLANETARY_FACTOR)
    listed = _LIST.match(target.name)
    rayleighs, factor = LISTS[listed[1]] if listed else KINDS_R[target.kind]
    return LineLight(rayleighs, source=TYPICAL, factor=factor)


def _even(target: Target) -> Glow:
    core = target.core_brightness
    origin: Words
    if target.surface_brightness is not None:
        surface, origin, factor = target.surface_brightness, target.name, 1.0
    elif (known := _of(target, _WISHED)) is not None and target.kind not in SPREAD:
        surface, origin, factor = known, UNVERIFIED, HAND_FACTOR
    elif target.kind in SPREAD and target.magnitude is not None and target.major_arcmin is not None:
        spread = mean_surface(target.magnitude, target.major_arcmin, target.minor_arcmin or target.major_arcmin)
        outer = USUAL_ARMS + (spread - USUAL_MEAN) / 2 if target.kind == "galaxy" else spread + GLOBULAR_OUTER
        what = "outer arms" if target.kind == "galaxy" else "outer stars"
        surface, origin, factor = (
            min(outer, FAINTEST),
            text("{what}, from magnitude and size", what=what),
            MEAN_FACTOR,
        )
        core = spread - CORE[target.kind] if core is None else core
    else:
        surface, origin, factor = SURFACE[target.kind], TYPICAL, SURFACE_FACTOR
    if target.kind in SPREAD and target.core_brightness is None:
        by_hand = _of(target, _NUCLEI if target.kind == "galaxy" else _GLOBULARS)
        if by_hand is not None:
            core, origin = (
                by_hand,
                text(
                    "{origin}; core {HARRIS}", origin=origin, HARRIS=HARRIS if target.kind == "globular" else UNVERIFIED
                ),
            )
    return Glow((), surface, core, origin, factor=factor, typical=origin == TYPICAL)
