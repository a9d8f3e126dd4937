"""Every rule of the Power step at its limits, and the numbers behind them."""

from datetime import date

import numpy as np
import pytest

from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import (
    Accessory,
    Cable,
    CableRun,
    DewHeater,
    Placed,
    PowerSource,
    Preferences,
    Rider,
    Rig,
    Site,
    Supply,
)
from dravel.core.model.parts import Power
from dravel.core.physics import dew, energy
from dravel.core.steps import STEPS
from dravel.core.steps.power.facts import Powering
from dravel.core.steps.power.view import power_view
from tests.conftest import a_camera, a_framing, a_rig, a_telescope
from tests.says import says

PLAIN = Preferences(energy_reserve=0, heater_duty=0.5)
WARM = Site(name="warm", latitude_deg=40, longitude_deg=0, night_temperature_c=20, humidity=0.4)


def watts(typical: float, peak: float | None = None, volts: float = 12) -> Power:
    return Power(voltage_v=volts, typical_w=typical, peak_w=peak)


def box(typical: float, peak: float | None = None, **more: object) -> Placed:
    return Placed(part=Rider(name=f"{typical:g} W box", power=watts(typical, peak), mass_g=100, **more))


def battery(**more: object) -> PowerSource:
    base = {
        "name": "battery",
        "energy_wh": 100,
        "voltage_v": 12,
        "max_a": 10,
        "usable_fraction": 1.0,
        "ports": {"dc_out": 4},
    }
    return PowerSource.model_validate(base | more)


def fed(*riders: Placed, source: PowerSource | None = None, hours: float = 10, **more: object) -> Rig:
    cables = more.pop("cables", ())
    supply = Supply(source=source if source is not None else battery(), hours=hours, cables=cables)
    return Rig.model_validate({"name": "Test rig", "site": WARM, "riders": riders, "supply": supply, **more})


def verdict(rig: Rig, code: str, preferences: Preferences = PLAIN) -> str | None:
    said = [f.verdict for f in STEPS.evaluate(rig, preferences).findings if f.code == code]
    return min(said, key=("problem", "warning", "ok").index, default=None)


@pytest.mark.parametrize(
    ("typical", "expected"), [(9.9, "ok"), (10.1, "warning"), (12.4, "warning"), (12.6, "problem")]
)
def test_p1_energy_for_the_hours(typical, expected):
    # 100 Wh over ten hours: ten watts; a fifth more strains.
    assert verdict(fed(box(typical)), "P1") == expected


@pytest.mark.parametrize(("reserve", "lasts"), [(0.0, 10.0), (0.2, 8.0), (0.5, 5.0)])
def test_the_reserve_is_kept(reserve, lasts):
    figure = STEPS.evaluate(fed(box(10)), Preferences(energy_reserve=reserve)).figure("power.hours_left_h")
    assert figure.value == pytest.approx(lasts)


@pytest.mark.parametrize(
    ("chemistry", "celsius", "share"),
    [
        ("lithium_iron", 20, 1.0),
        ("lithium_iron", 10, 0.9),
        ("lithium_iron", 0, 0.8),
        ("lithium_iron", -10, 0.675),
        ("lithium_iron", -40, 0.55),
        ("lithium_ion", 0, 0.85),
        ("lead", 0, 0.78),
        ("lead", -20, 0.5),
    ],
)
def test_the_cold_takes_its_share(chemistry, celsius, share):
    assert energy.cold_factor(chemistry, celsius) == pytest.approx(share)
    site = WARM.model_copy(update={"night_temperature_c": celsius})
    rig = fed(box(5), source=battery(chemistry=chemistry), site=site)
    assert STEPS.evaluate(rig, PLAIN).figure("power.energy_had_wh").value == pytest.approx(100 * share)


def test_p1_without_a_supply_and_on_the_mains():
    bare = fed(box(5)).model_copy(update={"supply": Supply(hours=8)})
    assert verdict(bare, "P1") == "warning"
    assert verdict(fed(box(500), source=battery(mains=True)), "P1") == "ok"
    assert verdict(Rig(name="empty"), "P1") is None
    assert verdict(fed(box(5), source=battery(energy_wh=None)), "P1") is None


@pytest.mark.parametrize(("peak", "expected"), [(95, "ok"), (97, "warning"), (119, "warning"), (121, "problem")])
def test_p2_largest_current(peak, expected):
    # 12 V and 10 A: 120 W; above eight tenths it strains.
    assert verdict(fed(box(5, peak)), "P2") == expected
    assert verdict(fed(box(5, peak), source=battery(max_a=None)), "P2") is None


@pytest.mark.parametrize(
    ("area", "metres", "expected"),
    # 5 A at the worst; 5 % of 12 V is 0.6 V, 10 % is 1.2 V.
    [(0.75, 2.2, "ok"), (0.75, 2.4, "warning"), (0.75, 4.7, "problem"), (2.5, 7.4, "ok"), (2.5, 7.6, "warning")],
)
def test_p3_voltage_at_the_far_end(area, metres, expected):
    cable = Cable(name="c", length_mm=metres * 1000, conductor_mm2=area)
    assert verdict(fed(box(5, 60), cables=(cable,)), "P3") == expected


def test_a_second_cable_that_nobody_says_anything_of_is_not_judged():
    thick, thin = (Cable(name=f"{a}", length_mm=2000, conductor_mm2=a) for a in (2.5, 0.75))
    data = Cable(name="usb", length_mm=9000, conductor_mm2=0.1, carries="data")
    rig = fed(box(5, 60), cables=(thick, thin, data))
    result = STEPS.evaluate(rig, PLAIN)
    assert result.figure("power.drop_v").value == pytest.approx(energy.voltage_drop_v(thick, 5))
    assert says(next(f.reason for f in result.findings if f.code == "P3"), "cable_unassigned", "0.75")
    drawn = power_view(STEPS.context(rig, PLAIN)).cables
    assert [(cable.name, cable.words) for cable in drawn][1] == ("0.75", "consumer not assigned")
    unknown = fed(box(5, 60), cables=(Cable(name="c", length_mm=2000),))
    assert verdict(unknown, "P3") is None and power_view(STEPS.context(unknown, PLAIN)).cables[0].drop_v is None


def test_sizes_beyond_the_standards_list_go_by_copper():
    assert energy.conductor_ohm(1.25, 1_000_000) == pytest.approx(2 * 18.5 / 1.25, rel=1e-6)


@pytest.mark.parametrize(
    ("boxes", "outlets", "expected"), [(3, 4, "ok"), (4, 4, "ok"), (5, 4, "warning"), (1, 0, "warning")]
)
def test_p4_outlets(boxes, outlets, expected):
    ports = {"dc_out": outlets} if outlets else {}
    assert verdict(fed(*(box(1 + i) for i in range(boxes)), source=battery(ports=ports)), "P4") == expected


def test_p4_counts_dew_outlets_and_data_ports_apart():
    band = Placed(part=DewHeater(name="band", aperture_mm=90, power=watts(8)))
    rig = fed(band, box(1, ports={"usb3": 2, "dew_out": 0}), source=battery())
    finding = next(f for f in STEPS.evaluate(rig, PLAIN).findings if f.code == "P4")
    assert finding.verdict == "warning" and says(finding.measure, "missing", "1")
    given = fed(band, box(1, ports={"dew_out": 1}), source=battery())
    assert verdict(given, "P4") == "ok"
    small = fed(Placed(part=Rider(name="usb thing", power=watts(2, volts=5))), source=battery(ports={}))
    assert verdict(small, "P4") is None  # nothing that wants an outlet


@pytest.mark.parametrize(
    ("humidity", "heated", "expected"),
    [(0.4, False, "ok"), (0.6, False, "ok"), (0.8, False, "warning"), (0.95, False, "warning"), (0.95, True, "ok")],
)
def test_p5_dew(humidity, heated, expected):
    site = WARM.model_copy(update={"humidity": humidity, "night_temperature_c": 8})
    bands = (Placed(part=DewHeater(name="band", aperture_mm=100, power=watts(8))),) if heated else ()
    rig = a_rig(a_telescope(), a_camera(), site=site, riders=bands)
    assert verdict(rig, "P5") == expected


def test_a_shield_halves_what_the_open_sky_takes():
    lens = a_rig(a_telescope(design="camera_lens"), a_camera(), site=WARM)
    bare = STEPS.evaluate(lens, PLAIN).figure("power.dew_margin_k").value
    shield = Accessory(name="shield", function="dew_shield")
    shielded = lens.model_copy(update={"extras": (shield,)})
    assert STEPS.evaluate(shielded, PLAIN).figure("power.dew_margin_k").value == pytest.approx(bare + 1)
    refractor = a_rig(a_telescope(design="triplet"), a_camera(), site=WARM)
    assert STEPS.evaluate(refractor, PLAIN).figure("power.dew_margin_k").value == pytest.approx(bare + 1)


@pytest.mark.parametrize(
    ("source", "expected", "words"),
    [
        (battery(mains=True), "warning", "residual_current_device"),
        (battery(), "ok", "no_home_made_pack"),
        (battery(chemistry="lead"), "ok", "upright_and_ventilated"),
        (battery(max_a=None), "ok", "fuse_near_battery"),
    ],
)
def test_p6_cautions(source, expected, words):
    finding = next(f for f in STEPS.evaluate(fed(box(5), source=source), PLAIN).findings if f.code == "P6")
    assert finding.verdict == expected and says(finding.reason, words)


@pytest.mark.parametrize(("celsius", "share"), [(-30, 0.25), (-10, 0.25), (25, 1.0), (7.5, 0.25 + 0.75 * 0.25)])
def test_cooling_goes_with_the_square_of_the_difference(celsius, share):
    camera = a_camera(power=watts(20, 36), cooling_delta_k=35)
    site = WARM.model_copy(update={"night_temperature_c": celsius})
    rig = a_rig(a_telescope(), camera, site=site, supply=Supply(source=battery()))
    assert STEPS.context(rig, PLAIN).of(Powering).mean_w == pytest.approx(20 * share)
    assert STEPS.context(rig, PLAIN).of(Powering).peak_w == 36
    assert Preferences().sensor_c == -10


def test_heaters_are_on_part_of_the_time():
    band = Placed(part=DewHeater(name="band", aperture_mm=90, power=watts(10)))
    for duty in (0.0, 0.3, 1.0):
        assert STEPS.context(fed(band), Preferences(heater_duty=duty)).of(Powering).mean_w == pytest.approx(10 * duty)


@pytest.mark.parametrize(
    ("hours", "night", "site", "expected", "words"),
    [
        (6.0, date(2026, 11, 25), WARM, 6.0, "as set"),
        (None, None, WARM, 8.0, "assumed (Preferences)"),
        (None, date(2026, 11, 25), None, 8.0, "assumed (Preferences)"),
    ],
)
def test_how_long_it_is_on(hours, night, site, expected, words):
    rig = Rig(name="r", site=site, riders=(box(5),), supply=Supply(source=battery(), hours=hours))
    assert STEPS.context(rig, PLAIN, tonight=night).of(Powering).hours == (expected, words)


def test_the_dark_hours_of_the_night_count_and_a_plan_goes_before_tonight():
    rig = a_rig(a_telescope(), a_camera(), site=WARM, framings=(a_framing(night="2026-06-21"),))
    summer, words = STEPS.context(rig, PLAIN, tonight=date(2026, 11, 25)).of(Powering).hours
    assert summer < 7 and "21–22" in str(words)
    winter, _ = (
        STEPS.context(rig.model_copy(update={"framings": ()}), PLAIN, tonight=date(2026, 12, 21)).of(Powering).hours
    )
    assert winter > 10


def test_the_curve_falls_evenly_to_the_end():
    view = power_view(STEPS.context(fed(box(5)), PLAIN))
    assert view.left_wh[0] == 100 and view.left_wh[-1] == pytest.approx(50)
    assert np.diff(view.left_wh) == pytest.approx(np.diff(view.left_wh)[0], abs=0.02)
    assert view.air_c[0] == pytest.approx(26) and view.air_c[-1] == pytest.approx(20)
    assert all(glass < air for glass, air in zip(view.glass_c, view.air_c, strict=True))
    assert view.consumers[0].share == 1 and view.notes == ()


def test_night_air_never_leaves_its_bounds():
    air = dew.night_air(5, np.linspace(-2, 14, 30), 10)
    assert air.max() == 11 and air.min() == 5


@pytest.mark.parametrize("entry", [p for p in starter_shelf() if p.power is not None], ids=lambda p: p.id)
def test_starter_parts_draw_less_on_average_than_at_worst(entry):
    assert entry.power.typical_w <= (entry.power.peak_w or entry.power.typical_w)


@pytest.mark.parametrize("source", ["battery-74", "battery-256", "battery-640", "battery-1280", "battery-lead"])
def test_larger_batteries_last_longer(source):
    small = energy.usable_wh(part("battery-74"), 0, 0.2)
    assert energy.usable_wh(part(source), 0, 0.2) >= small


LEAD = Cable(id="lead", name="lead", length_mm=3000, conductor_mm2=0.5)
TRUNK = Cable(id="trunk", name="trunk", length_mm=2000, conductor_mm2=1.5)


def tree(*runs: CableRun, cables: tuple[Cable, ...] = (TRUNK, LEAD)) -> Rig:
    focuser = Placed(part=Rider(id="focuser", name="focuser", power=watts(1, 6), mass_g=100))
    camera = Placed(part=Rider(id="camera", name="camera", power=watts(10, 60), mass_g=100))
    return fed(focuser, camera, cables=cables).model_copy(
        update={"supply": Supply(source=battery(), hours=10, cables=cables, runs=runs)}
    )


def lost(rig: Rig) -> dict[str, float | None]:
    return {cable.name: cable.drop_v for cable in power_view(STEPS.context(rig, PLAIN)).cables}


def test_a_focuser_lead_does_not_carry_the_camera():
    # 6 W at 12 V through 3 m of 0.5 mm2 (39.0 ohm/km, IEC 60228): 2 x 3 x 0.039 x 0.5 = 0.117 V; the trunk carries both,
    # 66 W: 2 x 2 x 0.0133 x 5.5 = 0.293 V. In series they add.
    alone = lost(tree(CableRun(cable="lead", feeds=("focuser",))))
    assert alone == {"trunk": pytest.approx(2 * 2 * 0.0133 * 5.0), "lead": pytest.approx(0.117)}
    behind = lost(tree(CableRun(cable="lead", behind="trunk", feeds=("focuser",))))
    assert behind == {"trunk": pytest.approx(0.2926), "lead": pytest.approx(0.2926 + 0.117)}
    figure = STEPS.evaluate(tree(CableRun(cable="lead", behind="trunk", feeds=("focuser",))), PLAIN).figure(
        "power.drop_v"
    )
    assert figure.value == pytest.approx(0.4096, abs=1e-4) and len(figure.inputs) == 7


def test_rings_of_cables_and_cables_that_are_gone_are_answered():
    ring = tree(CableRun(cable="lead", behind="trunk"), CableRun(cable="trunk", behind="lead", feeds=("camera",)))
    assert set(lost(ring)) == {"trunk", "lead"}
    assert lost(tree(CableRun(cable="gone", behind="lead", feeds=("focuser",))))["lead"] is None


def test_a_thicker_cable_is_offered_for_the_one_that_loses_most():
    thin = Cable(id="thin", name="thin", length_mm=5000, conductor_mm2=0.5)
    rig = tree(CableRun(cable="lead", behind="thin", feeds=("focuser",)), cables=(thin, LEAD))
    finding = next(f for f in STEPS.evaluate(rig, PLAIN, (part("cable-2-15"),)).findings if f.code == "P3")
    assert finding.verdict == "problem" and says(finding.fixes[0].label, "replace_cable", "2 m supply cable, 1.5 mm²")
    runs = next(item.value for item in finding.fixes[0].change if item.path == "/supply/runs")
    assert runs[0]["behind"] == "cable-2-15"


@pytest.mark.parametrize(
    ("bands", "heated"),
    # A 90 mm band goes round 86 mm of glass; a 60 mm one does not, nor does one three times too wide lie on it.
    [((90,), True), ((60,), False), ((300,), False), ((60, 90), True), ((), False)],
)
def test_a_heater_counts_only_on_the_glass_it_fits(bands, heated):
    worn = tuple(Placed(part=DewHeater(name=f"band {mm}", aperture_mm=mm, power=watts(8), mass_g=50)) for mm in bands)
    rig = a_rig(a_telescope(), a_camera(), riders=worn, site=WARM.model_copy(update={"humidity": 0.95}))
    assert STEPS.context(rig, PLAIN).of(Powering).heated is heated
    assert verdict(rig, "P5") == ("ok" if heated else "warning")


def test_the_guide_scope_fogs_for_itself():
    scope = Placed(part=part("guide-50"), off_mm=100)
    band = Placed(part=DewHeater(name="band", aperture_mm=90, power=watts(8), mass_g=50))
    site = WARM.model_copy(update={"humidity": 0.95})
    rig = a_rig(a_telescope(), a_camera(), riders=(scope, band), site=site)
    answer = {f.subject: f.verdict for f in STEPS.evaluate(rig, PLAIN).findings if f.code == "P5"}
    assert answer == {None: "ok", "50 mm f/4 guide scope": "warning"}


@pytest.mark.parametrize(
    ("air", "humidity", "frost"),
    # Saturation over ice and over water from the WMO's tables (from memory): 2.60 and 2.86 hPa at -10 C, 1.03 and 1.25
    # at -20 C: air saturated over ice at those temperatures has 90.7 and 82.2 % over water.
    [(-10.0, 0.907, -10.0), (-20.0, 0.822, -20.0), (10.0, 0.9, None)],
)
def test_frost_sets_in_above_the_dew_point(air, humidity, frost):
    result = dew.frost_point_c(air, humidity)
    assert result is None if frost is None else result == pytest.approx(frost, abs=0.1)
    if result is not None:
        assert result > dew.dew_point_c(air, humidity)


def test_below_zero_the_frost_point_counts():
    cold = Site(name="cold", latitude_deg=40, longitude_deg=0, night_temperature_c=-12, humidity=0.8)
    finding = next(
        f for f in STEPS.evaluate(a_rig(a_telescope(), a_camera(), site=cold), PLAIN).findings if f.code == "P5"
    )
    assert says(finding.reason, "frost_point")
    assert power_view(STEPS.context(a_rig(a_telescope(), a_camera(), site=cold), PLAIN)).settles == "frost"


@pytest.mark.parametrize(("air", "expected"), [(5, "ok"), (12, "warning"), (20, "problem")])
def test_e7_cooling_that_cannot_be_reached(air, expected):
    # 30 K below the air, six degrees warmer at dusk than at its coldest, for a sensor at -10 C.
    site = WARM.model_copy(update={"night_temperature_c": air})
    rig = a_rig(a_telescope(), a_camera(cooling_delta_k=30, power=watts(20).model_dump()), site=site)
    assert verdict(rig, "E7") == expected
    warmer = PLAIN.model_copy(update={"sensor_c": 5.0})
    assert verdict(rig, "E7", warmer) == "ok"
    assert verdict(a_rig(a_telescope(), a_camera(), site=site), "E7") is None


def test_setting_up_and_flats_are_on_beside_the_dark_hours():
    rig = a_rig(a_telescope(), a_camera(), site=WARM)
    night = date(2026, 12, 21)
    bare = PLAIN.model_copy(update={"setup_hours": 0.0, "flats_hours": 0.0})
    dark, words = STEPS.context(rig, bare, tonight=night).of(Powering).hours
    assert words == "dark hours of 21–22 Dec 2026"
    assert STEPS.context(rig, PLAIN, tonight=night).of(Powering).hours[0] == pytest.approx(dark + 1)
