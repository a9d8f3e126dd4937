"""Wishes that contradict themselves, name what is not there, or leave nothing: told which; and what is said of a rig."""

import re
from datetime import date

import numpy as np
import pytest
from pydantic import ValidationError

from dravel.catalogue.demo import RIDGE, scenario
from dravel.core.design import conflict
from dravel.core.design.designer import BadRequest, Designer
from dravel.core.design.front import front
from dravel.core.design.later import bought
from dravel.core.design.likeness import differs, slots_of
from dravel.core.design.reasons import numbers
from dravel.core.design.request import STAYS, RequestTerms, RigRequest, purposes_of
from dravel.core.design.shop import SECOND_HAND_SHARE, Shop, price_of
from dravel.core.design.wanted import wished_for
from dravel.core.model import Price, Target
from dravel.core.overview.cost import cost
from dravel.core.steps import STEPS
from tests.design.hands import DEMO, LISTED, PRACTICE, bench, small_shelf, some_request

SHELF = scenario().parts
RIGS = dict(scenario().rigs)
DESIGNER = Designer()
TODAY = date(2026, 11, 27)
TARGETS = tuple(target for target in DEMO if target.name in ("M101", "NGC 281", "IC 1805"))


def request(**terms):
    """A request for three of the demo's targets from the ridge."""
    return RigRequest(targets=TARGETS, purposes=purposes_of(TARGETS), site=RIDGE, **terms)


def answer(given, shelf=SHELF):
    """The whole answer, as it can be sent."""
    events = list(DESIGNER.search(given, shelf, PRACTICE))
    assert all(event.model_dump_json() for event in events)
    return events[-1].answer


@pytest.mark.parametrize(
    ("terms", "words"),
    [
        ({"stays": ("nothing-like-it",)}, "stays: there is no part 'nothing-like-it'"),
        ({"stays": ("ring-m48-20",)}, "stays: the 20 mm M48 ring is of a kind (adapter)"),
        ({"case": "laptop"}, "case: there is no case 'laptop'"),
        ({"not_wanted": ("mono", "colour")}, "not_wanted: a camera is either"),
    ],
)
def test_a_wish_that_cannot_be_asked_names_its_field(terms, words):
    with pytest.raises(BadRequest, match=re.escape(words)):
        answer(request(**terms))


@pytest.mark.parametrize(
    "terms", [{"money": -1}, {"money": float("nan")}, {"trips": 0}, {"currency": "euro"}, {"goals": {"fit": 2}}]
)
def test_terms_outside_their_range_are_refused(terms):
    with pytest.raises(ValidationError):
        RequestTerms(**terms)


def test_no_targets_and_months_that_do_not_go_with_them():
    with pytest.raises(ValidationError, match="targets"):
        RigRequest(targets=())
    with pytest.raises(ValidationError, match="months"):
        RigRequest(targets=TARGETS, months=(1,))
    with pytest.raises(BadRequest, match="none is high enough"):
        answer(RigRequest(targets=TARGETS, months=(0, 0, 0), site=RIDGE))


@pytest.mark.parametrize(
    ("terms", "together"),
    [
        ({"carried_kg": 1}, {"carried mass ≤ 1 kg"}),
        ({"money": 0, "not_wanted": ("computer",), "stays": ("ritchey-200",)}, None),
        ({"stays": ("planet-58",)}, {"the planetary camera, 5.8 × 3.5 mm, 2.9 µm is fixed"}),
        (
            {"stays": ("tripod-photo", "tripod-steel")},
            {"the photo tripod, carbon is fixed", "the steel tripod is fixed"},
        ),
    ],
)
def test_the_smallest_conflict_is_told_and_is_smallest(terms, together):
    given = request(**terms)
    report = answer(given)
    assert not report.rows and report.conflict and report.reasons
    if together is not None:
        assert set(report.conflict) == together
    evaluator = DESIGNER.evaluator(given, SHELF, PRACTICE)
    masks = evaluator.screen.requests(given)
    names = conflict.smallest_conflict(evaluator, given)
    works = evaluator.screen.works
    every = np.logical_and.reduce([works, *(masks[name] for name in names)])
    assert next(front(evaluator, every, given), None) is None
    for left_out in names:
        rest = np.logical_and.reduce([works, *(masks[name] for name in names if name != left_out)])
        assert next(front(evaluator, rest, given), None) is not None, left_out


def test_what_lifts_a_conflict_does_lift_it():
    light = answer(request(carried_kg=1))
    (lift,) = (reason for reason in light.reasons if reason.key == "lifts")
    given = request(carried_kg=1)
    evaluator = DESIGNER.evaluator(given, SHELF, PRACTICE)
    mass = numbers(evaluator, lift.row, evaluator.said(lift.row)).mass_kg
    assert mass > 1 and f"{mass:.1f} kg" in lift.words
    assert (
        answer(request(carried_kg=round(mass + 0.05, 1))).rows
        and not answer(request(carried_kg=round(mass - 0.2, 1))).rows
    )
    both = answer(request(stays=("tripod-photo", "tripod-steel")))
    lifted = [reason for reason in both.reasons if reason.key == "lifts"]
    assert len(lifted) == 2 and all(item.row is not None for item in lifted)
    for stays in ("tripod-photo", "tripod-steel"):
        assert answer(request(stays=(stays,))).rows


@pytest.mark.parametrize("kind", ["telescope", "camera", "mount", "support"])
def test_a_shelf_without_a_kind_says_so(kind):
    report = answer(request(), tuple(part for part in LISTED if part.kind != kind))
    assert not report.rows and kind in report.reasons[0].words


def test_prices_missing_or_in_another_currency_are_told():
    bare = tuple(part.model_copy(update={"price": None}) for part in LISTED)
    report = answer(request(), bare)
    assert not report.rows and "no price" in " ".join(map(str, (*report.notes, report.reasons[0].words)))
    other = tuple(
        part.model_copy(update={"price": Price(amount=part.price.amount, currency="CHF")})
        if part.kind == "mount"
        else part
        for part in LISTED
    )
    report = answer(request(), other)
    assert not report.rows and "currency other than" in " ".join(map(str, report.notes))


def test_parts_at_hand_cost_nothing_and_second_hand_a_share():
    owned, listed = SHELF[0].model_copy(update={"status": "borrowed"}), LISTED[0]
    assert price_of(owned, 1.0) == 0
    assert price_of(listed, SECOND_HAND_SHARE) == pytest.approx(listed.price.amount * 0.65)
    used = listed.model_copy(update={"price": Price(amount=100, second_hand=True)})
    assert price_of(used, SECOND_HAND_SHARE) == 100
    gone = listed.model_copy(update={"status": "retired"})
    assert gone not in Shop.of((gone,), "EUR").parts


@pytest.mark.parametrize("what", ["computer", "guiding", "off_axis", "collimation", "mono", "colour", "counterweights"])
def test_what_is_not_wanted_is_in_no_answer(what):
    given = request(not_wanted=(what,))
    for row in answer(given).rows[:5]:
        rig = DESIGNER.rig(given, SHELF, PRACTICE, row)
        camera, telescope = rig.rig.path[-1].part, rig.rig.path[0].part
        assert {
            "computer": not any(placed.part.kind == "rider" for placed in rig.rig.riders),
            "guiding": rig.rig.guide.method == "none",
            "off_axis": rig.rig.guide.method != "off_axis",
            "collimation": telescope.design not in ("newtonian", "ritchey_chretien", "maksutov_newtonian"),
            "mono": camera.sensor.colour != "mono",
            "colour": camera.sensor.colour == "mono",
            "counterweights": not rig.rig.counterweights,
        }[what]


@pytest.mark.parametrize("key", ["triplet-86", "slim-aps", "equatorial-9", "tripod-steel", "battery-640"])
def test_what_stays_is_in_every_answer(key):
    given = request(stays=(key,))
    rows = answer(given).rows
    assert rows
    for row in rows[:5]:
        rig = DESIGNER.rig(given, SHELF, PRACTICE, row).rig
        assert key in slots_of(rig).values()


@pytest.mark.parametrize("terms", [{"money": 600}, {"carried_kg": 15}, {"trips": 1}, {"trips": 2, "money": 2500}])
def test_limits_hold_on_the_documents(terms):
    given = request(**terms)
    for row in answer(given).rows[:8]:
        item = DESIGNER.rig(given, SHELF, PRACTICE, row)
        assert item.scores.money <= terms.get("money", 1e9)
        assert item.scores.mass_kg <= terms.get("carried_kg", 1e9)
        assert item.trips <= terms.get("trips", 99)
        report = cost(item.rig)
        assert sum(total.amount for total in report.wished) == pytest.approx(item.scores.money)
        assert sum(buy.amount for buy in item.buys) == pytest.approx(item.scores.money)


def test_owning_enough_is_said():
    galaxies = tuple(target for target in DEMO if target.name in ("M101", "NGC 891", "M13"))
    report = answer(RigRequest(targets=galaxies, purposes=purposes_of(galaxies), site=RIDGE, money=2000))
    assert any(reason.key == "nothing" for reason in report.reasons)


def test_reasons_speak_of_rigs_that_are_there():
    given = request(money=3000, stays=("slim-aps",))
    report = answer(given)
    assert report.rows
    for row in report.rows[:6]:
        for reason in DESIGNER.why(given, SHELF, PRACTICE, row, report.rows):
            assert reason.words and "  " not in reason.words
            if reason.row is not None:
                assert DESIGNER.rig(given, SHELF, PRACTICE, reason.row).rig.name


def test_a_part_that_holds_back_is_named():
    given = request(money=800, stays=("dslr-full", "tripod-photo"), not_wanted=("computer",))
    report = answer(given)
    keys = {reason.key for reason in report.reasons}
    assert keys & {"holds_back", "more_money", "conflict"}


@pytest.mark.parametrize("today", [2600, 3500, 5000])
def test_sums_of_stages(today):
    given = request(money=9000)
    result = answer(given, LISTED)
    later = max(result.rows, key=lambda row: DESIGNER.rig(given, LISTED, PRACTICE, row).scores.money)
    staged = DESIGNER.stages(given, LISTED, PRACTICE, later, today)
    assert staged is not None and staged.today_costs <= today
    assert staged.survives + staged.lost == pytest.approx(staged.today_costs)
    assert staged.survives + staged.later_costs == pytest.approx(staged.later.scores.money)
    assert staged.total == pytest.approx(staged.today_costs + staged.later_costs)
    assert sum(item.price.amount for item in bought(staged.today.rig)) == pytest.approx(staged.today_costs)
    assert STEPS.evaluate(staged.today.rig, PRACTICE).verdict != "problem"


def test_no_first_stage_for_nothing():
    given = request(money=9000)
    assert DESIGNER.stages(given, LISTED, PRACTICE, answer(given, LISTED).rows[0], 100) is None


@pytest.mark.parametrize("name", ["wren", "heron", "bittern", "magpie"])
def test_improvements_change_one_or_two_things_and_help(name):
    rig = RIGS[name]
    given = RigRequest(
        targets=tuple(framing.target for framing in rig.framings), purposes=rig.purposes, site=rig.site, money=3000,
        steady=False,
    )  # fmt: skip
    report = DESIGNER.improve(given, SHELF, PRACTICE, rig)
    assert report.ways or report.words
    for way in report.ways:
        assert 1 <= len(way.changes) <= 2
        own, then = slots_of(rig), slots_of(way.designed.rig)
        assert sum(own[slot] != then[slot] for slot in own) == len(way.changes)
        assert STEPS.evaluate(way.designed.rig, PRACTICE).verdict != "problem"
        if report.before is not None:
            assert way.gains
            before, after = report.before.scores, way.designed.scores
            assert after.fit > before.fit or after.speed > before.speed


def test_a_rig_differs_from_itself_in_nothing():
    shelves = (bench(small_shelf(seed), some_request(seed)) for seed in range(8))
    result, row = next(
        (shelf, row) for shelf in shelves for row in range(shelf.screen.size) if shelf.rig(row) is not None
    )
    assert differs(result.screen, result.rig(row))[row] == 0
    assert set(STAYS) >= {"telescope", "mount"}


def test_a_row_that_is_not_there_is_told():
    with pytest.raises(BadRequest, match="row: there is no such rig"):
        DESIGNER.rig(request(), SHELF, PRACTICE, 10**8)
    evaluator = DESIGNER.evaluator(request(), SHELF, PRACTICE)
    broken = int(np.flatnonzero(~evaluator.screen.works)[0])
    with pytest.raises(BadRequest, match="no valid rig"):
        DESIGNER.rig(request(), SHELF, PRACTICE, broken)


def test_stopped_half_way_leaves_nothing_half_made():
    designer = Designer()
    events = designer.search(request(), SHELF, PRACTICE)
    for _ in range(10):
        next(events)
    events.close()
    whole = list(designer.search(request(), SHELF, PRACTICE))
    assert whole[-1].answer.rows == answer(request()).rows
    assert any(event.kind == "rig" and not event.sure for event in whole), "a first look comes before the end"


def test_a_filter_of_unknown_windows_makes_a_slow_rig_and_no_missing_one():
    blind = tuple(
        part.model_copy(update={"passbands": (), "use": "other"})
        if part.kind == "filter" and part.use == "uv_ir_cut"
        else part
        for part in SHELF
    )
    known, unknown = answer(request(), SHELF), answer(request(), blind)
    assert unknown.rows and unknown.trains <= known.trains


def test_what_was_screened_longest_ago_is_let_go(monkeypatch):
    monkeypatch.setattr("dravel.core.design.designer.MOST_ROWS", 1)
    designer, given = Designer(), request(money=500)
    first = designer.evaluator(given, SHELF, PRACTICE)
    other = designer.evaluator(given.model_copy(update={"second_hand": True}), SHELF, PRACTICE)
    assert designer.evaluator(given.model_copy(update={"second_hand": True}), SHELF, PRACTICE) is other
    assert designer.evaluator(given, SHELF, PRACTICE) is not first


def test_targets_that_no_part_can_serve():
    planets = wished_for("planets", (), RIDGE, TODAY, PRACTICE)
    given = RigRequest(targets=planets, purposes=purposes_of(planets), site=RIDGE)
    no_video = tuple(part for part in LISTED if getattr(part, "video_fps", None) is None)
    report = answer(given, no_video)
    assert not report.rows and "no camera that takes video" in report.reasons[0].words
    small = tuple(part for part in LISTED if part.kind != "camera" or part.sensor.width_mm < 8)
    assert "no camera with a sensor for pictures" in answer(request(), small).reasons[0].words
    speck = (Target(name="a speck", ra_deg=10, dec_deg=41, major_arcmin=0.05, kind="galaxy"),)
    report = answer(RigRequest(targets=speck, purposes=purposes_of(speck), site=RIDGE))
    assert not report.rows and report.conflict == ("a target that can be framed and sampled",)


def test_a_target_of_unknown_size_is_held_against_no_field():
    stars = (Target(name="a star", ra_deg=10, dec_deg=41),)
    given = RigRequest(targets=stars, purposes=purposes_of(stars), site=RIDGE, money=500)
    rows = answer(given).rows
    assert rows
    report = DESIGNER.rig(given, SHELF, PRACTICE, rows[0])
    assert report.targets[0].words == "target size unknown" and report.rig.framings[0].target.name == "a star"
