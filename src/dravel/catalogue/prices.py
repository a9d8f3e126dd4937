"""Prices of the generic parts: made up, in the order usual among them, so that a rig can be reckoned before anything is asked."""

from typing import Any

from dravel.core.model import Price

# So much for a kind, and so much for a kilogram of it.
PRICES = {
    "telescope": (220, 160), "corrector": (140, 160), "camera": (180, 1500), "adapter": (18, 160), "filter": (70, 900),
    "filter_holder": (60, 300), "off_axis_guider": (90, 300), "focuser": (90, 200), "mount": (240, 95),
    "support": (60, 32), "counterweight": (12, 16), "rider": (35, 260), "guide_scope": (60, 130), "dew_heater": (18, 120),
    "power_source": (25, 75), "cable": (6, 60), "accessory": (10, 28),
}  # fmt: skip


# Where mass says little of what a thing costs: glass and mirrors, heads, sensors. Made up too, in the order usual among them.
OWN_PRICES = {
    "petzval-51": 890, "doublet-61": 420, "doublet-72": 390, "triplet-80": 980, "triplet-86": 1290, "doublet-102": 620,
    "doublet-120": 1480, "newtonian-130": 260, "newtonian-150": 340, "newtonian-200": 520, "ritchey-200": 1150,
    "schmidt-203": 1250, "maksutov-127": 420, "lens-24": 480, "lens-50": 160, "lens-85": 420, "lens-135": 460,
    "lens-180": 390, "tracker-5": 360, "equatorial-9": 620, "equatorial-13": 1090, "equatorial-20": 1750,
    "equatorial-40": 3900, "strain-8": 1390, "strain-13": 1890, "altaz-6": 520, "planet-58": 230, "planet-72": 320,
    "guide-48": 140, "dslr-aps": 480, "dslr-full": 950, "slim-aps": 720, "slim-full": 1350, "colour-18": 980,
    "mono-17": 1190, "colour-aps": 1590, "mono-aps": 1750, "colour-full": 3300, "mono-square": 780, "pier-fixed": 900,
    "tripod-photo": 260, "tripod-carbon": 380, "laptop": 420, "panel-flat": 90, "card-64": 15, "card-256": 45,
}  # fmt: skip


def priced(entry: Any) -> Any:
    """The part with its made-up price, to five euros."""
    base, per_kg = PRICES[entry.kind]
    amount = OWN_PRICES.get(entry.id, round((base + per_kg * (entry.mass_g or 0) / 1000) / 5) * 5)
    return entry.model_copy(update={"price": Price(amount=float(amount))})
