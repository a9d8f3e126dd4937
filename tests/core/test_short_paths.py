"""A camera on a fixed tripod, and the planets."""

import pytest

from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_framing, a_rig, a_telescope
from tests.says import says


def said(rig, code: str, **more: object):
    return [f for f in STEPS.evaluate(rig, **more).findings if f.code == code]


def lens(focal: float, pixel: float = 4.0, sub_s: float = 2.0, **more: object):
    scope = a_telescope(design="camera_lens", focal_length_mm=focal, aperture_mm=focal / 2, image_circle_mm=44)
    return a_rig(scope, a_camera(pixel=pixel), purposes=("untracked",), guide={"sub_s": sub_s}, **more)


def test_a_24_mm_lens_on_a_tripod():
    # Geometry: 24 mm and 4 µm at the equator trail a pixel in 2.3 s; the habit says 20.8 s.
    (result,) = said(lens(24), "V1")
    assert result.verdict == "ok" and result.measure == "2.3 s" and "21 s" in result.reason


def test_the_declination_counts():
    rig = lens(
        24,
        framings=(
            a_framing(dec=60),
            a_framing(dec=89.99).model_copy(
                update={"target": a_framing(dec=89.99).target.model_copy(update={"name": "Pole"})}
            ),
        ),
    )
    answer = {f.subject: f.measure for f in said(rig, "V1")}
    assert answer["Cloud"] == "4.6 s" and says(answer["Pole"], "no_limit")


def test_a_long_lens_trails_at_once():
    (result,) = said(lens(400, sub_s=0.1), "V1")
    assert result.verdict == "warning" and says(result.title, "trails_at_once")
    assert not said(lens(24).model_copy(update={"purposes": ("wide_field",)}), "V1")


@pytest.mark.parametrize(
    ("focal", "verdict", "title"),
    # 2.9 µm: f/8.7 to f/14.5 (common practice, three to five times the pixel).
    [(1200, "ok", ""), (700, "warning", "ratio_too_fast"), (2000, "warning", "ratio_too_slow")],
)
def test_the_focal_ratio_for_planets(focal, verdict, title):
    scope = a_telescope(focal_length_mm=focal, aperture_mm=100, sensor_side=part("maksutov-127").sensor_side)
    rig = a_rig(scope, part("planet-58"), purposes=("planetary",))
    (result,) = said(rig, "V2")
    assert result.verdict == verdict and (not title or says(result.title, title))
    assert not said(rig.model_copy(update={"purposes": ("galaxy",)}), "V2")


def test_an_extender_is_offered_for_the_planets():
    scope = a_telescope(focal_length_mm=600, aperture_mm=100, sensor_side=part("maksutov-127").sensor_side)
    rig = a_rig(scope, part("planet-58"), purposes=("planetary",))
    (result,) = said(rig, "V2", shelf=(part("extender-2", back_focus_mm=30), *starter_shelf()))
    assert any("×2 extender" in fix.label for fix in result.fixes)
