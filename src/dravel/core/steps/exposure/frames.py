"""Frames beside the lights, and what a night of them needs: flats, darks, bias, a set point, focus, room."""

from dataclasses import dataclass

from dravel.core.engine.context import Context
from dravel.core.model import Accessory, DarkSet, Filter
from dravel.core.model.words import Value, Words, text
from dravel.core.physics import dew
from dravel.core.physics import photometry as photo
from dravel.core.physics.energy import COOL_K_MIN
from dravel.core.steps.exposure.facts import Exposing
from dravel.core.steps.exposure.plan import fall_k_h
from dravel.core.steps.exposure.rules.night import safe_set_point

FLAT_S = 3.0  # longer flats of a darkening sky collect stars, much shorter ones the shutter; Dravel's own
HALF = 0.5  # of full scale, where flats are aimed; common practice
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
SAME_C = 1.0  # darks taken so near to the set point fit


@dataclass(frozen=True)
class Wanted:
    """Calibration frames of one kind."""

    kind: str
    count: int
    words: Words
    when: Words
    dark: DarkSet | None = None  # what would be kept of them
    on_hand: bool = False


def calibration(context: Context) -> tuple[Wanted, ...]:
    """What to take: flats for each filter planned, darks for each length, and what belongs to the flats."""
    own, preferences, rig = context.of(Exposing), context.preferences, context.rig
    camera = own.camera
    if camera is None:
        return ()
    count, shots = preferences.calibration_count, own.shots
    filters: list[Filter | None] = []
    for shot in shots:
        if shot.filter not in filters:
            filters.append(shot.filter)
    panel = next((part for part in rig.extras if part.function == "flat_panel"), None)
    results = []
    for item in filters or [own.filter]:
        words, when = flat_words(own, item, panel)
        behind = item.name if item else "no filter"
        results.append(Wanted("flats", count, text("{behind}, {words}", behind=behind, words=words), when))
    results.append(Wanted("dark flats", count, "same length as flats, cap on", "after the flats"))
    gain = own.mode.gain if own.mode else 0.0
    set_c = own.sensor_c[0]
    lengths = sorted({shot.sub_s for shot in shots} or {rig.guide.sub_s})
    cooled = bool(camera.used("cooling_delta_k"))
    for sub in lengths:
        on_hand = any(fits_darks(entry, set_c, gain, sub) for entry in camera.darks)
        if cooled:
            dark = DarkSet(set_c=set_c, gain=gain, sub_s=sub, count=count)
            words, when = (
                text(
                    "{sub} at {set_c}, gain {gain}",
                    sub=Value(sub, form="exposure"),
                    set_c=Value(set_c, "°C", 0),
                    gain=Value(gain),
                ),
                "any cloudy night, cap on",
            )
            results.append(Wanted("darks", count, words, "on hand" if on_hand else when, dark, on_hand))
        else:
            words, when = (
                text("{sub} at night temperature", sub=Value(sub, form="exposure")),
                "the same night, at its temperature",
            )
            results.append(Wanted("darks", count, words, when))
    return tuple(results)


def fits_darks(one: DarkSet, set_c: float, gain: float, sub_s: float) -> bool:
    """Whether darks on hand were taken as the subs are."""
    return abs(one.set_c - set_c) <= SAME_C and one.gain == gain and abs(one.sub_s - sub_s) <= 0.01 * sub_s


def flat_words(own: Exposing, one: Filter | None, panel: Accessory | None) -> tuple[Words, Words]:
    """How long a flat is behind a filter, and when: under the panel's light, else at dusk and dawn."""
    aim = text("at {HALF} of full scale", HALF=Value(HALF, form="share"))
    if panel is not None:
        seconds = flat_s(own, one, photo.brightness_of(panel.luminance_cd_m2)) if panel.luminance_cd_m2 else None
        return (aim if seconds is None else text("about {seconds}, {aim}", seconds=_spoken(seconds), aim=aim)), text(
            "{panel}, before taking down", panel=panel.name
        )
    near = "the sky near the zenith, at dusk or dawn"
    suns = [-9 + k / 4 for k in range(33)]  # from 9° to 1° below the horizon
    lengths = [(flat_s(own, one, photo.twilight(sun)), sun) for sun in suns]
    good = next(((seconds, sun) for seconds, sun in lengths if seconds is not None and seconds <= FLAT_S), None)
    if good is None:
        return aim, near
    return text(
        "about {good} with the sun {good_2} down, {aim}", good=_spoken(good[0]), good_2=Value(-good[1], "°", 0), aim=aim
    ), near


def flat_s(own: Exposing, one: Filter | None, brightness: float) -> float | None:
    """Seconds until an even glow fills half of the scale under the dye that sees most; None where it is not known."""
    collector, well = own.collector, own.well
    if collector is None or well is None or not collector.behind(one).known:
        return None
    rate = photo.surface_rate(
        brightness, collector.area_m2, collector.widest_nm(one), collector.quantum, collector.scale
    )
    return HALF * well / rate if rate > 0 else None


def _spoken(seconds: float) -> Words:
    if seconds >= 10:
        return Value(seconds, form="exposure")
    return Value(seconds, form="exposure") if seconds >= 0.1 else text("1/{x} s", x=max(round(1 / seconds), 1))


@dataclass(frozen=True)
class Month:
    """A month's usual night: air at dusk, and the coldest set point the cooler holds then, °C; whether today's holds."""

    name: str
    dusk_c: float
    safe_c: float
    holds: bool


def months(context: Context) -> tuple[Month, ...]:
    """How cold the cooler holds through the year; empty where it has none, or the site gives no months."""
    camera, site = context.light.camera, context.rig.site
    able = camera.used("cooling_delta_k") if camera else None
    if not able or site is None or not site.month_c:
        return ()
    wanted = context.rig.set_point_c(context.preferences)
    results = []
    for name, air in zip(MONTHS, site.month_c, strict=True):
        dusk = air + dew.FALL_K
        safe = safe_set_point(dusk, able)
        results.append(Month(name, dusk, safe, safe <= wanted))
    return tuple(results)


def minutes_to_cool(context: Context) -> float | None:
    """Minutes from dusk's air down to the set point, slowly enough that no glass frosts; None without a cooler."""
    camera = context.light.camera
    if camera is None or not camera.used("cooling_delta_k") or "air" not in context.known:
        return None
    dusk = context.value("air") + dew.FALL_K
    return max(0.0, dusk - context.rig.set_point_c(context.preferences)) / COOL_K_MIN


def refocus_words(context: Context) -> tuple[Words, ...]:
    """When to refocus, and why."""
    known, preferences = context.known, context.preferences
    phrases: list[Words] = []
    every = known.get("refocus_every")
    kelvin = known.get("optics.refocus_interval_k")
    if kelvin is not None:
        phrases.append(
            text(
                "after {kelvin} of cooling, about {kelvin_2} here",
                kelvin=Value(kelvin, "K", 1),
                kelvin_2=Value(kelvin / fall_k_h(context) * 60 * 60, form="time"),
            )
        )
    else:
        phrases.append(text("by temperature: {x}", x=known.why_not("optics.refocus_interval_k")))
    if every is not None:
        phrases.append(
            text(
                "every {every}, at least every {refocus_hours}",
                every=Value(every * 60 * 60, form="time"),
                refocus_hours=Value(preferences.refocus_hours, form="long"),
            )
        )
    if sum(len(item.filters) for item in context.rig.path) > 1:
        phrases.append("after each change of filter")
    return tuple(phrases)
