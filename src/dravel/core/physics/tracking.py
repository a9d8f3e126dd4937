"""How long a mount keeps still: periodic error, polar alignment, flexure."""

from math import cos, inf, pi, radians, sqrt

from dravel.core.physics.optics import ARCSEC_PER_RADIAN, SIDEREAL_ARCSEC_PER_S

LONGEST_S = 86_400.0  # where nothing moves: no sub is longer than a day
NEAREST_POLE_DEG = 88.0  # the formula of the field's rotation ends near the pole
FAST_STEPS = 1.0  # seconds a correction takes to arrive, beside the exposure


def worst_rate_arcsec_s(periodic_error_arcsec: float, period_s: float) -> float:
    """Fastest drift of a sine error of that peak-to-peak size: π·PE/T, ″/s. Source: calculus."""
    return pi * periodic_error_arcsec / period_s


def polar_drift_arcsec_s(error_arcmin: float) -> float:
    """Largest drift of a badly set polar axis, ″/s: sidereal rate × error in radians. Source: geometry."""
    return SIDEREAL_ARCSEC_PER_S * radians(error_arcmin / 60)


def unguided_limit_s(scale_arcsec: float, rate_arcsec_s: float, drift_arcsec_s: float) -> float:
    """Longest unguided sub for a trail of one pixel at the worst phase: scale / (rate + drift), s."""
    total = rate_arcsec_s + drift_arcsec_s
    return min(scale_arcsec / total, LONGEST_S) if total > 0 else LONGEST_S


def guided_limit_s(
    scale_arcsec: float, flexure_arcsec_h: float, pixel_um: float, declination_deg: float, focal_length_mm: float,
    corner_deg: float, polar_arcmin: float, undriven_arcsec_s: float = 0.0,
) -> float:  # fmt: skip
    """Longest guided sub, s: flexure, the drift of an axis without a motor and, at the corner, rotation by the polar
    error stay within a pixel.

    Source: definition of the three; at most a day.
    """
    flexure = 3600 * scale_arcsec / flexure_arcsec_h if flexure_arcsec_h else inf
    undriven = scale_arcsec / undriven_arcsec_s if undriven_arcsec_s else inf
    tolerance = polar_tolerance_arcmin(pixel_um, declination_deg, 1.0, focal_length_mm, corner_deg)
    rotation = 60 * tolerance / polar_arcmin if polar_arcmin else inf
    return min(flexure, rotation, undriven, LONGEST_S)


def residual_arcsec(periodic_error_arcsec: float, period_s: float, exposure_s: float) -> float:
    """RMS of what a sine error leaves between corrections: its RMS rate over exposure and delay, halved.

    The halving takes the error as growing evenly between corrections. Source: calculus.
    """
    return worst_rate_arcsec_s(periodic_error_arcsec, period_s) / sqrt(2) * (exposure_s + FAST_STEPS) / 2


def field_turn_arcsec_s(latitude_deg: float, altitude_deg: float) -> float:
    """How fast the field turns under an alt-azimuth mount, ″/s, at its fastest for an altitude: due south or north.

    15.041 · cos φ / cos h. Source: rate of the parallactic angle (Meeus, *Astronomical Algorithms*, from memory). It ends
    near the zenith, where it is taken as at 85°.
    """
    return SIDEREAL_ARCSEC_PER_S * cos(radians(latitude_deg)) / cos(radians(min(altitude_deg, 85.0)))


def field_turn_limit_s(pixel_um: float, focal_length_mm: float, corner_deg: float, turn_arcsec_s: float) -> float:
    """Longest sub before a turning field moves the corner by a pixel, s: p / (ω · f · A); at most a day.

    Source: geometry. 20° of turn an hour move 10 mm from the guide star by 1 µm each second.
    """
    moved = radians(turn_arcsec_s / 3600) * focal_length_mm * 1000 * radians(corner_deg)
    return min(pixel_um / moved, LONGEST_S) if moved > 0 else LONGEST_S


def turning_limit_s(scale_arcsec: float, flexure_arcsec_h: float, undriven_arcsec_s: float, turn_s: float) -> float:
    """Longest guided sub under a turning field, s: flexure and undriven drift within a pixel, and the turn's own limit."""
    flexure = 3600 * scale_arcsec / flexure_arcsec_h if flexure_arcsec_h else inf
    undriven = scale_arcsec / undriven_arcsec_s if undriven_arcsec_s else inf
    return min(flexure, undriven, turn_s, LONGEST_S)


def seeing_jitter_arcsec(seeing_arcsec: float, aperture_mm: float, exposure_s: float) -> float:
    """RMS per axis by which the air moves a star's centroid in one guide exposure, ″.

    At an instant σ² = 0.18 · λ² · D^(−1/3) · r₀^(−5/3) with r₀ = 0.98 λ / FWHM. Source: Sarazin & Roddier 1990,
    A&A 227, 294 (from memory). An exposure averages it slowly: with the cube root of its length over a tenth of a
    second, Dravel's own order of magnitude. 0.4″ for 2″ of seeing, 50 mm and 2 s; common practice finds 0.3 to 0.5″.
    """
    wave_mm = 550e-6
    seeing = radians(seeing_arcsec / 3600) / 0.98
    instant = sqrt(0.18) * (wave_mm / aperture_mm) ** (1 / 6) * seeing ** (5 / 6)
    return float(instant * ARCSEC_PER_RADIAN * (1 + exposure_s / 0.1) ** (-1 / 3))


def drift_rms_arcsec(rate_arcsec_s: float, sub_s: float) -> float:
    """RMS of an even drift over a sub: rate · t / √12. Source: variance of an even distribution."""
    return rate_arcsec_s * sub_s / sqrt(12)


def polar_tolerance_arcmin(
    allowed_um: float, declination_deg: float, sub_min: float, focal_length_mm: float, angle_deg: float
) -> float:
    """Polar error at which the field turns by `allowed_um` during a sub, at an angle from the guide star, arcminutes.

    The field turns at the sidereal rate times E / cos δ, E in radians: over t minutes by 2π·t/1436.07 · E/cos δ. At an
    angle A from the guide star that moves a star by f·A times it. Solved for E in arcminutes with S in µm and A in
    degrees this is 45 000 · S · cos δ / (t · f · A). Source: Hook 1989, J. BAA 99 (from memory); derived here. Worst
    near the pole; within two degrees of it, where the formula ends, it is taken as at 88°.
    """
    if sub_min <= 0 or angle_deg <= 0:
        return inf
    near = cos(radians(min(abs(declination_deg), NEAREST_POLE_DEG)))
    return 45_019 * allowed_um * near / (sub_min * focal_length_mm * angle_deg)
