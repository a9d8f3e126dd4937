"""The rules of the Spacing step on whole rigs, and what the stop shows."""

import jsonpatch
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import Corrector, Guide, MeasuredSpan, Measurement, PathItem, Preferences, Rig, RigPreferences
from dravel.core.model.edit import Edit, apply
from dravel.core.moves.rings import relaid
from dravel.core.overview.strip import lay_out
from dravel.core.overview.swap import swap
from dravel.core.steps import STEPS
from dravel.core.steps.spacing.sheet import spacing_sheet
from dravel.core.steps.spacing.view import spacing_view, tray
from dravel.core.train.facts import Spacing
from dravel.core.train.light_path import LightPath, back_focus_of
from dravel.core.train.rings import find_rings
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope
from tests.core.test_evaluate import finding, value
from tests.numbers import numbers
from tests.says import says

SHELF = tuple(p.model_copy(update={"status": "owned"}) for p in starter_shelf())


def rig_of(*ids: str, **more: object) -> Rig:
    return Rig.model_validate({"name": "Test", "path": [{"part": part(i)} for i in ids], **more})


def changed(rig: Rig, change) -> Rig:
    document = jsonpatch.apply_patch(rig.model_dump(mode="json"), [o.model_dump() for o in change])
    return Rig.model_validate(document)


def facts_of(rig: Rig, preferences: Preferences | None = None) -> Spacing:
    return Spacing(rig, LightPath.of(rig), preferences or Preferences())


REFLEX = ("triplet-86", "reducer-08-m63", "dslr-m48", "dslr-aps")


def test_a_reflex_train_of_55_holds():
    rig = rig_of(*REFLEX)
    assert value(rig, "spacing.actual_mm") == 55
    assert finding(rig, "S2").verdict == "ok"
    assert says(finding(rig, "S1").title, "all_connections", "3")


@pytest.mark.parametrize(("extra", "verdict"), [(0.1, "ok"), (0.5, "warning"), (0.7, "problem")])
def test_back_focus_error_by_tolerance(extra, verdict):
    # f/4.3: ±0.2 mm; three times that before it breaks.
    ring = part("ring-m48-5").model_copy(update={"optical_length_mm": extra})
    rig = rig_of(*REFLEX)
    rig = apply(rig, (Edit("add", ("path", 2), PathItem(part=ring)),))
    result = finding(rig, "S2")
    assert result.verdict == verdict
    assert value(rig, "spacing.error_mm") == pytest.approx(extra)
    assert result.schools[0].school == result.school == "ratio_and_pixel"


def test_schools_of_tolerance():
    ring = part("ring-m48-5").model_copy(update={"optical_length_mm": 1.2})
    rig = apply(rig_of(*REFLEX), (Edit("add", ("path", 2), PathItem(part=ring)),))
    assert finding(rig, "S2").verdict == "problem"
    lenient = rig.model_copy(update={"preferences": RigPreferences(spacing_tolerance="round_stars")})
    assert finding(lenient, "S2").verdict == "ok"
    own = apply(rig, (Edit("replace", ("path", 1, "part", "tolerance_mm"), 1.5),))
    assert finding(own, "S2").verdict == "ok" and finding(own, "S2").school is None


def test_filter_glass_counts_behind_the_shoulder_only(rigs):
    heron = rigs["heron"]
    assert value(heron, "spacing.glass_shift_mm") == pytest.approx(0.6816, abs=1e-3)
    assert value(heron, "spacing.required_mm") == pytest.approx(55.6816, abs=1e-3)
    drawer = heron.path[4]
    ahead = apply(heron, (Edit("remove", ("path", 4)), Edit("add", ("path", 1), drawer)))
    assert value(ahead, "spacing.glass_shift_mm") == 0
    assert says(finding(ahead, "S3", "21 mm filter drawer").reason, "ahead_of_shoulder")


def test_filters_of_unlike_thickness_strain(rigs):
    heron = rigs["heron"]
    thick = heron.path[4].filters[1].model_copy(update={"thickness_mm": 3.0})
    rig = apply(heron, (Edit("replace", ("path", 4, "filters", 1), thick),))
    assert finding(rig, "S3", "21 mm filter drawer").verdict == "warning"


def test_a_table_of_back_focus_runs_straight_between_rows():
    rows = [{"focal_length_mm": 400, "back_focus_mm": 56}, {"focal_length_mm": 500, "back_focus_mm": 54}]
    made = Corrector.model_validate({"name": "flattener", "role": "flattener", "back_focus_table": rows})
    assert [back_focus_of(made, f) for f in (300, 400, 450, 500, 900)] == [56, 56, 55, 54, 54]
    with pytest.raises(ValidationError, match="back_focus_table: focal lengths must rise"):
        Corrector.model_validate({"name": "f", "role": "flattener", "back_focus_table": rows[::-1]})


def test_a_built_in_corrector_holds_in_focus():
    rig = rig_of("petzval-51", "m54-m48", "drawer-21", "colour-18")
    assert finding(rig, "S2") is None
    assert says(finding(rig, "S4").reason, "built_in_corrector")
    scope = part("petzval-51", back_focus_mm=60)
    other = apply(rig, (Edit("replace", ("path", 0, "part"), scope),))
    other = other.model_copy(update={"preferences": RigPreferences(built_in_corrector="makers_figure")})
    assert finding(other, "S2").verdict == "problem"


def test_a_lens_on_its_flange_distance(rigs):
    assert value(rigs["wren"], "spacing.required_mm") == 44
    longer = apply(rigs["wren"], (Edit("replace", ("path", 1, "part", "optical_length_mm"), 26.5),))
    assert finding(longer, "S2").verdict == "problem"


def test_fixed_distance_from_the_rear_cell():
    scope = a_telescope(design="ritchey_chretien", back_focus_mm=150, focuser={"focal_plane_mm": 150, "travel_mm": 0})
    rig = a_rig(scope, part("ring-m48-21"), a_camera(flange_to_sensor_mm=44))
    assert value(rig, "spacing.required_mm") == 150
    assert value(rig, "spacing.error_mm") == pytest.approx(-85)


@pytest.mark.parametrize(
    ("plane", "code", "verdict"), [(127, "S5", "ok"), (40, "S4", "problem"), (200, "S4", "problem")]
)
def test_focus_reach(plane, code, verdict):
    rig = rig_of(*REFLEX)
    focuser = rig.path[0].part.focuser.model_copy(update={"focal_plane_mm": plane})
    rig = apply(rig, (Edit("replace", ("path", 0, "part", "focuser"), focuser),))
    assert finding(rig, code).verdict == verdict


def test_racked_far_out_is_cured_by_an_extension():
    rig = rig_of("ritchey-200", "m63m-m48", "ring-m48-20", "guider-165", "wheel-7", "mono-17")
    out = finding(rig, "S5", shelf=SHELF)
    assert out.verdict == "warning" and out.fixes
    assert finding(changed(rig, out.fixes[0].change), "S5").verdict == "ok"


def test_a_nosepiece_darkens_the_corners_and_a_wider_one_does_not(rigs):
    result = finding(rigs["magpie"], "S6", shelf=SHELF)
    assert result.verdict == "problem" and says(result.reason, "clear_aperture", "27.0 mm")
    assert any("2-inch nosepiece" in fix.label for fix in result.fixes)


def test_a_small_filter_names_the_smallest_that_clears():
    wheel = PathItem.model_validate({"part": part("wheel-7"), "filters": [part("lum-125")], "in_use": 0})
    rig = rig_of("newtonian-200", "coma-10", "m48-m42", "ring-m42-15", "colour-full")
    rig = apply(rig, (Edit("replace", ("path", 3), wheel),))
    result = finding(rig, "S6")
    assert result.verdict != "ok"
    assert says(result.reason, "smallest_filter_without_vignetting")


def test_magpie_is_mended_by_clicks_alone(rigs, demo):
    rig = rigs["magpie"]
    first = [f for f in STEPS.evaluate(rig).findings if f.step == "spacing" and f.verdict != "ok"]
    assert len(first) == 4
    for _ in range(8):
        bad = [f for f in STEPS.evaluate(rig, shelf=demo.parts).findings if f.step == "spacing" and f.verdict != "ok"]
        fix = next((m for f in bad for m in f.fixes), None)
        if fix is None:
            break
        rig = changed(rig, fix.change)
    # Nothing breaks. The tube's own rear darkens the corners a little: nobody buys another camera for that.
    left = [f for f in STEPS.evaluate(rig).findings if f.step == "spacing" and f.verdict != "ok"]
    assert [(f.code, f.verdict) for f in left] == [("S6", "warning")]


def test_another_corrector_cures_a_focus_too_far_in(rigs):
    heron = rigs["heron"]
    tube = heron.path[0].part
    # The focal plane so much further in that the reducer's pull leaves the drawtube 10 mm short.
    focuser = tube.focuser.model_copy(
        update={"focal_plane_mm": tube.focuser.focal_plane_mm - value(heron, "spacing.focuser_position_mm") - 10}
    )
    short = apply(heron, (Edit("replace", ("path", 0, "part"), tube.model_copy(update={"focuser": focuser})),))
    result = finding(short, "S4", shelf=SHELF)
    assert result.verdict == "problem"
    assert any("flattener" in fix.label and fix.leads_to == "ok" for fix in result.fixes)


def test_another_focuser_moves_the_image():
    rig = rig_of("newtonian-150", "coma-10", "dslr-m48", "dslr-full")
    before = facts_of(rig).position
    low = apply(
        rig,
        (
            Edit("add", ("path", 1), PathItem(part=part("flange-98-80"))),
            Edit("add", ("path", 2), PathItem(part=part("focuser-low"))),
        ),
    )
    # 85 mm of the old one make room for 5 mm of plate and 55 mm of the new one.
    assert facts_of(low).position == pytest.approx(before + 85 - 5 - 55)
    assert facts_of(low).train.focuser.travel_mm == 32
    assert all(joint.mated for joint in facts_of(low).joints)
    assert lay_out(low).sensor_mm is not None


def test_overload_and_lean():
    heavy = part("colour-full", mass_g=6000)
    rig = rig_of("triplet-86", "reducer-08-m63", "drawer-21").model_dump()
    rig["path"] = [*rig["path"], {"part": heavy.model_dump()}]
    result = finding(Rig.model_validate(rig), "S7")
    assert result.verdict == "problem" and "of 5 kg" in result.measure
    unweighed = part("colour-full", mass_g=None)
    floor = apply(Rig.model_validate(rig), (Edit("replace", ("path", 3, "part"), unweighed),))
    assert says(finding(floor, "S7").measure, "least")


def test_the_guide_camera_is_brought_to_focus(rigs):
    bittern = rigs["bittern"]
    assert finding(bittern, "S8").verdict == "ok"
    off = bittern.model_copy(update={"guide": bittern.guide.model_copy(update={"helical_mm": 0})})
    result = finding(off, "S8")
    assert result.verdict == "warning" and result.measure == "−9.0 mm"
    assert says(result.fixes[0].label, "set_helical_guide_camera", "9 mm", "9.32 mm")
    assert value(changed(off, result.fixes[0].change), "spacing.guide_error_mm") == pytest.approx(0, abs=0.01)


def test_off_axis_without_a_prism_is_said(rigs):
    rig = rigs["heron"].model_copy(update={"guide": Guide(method="off_axis")})
    result = finding(rig, "S8")
    assert result.verdict == "problem" and says(result.reason, "no_oag")
    bare = rigs["bittern"].model_copy(update={"guide": Guide(method="off_axis")})
    lacking = finding(bare, "S8", shelf=SHELF)
    assert says(lacking.reason, "no_guide_camera")
    assert any("guide camera" in fix.label for fix in lacking.fixes)


def test_a_branch_too_short_takes_a_ring():
    longer = ("ritchey-200", "m63m-m48", "guider-165", "wheel-7", "ring-m42-15", "mono-17")
    guide = {"method": "off_axis", "branch": [{"part": part("planet-58")}]}
    nose = part("planet-58", sky_side={"family": "thread", "size": "M42x0.75", "gender": "female"})
    guide["branch"] = [{"part": nose}]
    result = finding(rig_of(*longer, guide=guide), "S8", shelf=SHELF)
    assert result.verdict in ("warning", "problem")
    assert says(result.reason, "branch_length")


def test_a_prism_pushed_in_shades_and_is_drawn_back(rigs):
    deep = apply(rigs["bittern"], (Edit("replace", ("path", 4, "prism_in_mm"), 6.0),))
    result = finding(deep, "S9")
    assert result.verdict in ("warning", "problem")
    assert spacing_view(STEPS.context(deep)).light.shade
    assert finding(changed(deep, result.fixes[0].change), "S9").verdict == "ok"


def test_filters_ahead_of_the_guider_are_told(rigs):
    wheel = rigs["bittern"].path[5]
    wrong = apply(rigs["bittern"], (Edit("remove", ("path", 5)), Edit("add", ("path", 4), wheel)))
    result = finding(wrong, "S10", "7 × 1.25-inch filter wheel / 16.5 mm off-axis guider, M48", shelf=SHELF)
    assert result.verdict == "warning"
    assert result.fixes


def test_clamps_are_counted():
    rig = rig_of("doublet-72", "nose-2-m48", "cell-m48", "dslr-m48", "dslr-aps")
    assert finding(rig, "S11").verdict == "ok" and finding(rig, "S11").measure == "1"
    two = a_rig(part("doublet-72"), part("nose-2-m48", sensor_side=part("doublet-72").sensor_side), part("coma-10"))
    assert finding(two, "S11").verdict == "warning"


def test_filters_against_their_holder(rigs):
    heron = rigs["heron"]
    small = heron.path[4].model_copy(update={"filters": (part("ha-125"),), "in_use": 0})
    result = finding(apply(heron, (Edit("replace", ("path", 4), small),)), "S12", "21 mm filter drawer", shelf=SHELF)
    assert result.verdict == "problem" and says(result.fixes[0].label, "remove")
    cell = PathItem.model_validate({"part": part("cell-m48"), "filters": [part("dual-7"), part("uvir")], "in_use": 0})
    screwed = apply(heron, (Edit("replace", ("path", 4), cell),))
    strained = finding(screwed, "S12", "M48 filter cell", shelf=SHELF)
    assert strained.verdict == "warning" and strained.fixes[0].leads_to == "ok"
    left = changed(screwed, strained.fixes[0].change).path[4]
    assert [f.id for f in left.filters] == ["dual-7"] and left.in_use == 0
    crowd = rigs["bittern"].path[5]
    crowd = crowd.model_copy(update={"filters": crowd.filters + crowd.filters})
    full = apply(rigs["bittern"], (Edit("replace", ("path", 5), crowd),))
    result = finding(full, "S12", "7 × 1.25-inch filter wheel", shelf=SHELF)
    assert says(result.title, "filter_wheel_too_small")
    kept = changed(full, result.fixes[0].change).path[5]
    assert len(kept.filters) == kept.part.positions


def test_the_front_ring_explains_the_error():
    twice = rig_of(
        "triplet-86", "reducer-08-m63", "ring-m48-16-5", "m48-m42", "ring-m42-10", "ring-m42-10", "colour-18"
    )
    camera = twice.path[-1].part
    assert value(twice, "spacing.actual_mm") == pytest.approx(55)
    bare = camera.model_copy(update={"front_ring": camera.front_ring.model_copy(update={"fitted": False})})
    missing = apply(twice, (Edit("replace", ("path", 6, "part"), bare),))
    result = finding(missing, "S13")
    assert result.verdict == "warning" and says(result.fixes[0].label, "turn_front_ring")
    assert finding(changed(missing, result.fixes[0].change), "S2").verdict == "ok"


def test_what_ends_up_underneath_is_turned():
    down = rig_of("doublet-72", "nose-2-m48", "drawer-21", "colour-18")
    down = apply(down, (Edit("replace", ("path", 2, "faces_deg"), 180.0),))
    result = finding(down, "S14", "21 mm filter drawer")
    assert result.verdict == "warning" and says(result.fixes[0].label, "turn_off_axis_guider")
    fixed = apply(rig_of("triplet-86", "reducer-08-m63", "ring-m48-16-5", "drawer-21", "colour-18"),
                  (Edit("replace", ("path", 3, "faces_deg"), 180.0),))  # fmt: skip
    lays = finding(fixed, "S14", "21 mm filter drawer", shelf=SHELF)
    assert says(lays.reason, "no_rotation_adapter")
    assert any("rotator" in m.label or "turning ring" in m.label for m in lays.fixes)


def test_a_reading_goes_over_nominal_and_a_wild_one_is_asked():
    rig = rig_of(*REFLEX)
    read = apply(
        rig, (Edit("replace", ("path", 2, "part", "measured"), {"optical_length_mm": Measurement(value=11.4)}),)
    )
    assert value(read, "spacing.actual_mm") == pytest.approx(55.4)
    assert spacing_view(STEPS.context(read)).blocks[1].nominal_mm == 11
    assert finding(read, "S15").verdict == "ok"
    wild = apply(rig, (Edit("replace", ("path", 2, "part", "measured"), {"optical_length_mm": Measurement(value=14)}),))
    assert finding(wild, "S15", "11 mm reflex camera ring, M48").verdict == "warning"
    assert value(wild, "spacing.actual_mm") == pytest.approx(58)


def spans(rig, shelf=()):
    """What is said of a reading over several parts."""
    return next(f for f in STEPS.evaluate(rig, shelf=shelf).findings if f.code == "S15" and f.subject)


def test_one_reading_over_several_parts(rigs):
    heron = rigs["heron"]
    span = MeasuredSpan(parts=("ring-m48-16-5", "ring-m48-0-7", "drawer-21"), total=Measurement(value=38.5))
    rig = heron.model_copy(update={"measured_spans": (span,)})
    assert value(rig, "spacing.actual_mm") == pytest.approx(38.5 + 17.5)
    assert {b.reading for b in spacing_view(STEPS.context(rig)).blocks[1:4]} == {"measured as a group"}
    assert value(rig, "spacing.stack_worst_mm") == pytest.approx(0.02 + 0.05)
    parted = apply(rig, (Edit("remove", ("path", 3)),))
    assert value(parted, "spacing.actual_mm") == pytest.approx(55)
    answer = spans(parted)
    assert answer.verdict == "warning"
    assert says(answer.reason, "measured_gone", "ring-m48-0-7")
    assert says(spans(parted, shelf=SHELF).reason, "measured_gone", "0.7 mm M48 ring")
    among = apply(rig, (Edit("add", ("path", 3), PathItem(part=part("ring-m48-10"))),))
    assert says(spans(among).reason, "now_among_measured_parts", "10 mm M48 ring")
    turned = apply(rig, (Edit("remove", ("path", 2)), Edit("add", ("path", 3), rig.path[2])))
    assert says(spans(turned).reason, "measured_order_changed")
    assert not changed(parted, answer.fixes[0].change).measured_spans


def test_a_total_goes_to_the_parts_that_were_not_measured_themselves(rigs):
    # The drawer reads 20.7; 38.5 in all leave 17.8 to the two rings of 16.5 and 0.7.
    drawer = Measurement(value=20.7, instrument="callipers")
    at = next(i for i, item in enumerate(rigs["heron"].path) if item.part.id == "drawer-21")
    read = apply(rigs["heron"], (Edit("replace", ("path", at, "part", "measured"), {"optical_length_mm": drawer}),))
    span = MeasuredSpan(parts=("ring-m48-16-5", "ring-m48-0-7", "drawer-21"), total=Measurement(value=38.5))
    rig = read.model_copy(update={"measured_spans": (span,)})
    lengths = {b.name: (b.length_mm, b.reading) for b in spacing_view(STEPS.context(rig)).blocks}
    assert lengths["21 mm filter drawer"] == (pytest.approx(20.7), "measured (callipers)")
    assert lengths["16.5 mm M48 ring"][0] == pytest.approx(16.5 * 17.8 / 17.2)
    assert value(rig, "spacing.actual_mm") == pytest.approx(38.5 + 17.5)
    assert numbers(finding(rig, "S15").reason) == ("1", "1")
    # A total below what is measured already leaves the rest nothing: then all take it.
    short = read.model_copy(update={"measured_spans": (span.model_copy(update={"total": Measurement(value=20)}),)})
    assert value(short, "spacing.actual_mm") == pytest.approx(20 + 17.5)


def test_a_moving_mirror_far_behind_its_cell():
    near = rig_of("schmidt-203", "ring-m48-21", "dslr-aps")
    rig = apply(near, (Edit("replace", ("path", 1, "part", "optical_length_mm"), 150.0),))
    result = finding(rig, "S16")
    assert result.verdict == "warning" and "2,259 mm" in result.reason
    assert finding(near, "S16").verdict == "warning"


def test_an_undescribed_joint_strains_and_a_wrong_one_breaks():
    rig = a_rig(a_telescope(sensor_side=part("triplet-86").sensor_side), a_corrector(), part("colour-18"))
    findings = [f for f in STEPS.evaluate(rig).findings if f.code == "S1"]
    assert {f.verdict for f in findings} == {"warning"}
    wrong = rig_of("triplet-86", "ring-m48-10", "colour-18")
    bad = [f for f in STEPS.evaluate(wrong, shelf=SHELF).findings if f.code == "S1" and f.verdict == "problem"]
    assert len(bad) == 2 and bad[0].fixes


# Solver on whole rigs


def test_find_rings_for_the_reducer(rigs):
    heron = apply(rigs["heron"], (Edit("remove", ("path", 3)), Edit("remove", ("path", 2))))
    answer = find_rings(heron, Preferences(), SHELF)
    assert answer.choices and abs(answer.choices[0].error_mm) <= 0.2
    made = changed(heron, answer.choices[0].change)
    assert finding(made, "S1").verdict == finding(made, "S2").verdict == "ok"
    assert "21 mm filter drawer" in answer.choices[0].parts


def test_find_rings_says_why_not_and_what_would_cure(rigs):
    assert find_rings(a_rig(a_telescope()), Preferences(), ()).why_not == "No camera in the light path."
    heron = rigs["heron"]
    none = find_rings(apply(heron, (Edit("remove", ("path", 2)),)), Preferences(), (), wished=False)
    assert not none.choices and none.proof and none.cure and none.nearest is not None
    kept = find_rings(heron, Preferences(), SHELF, keep=(2, 3))
    assert all("16.5 mm M48 ring" in c.parts and "0.7 mm M48 ring" in c.parts for c in kept.choices)
    shop = find_rings(heron, Preferences(), (), shop=True)
    assert shop.choices
    deep = find_rings(rigs["magpie"], Preferences(), ())
    assert deep.proof or deep.why_not


def test_rings_for_reach_where_no_distance_is_asked(rigs):
    answer = find_rings(rigs["bittern"], Preferences(), SHELF)
    assert answer.for_reach
    for choice in answer.choices:
        position = value(changed(rigs["bittern"], choice.change), "spacing.focuser_position_mm")
        assert choice.drawtube_mm == pytest.approx(position, abs=0.01)
        assert 0 < position < 0.7 * 50


def test_relaid_leaves_a_sound_rig_alone(rigs):

    context = STEPS.context(rigs["heron"], Preferences(), SHELF)
    edit = (Edit("replace", ("binning",), 2),)
    assert relaid(context, "Bin", edit).edits == edit


# The view


def test_the_view_lays_every_part_on_the_rule(rigs):
    for name, rig in rigs.items():
        view = spacing_view(STEPS.context(rig))
        assert len(view.blocks) == len(rig.path) - 1, name
        for item, other in zip(view.blocks, view.blocks[1:], strict=False):
            assert item.end_mm == pytest.approx(other.start_mm)
        assert view.blocks[-1].end_mm == pytest.approx(view.sensor_mm)
        assert view.light.profile[0][1] == pytest.approx(1, abs=1e-3)
    assert spacing_view(STEPS.context(rigs["bittern"])).branch.setting == (9.0, 9.32)
    assert spacing_view(STEPS.context(a_rig(a_telescope(), a_camera()))).why_not == "camera: length not specified."
    assert spacing_view(STEPS.context(a_rig(a_telescope()))).why_not == "No camera in the light path."
    assert spacing_view(STEPS.context(a_rig())).blocks == ()


def test_the_tray_knows_what_fits_and_what_it_does(rigs):
    heron = rigs["heron"]
    fits = tray(heron, Preferences(), SHELF, 3, replace=True)
    assert fits[0].name == "0.5 mm M48 ring" and fits[0].verdict == "ok"
    for fit in fits[:4]:
        assert value(changed(heron, fit.change), "spacing.error_mm") == pytest.approx(fit.error_mm)
    at_joint = tray(heron, Preferences(), SHELF, 4)
    assert all(t.both_ends for t in at_joint[:3])
    assert not {t.part_id for t in at_joint} & {item.part.id for item in heron.path}
    with pytest.raises(IndexError, match="no joint 99"):
        tray(heron, Preferences(), SHELF, 99)


def test_a_swap_shows_before_and_after(rigs):
    heron = rigs["heron"]
    answer = swap(heron, 4, part("guider-165"), Preferences(), SHELF)
    rows = {row.title: (row.before, row.after) for row in answer.plain.rows}
    assert rows["Back focus"] == (pytest.approx(55.7), pytest.approx(51.2))
    assert any(m.code == "S2" and m.after == "problem" for m in answer.plain.moved)
    assert answer.fitted is not None
    assert finding(changed(heron, answer.fitted.change), "S2").verdict == "ok"
    assert swap(heron, 2, part("ring-m48-10"), Preferences(), SHELF).fitted is None
    with pytest.raises(IndexError):
        swap(heron, 9, part("dslr-aps"), Preferences(), SHELF)
    with pytest.raises(ValueError, match="is not in the light path"):
        swap(heron, 2, part("uvir"), Preferences(), SHELF)


def test_the_sheet_says_what_to_do(rigs):
    sheet = spacing_sheet(rigs["heron"])
    assert [line.running_mm for line in sheet.lines] == pytest.approx([0, 16.5, 17.2, 38.2, 55.7])
    assert sheet.checks[0].length_mm == pytest.approx(38.2)
    assert sheet.checks[0].worst_case_mm == pytest.approx(0.15)
    assert "faces the sensor" in sheet.lines[0].joint
    assert any("washer" in words for words in sheet.advice)
    assert any("Guide camera: helical 9.0" in words for words in spacing_sheet(rigs["bittern"]).settings)
    assert str(spacing_sheet(rigs["magpie"]).lines[0].joint).startswith("MISMATCH")
    assert spacing_sheet(a_rig()).checks == ()


rings = st.sampled_from([p.id for p in starter_shelf() if p.kind == "adapter" and p.function == "spacer"])


@settings(deadline=None, max_examples=40)
@given(rings, st.integers(1, 5))
def test_inserting_and_removing_a_part_restores_every_number(ring, at):
    rig = rig_of("triplet-86", "reducer-08-m63", "ring-m48-16-5", "drawer-21", "colour-18")
    there = apply(rig, (Edit("add", ("path", min(at, 4)), PathItem(part=part(ring))),))
    back = apply(there, (Edit("remove", ("path", min(at, 4))),))
    assert STEPS.evaluate(back) == STEPS.evaluate(rig)
    assert spacing_view(STEPS.context(back)) == spacing_view(STEPS.context(rig))


@settings(deadline=None, max_examples=40)
@given(st.floats(0.5, 40), st.floats(0.5, 40))
def test_a_longer_ring_moves_the_sensor_back_and_the_tube_in(one, other):
    short, long = sorted((one, other))
    made = [
        apply(rig_of("doublet-102", "reducer-085-2in", "ring-m48-5", "dslr-m48", "dslr-aps"),
              (Edit("replace", ("path", 2, "part", "optical_length_mm"), length),))
        for length in (short, long)
    ]  # fmt: skip
    a, b = (facts_of(rig) for rig in made)
    assert b.train.actual - a.train.actual == pytest.approx(long - short)
    assert b.position <= a.position + 1e-9
    assert b.hanging.moment_nm >= a.hanging.moment_nm - 1e-9


def test_zero_and_negative_lengths_are_refused():
    with pytest.raises(ValidationError, match="a spacer of no length is no spacer"):
        part("ring-m48-10", optical_length_mm=0)
    with pytest.raises(ValidationError, match="Optical length cannot be -3 mm; allowed 0 to 2000 mm"):
        part("ring-m48-10", optical_length_mm=-3)
    with pytest.raises(ValidationError, match="holds 2 parts of kind camera"):
        rig_of("triplet-86", "colour-18", "mono-17")
