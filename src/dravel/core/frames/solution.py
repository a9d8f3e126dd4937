"""Where a frame points, as its own stars say."""

from dravel.core.model.base import Model


class Solution(Model):
    """A frame's place on the sky: the pixel scale in ″, the angle and the centre as a header's WCS has them; how many of the
    catalogue's stars in the field were met, by how many pixels they miss (median), and log10 of the chance of so many by accident.
    """

    scale_arcsec: float
    rotation_deg: float
    mirrored: bool
    centre_ra_deg: float
    centre_dec_deg: float
    matched: int
    listed: int
    miss_px: float
    chance_log10: float
