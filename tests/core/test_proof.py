"""Rules of proof: silent without a frame, and each saying what its sign on the newest frame says."""

from dataclasses import replace

import jsonpatch
import numpy as np
import pytest

from dravel.catalogue.demo import scenario
from dravel.core.frames.claims import FrameClaims
from dravel.core.frames.reading import FrameReading, TakenAt, measure
from dravel.core.frames.solution import Solution
from dravel.core.model import Rig
from dravel.core.model.words import as_text
from dravel.core.steps import STEPS
from dravel.core.steps.frames.sets import spaced, swept
from dravel.core.steps.frames.trend import trend
from dravel.core.steps.frames.view import proof, steady
from dravel.core.train.throughput import in_use
from dravel.stand_ins.picture import Faults, PictureRig, random_stars, take
from dravel.stand_ins.taking import NoCamera, picture_rig
from tests.core.test_odd_rigs import odd_rig

RIGS, SHELF = dict(scenario().rigs), scenario().parts
HERON = STEPS.context(RIGS["heron"])
PIXELS = PictureRig(1900, 1300, 3.5, 4.3, 1.945, 3e6, 1.5, 0.002, 1.6, 17_000, 0.27)
DESIGNED = HERON.known.get("star_px")


def reading(name: str = "frame", scale: float | None = None, **faults: float) -> FrameReading:
    made = take(PIXELS, random_stars(PIXELS, 800, 1, brightest=7), Faults(**{"fwhm_px": DESIGNED, **faults}), 120, 1)
    claims = FrameClaims(scale_arcsec=scale, simulated=True)
    return measure(name, made.adu.astype(np.float32), None, 62_000.0, claims)


GOOD = reading()


def said(*evidence: FrameReading) -> dict[str, str]:
    context = STEPS.context(RIGS["heron"], evidence=evidence)
    return {rule.code: item.verdict for rule, item in STEPS.said(context, "frames")}


def test_without_a_frame_every_rule_is_silent():
    assert said() == {}
    assert not [finding for finding in STEPS.evaluate(RIGS["heron"]).findings if finding.code.startswith("F")]


def test_a_good_frame_holds_in_everything():
    assert said(GOOD) == {f"F{n}": "ok" for n in range(1, 6)}
    answer = proof(HERON, GOOD)
    assert answer.causes == () and "No fault found" in answer.words


@pytest.mark.parametrize(("code", "faults"), [
    ("F1", {"guide_px": 0.9}), ("F2", {"tilt_um": 120, "focus_um": 20}), ("F3", {"radial_px": 2.0, "curved_um": 60}),
    ("F4", {"turn_px": 4}), ("F5", {"focus_um": 70}),
])  # fmt: skip
def test_each_sign_is_told_by_its_rule(code, faults):
    assert said(GOOD, reading(**faults))[code] == "warning"  # the newest is judged


def test_a_scale_that_is_not_the_designed_one_can_be_taken_as_measured():
    off = reading(scale=1.945 * 1.05)
    context = STEPS.context(RIGS["heron"], evidence=(off,))
    (judgement,) = [item for rule, item in STEPS.said(context, "frames") if rule.code == "F6"]
    assert judgement.verdict == "warning" and as_text(judgement.measure) == "+5.0%"
    answer = proof(HERON, off)
    assert abs(answer.measured_focal_mm - HERON.known.get("focal_length") / 1.05) < 1
    row = next(item for item in answer.held if item.title == "Pixel scale")
    assert row.verdict == "warning" and "Focal length" in row.words


@pytest.mark.parametrize("seed", range(25))
def test_no_rig_that_can_be_owned_upsets_the_proof_of_a_frame(seed):
    context = STEPS.context(odd_rig(seed), evidence=(GOOD,))
    answer = proof(context, GOOD)
    assert answer.words and all(row.designed and row.measured for row in answer.held)
    STEPS.said(context, "frames")


def test_frames_together_say_more_than_one():
    round_, long = GOOD, reading(guide_px=0.9)
    assert any("gusts or the guide star" in item for item in steady((round_, long, round_)))
    growing = tuple(reading(fwhm_px=DESIGNED * k) for k in (1.0, 1.15, 1.4))
    assert any("focus drift" in item for item in steady(growing))
    assert steady((GOOD,)) == ()


def test_the_stand_in_camera_takes_its_pixels_from_the_rig():
    heron, bittern = picture_rig(HERON), picture_rig(STEPS.context(RIGS["bittern"]))
    assert (heron.width, heron.height, heron.mosaic, bittern.mosaic) == (5200, 3900, True, False)
    assert bittern.star_e_s > heron.star_e_s  # a larger aperture, and no filter of seven nanometres
    with pytest.raises(NoCamera):
        picture_rig(STEPS.context(RIGS["heron"].model_copy(update={"path": ()})))


def series_of(rig, best: float, at=(54.0, 55.0, 56.0)):
    readings = []
    for k, mm in enumerate(at):
        off = mm - best
        item = reading(f"{mm:g}", radial_px=1.2 * off, curved_um=15 * off, uneven=0.01, uneven_seed=k)
        readings.append(item.model_copy(update={"taken": TakenAt(spacing_mm=mm)}))
    return STEPS.context(rig, shelf=SHELF, evidence=readings)


def test_a_series_tells_the_best_spacing_and_its_change_lays_it():
    context = series_of(RIGS["heron"], 54.6)
    answer = spaced(context, context.evidence)
    assert abs(answer.reading.best_mm - 54.6) < 0.2 and answer.verdict == "warning"
    assert any("too long" in line for line in answer.lines) and "Set the back focus of the" in answer.label
    assert answer.lays
    patched = jsonpatch.apply_patch(
        RIGS["heron"].model_dump(mode="json"), [item.model_dump(mode="json") for item in answer.change]
    )
    laid = STEPS.context(Rig.model_validate(patched))
    assert abs(laid.known.get("actual") - answer.reading.best_mm) < 0.21  # the tolerance that rings are laid to
    assert laid.light.correctors[-1].reading("back_focus_mm").instrument == "series of 3 spacings"
    (spacing,) = [item.verdict for rule, item in STEPS.said(laid, "spacing") if rule.code == "S1"]
    assert spacing == "ok"


def test_a_series_without_a_corrector_has_nothing_to_lay_and_one_spacing_is_none():
    context = series_of(RIGS["heron"], 55.0)
    assert spaced(context, context.evidence[:1]) is None
    bare = [item for item in RIGS["heron"].path if item.part.kind != "corrector"]
    without = series_of(RIGS["heron"].model_copy(update={"path": tuple(bare)}), 55.0)
    answer = spaced(without, without.evidence)
    assert answer.reading is not None and answer.label == "" and answer.change == ()
    short = STEPS.context(RIGS["heron"], evidence=series_of(RIGS["heron"], 54.6).evidence)
    assert spaced(short, short.evidence).label and not spaced(short, short.evidence).lays  # nothing on the shelf
    two = spaced(context, context.evidence[:2])
    assert two.reading is None and "three different ones" in two.because


def sweep_of(*, tilt: float, wide: float = 1.0):
    readings = []
    for k in (-2, -1, 0, 1, 2):
        item = reading(f"z{k}", tilt_um=tilt, tilt_deg=45, focus_um=-33 * k * wide)
        readings.append(item.model_copy(update={"taken": TakenAt(focus=5000 + 8 * k)}))
    return tuple(readings)


def test_a_sweep_tells_where_the_sensor_leans_and_a_square_one_that_it_stands():
    leaning = swept(HERON, sweep_of(tilt=80))
    assert abs(leaning.reading.tilt_um - 80) < 8 and leaning.verdict == "warning"
    assert "towards the lower right" in leaning.lines[0] and "out: " in leaning.lines[1]
    square = swept(HERON, sweep_of(tilt=0))
    assert square.verdict == "ok" and "No sensor tilt" in square.lines[0]


def test_a_night_focused_anew_now_and_then_is_no_sweep():
    assert swept(HERON, sweep_of(tilt=0, wide=0.02)) is None
    assert swept(HERON, (GOOD, GOOD)) is None
    two = tuple(GOOD.model_copy(update={"taken": TakenAt(focus=at)}) for at in (5000, 5040))
    assert swept(HERON, two) is None  # a refocus in the night is no sweep begun
    begun = swept(HERON, sweep_of(tilt=0)[:3])
    assert begun.reading is None and "3 places of the focuser" in begun.because
    binned = GOOD.model_copy(update={"width": 950, "height": 650, "taken": TakenAt(focus=1)})
    assert swept(HERON, (binned, *sweep_of(tilt=0))).reading is not None
    dark = STEPS.context(RIGS["heron"].model_copy(update={"path": ()}))
    assert "unknown" in swept(dark, sweep_of(tilt=0)).because


def at_hour(hour: float, **change):
    claims = FrameClaims(at=f"2026-11-20T{20 + int(hour):02d}:{int(hour % 1 * 60):02d}:00", simulated=True)
    return GOOD.model_copy(update={"claims": claims, **change})


def test_a_night_s_trend_is_told_where_there_is_one():
    growing = tuple(at_hour(h, fwhm_px=2.0 + 0.3 * h, sky_adu=600.0) for h in (0, 1, 2, 3))
    answer = trend(growing)
    assert [point.hours for point in answer.points] == [0, 1, 2, 3]
    assert any("FWHM grows" in line and "+0.3 px an hour" in line for line in answer.lines)
    assert not any("sky" in line for line in answer.lines)
    brighter = tuple(at_hour(h, sky_adu=600 + 90 * h) for h in (0, 1, 2, 3))
    assert any("Sky brightens" in line for line in trend(brighter).lines)
    still = trend(tuple(at_hour(h) for h in (0, 1, 2)))
    assert still.lines == ()
    assert trend((GOOD, GOOD, GOOD)) is None and trend(growing[:2]) is None
    with_an_old_one = (at_hour(0).model_copy(update={"claims": FrameClaims(at="2026-10-01T20:00:00")}), *growing)
    assert len(trend(with_an_old_one).points) == 4
    odd = GOOD.model_copy(update={"claims": FrameClaims(at="yesterday")})
    assert trend((odd, odd, odd)) is None


def test_a_frame_is_judged_with_its_rig_and_not_with_another_camera_or_spacing():
    soft = reading(focus_um=70)
    result = {finding.code: finding.verdict for finding in STEPS.evaluate(RIGS["heron"], evidence=(soft,)).findings}
    assert result["F5"] == "warning"
    assert STEPS.evaluate(RIGS["heron"], evidence=(soft,)).headlines["frames"] == "soft"
    assert STEPS.evaluate(RIGS["heron"], evidence=(GOOD,)).headlines["frames"] == "as designed"
    assert STEPS.evaluate(RIGS["heron"]).headlines["frames"] == "no frames yet"
    huge = soft.model_copy(update={"width": 9000, "height": 6000})
    other = soft.model_copy(update={"claims": FrameClaims(pixel_um=2.4)})
    for item in (huge, other):
        assert said(item) == {}
    corners = reading(radial_px=2.0, curved_um=60)
    elsewhere = corners.model_copy(update={"taken": TakenAt(spacing_mm=HERON.known.get("actual") + 1)})
    assert said(corners)["F3"] == "warning" and "F3" not in said(elsewhere)


def test_frames_out_of_focus_on_purpose_are_not_held_against_the_rig():
    through = sweep_of(tilt=0)
    assert "F5" in said(through[-1]) and said(through[-1])["F5"] == "warning"  # alone it is just a soft frame
    assert said(*through)["F5"] == "ok"
    assert said(*through, reading(focus_um=70))["F5"] == "warning"  # a new one that is none of the sweep


def test_the_words_of_a_scale_tell_the_spacing_and_which_way_the_figure_lies():
    row = next(item for item in proof(HERON, reading(scale=1.945 * 1.03)).held if item.title == "Pixel scale")
    # ×0.8 at 55 mm: ×0.777 is 55 · 0.223/0.2 mm, by the thin lens.
    assert "61.4 mm" in row.words and "6.4 mm nearer" in row.words


def test_the_pointing_is_held_against_the_target_s_frame():
    framing = RIGS["heron"].framings[0]

    def pointed(off: float):
        claims = FrameClaims(
            scale_arcsec=1.945, centre_ra_deg=framing.centre_ra_deg, centre_dec_deg=framing.centre_dec_deg + off
        )
        held = proof(HERON, GOOD.model_copy(update={"claims": claims})).held
        return next((item for item in held if item.title == "Pointing"), None)

    assert pointed(0.01).verdict == "ok" and pointed(0.01).measured == "0.6′ off"
    assert pointed(0.4).verdict == "warning" and pointed(30) is None


def held(one: FrameReading, title: str):
    return next((row for row in proof(HERON, one).held if row.title == title), None)


def claiming(**claims) -> FrameReading:
    return GOOD.model_copy(update={"claims": FrameClaims(**claims)})


@pytest.mark.parametrize(("claims", "title", "verdict"), [
    ({"focal_mm": 371}, "Focal length, by the header", "ok"), ({"focal_mm": 480}, "Focal length, by the header", "warning"),
    ({"set_c": -10, "sensor_c": -9.6}, "Sensor", "ok"), ({"set_c": -10, "sensor_c": 2}, "Sensor", "warning"),
    ({"filter": "Clear glass"}, "Filter", "warning"),
])  # fmt: skip
def test_what_a_header_claims_stands_beside_the_rig(claims, title, verdict):
    assert held(claiming(**claims), title).verdict == verdict
    assert held(claiming(), title) is None


def test_the_filter_of_the_rig_is_known_by_its_name():
    name = in_use(RIGS["heron"]).name
    assert held(claiming(filter=name.upper()), "Filter").verdict == "ok"


def test_saturated_stars_are_counted():
    assert held(GOOD, "Saturated stars").verdict == "ok"
    burnt = GOOD.model_copy(update={"saturated": GOOD.found // 4})
    assert held(burnt, "Saturated stars").verdict == "warning"


def test_the_camera_s_angle_is_held_against_the_frame_s():
    framing = RIGS["heron"].framings[0]

    def turned(by: float, mirrored: bool = False):
        solution = Solution(
            scale_arcsec=1.945, rotation_deg=(framing.position_angle_deg - 90 + by) % 360, mirrored=mirrored,
            centre_ra_deg=framing.centre_ra_deg, centre_dec_deg=framing.centre_dec_deg, matched=40, listed=50, miss_px=0.1,
            chance_log10=-40,
        )  # fmt: skip
        return held(GOOD.model_copy(update={"solution": solution}), "Camera angle")

    assert turned(0.5).verdict == turned(180).verdict == "ok"  # upside down is the same frame
    assert turned(7).verdict == "warning" and "7.0°" in turned(7).words
    assert turned(0, mirrored=True) is None


def test_light_in_the_corners_is_measured_on_the_sky():
    """A falloff drawn into the frame is read from its sky, within a few hundredths."""
    rig = replace(PIXELS, corner_light=0.6, sky_e_s=20.0)
    made = take(rig, random_stars(rig, 300, 1, brightest=8), Faults(fwhm_px=2.2), 120, 1)
    claims = FrameClaims(electrons_adu=rig.gain_e_adu, exposure_s=120, offset_adu=500)
    row = held(measure("f", made.adu.astype(np.float32), None, 62_000.0, claims), "Light in the corners")
    # Corners are patches of a tenth of the picture's side: some way in from the very corner.
    assert 0.60 < float(str(row.measured).rstrip("%")) / 100 < 0.70 and row.verdict == "warning"
    even = take(replace(rig, corner_light=1.0), random_stars(rig, 300, 1, brightest=8), Faults(fwhm_px=2.2), 120, 1)
    row = held(measure("f", even.adu.astype(np.float32), None, 62_000.0, claims), "Light in the corners")
    assert row.verdict == "ok" and row.measured in ("99%", "100%", "101%")


def test_a_bowl_beside_the_middle_says_so():
    field = reading(radial_px=1.5, curved_um=70).field.model_copy(update={"slope": (1.4, 0.0)})
    causes = proof(HERON, GOOD.model_copy(update={"field": field})).causes
    words = " ".join(str(line) for cause in causes for line in cause.speaks_for)
    assert "off-centre" in words


SWEEP, SERIES = sweep_of(tilt=50), series_of(RIGS["heron"], 54.6).evidence


@pytest.mark.parametrize("seed", range(30))
def test_no_rig_that_can_be_owned_upsets_a_sweep_or_a_series(seed):
    context = STEPS.context(odd_rig(seed), shelf=SHELF, evidence=(*SWEEP, *SERIES))
    sweep, series = swept(context, SWEEP), spaced(context, SERIES)
    assert sweep is None or sweep.because or sweep.lines
    assert series.because or series.lines
    if series.change:
        after = jsonpatch.apply_patch(
            context.rig.model_dump(mode="json"), [item.model_dump(mode="json") for item in series.change]
        )
        Rig.model_validate(after)  # what is offered, a save takes
    assert STEPS.evaluate(odd_rig(seed), evidence=(*SWEEP, *SERIES)).headlines["frames"]
