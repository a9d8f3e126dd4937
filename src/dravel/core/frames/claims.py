"""What a frame's header says of it."""

from dravel.core.model.base import Model


class FrameClaims(Model):
    """What a header says, nothing of it believed yet; None or empty where it says nothing."""

    exposure_s: float | None = None
    gain: float | None = None
    electrons_adu: float | None = None
    set_c: float | None = None
    sensor_c: float | None = None
    pixel_um: float | None = None
    focal_mm: float | None = None
    binning: float | None = None
    offset_adu: float | None = None
    filter: str = ""
    target: str = ""
    camera: str = ""
    at: str = ""
    mosaic: str = ""
    simulated: bool = False
    scale_arcsec: float | None = None
    rotation_deg: float | None = None
    centre_ra_deg: float | None = None
    centre_dec_deg: float | None = None
    near_ra_deg: float | None = None  # where the mount believed to point
    near_dec_deg: float | None = None
    focus: float | None = None
