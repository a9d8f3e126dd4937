"""How a design is put together: mating, weights by intervals, subs, gear, filters, names; each held against the steps' own."""

from itertools import combinations, pairwise

import numpy as np
import pytest

from dravel.catalogue.demo import RIDGE, TERRACE
from dravel.core.design.assemble import Assembler, Whole, named
from dravel.core.design.axes import framings_of, mount_burdens, train_burdens
from dravel.core.design.hanging import NONE, Weights
from dravel.core.design.paths import LINE_FILTERS, Brief, Mating, Paths
from dravel.core.design.screen import Screen
from dravel.core.design.shop import Shop
from dravel.core.design.subs import longest, nearest_pole, planned, usual
from dravel.core.design.trains import Table, fill
from dravel.core.model import Camera, Counterweight, FilterHolder, Mount
from dravel.core.model.inventory import parts_of
from dravel.core.physics.statics import newton_metres
from dravel.core.steps import STEPS
from dravel.core.steps.mount import balancing
from dravel.core.steps.mount.facts import Load
from tests.design.hands import LISTED, PRACTICE, bench, small_shelf, some_request

SHOP = Shop.of(LISTED, "EUR")
MOUNTS = [part for part in LISTED if isinstance(part, Mount) and part.shaft is not None and part.needs_counterweight]


@pytest.fixture(scope="module")
def found():
    """A small shelf with many rigs."""
    shelves = (bench(small_shelf(seed), some_request(seed)) for seed in range(20))
    return next(shelf for shelf in shelves if shelf.screen.works.sum() > 60)


@pytest.fixture(scope="module")
def rigs(found):
    """Some of its rigs, with the rows they are."""
    rows = np.flatnonzero(found.screen.works)
    rows = rows[:: max(len(rows) // 25, 1)]
    return [(int(row), found.rig(int(row))) for row in rows]


@pytest.mark.parametrize("mount", MOUNTS, ids=lambda mount: mount.id)
def test_the_sets_of_weights_are_those_that_balance(mount):
    """Each moment against every set hung one by one, as the Load step hangs them."""
    weights = Weights(SHOP, mount, 1.0)
    usable = [item for item in SHOP.kind(Counterweight) if balancing.on_this_shaft(item, mount.shaft)][
        : balancing.MOST_WEIGHTS
    ]
    for moment in np.linspace(50, 4000, 60):
        made = [
            (hung, sum(item.price.amount for item in chosen))
            for count in range(1, len(usable) + 1)
            for chosen in combinations(usable, count)
            for hung in [balancing.hang(chosen, float(moment), mount.shaft)]
            if hung is not None and not hung.fits
        ]
        picked = weights.of(float(moment))
        assert (picked is None) == (not made)
        if picked is not None:
            assert picked.cost == pytest.approx(min(cost for _, cost in made))
            assert balancing.hang(picked.weights, float(moment), mount.shaft).fits == ""


def test_a_head_without_weights_has_none():
    head = next(part for part in LISTED if part.id == "strain-13")
    assert Weights(SHOP, head, 1.0).sets == []
    assert Weights(SHOP, head, 1.0).chosen(np.array([1.0, 500.0])).tolist() == [NONE, NONE]


def test_every_rig_balances_on_both_axes(rigs):
    for _, rig in rigs:
        load = STEPS.context(rig, PRACTICE).of(Load)
        if rig.mount.needs_counterweight:
            assert all(balancing.sits(hung, load.shaft) for hung in rig.counterweights)
            left = balancing.hung_moment(rig.counterweights) - load.wanted
            assert abs(left) < 0.002 * max(load.wanted, 100)
        if load.slide is not None:
            along = newton_metres(abs(float(load.carried.centre[0])) * load.carried.mass)
            assert along / balancing.rated_nm(rig.mount) < 0.11


def test_subs_are_as_long_as_the_guide_step_lets_them_be(found, rigs):
    for row, rig in rigs:
        whole = found.screen.whole(row)
        known = STEPS.context(rig, PRACTICE).known
        limit = known.get("guided_limit") if whole.train.flexure is not None else known.get("guiding.unguided_limit_s")
        pole = nearest_pole(rig.framings)
        mine = longest(whole.train, whole.mount, found.screen.brief, pole)
        assert limit is None or mine == pytest.approx(limit, rel=1e-6)
        sub = planned(whole.train, whole.mount, found.screen.brief, rig.framings)
        assert rig.guide.sub_s == sub <= max(usual(whole.train, found.screen.brief), 0.001)
        assert sub <= mine * 1.001


def test_each_rig_is_whole(found, rigs):
    for row, rig in rigs:
        whole = found.screen.whole(row)
        camera = rig.path[-1].part
        assert isinstance(camera, Camera) and rig.path[0].part is whole.train.choice.telescope
        assert rig.mount is whole.mount and rig.support is whole.support and rig.supply.source is whole.supply
        assert rig.name == named(whole) and rig.site == found.request.site
        if camera.driven_by == "computer" or rig.guide.method != "none":
            assert whole.train.computer
            assert any(cable.carries == "data" for cable in rig.supply.cables)
        if rig.guide.method == "guide_scope":
            assert any(placed.part.kind == "guide_scope" for placed in rig.riders)
        if rig.supply.source is not None:
            assert any(cable.carries == "power" for cable in rig.supply.cables)
        ids = [part.id for part in parts_of(rig) if part.kind in ("adapter", "telescope", "camera", "mount")]
        assert len(ids) == len(set(ids)), "no part is laid twice"


def test_targets_of_a_rig_are_those_it_does_well_by(found, rigs):
    for row, rig in rigs:
        train = found.screen.trains[found.screen.train[row]]
        own = found.screen.found[found.screen.train[row]]
        assert rig.framings == framings_of(train, own, found.screen.brief)
        best = sorted((item.counts for item in own), reverse=True)
        assert len(rig.framings) == min(sum(item >= 0.2 for item in best), 6)


def test_riders_stand_one_behind_the_other_on_top(rigs):
    for _, rig in rigs:
        on_top = [placed for placed in rig.riders if placed.part.kind != "dew_heater"]
        ends = sorted(
            (placed.along_mm - placed.part.length_mm / 2, placed.along_mm + placed.part.length_mm / 2)
            for placed in on_top
        )
        assert all(item[1] <= other[0] + 1.5 for item, other in pairwise(ends))
        assert all(placed.side == "top" for placed in rig.riders)


@pytest.mark.parametrize("lines", [True, False])
@pytest.mark.parametrize("purposes", [("nebula",), ("galaxy",), ("nebula", "galaxy", "cluster")])
def test_filters_suit_the_light(purposes, lines):
    paths = Paths(SHOP, Brief(purposes, RIDGE, PRACTICE, lines))
    for holder in SHOP.kind(FilterHolder):
        for camera in SHOP.kind(Camera):
            held = paths.filters(holder, camera)
            assert all(item.size == holder.filter_size for item in held)
            assert len(held) <= holder.positions or holder.style != "wheel"
            assert len({item.use for item in held}) == len(held)
            if camera.sensor.colour == "mono" and held:
                assert (held[0].use in LINE_FILTERS) == lines
            if camera.sensor.colour == "one_shot":
                assert all(item.use in ("dual_line", "uv_ir_cut") for item in held)
                if "nebula" not in purposes and not lines:
                    assert all(item.use == "uv_ir_cut" for item in held)


def test_mating_says_what_the_solver_finds():
    """Where ends are said not to be joined, nothing is laid; where a path was laid, they are joined."""
    paths = Paths(SHOP, Brief(("galaxy",), RIDGE, PRACTICE))
    mating = Mating(SHOP.rings)
    laid = 0
    for choice in list(paths.choices())[::40]:
        path = paths.laid(choice) if paths.filters or choice.holder is None else None
        if path is not None:
            laid += 1
            assert mating.joins(choice.parts) and paths.may_work(choice)
    assert laid > 3


def test_a_part_without_an_end_joins_nothing():
    mating = Mating(SHOP.rings)
    camera = next(part for part in LISTED if part.id == "colour-18")
    blind = next(part for part in LISTED if part.id == "triplet-86").model_copy(update={"sensor_side": None})
    assert not mating.joins((blind, camera))
    glued = camera.model_copy(update={"sky_side": None, "front_ring": None})
    assert not mating.joins((next(part for part in LISTED if part.id == "triplet-86"), glued))


def test_a_wet_place_gets_a_heated_lens():
    for site, heated in ((TERRACE, True), (RIDGE.model_copy(update={"humidity": 0.05}), False)):
        keep = (
            "triplet-86",
            "reducer-08-m63",
            "colour-18",
            "equatorial-13",
            "tripod-steel",
            "battery-640",
            "guide-48",
            "guide-50",
        )
        kinds = {part.kind for part in LISTED if part.id in keep} - {"camera"}
        shelf = tuple(part for part in LISTED if part.id in keep or (part.kind not in kinds and part.kind != "camera"))
        table = Table(Shop.of(shelf, "EUR"), Brief(("galaxy",), site, PRACTICE))
        for _ in fill(table):
            pass
        assert table.trains
        for train in table.trains:
            assert any(placed.part.kind == "dew_heater" for placed in train.rig.riders) is heated


def test_burdens_are_told_and_counted(found):
    for train in found.screen.trains:
        answer = train_burdens(train)
        assert len(answer) == len(set(answer))
        assert ("a field computer" in answer) == bool(train.computer)
        assert ("filters to shoot one by one" in answer) == any(len(item.filters) >= 3 for item in train.rig.path)
    tracker = next(part for part in LISTED if part.id == "tracker-5")
    assert mount_burdens(tracker) == ["counterweights to balance", "targets found by hand", "a polar axis to align"]


def test_the_same_row_is_the_same_rig(found):
    """Assembled again from nothing, a row is the same document: nothing hangs on what was asked before."""
    rows = np.flatnonzero(found.screen.works)[::17][:12]
    other = Assembler(found.screen.table, found.assembler.share)
    fresh = Screen(found.screen.table, found.screen.aims, other)
    for row in rows:
        whole = fresh.whole(int(row))
        assert isinstance(whole, Whole)
        again = other.rig(whole, fresh.framings[fresh.train[row]])[0]
        assert again == found.rig(int(row))
