"""Cards from power to the first sub: cool, home, pole, focus, target, frame, angle, calibration, and what must be off."""

from collections.abc import Iterator

import numpy as np

from dravel.core.engine.context import Context
from dravel.core.model import Mount, Rider
from dravel.core.model.words import Value, text
from dravel.core.physics import dew
from dravel.core.physics.energy import COOL_K_MIN
from dravel.core.sky.night import horizon_at
from dravel.core.steps.assembly.order import Card
from dravel.core.train.layout import part_key

COLLIMATED = ("newtonian", "ritchey_chretien", "maksutov_newtonian", "schmidt_cassegrain")
SHORT_METHODS = {"camera": "by the camera", "polar_scope": "by the polar scope", "drift": "by drift"}
METHODS = {
    "camera": "by the camera: three frames, a turn of the axis between, then the bolts until the error is small",
    "polar_scope": "by the polar scope: the pole star at its clock place on the reticle",
    "drift": "by drift: a star near the meridian, then one low in the east, the bolts until neither drifts",
}


def pole_is_free(context: Context) -> bool | None:
    """Whether the celestial pole stands over the site's own horizon; None without a site."""
    site = context.rig.site
    if site is None:
        return None
    towards = 0.0 if site.latitude_deg >= 0 else 180.0
    return abs(site.latitude_deg) > float(horizon_at(site, np.array([towards]))[0]) and abs(site.latitude_deg) > 5


def polar_method(context: Context) -> str:
    """How the rig is aligned to the pole: as its owner chose, else what the rig and the site allow."""
    chosen = context.rig.build.polar
    if chosen is not None:
        return chosen
    if pole_is_free(context) is False:
        return "drift"
    mount = context.rig.mount
    # Solving a frame takes a computer.
    solves = has_computer(context) and (mount is None or mount.style != "tracker")
    return "camera" if solves else "polar_scope"


def has_computer(context: Context) -> bool:
    """Whether a computer is on the rig or beside it."""
    rig = context.rig
    riders = any(isinstance(p.part, Rider) and p.part.function == "controller" for p in rig.riders)
    return riders or any(part.function == "computer" for part in rig.extras)


def start_cards(context: Context) -> Iterator[Card]:
    """From power on to the start; none for what the rig does not have."""
    rig, camera = context.rig, context.light.camera
    if context.light.telescope is None:
        return
    built = (
        "telescope", "train_on", "guide_camera", "cables", "supply", "caps", "drawtube", "balance_ra", "balance_dec",
        "balance_again", "balance_altitude", "dew_shield", "mirror", "body", "lift",
    )  # fmt: skip
    yield from _body(context)
    powered = rig.supply.source is not None
    if powered:
        yield Card("power", "Power on", "Mount first, then camera and the rest.", 60, built, check="no red lamp", minutes=1,
                   off="Power off, once parked and warmed.")  # fmt: skip
    if camera is not None and camera.used("cooling_delta_k"):
        set_c = rig.set_point_c(context.preferences)
        warm = context.value("air") + dew.FALL_K if "air" in context.known else set_c
        yield Card(
            "cool", text('Cool the camera to {set_c}', set_c=Value(set_c, '°C', 0)), "It cools while the rest goes on.", 61, ("power", *built),
            check="holds, below nine tenths of its power", minutes=1,
            off=text('Warm the camera up, {x} min, before power goes.', x=max(1, round((warm - set_c) / COOL_K_MIN))),
        )  # fmt: skip
    mount = rig.mount
    moves = mount is not None and mount.driven_axes > 0
    ready = ("power", *built)
    if mount is not None and moves and mount.goto:
        yield Card("home", "Home position", _home(mount), 62, ready, check="as marked on both axes",
                   minutes=0.5, off="Park the mount.")  # fmt: skip
    if mount is not None and moves and mount.style != "alt_azimuth":
        tolerance = context.known.get("guiding.polar_tolerance_arcmin")
        within = text(
            "within {polar_error_arcmin} (assumed)",
            polar_error_arcmin=Value(context.preferences.polar_error_arcmin, "′"),
        )
        if tolerance is not None:
            within += (
                text("; stars trail from {tolerance} on", tolerance=Value(tolerance, "′", 0))
                if tolerance >= 1
                else text("; stars trail from {tolerance} on", tolerance=Value(tolerance, "′", 1))
            )
        method = polar_method(context)
        if method == "camera":
            yield Card(
                "rough_focus", "Rough focus", "Small round stars on a short frame, enough for a plate solve.", 62.5,
                ("home", *ready), place="under the sky", check="a test frame solves", minutes=2,
            )  # fmt: skip
        yield Card(
            "polar", "Polar alignment", f"{METHODS[method][0].upper()}{METHODS[method][1:]}.", 63,
            ("rough_focus", "home", *ready),
            place="under the sky", tool="hex key, or the bolts by hand", check=within,
            caution="Reticle light off afterwards." if method == "polar_scope" else "", minutes=8,
        )  # fmt: skip
    aligned: tuple[str, ...] = ("polar", "home", *ready)
    telescope = context.light.telescope
    if telescope.design in COLLIMATED:
        yield Card(
            "collimate", "Check the collimation", "A bright star near the zenith, slightly defocused: rings concentric. Often lost after transport.", 63.5, aligned, place="under the sky", tool="hex key, screwdriver",
            check="rings concentric, in the middle of the field", minutes=5,
        )  # fmt: skip
        aligned = ("collimate", *aligned)
    motor = any(isinstance(p.part, Rider) and p.part.function == "focus_motor" for p in rig.riders)
    how = "Mask on, a bright star, then the motor's own run." if motor else "Mask on, a bright star, the knob by hand."
    yield Card("focus", "Focus", how, 64, aligned, place="under the sky", check="the middle spike is central; mask off",
               minutes=4)  # fmt: skip
    if rig.guide.method == "guide_scope":
        yield Card(
            "guide_focus", "Focus the guide scope", "Its own camera on a field of stars, then locked.", 64.5,
            ("guide_camera", "focus", *aligned), place="under the sky", check="small stars, none of them white", minutes=2,
        )  # fmt: skip
    if rig.framings:
        name = rig.framings[0].target.name
        yield Card(
            "find",
            text("Find {name}", name=name),
            _finding(context),
            65,
            ("focus", *aligned),
            place="under the sky",
            minutes=4,
        )
        yield Card("frame", "A short test frame", "Ten seconds at a high gain.", 66, ("find",), place="under the sky",
                   check="target where the planned field has it", minutes=1)  # fmt: skip
        if mount is not None and moves and mount.style == "tracker":
            yield Card(
                "polar_again", "Recheck polar alignment", "Pointing the ball head has pushed the tracker: check, and "
                "set the bolts again.", 66.5, ("find", "frame"), place="under the sky", check="as before",
                minutes=2,
            )  # fmt: skip
        if camera is not None:
            yield Card(
                "angle", "Turn the camera to its angle", "With the rotator, or loosen one connection.", 67, ("frame",),
                mark=text('position angle {position_angle_deg}', position_angle_deg=Value(rig.framings[0].position_angle_deg, '°', 0)), check="another test frame agrees", minutes=2,
            )  # fmt: skip
    if rig.guide.method != "none" and mount is not None and mount.guide_input != "none" and moves:
        yield Card(
            "calibrate", "Calibrate guiding", "Near the meridian, at a low declination; then back to the target.", 68,
            ("focus", "guide_focus", "find", "angle", *aligned), place="under the sky", check="both axes at right angles", minutes=4,
        )  # fmt: skip
    yield Card(
        "open", "Caps, mask and lights off", "Cap, mask and reticle light off, dew heaters warm, screens red.", 70,
        ("focus", "guide_focus", "frame", "angle", "polar_again", "calibrate", *aligned), minutes=0.5,
    )  # fmt: skip
    yield Card("start", "Start", "Take the first sub and check it before leaving.", 71, ("open",), minutes=2,
               off="Flats, before camera, focus or anything in the light is touched.")  # fmt: skip


def _body(context: Context) -> Iterator[Card]:
    """What a body wants before it is out of reach."""
    camera = context.light.camera
    if camera is None or camera.driven_by != "release":
        return
    lens = context.light.telescope
    still = " Stabiliser and autofocus of the lens off." if lens is not None and lens.design == "camera_lens" else ""
    yield Card(
        "body", "Set the body up", text('Empty card and full battery in; manual, bulb, raw; stabiliser of the sensor and noise reduction for long exposures off; release plugged in.{still}', still=still), 45, ("train_on", "telescope"),
        check="one frame is written to the card", minutes=3, parts=(part_key(camera),), off="Release unplugged, card out.",
    )  # fmt: skip


def _home(mount: Mount) -> str:
    if mount.style == "alt_azimuth":
        return "Base level, tube level and to the north, as its maker says."
    return "Shaft down, tube to the pole." if mount.shaft is not None else "Tube to the pole."


def _finding(context: Context) -> str:
    mount = context.rig.mount
    brains = has_computer(context)
    if mount is not None and mount.goto:
        return "Slew, plate solve, centre." if brains else "Slew; align on three stars, then to the target."
    return "Star-hop with the chart."
