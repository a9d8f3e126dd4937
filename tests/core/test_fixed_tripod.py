"""A camera on a fixed tripod: the longest exposure without trails is told wherever a sub is, and nothing else."""

from math import cos, degrees, radians

import jsonpatch
import pytest

from dravel.catalogue.demo import RIDGE, scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import Mount, Rig, Support
from dravel.core.moves.subs import planned_sub, seconds_words
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_framing, a_rig, a_telescope

MOUNT = next(
    p for p in starter_shelf() if isinstance(p, Mount) and p.driven_axes == 2 and p.style == "german_equatorial"
)
TRIPOD = Support(name="tripod", height_mm=1200, foot_radius_mm=500)


def still(sub_s: float = 30.0, **more) -> Rig:
    lens = a_telescope(aperture_mm=18, focal_length_mm=50, design="camera_lens")
    return a_rig(lens, a_camera(), support=TRIPOD, guide={"sub_s": sub_s}, **more)


def told(rig: Rig):
    return STEPS.evaluate(rig, shelf=())


def finding(rig: Rig, code: str):
    return next((f for f in told(rig).findings if f.code == code), None)


def limit_s(rig: Rig, declination: float = 0.0) -> float:
    # Geometry, worked here again: a pixel's angle over the sky's rate, 15.041″/s at the equator.
    known = STEPS.context(rig).known
    scale = 206.264806 * known.value("pixel") / known.value("focal_length")
    return scale / (15.041 * cos(radians(declination)))


def test_a_sub_past_the_limit_strains_or_breaks_and_its_fix_holds():
    rig = still()
    trail = finding(rig, "V1")
    assert trail.verdict == ("problem" if 10 * limit_s(rig) < 30 else "warning")
    assert str(seconds_words(limit_s(rig))) in trail.measure
    document = jsonpatch.apply_patch(rig.model_dump(mode="json"), [o.model_dump() for o in trail.fixes[0].change])
    cured = Rig.model_validate(document)
    assert cured.guide.sub_s == pytest.approx(limit_s(rig), abs=0.1) and cured.guide.sub_s <= limit_s(rig) * 1.001
    assert finding(cured, "V1").verdict == "ok"


@pytest.mark.parametrize(("times", "verdict"), [(0.5, "ok"), (1.0, "ok"), (3.0, "warning"), (11.0, "problem")])
def test_the_longer_the_trail_the_worse(times, verdict):
    assert finding(still(times * limit_s(still())), "V1").verdict == verdict


def test_the_rail_answers_and_nothing_speaks_of_polar_axes_or_guiding():
    rig = still(framings=(a_framing(60, 60),))
    result = told(rig)
    assert str(result.headlines["guiding"]).endswith("s, untracked")
    keys = {figure.key for figure in result.figures}
    assert not keys & {"guiding.polar_tolerance_arcmin", "guiding.guided_limit_s", "guiding.rms_arcsec"}
    assert result.figure("optics.guiding_arcsec").value == 0
    assert not [f.code for f in result.findings if f.code in ("G4", "G5", "G7", "G8")]
    view = STEPS["guiding"].view(STEPS.context(rig))
    assert view.polar_tolerance_arcmin is None and all(way.longest_sub_s is None for way in view.methods)


def test_a_head_without_a_motor_is_a_fixed_tripod_too():
    head = Mount(name="ball head", payload_kg=5, mass_g=500, driven_axes=0, guide_input="none", style="tracker")
    rig = still().model_copy(update={"mount": head})
    assert finding(rig, "V1").measure == finding(still(), "V1").measure
    assert told(rig).headlines["guiding"] == told(still()).headlines["guiding"]


def test_without_tripod_or_mount_nothing_is_said_yet():
    rig = still().model_copy(update={"support": None})
    assert finding(rig, "V1") is None
    assert told(rig).headlines["guiding"] == "no mount yet"


@pytest.mark.parametrize(
    ("limit", "planned"),
    [(187.4, 187), (12.9, 12), (3.47, 3.4), (0.3, 0.3), (0.151, 0.1), (0.047, 0.04), (0.0004, 0.001)],
)
def test_subs_are_planned_round_and_never_at_nothing(limit, planned):
    (edit,) = planned_sub(limit).edits
    assert edit.value == pytest.approx(planned) and planned_sub(limit).label == f"Set sub length to {planned:g} s"


@pytest.mark.parametrize(
    ("seconds", "words"),
    [(4000, "more than 1 h"), (125, "125 s"), (3.44, "3.4 s"), (0.151, "0.15 s"), (0.012, "0.012 s")],
)
def test_no_exposure_reads_as_none(seconds, words):
    assert seconds_words(seconds) == words


def test_the_habit_of_a_very_wide_lens_is_told_in_figures():
    wide = a_rig(a_telescope(aperture_mm=5, focal_length_mm=4, design="camera_lens"), a_camera(), support=TRIPOD)
    assert "125 s." in finding(wide, "V1").reason


def test_guided_on_one_axis_the_polar_error_drifts_in_the_other():
    # Declination is not driven: two pixels in a sub are two pixels, whatever guides the other axis.
    tracker = part("tracker-5").model_copy(update={"payload_kg": 20.0})
    heron = dict(scenario().rigs)["heron"].model_copy(update={"mount": tracker, "counterweights": ()})
    tolerance = told(heron).figure("guiding.polar_tolerance_arcmin").value
    scale = STEPS.context(heron).known.value("pixel_scale")
    assert tolerance == pytest.approx(60 * degrees(scale / (15.041 * heron.guide.sub_s)), rel=1e-3)


def test_unguided_the_polar_error_drifts():
    # 70′ of polar error turn the corner by little, and drift by 15.041″/s · 70′ = 0.306″/s: 55″ in 180 s.
    rig = Rig.model_validate(
        {"name": "Unguided", "path": [{"part": part(i)} for i in ("triplet-86", "reducer-08-m63", "colour-18")],
         "mount": MOUNT, "guide": {"method": "none", "sub_s": 180}}
    )  # fmt: skip
    tolerance = told(rig).figure("guiding.polar_tolerance_arcmin")
    scale = STEPS.context(rig).known.value("pixel_scale")
    drift = 15.041 * radians(tolerance.value / 60) * 180
    assert drift == pytest.approx(scale, rel=1e-3)


def test_no_fix_plans_a_sub_that_trails():
    """What is offered against an overflowing well or loud read noise stays within what a tripod holds."""
    bright = still(20.0, framings=(a_framing(60, 60),), site=RIDGE)
    rig = bright.model_copy(update={"purposes": ("untracked",)})
    longest = limit_s(rig, 60) * 10  # a trail of ten pixels breaks
    for result in told(rig).findings:
        for fix in result.fixes:
            document = jsonpatch.apply_patch(rig.model_dump(mode="json"), [o.model_dump() for o in fix.change])
            assert Rig.model_validate(document).guide.sub_s <= max(longest, rig.guide.sub_s)
            if result.code in ("E1", "E2"):
                assert Rig.model_validate(document).guide.sub_s <= limit_s(rig, 60) * 1.01
