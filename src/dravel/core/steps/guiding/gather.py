"""Guide values put where figures and rules find them, or why they are not known."""

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.engine.step import FactSource
from dravel.core.model.words import Value, text
from dravel.core.steps.guiding.facts import OWN_ORDER, TURN_ALTITUDE_DEG, Guiding, Setup

NAMES = (
    "guide_pixel", "guide_focal", "guide_area", "guide_fwhm", "guide_exposure", "guide_sky", "guide_efficiency",
    "guide_noise", "guide_through", "guide_extinction", "patch_width", "patch_height", "galactic_latitude",
    "error_terms", "periodic", "worm", "polar", "sub", "sub_min", "flexure", "declination", "corner_angle", "sky_rate",
    "undriven", "turn_rate", "free_sub",
)  # fmt: skip


_OF_A_SETUP = (*NAMES[:13], "flexure")


def _gather(known: Known, context: Context) -> None:
    """Put the guide values into `known`, or why they are not known."""
    guiding = context.of(Guiding)
    rig, mount = guiding.rig, guiding.rig.mount
    known.put("sub", "t", "planned sub", rig.guide.sub_s, "s", "plan")
    known.put(
        "polar", "E", "polar alignment error", guiding.preferences.polar_error_arcmin, "′", "assumed (Preferences)"
    )
    turned, whose = guiding.nearest_pole
    if guiding.turn_rate:
        known.lack("alt-azimuth mount without polar axis", "declination")
        known.put("turn_rate", "ω", "field rotation", guiding.turn_rate, "″/s",
                  text("alt-azimuth, at {TURN_ALTITUDE_DEG} altitude, where it is fastest", TURN_ALTITUDE_DEG=Value(TURN_ALTITUDE_DEG, '°')))  # fmt: skip
    elif mount is None or rig.stands_still:
        why = "the rig has no mount" if mount is None else "no tracking"
        known.lack(why, "declination", "turn_rate")
    else:
        known.lack("the mount has a polar axis", "turn_rate")
        known.put(
            "declination",
            "δ₀",
            "target's declination",
            turned,
            "°",
            text("{whose}, where field rotation is largest", whose=whose),
        )
    known.put("sub_min", "t′", "planned sub", rig.guide.sub_s / 60, "min", "plan")
    corner = guiding.corner_deg(rig.guide.method)
    if corner is None:
        known.lack("field of view unknown", "corner_angle")
    else:
        known.put("corner_angle", "A", "corner from the guide star", corner, "°", "sensor diagonal")
    if mount is None:
        known.lack("the rig has no mount", "periodic", "worm", "error_terms")
    else:
        for name, symbol, title, field, unit in (
            ("periodic", "PE", "periodic error, peak to peak", "periodic_error_arcsec", "″"),
            ("worm", "T", "worm period", "worm_period_s", "s"),
        ):
            known.put(name, symbol, title, mount.used(field), unit, mount.name)
    if guiding.sky_rate:
        known.put(
            "sky_rate", "σ₀", "sky over an undriven sensor", guiding.sky_rate, "″/s", "target nearest the equator"
        )
    else:
        known.lack("an axis is driven", "sky_rate")
    answer = (
        "no axis driven" if guiding.sky_rate else "declination not driven" if guiding.undriven_rate else "both driven"
    )
    if mount is not None:
        known.put("undriven", "σ", "drift of an undriven axis", guiding.undriven_rate, "″/s", answer)
    else:
        known.lack("the rig has no mount", "undriven")
    setup, why = guiding.setup
    if mount is not None and (guiding.corrected(setup) is None or mount.driven_axes < 2):
        known.put("free_sub", "t₀", "planned sub, uncorrected", rig.guide.sub_s, "s", "plan")
    else:
        known.lack("both axes are guided" if mount else "the rig has no mount", "free_sub")
    if setup is not None:
        _setup(known, guiding, setup)
    else:
        known.lack(why, *_OF_A_SETUP)
    if mount is not None and (setup is None or "guide_fwhm" in known):
        terms = guiding.terms(setup)
        if terms:
            known.put_list(
                "error_terms", "τ", "RMS", "″", [(value, f"{name}: {words}") for name, value, words in terms]
            )
        else:
            known.lack(text("{mount}: periodic error not specified", mount=mount.name), "error_terms")


def _setup(known: Known, guiding: Guiding, setup: Setup) -> None:
    camera = setup.camera
    known.put("guide_pixel", "p₂", "guide pixel", camera.sensor.pixel_um, "µm", camera.name)
    known.put("guide_focal", "f₂", "guide focal length", setup.focal_length_mm, "mm", setup.scope)
    known.put(
        "flexure", "φ₂", "flexure", setup.flexure_arcsec_h, "″/h", text("{OWN_ORDER}, by mounting", OWN_ORDER=OWN_ORDER)
    )
    known.put("patch_width", "w₂", "guide field width", setup.patch_deg[0], "°", setup.scope)
    known.put("patch_height", "h₂", "guide field height", setup.patch_deg[1], "°", setup.scope)
    latitude, who = guiding.latitude
    known.put("galactic_latitude", "b", "galactic latitude", latitude, "°", who)
    known.put("guide_area", "a₂", "area that gathers light", setup.area_mm2, "mm²", setup.scope)
    if "seeing_at_airmass" not in known:
        known.lack("seeing unknown", "guide_fwhm")
        return
    eye = guiding.eye(setup)
    known.put(
        "guide_fwhm",
        "F₂",
        "star's FWHM",
        eye.fwhm_arcsec,
        "″",
        "seeing, guide pixel, diffraction and the optics' own blur",
    )
    known.put("guide_exposure", "t₂", "guide exposure", eye.exposure_s, "s", "plan")
    known.put(
        "guide_sky",
        "B₂",
        "sky",
        eye.sky_mag_arcsec2,
        "mag/arcsec²",
        guiding.rig.site.name if guiding.rig.site else "a typical one",
    )
    known.put("guide_efficiency", "q₂", "quantum efficiency", eye.efficiency, "", camera.name)
    known.put("guide_noise", "R₂", "read noise", eye.read_noise_e, "e⁻", camera.name)
    known.put(
        "guide_through", "τ₂", "light that passes", eye.through, "", f"{setup.method.replace('_', ' ')}; {OWN_ORDER}"
    )
    known.put("guide_extinction", "k₂", "extinction", eye.extinction_mag, "mag", "Preferences, at the assumed airmass")


FACTS = FactSource(NAMES, _gather)
