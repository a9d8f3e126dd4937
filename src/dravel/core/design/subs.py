"""How long a sub a train may take on a mount, by the same formulas as the Guide step, and how long one is planned."""

from dravel.core.design.paths import LINE_FILTERS, Brief
from dravel.core.design.trains import Train
from dravel.core.model import Framing, Mount
from dravel.core.moves.subs import whole_sub
from dravel.core.physics import tracking
from dravel.core.steps.guiding.facts import TURN_ALTITUDE_DEG, degrees_of
from dravel.core.train.stiffness import PLAIN_LATITUDE_DEG

BROAD_S, LINES_S, VIDEO_S = 180.0, 300.0, 0.02  # what is planned where nothing is shorter. Common practice


def usual(train: Train, brief: Brief) -> float:
    """The sub that is planned where the mount holds it, s: by the light, not by the mount."""
    if brief.planets:
        return VIDEO_S
    used = [item.filters[item.in_use] for item in train.rig.path if item.filters and item.in_use is not None]
    return LINES_S if any(entry.use in LINE_FILTERS for entry in used) else BROAD_S


def nearest_pole(framings: tuple[Framing, ...]) -> float:
    """The declination where the field turns most, degrees."""
    return max((abs(framing.target.dec_deg) for framing in framings), default=0.0)


def longest(train: Train, mount: Mount, brief: Brief, pole_deg: float) -> float:
    """Longest sub that trails by a pixel at most, s; a day where nothing of the mount says so. Mounts of a design follow the sky."""
    preferences = brief.preferences
    corner = degrees_of(train.diagonal_mm, train.focal_mm) / 2 * (2 if train.method == "off_axis" else 1)
    latitude = abs(brief.site.latitude_deg) if brief.site else PLAIN_LATITUDE_DEG
    turning = mount.style == "alt_azimuth"
    turn = tracking.LONGEST_S
    if turning:
        rate = tracking.field_turn_arcsec_s(latitude, TURN_ALTITUDE_DEG)
        turn = tracking.field_turn_limit_s(train.pixel_um, train.focal_mm, corner, rate)
    undriven = tracking.polar_drift_arcsec_s(preferences.polar_error_arcmin) if mount.driven_axes < 2 else 0.0
    if train.flexure is not None and mount.guide_input != "none":
        if turning:
            return tracking.turning_limit_s(train.scale, train.flexure, undriven, turn)
        return tracking.guided_limit_s(
            train.scale, train.flexure, train.pixel_um, pole_deg, train.focal_mm, corner,
            preferences.polar_error_arcmin, undriven,
        )  # fmt: skip
    error, period = mount.used("periodic_error_arcsec"), mount.used("worm_period_s")
    if error is None or period is None:
        return tracking.LONGEST_S
    polar = 0.0 if turning else tracking.polar_drift_arcsec_s(preferences.polar_error_arcmin)
    free = tracking.unguided_limit_s(train.scale, tracking.worst_rate_arcsec_s(error, period), polar)
    return min(free, turn)


def planned(train: Train, mount: Mount, brief: Brief, framings: tuple[Framing, ...]) -> float:
    """The planned sub, s: the usual one, or as many whole seconds as the mount holds."""
    most = usual(train, brief)
    limit = longest(train, mount, brief, nearest_pole(framings))
    return most if limit >= most else whole_sub(limit)
