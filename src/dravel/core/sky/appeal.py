"""What makes a target worth a night before the sky is asked: how brightly it shows in its own light, and who takes it."""

from math import log10

from dravel.core.model import Target, TargetKind
from dravel.core.model.sky import plain_name
from dravel.core.sky.glow import glow_of, written_down

# Rayleighs that hardly show in a night and those that show in minutes, as powers of ten. Dravel's own.
FAINT_LG_R, BRIGHT_LG_R = 0.3, 3.0
FAINT_MAG, BRIGHT_MAGS = 15.5, 9.0  # of the whole, of what shines in all colours. Dravel's own
# Where nobody gives a magnitude: the lists that leave it out hold faint things. Dravel's own.
UNKNOWN = {"dark": 0.4, "reflection": 0.35, "open_cluster": 0.25}
BY_HAND, LEAST = 0.7, 0.05
# How often a kind is taken, other things equal. Dravel's own, as pictures go.
KINDS: dict[TargetKind, float] = {
    "emission": 1.0, "supernova_remnant": 1.0, "mixed": 0.95, "planetary": 1.0, "galaxy": 1.0, "reflection": 1.0,
    "dark": 0.7, "globular": 0.8, "open_cluster": 0.45, "other": 0.3,
}  # fmt: skip
KNOWN, LESSER_KNOWN = 0.65, 0.45  # what stands in Messier's list or in the tables by hand; what does not
# What is taken most of all with one kind of rig or another. Common practice.
SHOWPIECES = frozenset(
    plain_name(name)
    for name in [
        "M1",
        "M3",
        "M5",
        "M8",
        "M13",
        "M15",
        "M16",
        "M17",
        "M20",
        "M22",
        "M27",
        "M31",
        "M33",
        "M42",
        "M44",
        "M45",
        "M51",
        "M57",
        "M63",
        "M64",
        "M65",
        "M66",
        "M74",
        "M76",
        "M77",
        "M78",
        "M81",
        "M82",
        "M83",
        "M92",
        "M97",
        "M101",
        "M104",
        "M106",
        "NGC 55",
        "NGC 104",
        "NGC 253",
        "NGC 281",
        "NGC 869",
        "NGC 884",
        "NGC 891",
        "NGC 1365",
        "NGC 1499",
        "NGC 1977",
        "NGC 2024",
        "NGC 2070",
        "NGC 2174",
        "NGC 2237",
        "NGC 2264",
        "NGC 2359",
        "NGC 2403",
        "NGC 2841",
        "NGC 2903",
        "NGC 3324",
        "NGC 3372",
        "NGC 3576",
        "NGC 3628",
        "NGC 4565",
        "NGC 4631",
        "NGC 5128",
        "NGC 5139",
        "NGC 5907",
        "NGC 6188",
        "NGC 6334",
        "NGC 6357",
        "NGC 6888",
        "NGC 6946",
        "NGC 6960",
        "NGC 6992",
        "NGC 7000",
        "NGC 7023",
        "NGC 7293",
        "NGC 7331",
        "NGC 7380",
        "NGC 7635",
        "NGC 7662",
        "NGC 7822",
        "IC 342",
        "IC 348",
        "IC 405",
        "IC 410",
        "IC 434",
        "IC 443",
        "IC 1318",
        "IC 1396",
        "IC 1805",
        "IC 1848",
        "IC 2118",
        "IC 2177",
        "IC 2944",
        "IC 4604",
        "IC 4628",
        "IC 5070",
        "IC 5146",
        "B 33",
        "LMC",
        "SMC",
        "Sh2-101",
        "Sh2-129",
        "Sh2-132",
        "Sh2-155",
        "Sh2-240",
        "Sh2-261",
        "Sh2-264",
        "Sh2-276",
    ]
)


def shine_of(target: Target) -> float:
    """How brightly a target shows in its own light, 0 to 1: nebulae by their lines, the rest by magnitude."""
    glow = glow_of(target)
    if glow is None:
        return 1.0
    if glow.of_lines:
        return min(1.0, max(LEAST, (log10(max(glow.lines[0][2], 1e-3)) - FAINT_LG_R) / (BRIGHT_LG_R - FAINT_LG_R)))
    if target.kind in ("reflection", "dark"):
        return BY_HAND if written_down(target) else UNKNOWN[target.kind]
    if target.magnitude is None:
        return UNKNOWN.get(target.kind, LEAST)
    return min(1.0, max(LEAST, (FAINT_MAG - target.magnitude) / BRIGHT_MAGS))


def appeal_of(target: Target) -> float:
    """How often such a target is taken, 0 to 1."""
    messier = target.name[:1] == "M" and target.name[1:].isdigit()
    known = messier or written_down(target)
    return KINDS[target.kind] * (1.0 if plain_name(target.name) in SHOWPIECES else KNOWN if known else LESSER_KNOWN)
