"""A framing for other programs: tile centres as CSV, and FITS headers with the world coordinates of its tiles."""

import csv
import io
from math import cos, radians, sin

from dravel.core.model import Framing
from dravel.core.sky.framing import tile_centres, turn_from_landscape
from dravel.formats.csv_cells import guarded, signed

Card = tuple[str, object, str]
# An image of no pixels: readers want as many axes as the coordinates have, and the sizes say that no data follow.
EMPTY: tuple[Card, ...] = (("NAXIS", 2, ""), ("NAXIS1", 0, "no data"), ("NAXIS2", 0, "no data"))
ANGLES = "position_angle_deg: of the sensor's width; up_angle_deg: of the frame's up; both from north through east"


def tiles_csv(framing: Framing, field: tuple[float, float]) -> str:
    """Centres of all tiles, row by row from the top left, with angles and size. Degrees and sexagesimal.

    Programs differ in which side of the camera an angle is of: `position_angle_deg` is that of the sensor's width,
    `up_angle_deg` that of the frame's up; `angles` says so in the file itself.
    """
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["target", "tile", "row", "column", "ra_deg", "dec_deg", "ra_hms", "dec_dms", "position_angle_deg",
                   "from_landscape_deg", "width_deg", "height_deg", "up_angle_deg", "angles"])  # fmt: skip
    turn = turn_from_landscape(framing.position_angle_deg)
    for i, (ra, dec) in enumerate(tile_centres(framing, field)):
        row, column = divmod(i, framing.columns)
        rows.writerow(
            [guarded(framing.target.name), i + 1, row + 1, column + 1, f"{ra:.6f}", f"{dec:.6f}", hms(float(ra)), signed(dms(float(dec))),
             f"{framing.position_angle_deg:.2f}", f"{turn:.2f}", f"{field[0]:.5f}", f"{field[1]:.5f}",
             f"{up_angle_deg(framing.position_angle_deg):.2f}", ANGLES]
        )  # fmt: skip
    return out.getvalue()


def up_angle_deg(position_angle_deg: float) -> float:
    """Position angle of the frame's up, from north through east, of one whose width has that angle: 0 in landscape."""
    return (position_angle_deg - 90) % 360


def fits_headers(
    framing: Framing,
    pixels: tuple[int, int],
    scale_arcsec_px: float,
    field: tuple[float, float],
    tile: int | None = None,
) -> str:
    """A FITS file without data: the TAN world coordinates of one tile, counted from 0, or of all.

    One tile stands in the primary header, several in an image extension each. North up needs a position angle of 90°:
    rows run along the sensor's width. Source: FITS 4.0; Calabretta & Greisen 2002. Raises `IndexError` when there is no
    such tile.
    """
    centres = [(float(ra), float(dec)) for ra, dec in tile_centres(framing, field)]
    if tile is not None and not 0 <= tile < len(centres):
        raise IndexError(f"there is no tile {tile + 1}; the mosaic has {len(centres)}")
    name = framing.target.name.encode("ascii", "replace").decode()[:60]
    primary: list[Card] = [("SIMPLE", True, "conforms to FITS 4.0"), ("BITPIX", 8, "")]

    def place(number: int) -> list[Card]:
        answer = ("OBJECT", name, f"tile {number + 1} of {len(centres)}")
        return [answer, *_world(framing, centres[number], pixels, scale_arcsec_px)]

    if tile is not None or len(centres) == 1:
        return _block([*primary, *EMPTY, *place(tile or 0)])
    blocks = [_block([*primary, ("NAXIS", 0, ""), ("EXTEND", True, ""), ("OBJECT", name, f"{len(centres)} tiles")])]
    for number in range(len(centres)):
        own: list[Card] = [
            ("XTENSION", "IMAGE", ""), ("BITPIX", 8, ""), *EMPTY, ("PCOUNT", 0, ""), ("GCOUNT", 1, ""),
            ("EXTNAME", f"TILE{number + 1}", ""),
        ]  # fmt: skip
        blocks.append(_block([*own, *place(number)]))
    return "".join(blocks)


def _world(
    framing: Framing, centre: tuple[float, float], pixels: tuple[int, int], scale_arcsec_px: float
) -> list[Card]:
    step = scale_arcsec_px / 3600
    turn = radians(framing.position_angle_deg)
    # The frame's right on the sky is (east, north) = (−sin, −cos) of its angle, its up is (−cos, sin).
    return [
        ("FRAMEW", pixels[0], "width of the frame, px"),
        ("FRAMEH", pixels[1], "height, px, rows from the foot up"),
        ("WCSAXES", 2, ""),
        ("CTYPE1", "RA---TAN", ""),
        ("CTYPE2", "DEC--TAN", ""),
        ("CUNIT1", "deg", ""),
        ("CUNIT2", "deg", ""),
        ("CRPIX1", (pixels[0] + 1) / 2, "middle of the frame"),
        ("CRPIX2", (pixels[1] + 1) / 2, ""),
        ("CRVAL1", centre[0], "ICRS"),
        ("CRVAL2", centre[1], ""),
        ("CD1_1", -step * sin(turn), ""),
        ("CD1_2", -step * cos(turn), ""),
        ("CD2_1", -step * cos(turn), ""),
        ("CD2_2", step * sin(turn), ""),
        ("RADESYS", "ICRS", ""),
    ]


def _block(cards: list[Card]) -> str:
    """Cards of 80 characters, filled up to whole blocks of 2880."""
    text = "".join(_card(*card) for card in cards) + "END".ljust(80)
    return text.ljust(-(-len(text) // 2880) * 2880)


def hms(ra_deg: float) -> str:
    """Right ascension as hours: ``02 22 32.90``."""
    total = round(ra_deg / 15 * 360_000) % 8_640_000
    return f"{total // 360_000:02d} {total // 6000 % 60:02d} {total % 6000 / 100:05.2f}"


def dms(dec_deg: float) -> str:
    """Declination in degrees: ``+42 20 45.6``."""
    total = round(abs(dec_deg) * 36_000)
    return f"{'-' if dec_deg < 0 else '+'}{total // 36_000:02d} {total // 600 % 60:02d} {total % 600 / 10:04.1f}"


def _card(key: str, value: object, comment: str) -> str:
    if isinstance(value, bool):
        answer = f"{'T' if value else 'F':>20}"
    elif isinstance(value, str):
        answer = "'" + value.replace("'", "''").ljust(8) + "'"
    else:
        answer = f"{value:>20}" if isinstance(value, int) else f"{value:>20.12E}"
    return f"{key:<8}= {answer}{f' / {comment}' if comment else ''}"[:80].ljust(80)
