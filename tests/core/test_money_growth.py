"""Sums, shopping lists, comparisons and stages on small rigs whose answers are known."""

import pytest

from dravel.core.model import (
    Accessory,
    Cable,
    Counterweight,
    Guide,
    Hung,
    Mount,
    PathItem,
    Placed,
    PowerSource,
    Preferences,
    Price,
    Rider,
    Rig,
    Supply,
    Support,
    Target,
)
from dravel.core.model.inventory import parts_of, same
from dravel.core.overview.compare import DIFFERS_BY, compare
from dravel.core.overview.cost import cost, sums
from dravel.core.overview.stages import grow
from dravel.core.steps import STEPS
from tests.conftest import a_camera, a_corrector, a_rig, a_telescope

P = Preferences()


def priced(
    amount: float | None, currency: str = "EUR", status: str = "owned", name: str = "thing", second: bool = False
):
    price = None if amount is None else Price(amount=amount, currency=currency, second_hand=second)
    return Rider(name=name, price=price, status=status, mass_g=100)


def carrying(*parts: Rider) -> Rig:
    return Rig(name="r", riders=tuple(Placed(part=part) for part in parts))


def test_every_place_of_a_rig_is_counted_once():
    rig = a_rig(
        a_telescope(),
        a_corrector(),
        a_camera(),
        mount=Mount(name="mount", style="tracker", payload_kg=5),
        support=Support(name="support", height_mm=800, foot_radius_mm=400),
        counterweights=(Hung(part=Counterweight(name="weight"), position_mm=100),),
        riders=(Placed(part=Rider(name="rider")),),
        supply=Supply(source=PowerSource(name="source"), cables=(Cable(name="cable", length_mm=1000),)),
        extras=(Accessory(name="pads", function="pad"),),
        guide=Guide(method="guide_scope", branch=(PathItem(part=a_camera(name="guide camera")),)),
    )
    names = [part.name for part in parts_of(rig)]
    assert names == ["86 mm triplet", "reducer", "camera", "guide camera", "rider", "mount", "support", "weight", "source",
                     "cable", "pads"]  # fmt: skip
    unguided = rig.model_copy(update={"guide": Guide()})
    assert "guide camera" not in [part.name for part in parts_of(unguided)]


def test_the_same_part_is_known_by_its_id_or_else_its_name():
    assert same(Rider(id="a", name="x")) == same(Rider(id="a", name="y")) == "a"
    assert same(Rider(name="x")) != same(Cable(name="x", length_mm=100))


@pytest.mark.parametrize(
    ("parts", "owned", "wished", "unpriced"),
    [
        ((), [], [], 0),
        ((priced(10),), [("EUR", 10)], [], 0),
        ((priced(10), priced(5, status="borrowed")), [("EUR", 15)], [], 0),
        ((priced(10), priced(5, status="wished")), [("EUR", 10)], [("EUR", 5)], 0),
        ((priced(10, "USD"), priced(5, "EUR")), [("EUR", 5), ("USD", 10)], [], 0),
        ((priced(None), priced(7)), [("EUR", 7)], [], 1),
        ((priced(0.1), priced(0.2)), [("EUR", 0.3)], [], 0),
    ],
)
def test_sums(parts, owned, wished, unpriced):
    answer = cost(carrying(*parts))
    assert [(s.currency, s.amount) for s in answer.owned] == owned
    assert [(s.currency, s.amount) for s in answer.wished] == wished
    assert answer.unpriced == unpriced and answer.parts == len(parts)
    assert answer.mixed == (len({c for c, _ in owned + wished}) > 1)


def test_second_hand_is_told_apart():
    answer = cost(carrying(priced(100), priced(60, second=True), priced(40, second=True, status="wished")))
    assert [(s.currency, s.amount) for s in answer.second_hand] == [("EUR", 100)]
    assert answer.owned[0].amount == 160 and answer.wished[0].amount == 40


def test_wished_parts_are_to_be_bought():
    answer = cost(
        carrying(
            priced(10, name="here"),
            priced(5, status="wished", name="there"),
            priced(None, status="wished", name="dear"),
        )
    )
    assert [(line.name, line.why) for line in answer.shopping] == [("there", "in the rig"), ("dear", "in the rig")]
    assert answer.shopping_total[0].amount == 5 and answer.shopping_unpriced == 1


def test_what_a_fix_would_lay_is_to_be_bought_once():
    scope = a_telescope(needs_corrector=True)
    flattener = a_corrector(id="flat", name="flattener", role="flattener", factor=1.0, back_focus_mm=55, status="wished",
                            image_circle_mm=44, price=Price(amount=200))  # fmt: skip
    rig = a_rig(scope, a_camera())
    evaluation = STEPS.evaluate(rig, P, (flattener,))
    assert any("flattener" in fix.label for f in evaluation.findings for fix in f.fixes)
    answer = cost(rig, evaluation, (flattener,))
    assert [line.name for line in answer.shopping] == ["flattener"]
    owned = flattener.model_copy(update={"status": "owned"})
    assert cost(rig, STEPS.evaluate(rig, P, (owned,)), (owned,)).shopping == ()
    assert sums(()) == ()


@pytest.mark.parametrize(
    ("aperture", "pixel", "efficiency", "per_pixel", "per_object"),
    [
        (86, 3.5, 0.8, 1.0, 1.0),
        (172, 3.5, 0.8, 0.25, 0.25),
        (86, 7.0, 0.8, 0.25, 1.0),
        (86, 3.5, 0.4, 2.0, 2.0),
        (43, 7.0, 0.8, 1.0, 4.0),
    ],
)
def test_hours_to_equal_depth_by_hand(aperture, pixel, efficiency, per_pixel, per_object):
    def rig(d: float, p: float, qe: float) -> Rig:
        quiet = [{"gain": 0, "read_noise_e": 0.1, "e_per_adu": 1}]
        sensor = {"width_px": 1000, "height_px": 1000, "pixel_um": p, "quantum_efficiency": qe, "modes": quiet}
        return a_rig(a_telescope(aperture_mm=d), a_camera(sensor=sensor))

    # Where the sky is all of the noise, hours go with what the sky gives: by hand from aperture, pixel and efficiency.
    answer = compare([("a", rig(86, 3.5, 0.8)), ("b", rig(aperture, pixel, efficiency))], P)
    for row in answer.depth:
        wanted = per_pixel if str(row.title).endswith("per pixel") else per_object
        assert row.values[1] == pytest.approx(wanted, rel=0.01), row.title


def test_a_reducer_shortens_the_hours_per_pixel_and_hardly_those_per_area():
    bare, reduced = a_rig(a_telescope(), a_camera()), a_rig(a_telescope(), a_corrector(factor=0.8), a_camera())
    answer = compare([("bare", bare), ("reduced", reduced)], P)
    # Its glass takes a twenty-fifth; larger pixels on the sky bring less read noise for the same piece of it.
    pixel, area = (row.values[1] for row in answer.depth[:2])
    assert 0.8**2 * 0.8 < pixel < 0.8**2 * 1.05
    assert 0.8 < area < 1.05


def test_what_cannot_be_computed_counts_as_a_difference():
    answer = compare([("a", a_rig(a_telescope(), a_camera())), ("b", a_rig(a_camera()))], P)
    scale = next(row for row in answer.figures if row.key == "optics.pixel_scale_arcsec_px")
    assert scale.values[1] is None and scale.differs
    assert all(row.values[1] is None and row.words[1] == "—" for row in answer.depth)
    assert answer.rules[0].differs and None in answer.rules[0].verdicts


@pytest.mark.parametrize(("change", "differs"), [(DIFFERS_BY / 2, False), (DIFFERS_BY * 2, True)])
def test_small_differences_are_none(change, differs):
    item, other = a_telescope(), a_telescope(focal_length_mm=464 * (1 + change))
    answer = compare([("a", a_rig(item, a_camera())), ("b", a_rig(other, a_camera()))], P)
    assert next(row for row in answer.figures if row.key == "optics.focal_length_mm").differs is differs


def test_targets_without_a_night_have_no_score():
    cloud = Target(name="Cloud", ra_deg=40, dec_deg=60, major_arcmin=60)
    moon = Target(name="Moon", ra_deg=40, dec_deg=20, major_arcmin=31, body="Moon")
    answer = compare([("a", a_rig(a_telescope(), a_camera()))], P, (cloud, moon))
    assert [row.name for row in answer.targets] == ["Cloud"] and answer.targets[0].scores == (None,)


def test_a_part_bought_once_is_not_paid_twice():
    base = carrying(priced(10, name="a"), priced(20, name="b"))
    more = carrying(priced(10, name="a"), priced(20, name="b"), priced(40, name="c"))
    views = grow([("one", base), ("two", more), ("three", base)], P)
    assert [[s.amount for s in view.cost] for view in views] == [[30], [40], []]
    assert [view.total[0].amount for view in views] == [30, 70, 70]
    assert [view.kept for view in views] == [0, 2, 2]


def test_a_part_that_comes_back_later_is_not_lost():
    item, other = carrying(priced(10, name="a")), carrying(priced(20, name="b"))
    views = grow([("one", item), ("two", other), ("three", item)], P)
    assert views[1].lost == () and views[2].lost == ("b",)
    assert views[2].warnings[0] == "1 part is not reused: b"


def test_what_a_stage_makes_possible_is_told_in_words():
    cooled = a_camera(cooling_delta_k=35)
    small = a_rig(a_telescope(), a_camera(), mount=Mount(name="m", style="tracker", payload_kg=5, goto=False))
    large = a_rig(
        a_telescope(focal_length_mm=900), cooled, mount=Mount(name="n", style="german_equatorial", payload_kg=20)
    )
    cloud = Target(name="Small cloud", ra_deg=40, dec_deg=60, major_arcmin=40)
    answer = " · ".join(map(str, grow([("one", small), ("two", large)], P, (cloud,))[1].makes_possible))
    assert "900 mm of focal length instead of 464" in answer
    assert "cooled camera" in answer and "GoTo" in answer
