"""The demo scenario: an invented ridge and a town terrace, four rigs named after birds, eight targets.

Heron, Bittern and Wren are sound; Magpie is a second-hand bargain with faults laid in on purpose.
"""

from dataclasses import dataclass
from datetime import date
from typing import Any

from dravel.catalogue.objects import catalogue
from dravel.catalogue.prices import priced
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import (
    CableRun,
    Exposure,
    Growth,
    GrowthStage,
    Guide,
    HorizonPoint,
    Hung,
    Measurement,
    Part,
    PathItem,
    Placed,
    Preferences,
    Price,
    Rig,
    Site,
    Supply,
    Target,
)
from dravel.core.model.inventory import parts_of
from dravel.core.sky.framing import centred
from dravel.core.steps import STEPS
from dravel.core.train.assembly import with_part_everywhere

RIDGE = Site(
    id="alto-de-veleda",
    name="Alto de Veleda",
    latitude_deg=40.9,
    longitude_deg=-2.6,
    elevation_m=1240,
    timezone="Europe/Madrid",
    sky_brightness_mag_arcsec2=21.4,
    seeing_arcsec=2.2,
    night_temperature_c=-2,
    humidity=0.5,
    wind_m_s=3,
    month_c=(-4, -3, -1, 1, 5, 10, 14, 14, 10, 5, -2, -4),
    # Open to the south, where the ground falls away; a wooded rise in the north-east, the summit with its hut in the west.
    horizon=tuple(
        HorizonPoint(azimuth_deg=azimuth, altitude_deg=altitude)
        for azimuth, altitude in (
            (0, 4), (28, 6), (48, 13), (70, 15), (92, 9), (118, 3), (165, 1.5), (205, 1), (238, 3), (262, 9), (281, 18),
            (296, 21), (312, 14), (336, 6),
        )
    ),
)  # fmt: skip
TERRACE = Site(
    id="town-terrace",
    name="Town terrace below Veleda",
    latitude_deg=40.86,
    longitude_deg=-2.55,
    elevation_m=930,
    timezone="Europe/Madrid",
    sky_brightness_mag_arcsec2=19.3,
    seeing_arcsec=3.0,
    night_temperature_c=3,
    humidity=0.85,
    wind_m_s=2,
    lamps="led",
    month_c=(0, 1, 3, 5, 9, 14, 18, 18, 14, 9, 3, 1),
    horizon=tuple(
        HorizonPoint(azimuth_deg=azimuth, altitude_deg=altitude)
        for azimuth, altitude in (
            (0, 12), (40, 14), (75, 35), (110, 38), (128, 16), (200, 11), (232, 14), (246, 44), (284, 46), (300, 20),
        )
    ),
)  # fmt: skip


@dataclass(frozen=True)
class Scenario:
    """Everything the demo database holds."""

    parts: tuple[Part, ...]
    sites: tuple[Site, ...]
    targets: tuple[Target, ...]
    rigs: tuple[tuple[str, Rig], ...]
    growths: tuple[Growth, ...]


def targets() -> tuple[Target, ...]:
    """The demo targets: single objects from the catalogue, the pair and the complex drawn around theirs."""
    known = catalogue()
    pair = Target(
        id="m81-m82", name="M81 / M82", aliases=("NGC 3031", "NGC 3034"), ra_deg=148.93, dec_deg=69.37,
        major_arcmin=54, minor_arcmin=24, position_angle_deg=2, kind="galaxy", magnitude=6.9, size_source="around both",
    )  # fmt: skip
    veil = Target(
        id="veil-complex", name="Veil complex", aliases=("NGC 6960", "NGC 6992", "NGC 6995"), ra_deg=312.75,
        dec_deg=30.95, major_arcmin=200, minor_arcmin=165, position_angle_deg=170, kind="supernova_remnant",
        magnitude=7.0, size_source="around its parts",
    )  # fmt: skip
    single = {name: known.get(name) for name in ("M101", "IC 1805", "NGC 891", "NGC 281", "NGC 7380", "M13")}
    return (
        pair,
        single["M101"],
        veil,
        single["IC 1805"],
        single["NGC 891"],
        single["NGC 281"],
        single["NGC 7380"],
        single["M13"],
    )


def scenario() -> Scenario:
    """Build the demo."""
    owned = {
        "lens-180", "slim-aps", "slim-dslr", "triplet-86", "reducer-08-m63", "flattener-m63", "ring-m48-16-5",
        "drawer-21", "colour-18", "dual-7", "uvir", "ritchey-200", "m63m-m48", "ring-m48-20", "guider-165", "wheel-7",
        "mono-17", "newtonian-150", "nose-125-m42", "dslr-m42", "dslr-full", "lum-125", "red-125", "green-125",
        "blue-125", "ha-125", "oiii-125", "coma-10", "ring-m48-10", "ring-m42-5", "extender-16", "ring-m48-0-7", "guide-48",
        "nose-2-m48", "tracker-5", "tripod-photo", "weight-1-8", "battery-74", "cable-usb-2", "guide-50", "controller",
        "motor-focuser", "power-box", "heater-90", "equatorial-13", "tripod-steel", "weight-51-20", "battery-640",
        "cable-2-15", "cable-3-05", "heater-240", "equatorial-20", "pier-portable", "weight-7-20", "weight-34-20", "battery-1280", "guide-30",
        "finder-8x50", "equatorial-9", "weight-19-20", "cable-5-075", "planet-58", "weight-05-8", "shaft-150", "release", "card-64", "battery-spare",
    }  # fmt: skip
    parts = tuple(
        priced(entry.model_copy(update={"status": "owned"}) if entry.id in owned else entry)
        for entry in starter_shelf()
    )
    listed = targets()
    by_name = {target.name: target for target in listed}
    rigs = (("wren", _wren()), ("heron", _heron()), ("bittern", _bittern()), ("magpie", _magpie()))
    framed = tuple((rig_id, _framed(rig, by_name)) for rig_id, rig in rigs)
    growth = Growth(
        id="from-the-tracker-up",
        name="From the tracker up",
        stages=(
            GrowthStage(title="Tracker and lens", rig="wren"),
            GrowthStage(title="Refractor, guided and cooled", rig="heron"),
            GrowthStage(title="Long focal length, off-axis", rig="bittern"),
        ),
    )
    return Scenario(parts, (RIDGE, TERRACE), listed, framed, (growth,))


FRAMED = {
    "Wren": ("Veil complex", "IC 1805"),
    "Heron": ("IC 1805", "Veil complex", "NGC 281"),
    "Bittern": ("NGC 891", "M13", "M101"),
    "Magpie": ("NGC 891", "Veil complex"),
}


PLANNED = {
    ("Heron", "NGC 281"): (
        Exposure(filter="dual-7", sub_s=300, count=60, dither_every=2),
        Exposure(filter="uvir", sub_s=60, count=20, dither_every=4),
    ),
    ("Bittern", "NGC 891"): (
        Exposure(filter="lum-125", sub_s=120, count=90, dither_every=3),
        *(Exposure(filter=f"{colour}-125", sub_s=300, count=15, dither_every=1) for colour in ("red", "green", "blue")),
    ),
}


def _framed(rig: Rig, targets: dict[str, Target]) -> Rig:
    field = STEPS.context(rig).field_deg
    framings = tuple(
        centred(targets[name], field, Preferences()).model_copy(update={"plan": PLANNED.get((rig.name, name), ())})
        for name in FRAMED[rig.name]
    )
    return rig.model_copy(update={"framings": framings})


def _own(entry: str) -> Any:
    return priced(part(entry, status="owned"))


def _bargain(rig: Rig) -> Rig:
    """The rig with every part bought second-hand, at six tenths of its price."""
    for held in tuple(parts_of(rig)):
        if held.price is not None and not held.price.second_hand:
            price = Price(amount=round(held.price.amount * 0.6 / 5) * 5.0, second_hand=True)
            rig = with_part_everywhere(rig, held.model_copy(update={"price": price}))
    return rig


def _items(*ids: str) -> tuple[PathItem, ...]:
    return tuple(PathItem(part=_own(entry)) for entry in ids)


def _filters(item: PathItem, in_use: int, *ids: str) -> PathItem:
    filters = tuple(_own(entry) for entry in ids)
    return item.model_copy(update={"filters": filters, "in_use": in_use})


def _wren() -> Rig:
    return Rig(
        name="Wren",
        summary="lens on a tracker",
        purposes=("wide_field", "nebula"),
        path=_items("lens-180", "slim-dslr", "slim-aps"),
        site=RIDGE,
        mount=_own("tracker-5"),
        support=_own("tripod-photo"),
        counterweights=(Hung(part=_own("weight-1-8"), position_mm=165),),
        saddle_mm=24,
        supply=Supply(source=_own("battery-74"), cables=(_own("cable-usb-2"),)),
        guide=Guide(sub_s=25),
        extras=(_own("release"), _own("card-64"), *(_own("battery-spare"),) * 3),
        notes="Goes up the ridge on foot.",
    )


def _heron() -> Rig:
    scope, reducer, ring, thin, drawer, camera = _items(
        "triplet-86", "reducer-08-m63", "ring-m48-16-5", "ring-m48-0-7", "drawer-21", "colour-18"
    )
    drawer = drawer.model_copy(update={"faces_deg": 90})
    return Rig(
        name="Heron",
        summary="nebula refractor",
        purposes=("nebula",),
        path=(scope, reducer, ring, thin, _filters(drawer, 0, "dual-7", "uvir"), camera),
        guide=Guide(method="guide_scope", branch=_items("guide-48"), sub_s=180),
        riders=(
            Placed(part=_own("guide-50"), along_mm=40, off_mm=100),
            Placed(part=_own("controller"), along_mm=-60, off_mm=85, side="top"),
            Placed(part=_own("motor-focuser"), along_mm=-170, off_mm=60, side="below"),
            Placed(part=_own("power-box"), along_mm=100, off_mm=85),
            Placed(part=_own("heater-90"), along_mm=220),
        ),
        mount=_own("equatorial-13"),
        support=_own("tripod-steel"),
        counterweights=(Hung(part=_own("weight-51-20"), position_mm=228),),
        saddle_mm=175,
        supply=Supply(
            source=_own("battery-640"),
            cables=(_own("cable-2-15"), _own("cable-3-05")),
            runs=(CableRun(cable="cable-3-05", behind="cable-2-15", feeds=("motor-focuser",)),),
        ),
        site=RIDGE,
    )


def _bittern() -> Rig:
    scope, plate, ring, more, guider, wheel, camera = _items(
        "ritchey-200", "m63m-m48", "ring-m48-20", "ring-m48-16-5", "guider-165", "wheel-7", "mono-17"
    )
    guider = guider.model_copy(update={"prism_in_mm": 3.5})
    wheel = _filters(wheel, 0, "lum-125", "red-125", "green-125", "blue-125", "ha-125", "oiii-125")
    return Rig(
        name="Bittern",
        summary="long mirror telescope, mono",
        purposes=("galaxy", "cluster"),
        path=(scope, plate, ring, more, guider, wheel, camera),
        guide=Guide(method="off_axis", branch=_items("guide-48"), helical_mm=9, drawn_out_mm=9.3, sub_s=300),
        riders=(
            Placed(part=_own("controller"), along_mm=0, off_mm=140),
            Placed(part=_own("power-box"), along_mm=90, off_mm=140),
            Placed(part=_own("heater-240"), along_mm=200),
        ),
        mount=_own("equatorial-20"),
        support=_own("pier-portable"),
        counterweights=(
            Hung(part=_own("weight-7-20"), position_mm=190),
            Hung(part=_own("weight-34-20"), position_mm=260),
        ),
        saddle_mm=142,
        supply=Supply(source=_own("battery-1280"), cables=(_own("cable-2-15"),)),
        binning=2,
        site=RIDGE,
    )


def _magpie() -> Rig:
    body = _items("dslr-full")[0].model_copy(update={"faces_deg": 180})
    rig = Rig(
        name="Magpie",
        summary="second-hand bargain, full of faults",
        purposes=("galaxy",),
        path=(*_items("newtonian-150", "nose-125-m42", "dslr-m42"), body),
        guide=Guide(method="guide_scope", branch=_items("planet-58"), sub_s=300),
        riders=(
            Placed(part=_own("guide-30"), along_mm=150, off_mm=140, side="left"),
            Placed(part=_own("finder-8x50"), along_mm=180, off_mm=130, side="left"),
        ),
        mount=_own("equatorial-9"),
        support=_own("tripod-photo"),
        counterweights=(Hung(part=_own("weight-19-20"), position_mm=360),),
        saddle_mm=180,
        supply=Supply(source=_own("battery-74"), cables=(_own("cable-5-075"),)),
        site=TERRACE,
        notes="Bought in one lot. The problems are there on purpose: fix them one by one.",
    )
    solved = Measurement(value=712, on=date(2026, 11, 14), instrument="solved frame")
    return _bargain(rig.model_copy(update={"measured_focal_length_mm": solved}))
