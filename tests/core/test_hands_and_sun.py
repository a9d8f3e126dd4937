"""What hands do in a night, what a rig finds by itself, and that glass stays covered until the sun is down: common practice."""

from datetime import date
from itertools import pairwise

import numpy as np
import pytest
from astropy import units as u
from astropy.coordinates import AltAz, EarthLocation, get_body, get_sun
from astropy.time import Time
from astropy.utils import iers

from dravel.catalogue.demo import RIDGE, scenario
from dravel.catalogue.starter_shelf import part
from dravel.core.model import FilterHolder, Placed, Preferences, Rig
from dravel.core.overview.ahead import ahead
from dravel.core.overview.board import board
from dravel.core.overview.night_hands import sunset_slot
from dravel.core.overview.night_targets import way_to
from dravel.core.overview.sequence import reframed_every_min
from dravel.core.overview.tonight import TonightPlan, tonight
from dravel.core.sky.moving import bodies_on
from dravel.core.sky.night import night_of
from dravel.core.steps import STEPS
from dravel.core.steps.assembly.deck import deck
from dravel.core.steps.assembly.facts import Build
from dravel.core.steps.assembly.starting import polar_method
from tests.conftest import a_camera, a_framing, a_rig, a_telescope

iers.conf.auto_download, iers.conf.auto_max_age = False, None
RIGS = dict(scenario().rigs)
NIGHT = date(2026, 12, 9)


def planned(*rigs: Rig, day: date = NIGHT, **more: object) -> TonightPlan:
    named = [
        (f"{k}-{rig.name}", STEPS.context(rig.model_copy(update={"site": RIDGE}), tonight=day))
        for k, rig in enumerate(rigs)
    ]
    return tonight(named, RIDGE, day, **more)


def steps_of(plan: TonightPlan, kind: str, rig: int = 0):
    return [step for step in plan.rigs[rig].steps if step.kind == kind]


def without_motor(rig: Rig) -> Rig:
    kept = tuple(rider for rider in rig.riders if getattr(rider.part, "function", "") != "focus_motor")
    return rig.model_copy(update={"riders": kept})


def with_motor(rig: Rig) -> Rig:
    return without_motor(rig).model_copy(
        update={"riders": (*without_motor(rig).riders, Placed(part=part("motor-focuser"), off_mm=60))}
    )


def test_a_drawer_and_a_knob_want_hands_a_wheel_and_a_motor_do_not():
    heron = RIGS["heron"]
    assert any(isinstance(item.part, FilterHolder) and item.part.style != "wheel" for item in heron.path)
    by_hand, by_motor = planned(without_motor(heron)), planned(with_motor(heron))
    assert all(step.hands for step in steps_of(by_hand, "refocus"))
    assert steps_of(by_motor, "refocus") and not any(step.hands for step in steps_of(by_motor, "refocus"))
    changed = steps_of(planned(with_motor(heron), day=date(2026, 11, 25)), "filter")
    assert changed and all(step.hands for step in changed)
    wheel = steps_of(planned(with_motor(RIGS["bittern"])), "filter")
    assert wheel and not any(step.hands for step in wheel)
    # A drawer pulled in the dark takes longer than a wheel.
    long = [step.end_s - step.start_s for step in (changed[0], wheel[0])]
    assert long[0] > long[1]


def test_what_hands_do_is_told_with_its_time_and_never_in_two_places():
    plan = planned(without_motor(RIGS["heron"]), without_motor(RIGS["bittern"]))
    refocused = [job for job in plan.jobs if "refocus" in job.what]
    assert refocused
    hands = sorted((step.start_s, step.end_s) for rig in plan.rigs for step in rig.steps if step.hands)
    assert all(item[1] <= other[0] + 1 for item, other in pairwise(hands))


def test_a_tracker_neither_slews_nor_guides_by_itself():
    wren, bittern = (STEPS.context(RIGS[name], tonight=NIGHT) for name in ("wren", "bittern"))
    way, seconds, by_hand = way_to(wren)
    assert by_hand and "slew" not in way and "guide" not in way
    other, sooner, alone = way_to(bittern)
    assert not alone and "slew" in other and "guide" in other and sooner < seconds
    assert all(step.hands for step in steps_of(planned(RIGS["wren"]), "slew"))


def test_a_rig_that_follows_nothing_is_framed_anew_by_hand_in_its_time():
    lens = a_telescope(aperture_mm=18, focal_length_mm=50, design="camera_lens")
    still = a_rig(lens, a_camera(), support=part("tripod-photo"), guide={"sub_s": 2.0}, framings=(a_framing(60, 60),))
    minutes = reframed_every_min(STEPS.context(still))
    assert minutes is not None and minutes > 0.5
    assert reframed_every_min(STEPS.context(RIGS["wren"])) is None


@pytest.mark.parametrize("name", ["wren", "heron", "bittern"])
@pytest.mark.parametrize("day", [date(2026, 6, 21), date(2026, 9, 20), NIGHT])
def test_caps_stay_on_until_the_sun_is_down(name, day):
    plan = planned(RIGS[name], day=day)
    down = sunset_slot(night_of(RIDGE, day)) * 300
    bare = [step for step in plan.rigs[0].steps if step.kind not in ("set_up",) or step.key == "uncover"]
    assert bare and min(step.start_s for step in bare) >= down - 1
    cards = deck(STEPS.context(RIGS[name]))
    caps = next(k for k, card in enumerate(cards) if card.key == "caps")
    assert cards[caps].after_sunset
    assert all(card.key not in ("power", "home", "balance_ra", "balance_altitude") for card in cards[:caps])


def test_nobody_waits_for_hours_to_save_a_flip():
    """A target that is as high at dusk as it is after the meridian is begun at dusk, and turned over on the way."""
    looked = 0
    for day in (date(2026, 9, 10), date(2026, 10, 10), date(2026, 11, 10), NIGHT, date(2027, 2, 5), date(2027, 4, 7)):
        (rig,) = planned(RIGS["bittern"], day=day).rigs
        free = (
            max(step.end_s for step in rig.steps if step.kind in ("set_up", "align", "flats")) / 300 if rig.steps else 0
        )
        for run in rig.runs:
            curve = next(item for item in rig.curves if item.target == run.target)
            might = next(k for k in range(len(curve.usable)) if curve.usable[k] and k >= free)
            waited = (run.start - might) / 12
            busy = any(other.start < run.start and other.end > might for other in rig.runs)
            if not busy:
                looked += 1
                assert waited < 1 or curve.altitude[run.start] > curve.altitude[might] + 8, (day, run, waited)
    assert looked >= 3


def test_a_rig_for_planets_is_not_told_that_it_frames_nothing():
    bodies = bodies_on(night_of(RIDGE, NIGHT))
    jupiter = next(body for body in bodies if body.body == "Jupiter")
    framing = a_framing().model_copy(
        update={"target": jupiter, "centre_ra_deg": jupiter.ra_deg, "centre_dec_deg": jupiter.dec_deg}
    )
    rig = RIGS["bittern"].model_copy(update={"framings": (framing,), "purposes": ("planetary",)})
    empty = RIGS["bittern"].model_copy(update={"framings": ()})
    said, none = (planned(item).rigs[0].because for item in (rig, empty))
    assert said and none and said != none


def test_the_board_tonight_and_the_fortnight_tell_one_dark_and_one_moon_and_astropy_agrees():
    day = date(2026, 11, 16)
    night = night_of(RIDGE, day)
    words = tonight([], RIDGE, day).words
    seen = board([("heron", 1, RIGS["heron"])], (), Preferences(), RIDGE, day).night
    for at in (night.dusk(), night.dawn()):
        clock = f"{night.local(at):%H:%M}"
        assert clock in words and clock in seen.words
    lit = f"{seen.moon_illuminated:.0%}"
    assert lit in words and ahead([], RIDGE, day).nights[0].lit == seen.moon_illuminated
    place = EarthLocation(
        lat=RIDGE.latitude_deg * u.deg, lon=RIDGE.longitude_deg * u.deg, height=RIDGE.elevation_m * u.m
    )
    when = Time([night.dusk(), night.dawn()], format="jd")
    assert get_sun(when).transform_to(AltAz(obstime=when, location=place)).alt.deg == pytest.approx(-18, abs=0.05)
    middle = Time(float(night.jd[len(night.jd) // 2]), format="jd")
    sun, moon = get_sun(middle), get_body("moon", middle, place)
    apart = sun.separation(moon).rad
    phase = np.arctan2(sun.distance.km * np.sin(apart), moon.distance.km - sun.distance.km * np.cos(apart))
    assert seen.moon_illuminated == pytest.approx((1 + np.cos(phase)) / 2, abs=0.01)


def keys(rig: Rig) -> list[str]:
    return [card.key for card in deck(STEPS.context(rig))]


def test_cards_of_rigs_that_differ():
    heron, wren = keys(RIGS["heron"]), keys(RIGS["wren"])
    # Stars are made round before a frame is solved for the pole; without a computer nothing is solved.
    assert heron.index("rough_focus") < heron.index("polar") < heron.index("focus")
    assert polar_method(STEPS.context(RIGS["wren"])) == "polar_scope" and "rough_focus" not in wren
    bare = RIGS["heron"].model_copy(
        update={
            "riders": tuple(
                rider for rider in RIGS["heron"].riders if getattr(rider.part, "function", "") != "controller"
            ),
            "extras": (),
        }
    )
    assert polar_method(STEPS.context(bare)) != "camera"
    # A tracker is pushed when it is pointed; a body is set up before it is out of reach; a lens has no drawtube.
    assert wren.index("find") < wren.index("polar_again") < wren.index("start")
    assert "body" in wren and "body" not in heron and "drawtube" not in wren
    assert "dew_shield" in heron and "dew_shield" in wren
    assert ("guide_focus" in heron) == (RIGS["heron"].guide.method == "guide_scope")


def test_cards_of_mirrors_and_forks():
    newtonian = RIGS["magpie"]
    assert {"collimate", "mirror"} <= set(keys(newtonian)) and "collimate" not in keys(RIGS["heron"])
    fork = RIGS["heron"].model_copy(update={"mount": part("altaz-6"), "counterweights": ()})
    assert not {"balance_ra", "balance_dec", "polar"} & set(keys(fork)) and "balance_altitude" in keys(fork)
    moving = a_rig(part("schmidt-203"), a_camera(), mount=part("equatorial-13"), support=part("tripod-steel"))
    assert "drawtube" not in keys(moving) and "collimate" in keys(moving)


def test_flats_come_before_anything_is_touched_on_the_way_down():
    down = STEPS.context(RIGS["heron"]).of(Build).down
    assert down[0].key == "off-start" and down[0].title
