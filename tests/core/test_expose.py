"""Rules of exposure: read noise, wells, filters, gusts, hours, focus, set point, room, plans; and what the page draws."""

from datetime import date

import pytest

from dravel.catalogue.demo import RIDGE, TERRACE, scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import DarkSet, Evaluation, Exposure, Finding, Framing, Practice, ReadMode, Rig, Shooting, Target
from dravel.core.model.edit import Edit, apply
from dravel.core.moves.subs import planned_sub, shorter_blocks
from dravel.core.steps import STEPS
from dravel.core.steps.expose.facts import Exposing
from dravel.core.steps.expose.frames import fits_darks
from dravel.core.steps.expose.view import ExposeView, expose_view
from tests.conftest import a_camera, a_framing, a_rig, a_telescope

RIGS = dict(scenario().rigs)
SHELF = starter_shelf()
MOONLIT, MOONLESS = date(2026, 11, 25), date(2026, 12, 9)


def changed(name: str, **changes: object) -> Rig:
    return RIGS[name].model_copy(update=changes)


def told(rig: Rig, night: date | None = MOONLESS, practice: Practice | None = None, shelf: object = None) -> Evaluation:
    return STEPS.evaluate(rig, practice, shelf, tonight=night, sites=(RIDGE, TERRACE))


def said(rig: Rig, code: str, subject: str | None = None, **more: object) -> Finding | None:
    found = [f for f in told(rig, **more).findings if f.code == code and subject in (None, f.subject)]
    return found[0] if found else None


def drawn(
    rig: Rig, target: str | None = None, night: date | None = MOONLESS, practice: Practice | None = None
) -> ExposeView:
    return expose_view(STEPS.context(rig, practice, SHELF, tonight=night), target)


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
                item.model_copy(update={"filters": tuple(part(one) for one in filters), "in_use": in_use})
                if item.part.kind == "filter_holder" else item
                for item in rig.path
            )
        }
    )  # fmt: skip


def test_a_short_sub_costs_hours_and_the_mend_lengthens_it():
    heron = unplanned("heron")
    finding = said(heron, "E1", shelf=SHELF)
    assert finding.verdict == "strains" and "read noise adds" in finding.reason
    assert finding.mends[0].label == "Set sub length to 1,020 s" and finding.mends[0].leads_to == "holds"
    assert said(with_sub(heron, 1020), "E1").verdict == "holds"
    # Under the full moon the sky drowns the read noise sooner.
    assert said(heron, "E1", night=MOONLIT).verdict == "holds"


def test_the_habit_is_kept_and_its_cost_told():
    heron = with_sub(unplanned("heron"), 240)
    habit = Practice(sub_length="fixed_habit", habit_sub_s=240)
    finding = said(heron, "E1", practice=habit)
    assert finding.verdict == "holds" and finding.school == "fixed_habit"
    assert {one.school: one.verdict for one in finding.schools} == {
        "swamp_read_noise": "strains",
        "fixed_habit": "holds",
    }
    assert said(with_sub(heron, 60), "E1", practice=habit).verdict == "strains"  # over half as much again
    assert told(heron, practice=habit).figure("expose.recommended_sub_s").value == 240


def test_a_quieter_setting_mends_read_noise():
    heron = unplanned("heron", shooting=Shooting(gain=0))
    finding = said(with_sub(heron, 1020), "E1", shelf=SHELF)
    assert finding.verdict == "strains" and "Set the gain to 100" in [mend.label for mend in finding.mends]
    gone = heron.model_copy(update={"shooting": Shooting(gain=7)})
    assert STEPS.context(gone).of(Exposing).mode.gain == 100  # a gain the camera does not list: its quietest


def test_a_planned_block_is_lengthened_with_its_light_kept():
    plan = (Exposure(filter="dual-7", sub_s=60, count=300),)
    framing = RIGS["heron"].framings[2].model_copy(update={"plan": plan})
    rig = with_sub(changed("heron", framings=(framing,)), 900)
    mend = said(rig, "E1", shelf=SHELF).mends[0]
    block = apply(rig, tuple(Edit(one.op, _path(one.path), one.value) for one in mend.change)).framings[0].plan[0]
    assert (block.sub_s, block.count) == (1020, 18)


def _path(pointer: str) -> tuple[str | int, ...]:
    return tuple(int(key) if key.isdigit() else key for key in pointer.strip("/").split("/"))


def test_a_bright_sky_fills_the_well_and_a_core_or_star_overflows():
    magpie = changed("magpie")
    finding = said(magpie, "E2", night=MOONLIT, shelf=SHELF)
    assert finding.verdict == "strains" and finding.title == "Full well too full" and finding.mends
    assert said(with_sub(magpie, 1800), "E2", night=MOONLIT).verdict == "breaks"
    cluster = with_sub(unplanned("bittern"), 1200)
    bright = said(cluster, "E2", practice=Practice(star_magnitude=12))
    assert bright.title == "Bright parts saturate" and "mag 12 saturates" in bright.reason
    core = a_framing().model_copy(
        update={"target": Target(name="Core", ra_deg=40, dec_deg=60, kind="galaxy", core_brightness=9)}
    )
    assert "target core saturates" in said(changed("bittern", framings=(core,)), "E2").reason
    assert said(unplanned("bittern"), "E2").verdict == "holds"


def test_a_narrow_filter_starves_a_galaxy_and_suits_a_nebula():
    galaxy = behind(unplanned("bittern"), "lum-125", "ha-125", in_use=1)
    finding = said(galaxy, "E3", "NGC 891", shelf=SHELF)
    assert (finding.verdict, finding.title) == ("breaks", "Filter too narrow for target")
    assert str(finding.mends[0].label).startswith("Use the luminance filter")
    assert said(unplanned("heron"), "E3", "NGC 281").title == "Filter choice OK"
    oxygen_only = behind(unplanned("heron"), "blue-125")
    assert said(oxygen_only, "E3", "NGC 281").title == "Filter blocks the target"
    led = behind(unplanned("heron", site=TERRACE, framings=unplanned("bittern").framings), "suppress")
    assert said(led, "E3", "NGC 891").title in ("Light-pollution filter without effect", "Filter too narrow for target")


def test_broadband_under_lamps_is_sent_to_the_ridge_or_behind_a_narrow_filter():
    bare = behind(unplanned("heron", site=TERRACE), "dual-7", in_use=None)
    finding = said(bare, "E3", "NGC 281", shelf=SHELF)
    assert finding.title == "Bright sky for broadband"
    labels = [mend.label for mend in finding.mends]
    assert str(labels[0]).startswith("Use the dual-narrowband filter") and any(
        "Alto de Veleda" in label for label in labels
    )


def test_gusts_spoil_long_subs_and_a_plan_holds_to_the_limit_of_guiding():
    windy = RIDGE.model_copy(update={"wind_m_s": 4.0})
    magpie = changed("magpie", site=windy)
    finding = said(magpie, "E4")
    assert finding.verdict == "strains" and "Gust" in finding.reason
    assert said(changed("magpie", site=RIDGE.model_copy(update={"wind_m_s": 0.0})), "E4") is None
    long = Exposure(filter="dual-7", sub_s=3000, count=4)
    framing = RIGS["heron"].framings[2].model_copy(update={"plan": (long,)})
    rig = changed("heron", framings=(framing,))
    over = next(f for f in told(rig, shelf=SHELF).findings if f.code == "E4" and f.subject == "plan")
    assert over.verdict == "breaks" and over.mends[0].label == "Set sub length to 1,167 s in all blocks"
    # Whoever shortens the rig's subs shortens the plan's with them.
    cut = apply(rig, planned_sub(120, rig).edits)
    assert (cut.guide.sub_s, cut.framings[0].plan[0].sub_s, cut.framings[0].plan[0].count) == (120, 120, 100)
    assert shorter_blocks(rig, 3000) == ()


def test_hours_fall_from_the_terrace_to_the_ridge():
    """Heron on NGC 281 in lines: the same rig, the darker sky."""
    hours = {
        site.name: told(unplanned("heron", site=site, framings=(RIGS["heron"].framings[2],))).figure("expose.hours_for_wish").value
        for site in (TERRACE, RIDGE)
    }  # fmt: skip
    assert 1.5 < hours[TERRACE.name] / hours[RIDGE.name] < 5
    finding = said(unplanned("heron"), "E5", "NGC 281")
    assert finding.verdict == "holds" and finding.measure == "one night"


def test_a_better_mount_or_a_steadier_sky_never_needs_more_hours():
    """A rig whose stars are larger would otherwise gain by spreading its detail over more pixels."""
    hours = [
        told(unplanned("heron", mount=part(mount))).figure("expose.hours_for_wish").value
        for mount in ("equatorial-20", "equatorial-13", "equatorial-9")
    ]
    assert hours == sorted(hours)
    steady, rough = (
        told(unplanned("heron", site=RIDGE.model_copy(update={"seeing_arcsec": seeing})))
        .figure("expose.hours_for_wish")
        .value
        for seeing in (1.5, 5.0)
    )
    assert steady <= rough * (1 + 1e-9)


def test_a_moonless_night_mends_hours():
    finding = said(unplanned("bittern"), "E5", "M101", night=MOONLIT, shelf=SHELF, practice=Practice(nights_a_target=1))
    assert finding.verdict == "strains"
    assert any(str(mend.label).startswith("Set the night to") and "Dec" in mend.label for mend in finding.mends)


def test_a_mosaic_takes_as_many_nights_as_it_has_tiles():
    framing = RIGS["heron"].framings[2].model_copy(update={"columns": 6, "rows": 8, "plan": ()})
    finding = said(changed("heron", framings=(framing,)), "E5")
    assert "48 tiles" in finding.reason and finding.verdict == "strains"


def test_focus_that_drifts_within_a_sub_breaks_and_by_hand_strains():
    assert said(unplanned("heron"), "E6").verdict == "holds"
    wide = part("triplet-86").model_copy(update={"aperture_mm": 300, "focal_length_mm": 464, "tube_length_mm": 2000})
    fast = apply(unplanned("heron"), (Edit("replace", ("path", 0, "part"), wide),))
    without = tuple(one for one in fast.riders if one.part.id != "motor-focuser")
    by_hand = said(fast.model_copy(update={"riders": without}), "E6", shelf=SHELF)
    assert by_hand.verdict == "strains" and by_hand.mends[0].label == "Add the motor focuser"
    assert said(with_sub(fast, 7200), "E6").verdict == "breaks"


def test_a_set_point_that_the_month_does_not_allow_is_mended_on_the_rig():
    hot = RIDGE.model_copy(update={"month_c": (), "night_temperature_c": 25})
    finding = said(changed("heron", site=hot), "E7", shelf=SHELF)
    assert finding.verdict == "breaks" and finding.mends[0].label == "Set the set point to 0 °C"
    mended = changed("heron", site=hot, shooting=Shooting(set_c=0))
    assert said(mended, "E7").verdict == "holds"
    view = drawn(changed("heron", shooting=Shooting(set_c=-25)))
    assert [month.name for month in view.months if not month.holds] == ["Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct"]


def test_the_month_tells_the_night_and_the_year():
    july, november = (told(RIGS["heron"], date(2026, month, 20)) for month in (7, 11))
    assert july.figure("power.dew_point_c").value > november.figure("power.dew_point_c").value
    assert len(drawn(RIGS["heron"]).months) == 12 and drawn(RIGS["wren"]).months == ()


def test_frames_fill_a_small_card_and_a_larger_one_mends_it():
    small = part("card-64").model_copy(update={"storage_gb": 16})
    finding = said(changed("wren", extras=(part("release"), small)), "E8", shelf=SHELF)
    assert finding.verdict == "breaks" and finding.mends[0].label == "Replace with the 256 GB memory card"
    assert (
        said(changed("wren", extras=(part("release"), part("card-64").model_copy(update={"storage_gb": None}))), "E8")
        is None
    )


def test_a_plan_is_held_against_the_wish():
    short = Exposure(filter="dual-7", sub_s=300, count=6)
    stars = Exposure(filter="uvir", sub_s=60, count=20)
    framing = RIGS["heron"].framings[2].model_copy(update={"plan": (short, stars)})
    rig = changed("heron", framings=(framing,))
    finding = said(rig, "E9", shelf=SHELF)
    assert finding.verdict == "strains" and str(finding.mends[0].label).endswith(
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
    plain, mended = said(rig, "E9"), said(rig, "E9", shelf=SHELF)
    assert plain.verdict == mended.verdict == "strains" and plain.measure == mended.measure
    assert mended.title == "Planned filter not on the rig" and "luminance" in mended.reason


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
    assert because in gaps["expose.sky_e_s"]
    assert not {f.code for f in evaluation.findings} & {"E1", "E2", "E3", "E5"}
    assert because in drawn(rig).lacks or "no target" in because


def test_odd_light_is_answered_in_words():
    """No well, no passbands, nothing through, windows the sensor does not see, a body that is shot as video."""
    sensor = RIGS["heron"].path[-1].part.sensor
    deep = camera_of(unplanned("heron"), sensor=sensor.model_copy(update={"full_well_e": None}))
    assert said(deep, "E2").verdict == "holds"  # its counts end somewhere all the same
    unknown = part("dual-7").model_copy(update={"passbands": ()})
    rig = behind(unplanned("heron"), "dual-7")
    rig = rig.model_copy(
        update={"path": tuple(i.model_copy(update={"filters": (unknown,)}) if i.filters else i for i in rig.path)}
    )
    assert str(drawn(rig).lacks).endswith("passbands not specified") and said(rig, "E3") is None
    shut = part("dual-7").model_copy(
        update={"passbands": (part("dual-7").passbands[0].model_copy(update={"peak": 0.0}),)}
    )
    rig = rig.model_copy(
        update={"path": tuple(i.model_copy(update={"filters": (shut,)}) if i.filters else i for i in rig.path)}
    )
    assert said(rig, "E3").title == "Filter blocks the target" and drawn(rig).curves[0].hours_for_wish is None
    far = part("dual-7").passbands[0].model_copy(update={"centre_nm": 1500.0})
    blind = part("dual-7").model_copy(update={"passbands": (far,)})
    rig = rig.model_copy(
        update={"path": tuple(i.model_copy(update={"filters": (blind,)}) if i.filters else i for i in rig.path)}
    )
    assert (said(rig, "E3").verdict == "breaks" and drawn(rig).sub is None) or drawn(rig).sub.limits
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
    hours = [one.hours for one in view.filters if one.hours is not None]
    assert hours == sorted(hours) and view.filters[0].name.startswith("dual-narrowband")
    assert {way.title for way in view.ways} >= {"lines", "lines and stars"}
    lrgb = drawn(unplanned("bittern"), "NGC 891")
    way = next(one for one in lrgb.ways if one.title == "L R G B")
    framing = RIGS["bittern"].framings[0].model_copy(update={"plan": way.blocks})
    assert said(changed("bittern", framings=(framing,)), "E9").verdict == "holds"


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
    rows = [one for one in drawn(rig).calibration if one.kind == "darks"]
    assert [row.on_hand for row in rows] == [True]
    uncooled = [one for one in drawn(RIGS["wren"]).calibration if one.kind == "darks"]
    assert uncooled[0].dark is None and "night" in uncooled[0].words


def test_flats_by_the_panel_and_by_the_sky():
    sky = next(one for one in drawn(unplanned("heron")).calibration if one.kind == "flats")
    assert "sun" in sky.words
    panel = next(
        one for one in drawn(unplanned("heron", extras=(part("panel-flat"),))).calibration if one.kind == "flats"
    )
    assert str(panel.words).startswith("dual-narrowband filter, 7 nm, about") and "panel" in panel.when


def test_other_rigs_are_held_beside_under_the_same_sky():
    context = STEPS.context(unplanned("heron"), None, SHELF, tonight=MOONLESS)
    others = [
        ("wren", STEPS.context(RIGS["wren"], tonight=MOONLESS)),
        ("bare", STEPS.context(a_rig(a_telescope(), a_camera()))),
    ]
    view = expose_view(context, "NGC 281", others)
    assert [curve.name for curve in view.curves] == ["Heron", "Wren", "Test rig"]
    assert view.curves[0].hours_for_wish < view.curves[1].hours_for_wish
    # A detail is made of several pixels of several colours: one of them alone stays below it.
    assert view.curves[0].wish_in_a_pixel > 0 and view.curves[2].wish_in_a_pixel is None
    assert view.curves[2].hours_for_wish is None and "quantum efficiency" in view.curves[2].words
