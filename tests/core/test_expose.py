"""Rules of exposure: read noise, wells, filters, gusts, hours, focus, set point, room, plans; and what the page draws."""

from datetime import date

import pytest

from dravel.catalogue.demo import RIDGE, TERRACE, scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import (
    DarkSet,
    Evaluation,
    Exposure,
    Finding,
    Framing,
    Preferences,
    ReadMode,
    Rig,
    Shooting,
    Target,
)
from dravel.core.model.edit import Edit, apply
from dravel.core.moves.subs import planned_sub, shorter_blocks
from dravel.core.steps import STEPS
from dravel.core.steps.exposure.facts import Exposing
from dravel.core.steps.exposure.frames import fits_darks
from dravel.core.steps.exposure.view import ExposureView, exposure_view
from tests.conftest import a_camera, a_framing, a_rig, a_telescope
from tests.numbers import numbers
from tests.says import says

RIGS = dict(scenario().rigs)
SHELF = starter_shelf()
MOONLIT, MOONLESS = date(2026, 11, 25), date(2026, 12, 9)


def changed(name: str, **changes: object) -> Rig:
    return RIGS[name].model_copy(update=changes)


def told(
    rig: Rig, night: date | None = MOONLESS, preferences: Preferences | None = None, shelf: object = None
) -> Evaluation:
    return STEPS.evaluate(rig, preferences, shelf, tonight=night, sites=(RIDGE, TERRACE))


def said(rig: Rig, code: str, subject: str | None = None, **more: object) -> Finding | None:
    findings = [f for f in told(rig, **more).findings if f.code == code and subject in (None, f.subject)]
    return findings[0] if findings else None


def drawn(
    rig: Rig, target: str | None = None, night: date | None = MOONLESS, preferences: Preferences | None = None
) -> ExposureView:
    return exposure_view(STEPS.context(rig, preferences, SHELF, tonight=night), target)


def unplanned(name: str, **changes: object) -> Rig:
    framings = tuple(framing.model_copy(update={"plan": ()}) for framing in RIGS[name].framings)
    return changed(name, **({"framings": framings} | changes))


def with_sub(rig: Rig, seconds: float) -> Rig:
    return rig.model_copy(update={"guide": rig.guide.model_copy(update={"sub_s": seconds})})


def camera_of(rig: Rig, **changes: object) -> Rig:
    return rig.model_copy(
        update={
            "path": tuple(
                item.model_copy(update={"part": item.part.model_copy(update=changes)})
                if item.part.kind == "camera"
                else item
                for item in rig.path
            )
        }
    )


def behind(rig: Rig, *filters: str, in_use: int | None = 0) -> Rig:
    return rig.model_copy(
        update={
            "path": tuple(
                item.model_copy(update={"filters": tuple(part(entry) for entry in filters), "in_use": in_use})
                if item.part.kind == "filter_holder" else item
                for item in rig.path
            )
        }
    )  # fmt: skip


def test_a_short_sub_costs_hours_and_the_fix_lengthens_it():
    heron = unplanned("heron")
    finding = said(heron, "E1", shelf=SHELF)
    assert finding.verdict == "warning" and says(finding.reason, "read_noise_adds")
    assert says(finding.fixes[0].label, "set_sub_length", "1,020 s") and finding.fixes[0].leads_to == "ok"
    assert said(with_sub(heron, 1020), "E1").verdict == "ok"
    # Under the full moon the sky drowns the read noise sooner.
    assert said(heron, "E1", night=MOONLIT).verdict == "ok"


def test_the_habit_is_kept_and_its_cost_told():
    heron = with_sub(unplanned("heron"), 240)
    habit = Preferences(sub_length="fixed_habit", habit_sub_s=240)
    finding = said(heron, "E1", preferences=habit)
    assert finding.verdict == "ok" and finding.school == "fixed_habit"
    assert {school.school: school.verdict for school in finding.schools} == {
        "swamp_read_noise": "warning",
        "fixed_habit": "ok",
    }
    assert said(with_sub(heron, 60), "E1", preferences=habit).verdict == "warning"  # over half as much again
    assert told(heron, preferences=habit).figure("exposure.recommended_sub_s").value == 240


def test_a_quieter_setting_fixes_read_noise():
    heron = unplanned("heron", shooting=Shooting(gain=0))
    finding = said(with_sub(heron, 1020), "E1", shelf=SHELF)
    assert finding.verdict == "warning" and says([fix.label for fix in finding.fixes], "set_gain", "100")
    gone = heron.model_copy(update={"shooting": Shooting(gain=7)})
    assert STEPS.context(gone).of(Exposing).mode.gain == 100  # a gain the camera does not list: its quietest


def test_a_planned_block_is_lengthened_with_its_light_kept():
    plan = (Exposure(filter="dual-7", sub_s=60, count=300),)
    framing = RIGS["heron"].framings[2].model_copy(update={"plan": plan})
    rig = with_sub(changed("heron", framings=(framing,)), 900)
    fix = said(rig, "E1", shelf=SHELF).fixes[0]
    block = apply(rig, tuple(Edit(item.op, _path(item.path), item.value) for item in fix.change)).framings[0].plan[0]
    assert (block.sub_s, block.count) == (1020, 18)


def _path(pointer: str) -> tuple[str | int, ...]:
    return tuple(int(key) if key.isdigit() else key for key in pointer.strip("/").split("/"))


def test_a_bright_sky_fills_the_well_and_a_core_or_star_overflows():
    magpie = changed("magpie")
    finding = said(magpie, "E2", night=MOONLIT, shelf=SHELF)
    assert finding.verdict == "warning" and says(finding.title, "full_well_too_full") and finding.fixes
    assert said(with_sub(magpie, 1800), "E2", night=MOONLIT).verdict == "problem"
    cluster = with_sub(unplanned("bittern"), 1200)
    bright = said(cluster, "E2", preferences=Preferences(star_magnitude=12))
    assert says(bright.title, "bright_parts_saturate") and says(bright.reason, "mag_saturates", "12")
    core = a_framing().model_copy(
        update={"target": Target(name="Core", ra_deg=40, dec_deg=60, kind="galaxy", core_brightness=9)}
    )
    assert "target core saturates" in said(changed("bittern", framings=(core,)), "E2").reason
    assert said(unplanned("bittern"), "E2").verdict == "ok"


def test_a_narrow_filter_starves_a_galaxy_and_suits_a_nebula():
    galaxy = behind(unplanned("bittern"), "lum-125", "ha-125", in_use=1)
    finding = said(galaxy, "E3", "NGC 891", shelf=SHELF)
    assert finding.verdict == "problem" and says(finding.title, "filter_too_narrow")
    assert says(finding.fixes[0].label, "use")
    assert says(said(unplanned("heron"), "E3", "NGC 281").title, "filter_choice_ok")
    oxygen_only = behind(unplanned("heron"), "blue-125")
    assert says(said(oxygen_only, "E3", "NGC 281").title, "filter_blocks_target")
    led = behind(unplanned("heron", site=TERRACE, framings=unplanned("bittern").framings), "suppress")
    assert says(said(led, "E3", "NGC 891").title, "pollution_filter_idle") or says(
        said(led, "E3", "NGC 891").title, "filter_too_narrow"
    )


def test_broadband_under_lamps_is_sent_to_the_ridge_or_behind_a_narrow_filter():
    bare = behind(unplanned("heron", site=TERRACE), "dual-7", in_use=None)
    finding = said(bare, "E3", "NGC 281", shelf=SHELF)
    assert says(finding.title, "bright_sky_broadband")
    labels = [fix.label for fix in finding.fixes]
    assert says(labels[0], "use") and any("Alto de Veleda" in label for label in labels)


def test_gusts_spoil_long_subs_and_a_plan_holds_to_the_limit_of_guiding():
    windy = RIDGE.model_copy(update={"wind_m_s": 4.0})
    magpie = changed("magpie", site=windy)
    finding = said(magpie, "E4")
    assert finding.verdict == "warning" and says(finding.reason, "gusts")
    assert said(changed("magpie", site=RIDGE.model_copy(update={"wind_m_s": 0.0})), "E4") is None
    long = Exposure(filter="dual-7", sub_s=3000, count=4)
    framing = RIGS["heron"].framings[2].model_copy(update={"plan": (long,)})
    rig = changed("heron", framings=(framing,))
    over = next(f for f in told(rig, shelf=SHELF).findings if f.code == "E4" and f.subject == "plan")
    assert over.verdict == "problem" and says(over.fixes[0].label, "set_all_subs", "1,167 s")
    # Whoever shortens the rig's subs shortens the plan's with them.
    cut = apply(rig, planned_sub(120, rig).edits)
    assert (cut.guide.sub_s, cut.framings[0].plan[0].sub_s, cut.framings[0].plan[0].count) == (120, 120, 100)
    assert shorter_blocks(rig, 3000) == ()


def test_hours_fall_from_the_terrace_to_the_ridge():
    """Heron on NGC 281 in lines: the same rig, the darker sky."""
    hours = {
        site.name: told(unplanned("heron", site=site, framings=(RIGS["heron"].framings[2],))).figure("exposure.hours_to_goal").value
        for site in (TERRACE, RIDGE)
    }  # fmt: skip
    assert 1.5 < hours[TERRACE.name] / hours[RIDGE.name] < 5
    finding = said(unplanned("heron"), "E5", "NGC 281")
    assert finding.verdict == "ok" and says(finding.measure, "one_night")


def test_a_better_mount_or_a_steadier_sky_never_needs_more_hours():
    """A rig whose stars are larger would otherwise gain by spreading its detail over more pixels."""
    hours = [
        told(unplanned("heron", mount=part(mount))).figure("exposure.hours_to_goal").value
        for mount in ("equatorial-20", "equatorial-13", "equatorial-9")
    ]
    assert hours == sorted(hours)
    steady, rough = (
        told(unplanned("heron", site=RIDGE.model_copy(update={"seeing_arcsec": seeing})))
        .figure("exposure.hours_to_goal")
        .value
        for seeing in (1.5, 5.0)
    )
    assert steady <= rough * (1 + 1e-9)


def test_a_moonless_night_fixes_hours():
    finding = said(
        unplanned("bittern"), "E5", "M101", night=MOONLIT, shelf=SHELF, preferences=Preferences(nights_a_target=1)
    )
    assert finding.verdict == "warning"
    assert any(says(fix.label, "set_night") and "Dec" in fix.label for fix in finding.fixes)


def test_a_mosaic_takes_as_many_nights_as_it_has_tiles():
    framing = RIGS["heron"].framings[2].model_copy(update={"columns": 6, "rows": 8, "plan": ()})
    finding = said(changed("heron", framings=(framing,)), "E5")
    assert "48" in numbers(finding.reason) and finding.verdict == "warning"


def test_focus_that_drifts_within_a_sub_breaks_and_by_hand_strains():
    assert said(unplanned("heron"), "E6").verdict == "ok"
    wide = part("triplet-86").model_copy(update={"aperture_mm": 300, "focal_length_mm": 464, "tube_length_mm": 2000})
    fast = apply(unplanned("heron"), (Edit("replace", ("path", 0, "part"), wide),))
    without = tuple(rider for rider in fast.riders if rider.part.id != "motor-focuser")
    by_hand = said(fast.model_copy(update={"riders": without}), "E6", shelf=SHELF)
    assert by_hand.verdict == "warning" and says(by_hand.fixes[0].label, "add", "motor focuser")
    assert said(with_sub(fast, 7200), "E6").verdict == "problem"


def test_a_set_point_that_the_month_does_not_allow_is_mended_on_the_rig():
    hot = RIDGE.model_copy(update={"month_c": (), "night_temperature_c": 25})
    finding = said(changed("heron", site=hot), "E7", shelf=SHELF)
    assert finding.verdict == "problem" and finding.fixes[0].change[0].value == 0
    fixed = changed("heron", site=hot, shooting=Shooting(set_c=0))
    assert said(fixed, "E7").verdict == "ok"
    view = drawn(changed("heron", shooting=Shooting(set_c=-25)))
    assert [month.name for month in view.months if not month.holds] == ["Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct"]


def test_the_month_tells_the_night_and_the_year():
    july, november = (told(RIGS["heron"], date(2026, month, 20)) for month in (7, 11))
    assert july.figure("power.dew_point_c").value > november.figure("power.dew_point_c").value
    assert len(drawn(RIGS["heron"]).months) == 12 and drawn(RIGS["wren"]).months == ()


def test_frames_fill_a_small_card_and_a_larger_one_fixes_it():
    small = part("card-64").model_copy(update={"storage_gb": 16})
    finding = said(changed("wren", extras=(part("release"), small)), "E8", shelf=SHELF)
    assert finding.verdict == "problem" and says(finding.fixes[0].label, "replace", "256 GB memory card")
    assert (
        said(changed("wren", extras=(part("release"), part("card-64").model_copy(update={"storage_gb": None}))), "E8")
        is None
    )


def test_a_plan_is_held_against_the_goal():
    short = Exposure(filter="dual-7", sub_s=300, count=6)
    stars = Exposure(filter="uvir", sub_s=60, count=20)
    framing = RIGS["heron"].framings[2].model_copy(update={"plan": (short, stars)})
    rig = changed("heron", framings=(framing,))
    finding = said(rig, "E9", shelf=SHELF)
    assert finding.verdict == "warning" and str(finding.fixes[0].label).endswith(
        " + 20"
    )  # lines grow, the stars' do not
    gone = framing.model_copy(update={"plan": (Exposure(filter="no such", count=5),)})
    assert said(changed("heron", framings=(gone,)), "E9").measure == "0.0"
    block = drawn(changed("heron", framings=(gone,))).plan.blocks[0]
    assert (block.missing, block.label, block.snr) == ("not on the rig", "no such", None)


def test_a_filter_on_the_shelf_alone_is_not_counted_whichever_shelf_is_at_hand():
    plan = (Exposure(filter="dual-7", sub_s=300, count=200), Exposure(filter="lum-125", sub_s=60, count=20))
    framing = RIGS["heron"].framings[2].model_copy(update={"plan": plan})
    rig = changed("heron", framings=(framing,))
    plain, fixed = said(rig, "E9"), said(rig, "E9", shelf=SHELF)
    assert plain.verdict == fixed.verdict == "warning" and plain.measure == fixed.measure
    assert says(fixed.title, "planned_filter_missing") and "luminance" in fixed.reason


@pytest.mark.parametrize(("broken", "because"), [
    (lambda rig: rig.model_copy(update={"site": None}), "no site"),
    (lambda rig: rig.model_copy(update={"site": RIDGE.model_copy(update={"sky_brightness_mag_arcsec2": None})}), "sky brightness"),
    (lambda rig: camera_of(rig, sensor=rig.path[-1].part.sensor.model_copy(update={"quantum_efficiency": None})), "quantum efficiency"),
    (lambda rig: camera_of(rig, sensor=rig.path[-1].part.sensor.model_copy(update={"modes": ()})), "read noise"),
    (lambda rig: rig.model_copy(update={"path": rig.path[:-1]}), "telescope and camera"),
    (lambda rig: rig.model_copy(update={"framings": ()}), "no target"),
])  # fmt: skip
def test_what_is_missing_is_said(broken, because):
    rig = broken(unplanned("heron"))
    evaluation = told(rig)
    gaps = {gap.key: gap.because for gap in evaluation.missing}
    assert because in gaps["exposure.sky_e_s"]
    assert not {f.code for f in evaluation.findings} & {"E1", "E2", "E3", "E5"}
    assert because in drawn(rig).lacks or "no target" in because


def test_odd_light_is_answered_in_words():
    """No well, no passbands, nothing through, windows the sensor does not see, a body that is shot as video."""
    sensor = RIGS["heron"].path[-1].part.sensor
    deep = camera_of(unplanned("heron"), sensor=sensor.model_copy(update={"full_well_e": None}))
    assert said(deep, "E2").verdict == "ok"  # its counts end somewhere all the same
    unknown = part("dual-7").model_copy(update={"passbands": ()})
    rig = behind(unplanned("heron"), "dual-7")
    rig = rig.model_copy(
        update={"path": tuple(i.model_copy(update={"filters": (unknown,)}) if i.filters else i for i in rig.path)}
    )
    assert says(drawn(rig).lacks, "passbands_not_specified") and said(rig, "E3") is None
    shut = part("dual-7").model_copy(
        update={"passbands": (part("dual-7").passbands[0].model_copy(update={"peak": 0.0}),)}
    )
    rig = rig.model_copy(
        update={"path": tuple(i.model_copy(update={"filters": (shut,)}) if i.filters else i for i in rig.path)}
    )
    assert says(said(rig, "E3").title, "filter_blocks_target") and drawn(rig).curves[0].hours_to_goal is None
    far = part("dual-7").passbands[0].model_copy(update={"centre_nm": 1500.0})
    blind = part("dual-7").model_copy(update={"passbands": (far,)})
    rig = rig.model_copy(
        update={"path": tuple(i.model_copy(update={"filters": (blind,)}) if i.filters else i for i in rig.path)}
    )
    assert (said(rig, "E3").verdict == "problem" and drawn(rig).sub is None) or drawn(rig).sub.limits
    moon = Framing(target=Target(name="Moon", ra_deg=0, dec_deg=0, body="Moon"), centre_ra_deg=0, centre_dec_deg=0)
    assert "video" in drawn(changed("heron", framings=(moon,))).lacks
    assert "no target" in drawn(changed("heron", framings=())).lacks


def test_a_curve_of_efficiency_counts_before_the_peak():
    red_blind = (
        {"at_nm": 400, "efficiency": 0.9},
        {"at_nm": 600, "efficiency": 0.9},
        {"at_nm": 620, "efficiency": 0.0},
    )
    sensor = RIGS["heron"].path[-1].part.sensor
    blind = camera_of(
        unplanned("heron"), sensor=type(sensor).model_validate(sensor.model_dump() | {"quantum_curve": red_blind})
    )
    own = STEPS.context(blind).of(Exposing)
    _, framing, glow = own.framings[0]
    pixels = own.pixels(framing, glow, own.filter)
    assert pixels[0].target == 0 and pixels[1].target > 0  # no hydrogen, but oxygen
    with pytest.raises(ValueError, match="wavelengths must rise"):
        type(sensor).model_validate(sensor.model_dump() | {"quantum_curve": red_blind[::-1]})
    with pytest.raises(ValueError, match="all twelve months"):
        RIDGE.model_validate(RIDGE.model_dump() | {"month_c": (1, 2)})


def test_the_page_ranks_filters_and_plans_in_one_press():
    view = drawn(unplanned("heron"), "NGC 281")
    assert view.targets[view.target] == view.targets[2]
    hours = [item.hours for item in view.filters if item.hours is not None]
    assert hours == sorted(hours) and view.filters[0].name.startswith("dual-narrowband")
    assert {way.title for way in view.ways} >= {"lines", "lines and stars"}
    lrgb = drawn(unplanned("bittern"), "NGC 891")
    way = next(item for item in lrgb.ways if item.title == "L R G B")
    framing = RIGS["bittern"].framings[0].model_copy(update={"plan": way.blocks})
    assert said(changed("bittern", framings=(framing,)), "E9").verdict == "ok"


def test_settings_of_the_camera_are_compared():
    view = drawn(unplanned("heron"))
    deep, quiet = view.modes
    assert (deep.gain, quiet.gain, quiet.in_use) == (0, 100, True)
    assert deep.well_e > quiet.well_e and deep.shortest_s > quiet.shortest_s
    binned = drawn(changed("bittern")).modes[1]
    assert binned.read_noise_e == pytest.approx(3.2)  # two by two, added after reading
    assert ReadMode(gain=1, read_noise_e=1, e_per_adu=1)


def test_darks_are_on_hand_where_all_agrees():
    dark = DarkSet(set_c=-10, gain=100, sub_s=180)
    assert fits_darks(dark, -10, 100, 180) and not fits_darks(dark, -15, 100, 180)
    assert not fits_darks(dark, -10, 0, 180) and not fits_darks(dark, -10, 100, 120)
    rig = camera_of(unplanned("heron"), darks=(dark,))
    rows = [item for item in drawn(rig).calibration if item.kind == "darks"]
    assert [row.on_hand for row in rows] == [True]
    uncooled = [item for item in drawn(RIGS["wren"]).calibration if item.kind == "darks"]
    assert uncooled[0].dark is None and "night" in uncooled[0].words


def test_flats_by_the_panel_and_by_the_sky():
    sky = next(item for item in drawn(unplanned("heron")).calibration if item.kind == "flats")
    assert "sun" in sky.words
    panel = next(
        item for item in drawn(unplanned("heron", extras=(part("panel-flat"),))).calibration if item.kind == "flats"
    )
    assert str(panel.words).startswith("dual-narrowband filter, 7 nm, about") and "panel" in panel.when


def test_other_rigs_are_held_beside_under_the_same_sky():
    context = STEPS.context(unplanned("heron"), None, SHELF, tonight=MOONLESS)
    others = [
        ("wren", STEPS.context(RIGS["wren"], tonight=MOONLESS)),
        ("bare", STEPS.context(a_rig(a_telescope(), a_camera()))),
    ]
    view = exposure_view(context, "NGC 281", others)
    assert [curve.name for curve in view.curves] == ["Heron", "Wren", "Test rig"]
    assert view.curves[0].hours_to_goal < view.curves[1].hours_to_goal
    # A detail is made of several pixels of several colours: one of them alone stays below it.
    assert view.curves[0].goal_in_a_pixel > 0 and view.curves[2].goal_in_a_pixel is None
    assert view.curves[2].hours_to_goal is None and "quantum efficiency" in view.curves[2].words
