"""What reaches the tripod's legs, where the targets cross, and the changes that clear them."""

from math import cos, hypot, radians, sin

import pytest

from dravel.core.model import Dovetail, Framing, GuideScope, PathItem, Placed, Preferences, Rig, Site, Support, Target
from dravel.core.steps import STEPS
from dravel.core.steps.mount import legs
from dravel.core.steps.mount.facts import Load
from tests.conftest import a_telescope
from tests.core.test_load_rules import mount

P = Preferences()
LEGS = Support(name="legs", mass_g=5000, height_mm=800, foot_radius_mm=400)
TUBE = a_telescope(
    tube_length_mm=900, tube_diameter_mm=100, axis_above_saddle_mm=80, mass_g=6000,
    dovetail=Dovetail(length_mm=300, middle_mm=600),
)  # fmt: skip


def a_rig(latitude: float = 40.0, decs: tuple[float, ...] = (), **more: object) -> Rig:
    targets = (Target(name=f"at {dec:g}°", kind="galaxy", ra_deg=0, dec_deg=dec) for dec in decs)
    framings = tuple(Framing(target=t, centre_ra_deg=0, centre_dec_deg=t.dec_deg) for t in targets)
    base = {
        "name": "Test rig", "path": (PathItem(part=TUBE),), "mount": mount(axis_height_mm=150), "support": LEGS,
        "site": Site(name="site", latitude_deg=latitude, longitude_deg=0), "framings": framings,
    }  # fmt: skip
    return Rig.model_validate(base | more)


def near(rig: Rig) -> legs.LegClearance | None:
    return STEPS.context(rig, P).of(Load).leg_clearance


def told(rig: Rig, shelf: tuple[object, ...] = ()) -> object:
    findings = [f for f in STEPS.evaluate(rig, P, shelf=shelf).findings if f.code == "L9"]
    return findings[0] if findings else None


def test_upright_it_is_the_distance_of_a_leg_thirty_degrees_aside():
    """By hand: the tube's axis 180 mm to the side, its rear end 450 mm below the support's top."""
    result = near(a_rig())
    leg = 400 * (0.12 + 0.88 * found_depth() / 800)
    assert result.gap_mm == pytest.approx(hypot(leg * cos(radians(30)) - 180, leg * sin(radians(30))) - 50 - 20, abs=6)
    assert (result.part, result.towards) == (TUBE.name, "the zenith")


def found_depth() -> float:
    """Where the leg is nearest to the axis, mm below the support's top: the foot of a perpendicular, by hand."""
    # A leg at 30° off: |leg·(cos 30, sin 30) − (180, 0)| is least at leg = 180·cos 30.
    return (180 * cos(radians(30)) / 400 - 0.12) * 800 / 0.88


def test_targets_say_where_it_reaches_and_a_turned_tripod_changes_that():
    """North of the zenith the rear swings between the two legs away from the pole; south of it, past the one at it."""
    north, south = a_rig(decs=(60,)), a_rig(decs=(20,))
    for rig in (north, south):
        turned = near(rig.model_copy(update={"tripod_turned": True}))
        other = south if rig is north else north
        # Turned by half a step, the tripod is its own mirror image: north becomes south.
        assert turned.gap_mm == pytest.approx(near(other).gap_mm)
    assert near(north).gap_mm != pytest.approx(near(south).gap_mm, abs=1)
    assert near(north).towards == "at 60° on the meridian"


def test_the_south_mirrors_the_north():
    assert near(a_rig(-40, (-60,))).gap_mm == pytest.approx(near(a_rig(40, (60,))).gap_mm)


def test_targets_that_cross_too_low_do_not_count():
    assert near(a_rig(decs=(-45,))).towards == "the zenith"


def test_what_reaches_is_named_and_a_rider_is_carried_elsewhere():
    scope = GuideScope(
        name="long guide scope", aperture_mm=60, focal_length_mm=400, length_mm=700, diameter_mm=60, mass_g=900
    )
    low = Placed(part=scope, along_mm=-550, off_mm=110, side="below")
    finding = told(a_rig(riders=(low,), decs=(60,)))
    assert "long guide scope" in finding.reason and finding.verdict == "problem"
    assert any("on top" in fix.label for fix in finding.fixes)
    assert near(a_rig(riders=(low.model_copy(update={"off_at_night": True}),), decs=(60,))).part == TUBE.name


def test_a_change_after_which_nothing_reaches_is_offered():
    from dravel.catalogue.starter_shelf import part

    finding = told(a_rig(decs=(60,), support=LEGS.model_copy(update={"foot_radius_mm": 500})),
                   shelf=(part("pier-200"), part("pier-portable")))  # fmt: skip
    assert finding.verdict == "problem"
    assert any("under the mount head" in fix.label for fix in finding.fixes), [m.label for m in finding.fixes]


def test_an_alt_azimuth_head_turns_over_every_leg():
    sideways = mount(axis_height_mm=150, style="alt_azimuth", shaft=None)
    assert near(a_rig(mount=sideways)).gap_mm < near(a_rig()).gap_mm


@pytest.mark.parametrize("feet", [3, 4, 5, 8])
def test_odd_stands_are_answered(feet):
    rig = a_rig(decs=(40, 89, -89, 0), support=LEGS.model_copy(update={"feet": feet, "height_mm": 50}))
    assert near(rig) is None or near(rig).radius_mm > 0
