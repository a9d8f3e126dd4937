"""Rules of camera and filter: hydrogen, infrared, clip-in filters, triggers, batteries, cards; and rankings of bodies."""

from datetime import date

import pytest

from dravel.catalogue.demo import TERRACE, scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import Finding, Preferences, Rig
from dravel.core.model.edit import Edit, apply
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_rig, a_telescope
from tests.says import says

RIGS = dict(scenario().rigs)
SHELF = scenario().parts
NIGHT = date(2026, 12, 9)


def said(rig: Rig, code: str, preferences: Preferences | None = None) -> Finding | None:
    return next((f for f in STEPS.evaluate(rig, preferences, SHELF, tonight=NIGHT).findings if f.code == code), None)


def with_camera(name: str, camera: str, **changes: object) -> Rig:
    rig = RIGS[name]
    at = next(i for i, item in enumerate(rig.path) if item.part.kind == "camera")
    return apply(rig, (Edit("replace", ("path", at, "part"), part(camera)),)).model_copy(update=changes)


def labels(finding: Finding) -> list[str]:
    return [fix.label for fix in finding.fixes]


def test_a_stock_body_starves_hydrogen_from_a_town_and_another_fixes_it():
    finding = said(with_camera("heron", "dslr-aps", site=TERRACE), "C1", Preferences(nights_a_target=3, target_snr=15))
    assert finding.verdict == "problem" and says(finding.title, "stock_camera_blocks_ha")
    assert any("cooled colour camera" in label or "mirrorless" in label for label in labels(finding))
    # From the ridge it is only a pity; a galaxy does not mind.
    assert said(with_camera("heron", "dslr-aps"), "C1").verdict == "warning"
    assert said(with_camera("bittern", "dslr-aps"), "C1") is None
    assert says(said(RIGS["wren"], "C1").title, "ha_transmission_ok")


def test_bodies_rank_as_practitioners_rank_them():
    """Common practice: for hydrogen a cooled camera before a modified body, that before a stock one."""
    hours = [
        STEPS.evaluate(with_camera("heron", body), tonight=NIGHT).figure("exposure.hours_to_goal").value
        for body in ("colour-18", "slim-aps", "dslr-aps")
    ]
    assert hours == sorted(hours) and hours[2] > 2 * hours[1]


@pytest.mark.parametrize(("filters", "in_use", "expected"), [
    (("dual-7", "uvir"), 0, "ir_cut_ok"), (("dual-7", "uvir"), None, "ir_cut_missing"),
])  # fmt: skip
def test_a_full_spectrum_sensor_behind_a_lens_wants_a_cut(filters, in_use, expected):
    rig = RIGS["heron"]
    at = next(i for i, item in enumerate(rig.path) if item.part.kind == "filter_holder")
    rig = apply(rig, (Edit("replace", ("path", at, "in_use"), in_use),))
    finding = said(rig, "C2")
    assert says(finding.title, expected)
    if finding.verdict != "ok":
        assert says(labels(finding)[0], "use", "UV/IR-cut filter")
    assert says(said(RIGS["bittern"], "C2").title, "ir_cut_not_needed")
    assert says(said(RIGS["wren"], "C2").title, "ir_cut_built_in")


@pytest.mark.parametrize(("camera", "expected"), [("dslr-aps", "ok"), ("slim-aps", "problem")])
def test_a_clip_in_filter_fits_its_own_kind_of_body(camera, expected):
    rig = with_camera("magpie", camera)
    at = next(i for i, item in enumerate(rig.path) if item.part.kind == "camera")
    clip = (part("dual-clip"),)
    rig = apply(rig, (Edit("replace", ("path", at, "filters"), clip), Edit("replace", ("path", at, "in_use"), 0)))
    finding = said(rig, "C3")
    assert finding.verdict == expected
    if expected == "problem":
        assert [says(label, "remove", "clip-in dual-narrowband filter, 7 nm") for label in labels(finding)] == [True]


def test_a_body_wants_a_release_a_card_and_batteries():
    magpie = RIGS["magpie"]
    assert said(magpie, "C4").verdict == said(magpie, "C6").verdict == "problem"
    assert says(labels(said(magpie, "C4"))[0], "add", "remote release with a timer")
    assert said(magpie, "C5").verdict == "warning" and [
        says(label, "add", "spare camera battery") for label in labels(said(magpie, "C5"))
    ] == [True]
    ready = magpie.model_copy(update={"extras": (part("release"), part("card-64"), *(part("battery-spare"),) * 3)})
    assert [said(ready, code).verdict for code in ("C4", "C5", "C6")] == ["ok"] * 3
    driven = magpie.model_copy(update={"extras": (part("laptop"),)})
    assert said(driven, "C4").verdict == said(driven, "C6").verdict == "ok"


def test_a_cooled_camera_wants_a_computer():
    alone = RIGS["heron"].model_copy(
        update={"riders": tuple(r for r in RIGS["heron"].riders if r.part.id != "controller")}
    )
    finding = said(alone, "C4")
    assert finding.verdict == "problem" and says(labels(finding), "add", "small controller")
    # A release does not drive a camera without a shutter button.
    assert said(alone.model_copy(update={"extras": (part("release"),)}), "C4").verdict == "problem"
    assert said(alone, "C6") is None


def test_cameras_that_say_nothing_are_not_judged():
    bare = a_rig(a_telescope(), a_camera())
    assert {f.code for f in STEPS.evaluate(bare).findings if f.code[0] == "C"} == {"C2"}
    assert all(camera.driven_by for camera in starter_shelf() if camera.kind == "camera")
