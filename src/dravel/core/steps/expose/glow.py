"""How brightly a target shines, and in what: lines of gas, or an even spectrum; typical values where nothing is given."""

from dataclasses import dataclass

from dravel.core.model import Target
from dravel.core.sky.standing import LINE_KINDS
from dravel.core.train.throughput import H_ALPHA_NM, OIII_NM, SII_NM

OWN = "typical of its kind, Dravel's own"
# Hydrogen light worth wishing for, rayleighs, and the oxygen and sulphur lines as shares of it. Dravel's own orders of
# magnitude: the bright parts of showpieces are ten times that, the faint outskirts a tenth.
LINE_R = {"emission": 150.0, "mixed": 150.0, "supernova_remnant": 100.0, "planetary": 500.0}
OXYGEN = {"emission": 0.15, "mixed": 0.15, "supernova_remnant": 0.8, "planetary": 1.5}
SULPHUR = {"emission": 0.2, "mixed": 0.2, "supernova_remnant": 0.6, "planetary": 0.1}
# Surface brightness worth wishing for, mag/arcsec²: arms, dust, unresolved stars. Dravel's own orders of magnitude.
SURFACE = {
    "galaxy": 23.0, "reflection": 23.0, "dark": 23.5, "open_cluster": 22.0, "globular": 21.5, "mixed": 22.5, "other": 23.0,
}  # fmt: skip
# How much brighter the middle is than the whole, mag/arcsec². Dravel's own orders of magnitude.
CORE = {"galaxy": 5.0, "globular": 4.5}


@dataclass(frozen=True)
class Glow:
    """What a target's wished parts give off: rayleighs by line in nm, or mag/arcsec², outside the atmosphere."""

    lines: tuple[tuple[float, str, float], ...]  # wavelength, name, rayleighs
    surface: float | None
    core: float | None
    origin: str

    @property
    def of_lines(self) -> bool:
        """Whether the light of lines is what counts."""
        return bool(self.lines)

    @property
    def words(self) -> str:
        """As people say it."""
        if self.of_lines:
            return f"{self.lines[0][2]:.0f} R in hydrogen"
        return f"{self.surface:.1f} mag/arcsec²"


def glow_of(target: Target) -> Glow | None:
    """How a target shines; None of the moon and planets, which are shot as video.

    A nebula's catalogued surface brightness spreads its magnitude, stars and all, over its size and says nothing of its
    gas: its lines count instead.
    """
    if target.body is not None:
        return None
    if target.kind in LINE_KINDS:
        hydrogen, given = target.line_rayleighs, target.line_rayleighs is not None
        if hydrogen is None:
            hydrogen = LINE_R[target.kind]
        lines = (
            (H_ALPHA_NM, "hydrogen", hydrogen),
            (OIII_NM, "oxygen", hydrogen * OXYGEN[target.kind]),
            (SII_NM, "sulphur", hydrogen * SULPHUR[target.kind]),
        )
        told = f"{target.name}; other lines {OWN}" if given else OWN
        return Glow(lines, None, target.core_brightness, told)
    surface = target.surface_brightness if target.surface_brightness is not None else SURFACE[target.kind]
    core = target.core_brightness
    if core is None and target.kind in CORE:
        core = surface - CORE[target.kind]
    return Glow((), surface, core, OWN if target.surface_brightness is None else target.name)
