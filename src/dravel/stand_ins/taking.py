"""Frames of a rig by the stand-in camera: what the rig's own figures say of light and pixels, and a FITS file with the truth in it."""

from pathlib import Path

from dravel.core.engine.context import Context
from dravel.core.model.rig import Framing
from dravel.core.physics import photometry as photo
from dravel.core.steps.exposure.facts import Exposing
from dravel.stand_ins.picture import Picture, PictureRig

PLAIN_WELL_E, PLAIN_NOISE_E = 40_000.0, 3.0


class NoCamera(ValueError):
    """The rig cannot take a picture, and why."""


def picture_rig(context: Context) -> PictureRig:
    """What a picture needs of a rig. Raises `NoCamera` where it has no light path from sky to sensor."""
    own, known = context.of(Exposing), context.known
    camera = context.light.camera
    scale, ratio, pixel = known.get("pixel_scale"), known.get("focal_ratio"), known.get("pixel")
    if own.lacks or own.collector is None or camera is None or scale is None or ratio is None or pixel is None:
        raise NoCamera(own.lacks or "it has no telescope and camera that make a picture")
    collector, binning = own.collector, max(1, context.rig.binning)
    star = photo.star_rate(0.0, collector.area_m2, collector.widest_nm(own.filter), collector.quantum)
    sky = known.get("sky_e")
    well = own.well or PLAIN_WELL_E
    return PictureRig(
        width=camera.sensor.width_px // binning, height=camera.sensor.height_px // binning, pixel_um=pixel, ratio=ratio,
        scale_arcsec=scale, star_e_s=star, sky_e_s=sky if sky is not None else 1.0, dark_e_s=known.get("dark_e") or 0.0,
        read_noise_e=collector.read_noise_e or PLAIN_NOISE_E, well_e=well, gain_e_adu=max(well / 62_000, 0.05),
        mosaic=camera.sensor.colour == "one_shot",
        corner_light=min(max(known.get("corner_light") or 1.0, 0.0), 1.0),
        obstruction=context.light.telescope.blocked_share if context.light.telescope else 0.0,
    )  # fmt: skip


def framed(context: Context, target: str) -> Framing:
    """One of a rig's framings by its target's name, the first without one. Raises `NoCamera`."""
    named = target.casefold()
    framing = next((item for item in context.rig.framings if named in item.target.name.casefold()), None)
    if framing is None:
        raise NoCamera(f"the rig has no target '{target}'" if target else "the rig has no target to point at")
    return framing


def write(picture: Picture, path: Path, **more: str | float) -> None:
    """A frame as FITS, 16 bit with BZERO, the truth in its header (`SIM…`)."""
    from astropy.io import fits  # here: only what writes frames pays for it

    made = fits.PrimaryHDU(picture.adu)
    for key, value in {**picture.header, **more}.items():
        made.header[key] = value
    made.writeto(path, overwrite=True, output_verify="exception")
