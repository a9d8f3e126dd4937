"""Every rule of the Load step at its limits: a rig built for it, one step below and one above."""

from math import isinf

import pytest

from dravel.core.model import (
    Accessory,
    Counterweight,
    Dovetail,
    Guide,
    GuideScope,
    Hung,
    Mount,
    PathItem,
    Placed,
    Preferences,
    Rider,
    Rig,
    Shaft,
    Site,
    Support,
)
from dravel.core.steps import STEPS
from dravel.core.steps.mount import balancing, carry, legs, stand
from dravel.core.steps.mount.balancing import rated_nm
from dravel.core.steps.mount.bodies import BALANCE_SHARE, FOCUSER_SHARE, REFRACTOR_SHARE, saddle_of
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.mount.limits import EVEN
from dravel.core.steps.mount.view import disk_diameter_mm, mount_view
from tests.conftest import a_camera, a_rig, a_telescope

P = Preferences()
EXACT = Preferences(ra_balance="exact")
G = 9.80665


def mount(**more: object) -> Mount:
    base = {
        "name": "mount",
        "style": "german_equatorial",
        "payload_kg": 20,
        "rated_arm_mm": 200,
        "mass_g": 10_000,
        "saddle": ("44 mm",),
        "saddle_height_mm": 100,
        "axis_height_mm": 200,
        "shaft": Shaft(diameter_mm=20, start_mm=100, end_mm=400),
    }
    return Mount.model_validate(base | more)


def rider(kilos: float, **more: object) -> Placed:
    return Placed.model_validate({"part": Rider(name=f"{kilos:g} kg rider", mass_g=kilos * 1000), **more})


def weight(kilos: float, at: float, bore: float = 20, thick: float = 40) -> Hung:
    part = Counterweight(name=f"{kilos:g} kg", mass_g=kilos * 1000, bore_mm=bore, thickness_mm=thick)
    return Hung(part=part, position_mm=at)


def verdict(code: str, preferences: Preferences = P, **rig: object) -> str | None:
    """The worst of what a rule says of a rig made of these fields; None when it is silent."""
    given = {"name": "Test rig", "mount": mount(), **rig}
    said = [f.verdict for f in STEPS.evaluate(Rig.model_validate(given), preferences).findings if f.code == code]
    return min(said, key=("problem", "warning", "ok").index, default=None)


@pytest.mark.parametrize(
    ("kilos", "school", "expected"),
    [
        (13.3, "two_thirds", "ok"),
        (13.4, "two_thirds", "warning"),
        (20.0, "two_thirds", "warning"),
        (20.1, "two_thirds", "problem"),
        (10.0, "half", "ok"),
        (10.1, "half", "warning"),
        (20.0, "full", "ok"),
        (20.1, "full", "problem"),
    ],
)
def test_l1_payload_by_school(kilos, school, expected):
    assert verdict("L1", Preferences(payload=school), riders=(rider(kilos),)) == expected


@pytest.mark.parametrize(
    ("length", "diameter", "factor", "words"),
    [
        (500, 150, 1.0, "compact tube"),
        (500, 201, 0.85, "wide tube"),
        (1001, 150, 0.85, "long tube"),
        (1100, 250, 0.85**2, "wide and long tube"),
    ],
)
def test_l1_is_stricter_with_wide_and_long_tubes(length, diameter, factor, words):
    rig = a_rig(a_telescope(tube_length_mm=length, tube_diameter_mm=diameter, mass_g=5000), mount=mount())
    load = STEPS.context(rig, P).of(Load)
    assert load.derating == (pytest.approx(factor), words)
    assert load.allowed_by("two_thirds") == pytest.approx(20 * 2 / 3 * factor)


@pytest.mark.parametrize(
    ("kilos", "up", "expected"),
    [
        (10, 299, "ok"),  # 10 kg at 399 mm of 20 kg at 200
        (10, 301, "warning"),
        (10, 399, "warning"),
        (10, 401, "problem"),
    ],
)
def test_l2_arm_against_the_rating(kilos, up, expected):
    assert verdict("L2", riders=(rider(kilos, off_mm=up),)) == expected


def test_l2_takes_200_mm_where_the_maker_names_none():
    assert rated_nm(mount(rated_arm_mm=None)) == pytest.approx(20 * G * 0.2)
    assert rated_nm(mount(rated_arm_mm=300)) == pytest.approx(20 * G * 0.3)


@pytest.mark.parametrize(
    ("hung", "expected"),
    [
        ((weight(5, 120),), "ok"),
        ((weight(5, 119),), "problem"),  # its inner face lies inside the start
        ((weight(5, 380),), "ok"),
        ((weight(5, 381),), "problem"),
        ((weight(5, 200, bore=20.5),), "ok"),
        ((weight(5, 200, bore=30),), "problem"),
        ((weight(5, 200, bore=12),), "problem"),
        ((), "problem"),
    ],
)
def test_l3_weights_sit_on_the_shaft(hung, expected):
    assert verdict("L3", riders=(rider(8),), counterweights=hung) == expected


def test_l3_on_mounts_without_a_shaft_or_a_need():
    assert verdict("L3", mount=mount(shaft=None), riders=(rider(5),)) == "problem"
    assert verdict("L3", mount=mount(shaft=None, needs_counterweight=False), riders=(rider(5),)) is None
    assert verdict("L3", mount=mount(needs_counterweight=False), riders=(rider(5),)) == "ok"


def test_an_extension_lengthens_the_shaft():
    longer = Accessory(name="ext", function="shaft_extension", length_mm=150, mass_g=300)
    rig = Rig(name="r", mount=mount(), riders=(rider(8),), counterweights=(weight(5, 500),), extras=(longer,))
    shaft = balancing.shaft_of(rig)
    assert (shaft.end_mm, shaft.mass_g) == (550, 300)
    assert next(f for f in STEPS.evaluate(rig, P).findings if f.code == "L3").verdict == "ok"


@pytest.mark.parametrize(
    ("position", "expected"),
    [
        (300, "ok"),  # 10 kg at 150 mm want 5 kg at 300
        (308, "ok"),
        (310, "warning"),
        (374, "warning"),
        (376, "problem"),
        (291, "ok"),
        (290, "warning"),
    ],
)
def test_l13_balance_in_right_ascension(position, expected):
    result = verdict("L13", EXACT, riders=(rider(10, off_mm=50),), counterweights=(weight(5, position, thick=20),))
    assert result == expected


def test_l13_leaves_worm_drives_a_little_east_heavy():
    assert balancing.east_heavy(mount(drive="worm"), "east_heavy") == pytest.approx(0.01)
    assert balancing.east_heavy(mount(drive="belt"), "east_heavy") == 0
    assert balancing.east_heavy(mount(drive="strain_wave"), "east_heavy") == 0
    assert balancing.east_heavy(mount(drive="worm"), "exact") == 0
    rig = Rig(name="r", mount=mount(), riders=(rider(10, off_mm=50),), counterweights=(weight(5, 200),))
    worm = STEPS.evaluate(rig, P).figure("mount.counterweight_position_mm").value
    even = STEPS.evaluate(rig, EXACT).figure("mount.counterweight_position_mm").value
    assert worm == pytest.approx(even * 0.99)


@pytest.mark.parametrize(
    ("share", "expected"),
    [(0.019, "ok"), (0.021, "warning"), (0.099, "warning"), (0.101, "problem"), (-0.021, "warning"), (-0.2, "problem")],
)
def test_l4_declination_against_the_rated_moment(share, expected):
    # 10 kg: so many millimetres make that share of 20 kg at 200 mm.
    along = share * 20 * 200 / 10
    assert verdict("L4", riders=(rider(10, along_mm=along),)) == expected
    assert (EVEN.warning, EVEN.problem) == (0.02, 0.10)


@pytest.mark.parametrize(
    ("share", "school", "expected"),
    [
        (0.019, "balance_it", "ok"),
        (0.03, "balance_it", "warning"),
        (0.03, "mount_can_take_it", "ok"),
        (0.11, "mount_can_take_it", "problem"),
    ],
)
@pytest.mark.parametrize("side", ["left", "right"])
def test_l5_side_riders_by_school(share, school, side, expected):
    off = share * 20 * 200 / 10
    assert verdict("L5", Preferences(side_balance=school), riders=(rider(10, side=side, off_mm=off),)) == expected


def test_l5_is_silent_without_side_riders():
    assert verdict("L5", riders=(rider(10, side="top", off_mm=100),)) is None
    assert verdict("L5", riders=(rider(10, side="below", off_mm=100),)) is None


@pytest.mark.parametrize(
    ("kilos", "expected"),
    # 3 kg over the middle, edges 150 mm off: 450 against 70 mm of overhang a kilogram.
    [(2.0, "ok"), (4.2, "ok"), (4.4, "warning"), (6.3, "warning"), (6.5, "problem"), (14.0, "problem")],
)
def test_l6_a_head_beside_the_middle_tips_a_light_tripod(kilos, expected):
    light = Support(name="s", mass_g=1000, height_mm=900, foot_radius_mm=300)
    head = mount(mass_g=2000, shaft=None, needs_counterweight=False, saddle_height_mm=90)
    calm = Site(name="calm", latitude_deg=40, longitude_deg=0, wind_m_s=0)
    result = verdict("L6", mount=head, support=light, site=calm, riders=(rider(kilos, off_mm=130),))
    margin = stand.tipping(
        Rig(name="r", mount=head, support=light), STEPS.context(Rig(name="r", mount=head, riders=(rider(kilos, off_mm=130),)), P).of(Load).carried, 220
    ).worst  # fmt: skip
    by_hand = 3 * 150 / (kilos * (220 - 150))
    assert margin == pytest.approx(by_hand, rel=0.01)
    assert result == expected


def test_l6_weight_on_the_spreader_and_a_wider_stance_help():
    head = mount(mass_g=2000, shaft=None, needs_counterweight=False)
    rig = Rig(name="r", mount=head, support=Support(name="s", mass_g=1000, height_mm=900, foot_radius_mm=300))
    held = STEPS.context(Rig(name="r", mount=head, riders=(rider(8, off_mm=150),)), P).of(Load).carried
    plain = stand.tipping(rig, held, 250).worst
    ballast = Accessory(name="b", function="spreader_weight", mass_g=6000)
    heavier = stand.tipping(rig.model_copy(update={"extras": (ballast,)}), held, 250)
    assert heavier.worst > plain and heavier.spreader_kg == 6
    wide = rig.model_copy(update={"support": rig.support.model_copy(update={"foot_radius_mm": 600})})
    assert isinf(stand.tipping(wide, held, 250).worst)
    four = rig.model_copy(update={"support": rig.support.model_copy(update={"feet": 4})})
    assert stand.tipping(four, held, 250).worst > plain
    assert stand.tipping(rig.model_copy(update={"support": None}), held, 250) is None
    assert stand.tipping(rig, held, 250, wind_n=40).worst < plain


@pytest.mark.parametrize(
    ("bar", "saddle", "expected"),
    [
        ("44 mm", ("44 mm",), "ok"),
        ("75 mm", ("44 mm",), "problem"),
        ("75 mm", ("44 mm", "75 mm"), "ok"),
        ("44 mm", (), None),
    ],
)
def test_l7_bar_and_saddle(bar, saddle, expected):
    scope = a_telescope(dovetail=Dovetail(width=bar, length_mm=200, middle_mm=150))
    assert verdict("L7", path=(PathItem(part=scope),), mount=mount(saddle=saddle)) == expected


@pytest.mark.parametrize(("speed", "expected"), [(0, "ok"), (4, "ok"), (9, "warning"), (20, "problem")])
def test_l8_wind_grows_with_its_square(speed, expected):
    scope = a_telescope(tube_length_mm=700, tube_diameter_mm=200, mass_g=6000, axis_above_saddle_mm=110)
    site = Site(name="windy", latitude_deg=40, longitude_deg=0, wind_m_s=speed)
    assert verdict("L8", path=(PathItem(part=scope),), site=site) == expected
    # Without a camera there is no scale: the moment alone judges.
    sail = STEPS.context(a_rig(scope, mount=mount()), P).of(Load).sail
    force = stand.wind_force_n(speed, sail.area_m2)
    assert force == pytest.approx(0.6125 * speed**2 * 1.2 * 0.7 * 0.2)


def test_l9_a_long_rear_end_meets_a_leg_and_an_extension_lifts_it():
    scope = a_telescope(tube_length_mm=1200, tube_diameter_mm=200, mass_g=6000,
                        dovetail=Dovetail(length_mm=300, middle_mm=700))  # fmt: skip
    low = Support(name="s", mass_g=5000, height_mm=700, foot_radius_mm=500)
    rig = a_rig(scope, mount=mount(axis_height_mm=100), support=low)
    plain = legs.leg_clearance(rig, STEPS.context(rig, P).of(Load).carried).gap_mm
    raised = rig.model_copy(update={"support": low.model_copy(update={"extension_mm": 550})})
    assert legs.leg_clearance(raised, STEPS.context(raised, P).of(Load).carried).gap_mm > plain
    pier = rig.model_copy(update={"support": low.model_copy(update={"style": "pier"})})
    assert legs.leg_clearance(pier, STEPS.context(pier, P).of(Load).carried) is None
    short = a_rig(a_telescope(tube_length_mm=100), mount=mount(), support=low)
    assert legs.leg_clearance(short, STEPS.context(short, P).of(Load).carried) is None


@pytest.mark.parametrize(("kilos", "expected"), [(19.9, "ok"), (20.1, "warning")])
def test_l10_heaviest_lift(kilos, expected):
    assert verdict("L10", riders=(rider(kilos),)) == expected


@pytest.mark.parametrize(("capacity", "expected"), [(26, "ok"), (25.9, "problem"), (None, None)])
def test_l11_the_support_carries_weights_too(capacity, expected):
    support = Support(name="s", capacity_kg=capacity, height_mm=800, foot_radius_mm=500)
    result = verdict("L11", support=support, riders=(rider(11),), counterweights=(weight(5, 200),))
    assert result == expected


@pytest.mark.parametrize(
    ("kilos", "hung", "expected"),
    [(15.9, (), "ok"), (16.1, (), "warning"), (20.1, (), "problem"), (20.1, (weight(5, 300),), "ok")],
)
def test_l12_torque_of_a_head_without_weights(kilos, hung, expected):
    head = mount(needs_counterweight=False, drive="strain_wave", saddle_height_mm=200)
    assert verdict("L12", mount=head, riders=(rider(kilos),), counterweights=hung) == expected


@pytest.mark.parametrize("code", [f"L{n}" for n in (1, 2, 3, 4, 5, 6, 7, 8, 9, 12, 13)])
def test_rules_of_a_mount_are_silent_without_one(code):
    assert verdict(code, mount=None, riders=(rider(10, side="left", off_mm=100),)) is None


@pytest.mark.parametrize(("design", "share"), [*BALANCE_SHARE.items(), ("triplet", REFRACTOR_SHARE)])
def test_where_a_bare_tube_balances_is_assumed_and_said(design, share):
    rig = a_rig(a_telescope(design=design, tube_length_mm=500, mass_g=4000), mount=mount())
    held = STEPS.context(rig, P).of(Load).carried
    assert held.centre[0] == pytest.approx(share * 500 - 250)
    assert held.assumed == ("balance point of the 86 mm triplet",)
    measured = a_rig(a_telescope(design=design, tube_length_mm=500, mass_g=4000, balance_point_mm=250), mount=mount())
    assert STEPS.context(measured, P).of(Load).carried.centre[0] == pytest.approx(0)
    assert STEPS.context(measured, P).of(Load).carried.assumed == ()


def test_riders_go_along_when_the_tube_slides():
    scope = a_telescope(tube_length_mm=400, mass_g=4000, dovetail=Dovetail(length_mm=300, middle_mm=200))
    rig = a_rig(scope, mount=mount(), riders=(rider(1, along_mm=50),))
    here = STEPS.context(rig, P).of(Load).carried
    there = STEPS.context(rig.model_copy(update={"saddle_mm": 230}), P).of(Load).carried
    assert there.centre[0] == pytest.approx(here.centre[0] - 30)
    assert scope.mark_mm == 200 and saddle_of(rig, scope) == 200 and saddle_of(Rig(name="r"), None) == 0


def test_a_newtonians_camera_stands_at_its_side():
    scope = a_telescope(design="newtonian", tube_length_mm=700, tube_diameter_mm=180, mass_g=6000)
    rig = a_rig(scope, a_camera(mass_g=500, flange_to_sensor_mm=17.5, body_length_mm=90), mount=mount())
    camera = next(body for body in STEPS.context(rig, P).of(Load).carried.bodies if body.kind == "camera")
    assert camera.along == pytest.approx(FOCUSER_SHARE * 700 - 350)
    assert camera.up > 90 + 90


def test_what_is_off_at_night_weighs_nothing_but_is_carried():
    cap = rider(0.4, off_at_night=True)
    rig = Rig(name="r", mount=mount(), riders=(rider(3), cap))
    load = STEPS.context(rig, P).of(Load)
    assert load.carried.mass == pytest.approx(3)
    assert any(piece.name == cap.part.name for piece in load.pieces)
    assert "Removed before imaging" in " ".join(map(str, mount_view(STEPS.context(rig, P)).notes))


def test_a_guide_camera_hangs_behind_its_scope():
    scope = GuideScope(name="guide scope", aperture_mm=50, focal_length_mm=200, mass_g=800, length_mm=200)
    rig = Rig(name="r", mount=mount(), riders=(Placed(part=scope, along_mm=100, off_mm=80),),
              guide=Guide(method="guide_scope", branch=(PathItem(part=a_camera(mass_g=200, body_length_mm=60)),)))  # fmt: skip
    bodies = {body.kind: body for body in STEPS.context(rig, P).of(Load).carried.bodies}
    assert bodies["camera"].along == pytest.approx(100 - 100 - 30)
    assert bodies["camera"].up == bodies["guide_scope"].up
    unguided = rig.model_copy(update={"guide": Guide()})
    assert [b.kind for b in STEPS.context(unguided, P).of(Load).carried.bodies] == ["guide_scope"]


def test_a_weight_is_drawn_as_the_steel_disk_it_is():
    # 5 kg of steel, 50 mm thick: 637 cm³, a disk of 127 mm.
    part = Counterweight(name="w", mass_g=5000, thickness_mm=50)
    assert disk_diameter_mm(part) == pytest.approx(127.4, abs=0.1)


@pytest.mark.parametrize("limit", [3.0, 6.0, 12.0, 25.0])
def test_trips_carry_everything_once(limit):
    result = tuple(carry.Piece(f"piece {i}", kilos) for i, kilos in enumerate((9.0, 7.5, 5.1, 3.4, 2.6, 1.9, 0.5)))
    loads = carry.trips(result, limit)
    assert sorted(piece.name for load in loads for piece in load) == sorted(piece.name for piece in result)
    for load in loads:
        assert sum(piece.mass_kg for piece in load) <= limit or len(load) == 1


def test_the_whole_drawing_of_a_bare_rig():
    view = mount_view(STEPS.context(Rig(name="empty"), P))
    assert view.boxes == () and view.tips == () and view.choices == () and view.balanced_saddle_mm is None
    only = mount_view(STEPS.context(Rig(name="r", mount=mount(), riders=(rider(4, off_mm=20),)), P))
    assert only.shaft == (100, 400) and only.mark == "" and only.slid is None and len(only.trips) >= 1
    assert {figure.key for figure in only.figures} >= {"mount.total_kg", "mount.arm_mm"}
