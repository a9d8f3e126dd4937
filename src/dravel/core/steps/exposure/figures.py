"""Figures of exposure: rates, subs, hours, plan, of the rig's first target behind the filter in use."""

from math import sqrt

from dravel.core.engine.recipe import PRACTICE, Recipe
from dravel.core.physics import photometry as photo
from dravel.core.steps.exposure.facts import recommended_s

MAGNITUDE = "definition of the magnitude; Bessell 1979 for its zero, F₀ = 10⁸ /s/m²/nm (unverified)"
CCD = "CCD equation (Merline & Howell 1995)"


def _line_rate(shone: tuple[float, ...], unit: float, area: float, q: float, air: float, scale: float) -> float:
    return sum(shone) * unit * area * q * air * scale**2


def _moonlit(sky: float, width: float, moon: float, moon_width: float, area: float, q: float, scale: float) -> float:
    return photo.surface_rate(sky, area, width, q, scale) + photo.surface_rate(moon, area, moon_width, q, scale)


def worth_a_second(
    signals: tuple[float, ...], backgrounds: tuple[float, ...], shares: tuple[float, ...], element: float, noise: float,
    sub: float,
) -> float:  # fmt: skip
    """Signal to noise squared that a detail gains a second. Source: the CCD equation."""
    dyes = zip(signals, backgrounds, shares, strict=True)
    return element * sum(m * s**2 / (s + b + noise**2 / sub) for s, b, m in dyes)


def _hours(wished: float, least: float, *given: float) -> float | None:
    worth = worth_a_second(*given)  # type: ignore[arg-type]
    return max(least, wished**2 / worth / 3600) if worth > 0 else None


def _saturating(
    well: float, falls_in: float, sub: float, area: float, width: float, q: float, air: float, peak: float
) -> float | None:
    return photo.saturating_mag(well, falls_in * sub, photo.star_rate(0.0, area, width, q) * air * peak * sub)


# fmt: off
FIGURES: tuple[Recipe, ...] = (
    Recipe(
        "exposure.sky_e_s", "Sky signal per pixel", "e⁻/s", 3,
        "E = F₀ · (10^(−0.4·μ) · w + 10^(−0.4·μ_m) · w_m) · a · q · scale²", MAGNITUDE,
        ("sky_mag", "sky_width", "moon_sky", "moon_width", "open_area", "quantum", "pixel_scale"), _moonlit, ("sky_e", "E"),
    ),
    Recipe(
        "exposure.sky_e_s", "Sky signal per pixel", "e⁻/s", 3,
        "E = F₀ · 10^(−0.4·μ) · a · w · q · scale²", MAGNITUDE,
        ("sky_mag", "open_area", "sky_width", "quantum", "pixel_scale"), photo.surface_rate, ("sky_e", "E"),
    ),
    Recipe(
        "exposure.target_e_s", "Target signal per pixel", "e⁻/s", 4,
        "Σ I · ρ_R · a · q · η · scale²", "Baker & Romick 1976, Appl. Opt. 15, 1966 (definition of the rayleigh)",
        ("target_light", "line_unit", "open_area", "quantum", "airmass_share", "pixel_scale"), _line_rate,
        ("target_e", "E_t"),
    ),
    Recipe(
        "exposure.target_e_s", "Target signal per pixel", "e⁻/s", 4,
        "F₀ · 10^(−0.4·μ_t) · a · w_t · q · η · scale²", MAGNITUDE,
        ("target_mag", "open_area", "target_width", "quantum", "airmass_share", "pixel_scale"),
        lambda mag, area, width, q, air, scale: air * photo.surface_rate(mag, area, width, q, scale),
        ("target_e", "E_t"),
    ),
    Recipe(
        "exposure.dark_e_s", "Dark current per pixel", "e⁻/s", 4,
        "b² · D · 2^((θ_s − θ_D)/6)", PRACTICE + ": doubling every 6 K",
        ("dark_given", "binned", "dark_at", "sensor_c"),
        lambda d, b, at, now: b**2 * photo.dark_at(d, at, now), ("dark_e", "E_d"), optional=True,
    ),
    Recipe(
        "exposure.dark_e_s", "Dark current per pixel", "e⁻/s", 4,
        "b² · D", "manufacturer, assumed at operating temperature",
        ("dark_given", "binned"), lambda d, b: b**2 * d, ("dark_e", "E_d"), optional=True,
    ),
    Recipe(
        "exposure.shortest_sub_s", "Shortest sub by read noise", "s", 0,
        "R² / (((1 + x)² − 1) · (E + E_d))", "noise adds in quadrature; x = 5% gives 9.76 · R² / E",
        ("read_noise", "sky_e", "dark_e", "margin"),
        lambda noise, sky, dark, x: photo.shortest_sub_s(noise, sky + dark, x) if sky + dark > 0 else None,
        ("shortest_sub", "t₅"),
    ),
    Recipe(
        "exposure.longest_sub_s", "Longest sub", "s", 0,
        "min(t)", "the tightest of the limits",
        ("sub_limits",), min, ("longest_sub", "t₆"), optional=True,
    ),
    Recipe(
        "exposure.recommended_sub_s", "Recommended sub length", "s", 0,
        "min(habit, t₆)", "fixed length from Preferences, within the rig's limits",
        ("habit_sub", "longest_sub"), min, optional=True,
    ),
    Recipe(
        "exposure.recommended_sub_s", "Recommended sub length", "s", 0,
        "the next round value above max(t₅, t₇ / x), ≤ t₆", "default threshold",
        ("shortest_sub", "longest_sub", "download_s", "margin"), recommended_s, optional=True,
    ),
    Recipe(
        "exposure.saturating_mag", "Stars saturate brighter than mag", "mag", 1,
        "2.5 · lg(F₀ · a · w_s · q · η · π̂ · t / (W − B̂ · t))", MAGNITUDE + "; Gaussian star profile",
        ("well", "falls_in", "sub", "open_area", "star_width", "quantum", "airmass_share", "star_peak"), _saturating,
        optional=True,
    ),
    Recipe(
        "exposure.snr_hour", "SNR per hour", "", 1,
        "√(3600 · e · Σ m · S² / (S + B + R²/t))", CCD,
        ("signals", "backgrounds", "dye_shares", "element", "read_noise", "sub"),
        lambda *given: sqrt(3600 * worth_a_second(*given)), optional=True,
    ),
    Recipe(
        "exposure.snr_hour_pixel", "SNR per hour, per pixel", "", 1,
        "E_t · √(3600 / (E_t + E + E_d + R²/t))", CCD + "; the most sensitive pixels",
        ("target_e", "sky_e", "dark_e", "read_noise", "sub"),
        lambda target, sky, dark, noise, sub: photo.signal_to_noise(target, sky + dark, noise, sub, 3600)
        if target + sky + dark > 0 else None,
        optional=True,
    ),
    Recipe(
        "exposure.hours_to_goal", "Integration time to target SNR", "h", 1,
        "max(t_k, n² / (3600 · e · Σ m · S² / (S + B + R²/t)))", CCD + ", solved for the time; minimum by common practice",
        ("wished", "least_light", "signals", "backgrounds", "dye_shares", "element", "read_noise", "sub"), _hours,
        ("goal_hours", "T"), optional=True,
    ),
    Recipe(
        "exposure.moon_cost", "Moonlight factor on integration time", "× integration time", 1,
        "1 + c · (10^(0.4·ΔV) − 1)", "Krisciunas & Schaefer 1991 (unverified); noise adds in quadrature",
        ("moon_gain", "moon_colour"), photo.moon_cost, optional=True,
    ),
    Recipe(
        "exposure.refocus_every_h", "Refocus every", "h", 1,
        "min(ΔT / θ̇, at least every)", "half the depth of focus; nightly cooling is an estimate",
        ("optics.refocus_interval_k", "night_fall", "refocus_least"), lambda k, fall, least: min(k / fall, least),
        ("refocus_every", "t₉"), optional=True,
    ),
    Recipe(
        "exposure.open_share", "Duty cycle", "share", 2,
        "t / (t + t₇ + t₈) · (1 − r)", "sub against download, dithers and refocusing",
        ("sub", "download_s", "dither_pause", "refocus_share"),
        lambda t, pause, dither, r: t / (t + pause + dither) * (1 - r), ("open_share", "o"), optional=True,
    ),
    Recipe(
        "exposure.plan_h", "Integration time of all plans", "h", 2,
        "Σ n · t / 3600", "arithmetic",
        ("plan_counts", "plan_subs"), lambda n, t: sum(c * s for c, s in zip(n, t, strict=True)) / 3600, optional=True,
    ),
    Recipe(
        "exposure.storage_gb", "Storage for the frames of all plans", "GB", 1,
        "Σ n · M / 1000", "arithmetic",
        ("plan_counts", "frame_mb"), lambda n, mb: sum(n) * mb / 1000, ("storage", "V_f"), optional=True,
    ),
)
# fmt: on
