"""What figures of the Exposure step draw on, of the rig's first target and the filter in use."""

from math import inf

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.physics import photometry as photo
from dravel.core.steps.exposure.facts import Exposing, least_hours
from dravel.core.steps.exposure.plan import dithered_every, fall_k_h

RATES = (
    "sky_mag", "moon_gain", "moon_colour", "moon_sky", "moon_width", "open_area", "sky_width", "target_light", "target_mag", "target_width", "airmass_share", "line_unit",
    "quantum", "read_noise", "signals", "backgrounds", "dye_shares", "least_light", "element", "margin", "star_width",
    "star_peak", "sub_limits", "falls_in",
)  # fmt: skip
CAMERA = ("dark_given", "dark_at", "sensor_c", "binned", "well")
PLAN = (
    "plan_counts", "plan_subs", "frame_mb", "dither_pause", "refocus_share", "night_fall", "refocus_least", "habit_sub",
)  # fmt: skip
NAMES = (*RATES, *CAMERA, "wished", "download_s")


def _gather(known: Known, context: Context) -> None:
    """Put the exposure values into `known`, or why they are not known."""
    own, preferences, rig = context.of(Exposing), context.preferences, context.rig
    known.put("wished", "n", "target SNR", preferences.target_snr, "", "assumed (Preferences)")
    known.put("margin", "x", "margin over read noise", preferences.read_noise_margin, "", "assumed (Preferences)")
    known.put("download_s", "t₇", "pause between two subs", preferences.download_s, "s", "assumed (Preferences)")
    camera = own.camera
    if camera is None:
        known.lack("no camera in the light path", *CAMERA)
    else:
        sensor = camera.sensor
        known.put("binned", "b", "binning", rig.binning, "", "rig")
        known.put(
            "dark_given",
            "D",
            "dark current",
            sensor.dark_e_per_s or 0.0,
            "e⁻/s",
            camera.name if sensor.dark_e_per_s is not None else "not specified, assumed zero",
        )
        known.put("dark_at", "θ_D", "temperature of the dark current", sensor.dark_at_c, "°C", camera.name)
        known.put("sensor_c", "θ_s", "sensor", own.sensor_c[0], "°C", own.sensor_c[1])
        known.put("well", "W", "full well at this gain, binned", own.well, "e⁻", camera.name)
    if own.lacks or own.lead is None or own.collector is None:
        known.lack(own.lacks or "no target planned", *(name for name in RATES if name != "margin"))
        return
    (framing, glow), collector, behind = own.lead, own.collector, own.filter
    pixels = own.pixels(framing, glow, behind)
    pixel = own.telling(pixels)
    if pixel is None:
        name = behind.name if behind else ""
        known.lack(f"{name}: passbands not specified", *(name for name in RATES if name != "margin"))
        return
    sky, which = own.conditions(framing), framing.target.name
    known.put("least_light", "t_k", "minimum integration for this type", least_hours(framing), "h", "common practice")
    window = collector.behind(behind).windows[pixels.index(pixel)]
    colour = "the most sensitive colour" if len(pixels) > 1 else "all pixels alike"
    known.put("sky_mag", "μ", "sky at the target", sky.dark, "mag/arcsec²", f"{which}, {sky.words}")
    if sky.moonlight < inf:
        known.put("moon_sky", "μ_m", "moonlight in it", sky.moonlight, "mag/arcsec²", "Krisciunas & Schaefer 1991")
        known.put("moon_width", "w_m", "moonlight passed, width", window.moon_nm, "nm", f"{colour}, bluer")
    else:
        known.lack("moon below horizon", "moon_sky", "moon_width")
    shot = next((item for item in own.shots if item.framing is framing and item.filter == behind), None)
    known.put("moon_gain", "ΔV", "sky brightened by moonlight", sky.moon_mag, "mag", which)
    known.put(
        "moon_colour", "c", "moonlight passed against all other noise",
        1.0 if shot is None else own.moon_colour(shot), "", colour,
    )  # fmt: skip
    known.put("open_area", "a", "open area", collector.area_m2, "m²", "aperture less its obstruction")
    known.put("sky_width", "w", "sky light passed, width", window.sky_nm(sky.dark, sky.lamps), "nm", colour)
    known.put("quantum", "q", "quantum efficiency", collector.quantum, "", camera.name if camera else "")
    known.put("airmass_share", "η", "passed by the atmosphere", sky.passes, "", f"airmass {sky.airmass:.2f}")
    if glow.of_lines:
        known.put("line_unit", "ρ_R", "photons per rayleigh", photo.RAYLEIGH, "/s/m²/arcsec²", "definition")
        lines = [(rayleighs * window.lines[nm], f"{name}, {rayleighs:.0f} R") for nm, name, rayleighs in glow.lines]
        known.put_list("target_light", "I", "line passed", "R", lines)
        known.lack("emission-line target", "target_mag", "target_width")
    else:
        known.put("target_mag", "μ_t", "target", glow.surface, "mag/arcsec²", glow.origin)
        known.put("target_width", "w_t", "light passed in focus, width", window.focused_nm, "nm", colour)
        known.lack("broadband target", "target_light", "line_unit")
    known.put("read_noise", "R", "read noise", collector.read_noise_e, "e⁻", own.mode_words)
    dyes = [str(round(item.share, 2)) + " of the pixels" for item in pixels]
    known.put_list("signals", "S", "target", "e⁻/s", [(p.target, d) for p, d in zip(pixels, dyes, strict=True)])
    known.put_list(
        "backgrounds", "B", "sky and dark", "e⁻/s", [(p.background, d) for p, d in zip(pixels, dyes, strict=True)]
    )
    known.put_list("dye_shares", "m", "share of the pixels", "", [(p.share, "dye") for p in pixels])
    known.put("element", "e", "pixels of a detail", collector.element_px, "px", f"a disc of {collector.detail:.2g}″")
    falls = max(item.background for item in pixels)
    known.put("falls_in", "B̂", "sky and dark, maximum", falls, "e⁻/s", colour)
    known.put(
        "star_peak",
        "π̂",
        "share of a star's light in the central pixel",
        photo.peak_share(collector.star_px or 1.0),
        "",
        "star's width",
    )
    widest = collector.widest_nm(behind)
    known.put("star_width", "w_s", "star light passed, width", widest, "nm", "the most sensitive colour")
    limits = [limit for limit in own.limits(framing, glow, behind) if limit.key != "core"]
    known.put_list("sub_limits", "t", "limit of a sub", "s", [(limit.seconds, limit.words) for limit in limits])
    if not limits:
        known.lack("no limit", "sub_limits")


def _planned(known: Known, context: Context) -> None:
    """Put what the plans of all targets say into `known`, the dithers as the first block has them."""
    preferences, rig = context.preferences, context.rig
    known.put(
        "night_fall",
        "θ̇",
        "cooling of the air",
        fall_k_h(context),
        "K/h",
        "estimate (order of magnitude) over the night",
    )
    known.put("refocus_least", "t_r", "at least every", preferences.refocus_hours, "h", "assumed (Preferences)")
    planned = [(framing.target.name, block) for framing in rig.framings for block in framing.plan]
    # Without a plan, every two minutes or so: between longer subs always. Dravel's own.
    every = planned[0][1].dither_every if planned else dithered_every(rig.guide.sub_s)
    said = "after every sub" if every == 1 else f"after every {every} subs" if every else "no dither"
    pause = preferences.dither_s / every if every else 0.0
    known.put("dither_pause", "t₈", "dither and settling", pause, "s", said)
    often = known.get("refocus_every") or preferences.refocus_hours
    share = preferences.refocus_min / 60 / (often + preferences.refocus_min / 60)
    known.put(
        "refocus_share", "r", "refocusing time", share, "", f"{preferences.refocus_min:g} min every {often:.1f} h"
    )
    if preferences.sub_length == "fixed_habit":
        known.put("habit_sub", "t_h", "fixed sub length", preferences.habit_sub_s, "s", "assumed (Preferences)")
    else:
        known.lack("no fixed sub length in Preferences", "habit_sub")
    camera = context.light.camera
    known.put(
        "frame_mb",
        "M",
        "size of a frame",
        camera.used("frame_mb") if camera else None,
        "MB",
        camera.name if camera else "no camera",
    )
    if planned:
        lines = [(block, f"{name}, {block.filter or 'no filter'}") for name, block in planned]
        known.put_list("plan_counts", "n", "subs", "", [(block.count, said) for block, said in lines])
        known.put_list("plan_subs", "t", "length", "s", [(block.sub_s, said) for block, said in lines])
    else:
        known.lack("no exposure plan", "plan_counts", "plan_subs")


def _moon(known: Known, context: Context) -> None:
    """Put what the moon costs each shot of each target into `known`, those first that tell most of it."""
    own = context.of(Exposing)
    shots = sorted(own.shots, key=lambda item: own.hours(item.pixels, item.sub_s))
    lines = [
        (own.moon_cost(shot), f"{shot.framing.target.key}\n{shot.filter.name if shot.filter else ''}") for shot in shots
    ]
    if lines:
        known.put_list("moon_costs", "c", "moonlight factor", "×", lines)
    else:
        known.lack(own.lacks or "no target planned", "moon_costs")


FACTS = (FactSource(NAMES, _gather), FactSource(PLAN, _planned), FactSource(("moon_costs",), _moon))
