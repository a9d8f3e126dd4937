"""Pieces of the Spacing step, one at a time: train, joints, beam, guider, stiffness, assembly."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dravel.catalogue.starter_shelf import female, male, part, socket, starter_shelf, tube
from dravel.core.model import CONNECTOR_SIZES, Assembly, Connector, ConnectorSize, PathItem, Preferences, Rig, clear_of
from dravel.core.overview.strip import lay_out
from dravel.core.steps import STEPS
from dravel.core.train.assembly import brought_up, facts, with_part
from dravel.core.train.clearance import Beam, openings, tightest
from dravel.core.train.facts import Spacing
from dravel.core.train.guider import Branch
from dravel.core.train.joints import front_of, joints, rear_of, spoken
from dravel.core.train.layout import Train, flange_distance, part_key, plates
from dravel.core.train.light_path import LightPath
from dravel.core.train.stiffness import joint_compliance
from tests.conftest import a_camera, a_rig, a_telescope


def items(*ids: str) -> tuple[PathItem, ...]:
    return tuple(PathItem(part=part(i)) for i in ids)


def facts_of(rig: Rig) -> Spacing:
    return Spacing(rig, LightPath.of(rig), Preferences())


def test_ends_in_words():
    assert spoken(male("M48x0.75")) == "M48x0.75 male"
    assert spoken(socket("2in")) == "2in socket" and spoken(tube("2in")) == "2in nose"
    assert spoken(None) == "unspecified connection"


def test_a_cameras_front_ring_may_bring_its_own_thread():
    camera = part("colour-18")
    ring = camera.front_ring.model_copy(update={"sky_side": female("M48x0.75")})
    with_ring = PathItem(part=camera.model_copy(update={"front_ring": ring}))
    assert front_of(with_ring).size == "M48x0.75"
    off = ring.model_copy(update={"fitted": False})
    assert front_of(PathItem(part=camera.model_copy(update={"front_ring": off}))).size == "M42x0.75"


def test_a_telescope_without_its_focuser_offers_its_flange():
    scope, plate, low = items("newtonian-150", "flange-98-80", "focuser-low")
    assert rear_of(scope).size == "2in"
    assert rear_of(scope, plate).size == "98 mm"
    assert rear_of(plate, low).size == "80 mm"


def test_joints_count_and_turn(rigs):
    result = joints(rigs["bittern"])
    assert [joint.index for joint in result] == [1, 2, 3, 4, 5, 6]
    assert all(joint.mated and joint.known and not joint.clamped for joint in result)
    nose = joints(a_rig(part("doublet-72"), part("nose-2-m48"), part("rotator-m48"), part("drawer-21")))
    assert [joint.clamped for joint in nose] == [True, False, False]
    assert [joint.turns for joint in nose] == [True, False, True]
    assert joints(a_rig()) == ()


def test_clear_apertures():
    assert clear_of(male("M48x0.75")) == 45
    assert clear_of(None) is None
    narrow = Connector(family="thread", size="M48x0.75", gender="male", clear_aperture_mm=40)
    assert clear_of(narrow) == 40
    own = ConnectorSize(size="M52x0.75", family="thread", nominal_mm=52, clear_mm=48.5)
    assert clear_of(male("M52x0.75")) is None
    assert clear_of(male("M52x0.75"), (own,)) == 48.5
    assert all(row.clear_mm <= row.nominal_mm for row in CONNECTOR_SIZES.values())


def test_flange_distances():
    # Common practice: 44.0 and 46.5 mm for reflex bodies, 16 to 20 mm for mirrorless ones.
    lens = Connector(family="bayonet", size="dslr-44.0", gender="lens")
    assert flange_distance(lens) == 44.0
    assert flange_distance(lens.model_copy(update={"gender": "body"})) is None
    assert flange_distance(male("M42x0.75")) is None and flange_distance(None) is None


def test_positions_add_up_and_stop_at_the_camera():
    rig = a_rig(part("triplet-86"), part("ring-m48-10"), part("colour-18"), part("ring-m48-5"))
    train = facts_of(rig).train
    assert [entry.part.name for entry in train.laid] == ["10 mm M48 ring", part("colour-18").name]
    assert [entry.end for entry in train.laid] == [10, 27.5]
    assert train.shoulder == 0 and train.actual == 27.5 and train.unknown == ()


def test_a_missing_length_is_named_and_nothing_is_guessed():
    bare = part("drawer-21", optical_length_mm=None)
    rig = a_rig(part("triplet-86"), bare, part("colour-18"))
    spacing = facts_of(rig)
    assert spacing.train.unknown == ("21 mm filter drawer",)
    assert spacing.train.actual is None and spacing.position is None and spacing.beam is None
    assert spacing.corner_light is None and spacing.openings == ()
    assert lay_out(rig).sensor_mm is not None  # drawn with a plain length, and said so
    assert any("length" in block.assumed for block in lay_out(rig).blocks)


def test_plates_are_windows_and_the_filter_in_use():
    window = part("colour-18", glass=[{"thickness_mm": 2}])
    rig = a_rig(part("triplet-86"), part("drawer-21"), window)
    held = rig.path[1].model_copy(update={"filters": (part("uvir"), part("dual-7")), "in_use": 1})
    rig = rig.model_copy(update={"path": (rig.path[0], held, rig.path[2])})
    train = facts_of(rig).train
    assert [len(plates(entry)) for entry in train.laid] == [1, 1]
    assert train.glass_shift == pytest.approx(2 * 2 * (0.517 / 1.517), rel=1e-3)
    assert train.glass_from(2) == pytest.approx(train.glass_shift / 2)
    assert part_key(window) == "colour-18"


def test_tolerances_of_parts():
    own = part("ring-m48-10", length_tolerance_mm=0.2)
    read = part("ring-m48-5", measured={"optical_length_mm": {"value": 5.03, "instrument": "callipers"}})
    train = facts_of(a_rig(part("triplet-86"), own, read, part("colour-18"))).train
    assert [entry.tolerance for entry in train.laid] == [0.2, 0.02, 0.05]
    assert [entry.reading for entry in train.laid] == ["", "measured (callipers)", ""]
    inside = facts_of(a_rig(part("newtonian-150"), part("coma-10"), part("colour-18"))).train
    assert inside.laid[0].tolerance == 0 and inside.laid[0].length == 0


def test_no_beam_where_there_is_none():
    assert facts_of(a_rig(part("colour-18"))).beam is None
    assert facts_of(a_rig(a_telescope(focal_length_mm=40), a_camera(flange_to_sensor_mm=60))).beam is None
    hopeless = a_rig(part("triplet-86"), part("reducer-063"), a_camera(flange_to_sensor_mm=110))
    assert facts_of(hopeless).beam is not None
    far = a_rig(part("triplet-86"), part("reducer-08-m63"), part("ring-m48-21"), a_camera(flange_to_sensor_mm=119))
    long = far.path[2].model_copy(update={"part": part("ring-m48-21", optical_length_mm=400)})
    assert facts_of(far.model_copy(update={"path": (*far.path[:2], long, far.path[3])})).beam is None


@given(st.floats(0, 90))
def test_the_beam_narrows_towards_the_sensor(back):
    beam = Beam(86, 0, 464, 0.8, 42, 97, 68.75)
    here, further = beam.at(97 - back)[0], beam.at(97 - back - 1)[0]
    assert further >= here >= 0
    assert beam.at(97)[0] == 0 and beam.at(97)[1] == pytest.approx(1)


def test_the_beam_runs_on_through_the_corrector():
    # Radius and offset are the same just ahead of a thin lens and just behind it.
    beam = Beam(86, 0, 464, 0.8, 42, 97, 68.75)
    ahead, behind = beam.at(42 - 1e-9), beam.at(42)
    assert ahead[0] == pytest.approx(behind[0])
    assert ahead[1] == pytest.approx(behind[1])


def test_openings_are_named_once_and_the_tightest_is_found(rigs):
    spacing = facts_of(rigs["magpie"])
    result = openings(spacing.train, spacing.beam, Preferences())
    assert result[0].name == "rear of the 150 mm f/5 newtonian"
    assert tightest(result, 21.6).name == "1.25-inch nosepiece to M42"
    assert tightest(result, 0.0) is None
    assert facts_of(rigs["wren"]).openings[0].name != "rear of the 180 mm f/4 lens"


@pytest.mark.parametrize(
    ("required", "setting"), [(26.5, (0, 0)), (30, (3.5, 0)), (40, (9, 4.5)), (52.5, (9, 17)), (60, None), (20, None)]
)
def test_helical_first_then_the_nose(required, setting):
    branch = Branch(required, 26.5, 9, 17, 0, 0)
    assert branch.setting() == setting
    assert branch.longest == 52.5 and branch.error == pytest.approx(26.5 - required)


def test_wider_threads_yield_less():
    # Mechanics: the bending stiffness of a tube goes with the cube of its width.
    assert joint_compliance(male("M42x0.75")) / joint_compliance(male("M63x1")) == pytest.approx((63 / 42) ** 3)
    assert joint_compliance(socket("2in")) > joint_compliance(male("M42x0.75")) > joint_compliance(male("M68x1"))
    assert joint_compliance(None) > 0 and joint_compliance(male("M99x1")) > 0


def test_what_hangs_is_a_floor_when_a_part_is_unweighed():
    rig = a_rig(part("triplet-86"), part("ring-m48-10", mass_g=None), part("colour-18"))
    hangs = facts_of(rig).hanging
    assert hangs.unweighed == ("10 mm M48 ring",) and hangs.mass_kg == pytest.approx(0.48)


def test_an_assembly_as_one_part():
    head = Assembly(id="head", name="Head", items=items("guider-165", "wheel-7", "mono-17"))
    result = facts(head)
    assert result.length_mm == pytest.approx(54) and result.mass_g == 240 + 390 + 460
    assert result.sky_side == part("guider-165").sky_side and result.sensor_side is None
    unknown = Assembly(name="x", items=(PathItem(part=part("drawer-21", optical_length_mm=None, mass_g=None)),))
    assert facts(unknown).length_mm is None and facts(unknown).unweighed == ("21 mm filter drawer",)


def test_a_changed_assembly_stays_where_it_was_and_keeps_what_the_rig_set():
    head = Assembly(id="head", name="Head", items=items("wheel-7", "mono-17"))
    laid = [item.model_copy(update={"assembly": "head", "faces_deg": 90}) for item in head.items]
    rig = a_rig(part("triplet-86"), part("ring-m48-10"))
    rig = rig.model_copy(update={"path": (*rig.path, *laid)})
    longer = head.model_copy(update={"items": (head.items[0], *items("ring-m42-2"), head.items[1])})
    after = brought_up(rig, longer)
    assert [item.part.id for item in after.path[2:]] == ["wheel-7", "ring-m42-2", "mono-17"]
    assert [item.faces_deg for item in after.path[2:]] == [90, None, 90]
    assert brought_up(a_rig(), longer) == a_rig()


def test_a_changed_part_reaches_filters_too():
    held = items("drawer-21")[0].model_copy(update={"filters": (part("uvir"),), "in_use": 0})
    thick = part("uvir", thickness_mm=3)
    assert with_part(held, thick).filters[0].thickness_mm == 3
    assert with_part(held, part("ring-m48-10")) == held


def test_every_starter_part_says_enough_to_be_spaced():
    for entry in starter_shelf():
        if entry.kind in ("adapter", "filter_holder", "off_axis_guider", "focuser"):
            assert entry.used("optical_length_mm") is not None, entry.name
            assert entry.sky_side and entry.sensor_side, entry.name
        if entry.kind == "camera":
            assert entry.flange_to_sensor_mm and entry.sky_side, entry.name


def test_rules_come_in_the_order_of_work():
    ordered = list(STEPS.rules)
    assert ordered.index("A4") < ordered.index("O1") < ordered.index("S1")
    assert ordered.index("S2") < ordered.index("S10")
    assert Train.of(a_rig(), LightPath.of(a_rig()), Preferences()).laid == ()
