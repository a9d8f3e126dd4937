"""Looking for targets: by what they are, by night and by fit; months, moving bodies, the hop card, turning the camera."""

from datetime import date
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dravel.catalogue.demo import RIDGE, targets
from dravel.catalogue.starter_shelf import part, starter_shelf
from dravel.core.model import Preferences, Rig, Target
from dravel.core.model.edit import Edit, apply
from dravel.core.overview.months import months
from dravel.core.overview.readiness import as_other, other_rigs
from dravel.core.sky.altaz import separation
from dravel.core.sky.curves import night_curve
from dravel.core.sky.framing import centred
from dravel.core.sky.hop import START_MAGNITUDE, STEP_SHARE, hop_card
from dravel.core.sky.moving import BODIES, bodies_on, body_at, followed, moment_for, of_date, placed
from dravel.core.sky.night import TWILIGHT_SUN, night_of, passing
from dravel.core.sky.ranking import RigForNight, rank_moving
from dravel.core.sky.search import SearchWanted, find
from dravel.core.steps import STEPS
from dravel.core.train.facts import Spacing
from tests.conftest import a_camera, a_framing, a_rig, a_telescope
from tests.says import says

AUTUMN = date(2026, 11, 25)
P = Preferences()
LISTED = targets()
NIGHT = night_of(RIDGE, AUTUMN)


def names(wanted: SearchWanted, **more: object) -> set[str]:
    result, total = find(LISTED, wanted, P, **more)
    assert total == len(result)
    return {item.target.name for item in result}


def test_by_kind_size_and_brightness():
    assert names(SearchWanted()) == {target.name for target in LISTED}
    assert names(SearchWanted(kinds=("globular",))) == {"M13"}
    assert names(SearchWanted(kinds=("galaxy", "globular"), smaller_arcmin=22)) == {"M13", "NGC 891"}
    assert names(SearchWanted(larger_arcmin=60)) == {"Veil complex", "IC 1805"}
    assert names(SearchWanted(brighter_mag=5)) < names(SearchWanted(brighter_mag=8))
    assert find((), SearchWanted(), P) == ((), 0)


def test_an_unknown_brightness_is_not_bright():
    dim = Target(name="Faint cloud", ra_deg=10, dec_deg=10, major_arcmin=30)
    assert find((dim,), SearchWanted(brighter_mag=20), P)[1] == 0


def test_by_night_and_by_fit():
    high = names(SearchWanted(hours=4, altitude_deg=60), night=NIGHT)
    assert "NGC 891" in high and "M13" not in high
    assert names(SearchWanted(fits=True), field=(0.6, 0.4)) >= {"M101", "NGC 891"}
    assert "Veil complex" not in names(SearchWanted(fits=True), field=(0.6, 0.4))
    with pytest.raises(ValueError, match="site: "):
        find(LISTED, SearchWanted(hours=1), P)
    with pytest.raises(ValueError, match="rig: "):
        find(LISTED, SearchWanted(fits=True), P)


def test_what_is_found_agrees_with_its_own_night():
    result, _ = find(LISTED, SearchWanted(), P, NIGHT)
    for item in result:
        assert item.hours == pytest.approx(passing(item.target, NIGHT, P).hours)


def test_months_name_the_rig_that_suits():
    answer = months(
        (("a", "Wide", (6.0, 4.0), 0.0), ("b", "Long", (0.5, 0.35), P.small_target_share)), LISTED, RIDGE, AUTUMN, P
    )
    assert answer.months[0] == "November" and answer.months[2] == "January"
    veil = answer.rows[0].counts[answer.months.index("September")]
    assert veil > answer.rows[0].counts[answer.months.index("April")]
    assert all(rig in ("a", "b", None) for rig in answer.suits)
    assert months((), LISTED, RIDGE, AUTUMN, P).suits == (None,) * 12


def test_bodies_stand_highest_between_dusk_and_dawn():
    for target in bodies_on(NIGHT):
        assert target.body in BODIES and target.major_arcmin > 0.03
        at = moment_for(target.body, NIGHT)
        assert np.interp(at, NIGHT.jd, NIGHT.sun_altitude) < TWILIGHT_SUN
    assert 29 < body_at("Moon", NIGHT.jd[0], RIDGE).major_arcmin < 34.5


def test_the_moon_goes_round_and_its_frame_goes_along():
    moon = body_at("Moon", float(NIGHT.jd[100]), RIDGE)
    framing = centred(moon, (2, 1.5), P).model_copy(update={"centre_ra_deg": (moon.ra_deg + 0.3) % 360})
    later = followed(framing, night_of(RIDGE, date(2026, 12, 2)))
    assert abs(later.target.ra_deg - moon.ra_deg) > 60
    assert later.centre_ra_deg != pytest.approx(framing.centre_ra_deg)
    assert followed(a_framing(), NIGHT) == a_framing()
    rig = Rig(name="Any", framings=(framing,), site=RIDGE)
    assert of_date(rig, None) is not rig and of_date(rig, None).framings == rig.framings
    assert placed(LISTED[0], NIGHT) is LISTED[0]


def test_a_planet_needs_no_darkness_and_no_moonless_sky():
    saturn = next(target for target in bodies_on(NIGHT) if target.body == "Saturn")
    seen, star = passing(saturn, NIGHT, P), passing(saturn.model_copy(update={"body": None}), NIGHT, P)
    assert seen.hours >= star.hours
    curve = night_curve(saturn, RIDGE, AUTUMN, P)
    assert curve.moon_separation is not None and curve.up == "north"
    best = rank_moving(bodies_on(NIGHT), RigForNight((0.2, 0.13), 2.5, False, P.small_target_share), NIGHT, P)
    assert best[0].target.body == "Jupiter" and [w.score for w in best] == sorted((w.score for w in best), reverse=True)


def test_up_at_the_meridian_is_south_beyond_the_zenith():
    assert night_curve(LISTED[0], RIDGE, AUTUMN, P).up == "south"  # M81 culminates north of the zenith
    assert night_curve(LISTED[-1], RIDGE, AUTUMN, P).up == "north"


def test_a_disk_is_counted_in_pixels():
    jupiter = body_at("Jupiter", float(NIGHT.jd[150]))
    rig = a_rig(
        a_telescope(), a_camera(), purposes=("planetary",), framings=(centred(jupiter, (2, 1.5), P),), site=RIDGE
    )
    result = {f.code: f for f in STEPS.evaluate(rig, tonight=AUTUMN).findings if f.subject == "Jupiter"}
    assert result["V3"].verdict == "warning" and result["V3"].measure == "25 px"
    assert "A3" not in result
    wide = rig.model_copy(update={"purposes": ("wide_field",)})
    assert next(f for f in STEPS.evaluate(wide, tonight=AUTUMN).findings if f.code == "V3").verdict == "ok"


def grid(step: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Stars of magnitude 6 in a grid around (40, 0), one bright one in its corner."""
    ra, dec = (values.ravel() for values in np.meshgrid(np.arange(35, 45, step), np.arange(-5, 5, step)))
    magnitude = np.full(ra.shape, 6.0)
    magnitude[0] = 2.0
    return ra, dec, magnitude


def test_a_hop_card_starts_bright_and_never_steps_too_far():
    target = Target(name="Cloud", ra_deg=41, dec_deg=2)
    ra, dec, magnitude = grid(0.5)
    card = hop_card(target, 1.5, ra, dec, magnitude, {0: "Corner"})
    assert card.stops[0].name == "Corner" and card.stops[0].magnitude <= START_MAGNITUDE
    assert card.stops[-1].name == "Cloud" and not card.blank
    assert all(hop.fields <= STEP_SHARE + 1e-9 for hop in card.hops)
    assert str(card.hops[0].words).endswith("°") and any("north" in hop.words for hop in card.hops)


def test_where_no_chain_leads_it_goes_in_blank_steps():
    ra, dec, magnitude = grid(3)
    card = hop_card(Target(name="Cloud", ra_deg=41, dec_deg=2), 1.0, ra, dec, magnitude)
    assert card.blank and card.stops[-2].magnitude is None
    points = [(stop.ra_deg, stop.dec_deg) for stop in card.stops]
    for (item, hop), (other, _) in pairwise([*zip(points, card.hops, strict=False), (points[-1], None)]):
        a, b = (
            np.array([np.cos(d) * np.cos(r), np.cos(d) * np.sin(r), np.sin(d)]) for r, d in np.radians([item, other])
        )
        assert separation(a, b) == pytest.approx(hop.degrees, abs=1e-6)
    with pytest.raises(ValueError, match="target: no star"):
        hop_card(Target(name="Far", ra_deg=200, dec_deg=60), 1.0, ra, dec, magnitude)


@settings(max_examples=20, deadline=None)
@given(ra=st.floats(36, 44), dec=st.floats(-4, 4), field=st.floats(0.7, 5))
def test_the_steps_of_a_card_lead_to_the_target(ra, dec, field):
    card = hop_card(Target(name="Cloud", ra_deg=ra, dec_deg=dec), field, *grid(0.5))
    assert (card.stops[-1].ra_deg, card.stops[-1].dec_deg) == (ra, dec)
    assert len(card.hops) == len(card.stops) - 1
    assert all(np.hypot(*stop.at) <= card.radius_deg for stop in card.stops)


def turned(rig: Rig) -> Rig:
    return apply(rig, (Edit("replace", ("framings", 0, "position_angle_deg"), 37.0),))


def test_a_threaded_train_does_not_turn_until_a_rotator_is_laid(rigs):
    answer = {
        name: next((f for f in STEPS.evaluate(turned(rig)).findings if f.code == "A6"), None)
        for name, rig in rigs.items()
    }
    assert answer["wren"] is None  # turned with its lens in the collar
    bittern = turned(rigs["bittern"])
    assert answer["bittern"].verdict == "warning"
    finding = next(f for f in STEPS.evaluate(bittern, shelf=starter_shelf()).findings if f.code == "A6")
    assert "rotator" in finding.fixes[0].label and finding.fixes[0].leads_to == "ok"
    laid = bittern.path[0].model_copy(update={"part": part("rotator-m48")})
    assert any(
        joint.turns
        for joint in STEPS.context(bittern.model_copy(update={"path": (laid, *bittern.path)}), P).of(Spacing).joints
    )


def test_other_rigs_are_pointed_to_best_first(rigs):
    others = other_rigs((key, as_other(rig, P)) for key, rig in rigs.items())
    findings = [f for f in STEPS.evaluate(rigs["bittern"], others=others).findings if f.elsewhere]
    assert all(f.verdict != "ok" and f.code in ("A4", "A5") for f in findings)
    magpie = next(
        f for f in STEPS.evaluate(rigs["magpie"], others=others).findings if f.code == "A4" and "Veil" in f.subject
    )
    assert says(magpie.elsewhere[0].label, "use_rig", "Wren")
    assert other_rigs([("empty", as_other(Rig(name="Empty"), P))]) == ()
