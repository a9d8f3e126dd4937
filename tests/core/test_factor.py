"""Factor and spacing are one thing; several correctors each have their own; a guider ahead of one does not see it."""

from datetime import date

import pytest

from dravel.core.model import Adapter, Measurement, OffAxisGuider, Preferences, Rig
from dravel.core.model.edit import apply
from dravel.core.steps import STEPS
from dravel.core.train.facts import Spacing
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope
from tests.numbers import numbers
from tests.says import says

P = Preferences()
SCOPE = a_telescope(aperture_mm=72, focal_length_mm=420, needs_corrector=True)


def train(length: float, *, factor: float = 0.85, back: float = 55, **more: object) -> Rig:
    ring = Adapter(name="ring", optical_length_mm=length - 17.5)
    reducer = a_corrector(factor=factor, back_focus_mm=back, **more)
    return a_rig(SCOPE, reducer, ring, a_camera(flange_to_sensor_mm=17.5))


def said(rig: Rig, code: str):
    return next(f for f in STEPS.evaluate(rig, P, ()).findings if f.code == code)


@pytest.mark.parametrize(("length", "focal"), [(55, 357), (75, 334.1), (45, 368.5)])
def test_the_scale_follows_the_spacing(length, focal):
    # Thin lens: 420 (1 - L / 55 x 0.15); 75 mm of train make 334 mm of it, not 357.
    context = STEPS.context(train(length), P)
    assert context.value("focal_length") == pytest.approx(focal, abs=0.1)
    assert context.value("optics.per_pixel_gain") == pytest.approx((420 / focal) ** 2, rel=1e-3)


def test_far_off_its_spacing_the_makers_factor_stands():
    context = STEPS.context(train(150), P)
    assert context.value("focal_length") == pytest.approx(357)
    assert "too far off" in context.known.why_not("spaced_factor")


def test_which_way_a_longer_train_moves_it_is_said():
    reason = said(train(75), "S2").reason
    assert says(reason, "factor_moves", "0.795", "0.850") and "334" in numbers(reason)
    assert says(said(train(75, factor=1.5, role="extender"), "S2").reason, "factor_moves")
    assert not says(said(train(75, factor=1.0, role="flattener"), "S2").reason, "factor_moves")


def test_a_solved_frame_tells_the_spacing_and_is_kept_with_it():
    # 377 mm measured on 420 is x0.898, which is 55 x 0.102 / 0.15 = 37.5 mm of this corrector.
    rig = train(55).model_copy(update={"measured_focal_length_mm": Measurement(value=377, on=date(2026, 11, 14))})
    answer = said(rig, "O6")
    assert "×0.898 corresponds to 37.5 mm" in answer.reason
    assert STEPS.context(rig, P).value("optics.per_pixel_gain") == pytest.approx((420 / 377) ** 2)
    fix = next(m for m in answer.fixes if says(m.label, "set_factor"))
    (kept,) = [item.value["measured"]["factor"] for item in fix.change]
    assert kept["value"] == pytest.approx(0.8976, abs=1e-4) and kept["at_mm"] == 55
    # With that reading, twenty millimetres more move it on from there.
    longer = train(75, measured={"factor": {"value": 0.9, "at_mm": 55}})
    assert STEPS.context(longer, P).value("focal_length") == pytest.approx(420 * (1 - 75 / 55 * 0.1))
    where_not_kept = train(75, measured={"factor": {"value": 0.9}})
    assert STEPS.context(where_not_kept, P).value("focal_length") == pytest.approx(420 * 0.9)


def stacked(*marks: bool) -> Rig:
    parts = [
        a_corrector(
            name=f"corrector {i}", factor=factor, back_focus_mm=back, optical_length_mm=30, stacks=mark, role=role
        )
        for i, (mark, factor, back, role) in enumerate(
            zip(marks, (0.8, 2.0), (60, 50), ("reducer", "extender"), strict=True)
        )
    ]
    return a_rig(SCOPE, *parts, Adapter(name="ring", optical_length_mm=32.5), a_camera(flange_to_sensor_mm=17.5))


def test_each_corrector_has_its_own_place_and_factor():
    # Traced by hand: the extender sees 50 mm, works at 2, and takes its image from 25 mm behind; the reducer, 30 mm
    # ahead of the extender's rear shoulder, forms that image 55 mm behind itself: 1 - 55/60 x 0.2 = 0.8167.
    lenses = STEPS.context(stacked(False, False), P).of(Spacing).lenses
    assert [round(lens.behind, 3) for lens in lenses] == [55, 50]
    assert [round(lens.factor, 4) for lens in lenses] == [0.8167, 2.0]
    assert STEPS.context(stacked(False, False), P).value("focal_length") == pytest.approx(420 * 0.81667 * 2, rel=1e-4)


def test_stacking_what_was_not_made_for_it_is_objected_to():
    assert said(stacked(False, False), "O7").verdict == "warning"
    assert said(stacked(False, True), "O7").verdict == "ok"
    assert not [f for f in STEPS.evaluate(train(55), P, ()).findings if f.code == "O7"]


def test_a_guider_ahead_of_a_reducer_sees_no_reducer():
    # An f/10 of 2,030 mm with a x0.63 reducer that wants 105 mm; a prism 8 mm ahead of the reducer's front face.
    scope = a_telescope(aperture_mm=203, focal_length_mm=2030, design="schmidt_cassegrain")
    guider = OffAxisGuider(
        name="guider", optical_length_mm=16.5,
        prism={"width_mm": 8, "height_mm": 8, "centre_to_sensor_side_mm": 8, "stalk_mm": 30},
    )  # fmt: skip
    reducer = a_corrector(factor=0.63, back_focus_mm=105, optical_length_mm=28)
    ring, camera = Adapter(name="ring", optical_length_mm=87.5), a_camera(flange_to_sensor_mm=17.5)
    eye = a_camera(1300, 1000, 3.75, flange_to_sensor_mm=12.5)
    guide = {"method": "off_axis", "branch": [{"part": eye}]}
    ahead = STEPS.context(a_rig(scope, guider, reducer, ring, camera, guide=guide), P)
    # To the telescope's own image: 8 + 28 + 105 / 0.63 = 202.7 mm, not 8 + 28 + 105 = 141.
    assert ahead.of(Spacing).branch[0].required == pytest.approx(202.67, abs=0.01)
    assert ahead.value("guide_scale") == pytest.approx(206.265 * 3.75 / 2030, rel=1e-4)
    behind = STEPS.context(a_rig(scope, reducer, guider, ring, camera, guide=guide), P)
    assert behind.of(Spacing).branch[0].required == pytest.approx(8 + 105)
    assert behind.value("guide_scale") == pytest.approx(206.265 * 3.75 / behind.value("focal_length"), rel=1e-4)


def test_a_corrector_says_when_it_gives_no_range_and_when_its_table_ends():
    assert says(said(train(55), "O4").title, "corrector_range_not_specified")
    table = ({"focal_length_mm": 300, "back_focus_mm": 56}, {"focal_length_mm": 400, "back_focus_mm": 55})
    answer = said(train(55, back_focus_table=table, min_focal_length_mm=300, max_focal_length_mm=600), "O4")
    assert answer.verdict == "warning" and "ends at 400 mm" in answer.reason
    inside = ({"focal_length_mm": 300, "back_focus_mm": 56}, {"focal_length_mm": 500, "back_focus_mm": 55})
    assert said(train(55, back_focus_table=inside, min_focal_length_mm=300), "O4").verdict == "ok"


def test_the_fix_that_trusts_the_frame_makes_the_rig_agree_with_it():
    rig = train(55).model_copy(update={"measured_focal_length_mm": Measurement(value=377)})
    rule = STEPS.rules["O6"]
    attempt = next(iter(next(iter(rule.judgements(STEPS.context(rig, P)))).attempts))
    after = apply(rig, attempt.edits).model_copy(update={"measured_focal_length_mm": None})
    assert STEPS.context(after, P).value("focal_length") == pytest.approx(377, abs=0.1)
