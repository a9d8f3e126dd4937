"""Statics, guiding and power against hand-solved cases, simulation, textbook solids and published tables."""

from math import cos, pi, radians, sin

import numpy as np
import psychrolib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dravel.catalogue.stars import FAINTEST, stars
from dravel.core.model import (
    Cable,
    Counterweight,
    Hung,
    Mount,
    Placed,
    PowerSource,
    Preferences,
    Rider,
    Rig,
    Shaft,
    Support,
)
from dravel.core.physics import dew, energy, tracking
from dravel.core.sky.star_counts import (
    Eye,
    brightest_expected,
    centroid_arcsec,
    chance_of_none,
    density,
    galactic_latitude,
)
from dravel.core.steps import STEPS
from dravel.core.steps.mount import balancing, stand
from dravel.core.steps.mount.bodies import Body, Carried
from dravel.core.steps.mount.facts import Load

P = Preferences(ra_balance="exact")
RNG = np.random.default_rng(20261125)


def a_mount(**more: object) -> Mount:
    base = {"name": "mount", "style": "german_equatorial", "payload_kg": 20, "rated_arm_mm": 250, "mass_g": 10_000,
            "shaft": Shaft(diameter_mm=20, start_mm=50, end_mm=700), "saddle_height_mm": 0, "axis_height_mm": 200}  # fmt: skip
    return Mount.model_validate(base | more)


def a_weight(kilos: float, thick: float = 40) -> Counterweight:
    return Counterweight(name=f"{kilos} kg", mass_g=kilos * 1000, bore_mm=20, thickness_mm=thick)


def a_rider(kilos: float, **place: object) -> Placed:
    return Placed.model_validate({"part": Rider(name="rider", mass_g=kilos * 1000), **place})


def point(mass: float, along: float = 0, across: float = 0, up: float = 0, length: float = 0, wide: float = 0) -> Body:
    return Body("thing", "rider", mass, along, across, up, length, wide)


def inertia(*given: object) -> float:
    return sum(value for value, _ in balancing.inertias(*given))  # type: ignore[arg-type]


def load_of(*bodies: Body) -> Carried:
    return Carried(bodies, (), (), 0.0)


def test_ten_kilograms_at_250_mm_want_five_at_500():
    # Common practice, solved by hand: 10 kg · 250 mm = 5 kg · 500 mm.
    result = balancing.hang(
        [a_weight(5)], balancing.load_moment(a_mount(), load_of(point(10, up=250))), a_mount().shaft
    )
    assert result.middle == pytest.approx(500) and result.fits == ""


def test_thirteen_on_twenty_is_065():
    # Common practice: 13 kg on a 20 kg mount.
    rig = Rig(name="r", mount=a_mount(), riders=(a_rider(13),))
    result = STEPS.evaluate(rig, P)
    assert result.figure("mount.payload_fraction").value == pytest.approx(0.65)
    finding = next(f for f in result.findings if f.code == "L1")
    assert finding.verdict == "ok" and finding.measure == "13.0 kg"
    assert [s.verdict for s in finding.schools] == ["ok", "warning", "ok"]


def test_moments_agree_with_an_independent_sum():
    for _ in range(20):
        bodies = [point(*RNG.uniform(0.1, 8, 1), *RNG.uniform(-300, 300, 3)) for _ in range(6)]
        held = load_of(*bodies)
        mass = sum(b.mass_kg for b in bodies)
        by_hand = [sum(b.mass_kg * getattr(b, axis) for b in bodies) / mass for axis in ("along", "across", "up")]
        assert held.centre == pytest.approx(by_hand)
        weights = [a_weight(float(w)) for w in RNG.uniform(0.5, 9, 3)]
        moment = float(RNG.uniform(500, 5000))
        result = balancing.hang(weights, moment, a_mount().shaft)
        hung = tuple(
            Hung.model_construct(part=w, position_mm=x) for w, x in zip(result.weights, result.positions, strict=True)
        )
        assert balancing.hung_moment(hung) == pytest.approx(moment)
        gaps = np.diff(result.positions) - [
            (a.thickness_mm + b.thickness_mm) / 2 for a, b in zip(result.weights, result.weights[1:], strict=False)
        ]
        assert gaps == pytest.approx(0)


def test_inertia_against_textbook_solids():
    # A thin rod about its middle: m l² / 12; a solid cylinder about a diameter: m (3 r² + l²) / 12; a point: m r².
    rod = inertia(a_mount(shaft=None), load_of(point(6, length=1000)), (), None)
    assert rod == pytest.approx(6 * 1**2 / 12)
    cylinder = inertia(a_mount(shaft=None), load_of(point(6, length=500, wide=200)), (), None)
    assert cylinder == pytest.approx(6 * (3 * 0.1**2 + 0.5**2) / 12)
    weight = inertia(a_mount(shaft=None), load_of(), (Hung(part=a_weight(5), position_mm=400),), None)
    assert weight == pytest.approx(5 * 0.4**2)
    bar = Shaft(diameter_mm=20, start_mm=0, end_mm=600, mass_g=3000)
    assert inertia(a_mount(), load_of(), (), bar) == pytest.approx(3 * 0.6**2 / 3)  # a rod about its end


def test_closer_in_is_less_inertia():
    weights = [a_weight(2), a_weight(4), a_weight(7)]
    shaft = a_mount().shaft
    spread = balancing.choices(weights, 1500, shaft, "spread")
    close = balancing.choices(weights, 1500, shaft, "close_in")
    assert spread[0].mass < close[0].mass and spread[0].inertia > close[0].inertia


def test_wind_of_four_metres_a_second():
    # ASCE 7 in SI form: q = 0.613 v² Pa; 4 m/s gives 9.8 Pa.
    assert stand.pressure_pa(4) == pytest.approx(9.8, abs=0.02)


def test_tipping_against_a_hand_solved_tripod():
    # Feet on a circle of 400 mm: edges 200 mm off. 10 kg over the middle; 5 kg hanging 500 mm out over an edge:
    # restoring 10 · 200, overturning 5 · 300 -> 1.333.
    rig = Rig(name="r", mount=a_mount(mass_g=4000, needs_counterweight=False, shaft=None),
              support=Support(name="s", mass_g=6000, height_mm=800, foot_radius_mm=400))  # fmt: skip
    result = stand.tipping(rig, load_of(point(5, up=500)), 500)
    assert result.worst == pytest.approx(10 * 200 / (5 * 300))
    over_a_foot = result.margins[0]
    assert over_a_foot > result.worst


@settings(max_examples=40, deadline=None)
@given(mass=st.floats(0.1, 15), off=st.floats(10, 400), along=st.floats(-300, 300))
def test_mirrored_riders_cancel(mass, off, along):
    pair = tuple(a_rider(mass, off_mm=off, along_mm=along, side=side) for side in ("left", "right"))
    rig = Rig(name="r", mount=a_mount(), riders=pair)
    assert STEPS.context(rig, P).of(Load).carried.centre[1] == pytest.approx(0, abs=1e-9)


@settings(max_examples=40, deadline=None)
@given(mass=st.floats(0.1, 30), more=st.floats(0.1, 10))
def test_adding_mass_never_raises_a_margin(mass, more):
    order = {"problem": 0, "warning": 1, "ok": 2}
    plain = {
        "mount": a_mount(),
        "support": Support(name="s", mass_g=6000, height_mm=800, foot_radius_mm=400, capacity_kg=30),
    }
    light = STEPS.evaluate(Rig(name="r", riders=(a_rider(mass),), **plain), P)
    heavy = STEPS.evaluate(Rig(name="r", riders=(a_rider(mass), a_rider(more)), **plain), P)
    for code in ("L1", "L2", "L10", "L11", "L12"):
        before = [order[f.verdict] for f in light.findings if f.code == code]
        after = [order[f.verdict] for f in heavy.findings if f.code == code]
        assert after <= before, code


def test_unguided_limit_is_about_ten_seconds():
    # Common practice, worked: 30″ peak to peak in 480 s at 2″/px.
    rate = tracking.worst_rate_arcsec_s(30, 480)
    assert tracking.unguided_limit_s(2, rate, 0) == pytest.approx(10.2, abs=0.1)


def test_tracking_error_against_simulation():
    # A sine error with a drift, sampled finely: the worst trail of a short sub is rate times length.
    size, period, drift, sub = 30.0, 480.0, tracking.polar_drift_arcsec_s(5), 5.0
    t = np.linspace(0, period, 20_001)
    error = size / 2 * np.sin(2 * pi * t / period) + drift * t
    ahead = size / 2 * np.sin(2 * pi * (t + sub) / period) + drift * (t + sub)
    worst = np.abs(ahead - error).max()
    rate = tracking.worst_rate_arcsec_s(size, period)
    assert worst == pytest.approx((rate + drift) * sub, rel=0.01)
    # An even drift over a sub: its RMS about the mean.
    moved = np.linspace(0, drift * 180, 10_001)
    assert moved.std() == pytest.approx(tracking.drift_rms_arcsec(drift, 180), rel=1e-3)


def test_five_arcminutes_drift_131_arcseconds_a_minute():
    assert tracking.polar_drift_arcsec_s(5) * 60 == pytest.approx(1.31, abs=0.01)


def turn(axis: np.ndarray, angle: float) -> np.ndarray:
    """Rotation matrix about a unit axis. Source: Rodrigues."""
    x, y, z = axis
    k = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.eye(3) + sin(angle) * k + (1 - cos(angle)) * k @ k


@pytest.mark.parametrize("declination", [0.0, 30.0, 55.0])
def test_the_rotation_formula_re_derived_with_rotation_matrices(declination):
    # The mount turns about an axis tilted by E; guiding holds one star. How far does another star, A away, move?
    error, minutes, focal, angle = 10.0, 5.0, 500.0, 1.0
    turned = 2 * pi * minutes / 1436.07
    worst = 0.0
    for hour in np.radians(np.arange(0, 360, 15)):
        star = np.array(
            [cos(radians(declination)) * cos(hour), cos(radians(declination)) * sin(hour), sin(radians(declination))]
        )
        tilt = radians(error / 60)
        pole, tilted = np.array([0, 0, 1.0]), np.array([sin(tilt), 0, cos(tilt)])
        # The sky turns about the pole, the telescope about its own axis: what is left in the telescope's frame.
        left = turn(tilted, -turned) @ turn(pole, turned)
        moved = left @ star
        # Guiding puts the star back with the mount's own axes: about its tilted pole, then in declination.
        a, b = (v - tilted * (tilted @ v) for v in (moved, star))
        about = np.arctan2(np.cross(a, b) @ tilted, a @ b)
        level = turn(tilted, about) @ moved
        across = np.cross(level, star)
        size = np.linalg.norm(across)
        lift = turn(across / size, np.arcsin(size)) if size > 1e-15 else np.eye(3)
        back = lift @ turn(tilted, about)
        remaining = back @ left
        east = np.cross(pole, star) / np.linalg.norm(np.cross(pole, star))
        worst = max(worst, abs(float(np.cross(east, remaining @ east) @ star)))
    shift_um = radians(angle) * focal * worst * 1000
    tolerance = tracking.polar_tolerance_arcmin(shift_um, declination, minutes, focal, angle)
    assert tolerance == pytest.approx(error, rel=0.02)


def test_centroid_noise():
    # King 1983 (from memory): FWHM / (2.355 · SNR).
    assert centroid_arcsec(2.355, 10) == pytest.approx(0.1)


def test_galactic_latitudes_of_known_places():
    # The galactic poles and centre, by definition; Polaris at b = 26.5° (from memory).
    assert galactic_latitude(192.859, 27.128) == pytest.approx(90, abs=0.01)
    assert galactic_latitude(266.405, -28.936) == pytest.approx(0, abs=0.1)
    assert galactic_latitude(37.95, 89.26) == pytest.approx(26.5, abs=0.1)


def test_star_counts_against_the_packaged_list_in_thirty_fields():
    listed = stars()
    answer, result = [], []
    for _ in range(30):
        z, ra = RNG.uniform(-1, 1), float(RNG.uniform(0, 360))
        dec = float(np.degrees(np.arcsin(z)))
        radius = 4.0
        count = int(np.count_nonzero(listed.around(ra, dec, radius, limit=100_000)[:, 2] <= 9.5))
        expected = density(9.5, galactic_latitude(ra, dec)) * 2 * pi * (1 - cos(radians(radius))) * (180 / pi) ** 2
        answer.append(expected)
        result.append(count)
        assert 0.3 < count / expected < 3, (ra, dec)  # single fields scatter: dust, clusters, the plane's own structure
    assert np.sum(result) == pytest.approx(np.sum(answer), rel=0.25)
    assert FAINTEST == 10


def test_the_brightest_star_to_expect_and_the_chance_of_none():
    for area, latitude in ((0.01, 5), (0.05, 60), (1.0, 30)):
        magnitude = brightest_expected(area, latitude)
        assert density(magnitude, latitude) * area == pytest.approx(1, rel=1e-6)
    assert chance_of_none(0) == 1 and chance_of_none(2.3) == pytest.approx(0.1, abs=0.01)


def test_the_eye_finds_its_own_limit():
    eye = Eye(area_mm2=2000, scale_arcsec_px=3.8, fwhm_arcsec=4, exposure_s=2, sky_mag_arcsec2=21)
    assert eye.signal_to_noise(eye.limit(10)) == pytest.approx(10)
    longer = Eye(area_mm2=2000, scale_arcsec_px=3.8, fwhm_arcsec=4, exposure_s=4, sky_mag_arcsec2=21)
    assert longer.limit(10) > eye.limit(10)


@pytest.mark.parametrize("air", [-10.0, 0.0, 5.0, 20.0, 30.0])
@pytest.mark.parametrize("humidity", [0.3, 0.5, 0.8, 0.99])
def test_dew_point_against_psychrolib(air, humidity):
    # ASHRAE's formulation as psychrolib has it; below freezing it goes over ice, where the two part by up to a kelvin.
    psychrolib.SetUnitSystem(psychrolib.SI)
    theirs = psychrolib.GetTDewPointFromRelHum(air, humidity)
    assert dew.dew_point_c(air, humidity) == pytest.approx(theirs, abs=0.1 if theirs > 0 else 2.2)


def test_dew_point_of_the_textbook():
    assert dew.dew_point_c(20, 0.5) == pytest.approx(9.3, abs=0.05)
    with pytest.raises(ValueError, match="humidity"):
        dew.dew_point_c(20, 0)


@pytest.mark.parametrize(("area", "ohm_per_km"), [(0.75, 26.0), (1.5, 13.3), (2.5, 7.98)])
def test_cable_drop_against_iec_60228(area, ohm_per_km):
    cable = Cable(name="c", length_mm=3000, conductor_mm2=area)
    assert energy.voltage_drop_v(cable, 4) == pytest.approx(2 * 0.003 * ohm_per_km * 4)
    assert energy.voltage_drop_v(cable.model_copy(update={"conductor_mm2": None}), 4) is None


def test_what_a_battery_gives_in_the_cold():
    source = PowerSource(name="b", energy_wh=100, usable_fraction=0.9, chemistry="lithium_iron")
    assert energy.usable_wh(source, 20, 0) == pytest.approx(90)
    assert energy.usable_wh(source, 0, 0.2) == pytest.approx(100 * 0.9 * 0.8 * 0.8)
    cold = [energy.cold_factor(kind, t) for kind in energy.COLD for t in (-30, -20, -10, 0, 10, 20, 30)]
    assert all(0.4 < factor <= 1 for factor in cold)
    assert energy.usable_wh(PowerSource(name="m", mains=True, energy_wh=5), 0, 0) is None


def test_cooling_draws_more_the_deeper_it_goes():
    shares = [energy.cooling_share(k, 35) for k in (0, 10, 20, 35, 60)]
    assert shares == sorted(shares) and shares[-1] == 1 and energy.cooling_share(5, 0) == 1
