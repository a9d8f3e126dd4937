"""A horizon read from two columns of text: azimuth and altitude in degrees, split by comma, semicolon, tab or space."""

import re

from dravel.core.model import HorizonPoint
from dravel.formats.faults import LINES_READ, UNREAD, Fault


def read(text: str) -> tuple[tuple[HorizonPoint, ...], list[tuple[int, Fault]]]:
    """Points in order of azimuth, and what is wrong by line. Good lines are kept whatever the others hold.

    A heading and lines that begin with ``#`` are passed over; an azimuth of 360 is 0; the order does not matter. Where
    an azimuth stands twice, the first counts and the second is told.
    """
    points: dict[float, float] = {}
    wrong: list[tuple[int, Fault]] = []
    for number, line in enumerate(text.lstrip("\ufeff").splitlines(), 1):
        if len(wrong) > LINES_READ:
            wrong.append((number, Fault(field="file", reason=UNREAD)))
            break
        row = line.strip()
        if not row or row.startswith("#"):
            continue
        # A comma splits, unless another sign does: then it is a decimal comma.
        apart = r"[;\t ]+" if re.search(r"[;\t ]", row.replace(", ", ",")) else r",\s*"
        cells = [cell.strip(",").replace(",", ".") for cell in re.split(apart, row) if cell]
        try:
            azimuth, altitude = (float(cell) for cell in cells[:2])
        except ValueError:
            if number == 1 and not any(ch.isdigit() for ch in row):
                continue
            wrong.append((number, Fault(field="line", reason="is not two numbers, azimuth and altitude")))
            continue
        if len(cells) < 2:
            wrong.append((number, Fault(field="line", reason="holds one number; azimuth and altitude are needed")))
        elif not 0 <= azimuth <= 360:
            wrong.append(
                (number, Fault(field="azimuth", reason=f"{azimuth:g}° is outside 0–360°", accepted="0 to 360 °"))
            )
        elif not -5 <= altitude <= 90:
            wrong.append(
                (number, Fault(field="altitude", reason=f"{altitude:g}° is outside −5–90°", accepted="-5 to 90 °"))
            )
        elif azimuth % 360 in points:
            wrong.append((number, Fault(field="azimuth", reason=f"{azimuth:g}° is given twice; the first is used")))
        else:
            points[azimuth % 360] = altitude
    made = tuple(HorizonPoint(azimuth_deg=a, altitude_deg=h) for a, h in sorted(points.items()))
    return made, wrong
