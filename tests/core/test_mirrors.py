"""Mirror telescopes: focus drift with the secondary's magnification, and mirrors that move for focus."""

import pytest

from dravel.catalogue.starter_shelf import part
from dravel.core.model import Adapter, Preferences, Rig
from dravel.core.overview.strip import lay_out
from dravel.core.physics import optics
from dravel.core.steps import STEPS
from dravel.core.steps.mount.facts import Load
from dravel.core.steps.spacing.sheet import spacing_sheet
from dravel.core.train.facts import Spacing
from tests.conftest import a_camera, a_rig, a_telescope
from tests.says import says

P = Preferences()
SCT = part("schmidt-203")


def train(length: float, scope: object = SCT) -> Rig:
    ring = Adapter(name="tube", optical_length_mm=length)
    return a_rig(scope, ring, a_camera(flange_to_sensor_mm=20, mass_g=900), mount=part("equatorial-13"))


@pytest.mark.parametrize(
    ("aperture", "focal", "design", "tube", "material", "kelvin"),
    [
        # Common practice: an f/10 mirror telescope of aluminium wants a new focus within half a degree.
        (203, 2030, "schmidt_cassegrain", 430, "aluminium", 0.426),
        # The same in carbon, and an f/8 of carbon: tens of degrees, not hundreds.
        (203, 2030, "schmidt_cassegrain", 430, "carbon", 8.64),
        (200, 1600, "ritchey_chretien", 460, "carbon", 11.6),
        # No secondary that magnifies: alpha times L, and the glass beside it.
        (86, 464, "triplet", 410, "aluminium", 2.72),
        (150, 750, "newtonian", 690, "steel", 3.26),
    ],
)
def test_refocus_interval_by_design(aperture, focal, design, tube, material, kelvin):
    scope = a_telescope(
        aperture_mm=aperture, focal_length_mm=focal, design=design, tube_length_mm=tube, tube_material=material
    )
    figure = STEPS.evaluate(a_rig(scope, a_camera()), P).figure("optics.refocus_interval_k")
    assert figure.value == pytest.approx(kelvin, rel=0.03)


def test_two_mirrors_traced_by_the_mirror_equation_move_the_focus_by_m_squared_plus_one():
    # Independent: a paraboloid of 406 mm and a secondary that takes its image from p to 5 p; the gap opened by 1 um.
    f1, magnification, p = 406.0, 5.0, 100.0
    f2 = p * magnification / (magnification - 1)

    def image_from_primary(gap: float) -> float:
        inside = f1 - gap
        return 1 / (1 / inside - 1 / f2) - gap

    gap = f1 - p
    moved = (image_from_primary(gap + 1e-3) - image_from_primary(gap)) / 1e-3
    assert abs(moved) == pytest.approx(optics.cassegrain_gain(magnification), rel=1e-3) == 26
    growth = optics.cassegrain_growth(f1, magnification, (magnification + 1) * p - f1)
    assert growth == pytest.approx(f1 / f2)


def test_the_focal_length_grows_with_the_back_distance_and_the_scale_follows():
    near, far = (STEPS.context(train(length), P) for length in (100, 150))
    assert near.value("focal_length") == pytest.approx(2030, abs=0.1)
    # 3.1 mm for each mm, as the shelf's figure has it.
    assert far.value("focal_length") == pytest.approx(2030 + 50 * 3.1)
    assert far.value("pixel_scale") < near.value("pixel_scale")
    finding = next(f for f in STEPS.evaluate(train(150), P).findings if f.code == "S16")
    assert finding.verdict == "warning" and says(finding.reason, "focus_knob_turns")


def test_a_moving_mirror_has_no_drawtube_to_mark_and_shifts_no_load():
    rig = train(130)
    facts = STEPS.context(rig, P).of(Spacing)
    assert facts.position is None and facts.mirror_moves
    answer = " ".join(map(str, spacing_sheet(rig, P).settings))
    assert "no drawtube to mark" in answer and "mm out of" not in answer
    strip = lay_out(rig)
    assert strip.focus_mm == pytest.approx(strip.sensor_mm) and strip.drawtube is None
    load = STEPS.context(rig, P).of(Load)
    assert load.travel == 0
    codes = {f.code for f in STEPS.evaluate(rig, P).findings}
    assert not codes & {"S4", "S5"} and "S16" in codes


def test_without_a_mirror_ratio_or_back_focus_nothing_is_made_up():
    plain = SCT.model_copy(update={"back_focus_mm": None})
    assert STEPS.context(train(150, plain), P).value("focal_length") == 2030
    slow = SCT.model_copy(update={"primary_ratio": 10.0})
    assert STEPS.context(train(150, slow), P).value("focal_length") == 2030
    own = STEPS.context(train(150, SCT.model_copy(update={"growth_per_mm": None})), P)
    assert 2030 + 50 * 2.5 < own.value("focal_length") < 2030 + 50 * 4  # common practice: about 3


def test_a_camera_straight_behind_a_moving_mirror_is_no_broken_spacing():
    """Common practice: the mirror is turned until it is sharp. What that does to the focal length is S16's to tell."""
    straight = a_rig(SCT, part("planet-58"), purposes=("planetary",))
    result = {finding.code: finding for finding in STEPS.evaluate(straight, P).findings}
    assert "S2" not in result and "S16" in result
    assert not [
        item
        for item in result.values()
        if item.verdict == "problem" and item.step in ("optics", "spacing") and item.code != "S1"
    ]
