"""What Glass knows of a rig: telescope, correctors, sensor and seeing, which most figures begin with."""

from math import hypot

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.model import Part, Rig
from dravel.core.model.designs import LENSES
from dravel.core.model.rig import SOLVED
from dravel.core.model.words import Value, Words, text
from dravel.core.physics import optics
from dravel.core.train.light_path import LightPath, back_focus_of

NAMES = (
    "aperture", "native_focal_length", "tube_length", "expansion", "glass_drift", "factor", "corrector_circle", "native_circle",
    "back_focus", "pixel", "sensor_width", "sensor_height", "seeing", "airmass", "guiding", "short_frames", "defocus",
    "blur_axis", "blur_edge", "blur_spot", "corner_from_axis",
    "solved_focal_length", "solved_corrected", "magnification", "coma_height", "curved_height", "radius_share",
)  # fmt: skip
PLAIN_RADIUS_SHARE = 0.4  # of the focal length, where a design's own is not listed. Dravel's own order of magnitude.


def _gather(known: Known, context: Context) -> None:
    """Everything the figures start from."""
    rig, light, preferences = context.rig, context.light, context.preferences
    _telescope(known, light)
    _correctors(known, light)
    _camera(known, rig, light)
    _uncorrected(known, light)
    site = rig.site
    if site is not None and site.seeing_arcsec is not None:
        known.put("seeing", "s", "seeing", site.seeing_arcsec, "″", site.name)
    else:
        known.put("seeing", "s", "seeing", preferences.default_seeing_arcsec, "″", "Preferences (site: not specified)")
    known.put("airmass", "X", "airmass", preferences.assumed_airmass, "", "assumed (Preferences)")
    known.put("guiding", "RMS", "guiding RMS per axis", preferences.guiding_rms_arcsec, "″", "assumed (Preferences)")
    if rig.purposes and set(rig.purposes) <= {"planetary"}:
        known.put(
            "short_frames", "RMS", "guiding RMS per axis", 0.0, "″", "planetary: frames too short for tracking error"
        )
    elif rig.mount is None and rig.stands_still:
        known.put("short_frames", "RMS", "guiding RMS per axis", 0.0, "″", "fixed tripod: trailing counted separately")
    else:
        known.lack("subs long enough for tracking error", "short_frames")
    known.put("defocus", "d", "defocus", 0.0, "″", "assumed in focus")
    solved = rig.measured_focal_length_mm
    if solved is not None and SOLVED.takes(solved.value):
        known.put("solved_focal_length", "f′", "measured focal length", solved.value, "mm", _reading(solved.instrument))
        if light.correctors:
            known.put(
                "solved_corrected", "f′", "measured focal length", solved.value, "mm", _reading(solved.instrument)
            )


def _reading(instrument: str) -> Words:
    return text("measured ({instrument})", instrument=instrument) if instrument else "measured"


def _from_part(known: Known, part: Part, name: str, symbol: str, title: str, unit: str, field: str) -> None:
    measured = part.reading(field)
    origin = f"{part.name}, {_reading(measured.instrument)}" if measured else part.name
    known.put(name, symbol, title, part.used(field), unit, origin)


def _telescope(known: Known, light: LightPath) -> None:
    telescope = light.telescope
    if telescope is None:
        known.lack(
            "no telescope or lens in the light path",
            "aperture",
            "native_focal_length",
            "tube_length",
            "expansion",
            "glass_drift",
        )
        return
    alpha = optics.EXPANSION_UM_PER_M_K[telescope.tube_material]
    known.put("expansion", "α", "expansion", alpha, "µm/m/K", telescope.tube_material)
    lenses = telescope.design in LENSES
    focal = telescope.used("focal_length_mm")
    glass = None if focal is None else optics.glass_drift_um_per_k(focal, lenses)
    known.put("glass_drift", "g", "focus drift of glass", glass, "µm/K", "lenses" if lenses else "mirrors")
    _from_part(known, telescope, "aperture", "D", "aperture", "mm", "aperture_mm")
    _from_part(known, telescope, "native_focal_length", "f₀", "native focal length", "mm", "focal_length_mm")
    _from_part(known, telescope, "tube_length", "L", "tube length", "mm", "tube_length_mm")
    primary = optics.primary_ratio(telescope.design, telescope.used("primary_ratio"))
    focal, aperture = telescope.used("focal_length_mm") or 0.0, telescope.used("aperture_mm") or 1.0
    if primary is None:
        known.lack("no secondary mirror magnifies", "magnification")
    else:
        own = (
            "main mirror"
            if telescope.primary_ratio
            else text("main mirror f/{primary}, typical for the design", primary=Value(primary))
        )
        magnified = max(focal / aperture / primary, 1.0)
        known.put(
            "magnification",
            "M",
            "magnification of the secondary",
            magnified,
            "×",
            text("{telescope} over {own}", telescope=telescope.name, own=own),
        )


def _correctors(known: Known, light: LightPath) -> None:
    names = ", ".join(part.name for part in light.correctors) or "no corrector"
    known.put("factor", "m", "factor of the correctors", light.factor, "×", names)
    own = light.correctors[-1].used("image_circle_mm") if light.correctors else None
    if own is not None and light.telescope is not None:
        known.put("corrector_circle", "c", "image circle", own, "mm", light.correctors[-1].name)
    if light.telescope is None:
        known.lack("no telescope or lens in the light path", "native_circle")
    else:
        circle = light.telescope.used("image_circle_mm")
        known.put("native_circle", "c₀", "image circle", circle, "mm", light.telescope.name)
    if not light.correctors:
        known.lack("no corrector in the light path", "back_focus")
    else:
        last, telescope = light.correctors[-1], light.telescope
        distance = back_focus_of(last, telescope.used("focal_length_mm") if telescope else None)
        known.put("back_focus", "d", "back focus", distance, "mm", last.name)


def _camera(known: Known, rig: Rig, light: LightPath) -> None:
    camera = light.camera
    if camera is None:
        known.lack("no camera in the light path", "pixel", "sensor_width", "sensor_height")
        return
    sensor = camera.sensor
    origin = (
        text("{camera}, binned {binning}×{binning}", camera=camera.name, binning=rig.binning)
        if rig.binning > 1
        else camera.name
    )
    known.put("pixel", "p", "pixel size", sensor.pixel_um * rig.binning, "µm", origin)
    known.put("sensor_width", "w", "sensor width", sensor.width_mm, "mm", camera.name)
    known.put("sensor_height", "h", "sensor height", sensor.height_mm, "mm", camera.name)


def _uncorrected(known: Known, light: LightPath) -> None:
    """The corner of the field: of a design that wants a corrector and has none of its kind, and of all others."""
    telescope, camera = light.telescope, light.camera
    bare, corrected = ("coma_height", "curved_height", "radius_share"), ("blur_axis", "blur_edge", "blur_spot")
    if telescope is None or camera is None:
        known.lack("no telescope or no camera in the light path", *bare, *corrected, "corner_from_axis")
        return
    height = hypot(camera.sensor.width_mm, camera.sensor.height_mm) / 2
    known.put("corner_from_axis", "h", "corner from the axis", height, "mm", camera.name)
    if not telescope.needs_corrector or light.flattens:
        known.lack("field corrected, or no corrector needed", *bare)
        last = light.correctors[-1] if light.correctors else telescope
        known.put("blur_spot", "s", "spot at the edge of the circle", last.used("spot_um"), "µm", last.name)
        axis, edge = optics.RESIDUAL_UM[telescope.design]
        whose = text("{x}, estimate (order of magnitude)", x=telescope.design.replace("_", " "))
        known.put("blur_axis", "a", "blur on the axis at f/5", axis, "µm", whose)
        known.put("blur_edge", "e", "blur at the edge of the circle at f/5", edge, "µm", whose)
        return
    known.lack("field not corrected", *corrected)
    name = "coma_height" if telescope.design == "newtonian" else "curved_height"
    known.put(name, "h", "corner from the axis", height, "mm", camera.name)
    share = optics.CURVATURE_RADIUS_SHARE.get(telescope.design, PLAIN_RADIUS_SHARE)
    known.put(
        "radius_share",
        "r",
        "field radius, share of the focal length",
        share,
        "",
        text("{design}, approximate", design=telescope.design),
    )


FACTS = FactSource(NAMES, _gather)
