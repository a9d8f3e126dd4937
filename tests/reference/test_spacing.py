"""Spacing against the outside: common-preferences sums, ray tracing, numerical integration, statics."""

from math import asin, cos, radians, sin, sqrt, tan

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dravel.catalogue.starter_shelf import part
from dravel.core.model import PathItem, Preferences, Rig
from dravel.core.model.parts import Glass
from dravel.core.train import reach, tolerance
from dravel.core.train.clearance import Opening, filter_clear, illumination, smallest_filter, through_one
from dravel.core.train.facts import Spacing
from dravel.core.train.guider import shading
from dravel.core.train.layout import plate_shift
from dravel.core.train.light_path import LightPath


def train_of(*ids: str, **items: object):
    path = tuple(PathItem(part=part(i)) for i in ids)
    rig = Rig.model_validate({"name": "Sum", "path": path, **items})
    return Spacing(rig, LightPath.of(rig), Preferences()).train


# Common practice: what practitioners add up in their heads.
@pytest.mark.parametrize(
    ("ids", "total"),
    [
        (("doublet-102", "reducer-085-2in", "dslr-m48", "dslr-aps"), 44 + 11),
        (("triplet-86", "reducer-08-m63", "ring-m48-16-5", "drawer-21", "colour-18"), 16.5 + 21 + 17.5),
        (("triplet-86", "reducer-08-m63", "guider-165", "wheel-7", "ring-m42-2", "mono-17"), 16.5 + 20 + 2 + 17.5),
        (
            ("triplet-86", "reducer-08-m63", "ring-m48-16-5", "ring-m48-21", "m48-m42", "colour-18"),
            16.5 + 21 + 1 + 17.5,
        ),
    ],
)
def test_common_sums(ids, total):
    assert train_of(*ids).actual == pytest.approx(total)


def test_a_drawer_takes_the_place_of_a_ring():
    # Common practice: a 21 mm drawer replaces a 21 mm ring.
    with_ring = train_of("triplet-86", "reducer-08-m63", "ring-m48-21", "colour-18").actual
    assert train_of("triplet-86", "reducer-08-m63", "drawer-21", "colour-18").actual == with_ring


def test_a_front_ring_makes_6_5_into_17_5():
    # Common practice: 6.5 mm from its face, 17.5 mm with its 11 mm ring.
    camera = part("colour-18")
    bare = camera.model_copy(update={"front_ring": camera.front_ring.model_copy(update={"fitted": False})})
    for used, length in ((camera, 17.5), (bare, 6.5)):
        rig = Rig(name="Ring", path=(PathItem(part=part("triplet-86")), PathItem(part=used)))
        assert Spacing(rig, LightPath.of(rig), Preferences()).train.actual == pytest.approx(length)


@pytest.mark.parametrize(("thickness", "index", "ratio"), [(2.0, 1.5168, 7), (3.0, 1.458, 5), (1.0, 1.9, 10)])
def test_plate_shift_against_a_ray_traced_exactly(thickness, index, ratio):
    # Snell's law, traced for the outermost zone of a slow cone and shrunk towards the axis: the paraxial limit.
    def traced(angle: float) -> float:
        inside = asin(sin(angle) / index)
        return thickness - thickness * tan(inside) / tan(angle)

    shift = plate_shift(Glass(thickness_mm=thickness, refractive_index=index))
    assert traced(1e-4) == pytest.approx(shift, rel=1e-6)
    edge = traced(np.arctan(1 / (2 * ratio)))
    assert 0 < edge - shift < 0.01 * shift + thickness * 0.5 / ratio**2


def test_two_millimetres_of_crown_glass():
    # Any optics text: 2 mm, n = 1.5168 moves the focus by 0.681 mm; "about a third" is common practice.
    assert plate_shift(Glass(thickness_mm=2, refractive_index=1.5168)) == pytest.approx(0.681, abs=5e-4)


@given(st.floats(20, 200), st.floats(0.5, 3), st.floats(0.5, 1.5))
def test_thin_lens_by_two_rays(distance, factor, off):
    # Independent: a converging fan through a thin lens of power (1 − m)/d, crossed with the axis behind it.
    real = reach.factor_at(distance * off, factor, distance)
    if real <= 0.05:
        return
    native = reach.native_image_behind(distance * off, factor, distance)
    power = reach.corrector_power(factor, distance)
    height = 3.0
    slope = -height / native
    assert -height / (slope - power * height) == pytest.approx(distance * off, rel=1e-9)
    assert distance * off / native == pytest.approx(real)


def test_a_reducer_moves_the_focus_inward():
    # Thin-lens equation: d = 55, m = 0.8: the native image lies 68.75 mm behind the lens, 13.75 further out.
    assert reach.native_image_behind(55, 0.8, 55) - 55 == pytest.approx(13.75)
    assert reach.factor_at(55, 0.8, 55) == pytest.approx(0.8)
    assert reach.factor_at(60, 0.8, 55) < 0.8 < reach.factor_at(50, 0.8, 55)
    with pytest.raises(ValueError, match="back_focus_mm must be positive"):
        reach.corrector_power(0.8, 0)
    with pytest.raises(ValueError, match="forms no image"):
        reach.native_image_behind(400, 0.2, 55)


def test_moving_mirror_growth_of_two_mirrors():
    # Independent: a parabola of 406 mm and a secondary of −126 mm, traced by mirror equations at two back distances.
    f1, f2 = 406.0, -126.0

    def effective(image: float) -> float:
        inside = 1 / (1 / image - 1 / f2)  # distance of the primary's focus behind the secondary
        return f1 * image / inside

    nominal, further = 500.0, 530.0
    growth = (effective(further) - effective(nominal)) / (further - nominal)
    assert growth == pytest.approx(f1 / abs(f2), rel=1e-6)
    grown = reach.grown_focal_length(2030, growth, 150, 120)
    assert grown == pytest.approx(2030 + 30 * 3.222, abs=0.1)


@pytest.mark.parametrize(
    ("ratio", "pixel", "diagonal", "expected"),
    # Common practice, the table as it is handed on.
    [(7, 4.6, 28, 1.0), (8, 3.8, 22, 0.5), (6, 6, 43, 0.5), (5, 5, 22, 0.5), (4.5, 9, 22, 0.2), (6, 3.8, 28, 0.2)],
)
def test_tolerance_table(ratio, pixel, diagonal, expected):
    assert tolerance.tolerance_mm(ratio, pixel, diagonal) == expected


def test_stack_of_tolerances():
    # Five parts of ±0.05: 0.25 at worst, √5 · 0.05 when independent.
    assert tolerance.worst_case([0.05] * 5) == pytest.approx(0.25)
    assert tolerance.root_sum_square([0.05] * 5) == pytest.approx(sqrt(5) * 0.05)


def counted(opening: list[Opening], height: float, obstruction: float, side: int = 700) -> float:
    """Numerical integration over the pupil: cells of a square grid that every opening passes."""
    line = (np.arange(side) + 0.5) * 2 / side - 1
    u, v = np.meshgrid(line, line)
    pupil = (np.hypot(u, v) <= 1) & (np.hypot(u, v) >= obstruction)
    passed = pupil.copy()
    for item in opening:
        passed &= np.hypot(item.offset * height + item.radius * u, item.radius * v) <= item.diameter / 2
    return passed.sum() / pupil.sum()


@settings(deadline=None, max_examples=25)
@given(
    st.lists(st.tuples(st.floats(4, 60), st.floats(1, 15), st.floats(0.2, 1)), min_size=1, max_size=4),
    st.floats(0, 22), st.sampled_from([0.0, 0.3, 0.45]),
)  # fmt: skip
def test_illumination_against_numerical_integration(stops, height, obstruction):
    results = [Opening(0, "stop", 0, d, r, k) for d, r, k in stops]
    # The hole in the pupil lies inside every opening on axis; off axis the two agree where light is left around it.
    exact = illumination(tuple(results), np.array([height]), obstruction, 2000)[0]
    answer = counted(results, height, obstruction)
    if obstruction == 0:
        assert exact == pytest.approx(answer, abs=0.004)
    else:
        assert exact <= answer + 0.004


def test_limits_of_vignetting():
    # Geometry: a wide stop passes all; a straight edge through the middle of the footprint passes half.
    wide = (Opening(0, "wide", 0, 100, 5, 0.9),)
    assert illumination(wide, np.array([0.0, 14.0])) == pytest.approx([1, 1])
    assert through_one(5, 0, 100) == 1 and through_one(5, 80, 100) == 0
    assert through_one(5, 20_000, 40_000) == pytest.approx(0.5, abs=1e-3)
    assert through_one(5, 0, 5) == pytest.approx(0.25)
    assert through_one(0, 1, 4) == 1 and through_one(0, 3, 4) == 0


@given(st.floats(0.5, 20), st.floats(0, 40), st.floats(0.5, 60))
def test_one_opening_two_ways(radius, offset, diameter):
    item = (Opening(0, "one", 0, diameter, radius, 1.0),)
    assert illumination(item, np.array([offset]), samples=3000)[0] == pytest.approx(
        through_one(radius, offset, diameter), abs=0.003
    )


def test_filter_sizes():
    # Common practice: 26 mm clear in a 1.25-inch filter, 45 in a 2-inch one, a rim of a millimetre on unmounted ones.
    assert filter_clear("M28.5x0.6") == 26 and filter_clear("M48x0.75") == 45 and filter_clear("36 mm") == 34
    assert filter_clear("40 mm round") == 38 and filter_clear("whatever") is None
    assert smallest_filter(25) == "M28.5x0.6" and smallest_filter(33) == "36 mm" and smallest_filter(70) is None


def test_prism_shade_against_numerical_integration():
    rng = np.random.default_rng(3)
    u = rng.uniform(-1, 1, (400_000, 2))
    u = u[np.hypot(u[:, 0], u[:, 1]) <= 1]
    for x, y, edge, angle in ((0, 7, 8, 0), (5, 6, 9, 30), (-8, 3, 7, 90), (2, -5, 6, 180)):
        radius, offset, width, height = 3.5, 0.95, 8.0, 8.0
        px, py = x * offset + radius * u[:, 0], y * offset + radius * u[:, 1]
        turn = radians(angle)
        along, across = px * sin(turn) + py * cos(turn), px * cos(turn) - py * sin(turn)
        hit = (along >= edge) & (along <= edge + height) & (np.abs(across) <= width / 2)
        answer = shading(np.array([[x]]), np.array([[y]]), edge, width, height, angle, radius, offset, 4000)[0, 0]
        assert answer == pytest.approx(hit.mean(), abs=0.004)


def test_moment_on_the_focuser_by_hand(rigs):
    # Statics: each mass times its distance from the focuser's rear face, summed again here.
    heron = rigs["heron"]
    facts = Spacing(heron, LightPath.of(heron), Preferences())
    moment, at = 0.0, 0.0
    for item in heron.path[1:]:
        thing = item.part
        length = thing.flange_to_sensor_mm + 11 if thing.kind == "camera" else thing.optical_length_mm
        arm = at + (thing.body_length_mm / 2 if thing.kind == "camera" else length / 2)
        mass = thing.mass_g + sum(f.mass_g for f in item.filters)
        moment += mass / 1000 * 9.80665 * arm / 1000
        at += length
    assert facts.hanging.moment_nm == pytest.approx(moment)
    assert facts.hanging.mass_kg == pytest.approx(1.209)


def test_beam_in_focus_is_the_cone_of_the_focal_ratio(rigs):
    # Geometry: z mm before the sensor the light on axis is z/N wide, N the focal ratio at the true factor.
    for name in ("heron", "bittern"):
        rig = rigs[name]
        facts = Spacing(rig, LightPath.of(rig), Preferences())
        beam, telescope = facts.beam, facts.light.telescope
        ratio = telescope.focal_length_mm * beam.factor / telescope.aperture_mm
        for z in (5, 20, 40):
            air = z * (facts.train.actual - facts.train.glass_shift) / facts.train.actual
            radius, offset = beam.at(beam.sensor - z)
            assert 2 * radius == pytest.approx(air / ratio, rel=1e-6)
            assert 0.7 < offset < 1.1  # a reducer bends the chief ray back towards the axis
