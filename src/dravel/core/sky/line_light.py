"""How brightly the nebulae that are photographed most shine in Hα, OIII and SII, written by hand.

Rayleighs outside the atmosphere: of the parts a picture is made for (`typical`), and of the brightest square arcminute or
less (`core`). Unverified, from memory, unless a source stands beside a row: orders of magnitude as wide-field Hα surveys
and calibrated frames show them, good to a factor of about 1.5. OIII and SII are shares of the Hα light, in photons.
"""

from dataclasses import dataclass
from math import pi

UNVERIFIED = "table, unverified"
FLUXES = "Hβ flux after Cahn, Kaler & Stanghellini 1992, ApJS 94, 399 (unverified), over its size"
# Rayleighs of a glow of 1 erg s⁻¹ cm⁻² arcsec⁻² at 656.3 nm. Source: definition of the rayleigh; 3.03·10⁻¹² erg a photon.
RAYLEIGHS_OF_FLUX = 1 / 5.67e-18
H_ALPHA_OF_H_BETA = 2.87  # in energy, without dust. Source: Osterbrock & Ferland, case B at 10⁴ K


@dataclass(frozen=True)
class LineLight:
    """Hα of a nebula, typical and at its core, R; OIII and SII as shares of it; its core's even light, mag/arcsec²."""

    typical: float
    core: float | None = None
    oiii: float | None = None
    sii: float | None = None
    source: str = UNVERIFIED
    factor: float = 1.5
    core_mag: float | None = None


def of_flux(
    lg_h_beta: float, major: float, minor: float, oiii: float, core: float = 3.0, red: float = 1.0
) -> LineLight:
    """A planetary nebula from lg F(Hβ), erg s⁻¹ cm⁻², spread over its ellipse of arcminutes; its bright ring is `core`
    times that; dust makes Hα `red` times as strong against Hβ.
    """
    spread = 10**lg_h_beta / (pi / 4 * major * minor * 3600)
    typical = spread * H_ALPHA_OF_H_BETA * red * RAYLEIGHS_OF_FLUX
    return LineLight(typical, typical * core, oiii, 0.1, FLUXES)


# fmt: off
LINE_LIGHT: dict[str, LineLight] = {
    "M1": LineLight(700, 3_000, 2.0, 0.8),
    "M8": LineLight(1_500, 40_000, 0.3, 0.2),
    "M16": LineLight(1_000, 5_000, 0.3, 0.2),
    "M17": LineLight(2_000, 30_000, 0.5, 0.1),
    "M20": LineLight(700, 3_000, 0.2, 0.25),
    "M42": LineLight(3_000, 300_000, 0.9, 0.05, core_mag=13.5),
    "M43": LineLight(2_000, 6_000, 0.05, 0.2),
    "NGC 281": LineLight(250, 700, 0.2, 0.25),
    "NGC 604": LineLight(1_000, 5_000, 0.6, 0.15),
    "NGC 896": LineLight(400, 1_500, 0.2, 0.2),
    "NGC 1491": LineLight(500, 1_500, 0.5, 0.15),
    "NGC 1499": LineLight(200, 450, 0.05, 0.25),
    "NGC 1624": LineLight(300, 700, 0.2, 0.2),
    "NGC 1931": LineLight(500, 2_000, 0.1, 0.3),
    "NGC 2024": LineLight(1_000, 5_000, 0.05, 0.3),
    "NGC 2070": LineLight(1_500, 50_000, 1.3, 0.1),
    "NGC 2174": LineLight(300, 1_000, 0.15, 0.25),
    "NGC 2175": LineLight(300, 1_000, 0.15, 0.25),
    "NGC 2237": LineLight(350, 800, 0.25, 0.2),
    "NGC 2238": LineLight(350, 800, 0.25, 0.2),
    "NGC 2246": LineLight(350, 800, 0.25, 0.2),
    "NGC 2264": LineLight(200, 600, 0.1, 0.2),
    "NGC 2359": LineLight(300, 1_200, 1.2, 0.1),
    "NGC 2467": LineLight(700, 3_000, 0.4, 0.15),
    "NGC 2736": LineLight(150, 400, 0.8, 0.5),
    "NGC 3324": LineLight(700, 2_500, 0.3, 0.15),
    "NGC 3372": LineLight(2_500, 40_000, 0.6, 0.1),
    "NGC 3576": LineLight(1_500, 15_000, 0.4, 0.15),
    "NGC 3603": LineLight(1_500, 20_000, 0.5, 0.1),
    "NGC 6188": LineLight(300, 900, 0.2, 0.25),
    "NGC 6334": LineLight(500, 2_000, 0.15, 0.25),
    "NGC 6357": LineLight(500, 4_000, 0.3, 0.2),
    "NGC 6559": LineLight(400, 1_200, 0.1, 0.3),
    "NGC 6604": LineLight(150, 400, 0.1, 0.3),
    "NGC 6820": LineLight(120, 350, 0.15, 0.25),
    "NGC 6888": LineLight(250, 900, 0.7, 0.1),
    "Veil complex": LineLight(100, 400, 1.3, 0.4),
    "Sh2-103": LineLight(100, 400, 1.3, 0.4),
    "NGC 6960": LineLight(100, 350, 1.3, 0.4),
    "NGC 6979": LineLight(60, 200, 1.2, 0.4),
    "NGC 6992": LineLight(120, 400, 1.4, 0.4),
    "NGC 6995": LineLight(120, 400, 1.4, 0.4),
    "NGC 7000": LineLight(400, 900, 0.1, 0.25),
    "NGC 7380": LineLight(150, 400, 0.2, 0.2),
    "NGC 7538": LineLight(400, 2_500, 0.3, 0.2),
    "NGC 7635": LineLight(180, 1_500, 0.2, 0.2),
    "NGC 7822": LineLight(120, 400, 0.2, 0.2),
    "IC 63": LineLight(120, 300, 0.02, 0.3),
    "IC 59": LineLight(60, 120, 0.02, 0.3),
    "IC 405": LineLight(200, 500, 0.1, 0.25),
    "IC 410": LineLight(250, 700, 0.25, 0.2),
    "IC 417": LineLight(150, 400, 0.1, 0.25),
    "IC 434": LineLight(200, 500, 0.03, 0.25),
    "B 33": LineLight(200, 500, 0.03, 0.25),
    "IC 443": LineLight(150, 600, 0.5, 0.8),
    "IC 1318": LineLight(250, 500, 0.05, 0.25),
    "IC 1340": LineLight(80, 350, 1.3, 0.4),
    "IC 1396": LineLight(120, 300, 0.15, 0.25),
    "IC 1795": LineLight(400, 1_500, 0.3, 0.2),
    "IC 1805": LineLight(220, 700, 0.25, 0.2),
    "IC 1848": LineLight(180, 500, 0.15, 0.2),
    "IC 1871": LineLight(150, 400, 0.1, 0.25),
    "IC 2177": LineLight(150, 500, 0.1, 0.25),
    "IC 2944": LineLight(400, 1_200, 0.3, 0.15),
    "IC 4628": LineLight(250, 800, 0.2, 0.2),
    "IC 4703": LineLight(1_000, 5_000, 0.3, 0.2),
    "IC 5067": LineLight(300, 600, 0.1, 0.25),
    "IC 5068": LineLight(120, 250, 0.05, 0.25),
    "IC 5070": LineLight(250, 600, 0.1, 0.25),
    "IC 5146": LineLight(250, 800, 0.03, 0.25),
    "Sh2-1": LineLight(20, None, 0.05, 0.25),
    "Sh2-27": LineLight(40, None, 0.02, 0.3),
    "Sh2-63": LineLight(15, None, 0.02, 0.3),
    "Sh2-86": LineLight(120, 350, 0.15, 0.25),
    "Sh2-101": LineLight(150, 400, 0.2, 0.2),
    "Sh2-106": LineLight(300, 2_000, 0.1, 0.3),
    "Sh2-108": LineLight(150, 400, 0.05, 0.25),
    "Sh2-112": LineLight(150, 350, 0.2, 0.2),
    "Sh2-115": LineLight(60, 150, 0.15, 0.2),
    "Sh2-119": LineLight(80, 150, 0.05, 0.25),
    "Sh2-124": LineLight(70, 150, 0.1, 0.25),
    "Sh2-126": LineLight(25, None, 0.03, 0.3),
    "Sh2-129": LineLight(40, 80, 0.05, 0.25),
    "Sh2-132": LineLight(80, 250, 0.3, 0.2),
    "Sh2-140": LineLight(60, 150, 0.02, 0.3),
    "Sh2-155": LineLight(100, 300, 0.1, 0.25),
    "Sh2-157": LineLight(100, 300, 0.3, 0.2),
    "Sh2-170": LineLight(70, 150, 0.1, 0.2),
    "Sh2-171": LineLight(120, 400, 0.2, 0.2),
    "Sh2-173": LineLight(50, 120, 0.1, 0.2),
    "Sh2-188": LineLight(30, 100, 0.4, 0.3),
    "Sh2-202": LineLight(30, None, 0.03, 0.25),
    "Sh2-205": LineLight(30, None, 0.05, 0.25),
    "Sh2-224": LineLight(20, 50, 0.5, 0.6),
    "Sh2-232": LineLight(50, 100, 0.05, 0.25),
    "Sh2-235": LineLight(150, 700, 0.05, 0.3),
    "Sh2-240": LineLight(30, 40, 0.5, 0.6),
    "Sh2-249": LineLight(80, 150, 0.05, 0.25),
    "Sh2-254": LineLight(60, 200, 0.1, 0.25),
    "Sh2-261": LineLight(90, 200, 0.1, 0.25),
    "Sh2-264": LineLight(50, 90, 0.02, 0.25),
    "Sh2-273": LineLight(200, 600, 0.1, 0.2),
    "Sh2-274": LineLight(30, 80, 1.5, 0.3),
    "Sh2-275": LineLight(350, 800, 0.25, 0.2),
    "Sh2-276": LineLight(60, 200, 0.05, 0.25),
    "Sh2-280": LineLight(50, 100, 0.1, 0.25),
    "Sh2-284": LineLight(80, 200, 0.1, 0.2),
    "Sh2-308": LineLight(12, 30, 4.0, 0.1),
    "NGC 40": of_flux(-10.66, 0.8, 0.7, 0.3),
    "M76": of_flux(-10.68, 2.7, 1.8, 2.5, core=8.0),
    "NGC 246": of_flux(-10.53, 4.1, 3.5, 3.0, core=2.5),
    "NGC 1360": of_flux(-10.4, 6.4, 4.5, 3.0, core=2.0),
    "NGC 1501": of_flux(-11.28, 0.9, 0.8, 2.5, red=1.6),
    "NGC 1535": of_flux(-10.45, 0.8, 0.7, 3.0),
    "NGC 2346": of_flux(-11.27, 0.9, 0.9, 2.0),
    "NGC 2392": of_flux(-10.41, 0.8, 0.8, 3.0),
    "NGC 2438": of_flux(-10.97, 1.1, 1.1, 2.5),
    "NGC 2440": of_flux(-10.5, 1.2, 0.6, 3.0, core=5.0),
    "NGC 3132": of_flux(-10.45, 1.2, 0.9, 2.0),
    "NGC 3242": of_flux(-9.79, 0.7, 0.6, 3.2),
    "M97": of_flux(-10.42, 3.4, 3.3, 2.3, core=2.0),
    "NGC 3918": of_flux(-10.04, 0.3, 0.3, 3.5),
    "NGC 4361": of_flux(-10.48, 2.1, 2.1, 1.5),
    "NGC 6210": of_flux(-10.09, 0.4, 0.3, 2.8),
    "NGC 6302": of_flux(-10.55, 3.0, 1.0, 2.0, core=20.0, red=2.2),
    "NGC 6543": of_flux(-9.61, 0.4, 0.3, 1.8),
    "NGC 6572": of_flux(-9.82, 0.25, 0.2, 2.8),
    "M57": of_flux(-10.08, 1.5, 1.0, 2.9, core=2.0),
    "NGC 6781": of_flux(-11.21, 1.8, 1.8, 2.0, core=2.0, red=1.8),
    "NGC 6826": of_flux(-9.96, 0.5, 0.4, 1.8),
    "M27": of_flux(-9.45, 8.0, 6.0, 2.6, core=4.0),
    "NGC 7008": of_flux(-10.86, 1.6, 1.3, 2.0, red=1.6),
    "NGC 7009": of_flux(-9.8, 0.6, 0.4, 3.0),
    "NGC 7027": of_flux(-10.12, 0.25, 0.18, 1.6, red=2.6),
    "NGC 7048": of_flux(-11.4, 1.1, 1.0, 2.5, red=1.4),
    "NGC 7293": of_flux(-9.37, 17.0, 15.0, 1.3, core=3.0),
    "NGC 7662": of_flux(-9.99, 0.6, 0.5, 3.2),
    "IC 289": of_flux(-11.73, 0.8, 0.6, 2.5, red=1.8),
    "IC 418": of_flux(-9.57, 0.2, 0.18, 0.6),
    "IC 2149": of_flux(-10.55, 0.3, 0.2, 1.0),
    "IC 4406": of_flux(-10.75, 1.7, 0.6, 2.0),
}
# fmt: on
