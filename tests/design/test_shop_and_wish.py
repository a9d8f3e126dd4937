"""What a design may take, and what a request in words stands for."""

from datetime import date

import pytest

from dravel.catalogue.demo import RIDGE, TERRACE, scenario
from dravel.catalogue.objects import catalogue
from dravel.catalogue.prices import OWN_PRICES, priced
from dravel.catalogue.starter_shelf import starter_shelf
from dravel.core.design.axes import (
    FIT_STEP,
    MASS_STEP,
    MONEY_STEP,
    Aims,
    TargetFit,
    cents,
    fit_of,
    fit_step,
    grams,
    mass_step,
    money_step,
    money_unit,
    speed_step,
)
from dravel.core.design.request import RequestTerms, RigRequest, in_lines, purposes_of
from dravel.core.design.shop import SECOND_HAND_SHARE, Shop, price_of, share_of
from dravel.core.design.wanted import PLANETS, as_of, months_of, wished_for
from dravel.core.model import Price, Site, Target
from dravel.core.sky.night import night_of
from dravel.core.sky.search import ENOUGH_HOURS
from dravel.core.sky.standing import facts_of, standing
from tests.design.hands import DEMO, LISTED, PRACTICE

EVERY = catalogue().everything()
TODAY = date(2026, 11, 27)
BY_NAME = {target.name: target for target in DEMO}


def part(status="listed", amount=100.0, currency="EUR", second_hand=False, id="thing"):
    result = LISTED[0].model_copy(update={"status": status, "id": id})
    price = None if amount is None else Price(amount=amount, currency=currency, second_hand=second_hand)
    return result.model_copy(update={"price": price})


@pytest.mark.parametrize(
    ("one", "taken", "unpriced", "foreign"),
    [
        (part("owned", None), 1, 0, 0),
        (part("borrowed", None), 1, 0, 0),
        (part("owned", 10, "CHF"), 1, 0, 0),
        (part("wished", 10), 1, 0, 0),
        (part("listed", 0), 1, 0, 0),
        (part("listed", None), 0, 1, 0),
        (part("wished", None), 0, 1, 0),
        (part("listed", 10, "CHF"), 0, 0, 1),
        (part("retired", 10), 0, 0, 0),
        (part("listed", 10, id=None), 0, 0, 0),
    ],
)
def test_what_may_be_taken(one, taken, unpriced, foreign):
    shop = Shop.of((one,), "EUR")
    assert (len(shop.parts), shop.unpriced, shop.foreign) == (taken, unpriced, foreign)


@pytest.mark.parametrize(
    ("one", "new", "used"),
    [
        (part("owned", 100), 0, 0),
        (part("borrowed", 100), 0, 0),
        (part("listed", 100), 100, 100 * SECOND_HAND_SHARE),
        (part("wished", 100, second_hand=True), 100, 100),
        (part("listed", None), 0, 0),
    ],
)
def test_what_a_part_costs(one, new, used):
    assert price_of(one, share_of(False)) == new
    assert price_of(one, share_of(True)) == pytest.approx(used)
    assert cents([one, one], share_of(True)) == 2 * round(used * 100)


def test_a_kind_comes_at_hand_first_then_cheapest():
    shop = Shop.of(scenario().parts, "EUR")
    for kind in {type(item) for item in shop.parts}:
        result = shop.kind(kind)
        ranks = [(item.status not in ("owned", "borrowed"), price_of(item, 1.0)) for item in result]
        assert ranks == sorted(ranks)


def test_generic_parts_have_prices_in_the_usual_order():
    """Common practice: of a kind, what does more costs more; a newtonian costs less than a refractor of its aperture."""
    by_id = {item.id: priced(item).price.amount for item in starter_shelf()}
    assert set(OWN_PRICES) <= set(by_id)
    for cheap, dear in (
        ("tracker-5", "equatorial-9"), ("equatorial-9", "equatorial-13"), ("equatorial-13", "equatorial-20"),
        ("equatorial-20", "equatorial-40"), ("equatorial-9", "strain-8"), ("strain-8", "strain-13"),
        ("newtonian-130", "newtonian-150"), ("newtonian-150", "newtonian-200"), ("newtonian-130", "doublet-120"),
        ("doublet-72", "triplet-80"), ("triplet-80", "triplet-86"), ("maksutov-127", "schmidt-203"),
        ("guide-48", "planet-58"), ("planet-72", "colour-18"), ("colour-18", "colour-aps"), ("mono-17", "mono-aps"),
        ("colour-18", "mono-17"), ("colour-aps", "colour-full"), ("dslr-aps", "dslr-full"), ("tripod-photo", "tripod-carbon"),
    ):  # fmt: skip
        assert by_id[cheap] < by_id[dear], (cheap, dear)


@pytest.mark.parametrize(
    ("hundredths", "steps"), [(0, 0), (1, 1), (MONEY_STEP * 100, 1), (MONEY_STEP * 100 + 1, 2), (MONEY_STEP * 1000, 10)]
)
def test_steps_of_money_count_what_is_begun(hundredths, steps):
    assert money_step(hundredths) == steps


@pytest.mark.parametrize(("most", "unit"), [(None, 50), (0, 50), (1000, 50), (2000, 100), (9000, 450)])
def test_a_step_of_money_is_a_twentieth_of_the_sum(most, unit):
    assert money_unit(most) == unit * 100


def test_other_steps():
    assert mass_step(0) == 0 and mass_step(1) == 1 and mass_step(round(MASS_STEP * 1000)) == 1
    assert fit_step(0) == 0 and fit_step(0.001) == 1 and fit_step(1) == round(1 / FIT_STEP)
    assert speed_step(0) < speed_step(1e-9) < speed_step(1.0) < speed_step(2.0)
    assert speed_step(1.2) - speed_step(1.0) == 1
    assert grams([part().model_copy(update={"mass_g": 12.6}), part().model_copy(update={"mass_g": None})]) == 13


@pytest.mark.parametrize(
    ("counts", "months", "fit"),
    [
        ((1, 1), (6, 6), 1.0),
        ((1, 0), (6, 6), 0.5),
        ((1, 0), (9, 3), 0.75),
        ((0.5, 0.25), (1, 1), 0.375),
        ((1,), (0,), 0.0),
    ],
)
def test_fit_is_a_share_of_target_months(counts, months, fit):
    result = tuple(TargetFit(DEMO[0], None, count, count) for count in counts)
    assert fit_of(result, Aims((DEMO[0],) * len(months), months)) == pytest.approx(fit)


@pytest.mark.parametrize(
    ("names", "purposes", "lines"),
    [
        (("M101",), ("galaxy",), False),
        (("IC 1805", "NGC 281"), ("wide_field", "nebula"), True),
        (("NGC 281", "NGC 7380"), ("nebula",), True),
        (("M13",), ("cluster",), False),
        (("M101", "NGC 281"), ("nebula", "galaxy"), False),
    ],
)
def test_what_a_rig_for_targets_is_for(names, purposes, lines):
    targets = tuple(BY_NAME[name] for name in names)
    assert purposes_of(targets) == purposes
    assert in_lines(targets) is lines


def test_months_are_those_of_the_nights_themselves():
    counted = months_of(DEMO, RIDGE, TODAY, PRACTICE)
    for target, months in zip(DEMO, counted, strict=True):
        days = [date(2026 + (month < 11), month, 15) for month in range(1, 13)]
        up = [standing(facts_of((target,)), night_of(RIDGE, day), PRACTICE).hours[0] >= ENOUGH_HOURS for day in days]
        assert months == sum(up), target.name
    assert months_of(DEMO, None, TODAY, PRACTICE) == (12,) * len(DEMO)


@pytest.mark.parametrize("site", [RIDGE, TERRACE, None])
@pytest.mark.parametrize("about", ["galaxies_in_spring", "wide_nebulae", "a_bit_of_all"])
def test_wishes_in_words_are_of_their_kind_and_can_be_had(about, site):
    wished = wished_for(about, EVERY, site, TODAY, PRACTICE)
    assert 4 <= len(wished) <= 12 and len({target.name for target in wished}) == len(wished)
    kinds = {target.kind for target in wished}
    if about == "galaxies_in_spring":
        assert kinds == {"galaxy"}
    elif about == "wide_nebulae":
        assert all(target.major_arcmin >= 90 for target in wished) and "galaxy" not in kinds
    else:
        assert "galaxy" in kinds and len(kinds) >= 3
    assert all(months_of(wished, site, TODAY, PRACTICE))


def test_galaxies_in_spring_are_up_in_april():
    wished = wished_for("galaxies_in_spring", EVERY, RIDGE, TODAY, PRACTICE)
    seasons = [date(2027, month, 15) for month in (3, 4, 5)]
    hours = [standing(facts_of(wished), night_of(RIDGE, day), PRACTICE).hours for day in seasons]
    assert all(max(own) >= ENOUGH_HOURS for own in zip(*hours, strict=True))


def test_southern_sites_have_wishes_of_their_own():
    south = Site(name="a southern plain", latitude_deg=-30, longitude_deg=20)
    item = {target.name for target in wished_for("wide_nebulae", EVERY, south, TODAY, PRACTICE)}
    other = {target.name for target in wished_for("wide_nebulae", EVERY, RIDGE, TODAY, PRACTICE)}
    assert item and item != other


def test_planets_stand_where_they_are_that_night():
    wished = wished_for("planets", (), RIDGE, TODAY, PRACTICE)
    assert tuple(target.name for target in wished) == PLANETS and purposes_of(wished) == ("planetary",)
    later = as_of(wished, RIDGE, date(2027, 6, 1))
    assert [target.ra_deg for target in later] != [target.ra_deg for target in wished]
    assert as_of(DEMO, RIDGE, TODAY) == DEMO
    assert wished_for("planets", (), None, TODAY, PRACTICE)[0].name == "Moon"


def test_a_list_names_its_own():
    assert wished_for("list", EVERY, RIDGE, TODAY, PRACTICE) == ()


def test_a_wish_of_one_target_counts_it_once():
    target = Target(name="something", ra_deg=10, dec_deg=10)
    request = RigRequest(targets=(target,))
    assert request.counts == (1,) and request.steady and not request.mains and request.money is None
    assert set(RequestTerms.model_fields) < set(RigRequest.model_fields)
