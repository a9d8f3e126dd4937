"""What a night is good for against what imagers do take: common practice, by month and kind of rig.

Ten targets that are taken with such a rig in such a month must stand among the first forty of the whole catalogue. The
lists are the judgement of common practice, written before the ranking was looked at.
"""

from datetime import date

import pytest

from dravel.catalogue.demo import RIDGE
from dravel.catalogue.objects import catalogue
from dravel.core.model import Preferences
from dravel.core.sky.framing import least_share
from dravel.core.sky.night import night_of
from dravel.core.sky.ranking import RigForNight, rank
from tests.conftest import SOUTH

PRACTICE = Preferences()
# Moonless nights of twelve months of 2027.
NIGHTS = [date(2027, *item) for item in (
    (1, 8), (2, 6), (3, 8), (4, 7), (5, 6), (6, 4), (7, 4), (8, 2), (8, 31), (9, 30), (10, 29), (11, 27),
)]  # fmt: skip
MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"]

# A refractor of 464 mm with a sensor of 23.5 × 15.7 mm and a dual narrowband filter: nebulae that fill some of its field.
NEBULAE = {
    "jan": "M42, IC 434, NGC 2237, NGC 2264, IC 443, IC 405, IC 410, NGC 2174, NGC 1499, NGC 2024",
    "feb": "M42, IC 434, NGC 2237, NGC 2264, IC 443, IC 405, IC 410, NGC 2174, Sh2-261, NGC 2024",
    "mar": "NGC 2237, NGC 2264, IC 443, NGC 2174, IC 405, IC 410, Sh2-261, Sh2-240, M101, M81",
    "apr": "M81, M101, M51, M106, M3, M82, M13, M63, IC 443, NGC 4565",
    "may": "M101, M51, M81, M13, M106, M63, M5, NGC 6888, IC 1318, NGC 7000",
    "jun": "NGC 7000, IC 5070, IC 1318, NGC 6888, NGC 6960, NGC 6992, M16, M13, Sh2-101, IC 1396",
    "jul": "NGC 7000, IC 5070, IC 1318, NGC 6888, NGC 6960, NGC 6992, IC 1396, Sh2-101, M16, M27",
    "aug": "NGC 7000, IC 5070, IC 1318, NGC 6888, NGC 6960, NGC 6992, IC 1396, Sh2-101, NGC 7380, Sh2-129",
    "sep": "NGC 7000, IC 5070, NGC 6960, NGC 6992, IC 1396, NGC 7380, NGC 7635, Sh2-129, IC 5146, Sh2-132",
    "oct": "IC 1805, IC 1848, NGC 281, NGC 7822, NGC 7635, NGC 7380, IC 1396, NGC 7000, Sh2-155, Sh2-132",
    "nov": "IC 1805, IC 1848, NGC 281, NGC 7822, NGC 1499, IC 405, IC 410, NGC 7635, Sh2-240, IC 443",
    "dec": "IC 1805, IC 1848, NGC 1499, IC 405, IC 410, M42, IC 434, NGC 2237, IC 443, NGC 2174",
}
# The same under a dark sky without a filter: dust, galaxies, clusters and bright nebulae.
BROAD = {
    "jan": "M42, M45, IC 434, NGC 2264, NGC 2237, M31, M33, NGC 2024, NGC 1499, M81",
    "feb": "M42, M45, IC 434, M81, NGC 2264, NGC 2237, NGC 1499, M101, NGC 2024, IC 405",
    "mar": "M81, M82, M101, M51, M106, M44, NGC 2903, NGC 2264, NGC 2237, M63",
    "apr": "M81, M101, M51, M106, M3, M63, NGC 4565, NGC 4631, M64, M86",
    "may": "M101, M51, M13, M81, M106, M63, NGC 4565, M3, M5, M64",
    "jun": "M13, M101, M51, M16, M5, M92, NGC 7000, NGC 6960, M27, NGC 6888",
    "jul": "NGC 7000, M13, M16, IC 5070, NGC 6888, NGC 6960, NGC 6992, IC 1318, IC 1396, NGC 7023",
    "aug": "M31, NGC 7000, NGC 7023, NGC 6960, NGC 6992, IC 5146, IC 1396, M33, M27, IC 1318",
    "sep": "M31, M33, NGC 7023, NGC 7000, IC 5146, M45, NGC 6960, NGC 6992, IC 1396, IC 1318",
    "oct": "M31, M33, M45, NGC 1499, IC 1805, IC 1848, NGC 7023, NGC 281, IC 1396, NGC 7000",
    "nov": "M31, M33, M45, M42, NGC 1499, IC 1805, IC 1848, NGC 281, IC 342, IC 405",
    "dec": "M42, M45, M31, M33, NGC 1499, IC 434, IC 405, NGC 2237, NGC 2024, IC 342",
}
# A fast mirror of 800 mm with a sensor of 17.6 × 13.3 mm for galaxies.
GALAXIES = {
    "jan": "M81, M82, M33, NGC 2403, NGC 2841, NGC 2903, M51, M101, M106, IC 342",
    "feb": "M81, M82, M101, M51, NGC 2403, NGC 2903, M106, NGC 4565, M63, M94",
    "mar": "M81, M82, M101, M51, M106, NGC 2903, M65, M66, NGC 4565, M104",
    "apr": "M51, M101, M81, M106, M63, NGC 4565, NGC 4631, M64, M66, M104",
    "may": "M51, M101, M63, M106, NGC 4565, NGC 4631, M64, M94, M100, M81",
    "jun": "M51, M101, M63, M106, NGC 6946, NGC 5907, M94, NGC 4565, M102, M81",
    "jul": "M101, M51, NGC 6946, M31, NGC 7331, M102, NGC 5907, M63",
    "aug": "M31, M33, NGC 6946, NGC 7331, NGC 891, M74, M110, IC 342, M101, M32",
    "sep": "M31, M33, NGC 891, NGC 7331, NGC 6946, M74, M32, M77, IC 342, M110",
    "oct": "M31, M33, NGC 891, M81, M74, M77, NGC 7331, IC 342, NGC 2403, M110",
    "nov": "M31, M33, NGC 891, M74, M77, IC 342, NGC 2403, M81, M82, NGC 7331",
    "dec": "M31, M33, NGC 891, M81, M82, NGC 2403, IC 342, M74, NGC 2841, M77",
}
# A lens of 135 mm on a sensor of 36 × 24 mm behind a dark sky.
WIDE = {
    "jan": "M42, Sh2-264, Sh2-276, M45, NGC 1499, NGC 2237, IC 434, Sh2-240, M31, IC 405",
    "feb": "M42, Sh2-264, NGC 2237, IC 434, NGC 2264, M45, Sh2-276, IC 405, IC 443, M44",
    "mar": "NGC 2237, NGC 2174, Sh2-264, NGC 2264, IC 443, IC 405, IC 410, Sh2-240, M44, M81",
    "apr": "M81, M101, M44, M106, M51, M86, M63, IC 443, NGC 4565, M3",
    "may": "IC 5070, IC 1318, NGC 7000, M101, M51, IC 1396, M3, M13, NGC 6960, NGC 6888",
    "jun": "NGC 7000, IC 1318, NGC 6960, NGC 6992, NGC 6888, IC 5070, M16, M17, IC 1396, Sh2-129",
    "jul": "NGC 7000, IC 1318, NGC 6960, NGC 6992, M16, Sh2-129, IC 1396, IC 5070, NGC 6888, NGC 7822",
    "aug": "NGC 7000, IC 1318, NGC 6960, NGC 6992, IC 1396, M31, NGC 7822, Sh2-129, IC 5070, IC 5068",
    "sep": "M31, NGC 7000, IC 1318, IC 1396, NGC 6960, IC 1805, IC 1848, NGC 7822, M33, NGC 1499",
    "oct": "M31, IC 1805, IC 1848, NGC 7822, NGC 1499, M45, M33, IC 1396, NGC 281, NGC 7000",
    "nov": "M31, M45, NGC 1499, IC 1805, IC 1848, M33, NGC 7822, M42, Sh2-240, IC 405",
    "dec": "M42, M45, NGC 1499, M31, IC 1805, IC 1848, Sh2-264, Sh2-240, IC 405, NGC 2237",
}
# A tube of 2,000 mm with a sensor of 13.2 × 8.8 mm: small galaxies, globulars, planetary nebulae.
SMALL = {
    "jan": "M81, M82, NGC 2903, M51, NGC 2841, M101, M106, NGC 2403, M1, M97",
    "feb": "M81, M82, NGC 2903, M51, M97, M63, M106, M66, M65, NGC 4565",
    "mar": "M51, M82, M97, M101, NGC 4565, M66, M64, M63, M106, M3",
    "apr": "M51, M63, M104, NGC 4565, M64, M3, M106, M97, M94, M13",
    "may": "M51, M13, M3, M63, M64, M5, M92, M94, M97, NGC 5907",
    "jun": "M13, M57, M27, M92, M5, M51, NGC 6888, M63, M3, NGC 6946",
    "jul": "M13, M57, M27, M92, M16, NGC 6946, M15, NGC 7331, M92, NGC 7635",
    "aug": "M27, M57, M15, NGC 7331, M92, NGC 7635, NGC 891, M13, NGC 6946, NGC 7023",
    "sep": "M27, M15, NGC 7331, NGC 891, NGC 7635, M74, M76, NGC 6946, M92, M33",
    "oct": "NGC 891, M74, M77, M15, NGC 7331, M76, NGC 7635, NGC 6946, M27, IC 342",
    "nov": "NGC 891, M74, M77, M1, M76, M82, M81, NGC 7331, M15, NGC 7635",
    "dec": "M1, NGC 891, M81, M82, M77, M74, M76, M78, NGC 2903, NGC 2841",
}
# A refractor of 500 mm with a dual narrowband filter under the southern sky.
SOUTHERN = {
    "jan": "M42, NGC 2070, LMC, IC 434, NGC 2237, NGC 3372, NGC 2264, NGC 2359, IC 2177, NGC 2467",
    "feb": "NGC 3372, NGC 2070, LMC, M42, NGC 2237, IC 2177, NGC 2359, NGC 2467, IC 434, IC 2944",
    "mar": "NGC 3372, NGC 2070, LMC, IC 2944, NGC 3576, NGC 2467, NGC 3324, IC 2177, NGC 5139, NGC 5128",
    "apr": "NGC 3372, IC 2944, NGC 3576, NGC 5139, NGC 6188, NGC 3324, NGC 6334, NGC 5128, M83, NGC 3603",
    "may": "NGC 3372, IC 2944, NGC 6188, NGC 6334, NGC 6357, IC 4628, M8, M16, NGC 5139, M17",
    "jun": "NGC 6334, NGC 6357, NGC 6188, IC 4628, M8, M16, M17, M20, NGC 3372, NGC 5139",
    "jul": "M8, M16, M17, M20, NGC 6334, NGC 6357, NGC 6188, IC 4628, NGC 6559, NGC 6604",
    "aug": "M8, M16, M17, M20, NGC 6334, NGC 6357, NGC 6188, IC 4628, NGC 6559, NGC 7293",
    "sep": "M8, M16, M17, M20, NGC 7293, NGC 253, SMC, NGC 6357, NGC 6334, NGC 104",
    "oct": "NGC 7293, SMC, NGC 253, LMC, NGC 2070, NGC 104, NGC 55, M42, NGC 1365, IC 434",
    "nov": "LMC, SMC, NGC 2070, M42, NGC 253, IC 434, NGC 7293, NGC 104, NGC 2237, NGC 2264",
    "dec": "M42, LMC, NGC 2070, IC 434, NGC 2237, NGC 2264, SMC, IC 2177, NGC 2359, NGC 2174",
}


def fits(
    focal_mm: float, width_mm: float, height_mm: float, star: float, *, lines: bool, purposes: tuple[str, ...] = (),
) -> RigForNight:  # fmt: skip
    field = width_mm / focal_mm * 57.3, height_mm / focal_mm * 57.3
    colour = 0.6 if lines else 1.0
    return RigForNight(field, star, lines, least_share(purposes, PRACTICE), colour, 1.0, purposes)


RIGS = {
    "nebulae": (fits(464, 23.5, 15.7, 3.5, lines=True, purposes=("nebula",)), RIDGE, NEBULAE),
    "broad": (fits(464, 23.5, 15.7, 3.5, lines=False, purposes=()), RIDGE, BROAD),
    "galaxies": (fits(800, 17.6, 13.3, 3.0, lines=False, purposes=("galaxy",)), RIDGE, GALAXIES),
    "wide": (fits(135, 36, 24, 9.0, lines=False, purposes=("wide_field",)), RIDGE, WIDE),
    "small": (fits(2000, 13.2, 8.8, 2.8, lines=False, purposes=()), RIDGE, SMALL),
    "southern": (fits(500, 23.5, 15.7, 3.5, lines=True, purposes=()), SOUTH, SOUTHERN),
}


@pytest.mark.parametrize("month", range(12), ids=MONTHS)
@pytest.mark.parametrize("name", RIGS)
def test_what_people_take_stands_among_the_first_forty(name, month):
    rig, site, lists = RIGS[name]
    night = night_of(site, NIGHTS[month])
    ranked = [item.target.key for item in rank(catalogue().everything(), rig, night, PRACTICE, most=4000)]
    wanted = {item: catalogue().get(item).key for item in lists[MONTHS[month]].split(", ")}
    places = {item: ranked.index(key) + 1 if key in ranked else None for item, key in wanted.items()}
    behind = {item: place for item, place in places.items() if place is None or place > 40}
    assert not behind, behind
