"""A rig: one light path from the sky to the sensor, and what it is for."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dravel.core.model.base import Model, Name, Note, Quantity
from dravel.core.model.parts import Filter, Measurement, PathPart
from dravel.core.model.practice import RigPractice
from dravel.core.model.sky import Site, Target

Purpose = Literal["wide_field", "nebula", "galaxy", "cluster", "planetary", "untracked"]


class PathItem(Model):
    """A part at its place in the light path, with the filters a holder carries and the one in use."""

    part: PathPart
    filters: Annotated[tuple[Filter, ...], Field(max_length=20)] = ()
    in_use: Annotated[int | None, Quantity("Filter in use", "", 0, 19)] = None
    set_length_mm: Annotated[float | None, Quantity("Set length", "mm", 0, 2000)] = None

    @model_validator(mode="after")
    def _filter_in_use_exists(self) -> "PathItem":
        if self.in_use is not None and self.in_use >= len(self.filters):
            raise ValueError("in_use: names a filter that the holder does not carry")
        return self


class Framing(Model):
    """How a target is framed.

    The position angle is that of the sensor's long side (its width), from north through east: 90° is landscape.
    Columns run along the width of the sensor, rows along its height.
    """

    target: Target
    centre_ra_deg: Annotated[float, Quantity("Frame centre, right ascension", "°", 0, 360)]
    centre_dec_deg: Annotated[float, Quantity("Frame centre, declination", "°", -90, 90)]
    position_angle_deg: Annotated[float, Quantity("Position angle", "°", 0, 360)] = 90
    columns: Annotated[int, Quantity("Mosaic columns", "", 1, 30)] = 1
    rows: Annotated[int, Quantity("Mosaic rows", "", 1, 30)] = 1
    overlap: Annotated[float, Quantity("Mosaic overlap", "", 0, 0.5)] = 0.12


class Rig(Model):
    """A whole rig, self-contained: its parts, site and targets stand in it as they were when it was saved."""

    name: Name
    summary: Annotated[str, Field(title="Summary", max_length=200)] = ""
    purposes: Annotated[tuple[Purpose, ...], Field(title="Purposes", max_length=6)] = ()
    path: Annotated[tuple[PathItem, ...], Field(title="Light path", max_length=60)] = ()
    binning: Annotated[int, Quantity("Binning", "×", 1, 8)] = 1
    framings: Annotated[tuple[Framing, ...], Field(title="Targets", max_length=200)] = ()
    site: Site | None = None
    practice: RigPractice = RigPractice()
    measured_focal_length_mm: Annotated[Measurement | None, Field(title="Focal length from a solved frame, mm")] = None
    notes: Note = ""

    @model_validator(mode="after")
    def _one_telescope_one_camera(self) -> "Rig":
        for kind in ("telescope", "camera"):
            count = sum(item.part.kind == kind for item in self.path)
            if count > 1:
                raise ValueError(f"path: holds {count} parts of kind {kind}; a light path has one")
        return self
