"""Every rule of the Guide step at its limits, and the numbers behind them."""

from math import hypot, inf, pi, sqrt

import pytest

from dravel.catalogue.starter_shelf import part
from dravel.core.model import Focuser, Guide, GuideScope, Mount, PathItem, Placed, Preferences, Rig
from dravel.core.physics import tracking
from dravel.core.sky.star_counts import LATITUDES, LOG_COUNTS, MAGNITUDES, Eye, density, galactic_latitude
from dravel.core.steps import STEPS
from dravel.core.steps.guiding.facts import FLEXURE, MOVING_MIRROR, Guiding, degrees_of
from dravel.core.steps.guiding.view import guiding_view
from tests.conftest import a_camera, a_framing, a_rig, a_telescope
from tests.says import says

P = Preferences()
EYE = Eye(area_mm2=1963, scale_arcsec_px=3.82, fwhm_arcsec=4.6, exposure_s=2, sky_mag_arcsec2=21)


def mount(**more: object) -> Mount:
    base = {"name": "mount", "style": "german_equatorial", "payload_kg": 20, "periodic_error_arcsec": 30,
            "worm_period_s": 480, "guided_rms_arcsec": 0.5}  # fmt: skip
    return Mount.model_validate(base | more)


def guide_camera(pixel: float = 3.7):
    return a_camera(1300, 980, pixel, mass_g=90)


def scoped(focal: float = 464, guide_focal: float = 200, mounting: str = "rings", **more: object) -> Rig:
    """A rig of a focal length, guided through a scope of its own."""
    scope = GuideScope(name="scope", aperture_mm=50, focal_length_mm=guide_focal, mounting=mounting)
    given = {
        "mount": mount(),
        "riders": (Placed(part=scope, off_mm=100),),
        "guide": Guide(method="guide_scope", branch=(PathItem(part=guide_camera()),), sub_s=more.pop("sub_s", 180)),
        **more,
    }
    return a_rig(a_telescope(focal_length_mm=focal), a_camera(), **given)


def verdict(rig: Rig, code: str, preferences: Preferences = P) -> str | None:
    said = [f.verdict for f in STEPS.evaluate(rig, preferences).findings if f.code == code]
    return min(said, key=("problem", "warning", "ok").index, default=None)


@pytest.mark.parametrize(
    ("guide_focal", "expected"),
    # Image 3.5 µm at 464 mm is 1.556 ″/px; guide 3.7 µm: four times as coarse at 122.6 mm, eight times at 61.3.
    [(200, "ok"), (123, "ok"), (122, "warning"), (62, "warning"), (61, "problem")],
)
def test_g1_scale_ratio(guide_focal, expected):
    assert verdict(scoped(guide_focal=guide_focal), "G1") == expected


@pytest.mark.parametrize(
    ("sub", "expected"),
    # Rings bend 6″ an hour: a pixel of 1.556″ in 933 s, two in 1867.
    [(900, "ok"), (960, "warning"), (1850, "warning"), (1900, "problem")],
)
def test_g2_flexure_over_a_sub(sub, expected):
    assert verdict(scoped(sub_s=sub), "G2") == expected


@pytest.mark.parametrize(
    ("school", "focal", "expected"),
    [
        ("by_flexure_and_scale", 900, "ok"),
        ("by_flexure_and_scale", 1100, "warning"),
        ("guide_scope_always", 1100, "ok"),
        ("off_axis_always", 464, "warning"),
    ],
)
def test_g2_by_school(school, focal, expected):
    assert verdict(scoped(focal=focal, sub_s=60), "G2", Preferences(guiding=school)) == expected
    (answer,) = [
        f for f in STEPS.evaluate(scoped(focal=focal, sub_s=60), Preferences(guiding=school)).findings if f.code == "G2"
    ]
    # Flexure of a fraction of a pixel is not called too large: it is the criterion that advises a prism.
    assert says(answer.title, "off_axis_advised") == (expected == "warning")


@pytest.mark.parametrize("mounting", ["bolted", "rings", "shoe"])
def test_flexure_by_mounting_and_with_a_moving_mirror(mounting):
    plain = scoped(mounting=mounting)
    assert STEPS.context(plain, P).of(Guiding).setup[0].flexure_arcsec_h == FLEXURE[mounting]
    mirror = a_telescope(focal_length_mm=464, focuser=Focuser(mechanism="moving_mirror"))
    moving = plain.model_copy(update={"path": (PathItem(part=mirror), plain.path[1])})
    assert STEPS.context(moving, P).of(Guiding).setup[0].flexure_arcsec_h == FLEXURE[mounting] + MOVING_MIRROR


@pytest.mark.parametrize(
    ("rms", "expected"),
    # Half of 1.556″ is 0.778″; the other terms of this rig are below 0.1″.
    [(0.5, "ok"), (0.75, "ok"), (0.8, "warning"), (3.0, "warning"), (3.2, "problem")],
)
def test_g4_error_against_the_pixel(rms, expected):
    assert verdict(scoped(mount=mount(guided_rms_arcsec=rms), sub_s=60), "G4") == expected


def test_the_budget_adds_in_squares():
    context = STEPS.context(scoped(), P)
    terms = context.of(Guiding).terms(context.of(Guiding).setup[0])
    assert [name for name, _, _ in terms] == ["mount", "centroid", "flexure"]
    assert context.value("guide_rms") == pytest.approx(hypot(*(value for _, value, _ in terms)))


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"guided_rms_arcsec": 0.6}, "guided"),
        ({"guided_rms_arcsec": None}, "residual after corrections"),
        ({"guided_rms_arcsec": None, "periodic_error_arcsec": None}, "Preferences (mount: not specified)"),
    ],
)
def test_what_the_mount_adds_is_named(more, words):
    context = STEPS.context(scoped(mount=mount(**more)), P)
    assert words in context.of(Guiding).terms(context.of(Guiding).setup[0])[0][2]


@pytest.mark.parametrize(
    ("sub", "expected"),
    # 1.556 / (π·30/480 + 0.00875) = 7.6 s.
    [(7, "ok"), (8, "warning"), (22, "warning"), (24, "problem")],
)
def test_g5_unguided(sub, expected):
    rig = a_rig(a_telescope(), a_camera(), mount=mount(), guide=Guide(sub_s=sub))
    assert verdict(rig, "G5") == expected
    figure = STEPS.evaluate(rig, P).figure("guiding.unguided_limit_s")
    assert figure.value == pytest.approx(7.6, abs=0.1)


@pytest.mark.parametrize(("sub", "expected"), [(900, "ok"), (1000, "warning"), (3000, "problem")])
def test_g5_guided_until_flexure_takes_a_pixel(sub, expected):
    assert verdict(scoped(sub_s=sub), "G5") == expected


@pytest.mark.parametrize("way_in", ["port", "pulse", "both"])
def test_g6_takes_corrections(way_in):
    assert verdict(scoped(mount=mount(guide_input=way_in)), "G6") == "ok"


def test_g6_without_a_way_in():
    assert verdict(scoped(mount=mount(guide_input="none")), "G6") == "problem"
    unguided = a_rig(a_telescope(), a_camera(), mount=mount(guide_input="none"))
    assert verdict(unguided, "G6") == "ok"
    assert verdict(a_rig(a_telescope(), a_camera(), mount=mount()), "G6") is None


@pytest.mark.parametrize(("error", "expected"), [(1, "ok"), (60, "ok"), (150, "warning"), (500, "problem")])
def test_g7_polar_error(error, expected):
    assert verdict(scoped(), "G7", Preferences(polar_error_arcmin=error)) == expected


@pytest.mark.parametrize(
    ("sub", "expected"),
    # 2′ drift 0.00875″ a second: a pixel of 1.556″ in 178 s.
    [(170, "ok"), (190, "warning"), (530, "warning"), (540, "problem")],
)
def test_g8_a_tracker_cannot_correct_declination(sub, expected):
    rig = a_rig(a_telescope(), a_camera(), mount=mount(driven_axes=1), guide=Guide(sub_s=sub))
    assert verdict(rig, "G8") == expected
    assert verdict(rig.model_copy(update={"mount": mount()}), "G8") is None


@pytest.mark.parametrize("code", ["G1", "G2", "G3", "G5", "G6", "G7", "G8"])
def test_silent_on_an_empty_rig(code):
    assert verdict(Rig(name="empty"), code) is None


@pytest.mark.parametrize(
    ("change", "because"),
    [
        ({"guide": Guide()}, "guiding off"),
        ({"guide": Guide(method="guide_scope")}, "no guide camera"),
        ({"riders": ()}, "no guide scope"),
        ({"guide": Guide(method="off_axis", branch=(PathItem(part=guide_camera()),))}, "no OAG in the light path"),
    ],
)  # fmt: skip
def test_why_it_is_not_guided(change, because):
    rig = scoped().model_copy(update=change)
    assert STEPS.context(rig, P).of(Guiding).setup == (None, because)
    missing = {gap.key: gap.because for gap in STEPS.evaluate(rig, P).missing}
    assert "guiding.scale_ratio" not in missing  # not worth a word where it does not apply


def test_the_hardest_target_counts():
    rig = scoped(framings=(a_framing(ra=192.9, dec=27.1), a_framing(ra=85, dec=29, angle=10)))
    assert STEPS.context(rig, P).of(Guiding).latitude[0] == pytest.approx(90, abs=1)
    guiding = STEPS.context(rig, P).of(Guiding)
    assert (guiding.nearest_pole[0], guiding.nearest_equator) == pytest.approx((29, 27.1))
    assert STEPS.context(scoped(), P).of(Guiding).latitude == (30.0, "no target")


@pytest.mark.parametrize("latitude", LATITUDES)
@pytest.mark.parametrize("magnitude", MAGNITUDES)
def test_the_table_of_counts_is_met_at_its_points(magnitude, latitude):
    row, column = MAGNITUDES.index(magnitude), LATITUDES.index(latitude)
    assert density(magnitude, latitude) == pytest.approx(10 ** LOG_COUNTS[row][column])


def test_counts_grow_with_magnitude_and_towards_the_plane():
    for latitude in range(0, 91, 10):
        counts = [density(m, latitude) for m in (3, 5, 7, 9, 11, 13, 15)]
        assert counts == sorted(counts)
    for magnitude in (7, 10, 13):
        counts = [density(magnitude, b) for b in range(0, 91, 10)]
        assert counts == sorted(counts, reverse=True)
    assert density(10, -40) == density(10, 40)


def test_galactic_latitude_has_two_poles():
    assert galactic_latitude(12.859, -27.128) == pytest.approx(-90, abs=0.01)


@pytest.mark.parametrize(
    ("change", "better"),
    [
        ({"exposure_s": 4}, True),
        ({"area_mm2": 4000}, True),
        ({"efficiency": 0.9}, True),
        ({"read_noise_e": 8.0}, False),
        ({"sky_mag_arcsec2": 17}, False),
        ({"fwhm_arcsec": 9}, False),
    ],
)
def test_what_makes_fainter_stars_visible(change, better):
    other = Eye(**{**vars(EYE), **change})
    assert (other.limit(10) > EYE.limit(10)) is better


def test_tracking_limits_by_hand():
    assert tracking.worst_rate_arcsec_s(48, 480) == pytest.approx(pi / 10)
    assert tracking.unguided_limit_s(1, 0, 0) == tracking.LONGEST_S
    assert tracking.residual_arcsec(48, 480, 2) == pytest.approx(pi / 10 / sqrt(2) * 3 / 2)
    assert tracking.drift_rms_arcsec(1, 12) == pytest.approx(sqrt(12))
    assert tracking.polar_tolerance_arcmin(4, 0, 0, 500, 1) == inf
    assert tracking.polar_tolerance_arcmin(4, 0, 5, 500, 0) == inf
    assert tracking.polar_tolerance_arcmin(4, 60, 5, 500, 1) == pytest.approx(45_019 * 4 * 0.5 / (5 * 500))
    assert degrees_of(10, 573) == pytest.approx(1, rel=1e-3)


def test_the_methods_side_by_side():
    view = guiding_view(STEPS.context(scoped(), P, (part("guider-165"), part("guide-48"))))
    ways = {way.method: way for way in view.methods}
    assert ways["guide_scope"].now and not ways["off_axis"].now and not ways["none"].now
    assert ways["off_axis"].scale == pytest.approx(206.265 * 3.7 / 464, rel=1e-3)
    assert ways["guide_scope"].ratio == pytest.approx(ways["guide_scope"].scale / view.scale)
    for way in ways.values():
        assert way.rms_px == pytest.approx(way.rms_arcsec / view.scale)
        assert way.rms_arcsec == pytest.approx(hypot(*(term.arcsec for term in way.terms)))
    assert ways["none"].rms_px > 1 > ways["guide_scope"].rms_px
    bare = guiding_view(STEPS.context(a_rig(a_telescope(), a_camera(), mount=mount()), P))
    assert [way.because for way in bare.methods] == [
        "",
        "no guide scope and camera available",
        "no OAG and camera available",
    ]
    still = guiding_view(STEPS.context(a_rig(a_telescope(), a_camera(), mount=mount(periodic_error_arcsec=None)), P))
    assert still.methods[0].because == "periodic error not specified"
