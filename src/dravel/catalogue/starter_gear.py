"""Generic mounts, supports, weights, riders, guide scopes, supplies and accessories of the starter shelf.

Unbranded, with typical, made-up dimensions.
"""

from typing import Any

from dravel.core.model import (
    Accessory,
    Cable,
    Counterweight,
    DewHeater,
    GuideScope,
    Mount,
    Part,
    PowerSource,
    Rider,
    Shaft,
    Support,
)
from dravel.core.model.parts import Power

NARROW, WIDE = "44 mm", "75 mm"


def twelve(typical: float, peak: float | None = None) -> Power:
    """Draw at 12 V."""
    return Power(voltage_v=12, typical_w=typical, peak_w=peak, plug="5.5 × 2.1 mm")


def _mount(id: str, name: str, style: Any, payload: float, arm: float, mass: float, **more: Any) -> Mount:
    return Mount(
        id=id, name=name, style=style, payload_kg=payload, rated_arm_mm=arm, mass_g=mass, status="listed", **more
    )


def _mounts() -> list[Part]:
    thin = Shaft(diameter_mm=8, start_mm=45, end_mm=220, mass_g=120)
    middle = Shaft(diameter_mm=20, start_mm=95, end_mm=345, mass_g=720)
    thick = Shaft(diameter_mm=20, start_mm=110, end_mm=420, mass_g=980)
    return [
        _mount("tracker-5", "star tracker, 5 kg", "tracker", 5, 120, 1300, shaft=thin, saddle=(NARROW,),
               saddle_length_mm=60, saddle_height_mm=70, axis_height_mm=130, driven_axes=1, goto=False, guide_input="port",
               periodic_error_arcsec=30, worm_period_s=600, guided_rms_arcsec=1.4, drive="worm", power=Power(voltage_v=5, typical_w=2, plug="USB")),
        _mount("equatorial-9", "equatorial mount, 9 kg", "german_equatorial", 9, 180, 5200, shaft=middle, saddle=(NARROW,),
               saddle_height_mm=85, axis_height_mm=200, periodic_error_arcsec=36, worm_period_s=640, guided_rms_arcsec=1.1,
               power=twelve(8, 20)),
        _mount("equatorial-13", "equatorial mount, 13 kg", "german_equatorial", 13, 200, 7600, shaft=middle,
               saddle=(NARROW, WIDE), saddle_length_mm=120, saddle_height_mm=95, axis_height_mm=270,
               periodic_error_arcsec=24, worm_period_s=480, guided_rms_arcsec=0.8, power=twelve(10, 26)),
        _mount("equatorial-20", "equatorial mount, 20 kg", "german_equatorial", 20, 250, 13200, shaft=thick,
               saddle=(NARROW, WIDE), saddle_length_mm=180, saddle_height_mm=105, axis_height_mm=290,
               periodic_error_arcsec=14, worm_period_s=480, guided_rms_arcsec=0.45, drive="belt", power=twelve(14, 36)),
        _mount("equatorial-40", "equatorial mount, 40 kg", "german_equatorial", 40, 300, 24000,
               shaft=Shaft(diameter_mm=30, start_mm=130, end_mm=560, mass_g=2900), saddle=(NARROW, WIDE),
               saddle_length_mm=250, saddle_height_mm=130, axis_height_mm=330, periodic_error_arcsec=8, worm_period_s=320,
               guided_rms_arcsec=0.4, drive="belt", power=twelve(20, 50)),
        _mount("strain-8", "strain-wave head, 8 kg", "strain_wave", 8, 200, 2200, needs_counterweight=False,
               saddle=(NARROW, WIDE), saddle_length_mm=90, saddle_height_mm=75, axis_height_mm=110,
               periodic_error_arcsec=45, worm_period_s=430, guided_rms_arcsec=0.9, drive="strain_wave", power=twelve(9, 26)),
        _mount("strain-13", "strain-wave head, 13 kg", "strain_wave", 13, 200, 3900, needs_counterweight=False,
               shaft=Shaft(diameter_mm=20, start_mm=60, end_mm=300, mass_g=600), saddle=(NARROW, WIDE),
               saddle_length_mm=110, saddle_height_mm=85, axis_height_mm=130, periodic_error_arcsec=40, worm_period_s=430,
               guided_rms_arcsec=0.8, drive="strain_wave", power=twelve(12, 36)),
        _mount("altaz-6", "alt-azimuth mount, 6 kg", "alt_azimuth", 6, 150, 4100, needs_counterweight=False,
               saddle=(NARROW,), saddle_height_mm=80, axis_height_mm=150, guide_input="none", periodic_error_arcsec=60,
               worm_period_s=480, power=twelve(6, 16)),
    ]  # fmt: skip


def _supports() -> list[Part]:
    def support(id: str, name: str, style: Any, mass: float, capacity: float, height: float, radius: float) -> Support:
        return Support(id=id, name=name, style=style, mass_g=mass, capacity_kg=capacity, height_mm=height,
                       foot_radius_mm=radius, status="listed")  # fmt: skip

    return [
        support("tripod-photo", "photo tripod, carbon", "tripod", 1900, 12, 850, 480),
        support("tripod-steel", "steel tripod", "tripod", 7600, 40, 800, 560),
        support("tripod-carbon", "short carbon tripod", "tripod", 3200, 30, 620, 420),
        support("pier-portable", "portable pier, three feet", "pier", 9800, 60, 900, 520),
        support("pier-fixed", "fixed pier, bolted down", "pier", 60000, 150, 1100, 300),
    ]


def _weights() -> list[Part]:
    def weight(id: str, kilos: float, bore: float, thick: float) -> Counterweight:
        return Counterweight(id=id, name=f"{kilos:g} kg counterweight, {bore:g} mm bore", mass_g=kilos * 1000,
                             bore_mm=bore, thickness_mm=thick, status="listed")  # fmt: skip

    return [
        weight("weight-05-8", 0.5, 8, 28), weight("weight-1-8", 1.0, 8, 40), weight("weight-19-20", 1.9, 20, 38),
        weight("weight-34-20", 3.4, 20, 55), weight("weight-51-20", 5.1, 20, 70), weight("weight-7-20", 7.0, 20, 85),
        weight("weight-7-30", 7.0, 30, 80), weight("weight-10-30", 10.0, 30, 100),
        Accessory(id="shaft-150", name="150 mm shaft extension", function="shaft_extension", length_mm=150, mass_g=420,
                  status="listed"),
    ]  # fmt: skip


def _riders() -> list[Part]:
    return [
        Rider(id="controller", name="small controller", function="controller", storage_gb=128, mass_g=190, length_mm=95, height_mm=30, power=twelve(7, 15),
              ports={"usb2": 2, "usb3": 2}, status="listed"),
        Rider(id="motor-focuser", name="motor focuser", function="focus_motor", mass_g=330, length_mm=65, height_mm=55, power=twelve(1, 5),
              status="listed"),
        Rider(id="power-box", name="power box, four outlets", function="power_box", mass_g=360, length_mm=130, height_mm=35,
              ports={"dc_out": 4, "dew_out": 2, "usb2": 2, "usb3": 2}, power=twelve(1), status="listed"),
        Rider(id="usb-hub", name="powered hub, four ports", mass_g=140, length_mm=90, height_mm=25,
              ports={"usb3": 4}, power=twelve(2), status="listed"),
        Rider(id="finder-8x50", name="8 × 50 finder", function="finder", mass_g=480, length_mm=220, height_mm=60, status="listed"),
        Rider(id="handle", name="carrying handle", mass_g=230, length_mm=200, height_mm=25, status="listed"),
        GuideScope(id="guide-30", name="30 mm f/4 guide scope", aperture_mm=30, focal_length_mm=120, mounting="shoe",
                   length_mm=130, diameter_mm=38, mass_g=290, status="listed"),
        GuideScope(id="guide-50", name="50 mm f/4 guide scope", aperture_mm=50, focal_length_mm=200, mounting="rings",
                   length_mm=210, diameter_mm=62, mass_g=780, status="listed"),
        GuideScope(id="guide-60", name="60 mm f/4 guide scope", aperture_mm=60, focal_length_mm=240, mounting="rings",
                   length_mm=240, diameter_mm=76, mass_g=1050, status="listed"),
        DewHeater(id="heater-90", name="dew heater up to 90 mm", aperture_mm=90, mass_g=60, power=twelve(8),
                  status="listed"),
        DewHeater(id="heater-120", name="dew heater up to 125 mm", aperture_mm=125, mass_g=75, power=twelve(11),
                  status="listed"),
        DewHeater(id="heater-240", name="dew heater up to 240 mm", aperture_mm=240, mass_g=120, power=twelve(20),
                  status="listed"),
    ]  # fmt: skip


def _supplies() -> list[Part]:
    def cable(id: str, name: str, length: float, area: float | None, one: str, other: str, **more: Any) -> Cable:
        return Cable(id=id, name=name, length_mm=length, conductor_mm2=area, from_plug=one, to_plug=other, mass_g=60,
                     status="listed", **more)  # fmt: skip

    dc, clip = "5.5 × 2.1 mm", "battery clips"
    return [
        PowerSource(id="battery-74", name="74 Wh power pack", energy_wh=74, voltage_v=12, max_a=5,
                    chemistry="lithium_ion", usable_fraction=0.85, mass_g=480, status="listed",
                    ports={"dc_out": 1, "usb2": 1}),
        PowerSource(id="battery-256", name="256 Wh LiFePO4 battery", energy_wh=256, voltage_v=12.8, max_a=20,
                    chemistry="lithium_iron", mass_g=2600, status="listed", ports={"dc_out": 2}),
        PowerSource(id="battery-640", name="640 Wh LiFePO4 battery", energy_wh=640, voltage_v=12.8, max_a=40,
                    chemistry="lithium_iron", mass_g=6400, status="listed", ports={"dc_out": 3}),
        PowerSource(id="battery-1280", name="1,280 Wh LiFePO4 battery", energy_wh=1280, voltage_v=12.8, max_a=60,
                    chemistry="lithium_iron", mass_g=12400, status="listed", ports={"dc_out": 4}),
        PowerSource(id="battery-lead", name="80 Ah lead battery", energy_wh=960, voltage_v=12, max_a=40, chemistry="lead",
                    usable_fraction=0.5, mass_g=22000, status="listed", ports={"dc_out": 2}),
        PowerSource(id="mains-15", name="mains adapter, 12 V 15 A", mains=True, voltage_v=12, max_a=15, mass_g=650,
                    status="listed", ports={"dc_out": 1}),
        cable("cable-2-075", "2 m supply cable, 0.75 mm²", 2000, 0.75, clip, dc),
        cable("cable-2-15", "2 m supply cable, 1.5 mm²", 2000, 1.5, clip, dc),
        cable("cable-5-075", "5 m supply cable, 0.75 mm²", 5000, 0.75, clip, dc),
        cable("cable-3-05", "3 m lead, 0.5 mm²", 3000, 0.5, dc, dc),
        cable("cable-usb-2", "2 m data cable", 2000, None, "USB", "USB", carries="data"),
    ]  # fmt: skip


def _accessories() -> list[Part]:
    return [
        Accessory(id="spreader-6", name="6 kg spreader weight", function="spreader_weight", mass_g=6000, status="listed"),
        Accessory(id="pier-200", name="200 mm pier extension", function="pier_extension", length_mm=200, mass_g=1800,
                  status="listed"),
        Accessory(id="pads-3", name="three ground pads", function="pad", mass_g=450, status="listed"),
        Accessory(id="case-600", name="padded case, 600 × 220 × 240 mm inside", function="case", length_mm=600,
                  width_mm=220, height_mm=240, mass_g=3600, status="listed"),
        Accessory(id="shield-90", name="dew shield for 90 mm", function="dew_shield", mass_g=180, status="listed"),
        Accessory(id="release", name="remote release with a timer", function="remote_release", mass_g=70, status="listed"),
        Accessory(id="card-64", name="64 GB memory card", function="memory_card", storage_gb=64, mass_g=3, status="listed"),
        Accessory(id="card-256", name="256 GB memory card", function="memory_card", storage_gb=256, mass_g=3, status="listed"),
        Accessory(id="battery-spare", name="spare camera battery", function="spare_battery", mass_g=50, status="listed"),
        Accessory(id="laptop", name="small laptop on a folding table", function="computer", storage_gb=500, mass_g=3900,
                  status="listed"),
        Accessory(id="panel-flat", name="flat panel, 200 mm", function="flat_panel", luminance_cd_m2=60, mass_g=700, status="listed"),
    ]  # fmt: skip


def starter_gear() -> list[Part]:
    """All of it, each part with a stable id and the status ``listed``."""
    return [*_mounts(), *_supports(), *_weights(), *_riders(), *_supplies(), *_accessories()]
