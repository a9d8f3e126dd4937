"""The order of a build: prerequisites before their steps, the way back, nothing for what is not there; and its rules."""

from datetime import date

import pytest

from dravel.catalogue.demo import RIDGE, TERRACE, scenario
from dravel.catalogue.starter_shelf import part
from dravel.core.model import Building, Finding, Guide, HorizonPoint, Mount, Rig
from dravel.core.steps import STEPS
from dravel.core.steps.assembly.facts import Build
from dravel.core.steps.assembly.order import Card, ordered, taken_down, without
from dravel.core.steps.assembly.view import assembly_view
from tests.conftest import a_camera, a_rig, a_telescope
from tests.core.test_odd_rigs import odd_rig
from tests.says import says

RIGS = dict(scenario().rigs)
SHELF = scenario().parts
NIGHT = date(2026, 11, 25)


def keys(rig: Rig) -> list[str]:
    return [card.key for card in STEPS.context(rig, tonight=NIGHT).of(Build).cards]


def changed(name: str, **changes: object) -> Rig:
    return RIGS[name].model_copy(update=changes)


def said(rig: Rig, code: str) -> Finding | None:
    return next((f for f in STEPS.evaluate(rig, None, SHELF, tonight=NIGHT).findings if f.code == code), None)


@pytest.mark.parametrize("seed", range(12))
def test_every_card_follows_what_it_waits_for_and_the_way_back_is_its_reverse(seed):
    for rig in (odd_rig(seed), odd_rig(seed + 500), *RIGS.values()):
        build = STEPS.context(rig, shelf=SHELF, tonight=NIGHT).of(Build)
        places = {card.key: i for i, card in enumerate(build.cards)}
        assert len(places) == len(build.cards)
        for card in build.cards:
            assert all(places[key] < places[card.key] for key in card.after if key in places)
        # On the way back all that waited for a card is off before it.
        down = [card.key.removeprefix("off-") for card in build.down]
        assert down == [card.key for card in reversed(build.cards) if card.off]
        there = {places_of.key for places_of in build.cards}
        assert ("telescope" in there) <= any(item.part.kind == "telescope" for item in rig.path)
        assert any(key.startswith("weight") for key in there) <= bool(rig.counterweights)
        assert ("guide_camera" in there) <= bool(rig.guide.branch) and ("support" in there) <= (rig.support is not None)
        assert ("cool" in there) <= ("power" in there or rig.supply.source is None)


def test_weights_before_the_telescope_and_off_after_it():
    for name in ("heron", "bittern", "magpie"):
        up = keys(RIGS[name])
        weights = [up.index(key) for key in up if key.startswith("weight")]
        assert max(weights) < up.index("telescope") < up.index("caps") < up.index("balance_ra") < up.index("power")
        down = [card.key for card in STEPS.context(RIGS[name]).of(Build).down]
        assert down.index("off-telescope") < down.index("off-weight-0") < down.index("off-head")


def test_what_does_not_apply_has_no_card():
    wren = keys(RIGS["wren"])
    assert not {"balance_dec", "home", "calibrate", "cool"} & set(wren) and "polar" in wren
    still = keys(changed("wren", mount=None, counterweights=()))
    assert not {"head", "polar", "balance_ra", "home"} & set(still) and "telescope" in still
    alt = changed("heron", mount=RIGS["heron"].mount.model_copy(update={"style": "alt_azimuth"}))
    assert "polar" not in keys(alt)
    wave = RIGS["heron"].mount.model_copy(update={"style": "strain_wave", "drive": "strain_wave", "shaft": None})
    free = STEPS.context(changed("heron", mount=wave, counterweights=()), tonight=NIGHT).of(Build).cards
    assert not {"balance_ra", "balance_dec", "weight-0"} & {card.key for card in free}
    assert next(card for card in free if card.key == "home").does == "Tube to the pole."
    bare = keys(a_rig(a_telescope(), a_camera()))
    assert "telescope" not in bare and "supply" not in bare
    assert assembly_view(STEPS.context(a_rig())).notes


def test_what_stays_together_is_one_card():
    apart, train, tube, mount = (
        keys(changed("heron", build=Building(kept=kept))) for kept in ("apart", "train", "on_tube", "on_mount")
    )
    assert len(apart) > len(train) > len(tube) > len(mount)
    assert sum(key.startswith("train-") for key in apart) == 4 and "train_on" in train
    assert "lift" in mount and "telescope" not in mount and "rider-0" not in tube
    path = tuple(
        item.model_copy(update={"assembly": "rings"}) if 2 <= i <= 3 else item
        for i, item in enumerate(RIGS["heron"].path)
    )
    joined = STEPS.context(changed("heron", path=path)).of(Build).cards
    assert any("with 1 more" in card.title for card in joined)


def test_cards_tell_marks_and_checks_in_millimetres():
    cards = {card.key: card for card in STEPS.context(RIGS["heron"], tonight=NIGHT).of(Build).cards}
    assert cards["weight-0"].mark == "inner face 98 mm from the shaft's shoulder"
    assert str(cards["telescope"].mark).startswith("saddle's middle 175 mm")
    assert cards["train-4"].check == "front of the train to the sensor 55.7 mm"
    assert cards["train-3"].mark == "faces right" and "16 mm" in cards["drawtube"].mark
    assert "2′" in cards["polar"].check and "−10 °C" in cards["cool"].title


def test_cards_that_wait_for_one_another_are_refused():
    with pytest.raises(ValueError, match="wait for one another: a, b"):
        ordered([Card("a", "A", "", 1, ("b",)), Card("b", "B", "", 2, ("a",))])
    chain = (Card("a", "A", "", 1), Card("b", "B", "", 2, ("a",)), Card("c", "C", "", 0, ("b",), off="C off"))
    assert [card.key for card in ordered(without(chain, ["b"]))] == ["a", "c"]  # c still waits for a
    assert [card.key for card in taken_down(ordered(chain))] == ["off-c"]


def test_a_cap_or_a_weight_left_out_is_told_and_put_back():
    strained = said(changed("heron", build=Building(left_out=("open",))), "B1")
    assert strained.verdict == "warning" and says(strained.reason, "open_skipped")
    broken = said(changed("heron", build=Building(left_out=("weight-0",))), "B1")
    assert broken.verdict == "problem" and broken.fixes[0].leads_to == "ok"
    assert said(changed("heron", build=Building(left_out=("frame", "no such"))), "B1") is None


def test_soft_ground_wants_pads():
    soft = changed("heron", build=Building(ground="grass"))
    finding = said(soft, "B2")
    assert finding.verdict == "warning" and says(finding.fixes[0].label, "add", "three ground pads")
    assert said(soft.model_copy(update={"extras": (part("pads-3"),)}), "B2").verdict == "ok"
    assert said(changed("heron", build=Building(ground="slab")), "B2").verdict == "ok"
    assert said(RIGS["heron"], "B2") is None


def test_a_hidden_pole_leaves_drift():
    walled = TERRACE.model_copy(update={"horizon": (HorizonPoint(azimuth_deg=0, altitude_deg=60),)})
    chosen = changed("heron", site=walled, build=Building(polar="camera"))
    finding = said(chosen, "B3")
    assert finding.verdict == "problem" and says(finding.fixes[0].label, "polar_align_drift")
    # Left to itself the rig takes the way that can be gone.
    assert said(changed("heron", site=walled), "B3").verdict == "ok"
    near = RIDGE.model_copy(update={"latitude_deg": 2.0, "horizon": ()})
    assert "drift" in str(assembly_view(STEPS.context(changed("heron", site=near))).polar)
    south = RIDGE.model_copy(update={"latitude_deg": -33.0})
    assert said(changed("heron", site=south), "B3").verdict == "ok"


def test_a_short_lead_snags_in_the_flip():
    cables = (part("cable-2-15").model_copy(update={"length_mm": 1000}), *RIGS["heron"].supply.cables[1:])
    short = changed("heron", supply=RIGS["heron"].supply.model_copy(update={"cables": cables}))
    finding = said(short, "B4")
    assert finding.verdict == "warning" and says(finding.title, "supply_cable_short")
    assert said(RIGS["heron"], "B4").verdict == "ok"


def test_minutes_taken_replace_the_own_ones():
    context = STEPS.context(RIGS["heron"], tonight=NIGHT)
    plain, learned = assembly_view(context), assembly_view(context, {"polar": 3.0, "gone": 9.0})
    assert learned.minutes == plain.minutes - 8 + 3 and "1 of 36 cards" in learned.minutes_words
    assert isinstance(RIGS["heron"].mount, Mount) and "red lamp" in plain.tools
    assert any(str(line).startswith("86 mm") for line in plain.bring)


def first(rig: Rig, done=()) -> dict[str, str]:
    view = assembly_view(STEPS.context(rig), {}, done)
    return {card.key.rsplit("-", 1)[0]: card.key for card in view.cards if card.first}


def test_what_is_done_the_first_time_is_asked_once_and_again_after_a_change():
    bittern = RIGS["bittern"]
    asked = first(bittern)
    assert {"first-parfocal", "first-callipers", "first-slack", "first-guiding-1600"} == set(asked)
    assert first(bittern, set(asked.values())) == {}
    other = bittern.guide.branch[-1]
    camera = other.part.model_copy(update={"id": "another-guide-camera"})
    branch = (*bittern.guide.branch[:-1], other.model_copy(update={"part": camera}))
    changed = bittern.model_copy(update={"guide": bittern.guide.model_copy(update={"branch": branch})})
    assert set(first(changed, set(asked.values()))) == {"first-parfocal"}


def test_first_time_cards_apply_to_what_the_rig_has_and_stand_where_they_belong():
    assert "first-slack" not in first(Rig(name="Nothing"))
    assert first(RIGS["bittern"].model_copy(update={"guide": Guide()})).keys() == {"first-callipers", "first-slack"}
    view = assembly_view(STEPS.context(RIGS["bittern"]))
    keys = [card.key for card in view.cards]
    asked = first(RIGS["bittern"])
    assert keys.index(asked["first-parfocal"]) < keys.index("support") and "sun" in view.cards[0].caution
    assert keys.index("cables") < keys.index(asked["first-slack"]) < keys.index("balance_ra")
    assert keys.index("calibrate") < keys.index(asked["first-guiding-1600"])
    assert not any(card.first for card in view.down) and "first time" in view.minutes_words
    left = RIGS["bittern"].model_copy(update={"build": Building(left_out=(asked["first-slack"],))})
    assert "first-slack" not in first(left)
    assert [c.key for c in assembly_view(STEPS.context(left)).left_out] == [asked["first-slack"]]


def test_loads_to_carry_are_told_heaviest_first():
    loads = assembly_view(STEPS.context(RIGS["bittern"])).loads
    kilos = [float(str(words).split(" kg")[0]) for words in loads]
    assert len(loads) > 3 and kilos == sorted(kilos, reverse=True)
