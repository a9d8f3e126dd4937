"""The two ends of a part, the table of sizes, and whether two ends mate."""

import re
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field, model_validator

from dravel.core.model.base import Document, Quantity

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


def known_size(typed: object) -> object:
    """A size as the table writes it, where it is one of the table's: ``m 63 × 1`` and ``M63`` are ``M63x1``.

    A metric thread without its pitch is completed where the table has one pitch of that diameter. Anything else stays.
    """
    if not isinstance(typed, str) or typed in CONNECTOR_SIZES:
        return typed
    plain = typed.replace("×", "x").replace(",", ".").replace(" ", "").lower()
    alike = [size for size in CONNECTOR_SIZES if size.replace(" ", "").lower() == plain]
    begun = [size for size in CONNECTOR_SIZES if METRIC.match(plain) and size.lower().startswith(f"{plain}x")]
    result = alike or begun
    return result[0] if len(result) == 1 else typed


METRIC = re.compile(r"m\d+(\.\d+)?$")


class Connector(Document):
    """One end of a part. A size typed short or loosely is completed from the table."""

    family: Family
    size: Annotated[str, BeforeValidator(known_size), Field(title="Size", min_length=1, max_length=40)]
    gender: Gender
    clear_aperture_mm: Annotated[float | None, Quantity("Clear aperture", "mm", 5, 400)] = None


class ConnectorSize(Document):
    """A row of the connector table. The clear aperture is not wider than the size itself."""

    size: Annotated[str, Field(title="Size", min_length=1, max_length=40, pattern=r"\S")]
    family: Family
    nominal_mm: Annotated[float, Quantity("Nominal diameter", "mm", 5, 500)]
    clear_mm: Annotated[float, Quantity("Usual clear aperture", "mm", 3, 500)]
    flange_distance_mm: Annotated[float | None, Quantity("Flange distance", "mm", 1, 200)] = None
    note: Annotated[str, Field(title="Note", max_length=200)] = ""

    @model_validator(mode="after")
    def _light_fits_through(self) -> "ConnectorSize":
        if self.clear_mm > self.nominal_mm:
            raise ValueError("clear_mm: the clear aperture cannot be wider than the size itself")
        return self


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
        ConnectorSize(size="98 mm", family="flange", nominal_mm=98, clear_mm=64, note="bolted ring under a focuser"),
        ConnectorSize(size="80 mm", family="flange", nominal_mm=80, clear_mm=58, note="bolted ring under a focuser"),
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


def clear_of(connector: Connector | None, own: tuple[ConnectorSize, ...] = ()) -> float | None:
    """Clear aperture of an end, mm: its own figure, else the usual one of its size; None when neither is known."""
    if connector is None:
        return None
    if connector.clear_aperture_mm is not None:
        return connector.clear_aperture_mm
    row = CONNECTOR_SIZES.get(connector.size) or next((r for r in own if r.size == connector.size), None)
    return row.clear_mm if row else None


def mates(one: Connector | None, other: Connector | None) -> bool:
    """Whether two ends go together: same family and size, opposite gender. A glued or unknown end never mates."""
    if one is None or other is None or one.family == "glued":
        return False
    return (one.family, one.size) == (other.family, other.size) and OPPOSITE[one.gender] == other.gender
