"""Load, guide, power, money and growth on the demo rigs and on rigs with faults."""

from datetime import date

import jsonpatch
import numpy as np
import pytest
from pydantic import ValidationError

from dravel.catalogue.demo import RIDGE, scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import Evaluation, Growth, Guide, Hung, PathItem, Placed, Preferences, Price, Rig, Supply
from dravel.core.model.edit import Edit, apply
from dravel.core.overview.compare import compare
from dravel.core.overview.cost import cost, sums
from dravel.core.overview.stages import grow
from dravel.core.steps import STEPS
from dravel.core.steps.guiding.view import draw_patch, guiding_view
from dravel.core.steps.mount import carry
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.mount.view import mount_view
from dravel.core.steps.power.view import power_view
from dravel.core.train.assembly import with_part_everywhere
from tests.conftest import a_camera, a_rig
from tests.says import says

AUTUMN = date(2026, 11, 25)
P = Preferences()
DEMO = scenario()
RIGS = dict(DEMO.rigs)
ORDER = {"problem": 0, "warning": 1, "ok": 2}


def judged(rig: Rig, **more: object) -> dict[str, object]:
    findings = STEPS.evaluate(rig, P, tonight=AUTUMN, **more).findings
    worst: dict[str, object] = {}
    for finding in findings:
        if finding.code not in worst or ORDER[finding.verdict] < ORDER[worst[finding.code].verdict]:
            worst[finding.code] = finding
    return worst


def changed(rig: Rig, **more: object) -> Rig:
    return rig.model_copy(update=more)


@pytest.mark.parametrize("name", ["wren", "heron", "bittern"])
def test_sound_demo_rigs_hold_in_these_steps(name):
    bad = [f.code for f in judged(RIGS[name]).values() if f.step in ("mount", "guiding", "power") and f.verdict != "ok"]
    assert bad == []


def test_every_fault_of_magpie_in_these_steps_has_a_fix_that_leads_to_none():
    rig = RIGS["magpie"]
    for _ in range(25):
        findings = STEPS.evaluate(rig, P, DEMO.parts, tonight=AUTUMN, sites=DEMO.sites).findings
        bad = [f for f in findings if f.step in ("mount", "guiding", "power") and f.verdict != "ok"]
        fixed = next((f for f in bad if f.fixes), None)
        if fixed is None:
            break
        patch = [operation.model_dump() for operation in fixed.fixes[0].change]
        rig = Rig.model_validate(jsonpatch.apply_patch(rig.model_dump(mode="json"), patch))
    assert [f.code for f in bad] == []


def test_a_rig_without_a_mount_is_told_and_never_guessed():
    result = STEPS.evaluate(changed(RIGS["heron"], mount=None), P)
    assert result.figure("mount.total_kg") is not None and result.figure("mount.payload_fraction") is None
    assert not any(f.code in ("L1", "L2", "L8", "G5") for f in result.findings)
    view = mount_view(STEPS.context(changed(RIGS["heron"], mount=None), P))
    assert view.moments == () and view.boxes
    ways = guiding_view(STEPS.context(changed(RIGS["heron"], mount=None, support=None), P)).methods
    assert ways[0].because == "the rig has no mount"
    on_a_tripod = guiding_view(STEPS.context(changed(RIGS["heron"], mount=None), P))
    assert on_a_tripod.methods == () and "Fixed tripod" in on_a_tripod.without


def test_missing_masses_make_a_floor():
    rig = RIGS["heron"]
    bare = rig.riders[0].part.model_copy(update={"mass_g": None})
    rig = changed(rig, riders=(rig.riders[0].model_copy(update={"part": bare}), *rig.riders[1:]))
    finding = judged(rig)["L1"]
    assert says(finding.reason, "at_least")
    figure = STEPS.evaluate(rig, P).figure("mount.total_kg")
    assert [item.origin for item in figure.inputs if "no mass given" in item.origin] == [f"{bare.name}, no mass given"]
    assert any(says(note, "least_mass_unknown") for note in mount_view(STEPS.context(rig, P)).notes)


def test_weights_heavier_than_the_load_and_past_the_shaft():
    rig = RIGS["heron"]
    heavy = judged(changed(rig, counterweights=(Hung(part=part("weight-7-20"), position_mm=300),)))["L13"]
    assert heavy.verdict == "problem"
    past = judged(changed(rig, counterweights=(Hung(part=part("weight-19-20"), position_mm=340),)), shelf=DEMO.parts)
    assert past["L3"].verdict == "problem" and past["L3"].fixes
    bore = judged(changed(rig, counterweights=(Hung(part=part("weight-7-30"), position_mm=200),)))["L3"]
    assert says(bore.title, "counterweight_bore")
    none = judged(changed(rig, counterweights=()), shelf=DEMO.parts)["L3"]
    assert none.verdict == "problem" and none.fixes[0].leads_to == "ok"
    light = changed(rig, counterweights=(), mount=part("equatorial-13"))
    few = judged(light, shelf=[p for p in starter_shelf() if p.id in ("weight-34-20", "shaft-150")])["L3"]
    assert any("extension" in fix.label for fix in few.fixes)


def test_bad_numbers_name_their_field():
    with pytest.raises(ValidationError, match="Position on the shaft cannot be -5"):
        Hung(part=part("weight-7-20"), position_mm=-5)
    with pytest.raises(ValidationError, match="end_mm"):
        part("equatorial-13", shaft={"diameter_mm": 20, "start_mm": 300, "end_mm": 200})
    with pytest.raises(ValidationError, match="Payload"):
        part("equatorial-13", payload_kg=-1)


def test_the_tube_slides_and_where_the_bar_ends_a_rider_moves():
    rig = changed(RIGS["heron"], saddle_mm=111)
    finding = judged(rig, shelf=())["L4"]
    assert finding.verdict != "ok" and says(finding.fixes[0].label, "slide_tube")
    short = rig.path[0].part.dovetail.model_copy(update={"length_mm": 110})
    scope = rig.path[0].model_copy(update={"part": rig.path[0].part.model_copy(update={"dovetail": short})})
    stuck = judged(changed(rig, path=(scope, *rig.path[1:]), saddle_mm=164,
                           riders=(*rig.riders, Placed(part=part("finder-8x50"), along_mm=240, off_mm=90))), shelf=())["L4"]  # fmt: skip
    assert stuck.verdict == "warning" and says(stuck.reason, "saddle_out_of_range", "189 mm")
    assert all(says(fix.label, "slide_tube") for fix in stuck.fixes) and len(stuck.fixes) == 3


def test_a_side_rider_wants_something_opposite_by_one_school_only():
    rig = RIGS["heron"]
    aside = rig.riders[0].model_copy(update={"side": "left", "off_mm": 160})
    finding = judged(changed(rig, riders=(aside, *rig.riders[1:])), shelf=())["L5"]
    assert finding.verdict == "warning" and finding.fixes
    assert [s.verdict for s in finding.schools] == ["warning", "ok"]
    off = aside.model_copy(update={"off_at_night": True})
    assert "L5" not in judged(changed(rig, riders=(off, *rig.riders[1:])))


def test_a_head_without_weights_can_tip_its_tripod_and_is_held_down():
    rig = changed(
        RIGS["heron"], mount=part("strain-13"), counterweights=(), support=part("tripod-photo", foot_radius_mm=300),
    )  # fmt: skip
    answer = judged(rig, shelf=DEMO.parts)
    assert answer["L6"].verdict == "ok" and answer["L6"].measure == "2.9×"  # in gusts half as strong again as the wind
    tall = changed(
        rig, support=part("tripod-photo", mass_g=300, foot_radius_mm=150), mount=part("strain-13", mass_g=900)
    )
    fallen = judged(tall, shelf=DEMO.parts)["L6"]
    assert fallen.verdict == "problem" and any(
        item.path.startswith(("/extras", "/support")) for m in fallen.fixes for item in m.change
    )
    assert judged(rig)["L12"].verdict == "ok"
    weak = judged(changed(rig, mount=part("strain-13", rated_arm_mm=40)))["L12"]
    assert weak.verdict == "problem"


def test_widths_wind_legs_lift_and_support():
    rig = RIGS["bittern"]
    assert judged(changed(rig, mount=part("equatorial-9")))["L7"].verdict == "problem"
    gale = changed(rig, site=RIDGE.model_copy(update={"wind_m_s": 25}))
    assert judged(gale)["L8"].verdict != "ok"
    low = judged(changed(RIGS["heron"], support=part("tripod-carbon"), mount=part("equatorial-13", axis_height_mm=0, saddle_height_mm=50)),
                 shelf=DEMO.parts)["L9"]  # fmt: skip
    assert low.verdict != "ok" and low.fixes
    assert judged(changed(rig, mount=part("equatorial-40")))["L10"].verdict == "warning"
    assert judged(changed(rig, support=part("tripod-photo")))["L11"].verdict == "problem"


def test_trips_and_cases():
    load = STEPS.context(RIGS["wren"], P).of(Load)
    trips = carry.trips(load.pieces, 4)
    assert sum(len(trip) for trip in trips) == len(load.pieces)
    assert all(sum(p.mass_kg for p in trip) <= 4 or len(trip) == 1 for trip in trips)
    case = part("case-600")
    answer = carry.cased(changed(RIGS["heron"], extras=(case,)), STEPS.context(RIGS["heron"], P).of(Load).carried, P)
    assert "takes the tube" in answer[0] and "flight limit" in answer[0]
    small = carry.cased(changed(RIGS["bittern"], extras=(case,)), STEPS.context(RIGS["bittern"], P).of(Load).carried, P)
    assert "too small" in small[0]
    unknown = carry.cased(changed(RIGS["heron"], extras=(part("case-600", width_mm=None),)), load.carried, P)
    assert "not given" in unknown[0]


def test_the_load_is_drawn_to_scale():
    view = mount_view(STEPS.context(RIGS["heron"], P, DEMO.parts))
    tube = next(box for box in view.boxes if box.kind == "telescope")
    assert (tube.width, tube.height) == (410, 108)
    assert view.slide[0] <= view.saddle_mm <= view.slide[1]
    assert {moment.name for moment in view.moments} == {"right ascension", "declination", "to the side", "wind"}
    assert str(view.mark).startswith("inner face 98 mm") and view.choices[0].hung
    far = mount_view(
        STEPS.context(changed(RIGS["heron"], counterweights=(Hung(part=part("weight-51-20"), position_mm=150),)), P)
    )
    assert far.slid[0].position_mm == pytest.approx(228, abs=1)
    newtonian = mount_view(STEPS.context(RIGS["magpie"], P))
    camera = next(box for box in newtonian.boxes if box.kind == "camera")
    assert camera.x > 0 and camera.y > 100  # the focuser stands at the side, near the front


def test_a_guide_scope_beside_a_long_mirror_fails_and_is_switched_to_off_axis():
    rig = RIGS["bittern"]
    scoped = changed(
        rig, guide=rig.guide.model_copy(update={"method": "guide_scope"}),
        riders=(*rig.riders, Placed(part=part("guide-30"), off_mm=150)),
    )  # fmt: skip
    answer = judged(scoped, shelf=DEMO.parts)
    assert answer["G2"].verdict != "ok"
    fix = next(m for m in answer["G2"].fixes if "off-axis" in m.label)
    assert fix.leads_to == "ok"
    ways = {way.method: way for way in guiding_view(STEPS.context(scoped, P)).methods}
    assert ways["off_axis"].flexure_arcsec_h < ways["guide_scope"].flexure_arcsec_h
    coarse = judged(changed(scoped, binning=1))["G1"]
    assert coarse.measure == "13.0×" and coarse.verdict == "problem"


def test_guide_rules_on_trackers_and_without_input():
    wren = RIGS["wren"]
    long = judged(changed(wren, guide=Guide(sub_s=300)), shelf=DEMO.parts)
    assert long["G5"].verdict == "problem" and long["G5"].fixes
    assert long["G8"].verdict == "ok" and long["G8"].measure == "0.6 px"
    assert judged(changed(wren, guide=Guide(sub_s=3000)))["G8"].verdict == "problem"
    deaf = changed(RIGS["heron"], mount=part("equatorial-13", guide_input="none"))
    answer = judged(deaf, shelf=DEMO.parts)["G6"]
    assert answer.verdict == "problem" and (
        [item.path for item in answer.fixes[0].change][:2] == ["/guide/method", "/guide/sub_s"]
    )
    assert says(guiding_view(STEPS.context(deaf, P)).without, "no_dithering")
    tilted = STEPS.evaluate(RIGS["bittern"], Preferences(polar_error_arcmin=300), tonight=AUTUMN)
    assert next(f for f in tilted.findings if f.code == "G7").verdict == "problem"
    moving = a_rig(part("schmidt-203"), a_camera(), mount=part("equatorial-20"), guide=Guide(method="guide_scope",
                   branch=(PathItem(part=part("guide-48")),)), riders=(Placed(part=part("guide-50"), off_mm=160),))  # fmt: skip
    assert says(judged(moving)["G2"].reason, "main_mirror_moves")


def test_too_small_a_patch_may_hold_no_star():
    blind = part("guide-48", sensor={"width_px": 200, "height_px": 200, "pixel_um": 3.7, "quantum_efficiency": 0.6})
    rig = changed(RIGS["bittern"], guide=Guide(method="off_axis", branch=(PathItem(part=blind),), exposure_s=1))
    finding = judged(rig, shelf=DEMO.parts)["G3"]
    assert finding.verdict == "problem" and finding.fixes
    context = STEPS.context(RIGS["bittern"], P)
    drawn = draw_patch(context, "NGC 891", np.array([[0.0, 0.0, 8.0], [0.0, 0.4, 9.0]]), 10)
    assert drawn.target == "NGC 891" and len(drawn.patch) == 4
    assert draw_patch(STEPS.context(RIGS["wren"], P), None, np.zeros((0, 3)), 10) is None


def test_power_rules_and_the_charge_curve():
    heron = RIGS["heron"]
    small = changed(heron, supply=heron.supply.model_copy(update={"source": part("battery-256")}))
    findings = judged(small, shelf=DEMO.parts)
    assert findings["P1"].verdict == "problem" and findings["P1"].fixes[0].leads_to == "ok"
    view = power_view(STEPS.context(small, P, tonight=AUTUMN))
    assert view.lasts_h < view.hours_on and view.left_wh[-1] == 0
    assert sum(consumer.mean_w for consumer in view.consumers) * view.hours_on == pytest.approx(view.needed_wh)
    weak = changed(heron, supply=Supply(source=part("battery-640", max_a=5), cables=(part("cable-5-075"),)))
    findings = judged(weak, shelf=DEMO.parts)
    assert findings["P2"].verdict == "problem" and findings["P3"].verdict != "ok" and findings["P3"].fixes
    boxless = changed(heron, riders=tuple(p for p in heron.riders if p.part.id != "power-box"))
    assert judged(boxless, shelf=DEMO.parts)["P4"].verdict == "warning"
    damp = changed(RIGS["wren"], site=RIDGE.model_copy(update={"humidity": 0.95}))
    assert says(judged(damp)["P5"].title, "expected")
    findings = STEPS.evaluate(changed(heron, site=damp.site), P, tonight=AUTUMN).findings
    glass = {f.subject: f.verdict for f in findings if f.code == "P5"}
    assert glass == {None: "ok", "50 mm f/4 guide scope": "warning"}
    mains = changed(heron, supply=Supply(source=part("mains-15")))
    assert (
        says(judged(mains)["P6"].reason, "residual_current_device")
        and power_view(STEPS.context(mains, P)).left_wh == ()
    )
    assert says(judged(changed(heron, supply=Supply()), shelf=DEMO.parts)["P1"].title, "no_power_supply")


def test_a_battery_without_voltage_or_energy_is_told():
    heron = RIGS["heron"]
    rig = changed(
        heron, supply=Supply(source=part("battery-640", voltage_v=None, energy_wh=None), cables=heron.supply.cables)
    )
    view = power_view(STEPS.context(rig, P, tonight=AUTUMN))
    assert len(view.notes) == 2 and view.peak_a is None and view.cables[0].drop_v is None
    assert not {"P1", "P2", "P3"} & judged(rig).keys()


def test_wren_lasts_a_winter_night():
    view = power_view(STEPS.context(RIGS["wren"], P, tonight=AUTUMN))
    assert view.hours_on > 11 and view.lasts_h > view.hours_on


def test_currencies_stand_side_by_side():
    item, other = (part("guide-30", price=Price(amount=a, currency=c)) for a, c in ((100, "EUR"), (80, "USD")))
    assert [(s.currency, s.amount) for s in sums((item, other, item))] == [("EUR", 200), ("USD", 80)]
    rig = Rig(name="r", riders=(Placed(part=item), Placed(part=other), Placed(part=part("handle"))))
    answer = cost(rig)
    assert answer.mixed and answer.unpriced == 1 and len(answer.shopping) == 3
    assert cost(Rig(name="empty")).owned == ()


def test_the_shopping_list_names_what_the_rules_call_for():
    evaluation = STEPS.evaluate(RIGS["magpie"], P, DEMO.parts, tonight=AUTUMN)
    answer = cost(RIGS["magpie"], evaluation, DEMO.parts)
    assert answer.shopping and all(line.amount is not None for line in answer.shopping)
    assert any(str(line.why).startswith("S4: ") for line in answer.shopping)
    assert isinstance(evaluation, Evaluation) and answer.owned[0].amount > 1000


def test_compare_puts_differences_first():
    answer = compare([(r.name, r) for r in RIGS.values()], P, DEMO.targets, RIDGE, lambda _: AUTUMN)
    assert [side.label for side in answer.sides] == ["Wren", "Heron", "Bittern", "Magpie"]
    flags = [row.differs for row in answer.figures]
    assert flags == sorted(flags, reverse=True) and all(row.values[0] == 1 for row in answer.depth)
    same = compare([("a", RIGS["wren"]), ("b", RIGS["wren"])], P)
    assert not any(row.differs for row in (*same.figures, *same.rules))
    assert all(row.values[1] == 1 for row in same.depth)


def test_stages_tell_what_carries_over_and_what_does_not():
    views = grow([(s.title, RIGS[s.rig]) for s in DEMO.growths[0].stages], P, DEMO.targets)
    assert [view.rig for view in views] == ["Wren", "Heron", "Bittern"]
    assert views[0].kept == 0 and views[2].kept > 0
    assert any("not reused" in line for line in views[1].warnings)
    assert any("guided by a guide scope" in line for line in views[1].makes_possible)
    assert views[2].total[0].amount == pytest.approx(sum(view.cost[0].amount for view in views))
    kept = grow([("a", RIGS["wren"]), ("b", RIGS["wren"])], P)
    assert kept[1].new == () and kept[1].lost == () and kept[1].warnings == ()
    broken = grow([("a", RIGS["magpie"])], P)
    assert "O1" in broken[0].warnings[0]
    assert grow([], P) == () and Growth(name="empty").stages == ()


def test_a_changed_part_reaches_gear_too():
    heavier = part("equatorial-13", mass_g=9999)
    assert with_part_everywhere(RIGS["heron"], heavier).mount.mass_g == 9999
    weight = part("weight-51-20", mass_g=5200)
    assert with_part_everywhere(RIGS["heron"], weight).counterweights[0].part.mass_g == 5200
    untouched = apply(RIGS["heron"], (Edit("replace", ("name",), "Heron"),))
    assert with_part_everywhere(untouched, part("altaz-6")) == untouched


def test_balance_again_for_what_changes_in_a_night():
    heron = RIGS["heron"]
    capped = tuple(p.model_copy(update={"off_at_night": i == 0}) for i, p in enumerate(heron.riders))
    said = {item.words: item for item in mount_view(STEPS.context(changed(heron, riders=capped), P, DEMO.parts)).again}
    now, inside, outside = (said[w] for w in ("as it is", "drawtube all the way in", "drawtube all the way out"))
    # What hangs behind the drawtube pulls the balance back, and the saddle with it, the farther out it stands.
    assert outside.saddle_mm < inside.saddle_mm and now.mass_kg == inside.mass_kg == outside.mass_kg
    racking = STEPS.evaluate(changed(heron, riders=capped), P).figure("mount.racking_mm").value
    assert inside.saddle_mm - outside.saddle_mm == pytest.approx(racking, abs=0.2)
    capped_kg = (capped[0].part.mass_g or 0) / 1000
    assert said["caps and covers on"].mass_kg - now.mass_kg >= capped_kg - 1e-9 > 0
    others = [item for words, item in said.items() if str(words).startswith("with the ")]
    assert others and all(other.mass_kg != now.mass_kg for other in others)
    assert mount_view(STEPS.context(changed(heron, mount=None), P, DEMO.parts)).again == ()


def test_wind_at_a_given_speed_agrees_with_the_rule():
    heron = RIGS["heron"]
    winds = mount_view(STEPS.context(heron, P)).winds
    for item in winds.curve[::6]:
        site = heron.site.model_copy(update={"wind_m_s": item.speed_m_s})
        answer = judged(changed(heron, site=site))["L8"]
        assert answer.verdict == item.verdict
        assert answer.measure == f"{item.shake_px:.1f} px"
    assert winds.curve[2].moment_nm == pytest.approx(4 * winds.curve[1].moment_nm)  # twice the speed
    assert winds.felt_m_s < winds.too_much_m_s


def test_plugs_are_counted_against_the_ends_of_cables():
    heron = RIGS["heron"]
    wanted = {plug.name: plug for plug in power_view(STEPS.context(changed(heron, supply=Supply()), P)).plugs}
    assert wanted and all(item.had == 0 and item.short for item in wanted.values())
    name = next(iter(wanted))
    lead = part("cable-2-15", to_plug=name.upper())
    answer = power_view(STEPS.context(changed(heron, supply=Supply(cables=(lead,) * wanted[name].wanted)), P))
    fed = next(plug for plug in answer.plugs if plug.name == name)
    assert fed.had == fed.wanted and not fed.short
