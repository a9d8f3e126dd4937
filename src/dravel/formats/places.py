"""Coordinates of a place as people write them: decimal or sexagesimal, signed or with a compass letter, either order."""

import re

from dravel.core.model.base import Model

_HALF = re.compile(
    r"""\s*(?P<before>[NSEWO])?\s*(?P<sign>[+-])?\s*(?P<deg>\d+(?:[.]\d+)?)\s*[°ºd:]?\s*
        (?:(?P<min>\d+(?:[.]\d+)?)\s*['′m:]?\s*(?:(?P<sec>\d+(?:[.]\d+)?)\s*(?:["″s]|'')?)?)?\s*(?P<after>[NSEWO])?\s*""",
    re.VERBOSE | re.IGNORECASE,
)


class Place(Model):
    """Latitude and longitude (east positive) in degrees, and what was made of the text where it could be doubted."""

    latitude_deg: float
    longitude_deg: float
    note: str = ""


def read(text: str) -> Place:
    """Read a latitude and a longitude. Swapped ones are put right where letters or sizes leave no doubt, and said.

    Raises `ValueError` ("field: reason") when either cannot be read or is out of range.
    """
    plain = text.strip().replace("−", "-").replace("’", "'").replace("”", '"')
    halves = _halves(plain)
    if halves is None:
        raise ValueError(
            f"place: '{text[:60]}' is not a latitude and a longitude, such as 40.9 N 2.6 W or 40°54′ -2°36′"
        )
    (item, one_letter), (other, other_letter) = halves
    note = ""
    if one_letter in ("E", "W") or other_letter in ("N", "S"):
        if one_letter in ("N", "S") or other_letter in ("E", "W"):
            raise ValueError("place: both halves are latitudes or both longitudes")
        item, other = other, item
        note = "longitude stood first; the letters tell them apart"
    elif not one_letter and not other_letter and abs(item) > 90 >= abs(other):
        item, other = other, item
        note = "longitude stood first: no latitude is beyond 90°"
    if abs(item) > 90:
        raise ValueError(f"latitude_deg: cannot be {item:g}°; allowed -90 to 90 °")
    if abs(other) > 180:
        if 180 < other <= 360:
            note = "; ".join(filter(None, (note, f"{other:g}° east is {other - 360:g}°")))
            other -= 360
        else:
            raise ValueError(f"longitude_deg: cannot be {other:g}°; allowed -180 to 180 °")
    return Place(latitude_deg=round(item, 6), longitude_deg=round(other, 6), note=note)


def _halves(text: str) -> tuple[tuple[float, str], tuple[float, str]] | None:
    """The two halves of the text: at a comma or semicolon, at a compass letter, else in the middle of its numbers."""
    for mark in (";", ","):
        if text.count(mark) == 1:
            item, other = text.split(mark)
            return _both(item, other)
    letters = [match.start() for match in re.finditer(r"[NSEWO]", text, re.IGNORECASE)]
    if len(letters) == 2:
        cut = letters[1] if letters[0] == 0 else letters[0] + 1
        return _both(text[:cut], text[cut:])
    numbers = list(re.finditer(r"[+-]?\d+(?:[.]\d+)?", text))
    if len(numbers) in (2, 4, 6):
        cut = numbers[len(numbers) // 2].start()
        return _both(text[:cut], text[cut:])
    return None


def _both(one: str, other: str) -> tuple[tuple[float, str], tuple[float, str]] | None:
    first, second = _half(one), _half(other)
    return (first, second) if first is not None and second is not None else None


def _half(text: str) -> tuple[float, str] | None:
    """Degrees and compass letter of one half; None when it is neither decimal nor sexagesimal."""
    match = _HALF.fullmatch(text)
    if match is None:
        return None
    letter = (match["before"] or match["after"] or "").upper().replace("O", "W")
    minutes, seconds = float(match["min"] or 0), float(match["sec"] or 0)
    if minutes >= 60 or seconds >= 60 or (match["before"] and match["after"]) or (match["min"] and "." in match["deg"]):
        return None
    value = float(match["deg"]) + minutes / 60 + seconds / 3600
    if match["sign"] == "-" or letter in ("S", "W"):
        value = -value
    return value, letter
