"""Hours to equal depth with sky, filters, dyes and bodies in them: who starves, who gains, and by how much."""

from math import sqrt

import numpy as np
import pytest

from dravel.catalogue.demo import RIDGE, TERRACE, scenario
from dravel.catalogue.starter_shelf import part
from dravel.core.model import Preferences, Rig
from dravel.core.overview import depth
from dravel.core.overview.depth import depths
from dravel.core.physics import photometry as light
from dravel.core.physics.photometry import H_ALPHA_NM, OIII_NM
from dravel.core.steps import STEPS
from dravel.core.train.throughput import COLOUR, MONO, Throughput
from tests.conftest import a_camera, a_rig, a_telescope

P = Preferences()
HERON = dict(scenario().rigs)["heron"]
NEBULA, GALAXY = 1, 3  # rows per area of sky


def hours(*rigs: Rig) -> list[tuple[float | None, ...]]:
    return [row.values for row in depths([STEPS.context(rig, P) for rig in rigs])]


def behind(name: str | None, rig: Rig = HERON) -> Rig:
    """The rig with one filter in its drawer, or none."""
    path = list(rig.path)
    at = next(i for i, item in enumerate(path) if item.part.kind == "filter_holder")
    filters = (part(name),) if name else ()
    path[at] = path[at].model_copy(update={"filters": filters, "in_use": 0 if name else None})
    return rig.model_copy(update={"path": tuple(path)})


def at(site: object, rig: Rig) -> Rig:
    return rig.model_copy(update={"site": site})


def test_a_dual_line_filter_serves_a_nebula_and_starves_a_galaxy():
    answer = hours(behind("dual-7"), behind("uvir"))
    assert answer[NEBULA][1] > 3  # without it the sky floods in
    assert answer[GALAXY][1] < 0.2


def test_the_town_costs_hours_on_galaxies_and_far_fewer_in_a_line():
    for name, row, least, most in (("uvir", GALAXY, 4, 9), ("dual-7", NEBULA, 1.3, 7)):
        ratio = hours(at(RIDGE, behind(name)), at(TERRACE, behind(name)))[row][1]
        assert least < ratio < most, name


def test_a_stock_body_starves_on_hydrogen():
    stock = HERON.path[-1].part.model_copy(update={"spectral_cut": "stock"})
    path = (*HERON.path[:-1], HERON.path[-1].model_copy(update={"part": stock}))
    answer = hours(behind("dual-7"), behind("dual-7", HERON.model_copy(update={"path": path})))
    # A quarter of the line: four times the hours while the sky rules, sixteen where the read noise does. Common practice.
    assert 3.5 < answer[NEBULA][1] < 16


def test_a_light_nobody_sees_is_said_and_the_first_that_sees_it_counts():
    oiii = part("oiii-125")
    answer = depths([STEPS.context(rig, P) for rig in (behind("oiii-125"), behind("dual-7"))])
    assert oiii.use == "oiii"
    assert answer[NEBULA].words == ("no signal", "1×")
    assert answer[NEBULA].values == (None, 1.0)


def test_a_filter_whose_passbands_nobody_gave_is_not_known_rather_than_blind():
    path = list(behind("uvir").path)
    at = next(i for i, item in enumerate(path) if item.in_use is not None)
    unknown = path[at].filters[0].model_copy(update={"passbands": ()})
    path[at] = path[at].model_copy(update={"filters": (unknown,)})
    answer = depths([STEPS.context(rig, P) for rig in (behind("uvir"), HERON.model_copy(update={"path": tuple(path)}))])
    assert all(row.words == ("1×", "—") for row in answer)


def test_the_gain_is_the_one_of_simulated_pixels():
    """A stack of subs of a mono sensor, Poisson light and Gaussian read noise, has the signal to noise that the rows rest on."""
    sensor = {"width_px": 100, "height_px": 100, "pixel_um": 3.8, "colour": "mono", "quantum_efficiency": 0.8,
              "modes": [{"gain": 0, "read_noise_e": 2.0, "e_per_adu": 1}]}  # fmt: skip
    rig = a_rig(a_telescope(), a_camera(sensor=sensor)).model_copy(update={"site": RIDGE})
    context = STEPS.context(rig, P)
    gained = depth._gained(context, of_line=False)
    assert gained is not None
    scale, sub = context.value("pixel_scale"), rig.guide.sub_s
    through = Throughput.of(rig, context.light.telescope, context.light.camera, context.value("focal_ratio"))
    area = light.open_area_m2(context.value("aperture"), 0)
    (window,) = through.windows
    signal, sky = (
        light.surface_rate(mag, area, width, 0.8, scale)
        for mag, width in (
            (depth.GALAXY_MAG, window.focused_nm),
            (RIDGE.sky_brightness, window.sky_nm(RIDGE.sky_brightness, RIDGE.lamps)),
        )
    )
    dice, subs = np.random.default_rng(3), 40
    stack = dice.poisson((signal + sky) * sub * subs, 200_000) + dice.normal(0, 2.0 * sqrt(subs), 200_000)
    assert (stack.mean() - sky * sub * subs) / stack.std() == pytest.approx(sqrt(gained[0] * sub * subs), rel=0.02)


def test_a_colour_sensor_sees_the_line_in_a_quarter_of_its_pixels():
    colour, mono = (
        Throughput.of(
            HERON, a_telescope(), a_camera(sensor={"width_px": 9999, "height_px": 99, "pixel_um": 3, "colour": c}), 5.4
        )
        for c in ("one_shot", "mono")
    )
    assert [colour.line(H_ALPHA_NM, dye) > 0 for dye in COLOUR] == [True, False, False]
    assert [colour.line(OIII_NM, dye) > 0 for dye in COLOUR] == [False, True, True]
    assert mono.line(H_ALPHA_NM, MONO[0]) > colour.line(H_ALPHA_NM, COLOUR[0]) > 0


def test_a_body_without_cooling_is_never_deeper_than_a_cooled_camera_of_the_same_sensor():
    cooled = HERON.path[-1].part
    warm = cooled.model_copy(
        update={"sensor": cooled.sensor.model_copy(update={"dark_e_per_s": 0.03}), "cooling_delta_k": None}
    )
    path = (*HERON.path[:-1], HERON.path[-1].model_copy(update={"part": warm}))
    answer = hours(HERON, HERON.model_copy(update={"path": path}))
    assert all(row[1] > 1 for row in answer)
