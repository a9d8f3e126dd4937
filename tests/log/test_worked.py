"""Marks that worked: shown beside the design, taken over with one revision, drift and focus in the rig as built."""

import pytest

from dravel.core.log.as_built import as_built
from dravel.core.log.worked import KeptMark, designed, taken_over, worked
from dravel.core.model import Preferences
from dravel.core.model.parts import Measurement
from dravel.core.model.session import WorkedMark
from dravel.core.steps import STEPS
from tests.core.test_odd_rigs import odd_rig


def kept(sort, value, night="2026-11-20", of="", **more):
    return KeptMark(night, WorkedMark(sort=sort, value=value, of=of, **more))


def test_a_weight_is_read_from_the_shafts_shoulder_to_its_inner_face(rigs):
    rig = rigs["bittern"]
    hung = rig.counterweights[0]
    name = hung.part.name
    by_tape = hung.position_mm - hung.part.thickness_mm / 2 - rig.mount.shaft.start_mm
    assert designed(rig, "weight", name) == pytest.approx(by_tape)
    moved = taken_over(rig, WorkedMark(sort="weight", value=by_tape + 12, of=name))
    assert moved.counterweights[0].position_mm == pytest.approx(hung.position_mm + 12)
    assert taken_over(rig, WorkedMark(sort="weight", value=round(by_tape, 1), of=name)) is None  # says the same
    assert taken_over(rig, WorkedMark(sort="weight", value=10, of="another weight")) is None


@pytest.mark.parametrize("sort", ["saddle", "guide_exposure", "camera_angle", "drawtube", "guide_rms", "polar_error", "focuser"])  # fmt: skip
def test_only_what_has_a_place_in_the_rig_is_taken_over(rigs, sort):
    heron = rigs["heron"]
    of = heron.framings[0].target.name if sort == "camera_angle" else ""
    result = taken_over(heron, WorkedMark(sort=sort, value=3.0, of=of))
    if sort in ("drawtube", "guide_rms", "polar_error", "focuser"):
        assert result is None
    else:
        assert designed(result, sort, of) == 3.0 and taken_over(result, WorkedMark(sort=sort, value=3.0, of=of)) is None


def test_the_newest_mark_of_a_sort_stands_on_its_card_with_its_spread(rigs):
    context = STEPS.context(rigs["heron"], Preferences())
    result = worked(context, [kept("saddle", 101, "2026-11-01"), kept("saddle", 104), kept("drawtube", 30.1, of="red")])
    saddle = next(mark for mark in result.marks if mark.sort == "saddle")
    assert (saddle.value, saddle.nights, saddle.spread, saddle.card) == (104, 2, 3, "telescope")
    assert next(mark for mark in result.marks if mark.sort == "drawtube").card == "drawtube"
    assert saddle.takes and "104 mm saved on 2026-11-20" in saddle.words


def test_focus_over_temperature_says_where_it_lies_tonight(rigs):
    context = STEPS.context(rigs["heron"], Preferences())
    drift = context.known.get("drift") / 1000
    marks = [
        kept("drawtube", 30 - drift * warm, f"2026-11-{k + 1:02d}", temperature_c=warm)
        for k, warm in enumerate((-2.0, 3.0, 8.0, 12.0))
    ]
    result = worked(context, marks, 0.0)
    assert result.focus[0].slope == pytest.approx(-drift) == pytest.approx(result.focus[0].expected)
    assert str(result.tonight[0]).startswith("at 0 °C expected focus 30.0")
    assert worked(context, marks).tonight == ()
    row = next(item for item in as_built(context, marks, []).rows if item.title == "Focus over temperature")
    assert row.verdict == "ok" and "by tube expansion alone" in row.designed
    twice = [
        KeptMark(mark.night, mark.mark.model_copy(update={"value": 30 + 3 * (mark.mark.value - 30)})) for mark in marks
    ]
    assert (
        next(item for item in as_built(context, twice, []).rows if item.title == "Focus over temperature").verdict
        == "warning"
    )


def test_as_built_lists_what_was_measured_and_what_drifted(rigs):
    heron = rigs["heron"]
    path = list(heron.path)
    k = next(k for k, item in enumerate(path) if item.part.kind == "filter_holder")
    part = path[k].part.model_copy(
        update={"measured": {"optical_length_mm": Measurement(value=21.3, instrument="callipers")}}
    )
    path[k] = path[k].model_copy(update={"part": part})
    rig = heron.model_copy(update={"path": tuple(path), "measured_focal_length_mm": Measurement(value=371.0)})
    result = as_built(STEPS.context(rig, Preferences()), [kept("saddle", 100, "2026-11-01"), kept("saddle", 108)], [])
    rows = {row.title: row for row in result.rows}
    drawer = next(row for title, row in rows.items() if str(title).startswith(part.name))
    assert (drawer.designed, drawer.measured, drawer.how) == ("21 mm", "21.3 mm", "callipers")
    assert rows["Focal length"].measured == "371.0 mm"
    saddle = next(row for title, row in rows.items() if str(title).startswith("Saddle"))
    assert saddle.drift == "+8 mm since 2026-11-01"
    assert any("Apply it" in line for line in result.changes) or heron.saddle_mm is None


@pytest.mark.parametrize("seed", range(24))
def test_odd_rigs_meet_no_error(seed):
    """No shaft, no weights, no mount, no guiding, nothing measured: told or empty."""
    rig = odd_rig(seed)
    context = STEPS.context(rig, Preferences())
    marks = [
        kept(sort, 5.0, of=of)
        for sort in ("weight", "saddle", "guide_camera", "camera_angle", "guide_rms")
        for of in ("", "x")
    ]
    assert len(worked(context, marks, 3.0).marks) == len(marks)
    as_built(context, marks, [])
    for mark in marks:
        made = taken_over(rig, mark.mark)
        assert made is None or STEPS.context(made, Preferences())
