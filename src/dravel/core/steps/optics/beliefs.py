"""What is often believed of sensors and reducers, and what a rig's own numbers say of it."""

from collections.abc import Iterator
from math import hypot

from dravel.core.engine.context import Context
from dravel.core.model import Belief, Camera
from dravel.core.model.words import Value, Words, joined, text
from dravel.core.physics.optics import field_deg

WHOLE_FRAME_MM = (36.0, 24.0)
SMALLER = 0.9  # of that frame's diagonal: below it people speak of a crop. Dravel's own convention
SAME_SIZE, FINER_AREA = 0.05, 0.9  # sensors alike within a twentieth; pixels of less than nine tenths of the area


def beliefs(context: Context) -> Iterator[Belief]:
    """Three beliefs about Glass, where the rig gives cause and numbers."""
    known = context.known
    focal, scale, field = known.get("focal_length"), known.get("pixel_scale"), context.field_deg
    if focal is None or scale is None or field is None:
        return
    sensor = hypot(known.value("sensor_width"), known.value("sensor_height"))
    if sensor < SMALLER * hypot(*WHOLE_FRAME_MM):
        wide, high = (field_deg(side, focal) for side in WHOLE_FRAME_MM)
        words = text(
            "It narrows the field: {field} × {field_2} here, {wide} × {high} on 36 × 24 mm. The focal length stays {focal}; the scale {scale} depends on the pixel.",
            field=Value(field[0], "°", 2),
            field_2=Value(field[1], "°", 2),
            wide=Value(wide, "°", 2),
            high=Value(high, "°", 2),
            focal=Value(focal, "mm", 0),
            scale=Value(scale, "″/px", 2),
        )
        yield Belief(
            key="smaller_sensor", step="optics", belief="A smaller sensor multiplies the focal length.", words=words
        )
    correctors, telescope = context.light.correctors, context.light.telescope
    if not correctors or telescope is None:
        return
    gain, native = known.get("optics.per_pixel_gain"), telescope.used("focal_length_mm") or 0.0
    if gain is not None and gain > 1.02 and native:
        words = text(
            "The aperture stays {aperture}. Each pixel covers {gain} as much sky, so a nebula reaches the same signal per pixel in {x} of the time, at {scale} instead of {scale_2}.",
            aperture=known.shown("aperture"),
            gain=Value(gain, "×", 2),
            x=Value(1 / gain, form="share"),
            scale=Value(scale, "″/px", 2),
            scale_2=Value(scale * focal / native, "″/px", 2),
        )
        yield Belief(key="reducer_collects", step="optics", belief="A reducer collects more light.", words=words)
    given, now, last = context.light.factor, known.get("spaced_factor"), correctors[-1]
    apart = known.get("back_focus")
    if now is not None and apart and len(correctors) == 1 and abs(given - 1) > 0.005:
        solved = known.get("solved_corrected")
        words = text(
            "The {last} has ×{given} at its specified back focus and ×{now} here; 1 mm longer {which} {x}.{solved}",
            last=last.name,
            given=Value(given, digits=3),
            now=Value(now, digits=3),
            which="takes" if given < 1 else "adds",
            x=Value(abs(1 - given) / apart, digits=4),
            solved=text(" The plate solve gives ×{solved}.", solved=Value(solved / native, digits=3))
            if solved is not None and native
            else text(" A plate solve gives the true factor."),
        )
        yield Belief(key="exact_factor", step="optics", belief="The factor is exact.", words=words)


def same_sensor(before: Context, after: Context) -> Belief | None:
    """Another camera with a sensor as large as the one before: what changes all the same. None where it is not so."""
    old, new = before.light.camera, after.light.camera
    if old is None or new is None or old is new or "same_sensor" in before.preferences.beliefs_put_away:
        return None
    if abs(_diagonal(new) / _diagonal(old) - 1) > SAME_SIZE:
        return None
    phrases: list[Words] = []
    share = (new.sensor.pixel_um / old.sensor.pixel_um) ** 2
    if share < FINER_AREA:
        phrases.append(
            text(
                "its pixels have {share} of the area{before}",
                share=Value(share, form="share"),
                before=_corners(before, after),
            )
        )
    heavier = (new.used("mass_g") or 0.0) - (old.used("mass_g") or 0.0)
    if new.used("mass_g") and old.used("mass_g") and heavier > 0:
        phrases.append(text("it adds {heavier} to the focuser", heavier=Value(heavier, "g", 0)))
    if not phrases:
        return None
    belief = "Same sensor size, so nothing changes."
    return Belief(
        key="same_sensor", step="optics", belief=belief, words=text("But {told}.", told=joined(" and ", phrases))
    )


def _corners(before: Context, after: Context) -> Words:
    was, now = (context.known.get("corner_blur_px") for context in (before, after))
    return (
        text(", and show {now} of corner blur where it was {was}", now=Value(now, "px", 1), was=Value(was, digits=1))
        if was is not None and now is not None
        else ""
    )


def _diagonal(camera: Camera) -> float:
    return hypot(camera.sensor.width_mm, camera.sensor.height_mm)
