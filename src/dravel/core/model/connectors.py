"""The two ends of a part, the table of sizes, and whether two ends mate."""

from typing import Annotated, Literal

from pydantic import Field

from dravel.core.model.base import Model, Quantity

Family = Literal["thread", "bayonet", "clamp", "flange", "glued"]
Gender = Literal["male", "female", "lens", "body", "tube", "socket"]

OPPOSITE: dict[str, str] = {
    "male": "female",
    "female": "male",
    "lens": "body",
    "body": "lens",
    "tube": "socket",
    "socket": "tube",
}


class Connector(Model):
    """One end of a part."""

    family: Family
    size: Annotated[str, Field(title="Size", min_length=1, max_length=40)]
    gender: Gender
    clear_aperture_mm: Annotated[float | None, Quantity("Clear aperture", "mm", 5, 400)] = None


class ConnectorSize(Model):
    """A row of the connector table."""

    size: str
    family: Family
    nominal_mm: float
    clear_mm: float
    flange_distance_mm: float | None = None
    note: str = ""


def _thread(size: str, nominal: float, clear: float, note: str = "") -> ConnectorSize:
    return ConnectorSize(size=size, family="thread", nominal_mm=nominal, clear_mm=clear, note=note)


def _bayonet(size: str, flange: float, nominal: float, clear: float) -> ConnectorSize:
    return ConnectorSize(size=size, family="bayonet", nominal_mm=nominal, clear_mm=clear, flange_distance_mm=flange)


# Nominal diameters follow from the designations; the clear apertures are common practice.
CONNECTOR_SIZES: dict[str, ConnectorSize] = {
    row.size: row
    for row in (
        _thread("M28.5x0.6", 28.5, 26.0, "1.25-inch filter"),
        _thread("M42x0.75", 42.0, 38.5, "T thread"),
        _thread("M48x0.75", 48.0, 45.0, "2-inch filter"),
        _thread("M54x0.75", 54.0, 50.5),
        _thread("M63x1", 63.0, 59.0),
        _thread("M68x1", 68.0, 64.0),
        _thread("2in-24tpi", 50.8, 46.0, "rear cell of many mirror telescopes"),
        ConnectorSize(size="1.25in", family="clamp", nominal_mm=31.75, clear_mm=27.0),
        ConnectorSize(size="2in", family="clamp", nominal_mm=50.8, clear_mm=46.0),
        _bayonet("dslr-44.0", 44.0, 54.0, 47.0),
        _bayonet("dslr-46.5", 46.5, 47.0, 42.0),
        _bayonet("mirrorless-16", 16.0, 55.0, 49.0),
        _bayonet("mirrorless-18", 18.0, 46.0, 42.0),
        _bayonet("mirrorless-20", 20.0, 54.0, 48.0),
    )
}


def mates(one: Connector | None, other: Connector | None) -> bool:
    """Whether two ends go together: same family and size, opposite gender. A glued or unknown end never mates."""
    if one is None or other is None or one.family == "glued":
        return False
    return (one.family, one.size) == (other.family, other.size) and OPPOSITE[one.gender] == other.gender
