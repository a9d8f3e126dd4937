"""The Guide step: every method side by side, the error budget against the pixel, the patch of sky that is seen."""

from math import hypot
from typing import Any, TypeVar

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model import Camera, Framing, GuideScope, OffAxisGuider, Part
from dravel.core.model.base import Model
from dravel.core.model.words import Text, Words, text
from dravel.core.moves.subs import seconds_words
from dravel.core.sky.altaz import Array
from dravel.core.sky.framing import axes
from dravel.core.sky.star_counts import USABLE_SNR, chance_of_none
from dravel.core.steps.guiding.facts import Guiding, Setup, degrees_of
from dravel.core.steps.guiding.limits import polar_words


class GuidingTerm(Model):
    """One term of the error budget, RMS per axis."""

    name: Text
    arcsec: float
    words: Text


class GuideMethod(Model):
    """One way to guide, with its numbers; `because` says why it cannot be told."""

    method: str
    title: Text
    now: bool
    because: Text
    scale: float | None = None
    ratio: float | None = None
    flexure_arcsec_h: float | None = None
    limiting_mag: float | None = None
    patch_arcmin: tuple[float, float] | None = None
    stars_expected: float | None = None
    chance_of_none: float | None = None
    centroid_arcsec: float | None = None
    rms_arcsec: float | None = None
    rms_px: float | None = None
    longest_sub_s: float | None = None
    longest_words: Text = Text("")
    terms: tuple[GuidingTerm, ...] = ()


class GuidePatch(Model):
    """What the guide camera sees at a target: its corners and the footprint's on the plane around the target, degrees."""

    target: str
    ra_deg: float
    dec_deg: float
    radius_deg: float
    patch: tuple[tuple[float, float], ...]
    footprint: tuple[tuple[float, float], ...]
    stars: tuple[tuple[float, float, float], ...]
    inside: int
    faintest: float


class GuidingView(Model):
    """Everything the Guide step draws."""

    scale: float | None
    sub_s: float
    methods: tuple[GuideMethod, ...]
    polar_tolerance_arcmin: float | None
    polar_words: Text
    polar_error_arcmin: float
    uncorrected: Text
    input: Text
    without: Text


TITLES = {"none": "Not guided", "guide_scope": "Guide scope", "off_axis": "Off-axis"}


def guiding_view(context: Context) -> GuidingView:
    """The methods side by side; what a rig lacks for one is taken from the shelf, owned parts first."""
    rig, shelf = context.rig, context.shelf
    guiding, scale = context.of(Guiding), context.known.get("pixel_scale")
    mount = rig.mount
    ways: tuple[GuideMethod, ...] = (
        _unguided(guiding, scale),
        _scoped(guiding, shelf, scale),
        _off_axis(guiding, shelf, scale),
    )
    uncorrected: Words = ""
    if mount is not None and mount.driven_axes < 2:
        uncorrected = (
            "RA-only drive: Dec drift is not corrected." if mount.driven_axes else "No axis driven: untracked."
        )
    turn = context.known.get("turn_limit")
    if turn is not None:
        uncorrected = text("No polar axis: field rotation reaches 1 px in {turn}.", turn=seconds_words(turn))
    given = mount.guide_input if mount else "none"
    without: Words = ""
    if mount is None:
        ways = () if rig.stands_still else ways
        without = "Fixed tripod: untracked, limited by the sub length (rule V1)." if not ways else ""
    elif given == "none":
        without = text(
            "No guide interface: no corrections and no dithering; keep subs within the unguided limit.", "no_dithering"
        )
    return GuidingView(
        scale=scale,
        sub_s=rig.guide.sub_s,
        methods=ways,
        polar_tolerance_arcmin=context.known.get("guiding.polar_tolerance_arcmin"),
        polar_words=polar_words(context.known.get("guiding.polar_tolerance_arcmin")),
        polar_error_arcmin=guiding.preferences.polar_error_arcmin,
        uncorrected=uncorrected,
        input=given,
        without=without,
    )


def _error(guiding: Guiding, setup: Setup | None, scale: float | None) -> dict[str, Any]:
    """The error budget of a way to guide, and the longest sub it allows: the same numbers as the rig's own figures."""
    terms = guiding.terms(setup)
    total = guiding.total(setup)
    return {
        "terms": tuple(GuidingTerm(name=name, arcsec=value, words=words) for name, value, words in terms),
        "rms_arcsec": total,
        "rms_px": total / scale if total is not None and scale else None,
        "longest_sub_s": (longest := guiding.longest_sub_s(setup)),
        "longest_words": "" if longest is None else seconds_words(longest),
    }


def _unguided(guiding: Guiding, scale: float | None) -> GuideMethod:
    rates = guiding.rates
    now = guiding.rig.guide.method == "none"
    if guiding.rig.mount is None:
        return GuideMethod(method="none", title=TITLES["none"], now=now, because="the rig has no mount")
    if rates is None and not guiding.sky_rate:
        return GuideMethod(method="none", title=TITLES["none"], now=now, because="periodic error not specified")
    return GuideMethod(method="none", title=TITLES["none"], now=now, because="", **_error(guiding, None, scale))


def _scoped(guiding: Guiding, shelf: tuple[Part, ...], scale: float | None) -> GuideMethod:
    scope = guiding.scope or _first(shelf, GuideScope)
    camera = guiding.camera or _guide_camera(shelf)
    if scope is None or camera is None:
        return GuideMethod(
            method="guide_scope", title=TITLES["guide_scope"], now=False, because="no guide scope and camera available"
        )
    return _guided(guiding, guiding.by_scope(scope, camera), scale)


def _off_axis(guiding: Guiding, shelf: tuple[Part, ...], scale: float | None) -> GuideMethod:
    guider = guiding.guider or _first(shelf, OffAxisGuider)
    camera = guiding.camera or _guide_camera(shelf)
    setup = guiding.by_guider(guider, camera) if guider is not None and camera is not None else None
    if setup is None:
        return GuideMethod(
            method="off_axis", title=TITLES["off_axis"], now=False, because="no OAG and camera available"
        )
    return _guided(guiding, setup, scale)


P = TypeVar("P", bound=Part)


def _first(shelf: tuple[Part, ...], kind: type[P]) -> P | None:
    results = [part for part in shelf if isinstance(part, kind) and part.status != "retired"]
    return min(results, key=lambda part: (part.status != "owned", part.name), default=None)


def _guide_camera(shelf: tuple[Part, ...]) -> Camera | None:
    small = [part for part in shelf if isinstance(part, Camera) and part.sensor.width_mm < 8]
    return min(small, key=lambda part: (part.status != "owned", part.name), default=None)


def _guided(guiding: Guiding, setup: Setup, scale: float | None) -> GuideMethod:
    eye = guiding.eye(setup) if "seeing_at_airmass" in guiding.known else None
    error = _error(guiding, setup, scale) if eye else {}
    expected = guiding.expected(setup, guiding.latitude[0]) if eye else None
    centroid = next((term.arcsec for term in error.get("terms", ()) if term.name == "centroid"), None)
    return GuideMethod(
        method=setup.method,
        title=f"{TITLES[setup.method]}: {setup.scope}",
        now=guiding.rig.guide.method == setup.method and guiding.setup[0] is not None,
        because="" if guiding.rig.mount else "no mount: tracking error unknown",
        scale=setup.scale,
        ratio=setup.scale / scale if scale else None,
        flexure_arcsec_h=setup.flexure_arcsec_h,
        limiting_mag=eye.limit(USABLE_SNR) if eye else None,
        patch_arcmin=(setup.patch_deg[0] * 60, setup.patch_deg[1] * 60),
        stars_expected=expected,
        chance_of_none=chance_of_none(expected) if expected is not None else None,
        centroid_arcsec=centroid,
        **error,
    )


def patch_of(context: Context, target: str | None) -> tuple[float, float, float] | None:
    """Around which place (RA, declination, radius in degrees) stars are wanted to draw the patch; None without one."""
    guiding = context.of(Guiding)
    framing, setup = _framing(guiding, target), guiding.setup[0]
    if framing is None or setup is None or "field_width" not in guiding.known:
        return None
    field = hypot(guiding.known.value("field_width"), guiding.known.value("field_height")) / 2
    reach = _off_deg(guiding, setup) + hypot(*setup.patch_deg) / 2
    return framing.centre_ra_deg, framing.centre_dec_deg, min(25.0, max(reach, field) * 1.15)


def _off_deg(guiding: Guiding, setup: Setup) -> float:
    """How far from the footprint's centre the patch's own centre lies: behind a prism it is beside the sensor."""
    guider = guiding.guider
    if setup.method != "off_axis" or guider is None:
        return 0.0
    edge = guider.prism.edge_mm or (guiding.known.value("sensor_height") / 2 + 2)
    return degrees_of(edge + guider.prism.height_mm / 2, setup.focal_length_mm)


def draw_patch(context: Context, target: str | None, stars: Array, faintest: float) -> GuidePatch | None:
    """The patch the guide camera sees beside (off-axis) or around (guide scope) the footprint, with real stars.

    `stars` (n, 3): plane x and y in degrees around the footprint's centre, magnitude; the list reaches to `faintest`.
    """
    guiding = context.of(Guiding)
    where = patch_of(context, target)
    framing, setup = _framing(guiding, target), guiding.setup[0]
    if where is None or framing is None or setup is None:
        return None
    known = guiding.known
    right, up = axes(framing.position_angle_deg)
    centre = up * _off_deg(guiding, setup)
    patch = _corners(centre, right, up, setup.patch_deg)
    footprint = _corners(np.zeros(2), right, up, (known.value("field_width"), known.value("field_height")))
    inside = 0
    if len(stars):
        off = stars[:, :2] - centre
        within = (np.abs(off @ right) <= setup.patch_deg[0] / 2) & (np.abs(off @ up) <= setup.patch_deg[1] / 2)
        usable = stars[:, 2] <= guiding.eye(setup).limit(USABLE_SNR)
        inside = int(np.count_nonzero(within & usable))
    return GuidePatch(
        target=framing.target.name,
        ra_deg=where[0],
        dec_deg=where[1],
        radius_deg=where[2],
        patch=patch,
        footprint=footprint,
        stars=tuple((round(float(x), 4), round(float(y), 4), round(float(m), 1)) for x, y, m in stars[:800]),
        inside=inside,
        faintest=faintest,
    )


def _framing(guiding: Guiding, target: str | None) -> Framing | None:
    framings = guiding.rig.framings
    wanted = (f for f in framings if target in (f.target.id, f.target.name))
    return next(wanted, framings[0] if framings else None)


def _corners(centre: Array, right: Array, up: Array, size: tuple[float, float]) -> tuple[tuple[float, float], ...]:
    return tuple(
        (float(point[0]), float(point[1]))
        for point in (
            centre + right * sx * size[0] / 2 + up * sy * size[1] / 2 for sx, sy in ((-1, 1), (1, 1), (1, -1), (-1, -1))
        )
    )
