"""Rules of camera and filter: hydrogen, infrared, clip-in filters, triggers, batteries, cards; and rankings of bodies."""

from datetime import date

import pytest

from dravel.catalogue.demo import TERRACE, scenario
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import Finding, Practice, Rig
from dravel.core.model.edit import Edit, apply
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_rig, a_telescope

RIGS = dict(scenario().rigs)
SHELF = scenario().parts
NIGHT = date(2026, 12, 9)


def said(rig: Rig, code: str, practice: Practice | None = None) -> Finding | None:
    return next((f for f in STEPS.evaluate(rig, practice, SHELF, tonight=NIGHT).findings if f.code == code), None)


def with_camera(name: str, camera: str, **changes: object) -> Rig:
    rig = RIGS[name]
    at = next(i for i, item in enumerate(rig.path) if item.part.kind == "camera")
    return apply(rig, (Edit("replace", ("path", at, "part"), part(camera)),)).model_copy(update=changes)


def labels(finding: Finding) -> list[str]:
    return [mend.label for mend in finding.mends]


def test_a_stock_body_starves_hydrogen_from_a_town_and_another_mends_it():
    finding = said(with_camera("heron", "dslr-aps", site=TERRACE), "C1", Practice(nights_a_target=3, wished_snr=15))
    assert (finding.verdict, finding.title) == ("breaks", "Stock camera blocks most Hα")
    assert any("cooled colour camera" in label or "mirrorless" in label for label in labels(finding))
    # From the ridge it is only a pity; a galaxy does not mind.
    assert said(with_camera("heron", "dslr-aps"), "C1").verdict == "strains"
    assert said(with_camera("bittern", "dslr-aps"), "C1") is None
    assert said(RIGS["wren"], "C1").title == "Hα transmission OK"


def test_bodies_rank_as_practitioners_rank_them():
    """Common practice: for hydrogen a cooled camera before a modified body, that before a stock one."""
    hours = [
        STEPS.evaluate(with_camera("heron", body), tonight=NIGHT).figure("expose.hours_for_wish").value
        for body in ("colour-18", "slim-aps", "dslr-aps")
    ]
    assert hours == sorted(hours) and hours[2] > 2 * hours[1]


@pytest.mark.parametrize(("filters", "in_use", "expected"), [
    (("dual-7", "uvir"), 0, "IR cut OK"), (("dual-7", "uvir"), None, "No IR-cut filter"),
])  # fmt: skip
def test_a_full_spectrum_sensor_behind_a_lens_wants_a_cut(filters, in_use, expected):
    rig = RIGS["heron"]
    at = next(i for i, item in enumerate(rig.path) if item.part.kind == "filter_holder")
    rig = apply(rig, (Edit("replace", ("path", at, "in_use"), in_use),))
    finding = said(rig, "C2")
    assert finding.title == expected
    if finding.verdict != "holds":
        assert labels(finding)[0] == "Use the UV/IR-cut filter"
    assert said(RIGS["bittern"], "C2").title == "IR cut not needed"
    assert said(RIGS["wren"], "C2").title == "IR cut OK, built in"


@pytest.mark.parametrize(("camera", "expected"), [("dslr-aps", "holds"), ("slim-aps", "breaks")])
def test_a_clip_in_filter_fits_its_own_kind_of_body(camera, expected):
    rig = with_camera("magpie", camera)
    at = next(i for i, item in enumerate(rig.path) if item.part.kind == "camera")
    clip = (part("dual-clip"),)
    rig = apply(rig, (Edit("replace", ("path", at, "filters"), clip), Edit("replace", ("path", at, "in_use"), 0)))
    finding = said(rig, "C3")
    assert finding.verdict == expected
    if expected == "breaks":
        assert labels(finding) == ["Remove the clip-in dual-narrowband filter, 7 nm"]


def test_a_body_wants_a_release_a_card_and_batteries():
    magpie = RIGS["magpie"]
    assert said(magpie, "C4").verdict == said(magpie, "C6").verdict == "breaks"
    assert labels(said(magpie, "C4"))[0] == "Add the remote release with a timer"
    assert said(magpie, "C5").verdict == "strains" and labels(said(magpie, "C5")) == [
        "Add 3 of the spare camera battery"
    ]
    ready = magpie.model_copy(update={"extras": (part("release"), part("card-64"), *(part("battery-spare"),) * 3)})
    assert [said(ready, code).verdict for code in ("C4", "C5", "C6")] == ["holds"] * 3
    driven = magpie.model_copy(update={"extras": (part("laptop"),)})
    assert said(driven, "C4").verdict == said(driven, "C6").verdict == "holds"


def test_a_cooled_camera_wants_a_computer():
    alone = RIGS["heron"].model_copy(
        update={"riders": tuple(r for r in RIGS["heron"].riders if r.part.id != "controller")}
    )
    finding = said(alone, "C4")
    assert finding.verdict == "breaks" and "Add the small controller" in labels(finding)
    # A release does not drive a camera without a shutter button.
    assert said(alone.model_copy(update={"extras": (part("release"),)}), "C4").verdict == "breaks"
    assert said(alone, "C6") is None


def test_cameras_that_say_nothing_are_not_judged():
    bare = a_rig(a_telescope(), a_camera())
    assert {f.code for f in STEPS.evaluate(bare).findings if f.code[0] == "C"} == {"C2"}
    assert all(camera.driven_by for camera in starter_shelf() if camera.kind == "camera")
